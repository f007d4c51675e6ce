// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/span_figures.h"
#include "core/ride/power.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace marram {
namespace {

struct Mean {
    double sum = 0, highest = -1e18;
    int count = 0;
    void add(float v) {
        if (std::isnan(v))
            return;
        sum += static_cast<double>(v);
        highest = std::max(highest, static_cast<double>(v));
        ++count;
    }
    std::optional<double> mean() const { return count ? std::optional(sum / count) : std::nullopt; }
    std::optional<double> top() const { return count ? std::optional(highest) : std::nullopt; }
};

/// What remains of a climb when steps that are only noise are left out.
class Climb {
public:
    void add(float altitude) {
        constexpr float noise = 2;
        if (std::isnan(altitude))
            return;
        if (!known_) {
            level_ = altitude;
            known_ = true;
        }
        if (altitude >= level_ + noise) {
            gained_ += static_cast<double>(altitude - level_);
            level_ = altitude;
        } else if (altitude <= level_ - noise) {
            level_ = altitude;
        }
    }
    std::optional<double> gained() const { return known_ ? std::optional(gained_) : std::nullopt; }

private:
    float level_ = 0;
    double gained_ = 0;
    bool known_ = false;
};

} // namespace

SpanFigures figuresOver(const Ride& ride, Stretch span) {
    SpanFigures f;
    std::vector<Stretch> inside;
    Mean power, beats, cadence, warmth, left;
    Climb climb;
    float from = missing, to = missing;
    const auto first = std::partition_point(ride.stretches.begin(), ride.stretches.end(),
                                            [&](const Stretch& s) { return s.end <= span.begin; });
    for (auto s = first; s != ride.stretches.end() && s->begin < span.end; ++s) {
        const Stretch cut{std::max(s->begin, span.begin), std::min(s->end, span.end)};
        inside.push_back(cut);
        f.seconds += cut.length();
        for (auto t = static_cast<size_t>(cut.begin); t < static_cast<size_t>(cut.end); ++t) {
            power.add(ride.power[t]);
            beats.add(ride.heartRate[t]);
            if (ride.cadence[t] > 0)
                cadence.add(ride.cadence[t]);
            warmth.add(ride.temperature[t]);
            if (ride.power[t] > 0)
                left.add(ride.leftShare[t]);
            climb.add(ride.altitude[t]);
            if (std::isfinite(ride.distance[t])) {
                from = std::isnan(from) ? ride.distance[t] : from;
                to = ride.distance[t];
            }
        }
    }
    if (ride.hasPower && f.seconds > 0) {
        f.meanPower = power.sum / f.seconds;
        f.equivalentPower = equivalentPower(ride.power, inside);
        f.highestPower = power.top();
        f.work = power.sum / 1000;
    }
    f.meanHeartRate = beats.mean();
    f.highestHeartRate = beats.top();
    f.cadence = cadence.mean();
    f.temperature = warmth.mean();
    f.leftShare = left.mean();
    f.climbed = climb.gained();
    if (std::isfinite(to))
        f.distance = static_cast<double>(to - from);
    return f;
}

Steadiness judgeSteadiness(const Ride& ride) {
    const auto no = [](std::string why) { return Steadiness{false, std::move(why)}; };
    if (!ride.hasPower || !ride.hasHeartRate)
        return no(phrase("Without both power and heart rate there is no efficiency."));
    const int recorded = ride.recorded();
    if (recorded < 40 * 60)
        return no(phrase("Under 40 minutes: too short for drift to show."));
    const double stopped = 1 - static_cast<double>(recorded) / ride.elapsed();
    if (stopped > 0.1)
        return no(phrase("Stopped for %1 % of the time, in which the heart rests: drift means little.",
                         fixedText(100 * stopped, 0)));
    int withBeats = 0;
    for (const float b : ride.heartRate)
        withBeats += std::isnan(b) ? 0 : 1;
    if (withBeats < 0.9 * recorded)
        return no(phrase("Heart rate is missing for %1 % of the time: drift means little.",
                         fixedText(100 - 100.0 * withBeats / recorded, 0)));
    const SpanFigures whole = figuresOver(ride, {0, ride.elapsed()});
    if (*whole.meanPower <= 0)
        return no(phrase("There was no power to speak of."));
    const double variation = *whole.equivalentPower / *whole.meanPower;
    if (variation > 1.08)
        return no(phrase("Power was uneven (equivalent power %1 times the mean; up to 1.08 is steady): drift "
                         "means little.",
                         fixedText(variation, 2)));
    const int middle = ride.elapsed() / 2;
    const double first = *figuresOver(ride, {0, middle}).meanPower;
    const double second = *figuresOver(ride, {middle, ride.elapsed()}).meanPower;
    const double change = 100 * (second / first - 1);
    if (!(std::abs(change) <= 8))
        return no(phrase("The second half was ridden %1 % %2 than the first: drift means little.",
                         fixedText(std::abs(change), 0), (change > 0 ? marked("harder") : marked("easier"))));
    return {true, phrase("Steady enough for drift and efficiency to mean something: equivalent power %1 "
                         "times the mean, halves within %2 %.",
                         fixedText(variation, 2), fixedText(std::abs(change), 0))};
}

} // namespace marram
