// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "records/records.h"
#include <optional>

namespace marram {

/// What a session that was ridden counts for on its ladder. Nothing where it is of none (`wholeWork` 0), or
/// where much less work was meant than its rung has: a lighter week passes no rung. In a week of build some
/// repetitions may be left out, its day being short, and the ladder goes on. One that was to be eased counts
/// for the rung below.
/// `work` and `wholeWork`: s of work as it was meant and of its rung; `week`: the kind of its week, where
/// known.
std::optional<DoneRung> doneRung(const MeantSession& meant, RungVerdict verdict, int work, int wholeWork,
                                 std::optional<WeekKind> week);

/// What a session came to: as the coach says, else as its ride compares with it. Nothing where neither is
/// known.
std::optional<RungVerdict> verdictOn(const Season* season, Date day, const MeantSession* meant);

} // namespace marram
