// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <string>

namespace marram {

/// Something to be careful of, with whom to see.
struct Caution {
    std::string code;   ///< what of
    double measure = 0; ///< how much of it; more is worse
    std::string text;
};

/// A caution the coach has noted, and why it may stand. It comes back when it is worse by a tenth, or after
/// four weeks.
struct NotedCaution {
    std::string code;
    Date day;
    double measure = 0;
    std::string reason;
    bool operator==(const NotedCaution&) const = default;
};
bool stillNoted(const NotedCaution& noted, const Caution& now, Date today);

} // namespace marram
