// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"

namespace marram {

/// One day before the load is solved.
struct DayFrame {
    Date date;
    double nominalHours = 0; ///< hours of the day as the week has them, races and absences apart
    double hours = 0;        ///< hours left for training: 0 on race, camp, away and past days
    double fixed = 0;        ///< stress the day carries whatever is planned: races, camps, the past
    int race = -1;           ///< index into Season::races of the weightiest race on this day, or -1
    bool camp = false, away = false, past = false;
    double weight = 1;   ///< share of its usual load the day carries: less after a race, a camp or an absence
    bool noHard = false; ///< nothing hard: close to an A race, after one, after a camp or illness, lay-off
    bool lowOnly = false; ///< nothing above the low band: back from illness, the start after a lay-off
    bool noTest = false;  ///< no test: soon after an A race, in a recovery, where care asks for none
    /// Nothing can be planned on it, whatever its hours: a race, a camp, a day away.
    bool shut() const { return race >= 0 || camp || away; }
};

/// One week before the load is solved.
struct WeekFrame {
    Date start;                  ///< Monday, also where the season starts later
    int first = 0, last = 0;     ///< its days, both included, as indices of SeasonFrame::days
    std::optional<WeekKind> set; ///< decided before the blocks are cut
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    Demand demand = Demand::Unstated; ///< of the race it leads to
    int block = -1;
    int phaseWeek = 0;        ///< weeks of the same phase before it, without a break between
    bool newcomer = false;    ///< a rider of little fitness begins on lower rungs
    double practised = 0;     ///< build weeks with hard days before it: how far ladders have been climbed
    double highMost = 1;      ///< h of high time a hard day has at most, by its phase
    int hardDays = 0;         ///< most hard days, races included
    Bands split;              ///< fractions of its training time
    double pointsPerHour = 0; ///< of that split
    double volume = 1;        ///< share of its hours the phase may fill
    double nominalHours = 0;  ///< of all seven days, also those outside the season or away
    double openHours = 0;     ///< of the days at home, races included
    bool pinned = false;
    bool past = false;              ///< wholly behind
    bool broken = false;            ///< a build week ridden under 70 %: it counts as unloaded
    std::optional<double> standing; ///< of a past week: the level it was promised at, what it stands for
    bool newCycle = false;          ///< a second cycle of the year begins after it
    std::string why;

    int length() const { return last - first + 1; }
    bool whole() const { return length() == 7; }
};

/// The unloading before an A race.
struct TaperFrame {
    int race = 0;           ///< index into Season::races
    int raceDay = 0;        ///< day index of its first day
    int window = 0;         ///< first day of the full taper, raceDay − taper days; may be negative
    int first = 0;          ///< first day unloaded: the window's start, or the Monday after it
    int lastBuildWeek = -1; ///< the build week it is measured against, or -1
};

/// After a lay-off nothing is hard for two weeks, then one day a week until this day of the season; work
/// above threshold comes after it (common practice).
inline constexpr int oneHardDayUntil = 28;

/// The season's calendar and skeleton: all that is decided before the load.
struct SeasonFrame {
    std::vector<DayFrame> days;
    std::vector<WeekFrame> weeks;
    std::vector<TaperFrame> tapers;
    std::vector<int> freshened; ///< races freshened for: B, and an A race that follows another too closely
    std::vector<std::string> warnings;
    int today = 0;               ///< first day that is planned
    std::vector<double> fitness; ///< expected at the end of each day, for what has to be known before solving
    std::vector<int> recoveries; ///< days of recovery given to each race, then to each camp of Season::away
    bool layOff = false;         ///< the rider comes from nothing

