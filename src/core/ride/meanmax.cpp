// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/meanmax.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Where the largest difference over `window` begins. Two steps: the largest value (which the compiler
/// vectorises), then its place.
template <class Sum>
std::pair<Sum, int> bestWindow(const std::vector<Sum>& sums, int window) {
    const int count = static_cast<int>(sums.size()) - window;
    const Sum* head = sums.data() + window;
    const Sum* tail = sums.data();
    Sum best = head[0] - tail[0];
    for (int i = 1; i < count; ++i) {
        const Sum difference = head[i] - tail[i];
        best = difference > best ? difference : best;
    }
    int at = 0;
    while (head[at] - tail[at] != best)
        ++at;
    return {best, at};
}

template <class Sum>
std::vector<BestEffort> search(const Ride& ride, std::span<const int> durations) {
    std::vector<Sum> sums(ride.power.size() + 1, 0);
    for (size_t t = 0; t < ride.power.size(); ++t) {
        const float p = ride.power[t];
        sums[t + 1] = sums[t] + (std::isnan(p) ? Sum(0) : static_cast<Sum>(p));
    }
    std::vector<BestEffort> curve;
    curve.reserve(durations.size());
    for (const int seconds : durations) {
        const auto [best, at] = bestWindow(sums, seconds);
        curve.push_back({seconds, static_cast<double>(best) / seconds, at});
    }
    return curve;
}

/// Devices record whole watts, and sums of whole watts stay exact in 32 bits for any ride this side of nine
/// days at the sensor's limit; such sums are searched twice as fast.
bool wholeWatts(const Ride& ride) {
    return std::all_of(ride.power.begin(), ride.power.end(),
                       [](float p) { return std::isnan(p) || p == std::trunc(p); });
}

} // namespace

std::vector<int> curveDurations(int elapsed) {
    std::vector<int> durations;
    for (int s = 1; s <= std::min(120, elapsed); ++s)
        durations.push_back(s);
    constexpr double perDecade = 32;
    for (int k = 1; !durations.empty() && durations.back() < elapsed; ++k) {
        const int next = static_cast<int>(std::lround(120 * std::pow(10.0, k / perDecade)));
        durations.push_back(std::min(next, elapsed));
    }
    return durations;
}

std::vector<BestEffort> meanMax(const Ride& ride, std::span<const int> durations) {
    if (!ride.hasPower)
        return {};
    return wholeWatts(ride) ? search<std::int32_t>(ride, durations) : search<double>(ride, durations);
}

std::vector<BestEffort> meanMaxCurve(const Ride& ride) {
    const std::vector<int> durations = curveDurations(ride.elapsed());
    return meanMax(ride, durations);
}

} // namespace marram
