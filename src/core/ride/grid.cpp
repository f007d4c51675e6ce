// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/grid.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr float highestPower = 2500, lowestHeartRate = 25, highestHeartRate = 250;

bool absurdTime(double time) {
    return !std::isfinite(time) || time < 0 || time > 4.2e9;
}

/// Sensor faults become missing values; each is counted.
Sample checked(Sample s, Faults& faults) {
    if (s.power > highestPower || s.power < 0) {
        s.power = missing;
        ++faults.power;
    }
    if (s.heartRate > highestHeartRate || s.heartRate < lowestHeartRate) {
        s.heartRate = missing;
        ++faults.heartRate;
    }
    return s;
}

/// The median of the whole seconds from each sample to the next, at least 1.
int usualInterval(const std::vector<const Sample*>& order) {
    std::vector<int> gaps;
    gaps.reserve(order.size());
    for (size_t i = 1; i < order.size(); ++i)
        if (const int gap = static_cast<int>(std::floor(order[i]->time) - std::floor(order[i - 1]->time));
            gap > 0)
            gaps.push_back(gap);
    if (gaps.empty())
        return 1;
    const auto middle = gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2);
    std::nth_element(gaps.begin(), middle, gaps.end());
    return *middle;
}

} // namespace

int Ride::recorded() const {
    int seconds = 0;
    for (const Stretch& s : stretches)
        seconds += s.length();
    return seconds;
}

namespace {

/// The samples whose time can be, in its order. A clock that jumps leaves a few far from the rest: the ride
/// is where the middle one is.
std::vector<const Sample*> inOrder(const Recording& recording, Faults& faults) {
    std::vector<const Sample*> order;
    order.reserve(recording.samples.size());
    for (const Sample& s : recording.samples) {
        if (absurdTime(s.time))
            ++faults.clock;
        else
            order.push_back(&s);
    }
    if (order.empty())
        return order;
    const auto earlier = [](const Sample* a, const Sample* b) { return a->time < b->time; };
    if (!std::is_sorted(order.begin(), order.end(), earlier))
        std::stable_sort(order.begin(), order.end(), earlier);
    const double middle = order[order.size() / 2]->time;
    const auto far = [&](const Sample* s) { return std::abs(s->time - middle) > longestRide / 2.0; };
    const auto kept = std::remove_if(order.begin(), order.end(), far);
    faults.clock += static_cast<int>(order.end() - kept);
    order.erase(kept, order.end());
    return order;
}

/// Whether what is measured changes: a height, a distance.
bool moves(const std::vector<float>& series) {
    float least = missing, most = missing;
    for (const float v : series) {
        least = std::fmin(least, v);
        most = std::fmax(most, v);
    }
    return most - least >= 1; // never where nothing was seen
}

} // namespace

int Ride::secondsWithout(const std::vector<float>& series) const {
    int without = 0;
    for (const Stretch& s : stretches)
        for (int t = s.begin; t < s.end; ++t)
            without += std::isnan(series[static_cast<size_t>(t)]) ? 1 : 0;
    return without;
}

/// What lies on the grid of those that have both ends.
static std::vector<Stretch> lapsOn(const std::vector<Lap>& laps, double first, double elapsed) {
    std::vector<Stretch> all;
    for (const Lap& lap : laps) {
        const auto place = [&](double time) {
            return static_cast<int>(std::clamp(std::floor(time) - first, 0.0, elapsed));
        };
        if (std::isfinite(lap.start) && std::isfinite(lap.end) && place(lap.end) > place(lap.start))
            all.push_back({place(lap.start), place(lap.end)});
    }
    return all;
}

std::optional<Ride> toGrid(const Recording& recording) {
    Ride ride;
    const std::vector<const Sample*> order = inOrder(recording, ride.faults);
    if (order.empty())
        return std::nullopt;
    const double first = std::floor(order.front()->time);
    ride.start = static_cast<std::int64_t>(first);
    const auto second = [&](const Sample* s) { return static_cast<int>(std::floor(s->time) - first); };
    const auto elapsed = static_cast<size_t>(second(order.back())) + 1;
    for (auto* series : {&ride.power, &ride.heartRate, &ride.cadence, &ride.altitude, &ride.distance,
                         &ride.temperature, &ride.leftShare})
        series->assign(elapsed, missing);

    ride.interval = usualInterval(order);
    const int longestGap = std::max(longestHeldGap, 3 * ride.interval);
    Stretch stretch{0, 0};
    for (size_t i = 0; i < order.size(); ++i) {
        const int at = second(order[i]);
        const int next = i + 1 < order.size() ? second(order[i + 1]) : at + 1;
        const int gap = next - at;
        const int until = gap <= longestGap ? std::max(next, at + 1) : at + 1;
        const Sample s = checked(*order[i], ride.faults);
        ride.hasPower = ride.hasPower || std::isfinite(s.power);
        ride.hasHeartRate = ride.hasHeartRate || std::isfinite(s.heartRate);
        for (auto t = static_cast<size_t>(at); t < static_cast<size_t>(until) && t < elapsed; ++t) {
            ride.power[t] = s.power;
            ride.heartRate[t] = s.heartRate;
            ride.cadence[t] = s.cadence;
            ride.altitude[t] = s.altitude;
            ride.distance[t] = s.distance;
            ride.temperature[t] = s.temperature;
            ride.leftShare[t] = s.leftShare;
        }
        stretch.end = until;
        if (gap > longestGap) {
            ride.stretches.push_back(stretch);
            stretch = {next, next};
        }
    }
    ride.stretches.push_back(stretch);
    ride.laps = lapsOn(recording.laps, first, static_cast<double>(elapsed));
    ride.indoors = recording.indoors || (!moves(ride.altitude) && !moves(ride.distance));
    ride.weight = recording.riderWeight;
    if (ride.hasPower)
        ride.faults.powerMissing = ride.secondsWithout(ride.power);
    return ride;
}

} // namespace marram
