// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include <string>
#include <vector>

namespace marram {

/// A day with what stood before it.
struct FeatureDay {
    Date day;
    bool maximal = false, best = false;
    std::vector<double> features;
};

/// What preceded the best days: hypotheses, each to be tested.
struct BestDays {
    struct Finding {
        std::string feature;
        int direction = 0; ///< +1: higher before best days; −1: lower
        double p = 1;      ///< for the family of all features looked at
    };
    std::vector<Finding> findings; ///< with p of at most a tenth
    bool cannotTell = true;
    std::string why;
};

/// Among days of maximal effort only, the best against the others: the largest standardised difference over
/// all features, held against circular shifts of which days were best, the record itself among them.
BestDays learnBefore(std::vector<FeatureDay> days, const std::vector<std::string>& features);

} // namespace marram
