// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/again.h"
#include "core/review/wording.h"

#include <cmath>

namespace marram {
namespace {

std::string figuresOf(const AgainRide& r) {
    std::string s = std::to_string(r.mark.found) + " of " + std::to_string(r.mark.of) + " at " +
                    fixedText(r.mark.power, 0) + " W";
    if (r.mark.heartRate)
        s += ", " + fixedText(*r.mark.heartRate, 0) + " bpm";
    if (r.effort)
        s += ", effort " + fixedText(*r.effort, *r.effort == std::floor(*r.effort) ? 0 : 1);
    if (r.mark.found > 1)
        s += ", fade " + figure(r.mark.fade, 0) + " %";
    if (r.mark.temperature)
        s += ", " + figure(*r.mark.temperature, 0) + " °C";
    return s + ", form " + signedText(r.form, 0);
}

} // namespace

std::string againText(const Again& a, Date today) {
    std::string s = upper(a.what) + " on " + weekdayText(a.now.day) + ": " + figuresOf(a.now) + ".";
    for (const AgainRide& then : a.earlier)
        s = joined(std::move(s), upper(dayText(then.day, today)) +
                                     (then.rung != a.now.rung ? " (rung " + std::to_string(then.rung) + ")"
                                                              : std::string()) +
                                     ": " + figuresOf(then) + ".");
    return joined(std::move(s), againFinding(a));
}

std::string againFinding(const Again& again) {
    constexpr double alike = 0.02, beats = 3;
    int lowerBeats = 0, higherBeats = 0, more = 0, less = 0, pairs = 0;
    double sumBeats = 0, sumPower = 0;
    for (const AgainRide& then : again.earlier) {
        if (then.rung != again.now.rung || then.mark.power <= 0)
            continue;
        ++pairs;
        const double power = again.now.mark.power / then.mark.power - 1;
        sumPower += power;
        const bool both = again.now.mark.heartRate && then.mark.heartRate;
        const double apart = both ? *again.now.mark.heartRate - *then.mark.heartRate : 0;
        sumBeats += apart;
        if (std::abs(power) <= alike && both && apart <= -beats)
            ++lowerBeats;
        else if (std::abs(power) <= alike && both && apart >= beats)
            ++higherBeats;
        else if (power > alike && (!both || std::abs(apart) < beats))
            ++more;
        else if (power < -alike && (!both || std::abs(apart) < beats))
            ++less;
    }
    constexpr int enough = 3;
    if (pairs < enough)
        return {};
    if (lowerBeats == pairs)
        return "Three times the same way: the same power at " + fixedText(-sumBeats / pairs, 0) +
               " beats less than before (spread of one pair 2 % and 3 beats).";
    if (higherBeats == pairs)
        return "Three times the same way: the same power at " + fixedText(sumBeats / pairs, 0) +
               " beats more than before (spread of one pair 2 % and 3 beats).";
    if (more == pairs)
        return "Three times the same way: " + fixedText(100 * sumPower / pairs, 1) +
               " % more power than before at no more beats (spread of one pair 2 % and 3 beats).";
    if (less == pairs)
        return "Three times the same way: " + fixedText(-100 * sumPower / pairs, 1) +
               " % less power than before at no fewer beats (spread of one pair 2 % and 3 beats).";
    return {};
}

} // namespace marram
