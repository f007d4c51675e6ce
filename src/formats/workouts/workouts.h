// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include <QString>

namespace marram {

/// Writes every ride of some sessions as a FIT workout into a folder, made where it is missing, each named
/// after its day and family: 2027-03-09-over-unders.fit. `created` in seconds since 1970. How many there are.
Result<int> writeWorkouts(const QString& folder, const std::vector<BlockSession>& sessions,
                          std::optional<double> thresholdPower, double lowThreshold, std::int64_t created,
                          const std::optional<HeartRateRange>& heartRate = {});

} // namespace marram
