// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"

namespace marram {

/// Weeks that use much less of their hours than was thought are laid on their days again, all build weeks of
/// a block alike: hard days, tests and openers keep their time while the others give way. True where any was;
/// the load is to be solved again then.
bool layUnderusedWeeks(const Season& season, Solved& solved);

/// Lays the bands of weeks with hard days again, now that the time they really use is known: the high band is
/// then neither more than its hard days hold nor less than they could. Stress stays what it is.
void settleBands(const Season& season, Solved& solved);

} // namespace marram
