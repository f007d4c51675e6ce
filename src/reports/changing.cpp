// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace marram {
namespace {

constexpr size_t mostFigures = 6;
constexpr int plateauDays = 56;
constexpr double leastPart = 0.4; // of the span that results reach over

struct Looked {
    const Marker* marker = nullptr;
    std::vector<TestPoint> points; ///< of the span
    Trend trend;                   ///< from the first of them to the last
    Date from() const { return points.front().day; }
    Date to() const { return points.back().day; }
};

std::string valueOf(const Marker& m, double v) {
    return fixedText(v, m.decimals) + " " + m.unit;
}

std::string unitOfChange(const Marker& m) {
    return m.noise.relative ? "%" : m.unit == "%" ? phrase("points") : m.unit;
}

/// The band a marker is judged by: one that stands still is judged by its own scatter.
const Banded& bandOf(const Trend& t) {
    return t.plateau && !t.told ? t.own : t.change;
}

std::string changeText(const Marker& m, const Trend& t) {
    return signedText(t.change.value, 1) + " " + unitOfChange(m) + " (" + bandText(bandOf(t), 1) + ")";
}

std::string verdict(const Looked& l) {
    if (l.trend.told)
        return l.trend.change.value > 0 ? marked("up") : marked("down");
    return l.trend.plateau ? phrase("stands still") : phrase("cannot tell yet");
}

Figure figureOf(const Looked& l, Date from, Date to) {
    Figure f;
    f.title = l.marker->name;
    f.unit = l.marker->unit;
    Figure::Line band{Figure::Line::Look::Band, phrase("80 % band"), {}},
        line{Figure::Line::Look::Line, phrase("trend"), {}},
        dots{Figure::Line::Look::Dots, phrase("results"), {}};
    // The band of the line itself: narrowest in the middle of its results.
    double mean = 0, xx = 0;
    for (const TestPoint& p : l.points)
        mean += (p.day - from) / static_cast<double>(l.points.size());
    for (const TestPoint& p : l.points)
        xx += std::pow(p.day - from - mean, 2);
    const int days = to - from;
    constexpr int steps = 24;
    for (int i = 0; i <= steps; ++i) {
        const double x = static_cast<double>(days) * i / steps, part = x / days;
        const double half = 1.2816 * l.trend.noise *
                            std::sqrt(1 / static_cast<double>(l.points.size()) + std::pow(x - mean, 2) / xx);
        const bool relative = l.marker->noise.relative;
        const double y = relative ? l.trend.first * std::pow(l.trend.last / l.trend.first, part)
                                  : l.trend.first + part * (l.trend.last - l.trend.first);
        const double low = relative ? y * std::exp(-half / 100) : y - half,
                     high = relative ? y * std::exp(half / 100) : y + half;
        line.points.push_back({from.days + x, y, {}, {}});
        band.points.push_back({from.days + x, y, low, high});
    }
    for (const TestPoint& p : l.points)
        dots.points.push_back({static_cast<double>(p.day.days), p.value, {}, {}});
    f.lines = {band, line, dots};
    f.tells = phrase("%1: %2 to %3 by its line, %4.", l.marker->name, valueOf(*l.marker, l.trend.first),
                     valueOf(*l.marker, l.trend.last), changeText(*l.marker, l.trend));
    return f;
}

/// How many results more, three weeks apart, would narrow the band to two per cent either side.
std::string wouldTell(const Looked& l, Date to, int days) {
    constexpr int apart = 21, most = 4;
    constexpr double narrow = 2;
    if (!l.marker->noise.relative)
        return {};
    std::vector<int> before;
    before.reserve(l.points.size() + most);
    for (const TestPoint& p : l.points)
        before.push_back(to - p.day);
    for (int more = 1; more <= most; ++more) {
        before.push_back(-apart * more);
        if (halfBand(before, days, l.trend.noise) > narrow)
            continue;
        std::string weeks;
        for (int i = 1; i <= more; ++i)
            weeks += (i == 1 ? "" : i == more ? phrase(" and ") : ", ") + std::to_string(3 * i);
        return phrase(
            "What would tell of %1: %2%3 weeks from now; a change of 2 % over the span would show then.",
            l.marker->name, howMany(more, "result more, ", "results more, "), weeks);
    }
    return {};
}

/// The family most of the hard days of the last eight weeks had, with how often.
std::pair<std::string, int> usualFamily(const WholeRecord& r) {
    std::map<std::string, int> counts;
    for (auto it = r.meant.lower_bound(r.today - plateauDays); it != r.meant.end() && it->first < r.today;
         ++it)
        if (const auto p = r.planned.find(it->first);
            p != r.planned.end() && p->second.role == Role::Hard && r.longestOn(it->first))
            ++counts[it->second.family];
    std::pair<std::string, int> most{{}, 0};
    for (const auto& [family, count] : counts)
        if (count > most.second)
            most = {family, count};
    return most;
}

/// Another family whose work lies in the same band, for the hard days to come.
std::optional<std::string> otherFamily(const FamilyBook& book, const std::string& usual) {
    const Family* family = book.named(usual);
    if (!family || family->work.empty())
        return std::nullopt;
    // Repetitions at near the same power, a ladder of its own.
    constexpr double near = 0.09;
    const auto workOf = [](const Family& f) {
        const SessionFigures s = figuresOf(f.work[f.work.size() / 2]);
        double sum = 0, seconds = 0;
        int sets = 0;
        for (const UnfoldedStep& step : s.steps)
            if (step.work) {
                sum += meanTarget(step.step) * step.step.seconds;
                seconds += step.step.seconds;
                ++sets;
            }
        return std::pair{seconds > 0 ? sum / seconds : 0, sets};
    };
    const auto [target, sets] = workOf(*family);
    std::optional<std::string> closest;
    double least = near;
    for (const Family& other : book.all()) {
        if (other.name == usual || other.work.size() < 4 || other.purpose.find("race") != std::string::npos)
            continue;
        const auto [at, times] = workOf(other);
        if (times >= 2 && std::abs(at - target) < least) {
            least = std::abs(at - target);
            closest = other.name;
        }
    }
    return closest;
}

std::optional<Phase> after(Phase phase) {
    switch (phase) {
    case Phase::Transition:
        return Phase::Base;
    case Phase::Base:
        return Phase::Build;
    case Phase::Build:
        return Phase::Specialise;
    default:
        return std::nullopt;
    }
}

/// The phase after the one of the coming week, from that week on.
std::optional<ReportTry> nextPhase(const ReportBasis& basis, Date next) {
    const PlannedWeek* week = weekOf(basis.ahead->plan, next);
    const auto phase = week ? after(week->phase) : std::nullopt;
    if (!phase)
        return {};
    std::vector<Date> weeks;
    for (const PlannedWeek& w : basis.ahead->plan.weeks)
        if (w.start >= next && w.phase == week->phase)
            weeks.push_back(w.start);
    return tryOf(basis, phrase("%1 from %2", translated(nameOf(*phase)), dayText(next, basis.record.today)),
                 [&](Season& s) {
                     for (const Date w : weeks)
                         s = withPin(s, w, [&](WeekPin& pin) { pin.phase = *phase; });
                 });
}

/// On days that have no session of the coach's own.
void putFamily(Season& s, const std::vector<Date>& days, const std::string& family) {
    for (const Date day : days) {
        if (std::any_of(s.sessions.begin(), s.sessions.end(),
                        [&](const SessionPin& p) { return p.date == day; }))
            continue;
        SessionPin pin;
        pin.date = day;
        pin.family = family;
        s.sessions.push_back(pin);
    }
    std::stable_sort(s.sessions.begin(), s.sessions.end(),
                     [](const SessionPin& a, const SessionPin& b) { return a.date < b.date; });
}

/// Other hard work than usual for three weeks.
std::optional<ReportTry> otherWork(const ReportBasis& basis, Date next) {
    const auto [family, times] = usualFamily(basis.record);
    const auto other = times >= 2 ? otherFamily(basis.record.book, family) : std::nullopt;
    if (!other)
        return {};
    std::vector<Date> days;
    for (const PlannedDay& d : basis.ahead->plan.days)
        if (d.date >= next && d.date < next + 21 && d.role == Role::Hard)
            days.push_back(d.date);
    if (days.empty())
        return {};
    return tryOf(basis, phrase("%1 instead of %2 for three weeks", *other, family),
                 [&](Season& s) { putFamily(s, days, *other); });
}

std::vector<ReportTry> whatNext(const ReportBasis& basis) {
    std::vector<ReportTry> all;
    constexpr int enoughAhead = 28;
    if (!basis.ahead || basis.ahead->whole.end < basis.record.today + enoughAhead)
        return all;
    const Date next = monday(basis.record.today) + 7;
    const auto add = [&](std::optional<ReportTry> t) {
        if (t)
            all.push_back(std::move(*t));
    };
    add(nextPhase(basis, next));
    add(otherWork(basis, next));
    add(tryOf(basis, phrase("the order turned"), [](Season& s) {
        s.rules.order = s.rules.order == Order::IntensityFirst ? Order::BaseFirst : Order::IntensityFirst;
    }));
    return all;
}

/// What was looked at over a span of days.
struct LookedAt {
    std::vector<Looked> all;
    std::vector<std::string> few; ///< markers with too little in it
};

LookedAt lookAt(const std::vector<Marker>& markers, Date from, Date to) {
    LookedAt at;
    for (const Marker& m : markers) {
        Looked l{&m, {}, {}};
        for (const TestPoint& p : m.points)
            if (p.day >= from && p.day <= to)
                l.points.push_back(p);
        if (l.points.size() >= 3 && l.to() - l.from() >= leastPart * (to - from + 1))
            at.all.push_back(std::move(l));
        else if (!l.points.empty() && m.kind != Marker::Kind::Session)
            at.few.push_back(m.name);
    }
    const auto looks = static_cast<int>(at.all.size());
    for (Looked& l : at.all)
        if (const auto trend = trendOf(l.points, l.from(), l.to(), l.marker->noise, looks))
            l.trend = *trend;
    // Efforts that scatter far more than maximal ones do were not all maximal.
    constexpr double uneven = 2;
    std::erase_if(at.all, [](const Looked& l) {
        return l.trend.count == 0 ||
               (l.marker->kind == Marker::Kind::Maximal && l.trend.noise > uneven * l.marker->noise.usual);
    });
    std::stable_sort(at.all.begin(), at.all.end(), [](const Looked& a, const Looked& b) {
        return std::tuple(!a.trend.told, a.marker->kind == Marker::Kind::Session, -a.trend.count) <
               std::tuple(!b.trend.told, b.marker->kind == Marker::Kind::Session, -b.trend.count);
    });
    return at;
}

/// What changed, and that the rest cannot be told.
void sayChanges(const std::vector<Looked>& looked, const std::string& span, ReportPart& part) {
    size_t told = 0;
    for (const Looked& l : looked)
        if (l.trend.told) {
            ++told;
            part.words.push_back({phrase("%1 is %2 over %3: %4, from %5 results.", l.marker->name,
                                         (l.trend.change.value > 0 ? marked("up") : marked("down")), span,
                                         changeText(*l.marker, l.trend), std::to_string(l.trend.count)),
                                  0});
        }
    const size_t rest = looked.size() - told;
    if (told == 0)
        part.words.push_back(
            {phrase("Cannot tell yet: over %1 the bands of %2 hold no change as well as some.", span,
                    (looked.size() == 1 ? phrase("the one marker")
                                        : phrase("all %1 markers", std::to_string(looked.size())))),
             0});
    else if (rest > 0)
        part.words.push_back(
            {phrase("Of the other %1 it cannot be told.", (rest == 1 ? phrase("one") : std::to_string(rest))),
             0});
}

ReportTable tableOf(const std::vector<Looked>& looked) {
    ReportTable table{{phrase("Marker"), phrase("Says"), phrase("Results"), phrase("Line begins"),
                       phrase("ends"), phrase("Change"), phrase("80 % band")},
                      2,
                      {}};
    for (const Looked& l : looked) {
        const Marker& m = *l.marker;
        table.rows.push_back(
            {m.name, verdict(l), std::to_string(l.trend.count), fixedText(l.trend.first, m.decimals),
             valueOf(m, l.trend.last), signedText(l.trend.change.value, 1) + " " + unitOfChange(m),
             phrase("%1 to %2", signedText(bandOf(l.trend).low, 1), signedText(bandOf(l.trend).high, 1))});
    }
    return table;
}

/// What is not said, what would tell, and what it takes to be said.
void sayLimits(const LookedAt& at, Date to, ReportPart& part) {
    if (!at.few.empty()) {
        std::string names;
        for (const std::string& name : at.few)
            names += (names.empty() ? "" : "; ") + name;
        part.asides.push_back(phrase(
            "Under three results in this span, or all near each other, so nothing is said of: %1.", names));
    }
    for (const Looked& l : at.all)
        if (!l.trend.told && !l.trend.plateau && l.marker->kind == Marker::Kind::Check)
            if (const std::string words = wouldTell(l, to, l.to() - l.from()); !words.empty()) {
                part.asides.push_back(words);
                break;
            }
    part.asides.push_back(
        phrase("A change is said only where a band that one of twenty riders without a change would "
               "fall outside of, over all markers together, holds no \"none\". What follows a best "
               "is lower by itself, and is no news."));
}

/// What stands still, and what could be tried; nothing where all moves or nothing can be told.
std::optional<ReportPart> plateauOf(const ReportBasis& basis, const std::vector<Looked>& looked,
                                    const std::string& span) {
    ReportPart part;
    part.heading = phrase("It stands still");
    for (const Looked& l : looked)
        if (l.trend.plateau && !l.trend.told)
            part.words.push_back(
                {phrase("%1 has not moved by a per cent over %2 (%3, from %4 results "
                        "that scatter little): what was trained has done its work.",
                        l.marker->name, span, changeText(*l.marker, l.trend), std::to_string(l.trend.count)),
                 0});
    if (part.words.empty())
        return std::nullopt;
    part.tries = whatNext(basis);
    part.words.push_back(
        {part.tries.empty()
             ? phrase("Something should change, as soon as a season lies ahead: the next phase, another "
                      "family of "
                      "sessions, or the order turned.")
             : phrase("Something should change. Each of these can be laid beside the season:"),
         0});
    return part;
}

} // namespace

