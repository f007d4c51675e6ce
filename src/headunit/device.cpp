// SPDX-License-Identifier: GPL-3.0-or-later
#include "headunit/device.h"
#include "formats/files/files.h"
#include "formats/fit/fit.h"
#include "formats/fit/workout.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <algorithm>
#include <cstdlib>

namespace marram {

Result<RoughSession> workoutFrom(const QString& folder, double thresholdPower) {
    const QFileInfoList all = QDir(folder).entryInfoList({"*.fit"}, QDir::Files, QDir::Time | QDir::Name);
    std::string why = "there is no workout in " + folder.toStdString();
    for (const QFileInfo& info : all) {
        QFile file(info.filePath());
        if (!file.open(QIODevice::ReadOnly))
            continue;
        const QByteArray bytes = file.read(1 << 20);
        const auto steps = readWorkout(
            {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())},
            thresholdPower);
        if (!steps) {
            why = info.fileName().toStdString() + ": " + steps.error().sentence;
            continue;
        }
        RoughSession out;
        out.title = info.completeBaseName().toStdString();
        for (const WorkoutStep& w : *steps) {
            Step step;
            step.seconds = w.seconds;
            if (w.low && w.high) {
                step.from = *w.low;
                step.to = *w.high;
            } else if (w.note.rfind("effort ", 0) == 0) {
                step.kind = TargetKind::Effort;
                step.effort = std::clamp(std::atoi(w.note.c_str() + 7), 1, 10);
            } else {
                step.kind = w.rest ? TargetKind::Effort : TargetKind::AllOut;
                step.effort = 2;
            }
            // A span a few percent wide is one target; a wider one is ridden through from end to end.
            if (w.low && w.high && *w.high - *w.low < 0.06)
                step.from = step.to = (*w.low + *w.high) / 2;
            Session one;
            one.items.push_back({step, 0, false, {}, {}});
            for (RoughStep r : asRidden(one).steps) {
                r.work = !w.rest;
                out.kind = w.rest ? out.kind : SessionKind::Intervals;
                out.steps.push_back(r);
            }
        }
        return out;
    }
    return refuse(why);
}

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
