// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/history.h"
#include "core/ride/meanmax.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr std::array lengths{5, 60, 300, 1200, 3600};
constexpr double workBefore = 20; ///< kJ/kg
constexpr int hardBefore = 1800;  ///< s
constexpr double hardShare = 0.9; ///< of threshold power
constexpr size_t mostLongRides = 12;

struct Best {
    double power = 0;
    Date day;
    qint64 ride = 0;
    bool maximal = false;
};

Best bestOf(const WholeRecord& r, int seconds, Date from, Date to) {
    Best best;
    for (const RideRecord& ride : r.rides) {
        if (ride.day <= from || ride.day > to)
            continue;
        for (const BestEffort& b : ride.best)
            if (b.seconds == seconds && b.power > best.power)
                best = {b.power, ride.day, ride.id, false};
    }
    if (best.power <= 0)
        return best;
    best.maximal = std::any_of(r.heard.maximal.begin(), r.heard.maximal.end(), [&](const KeptMaximal& m) {
        return m.ride == best.ride && m.seconds == seconds;
    });
    for (const TestRecord& t : r.tests)
        best.maximal = best.maximal || (t.result.day == best.day && wordsFor(t.result.protocol).maximal &&
                                        wordsFor(t.result.protocol).seconds == seconds &&
                                        t.result.verdict != Verdict::Declined);
    return best;
}

/// Second of the grid at which so much work was done, or the end.
int afterWork(const Ride& ride, double kilojoule) {
    double sum = 0;
    for (size_t t = 0; t < ride.power.size(); ++t) {
        sum += std::isfinite(ride.power[t]) ? ride.power[t] / 1000 : 0;
        if (sum >= kilojoule)
            return static_cast<int>(t) + 1;
    }
    return ride.elapsed();
}

/// … at which so many seconds were ridden hard.
int afterHard(const Ride& ride, double watts, int seconds) {
    for (size_t t = 0; t < ride.power.size(); ++t)
        if (std::isfinite(ride.power[t]) && ride.power[t] >= watts && --seconds == 0)
            return static_cast<int>(t) + 1;
    return ride.elapsed();
}

double bestAfter(const Ride& ride, int from, int seconds) {
    if (ride.elapsed() - from < seconds)
        return 0;
    Ride rest;
    rest.power.assign(ride.power.begin() + from, ride.power.end());
    rest.stretches = {{0, rest.elapsed()}};
    rest.hasPower = true;
    const std::array length{seconds};
    const auto best = meanMax(rest, length);
    return best.empty() ? 0 : best.front().power;
}

struct Stands {
    double power = 0;
    Date day;
};

/// The rides of the year that ask most: much work, ridden hard.
std::vector<const RideRecord*> askingMost(const WholeRecord& r) {
    std::vector<const RideRecord*> all;
    for (const RideRecord& ride : r.rides)
        if (ride.day > r.today - wholeYear && ride.score.work && ride.score.meanPower &&
            ride.score.method == StressMethod::Power)
            all.push_back(&ride);
    std::stable_sort(all.begin(), all.end(), [](const RideRecord* a, const RideRecord* b) {
        return *a->score.work * a->score.relativeIntensity.value_or(0.5) >
               *b->score.work * b->score.relativeIntensity.value_or(0.5);
    });
    if (all.size() > mostLongRides)
        all.resize(mostLongRides);
    return all;
}

/// What lies far under was not tried, and says nothing of what would stand.
std::string shareText(const Stands& late, double fresh) {
    constexpr double tried = 0.75;
    if (late.power >= tried * fresh)
        return fixedText(100 * late.power / fresh, 0) + " %";
    return late.power > 0 ? phrase("not tried") : std::string("–");
}

/// What stands late in a ride: the best of the year after work, and after hard minutes.
ReportPart lateIn(const ReportBasis& basis, double threshold) {
    const WholeRecord& r = basis.record;
    const auto weight = r.rider.values.on(Quantity::Weight, r.today);
    ReportPart part;
    part.heading = phrase("What stands late");
    const std::vector<const RideRecord*> long_ = askingMost(r);
    constexpr std::array late{60, 300, 1200};
    std::array<Stands, late.size()> worked{}, hard{};
    for (const RideRecord* ride : long_) {
        if (!basis.going() || !basis.read)
            break;
        const auto grid = basis.read(*ride);
        if (!grid)
            continue;
        const int tired = weight ? afterWork(*grid, workBefore * *weight) : grid->elapsed(),
                  worn = afterHard(*grid, hardShare * threshold, hardBefore);
        for (size_t i = 0; i < late.size(); ++i)
            for (auto& [to, from] : {std::pair{&worked[i], tired}, {&hard[i], worn}})
                if (const double p = bestAfter(*grid, from, late[i]); p > to->power)
                    *to = {p, ride->day};
    }
    ReportTable table{{phrase("Effort"), phrase("Best of the year, W"), phrase("After 20 kJ/kg, W"),
                       phrase("stands"), phrase("After 30 hard min, W"), phrase("stands")},
                      1,
                      {}};
    bool any = false;
    for (size_t i = 0; i < late.size(); ++i) {
        const Best fresh = bestOf(r, late[i], r.today - wholeYear, r.today);
        if (fresh.power <= 0)
            continue;
        const auto cell = [&](const Stands& s) {
            any = any || s.power > 0;
            return s.power > 0 ? fixedText(s.power, 0) : std::string("–");
        };
        table.rows.push_back({durationText(late[i]), fixedText(fresh.power, 0), cell(worked[i]),
                              shareText(worked[i], fresh.power), cell(hard[i]),
                              shareText(hard[i], fresh.power)});
    }
    if (!any) {
        part.words.push_back(
            {weight ? phrase("No ride of the last year went on after 20 kJ/kg of work or 30 hard minutes.")
                    : phrase("The rider's weight is missing, and no ride went on after 30 hard minutes."),
             0});
        return part;
    }
    part.table = std::move(table);
    part.asides.push_back(phrase(
        "From the %1 rides of the year that asked most. Nothing says that the late efforts were maximal, so "
        "each share is a lower bound; a durability check tells. Hard is 90 % of threshold power and more.",
        std::to_string(long_.size())));
    return part;
}

