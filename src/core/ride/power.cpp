// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/power.h"

#include <cmath>

namespace marram {
namespace {

double orZero(float power) {
    return std::isnan(power) ? 0.0 : static_cast<double>(power);
}

} // namespace

double equivalentPower(std::span<const float> power, std::span<const Stretch> stretches) {
    double fourth = 0, plain = 0;
    long windows = 0, seconds = 0;
    for (const Stretch& s : stretches) {
        double sum = 0;
        for (int t = s.begin; t < s.end; ++t) {
            const double now = orZero(power[static_cast<size_t>(t)]);
            plain += now;
            sum += now;
            if (t - s.begin >= smoothingWindow)
                sum -= orZero(power[static_cast<size_t>(t - smoothingWindow)]);
            if (t - s.begin + 1 >= smoothingWindow) {
                const double mean = sum / smoothingWindow;
                fourth += mean * mean * mean * mean;
                ++windows;
            }
        }
        seconds += s.length();
    }
    if (windows > 0)
        return std::sqrt(std::sqrt(fourth / static_cast<double>(windows)));
    return plain / static_cast<double>(seconds);
}

TimeInIntensity timeInIntensity(const Ride& ride, Watts threshold, double lowThreshold) {
    TimeInIntensity time;
    const double lowEdge = lowThreshold * threshold.value;
    std::array<double, 6> edges;
    for (size_t z = 0; z < edges.size(); ++z)
        edges[z] = zoneEdges[z] * threshold.value;
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t) {
            const double p = orZero(ride.power[static_cast<size_t>(t)]);
            time.joules += p;
            (p <= lowEdge ? time.bands.low : p <= threshold.value ? time.bands.middle : time.bands.high) += 1;
            size_t zone = 0;
            for (const double edge : edges)
                zone += p > edge ? 1 : 0;
            time.zones[zone] += 1;
        }
    return time;
}

} // namespace marram
