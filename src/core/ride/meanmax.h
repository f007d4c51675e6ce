// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include <span>

namespace marram {

/// The best mean power over a duration, and where in the ride it was.
struct BestEffort {
    int seconds = 0;  ///< duration
    double power = 0; ///< W
    int start = 0;    ///< second of the ride at which it began
};

/// Durations of a curve for a ride of `elapsed` seconds: every second to 120 s, then at least 30 a decade
/// evenly on a logarithmic scale, ending at the ride's length.
std::vector<int> curveDurations(int elapsed);

/// Mean-max power over each duration (ascending, each between 1 and the ride's length), over elapsed time:
/// a stop or a missing value counts as zero watts. Empty for a ride without power.
/// Cost: one pass over the ride for each duration.
std::vector<BestEffort> meanMax(const Ride& ride, std::span<const int> durations);

/// The curve over curveDurations.
std::vector<BestEffort> meanMaxCurve(const Ride& ride);

} // namespace marram
