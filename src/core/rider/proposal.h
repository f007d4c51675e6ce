// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// An injury or illness that took a rider off the bike; still open where `to` is empty.
struct Injury {
    Date from;
    std::optional<Date> to;
    std::string what;
    bool operator==(const Injury&) const = default;
};

/// What a rider's life says about how much they absorb.
struct Background {
    std::optional<int> age;           ///< years
    std::optional<int> trainingYears; ///< of regular training
    bool slowRecoverer = false;
    std::vector<Injury> injuries;
    double fitness = 0;    ///< points/day now
    bool loadKnown = true; ///< 42 days of record, or the rider's word for a usual week
    bool cautions = false; ///< the coach wrote cautions for this rider
};

/// A rhythm and a ramp to begin with, and why; or why there is none. The coach decides.
struct Proposal {
    bool offered = true; ///< false: only `why` says something
    int buildWeeks = 3, deloadWeeks = 1;
    double ramp = 5; ///< points/day per week
    std::vector<std::string> why;
};

/// None for riders under eighteen, with an injury that is not over, with cautions, or whose load so far is
/// not known: why says what to do. Otherwise, from about the mid-fifties, after injury within a year and for
/// slow recoverers two weeks of build to one of deload; otherwise three to one; four to one for riders of
/// eight years and more who carry a fitness of
/// 70. Ramp 3–5 is ordinary, 5–7 the ceiling for very fit riders. Figures: common practice.
Proposal proposeRhythm(const Background& rider, Date today);

} // namespace marram
