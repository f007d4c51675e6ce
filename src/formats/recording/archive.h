// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/files/files.h"

namespace marram {

/// Endings of recordings, packed ones and archives of them included.
bool namesRecording(const QString& name);

/// What a list of files means: archives (.zip) stand for the recordings inside, each under the archive's
/// path,
/// "/" and its name there. At most 20 000 of one archive; encrypted ones are refused.
FoundFiles unfolded(const QStringList& paths);

/// Reads a recording: an ordinary file, or one inside an archive as unfolded() names it, and unpacks it where
/// it is packed (.gz). Refuses what unpacks to more than `largest`. A refusal names the file. Any thread.
Result<QByteArray> readRecordingFile(const QString& path, qint64 largest = largestRecording);

} // namespace marram
