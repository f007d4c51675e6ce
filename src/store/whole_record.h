// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/whole_record.h"
#include "store/roster.h"

namespace marram {

/// Reads a rider's record up to a day. Any thread, with a roster of its own.
Result<WholeRecord> wholeRecordOf(const Roster& roster, const RiderRecord& rider, Date today);

} // namespace marram
