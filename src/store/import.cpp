// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/import.h"
#include "core/ride/devices.h"
#include "core/words/phrase.h"
#include "formats/recording/archive.h"
#include "formats/recording/recording.h"
#include "wording/wording.h"

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
    QString stranger;
    QByteArray list; ///< the bytes of what is no ride and may be a list of activities
};

Ready readyFrom(const QString& path, const RiderRecord& rider) {
    auto bytes = readRecordingFile(path);
    if (!bytes)
        return {path, {}, tl::unexpected(bytes.error()), {}, {}};
    QString stranger;
    auto ride = prepareRide(*bytes, QFileInfo(path).fileName(), rider, &stranger);
    if (!ride)
        return {path,
                {},
                refuse(phrase("%1: %2", path.toStdString(), ride.error().sentence)),
                {},
                kindOf(*bytes) == RecordingKind::Csv && activityHead(*bytes) ? *bytes : QByteArray()};
    return {path, Roster::packed(*bytes), std::move(ride), stranger, {}};
}

/// How far from what is entered a recording may be before it is asked whose it is.
constexpr double otherWeight = 0.15, otherThreshold = 0.3, beyondThreshold = 1.4, beyondBeats = 1.08;

/// Why a recording looks like another rider's; empty where it does not.
QString whyNotTheirs(const Recording& recording, const RideRecord& ride, const RiderRecord& rider) {
    const auto entered = [&](Quantity q) { return rider.values.on(q, ride.day); };
    const auto weight = entered(Quantity::Weight), power = entered(Quantity::ThresholdPower),
               beats = entered(Quantity::ThresholdHeartRate);
    const auto apart = [](double a, double b) { return std::abs(a / b - 1); };
    if (weight && recording.riderWeight && apart(*recording.riderWeight, *weight) > otherWeight)
        return wording("its device was told %1 kg, and %2 are entered")
            .arg(*recording.riderWeight, 0, 'f', 0)
            .arg(*weight, 0, 'f', 0);
    if (power && recording.deviceThreshold && apart(*recording.deviceThreshold, *power) > otherThreshold)
        return wording("its device was told a threshold of %1 W, and %2 are entered")
            .arg(*recording.deviceThreshold, 0, 'f', 0)
            .arg(*power, 0, 'f', 0);
    for (const BestEffort& b : ride.best)
        if (power && b.seconds == 1200 && b.power > beyondThreshold * *power)
            return wording("it holds 20 minutes at %1 W, and a threshold of %2 is entered")
                .arg(b.power, 0, 'f', 0)
                .arg(*power, 0, 'f', 0);
    if (beats && ride.score.meanHeartRate && ride.score.duration >= 3600 &&
        *ride.score.meanHeartRate > beyondBeats * *beats)
        return wording("its heart rate is %1 on the mean of over an hour, and a threshold of %2 is entered")
            .arg(*ride.score.meanHeartRate, 0, 'f', 0)
            .arg(*beats, 0, 'f', 0);
    return {};
}

Result<void> fillFigures(RideRecord& record, const Ride& recorded, const RiderRecord& rider) {
    const auto trimmed = corrected(recorded, record.corrections);
    if (!trimmed)
        return refuse(phrase("the corrections leave nothing of this ride; trim less"));
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

Result<RideRecord> prepareRide(const QByteArray& original, const QString& fileName, const RiderRecord& rider,
                               QString* stranger, Ride* grid) {
    auto recording = readRecording(original);
    if (!recording)
        return tl::unexpected(recording.error());
    if (!recording->dated)
        return refuse(phrase(
            "%1", phrase("its times count from the start only, so its day is unknown; times should be like "
                         "2027-01-04T09:30:00Z")));
    auto ride = toGrid(*recording);
    if (!ride)
        return refuse(phrase("has no sample with a usable time"));
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
        record.remarks << otherSportRemark(QString::fromStdString(*recording->otherSport));
    }
    if (auto ok = fillFigures(record, *ride, rider); !ok)
        return tl::unexpected(ok.error());
    if (stranger && !recording->otherSport)
        *stranger = whyNotTheirs(*recording, record, rider);
    if (grid)
        *grid = std::move(*ride);
    return record;
}

Result<Ride> onGrid(const std::vector<QByteArray>& recordings) {
    std::optional<Ride> ride;
    for (const QByteArray& bytes : recordings) {
        auto recording = readRecording(bytes);
        if (!recording && !ride)
            return tl::unexpected(recording.error());
        auto next = recording ? toGrid(*recording) : std::nullopt;
        if (!ride && !next)
            return refuse(phrase("This ride has no sample with a usable time."));
        if (!ride)
            ride = std::move(next);
        else if (next)
            ride = withBetterChannels(std::move(*ride), *next);
    }
    if (!ride)
        return refuse(phrase("This ride has no recording."));
    return std::move(*ride);
}

