// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/power_model.h"

#include <cmath>
#include <gsl/gsl_cdf.h>
#include <gsl/gsl_fit.h>
#include <map>

namespace marram {

Result<CriticalPower> fitCriticalPower(std::span<const PowerPoint> efforts) {
    std::map<double, double> best;
    for (const PowerPoint& e : efforts)
        if (e.seconds >= shortestModelled && e.seconds <= longestModelled && e.power > 0)
            best[e.seconds] = std::max(best[e.seconds], e.power);
    if (best.size() < 3)
        return refuse("Critical power needs hard efforts of at least three lengths between 2 and 20 minutes; "
                      "there " +
                      (best.empty()       ? std::string("are none")
                       : best.size() == 1 ? std::string("is one")
                                          : std::string("are two")) +
                      ".");
    if (best.rbegin()->first < 2 * best.begin()->first)
        return refuse("The efforts are too alike in length for critical power: the longest should last at "
                      "least twice the shortest, say 3, 6 and 12 minutes.");
    CriticalPower fit;
    std::vector<double> inverse, power;
    for (const auto& [seconds, watts] : best) {
        fit.used.push_back({seconds, watts});
        inverse.push_back(1 / seconds);
        power.push_back(watts);
    }
    double cov00 = 0, cov01 = 0, cov11 = 0, squares = 0;
    gsl_fit_linear(inverse.data(), 1, power.data(), 1, power.size(), &fit.power.value, &fit.work.value,
                   &cov00, &cov01, &cov11, &squares);
    if (fit.work.value <= 0 || fit.power.value <= 0)
        return refuse("The efforts do not fall with their length, so at least one was not ridden all out; "
                      "critical power needs maximal ones.");
    const double freedom = static_cast<double>(power.size()) - 2;
    const double t = gsl_cdf_tdist_Pinv(0.975, freedom);
    const auto widen = [&](Fitted& f, double variance) {
        f.low = f.value - t * std::sqrt(variance);
        f.high = f.value + t * std::sqrt(variance);
    };
    widen(fit.power, cov00);
    widen(fit.work, cov11);
    fit.scatter = std::sqrt(squares / static_cast<double>(power.size()));
    fit.expectedThreshold = thresholdOfCriticalPower * fit.power.value;
    return fit;
}

} // namespace marram
