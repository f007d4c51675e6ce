// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/rider.h"
#include "core/words/phrase.h"

#include <algorithm>

namespace marram {
namespace {

constexpr std::array<QuantityWords, quantityCount> words{
    {{marked("Threshold power"), "threshold_power_w", "W", 30, 700, 0},
     {marked("Threshold heart rate"), "threshold_hr_bpm", "bpm", 60, 240, 0},
     {marked("Low threshold"), "low_threshold", "", 0.5, 0.95, 2},
     {marked("Weight"), "weight_kg", "kg", 25, 250, 1},
     {marked("Resting heart rate"), "rest_hr_bpm", "bpm", 25, 120, 0},
     {marked("Maximal heart rate"), "max_hr_bpm", "bpm", 80, 250, 0}}};

auto placeOf(auto& entries, Date from) {
    return std::lower_bound(entries.begin(), entries.end(), from,
                            [](const DatedValue& v, Date d) { return v.from < d; });
}

} // namespace

const QuantityWords& wordsFor(Quantity quantity) {
    return words[static_cast<size_t>(quantity)];
}

std::optional<Quantity> quantityNamed(std::string_view key) {
    for (size_t q = 0; q < quantityCount; ++q)
        if (key == words[q].key)
            return static_cast<Quantity>(q);
    return std::nullopt;
}

const DatedValue* RiderValues::entryOn(Quantity q, Date day) const {
    const auto& entries = of(q);
    if (entries.empty())
        return nullptr;
    const auto after = placeOf(entries, day + 1);
    return after == entries.begin() ? &entries.front() : &*(after - 1);
}

std::optional<double> RiderValues::on(Quantity q, Date day) const {
    const DatedValue* entry = entryOn(q, day);
    return entry ? std::optional(entry->value) : std::nullopt;
}

void RiderValues::set(Quantity q, const DatedValue& entry) {
    auto& entries = all_[static_cast<size_t>(q)];
    const auto at = placeOf(entries, entry.from);
    if (at != entries.end() && at->from == entry.from)
        *at = entry;
    else
        entries.insert(at, entry);
}

void RiderValues::remove(Quantity q, Date from) {
    std::erase_if(all_[static_cast<size_t>(q)], [&](const DatedValue& v) { return v.from == from; });
}

bool RiderValues::empty() const {
    return std::all_of(all_.begin(), all_.end(), [](const auto& entries) { return entries.empty(); });
}

int zoneOf(Watts power, Watts threshold) {
    const auto edge = std::find_if(zoneEdges.begin(), zoneEdges.end(),
                                   [&](double e) { return power.value <= e * threshold.value; });
    return static_cast<int>(edge - zoneEdges.begin());
}

double heartRateAt(double fraction, const HeartRateRange& range) {
    constexpr double unloaded = 0.2;
    return range.rest.value +
           (unloaded + (1 - unloaded) * fraction) * (range.threshold.value - range.rest.value);
}

std::array<double, 5> heartRateZoneEdges(const HeartRateRange& range) {
    std::array<double, 5> edges;
    for (size_t z = 0; z < 4; ++z)
        edges[z] = std::min(heartRateAt(zoneEdges[z], range), range.max.value);
    edges[4] = range.max.value;
    return edges;
}

Bands stressPerHour(double lowThreshold) {
    const auto points = [](double intensity) { return 100.0 * intensity * intensity; };
    constexpr double gentlest = 0.635, steadiest = 0.69; // what endurance is ridden at, whoever rides it
    return {points(std::clamp(0.845 * lowThreshold, gentlest, steadiest)),
            points(lowThreshold + (1.0 - lowThreshold) / 3.0), points(1.0 + (zoneEdges[4] - 1.0) / 8.0)};
}

double stressPerHour(const Bands& split, double lowThreshold) {
    const Bands each = stressPerHour(lowThreshold);
    return split.low * each.low + split.middle * each.middle + split.high * each.high;
}

} // namespace marram
