// SPDX-License-Identifier: GPL-3.0-or-later
#include "headunit/device.h"
#include "formats/fit/fit.h"

#include <QDateTime>
#include <QDir>
#include <QSaveFile>

namespace marram {

Result<QString> saveToDevice(const QString& folder, const Recording& recording) {
    if (recording.samples.empty())
        return refuse("the ride has no samples to write");
    if (!QDir().mkpath(folder))
        return refuse(folder.toStdString() + ": can't be made; choose a folder you may write to");
    const auto start = static_cast<qint64>(recording.samples.front().time) + recording.utcOffset.value_or(0);
    const QString name = QDateTime::fromSecsSinceEpoch(start, Qt::UTC).toString("yyyy-MM-dd-HHmmss") + ".fit";
    const QString path = QDir(folder).filePath(name);
    const std::vector<std::uint8_t> bytes = writeFit(recording);
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly) ||
        file.write(reinterpret_cast<const char*>(bytes.data()), static_cast<qint64>(bytes.size())) !=
            static_cast<qint64>(bytes.size()))
        return refuse(path.toStdString() + ": can't be written (" + file.errorString().toStdString() + ")");
    file.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
    if (!file.commit())
        return refuse(path.toStdString() + ": can't be written (" + file.errorString().toStdString() + ")");
    return path;
}

} // namespace marram