Result<RideRecord> scoreAgain(const RideRecord& stored, const std::vector<QByteArray>& recordings,
                              const RiderRecord& rider) {
    const auto ride = onGrid(recordings);
    if (!ride)
        return tl::unexpected(ride.error());
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

/// The rider as the file has it now, read again where the file was changed; the number of its newest change.
Result<qint64> Importer::lookAgain() {
    auto changed = roster_.newestChange();
    if (!changed)
        return changed;
    if (*changed != seen_) {
        auto now = roster_.rider(rider_.id);
        if (!now)
            return tl::unexpected(now.error());
        if (!*now)
            return refuse(phrase("The rider is no longer in the roster."));
        now_ = **now;
    }
    return changed;
}

/// The ride a second device belongs to is scored with what that has better; else it keeps its figures.
Result<void> Importer::scoreWithSecond(const RideRecord& before) {
    const auto recordings = roster_.recordingsOf(before);
    auto again = recordings ? scoreAgain(before, *recordings, now_)
                            : Result<RideRecord>(tl::unexpected(recordings.error()));
    if (again)
        if (auto ok = roster_.updateRides({*again}); !ok)
            return ok;
    return {};
}

namespace {

/// Of rides at the same time, the one in the way of another; null for none.
const RideRecord* inTheWayOf(const std::vector<RideRecord>& others) {
    // A second device's recording is not in the way; the ride it belongs to is.
    const auto inTheWay =
        std::find_if(others.begin(), others.end(), [](const RideRecord& r) { return r.beside.isEmpty(); });
    return inTheWay != others.end() ? &*inTheWay : others.empty() ? nullptr : &others.front();
}

} // namespace

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
    const RideRecord* before = inTheWayOf(*others);
    if (before && !choice) {
        asked_ = *before;
        return {};
    }
    if (!others->empty() && choice == OverlapChoice::Skip) {
        report.overlaps << scored.fileName;
        return {};
    }
    return storeBeside(scored, packed, *others, choice, report);
}

Result<void> Importer::storeBeside(const RideRecord& scored, const QByteArray& packed,
                                   const std::vector<RideRecord>& others, std::optional<OverlapChoice> choice,
                                   ImportReport& report) {
    RideRecord ride = scored;
    const auto changed = lookAgain();
    if (!changed)
        return tl::unexpected(changed.error());
    ride.stale = !scoredAlike(rider_, now_, ride.day);
    std::vector<qint64> replaced;
    if (choice == OverlapChoice::Replace)
        for (const RideRecord& other : others)
            replaced.push_back(other.id);
    if (auto gone = roster_.putAside(replaced, true); !gone)
        return gone;
    const RideRecord* before = inTheWayOf(others);
    const bool second = before && choice == OverlapChoice::OneRide;
    if (second) {
        ride.excluded = true;
        ride.beside = before->beside.isEmpty() ? before->contentHash : before->beside;
        ride.remarks << wording("is a second recording of the ride in %1: what it has better is used there")
                            .arg(before->fileName);
        ++report.secondDevices;
    }
    const auto id = roster_.addRide(ride, packed);
    if (!id)
        return tl::unexpected(id.error());
    if (second && before->beside.isEmpty())
        if (auto ok = scoreWithSecond(*before); !ok)
            return ok;
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
    report.secondDevices += one.secondDevices;
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
        auto& forAll =
            sameRideTwice(ride.score.start, ride.score.elapsed, asked_->score.start, asked_->score.elapsed)
                ? forDevices_
                : forOverlaps_;
        if (!forAll) {
            const OverlapAnswer answer = onOverlap ? onOverlap(ride, *asked_) : OverlapAnswer{};
            choice = answer.choice;
            if (answer.forAll)
                forAll = answer.choice;
        } else {
            choice = forAll;
        }
    }
}

namespace {

/// Finds the ride a line of a list is about.
class ListMatcher {
public:
    ListMatcher(const std::vector<RideRecord>& rides, const std::vector<Activity>& lines) {
        for (const RideRecord& r : rides)
            if (r.beside.isEmpty()) {
                byDay_[r.day].push_back(&r);
                byFile_[stem(r.fileName)].push_back(&r);
            }
        for (const Activity& a : lines)
            if (a.day)
                ++linesOn_[*a.day];
    }

