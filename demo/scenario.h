// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/import.h"
#include <functional>

namespace marram {

/// Writes the demo roster: an invented club on an invented sandy coast. Dates follow `today`; everything else
/// comes from fixed seeds, so the same day always gives the same roster. The rides are ridden by the
/// simulated bike computer and read by the importer. `progress` hears done and total, and cancels by
/// returning false; nothing is left behind then.
Result<void> writeDemo(const QString& path, Date today, const std::function<bool(int, int)>& progress);

} // namespace marram
