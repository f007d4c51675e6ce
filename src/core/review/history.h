// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/meanmax.h"
#include "core/rider/protocol.h"
#include <string>

namespace marram {

/// The best efforts of one ride, with where they come from.
struct RideBests {
    long long ride = 0; ///< the caller's number for it
    Date day;
    std::span<const BestEffort> best; ///< in order of duration
};

/// One point of a span's mean-max curve, and the ride that set it.
struct CurvePoint {
    int seconds = 0;
    double power = 0;
    long long ride = 0;
    Date day;
    int start = 0; ///< second of that ride
};

/// The mean-max curve of all rides from `from` to `to`, both included: the best of each duration.
std::vector<CurvePoint> spanCurve(std::span<const RideBests> rides, Date from, Date to);

/// Is the rider improving at a duration: the best of the last six months against the year before them.
struct Improvement {
    int seconds = 0;
    std::optional<CurvePoint> now, before;
    std::optional<double> percent; ///< change
    std::string words;
};
/// At 5 s, 1, 5, 20 and 60 min. A change under 1 % counts as the same (our own; a power meter's tolerance).
std::vector<Improvement> improvements(std::span<const RideBests> rides, Date today);

/// What successive aerobic checks say. They count from three on: when neither of the last two rose more than
/// 1 % above the best before them, efficiency has stopped rising and the low-intensity stimulus is used up.
/// Source: common practice; the percent is our own.
struct AerobicTrend {
    std::vector<TestResult> checks; ///< in order of day
    bool plateau = false;
    std::string words;
};
AerobicTrend aerobicTrend(std::span<const TestResult> results);

/// The losses of successive durability checks, in words.
struct DurabilityTrend {
    std::vector<TestResult> checks;
    std::string words;
};
DurabilityTrend durabilityTrend(std::span<const TestResult> results);

/// "5 s", "1 min", "1 h 30": how a duration is written.
std::string durationText(int seconds);

} // namespace marram
