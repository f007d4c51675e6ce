// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/prices.h"
#include "core/words/phrase.h"

#include <array>

namespace marram {
namespace {

// Performance goes as twice fitness and once form where a point of fatigue counts double (impulse response,
// time constants 42 and 7 days): a point of form is worth half a point of fitness; with 45, 15 and 2 it is
// worth two. One lies between, and the coach may turn it.
constexpr std::array<Price, ruleCount> table{{
    {Rule::GateLow, 1.0, marked("points of form"),
     marked("between half a point and two points of fitness, as the constants go"),
     marked("form under the gate's lower edge")},
    {Rule::GateHigh, 0.4, marked("points of form"),
     marked("only lost training brings form down, a point for a point: too fresh is never cured so"),
     marked("form over the gate's upper edge")},
    {Rule::GateMargin, 0.4, marked("points of form"), marked("an edge is not a place to aim at"),
     marked("form close to the lower edge")},
    {Rule::GateMarginUp, 0.1, marked("points of form"), marked("the same, and fresh is the safer side"),
     marked("form close to the upper edge")},
    {Rule::Floor, 2.0, marked("points of form a day"),
     marked("too deep is how riders fall ill; races and camps may"), marked("form under the coach's floor")},
    {Rule::Depth, 0.5, marked("points of form a day"),
     marked("how deep form may go grows with what the rider is used to"),
     marked("form under −0.6 of fitness")},
    {Rule::Ramp, 0, "", marked("never broken by training"),
     marked("fitness rises faster than the coach allows")},
    {Rule::RampOfFitness, 0, "", marked("3–5 points a week are ordinary, 5–7 for the very fit"),
     marked("fitness rises faster than the rider's own fitness bears")},
    {Rule::Keep, 0, "", marked("a block builds"), marked("a build week under the one before")},
    {Rule::Rise, 0, "", marked("a tenth a week"),
     marked("a build week more than a tenth over the one before")},
    {Rule::Growth, 0, "", marked("a block that does not grow is no block"),
     marked("a block that does not grow")},
    {Rule::Step, 0, "", marked("a tenth from block to block"), marked("a block that begins with a jump")},
    {Rule::Overreach, 0, "", marked("asked for by the coach"),
     marked("a last week over what the rider is used to")},
    {Rule::SlumpMean, 0.01, marked("points a week"),
     marked("form on race day outranks it, an idle month does not"),
     marked("a block smaller than the one before")},
    {Rule::SlumpPeak, 0.005, marked("points a week"), marked("the same, of its biggest week"),
     marked("a block whose biggest week is smaller than the one before")},
    {Rule::Starved, 0.1, marked("points a week"), marked("a build week that lets the rider go is none"),
     marked("a build week with next to nothing in it")},
    {Rule::LongDay, 0, "", marked("relief makes the long day an ordinary one, no less"),
     marked("a long day cut away")},
    {Rule::RaceWeek, 0, "", marked("freshening is not idling"),
     marked("a race week with too little training")},
    {Rule::Light, 0, "", marked("these weeks are for resting"), marked("a light week that is not light")},
    {Rule::Return, 0, "", marked("50, 70 and 85 % of the last build week"),
     marked("a return that goes too fast")},
    {Rule::Fresh, 0, "", marked("three or four lighter days"),
     marked("days before a race that are not fresh")},
    {Rule::TaperStart, 0, "", marked("a taper unloads from its first day"),
     marked("a taper that begins with a full day")},
    {Rule::TaperFall, 0, "", marked("an exponential fall is best (Bosquet et al. 2007)"),
     marked("a taper that rises")},
    {Rule::TaperSlow, 0, "", marked("frequency is kept"), marked("a taper that falls off a cliff")},
    {Rule::TaperLast, 0, "", marked("frequency is kept"), marked("a taper that ends in nothing")},
    {Rule::TaperVolume, 0, "", marked("41–60 % less volume (Bosquet et al. 2007)"),
     marked("a taper of the wrong size")},
    {Rule::Start, 0.002, marked("points a week"), marked("a start near what the rider did lately"),
     marked("a first week far from what the rider did lately")},
    {Rule::Jump, 0.001, marked("points a week"), marked("drawn evenly"), marked("weeks that jump")},
    {Rule::Relief, 0.001, "points", marked("long days stay long unless something asks otherwise"),
     marked("a shorter long day")},
}};

} // namespace

std::span<const Price> prices() {
    return table;
}

const Price& priceOf(Rule rule) {
    return table[static_cast<size_t>(rule)];
}

} // namespace marram
