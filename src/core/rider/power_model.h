// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <span>
#include <vector>

namespace marram {

/// A hard effort: mean power in W over a duration in seconds.
struct PowerPoint {
    double seconds = 0, power = 0;
};

/// A fitted value with its 95 % interval.
struct Fitted {
    double value = 0, low = 0, high = 0;
};

/// The two-parameter model P(t) = W′/t + CP, fitted to hard efforts.
struct CriticalPower {
    Fitted power;                 ///< CP, W
    Fitted work;                  ///< W′, J
    std::vector<PowerPoint> used; ///< efforts it rests on, in order of duration
    double scatter = 0;           ///< W, root mean square distance of the efforts from the curve
    double expectedThreshold = 0; ///< W; see below
    /// Power the model gives for a duration in seconds.
    double at(double seconds) const { return work.value / seconds + power.value; }
};

/// Durations the model is fitted over, in seconds: 2 to 20 minutes (common practice).
inline constexpr double shortestModelled = 120, longestModelled = 1200;
/// Part of critical power that is held for about an hour (common practice, value from memory).
inline constexpr double thresholdOfCriticalPower = 0.96;

/// Fits critical power and W′ by least squares over power (P is linear in 1/t), with intervals from
/// Student's t distribution. Takes the best effort of each duration between 2 and 20 minutes. Refuses fewer
/// than three durations, efforts whose longest is under twice the shortest, and a fit without a positive
/// critical power and W′ – in a sentence that says which efforts would help.
/// Source of the model: Monod & Scherrer 1965; in this form Moritani et al. 1981 (from memory).
Result<CriticalPower> fitCriticalPower(std::span<const PowerPoint> efforts);

} // namespace marram
