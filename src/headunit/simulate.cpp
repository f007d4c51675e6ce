// SPDX-License-Identifier: GPL-3.0-or-later
#include "headunit/simulate.h"

#include <algorithm>
#include <cmath>

namespace marram {

std::uint64_t Dice::next() {
    std::uint64_t z = state_ += 0x9E3779B97F4A7C15ULL;
    z = (z ^ z >> 30) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ z >> 27) * 0x94D049BB133111EBULL;
    return z ^ z >> 31;
}

double Dice::uniform() {
    return static_cast<double>(next() >> 11) * 0x1.0p-53;
}

double Dice::normal() {
    // Twelve uniforms of sixteen bits: near enough to a bell for a bicycle, and the same everywhere.
    std::uint64_t sum = 0;
    for (int i = 0; i < 3; ++i)
        for (std::uint64_t bits = next(), k = 0; k < 4; ++k, bits >>= 16)
            sum += bits & 0xFFFF;
    return static_cast<double>(sum) / 65535.0 - 6;
}

namespace {

/// Everything that changes while riding.
class Rider {
public:
    Rider(const SimulatedRider& rider, const SimulatedDay& day, std::uint64_t seed)
        : rider_(rider), day_(day), dice_(seed), heartRate_(rider.restHeartRate + 25),
          hills_(dice_.between(0, 6.28)), climbing_(dice_.between(20, 80)),
          balance_(dice_.between(0.485, 0.515)) {}

    Recording go(const RoughSession& session) {
        Recording out;
        out.utcOffset = day_.utcOffset;
        const int planned = static_cast<int>(session.seconds() * std::clamp(day_.cutShortAfter, 0.05, 1.0));
        out.samples.reserve(static_cast<size_t>(planned));
        double time = static_cast<double>(day_.start), lapStart = time;
        int ridden = 0;
        for (const RoughStep& step : session.steps) {
            for (int s = 0; s < step.seconds && ridden < planned; ++s, ++ridden) {
                if (day_.stops && !step.work && dice_.chance(1.0 / 4000))
                    time += std::floor(dice_.between(40, 500));
                out.samples.push_back(second(time, step, ridden));
                time += 1;
            }
            if (step.work && time > lapStart) {
                out.laps.push_back({lapStart, time});
                lapStart = time;
            }
        }
        if (time > lapStart)
            out.laps.push_back({lapStart, time});
        return out;
    }

private:
    Sample second(double time, const RoughStep& step, int ridden) {
        const double hours = ridden / 3600.0;
        // Two hours in, legs begin to give; the more tired they came, the sooner.
        const double onset = 2.2 + 0.03 * day_.freshness;
        const double fade = 1 - 0.035 * std::max(0.0, hours - onset);
        // Held to a target the legs wander less than on an open road.
        wander_ += -wander_ / 25 + (step.work ? 0.006 : 0.018) * dice_.normal();
        const double jitter = (step.work ? 0.035 : 0.07) * dice_.normal();
        if (coasting_ > 0)
            --coasting_;
        else if (!step.work && step.intensity < 0.8 && dice_.chance(1.0 / 260))
            coasting_ = static_cast<int>(dice_.between(4, 22));
        double power = coasting_ > 0 ? 0
                                     : step.intensity * day_.legs * fade * rider_.thresholdPower *
                                           (1.035 + wander_ + jitter);
        power = std::clamp(power, 0.0, 1600.0);
        lagged_ += (power - lagged_) / 38;
        Sample s;
        s.time = time;
        s.heartRate = sensor(rider_.heartRateStrap, heartDropout_, 1.0 / 5200,
                             static_cast<float>(std::lround(beat(hours))));
        s.power =
            sensor(rider_.powerMeter, powerDropout_, 1.0 / 9000, static_cast<float>(std::lround(power)));
        s.cadence = power > 0 ? static_cast<float>(std::lround(std::clamp(
                                    86 + 8 * (step.intensity - 0.7) + 4 * dice_.normal(), 40.0, 130.0)))
                              : 0;
        s.altitude = static_cast<float>(60 + climbing_ * std::sin(hills_ + hours * 5) +
                                        0.35 * climbing_ * std::sin(hours * 23));
        speed_ += (std::cbrt(std::max(power, 25.0) / 0.29) - speed_) / 20;
        travelled_ += std::clamp(speed_, 1.5, 22.0);
        s.distance = static_cast<float>(travelled_);
        s.temperature = static_cast<float>(std::lround(day_.temperature + 1.5 * std::sin(hours)));
        s.leftShare =
            std::isfinite(s.power) ? static_cast<float>(balance_ + 0.004 * dice_.normal()) : missing;
        return s;
    }

    double beat(double hours) {
        const double effort = lagged_ / rider_.thresholdPower;
        const double atRest = rider_.restHeartRate + 30;
        const double heat = std::max(0.0, day_.temperature - 22) * 0.5;
        const double drift = 1 + 0.018 * hours;
        const double tired = day_.freshness < -20 ? -2.0 : 0;
        const double target = atRest + (rider_.thresholdHeartRate - atRest) * effort * drift + heat + tired;
        heartRate_ += (std::min(target, rider_.maxHeartRate) - heartRate_) / 22 + 0.15 * dice_.normal();
        return std::clamp(heartRate_, rider_.restHeartRate, rider_.maxHeartRate);
    }

    float sensor(bool fitted, int& dropout, double chance, float reading) {
        if (!fitted)
            return missing;
        if (dropout > 0) {
            --dropout;
            return missing;
        }
        if (day_.dropouts && dice_.chance(chance))
            dropout = static_cast<int>(dice_.between(3, 60));
        return reading;
    }

    const SimulatedRider& rider_;
    const SimulatedDay& day_;
    Dice dice_;
    double heartRate_, hills_, climbing_, balance_;
    double wander_ = 0, lagged_ = 0, speed_ = 6, travelled_ = 0;
    int coasting_ = 0, heartDropout_ = 0, powerDropout_ = 0;
};

} // namespace

RoughSession asRidden(const Session& session, double lowThreshold) {
    constexpr int part = 10;
    RoughSession out;
    for (const UnfoldedStep& s : figuresOf(session, lowThreshold).steps) {
        const bool even = s.step.kind != TargetKind::Power || s.step.from == s.step.to;
        out.kind = s.work ? SessionKind::Intervals : out.kind;
        for (int at = 0; at < s.step.seconds; at += even ? s.step.seconds : part) {
            const int seconds = even ? s.step.seconds : std::min(part, s.step.seconds - at);
            out.steps.push_back(
                {seconds, targetAt(s.step, even ? 0.5 : (at + seconds / 2.0) / s.step.seconds), s.work});
        }
    }
    return out;
}

Recording ride(const RoughSession& session, const SimulatedRider& rider, const SimulatedDay& day,
               std::uint64_t seed) {
    return Rider(rider, day, seed).go(session);
}

} // namespace marram
