// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/season/chance.h"
#include "core/season/settle.h"
#include "core/season/skeleton.h"
#include "core/words/phrase.h"

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

/// By how much fitness rises over a week.
double riseOver(const WeekFrame& week, const std::vector<LoadDay>& model, const LoadState& before) {
    return model[static_cast<size_t>(week.last)].fitness -
           (week.first > 0 ? model[static_cast<size_t>(week.first) - 1].fitness : before.fitness);
}

/// A ride of a few minutes is none: it is rest, and what it had goes to another easy day of its week.
void dropStumps(const Season& season, Solved& s) {
    const double keep = decay(season.tau.fitness);
    const auto model = runModel(s.solution.stress, season.before, season.tau);
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        const WeekFrame& week = s.frame.weeks[w];
        const WeekPattern& pattern = s.patterns[w];
        const auto hoursOf = [&](int d) {
            const double each =
                pattern
                    .pointsPerHour[static_cast<size_t>(weekday(s.frame.days[static_cast<size_t>(d)].date))];
            return each > 0 ? s.solution.stress[static_cast<size_t>(d)] / each : 0;
        };
        double ramp = season.rules.ramp - riseOver(week, model, season.before);
        // The smallest first, so that two of them may make a ride together.
        for (int turn = 0; turn < 7; ++turn) {
            int smallest = -1, best = -1;
            const auto stressOn = [&](int d) -> double& { return s.solution.stress[static_cast<size_t>(d)]; };
            for (int d = week.first; d <= week.last; ++d)
                if (s.frame.days[static_cast<size_t>(d)].hours > 0 && stressOn(d) > 0 &&
                    hoursOf(d) < leastRideHours && (smallest < 0 || hoursOf(d) < hoursOf(smallest)))
                    smallest = d;
            if (smallest < 0)
                break;
            const auto roleOf = [&](int e) {
                return pattern.roles[static_cast<size_t>(weekday(s.frame.days[static_cast<size_t>(e)].date))];
            };
            const auto fits = [&](int e) {
                const DayFrame& other = s.frame.days[static_cast<size_t>(e)];
                return e != smallest && other.hours > 0 && stressOn(e) > 0 &&
                       (roleOf(e) != Role::Hard || roleOf(smallest) == Role::Hard) &&
                       roleOf(e) != Role::Openers &&
                       hoursOf(e) + hoursOf(smallest) <= other.weight * other.hours;
            };
            const auto room = [&](int e) {
                const Role role = roleOf(e);
                return (role == Role::Easy || role == Role::Long || role == roleOf(smallest) ? 100 : 0) +
                       s.frame.days[static_cast<size_t>(e)].hours - hoursOf(e);
            };
            for (int e = week.first; e <= week.last; ++e)
                if (fits(e) && (best < 0 || room(e) > room(best)))
                    best = e;
            if (best < 0) {
                // Nobody to take it. Outside of build weeks nobody misses a quarter of an hour either.
                if (roleOf(smallest) != Role::Easy || week.kind == WeekKind::Build)
                    break;
                stressOn(smallest) = 0;
                continue;
            }
            // Ridden later it tells more on the Sunday: no more than the ramp leaves.
            const double moved = stressOn(smallest), later = std::pow(keep, std::max(0, best - smallest));
            const double rise = (1 - keep) * moved * std::pow(keep, week.last - best) * (1 - later);
            const bool whole = rise <= ramp;
            ramp -= whole ? rise : 0;
            stressOn(best) += whole ? moved : moved * later;
            stressOn(smallest) = 0;
        }
    }
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
        const double each = s.patterns[w].pointsPerHour[i];
        day.hours = frame.hours > 0 && each > 0 ? std::clamp(day.stress / each, 0.0, frame.hours) : 0;
        day.role = s.patterns[w].roles[i];
        day.easyOnly = s.frame.staysLow(static_cast<int>(d), day.role);
        if (day.role != Role::Race && day.role != Role::Gym && day.stress < 1e-6 && !frame.past)
            day.role = Role::Rest;
        if (day.role == Role::Gym && frame.hours <= 0 && !frame.past)
            day.role = Role::Rest;
        s.plan.days.push_back(day);
    }
}

void fillWeeks(Solved& s) {
    for (const WeekFrame& frame : s.frame.weeks) {
        PlannedWeek week = weekOf(frame);
        bool hard = false;
        for (int d = frame.first; d <= frame.last; ++d)
            hard = hard || s.plan.days[static_cast<size_t>(d)].role == Role::Hard;
        for (int d = frame.first; d <= frame.last; ++d) {
            const PlannedDay& day = s.plan.days[static_cast<size_t>(d)];
            week.stress += day.stress;
            week.hours += day.hours;
            week.availableHours += day.availableHours;
            const Bands& bands =
                s.patterns[s.plan.weeks.size()].bands[static_cast<size_t>(weekday(day.date))];
            week.bandHours.low += day.hours * bands.low;
            week.bandHours.middle += day.hours * bands.middle;
            // High time is a hard day's: where it fell away what a test has of it is not counted either.
            (hard ? week.bandHours.high : week.bandHours.low) += day.hours * bands.high;
        }
        week.fitness = s.plan.days[static_cast<size_t>(frame.last)].fitness;
        week.fatigue = s.plan.days[static_cast<size_t>(frame.last)].fatigue;
        s.plan.weeks.push_back(week);
    }
}

