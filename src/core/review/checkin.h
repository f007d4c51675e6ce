// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/words/phrase.h"
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
    {{marked("Feel"), "feel", &CheckIn::feel},
     {marked("Sleep"), "sleep", &CheckIn::sleep},
     {marked("Soreness"), "soreness", &CheckIn::soreness},
     {marked("Motivation"), "motivation", &CheckIn::motivation}}};

/// Mean of the scales that were given; nothing without any.
std::optional<double> wellness(const CheckIn& c);

/// Refuses values no check-in has, naming the field; empty where all is well.
std::string whyImpossible(const CheckIn& c);

/// Something worth a word with the rider.
struct Concern {
    int urgency = 0; ///< 0 … 100
    std::string sentence;
    const char* code = ""; ///< what of, for noting it
    double measure = 0;    ///< how much of it; more is worse
};

/// So many days before today are looked at.
inline constexpr int checkInWindow = 42;

/// What the check-ins raise, most urgent first. `checkIns` are in order of day, one a day.
/// - Illness in the last three days, and in the last week.
/// - Weight falling by over 1 % a week for two weeks, by 5 % in a month, or by 2 % where four weighings and
///   more stand on either side: perhaps too little to eat for the work (low energy availability, IOC
///   consensus; figures: common practice). A caution, never a diagnosis.
/// - Two weeks of low answers: a mean of 2.5 or less over seven check-ins and more, or three quarters of a
/// point
///   under the four weeks before.
/// - The last three check-ins of five days, each with a mean of 2 or less: always.
/// - Answers of the last three days a full point under the three weeks before, each scale compared with
/// itself.
/// - Resting heart rate, two readings at least, over the rider's usual by two of their own standard
/// deviations
///   (2 beats at least), or by 7 beats where under seven readings show no spread.
/// Limits: common practice.
std::vector<Concern> checkInConcerns(std::span<const CheckIn> checkIns, Date today);

} // namespace marram
