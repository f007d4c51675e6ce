// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/trend.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_cdf.h>

namespace marram {
namespace {

constexpr int plateauDays = 56, plateauResults = 5;
constexpr double plateauWithin = 1; // %
constexpr double falseNews = 0.05;  // over all markers looked at
const double ninety = gsl_cdf_ugaussian_Pinv(0.9);

} // namespace

/// Days from `from`, and the value on the scale it is looked at.
static std::vector<std::pair<double, double>> seenBetween(std::span<const TestPoint> points, Date from,
                                                          Date to, bool relative) {
    std::vector<std::pair<double, double>> seen;
    for (const TestPoint& p : points)
        if (p.day >= from && p.day <= to && (!relative || p.value > 0))
            seen.emplace_back(p.day - from, relative ? 100 * std::log(p.value) : p.value);
    return seen;
}

std::optional<Trend> trendOf(std::span<const TestPoint> points, Date from, Date to, const MarkerNoise& noise,
                             int looks) {
    const auto seen = seenBetween(points, from, to, noise.relative);
    const auto n = static_cast<double>(seen.size());
    if (seen.size() < 3)
        return std::nullopt;
    double meanX = 0, meanY = 0, xx = 0, xy = 0, squares = 0;
    for (const auto& [x, y] : seen) {
        meanX += x / n;
        meanY += y / n;
    }
    for (const auto& [x, y] : seen) {
        xx += (x - meanX) * (x - meanX);
        xy += (x - meanX) * (y - meanY);
    }
    if (xx <= 0)
        return std::nullopt;
    const double slope = xy / xx;
    for (const auto& [x, y] : seen)
        squares += std::pow(y - meanY - slope * (x - meanX), 2);
    const double own = std::sqrt(squares / std::max(1.0, n - 2));
    Trend t;
    t.count = static_cast<int>(n);
    t.noise = std::max(noise.usual, own);
    const double days = to - from, spread = days / std::sqrt(xx);
    const double change = slope * days;
    t.change = {change, change - ninety * t.noise * spread, change + ninety * t.noise * spread};
    const double sure = gsl_cdf_ugaussian_Pinv(1 - falseNews / 2 / std::max(1, looks));
    t.told = std::abs(change) > sure * t.noise * spread;
    const double tight = gsl_cdf_tdist_Pinv(0.9, std::max(1.0, n - 2)) * own * spread;
    t.own = {change, change - tight, change + tight};
    t.plateau = noise.relative && t.count >= plateauResults && days >= plateauDays - 1 &&
                change - tight > -plateauWithin && change + tight < plateauWithin;
    const auto line = [&](double x) {
        const double y = meanY + slope * (x - meanX);
        return noise.relative ? std::exp(y / 100) : y;
    };
    t.first = line(0);
    t.last = line(days);
    return t;
}

double halfBand(std::span<const int> daysBefore, int days, double noise) {
    double mean = 0, xx = 0;
    for (const int d : daysBefore)
        mean += static_cast<double>(d) / static_cast<double>(daysBefore.size());
    for (const int d : daysBefore)
        xx += (d - mean) * (d - mean);
    return xx > 0 ? ninety * noise * days / std::sqrt(xx) : 1e9;
}

} // namespace marram
