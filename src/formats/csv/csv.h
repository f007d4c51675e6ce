// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include <QByteArray>
#include <map>

namespace marram {

/// Reads a recording from CSV text by header name. Time: `seconds` (from the start, or from the Unix epoch)
/// or ISO 8601 `time`; power, heart rate, cadence, altitude, distance under their usual names, with or
/// without a unit (power_w, heart_rate_bpm …). Comma, semicolon or tab. Empty cells are missing values; a
/// cell that is no number, or a row with the wrong number of cells, is refused with its line.
Result<Recording> readCsvRecording(const QByteArray& text);

/// Reads `date,stress` lines into points by day; two lines of one day are summed. Refuses impossible dates,
/// negative or non-finite stress, and spans over 60 years, with the line.
Result<std::map<Date, double>> readDailyStress(const QByteArray& text);

} // namespace marram
