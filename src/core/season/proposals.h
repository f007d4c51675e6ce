// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/rider/proposal.h"
#include "core/season/ahead.h"

namespace marram {

/// The rules a coach sets for a season, each by itself.
enum class RuleName {
    Order,
    School,
    Rhythm,
    Ramp,
    Floor,
    Deload,
    Taper,
    Shape,
    Overreach,
    Volume,
    HardDays,
    Gym,
    GatePrice
};

/// What is proposed for every rule, and why, for one rider and one season.
struct RuleProposals {
    Rules rules;
    std::map<RuleName, std::string> why; ///< one or two sentences a rule
};

/// Proposes every rule of a season: order and school by proposeSeason(), rhythm and ramp by proposeRhythm() –
/// where that offers none, the season's own stand and the reason says so –, the rest as the trade has it
/// (common practice; taper: Bosquet et al. 2007).
RuleProposals proposeRules(const Season& season, const Questions& answers, const Proposal& rhythm);

/// Whether a rule is as proposed.
bool asProposed(RuleName rule, const Rules& rules, const Rules& proposed);
/// The rules with one of them as proposed.
Rules withRule(RuleName rule, Rules rules, const Rules& proposed);
/// A rule's value in a few words: "3:1", "14 days", "80/15/5 …".
std::string valueText(RuleName rule, const Rules& rules);

/// log10(low / middle × high × 100) of shares as fractions; above 2.00 a split is polarised. Defined where
/// low > high > middle > 0. Source: Treff et al. 2019.
std::optional<double> polarisationIndex(const Bands& split);

} // namespace marram