/// What the next race asks, beside it.
std::optional<ReportPart> asked(const ReportBasis& basis, double threshold) {
    const WholeRecord& r = basis.record;
    const Race* next = nextRaceOf(r, Priority::B);
    if (!next)
        return std::nullopt;
    ReportPart part;
    part.heading = phrase("What %1 asks", next->name);
    if (next->course.empty()) {
        part.words.push_back(
            {phrase("It has no course yet: bring one under Season, on the race, and its climbs stand "
                    "beside these figures."),
             0});
        return part;
    }
    const auto course = rideCourse(next->course, movingOf(r.rider, r.today), threshold, {});
    if (!course)
        return std::nullopt;
    part.words.push_back({phrase("%1 at %2 % of threshold, %3 m of climbing, %4 kJ.",
                                 hoursText(course->duration / 3600), fixedText(100 * course->intensity, 0),
                                 fixedText(course->climb, 0), fixedText(course->work, 0)),
                          0});
    std::vector<Climb> climbs = course->climbs;
    std::stable_sort(climbs.begin(), climbs.end(),
                     [](const Climb& a, const Climb& b) { return a.duration > b.duration; });
    ReportTable table{
        {phrase("Climb"), phrase("At that power"), phrase("Best of that length, W"), phrase("of threshold")},
        1,
        {}};
    constexpr size_t most = 4;
    for (size_t i = 0; i < std::min(most, climbs.size()); ++i) {
        const Climb& c = climbs[i];
        // The length kept beside every ride that comes next.
        int seconds = 0;
        for (const int s : bestDurations())
            if (seconds == 0 && s >= c.duration)
                seconds = s;
        const Best best = bestOf(r, seconds, r.today - wholeYear, r.today);
        table.rows.push_back(
            {phrase("%1 %2 at %3 %", fixedText(basis.units.distance(c.length), 1), basis.units.distanceUnit(),
                    fixedText(100 * c.gradient, 1)),
             hoursText(c.duration / 3600),
             best.power > 0 ? phrase("%1 over %2", fixedText(best.power, 0), durationText(seconds)) : "–",
             best.power > 0 ? fixedText(best.power / threshold, 2) : "–"});
    }
    if (!table.rows.empty())
        part.table = std::move(table);
    return part;
}

} // namespace

Report kindReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::string title = phrase("What kind of rider?");
    const auto* entry = r.rider.values.entryOn(Quantity::ThresholdPower, r.today);
    if (!entry)
        return cannotTell(
            title, phrase("Cannot tell: no threshold power is entered."),
            phrase("Bests are read as multiples of it. What the record proposes stands under Rider."));
    Report out{title, {}, false};
    ReportPart part;
    const auto weight = r.rider.values.on(Quantity::Weight, r.today);
    part.words.push_back(
        {phrase("Threshold %1%2.", valueWords(Quantity::ThresholdPower, *entry).toStdString(),
                (weight ? ", " + fixedText(entry->value / *weight, 1) + " W/kg" : std::string())),
         0});
    ReportTable table{{phrase("Effort"), phrase("Evidence"), phrase("Best of the year, W"),
                       phrase("of threshold"), phrase("Age, days"), phrase("Year before"),
                       phrase("Others of the roster")},
                      2,
                      {}};
    int untried = 0;
    for (const int seconds : lengths) {
        const Best best = bestOf(r, seconds, r.today - wholeYear, r.today),
                   before = bestOf(r, seconds, r.today - 2 * wholeYear, r.today - wholeYear);
        if (best.power <= 0)
            continue;
        const double then = r.rider.values.on(Quantity::ThresholdPower, best.day).value_or(entry->value);
        const auto past = r.rider.values.on(Quantity::ThresholdPower, before.day);
        std::vector<double> others;
        for (const MaximalShares& o : basis.others)
            if (const auto found = o.find(seconds); found != o.end())
                others.push_back(found->second);
        std::sort(others.begin(), others.end());
        constexpr size_t leastOthers = 3;
        untried += best.maximal ? 0 : 1;
        table.rows.push_back(
            {durationText(seconds),
             best.maximal ? phrase("maximal") : phrase("at least: nothing says it was maximal"),
             fixedText(best.power, 0), fixedText(best.power / then, 2), std::to_string(r.today - best.day),
             before.power > 0 && past ? fixedText(before.power / *past, 2) : "–",
             others.size() >= leastOthers
                 ? fixedText(others[others.size() / 2], 2) + " (" + std::to_string(others.size()) + ")"
                 : "–"});
    }
    out.cannotTell = untried == static_cast<int>(table.rows.size());
    if (table.rows.empty())
        return cannotTell(title, phrase("Cannot tell: no ride of the last year has power."), {});
    part.table = std::move(table);
    part.asides.push_back(
        phrase("Each best over the threshold of its own day, so that a rider who grew is not called "
               "another kind. An effort nobody tried is a lower bound and makes no rider weak at it. "
               "Others: the middle one of those with a maximal effort of that length."));
    out.parts.push_back(std::move(part));
    out.parts.push_back(lateIn(basis, entry->value));
    if (auto race = asked(basis, entry->value))
        out.parts.push_back(std::move(*race));
    return out;
}

} // namespace marram
