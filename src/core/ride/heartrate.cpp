// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/heartrate.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {

double impulsePerMinute(double x, Sex sex) {
    x = std::max(0.0, x);
    const double male = x * 0.64 * std::exp(1.92 * x);
    const double female = x * 0.86 * std::exp(1.67 * x);
    return sex == Sex::Male ? male : sex == Sex::Female ? female : (male + female) / 2;
}

double trainingImpulse(const Ride& ride, const HeartRateRange& range) {
    const double reserve = range.max.value - range.rest.value;
    // Heart rates are nearly always whole beats: each is weighed once.
    std::array<double, 256> whole;
    for (size_t b = 0; b < whole.size(); ++b)
        whole[b] = impulsePerMinute((static_cast<double>(b) - range.rest.value) / reserve, range.sex);
    double sum = 0;
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t) {
            const float beats = ride.heartRate[static_cast<size_t>(t)];
            if (std::isnan(beats))
                continue;
            const auto index = static_cast<size_t>(beats);
            sum +=
                static_cast<float>(index) == beats
                    ? whole[index]
                    : impulsePerMinute((static_cast<double>(beats) - range.rest.value) / reserve, range.sex);
        }
    return sum / 60.0;
}

std::array<double, 5> timeInHeartRateZones(const Ride& ride, const HeartRateRange& range) {
    const auto edges = heartRateZoneEdges(range);
    std::array<double, 5> seconds{};
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t) {
            const float beats = ride.heartRate[static_cast<size_t>(t)];
            if (std::isnan(beats))
                continue;
            size_t zone = 0;
            for (size_t z = 0; z < 4; ++z)
                zone += static_cast<double>(beats) > edges[z] ? 1 : 0;
            seconds[zone] += 1;
        }
    return seconds;
}

double stressFromImpulse(double impulse, const HeartRateRange& range) {
    const double x = (range.threshold.value - range.rest.value) / (range.max.value - range.rest.value);
    return 100.0 * impulse / (60.0 * impulsePerMinute(x, range.sex));
}

} // namespace marram
