// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/gate.h"
#include "core/learn/response.h"
#include <cmath>
#include <map>
#include <random>
#include <vector>

/// Riders whose gains, constants and best form are known, and what they leave for learning.
namespace marram::test {

/// Three years of days with a result every week, at 3 % of noise and a slow drift of 0, 1 or 2 %.
struct Learner {
    enum class Kind {
        Usual,     ///< the usual gains, at 42 and 7 days
        Constants, ///< the usual gains, at constants of their own
        Own        ///< gains and constants of their own, as the prior has them
    };
    std::map<Date, double> daily;
    std::vector<TestPoint> results;
    Date ahead;      ///< sixteen weeks after the last result
    double able = 0; ///< what the rider can do then, in the results' unit

    Learner(unsigned seed, Kind kind) {
        std::mt19937_64 dice(seed);
        std::normal_distribution<double> normal;
        std::uniform_real_distribution<double> any;
        double gainF = 0.20, gainA = 0.09, tauF = 42, tauA = 7;
        if (kind != Kind::Usual)
            do {
                tauF = 40 * std::exp(0.4 * normal(dice));
                tauA = 9 * std::exp(0.5 * normal(dice));
            } while (tauF < 1.5 * tauA);
        if (kind == Kind::Own)
            do {
                gainF = 0.20 + 0.10 * normal(dice);
                gainA = 0.09 + 0.06 * normal(dice);
            } while (gainF <= 0 || gainA <= 0);
        constexpr int days = 1095, after = 112;
        const Date first{18000};
        const double drifts = seed % 3;
        double f = 45, a = 45, drift = drifts * normal(dice);
        const double keep = std::exp(-7 / 45.0);
        for (int d = 0; d < days + after; ++d) {
            const int week = d / 7;
            const double season = 1 + 0.35 * std::sin(2 * M_PI * d / 365);
            const double block = week % 4 == 3 ? 0.6 : 1 + 0.08 * (week % 4);
            const bool rest = d % 7 == 0 || d % 7 == 4 || any(dice) < 0.08;
            const double stress = rest ? 0 : 84 * season * block * (0.6 + 0.8 * any(dice));
            const double can = 100 + gainF * (f - 60) - gainA * (a - 60);
            if (d >= 60 && d < days && d % 7 == 3) {
                drift = keep * drift + std::sqrt(1 - keep * keep) * drifts * normal(dice);
                results.push_back({first + d, 3 * (can + drift + 3 * normal(dice))});
            }
            if (d == days + after - 1) {
                ahead = first + d;
                able = 3 * can;
            }
            daily[first + d] = stress;
            f += (stress - f) * (1 - std::exp(-1 / tauF));
            a += (stress - a) * (1 - std::exp(-1 / tauA));
        }
    }
};

/// So many results at 2 % of a rider whose best form is drawn from the prior, on mornings of 12 ± 8.
inline std::vector<FormResult> formResults(unsigned seed, int count) {
    std::mt19937_64 dice(seed);
    std::normal_distribution<double> normal;
    const double best = bestFormPrior + bestFormSpread * normal(dice),
                 curve = 0.006 * std::exp(0.8 * normal(dice));
    std::vector<FormResult> results;
    for (int i = 0; i < count; ++i) {
        const double form = 12 + 8 * normal(dice);
        results.push_back({form, 100 - curve * (form - best) * (form - best) + 2 * normal(dice), {}});
    }
    return results;
}

} // namespace marram::test
