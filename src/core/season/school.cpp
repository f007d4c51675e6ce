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

/// Towards what the race asks for, at most two points of percentage.
Bands leaned(Bands split, Demand demand) {
    const auto move = [](double& from, double& to, double points) {
        points = std::min(points, from);
        from -= points;
        to += points;
    };
    switch (demand) {
    case Demand::Steady:
        move(split.low, split.middle, 2);
        break;
    case Demand::Punchy:
        move(split.middle, split.high, 1);
        move(split.low, split.high, 1);
        break;
    case Demand::Road:
        move(split.low, split.high, 1);
        break;
    case Demand::Long:
        move(split.high, split.low, 1);
        break;
    case Demand::Stage:
    case Demand::Unstated:
        break;
    }
    return split;
}

/// What is left of the build phase's middle and high share together, and of its high share alone.
struct Part {
    double both = 1, high = 1;
};

/// Base comes from below, month by month, or stays well under build where intensity came first.
Part basePart(Order order, int week) {
    switch (order) {
    case Order::BaseFirst:
        return {std::min(0.90, 0.40 + 0.04 * week), std::clamp(0.05 * (week - 2), 0.0, 0.5)};
    case Order::Mixed:
        return {std::min(0.95, 0.70 + 0.025 * week), std::min(0.75, 0.40 + 0.03 * week)};
    case Order::IntensityFirst:
        break;
    }
    return {0.6, 0.35};
}

Bands scaled(const Bands& split, Part part) {
    const double high = part.high * split.high;
    const double middle = std::max(0.0, part.both * (split.middle + split.high) - high);
    return {split.sum() - high - middle, middle, high};
}

Bands fractions(const Bands& s) {
    return {s.low / s.sum(), s.middle / s.sum(), s.high / s.sum()};
}

Bands ownSplit(const Rules& rules, Phase phase) {
    // A phase the coach left out takes its neighbour's split.
    static const std::map<Phase, std::vector<Phase>> neighbours{
        {Phase::Transition, {Phase::Base, Phase::Build, Phase::Specialise}},
        {Phase::Break, {Phase::Base, Phase::Build, Phase::Specialise}},
        {Phase::Base, {Phase::Build, Phase::Specialise}},
        {Phase::Build, {Phase::Base, Phase::Specialise}},
        {Phase::Specialise, {Phase::Build, Phase::Base}},
        {Phase::Taper, {Phase::Race, Phase::Specialise, Phase::Build, Phase::Base}},
        {Phase::Race, {Phase::Taper, Phase::Specialise, Phase::Build, Phase::Base}}};
    const auto& own = rules.ownSplits;
    if (own.contains(phase))
        return own.at(phase);
    for (const Phase other : neighbours.at(phase))
        if (own.contains(other))
            return own.at(other);
    return schoolSplit(School::Pyramidal);
}

} // namespace

Bands phaseSplit(const Rules& rules, Phase phase, Demand demand, int phaseWeek) {
    if (rules.school == School::Own)
        return fractions(ownSplit(rules, phase));
    const Bands build = schoolSplit(rules.school);
    switch (phase) {
    case Phase::Base:
        return fractions(scaled(build, basePart(rules.order, phaseWeek)));
    case Phase::Transition:
    case Phase::Break:
        return fractions(scaled(build, {0.35, 0.2}));
    case Phase::Specialise:
    case Phase::Taper:
    case Phase::Race:
        return fractions(leaned(build, demand));
    case Phase::Build:
        break;
    }
    return fractions(build);
}

int phaseHardDays(const Rules& rules, Phase phase, int phaseWeek) {
    const int all = rules.hardDays;
    const bool own = rules.school == School::Own;
    switch (phase) {
    case Phase::Transition:
        return std::min(all, phaseWeek % 2);
    case Phase::Break:
        return 0;
    case Phase::Base:
        // The coach's own split of the base says how much there is to hold.
        if (own)
            return all;
        switch (rules.order) {
        case Order::BaseFirst:
            return std::min(all, phaseWeek < 4 ? phaseWeek % 2 : phaseWeek < 8 ? 1 : 2);
        case Order::Mixed:
            return std::min(all, phaseWeek < 4 ? 1 : 2);
        case Order::IntensityFirst:
            break;
        }
        return std::min(all, 1);
    case Phase::Build:
    case Phase::Specialise:
    case Phase::Taper:
    case Phase::Race:
        break;
    }
    return all;
}

} // namespace marram
