// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/optimise.h"
#include "core/words/phrase.h"
#include <functional>

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

/// Solves with every choice made: the taper as the rules have it, the weeks cut as told. `promised` is a plan
/// of the same season there was before: its weeks keep their kinds and days, weeks that were ridden stand for
/// their levels, and the weeks ahead stay near it.
Solved solveAs(const Season& season, const CutWay& cut, const Solution* from = nullptr,
               const std::string& textFile = {}, const Solution* promised = nullptr);

/// The plan for a season part of which lies behind, as it came about: the plan of its start, kept where it
/// was ridden, solved again on the Mondays after weeks that were not, each time near the one before
/// (docs/model.md). `fresh` plans from the start, `again` from what was promised, choosing anew where a
/// reason has come to.
Solved planOn(const Season& season, const std::function<Solved(const Season&)>& fresh,
              const std::function<Solved(const Season&, const Solved&, bool)>& again);
/// The season with the taper that was chosen for it.
Season asChosen(const Season& season, const Solution& chosen);
/// What `planned` has for the days behind laid aside for what was ridden.
void layPast(const Season& season, Solved& planned);

/// Lays a plan that was promised over a frame that was laid out: its weeks keep their kinds and days, what
/// was ridden stands for its level or counts as unloaded, and from such a week on the rhythm is cut anew.
/// Fills cost and patterns.
void layPromise(const Season& season, const Solution& promised, const CutWay& cut, Solved& s);
/// Makes the plan a coach reads from what was solved: days, weeks, races, remarks.
void fillPlan(const Season& season, Solved& solved);
/// What a coach should know of a plan, a sentence each, into its warnings.
void remark(const Season& season, Solved& solved);

/// Rules the days of a plan do not keep, measured on the days themselves.
std::vector<Relaxed> audit(const Season& season, const Solved& solved);

/// Sum of fitness on the mornings of the planned A races (B where there is no A; the last day without
/// either).
double aimedFitness(const Plan& plan);

} // namespace marram
