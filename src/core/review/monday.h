// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/load.h"
#include "core/review/again.h"
#include "core/review/caution.h"
#include "core/review/checkin.h"
#include "core/review/report.h"
#include "core/season/season.h"
#include <string>
#include <vector>

namespace marram {

/// One day of a week, meant and done.
struct MondayDay {
    Date day;
    Role role = Role::Rest;
    std::string meant;            ///< the session, short; empty for rest and where none was kept
    double planned = 0;           ///< points
    double plannedHours = 0;      ///< h on the bicycle
    bool kept = false;            ///< a plan of that day was kept
    std::optional<double> ridden; ///< points; none where a ride carries none
    double hours = 0;             ///< h ridden
    std::string verdict;          ///< in words; empty for a day to come
    bool lacks = false;           ///< it was shorter, easier or another than meant
    long long ride = 0;           ///< the longest of that day; 0 without
    bool ill = false;
};

/// A steady ride without hard work: what it took to ride so.
struct SteadyRide {
    Date day;
    double wattsPerBeat = 0;
    bool indoors = false;
};

/// A best of the week beside the best of the year before it.
struct WeekBest {
    int seconds = 0;
    double power = 0, before = 0; ///< W
    Date day;
    long long ride = 0;
    int efforts = 0; ///< rides that hold one, of the year before
};

/// What a week is looked back on with. Everything that has happened lies before `today`.
struct MondayFacts {
    std::string rider;
    Date week;  ///< its Monday
    Date today; ///< the day it is looked at
    std::array<MondayDay, 7> days;
    std::array<MondayDay, 7> coming;
    std::string comingKind, comingPhase; ///< of the week after; empty without a season
    LoadState before, after; ///< on the week's Monday and on the one after it, or today where that is earlier
    double rampLimit = 6;
    std::vector<std::pair<double, double>> weeksBefore; ///< points planned and ridden, newest first
    struct RaceAhead {
        std::string name;
        Date date;
        double form = 0, fitness = 0;                           ///< expected now, nothing missed
        std::optional<double> formBefore, expectedForm, chance; ///< a week ago; with the rider's misses
        std::optional<Gate> gate;
    };
    std::optional<RaceAhead> race;
    std::vector<CheckIn> checkIns;  ///< of the last ten weeks up to the week's Sunday, in order
    std::vector<SteadyRide> steady; ///< of the last nine weeks
    std::vector<WeekBest> bests;
    double longest = 0, longestBefore = 0; ///< h: of the week, and of the year before
    std::vector<Again> again;
    std::vector<std::string> proposed;                      ///< what the record proposes
    std::vector<std::pair<std::string, std::string>> tests; ///< of the week: what, and beside the one before
    int unscored = 0;                                       ///< rides without points, where none carries any
    std::string bound;                                      ///< what a threshold that is a lower bound means
    std::vector<double> monotony;                           ///< of this week and those before, newest first
    int illSpells = 0;                                      ///< of twelve weeks
    int deepDays = 0;                                       ///< in a row with form under −30
    std::optional<int> age;
    bool needsCare = false, cleared = false;
    std::vector<NotedCaution> noted;
};

/// Who reads: the coach, of a rider; or the rider themselves.
enum class Reads { Coach, Rider };

/// Monday's page: what a coach reads in half a minute. What would be news and is none is not said.
struct Monday {
    std::string rider;
    Date week, today;
    std::array<MondayDay, 7> days, coming;
    std::string done;             ///< one sentence: what of the week was ridden
    std::vector<std::string> did; ///< what it did to form and race day
    std::vector<std::string> felt;
    std::vector<ReportLine> standsOut; ///< each with its band; empty where nothing does
    std::vector<ReportLine> again;
    std::vector<std::string> comes;
    std::vector<Caution> cautions; ///< each with whom to see
    std::vector<std::pair<Caution, NotedCaution>>
        noted;                    ///< those the coach has noted; the rider still reads them
    std::vector<std::string> say; ///< three sentences to the rider, for the coach to change
};

/// Rules of what stands out, so that riders to whom nothing happened get no news: load further from its plan
/// than 19 of 20 of the rider's own weeks (eight weeks at least); power per beat of steady rides with a 99 %
/// band of its change that excludes none (two rides of the week, six of the eight weeks before, Welch 1947);
/// a best of the year by over 2 % where twenty rides hold one; the longest ride of a year by a tenth; a test.
/// Feeling: the mean of seven days in the rider's own standard deviations of sixty (1.25 is called low: a
/// healthy year has two such weeks, simulated by us).
Monday mondayOf(const MondayFacts& facts, Reads reads = Reads::Coach);

/// The letter of a week as text: the coach's words first (where there are none, what is proposed to say),
/// then the week, what it did, what comes, cautions. Wrapped at `width` characters.
std::string letterText(const Monday& monday, const std::string& coach, int width = 78);

} // namespace marram
