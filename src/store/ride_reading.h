// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include "records/records.h"

namespace marram {

class Roster;

/// A ride on its grid with the coach's corrections; refuses corrections that leave nothing.
Result<Ride> correctedRide(Ride ride, const Corrections& corrections);
/// The recording of a ride as the roster keeps it, on its grid, as it came; with what second devices on it
/// had better. Any thread, with a roster of its own.
Result<Ride> rideAsRecorded(const Roster& roster, const RideRecord& record);
/// The same with the coach's corrections.
Result<Ride> rideOf(const Roster& roster, const RideRecord& record);

} // namespace marram
