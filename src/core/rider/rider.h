// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <array>
#include <optional>
#include <vector>

namespace marram {

/// Mechanical power in watts.
struct Watts {
    double value = 0;
    auto operator<=>(const Watts&) const = default;
};

/// Heart rate in beats a minute.
struct BeatsPerMinute {
    double value = 0;
    auto operator<=>(const BeatsPerMinute&) const = default;
};

enum class Sex { Unstated, Female, Male };

/// Low threshold as a fraction of threshold power: common practice puts it at 0.75–0.80.
inline constexpr double defaultLowThreshold = 0.77;

/// What a rider could do from a date on, until the next dated entry.
struct Threshold {
    Date from;
    Watts power;                               ///< threshold power; > 0
    std::optional<BeatsPerMinute> heartRate;   ///< threshold heart rate
    double lowThreshold = defaultLowThreshold; ///< fraction of threshold power, 0.5–0.95
    std::optional<double> weightKg;

    bool operator==(const Threshold&) const = default;
};

/// The entry that held on a day: the last one not after it, or the earliest where all are later.
/// Nothing for an empty history. `history` is in order of date.
const Threshold* thresholdOn(const std::vector<Threshold>& history, Date day);

/// Upper edges of zones 1 to 6 as fractions of threshold power; zone 7 has none.
/// An edge belongs to the zone below it.
inline constexpr std::array<double, 6> zoneEdges{0.55, 0.75, 0.90, 1.05, 1.20, 1.50};
inline constexpr std::array<const char*, 7> zoneNames{"Recovery",        "Endurance", "Tempo", "Threshold",
                                                      "Aerobic ceiling", "Anaerobic", "Sprint"};

/// Zone 0…6 (shown as 1…7) of a power.
int zoneOf(Watts power, Watts threshold);

/// One number for each intensity band.
struct Bands {
    double low = 0, middle = 0, high = 0;
    double sum() const { return low + middle + high; }
};

/// Stress points an hour ridden in each band costs a rider. Derived from the rider's own edges:
/// low riding settles at 84.5 % of the low threshold; middle riding a third of the way from the low
/// threshold to threshold power; high work, its short rests included, an eighth of the way through
/// the Aerobic-ceiling zone. With the default low threshold: 42, 72 and 105.
Bands stressPerHour(double lowThreshold);

/// Stress points an hour costs when its time is split over the bands as `split` says (sum 1).
double stressPerHour(const Bands& split, double lowThreshold);

} // namespace marram
