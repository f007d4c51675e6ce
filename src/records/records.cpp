// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/records.h"
#include "core/rider/physiology.h"
#include "records/fields.h"
#include "wording/wording.h"

#include <algorithm>

namespace marram {

Season completedSeason(const Season& bare, const RiderRecord& rider, const LoadHistory& history,
                       const std::map<Date, double>& ridden, Date today) {
    constexpr int layOffDays = 28;
    Season s = bare;
    s.hours = rider.hours;
    s.born = rider.born;
    s.care = rider.care;
    s.thresholdPower = rider.values.on(Quantity::ThresholdPower, today).value_or(s.thresholdPower);
    s.lowThreshold = rider.values.on(Quantity::LowThreshold, today).value_or(s.lowThreshold);
    s.before = history.before(s.start);
    const auto on = [&](Date day) {
        const auto found = ridden.find(day);
        return found == ridden.end() ? 0 : found->second;
    };
    if (const Date begin = std::min(s.start, today);
        !s.layOff && !ridden.empty() && ridden.begin()->first < begin - layOffDays) {
        const auto last = ridden.lower_bound(begin - layOffDays);
        if (last == ridden.end() || last->first >= begin)
            s.layOff = true;
    }
    // A day already ridden is past; the plan begins after it.
    const Date first = ridden.contains(today) ? today + 1 : today;
    if (first > s.start) {
        s.past = Past{std::min(first, s.end + 1), {}};
        for (Date d = s.start; d < s.past->today; d = d + 1)
            s.past->stress.push_back(on(d));
    }
    return s;
}

std::vector<DaySum> daySumsOf(const std::vector<RideRecord>& rides) {
    std::map<Date, DaySum> days;
    for (const RideRecord& r : rides) {
        if (r.excluded)
            continue;
        DaySum& day = days[r.day];
        day.day = r.day;
        day.stress += r.score.stress.value_or(0);
        day.byPower = day.byPower || r.score.method == StressMethod::Power;
        day.unscored += r.score.stress ? 0 : 1;
        day.unscoredHours += r.score.stress ? 0 : r.score.elapsed / 3600.0;
    }
    std::vector<DaySum> all;
    all.reserve(days.size());
    for (const auto& each : days)
        all.push_back(each.second);
    return all;
}

Counted countRidden(const std::vector<DaySum>& days) {
    Counted counted;
    double points = 0;
    for (const DaySum& d : days) {
        counted.points[d.day] += d.stress;
        counted.unscored += d.unscored;
        points += d.stress;
    }
    counted.byHours = counted.unscored > 0 && points <= 0;
    if (counted.byHours)
        for (const DaySum& d : days)
            counted.points[d.day] += usualPointsPerHour * d.unscoredHours;
    return counted;
}

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

QString valueWords(Quantity quantity, const DatedValue& entry) {
    const QuantityWords& w = wordsFor(quantity);
    return QString(entry.atLeast ? wording("at least %1 %2") : "%1 %2")
        .arg(entry.value, 0, 'f', w.decimals)
        .arg(w.unit)
        .trimmed();
}

QString boundSentence(const RiderRecord& rider, Date day) {
    const DatedValue* t = rider.values.entryOn(Quantity::ThresholdPower, day);
    if (!t || !t->atLeast)
        return {};
    return wording("The threshold is %1, a lower bound: nothing maximal was ridden. Points and percentages "
                   "may be too high and targets too easy until a test tells; twenty minutes would do.")
        .arg(valueWords(Quantity::ThresholdPower, *t));
}

bool scoredAlike(const RiderRecord& a, const RiderRecord& b) {
    return a.values == b.values && a.sex == b.sex && a.born == b.born && a.scales == b.scales;
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

namespace {

const QString notRiding =
    wording(", not riding: it stays in the list and counts for nothing until you say otherwise");

} // namespace

QString otherSportRemark(const QString& sport) {
    return wording("is %1%2", sport, notRiding);
}

QString otherSportOf(const RideRecord& ride) {
    for (const QString& remark : ride.remarks)
        if (remark.startsWith("is ") && remark.endsWith(notRiding))
            return remark.mid(3, remark.size() - 3 - notRiding.size());
    return {};
}

bool sameForCoach(const RideRecord& a, const RideRecord& b) {
    return sameEdited(a, b) && a.stale == b.stale;
}

std::vector<int> bestDurations() {
    return {1,    2,    3,    5,    8,    10,   12,   15,   20,   25,   30,   40,    45,    60,   75,   90,
            105,  120,  150,  180,  210,  240,  300,  360,  420,  480,  600,  720,   900,   1080, 1200, 1500,
            1800, 2100, 2400, 2700, 3000, 3600, 4500, 5400, 6300, 7200, 9000, 10800, 14400, 18000};
}

std::vector<std::string> injuriesOn(const RiderRecord& rider, Date day) {
    std::vector<std::string> words;
    for (const Injury& i : rider.injuries)
        if (i.from <= day && (!i.to || *i.to >= day))
            words.push_back(i.what);
    return words;
}

} // namespace marram
