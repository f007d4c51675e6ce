// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/heartrate.h"
#include "core/ride/power.h"

namespace marram {

/// Changes whenever a figure below would come out differently; stored beside every derived figure.
inline constexpr int scoringVersion = 1;

/// What a ride is scored by. A missing field closes the methods that need it.
struct ScoringBasis {
    std::optional<Watts> threshold;
    double lowThreshold = defaultLowThreshold;
    std::optional<HeartRateRange> heartRate;
};

enum class StressMethod { None, Power, HeartRate, Effort };
/// "power", "heart_rate", "effort", or "" for none.
const char* methodName(StressMethod method);

/// The figures of a ride. What the recording cannot give is empty.
struct Score {
    std::int64_t start = 0;                  ///< Unix epoch, UTC
    int duration = 0;                        ///< recorded seconds
    int elapsed = 0;                         ///< seconds from the first sample to the last
    std::optional<double> distance;          ///< m
    std::optional<double> work;              ///< kJ
    std::optional<double> meanPower;         ///< W over recorded time
    std::optional<double> equivalentPower;   ///< W
    std::optional<double> relativeIntensity; ///< equivalent / threshold power
    std::optional<double> stress;            ///< points
    StressMethod method = StressMethod::None;
    std::optional<double> trainingImpulse;
    std::optional<double> meanHeartRate; ///< bpm over seconds that have one
    std::optional<double> maxHeartRate;  ///< bpm
    std::optional<double> efficiency;    ///< W/bpm: equivalent power / mean heart rate
    std::optional<double> drift;         ///< %: fall of efficiency from first to second half
    std::optional<Bands> bandSeconds;
    std::optional<std::array<double, 7>> zoneSeconds;
    Faults faults;
};

/// Scores a ride: by power where the ride and the basis have it, else by heart rate, else not at all.
/// Stress by power = 100 × recorded hours × relative intensity².
Score score(const Ride& ride, const ScoringBasis& basis);

/// Drift of a ride in percent over its recorded time: efficiency is equivalent power over mean heart rate of
/// each half; the fall from the first to the second, in percent of the first. Empty without both series in
/// both halves.
std::optional<double> driftPercent(const Ride& ride);

} // namespace marram
