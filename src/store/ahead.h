// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/season/plan.h"
#include "records/squad.h"
#include "store/roster.h"

namespace marram {

/// What lies ahead of a rider as the roster has it: the season in force with all it rests on, its plan, and
/// what sessions rest on.
struct RiderAhead {
    qint64 seasonId = 0;
    Season season; ///< whole
    Plan plan;
    std::map<Date, MeantSession> meant; ///< by day, past ones too
    std::shared_ptr<const FamilyBook> book;
    BlockBasis basis;
};

/// Solves it; nothing for a rider without a season in force, or with one nothing can be planned from.
Result<std::optional<RiderAhead>> lookAhead(const Roster& roster, const RiderRecord& rider, Date today,
                                            Damage& damage);

/// The same as the roster keeps what was promised: one a day, the ride where there is gym beside it.
std::vector<MeantSession> promiseOf(const std::vector<BlockSession>& sessions);

/// The sessions of some weeks from a Monday on: as they were promised, else as they are worked out now.
std::vector<BlockSession> sessionsAhead(const RiderAhead& ahead, Date from, int weeks, Date today);

/// From a Monday on; days outside the season are left out. Of days gone by what was meant.
std::vector<DayAhead> daysAhead(const RiderAhead& ahead, Date from, int weeks, Date today);

} // namespace marram
