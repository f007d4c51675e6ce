// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/rows.h"
#include "core/season/solver.h"

namespace marram {

/// What a solved season leaves behind.
struct Solution {
    std::vector<double> stress; ///< planned stress of every day of the season
    std::vector<double> hours;  ///< planned training hours of every day
    Basis basis;                ///< where the next solve may start
    std::set<int> floorDays;    ///< days whose floor had to be held
    double objective = 0;       ///< of the last programme solved
    double marginCost = 0;      ///< race fitness given up for the margin inside the gates
    bool gaveWay = false;       ///< some rule had to give way
    int rounds = 0;             ///< programmes it took
    /// Race fitness one unit more of a limit would add, from the dual values of the fitness aim.
    struct Worth {
        enum class What { Hours, Ramp, FormFloor, GateEdge } what;
        size_t week = 0; ///< for hours
        int race = -1;   ///< for a gate's edge
        double perUnit = 0;
    };
    std::vector<Worth> worth;
};

/// Race fitness given for a point of form inside the gate's margin: below this price the margin is kept.
inline constexpr double marginPrice = 0.4;

/// Solves the load of a season in strict order of its aims. Never fails: rules give way in the order of
/// RowKind, each by the least amount. `from` is an earlier solution to start from, or null; `textFile`
/// receives the last programme solved unless empty.
Solution solveStages(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                     const Solution* from, const std::string& textFile = {});

} // namespace marram
