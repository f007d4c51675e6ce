// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "demo/scenario.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QLockFile>

namespace marram::test {

/// A demo roster of its own at `path`: made once by this very programme (its time is in the name), copied
/// from then on, since riding a year for six riders takes five seconds.
inline Result<void> demoRoster(const QString& path, Date today) {
    const QFileInfo self(QCoreApplication::applicationFilePath());
    const QDir folder(self.absoluteDir().filePath("../tests"));
    const QString made = folder.filePath(QString("%1-%2-%3.marram")
                                             .arg(self.fileName(), QString::fromStdString(isoText(today)))
                                             .arg(self.lastModified().toMSecsSinceEpoch()));
    QLockFile lock(folder.filePath(self.fileName() + ".making"));
    lock.setStaleLockTime(0); // held by a process that lives, however long it takes
    if (!lock.lock())
        return refuse("cannot lock " + lock.fileName().toStdString());
    if (!QFile::exists(made)) {
        for (const QString& older : folder.entryList({self.fileName() + "-*.marram"}))
            QFile::remove(folder.filePath(older));
        if (auto ok = writeDemo(made, today, {}); !ok)
            return ok;
    }
    if (!QFile::copy(made, path))
        return refuse("cannot copy " + made.toStdString());
    return {};
}

} // namespace marram::test
