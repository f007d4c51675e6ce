// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/ride/grid.h"
#include "core/rider/rider.h"
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// Lengths of the efforts that are looked at, in seconds.
inline constexpr std::array effortLengths{120, 180, 240, 300, 360, 480, 600, 720, 900, 1200, 1800, 2400};

/// The best effort of one length in a ride, with what says whether it was maximal.
struct RideBest {
    int seconds = 0;
    double power = 0; ///< W, mean
    double second =
        0; ///< W, the best other effort of that length in the ride that shares nothing with it; 0 none
    double endHeartRate = 0;     ///< bpm, mean of its last 30 s; 0 without
    double settledHeartRate = 0; ///< bpm, mean from its fifth minute on, its last 20 min at most; 0 without
    bool falls = false;          ///< power falls after it, or the ride ends
    bool rests = false;          ///< two minutes of rest or an easy quarter lie inside
    bool openedHard = false;     ///< the protocol's hard five minutes came before
    bool maximal = false; ///< as far as an effort by itself and the record around it say; learnValues() says
};

/// What one ride says, so that its samples can go.
struct RideFacts {
    std::string file;
    Date day;
    double hours = 0;     ///< recorded
    double meanPower = 0; ///< W; 0 without power
    bool hasPower = false;
    std::vector<RideBest> bests;
    std::vector<double>
        highBeats; ///< the highest 10-s means, spikes and cadence lock thrown out, highest first
    double steadyPower = 0, steadyBeats = 0; ///< W and bpm, means of the steady part; 0 without
    bool indoors = false;
    std::optional<double> weight; ///< kg, as the device was told
};

/// Reads what a ride says. `localDay` is the date it started on where it was ridden.
RideFacts factsOf(const std::string& file, const Ride& ride, Date localDay);

/// One value out of a record, with its evidence.
struct LearntValue {
    Date from;
    double value = 0, low = 0;
    std::optional<double> high; ///< empty for a lower bound
    bool atLeast = false;       ///< nothing maximal was ridden: it is this at least
    std::string why;
    std::vector<std::string> rides;
};

struct LearntValues {
    std::vector<LearntValue> thresholdPower, thresholdHeartRate; ///< by date
    std::optional<LearntValue> maxHeartRate;
    std::vector<LearntValue> weight;       ///< kg, as devices were told, by date
    std::array<double, 7> hours{};         ///< of a usual week, Monday first: medians of the weekdays
    std::array<double, 7> meanHours{};     ///< the means, for who rides on no fixed days
    double usualWeek = 0, longestRide = 0; ///< h
    struct Gap {
        Date from, to;
    };
    std::vector<Gap> gaps; ///< four weeks and more without a ride
    struct MeterChange {
        Date day;
        double stepPercent = 0;
    };
    std::vector<MeterChange> meterChanges; ///< asked, not decided
    /// Rides indoors, and the power that goes with a heart rate there against outdoors in the same eight
    /// weeks.
    struct Indoors {
        int rides = 0;
        double hours = 0;
        int weeks = 0;                 ///< spans of eight weeks that hold enough of both
        std::optional<double> percent; ///< power indoors less outdoors; none where too little is there
        double low = 0, high = 0;      ///< its 80 % band
    } indoors;
    /// Efforts that were maximal, in order of day; a piece of a longer one of the same ride is none of its
    /// own.
    struct Maximal {
        std::string file; ///< its ride
        Date day;
        int seconds = 0;
        double power = 0; ///< W
    };
    std::vector<Maximal> maximal;
    int rides = 0;
};

/// Threshold power through time by two-parameter critical power (Monod & Scherrer 1965) where three lengths
/// between 2 and 20 min were maximal, threshold 0.96 of it (a constant of ours); else 0.91 of a maximal 20
/// minutes, 0.95 where the protocol's hard five minutes came before; else 0.9 of the best 20 minutes as a
/// lower bound. Heart rates, hours, gaps and a change of meter. All are proposals.
LearntValues learnValues(std::vector<RideFacts> rides);

} // namespace marram
