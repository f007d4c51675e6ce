// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/purpose.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

struct Set {
    Stretch span;
    double work = 0; ///< J of its efforts
    int seconds = 0; ///< of its efforts
};

std::vector<Set> setsOf(const Ride& ride, Watts threshold, double lowThreshold) {
    std::vector<Set> sets;
    int lastLength = 0;
    for (const Effort& e : findEfforts(ride, threshold).all) {
        const double power = e.figures.meanPower.value_or(0);
        const int length = e.span.length();
        if (power <= lowThreshold * threshold.value)
            continue;
        const int rest = sets.empty() ? 0 : e.span.begin - sets.back().span.end;
        if (sets.empty() || rest > std::min(longestRest, 2 * std::max(lastLength, length)))
            sets.push_back({{e.span.begin, e.span.begin}});
        Set& set = sets.back();
        set.span.end = e.span.end;
        set.work += power * length;
        set.seconds += length;
        lastLength = length;
    }
    return sets;
}

} // namespace

std::optional<Bands> timeByPurpose(const Ride& ride, Watts threshold, double lowThreshold) {
    if (!ride.hasPower || threshold.value <= 0)
        return std::nullopt;
    const double lowEdge = lowThreshold * threshold.value;
    Bands seconds;
    const auto band = [&](double power) -> double& {
        return power <= lowEdge ? seconds.low : power <= threshold.value ? seconds.middle : seconds.high;
    };
    const auto sets = setsOf(ride, threshold, lowThreshold);
    auto set = sets.begin();
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t) {
            while (set != sets.end() && t >= set->span.end)
                ++set;
            const float now = ride.power[static_cast<size_t>(t)];
            const bool inside = set != sets.end() && t >= set->span.begin;
            band(inside ? set->work / set->seconds : std::isnan(now) ? 0.0 : static_cast<double>(now)) += 1;
        }
    return seconds;
}

} // namespace marram
