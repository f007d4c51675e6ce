// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/import.h"
#include <functional>
#include <optional>

namespace marram {

/// Writes the demo roster: an invented club on an invented sandy coast. Dates follow `today`; everything else
/// comes from fixed seeds, so the same day always gives the same roster. The rides are ridden by the
/// simulated bike computer and read by the importer. `progress` hears done and total, and cancels by
/// returning false; nothing is left behind then.
/// Only so many `riders`, the first of the club, where that is said; addToDemo() has the others come.
Result<void> writeDemo(const QString& path, Date today, const std::function<bool(int, int)>& progress,
                       std::optional<size_t> riders = std::nullopt);

/// The club's riders from the `from`th on into a roster that has those before, each in one transaction once
/// they have ridden; `came` hears of each. Cancelled, who came stays.
Result<void> addToDemo(Roster& roster, Date today, size_t from, const std::function<bool(int, int)>& progress,
                       const std::function<void()>& came);

} // namespace marram
