// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/import.h"
#include "formats/recording/recording.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDirIterator>
#include <QFileInfo>
#include <QThread>
#include <deque>
#include <future>

namespace marram {
namespace {

struct Ready {
    QString path;
    QByteArray packed;
    Result<RideRecord> ride;
};

Ready readyFrom(const QString& path, const RiderRecord& rider) {
    auto bytes = readWholeFile(path);
    if (!bytes)
        return {path, {}, tl::unexpected(bytes.error())};
    auto ride = prepareRide(*bytes, QFileInfo(path).fileName(), rider);
    if (!ride)
        return {path, {}, refuse(path.toStdString() + ": " + ride.error().sentence)};
    return {path, Roster::packed(*bytes), std::move(ride)};
}

Result<void> fillFigures(RideRecord& record, const Ride& recorded, const RiderRecord& rider) {
    const auto trimmed = corrected(recorded, record.corrections);
    if (!trimmed)
        return refuse("the corrections leave nothing of this ride; trim less");
    const Ride& ride = *trimmed;
    ScoringBasis basis = basisOn(rider, record.day);
    basis.effort = record.effort;
    record.score = score(ride, basis);
    record.scoringVersion = scoringVersion;
    record.thresholdPower = basis.threshold.value_or(Watts{0}).value;
    std::vector<int> durations;
    for (const int d : bestDurations())
        if (d <= ride.elapsed())
            durations.push_back(d);
    record.best = meanMax(ride, durations);
    record.stale = false;
    return {};
}

} // namespace

Result<RideRecord> prepareRide(const QByteArray& original, const QString& fileName,
                               const RiderRecord& rider) {
    auto recording = readRecording(original);
    if (!recording)
        return tl::unexpected(recording.error());
    if (!recording->dated)
        return refuse("its times count from the start only, so its day is unknown; times should be like "
                      "2027-01-04T09:30:00Z");
    const auto ride = toGrid(*recording);
    if (!ride)
        return refuse("has no sample with a usable time");
    RideRecord record;
    record.rider = rider.id;
    record.utcOffset =
        recording->utcOffset.value_or(QDateTime::fromSecsSinceEpoch(ride->start).offsetFromUtc());
    const qint64 local = ride->start + record.utcOffset;
    record.day = {static_cast<int>(local >= 0 ? local / 86400 : (local - 86399) / 86400)};
    record.fileName = fileName;
    record.contentHash = QCryptographicHash::hash(original, QCryptographicHash::Sha256);
    for (const std::string& remark : recording->remarks)
        record.remarks << QString::fromStdString(remark);
    if (auto ok = fillFigures(record, *ride, rider); !ok)
        return tl::unexpected(ok.error());
    return record;
}

Result<RideRecord> scoreAgain(const RideRecord& stored, const QByteArray& original,
                              const RiderRecord& rider) {
    auto recording = readRecording(original);
    if (!recording)
        return tl::unexpected(recording.error());
    const auto ride = toGrid(*recording);
    if (!ride)
        return refuse("has no sample with a usable time");
    RideRecord record = stored;
    if (auto ok = fillFigures(record, *ride, rider); !ok)
        return tl::unexpected(ok.error());
    return record;
}

Result<int> relearnScales(Roster& roster, RiderRecord& rider) {
    auto rides = roster.rides(rider.id);
    if (!rides)
        return tl::unexpected(rides.error());
    std::vector<Score> scores;
    for (const RideRecord& r : *rides)
        if (!r.excluded)
            scores.push_back(r.score);
    const Scales learned = learnScales(scores);
    std::vector<RideRecord> changed;
    const bool differs = !(learned == rider.scales);
    rider.scales = learned;
    for (RideRecord& r : *rides) {
        ScoringBasis basis = basisOn(rider, r.day);
        basis.effort = r.effort;
        Score now = r.score;
        rescale(now, basis);
        if (now.stress != r.score.stress || now.effort != r.score.effort || now.scale != r.score.scale) {
            r.score = now;
            changed.push_back(r);
        }
    }
    if (!differs && changed.empty())
        return 0;
    const auto ok = roster.together([&]() -> Result<void> {
        if (auto saved = roster.saveScales(rider.id, learned); !saved)
            return saved;
        return roster.updateRides(changed);
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return static_cast<int>(changed.size());
}

void Importer::store(RideRecord ride, const QByteArray& packed, ImportReport& report) {
    if (roster_.rideWithContent(rider_.id, ride.contentHash)) {
        report.duplicates << ride.fileName;
        return;
    }
    const auto others =
        roster_.overlapping(rider_.id, ride.score.start, ride.score.start + ride.score.elapsed);
    OverlapChoice choice = OverlapChoice::KeepBoth;
    if (!others.empty())
        choice = onOverlap ? onOverlap(ride, others.front()) : OverlapChoice::Skip;
    if (choice == OverlapChoice::Skip) {
        report.overlaps << ride.fileName;
        return;
    }
    qint64 id = 0;
    const auto ok = roster_.together([&]() -> Result<void> {
        if (choice == OverlapChoice::Replace)
            for (const RideRecord& other : others) {
                report.replaced.push_back(other.id);
                if (auto gone = roster_.putAside({other.id}, true); !gone)
                    return gone;
            }
        auto added = roster_.addRide(ride, packed);
        if (!added)
            return tl::unexpected(added.error());
        id = *added;
        return {};
    });
    if (!ok) {
        report.stopped = ok.error();
        return;
    }
    if (report.added.empty())
        report.firstDay = report.lastDay = ride.day;
    report.firstDay = std::min(report.firstDay, ride.day);
    report.lastDay = std::max(report.lastDay, ride.day);
    report.added.push_back(id);
    for (const QString& remark : ride.remarks)
        report.remarks << ride.fileName + ": " + remark;
}

ImportReport Importer::importFiles(const QStringList& paths) {
    ImportReport report;
    std::deque<std::future<Ready>> underWay;
    const auto ahead = static_cast<size_t>(2 * std::max(1, QThread::idealThreadCount()));
    qsizetype next = 0;
    int done = 0;
    // Files are read ahead as long as together they stay small; a huge one is read alone.
    constexpr qint64 most = 64LL * 1024 * 1024;
    std::deque<qint64> sizes;
    qint64 bytes = 0;
    while (done < paths.size()) {
        while (underWay.size() < ahead && next < paths.size()) {
            const qint64 size = QFileInfo(paths[next]).size();
            if (!underWay.empty() && bytes + size > most)
                break;
            sizes.push_back(size);
            bytes += size;
            underWay.push_back(std::async(std::launch::async, readyFrom, paths[next++], std::cref(rider_)));
        }
        Ready ready = underWay.front().get();
        underWay.pop_front();
        bytes -= sizes.front();
        sizes.pop_front();
        if (ready.ride)
            store(std::move(*ready.ride), ready.packed, report);
        else
            report.refused << QString::fromStdString(ready.ride.error().sentence);
        ++done;
        if (report.stopped)
            break;
        if (progress && !progress(done, static_cast<int>(paths.size()))) {
            report.cancelled = done < paths.size();
            break;
        }
    }
    if (!report.added.empty() && !report.stopped)
        if (const auto again = relearnScales(roster_, rider_); !again)
            report.stopped = again.error();
    return report;
}

QStringList recordingsBelow(const QString& folder) {
    QStringList found;
    QDirIterator it(folder, {"*.fit", "*.FIT", "*.gpx", "*.GPX", "*.csv", "*.CSV"}, QDir::Files,
                    QDirIterator::Subdirectories);
    while (it.hasNext() && found.size() < 20000)
        found << it.next();
    found.sort();
    return found;
}

} // namespace marram
