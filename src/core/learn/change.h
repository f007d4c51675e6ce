// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/response.h"

namespace marram {

/// One effort of some length.
struct DatedEffort {
    Date day;
    int seconds = 0;
    double power = 0; ///< W
};

/// Best efforts of a duration before and from a day on, as if there had been equally many.
struct EffortChange {
    int seconds = 0;
    double before = 0, after = 0;          ///< W, mean of the best three of equal counts
    double percent = 0, low = 0, high = 0; ///< change with its 80 % band
    int beforeCount = 0, afterCount = 0;
};

/// The more efforts, the higher the best: so the mean of the three best of equal counts is compared, over
/// every thinning of the larger set at once (hypergeometric weights), the band by dealing the residuals anew.
/// Durations with under three efforts on a side are left out.
std::vector<EffortChange> learnChange(const std::vector<DatedEffort>& efforts, Date split,
                                      std::uint64_t seed = 1, int deals = 2000);

} // namespace marram
