// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/words/phrase.h"
#include <array>
#include <optional>
#include <span>
#include <string_view>
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

/// What is known of a rider from a day on, until the next entry of the same quantity.
enum class Quantity {
    ThresholdPower,
    ThresholdHeartRate,
    LowThreshold,
    Weight,
    RestingHeartRate,
    MaximalHeartRate
};
inline constexpr size_t quantityCount = 6;

/// How a quantity is called, written and limited.
struct QuantityWords {
    const char* name; ///< "Threshold power"
    const char* key;  ///< in files: snake_case with the unit at the end
    const char* unit; ///< "" for the low threshold, which is a fraction of threshold power
    double least, most;
    int decimals; ///< worth showing
};
const QuantityWords& wordsFor(Quantity quantity);
std::optional<Quantity> quantityNamed(std::string_view key);

struct DatedValue {
    Date from;
    double value = 0;     ///< in the quantity's unit
    bool atLeast = false; ///< a lower bound, taken to work with: nothing maximal was ridden
    bool operator==(const DatedValue&) const = default;
};

/// What is known of a rider, each quantity with its own dates.
class RiderValues {
public:
    /// Entries in order of date.
    const std::vector<DatedValue>& of(Quantity q) const { return all_[static_cast<size_t>(q)]; }
    /// The entry that held on a day: the last one not after it, or the earliest where all are later. Null for
    /// a quantity never entered.
    const DatedValue* entryOn(Quantity q, Date day) const;
    std::optional<double> on(Quantity q, Date day) const;
    /// Enters a value from a day on; one entered for that day before gives way.
    void set(Quantity q, const DatedValue& entry);
    void set(Quantity q, Date from, double value) { set(q, {from, value, false}); }
    void remove(Quantity q, Date from);
    bool empty() const;
    bool operator==(const RiderValues&) const = default;

private:
    std::array<std::vector<DatedValue>, quantityCount> all_;
};

/// Upper edges of zones 1 to 6 as fractions of threshold power; zone 7 has none.
/// An edge belongs to the zone below it.
inline constexpr std::array<double, 6> zoneEdges{0.55, 0.75, 0.90, 1.05, 1.20, 1.50};
inline constexpr std::array<const char*, 7> zoneNames{
    marked("Recovery"),        marked("Endurance"), marked("Tempo"), marked("Threshold"),
    marked("Aerobic ceiling"), marked("Anaerobic"), marked("Sprint")};

/// Zone 0…6 (shown as 1…7) of a power.
int zoneOf(Watts power, Watts threshold);

/// Heart rates a training impulse and zones by heart rate need.
struct HeartRateRange {
    BeatsPerMinute rest, threshold, max; ///< rest < threshold <= max
    Sex sex = Sex::Unstated;             ///< unstated takes the mean of both weightings
};

/// Heart rate that goes with a steady fraction of threshold power once it has settled: a straight line from a
/// fifth of the way between rest and threshold (turning the legs without load) at no power to threshold
/// heart rate at threshold power. The fifth is our own.
double heartRateAt(double fractionOfThreshold, const HeartRateRange& range);

/// Upper edges in bpm of the zones heart rate can tell apart, 1 to 5: the power zones' edges through
/// heartRateAt, zone 5 ending at maximal heart rate. Zones 6 and 7 end before heart rate arrives; a second in
/// them counts where its heart rate falls.
std::array<double, 5> heartRateZoneEdges(const HeartRateRange& range);

/// One number for each intensity band.
struct Bands {
    double low = 0, middle = 0, high = 0;
    double sum() const { return low + middle + high; }
    bool operator==(const Bands&) const = default;
};

/// Stress points an hour ridden in each band costs a rider. Derived from the rider's own edges:
/// low riding settles at 84.5 % of the low threshold, within what endurance is ridden at (63.5–69 % of
/// threshold power); middle riding a third of the way from the low
/// threshold to threshold power; high work, its short rests included, an eighth of the way through
/// the Aerobic-ceiling zone. With the default low threshold: 42, 72 and 105.
Bands stressPerHour(double lowThreshold);

/// Stress points an hour costs when its time is split over the bands as `split` says (sum 1).
double stressPerHour(const Bands& split, double lowThreshold);

} // namespace marram
