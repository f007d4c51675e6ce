// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "headunit/simulate.h"
#include <QString>

namespace marram {

/// Writes a ride as the bike computer would: a FIT file named after its local start, readable by its owner
/// only, complete or not there at all. Returns its path.
Result<QString> saveToDevice(const QString& folder, const Recording& recording);

} // namespace marram
