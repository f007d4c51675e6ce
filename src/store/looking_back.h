// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/monday.h"
#include "store/roster.h"

namespace marram {

/// What Monday's page of a rider is made of, read from the roster in one go: the week beginning on `week`
/// (a Monday) as it was meant and ridden, and the one after it. `today` is the day it is looked at; of a week
/// long gone nothing is said that was not known when it ended. What is to come is as the season's plan was
/// kept today; where none was, the season and its sessions are solved. Recordings are read only for sessions
/// that were never laid over their rides. Any thread, with a roster of its own.
Result<MondayFacts> lookBack(const Roster& roster, const RiderRecord& rider, Date week, Date today);

/// The Monday whose week is looked back on: the one that has ended last.
inline Date weekToLookAt(Date today) {
    return monday(today) - 7;
}

} // namespace marram
