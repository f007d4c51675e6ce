// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/before.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double mostP = 0.10;
constexpr size_t leastDays = 12, leastBest = 3;

/// Difference of the best days' mean from the others', in its own standard error.
double difference(const std::vector<double>& values, const std::vector<bool>& best, size_t shift) {
    double sumBest = 0, sumOther = 0, all = 0, squares = 0;
    double n = 0, m = 0;
    for (size_t i = 0; i < values.size(); ++i) {
        const double v = values[i];
        if (!std::isfinite(v))
            continue;
        all += v;
        squares += v * v;
        if (best[(i + shift) % best.size()]) {
            sumBest += v;
            ++n;
        } else {
            sumOther += v;
            ++m;
        }
    }
    if (n < 2 || m < 2)
        return 0;
    const double mean = all / (n + m), variance = squares / (n + m) - mean * mean;
    return variance > 1e-12 ? (sumBest / n - sumOther / m) / std::sqrt(variance * (1 / n + 1 / m)) : 0;
}

} // namespace

BestDays learnBefore(std::vector<FeatureDay> days, const std::vector<std::string>& features) {
    std::stable_sort(days.begin(), days.end(),
                     [](const FeatureDay& a, const FeatureDay& b) { return a.day < b.day; });
    std::erase_if(days, [](const FeatureDay& d) { return !d.maximal; });
    BestDays out;
    std::vector<bool> best;
    best.reserve(days.size());
    for (const FeatureDay& d : days)
        best.push_back(d.best);
    const auto count = static_cast<size_t>(std::count(best.begin(), best.end(), true));
    if (days.size() < leastDays || count < leastBest || days.size() - count < leastBest) {
        out.why = phrase(
            "Cannot tell: %1 days of maximal effort, %2 of them best; %3 and %4 are the fewest to compare.",
            std::to_string(days.size()), std::to_string(count), std::to_string(leastDays),
            std::to_string(leastBest));
        return out;
    }
    std::vector<std::vector<double>> values(features.size());
    for (const FeatureDay& d : days)
        for (size_t f = 0; f < features.size(); ++f)
            values[f].push_back(f < d.features.size() ? d.features[f] : std::nan(""));
    std::vector<double> largest;
    for (size_t shift = 0; shift < days.size(); ++shift) {
        double most = 0;
        for (const auto& v : values)
            most = std::max(most, std::abs(difference(v, best, shift)));
        largest.push_back(most);
    }
    for (size_t f = 0; f < features.size(); ++f) {
        const double is = difference(values[f], best, 0);
        const auto as =
            std::count_if(largest.begin(), largest.end(), [&](double m) { return m >= std::abs(is) - 1e-9; });
        const double p = static_cast<double>(as) / static_cast<double>(largest.size());
        if (p <= mostP && is != 0)
            out.findings.push_back({features[f], is > 0 ? 1 : -1, p});
    }
    std::stable_sort(out.findings.begin(), out.findings.end(),
                     [](const auto& a, const auto& b) { return a.p < b.p; });
    out.cannotTell = out.findings.empty();
    out.why = out.cannotTell ? phrase("Cannot tell: among %1 days of maximal effort nothing stands out from "
                                      "what chance would show; that is not that there is nothing.",
                                      std::to_string(days.size()))
                             : phrase("A hypothesis, not a cause: plan two tests, one each way, to see.");
    return out;
}

} // namespace marram
