// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/review.h"
#include "core/ride/grid.h"
#include "core/rider/rider.h"
#include "core/season/season.h"
#include "core/session/session.h"

namespace marram {

/// A repetition as it was meant, and as it was found in the ride.
struct Repetition {
    size_t step = 0; ///< the first of its steps among the session's unfolded ones
    int set = 0;
    int begins = 0; ///< s into the session
    int seconds = 0;
    double target = 0;   ///< W, mean over its steps
    bool allOut = false; ///< `target` is only for figures
    std::optional<Stretch> found;
    double power = 0;                         ///< W, mean; 0 where it was not found
    int inTarget = 0;                         ///< s with ten-second power at no less than 97 % of the target
    double fade = 0;                          ///< %, from its first half to its second
    std::optional<double> heartRate, cadence; ///< means
    bool done = false; ///< nine tenths of its length at no less than the target, within the family's rule
};

enum class Volume { AsMeant, Shorter, Longer };
enum class Content { AsMeant, Easier, Harder, Other };
const char* wordOf(Volume);
const char* wordOf(Content);

/// A ride laid over its session.
struct Against {
    std::vector<Repetition> repetitions; ///< in order; empty for a session without work
    double volumeRatio = 1, contentRatio = 1;
    Volume volume = Volume::AsMeant;
    Content content = Content::AsMeant;
    std::optional<size_t> stopAt; ///< the repetition in which the stop rule should have ended it
    RungVerdict verdict = RungVerdict::Passed;
    std::vector<std::string> sentences; ///< volume, content, the stop rule, the rung, with why
};

/// Lays a ride over its session: each stretch of work is matched in order to the efforts found, those of
/// short breaks between joined, by length and power; what is left over stays unmatched. Volume and content
/// are two parts of the verdict, each as meant while within 1.645 of the rider's own standard deviations
/// (nine rides in ten). Repetitions count as done at nine tenths of their length and no further under target
/// than the family's stop rule says (common practice). `threshold` in force on the day; without power nothing
/// is matched, and content is judged by `relativeIntensity` (from heart rate or effort) where that is known.
Against layOver(const Ride& ride, const Session& session, const std::string& family, Watts threshold,
                double lowThreshold, const PlanSpread& spread, std::optional<double> relativeIntensity);

/// Volume and content in a word each: "as meant", "shorter", "longer, other".
std::string wordsFor(const Against& against);

/// What the repetitions of a session came to, so that it can be laid beside the same session again.
struct SessionMark {
    double power = 0;                ///< W, mean of the repetitions found
    std::optional<double> heartRate; ///< bpm, mean of them
    double fade = 0;                 ///< %, power of the first one found less that of the last
    int found = 0, of = 0;
    std::optional<double> temperature; ///< degrees Celsius, mean of the ride
    bool operator==(const SessionMark&) const = default;
};
/// Nothing where no repetition was found.
std::optional<SessionMark> markOf(const Against& against, const Ride& ride);

/// How far a repetition of a family may fall under its target, or under the first, before the session should
/// end, as a fraction.
double stopsUnder(const std::string& family);

} // namespace marram
