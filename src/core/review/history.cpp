// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/history.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <map>

namespace marram {
namespace {

std::string fixed(double v, int decimals) {
    char text[32];
    std::snprintf(text, sizeof text, "%.*f", decimals, v);
    return text;
}

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

namespace {

/// The mean of the three best efforts of a duration, one a ride; nothing under three.
std::optional<double> threeBest(std::span<const RideBests> rides, Date from, Date to, int seconds,
                                int& count) {
    std::vector<double> powers;
    for (const RideBests& r : rides) {
        if (r.day < from || r.day > to)
            continue;
        for (const BestEffort& b : r.best)
            if (b.seconds == seconds)
                powers.push_back(b.power);
    }
    count = static_cast<int>(powers.size());
    if (powers.size() < 3)
        return std::nullopt;
    std::partial_sort(powers.begin(), powers.begin() + 3, powers.end(), std::greater<>());
    return (powers[0] + powers[1] + powers[2]) / 3;
}

} // namespace

std::vector<Improvement> improvements(std::span<const RideBests> rides, Date today) {
    constexpr int halfYear = 182, year = 365;
    const auto now = spanCurve(rides, today - halfYear + 1, today);
    std::vector<Improvement> all;
    for (const int seconds : {5, 60, 300, 1200, 3600}) {
        Improvement i;
        i.seconds = seconds;
        if (const CurvePoint* p = at(now, seconds))
            i.best = *p;
        i.now = threeBest(rides, today - halfYear + 1, today, seconds, i.rides);
        i.before = threeBest(rides, today - halfYear - year + 1, today - year, seconds, i.ridesBefore);
        if (i.now && i.before && *i.before > 0) {
            i.percent = 100 * (*i.now / *i.before - 1);
            const std::string band = " ± " + fixed(improvementBand, 0) + " %";
            const std::string change = fixed(std::abs(*i.percent), 1);
            i.words =
                std::abs(*i.percent) < improvementBand
                    ? "no change to be told (" + std::string(*i.percent < 0 ? "−" : "+") + change + band + ")"
                    : (*i.percent > 0 ? "up " : "down ") + change + band;
        } else {
            i.words = !i.now ? "under three efforts lately" : "under three efforts a year ago";
        }
        all.push_back(i);
    }
    return all;
}

AerobicTrend aerobicTrend(std::span<const TestResult> results, Date today) {
    AerobicTrend t;
    t.checks = trendOf(results, Protocol::AerobicCheck, {});
    if (t.checks.empty()) {
        t.words =
            "No aerobic check yet: one steady hour at about 75 % of threshold, every three to four weeks.";
        return t;
    }
    const TestResult& last = t.checks.back();
    t.words =
        "The last steady hour came to " + fixed(last.value, 2) + " W/bpm with a drift of " +
        fixed(last.second, 1) + " %" +
        (last.second < -3  ? ", under −3 %: look at the data, heat, fluid, caffeine and stops move it too. "
         : last.second < 5 ? ", which is good. "
                           : "; under 5 % is good. ");
    constexpr size_t most = 6;
    constexpr int days = 180;
    std::vector<const TestResult*> used;
    for (auto c = t.checks.rbegin(); c != t.checks.rend() && used.size() < most; ++c)
        if (c->day <= today && today - c->day <= days)
            used.push_back(&*c);
    t.used = static_cast<int>(used.size());
    if (t.used < 3) {
        t.words +=
            "A trend takes three checks within half a year; there " + (t.used == 1   ? std::string("is one.")
                                                                       : t.used == 0 ? "are none."
                                                                                     : "are two.");
        return t;
    }
    double meanX = 0, meanY = 0;
    for (const TestResult* c : used) {
        meanX += static_cast<double>(c->day - today) / t.used;
        meanY += std::log(c->value) / t.used;
    }
    double xx = 0, xy = 0, squares = 0;
    for (const TestResult* c : used) {
        const double x = (c->day - today) - meanX;
        xx += x * x;
        xy += x * (std::log(c->value) - meanY);
    }
    if (xx <= 0)
        return t;
    const double slope = xy / xx;
    for (const TestResult* c : used) {
        const double off = std::log(c->value) - meanY - slope * ((c->day - today) - meanX);
        squares += off * off;
    }
    constexpr double usual = 0.02, ninety = 1.281552; // 90 % of a normal distribution: 80 % between
    const double noise = std::max(usual, std::sqrt(squares / std::max(1, t.used - 2)));
    const double month = 100 * 30.4;
    t.slope = month * slope;
    t.low = month * (slope - ninety * noise / std::sqrt(xx));
    t.high = month * (slope + ninety * noise / std::sqrt(xx));
    const auto percent = [](double v) { return (v < 0 ? "−" : "+") + fixed(std::abs(v), 1); };
    const std::string interval = " (" + percent(t.slope) + " % a month, 80 %: " + percent(t.low) + " to " +
                                 percent(t.high) + ", from " + std::to_string(t.used) + " checks)";
    if (t.low > 0) {
        t.verdict = AerobicTrend::Verdict::Rising;
        t.words += "Efficiency is rising" + interval + ": the easy riding still pays.";
    } else if (t.high < 1) {
        t.verdict = AerobicTrend::Verdict::NotRising;
        t.words += "Efficiency is not rising" + interval +
                   ". The low-intensity stimulus is used up; move on to tempo or sub-threshold work.";
    } else {
        t.words +=
            "Whether efficiency rises can't be told yet" + interval + "; single checks vary by about 2 %.";
    }
    return t;
}

DurabilityTrend durabilityTrend(std::span<const TestResult> results) {
    DurabilityTrend t;
    t.checks = trendOf(results, Protocol::DurabilityCheck, {});
    if (t.checks.empty()) {
        t.words = "No durability check yet: an effort of 8–20 min, a long ride of about 2000 kJ, the same "
                  "effort again.";
        return t;
    }
    const TestResult& last = t.checks.back();
    t.words = "After " + fixed(last.workKj, 0) + " kJ the same effort lost " +
              fixed(durabilityLoss(last), 1) + " %";
    const TestResult* before = nullptr;
    for (const TestResult& c : t.checks)
        if (&c != &last && std::abs(c.workKj - last.workKj) <= 0.15 * last.workKj)
            before = &c;
    if (before) {
        const double change = durabilityLoss(last) - durabilityLoss(*before);
        const std::string then = fixed(durabilityLoss(*before), 1) + " % on " + dayText(before->day) +
                                 " after " + fixed(before->workKj, 0) + " kJ";
        t.words += std::abs(change) <= 5
                       ? ", against " + then + ": no difference to be told (within 5 points)"
                   : change < 0 ? ", less than the " + then
                                : ", more than the " + then;
    } else if (t.checks.size() > 1) {
        t.words += "; no other check had work within 15 % of that, so there is nothing to compare it with";
    }
    t.words += ".";
    return t;
}

} // namespace marram
