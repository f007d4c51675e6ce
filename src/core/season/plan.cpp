// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/season/settle.h"

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
        const double each = s.patterns[w].pointsPerHour[i];
        day.hours = frame.hours > 0 && each > 0 ? std::clamp(day.stress / each, 0.0, frame.hours) : 0;
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
            const Bands& bands =
                s.patterns[s.plan.weeks.size()].bands[static_cast<size_t>(weekday(day.date))];
            week.bandHours.low += day.hours * bands.low;
            week.bandHours.middle += day.hours * bands.middle;
            week.bandHours.high += day.hours * bands.high;
        }
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
        planned.gate = s.solution.gates.empty()
                           ? raceGate(race, planned.fitness)
                           : s.solution.gates[static_cast<size_t>(&race - season.races.data())];
        planned.stress = raceStress(race);
        if (planned.gate)
            planned.gateMiss =
                std::max({0.0, planned.gate->low - planned.form, planned.form - planned.gate->high});
        if (planned.gateMiss < 1e-9) // rounding of a form that lies on the edge
            planned.gateMiss = 0;
        s.plan.races.push_back(planned);
    }
}

/// Where the hard days cannot hold the high share the school asks for.
void limitedHigh(const Season& season, Solved& s) {
    double held = 0, wanted = 0;
    int weeks = 0;
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        const WeekFrame& frame = s.frame.weeks[w];
        const auto& roles = s.patterns[w].roles;
        // A week whose hard days are races holds it there.
        if (frame.kind != WeekKind::Build || frame.past ||
            (frame.phase != Phase::Build && frame.phase != Phase::Specialise) ||
            std::find(roles.begin(), roles.end(), Role::Hard) == roles.end())
            continue;
        held += 60 * s.plan.weeks[w].bandHours.high;
        wanted += 60 * s.plan.weeks[w].hours * frame.split.high;
        ++weeks;
    }
    if (weeks == 0 || wanted - held < 10.0 * weeks || season.rules.hardDays == 0)
        return;
    s.plan.warnings.push_back("The split asks for " + fixedText(wanted / weeks, 0) +
                              " min of high work a week; the hard days hold " + fixedText(held / weeks, 0) +
                              ". What is over is ridden in the middle band.");
}

/// Weeks with more race days than hard days allowed; a race of several days is one race.
void crowdedWeeks(const Season& season, Solved& s) {
    std::vector<std::string> crowded;
    for (const WeekFrame& week : s.frame.weeks) {
        int days = 0, last = -1, races = 0;
        for (int d = week.first; d <= week.last; ++d) {
            const int race = s.frame.days[static_cast<size_t>(d)].race;
            days += race >= 0 ? 1 : 0;
            races += race >= 0 && race != last ? 1 : 0;
            last = race >= 0 ? race : last;
        }
        if (races > std::max(1, season.rules.hardDays) && days > season.rules.hardDays && !week.past)
            crowded.push_back(isoText(week.start));
    }
    if (!crowded.empty())
        s.plan.warnings.push_back(std::to_string(crowded.size()) +
                                  (crowded.size() == 1 ? " week holds" : " weeks hold") +
                                  " more races than the " + std::to_string(season.rules.hardDays) +
                                  " hard days allowed, first the week of " + crowded.front() + ".");
}

/// Fitness that is a tenth lower six weeks or more later, in the midst of training, and why.
void fallingFitness(const Season& season, Solved& s, int last) {
    double high = season.before.fitness;
    int from = -1, away = 0, raced = 0;
    for (int d = 0; d <= last; ++d) {
        const PlannedDay& day = s.plan.days[static_cast<size_t>(d)];
        const DayFrame& frame = s.frame.days[static_cast<size_t>(d)];
        const WeekFrame& week = s.frame.weeks[static_cast<size_t>(s.frame.weekOf(d))];
        if (day.fitness >= high) {
            high = day.fitness;
            from = d;
            away = raced = 0;
        }
        away += frame.away ? 1 : 0;
        raced += week.kind == WeekKind::Race || week.kind == WeekKind::Taper ? 1 : 0;
        if (week.kind != WeekKind::Build || frame.past || d - from < 42 || day.fitness > 0.9 * high)
            continue;
        std::string why = "the load stays under what would hold it";
        if (away >= 7)
            why = std::to_string(away) + " days away lie between";
        else if (raced >= 21)
            why = "races and their tapers take " + std::to_string(raced / 7) + " weeks";
        else if (s.plan.weeks[static_cast<size_t>(s.frame.weekOf(d))].hours >
                 0.85 * s.plan.weeks[static_cast<size_t>(s.frame.weekOf(d))].availableHours)
            why = "the hours hold no more than " +
                  fixedText(7 * week.pointsPerHour * week.nominalHours / 49) + " a day";
        s.plan.warnings.push_back("Fitness falls from " + fixedText(high, 0) + " to " +
                                  fixedText(day.fitness, 0) + " by " + isoText(day.date) + ": " + why + ".");
        return;
    }
}

