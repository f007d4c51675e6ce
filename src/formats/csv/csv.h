// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "core/review/checkin.h"
#include "core/ride/grid.h"
#include <QByteArray>
#include <map>

namespace marram {

/// Reads a recording from CSV text by header name. Time: `seconds` (from the start, or from the Unix epoch)
/// or ISO 8601 `time`; power, heart rate, cadence, altitude, distance under their usual names, with or
/// without a unit (power_w, heart_rate_bpm …). Comma, semicolon or tab. Empty cells are missing values; a
/// cell that is no number, or a row with the wrong number of cells, is refused with its line.
Result<Recording> readCsvRecording(const QByteArray& text);

/// Writes a recording as CSV that readCsvRecording reads back: times in UTC, one row for every sample, laps
/// by number, empty cells for missing values.
QByteArray writeCsvRecording(const Recording& recording);

/// A check-in of somebody, as a file names them.
struct NamedCheckIn {
    QByteArray rider; ///< UTF-8
    CheckIn checkIn;
    bool operator==(const NamedCheckIn&) const = default;
};

/// Reads check-ins by header name: `rider` and `date`, and any of feel, sleep, soreness, motivation (1–5),
/// rest_hr_bpm, weight_kg, ill (yes/no), note. Refuses unknown columns and impossible values with the line.
Result<std::vector<NamedCheckIn>> readCheckIns(const QByteArray& text);
/// Writes them so that readCheckIns gives them back.
QByteArray writeCheckIns(const std::vector<NamedCheckIn>& checkIns);

/// Reads `date,stress` lines into points by day; two lines of one day are summed. Refuses impossible dates,
/// negative or non-finite stress, and spans over 60 years, with the line.
Result<std::map<Date, double>> readDailyStress(const QByteArray& text);

} // namespace marram
