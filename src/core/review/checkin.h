// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace marram {

/// What a rider says of a day. Scales run from 1 to 5, 5 being best; for soreness 5 is none.
struct CheckIn {
    Date day;
    std::optional<int> feel, sleep, soreness, motivation; ///< 1–5
    std::optional<double> restHeartRate;                  ///< bpm
    std::optional<double> weightKg;
    bool ill = false;
    std::string note;
    bool empty() const;
    bool operator==(const CheckIn&) const = default;
};

/// The four scales of a check-in with their names, for tables and files.
struct CheckInScale {
    const char* name;
    const char* key;
    std::optional<int> CheckIn::*value;
};
inline constexpr std::array<CheckInScale, 4> checkInScales{
    {{"Feel", "feel", &CheckIn::feel},
     {"Sleep", "sleep", &CheckIn::sleep},
     {"Soreness", "soreness", &CheckIn::soreness},
     {"Motivation", "motivation", &CheckIn::motivation}}};

/// Mean of the scales that were given; nothing without any.
std::optional<double> wellness(const CheckIn& c);

/// Refuses values no check-in has, naming the field; empty where all is well.
std::string whyImpossible(const CheckIn& c);

/// Why the check-ins of the last three days ask for a word with the rider, against the three weeks before:
/// illness; wellness a full point lower; resting heart rate seven beats higher (common practice). Nothing
/// where they don't. `checkIns` are in order of day.
std::optional<std::string> checkInConcern(std::span<const CheckIn> checkIns, Date today);

} // namespace marram
