// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/session/session.h"
#include <cstdint>
#include <span>
#include <vector>

namespace marram {

/// A session as a FIT workout file: steps by time, repetitions as repeats, power as a span of two percent
/// either side of its target – in watts where threshold power is known, else in percent of it –, ramps from
/// end to end, efforts open with their number in the note. For a rider with a heart-rate range and no
/// threshold power: heart rate where it has time to arrive, else effort in the note. `created` in seconds
/// since 1970.
std::vector<std::uint8_t> writeWorkout(const Session& session, const std::string& name,
                                       std::optional<double> thresholdPower, double lowThreshold,
                                       std::int64_t created,
                                       const std::optional<HeartRateRange>& heartRate = {});

/// A step of a workout file, its repetitions unrolled.
struct WorkoutStep {
    int seconds = 0;
    std::string note; ///< what the rider is told
    /// Power as fractions of threshold; none for a step that is open.
    std::optional<double> low, high;
    bool rest = false;
};

/// Reads a workout file. `thresholdPower` turns watts into fractions. Refuses what is no workout, is damaged,
/// repeats itself without end or is longer than a session may be.
Result<std::vector<WorkoutStep>> readWorkout(std::span<const std::uint8_t> bytes, double thresholdPower);

} // namespace marram
