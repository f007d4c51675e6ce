// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <optional>
#include <span>
#include <string>

namespace marram {

/// Hours and points of a day, planned or ridden.
struct DayWork {
    double hours = 0;
    std::optional<double> stress; ///< points; nothing where a ride could not be scored
};

/// How much a rider's rides usually vary from their plan, as a standard deviation of the logarithm of ridden
/// over planned: of hours, and of points an hour.
struct PlanSpread {
    double volume = 0, content = 0;
    int days = 0; ///< it rests on
};

/// What it is taken for while fewer than ten days have both: a tenth of rides more than a fifth off (common
/// practice). And the least it is ever taken for: nobody rides to the minute.
inline constexpr PlanSpread usualSpread{0.11, 0.11, 0};
inline constexpr double leastSpread = 0.04;

/// Learns the spread from days that have both: 1.4826 × the median distance from the plan, so that a few days
/// of life getting in the way don't make everything "as meant".
PlanSpread spreadFromPlan(std::span<const std::pair<DayWork, DayWork>> plannedAndRidden);

/// Whether what was ridden was what was meant, in two independent parts, each against the rider's own spread:
/// only what is further off than nine of ten of their rides is named. No fixed percentages.
struct DayVerdict {
    enum class Volume { AsMeant, Shorter, Longer } volume = Volume::AsMeant;
    enum class Content { AsMeant, Easier, Harder, Unknown } content = Content::AsMeant;
    enum class Kind { Ridden, Rest, Missed, Extra, Another } kind = Kind::Ridden;
    bool operator==(const DayVerdict&) const = default;
};
/// Under 5 points or a quarter of an hour is neither a session nor a plan. Another session: both parts
/// further off than three times what is named.
DayVerdict judgeDay(const DayWork& planned, const DayWork& ridden, const PlanSpread& spread);

/// "as meant", "shorter", "longer, easier", "another session", "missed", "extra", "rest".
std::string wordsFor(const DayVerdict& verdict);

} // namespace marram
