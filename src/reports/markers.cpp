// SPDX-License-Identifier: GPL-3.0-or-later
#include "reports/markers.h"
#include "core/review/history.h"
#include "core/words/phrase.h"
#include "records/again.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace marram {
namespace {

constexpr double effortNoisePercent = 2, driftNoise = 1.5, sessionNoise = 2.7, steadyNoise = 3;
constexpr double easyLow = 0.5, easyHigh = 0.78;
constexpr int longEnough = 2700, nearDays = 56;
constexpr size_t enoughToAdjust = 10;
constexpr size_t leastUsual = 3;

class Collector {
public:
    explicit Collector(const WholeRecord& record) : r_(record) {
        for (const TestRecord& t : record.tests)
            if (t.result.verdict != Verdict::Declined && t.result.day <= record.today)
                results_.push_back(t.result);
    }

    std::vector<Marker> all() {
        tests();
        checks();
        maximal();
        sessions();
        steady();
        std::erase_if(markers_, [](const Marker& m) { return m.points.size() < 2; });
        return std::move(markers_);
    }

private:
    void tests() {
        for (int i = 0; i < protocolCount; ++i) {
            const auto protocol = static_cast<Protocol>(i);
            if (protocol == Protocol::AerobicCheck || protocol == Protocol::DurabilityCheck)
                continue;
            std::set<std::string> places;
            for (const TestResult& t : results_)
                if (t.protocol == protocol)
                    places.insert(t.place);
            const ProtocolWords& w = wordsFor(protocol);
            for (const std::string& place : places) {
                Marker m{Marker::Kind::Test,
                         translated(w.name) + (place.empty() ? "" : ", " + place),
                         w.unit,
                         {effortNoisePercent, true},
                         0,
                         w.seconds,
                         true,
                         {}};
                // Of efforts of any length only those of one length are alike.
                std::map<int, std::vector<TestPoint>> byLength;
                for (const TestResult& t : trendOf(results_, protocol, place))
                    byLength[w.seconds > 0 || protocol == Protocol::Climb ? 0 : static_cast<int>(t.seconds)]
                        .push_back({t.day, atSeaLevel(t)});
                for (auto& [length, points] : byLength) {
                    m.points = std::move(points);
                    if (length > 0) {
                        m.seconds = length;
                        m.name = translated(w.name) + ", " + durationText(length);
                    }
                    oneADay(m);
                    markers_.push_back(m);
                }
            }
        }
    }

    void checks() {
        const auto collect = [&](Protocol protocol, const std::string& name, const char* unit,
                                 MarkerNoise noise, int decimals, bool better, auto value) {
            Marker m{Marker::Kind::Check, name, unit, noise, decimals, 0, better, {}};
            for (const TestResult& t : trendOf(results_, protocol, {}))
                m.points.push_back({t.day, value(t)});
            oneADay(m);
            markers_.push_back(std::move(m));
        };
        collect(Protocol::AerobicCheck, phrase("Aerobic check, efficiency"), "W/bpm",
                {effortNoisePercent, true}, 2, true, [](const TestResult& t) { return t.value; });
        collect(Protocol::AerobicCheck, phrase("Aerobic check, drift"), "%", {driftNoise, false}, 1, false,
                [](const TestResult& t) { return t.second; });
        collect(Protocol::DurabilityCheck, phrase("Durability check, power lost"), "%",
                {2 * driftNoise, false}, 1, false, [](const TestResult& t) { return durabilityLoss(t); });
    }

    void maximal() {
        std::map<int, Marker> byLength;
        for (const KeptMaximal& k : r_.heard.maximal) {
            const bool tested = std::any_of(results_.begin(), results_.end(), [&](const TestResult& t) {
                return t.day == k.day && wordsFor(t.protocol).maximal;
            });
            if (tested || k.day > r_.today || !r_.rideById(k.ride))
                continue;
            Marker& m = byLength[k.seconds];
            m.kind = Marker::Kind::Maximal;
            m.name = phrase("%1 all out", durationText(k.seconds));
            m.unit = "W";
            m.noise = {effortNoisePercent, true};
            m.seconds = k.seconds;
            m.points.push_back({k.day, k.power});
        }
        for (auto& [seconds, m] : byLength) {
            oneADay(m);
            markers_.push_back(std::move(m));
        }
    }

