// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "reports/reports.h"
#include "store/roster.h"

namespace marram {

/// Answers a question from what a roster holds of a rider. `going` may say that nobody waits any more. Any
/// thread, with a roster of its own.
Result<Report> reportOf(const Roster& roster, const RiderRecord& rider, Question question, int days,
                        Date today, const std::function<bool()>& going = {}, const Units& units = {});

} // namespace marram
