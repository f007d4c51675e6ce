// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/season/plan.h"
#include "store/roster.h"

namespace marram {

/// What lies ahead of a rider as the roster has it: the season in force with all it rests on, its plan, and
/// what sessions rest on.
struct RiderAhead {
    Season season; ///< whole
    Plan plan;
    std::map<Date, MeantSession> meant; ///< by day, past ones too
    std::shared_ptr<const FamilyBook> book;
    BlockBasis basis;
};

/// Solves it; nothing for a rider without a season in force, or with one nothing can be planned from.
Result<std::optional<RiderAhead>> lookAhead(const Roster& roster, const RiderRecord& rider, Date today,
                                            Damage& damage);

/// A day of some weeks, with the session as it was promised, else as it is worked out now.
struct DayAhead {
    Date date;
    Role role = Role::Rest;
    std::string family, title;
    int seconds = 0;   ///< of the session, off the bicycle too
    double stress = 0; ///< points
    QString words;     ///< the session in words; empty for rest
};
/// From a Monday on; days outside the season are left out. Of days gone by what was meant.
std::vector<DayAhead> daysAhead(const RiderAhead& ahead, Date from, int weeks, Date today);

} // namespace marram
