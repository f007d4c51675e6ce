// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include <QByteArray>
#include <QString>

namespace marram {

/// The largest recording file read, in bytes.
inline constexpr qint64 largestRecording = 512LL * 1024 * 1024;

/// What a recording's bytes look to be, by what they begin with.
enum class RecordingKind { Fit, Gpx, Csv };
RecordingKind kindOf(const QByteArray& bytes);

/// Reads bytes as FIT, GPX or CSV: by what they begin with, whatever the file is called.
Result<Recording> readRecording(const QByteArray& bytes);

/// Reads a whole file; the sentence of a refusal names it.
Result<QByteArray> readWholeFile(const QString& path, qint64 largest = largestRecording);

} // namespace marram
