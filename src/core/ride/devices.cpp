// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/devices.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace marram {
namespace {

constexpr double better = 0.05; ///< of the recorded time

} // namespace

bool sameRideTwice(std::int64_t start, int elapsed, std::int64_t otherStart, int otherElapsed) {
    const auto near = static_cast<std::int64_t>(std::max(sameStart, std::max(elapsed, otherElapsed) / 20));
    return std::abs(start - otherStart) <= near &&
           std::abs(start + elapsed - otherStart - otherElapsed) <= near;
}

static float valueAt(const std::vector<float>& series, std::int64_t at) {
    return at >= 0 && at < static_cast<std::int64_t>(series.size()) ? series[static_cast<size_t>(at)]
                                                                    : missing;
}

Ride withBetterChannels(Ride ride, const Ride& other, std::vector<const char*>* taken) {
    const auto shift = ride.start - other.start; // second 0 of the ride in the other
    const auto theirs = [&](const std::vector<float>& series, int second) {
        return valueAt(series, second + shift);
    };
    struct Channel {
        const char* name;
        std::vector<float> Ride::*series;
    };
    constexpr Channel channels[]{
        {marked("power"), &Ride::power},         {marked("heart rate"), &Ride::heartRate},
        {marked("cadence"), &Ride::cadence},     {marked("altitude"), &Ride::altitude},
        {marked("distance"), &Ride::distance},   {marked("temperature"), &Ride::temperature},
        {marked("left share"), &Ride::leftShare}};
    const double enough = better * ride.recorded();
    for (const Channel& c : channels) {
        auto& mine = ride.*c.series;
        const int own = ride.recorded() - ride.secondsWithout(mine);
        int others = 0;
        for (const Stretch& s : ride.stretches)
            for (int t = s.begin; t < s.end; ++t)
                others += std::isnan(theirs(other.*c.series, t)) ? 0 : 1;
        if (others - own < enough || others == 0)
            continue;
        for (const Stretch& s : ride.stretches)
            for (int t = s.begin; t < s.end; ++t)
                mine[static_cast<size_t>(t)] = theirs(other.*c.series, t);
        if (taken)
            taken->push_back(c.name);
        if (c.series == &Ride::power) {
            ride.hasPower = true;
            ride.faults.power = other.faults.power;
        } else if (c.series == &Ride::heartRate) {
            ride.hasHeartRate = true;
            ride.faults.heartRate = other.faults.heartRate;
        }
    }
    ride.faults.powerMissing = ride.hasPower ? ride.secondsWithout(ride.power) : 0;
    ride.indoors = ride.indoors && other.indoors;
    if (!ride.weight)
        ride.weight = other.weight;
    return ride;
}

} // namespace marram
