// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/feel.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {

Feel feelOf(const Step& step, const std::optional<HeartRateRange>& range, double lowThreshold) {
    constexpr double spread = 0.03;
    constexpr int arrives = 120;
    Feel feel;
    if (step.kind == TargetKind::AllOut) {
        feel.effort = 10;
        return feel;
    }
    const double target = meanTarget(step);
    if (step.kind == TargetKind::Effort) {
        feel.effort = step.effort;
    } else {
        double nearest = 9;
        for (int e = 1; e <= 9; ++e) {
            Step of;
            of.seconds = step.seconds;
            of.kind = TargetKind::Effort;
            of.effort = e;
            if (const double off = std::abs(meanTarget(of) - target); off < nearest) {
                nearest = off;
                feel.effort = e;
            }
        }
        if (target > 1.25)
            feel.effort = 10;
    }
    if (!range || step.seconds < arrives || target > 1.2)
        return feel;
    const double low = step.kind == TargetKind::Power ? std::min(step.from, step.to) : target,
                 high = step.kind == TargetKind::Power ? std::max(step.from, step.to) : target;
    const double most = range->max.value;
    feel.heartRateFrom =
        static_cast<int>(std::lround(std::min(most, heartRateAt(std::max(0.0, low - spread), *range))));
    feel.heartRateTo = static_cast<int>(std::lround(std::min(most, heartRateAt(high + spread, *range))));
    feel.lags = target > lowThreshold;
    return feel;
}

std::string feelWords(const Feel& feel) {
    std::string words = phrase("effort %1", std::to_string(feel.effort));
    if (feel.heartRateFrom)
        words +=
            phrase(", %1 to %2 bpm", std::to_string(*feel.heartRateFrom), std::to_string(*feel.heartRateTo));
    if (feel.lags)
        words += phrase(", arrives after 2 minutes");
    return words;
}

std::string fuelWords(int seconds) {
    if (seconds < 3600)
        return phrase("Water is enough.");
    if (seconds <= 9000)
        return phrase("Eat 30 to 60 g of carbohydrate an hour.");
    return phrase("Eat 60 to 90 g of carbohydrate an hour, as practised in training.");
}

std::string workWords(const SessionFigures& figures, double thresholdPower) {
    const long kj = std::lround(figures.mean * thresholdPower * figures.seconds / 1000);
    return phrase("%1 kJ of work, about as many kcal burnt.", std::to_string(kj));
}

} // namespace marram
