// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <qcustomplot.h>

namespace marram {

/// Gives a plot, all its axes and its grid the look of the theme in force.
void dressPlot(QCustomPlot& plot);

/// Seconds from the Unix epoch at noon of a day: where a day stands on a date axis.
double noonOf(Date day);

/// A date axis whose ticks are days or months as there is room, in words without a year where it is clear.
void useDates(QCPAxis& axis);

/// Durations on a logarithmic axis, ticked where coaches read them.
void useDurations(QCPAxis& axis);

} // namespace marram
