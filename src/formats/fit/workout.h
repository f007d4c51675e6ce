// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"
#include <cstdint>
#include <vector>

namespace marram {

/// A session as a FIT workout file: steps by time, repetitions as repeats, power as a span of two percent
/// either side of its target – in watts where threshold power is known, else in percent of it –, ramps from
/// end to end, efforts open with their number in the note. `created` in seconds since 1970.
std::vector<std::uint8_t> writeWorkout(const Session& session, const std::string& name,
                                       std::optional<double> thresholdPower, double lowThreshold,
                                       std::int64_t created);

} // namespace marram
