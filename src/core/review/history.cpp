// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/history.h"

#include <cmath>
#include <cstdio>
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

std::vector<Improvement> improvements(std::span<const RideBests> rides, Date today) {
    constexpr int halfYear = 182, year = 365;
    const auto now = spanCurve(rides, today - halfYear + 1, today);
    const auto before = spanCurve(rides, today - halfYear - year + 1, today - halfYear);
    std::vector<Improvement> all;
    for (const int seconds : {5, 60, 300, 1200, 3600}) {
        Improvement i;
        i.seconds = seconds;
        if (const CurvePoint* p = at(now, seconds))
            i.now = *p;
        if (const CurvePoint* p = at(before, seconds))
            i.before = *p;
        if (i.now && i.before && i.before->power > 0) {
            i.percent = 100 * (i.now->power / i.before->power - 1);
            i.words = std::abs(*i.percent) < 1 ? "the same"
                      : *i.percent > 0         ? "up " + fixed(*i.percent, 1) + " %"
                                               : "down " + fixed(-*i.percent, 1) + " %";
        } else {
            i.words = i.now ? "first record" : "nothing lately";
        }
        all.push_back(i);
    }
    return all;
}

AerobicTrend aerobicTrend(std::span<const TestResult> results) {
    AerobicTrend t;
    t.checks = trendOf(results, Protocol::AerobicCheck, {});
    const size_t n = t.checks.size();
    if (n == 0) {
        t.words =
            "No aerobic check yet: one steady hour at about 75 % of threshold, every three to four weeks.";
        return t;
    }
    const TestResult& last = t.checks.back();
    t.words = "The last steady hour came to " + fixed(last.value, 2) + " W/bpm with a drift of " +
              fixed(last.second, 1) + " %" +
              (last.second < 5 ? ", which is good. " : "; under 5 % is good. ");
    if (n < 3) {
        t.words += "From three checks on a trend can be told.";
        return t;
    }
    double best = 0;
    for (size_t i = 0; i + 2 < n; ++i)
        best = std::max(best, t.checks[i].value);
    const double lately = std::max(t.checks[n - 1].value, t.checks[n - 2].value);
    constexpr double rise = 1.01;
    t.plateau = lately <= best * rise;
    t.words += t.plateau ? "Efficiency has stopped rising: the last two checks (" +
                               fixed(t.checks[n - 2].value, 2) + " and " + fixed(last.value, 2) +
                               ") are no better than the best before them (" + fixed(best, 2) +
                               "). The low-intensity stimulus is used up; move on to tempo or "
                               "sub-threshold work."
                         : "Efficiency is still rising (best before " + fixed(best, 2) + ", lately " +
                               fixed(lately, 2) + "): the easy riding still pays.";
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
    if (t.checks.size() > 1) {
        const double before = durabilityLoss(t.checks[t.checks.size() - 2]);
        const double change = durabilityLoss(last) - before;
        t.words += std::abs(change) < 0.5 ? ", as much as the time before"
                   : change < 0           ? ", less than the " + fixed(before, 1) + " % of the time before"
                                          : ", more than the " + fixed(before, 1) + " % of the time before";
    }
    t.words += ".";
    return t;
}

} // namespace marram
