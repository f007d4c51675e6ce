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

/// 0 low, 1 middle, 2 high: the band a power lies in.
int bandOf(double power, Watts threshold, double lowThreshold) {
    return power <= lowThreshold * threshold.value ? 0 : power <= threshold.value ? 1 : 2;
}

std::vector<Set> setsOf(const Efforts& efforts, Watts threshold, double lowThreshold) {
    const auto band = [&](const Effort& e) {
        return bandOf(e.figures.meanPower.value_or(0), threshold, lowThreshold);
    };
    std::vector<Set> sets;
    int lastLength = 0, lastBand = 0;
    for (size_t i = 0; i < efforts.all.size(); ++i) {
        const Effort& e = efforts.all[i];
        // An easier effort that runs into a harder one is its lead-in, and no repetition.
        const bool leadIn = i + 1 < efforts.all.size() && efforts.all[i + 1].span.begin - e.span.end <= 1 &&
                            band(e) < band(efforts.all[i + 1]);
        if (band(e) == 0 || leadIn)
            continue;
        const int length = e.span.length();
        const int rest = sets.empty() ? 0 : e.span.begin - sets.back().span.end;
        // Repetitions of one set are work of one kind.
        if (sets.empty() || band(e) != lastBand ||
            rest > std::min(longestRest, 2 * std::max(lastLength, length)))
            sets.push_back({{e.span.begin, e.span.begin}});
        Set& set = sets.back();
        set.span.end = e.span.end;
        set.work += e.figures.meanPower.value_or(0) * length;
        set.seconds += length;
        lastLength = length;
        lastBand = band(e);
    }
    return sets;
}

} // namespace

std::optional<Bands> timeByPurpose(const Ride& ride, Watts threshold, double lowThreshold) {
    return timeByPurpose(ride, findEfforts(ride, threshold), threshold, lowThreshold);
}

std::optional<Bands> timeByPurpose(const Ride& ride, const Efforts& efforts, Watts threshold,
                                   double lowThreshold) {
    if (!ride.hasPower || threshold.value <= 0)
        return std::nullopt;
    Bands seconds;
    const auto band = [&](double power) -> double& {
        const int b = bandOf(power, threshold, lowThreshold);
        return b == 0 ? seconds.low : b == 1 ? seconds.middle : seconds.high;
    };
    const auto sets = setsOf(efforts, threshold, lowThreshold);
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
