// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/import.h"
#include "formats/recording/archive.h"
#include "formats/recording/recording.h"

#include <QCryptographicHash>
#include <QDateTime>
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
    auto bytes = readRecordingFile(path);
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
    if (recording->otherSport) {
        record.excluded = true;
        record.remarks << QString("is %1, not riding: it stays in the list and counts for nothing until you "
                                  "say otherwise")
                              .arg(QString::fromStdString(*recording->otherSport));
    }
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

Result<int> relearnScales(Roster& roster, qint64 id) {
    int count = 0;
    const auto ok = roster.together([&]() -> Result<void> {
        auto found = roster.rider(id);
        if (!found)
            return tl::unexpected(found.error());
        if (!*found)
            return {};
        RiderRecord& rider = **found;
        auto rides = roster.rides(id);
        if (!rides)
            return tl::unexpected(rides.error());
        std::vector<Score> scores;
        for (const RideRecord& r : *rides)
            if (!r.excluded)
                scores.push_back(r.score);
        rider.scales = learnScales(scores);
        std::vector<RideRecord> changed;
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
        count = static_cast<int>(changed.size());
        if (auto saved = roster.saveScales(id, rider.scales); !saved)
            return saved;
        return roster.updateRides(changed);
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return count;
}

Result<int> relearnIfOwed(Roster& roster, qint64 rider) {
    const auto now = roster.rider(rider);
    if (!now)
        return tl::unexpected(now.error());
    return *now && (*now)->owesLearning && !roster.readOnly() ? relearnScales(roster, rider) : 0;
}

Result<void> Importer::storeOnce(const RideRecord& scored, const QByteArray& packed,
                                 std::optional<OverlapChoice>& choice, ImportReport& report) {
    asked_.reset();
    const auto there = roster_.rideWithContent(rider_.id, scored.contentHash);
    if (!there)
        return tl::unexpected(there.error());
    if (*there) {
        report.duplicates << scored.fileName;
        return {};
    }
    const auto others =
        roster_.overlapping(rider_.id, scored.score.start, scored.score.start + scored.score.elapsed);
    if (!others)
        return tl::unexpected(others.error());
    if (!others->empty() && !choice) {
        asked_ = others->front();
        return {};
    }
    if (!others->empty() && *choice == OverlapChoice::Skip) {
        report.overlaps << scored.fileName;
        return {};
    }
    RideRecord ride = scored;
    const auto changed = roster_.newestChange();
    if (!changed)
        return tl::unexpected(changed.error());
    if (*changed != seen_) {
        auto now = roster_.rider(rider_.id);
        if (!now)
            return tl::unexpected(now.error());
        if (!*now)
            return refuse("The rider is no longer in the roster.");
        now_ = **now;
    }
    ride.stale = !scoredAlike(rider_, now_, ride.day);
    std::vector<qint64> replaced;
    if (!others->empty() && *choice == OverlapChoice::Replace)
        for (const RideRecord& other : *others)
            replaced.push_back(other.id);
    if (auto gone = roster_.putAside(replaced, true); !gone)
        return gone;
    const auto id = roster_.addRide(ride, packed);
    if (!id)
        return tl::unexpected(id.error());
    report.firstDay = report.lastDay = ride.day;
    report.added.push_back(*id);
    report.replaced = replaced;
    for (const QString& remark : ride.remarks)
        report.remarks << ride.fileName + ": " + remark;
    seen_ = *changed + 1; // the number this change will get
    return {};
}

namespace {

/// What became of one more ride.
void add(ImportReport& report, const ImportReport& one) {
    report.duplicates << one.duplicates;
    report.overlaps << one.overlaps;
    report.remarks << one.remarks;
    report.replaced.insert(report.replaced.end(), one.replaced.begin(), one.replaced.end());
    if (one.added.empty())
        return;
    report.firstDay = report.added.empty() ? one.firstDay : std::min(report.firstDay, one.firstDay);
    report.lastDay = report.added.empty() ? one.lastDay : std::max(report.lastDay, one.lastDay);
    report.added.push_back(one.added.front());
}

} // namespace

void Importer::store(RideRecord ride, const QByteArray& packed, ImportReport& report) {
    std::optional<OverlapChoice> choice;
    for (;;) {
        ImportReport one;
        if (auto ok = roster_.together([&] { return storeOnce(ride, packed, choice, one); }); !ok) {
            report.stopped = ok.error();
            seen_ = -1;
            return;
        }
        if (!asked_) {
            add(report, one);
            return;
        }
        // Asked while nothing is locked; then looked at again.
        choice = onOverlap ? onOverlap(ride, *asked_) : OverlapChoice::Skip;
    }
}

ImportReport Importer::importFiles(const QStringList& given) {
    ImportReport report;
    const FoundFiles found = unfolded(given);
    const QStringList& paths = found.files;
    report.refused = found.refused;
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
    if (!report.stopped)
        if (const auto again = relearnIfOwed(roster_, rider_.id); !again)
            report.stopped = again.error();
    return report;
}

} // namespace marram
