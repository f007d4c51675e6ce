// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include "core/session/rough.h"
#include "core/session/session.h"
#include <cstdint>

namespace marram {

/// The rider a simulated bike computer rides for.
struct SimulatedRider {
    double thresholdPower = 250; ///< W, what the rider can really do that day
    double thresholdHeartRate = 168, restHeartRate = 48, maxHeartRate = 188; ///< bpm
    double weightKg = 70;
    bool powerMeter = true, heartRateStrap = true;
};

/// The day a session is ridden on.
struct SimulatedDay {
    std::int64_t start = 0;   ///< Unix epoch, UTC
    int utcOffset = 0;        ///< s
    double temperature = 15;  ///< degrees Celsius
    double legs = 1;          ///< factor on every intended power; 1 is as prescribed
    double freshness = 0;     ///< form in points/day; tired legs fade earlier
    double cutShortAfter = 1; ///< part of the session that is ridden before the rider turns home
    bool stops = true;        ///< a stop now and then
    bool dropouts = true;     ///< sensors lose contact now and then
};

/// Rides a session second by second: power with the variability of a road, heart rate that lags and drifts,
/// fading after two hours, weather, stops, sensor dropouts. The same seed always gives the same ride.
Recording ride(const RoughSession& session, const SimulatedRider& rider, const SimulatedDay& day,
               std::uint64_t seed);

/// A session as it is ridden: ramps in parts of ten seconds, efforts at what they stand for.
RoughSession asRidden(const Session& session, double lowThreshold = defaultLowThreshold);

/// Random numbers that are the same on every machine (splitmix64; Steele, Lea & Flood 2014, value from
/// memory).
class Dice {
public:
    explicit Dice(std::uint64_t seed) : state_(seed) {}
    std::uint64_t next();
    double uniform(); ///< 0 ≤ x < 1
    double between(double a, double b) { return a + (b - a) * uniform(); }
    double normal(); ///< mean 0, standard deviation 1
    bool chance(double p) { return uniform() < p; }

private:
    std::uint64_t state_;
};

} // namespace marram
