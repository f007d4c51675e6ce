// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/attention.h"
#include "core/review/wording.h"

#include <algorithm>

namespace marram {
namespace {

std::string days(int n) {
    return std::to_string(n) + (n == 1 ? " day" : " days");
}

} // namespace

std::string unscoredSentence(int rides) {
    return (rides == 1 ? std::string("The one ride carries no points")
                       : std::to_string(rides) + " rides carry no points") +
           ": a threshold is missing, and until it is known an hour ridden counts 50.";
}

std::vector<Reason> reasonsToLook(const Standing& s) {
    std::vector<Reason> all;
    const auto add = [&](int urgency, std::string sentence) {
        all.push_back({urgency, std::move(sentence)});
    };
    for (const Concern& c : s.checkIns)
        add(c.urgency, c.sentence);
    if (s.deepDays >= 14 && s.unscored == 0)
        add(93, "Form has been under −30 for " + days(s.deepDays) +
                    ": unload now; fatigue that does not lift in two weeks belongs to a doctor.");
    const int toRace = s.nextRaceDay ? *s.nextRaceDay - s.today : 9999;
    if (s.nextRace && toRace <= 14 && s.raceMiss > 0.05)
        add(90, *s.nextRace + (toRace == 0 ? " is today" : " is " + days(toRace) + " away") +
                    " and form will miss its gate by " + figure(s.raceMiss, 1) + ".");
    if (s.lastRide && s.unscored == 0 && s.state.form() < -30 && s.deepDays < 14)
        add(85, "Form is " + figure(s.state.form(), 0) + ": ask how they feel before anything hard.");
    if (s.lastRide && !s.loadKnown)
        add(48,
            "The record is too short to say what they are used to: enter the hours of a usual week lately, "
            "under Rider.");
    if (s.unscored > 0)
        add(75, unscoredSentence(s.unscored) + whereProposed);
    if (s.lastRide && s.unscored == 0 && s.loadKnown && s.ramp > s.rampLimit + 0.05)
        add(70, "Fitness rose by " + figure(s.ramp, 1) + " in a week, over the limit of " +
                    figure(s.rampLimit, 1) + ": hold back.");
    if (!s.missedKey.empty())
        add(60, s.missedKey.size() == 1
                    ? "The key session of " + weekdayText(s.missedKey.front()) +
                          " was not ridden. It is not owed; the plan goes on."
                    : std::to_string(s.missedKey.size()) +
                          " key sessions of the last seven days were not ridden. They are not owed; ask what "
                          "is in the way.");
    if (s.lastRide && !s.away && s.today - *s.lastRide >= idleDays)
        add(50, "No ride for " + days(s.today - *s.lastRide) + ".");
    if (s.testDue)
        add(40, *s.testDue);
    if (s.hasPower && s.lastRide && !s.thresholdFrom && s.unscored == 0)
        add(45, "No threshold power yet, so rides by power have no stress: enter one, or run a test.");
    else if (s.hasPower && s.thresholdFrom && s.thresholdAtLeast)
        add(42, "Threshold is a lower bound since " + dayText(*s.thresholdFrom, s.today) +
                    ": nothing maximal was ridden. Twenty minutes all out would tell.");
    else if (s.hasPower && s.thresholdFrom && s.today - *s.thresholdFrom > thresholdDays)
        add(35, "Threshold is from " + dayText(*s.thresholdFrom) + ", " +
                    std::to_string((s.today - *s.thresholdFrom) / 7) + " weeks ago.");
    for (const std::string& sentence : s.proposed)
        add(55, sentence);
    if (s.missedOther > 0)
        add(30, std::to_string(s.missedOther) +
                    (s.missedOther == 1 ? " easy session was" : " easy sessions were") +
                    " not ridden in the last seven days.");
    if (!s.lastRide)
        add(20, "Nothing ridden yet: import rides, or set a season and start.");
    if (s.away)
        add(5, "Away, as planned.");
    if (s.nextRace && all.empty())
        add(1, "On course: " + *s.nextRace + (toRace == 0 ? " is today." : " is in " + days(toRace) + "."));
    if (all.empty())
        add(0, "No race ahead.");
    std::stable_sort(all.begin(), all.end(),
                     [](const Reason& a, const Reason& b) { return a.urgency > b.urgency; });
    return all;
}

} // namespace marram
