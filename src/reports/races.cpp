// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/debrief.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>

namespace marram {
namespace {

constexpr size_t mostShown = 6, mostRidesRead = 3;

struct RacedRide {
    const Race* race = nullptr;
    const RideRecord* ride = nullptr; ///< the longest of its first day; null where none came in
};

std::vector<RacedRide> racesOf(const WholeRecord& r) {
    std::vector<RacedRide> all;
    for (const SeasonRecord& s : r.seasons) {
        if (s.standing == SeasonStanding::Alternative)
            continue;
        for (const Race& race : s.season.races) {
            const bool there = std::any_of(all.begin(), all.end(), [&](const RacedRide& o) {
                return o.race->name == race.name && o.race->date == race.date;
            });
            if (race.date < r.today && !there)
                all.push_back({&race, r.longestOn(race.date)});
        }
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const RacedRide& a, const RacedRide& b) { return a.race->date > b.race->date; });
    return all;
}

std::string orNone(const std::optional<double>& v, int decimals) {
    return v ? fixedText(*v, decimals) : "–";
}

/// From a day up to, not with, another.
double pointsRidden(const WholeRecord& r, Date from, Date to) {
    double sum = 0;
    for (auto done = r.counted.points.lower_bound(from); done != r.counted.points.end() && done->first < to;
         ++done)
        sum += done->second;
    return sum;
}

void morning(const ReportBasis& basis, const Race& race, ReportPart& part) {
    const WholeRecord& r = basis.record;
    const LoadState state = r.history->before(race.date);
    const auto gate = raceGate(race, state.fitness);
    std::string words =
        phrase("On the morning: form %1, fitness %2", figure(state.form(), 0), fixedText(state.fitness, 0));
    if (gate)
        words += phrase("; its gate was %1 to %2%3", figure(gate->low, 0), figure(gate->high, 0),
                        (state.form() < gate->low
                             ? phrase(", missed by %1 below.", fixedText(gate->low - state.form(), 0))
                         : state.form() > gate->high
                             ? phrase(", missed by %1 above.", fixedText(state.form() - gate->high, 0))
                             : phrase(", met.")));
    else
        words += ".";
    part.words.push_back({words, 0});
    // How the two weeks before went.
    constexpr int taper = 14;
    double planned = 0, kept = 0;
    for (Date d = race.date - taper; d < race.date; d = d + 1) {
        if (const auto p = r.planned.find(d); p != r.planned.end()) {
            planned += p->second.stress;
            ++kept;
        }
    }
    const double ridden = pointsRidden(r, race.date - taper, race.date);
    const double before = pointsRidden(r, race.date - 3 * taper, race.date - taper) / 2;
    std::string led = phrase("The two weeks before: %1 points", fixedText(ridden, 0));
    if (2 * kept >= taper)
        led += phrase(" of %1 meant", fixedText(planned, 0));
    if (before > 0)
        led +=
            phrase(", %1 % of two usual weeks of the month before them", fixedText(100 * ridden / before, 0));
    part.words.push_back({led + ".", 0});
    double sum = 0, n = 0;
    for (const CheckIn& c : r.checkIns)
        if (c.day >= race.date - 7 && c.day <= race.date)
            if (const auto v = wellness(c)) {
                sum += *v;
                ++n;
            }
    if (n > 0)
        part.words.push_back(
            {phrase("How they felt in the week up to it: %1 of 5, over %2.", fixedText(sum / n, 1),
                    howMany(static_cast<int>(n), "answer", "answers")),
             0});
}

std::string figuresText(const RideRecord& ride, const Race& race) {
    const Score& s = ride.score;
    return hoursText(s.duration / 3600.0) +
           (s.equivalentPower
                ? phrase(", equivalent power %1 W%2", fixedText(*s.equivalentPower, 0),
                         (s.relativeIntensity ? " (" + fixedText(100 * *s.relativeIntensity, 0) + " %)" : ""))
                : "") +
           (s.stress ? phrase(", %1 points of %2 expected", fixedText(*s.stress, 0),
                              fixedText(raceStress(race), 0))
                     : "") +
           (ride.effort ? phrase(", effort %1", fixedText(*ride.effort, 0)) : "") + ".";
}

/// Climb by climb where there is a course with some, else hour by hour.
ReportTable tableOf(const ReportBasis& basis, const RaceRidden& read, const std::optional<Watts>& threshold) {
    ReportTable table;
    if (!read.climbs.empty()) {
        table = {{phrase("Climb"), phrase("Planned, W"), phrase("Ridden, W"), phrase("Planned"),
                  phrase("Took"), "bpm"},
                 1,
                 {}};
        for (const ClimbRidden& c : read.climbs)
            table.rows.push_back({phrase("%1 %2 at %3 %", fixedText(basis.units.distance(c.climb.length), 1),
                                         basis.units.distanceUnit(), fixedText(100 * c.climb.gradient, 1)),
                                  fixedText(c.planned, 0), orNone(c.power, 0),
                                  hoursText(c.climb.duration / 3600), hoursText(c.seconds / 3600),
                                  orNone(c.heartRate, 0)});
    } else if (read.hours.size() > 1) {
        table = {{phrase("Hour"), phrase("Equivalent, W"), phrase("of threshold"), "bpm",
                  phrase("Over threshold, min")},
                 1,
                 {}};
        for (size_t i = 0; i < read.hours.size(); ++i) {
            const HourRidden& h = read.hours[i];
            table.rows.push_back(
                {std::to_string(i + 1) + (h.seconds < 3500 ? " (" + hoursText(h.seconds / 3600.0) + ")" : ""),
                 orNone(h.equivalentPower, 0),
                 h.equivalentPower && threshold ? fixedText(*h.equivalentPower / threshold->value, 2) : "–",
                 orNone(h.heartRate, 0), threshold ? fixedText(h.overThreshold / 60, 0) : "–"});
        }
    }
    return table;
}

void ridden(const ReportBasis& basis, const RacedRide& one, ReportPart& part) {
    const WholeRecord& r = basis.record;
    const RideRecord& ride = *one.ride;
    const Score& s = ride.score;
    part.words.push_back({figuresText(ride, *one.race), ride.id});
    const auto grid = basis.read ? basis.read(ride) : Result<Ride>(refuse(""));
    if (!grid) {
        part.words.push_back(
            {phrase("Its recording could not be read, so its hours are not told apart."), 0});
        return;
    }
    const auto threshold = ride.thresholdPower > 0 ? std::optional(Watts{ride.thresholdPower}) : std::nullopt;
    std::optional<CourseDemand> course;
    if (!one.race->course.empty() && threshold)
        if (auto asked =
                rideCourse(one.race->course, movingOf(r.rider, one.race->date), threshold->value, {}))
            course = std::move(*asked);
    const RaceRidden read = readRace(*grid, threshold, course ? &*course : nullptr);
    if (read.fade)
        part.words.push_back({phrase("From its first to its last whole hour equivalent power %1%2 %.",
                                     (*read.fade >= 0 ? phrase("fell by ") : phrase("rose by ")),
                                     fixedText(std::abs(*read.fade), 0)),
                              0});
    if (threshold && read.overThreshold > 0)
        part.words.push_back(
            {phrase("%1 min over threshold, %2 kJ above it.", fixedText(read.overThreshold / 60, 0),
                    fixedText(read.workOverThreshold, 0)),
             0});
    if (course)
        part.words.push_back(
            {phrase("Its course was planned at %1 W for %2; it took %3.", fixedText(course->power, 0),
                    hoursText(course->duration / 3600), hoursText(s.duration / 3600.0)),
             0});
    if (ReportTable table = tableOf(basis, read, threshold); !table.rows.empty())
        part.table = std::move(table);
}

} // namespace

