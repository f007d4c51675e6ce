// SPDX-License-Identifier: GPL-3.0-or-later
#include "headunit/device.h"
#include "formats/files/files.h"
#include "formats/fit/fit.h"

#include <QDateTime>
#include <QDir>

namespace marram {

Result<QString> saveToDevice(const QString& folder, const Recording& recording) {
    if (recording.samples.empty())
        return refuse("the ride has no samples to write");
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    const auto start = static_cast<qint64>(recording.samples.front().time) + recording.utcOffset.value_or(0);
    const QString name = QDateTime::fromSecsSinceEpoch(start, Qt::UTC).toString("yyyy-MM-dd-HHmmss") + ".fit";
    const QString path = QDir(folder).filePath(name);
    const std::vector<std::uint8_t> bytes = writeFit(recording);
    if (auto ok = writeWholeFile(
            path, {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
        !ok)
        return tl::unexpected(ok.error());
    return path;
}

} // namespace marram
