// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/score.h"
#include "core/ride/purpose.h"
#include "core/words/phrase.h"

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

bool showsShortIntervals(const Ride& ride, const Efforts& efforts, Watts threshold) {
    constexpr int shortest = 10, longest = 180, enough = 5;
    const auto isShort = [](const Stretch& s) { return s.length() >= shortest && s.length() <= longest; };
    const auto hard = std::count_if(efforts.all.begin(), efforts.all.end(), [&](const Effort& e) {
        return isShort(e.span) && e.figures.meanPower.value_or(0) > threshold.value;
    });
    return hard >= enough || std::count_if(ride.laps.begin(), ride.laps.end(), isShort) >= enough;
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

std::vector<std::string> missingParts(const Score& s) {
    const auto percent = [](double share) {
        // Rounded down, so that nearly enough never reads as enough.
        return std::to_string(static_cast<int>(100 * share)) + " %";
    };
    const bool power = s.equivalentPower.has_value();
    std::vector<std::string> said;
    if (power && s.powerShare <= 0)
        said.push_back(phrase("Power is zero throughout, so it is not scored by."));
    else if (power && s.powerShare < enoughPower)
        said.push_back(phrase("Power is there for %1 of the ride, too little to score by (90 % are needed).",
                              percent(s.powerShare)));
    else if (power && s.faults.powerMissing > 60)
        said.push_back(phrase("Power is missing for %1 min, which count as zero.",
                              std::to_string(s.faults.powerMissing / 60)));
    const bool byBeats = s.method == StressMethod::HeartRate;
    if (s.meanHeartRate && s.heartRateShare < enoughHeartRate && s.method != StressMethod::Power)
        said.push_back(
            phrase("Heart rate is there for %1 of the ride, too little to score by (80 % are needed).",
                   percent(s.heartRateShare)));
    else if (byBeats && s.heartRateShare < 0.995)
        said.push_back(
            phrase("Heart rate is there for %1 of the ride; the rest is taken to have been like it.",
                   percent(s.heartRateShare)));
    if (s.method == StressMethod::None && !said.empty())
        said.push_back(phrase("Give the ride an effort from 1 to 10, and it is scored by that."));
    return said;
}

Score score(const Ride& ride, const ScoringBasis& basis) {
    Score s;
    const Efforts efforts =
        ride.hasPower ? findEfforts(ride, basis.threshold.value_or(thresholdFromRide(ride))) : Efforts{};
    s.start = ride.start;
    s.duration = ride.recorded();
    s.elapsed = ride.elapsed();
    s.distance = lastDistance(ride);
    s.faults = ride.faults;
    s.indoors = ride.indoors;

    if (ride.hasHeartRate) {
        const HeartRateMean beats = meanOver(ride.heartRate, ride.stretches);
        s.meanHeartRate = beats.mean();
        s.maxHeartRate = static_cast<double>(beats.highest);
        s.heartRateShare = static_cast<double>(beats.seconds) / s.duration;
        if (basis.heartRate) {
            s.trainingImpulse = trainingImpulse(ride, *basis.heartRate);
            if (s.heartRateShare >= enoughHeartRate)
                s.heartRateStress =
                    stressFromImpulse(*s.trainingImpulse, *basis.heartRate) / s.heartRateShare;
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
        s.powerShare = time.joules > 0 ? 1 - static_cast<double>(ride.faults.powerMissing) / s.duration : 0;
        const bool enough = s.powerShare >= enoughPower;
        if (basis.threshold && enough) {
            s.bandSeconds = time.bands;
            s.zoneSeconds = time.zones;
            s.relativeIntensity = *s.equivalentPower / threshold.value;
            s.purposeSeconds = timeByPurpose(ride, efforts, threshold, basis.lowThreshold);
        }
        if (s.meanHeartRate && enough)
            s.efficiency = *s.equivalentPower / *s.meanHeartRate;
        if (enough)
            s.drift = driftPercent(ride);
    }
    s.intervalsSeen = s.shortIntervals &&
                      showsShortIntervals(ride, efforts, basis.threshold.value_or(thresholdFromRide(ride)));
    rescale(s, basis);
    return s;
}

} // namespace marram
