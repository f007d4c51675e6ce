// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/rider/rider.h"
#include "core/words/phrase.h"
#include <string>

namespace marram {

/// The tests Marram knows. A trend holds one protocol only: different tests of the same thing give different
/// answers (common practice).
enum class Protocol {
    TwentyMinutes,
    Ramp,
    Hour,
    Climb,
    Sprint5s,
    Sprint30s,
    Power1min,
    Power5min,
    AerobicCheck,
    DurabilityCheck,
    MaximalEffort
};
inline constexpr int protocolCount = 11;

struct ProtocolWords {
    const char* name;         ///< "Threshold, 20 minutes"
    const char* key;          ///< in files
    const char* measures;     ///< what is written down, with its unit: "mean power of the 20 minutes, W"
    const char* unit;         ///< of the value
    const char* instructions; ///< what the rider does, in sentences
    bool maximal;             ///< goes to the limit: only after screening
    double aerobic;           ///< part of the loss of aerobic power at altitude that it falls by, 0–1
    int seconds;              ///< length of the effort; 0 where the rider's course decides
    int daysBetween;          ///< how long a result stays fresh
    double thresholdPart;     ///< threshold power over the value; 0 where the test says nothing of it
};
const ProtocolWords& wordsFor(Protocol protocol);
std::optional<Protocol> protocolNamed(std::string_view key);

/// What stands beside every maximal test.
inline constexpr const char* maximalCaution = marked(
    "A maximal effort: only after medical screening, rested and well. Not with fever, illness, chest pain, "
    "fainting, palpitations or unusual breathlessness; then stop, and see a doctor. Minors, pregnancy, heart "
    "or metabolic disease and return from illness or injury belong under licensed care.");

enum class Verdict { Open, Accepted, Declined };

/// One result as it was entered or found in a ride.
struct TestResult {
    Date day;
    Protocol protocol = Protocol::TwentyMinutes;
    double value = 0;                ///< in the protocol's unit; durability: the fresh effort, W
    double second = 0;               ///< aerobic check: drift, %; durability: the effort after the work, W
    double seconds = 0;              ///< climb, durability and maximal effort: length of the effort
    double workKj = 0;               ///< durability: work between the two efforts
    std::optional<double> altitudeM; ///< where it was ridden
    bool acclimatised = false;
    std::string place; ///< the climb, or anything that makes results comparable
    std::string note;
    Verdict verdict = Verdict::Open; ///< the coach's yes or no to what it changes
    bool operator==(const TestResult&) const = default;
};

/// Refuses values no rider ever had, in a sentence; empty where the result is possible.
std::string whyImpossible(const TestResult& result);

/// The value as it would have been at sea level, for comparing results only, up to 4 km: by the aerobic power
/// left at that altitude, half of that loss for one-minute efforts; sprints and checks stay as they are, as
/// do results without an altitude. What is in force is what was measured where the rider rides.
double atSeaLevel(const TestResult& result);

/// Power lost from the fresh effort to the one after the work, in percent.
double durabilityLoss(const TestResult& result);

/// Threshold power a result stands for, where it was measured; nothing for protocols that say nothing of it.
/// 20 minutes × 0.95, best ramp minute × 0.75, an hour × 1 (common practice).
std::optional<double> thresholdFrom(const TestResult& result);

/// What a result says and what a yes would change, beside what was known on its day and the last result of
/// the same protocol (and place).
std::string describeResult(const TestResult& result, std::span<const TestResult> all,
                           const RiderValues& known);

/// The results of one protocol and place, in order of day, declined ones left out: the only ones compared.
std::vector<TestResult> trendOf(std::span<const TestResult> all, Protocol protocol, const std::string& place);

/// A test that should be done.
struct DueTest {
    Protocol protocol = Protocol::TwentyMinutes;
    Date from;       ///< due from this day on
    std::string why; ///< one sentence
};

/// The threshold test or benchmark climb and the aerobic check next due: threshold tests and climbs
/// alternate, six to eight weeks apart, near the end of a deload week; aerobic checks come every three to
/// four weeks. `deloadEnds` are the Sundays of deload weeks ahead, in order. Common practice.
std::vector<DueTest> testsDue(std::span<const TestResult> done, Date today, std::span<const Date> deloadEnds,
                              bool hasPower);

} // namespace marram
