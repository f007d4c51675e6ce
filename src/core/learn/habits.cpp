// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/habits.h"

#include <algorithm>
#include <gsl/gsl_cdf.h>
#include <random>

namespace marram {
namespace {

constexpr double priorMissed = 2, priorRidden = 23;
constexpr double runsSeen = 3, daysSeen = 6;
constexpr int shuffles = 20000;

MissedRate rateOf(const std::string& of, int planned, int missed) {
    const double a = priorMissed + missed, b = priorRidden + planned - missed;
    return {of, planned, missed, {a / (a + b), gsl_cdf_beta_Pinv(0.1, a, b), gsl_cdf_beta_Pinv(0.9, a, b)}};
}

void compare(const std::vector<MissedRate>& rates, const char* before, std::mt19937_64& dice, Habits& out) {
    const auto drawn = [&](const MissedRate& r) {
        std::gamma_distribution<double> x(priorMissed + r.missed), y(priorRidden + r.planned - r.missed);
        std::vector<double> all;
        for (int i = 0; i < shuffles; ++i) {
            const double a = x(dice), b = y(dice);
            all.push_back(a / (a + b));
        }
        return all;
    };
    std::vector<std::vector<double>> all;
    all.reserve(rates.size());
    for (const MissedRate& r : rates)
        all.push_back(drawn(r));
    for (size_t i = 0; i < rates.size(); ++i)
        for (size_t j = i + 1; j < rates.size(); ++j) {
            std::vector<double> apart;
            for (size_t k = 0; k < shuffles; ++k)
                apart.push_back(all[i][k] - all[j][k]);
            std::sort(apart.begin(), apart.end());
            const double low = apart[static_cast<size_t>(0.005 * shuffles)],
                         high = apart[static_cast<size_t>(0.995 * shuffles)];
            if (low > 0 || high < 0)
                out.differences.push_back({before + rates[i].of, before + rates[j].of, low, high});
        }
}

} // namespace

Habits learnHabits(std::vector<HabitDay> days, std::uint64_t seed) {
    std::stable_sort(days.begin(), days.end(),
                     [](const HabitDay& a, const HabitDay& b) { return a.day < b.day; });
    std::map<int, std::pair<int, int>> byDay;
    std::map<std::string, std::pair<int, int>> byKind;
    int missedDays = 0, runs = 0;
    bool running = false;
    for (const HabitDay& d : days) {
        if (!(d.planned > 0))
            continue;
        const bool missed = d.done < 0.1 * d.planned;
        auto& day = byDay[weekday(d.day) + 1];
        ++day.first;
        day.second += missed ? 1 : 0;
        if (!d.kind.empty()) {
            ++byKind[d.kind].first;
            byKind[d.kind].second += missed ? 1 : 0;
        }
        missedDays += missed ? 1 : 0;
        runs += missed && !running ? 1 : 0;
        running = missed;
    }
    Habits out;
    for (const auto& [day, seen] : byDay)
        out.weekdays.push_back(rateOf(std::to_string(day), seen.first, seen.second));
    for (const auto& [kind, seen] : byKind)
        out.kinds.push_back(rateOf(kind, seen.first, seen.second));
    // A run ends with probability 1/length every day: Beta of ends against goings-on.
    const double ends = runsSeen + runs, onward = std::max(0.5, daysSeen + missedDays - ends);
    out.run = {(daysSeen + missedDays) / ends, 1 / gsl_cdf_beta_Pinv(0.9, ends, onward),
               1 / gsl_cdf_beta_Pinv(0.1, ends, onward)};
    std::mt19937_64 dice(seed);
    compare(out.weekdays, "weekday ", dice, out);
    compare(out.kinds, "", dice, out);
    return out;
}

} // namespace marram
