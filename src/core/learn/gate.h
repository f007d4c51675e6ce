// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/response.h"
#include <optional>

namespace marram {

/// A result of a race or test with the form of its morning.
struct FormResult {
    double form = 0, percent = 0;  ///< per cent of what was usual then
    std::optional<double> fitness; ///< of that morning
};

/// The form a rider is best at, as far as the record says.
struct LearntGate {
    Banded optimum;        ///< posterior mean and 80 % band
    double widthRatio = 1; ///< of the band to the prior's
    bool yours = false;    ///< the band is under 0.6 of the prior's
    struct Density {
        double form = 0, prior = 0, posterior = 0; ///< a point
    };
    std::vector<Density> density; ///< every half point of form
    std::string why;
};
/// Prior of the best form, points: N(12, 9²).
inline constexpr double bestFormPrior = 12, bestFormSpread = 9, yoursUnder = 0.6;

/// p = top − c·(form − best)² with c lognormal around 0.6 % at 10 points, results at 2 %, and fitness as a
/// second term where every result has one. Refuses no results.
Result<LearntGate> learnGate(const std::vector<FormResult>& results);

} // namespace marram
