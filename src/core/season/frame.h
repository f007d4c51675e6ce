// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"

namespace marram {

/// One day before the load is solved.
struct DayFrame {
    Date date;
    double nominalHours = 0; ///< hours of the day if no race were on it; 0 when away
    double hours = 0;        ///< hours left for training: 0 on race, camp, away and past days
    double fixed = 0;        ///< stress the day carries whatever is planned: races, camps, the past
    int race = -1;           ///< index into Season::races of a race on this day, or -1
    bool camp = false, away = false, past = false;
};

/// One week before the load is solved.
struct WeekFrame {
    Date start;                  ///< Monday, also where the season starts later
    int first = 0, last = 0;     ///< its days, both included, as indices of SeasonFrame::days
    std::optional<WeekKind> set; ///< decided before the blocks are cut
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    int block = -1;
    Bands split;              ///< fractions of its training time
    double pointsPerHour = 0; ///< of that split
    double nominalHours = 0;  ///< sum over its days
    bool pinned = false;
    bool past = false; ///< wholly behind
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

/// The season's calendar and skeleton: all that is decided before the load.
struct SeasonFrame {
    std::vector<DayFrame> days;
    std::vector<WeekFrame> weeks;
    std::vector<TaperFrame> tapers;
    std::vector<std::string> warnings;
    int today = 0; ///< first day that is planned

    int weekOf(int day) const { return (days[static_cast<size_t>(day)].date - weeks.front().start) / 7; }
};

/// Lays out days, weeks, races, camps and absences.
SeasonFrame layOut(const Season& season);

/// Decides the kind, block, phase and split of every week:
///   1 anchors races, tapers, recovery, breaks and camps; 2 cuts the rest into blocks by dynamic programming
///   over the cost of blockCost(); 3 gives phases and splits. Pins win and are remarked on where they break
///   a rule of the trade.
void decideSkeleton(const Season& season, SeasonFrame& frame);

/// What it costs to close a block after `builds` build weeks in a row, in units of "one week off the rhythm".
/// `intoTaper`: the next thing is an A taper, so the block has no deload of its own.
/// `later`: 0 for the first week of the season … 1 for its last; a longer block belongs late.
/// Source: common practice (3:1, one longer or shorter where it does not divide; never unloaded three weeks
/// in four).
double blockCost(int builds, int rhythm, bool intoTaper, double later);

/// The split of training time a phase gets, as fractions: the school's, leaned by the season order and by
/// what the race ahead demands by at most 3 points; the coach's own exactly.
Bands phaseSplit(const Rules& rules, Phase phase, Demand demand);

/// One way to lay a week's training on its days.
struct DayShares {
    std::array<double, 7> share{};         ///< of the week's nominal load, on its training days
    std::array<double, 7> pointsPerHour{}; ///< of each training day
    double nominalHours = 0;               ///< time it takes when every day is used as far as this way goes
};

/// How a week's training falls on its days: in proportion to their hours, which can use them all; or spread
/// more evenly, no day longer than spreadHours, where long days would dig too deep.
struct WeekPattern {
    std::array<Role, 7> roles{};
    DayShares whole, spread;
};
inline constexpr double spreadHours = 1.5;

/// Gives roles and shares to every week: hard days on fresh legs, at most the coach's number, races counted,
/// none next to another or to a race; the longest other day long; the rest easy.
std::vector<WeekPattern> placeDays(const Season& season, const SeasonFrame& frame);

} // namespace marram
