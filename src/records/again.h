// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/monday.h"
#include "records/records.h"
#include <functional>

namespace marram {

/// Shorthand without its rests: "2 × (10 × 30 s 120)".
std::string withoutRests(const std::string& shorthand);

/// A session's family with its rung as it is spoken of: "threshold, 3 × 12 min at 95 %".
std::string sessionName(const MeantSession& session, const FamilyBook& book);

/// A test in a sentence, and beside it the last three of its kind and place, each with fitness and form of
/// its morning; the second empty where it was the first.
std::pair<std::string, std::string> testAgain(const TestResult& test, const std::vector<TestResult>& all,
                                              const std::function<LoadState(Date)>& morning, Date today);

/// The session of a day ridden again: the last three times its rung, or the one beside it, was ridden within
/// half a year. `riddenOn` gives what a day's repetitions came to; nothing where none was ridden or found.
/// Nothing for sessions without a ladder, and where it was not ridden before.
std::optional<Again> sameAgain(Date day, const std::map<Date, MeantSession>& meant, const FamilyBook& book,
                               const std::function<std::optional<AgainRide>(Date)>& riddenOn);

} // namespace marram
