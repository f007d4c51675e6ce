// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/change.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace marram {
namespace {

constexpr size_t bestOf = 3;

double logChoose(double n, double k) {
    return std::lgamma(n + 1) - std::lgamma(k + 1) - std::lgamma(n - k + 1);
}

/// Weights of sorted values (largest first) in the mean of the three best of a random choice of `count` of
/// them.
std::vector<double> weights(size_t all, size_t count) {
    std::vector<double> w(all, 0);
    for (size_t i = 0; i < all; ++i)
        for (size_t r = 1; r <= bestOf; ++r) {
            // The i-th largest is the r-th of the choice: r − 1 of those above it, the others from below.
            const auto above = static_cast<double>(i), below = static_cast<double>(all - i - 1);
            const auto before = static_cast<double>(r - 1),
                       after = static_cast<double>(count) - static_cast<double>(r);
            if (before > above || after > below || after < 0)
                continue;
            w[i] += std::exp(logChoose(above, before) + logChoose(below, after) -
                             logChoose(static_cast<double>(all), static_cast<double>(count))) /
                    static_cast<double>(bestOf);
        }
    return w;
}

double bestMean(std::vector<double> values, const std::vector<double>& w) {
    std::sort(values.begin(), values.end(), std::greater<>());
    double sum = 0;
    for (size_t i = 0; i < values.size(); ++i)
        sum += w[i] * values[i];
    return sum;
}

double meanOf(const std::vector<double>& values) {
    double sum = 0;
    for (const double v : values)
        sum += v;
    return sum / static_cast<double>(values.size());
}

} // namespace

std::vector<EffortChange> learnChange(const std::vector<DatedEffort>& efforts, Date split, std::uint64_t seed,
                                      int deals) {
    std::map<int, std::pair<std::vector<double>, std::vector<double>>> by;
    for (const DatedEffort& e : efforts)
        (e.day < split ? by[e.seconds].first : by[e.seconds].second).push_back(e.power);
    std::vector<EffortChange> all;
    std::mt19937_64 dice(seed);
    for (const auto& [seconds, sides] : by) {
        const auto& [before, after] = sides;
        if (before.size() < bestOf || after.size() < bestOf)
            continue;
        const size_t count = std::min(before.size(), after.size());
        const auto wBefore = weights(before.size(), count), wAfter = weights(after.size(), count);
        EffortChange c;
        c.seconds = seconds;
        c.beforeCount = static_cast<int>(before.size());
        c.afterCount = static_cast<int>(after.size());
        c.before = bestMean(before, wBefore);
        c.after = bestMean(after, wAfter);
        c.percent = 100 * (c.after / c.before - 1);
        // Residuals of both sides, of the size they would have without the mean taken from them.
        const double meanBefore = meanOf(before), meanAfter = meanOf(after);
        std::vector<double> residuals;
        for (const auto* side : {&before, &after}) {
            const double mean = side == &before ? meanBefore : meanAfter;
            const double n = static_cast<double>(side->size());
            for (const double v : *side)
                residuals.push_back((v / mean - 1) * std::sqrt(n / (n - 1)));
        }
        std::vector<double> off;
        for (int deal = 0; deal < deals; ++deal) {
            const auto dealt = [&](size_t n) {
                std::vector<double> side;
                for (size_t i = 0; i < n; ++i)
                    side.push_back(1 + residuals[dice() % residuals.size()]);
                return side;
            };
            off.push_back(
                100 * (bestMean(dealt(after.size()), wAfter) / bestMean(dealt(before.size()), wBefore) - 1));
        }
        std::sort(off.begin(), off.end());
        const double centre = off[off.size() / 2];
        c.low = c.percent - (off[static_cast<size_t>(0.9 * deals)] - centre);
        c.high = c.percent - (off[static_cast<size_t>(0.1 * deals)] - centre);
        all.push_back(c);
    }
    return all;
}

} // namespace marram
