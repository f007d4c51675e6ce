// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/gate.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <cmath>

namespace marram {

namespace {

/// The form a rider is best at, as usual riders are and as the results have it.
Figure spanFigure(const LearntGate& gate) {
    Figure f;
    f.days = false;
    f.title = phrase("Form this rider is best at");
    f.across = phrase("form on the morning");
    Figure::Line prior{Figure::Line::Look::Dashes, phrase("usual riders"), {}},
        own{Figure::Line::Look::Area, phrase("with this rider's results"), {}};
    for (const LearntGate::Density& d : gate.density)
        if (d.form >= -25 && d.form <= 50) {
            prior.points.push_back({d.form, d.prior, {}, {}});
            own.points.push_back({d.form, d.posterior, {}, {}});
        }
    f.lines = {own, prior};
    f.tells = phrase("The span of 80 % is %1 % as wide as before the results were seen; under 60 % it is "
                     "called the rider's own.",
                     fixedText(100 * gate.widthRatio, 0));
    return f;
}

Figure resultsFigure(const std::vector<FormResult>& results) {
    Figure seen;
    seen.days = false;
    seen.title = phrase("Results beside the form of their mornings");
    seen.across = phrase("form on the morning");
    seen.unit = phrase("% of usual");
    Figure::Line dots{Figure::Line::Look::Dots, phrase("results"), {}};
    for (const FormResult& each : results)
        dots.points.push_back({each.form, each.percent, {}, {}});
    seen.lines = {dots};
    seen.tells = phrase("Each of %1 results in per cent of what was usual within half a year either side.",
                        std::to_string(results.size()));
    return seen;
}

/// What it means for the next race with a gate.
std::optional<ReportPart> nextRace(const ReportBasis& basis, const LearntGate& gate) {
    const Race* next = nextRaceOf(basis.record, Priority::A);
    const auto now = next && basis.ahead ? gateInForce(*next, basis.ahead->plan) : std::nullopt;
    if (!now)
        return std::nullopt;
    ReportPart race;
    race.heading = next->name;
    const double middle = (now->low + now->high) / 2;
    const double moved = std::round(gate.yours ? gate.optimum.value : (middle + gate.optimum.value) / 2);
    const double half = (now->high - now->low) / 2;
    const Gate proposed{std::round(moved - half), std::round(moved + half)};
    race.words.push_back({phrase("Its gate is %1 to %2%3", figure(now->low, 0), figure(now->high, 0),
                                 (next->gate ? phrase(", as you set it.") : phrase(", the usual one."))),
                          0});
    if (std::abs(moved - middle) < 1) {
        race.words.push_back({phrase("What the record says does not move it."), 0});
    } else {
        race.words.push_back(
            {gate.yours ? phrase("The rider's own would be %1 to %2.", figure(proposed.low, 0),
                                 figure(proposed.high, 0))
                        : phrase("Until the record is the rider's own it moves half way at most: %1 to %2.",
                                 figure(proposed.low, 0), figure(proposed.high, 0)),
             0});
        if (auto t = tryOf(
                basis, phrase("a gate of %1 to %2", figure(proposed.low, 0), figure(proposed.high, 0)),
                [&](Season& s) {
                    for (Race& each : s.races)
                        if (each.name == next->name && each.date == next->date)
                            each.gate = proposed;
                },
                next->name))
            race.tries.push_back(std::move(*t));
    }
    race.asides.push_back(
        phrase("You can set it by feel at any time: under Season, on the race, with a note why."));
    return race;
}

} // namespace

Report formReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::string title = phrase("Which form suits them?");
    if (r.counted.byHours)
        return cannotTell(
            title, phrase("Cannot tell: the rides carry no points, so no morning's form is known."), {});
    const Date from = formKnownFrom(r);
    std::vector<FormResult> results;
    std::vector<MaximalDay> days;
    for (const MaximalDay& d : maximalDays(markersOf(r)))
        if (d.day >= from) {
            const LoadState morning = r.history->before(d.day);
            results.push_back({morning.form(), d.percent, morning.fitness});
            days.push_back(d);
        }
    constexpr size_t least = 3;
    if (results.size() < least)
        return cannotTell(
            title,
            phrase("Cannot tell yet: %1 of maximal effort on a morning whose form is known, with others of "
                   "the same length to hold them against.",
                   howMany(static_cast<int>(results.size()), "day", "days")),
            phrase("The usual gate stands: 15 to 25 for an A race, less where fitness is under 60."));
    const auto gate = learnGate(results);
    if (!gate)
        return cannotTell(title, gate.error().sentence, {});
    Report out{title, {}, !gate->yours};
    ReportPart part;
    const std::string found = phrase("Best at a form of %1 (80 %: %2 to %3), from %4 days of maximal effort.",
                                     figure(gate->optimum.value, 0), figure(gate->optimum.low, 0),
                                     figure(gate->optimum.high, 0), std::to_string(results.size()));
    part.words.push_back({gate->why, 0});
    part.words.push_back({found, 0});
    part.figures.push_back(spanFigure(*gate));
    part.figures.push_back(resultsFigure(results));
    out.parts.push_back(std::move(part));

    if (auto race = nextRace(basis, *gate))
        out.parts.push_back(std::move(*race));
    return out;
}

} // namespace marram