/// The morning that comes: what is expected with the rider's misses, and the chance to wake inside the gate.
void expect(const Season& season, const Solved& s, size_t day, PlannedRace& race) {
    ComingForm coming(season.before, season.tau, season.rules.miss, season.rules.missRun);
    for (size_t d = 0; d < day; ++d) {
        const DayFrame& frame = s.frame.days[d];
        coming.day(s.solution.stress[d], !frame.past && frame.race < 0 && !frame.camp);
    }
    race.expectedFitness = coming.fitness();
    race.expectedForm = coming.form();
    race.formDeviation = coming.formDeviation();
    if (race.gate)
        race.chance =
            race.formDeviation > 1e-9
                ? normalShare(race.expectedForm, race.formDeviation, race.gate->low, race.gate->high)
                : (std::max(race.gate->low - race.expectedForm, race.expectedForm - race.gate->high) < 0.05
                       ? 1.0 // where nothing is missed, as the gate's own miss is reckoned
                       : 0.0);
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
        planned.gate = s.solution.gates.empty()
                           ? raceGate(race, planned.fitness)
                           : s.solution.gates[static_cast<size_t>(&race - season.races.data())];
        planned.stress = raceStress(race);
        if (planned.gate)
            planned.gateMiss =
                std::max({0.0, planned.gate->low - planned.form, planned.form - planned.gate->high});
        if (planned.gateMiss < 1e-9) // rounding of a form that lies on the edge
            planned.gateMiss = 0;
        expect(season, s, d, planned);
        s.plan.races.push_back(planned);
    }
}

/// Fitness at the end of every day of a solution, to lay the season out by.
std::vector<double> fitnessOf(const Season& season, const std::vector<double>& stress) {
    std::vector<double> all;
    if (stress.size() == static_cast<size_t>(season.dayCount()))
        for (const LoadDay& day : runModel(stress, season.before, season.tau))
            all.push_back(day.fitness);
    return all;
}

/// Whether recoveries were laid out for what the events really cost in this plan.
bool recoveriesHold(const Season& season, const Solved& s) {
    const std::vector<double> fitness = fitnessOf(season, s.solution.stress);
    if (fitness.empty())
        return true;
    SeasonFrame again = layOut(season, fitness);
    placeAnchors(season, again);
    if (again.recoveries.size() != s.frame.recoveries.size())
        return true;
    for (size_t i = 0; i < again.recoveries.size(); ++i)
        if (again.recoveries[i] > s.frame.recoveries[i] || again.recoveries[i] < s.frame.recoveries[i] - 1)
            return false;
    return true;
}

void solveLoad(const Season& season, const CutWay& cut, const Solution* from, const std::string& textFile,
               const Solution* promised, std::vector<double> fitness, Solved& s) {
    s.frame = layOut(season, std::move(fitness));
    std::vector<double> levels;
    if (promised && promised->promise && promised->promise->weeks.size() == s.frame.weeks.size()) {
        if (promised->held)
            levels = promised->levels;
        layPromise(season, *promised, cut, s);
    } else {
        s.skeletonCost = decideSkeleton(season, s.frame, cut);
        s.patterns = placeDays(season, s.frame);
    }
    s.solution = optimise(season, s.frame, s.patterns, from, textFile, levels);
    if (layUnderusedWeeks(season, s))
        s.solution = optimise(season, s.frame, s.patterns, &s.solution, textFile, levels);
    s.solution.cut = cut;
}

} // namespace

void fillPlan(const Season& season, Solved& s) {
    s.plan = {};
    s.plan.objective = s.solution.objective;
    fillDays(season, s);
    fillWeeks(s);
    fillRaces(season, s);
    remark(season, s);
    s.plan.relaxed = audit(season, s);
    for (size_t w = 0; w < s.plan.weeks.size(); ++w)
        if (const std::string load = whyLoad(season, s, w); !load.empty())
            s.plan.weeks[w].why += " " + load;
}

Solved solveAs(const Season& season, const CutWay& cut, const Solution* from, const std::string& textFile,
               const Solution* promised) {
    Solved s;
    std::vector<double> fitness;
    if (promised && promised->stress.size() == static_cast<size_t>(season.dayCount()))
        fitness = promised->promise ? promised->promise->fitness : fitnessOf(season, promised->stress);
    else if (from && from->start == season.start)
        fitness = fitnessOf(season, from->stress);
    solveLoad(season, cut, from, textFile, promised, std::move(fitness), s);
    // What events cost is known once there is a plan; laid out again by it where that was guessed too low.
    if (!promised && !recoveriesHold(season, s)) {
        const Solution first = s.solution;
        Solved again;
        solveLoad(season, cut, &first, textFile, promised, fitnessOf(season, first.stress), again);
        s = std::move(again);
    }
    const bool unsolved = s.solution.stress.empty();
    if (unsolved)
        for (const DayFrame& day : s.frame.days)
            s.solution.stress.push_back(day.fixed);
    settleBands(season, s);
    dropStumps(season, s);
    s.solution.promise = std::make_shared<const Solution::Promise>(
        Solution::Promise{s.frame.weeks, s.patterns, s.frame.fitness});
    fillPlan(season, s);
    if (unsolved)
        s.plan.warnings.push_back(
            phrase("No load could be found for this season; only races, camps and the past are shown."));
    return s;
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

} // namespace marram
