// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/physiology.h"

#include <algorithm>

namespace marram {

double expectedMaxHeartRate(double age) {
    return 208 - 0.7 * age;
}

double oxygenUptake(double wattsPerKg) {
    return 10.8 * wattsPerKg + 7;
}

double aerobicPowerLeft(double km, bool acclimatised) {
    const double x = std::clamp(km, 0.0, 4.0);
    const double percent =
        acclimatised ? -1.12 * x * x - 1.90 * x + 99.9 : 0.178 * x * x * x - 1.43 * x * x - 4.07 * x + 100;
    return percent / 100;
}

} // namespace marram
