// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/load.h"
#include <map>
#include <optional>

namespace marram {

/// So many days of record say by themselves what a rider is used to: one time constant of fitness.
inline constexpr int enoughRecord = 42;

/// Points an hour of a usual week, where only its hours are known: mostly low riding (common practice).
inline constexpr double usualPointsPerHour = 50;

/// What is known of a rider's load.
struct LoadRecord {
    std::map<Date, double> ridden; ///< points, by day
    std::optional<double>
        usualWeekHours;              ///< what a usual week was before the record begins, as the rider says
    std::optional<Date> seasonStart; ///< first day of the season in force
    LoadState atSeasonStart;         ///< as the coach gave it, at the end of the day before; 0 where not
    TimeConstants tau;
};

/// The one history of a rider's load: whoever shows fitness, fatigue or form of a day that has passed reads
/// it here, so that the same morning is the same everywhere.
///
/// It begins on the day of the first ride or of the season in force, whichever is earlier. What came before
/// stands in its first state: the rider's word for a usual week; else, for a record of 42 days and more, the
/// mean of its first 42 days; else the state the coach gave the season; else nothing, and known() says so.
class LoadHistory {
public:
    /// What was ridden today counts from tomorrow's morning on; nothing that lies after today counts.
    LoadHistory(const LoadRecord& record, Date today);

    /// The state at the end of the day before `day`; before the history begins, its first state.
    LoadState before(Date day) const;
    double form(Date day) const { return before(day).form(); }
    /// Change of fitness over the seven days before `day`.
    double ramp(Date day) const { return before(day).fitness - before(day - 7).fitness; }
    /// Points ridden on a day.
    double ridden(Date day) const;

    Date begin() const { return begin_; }
    /// Days from the first ride up to today; 0 without a ride.
    int recordDays() const { return recordDays_; }
    /// Whether the first state is known from something; without it fitness is a lower bound.
    bool known() const { return known_; }

private:
    std::map<Date, double> ridden_;
    TimeConstants tau_;
    Date begin_;
    int recordDays_ = 0;
    bool known_ = false;
    std::vector<LoadState> states_; ///< before begin_ + i
};

} // namespace marram
