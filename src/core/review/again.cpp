// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/again.h"
#include "core/review/wording.h"
#include "core/words/phrase.h"

#include <cmath>
#include <map>

namespace marram {
namespace {

std::string figuresOf(const AgainRide& r) {
    std::string s = phrase("%1 of %2 at %3 W", std::to_string(r.mark.found), std::to_string(r.mark.of),
                           fixedText(r.mark.power, 0));
    if (r.mark.heartRate)
        s += ", " + fixedText(*r.mark.heartRate, 0) + " bpm";
    if (r.effort)
        s += phrase(", effort %1", fixedText(*r.effort, *r.effort == std::floor(*r.effort) ? 0 : 1));
    if (r.mark.found > 1)
        s += phrase(", fade %1 %", figure(r.mark.fade, 0));
    if (r.mark.temperature)
        s += ", " + figure(*r.mark.temperature, 0) + " °C";
    return phrase("%1, form %2", s, signedText(r.form, 0));
}

} // namespace

std::string againText(const Again& a, Date today) {
    std::string s = phrase("%1 on %2: %3.", upper(a.what), weekdayText(a.now.day), figuresOf(a.now));
    for (const AgainRide& then : a.earlier)
        s = joined(
            std::move(s),
            upper(dayText(then.day, today)) +
                (then.rung != a.now.rung ? phrase(" (rung %1)", std::to_string(then.rung)) : std::string()) +
                ": " + figuresOf(then) + ".");
    return joined(std::move(s), againFinding(a));
}

/// How two rides of the same work differ: at the same power in beats, or at much the same beats in power.
enum class Moved { Neither, LowerBeats, HigherBeats, More, Less };

/// By a share of power and by beats a minute, 0 where one of the two rides has none.
static Moved movedBy(double power, double beats) {
    constexpr double alike = 0.02, apart = 3;
    if (std::abs(power) <= alike && std::abs(beats) >= apart)
        return beats < 0 ? Moved::LowerBeats : Moved::HigherBeats;
    if (std::abs(power) > alike && std::abs(beats) < apart)
        return power > 0 ? Moved::More : Moved::Less;
    return Moved::Neither;
}

std::string againFinding(const Again& again) {
    std::map<Moved, int> moved;
    int pairs = 0;
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
        ++moved[movedBy(power, apart)];
    }
    constexpr int enough = 3;
    if (pairs < enough)
        return {};
    if (moved[Moved::LowerBeats] == pairs)
        return phrase("Three times the same way: the same power at %1 beats less than before (spread of one "
                      "pair 2 % and 3 beats).",
                      fixedText(-sumBeats / pairs, 0));
    if (moved[Moved::HigherBeats] == pairs)
        return phrase("Three times the same way: the same power at %1 beats more than before (spread of one "
                      "pair 2 % and 3 beats).",
                      fixedText(sumBeats / pairs, 0));
    if (moved[Moved::More] == pairs)
        return phrase("Three times the same way: %1 % more power than before at no more beats (spread of one "
                      "pair 2 % and 3 beats).",
                      fixedText(100 * sumPower / pairs, 1));
    if (moved[Moved::Less] == pairs)
        return phrase("Three times the same way: %1 % less power than before at no fewer beats (spread of "
                      "one pair 2 % and 3 beats).",
                      fixedText(-100 * sumPower / pairs, 1));
    return {};
}

} // namespace marram
