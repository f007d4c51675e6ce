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

} // namespace marram
