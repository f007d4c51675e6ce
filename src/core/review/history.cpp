// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/history.h"
#include "core/learn/change.h"
#include "core/learn/trend.h"
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <functional>
#include <map>

namespace marram {
namespace {

const CurvePoint* at(const std::vector<CurvePoint>& curve, int seconds) {
    for (const CurvePoint& p : curve)
        if (p.seconds == seconds)
            return &p;
    return nullptr;
}

} // namespace

std::string durationText(int s) {
    if (s < 60)
        return std::to_string(s) + " s";
    if (s < 3600)
        return s % 60 == 0 ? std::to_string(s / 60) + " min"
                           : std::to_string(s / 60) + " min " + std::to_string(s % 60) + " s";
    return std::to_string(s / 3600) + " h" + (s % 3600 >= 60 ? " " + std::to_string(s % 3600 / 60) : "");
}

std::vector<CurvePoint> spanCurve(std::span<const RideBests> rides, Date from, Date to) {
    std::map<int, CurvePoint> best;
    for (const RideBests& r : rides) {
        if (r.day < from || r.day > to)
            continue;
        for (const BestEffort& b : r.best) {
            CurvePoint& p = best[b.seconds];
            if (p.seconds == 0 || b.power > p.power)
                p = {b.seconds, b.power, r.ride, r.day, b.start};
        }
    }
    std::vector<CurvePoint> curve;
    curve.reserve(best.size());
    for (const auto& [seconds, point] : best)
        curve.push_back(point);
    // Who held a power for longer also held it for less: rides without a shorter duration can't undercut.
    for (size_t i = curve.size(); i-- > 1;)
        if (curve[i - 1].power < curve[i].power) {
            const int seconds = curve[i - 1].seconds;
            curve[i - 1] = curve[i];
            curve[i - 1].seconds = seconds;
        }
    return curve;
}

/// A change in per cent with its band of 80 of 100.
static std::string changeWords(double percent, double from, double to) {
    // Said only where 95 of 100 such bands exclude none: of five durations one in four years is a false
    // one.
    const double wider = 1.96 / 1.2816;
    const double low = percent - wider * (percent - from), high = percent + wider * (to - percent);
    const std::string band = phrase("80 %: %1 to %2", signedText(from, 1), signedText(to, 1));
    if (low <= 0 && high >= 0)
        return phrase("no change to be told (%1 %, %2)", signedText(percent, 1), band);
    return phrase(percent > 0 ? "up %1 % (%2)" : "down %1 % (%2)", fixedText(std::abs(percent), 1), band);
}

std::vector<Improvement> improvements(std::span<const RideBests> rides, Date today) {
    constexpr int halfYear = 182, year = 365;
    const auto now = spanCurve(rides, today - halfYear + 1, today);
    std::vector<Improvement> all;
    constexpr std::array looked{5, 60, 300, 1200, 3600};
    // One effort a ride, of the last half year and of the same months a year before.
    std::vector<DatedEffort> efforts;
    std::map<int, std::pair<int, int>> counts; // before, now
    for (const RideBests& r : rides) {
        const bool lately = r.day > today - halfYear && r.day <= today,
                   then = r.day > today - halfYear - year && r.day <= today - year;
        if (!lately && !then)
            continue;
        for (const BestEffort& b : r.best)
            if (std::find(looked.begin(), looked.end(), b.seconds) != looked.end()) {
                efforts.push_back({r.day, b.seconds, b.power});
                ++(lately ? counts[b.seconds].second : counts[b.seconds].first);
            }
    }
    constexpr int deals = 400; // enough for a band of whole tenths
    const auto changes = learnChange(efforts, today - halfYear + 1, 1, deals);
    for (const int seconds : looked) {
        Improvement i;
        i.seconds = seconds;
        if (const CurvePoint* p = at(now, seconds))
            i.best = *p;
        i.ridesBefore = counts[seconds].first;
        i.rides = counts[seconds].second;
        const auto change = std::find_if(changes.begin(), changes.end(),
                                         [&](const EffortChange& c) { return c.seconds == seconds; });
        if (change == changes.end()) {
            i.words =
                i.rides < 3 ? phrase("under three efforts lately") : phrase("under three efforts a year ago");
            all.push_back(i);
            continue;
        }
        i.now = change->after;
        i.before = change->before;
        i.percent = change->percent;
        // A handful of efforts that happen to agree are no surer than a power meter is: a per cent at least.
        i.low = std::min(change->low, change->percent - 1);
        i.high = std::max(change->high, change->percent + 1);
        i.words = changeWords(change->percent, i.low, i.high);
        all.push_back(i);
    }
    return all;
}

static std::string driftWords(double drift) {
    if (drift < -3)
        return phrase(", under −3 %: look at the data, heat, fluid, caffeine and stops move it too. ");
    return drift < 5 ? phrase(", which is good. ") : phrase("; under 5 % is good. ");
}

AerobicTrend aerobicTrend(std::span<const TestResult> results, Date today) {
    AerobicTrend t;
    t.checks = trendOf(results, Protocol::AerobicCheck, {});
    if (t.checks.empty()) {
        t.words = phrase(
            "No aerobic check yet: one steady hour at about 75 % of threshold, every three to four weeks.");
        return t;
    }
    const TestResult& last = t.checks.back();
    t.words = phrase("The last steady hour came to %1 W/bpm with a drift of %2 %%3", fixedText(last.value, 2),
                     fixedText(last.second, 1), driftWords(last.second));
    constexpr size_t most = 6;
    constexpr int days = 180;
    std::vector<const TestResult*> used;
    for (auto c = t.checks.rbegin(); c != t.checks.rend() && used.size() < most; ++c)
        if (c->day <= today && today - c->day <= days)
            used.push_back(&*c);
    t.used = static_cast<int>(used.size());
    if (t.used < 3) {
        t.words += phrase("A trend takes three checks within half a year; there %1",
                          (t.used == 1   ? phrase("is one.")
                           : t.used == 0 ? phrase("are none.")
                                         : phrase("are two.")));
        return t;
    }
    std::vector<TestPoint> points;
    points.reserve(used.size());
    for (const TestResult* c : used)
        points.push_back({c->day, c->value});
    constexpr double month = 30.4, usual = 2; // days; per cent
    const auto trend = trendOf(points, used.back()->day, used.front()->day, {usual, true});
    if (!trend)
        return t;
    const double months = (used.front()->day - used.back()->day) / month;
    t.slope = trend->change.value / months;
    t.low = trend->change.low / months;
    t.high = trend->change.high / months;
    const auto percent = [](double v) { return (v < 0 ? "−" : "+") + fixedText(std::abs(v), 1); };
    const std::string interval = phrase(" (%1 % a month, 80 %: %2 to %3, from %4 checks)", percent(t.slope),
                                        percent(t.low), percent(t.high), std::to_string(t.used));
    if (t.low > 0) {
        t.verdict = AerobicTrend::Verdict::Rising;
        t.words += phrase("Efficiency is rising%1: the easy riding still pays.", interval);
    } else if (t.high < 1) {
        t.verdict = AerobicTrend::Verdict::NotRising;
        t.words += phrase("Efficiency is not rising%1. The low-intensity stimulus is used up; move on to "
                          "tempo or sub-threshold work.",
                          interval);
    } else {
        t.words += phrase("Whether efficiency rises can't be told yet%1; single checks vary by about 2 %.",
                          interval);
    }
    return t;
}

DurabilityTrend durabilityTrend(std::span<const TestResult> results) {
    DurabilityTrend t;
    t.checks = trendOf(results, Protocol::DurabilityCheck, {});
    if (t.checks.empty()) {
        t.words =
            phrase("No durability check yet: an effort of 8–20 min, a long ride of about 2000 kJ, the same "
                   "effort again.");
        return t;
    }
    const TestResult& last = t.checks.back();
    t.words = phrase("After %1 kJ the same effort lost %2 %", fixedText(last.workKj, 0),
                     fixedText(durabilityLoss(last), 1));
    const TestResult* before = nullptr;
    for (const TestResult& c : t.checks)
        if (&c != &last && std::abs(c.workKj - last.workKj) <= 0.15 * last.workKj)
            before = &c;
    if (before) {
        const double change = durabilityLoss(last) - durabilityLoss(*before);
        const std::string then = phrase("%1 % on %2 after %3 kJ", fixedText(durabilityLoss(*before), 1),
                                        dayText(before->day), fixedText(before->workKj, 0));
        t.words += std::abs(change) <= 5
                       ? phrase(", against %1: no difference to be told (within 5 points)", then)
                   : change < 0 ? phrase(", less than the %1", then)
                                : phrase(", more than the %1", then);
    } else if (t.checks.size() > 1) {
        t.words +=
            phrase("; no other check had work within 15 % of that, so there is nothing to compare it with");
    }
    t.words += ".";
    return t;
}

} // namespace marram