    void sessions() {
        std::map<std::pair<std::string, int>, Marker> byRung;
        for (const auto& [day, meant] : r_.meant) {
            if (!meant.mark || !meant.mark->heartRate || *meant.mark->heartRate <= 0 || meant.rung < 1 ||
                day > r_.today || meant.mark->found < meant.mark->of)
                continue;
            Marker& m = byRung[{meant.family, meant.rung}];
            m.kind = Marker::Kind::Session;
            m.name = phrase("The same again: %1", sessionName(meant, r_.book));
            m.unit = "W/bpm";
            m.noise = {sessionNoise, true};
            m.decimals = 2;
            m.points.push_back({day, meant.mark->power / *meant.mark->heartRate});
        }
        for (auto& [rung, m] : byRung)
            markers_.push_back(std::move(m));
    }

    static bool steadyRide(const Score& s) {
        return s.efficiency && s.relativeIntensity && s.equivalentPower && s.duration >= longEnough &&
               !s.indoors && *s.relativeIntensity >= easyLow && *s.relativeIntensity <= easyHigh;
    }

    void steady() {
        Marker m{Marker::Kind::Steady,
                 phrase("Steady rides, watts per beat"),
                 "W/bpm",
                 {steadyNoise, true},
                 2,
                 0,
                 true,
                 {}};
        struct Seen {
            Date day;
            double power = 0, efficiency = 0;
        };
        std::vector<Seen> seen;
        for (const RideRecord& ride : r_.rides) {
            const Score& s = ride.score;
            if (steadyRide(s))
                seen.push_back({ride.day, *s.equivalentPower, *s.efficiency});
        }
        // Whoever rides harder has more watts a beat, since the heart does not begin at none: each ride as if
        // at the usual power, by the rider's own slope within eight weeks, so that what changes over months
        // is not taken for it.
        double xx = 0, xy = 0, usual = 0;
        for (const Seen& a : seen)
            usual += std::log(a.power) / static_cast<double>(seen.size());
        for (size_t i = 0; i < seen.size(); ++i)
            for (size_t k = i + 1; k < seen.size() && seen[k].day - seen[i].day <= nearDays; ++k) {
                const double x = std::log(seen[k].power / seen[i].power);
                xx += x * x;
                xy += x * std::log(seen[k].efficiency / seen[i].efficiency);
            }
        const double slope = seen.size() >= enoughToAdjust && xx > 0 ? std::clamp(xy / xx, 0.0, 1.0) : 0;
        for (const Seen& a : seen)
            m.points.push_back({a.day, a.efficiency * std::exp(slope * (usual - std::log(a.power)))});
        oneADay(m);
        markers_.push_back(std::move(m));
    }

    /// Of a day the best.
    static void oneADay(Marker& m) {
        std::stable_sort(m.points.begin(), m.points.end(),
                         [](const TestPoint& a, const TestPoint& b) { return a.day < b.day; });
        std::vector<TestPoint> kept;
        for (const TestPoint& p : m.points)
            if (kept.empty() || kept.back().day != p.day)
                kept.push_back(p);
            else if ((p.value > kept.back().value) == m.better)
                kept.back() = p;
        m.points = std::move(kept);
    }

    const WholeRecord& r_;
    std::vector<TestResult> results_;
    std::vector<Marker> markers_;
};

} // namespace

std::vector<Marker> markersOf(const WholeRecord& record) {
    return Collector(record).all();
}

std::vector<MaximalDay> maximalDays(const std::vector<Marker>& markers) {
    std::map<Date, std::pair<double, int>> days;
    for (const Marker& m : markers) {
        if (m.kind != Marker::Kind::Maximal && m.kind != Marker::Kind::Test)
            continue;
        for (const TestPoint& p : m.points) {
            std::vector<double> near;
            for (const TestPoint& o : m.points)
                if (std::abs(o.day - p.day) <= halfYear)
                    near.push_back(o.value);
            if (near.size() < leastUsual)
                continue;
            std::sort(near.begin(), near.end());
            const size_t half = near.size() / 2;
            const double usual = near.size() % 2 == 1 ? near[half] : (near[half - 1] + near[half]) / 2;
            days[p.day].first += 100 * p.value / usual;
            ++days[p.day].second;
        }
    }
    std::vector<MaximalDay> all;
    all.reserve(days.size());
    for (const auto& [day, sum] : days)
        all.push_back({day, sum.first / sum.second});
    return all;
}

} // namespace marram
