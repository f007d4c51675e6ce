// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/recording/recording.h"
#include "formats/csv/csv.h"
#include "formats/fit/fit.h"
#include "formats/gpx/gpx.h"

#include <QFile>
#include <QFileInfo>

namespace marram {

RecordingKind kindOf(const QByteArray& bytes) {
    if (bytes.size() >= 12 && bytes.mid(8, 4) == ".FIT")
        return RecordingKind::Fit;
    const QByteArray head = bytes.left(512).trimmed();
    return head.startsWith('<') || head.startsWith("\xEF\xBB\xBF<") ? RecordingKind::Gpx : RecordingKind::Csv;
}

Result<Recording> readRecording(const QByteArray& bytes) {
    if (bytes.isEmpty())
        return refuse("is empty; it should be a FIT, GPX or CSV recording");
    const RecordingKind kind = kindOf(bytes);
    if (kind == RecordingKind::Fit)
        return readFit(
            {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())});
    if (kind == RecordingKind::Gpx)
        return readGpx(bytes);
    if (bytes.left(4096).contains('\0'))
        return refuse("is no recording Marram can read; it should be FIT, GPX or CSV");
    return readCsvRecording(bytes);
}

Result<QByteArray> readWholeFile(const QString& path, qint64 largest) {
    const std::string name = path.toStdString();
    const QFileInfo info(path);
    if (!info.exists())
        return refuse(name + ": does not exist");
    if (info.isDir())
        return refuse(name + ": is a folder; name a file");
    if (info.size() > largest)
        return refuse(name + ": is larger than " + std::to_string(largest / 1024 / 1024) +
                      " MB and was not read");
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return refuse(name + ": can't be read (" + file.errorString().toStdString() + ")");
    return file.readAll();
}

} // namespace marram
