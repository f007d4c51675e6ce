// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/scale.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

double medianOf(std::vector<double>& values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1)
        return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

std::optional<LearnedScale> learn(std::vector<double> ratios) {
    if (static_cast<int>(ratios.size()) < ridesForScale)
        return std::nullopt;
    for (double& r : ratios)
        r = std::log(r);
    const double middle = medianOf(ratios);
    for (double& r : ratios)
        r = std::abs(r - middle);
    constexpr double toDeviation = 1.4826; // of a normal distribution
    return LearnedScale{std::exp(middle), std::expm1(toDeviation * medianOf(ratios)),
                        static_cast<int>(ratios.size())};
}

} // namespace

Scales learnScales(std::span<const Score> rides) {
    Scales scales;
    std::vector<double> beats, effort;
    const auto powered = [](const Score& s) {
        return s.method == StressMethod::Power && s.stress && *s.stress > 1;
    };
    for (const Score& s : rides)
        if (s.duration >= shortestForScale && powered(s) && s.heartRateStress && *s.heartRateStress > 1)
            beats.push_back(*s.stress / *s.heartRateStress);
    scales.heartRate = learn(std::move(beats));
    const double factor = scales.heartRate ? scales.heartRate->factor : 1;
    for (const Score& s : rides) {
        if (s.duration < shortestForScale || !s.effort || *s.effort <= 0)
            continue;
        const double minutes = s.duration / 60.0;
        if (powered(s))
            effort.push_back(*s.stress / (*s.effort * minutes));
        else if (s.heartRateStress && *s.heartRateStress > 1)
            effort.push_back(factor * *s.heartRateStress / (*s.effort * minutes));
    }
    scales.effort = learn(std::move(effort));
    return scales;
}

ScoringBasis withScales(ScoringBasis basis, const Scales& scales) {
    basis.heartRateScale = scales.heartRate ? scales.heartRate->factor : 1;
    basis.effortScale = scales.effort ? scales.effort->factor : defaultEffortScale;
    return basis;
}

} // namespace marram
