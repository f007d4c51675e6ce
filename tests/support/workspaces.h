// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "store/import.h"
#include "store/roster.h"

namespace marram::test {

/// Enters a check-in as the page does.
inline void checkIn(Workspace& w, qint64 rider, const CheckIn& after) {
    CheckIn none;
    none.day = after.day;
    w.roster.edits().editCheckIns({{rider, w.roster.checkInOn(rider, after.day).value_or(none), after}},
                                  "Change a check-in");
}

/// The season in force as the file holds it.
inline std::optional<Season> seasonOf(const Roster& roster, qint64 rider) {
    const auto found = roster.seasonInForce(rider).value();
    return found ? std::optional(found->season) : std::nullopt;
}

} // namespace marram::test
