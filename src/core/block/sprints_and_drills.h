// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/choosing.h"
#include <functional>

namespace marram {

/// Sprints on the first easy day of a block, fresh, where the race asks for them, and drills in an easy ride
/// of base: beside the hard days, where the block has fewer than four families (common practice). Weeks that
/// stay as they are get none. `sprints` and `drills` are where the rider stands in them before the first
/// week.
void placeSprintsAndDrills(std::vector<WeekChoice>& all, const std::vector<WeekProblem>& weeks,
                           const BlockBasis& basis, double lowThreshold, LadderStanding sprints,
                           LadderStanding drills, const std::function<bool(size_t)>& stays);

} // namespace marram
