// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// A value the recording does not have.
inline constexpr float missing = std::numeric_limits<float>::quiet_NaN();

/// One sample as a device recorded it. Missing values are NaN.
struct Sample {
    double time = 0;                                             ///< seconds from the Unix epoch, UTC
    float power = missing;                                       ///< W
    float heartRate = missing;                                   ///< bpm
    float cadence = missing;                                     ///< rpm
    float altitude = missing;                                    ///< m
    float distance = missing;                                    ///< m from the start, never falling
    float temperature = missing;                                 ///< degrees Celsius
    float leftShare = missing;                                   ///< share of power from the left leg, 0…1
    double latitude = std::numeric_limits<double>::quiet_NaN();  ///< degrees
    double longitude = std::numeric_limits<double>::quiet_NaN(); ///< degrees
};

/// A lap as the device marked it, seconds from the Unix epoch, UTC.
struct Lap {
    double start = 0, end = 0;
};

/// The most samples a recording may hold: twice the longest ride at one a second. Readers refuse more.
inline constexpr std::size_t mostSamples = 1500000;

/// What a file held, before any computation. Samples are in the order of the file.
struct Recording {
    std::vector<Sample> samples;
    std::vector<Lap> laps;
    std::optional<int> utcOffset;          ///< seconds that local time was ahead of UTC, where the file says
    std::optional<double> sessionDistance; ///< m, as the device summed it
    std::optional<std::string> otherSport; ///< what it was, where the file says that it was no ride
    bool indoors = false;                  ///< the file says that it was ridden indoors
    std::optional<double> riderWeight;     ///< kg, as the device was told
    std::optional<double> deviceThreshold; ///< W, the threshold power the device was told
    int timerStops = 0;                    ///< how often the device stopped its timer
    bool dated = true;                     ///< false where times count from the start of the ride only
    std::vector<std::string> remarks;      ///< what was lost or odd, each a sentence
};

/// From second `begin` up to but not including `end` of the grid: recorded without a stop.
struct Stretch {
    int begin = 0, end = 0;
    int length() const { return end - begin; }
    bool operator==(const Stretch&) const = default;
};

/// Counts of samples set aside while a ride was put on its grid.
struct Faults {
    int power = 0;        ///< readings above 2500 W or below 0 W
    int heartRate = 0;    ///< readings outside 25–250 bpm
    int clock = 0;        ///< samples whose time ran backwards or was absurd; left out
    int powerMissing = 0; ///< recorded seconds without power in a ride that has power
};

/// A ride on a one-second grid over its elapsed time. Seconds inside a stop are NaN in every series.
/// A gap between samples of up to 10 s, or of up to three times the usual interval where the device records
/// that seldom, holds the last value; a longer one is a stop.
struct Ride {
    std::int64_t start = 0; ///< first second, Unix epoch, UTC
    std::vector<float> power, heartRate, cadence, altitude, distance, temperature, leftShare;
    std::vector<Stretch> stretches; ///< in order, not empty
    std::vector<Stretch> laps;      ///< as the device marked them, cut to the ride; empty ones left out
    Faults faults;
    bool hasPower = false, hasHeartRate = false;
    bool indoors = false;         ///< the file says so, or it has neither altitude nor distance
    std::optional<double> weight; ///< kg, of the rider, as the device was told
    int interval = 1;             ///< s between samples, usually (the median)

    int elapsed() const { return static_cast<int>(power.size()); } ///< s
    int recorded() const;                                          ///< s, stops left out
    int secondsWithout(const std::vector<float>& series) const;    ///< recorded seconds that have no value
};

/// The longest gap that still holds the last value, in seconds, where the device records often enough.
inline constexpr int longestHeldGap = 10;
/// The longest ride taken, in seconds of elapsed time (eight days): beyond it the clock is at fault.
inline constexpr int longestRide = 8 * 86400;

/// Puts samples on the grid. Nothing for a recording without a single usable sample.
/// Samples are taken in order of time; of two in the same second the later one holds.
/// One pass over the samples.
std::optional<Ride> toGrid(const Recording& recording);

} // namespace marram
