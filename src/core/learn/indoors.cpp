// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/indoors.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_cdf.h>
#include <map>
#include <numeric>

namespace marram {

LearntValues::Indoors compareIndoors(const std::vector<RideFacts>& rides) {
    LearntValues::Indoors out;
    constexpr int span = 56;
    constexpr size_t enough = 3;
    std::map<int, std::array<std::vector<double>, 2>> spans;
    for (const RideFacts& r : rides) {
        if (r.indoors) {
            ++out.rides;
            out.hours += r.hours;
        }
        if (r.steadyPower > 0 && r.steadyBeats > 0)
            spans[r.day.days / span][r.indoors ? 1 : 0].push_back(std::log(r.steadyPower / r.steadyBeats));
    }
    double weight = 0, sum = 0, squares = 0;
    size_t degrees = 0;
    struct Pair {
        double difference, weight;
    };
    std::vector<Pair> pairs;
    for (const auto& [at, both] : spans) {
        if (both[0].size() < enough || both[1].size() < enough)
            continue;
        std::array<double, 2> means{};
        for (size_t side = 0; side < 2; ++side) {
            const auto n = static_cast<double>(both[side].size());
            means[side] = std::accumulate(both[side].begin(), both[side].end(), 0.0) / n;
            for (const double v : both[side])
                squares += std::pow(v - means[side], 2);
            degrees += both[side].size() - 1;
        }
        const double w =
            1 / (1 / static_cast<double>(both[0].size()) + 1 / static_cast<double>(both[1].size()));
        pairs.push_back({means[1] - means[0], w});
        weight += w;
        sum += w * pairs.back().difference;
    }
    out.weeks = static_cast<int>(pairs.size());
    if (pairs.empty())
        return out;
    const double mean = sum / weight;
    double variance = squares / static_cast<double>(degrees) / weight;
    // Where the spans differ by more than their rides do, that is what is not known.
    if (pairs.size() > 1) {
        double between = 0;
        for (const Pair& p : pairs)
            between += p.weight * std::pow(p.difference - mean, 2);
        variance = std::max(variance, between / weight / static_cast<double>(pairs.size() - 1));
    }
    const double half = gsl_cdf_tdist_Pinv(0.9, static_cast<double>(degrees)) * std::sqrt(variance);
    out.percent = 100 * (std::exp(mean) - 1);
    out.low = 100 * (std::exp(mean - half) - 1);
    out.high = 100 * (std::exp(mean + half) - 1);
    return out;
}

} // namespace marram
