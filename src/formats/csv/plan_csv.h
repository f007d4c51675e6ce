// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"
#include <QByteArray>

namespace marram {

/// A plan as CSV, a line a day: date,weekday,week_kind,phase,role,hours,stress,fitness,fatigue,form,race.
/// Full precision; a race's name is quoted where it has to be and made harmless where it would be a formula.
QByteArray writePlanCsv(const Season& season, const Plan& plan);

} // namespace marram
