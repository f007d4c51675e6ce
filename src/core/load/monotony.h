// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <optional>

namespace marram {

/// How alike the days of a week were, and what that made of its load.
struct WeekStrain {
    double load = 0;                ///< points of the week
    double mean = 0, deviation = 0; ///< daily; sample standard deviation over the seven days
    std::optional<double> monotony; ///< mean / deviation; nothing where all days are alike
    std::optional<double> strain;   ///< load × monotony, points
};

/// Above this monotony is high: days much alike (common practice; Foster 1998 saw illness follow it).
inline constexpr double highMonotony = 2.0;

/// Monotony and strain of the seven daily stresses of a week, rest days counting as zero.
/// Source: Foster 1998.
WeekStrain strainOf(const std::array<double, 7>& dailyStress);

} // namespace marram
