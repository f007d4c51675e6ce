// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/against.h"
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// The same session ridden again, with what it came to then and now.
struct AgainRide {
    Date day;
    long long ride = 0;
    int rung = 0;
    SessionMark mark;
    std::optional<double> effort; ///< CR-10
    double fitness = 0, form = 0; ///< of that morning
};
struct Again {
    std::string what; ///< "just under threshold, 3 × 12 min"
    AgainRide now;
    std::vector<AgainRide> earlier; ///< newest first, of this rung or the one beside it
};

/// Three pairs the same way are a finding: power within 2 % and heart rate three beats apart, or heart rate
/// within three beats and power over 2 % apart (spreads of ours). Else a pair is only shown.
std::string againFinding(const Again& again);
/// A session ridden again beside the times before, and the finding where there is one.
std::string againText(const Again& again, Date today);

} // namespace marram
