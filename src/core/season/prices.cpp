// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/prices.h"

#include <array>

namespace marram {
namespace {

// Performance goes as twice fitness and once form where a point of fatigue counts double (impulse response,
// time constants 42 and 7 days): a point of form is worth half a point of fitness; with 45, 15 and 2 it is
// worth two. One lies between, and the coach may turn it.
constexpr std::array<Price, ruleCount> table{{
    {Rule::GateLow, 1.0, "points of form",
     "between half a point and two points of fitness, as the constants go",
     "form under the gate's lower edge"},
    {Rule::GateHigh, 0.4, "points of form",
     "only lost training brings form down, a point for a point: too fresh is never cured so",
     "form over the gate's upper edge"},
    {Rule::GateMargin, 0.4, "points of form", "an edge is not a place to aim at",
     "form close to the lower edge"},
    {Rule::GateMarginUp, 0.1, "points of form", "the same, and fresh is the safer side",
     "form close to the upper edge"},
    {Rule::Floor, 2.0, "points of form a day", "too deep is how riders fall ill; races and camps may",
     "form under the coach's floor"},
    {Rule::Depth, 0.5, "points of form a day", "how deep form may go grows with what the rider is used to",
     "form under −0.6 of fitness"},
    {Rule::Ramp, 0, "", "never broken by training", "fitness rises faster than the coach allows"},
    {Rule::RampOfFitness, 0, "", "3–5 points a week are ordinary, 5–7 for the very fit",
     "fitness rises faster than the rider's own fitness bears"},
    {Rule::Keep, 0, "", "a block builds", "a build week under the one before"},
    {Rule::Rise, 0, "", "a tenth a week", "a build week more than a tenth over the one before"},
    {Rule::Growth, 0, "", "a block that does not grow is no block", "a block that does not grow"},
    {Rule::Step, 0, "", "a tenth from block to block", "a block that begins with a jump"},
    {Rule::Overreach, 0, "", "asked for by the coach", "a last week over what the rider is used to"},
    {Rule::SlumpMean, 0.01, "points a week", "form on race day outranks it, an idle month does not",
     "a block smaller than the one before"},
    {Rule::SlumpPeak, 0.005, "points a week", "the same, of its biggest week",
     "a block whose biggest week is smaller than the one before"},
    {Rule::Starved, 0.1, "points a week", "a build week that lets the rider go is none",
     "a build week with next to nothing in it"},
    {Rule::LongDay, 0, "", "relief makes the long day an ordinary one, no less", "a long day cut away"},
    {Rule::RaceWeek, 0, "", "freshening is not idling", "a race week with too little training"},
    {Rule::Light, 0, "", "these weeks are for resting", "a light week that is not light"},
    {Rule::Return, 0, "", "50, 70 and 85 % of the last build week", "a return that goes too fast"},
    {Rule::Fresh, 0, "", "three or four lighter days", "days before a race that are not fresh"},
    {Rule::TaperStart, 0, "", "a taper unloads from its first day", "a taper that begins with a full day"},
    {Rule::TaperFall, 0, "", "an exponential fall is best (Bosquet et al. 2007)", "a taper that rises"},
    {Rule::TaperSlow, 0, "", "frequency is kept", "a taper that falls off a cliff"},
    {Rule::TaperLast, 0, "", "frequency is kept", "a taper that ends in nothing"},
    {Rule::TaperVolume, 0, "", "41–60 % less volume (Bosquet et al. 2007)", "a taper of the wrong size"},
    {Rule::Start, 0.002, "points a week", "a start near what the rider did lately",
     "a first week far from what the rider did lately"},
    {Rule::Jump, 0.001, "points a week", "drawn evenly", "weeks that jump"},
    {Rule::Relief, 0.001, "points", "long days stay long unless something asks otherwise",
     "a shorter long day"},
}};

} // namespace

std::span<const Price> prices() {
    return table;
}

const Price& priceOf(Rule rule) {
    return table[static_cast<size_t>(rule)];
}

} // namespace marram
