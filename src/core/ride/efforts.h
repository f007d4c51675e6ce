// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/span_figures.h"

namespace marram {

/// A hard stretch of a ride, or a lap.
struct Effort {
    Stretch span;
    SpanFigures figures;
    int zone = 0;                  ///< 0…6, of its mean power
    double fade = 0;               ///< %, by which the second half fell below the first
    std::optional<int> leftZoneAt; ///< seconds into it at which 15 s power fell below its zone for good
    int set = -1;                  ///< which set of repetitions it belongs to, -1 for none
};

/// Efforts of like length one after another.
struct Repetitions {
    std::vector<size_t> efforts; ///< places in Efforts::all, in order
    double fade = 0;             ///< %, by which mean power fell from the first to the last (median slope)
    std::optional<size_t>
        leftZone; ///< the repetition (0 the first) whose mean first fell below the first's zone
};

struct Efforts {
    std::vector<Effort> all; ///< in order of time
    std::vector<Repetitions> sets;
};

/// Figures of one stretch as an effort.
Effort describeEffort(const Ride& ride, Stretch span, Watts threshold);

/// Finds hard efforts in the power itself: five-second power that rises over 80 % of threshold opens one, and
/// it lasts until power stays under 72 % for longer than a dip (5 s and a tenth of the effort so far, 15 s at
/// most). What is left must be hard for its length: 150 % of threshold from 4 s, 110 % from 10 s, 100 % from
/// 30 s, 90 % from 1 min, 80 % from 4 min. A long one made of clearly harder parts is given as its parts,
/// and a lead-in at least a minute long and 12 % of threshold easier is parted from what follows.
/// Like ones in a row (length within a fifth) form sets. The levels: our own, found on simulated rides.
Efforts findEfforts(const Ride& ride, Watts threshold);

/// A threshold to find efforts with where the rider has none: 95 % of the ride's best 20 minutes, or its
/// highest mean over a third of a shorter ride.
Watts thresholdFromRide(const Ride& ride);

} // namespace marram
