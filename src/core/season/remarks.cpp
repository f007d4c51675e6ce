// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Where sessions cannot hold what the school asks for: said once, with the hours that would hold it.
void limitedBands(const Season& season, Solved& s) {
    double held = 0, wanted = 0, asked = 0, middleOver = 0, total = 0;
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
        asked += 60 * s.plan.weeks[w].hours * (frame.split.high + frame.split.middle);
        middleOver += 60 * s.patterns[w].middleOver;
        total += s.plan.weeks[w].hours;
        ++weeks;
    }
    if (weeks == 0 || season.rules.hardDays == 0)
        return;
    const double over = std::max(0.0, wanted - held) + middleOver;
    if (over < 20.0 * weeks)
        return;
    // Fewer hours ask for no more than the sessions hold.
    const double hours = total / weeks;
    const double fits = std::max(2.0, hours * (1 - over / std::max(over + 1, asked)));
    s.plan.warnings.push_back(
        phrase("The split asks for %1 min a week over the low band more than %2 hard days, two of tempo and "
               "the long ride hold; that is ridden low. Up to some %3 hours a week it would be held.",
               fixedText(over / weeks, 0), std::to_string(season.rules.hardDays), fixedText(fits, 0)));
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
        s.plan.warnings.push_back(
            phrase("%1%2 more races than the %3 hard days allowed, first the week of %4.",
                   std::to_string(crowded.size()), (counted(crowded.size(), " week holds", " weeks hold")),
                   std::to_string(season.rules.hardDays), crowded.front()));
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
        std::string why = phrase("the load stays under what would hold it");
        if (away >= 7)
            why = phrase("%1 days away lie between", std::to_string(away));
        else if (raced >= 21)
            why = phrase("races and their tapers take %1 weeks", std::to_string(raced / 7));
        else if (const double holds = week.pointsPerHour * week.nominalHours / 7; holds < 0.95 * high)
            why = phrase("the hours hold no more than %1 a day", fixedText(holds, 0));
        s.plan.warnings.push_back(phrase("Fitness falls from %1 to %2 by %3: %4.", fixedText(high, 0),
                                         fixedText(day.fitness, 0), isoText(day.date), why));
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
        std::string why = phrase("form and fitness are built more gently than the hours would allow");
        if (ramped * 3 > weeks)
            why = phrase("fitness may not rise faster");
        else if (!s.solution.floorDays.empty() || !s.solution.depthDays.empty())
            why = phrase("form would fall too deep");
        warnings.push_back(
            phrase("Build weeks leave %1 hours a week unused: %2.", fixedText((open - used) / weeks), why));
    }
    fallingFitness(season, s, last);
}

/// Whether a camp carries more than its rider is used to: one at the usual load, at altitude say, does not.
bool overreaches(const Solved& s, const Away& camp) {
    constexpr double usual = 1.25; // times the fitness before it, a day
    double stress = 0, before = 0;
    int days = 0;
    for (const PlannedDay& day : s.plan.days) {
        if (day.date < camp.from)
            before = day.fitness;
        if (day.date < camp.from || day.date > camp.to)
            continue;
        stress += day.stress;
        ++days;
    }
    return days > 0 && stress / days > usual * before;
}

/// A race twice as long as the longest ride before it is said.
void distances(const Season& season, Solved& s) {
    constexpr double pointsAnHour = 62; // of a long race (common practice)
    for (const Race& race : season.races) {
        if (race.priority == Priority::C || race.date - season.start < 28)
            continue;
        double longest = 0;
        for (const PlannedDay& day : s.plan.days)
            if (day.date < race.date)
                longest = std::max(longest, day.hours);
        const double hours = raceStress(race) / race.days / pointsAnHour;
        if (longest > 0 && hours >= 2 * longest && hours >= 2)
            s.plan.warnings.push_back(phrase("The longest ride before \"%1\" is %2 h; the race takes some "
                                             "%3: no day of the week has room for a longer one.",
                                             race.name, fixedText(longest), fixedText(hours)));
    }
}

/// A split that leaves little high work in few hours, for riders who may be advised of more.
void fewHours(const Season& season, Solved& s, double hours) {
    const double high = 60 * std::min(phaseSplit(season.rules, Phase::Build, Demand::Unstated).high * hours,
                                      highHoursPerHardDay * season.rules.hardDays);
    // No harder school is advised to who begins, comes back or is under care.
    const CareRules care = careOf(season);
    const bool robust = !s.frame.layOff && !care.lowOnly && !care.fromNothing && !care.noMaximal &&
                        season.before.fitness >= 20;
    if (robust && hours > 0 && hours <= 6.5 && high < 40 && season.rules.hardDays > 0) {
        Rules wider = season.rules;
        wider.school = School::Even;
        const Bands even = phaseSplit(wider, Phase::Build, Demand::Unstated);
        s.plan.warnings.push_back(
            phrase("With %1 hours a week this split leaves %2 min of high work a week, rests of its sets "
                   "included; a wider spread suits few hours: even would give %3 min.",
                   fixedText(hours), fixedText(high, 0),
                   fixedText(60 * std::min(even.high * hours, highHoursPerHardDay * wider.hardDays), 0)));
    }
}

/// Where overreaching is meant, and after illness.
void afterHarm(const Season& season, Solved& s) {
    auto& warnings = s.plan.warnings;
    if (season.rules.overreach && !s.frame.tapers.empty())
        warnings.push_back(
            phrase("A last build week over what the rider is used to is overreaching on purpose: a tiredness "
                   "that does not lift in the two weeks of taper is a reason to stop and see a doctor."));
    for (const Away& away : season.away)
        if (away.why == AwayWhy::Illness)
            warnings.push_back(phrase(
                "After the illness from %1: the first ride only after 48 h without fever, then gently, and "
                "under medical care where there was fever, chest pain or unusual breathlessness.",
                isoText(away.from)));
    for (const Away& away : season.away)
        if (away.why == AwayWhy::Camp && overreaches(s, away))
            warnings.push_back(phrase("The camp of %1 overreaches on purpose: a rider who has not recovered "
                                      "two weeks after it should see a doctor.",
                                      isoText(away.from)));
}

} // namespace

void remark(const Season& season, Solved& s) {
    auto& warnings = s.plan.warnings;
    warnings = s.frame.warnings;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    if (hours <= 0)
        warnings.push_back(phrase("The rider has no hours on any weekday: nothing but races is planned."));
    bool peak = false;
    if (season.races.empty())
        warnings.push_back(phrase(
            "There is no race: the season is solved for fitness at its end, in cycles of base and build, "
            "and has no goal."));
    for (const PlannedRace& race : s.plan.races) {
        peak = peak || race.priority == Priority::A;
        if (race.gate && race.gateMiss > 0.05 && race.priority != Priority::C)
            warnings.push_back(phrase("Form on the morning of \"%1\" is %2, %3 outside the gate %4 to %5.",
                                      race.name, signedText(race.form), fixedText(race.gateMiss),
                                      signedText(race.gate->low, 0), signedText(race.gate->high, 0)));
    }
    if (!peak && !season.races.empty())
        warnings.push_back(phrase("There is no A race: nothing is peaked for."));
    fewHours(season, s, hours);
    if (season.rules.hardDays == 0)
        warnings.push_back(
            phrase("No hard days are allowed, so no high time is planned; it is ridden in the middle band."));
    limitedBands(season, s);
    crowdedWeeks(season, s);
    idle(season, s);
    distances(season, s);
    afterHarm(season, s);
}

} // namespace marram
