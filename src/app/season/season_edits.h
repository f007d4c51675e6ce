// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_picture.h"

namespace marram {

/// A season after something in it was moved by hand, and what to call that. Pure; where nothing moved the
/// season is as it was.
struct SeasonEdit {
    Season season;
    QString what;
};

SeasonEdit moveRace(const Season& season, int race, Date to);
/// The lower or upper edge of a gate, kept a point apart.
SeasonEdit moveGate(const Season& season, const Plan& plan, int race, bool low, double form);
/// The boundary that lies before the Monday `edge` goes to the Monday nearest `to`: the weeks it passes over
/// are pinned to the phase they become part of.
SeasonEdit movePhaseEdge(const Season& season, const Plan& plan, Date edge, Date to);
/// The taper whose first week begins on `edge` begins on `to` instead, 4 to 28 days before its race.
SeasonEdit moveTaper(const Season& season, const Plan& plan, Date edge, Date to);
/// A deload week goes to another week; the week it leaves builds.
SeasonEdit moveDeload(const Season& season, Date from, Date to);
/// A week carries so many points, races included: its hours are set to what that takes, in steps of three
/// minutes. Without a plan for the week nothing moves.
SeasonEdit setWeekHeight(const Season& season, const Plan& plan, Date week, double points);
SeasonEdit moveAway(const Season& season, int away, int days);
/// One end of days away, 1 to 1100 days long.
SeasonEdit stretchAway(const Season& season, int away, bool from, Date to);

} // namespace marram
