// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/scale.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_cdf.h>

namespace marram {
namespace {

double medianOf(std::vector<double>& values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1)
        return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

/// One ride measured both ways.
struct Both {
    double ratio = 0; ///< true over unscaled
    bool uneven = false;
};

ScaleError errorOf(const std::vector<Both>& rides, double middle, std::optional<bool> uneven) {
    std::vector<double> distances;
    for (const Both& r : rides)
        if (!uneven || r.uneven == *uneven)
            distances.push_back(std::abs(std::log(r.ratio) - middle));
    if (distances.size() < 2)
        return {0, static_cast<int>(distances.size())};
    constexpr double toDeviation = 1.4826; // of a normal distribution
    return {toDeviation * medianOf(distances), static_cast<int>(distances.size())};
}

std::optional<LearnedScale> learn(const std::vector<Both>& rides) {
    if (static_cast<int>(rides.size()) < ridesForScale)
        return std::nullopt;
    std::vector<double> logs;
    logs.reserve(rides.size());
    for (const Both& r : rides)
        logs.push_back(std::log(r.ratio));
    const double middle = medianOf(logs);
    return LearnedScale{std::exp(middle), errorOf(rides, middle, std::nullopt), errorOf(rides, middle, false),
                        errorOf(rides, middle, true), static_cast<int>(rides.size())};
}

} // namespace

std::optional<double> predictedError(const ScaleError& e) {
    if (e.rides < ridesForError)
        return std::nullopt;
    const double t = gsl_cdf_tdist_Pinv(0.95, e.rides - 1.0);
    return std::expm1(t * e.deviation * std::sqrt(1 + 1.0 / e.rides));
}

static bool powered(const Score& s) {
    return s.method == StressMethod::Power && s.stress && *s.stress > 1;
}

Scales learnScales(std::span<const Score> rides) {
    Scales scales;
    std::vector<Both> beats, effort;
    for (const Score& s : rides)
        if (s.duration >= shortestForScale && powered(s) && s.heartRateStress && *s.heartRateStress > 1)
            beats.push_back({*s.stress / *s.heartRateStress, s.shortIntervals});
    scales.heartRate = learn(beats);
    const double factor = scales.heartRate ? scales.heartRate->factor : 1;
    for (const Score& s : rides) {
        if (s.duration < shortestForScale || !s.effort || *s.effort <= 0)
            continue;
        const double minutes = s.duration / 60.0;
        if (powered(s))
            effort.push_back({*s.stress / (*s.effort * minutes), s.shortIntervals});
        else if (s.heartRateStress && *s.heartRateStress > 1)
            effort.push_back({factor * *s.heartRateStress / (*s.effort * minutes), s.shortIntervals});
    }
    scales.effort = learn(effort);
    return scales;
}

ScoringBasis withScales(ScoringBasis basis, const Scales& scales) {
    basis.heartRateScale = scales.heartRate ? scales.heartRate->factor : 1;
    basis.effortScale = scales.effort ? scales.effort->factor : defaultEffortScale;
    return basis;
}

} // namespace marram
