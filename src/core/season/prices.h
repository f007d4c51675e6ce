// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>

namespace marram {

/// What a row of the programme keeps. Each is a rule of the trade or a definition; docs/model.md explains
/// them.
enum class Rule {
    GateLow,       ///< form on a race morning, lower edge
    GateHigh,      ///< upper edge
    GateMargin,    ///< a quarter of the span inside the lower edge
    GateMarginUp,  ///< and inside the upper edge
    Floor,         ///< form not below the coach's floor
    Depth,         ///< nor below −0.6 of fitness
    Ramp,          ///< the coach's ramp, of a full week
    RampOfFitness, ///< 2.5 + 0.05 × fitness at the week's start, of a full week
    Keep,          ///< a build week is not under the one before it
    Rise,          ///< nor more than a tenth over it
    Growth,        ///< a block's last build week is over its first
    Step,          ///< a block begins at most a tenth over the last
    Overreach,     ///< a last build week over what the rider is used to
    SlumpMean,     ///< a block's mean is not under the block before
    SlumpPeak,     ///< nor its last week
    Starved,       ///< a build week keeps what the rider came with alive
    LongDay,       ///< no relief beyond the second longest day
    RaceWeek,      ///< a week with a B race keeps its training
    Light,         ///< transition, break and camp weeks are light
    Return,        ///< coming back is measured against the last build week
    Fresh,         ///< the days before a race that is freshened for
    TaperStart,    ///< a taper begins under the last build week
    TaperFall,     ///< and falls
    TaperSlow,     ///< but not off a cliff
    TaperLast,     ///< and never to nothing
    TaperVolume,   ///< 41–60 % less
    Start,         ///< the first build week near what the rider did lately
    Jump,          ///< weeks that jump
    Relief         ///< long days short
};
inline constexpr int ruleCount = static_cast<int>(Rule::Relief) + 1;

/// What breaking a rule costs, why so much, and how it reads.
struct Price {
    Rule rule;
    double price;      ///< race-day fitness per unit broken; 0 where the rule is never broken
    const char* unit;  ///< of what is broken
    const char* why;   ///< why it costs that
    const char* reads; ///< what the coach reads of it
};

/// Every rule once, in order of Rule.
std::span<const Price> prices();
const Price& priceOf(Rule rule);

/// Weight of a B race's fitness beside an A race's (common practice: freshen, do not peak).
inline constexpr double secondaryWeight = 1.0 / 3;
/// What fitness all along is worth beside race-day fitness: enough that a week long before the race is not
/// left empty, too little to buy anything with.
inline constexpr double carriedFitness = 0.1;

} // namespace marram
