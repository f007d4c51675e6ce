// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/protocol.h"
#include "core/rider/physiology.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace marram {
namespace {

constexpr std::array<ProtocolWords, protocolCount> protocols{{
    {marked("Threshold, 20 minutes"), "threshold_20_min", marked("mean power of the 20 minutes, W"), "W",
     marked("Near the end of a deload week. Warm up 15 min: 5 easy, 5 at endurance, 5 at 85–95 %. Ride 5 min "
            "hard, "
            "then 10 min easy. Then 20 min as hard as can be held evenly: start a little under what you hope "
            "for, "
            "and give what is left over the last 5. Same road or trainer every time. Threshold is 95 % of "
            "the mean."),
     true, 1.0, 1200, 56, 0.95},
    {marked("Threshold, ramp"), "threshold_ramp", marked("best one-minute power, W"), "W",
     marked("On a trainer. Warm up 15 min. Begin at about half of threshold and add 5–6 % of threshold every "
            "minute, "
            "seated, until the cadence can't be held. Threshold is 75 % of the best minute."),
     true, 1.0, 60, 56, 0.75},
    {marked("Threshold, one hour"), "threshold_hour", marked("mean power of the hour, W"), "W",
     marked("A flat time trial or a trainer. Warm up 20 min. Ride 60 min as hard as can be held evenly. Fuel "
            "as in "
            "a "
            "race. The mean is the threshold."),
     true, 1.0, 3600, 56, 1.0},
    {marked("Benchmark climb"), "benchmark_climb", marked("mean power of the climb, W"), "W",
     marked("Always the same climb, 10–40 min, from the same mark to the same mark, on fresh legs. Warm up "
            "20 min, "
            "ride it as fast as can be held evenly, write down power, time and weather."),
     true, 1.0, 0, 56, 0},
    {marked("Sprint, 5 seconds"), "sprint_5_s", marked("best 5 s power, W"), "W",
     marked("First day of a block, fresh. Warm up 20 min with two short accelerations. Three sprints of 8 s "
            "from a "
            "rolling start, 5 min easy between; the best 5 s count."),
     true, 0.0, 5, 56, 0},
    {marked("Sprint, 30 seconds"), "sprint_30_s", marked("mean power of the 30 s, W"), "W",
     marked("Fresh, after 20 min warm-up. 30 s all out from a rolling start, no holding back. Ride easy for "
            "15 min "
            "after."),
     true, 0.0, 30, 56, 0},
    {marked("One minute"), "power_1_min", marked("mean power of the minute, W"), "W",
     marked("Fresh, after 20 min warm-up. One minute all out on a road that rises gently, seated for most of "
            "it."),
     true, 0.5, 60, 56, 0},
    {marked("Five minutes"), "power_5_min", marked("mean power of the 5 min, W"), "W",
     marked("Fresh, after 20 min warm-up with 1 min at threshold. Five minutes as hard as can be held "
            "evenly. With "
            "weight it gives the oxygen uptake."),
     true, 1.0, 300, 56, 0},
    {marked("Aerobic check"), "aerobic_check", marked("efficiency of the steady hour, W/bpm"), "W/bpm",
     marked(
         "One steady hour at about 75 % of threshold, on a road without stops or a trainer, well fuelled, "
         "cool. "
         "Power over heart rate is the efficiency; its fall from the first half to the second is the drift. "
         "Drift under 5 % is good."),
     false, 0.0, 3600, 28, 0},
    {marked("Durability check"), "durability_check", marked("power of the fresh effort, W"), "W",
     marked("An effort of 8–20 min fresh, then a long endurance ride (about 2000 kJ), then the same effort "
            "again. "
            "Same road, same position. The loss measures the ride between; good for comparing fuelling and "
            "pacing."),
     true, 1.0, 480, 84, 0},
    {marked("Maximal effort, 2 to 20 min"), "maximal_effort", marked("mean power of the effort, W"), "W",
     marked(
         "Fresh, after 20 min warm-up with 1 min at threshold. As hard as can be held evenly for the length "
         "chosen, say "
         "3 or 12 min; on a day of its own, or after half an hour of easy riding. Three of different length "
         "give "
         "critical power."),
     true, 1.0, 0, 56, 0},
}};

int decimalsOf(Protocol p) {
    return p == Protocol::AerobicCheck ? 2 : 0;
}

bool threshold(Protocol p) {
    return wordsFor(p).thresholdPart > 0;
}

} // namespace

