// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include "formats/files/files.h"

namespace marram {

/// What a recording's bytes look to be, by what they begin with.
enum class RecordingKind { Fit, Gpx, Csv };
RecordingKind kindOf(const QByteArray& bytes);

/// All recordings below a folder (.fit, .gpx, .csv, packed as .gz or inside .zip), in order of name.
FoundFiles recordingsBelow(const QString& folder);

/// Reads bytes as FIT, GPX or CSV: by what they begin with, whatever the file is called.
Result<Recording> readRecording(const QByteArray& bytes);

/// A recording as the bytes of the format a file's ending names (fit, gpx, csv, in any case). Refuses other
/// endings, and what a format can't hold. `name` is what a GPX calls the ride.
Result<QByteArray> writeRecording(const Recording& recording, const QString& ending, const QByteArray& name);

} // namespace marram
