// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/proposals.h"
#include "core/season/frame.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

std::string joined(const std::vector<std::string>& sentences) {
    std::string all;
    for (const std::string& s : sentences)
        all += (all.empty() ? "" : " ") + s;
    return all;
}

std::string percentText(double fraction) {
    return fixedText(100 * fraction, 0) + " %";
}

double volumeOf(const Rules& rules, Phase phase) {
    const auto found = rules.volume.find(phase);
    return found != rules.volume.end() ? found->second
           : phase == Phase::Base      ? 1
           : phase == Phase::Build     ? 0.97
                                       : 0.95;
}

std::string shapeText(const Rules& rules) {
    if (rules.shapeBest)
        return phrase("whichever solves best");
    switch (rules.taperShape) {
    case TaperShape::Falling:
        return phrase("falling step by step");
    case TaperShape::DeepThenModerate:
        return phrase("a deep week, then a moderate one");
    case TaperShape::OneWeek:
        break;
    }
    return phrase("a single week");
}

/// How much of its hours each phase fills, by what the first A race asks.
void proposeVolume(const Season& season, RuleProposals& p) {
    Demand demand = Demand::Unstated;
    const Race* goal = nullptr;
    for (const Race& race : season.races)
        if (race.priority == Priority::A && (!goal || race.date < goal->date))
            goal = &race;
    if (goal)
        demand = goal->demand;
    const double last = demand == Demand::Long || demand == Demand::Stage ? 1.0
                        : demand == Demand::Punchy                        ? 0.85
                                                                          : 0.95;
    p.rules.volume = {{Phase::Base, 1.0}, {Phase::Build, 0.97}, {Phase::Specialise, last}};
    p.why[RuleName::Volume] =
        last < 0.9    ? phrase("All hours in base; fewer towards a short, hard race, where fitness "
                                  "falls, and rightly.")
        : last > 0.99 ? phrase("All hours in base, and again before a long race.")
                      : phrase("All hours in base, a little freshness kept as intensity grows.");
}

} // namespace

std::optional<double> polarisationIndex(const Bands& s) {
    if (!(s.low > s.high && s.high > s.middle && s.middle > 0))
        return std::nullopt;
    return std::log10(s.low / s.middle * s.high * 100);
}

RuleProposals proposeRules(const Season& season, const Questions& answers, const Proposal& rhythm) {
    RuleProposals p;
    p.rules = Rules{};
    auto& why = p.why;
    const SeasonProposal begin = proposeSeason(answers);
    p.rules.order = begin.order;
    p.rules.school = begin.school;
    const auto of = [&](const char* part) {
        std::vector<std::string> some;
        for (const std::string& r : begin.reasons)
            if ((r.find("split") != std::string::npos || r.starts_with("Pyramidal") ||
                 r.starts_with("Polarised") || r.starts_with("Threshold-led")) == (part[0] == 's'))
                some.push_back(r);
        return joined(some);
    };
    why[RuleName::Order] = of("order");
    why[RuleName::School] = of("school");
    p.rules.buildWeeks = rhythm.offered ? rhythm.buildWeeks : season.rules.buildWeeks;
    p.rules.deloadWeeks = rhythm.offered ? rhythm.deloadWeeks : season.rules.deloadWeeks;
    p.rules.ramp = rhythm.offered ? rhythm.ramp : season.rules.ramp;
    why[RuleName::Rhythm] = joined(rhythm.why);
    why[RuleName::Ramp] =
        rhythm.offered
            ? phrase("3 to 5 points a week are ordinary, 5 to 7 the ceiling for the very fit. Whatever "
                     "stands here, the plan never rises by more than 2.5 and a twentieth of fitness: now %1.",
                     fixedText(2.5 + 0.05 * season.before.fitness))
            : joined(rhythm.why);
    why[RuleName::Floor] =
        phrase("Below −30 a rider asks for attention. Whatever stands here, form is held over −0.6 of "
               "fitness once that is over 15.");
    why[RuleName::Deload] = phrase("A deload keeps the rider riding: 50 to 70 % of the week before it.");
    why[RuleName::Taper] =
        phrase("About two weeks with 41 to 60 % less volume do best over all (Bosquet et al. 2007). "
               "\"Best\" tries shorter ones where form is over the gate, longer ones where under.");
    why[RuleName::Shape] =
        phrase("Falling step by step is the surest. Some riders do better with one deep week and a "
               "moderate race week: what worked before decides.");
    why[RuleName::Overreach] =
        phrase("A last week 10 to 20 % over what the rider is used to pays only on eight weeks of "
               "building, with the whole taper behind it. Fatigue that does not lift in two weeks "
               "belongs to a doctor.");
    proposeVolume(season, p);
    why[RuleName::HardDays] =
        phrase("Two a week carry most riders, races counted; three now and then. How many a phase "
               "really has follows month by month.");
    why[RuleName::Gym] =
        phrase("Twice a week in the transition and ahead of the bike, once in base with the bike first, "
               "once in season after a hard ride.");
    why[RuleName::GatePrice] =
        phrase("By impulse and response a point of form on race day is worth half a point of fitness "
               "to two: one for one is the middle. More insists on the gate, less on fitness.");
    return p;
}

