// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/choose.h"
#include <functional>

namespace marram {

/// Rungs ridden last, 0 the first; -1 for none.
struct RungsBefore {
    int sprints = -1, drills = -1;
};

/// Sprints on the first easy day of a block, fresh, where the race asks for them, and drills in an easy ride
/// of base: beside the hard days, where the block has fewer than four families (common practice). Weeks that
/// stay as they are get none.
void placeAlongside(std::vector<WeekChoice>& all, const std::vector<WeekProblem>& weeks,
                    const BlockBasis& basis, double lowThreshold, const RungsBefore& before,
                    const std::function<bool(size_t)>& stays);

} // namespace marram