Report changingReport(const ReportBasis& basis, int days) {
    const Date to = basis.record.today;
    const std::string span = phrase("the last %1 weeks", std::to_string(days / 7));
    const std::vector<Marker> markers = markersOf(basis.record);
    const LookedAt at = lookAt(markers, to - days + 1, to);
    if (at.all.empty())
        return cannotTell(
            phrase("Is it changing?"), phrase("Cannot tell: in %1 nothing was measured three times.", span),
            phrase("A marker is a test, a check, a maximal effort or a session ridden again. An aerobic "
                   "check every three to four weeks and a threshold test every six to eight would tell."));
    Report out{phrase("Is it changing?"), {}, false};
    ReportPart first;
    sayChanges(at.all, span, first);
    out.cannotTell = std::none_of(at.all.begin(), at.all.end(), [](const Looked& l) { return l.trend.told; });
    first.table = tableOf(at.all);
    sayLimits(at, to, first);
    out.parts.push_back(std::move(first));
    if (auto plateau = plateauOf(basis, at.all, span))
        out.parts.push_back(std::move(*plateau));
    ReportPart pictures;
    for (const Looked& l : at.all)
        if (pictures.figures.size() < mostFigures)
            pictures.figures.push_back(figureOf(l, l.from(), l.to()));
    out.parts.push_back(std::move(pictures));
    return out;
}

} // namespace marram
