// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"

namespace marram {

/// A day as the season has it.
struct DaySlot {
    Date date;
    Role role = Role::Rest;
    double hours = 0;  ///< planned, in seconds
    int available = 0; ///< s, to whole five minutes
    bool besideHard = false;
    bool easyOnly = false; ///< a recovery or a return: nothing over the low band
    // What the coach pinned.
    bool pinned = false;
    std::optional<Session> words;   ///< the whole ride
    const Family* family = nullptr; ///< its work, at `rung` where that is pinned too, 0 the first
    std::optional<int> rung;
    bool fixedLength = false; ///< `hours` is the length
    std::string replaced;     ///< what is not ridden here and why, a sentence
    /// Whether work is chosen for it.
    bool hasWork() const { return rides() && !words && (family || role == Role::Hard); }
    /// A day of under a quarter of an hour is none.
    bool rides() const { return hours >= 900 && role != Role::Race && role != Role::Rest; }
};

/// A week as the season wants it ridden.
struct WeekProblem {
    Date start;
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    Demand demand = Demand::Unstated;
    double stress = 0; ///< of training
    Bands purpose;     ///< s
    std::vector<DaySlot> days;
    int tests = 0;          ///< test days of the season before this week
    double fitness = 0;     ///< as the week begins
    int shown = 0;          ///< s of sets a hard day has had in the eight weeks before, by the plan
    bool noMaximal = false; ///< under care, or new to training: no maximal test
    int since = 0;          ///< weeks from the season's start
};
/// Whether a week that was promised still fits what the season asks of it: the same kind, its points within 5
/// %, every session on a day that still has its role and the time for it.
bool keepsPromise(const BlockWeek& promised, const WeekProblem& week);
std::vector<WeekProblem> weekProblems(const Season& season, const Plan& plan, Date from, int weeks,
                                      const BlockBasis& basis);

/// Families a phase rides, those its race asks for first in front (common practice). `late`: a base whose
/// split has work over the low threshold already.
std::vector<const char*> familiesOf(Phase phase, Demand demand, bool late);

/// The work given to a day.
struct Pick {
    const Family* family = nullptr;
    int rung = 0; ///< 0 the first
    Session work;
    int seconds = 0; ///< of the work
    std::string why;
};

/// Whether the rider may ride a family, by injuries.
bool allowed(const Family& family, const BlockBasis& basis);

/// What a week is given, before its lengths are fitted.
struct WeekChoice {
    std::vector<std::optional<Pick>> onDay; ///< by place among WeekProblem::days
    int longTempo = 0;                      ///< s at `longTarget` % late in the long ride
    int longTarget = 80;
};

/// Families and rungs for every hard day, tempo in the long ride and on easy days, by a beam over the weeks.
std::vector<WeekChoice> chooseSessions(const Season& season, const std::vector<WeekProblem>& weeks,
                                       const BlockBasis& basis);

} // namespace marram