    int weekOf(int day) const { return (days[static_cast<size_t>(day)].date - weeks.front().start) / 7; }
    /// Whether a day of some role stays in the low band: always, or, for a rider who comes from nothing,
    /// beside the one hard day a week of the third and fourth. Days outside the season do not.
    bool staysLow(int day, Role role) const {
        return day >= 0 && day < static_cast<int>(days.size()) &&
               (days[static_cast<size_t>(day)].lowOnly ||
                (layOff && day < oneHardDayUntil && (role == Role::Easy || role == Role::Long)));
    }
};

/// Two A races closer than this are one long peak; closer than the second hold fitness and do not build it
/// (common practice).
inline constexpr int onePeakDays = 21, holdDays = 42;
/// A race is freshened for over so many days (common practice: 3–4).
inline constexpr int freshDays = 4;
/// Days after an A race or a camp that carry about half (common practice: at least five).
inline constexpr int recoveryDays = 5;
/// Days of recovery an event costs: 0.8 × its stress / fitness, 1 to 10; an A race at least 4 (common
/// practice).
int recoveryOf(double stress, double fitness, bool peak);
/// Days after an A race without a maximal test (common practice).
inline constexpr int noTestAfterPeak = 14;
/// Absences that ended so many days before the season still tell on its first weeks.
inline constexpr int looksBack = 60;
/// A week ridden under this share of its plan counts as unloaded.
inline constexpr double brokenWeek = 0.7;

/// Lays out days, weeks, races, camps and absences. `fitness` is what is expected at the end of each day,
/// from a plan there is; guessed from the rider and the hours where it is empty.
SeasonFrame layOut(const Season& season, std::vector<double> fitness = {});

/// A ride under so many hours is none: the day is rest (common practice: 20 min).
inline constexpr double leastRideHours = 1.0 / 3;
/// Makes rest of days whose hours, by what the days before let them carry, are no ride.
void restStumps(SeasonFrame& frame);

/// Hours of a day as its week has them, whatever is on it; 0 where they are no ride.
double hoursOn(const Season& season, Date date);

/// True where the rider comes from nothing: said so, or fitness under 20 and under a third of what the hours
/// hold (common practice).
bool comesFromNothing(const Season& season);
/// Whether a week has no maximal test, whatever it is due: under care, and in the first eight weeks of a
/// rider who comes from nothing (common practice).
bool noMaximalIn(const Season& season, Date week);

/// How the weeks are cut into blocks where their count leaves a choice: longer blocks late unless `early`;
/// blocks as the coach's rhythm has them, or leaning to one build week less (−1) or more (+1).
struct CutWay {
    bool early = false;
    int lean = 0;
    bool operator==(const CutWay&) const = default;
};

/// Decides the kind, block, phase and split of every week:
///   1 anchors races, tapers, recovery, returns, breaks and camps; 2 cuts the rest into blocks by dynamic
///   programming over the cost of blockCost(); 3 gives phases, hard days and splits. Pins win and are
///   remarked on where they break a rule of the trade.
/// Returns what the cut costs under the coach's rhythm, in the units of blockCost(), whichever way it leans.
/// Where `promised` has the kinds of all weeks from a plan there is, they stay; what is empty in it is cut
/// anew.
double decideSkeleton(const Season& season, SeasonFrame& frame, const CutWay& way = {},
                      const std::vector<std::optional<WeekKind>>& promised = {});

/// True where a build week has so much less time than another, not long before it, that other weeks are not
/// measured against it.
bool thinBeside(const SeasonFrame& frame, int standard, int week);

/// What it costs to close a block after `builds` build weeks in a row, in units of "one week off the rhythm".
/// `intoTaper`: the next thing is an A taper, so the block has no deload of its own.
/// `later`: 0 for the first week of the season … 1 for its last; a longer block belongs late.
/// Source: common practice (3:1, one longer or shorter where it does not divide; never unloaded three weeks
/// in four).
double blockCost(int builds, int rhythm, bool intoTaper, double later);

/// The split of training time a phase gets in its `phaseWeek`th week, as fractions: the school's in build; in
/// specialise leaned by at most 2 points towards what the race asks for; in base coming from below month by
/// month (base-first), nearer to it (mixed) or well under it (intensity-first). The coach's own exactly.
Bands phaseSplit(const Rules& rules, Phase phase, Demand demand, int phaseWeek = 0);

/// Most hard days a phase has in its `phaseWeek`th week (common practice; trade table of the year).
int phaseHardDays(const Rules& rules, Phase phase, int phaseWeek);

/// How a week's training falls on its days, for one way of using its time.
struct WeekPattern {
    std::array<Role, 7> roles{};
    std::array<double, 7>
        share{};                  ///< of the week's level, for all seven days as if none were away; sums to 1
    std::array<Bands, 7> bands{}; ///< fractions of a day's training time
    std::array<double, 7> pointsPerHour{};
    double points = 0; ///< of the whole week at full use of its hours, as first laid
    double most = 0;   ///< level at which the first of its days has used its hours, at most `points`
    std::array<int, 7> byShare{}; ///< days from the largest share to the smallest, 0 Monday … 6
    double used = 1;              ///< share of its hours it was laid for
    /// Part of a day's hours beside that of the day which uses most of them: hard days and tests stay whole
    /// while the others give way where the week is a small one.
    std::array<double, 7> lean{1, 1, 1, 1, 1, 1, 1};
    std::array<double, 7> added{};       ///< points a test or openers add to endurance of their length
    bool maximalTest = false;            ///< its test is a maximal one
    bool highLimited = false;            ///< the hard days cannot hold the high share of the split
    double highOver = 0, middleOver = 0; ///< h of the split that the week's sessions cannot hold
};

/// Hours of a day that are left for riding: gym takes its time out of the day where it does not come on top,
/// and where less than half an hour would be left it is gym alone.
double ridingHours(const Season& season, const WeekFrame& week, const WeekPattern& pattern, int weekday);

/// Hours a week takes for one point of its level; infinite where it has none.
double hoursPerPoint(const WeekPattern& pattern);

/// High time (by purpose) a hard day holds at most, in hours: what the ladders above threshold hold near
/// their ends (docs/model.md).
inline constexpr double highHoursPerHardDay = 48.0 / 60;

/// Gives roles and shares to every week: hard days on fresh legs, at most the coach's number, races counted,
/// none next to another or to a race; tests at the end of deloads; the longest other day long; gym on short
/// days where the season is early; the rest easy.
std::vector<WeekPattern> placeDays(const Season& season, const SeasonFrame& frame);

/// Lays a week's split on its days again for the share of its hours that each day really uses (0…1), so that
/// the high band is neither more than its hard days hold nor less than they could.
void layBands(const Season& season, const SeasonFrame& frame, const WeekFrame& week,
              const std::array<double, 7>& used, WeekPattern& pattern);

/// Lays a week on its days for `use` of its hours (0…1): hard days, tests and openers keep the time they need
/// as far as their hours go, the others give way, none of them under half of `use` but days too short to
/// ride; what is ridden in minutes beside a ride of hours is spread. The week still reaches the level `reach`
/// before a day is full, as far as its hours go.
void layWeek(const Season& season, const SeasonFrame& frame, const WeekFrame& week, double use, double reach,
             WeekPattern& pattern);

} // namespace marram
