// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/optimise.h"

namespace marram {

/// A plan with what it was made from, so that the next one can start where it ended and limits can be
/// explained.
struct Solved {
    Plan plan;
    SeasonFrame frame;
    std::vector<WeekPattern> patterns;
    Solution solution;
    double skeletonCost = 0; ///< of its cut into blocks
};

/// Solves a season that has passed check(). Always gives a plan; whatever could not be kept is in
/// `relaxed` and `warnings`. `from` speeds the solve up and does not change what is optimal.
/// What the rules leave open (length and shape of a taper, where the longer blocks go) is chosen by solving,
/// or kept as `from` has it while something moves under a hand.
enum class Choices { Make, Keep };
Solved solveSeason(const Season& season, const Solution* from = nullptr, const std::string& textFile = {},
                   Choices choices = Choices::Make);

/// For every A race whose gate is missed: the taper that would meet it, or that none would. Costs some
/// solves a race.
std::vector<std::string> adviseGates(const Season& season, const Solved& solved);

/// What one unit more of the limits worth most would add to fitness on race mornings: at most `most`,
/// each confirmed by solving the season again with that change. Costs a solve per candidate.
std::vector<Limit> explainLimits(const Season& season, const Solved& solved, size_t most = 3);

/// Where a day's role and load come from: its role and the rule behind it, what its week carries and why it
/// is not more. One to four sentences; empty for a day outside the season.
std::string whyDay(const Season& season, const Solved& solved, Date date);
/// What holds a planned week's load where it is, one sentence; empty where nothing in particular does.
std::string whyLoad(const Season& season, const Solved& solved, size_t week);

/// Solves with every choice made: the taper as the rules have it, the weeks cut as told.
Solved solveAs(const Season& season, const CutWay& cut, const Solution* from = nullptr,
               const std::string& textFile = {});

/// Rules the days of a plan do not keep, measured on the days themselves.
std::vector<Relaxed> audit(const Season& season, const Solved& solved);

/// Sum of fitness on the mornings of the planned A races (B where there is no A; the last day without
/// either).
double aimedFitness(const Plan& plan);

/// "+1.2", "−3.0": a number with its sign and one decimal.
std::string signedText(double value, int decimals = 1);
/// A number with a fixed count of decimals.
std::string fixedText(double value, int decimals = 1);

} // namespace marram
