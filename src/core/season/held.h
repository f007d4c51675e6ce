// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/frame.h"

/// What sessions hold of a season's split (docs/model.md).
namespace marram {

/// What a week's days hold over the low band, in hours.
struct Room {
    double high = 0;       ///< of high work, on its hard days
    double sets = 0;       ///< of any work, on its hard days
    double tempo = 0;      ///< on two easy days, late in the long ride, and in the warm-up of sets
    double besideTest = 0; ///< of that tempo, on days beside a test: it is not ridden (docs/model.md)
    double warmUp = 0;     ///< of tempo in the warm-ups of sets, which is there whatever is wanted
    bool eased = false;    ///< before a race: intensity is kept, at the cost of the middle

    /// What of some high and middle time it holds: high work first, but where both are wanted it leaves the
    /// middle a third of the sets (not before a race).
    Bands of(double wantedHigh, double wantedMiddle) const;
};

/// The room of a week by the roles of its days and the hours ridden on them.
Room roomOf(const Season& season, const SeasonFrame& frame, const WeekFrame& week,
            const std::array<Role, 7>& roles, const std::array<double, 7>& rides);

} // namespace marram
