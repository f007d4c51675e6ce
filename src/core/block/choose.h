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
    int tests = 0; ///< test days of the season before this week
};
std::vector<WeekProblem> weekProblems(const Season& season, const Plan& plan, Date from, int weeks);

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

/// What a week is given, before its lengths are fitted.
struct WeekChoice {
    std::vector<std::optional<Pick>> onDay; ///< by place among WeekProblem::days
    int longTempo = 0;                      ///< s at 80 % late in the long ride
};

/// Families and rungs for every hard day, tempo in the long ride and on easy days, by a beam over the weeks.
std::vector<WeekChoice> chooseSessions(const Season& season, const std::vector<WeekProblem>& weeks,
                                       const std::vector<DoneRung>& done);

} // namespace marram
