// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"

#include <algorithm>

namespace marram {
namespace {

/// Shares in percent. Polarised, pyramidal: trade figures; threshold-led: between the two trials.
Bands schoolSplit(School school) {
    switch (school) {
    case School::Polarised:
        return {80, 4, 16};
    case School::ThresholdLed:
        return {54, 40, 6};
    case School::Even:
        return {34, 33, 33};
    case School::Pyramidal:
    case School::Own:
        break;
    }
    return {79, 16, 5};
}

/// Points of percentage moved from the low and middle bands to the high one (or back).
double lean(Order order, Phase phase) {
    const bool early = phase == Phase::Base || phase == Phase::Transition;
    const bool late = phase == Phase::Specialise || phase == Phase::Taper || phase == Phase::Race;
    switch (order) {
    case Order::BaseFirst:
        return early ? -1.5 : late ? 1.5 : 0;
    case Order::IntensityFirst:
        return early ? -1 : late ? 0.5 : 1.5;
    case Order::Mixed:
        break;
    }
    return 0;
}

Bands leaned(Bands split, Phase phase, const Rules& rules, Demand demand) {
    const double toHigh = lean(rules.order, phase);
    split.high += toHigh;
    split.low -= toHigh;
    if (phase == Phase::Specialise || phase == Phase::Taper || phase == Phase::Race) {
        const double one = 1;
        if (demand == Demand::Steady) {
            split.middle += one;
            split.low -= one;
        } else if (demand == Demand::Punchy) {
            split.high += one;
            split.middle -= one;
        } else if (demand == Demand::Long) {
            split.low += one;
            split.high -= one;
        }
    }
    return {split.low / 100, split.middle / 100, split.high / 100};
}

} // namespace

Bands phaseSplit(const Rules& rules, Phase phase, Demand demand) {
    if (rules.school != School::Own)
        return leaned(schoolSplit(rules.school), phase, rules, demand);
    // A phase the coach left out takes its neighbour's split.
    static const std::map<Phase, std::vector<Phase>> neighbours{
        {Phase::Transition, {Phase::Base, Phase::Build, Phase::Specialise}},
        {Phase::Break, {Phase::Base, Phase::Build, Phase::Specialise}},
        {Phase::Base, {Phase::Build, Phase::Specialise}},
        {Phase::Build, {Phase::Base, Phase::Specialise}},
        {Phase::Specialise, {Phase::Build, Phase::Base}},
        {Phase::Taper, {Phase::Race, Phase::Specialise, Phase::Build, Phase::Base}},
        {Phase::Race, {Phase::Taper, Phase::Specialise, Phase::Build, Phase::Base}}};
    // Kept as the coach wrote it, three percentages that may miss the hundred by rounding.
    const auto whole = [](const Bands& s) {
        return Bands{s.low / s.sum(), s.middle / s.sum(), s.high / s.sum()};
    };
    const auto& own = rules.ownSplits;
    if (own.contains(phase))
        return whole(own.at(phase));
    for (const Phase other : neighbours.at(phase))
        if (own.contains(other))
            return whole(own.at(other));
    return leaned(schoolSplit(School::Pyramidal), phase, rules, demand);
}

} // namespace marram
