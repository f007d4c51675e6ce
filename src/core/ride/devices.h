// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"

namespace marram {

/// Starts of one ride on two devices lie this close, in seconds, and so do their ends; a twentieth of its
/// length where that is more. Constants of ours.
inline constexpr int sameStart = 180;

/// True where two recordings look like two devices on one ride: same start, same length. Starts in Unix
/// seconds, lengths from first to last sample in seconds.
bool sameRideTwice(std::int64_t start, int elapsed, std::int64_t otherStart, int otherElapsed);

/// The ride with every channel from whichever device has more of it: the other's is taken whole where it has
/// a twentieth of the recorded time more. Stops, laps and times are the ride's; the clocks of both are
/// believed. `taken` names what was taken.
Ride withBetterChannels(Ride ride, const Ride& other, std::vector<const char*>* taken = nullptr);

} // namespace marram
