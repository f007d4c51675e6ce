// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/response.h"

namespace marram {

/// A planned day and whether anything came of it.
struct HabitDay {
    Date day;
    double planned = 0,
           done = 0;  ///< points, hours or yes and no; a day of which under a tenth was done is missed
    std::string kind; ///< of session; empty where it is not said
};

/// How often days are missed.
struct MissedRate {
    std::string of; ///< a weekday by number, 1 Monday, or a kind
    int planned = 0, missed = 0;
    Banded rate;
};

struct Habits {
    std::vector<MissedRate> weekdays, kinds; ///< weekdays with a plan, in order
    Banded run;                              ///< mean length of a run of missed days
    struct Difference {
        std::string a, b;
        double low = 0, high = 0; ///< rate of a less that of b, 99 % band
    };
    std::vector<Difference> differences; ///< only where none lies outside it
};

/// Beta(2, 23) prior for every rate; runs as if three of two days had been seen.
Habits learnHabits(std::vector<HabitDay> days, std::uint64_t seed = 1);

} // namespace marram