const ProtocolWords& wordsFor(Protocol protocol) {
    return protocols[static_cast<size_t>(protocol)];
}

std::optional<Protocol> protocolNamed(std::string_view key) {
    for (size_t i = 0; i < protocols.size(); ++i)
        if (key == protocols[i].key)
            return static_cast<Protocol>(i);
    return std::nullopt;
}

std::string whyImpossible(const TestResult& r) {
    const auto outside = [](double v, double low, double high) { return !(v >= low && v <= high); };
    const bool check = r.protocol == Protocol::AerobicCheck;
    if (check ? outside(r.value, 0.2, 5) : outside(r.value, 20, 2500))
        return check ? phrase("An efficiency is 0.2 to 5 W/bpm.") : phrase("A power is 20 to 2500 W.");
    if (check && outside(r.second, -50, 80))
        return phrase("A drift is -50 to 80 %.");
    if (r.protocol == Protocol::DurabilityCheck) {
        if (outside(r.second, 20, 2500))
            return phrase("The power of the second effort is 20 to 2500 W.");
        if (outside(r.workKj, 100, 20000))
            return phrase("The work between the efforts is 100 to 20000 kJ.");
    }
    if ((r.protocol == Protocol::MaximalEffort && outside(r.seconds, 120, 1200)))
        return phrase("A maximal effort for critical power lasts 2 to 20 minutes.");
    if (r.altitudeM && outside(*r.altitudeM, -430, 5000))
        return phrase("An altitude is -430 to 5000 m.");
    return {};
}

double atSeaLevel(const TestResult& r) {
    const double part = wordsFor(r.protocol).aerobic;
    if (!r.altitudeM || part <= 0)
        return r.value;
    const double left = std::min(1.0, aerobicPowerLeft(*r.altitudeM / 1000, r.acclimatised));
    return r.value / (1 - part * (1 - left));
}

double durabilityLoss(const TestResult& r) {
    return (r.value - r.second) / r.value * 100;
}

std::optional<double> thresholdFrom(const TestResult& r) {
    if (!threshold(r.protocol))
        return std::nullopt;
    return wordsFor(r.protocol).thresholdPart * r.value;
}

std::vector<TestResult> trendOf(std::span<const TestResult> all, Protocol protocol,
                                const std::string& place) {
    std::vector<TestResult> trend;
    for (const TestResult& r : all)
        if (r.protocol == protocol && r.place == place && r.verdict != Verdict::Declined)
            trend.push_back(r);
    std::stable_sort(trend.begin(), trend.end(),
                     [](const TestResult& a, const TestResult& b) { return a.day < b.day; });
    return trend;
}

static std::string altitudeWords(const TestResult& r, double atSea) {
    return phrase(", %1 W at sea level (%2 m, %3: %4 % of aerobic power is left, %5 at x km; Bassett "
                  "1999), for comparing; up there what was measured holds",
                  fixedText(atSea, 0), fixedText(*r.altitudeM, 0),
                  (r.acclimatised ? phrase("acclimatised") : phrase("not acclimatised")),
                  fixedText(100 * r.value / atSea, 1),
                  (r.acclimatised ? "−1.12x² − 1.90x + 99.9" : "0.178x³ − 1.43x² − 4.07x + 100"));
}

