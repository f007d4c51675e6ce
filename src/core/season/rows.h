// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/columns.h"
#include <memory>
#include <set>

namespace marram {

/// What may be asked of the programme beyond the season itself.
struct RowChoices {
    std::set<int> floorDays;    ///< days whose form is held above the floor
    std::set<size_t> fullShape; ///< build weeks with fewer hours that can hold their shape all the same
    bool slack = false;         ///< rows may give way (see RowKind)
};

/// The season as one linear programme, with the columns and rows its aims need.
struct SeasonProgramme {
    Programme programme;
    std::unique_ptr<LoadColumns> loads;

    struct GateColumns {
        int race = 0;
        int missLow = -1, missHigh = -1;   ///< points outside the gate
        int shortLow = -1, shortHigh = -1; ///< points short of a quarter of the span inside
    };
    std::vector<GateColumns> gates;
    int largestRamp = -1;                      ///< column
    std::vector<int> uneven;                   ///< columns: how far steps are from even
    std::map<RowKind, std::vector<int>> slack; ///< columns by the kind of row that gives way

    struct Aim {
        int row = -1; ///< the aim as a row, so that it can be held
        Linear value;
    };
    Aim missA, missB, fitnessA, fitnessB, shortfall, unevenness;
    std::map<RowKind, Aim> give;   ///< sums of slack
    std::vector<int> atUpper;      ///< columns that start best at their upper bound
    std::set<size_t> limitedWeeks; ///< build weeks whose own hours hold less than the week before
};

/// Writes every rule of the season as rows (docs/model.md lists them).
SeasonProgramme writeRows(const Season& season, const SeasonFrame& frame,
                          const std::vector<WeekPattern>& patterns, const RowChoices& choices);

/// Days on which the floor of form is not asked for: camps and the week after, the first week of the season
/// (its form was decided before), races of several days and the days after them.
bool floorHolds(const Season& season, const SeasonFrame& frame, int day);
/// Weeks whose ramp is not held: camps.
bool rampHolds(const SeasonFrame& frame, size_t week);

/// Bounds of a deload week over the build week before it.
std::pair<double, double> deloadRange(const Rules& rules);

/// Bounds of a taper's volume over the last build week (Bosquet et al. 2007: cut by 41–60 %).
inline constexpr double leastTaperVolume = 0.405, mostTaperVolume = 0.59;
/// Largest rise from one build week to the next.
inline constexpr double largestRise = 1.10;
/// Steps between two blocks compared by S7: the mean load of their build weeks.
struct Block {
    std::vector<size_t> weeks; ///< its build weeks
    bool explained = false;    ///< a break, a recovery or an A race lies before it
};
std::vector<Block> plannedBlocks(const SeasonFrame& frame);

} // namespace marram
