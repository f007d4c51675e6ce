// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/efforts.h"
#include "core/ride/meanmax.h"
#include "core/rider/protocol.h"

namespace marram {

/// A test that a ride looks to hold. Only the coach says whether it was one.
struct Recognised {
    TestResult result;
    Stretch span;    ///< of the effort, or of the fresh one
    std::string why; ///< one sentence
};

/// Looks for tests in a ride: an even maximal 20 minutes or hour at 103 % of threshold or more, a ramp that
/// climbs minute by minute until it breaks, all-out 5 s to 5 min efforts, a steady hour near 75 % of
/// threshold, two like efforts of 8–20 min with at least 1000 kJ between. `threshold` is what held on the
/// day; `bestBefore` are the rider's earlier bests, which a sprint or five minutes must come within 3 % of.
/// The limits: common practice where the protocol states them, else our own.
std::vector<Recognised> recogniseTests(const Ride& ride, Date day, Watts threshold,
                                       std::span<const BestEffort> bestBefore);

} // namespace marram
