// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/monotony.h"

#include <cmath>

namespace marram {

WeekStrain strainOf(const std::array<double, 7>& daily) {
    WeekStrain w;
    for (const double s : daily)
        w.load += s;
    w.mean = w.load / 7;
    double squares = 0;
    for (const double s : daily)
        squares += (s - w.mean) * (s - w.mean);
    w.deviation = std::sqrt(squares / 6);
    if (w.deviation > 1e-9) {
        w.monotony = w.mean / w.deviation;
        w.strain = w.load * *w.monotony;
    }
    return w;
}

} // namespace marram
