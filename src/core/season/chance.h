// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/load.h"
#include <algorithm>
#include <cmath>

/// Misses of training days as a chain of two states: in runs of mean length r a day is missed with q, given
/// the day before was missed with 1 − 1/r, given it was ridden with q/(r(1−q)); correlation ρ = 1 −
/// 1/(r(1−q)) a day.
namespace marram {

/// The shortest mean run there is: of independent misses.
inline double independentRun(double miss) {
    return 1 / (1 - std::min(miss, 0.999));
}
inline double runCorrelation(double miss, double run) {
    return 1 - 1 / (std::max(run, independentRun(miss)) * (1 - std::min(miss, 0.999)));
}

/// Fitness and form as they come, day after day, where days may be missed: means and standard deviations.
/// With w a day's weight on a morning the variance is q(1−q)·ΣΣ w_i s_i w_j s_j ρ^|i−j|, carried from day to
/// day.
class ComingForm {
public:
    /// From the state on the first morning; `miss` from 0 to under 1, `run` in days.
    ComingForm(const LoadState& before, const TimeConstants& tau, double miss, double run);
    /// The next day, of so many points; one that may be missed counts with the share that is ridden.
    void day(double stress, bool missable);
    double fitness() const { return mean_.fitness; }
    double form() const { return mean_.form(); }
    double fitnessDeviation() const { return std::sqrt(std::max(0.0, ff_)); }
    double formDeviation() const { return std::sqrt(std::max(0.0, ff_ + aa_ - 2 * fa_)); }

private:
    LoadState mean_;
    double keepFitness_, keepFatigue_, miss_, rho_;
    double ff_ = 0, aa_ = 0, fa_ = 0; ///< variances of fitness and fatigue, and what they vary together
    double fm_ = 0, am_ = 0;          ///< of each and the next day's being ridden
};

/// The normal share between two edges, and how it changes with the mean.
inline double normalShare(double mean, double deviation, double low, double high) {
    const auto below = [&](double x) { return 0.5 * std::erfc(-(x - mean) / deviation / std::sqrt(2.0)); };
    return below(high) - below(low);
}
inline double normalShareSlope(double mean, double deviation, double low, double high) {
    const auto density = [&](double x) {
        const double z = (x - mean) / deviation;
        return std::exp(-z * z / 2) / (deviation * 2.5066282746310002);
    };
    return density(low) - density(high);
}

} // namespace marram
