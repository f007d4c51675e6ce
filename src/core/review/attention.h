// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/load.h"
#include "core/review/checkin.h"
#include "core/words/phrase.h"
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// A week as it was meant and ridden.
struct WeekRidden {
    Date start;
    double ridden = 0;             ///< points
    std::optional<double> planned; ///< points; empty without a plan
};

/// What the daily question is answered from, for one rider.
struct Standing {
    Date today;
    LoadState state;      ///< this morning, before anything ridden today
    double ramp = 0;      ///< points/day: fitness now less fitness seven days ago
    double rampLimit = 6; ///< the season's, or the ordinary ceiling
    std::optional<Date> lastRide;
    std::vector<Date> missedKey; ///< hard days and races of the last seven days without a ride, in order
    int missedOther = 0;         ///< other planned sessions of the last seven days without a ride
    std::optional<std::string> nextRace; ///< the next A or B race
    std::optional<Date> nextRaceDay;
    double raceMiss = 0;                ///< points its gate will be missed by, as planned
    std::vector<Concern> checkIns;      ///< what the check-ins raise
    int deepDays = 0;                   ///< days in a row up to today with form under −30
    bool loadKnown = true;              ///< what came before the record is known (load/history.h)
    std::optional<Date> thresholdFrom;  ///< since when the threshold in force holds
    bool thresholdAtLeast = false;      ///< … and that it is a lower bound only
    std::vector<std::string> proposed;  ///< what the record proposes and nobody has answered, a sentence each
    bool hasPower = true;               ///< trains with a power meter
    int unscored = 0;                   ///< rides without points, where not one carries any
    std::optional<std::string> testDue; ///< a test due today or before, in a sentence
    bool away = false;                  ///< a planned holiday: nothing is expected
    std::vector<WeekRidden> weeks;      ///< the last six, this one last; empty where rides carry no points
};

/// What is said of a record of which not one ride carries points, wherever something rests on it; elsewhere
/// than under Rider with `whereProposed` after it.
std::string unscoredSentence(int rides);
inline constexpr const char* whereProposed = marked(" What the record proposes stands under Rider.");

/// One reason to look at a rider.
struct Reason {
    int urgency = 0; ///< 0 nothing to do … 100
    std::string sentence;
};

/// From this urgency on a rider needs a look; under it there is nothing to do.
inline constexpr int needsLook = 30;

/// Days without a ride that are worth a word, and days a threshold stays fresh (common practice).
inline constexpr int idleDays = 4, thresholdDays = 56;

/// Every reason to look at a rider, most urgent first; never empty. Rules: what the check-ins raise; form
/// under −30 for two weeks; a race within two weeks whose gate will be missed; form under −30; ramp over its
/// limit; a key session missed; no ride for four days; a test due; a threshold older than eight weeks; other
/// sessions missed; nothing known yet. "On course" stands only where nothing else does. Source: common
/// practice.
std::vector<Reason> reasonsToLook(const Standing& s);

} // namespace marram
