// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/corrections.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// The part of each stretch inside [begin, end), counted from begin.
std::vector<Stretch> within(const std::vector<Stretch>& all, int begin, int end) {
    std::vector<Stretch> kept;
    for (const Stretch& s : all) {
        const Stretch cut{std::max(s.begin, begin) - begin, std::min(s.end, end) - begin};
        if (cut.length() > 0)
            kept.push_back(cut);
    }
    return kept;
}

} // namespace

std::optional<Ride> corrected(Ride ride, const Corrections& c) {
    for (const Stretch& cut : c.powerCuts)
        for (int t = std::max(0, cut.begin); t < std::min(cut.end, ride.elapsed()); ++t) {
            float& power = ride.power[static_cast<size_t>(t)];
            if (std::isnan(power))
                continue;
            power = missing;
            ++ride.faults.powerMissing;
        }
    const int begin = std::max(0, c.trimStart), end = ride.elapsed() - std::max(0, c.trimEnd);
    if (begin >= end)
        return std::nullopt;
    if (begin == 0 && end == ride.elapsed())
        return ride;
    ride.stretches = within(ride.stretches, begin, end);
    if (ride.stretches.empty())
        return std::nullopt;
    ride.laps = within(ride.laps, begin, end);
    const auto base = std::find_if(ride.distance.begin() + begin, ride.distance.begin() + end,
                                   [](float d) { return std::isfinite(d); });
    const float from = base == ride.distance.begin() + end ? 0 : *base;
    for (auto* series : {&ride.power, &ride.heartRate, &ride.cadence, &ride.altitude, &ride.distance,
                         &ride.temperature, &ride.leftShare}) {
        series->resize(static_cast<size_t>(end));
        series->erase(series->begin(), series->begin() + begin);
    }
    for (float& d : ride.distance)
        d -= from;
    ride.start += begin;
    const auto finite = [](float v) { return std::isfinite(v); };
    ride.hasPower = std::any_of(ride.power.begin(), ride.power.end(), finite);
    ride.hasHeartRate = std::any_of(ride.heartRate.begin(), ride.heartRate.end(), finite);
    ride.faults.powerMissing = 0;
    if (ride.hasPower)
        for (const Stretch& s : ride.stretches)
            for (int t = s.begin; t < s.end; ++t)
                ride.faults.powerMissing += std::isnan(ride.power[static_cast<size_t>(t)]) ? 1 : 0;
    return ride;
}

std::vector<Stretch> findSpikes(const Ride& ride) {
    constexpr float possible = 700;
    constexpr int longest = 3, around = 5;
    std::vector<Stretch> spikes;
    const auto power = [&](int t) {
        const float p = t >= 0 && t < ride.elapsed() ? ride.power[static_cast<size_t>(t)] : missing;
        return std::isnan(p) ? 0.0F : p;
    };
    for (int t = 0; t < ride.elapsed(); ++t) {
        if (power(t) <= possible)
            continue;
        // The second, and those after it that are nearly as high.
        int end = t + 1;
        while (end - t <= longest && power(end) > power(t) / 2)
            ++end;
        if (end - t > longest)
            continue;
        float beside = 0;
        for (int k = 1; k <= around; ++k)
            beside = std::max({beside, power(t - k), power(end - 1 + k)});
        if (power(t) > 3 * beside) {
            spikes.push_back({t, end});
            t = end;
        }
    }
    return spikes;
}

} // namespace marram
