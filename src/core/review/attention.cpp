// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/attention.h"
#include "core/review/wording.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <functional>

namespace marram {
namespace {

std::string days(int n) {
    return std::to_string(n) + (counted(n, " day", " days"));
}

using Add = std::function<void(int urgency, std::string sentence)>;

/// Form and fitness as they are, where the record knows them.
void addLoad(const Standing& s, const Add& add) {
    if (s.deepDays >= 14 && s.unscored == 0)
        add(93, phrase("Form has been under −30 for %1: unload now; fatigue that does not lift in two weeks "
                       "belongs to a doctor.",
                       days(s.deepDays)));
    if (s.lastRide && s.unscored == 0 && s.state.form() < -30 && s.deepDays < 14)
        add(85, phrase("Form is %1: ask how they feel before anything hard.", figure(s.state.form(), 0)));
    if (s.lastRide && !s.loadKnown)
        add(48, phrase("The record is too short to say what they are used to: enter the hours of a usual "
                       "week lately, "
                       "under Rider."));
    if (s.unscored > 0)
        add(75, unscoredSentence(s.unscored) + translated(whereProposed));
    if (s.lastRide && s.unscored == 0 && s.loadKnown && s.ramp > s.rampLimit + 0.05)
        add(70, phrase("Fitness rose by %1 in a week, over the limit of %2: hold back.", figure(s.ramp, 1),
                       figure(s.rampLimit, 1)));
}

/// What was planned and not ridden, and what is due.
void addMissed(const Standing& s, const Add& add) {
    if (!s.missedKey.empty())
        add(60, s.missedKey.size() == 1
                    ? phrase("The key session of %1 was not ridden. It is not owed; the plan goes on.",
                             weekdayText(s.missedKey.front()))
                    : phrase("%1 key sessions of the last seven days were not ridden. They are not owed; ask "
                             "what is in the way.",
                             std::to_string(s.missedKey.size())));
    if (s.lastRide && !s.away && s.today - *s.lastRide >= idleDays)
        add(50, phrase("No ride for %1.", days(s.today - *s.lastRide)));
    if (s.testDue)
        add(40, *s.testDue);
}

void addThreshold(const Standing& s, const Add& add) {
    if (s.hasPower && s.lastRide && !s.thresholdFrom && s.unscored == 0)
        add(45,
            phrase("No threshold power yet, so rides by power have no stress: enter one, or run a test."));
    else if (s.hasPower && s.thresholdFrom && s.thresholdAtLeast)
        add(42, phrase("Threshold is a lower bound since %1: nothing maximal was ridden. Twenty minutes all "
                       "out would tell.",
                       dayText(*s.thresholdFrom, s.today)));
    else if (s.hasPower && s.thresholdFrom && s.today - *s.thresholdFrom > thresholdDays)
        add(35, phrase("Threshold is from %1, %2 weeks ago.", dayText(*s.thresholdFrom),
                       std::to_string((s.today - *s.thresholdFrom) / 7)));
}

} // namespace

std::string unscoredSentence(int rides) {
    return phrase("%1: a threshold is missing, and until it is known an hour ridden counts 50.",
                  (rides == 1 ? phrase("The one ride carries no points")
                              : phrase("%1 rides carry no points", std::to_string(rides))));
}

std::vector<Reason> reasonsToLook(const Standing& s) {
    std::vector<Reason> all;
    const auto add = [&](int urgency, std::string sentence) {
        all.push_back({urgency, std::move(sentence)});
    };
    for (const Concern& c : s.checkIns)
        add(c.urgency, c.sentence);
    const int toRace = s.nextRaceDay ? *s.nextRaceDay - s.today : 9999;
    if (s.nextRace && toRace <= 14 && s.raceMiss > 0.05)
        add(90, toRace == 0 ? phrase("%1 is today and form will miss its gate by %2.", *s.nextRace,
                                     figure(s.raceMiss, 1))
                            : counted(toRace, "%2 is %1 day away and form will miss its gate by %3.",
                                      "%2 is %1 days away and form will miss its gate by %3.", toRace,
                                      *s.nextRace, figure(s.raceMiss, 1)));
    addLoad(s, add);
    addMissed(s, add);
    addThreshold(s, add);
    for (const std::string& sentence : s.proposed)
        add(55, sentence);
    if (s.missedOther > 0)
        add(30, phrase("%1%2 not ridden in the last seven days.", std::to_string(s.missedOther),
                       (counted(s.missedOther, " easy session was", " easy sessions were"))));
    if (!s.lastRide)
        add(20, phrase("Nothing ridden yet: import rides, or set a season and start."));
    if (s.away)
        add(5, phrase("Away, as planned."));
    if (s.nextRace && all.empty())
        add(1, toRace == 0 ? phrase("On course: %1 is today.", *s.nextRace)
                           : counted(toRace, "On course: %2 is in %1 day.", "On course: %2 is in %1 days.",
                                     toRace, *s.nextRace));
    if (all.empty())
        add(0, phrase("No race ahead."));
    std::stable_sort(all.begin(), all.end(),
                     [](const Reason& a, const Reason& b) { return a.urgency > b.urgency; });
    return all;
}

} // namespace marram
