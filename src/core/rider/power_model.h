// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <span>
#include <vector>

namespace marram {

/// A maximal effort somebody confirmed: mean power in W over a duration in seconds. Efforts with the same
/// `occasion` (a ride, a day) may overlap.
struct MaximalPower {
    double seconds = 0, power = 0;
    long long occasion = 0;
};

/// A fitted value with its 95 % interval.
struct Fitted {
    double value = 0, low = 0, high = 0;
};

/// The two-parameter model P(t) = W′/t + CP, fitted to hard efforts.
struct CriticalPower {
    Fitted power;                   ///< CP, W
    Fitted work;                    ///< W′, J
    std::vector<MaximalPower> used; ///< efforts it rests on, in order of duration
    double scatter = 0;             ///< W, root mean square distance of the efforts from the curve
    Fitted expectedThreshold;       ///< W; see below
    /// Power the model gives for a duration in seconds.
    double at(double seconds) const { return work.value / seconds + power.value; }
};

/// Durations the model is fitted over, in seconds: 2 to 20 minutes (common practice).
inline constexpr double shortestModelled = 120, longestModelled = 1200;
/// Part of critical power that is held for about an hour (common practice, value from memory).
inline constexpr double thresholdOfCriticalPower = 0.96;

/// How much one maximal effort varies from day to day, as a part of its power (common practice, value from
/// memory). The intervals hold it, however well a few efforts happen to lie on the curve.
inline constexpr double effortNoise = 0.03;
/// What W′ can be, in J (common practice): beyond, the efforts were not what they were taken for.
inline constexpr double leastWork = 5000, mostWork = 40000;

/// Fits critical power and W′ by least squares over power relative to its noise (P is linear in 1/t). Of each
/// occasion only the longest effort counts, so that none holds another. 95 % intervals come from the noise of
/// single efforts, or from their scatter round the curve where that is larger. Refuses fewer than three
/// efforts of different length, efforts whose longest is under twice the shortest, and a fit whose W′ no
/// rider has – in a sentence that says which efforts would help. Source of the model: Monod & Scherrer 1965;
/// in this form Moritani et al. 1981 (from memory).
Result<CriticalPower> fitCriticalPower(std::span<const MaximalPower> efforts);

} // namespace marram