/// Hours that lie unused and fitness that falls are never silent.
void idle(const Season& season, Solved& s) {
    double used = 0, open = 0;
    int weeks = 0, ramped = 0, last = -1;
    for (const Race& race : season.races)
        if (race.priority != Priority::C)
            last = std::max(last, race.date - season.start);
    for (size_t w = 0; w < s.plan.weeks.size(); ++w) {
        const PlannedWeek& week = s.plan.weeks[w];
        if (week.kind != WeekKind::Build || s.frame.weeks[w].past || s.frame.weeks[w].first > last)
            continue;
        used += week.hours;
        open += week.availableHours * s.frame.weeks[w].volume;
        const double before = w > 0 ? s.plan.weeks[w - 1].fitness : season.before.fitness;
        const double bears = std::min(season.rules.ramp, rampBase + rampOfFitness * before);
        ramped += week.fitness - before > 0.85 * bears ? 1 : 0;
        ++weeks;
    }
    auto& warnings = s.plan.warnings;
    if (weeks > 0 && used < 0.8 * open) {
        std::string why = "form and fitness are built more gently than the hours would allow";
        if (ramped * 3 > weeks)
            why = "fitness may not rise faster";
        else if (!s.solution.floorDays.empty() || !s.solution.depthDays.empty())
            why = "form would fall too deep";
        warnings.push_back("Build weeks leave " + fixedText((open - used) / weeks) +
                           " hours a week unused: " + why + ".");
    }
    fallingFitness(season, s, last);
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
    const double high = 60 * std::min(phaseSplit(season.rules, Phase::Build, Demand::Unstated).high * hours,
                                      highHoursPerHardDay * season.rules.hardDays);
    if (hours > 0 && hours <= 6.5 && high < 40 && season.rules.hardDays > 0) {
        Rules wider = season.rules;
        wider.school = School::Even;
        const Bands even = phaseSplit(wider, Phase::Build, Demand::Unstated);
        warnings.push_back(
            "With " + fixedText(hours) + " hours a week this split leaves " + fixedText(high, 0) +
            " min of high work a week, rests of its sets included; a wider spread suits few hours: even "
            "would give " +
            fixedText(60 * std::min(even.high * hours, highHoursPerHardDay * wider.hardDays), 0) + " min.");
    }
    if (season.rules.hardDays == 0)
        warnings.push_back(
            "No hard days are allowed, so no high time is planned; it is ridden in the middle band.");
    limitedHigh(season, s);
    crowdedWeeks(season, s);
    idle(season, s);
    if (season.rules.overreach && !s.frame.tapers.empty())
        warnings.push_back(
            "A last build week over what the rider is used to is overreaching on purpose: a tiredness "
            "that does not lift in the two weeks of taper is a reason to stop and see a doctor.");
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

Solved solveAs(const Season& season, const CutWay& cut, const Solution* from, const std::string& textFile) {
    Solved s;
    s.frame = layOut(season);
    s.skeletonCost = decideSkeleton(season, s.frame, cut);
    s.patterns = placeDays(season, s.frame);
    s.solution = optimise(season, s.frame, s.patterns, from, textFile);
    if (layAgain(season, s))
        s.solution = optimise(season, s.frame, s.patterns, &s.solution, textFile);
    s.solution.cut = cut;
    const bool unsolved = s.solution.stress.empty();
    if (unsolved)
        for (const DayFrame& day : s.frame.days)
            s.solution.stress.push_back(day.fixed);
    s.plan.objective = s.solution.objective;
    settleBands(season, s);
    fillDays(season, s);
    fillWeeks(s);
    fillRaces(season, s);
    warn(season, s);
    if (unsolved)
        s.plan.warnings.push_back(
            "No load could be found for this season; only races, camps and the past are shown.");
    s.plan.relaxed = audit(season, s);
    for (size_t w = 0; w < s.plan.weeks.size(); ++w)
        if (const std::string load = whyLoad(season, s, w); !load.empty())
            s.plan.weeks[w].why += " " + load;
    return s;
}

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

} // namespace marram
