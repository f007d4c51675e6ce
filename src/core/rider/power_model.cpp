// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/power_model.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_fit.h>
#include <map>
#include <set>

namespace marram {
namespace {

/// One effort for each occasion, in order of duration.
std::vector<MaximalPower> separate(std::span<const MaximalPower> efforts) {
    std::map<long long, MaximalPower> longest;
    for (const MaximalPower& e : efforts) {
        if (e.seconds < shortestModelled || e.seconds > longestModelled || !(e.power > 0))
            continue;
        MaximalPower& kept = longest[e.occasion];
        if (e.seconds > kept.seconds)
            kept = e;
    }
    std::vector<MaximalPower> all;
    all.reserve(longest.size());
    for (const auto& [occasion, effort] : longest)
        all.push_back(effort);
    std::sort(all.begin(), all.end(),
              [](const MaximalPower& a, const MaximalPower& b) { return a.seconds < b.seconds; });
    return all;
}

} // namespace

Result<CriticalPower> fitCriticalPower(std::span<const MaximalPower> efforts) {
    CriticalPower fit;
    fit.used = separate(efforts);
    std::set<double> lengths;
    for (const MaximalPower& e : fit.used)
        lengths.insert(e.seconds);
    if (lengths.size() < 3)
        return refuse(
            phrase("Critical power needs three maximal efforts of different length between 2 and 20 minutes, "
                   "each on an occasion of its own and confirmed by you; there %1. Tests of 5 and 20 "
                   "minutes, climbs and maximal efforts count once they are accepted.",
                   (lengths.empty()       ? phrase("are none")
                    : lengths.size() == 1 ? phrase("is one")
                                          : phrase("are two"))));
    if (fit.used.back().seconds < 2 * fit.used.front().seconds)
        return refuse(
            phrase("The efforts are too alike in length for critical power: the longest should last at "
                   "least twice the shortest, say 3, 6 and 12 minutes."));
    std::vector<double> inverse, power, weight;
    for (const MaximalPower& e : fit.used) {
        inverse.push_back(1 / e.seconds);
        power.push_back(e.power);
        weight.push_back(1 / (effortNoise * e.power * effortNoise * e.power));
    }
    double cov00 = 0, cov01 = 0, cov11 = 0, chiSquared = 0;
    gsl_fit_wlinear(inverse.data(), 1, weight.data(), 1, power.data(), 1, power.size(), &fit.power.value,
                    &fit.work.value, &cov00, &cov01, &cov11, &chiSquared);
    if (fit.work.value < leastWork || fit.work.value > mostWork || fit.power.value <= 0)
        return refuse(
            phrase("These efforts would give a W′ of %1 kJ, which no rider has (5 to 40 kJ): at least one "
                   "was not ridden all out, or not fresh. Ride the shortest and the longest again.",
                   std::to_string(std::lround(fit.work.value / 1000))));
    // Efforts that scatter more than single ones should say so.
    const double excess = std::max(1.0, chiSquared / (static_cast<double>(power.size()) - 2));
    constexpr double normal = 1.959964; // 97.5 % of a normal distribution
    const auto widen = [&](Fitted& f, double variance) {
        const double half = normal * std::sqrt(variance * excess);
        f.low = f.value - half;
        f.high = f.value + half;
    };
    widen(fit.power, cov00);
    widen(fit.work, cov11);
    double squares = 0;
    for (const MaximalPower& e : fit.used)
        squares += (e.power - fit.at(e.seconds)) * (e.power - fit.at(e.seconds));
    fit.scatter = std::sqrt(squares / static_cast<double>(power.size()));
    const double part = thresholdOfCriticalPower;
    fit.expectedThreshold = {part * fit.power.value, part * fit.power.low, part * fit.power.high};
    return fit;
}

} // namespace marram
