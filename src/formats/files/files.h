// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QByteArray>
#include <QString>
#include <QStringList>
#include <functional>

namespace marram {

/// The largest recording file read, in bytes.
inline constexpr qint64 largestRecording = 512LL * 1024 * 1024;

/// Reads a whole ordinary file. Folders, pipes, devices and sockets are refused before a byte is read, also
/// behind links, and so is a file that is larger than `largest` or grows past it. A refusal names the file.
Result<QByteArray> readWholeFile(const QString& path, qint64 largest = largestRecording);

/// Writes a file for its owner only, whole or not at all: written beside, brought to disk, put in place in
/// one step. A link of that name is replaced, never followed. A refusal names the file.
Result<void> writeWholeFile(const QString& path, const QByteArray& bytes);

/// Takes away what a killed Marram left half made in a folder (files and folders of its own naming whose
/// process is gone). Done before anything is written there, and when a roster is opened.
void sweepAside(const QString& folder);

/// Makes a folder, and those above it that are missing, for its owner only. One that is there already keeps
/// its mode.
Result<void> makeFolder(const QString& path);

/// The same for a folder inside one that is Marram's to fill: a link of that name is refused.
Result<void> makeFolderInside(const QString& parent, const QString& name);

/// Makes a file that is not there yet, whole or not at all: `make` writes it under another name beside, and
/// only when that succeeded it gets its own. Leaves nothing behind when refused; never replaces a file.
Result<void> makeAside(const QString& path, const std::function<Result<void>(const QString& aside)>& make);

/// A name as the command line gave it; refuses one that is not UTF-8, with what of it can be shown.
Result<QString> fileNameFrom(const std::string& bytes);

struct FoundFiles {
    QStringList files;   ///< in order of name
    QStringList refused; ///< a sentence each: names that are not UTF-8, a folder that can't be read, too many
};
/// Ordinary files below a folder whose name ends in one of `endings` (lower case, as ".fit"); folders behind
/// links are not entered. At most 20 000.
FoundFiles filesBelow(const QString& folder, const QStringList& endings);

} // namespace marram
