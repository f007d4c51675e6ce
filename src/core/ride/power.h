// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include "core/rider/rider.h"
#include <array>
#include <span>

namespace marram {

/// Length of the trailing moving average behind equivalent power, in seconds.
inline constexpr int smoothingWindow = 30;

/// Equivalent power in watts: the fourth root of the mean fourth power of the full 30 s trailing windows
/// of every stretch, pooled. Stretches under 30 s are left out unless there is nothing else; then the
/// plain mean. Missing power inside a stretch counts as zero. NaN for no stretches at all.
/// One pass over the seconds.
double equivalentPower(std::span<const float> power, std::span<const Stretch> stretches);

/// Seconds counted on the one-second power of the recorded time.
struct TimeInIntensity {
    Bands bands;                   ///< s in each band
    std::array<double, 7> zones{}; ///< s in each zone
    double joules = 0;             ///< mechanical work
};

/// Counts every recorded second once; missing power counts as zero watts.
TimeInIntensity timeInIntensity(const Ride& ride, Watts threshold, double lowThreshold);

} // namespace marram
