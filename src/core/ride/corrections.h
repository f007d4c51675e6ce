// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"

namespace marram {

/// What a coach set right on a ride. The recording itself is never changed: corrections are applied to it
/// whenever it is read. Seconds count from the first second of the recording.
struct Corrections {
    int trimStart = 0;              ///< seconds cut from the start
    int trimEnd = 0;                ///< seconds cut from the end
    std::vector<Stretch> powerCuts; ///< where power is not to be believed: counts as missing there
    bool empty() const { return trimStart == 0 && trimEnd == 0 && powerCuts.empty(); }
    bool operator==(const Corrections&) const = default;
};

/// The ride as corrected. Nothing where a trim leaves no recorded second.
std::optional<Ride> corrected(Ride ride, const Corrections& corrections);

/// Seconds whose power stands out, worth a look before anything is cut: over 700 W and over three times the
/// highest of the five seconds before and after, for at most three seconds together. Each found stretch is
/// one spike.
std::vector<Stretch> findSpikes(const Ride& ride);

} // namespace marram
