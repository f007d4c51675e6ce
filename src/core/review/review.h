// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"

namespace marram {

/// How what was ridden on a day compares with what was planned.
enum class Compliance { Rest, Done, Off, FarOff, Missed, Unplanned };

/// Within ±20 % of the plan is done; 50–80 % or 120–150 % off; beyond that far off; nothing ridden is missed;
/// nothing planned is unplanned. Source: trade figures, common practice.
Compliance compare(double planned, double ridden);

/// One word for it, as a coach would say it.
const char* wordFor(Compliance c);

} // namespace marram