bool asProposed(RuleName rule, const Rules& a, const Rules& b) {
    switch (rule) {
    case RuleName::Order:
        return a.order == b.order;
    case RuleName::School:
        return a.school == b.school;
    case RuleName::Rhythm:
        return a.buildWeeks == b.buildWeeks && a.deloadWeeks == b.deloadWeeks;
    case RuleName::Ramp:
        return a.ramp == b.ramp;
    case RuleName::Floor:
        return a.formFloor == b.formFloor;
    case RuleName::Deload:
        return a.deload == b.deload;
    case RuleName::Taper:
        return a.taperBest == b.taperBest && (a.taperBest || a.taperDays == b.taperDays); // set or not
    case RuleName::Shape:
        return a.shapeBest == b.shapeBest && (a.shapeBest || a.taperShape == b.taperShape);
    case RuleName::Overreach:
        return a.overreach == b.overreach;
    case RuleName::Volume:
        return volumeOf(a, Phase::Base) == volumeOf(b, Phase::Base) &&
               volumeOf(a, Phase::Build) == volumeOf(b, Phase::Build) &&
               // Unsaid, it follows the race.
               (!a.volume.contains(Phase::Specialise) ||
                volumeOf(a, Phase::Specialise) == volumeOf(b, Phase::Specialise));
    case RuleName::HardDays:
        return a.hardDays == b.hardDays;
    case RuleName::Gym:
        return a.gym == b.gym || !a.gym || !b.gym;
    case RuleName::GatePrice:
        break;
    }
    return a.gatePrice == b.gatePrice;
}

Rules withRule(RuleName rule, Rules rules, const Rules& p) {
    switch (rule) {
    case RuleName::Order:
        rules.order = p.order;
        break;
    case RuleName::School:
        rules.school = p.school;
        rules.ownSplits = p.ownSplits;
        break;
    case RuleName::Rhythm:
        rules.buildWeeks = p.buildWeeks;
        rules.deloadWeeks = p.deloadWeeks;
        break;
    case RuleName::Ramp:
        rules.ramp = p.ramp;
        break;
    case RuleName::Floor:
        rules.formFloor = p.formFloor;
        break;
    case RuleName::Deload:
        rules.deload = p.deload;
        break;
    case RuleName::Taper:
        rules.taperDays = p.taperDays;
        rules.taperBest = p.taperBest;
        rules.taperSet = p.taperSet;
        break;
    case RuleName::Shape:
        rules.taperShape = p.taperShape;
        rules.shapeBest = p.shapeBest;
        break;
    case RuleName::Overreach:
        rules.overreach = p.overreach;
        break;
    case RuleName::Volume:
        rules.volume.clear();
        break;
    case RuleName::HardDays:
        rules.hardDays = p.hardDays;
        break;
    case RuleName::Gym:
        rules.gym = p.gym;
        break;
    case RuleName::GatePrice:
        rules.gatePrice = p.gatePrice;
        break;
    }
    return rules;
}

std::string valueText(RuleName rule, const Rules& r) {
    switch (rule) {
    case RuleName::Order:
        return translated(nameOf(r.order));
    case RuleName::School:
        return r.school == School::Own ? phrase("the coach's own split") : translated(nameOf(r.school));
    case RuleName::Rhythm:
        return std::to_string(r.buildWeeks) + ":" + std::to_string(r.deloadWeeks);
    case RuleName::Ramp:
        return phrase("%1 points a week", fixedText(r.ramp));
    case RuleName::Floor:
        return signedText(r.formFloor, 0);
    case RuleName::Deload:
        return percentText(r.deload);
    case RuleName::Taper:
        return r.taperBest ? phrase("whichever length solves best")
                           : phrase("%1 days", std::to_string(r.taperDays));
    case RuleName::Shape:
        return shapeText(r);
    case RuleName::Overreach:
        return r.overreach ? phrase("yes") : phrase("no");
    case RuleName::Volume:
        return percentText(volumeOf(r, Phase::Base)) + ", " + percentText(volumeOf(r, Phase::Build)) + ", " +
               percentText(volumeOf(r, Phase::Specialise));
    case RuleName::HardDays:
        return phrase("%1 a week", std::to_string(r.hardDays));
    case RuleName::Gym:
        return r.gym ? std::to_string((*r.gym)[0]) + ", " + std::to_string((*r.gym)[1]) + ", " +
                           std::to_string((*r.gym)[2])
                     : phrase("by the hours: 2, 1, 1 from eight");
    case RuleName::GatePrice:
        break;
    }
    return fixedText(r.gatePrice, 2);
}

} // namespace marram
