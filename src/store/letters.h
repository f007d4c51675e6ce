// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/monday.h"
#include "store/exchange.h"

namespace marram {

/// A letter as it goes to the rider.
struct Letter {
    QString rider;
    QString fileName; ///< without an ending; tells riders of one name apart
    Monday monday;    ///< in words to the rider
    QString coach;    ///< the coach's words; empty for what is proposed to say
};

/// The letter of a rider on the week of a Monday.
Result<Letter> letterOf(const Roster& roster, const RiderRecord& rider, Date week, Date today);

/// The letters of all riders who are not archived, each handed to `take`, which may refuse; cancelled where
/// `progress` says so. How many were taken.
Result<int> eachLetter(const Roster& roster, Date week, Date today, const Progress& progress,
                       const std::function<Result<void>(const Letter&)>& take);

} // namespace marram
