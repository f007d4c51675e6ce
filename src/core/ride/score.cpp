// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/score.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

struct HeartRateMean {
    double sum = 0;
    long seconds = 0;
    float highest = 0;
    std::optional<double> mean() const {
        return seconds ? std::optional(sum / static_cast<double>(seconds)) : std::nullopt;
    }
};

HeartRateMean meanOver(std::span<const float> heartRate, std::span<const Stretch> stretches) {
    HeartRateMean m;
    for (const Stretch& s : stretches)
        for (int t = s.begin; t < s.end; ++t) {
            const float beats = heartRate[static_cast<size_t>(t)];
            if (std::isnan(beats))
                continue;
            m.sum += static_cast<double>(beats);
            ++m.seconds;
            m.highest = std::max(m.highest, beats);
        }
    return m;
}

/// The recorded time cut in two equal halves; a stretch across the middle is cut.
std::pair<std::vector<Stretch>, std::vector<Stretch>> halves(const Ride& ride) {
    std::pair<std::vector<Stretch>, std::vector<Stretch>> both;
    int left = ride.recorded() / 2;
    for (const Stretch& s : ride.stretches) {
        const int here = std::min(left, s.length());
        if (here > 0)
            both.first.push_back({s.begin, s.begin + here});
        if (here < s.length())
            both.second.push_back({s.begin + here, s.end});
        left -= here;
    }
    return both;
}

std::optional<double> lastDistance(const Ride& ride) {
    for (auto d = ride.distance.rbegin(); d != ride.distance.rend(); ++d)
        if (std::isfinite(*d))
            return static_cast<double>(*d);
    return std::nullopt;
}

} // namespace

const char* methodName(StressMethod method) {
    switch (method) {
    case StressMethod::Power:
        return "power";
    case StressMethod::HeartRate:
        return "heart_rate";
    case StressMethod::Effort:
        return "effort";
    case StressMethod::None:
        break;
    }
    return "";
}

std::optional<double> driftPercent(const Ride& ride) {
    if (!ride.hasPower || !ride.hasHeartRate || ride.recorded() < 2)
        return std::nullopt;
    const auto [first, second] = halves(ride);
    const auto efficiency = [&](const std::vector<Stretch>& half) -> std::optional<double> {
        const auto beats = meanOver(ride.heartRate, half).mean();
        if (!beats)
            return std::nullopt;
        return equivalentPower(ride.power, half) / *beats;
    };
    const auto before = efficiency(first), after = efficiency(second);
    if (!before || !after || *before <= 0)
        return std::nullopt;
    return (*before - *after) / *before * 100.0;
}

bool swingsLikeIntervals(const Ride& ride, const HeartRateRange& range) {
    const float step = static_cast<float>(0.10 * (range.max.value - range.rest.value));
    constexpr int longest = 360, enough = 5;
    float low = 1e9F, high = -1e9F;
    int turned = 0, swings = 0;
    bool rising = true;
    for (int t = 0; t < ride.elapsed(); ++t) {
        const float beats = ride.heartRate[static_cast<size_t>(t)];
        if (std::isnan(beats))
            continue;
        low = std::min(low, beats);
        high = std::max(high, beats);
        if (rising ? high - beats >= step : beats - low >= step) {
            swings += rising && t - turned <= longest ? 1 : 0;
            turned = t;
            rising = !rising;
            low = high = beats;
        }
    }
    return swings >= enough;
}

void rescale(Score& s, const ScoringBasis& basis) {
    s.effort = basis.effort;
    s.method = StressMethod::None;
    s.stress.reset();
    s.scale = 1;
    if (s.relativeIntensity) {
        s.stress = 100.0 * (s.duration / 3600.0) * *s.relativeIntensity * *s.relativeIntensity;
        s.method = StressMethod::Power;
    } else if (s.heartRateStress) {
        s.scale = basis.heartRateScale;
        s.stress = s.scale * *s.heartRateStress;
        s.method = StressMethod::HeartRate;
    } else if (basis.effort) {
        s.scale = basis.effortScale;
        s.stress = s.scale * *basis.effort * s.duration / 60.0;
        s.method = StressMethod::Effort;
    }
}

Score score(const Ride& ride, const ScoringBasis& basis) {
    Score s;
    s.start = ride.start;
    s.duration = ride.recorded();
    s.elapsed = ride.elapsed();
    s.distance = lastDistance(ride);
    s.faults = ride.faults;

    if (ride.hasHeartRate) {
        const HeartRateMean beats = meanOver(ride.heartRate, ride.stretches);
        s.meanHeartRate = beats.mean();
        s.maxHeartRate = static_cast<double>(beats.highest);
        if (basis.heartRate) {
            s.trainingImpulse = trainingImpulse(ride, *basis.heartRate);
            s.heartRateStress = stressFromImpulse(*s.trainingImpulse, *basis.heartRate);
            s.heartRateZoneSeconds = timeInHeartRateZones(ride, *basis.heartRate);
            s.shortIntervals = swingsLikeIntervals(ride, *basis.heartRate);
        }
    }
    if (ride.hasPower) {
        s.equivalentPower = equivalentPower(ride.power, ride.stretches);
        const Watts threshold = basis.threshold.value_or(Watts{0});
        const TimeInIntensity time = timeInIntensity(ride, threshold, basis.lowThreshold);
        s.work = time.joules / 1000.0;
        s.meanPower = time.joules / s.duration;
        if (basis.threshold) {
            s.bandSeconds = time.bands;
            s.zoneSeconds = time.zones;
            s.relativeIntensity = *s.equivalentPower / threshold.value;
        }
        if (s.meanHeartRate)
            s.efficiency = *s.equivalentPower / *s.meanHeartRate;
        s.drift = driftPercent(ride);
    }
    rescale(s, basis);
    return s;
}

} // namespace marram
