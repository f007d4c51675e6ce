// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QString>

namespace marram {

class OpenRoster;

/// The check-ins of a whole roster as CSV.
Result<void> writeCheckInsTo(const OpenRoster& roster, const QString& file);
/// Takes such a file in, all of it or nothing, as one step to undo; how many days it names.
Result<int> readCheckInsFrom(OpenRoster& roster, const QString& file);

} // namespace marram
