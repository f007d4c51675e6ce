// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/rider/power_model.h"
#include "records/records.h"
#include <map>
#include <set>

namespace marram {

/// What a rider's record says of the sessions to come, whoever asks: the window, the post, calendars.
struct BlockRecord {
    const RiderRecord& rider;
    const FamilyBook& book;
    const std::set<Date>& ill;            ///< illDaysOf()
    const std::map<Date, double>& ridden; ///< points by day
    const std::vector<TestRecord>& tests;
};

/// Injuries, returns from illness and weeks off, easy days after an illness, critical power. What was done
/// and what was promised is the asker's.
BlockBasis basisOf(const BlockRecord& record, Date today);

/// From the accepted maximal efforts of the 90 days up to `day`.
/// Errors: the sentence of fitCriticalPower().
Result<CriticalPower> criticalPowerOf(const std::vector<TestRecord>& tests, Date day);

} // namespace marram
