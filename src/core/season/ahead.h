// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include <cstdint>

namespace marram {

/// A season in a row of figures, so that several can stand side by side.
struct Summary {
    double hours = 0, stress = 0; ///< training hours; points, races and camps included
    Bands bandHours;
    int hardDays = 0;                ///< races included
    double largestRamp = 0;          ///< points/day per week
    double deepestForm = 0;          ///< points/day
    double highMinutesAWeek = 0;     ///< by purpose, mean of the build weeks
    double monotony = 0, strain = 0; ///< mean of the build weeks (Foster 1998)
    std::vector<PlannedRace> races;
};
Summary summarise(const Season& season, const Plan& plan);

/// The season with the hours to come scaled, by 0.4 to 2.2, until it carries as many points up to its last A
/// race as `as` does, within 0.2 %, or as near as it comes; `plan` is the season's own. Between schools
/// fitness is read so: harder hours have more stress.
Plan planAtStress(const Season& season, const Plan& plan, const Plan& as);

/// How likely planned days are missed, and how the question is simulated.
struct Misses {
    double miss = 0.08;        ///< probability that a training day is missed, 0–1
    std::optional<double> run; ///< mean length of a run of missed days; each day its own coin where empty
    double illPerYear = 0;     ///< spells of illness that begin, a year
    int illDays = 5;           ///< days a spell lasts, which carry nothing
    int seasons = 10000;       ///< simulated
    std::uint64_t seed = 1;    ///< the same seed, the same answer
};

/// Fitness and form on a race morning as the plan runs on whatever is missed: nothing is solved again.
struct RaceChance {
    std::string name;
    Date date;
    std::optional<Gate> gate;
    struct {
        double formMean = 0, formDeviation = 0, fitnessMean = 0, fitnessDeviation = 0;
    } closed; ///< of misses alone, exactly: see chancesOf()
    struct Spread {
        double p5 = 0, p25 = 0, p50 = 0, p75 = 0, p95 = 0;
    } form, fitness;              ///< simulated, illness and all
    std::optional<double> inGate; ///< share of the simulated seasons; empty without a gate
};

/// Form and fitness on day N are linear in what is ridden: with w = (1−a_F)·a_F^(N−1−d) for fitness, and that
/// less (1−a_A)·a_A^(N−1−d) for form, mean = start decayed + Σ races + (1−q)·Σ w·s, variance =
/// q(1−q)·Σ w²·s² over the training days, with runs q(1−q)·ΣΣ w_i s_i w_j s_j ρ^|i−j| (chance.h). Races and
/// camps are not missed. Refuses odds outside 0–1, rates outside 0–52, spells outside 1–90 days, and fewer
/// than 1 or more than a million seasons.
Result<std::vector<RaceChance>> chancesOf(const Season& season, const Plan& plan, const Misses& misses);

/// Where form and fitness of a morning lie when each planned training day is missed with its own coin,
/// exactly (the closed form of chancesOf() for every day).
struct ChanceOfDay {
    Date date;
    double formMean = 0, formDeviation = 0, fitnessMean = 0, fitnessDeviation = 0;
};
std::vector<ChanceOfDay> chanceByDay(const Season& season, const Plan& plan, double miss,
                                     std::optional<double> run = {});

/// How often a rider misses a planned day: the share of planned training days gone by on which less than a
/// tenth of the plan was ridden, over a prior of 2 in 25 (Beta(2, 23)), with the 90 % interval of the share
/// itself (Wilson 1927). Under twenty such days the default, 8
/// % (common practice), and `known` says so.
struct MissRate {
    double rate = 0.08, low = 0, high = 0.25;
    double run = 2; ///< mean length of a run of missed days, as if three runs of two days had been seen
    int missed = 0, planned = 0;
    bool known = false;
};
/// A rider who misses more than half is planned for as one who misses half.
inline constexpr double mostMissed = 0.5;
struct PlannedAndRidden {
    double planned = 0, ridden = 0; ///< points of one day
};
/// `days` are in order.
MissRate missRate(const std::vector<PlannedAndRidden>& days);

/// What a coach answers before a season is laid out.
struct Questions {
    std::optional<bool> longWinterRides; ///< are they wanted?
    std::optional<Date> race;            ///< the first A race
    std::optional<Date> start;           ///< of the season
    std::optional<bool> lastsDistance;   ///< can the rider last the race's length already?
    enum class Weakness { Unsaid, Endurance, Speed } weakness = Weakness::Unsaid;
    double hours = 0;         ///< a week
    std::optional<int> years; ///< of regular training
};

/// What to begin with, and why: a proposal, which the coach may turn.
struct SeasonProposal {
    Order order = Order::BaseFirst;
    School school = School::Pyramidal;
    std::vector<std::string> reasons;
};
/// Source: common practice (base first by default; intensity first for an experienced rider with endurance, a
/// late event and no wish for long winter rides).
SeasonProposal proposeSeason(const Questions& answers);

/// Minutes of high work a week that a split gives in its build phase, within what the hard days hold.
double highMinutes(const Rules& rules, double hoursAWeek);

} // namespace marram
