// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/columns.h"
#include <memory>
#include <optional>

namespace marram {

/// What may be asked of the programme beyond the season itself.
struct RowChoices {
    std::vector<int> floorDays,
        depthDays;               ///< days whose form is held above the floor, or above −0.6 of fitness
    std::map<int, double> eased; ///< of the latter, how much deeper: where fitness is under 15 after all
    /// Gates of races the coach gave none, once the fitness of that morning is known; by race, or empty.
    std::vector<std::optional<Gate>> gates;
    /// Standard deviation of form on each race's morning, from the rider's misses, over nothing; by race.
    std::vector<double> spread;
    /// Levels of weeks in a plan that was promised, by week; near them nothing is gained by moving.
    std::vector<double> promised;
};
/// What a per cent of the chance to wake inside an A gate is worth, in race-day fitness; a B gate's is a
/// third. (A loss of fitness before one A race tells on the next as well, so it is dearer than one race's own
/// worth of some 0.04.)
inline constexpr double chancePrice = 0.07;

/// The season as one linear programme with one objective: race-day fitness less the price of every rule
/// broken (see prices.h).
struct SeasonProgramme {
    Programme programme;
    std::unique_ptr<LoadColumns> loads;
    Linear fitnessA; ///< sum over A races

    struct GateColumns {
        int race = 0;
        int missLow = -1, missHigh = -1; ///< points outside the gate, with nothing missed
        int lost = -1;                   ///< share of seasons inside it that is lost, by its tangents
    };
    std::vector<GateColumns> gates;
};

/// Writes every rule of the season as rows (docs/model.md lists them). Every rule that something fixed could
/// break (a race, a camp, the past) has a priced breach; the others hold at no load at all, so the programme
/// always has a solution.
SeasonProgramme writeRows(const Season& season, const SeasonFrame& frame,
                          const std::vector<WeekPattern>& patterns, const RowChoices& choices);

/// The part of them that stands on the mornings aimed at: gates, and the chance to wake inside them
/// (docs/model.md §3).
void writeGates(const Season& season, const SeasonFrame& frame, const RowChoices& choices,
                SeasonProgramme& out);

/// What a morning costs beside its fitness, at the prices of those rows: points outside the gate and the
/// chance lost, where form varies by `spread`; `form` where nothing is missed, `expected` with the rider's
/// misses.
double morningCosts(const Rules& rules, const Race& race, const Gate& gate, double spread, double form,
                    double expected);

/// Days on which the floor of form is not asked for: camps and the week after, the first days of the plan
/// (their form was decided before), races and the days after them.
bool floorHolds(const SeasonFrame& frame, int day);

/// Bounds of a taper's volume over what its days carried in the last build week, a little inside Bosquet et
/// al. 2007 (cut by 41–60 %), so that a long day relieved or a race inside leaves the days within.
inline constexpr double leastTaperVolume = 0.43, mostTaperVolume = 0.57,
                        mostShortTaper = 0.53; ///< where one day is much of it
/// Largest rise from one build week to the next.
inline constexpr double largestRise = 1.10;
/// A block's last build week over its first.
inline constexpr double blockGrowth = 1.045;
/// Form may go this deep, as a share of fitness, once fitness is over 15 (common practice).
inline constexpr double depthOfFitness = -0.6, depthFrom = 15;
/// Ramp a rider's own fitness bears, points/day per week: 2.5 + 0.05 × fitness (common practice).
inline constexpr double rampBase = 2.5, rampOfFitness = 0.05;

/// Steps between two blocks compared by S7: the mean load of their build weeks.
struct Block {
    std::vector<size_t> weeks; ///< its build weeks
    bool explained = false;    ///< a break, a camp, a recovery or an A race lies before it
    int awayDays = 0;          ///< days away between it and the block before
};
std::vector<Block> plannedBlocks(const SeasonFrame& frame);
/// The same with the blocks ridden so far, of weeks that stand for a level.
std::vector<Block> allBlocks(const SeasonFrame& frame);

} // namespace marram
