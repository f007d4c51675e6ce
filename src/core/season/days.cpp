// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

void placeWeeks(const Season& season, SeasonFrame& frame) {
    for (Date start = monday(season.start); start <= season.end; start = start + 7) {
        WeekFrame week;
        week.start = start;
        week.first = std::max(0, start - season.start);
        week.last = std::min(season.dayCount() - 1, start + 6 - season.start);
        frame.weeks.push_back(week);
    }
}

void placeHours(const Season& season, SeasonFrame& frame) {
    frame.days.resize(static_cast<size_t>(season.dayCount()));
    for (int d = 0; d < season.dayCount(); ++d) {
        DayFrame& day = frame.days[static_cast<size_t>(d)];
        day.date = season.start + d;
        day.nominalHours = hoursOn(season, day.date);
    }
    for (const WeekPin& pin : season.weeks) {
        if (pin.start + 6 < season.start || pin.start > season.end) {
            frame.warnings.push_back(
                phrase("The week of %1 lies outside the season; what is said of it is not used.",
                       isoText(pin.start)));
        }
    }
}

/// Of the whole camp.
double campPoints(const Season& season, const Away& away, SeasonFrame& frame) {
    const int count = away.to - away.from + 1;
    const double whole = away.stress.value_or(1000.0 * count / 7);
    const auto most = careOf(season).camp;
    if (!most)
        return whole;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    const double usual =
        std::max(7 * season.before.fitness, 0.6 * hours * stressPerHour(Bands{1, 0, 0}, season.lowThreshold));
    const double limit = *most * usual * count / 7;
    if (whole <= limit)
        return whole;
    frame.warnings.push_back(phrase("The camp of %1 carries %2 points: no more than %3 of a "
                                    "usual week for a rider under care.",
                                    isoText(away.from), std::to_string(std::lround(limit)),
                                    fixedText(*most)));
    return limit;
}

void placeAway(const Season& season, SeasonFrame& frame) {
    for (const Away& away : season.away) {
        const int count = away.to - away.from + 1;
        const bool camp = away.why == AwayWhy::Camp;
        if (camp && !away.stress)
            frame.warnings.push_back(phrase("The camp of %1 names no stress; 1000 points a week are assumed.",
                                            isoText(away.from)));
        if (away.to < season.start - looksBack || away.from > season.end || (camp && away.to < season.start))
            frame.warnings.push_back(phrase("The %1 of %2 lies outside the season and is not used.",
                                            translated(nameOf(away.why)), isoText(away.from)));
        const double whole = camp ? campPoints(season, away, frame) : 0;
        // Day by day never the same: it grows over two days, and every fourth is an easy one (common
        // practice).
        const auto weight = [&](int i) { return count < 3 ? 1.0 : i % 4 == 3 ? 0.55 : 1.0 + 0.12 * (i % 4); };
        double sum = 0;
        for (int i = 0; i < count; ++i)
            sum += weight(i);
        for (int i = 0; i < count; ++i) {
            const int d = away.from + i - season.start;
            if (d < 0 || d >= season.dayCount())
                continue;
            DayFrame& day = frame.days[static_cast<size_t>(d)];
            day.camp = camp;
            day.away = !camp;
            day.fixed = whole * weight(i) / sum;
        }
    }
}

void placeRaces(const Season& season, SeasonFrame& frame) {
    for (size_t r = 0; r < season.races.size(); ++r) {
        const Race& race = season.races[r];
        for (int i = 0; i < race.days; ++i) {
            DayFrame& day = frame.days[static_cast<size_t>(race.date + i - season.start)];
            if (day.race >= 0)
                frame.warnings.push_back(
                    phrase("\"%1\" and \"%2\" share %3; the day carries the stress of both.", race.name,
                           season.races[static_cast<size_t>(day.race)].name, isoText(day.date)));
            else if (day.away || day.camp)
                frame.warnings.push_back(phrase("\"%1\" falls on a day away, %2; the race is kept.",
                                                race.name, isoText(day.date)));
            day.fixed = (day.race >= 0 ? day.fixed : 0) + raceStress(race) / race.days;
            // The more important race names the day.
            if (day.race < 0 || race.priority < season.races[static_cast<size_t>(day.race)].priority)
                day.race = static_cast<int>(r);
            day.camp = day.away = false;
        }
    }
}

} // namespace

