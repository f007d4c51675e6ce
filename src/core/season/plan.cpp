// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace marram {
namespace {

PlannedWeek weekOf(const WeekFrame& frame) {
    PlannedWeek week;
    week.start = frame.start;
    week.kind = frame.kind;
    week.phase = frame.phase;
    week.block = frame.block;
    week.pinned = frame.pinned;
    week.why = frame.why;
    return week;
}

void fillDays(const Season& season, Solved& s) {
    const auto model = runModel(s.solution.stress, season.before, season.tau);
    for (size_t d = 0; d < s.frame.days.size(); ++d) {
        const DayFrame& frame = s.frame.days[d];
        const auto w = static_cast<size_t>(s.frame.weekOf(static_cast<int>(d)));
        const auto i = static_cast<size_t>(weekday(frame.date));
        PlannedDay day;
        day.date = frame.date;
        day.stress = model[d].stress;
        day.fitness = model[d].fitness;
        day.fatigue = model[d].fatigue;
        day.form = model[d].form;
        day.availableHours = frame.hours;
        day.past = frame.past;
        day.hours = std::clamp(s.solution.hours[d], 0.0, frame.hours);
        day.role = s.patterns[w].roles[i];
        if (day.role != Role::Race && day.stress < 1e-6 && !frame.past)
            day.role = Role::Rest;
        s.plan.days.push_back(day);
    }
}

void fillWeeks(Solved& s) {
    for (const WeekFrame& frame : s.frame.weeks) {
        PlannedWeek week = weekOf(frame);
        for (int d = frame.first; d <= frame.last; ++d) {
            const PlannedDay& day = s.plan.days[static_cast<size_t>(d)];
            week.stress += day.stress;
            week.hours += day.hours;
            week.availableHours += day.availableHours;
        }
        week.bandHours = {week.hours * frame.split.low, week.hours * frame.split.middle,
                          week.hours * frame.split.high};
        week.fitness = s.plan.days[static_cast<size_t>(frame.last)].fitness;
        week.fatigue = s.plan.days[static_cast<size_t>(frame.last)].fatigue;
        s.plan.weeks.push_back(week);
    }
}

void fillRaces(const Season& season, Solved& s) {
    for (const Race& race : season.races) {
        const auto d = static_cast<size_t>(race.date - season.start);
        PlannedRace planned;
        planned.name = race.name;
        planned.date = race.date;
        planned.priority = race.priority;
        planned.form = s.plan.days[d].form;
        planned.fitness = d > 0 ? s.plan.days[d - 1].fitness : season.before.fitness;
        planned.gate = raceGate(race);
        planned.stress = raceStress(race);
        if (planned.gate)
            planned.gateMiss =
                std::max({0.0, planned.gate->low - planned.form, planned.form - planned.gate->high});
        s.plan.races.push_back(planned);
    }
}

void warn(const Season& season, Solved& s) {
    auto& warnings = s.plan.warnings;
    warnings = s.frame.warnings;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    if (hours <= 0)
        warnings.push_back("The rider has no hours on any weekday: nothing but races is planned.");
    bool peak = false;
    for (const PlannedRace& race : s.plan.races) {
        peak = peak || race.priority == Priority::A;
        if (race.gate && race.gateMiss > 0.05 && race.priority != Priority::C)
            warnings.push_back("Form on the morning of \"" + race.name + "\" is " + signedText(race.form) +
                               ", " + fixedText(race.gateMiss) + " outside the gate " +
                               signedText(race.gate->low, 0) + " to " + signedText(race.gate->high, 0) + ".");
    }
    if (!peak)
        warnings.push_back("There is no A race: nothing is peaked for.");
    if (s.plan.marginCost > 0.05)
        warnings.push_back("Arriving a quarter inside the gate rather than on its edge costs " +
                           fixedText(s.plan.marginCost) + " points of race-day fitness.");
    double high = 0;
    for (const WeekFrame& week : s.frame.weeks)
        high = std::max(high, week.split.high);
    if (hours > 0 && hours <= 6.5 && high < 0.12)
        warnings.push_back(
            "With " + fixedText(hours) +
            " hours a week this split leaves little high-intensity work; a wider spread suits few hours.");
    if (season.rules.hardDays == 0)
        warnings.push_back("No hard days are allowed, so the high band is spread over easy days.");
    for (const WeekFrame& week : s.frame.weeks) {
        int races = 0;
        for (int d = week.first; d <= week.last; ++d)
            races += s.frame.days[static_cast<size_t>(d)].race >= 0 ? 1 : 0;
        if (races > season.rules.hardDays && !week.past)
            warnings.push_back("The week of " + isoText(week.start) + " holds " + std::to_string(races) +
                               " race days, more than the " + std::to_string(season.rules.hardDays) +
                               " hard days allowed.");
    }
    for (const Away& away : season.away)
        if (away.why == AwayWhy::Illness)
            warnings.push_back("After the illness from " + isoText(away.from) +
                               " the return is to be gentle, and under medical care where there was fever, "
                               "chest pain or unusual breathlessness.");
    for (const Away& away : season.away)
        if (away.why == AwayWhy::Camp && away.stress.value_or(1000) > 0)
            warnings.push_back("The camp of " + isoText(away.from) +
                               " overreaches on purpose: a rider who has not recovered two weeks after it "
                               "should see a doctor.");
}

} // namespace

std::string fixedText(double value, int decimals) {
    char buffer[64];
    std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
    return buffer;
}

std::string signedText(double value, int decimals) {
    const std::string digits = fixedText(std::abs(value), decimals);
    const bool zero = digits.find_first_not_of("0.") == std::string::npos;
    return (zero ? "" : value < 0 ? "\u2212" : "+") + digits;
}

double aimedFitness(const Plan& plan) {
    for (const Priority p : {Priority::A, Priority::B}) {
        double sum = 0;
        bool any = false;
        for (const PlannedRace& race : plan.races)
            if (race.priority == p) {
                sum += race.fitness;
                any = true;
            }
        if (any)
            return sum;
    }
    return plan.days.empty() ? 0 : plan.days.back().fitness;
}

Solved solveSeason(const Season& season, const Solution* from, const std::string& textFile) {
    Solved s;
    s.frame = layOut(season);
    decideSkeleton(season, s.frame);
    s.patterns = placeDays(season, s.frame);
    s.solution = solveStages(season, s.frame, s.patterns, from, textFile);
    const bool unsolved = s.solution.stress.empty();
    if (unsolved)
        for (const DayFrame& day : s.frame.days)
            s.solution.stress.push_back(day.fixed);
    s.solution.hours.resize(s.frame.days.size());
    s.plan.objective = s.solution.objective;
    s.plan.marginCost = s.solution.marginCost;
    fillDays(season, s);
    fillWeeks(s);
    fillRaces(season, s);
    warn(season, s);
    if (unsolved)
        s.plan.warnings.push_back(
            "No load could be found for this season; only races, camps and the past are shown.");
    s.plan.relaxed = audit(season, s);
    return s;
}

} // namespace marram
