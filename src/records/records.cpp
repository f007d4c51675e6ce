// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/records.h"
#include "core/rider/physiology.h"

#include <algorithm>

namespace marram {

Moving movingOf(const RiderRecord& rider, Date day) {
    constexpr double bicycle = 8, ordinary = 75; // kg
    Moving m;
    m.mass = rider.values.on(Quantity::Weight, day).value_or(ordinary) + bicycle;
    return m;
}

std::optional<int> ageOn(const RiderRecord& rider, Date day) {
    return rider.born ? std::optional(toCivil(day).year - *rider.born) : std::nullopt;
}

std::optional<HeartRateRange> heartRateRangeOn(const RiderRecord& rider, Date day) {
    const auto rest = rider.values.on(Quantity::RestingHeartRate, day);
    const auto threshold = rider.values.on(Quantity::ThresholdHeartRate, day);
    auto highest = rider.values.on(Quantity::MaximalHeartRate, day);
    if (!highest)
        if (const auto age = ageOn(rider, day))
            highest = std::max(expectedMaxHeartRate(*age), threshold.value_or(0));
    if (!rest || !threshold || !highest || *rest >= *threshold || *threshold > *highest)
        return std::nullopt;
    return HeartRateRange{{*rest}, {*threshold}, {*highest}, rider.sex};
}

ScoringBasis basisOn(const RiderRecord& rider, Date day) {
    ScoringBasis basis;
    if (const auto power = rider.values.on(Quantity::ThresholdPower, day))
        basis.threshold = Watts{*power};
    basis.lowThreshold = rider.values.on(Quantity::LowThreshold, day).value_or(defaultLowThreshold);
    basis.heartRate = heartRateRangeOn(rider, day);
    return withScales(basis, rider.scales);
}

bool scoredAlike(const RiderRecord& a, const RiderRecord& b, Date day) {
    const ScoringBasis x = basisOn(a, day), y = basisOn(b, day);
    const auto same = [](const std::optional<HeartRateRange>& p, const std::optional<HeartRateRange>& q) {
        return p.has_value() == q.has_value() &&
               (!p || (p->rest.value == q->rest.value && p->threshold.value == q->threshold.value &&
                       p->max.value == q->max.value && p->sex == q->sex));
    };
    return x.threshold.value_or(Watts{}).value == y.threshold.value_or(Watts{}).value &&
           x.threshold.has_value() == y.threshold.has_value() && x.lowThreshold == y.lowThreshold &&
           same(x.heartRate, y.heartRate);
}

bool sameForCoach(const RideRecord& a, const RideRecord& b) {
    return a.note == b.note && a.effort == b.effort && a.excluded == b.excluded &&
           a.corrections == b.corrections && a.stale == b.stale;
}

std::vector<int> bestDurations() {
    return {1,    2,    3,    5,    8,    10,   12,   15,   20,   25,   30,   40,    45,    60,   75,   90,
            105,  120,  150,  180,  210,  240,  300,  360,  420,  480,  600,  720,   900,   1080, 1200, 1500,
            1800, 2100, 2400, 2700, 3000, 3600, 4500, 5400, 6300, 7200, 9000, 10800, 14400, 18000};
}

} // namespace marram
