// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include "core/rider/rider.h"
#include <string>

namespace marram {

/// The figures of a part of a ride. What the recording does not have there is empty.
struct SpanFigures {
    int seconds = 0;                                       ///< recorded
    std::optional<double> meanPower;                       ///< W, missing power counting as zero
    std::optional<double> equivalentPower;                 ///< W
    std::optional<double> highestPower;                    ///< W, best second
    std::optional<double> work;                            ///< kJ
    std::optional<double> meanHeartRate, highestHeartRate; ///< bpm
    std::optional<double> cadence;                         ///< rpm while turning
    std::optional<double> climbed;                         ///< m gained, steps of under 2 m left out as noise
    std::optional<double> distance;                        ///< m
    std::optional<double> temperature;                     ///< degrees Celsius, mean
    std::optional<double> leftShare;                       ///< 0…1, mean while there is power
    std::optional<double> speed() const {                  ///< km/h
        return distance && seconds > 0 ? std::optional(*distance / seconds * 3.6) : std::nullopt;
    }
};

/// Figures of the seconds [span.begin, span.end), cut to the ride; one pass over them.
SpanFigures figuresOver(const Ride& ride, Stretch span);

/// Whether a ride was steady enough for its drift and efficiency to mean anything, and why or why not in a
/// sentence: at least 40 minutes of power and heart rate, power even (equivalent over mean power to 1.08, the
/// halves' power within 8 %), stops under a tenth of the time, heart rate recorded for nine tenths. Common
/// practice.
struct Steadiness {
    bool steady = false;
    std::string why;
};
Steadiness judgeSteadiness(const Ride& ride);

} // namespace marram
