// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/recording/recording.h"
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/fit/fit.h"
#include "formats/gpx/gpx.h"
#include "formats/recording/archive.h"

namespace marram {

RecordingKind kindOf(const QByteArray& bytes) {
    if (bytes.size() >= 12 && bytes.mid(8, 4) == ".FIT")
        return RecordingKind::Fit;
    const QByteArray head = bytes.left(512).trimmed();
    return head.startsWith('<') || head.startsWith("\xEF\xBB\xBF<") ? RecordingKind::Gpx : RecordingKind::Csv;
}

Result<Recording> readRecording(const QByteArray& bytes) {
    if (bytes.isEmpty())
        return refuse(phrase("is empty; it should be a FIT, GPX or CSV recording"));
    const RecordingKind kind = kindOf(bytes);
    if (kind == RecordingKind::Fit)
        return readFit(
            {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())});
    if (kind == RecordingKind::Gpx)
        return readGpx(bytes);
    if (bytes.startsWith("\xFF\xFE") || bytes.startsWith("\xFE\xFF"))
        return refuse(phrase("is in UTF-16; save it as UTF-8"));
    if (bytes.left(4096).contains('\0'))
        return refuse(phrase("is no recording Marram can read; it should be FIT, GPX or CSV"));
    if (!bytes.isValidUtf8())
        return refuse(phrase("is not in UTF-8; save it as UTF-8"));
    return readCsvRecording(bytes);
}

Result<QByteArray> writeRecording(const Recording& recording, const QString& ending, const QByteArray& name) {
    const QString format = ending.toLower();
    if (format == "fit") {
        const auto fit = writeFit(recording);
        return QByteArray(reinterpret_cast<const char*>(fit.data()), static_cast<qsizetype>(fit.size()));
    }
    if (format == "csv")
        return writeCsvRecording(recording);
    if (format == "gpx")
        return writeGpx(recording, name);
    return refuse(phrase("the name should end in .fit, .gpx or .csv"));
}

FoundFiles recordingsBelow(const QString& folder) {
    FoundFiles found = filesBelow(folder, {".fit", ".gpx", ".csv", ".fit.gz", ".gpx.gz", ".csv.gz", ".zip"});
    const FoundFiles inside = unfolded(found.files);
    return {inside.files, found.refused + inside.refused};
}

} // namespace marram
