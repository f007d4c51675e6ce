// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/rows.h"
#include "core/season/solver.h"
#include <memory>

namespace marram {

/// What a solved season leaves behind.
struct Solution {
    std::vector<double> stress; ///< planned stress of every day of the season; empty where none was found
    Basis basis;                ///< where the next solve may start
    Date start;                 ///< of the season it belongs to
    std::vector<Date> floorDays, depthDays; ///< days whose form had to be held
    std::vector<std::optional<Gate>> gates; ///< in force, by race
    std::vector<double> spread;             ///< standard deviation of form on each race's morning, by race
    std::vector<double> levels;             ///< of every week
    double objective = 0;                   ///< of the last programme solved
    /// The same with every morning's miss at one price, however far off the gate: what two ways to lay out a
    /// season are compared by.
    double comparable = 0;
    int rounds = 0, iterations = 0; ///< programmes it took, and simplex steps
    /// Race fitness one unit more of a limit would add, from the dual values.
    struct Worth {
        enum class What { Hours, Ramp, FormFloor, GateLow, GateHigh, Volume } what;
        size_t week = 0;           ///< for hours
        int race = -1;             ///< for a gate's edge
        Phase phase = Phase::Base; ///< for volume
        double perUnit = 0;
    };
    std::vector<Worth> worth;
    /// What was paid for breaking a rule.
    struct Paid {
        Rule rule;
        Date day;
        double amount = 0, cost = 0; ///< in the rule's unit; in race-day fitness
    };
    std::vector<Paid> paid;
    /// Choices that were made by solving, to be kept while a hand moves something; 0 days where none was.
    int taperDays = 0;
    TaperShape taperShape = TaperShape::Falling;
    CutWay cut;
    /// What a plan promised: kinds of weeks and days, and the fitness it was laid out by.
    struct Promise {
        std::vector<WeekFrame> weeks;
        std::vector<WeekPattern> patterns;
        std::vector<double> fitness;
    };
    std::shared_ptr<const Promise> promise;
    bool held = true; ///< weeks ahead stay near it; not where something is only tried
};

/// Solves the load of a season with one objective. Never fails where the season passed check(). `from` is an
/// earlier solution to start from, or null: it speeds the solve up and does not change what is optimal.
/// `textFile` receives the last programme solved unless empty. `promised` holds the levels of the weeks in a
/// plan there is, to stay near.
Solution optimise(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                  const Solution* from, const std::string& textFile = {},
                  const std::vector<double>& promised = {});

} // namespace marram
