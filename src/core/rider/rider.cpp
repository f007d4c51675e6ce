// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/rider.h"

#include <algorithm>

namespace marram {

const Threshold* thresholdOn(const std::vector<Threshold>& history, Date day) {
    if (history.empty())
        return nullptr;
    const auto after = std::upper_bound(history.begin(), history.end(), day,
                                        [](Date d, const Threshold& t) { return d < t.from; });
    return after == history.begin() ? &history.front() : &*(after - 1);
}

int zoneOf(Watts power, Watts threshold) {
    const auto edge = std::find_if(zoneEdges.begin(), zoneEdges.end(),
                                   [&](double e) { return power.value <= e * threshold.value; });
    return static_cast<int>(edge - zoneEdges.begin());
}

Bands stressPerHour(double lowThreshold) {
    const auto points = [](double intensity) { return 100.0 * intensity * intensity; };
    return {points(0.845 * lowThreshold), points(lowThreshold + (1.0 - lowThreshold) / 3.0),
            points(1.0 + (zoneEdges[4] - 1.0) / 8.0)};
}

double stressPerHour(const Bands& split, double lowThreshold) {
    const Bands each = stressPerHour(lowThreshold);
    return split.low * each.low + split.middle * each.middle + split.high * each.high;
}

} // namespace marram
