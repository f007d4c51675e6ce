// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/workouts/workouts.h"
#include "formats/files/files.h"
#include "formats/fit/workout.h"

#include <QDir>
#include <QRegularExpression>

namespace marram {

Result<int> writeWorkouts(const QString& folder, const std::vector<BlockSession>& sessions,
                          std::optional<double> thresholdPower, double lowThreshold, std::int64_t created,
                          const std::optional<HeartRateRange>& heartRate) {
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    static const QRegularExpression odd("[^\\p{L}\\p{N}]+");
    int count = 0;
    for (const BlockSession& s : sessions) {
        if (!s.ridden())
            continue;
        const auto bytes = writeWorkout(
            s.session,
            s.family.empty() ? s.title : s.family + (s.rung > 0 ? " " + std::to_string(s.rung) : ""),
            thresholdPower, lowThreshold, created, heartRate);
        const QString family = s.family.empty() ? "session" : QString::fromStdString(s.family);
        const QString name =
            QString::fromStdString(isoText(s.date)) + "-" + QString(family).replace(odd, "-");
        if (auto ok = writeWholeFile(
                QDir(folder).filePath(name + ".fit"),
                {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
            !ok)
            return tl::unexpected(ok.error());
        ++count;
    }
    return count;
}

} // namespace marram