double hoursOn(const Season& season, Date date) {
    const Date start = monday(date);
    double hours = season.hours[static_cast<size_t>(weekday(date))];
    for (const WeekPin& pin : season.weeks)
        if (pin.start == start && pin.hours)
            hours = (*pin.hours)[static_cast<size_t>(weekday(date))];
    return hours < leastRideHours - 1e-9 ? 0 : hours;
}

void restStumps(SeasonFrame& frame) {
    for (DayFrame& day : frame.days)
        if (day.hours * day.weight < leastRideHours - 1e-9)
            day.hours = 0;
}

bool comesFromNothing(const Season& season) {
    if (careOf(season).fromNothing)
        return true;
    if (season.layOff)
        return *season.layOff;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    const double holds = hours * stressPerHour(Bands{0.85, 0.11, 0.04}, season.lowThreshold) / 7;
    return season.before.fitness < 20 && season.before.fitness < holds / 3;
}

namespace {

/// Fitness at the end of each day as it may go, where no plan says: towards what most of the hours hold.
std::vector<double> guessedFitness(const Season& season) {
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    const double holds = 0.75 * hours * stressPerHour(Bands{0.8, 0.15, 0.05}, season.lowThreshold) / 7;
    std::vector<double> all;
    all.reserve(static_cast<size_t>(season.dayCount()));
    for (int d = 0; d < season.dayCount(); ++d)
        all.push_back(season.before.fitness +
                      (std::max(holds, season.before.fitness) - season.before.fitness) *
                          (1 - std::exp(-d / 70.0)));
    return all;
}

} // namespace

int recoveryOf(double stress, double fitness, bool peak) {
    constexpr int least = 1, most = 10, leastPeak = 4;
    const int days = static_cast<int>(std::lround(0.8 * stress / std::max(5.0, fitness)));
    return std::clamp(days, peak ? leastPeak : least, most);
}

bool noMaximalIn(const Season& season, Date week) {
    constexpr int firstWeeks = 56;
    return careOf(season).noMaximal || (week < season.start + firstWeeks && comesFromNothing(season));
}

/// What was ridden stands.
static void placePast(const Season& season, SeasonFrame& frame) {
    frame.today = std::clamp(season.past->today - season.start, 0, season.dayCount());
    for (int d = 0; d < frame.today; ++d) {
        DayFrame& day = frame.days[static_cast<size_t>(d)];
        day.past = true;
        day.fixed = static_cast<size_t>(d) < season.past->stress.size()
                        ? season.past->stress[static_cast<size_t>(d)]
                        : 0;
    }
}

/// A week off is one, wherever the coach puts it: in a taper too.
static void closeWeeksOff(const Season& season, SeasonFrame& frame) {
    for (const WeekPin& pin : season.weeks)
        for (int d = pin.start - season.start;
             pin.kind == WeekKind::Break && d < pin.start + 7 - season.start; ++d)
            if (d >= 0 && d < season.dayCount())
                frame.days[static_cast<size_t>(d)].hours = 0;
}

SeasonFrame layOut(const Season& season, std::vector<double> fitness) {
    SeasonFrame frame;
    frame.fitness = fitness.size() == static_cast<size_t>(season.dayCount()) ? std::move(fitness)
                                                                             : guessedFitness(season);
    placeWeeks(season, frame);
    placeHours(season, frame);
    placeAway(season, frame);
    placeRaces(season, frame);
    if (season.past)
        placePast(season, frame);
    for (DayFrame& day : frame.days)
        day.hours = day.shut() || day.past ? 0 : day.nominalHours;
    closeWeeksOff(season, frame);
    for (WeekFrame& week : frame.weeks) {
        for (int i = 0; i < 7; ++i)
            week.nominalHours += hoursOn(season, week.start + i);
        for (int d = week.first; d <= week.last; ++d)
            if (const DayFrame& day = frame.days[static_cast<size_t>(d)]; !day.away && !day.camp)
                week.openHours += day.nominalHours;
        week.past = week.last < frame.today;
    }
    frame.layOff = comesFromNothing(season);
    return frame;
}

} // namespace marram
