// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/rough.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double easiest = 0.45, steadiest = 0.95;

double evenIntensity(double hours, double stress) {
    return std::clamp(std::sqrt(std::max(0.0, stress) / (100 * hours)), easiest, steadiest);
}

std::vector<RoughStep> warmUp() {
    return {{300, 0.50}, {300, 0.66}, {300, 0.90}};
}

RoughSession intervals(int seconds, double stress) {
    RoughSession best;
    double bestMiss = 1e9;
    // As many repetitions as fit; the endurance around them is ridden at whatever makes the sum.
    for (int repeats = 1; repeats <= 6; ++repeats) {
        RoughSession s{SessionKind::Intervals,
                       phrase("%1 × 8 min just above threshold", std::to_string(repeats)), warmUp()};
        for (int i = 0; i < repeats; ++i) {
            s.steps.push_back({480, 1.06, true});
            s.steps.push_back({300, 0.50});
        }
        const int left = seconds - s.seconds();
        if (left < 300)
            break;
        // Steps are long beside the thirty seconds of smoothing, so fourth powers simply add up.
        double fourth = 0;
        for (const RoughStep& step : s.steps)
            fourth += step.seconds * std::pow(step.intensity, 4);
        const double wanted = seconds * std::pow(stress / (100.0 * seconds / 3600.0), 2);
        const double around =
            std::clamp(std::pow(std::max(0.0, wanted - fourth) / left, 0.25), easiest, 0.76);
        s.steps.push_back({left, around});
        const double miss = std::abs(
            100.0 * seconds / 3600.0 * std::sqrt((fourth + left * std::pow(around, 4)) / seconds) - stress);
        if (miss < bestMiss - 0.5) {
            bestMiss = miss;
            best = s;
        }
    }
    return best;
}

} // namespace

int RoughSession::seconds() const {
    int sum = 0;
    for (const RoughStep& s : steps)
        sum += s.seconds;
    return sum;
}

double RoughSession::stress() const {
    double fourth = 0, sum = 0;
    std::vector<double> power;
    power.reserve(static_cast<size_t>(seconds()));
    for (const RoughStep& s : steps)
        power.insert(power.end(), static_cast<size_t>(s.seconds), s.intensity);
    if (power.size() < 30)
        return 0;
    for (size_t t = 0; t < power.size(); ++t) {
        sum += power[t] - (t >= 30 ? power[t - 30] : 0);
        if (t >= 29)
            fourth += std::pow(sum / 30, 4);
    }
    return 100.0 * static_cast<double>(power.size()) / 3600.0 *
           std::sqrt(fourth / static_cast<double>(power.size() - 29));
}

RoughSession prescribe(SessionKind kind, double hours, double stress) {
    const int seconds = static_cast<int>(std::lround(std::clamp(hours, 0.2, 12.0) * 3600));
    const double even = evenIntensity(seconds / 3600.0, stress);
    if (kind == SessionKind::Intervals && seconds >= 2000)
        if (RoughSession s = intervals(seconds, stress); !s.steps.empty())
            return s;
    RoughSession s{kind, kind == SessionKind::Race ? phrase("Race") : phrase("Endurance"), {}};
    if (kind == SessionKind::Openers && seconds >= 1500) {
        s.title = phrase("Openers");
        s.steps = {{900, 0.6}};
        for (int i = 0; i < 4; ++i) {
            s.steps.push_back({20, 1.5, true});
            s.steps.push_back({130, 0.5});
        }
        s.steps.push_back({seconds - 1500, 0.6});
        return s;
    }
    if (kind == SessionKind::Race) {
        // A race is never even: surges and lulls of a few minutes around its mean.
        const double mean =
            std::clamp(std::sqrt(std::max(0.0, stress) / (100.0 * seconds / 3600.0)), 0.6, 1.0) * 0.955;
        for (int at = 0, i = 0; at < seconds; ++i) {
            const int length = std::min(seconds - at, 150 + 70 * (i * 7 % 5));
            s.steps.push_back({length, mean * (i % 3 == 1 ? 1.25 : i % 3 == 2 ? 0.80 : 0.98)});
            at += length;
        }
        return s;
    }
    if (kind == SessionKind::Intervals)
        s.kind = SessionKind::Endurance;
    s.steps = {{seconds, even}};
    return s;
}

} // namespace marram