    /// Null where no ride, or no single one, is meant.
    const RideRecord* rideOf(const Activity& a) const {
        if (!a.file.isEmpty())
            if (const auto found = byFile_.find(stem(QString::fromUtf8(a.file))); found != byFile_.end())
                return found->second.size() == 1 ? found->second.front() : nullptr;
        if (!a.day)
            return nullptr;
        if (a.second) {
            // The list has local times or UTC: a ride begins within a quarter of an hour of one of them.
            const std::int64_t at = std::int64_t{a.day->days} * 86400 + *a.second;
            for (int off = -1; off <= 1; ++off)
                if (const auto on = byDay_.find(*a.day + off); on != byDay_.end())
                    for (const RideRecord* r : on->second)
                        if (near(r->score.start + r->utcOffset, at) || near(r->score.start, at))
                            return r;
        }
        const auto on = byDay_.find(*a.day);
        return on != byDay_.end() && on->second.size() == 1 && linesOn_.at(*a.day) == 1 ? on->second.front()
                                                                                        : nullptr;
    }

private:
    static bool near(std::int64_t a, std::int64_t b) { return std::abs(a - b) <= 900; }
    static QString stem(QString name) {
        name = name.toLower();
        return name.endsWith(".gz") ? name.chopped(3) : name;
    }
    std::map<Date, std::vector<const RideRecord*>> byDay_;
    std::map<QString, std::vector<const RideRecord*>> byFile_;
    std::map<Date, int> linesOn_;
};

/// The ride with what a line adds; what is there stays.
RideRecord withActivity(RideRecord ride, const Activity& a) {
    if (!ride.effort)
        ride.effort = a.effort;
    if (ride.note.isEmpty()) {
        QStringList words;
        for (const QByteArray& part : {a.name, a.note})
            if (!part.isEmpty())
                words << QString::fromUtf8(part);
        ride.note = words.join(". ");
    }
    return ride;
}

/// Whether a column of the first lines holds days.
bool holdsDays(const QByteArray& text, const ActivityHead& head) {
    for (int column = 0; column < head.columns.size(); ++column) {
        ActivityColumns trial;
        trial.day = column;
        trial.name = column;
        if (readActivities(text, trial))
            return true;
    }
    return false;
}

} // namespace

/// The rides that gain words or an effort by a list, before and after, and how many of its lines belong to a
/// ride at all.
static std::pair<std::vector<std::pair<RideRecord, RideRecord>>, int>
changedBy(const std::vector<RideRecord>& rides, const std::vector<Activity>& activities) {
    const ListMatcher matcher(rides, activities);
    std::vector<std::pair<RideRecord, RideRecord>> changed;
    int matched = 0;
    for (const Activity& a : activities) {
        const RideRecord* ride = matcher.rideOf(a);
        if (!ride)
            continue;
        ++matched;
        const RideRecord now = withActivity(*ride, a);
        const auto known = [&](const auto& pair) { return pair.first.id == ride->id; };
        if (!sameForCoach(*ride, now) && std::none_of(changed.begin(), changed.end(), known))
            changed.emplace_back(*ride, now);
    }
    return {changed, matched};
}

void Importer::takeList(const QString& path, const QByteArray& bytes, const Problem& refusal,
                        ImportReport& report) {
    const auto head = activityHead(bytes);
    std::optional<ActivityColumns> columns = head ? recognisedColumns(head->columns) : ActivityColumns{};
    if (head && !columns->usable() && onList && holdsDays(bytes, *head))
        columns = onList(QFileInfo(path).fileName(), *head);
    if (!columns || !columns->usable()) {
        report.refused << QString::fromStdString(refusal.sentence);
        return;
    }
    const auto list = readActivities(bytes, *columns);
    if (!list) {
        report.refused << wording("%1: as a list of activities, %2", path,
                                  QString::fromStdString(list.error().sentence));
        return;
    }
    int matched = 0, without = list->unread;
    std::vector<std::pair<RideRecord, RideRecord>> changed;
    const auto ok = roster_.together([&]() -> Result<void> {
        const auto rides = roster_.rides(rider_.id);
        if (!rides)
            return tl::unexpected(rides.error());
        std::tie(changed, matched) = changedBy(*rides, list->activities);
        without += static_cast<int>(list->activities.size()) - matched;
        if (changed.empty())
            return {};
        std::vector<RideRecord> after;
        after.reserve(changed.size());
        for (const auto& [was, is] : changed)
            after.push_back(is);
        if (auto saved = roster_.updateRides(after); !saved)
            return saved;
        return roster_.oweLearning(rider_.id);
    });
    if (!ok) {
        report.stopped = ok.error();
        return;
    }
    report.listed.insert(report.listed.end(), changed.begin(), changed.end());
    report.remarks << wording("%1: %2 of its lines belong to rides here, %3 gained an effort or words; %4 %5 "
                              "no single ride")
                          .arg(QFileInfo(path).fileName())
                          .arg(matched)
                          .arg(changed.size())
                          .arg(without)
                          .arg(countedWording(without, "has", "have"));
}