static ReportLine timeBefore(const WholeRecord& r, const RacedRide& one) {
    const LoadState then = r.history->before(one.race->date);
    return {phrase("The time before, %1: form %2, fitness %3%4%5.", dayText(one.race->date, r.today),
                   figure(then.form(), 0), fixedText(then.fitness, 0),
                   (one.ride && one.ride->score.equivalentPower
                        ? phrase(", %1 W over %2", fixedText(*one.ride->score.equivalentPower, 0),
                                 hoursText(one.ride->score.duration / 3600.0))
                        : ""),
                   (one.race->result.empty() ? "" : ", " + one.race->result)),
            one.ride ? one.ride->id : 0};
}

Report racesReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const auto all = racesOf(r);
    if (all.empty())
        return cannotTell(phrase("How did the races go?"),
                          phrase("No race lies behind in any season of this rider."),
                          phrase("A race of a season stands here from the day after it, with its ride."));
    Report out{phrase("How did the races go?"), {}, false};
    size_t read = 0;
    for (size_t i = 0; i < std::min(mostShown, all.size()) && basis.going(); ++i) {
        const RacedRide& one = all[i];
        ReportPart part;
        part.heading = one.race->name + ", " + dayText(one.race->date, r.today) + " (" +
                       translated(nameOf(one.race->priority)) + ")";
        if (!one.race->result.empty())
            part.words.push_back({phrase("Result: %1", one.race->result), 0});
        if (!one.race->note.empty())
            part.words.push_back({phrase("Noted: %1", one.race->note), 0});
        morning(basis, *one.race, part);
        if (one.ride && read < mostRidesRead) {
            ++read;
            ridden(basis, one, part);
        } else if (!one.ride)
            part.words.push_back({phrase("No ride of that day is in the record."), 0});
        if (one.ride && !one.ride->note.isEmpty())
            part.words.push_back({phrase("On the ride: %1", one.ride->note.toStdString()), one.ride->id});
        // The one of the same name before it.
        for (size_t k = i + 1; k < all.size(); ++k)
            if (all[k].race->name == one.race->name) {
                part.words.push_back(timeBefore(r, all[k]));
                break;
            }
        out.parts.push_back(std::move(part));
    }
    if (out.parts.empty()) // nobody waits for it any more
        return out;
    out.parts.back().asides.push_back(
        phrase("One race proves nothing: it counts as one result, with its noise, in what load "
               "has been worth and in which form suits them. Result and note are written on "
               "the race, under Season; what was eaten, on its ride."));
    return out;
}

} // namespace marram
