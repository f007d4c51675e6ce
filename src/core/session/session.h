// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/rider/rider.h"
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// What a step is ridden at.
enum class TargetKind { Power, Effort, AllOut };

/// One stretch of a session.
struct Step {
    int seconds = 0; ///< 1–86 400
    TargetKind kind = TargetKind::Power;
    double from = 0, to = 0; ///< fractions of threshold power, 0.2–3; different for a ramp
    int effort = 0;          ///< 1–10 where `kind` is Effort
    std::optional<int> cadenceFrom, cadenceTo; ///< rpm, 20–200; both or neither
    std::string note;
    bool operator==(const Step&) const = default;
};

/// A step, or a repetition of what stands in it. Repetitions nest two deep.
struct Item {
    Step step;              ///< where `count` is 0
    int count = 0;          ///< 1–99 for a repetition
    bool bracket = false;   ///< the repeated part stands in brackets
    std::vector<Item> part; ///< what is repeated: one step, or what stands in brackets
    std::vector<Step> rest; ///< between repetitions, none after the last
    bool operator==(const Item&) const = default;
};

/// A session as a coach says it.
struct Session {
    std::vector<Item> items;
    bool operator==(const Session&) const = default;
};

/// The longest session, and the most steps of one unfolded.
inline constexpr int longestSession = 24 * 3600, mostSteps = 2000;

/// A step of a session with its repetitions unfolded.
struct UnfoldedStep {
    Step step;
    bool work = false; ///< its mean target is over the low threshold
    int set = 0;       ///< number of the set it belongs to, rests between repetitions included; 0 for none
};

/// A step's target as a fraction of threshold power `part` of the way through it, 0–1: efforts 1 to 9 count
/// as .45 .55 .65 .72 .80 .87 .94 1.02 1.12 of threshold, all out and effort 10 as min(1.7, 1 + 60 s /
/// length).
double targetAt(const Step& step, double part);
/// Its mean.
double meanTarget(const Step& step);

/// What a session asks, on its own target trace of a value a second.
struct SessionFigures {
    int seconds = 0;
    double stress = 0;            ///< points
    double mean = 0;              ///< mean target, fraction of threshold power
    Bands band;                   ///< s in each band
    Bands purpose;                ///< s counted to the band they are for
    std::array<double, 7> zone{}; ///< s in each zone
    int workSeconds = 0;          ///< of steps over the low threshold, in sets
    std::vector<UnfoldedStep> steps;
};

/// Shows every step of a session once, repetitions folded.
template <class Visit>
void eachStep(const std::vector<Item>& items, const Visit& visit) {
    for (const Item& item : items)
        if (item.count > 0)
            eachStep(item.part, visit);
        else
            visit(item.step);
}

/// Unfolds a session and counts it. A set is the innermost repetition with a rest between, else the outermost
/// holding work; where the rest is longer than twice a repetition's work, or over ten minutes, each
/// repetition is a set by itself; a last rest inside the bracket is rest, and after the last repetition
/// outside the set. A lone step wholly over the low threshold is its own set. A set counts to the band its
/// mean work target falls in. Source: conventions of the vocabulary.
SessionFigures figuresOf(const Session& session, double lowThreshold = defaultLowThreshold);

/// The session with its power targets over `over` (fraction of threshold power) moved together by so many
/// points of threshold, down to `over` at most. What is all out or by effort stays as it is.
Session withPowerMoved(Session session, int points, double over);

} // namespace marram
