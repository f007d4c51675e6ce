// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/reserve.h"

#include <algorithm>
#include <cmath>

namespace marram {

double reserveAfter(double left, double wPrime, double criticalPower, double watts, double seconds) {
    if (watts >= criticalPower)
        return left - (watts - criticalPower) * seconds;
    return wPrime - (wPrime - left) * std::exp(-(criticalPower - watts) * seconds / wPrime);
}

double leastReserve(const Session& session, double thresholdPower, double criticalPower, double wPrime) {
    double left = wPrime, least = wPrime;
    for (const UnfoldedStep& s : figuresOf(session).steps) {
        // A ramp in ten parts, each at its mean.
        const int parts = s.step.from == s.step.to || s.step.kind != TargetKind::Power ? 1 : 10;
        for (int i = 0; i < parts; ++i) {
            const double watts = thresholdPower * targetAt(s.step, (i + 0.5) / parts);
            left = reserveAfter(left, wPrime, criticalPower, watts, 1.0 * s.step.seconds / parts);
            least = std::min(least, left);
        }
    }
    return least / wPrime;
}

Bent bendToReserve(const Session& session, double thresholdPower, double criticalPower, double wPrime,
                   double least) {
    constexpr int most = 40; ///< points; a target of 140 % is at critical power by then
    Bent bent{session, 0};
    while (bent.points < most && leastReserve(bent.session, thresholdPower, criticalPower, wPrime) < least) {
        ++bent.points;
        bent.session = withPowerMoved(session, -bent.points, criticalPower / thresholdPower);
    }
    // Where it is the all-out parts that empty it, lower targets are no help.
    return bent.points < most ? bent : Bent{session, 0};
}

} // namespace marram
