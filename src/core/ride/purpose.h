// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/efforts.h"

namespace marram {

/// The longest rest that still belongs to a set, in seconds.
inline constexpr int longestRest = 600;

/// Recorded seconds of a ride counted to the band they were for. Efforts over the low threshold with rests of
/// up to twice the longer neighbour, and ten minutes at most, between them are a set; a set, its rests
/// included, counts to the band the mean power of its efforts falls in. Everything else counts to the band it
/// was ridden in. Nothing for a ride without power. Source: vocabulary, "time by purpose"; the studies behind
/// the schools count so (common practice).
std::optional<Bands> timeByPurpose(const Ride& ride, Watts threshold, double lowThreshold);
/// The same from efforts found already.
std::optional<Bands> timeByPurpose(const Ride& ride, const Efforts& efforts, Watts threshold,
                                   double lowThreshold);

} // namespace marram
