// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "headunit/simulate.h"
#include <QString>

namespace marram {

/// Rides the newest workout in a folder, as a bike computer does that was handed one: the session it holds,
/// steps without a target by what they say. Refuses a folder without one.
Result<RoughSession> workoutFrom(const QString& folder, double thresholdPower);

/// Writes a ride as the bike computer would: a FIT file named after its local start, readable by its owner
/// only, complete or not there at all. Returns its path.
Result<QString> saveToDevice(const QString& folder, const Recording& recording);

} // namespace marram
