// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/efforts.h"
#include "core/ride/heartrate.h"
#include "core/ride/power.h"

namespace marram {

/// Changes whenever a figure below would come out differently; stored beside every derived figure.
inline constexpr int scoringVersion = 4;

/// The part of the recorded time that must have power for a score by power, and heart rate for one by heart
/// rate. Below it a method says more of the sensor than of the ride. Our own.
inline constexpr double enoughPower = 0.90, enoughHeartRate = 0.80;

/// Points for a minute at effort 1 before anything was learned: an hour at threshold is an effort of 8
/// (between hard and very hard; common practice, value from memory) and 100 points.
inline constexpr double defaultEffortScale = 100.0 / (60 * 8);

/// What a ride is scored by. A missing field closes the methods that need it.
struct ScoringBasis {
    std::optional<Watts> threshold;
    double lowThreshold = defaultLowThreshold;
    std::optional<HeartRateRange> heartRate;
    double heartRateScale = 1;               ///< learned factor on stress by heart rate (scale.h)
    std::optional<double> effort;            ///< session effort on the CR-10 scale, 0–10
    double effortScale = defaultEffortScale; ///< points for a minute at effort 1
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
    std::optional<double> heartRateStress; ///< points by heart rate, scale 1; also where power scored
    double scale = 1;                      ///< factor used by heart rate, or points a minute by effort
    std::optional<double> effort;          ///< CR-10
    bool shortIntervals = false;           ///< heart rate swings as in short intervals, which it undervalues
    bool indoors = false;                  ///< ridden indoors (grid.h)
    bool intervalsSeen = false;            ///< … and power or the device's laps show such intervals
    std::optional<double> meanHeartRate;   ///< bpm over seconds that have one
    std::optional<double> maxHeartRate;    ///< bpm
    std::optional<double> efficiency;      ///< W/bpm: equivalent power / mean heart rate
    std::optional<double> drift;           ///< %: fall of efficiency from first to second half
    std::optional<Bands> bandSeconds;
    std::optional<std::array<double, 7>> zoneSeconds;
    std::optional<std::array<double, 5>> heartRateZoneSeconds; ///< zones heart rate can tell apart
    std::optional<Bands> purposeSeconds;                       ///< time by purpose (purpose.h)
    double powerShare = 0;     ///< part of the recorded time with power; 0 where all of it is zero
    double heartRateShare = 0; ///< part of the recorded time with heart rate
    Faults faults;
};

/// What of a ride's power or heart rate is missing and what that means for its score, in sentences; empty
/// where nothing is.
std::vector<std::string> missingParts(const Score& score);

/// Scores a ride: by power where the basis has a threshold and at least 90 % of the recorded time has power
/// that is not all zero, else by heart rate where at least 80 % has it, else by session effort, else not at
/// all. What heart rate lacks is scaled up. Where power is not enough, what rests on it (intensity, bands,
/// zones, efficiency, drift) is left empty. Stress by power = 100 × recorded hours × relative intensity²; by
/// heart rate = scale × 100 × impulse / impulse of an hour at threshold heart rate; by effort = scale × CR-10
/// effort × recorded minutes. Source of session effort: Foster 1998.
Score score(const Ride& ride, const ScoringBasis& basis);

/// Chooses the method and sets stress anew from figures already derived, for a change of effort or scale:
/// the same as scoring again.
void rescale(Score& score, const ScoringBasis& basis);

/// Whether heart rate swings up and down as in intervals too short for it: at least five rises and falls of
/// a tenth of the reserve above rest, each within six minutes.
bool swingsLikeIntervals(const Ride& ride, const HeartRateRange& range);

/// Whether power or laps show intervals too short for heart rate to follow: five efforts over threshold, or
/// laps, of 10 s to 3 min.
bool showsShortIntervals(const Ride& ride, const Efforts& efforts, Watts threshold);

/// Drift of a ride in percent over its recorded time: efficiency is equivalent power over mean heart rate of
/// each half; the fall from the first to the second, in percent of the first. Empty without both series in
/// both halves.
std::optional<double> driftPercent(const Ride& ride);

} // namespace marram
