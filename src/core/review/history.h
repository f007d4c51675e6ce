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

/// Whether a rider got better at a duration: the mean of the three best efforts, one a ride, of the last six
/// months against that of the same months a year before, of equal counts (core/learn/change.h): the more
/// efforts, the higher the best.
struct Improvement {
    int seconds = 0;
    std::optional<double> now, before; ///< W, mean of three of equal counts
    int rides = 0, ridesBefore = 0;    ///< with an effort of that length
    std::optional<CurvePoint> best;    ///< the best of the last six months, to look at
    std::optional<double> percent;     ///< change
    double low = 0, high = 0;          ///< its 80 % band
    std::string words;                 ///< with its band
};
/// At 5 s, 1, 5, 20 and 60 min. A change is said only where a 95 % band excludes none.
std::vector<Improvement> improvements(std::span<const RideBests> rides, Date today);

/// What successive aerobic checks say: the slope of the last six within 180 days with its 80 % interval, one
/// check varying by 2 % (common practice) or by as much as they scatter. Under three nothing is said.
struct AerobicTrend {
    std::vector<TestResult> checks; ///< in order of day
    enum class Verdict { CannotTell, Rising, NotRising } verdict = Verdict::CannotTell;
    double slope = 0, low = 0, high = 0; ///< % a month, 80 % interval
    int used = 0;                        ///< checks it rests on
    std::string words;
};
/// Rising where the whole interval is above nothing; not rising where it ends under 1 % a month (our own):
/// the low-intensity stimulus is used up. Otherwise it can't be told yet.
AerobicTrend aerobicTrend(std::span<const TestResult> results, Date today);

/// The losses of successive durability checks, in words. Only checks of like work (± 15 %) are compared, and
/// a difference within 5 points says nothing (common practice).
struct DurabilityTrend {
    std::vector<TestResult> checks;
    std::string words;
};
DurabilityTrend durabilityTrend(std::span<const TestResult> results);

/// "5 s", "1 min", "1 h 30": how a duration is written.
std::string durationText(int seconds);

} // namespace marram
