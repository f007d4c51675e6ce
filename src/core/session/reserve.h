// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"

namespace marram {

/// Joules of W′ left after `seconds` at `watts`, from `left` of a reserve `wPrime` with critical power
/// `criticalPower`: above it the reserve is spent second by second, below it comes back the slower the fuller
/// it is, (1 − left/W′)(CP − P) a second. Source: Skiba et al. 2015.
double reserveAfter(double left, double wPrime, double criticalPower, double watts, double seconds);

/// The least that is left during a session, as a fraction of W′ (negative where it asks for more than there
/// is), its targets being fractions of `thresholdPower`.
double leastReserve(const Session& session, double thresholdPower, double criticalPower, double wPrime);

/// A session whose targets over critical power are lowered together, a point of threshold at a time and no
/// further than to critical power, until it leaves at least `least` of W′; and by how many points. What is
/// all out or by effort stays as it is.
struct Bent {
    Session session;
    int points = 0;
};
Bent bendToReserve(const Session& session, double thresholdPower, double criticalPower, double wPrime,
                   double least = 0.1);

} // namespace marram
