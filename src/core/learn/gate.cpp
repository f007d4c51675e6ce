// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/gate.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr double resultNoise = 2;                       ///< % of a result
constexpr double usualCurve = 0.006, curveSpread = 0.8; ///< % a point²: 0.6 % at 10 points; of its logarithm
constexpr double gainMean = 0.2, gainSpread = 0.1;      ///< % a point of fitness
constexpr double topSpread = 15;                        ///< % of the top's prior

/// Log evidence of residuals with the top and, where it counts, the gain of fitness integrated out.
double evidence(const std::vector<FormResult>& results, double best, double c, bool fitness,
                double meanResult, double meanFitness) {
    // y = top + g·(F − mean F) + noise, after the curve is taken off; two by two normal equations.
    const double p11 = 1 / (topSpread * topSpread), p22 = fitness ? 1 / (gainSpread * gainSpread) : 1;
    double a11 = p11, a12 = 0, a22 = p22, b1 = 0, b2 = fitness ? p22 * gainMean : 0;
    double yy = 0;
    const double precision = 1 / (resultNoise * resultNoise);
    for (const FormResult& r : results) {
        const double y = r.percent - meanResult + c * (r.form - best) * (r.form - best);
        const double f = fitness ? *r.fitness - meanFitness : 0;
        a11 += precision;
        a12 += precision * f;
        a22 += precision * f * f;
        b1 += precision * y;
        b2 += precision * y * f;
        yy += precision * y * y;
    }
    const double det = a11 * a22 - a12 * a12;
    const double quadratic = (b1 * b1 * a22 - 2 * b1 * b2 * a12 + b2 * b2 * a11) / det;
    return -0.5 * (yy - quadratic) - 0.5 * std::log(det);
}

/// The same with the curve integrated out.
double overCurves(const std::vector<FormResult>& results, double best, bool fitness, double meanResult,
                  double meanFitness) {
    constexpr int curves = 25;
    std::array<double, curves> each{};
    double top = -1e300;
    for (int k = 0; k < curves; ++k) {
        const double u = -3 + 6.0 * k / (curves - 1);
        each[static_cast<size_t>(k)] =
            -0.5 * u * u +
            evidence(results, best, usualCurve * std::exp(curveSpread * u), fitness, meanResult, meanFitness);
        top = std::max(top, each[static_cast<size_t>(k)]);
    }
    double sum = 0;
    for (const double e : each)
        sum += std::exp(e - top);
    return top + std::log(sum);
}

} // namespace

Result<LearntGate> learnGate(const std::vector<FormResult>& results) {
    if (results.empty())
        return refuse(phrase("holds no results"));
    const bool fitness = std::all_of(results.begin(), results.end(),
                                     [](const FormResult& r) { return r.fitness.has_value(); });
    double meanResult = 0, meanFitness = 0;
    for (const FormResult& r : results) {
        meanResult += r.percent / static_cast<double>(results.size());
        meanFitness += r.fitness.value_or(0) / static_cast<double>(results.size());
    }
    constexpr double from = -40, to = 65, step = 0.25;
    std::vector<double> weight;
    double most = -1e300;
    constexpr auto steps = static_cast<int>((to - from) / step);
    for (int i = 0; i <= steps; ++i) {
        const double best = from + step * i;
        const double z = (best - bestFormPrior) / bestFormSpread;
        weight.push_back(-0.5 * z * z + overCurves(results, best, fitness, meanResult, meanFitness));
        most = std::max(most, weight.back());
    }
    double sum = 0, mean = 0;
    for (size_t i = 0; i < weight.size(); ++i) {
        weight[i] = std::exp(weight[i] - most);
        sum += weight[i];
        mean += weight[i] * (from + step * static_cast<double>(i));
    }
    const auto quantile = [&](double share) {
        double seen = 0;
        for (size_t i = 0; i < weight.size(); ++i) {
            const double next = seen + weight[i] / sum;
            if (next >= share)
                return from + step * (static_cast<double>(i) + (share - seen) / (next - seen) - 0.5);
            seen = next;
        }
        return to;
    };
    LearntGate g;
    g.optimum = {mean / sum, quantile(0.1), quantile(0.9)};
    constexpr double tenth = 1.2815515655446004; // standard normal, 80 % inside
    g.widthRatio = (g.optimum.high - g.optimum.low) / (2 * tenth * bestFormSpread);
    g.yours = g.widthRatio < yoursUnder;
    for (size_t i = 0; i < weight.size(); i += 2) {
        const double form = from + step * static_cast<double>(i), z = (form - bestFormPrior) / bestFormSpread;
        g.density.push_back(
            {form, std::exp(-0.5 * z * z) / (bestFormSpread * std::sqrt(2 * M_PI)), weight[i] / sum / step});
    }
    g.why = g.yours
                ? phrase("The record narrows the usual span to under six tenths: this is the rider's own.")
                : phrase("Cannot tell yet: %1 results leave the span at %2 % of the usual one; until it is "
                         "under 60 % the gate moves half way at most.",
                         std::to_string(results.size()),
                         std::to_string(static_cast<int>(std::lround(100 * g.widthRatio))));
    return g;
}

} // namespace marram