std::string describeResult(const TestResult& r, std::span<const TestResult> all, const RiderValues& known) {
    const ProtocolWords& w = wordsFor(r.protocol);
    const int decimals = decimalsOf(r.protocol);
    std::string out = fixedText(r.value, decimals) + " " + w.unit;
    if (const auto kg = known.on(Quantity::Weight, r.day); kg && r.protocol != Protocol::AerobicCheck)
        out += " (" + fixedText(r.value / *kg, 2) + " W/kg)";
    const double level = atSeaLevel(r);
    if (std::abs(level - r.value) > 0.5)
        out += altitudeWords(r, level);
    out += ".";
    if (r.protocol == Protocol::AerobicCheck)
        out += phrase(" Drift %1 %: %2", fixedText(r.second, 1),
                      (r.second < 5 ? phrase("good.")
                                    : phrase("over 5 %, so the hour was not yet easy aerobic work.")));
    if (r.protocol == Protocol::DurabilityCheck)
        out += phrase(" After %1 kJ %2 W: %3 % lost.", fixedText(r.workKj, 0), fixedText(r.second, 0),
                      fixedText(durabilityLoss(r), 1));
    if (r.protocol == Protocol::Power5min)
        if (const auto kg = known.on(Quantity::Weight, r.day))
            out += phrase(" Oxygen uptake %1 to %2 ml/kg/min (10.8 × W/kg + 7, ± 7 % because riders differ "
                          "in efficiency).",
                          fixedText(oxygenUptake(level / *kg) * (1 - oxygenUptakeError), 0),
                          fixedText(oxygenUptake(level / *kg) * (1 + oxygenUptakeError), 0));
    const auto trend = trendOf(all, r.protocol, r.place);
    const TestResult* before = nullptr;
    for (const TestResult& t : trend)
        if (t.day < r.day)
            before = &t;
    if (before) {
        const double change = 100 * (level / atSeaLevel(*before) - 1);
        out += phrase(" %1%2 % since %3, same test.", (change >= 0 ? "+" : "−"),
                      fixedText(std::abs(change), 1), dayText(before->day));
    }
    if (const auto t = thresholdFrom(r)) {
        const auto now = known.on(Quantity::ThresholdPower, r.day);
        out += phrase(" Threshold %1 % of it, %2 W", fixedText(w.thresholdPart * 100, 0), fixedText(*t, 0));
        out += now ? phrase(" where %1 W holds now.", fixedText(*now, 0)) : ".";
    }
    return out;
}

/// After the last test or climb that tells the threshold; null where there is none.
static DueTest nextThreshold(std::span<const TestResult> done, const TestResult* bench, Date today,
                             std::span<const Date> deloadEnds) {
    constexpr int sixWeeks = 42, eightWeeks = 56;
    DueTest next;
    // Whatever threshold test the rider is used to comes again; with none yet, the shortest honest one.
    next.protocol = Protocol::TwentyMinutes;
    if (bench && bench->protocol != Protocol::Climb)
        next.protocol = Protocol::Climb;
    else
        for (const TestResult& r : done)
            if (threshold(r.protocol) && r.verdict != Verdict::Declined)
                next.protocol = r.protocol;
    if (!bench) {
        next.from = today;
        next.why = phrase("No threshold test yet.");
    } else {
        const Date early = bench->day + sixWeeks, late = bench->day + eightWeeks;
        const auto end = std::find_if(deloadEnds.begin(), deloadEnds.end(),
                                      [&](Date d) { return d - 1 >= std::max(early, today); });
        const bool fits = end != deloadEnds.end() && *end - 1 <= std::max(late, today + 14);
        next.from = fits ? *end - 1 : late;
        next.why = phrase("%1 was on %2%3", translated(wordsFor(bench->protocol).name), dayText(bench->day),
                          (fits ? phrase("; the end of a deload week, six to eight weeks on, suits best.")
                                : phrase("; tests come every six to eight weeks.")));
    }
    return next;
}

std::vector<DueTest> testsDue(std::span<const TestResult> done, Date today, std::span<const Date> deloadEnds,
                              bool hasPower) {
    std::vector<DueTest> due;
    if (!hasPower)
        return due;
    const TestResult *bench = nullptr, *check = nullptr;
    for (const TestResult& r : done) {
        if (r.verdict == Verdict::Declined || r.day > today)
            continue;
        const bool isBench = threshold(r.protocol) || r.protocol == Protocol::Climb;
        if (isBench && (!bench || r.day >= bench->day))
            bench = &r;
        if (r.protocol == Protocol::AerobicCheck && (!check || r.day >= check->day))
            check = &r;
    }
    due.push_back(nextThreshold(done, bench, today, deloadEnds));
    constexpr int threeWeeks = 21;
    DueTest hour;
    hour.protocol = Protocol::AerobicCheck;
    hour.from = check ? check->day + threeWeeks : today;
    hour.why = check ? phrase("The last steady hour was on %1; it comes every three to four weeks.",
                              dayText(check->day))
                     : phrase("No aerobic check yet.");
    due.push_back(hour);
    return due;
}

} // namespace marram
