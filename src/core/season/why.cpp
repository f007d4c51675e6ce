// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

const DayFrame* dayOf(const Solved& s, int d) {
    return d >= 0 && d < static_cast<int>(s.frame.days.size()) ? &s.frame.days[static_cast<size_t>(d)]
                                                               : nullptr;
}

bool holds(const std::vector<Date>& days, const WeekFrame& week, int ahead) {
    return std::any_of(days.begin(), days.end(),
                       [&](Date d) { return d >= week.start && d <= week.start + 6 + ahead; });
}

/// The race a day is close to, or -1.
int raceWithin(const Solved& s, int day, int from, int to) {
    for (int n = from; n <= to; ++n)
        if (const DayFrame* d = dayOf(s, day + n); d && d->race >= 0)
            return d->race;
    return -1;
}

std::string whyRole(const Season& season, const Solved& s, int d, Role role) {
    const DayFrame& day = s.frame.days[static_cast<size_t>(d)];
    const WeekFrame& week = s.frame.weeks[static_cast<size_t>(s.frame.weekOf(d))];
    const auto race = [&](int r) { return season.races[static_cast<size_t>(r)].name; };
    switch (role) {
    case Role::Race:
        return phrase("Race: %1.", race(day.race));
    case Role::Rest:
        if (day.away)
            return phrase("Away.");
        return day.nominalHours <= 0 ? phrase("Rest: the week has no hours on this day.") : phrase("Rest.");
    case Role::Openers: {
        const int next = raceWithin(s, d, 1, 1);
        return phrase("Openers: the day before %1.", (next >= 0 ? race(next) : phrase("the race")));
    }
    case Role::Test:
        return week.kind == WeekKind::Deload
                   ? phrase("Test: the end of a deload, two days after anything hard.")
                   : phrase("Test: six weeks or more after the last, two days after anything hard.");
    case Role::Hard: {
        const DayFrame* before = dayOf(s, d - 1);
        std::string text = phrase("Hard: one of at most %1 this week", std::to_string(week.hardDays));
        if (before && before->hours <= 0)
            text += phrase(", on the legs of a day of rest");
        return phrase("%1; none beside another or beside a race.", text);
    }
    case Role::Long:
        return day.camp ? phrase("Camp.") : phrase("Long: where the hours are.");
    case Role::Gym:
        return phrase("Gym: a short day of its own; the bicycle stays easy.");
    case Role::Easy:
        break;
    }
    if (day.lowOnly)
        return s.frame.layOff && d < 14 ? phrase("Low band only: the first two weeks after a lay-off.")
                                        : phrase("Low band only: back from illness.");
    if (day.noHard) {
        if (const int next = raceWithin(s, d, 1, 2); next >= 0)
            return phrase("Easy: nothing hard in the two days before %1.", race(next));
        return phrase("Easy: nothing hard yet; the days before it have to be recovered from.");
    }
    return phrase("Easy.");
}

} // namespace

std::string whyLoad(const Season& season, const Solved& solved, size_t w) {
    const WeekFrame& frame = solved.frame.weeks[w];
    const PlannedWeek& week = solved.plan.weeks[w];
    if (frame.past || frame.kind != WeekKind::Build)
        return {};
    if (frame.volume * week.availableHours > 0 && week.hours > 0.985 * frame.volume * week.availableHours)
        return frame.volume < 1 ? phrase("It uses the %1 % of the hours %2 may fill.",
                                         fixedText(100 * frame.volume, 0), nameOf(frame.phase))
                                : phrase("It uses all the hours there are.");
    const double before = w > 0 ? solved.plan.weeks[w - 1].fitness : season.before.fitness;
    const double own = rampBase + rampOfFitness * before, rise = week.fitness - before;
    if (rise > std::min(own, season.rules.ramp) - 0.1)
        return own < season.rules.ramp
                   ? phrase("Fitness rises as fast as a fitness of %1 bears.", fixedText(before, 0))
                   : phrase("Fitness rises as fast as the coach allows.");
    if (holds(solved.solution.floorDays, frame, 7))
        return phrase("More would take form under the floor of %1.", signedText(season.rules.formFloor, 0));
    if (holds(solved.solution.depthDays, frame, 7))
        return phrase("More would take form deeper than a fitness of %1 bears.", fixedText(week.fitness, 0));
    if (w > 0 && solved.plan.weeks[w - 1].kind == WeekKind::Build &&
        week.stress > (largestRise - 0.005) * solved.plan.weeks[w - 1].stress)
        return phrase("A tenth over the week before, which is the most.");
    return phrase("What it carries leaves room for the block to grow.");
}

std::string whyDay(const Season& season, const Solved& solved, Date date) {
    const int d = date - season.start;
    if (d < 0 || d >= static_cast<int>(solved.plan.days.size()))
        return {};
    const PlannedDay& day = solved.plan.days[static_cast<size_t>(d)];
    const DayFrame& frame = solved.frame.days[static_cast<size_t>(d)];
    const auto w = static_cast<size_t>(solved.frame.weekOf(d));
    if (day.past)
        return phrase("Ridden.");
    std::string text = whyRole(season, solved, d, day.role);
    if (frame.weight < 1 && day.stress > 0)
        text += phrase(" It carries %1 % of its usual load.", fixedText(100 * frame.weight, 0));
    if (!solved.plan.weeks[w].why.empty())
        text += " " + solved.plan.weeks[w].why;
    return text;
}

} // namespace marram
