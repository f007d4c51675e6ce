// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/score.h"
#include <span>

namespace marram {

/// How far a scale misses rides of one kind.
struct ScaleError {
    double deviation = 0; ///< robust standard deviation of the logarithm of true over scaled
    int rides = 0;        ///< it rests on
    bool operator==(const ScaleError&) const = default;
};

/// A factor learned from rides that were measured both ways.
struct LearnedScale {
    double factor = 1; ///< by heart rate: on its stress at scale 1; by effort: points a minute at effort 1
    ScaleError all;    ///< of all rides
    ScaleError steady, uneven; ///< of rides without and with short intervals in them
    int rides = 0;             ///< how many rides it rests on
    bool operator==(const LearnedScale&) const = default;
};

/// Rides from which on something is said of the error.
inline constexpr int ridesForError = 20;
/// How far off nine of ten rides to come are at most, as a fraction of their stress: a predictive interval
/// from Student's t, which holds that factor and spread are only estimates. Nothing under 20 rides.
std::optional<double> predictedError(const ScaleError& error);

/// What a rider's own rides teach about scoring without power.
struct Scales {
    std::optional<LearnedScale> heartRate, effort; ///< empty until enough rides have both
    bool operator==(const Scales&) const = default;
};

/// Rides with both that a scale needs, and the shortest ride that counts, in seconds.
inline constexpr int ridesForScale = 8, shortestForScale = 1200;

/// Learns both scales: heart rate against stress by power; effort against stress by power, or by scaled heart
/// rate where a ride has no power. The factor is the median of the rides' ratios, its error their robust
/// spread (1.4826 × median distance from it, in logarithms), also of steady rides and of those with short
/// intervals apart, which heart rate follows less well. Rides of under twenty minutes are left out.
Scales learnScales(std::span<const Score> rides);

/// The basis with learned scales in force.
ScoringBasis withScales(ScoringBasis basis, const Scales& scales);

} // namespace marram
