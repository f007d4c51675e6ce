// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/course/course.h"
#include "core/ride/grid.h"
#include "core/rider/rider.h"
#include <vector>

namespace marram {

/// An hour of a race as it was ridden; the last one may be shorter.
struct HourRidden {
    int seconds = 0;                       ///< recorded
    std::optional<double> equivalentPower; ///< W
    std::optional<double> heartRate;       ///< bpm
    double overThreshold = 0;              ///< s over threshold power
};

/// A climb as it was meant and as it was ridden.
struct ClimbRidden {
    Climb climb;
    double planned = 0; ///< W, what the course was planned at
    double seconds = 0; ///< ridden
    std::optional<double> power, heartRate;
};

/// What a race's recording says of how it was ridden.
struct RaceRidden {
    std::vector<HourRidden> hours;
    std::optional<double> fade;      ///< %, equivalent power lost from the first to the last whole hour
    double overThreshold = 0;        ///< s over threshold power
    double workOverThreshold = 0;    ///< kJ, of what lay over threshold power alone
    std::vector<ClimbRidden> climbs; ///< where the recording has distance and it is the course's to 5 %
};

/// Lays a race's ride over its course: power by hour and by climb. Hours run over recorded time. `course` may
/// be null.
RaceRidden readRace(const Ride& ride, std::optional<Watts> threshold, const CourseDemand* course);

} // namespace marram