namespace {

/// The folder (or archive) of a file that is no longer there, where it is the folder that has gone; empty
/// where only the file has.
QString folderGone(const QString& path) {
    const QFileInfo file(path);
    QString folder = file.absolutePath(), gone;
    while (!QFileInfo::exists(folder) && folder != QFileInfo(folder).absolutePath()) {
        gone = folder;
        folder = QFileInfo(folder).absolutePath();
    }
    return QFileInfo(folder).isDir() ? gone : QString(); // inside an archive that is there
}

/// A list of values, and what was wrong with it as a recording.
struct Table {
    QString path;
    QByteArray bytes;
    Problem refusal;
};

QString goneSentence(const QString& folder, int done, qsizetype all) {
    return wording("%1: has gone, at %2 of %3 files; what came in before stays, the rest did not come in",
                   folder, QString::number(done), QString::number(all));
}

/// Files are read ahead as long as together they stay small; a huge one is read alone.
class ReadingAhead {
public:
    ReadingAhead(const QStringList& paths, const RiderRecord& rider) : paths_(paths), rider_(rider) {}

    /// The next one, in the order of the paths; there is one.
    Ready next() {
        while (underWay_.size() < ahead_ && begun_ < paths_.size()) {
            const qint64 size = QFileInfo(paths_[begun_]).size();
            if (!underWay_.empty() && bytes_ + size > most)
                break;
            bytes_ += size;
            underWay_.push_back(
                {std::async(std::launch::async, readyFrom, paths_[begun_++], std::cref(rider_)), size});
        }
        Ready ready = underWay_.front().first.get();
        bytes_ -= underWay_.front().second;
        underWay_.pop_front();
        return ready;
    }

private:
    static constexpr qint64 most = 64LL * 1024 * 1024;
    const QStringList& paths_;
    const RiderRecord& rider_;
    const size_t ahead_ = static_cast<size_t>(2 * std::max(1, QThread::idealThreadCount()));
    std::deque<std::pair<std::future<Ready>, qint64>> underWay_;
    qsizetype begun_ = 0;
    qint64 bytes_ = 0;
};

} // namespace

ImportReport Importer::importFiles(const QStringList& given) {
    ImportReport report;
    const FoundFiles found = unfolded(given);
    const QStringList& paths = found.files;
    report.refused = found.refused;
    std::vector<Table> lists; // for when the rides they speak of are in
    ReadingAhead reading(paths, rider_);
    int done = 0;
    while (done < paths.size()) {
        Ready ready = reading.next();
        if (ready.ride && !ready.stranger.isEmpty() && !takesStrangers_)
            takesStrangers_ = onStranger && onStranger(ready.ride->fileName + ": " + ready.stranger);
        if (ready.ride && !ready.stranger.isEmpty() && !*takesStrangers_)
            report.strangers << ready.ride->fileName + ": " + ready.stranger;
        else if (ready.ride) {
            if (!ready.stranger.isEmpty())
                report.remarks << wording("%1: looks like another rider's: %2", ready.ride->fileName,
                                          ready.stranger);
            store(std::move(*ready.ride), ready.packed, report);
        } else if (!ready.list.isEmpty())
            lists.push_back({ready.path, ready.list, ready.ride.error()});
        else if (const QString gone = folderGone(ready.path); !gone.isEmpty()) {
            report.refused << goneSentence(gone, done, paths.size());
            break;
        } else
            report.refused << QString::fromStdString(ready.ride.error().sentence);
        ++done;
        if (report.stopped)
            break;
        if (progress && !progress(done, static_cast<int>(paths.size()))) {
            report.cancelled = done < paths.size();
            break;
        }
    }
    for (const Table& t : lists)
        if (!report.stopped && !report.cancelled)
            takeList(t.path, t.bytes, t.refusal, report);
    if (!report.stopped)
        if (const auto again = relearnIfOwed(roster_, rider_.id); !again)
            report.stopped = again.error();
    return report;
}

} // namespace marram
