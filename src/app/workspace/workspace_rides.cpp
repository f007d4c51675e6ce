// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/commands.h"
#include "app/workspace/workspace.h"
#include "formats/recording/recording.h"
#include "headunit/device.h"

#include <QDateTime>
#include <algorithm>
#include <future>

namespace marram {

const RideRecord* Workspace::rideById(qint64 id) const {
    const auto found =
        std::find_if(rides_.begin(), rides_.end(), [&](const RideRecord& r) { return r.id == id; });
    return found == rides_.end() ? nullptr : &*found;
}

bool Workspace::putRidesAside(const std::vector<qint64>& rides, bool aside) {
    if (!roster_ || !succeeded(roster_->putAside(rides, aside)))
        return false;
    loadRides();
    relearn();
    scoreStaleRides();
    solve(false);
    return true;
}

void Workspace::removeRide(qint64 id) {
    if (rideById(id))
        undo_.push(new RidesCommand(*this, rider_, {}, {id}, false, "Remove a ride"));
}

void Workspace::setRide(const RideRecord& after, const QString& what) {
    if (const RideRecord* before = rideById(after.id))
        undo_.push(new RideCommand(*this, *before, after, what));
}

bool Workspace::writeRide(const RideRecord& wanted) {
    if (wanted.rider != rider_)
        choose(wanted.rider);
    const RideRecord* now = rideById(wanted.id);
    if (!now)
        return false;
    // Figures stay those in force; the coach's part is what changes.
    RideRecord r = *now;
    r.note = wanted.note;
    r.excluded = wanted.excluded;
    r.effort = wanted.effort;
    r.stale = r.stale || !(r.corrections == wanted.corrections);
    r.corrections = wanted.corrections;
    if (!succeeded(roster_->updateRides({r})))
        return false;
    loadRides();
    relearn();
    scoreStaleRides();
    solve(false);
    return true;
}

void Workspace::relearn() {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == rider_; });
    if (found == riders_.end() || readOnly())
        return;
    const auto changed = relearnScales(*roster_, *found);
    if (!changed)
        emit failed(QString::fromStdString(changed.error().sentence));
    else if (*changed > 0)
        loadRides();
    seenChanges_ = roster_->foreignChanges();
}

void Workspace::scoreStaleRides() {
    const RiderRecord* who = rider();
    std::vector<RideRecord> stale;
    for (const RideRecord& r : rides_)
        if (r.stale)
            stale.push_back(r);
    ++scoringGeneration_;
    if (scoringThread_.joinable())
        scoringThread_.join();
    scoringLeft_ = scoringTotal_ = 0;
    if (!who || stale.empty() || readOnly())
        return;
    scoringLeft_ = scoringTotal_ = static_cast<int>(stale.size());
    emit scoringProgress(scoringLeft_);
    // Read and computed beside the interface, stored by it: whatever the coach changes meanwhile wins.
    scoringThread_ = std::thread([this, stale = std::move(stale), path = roster_->path(), rider = *who,
                                  generation = scoringGeneration_.load()] {
        const auto roster = Roster::open(path);
        constexpr size_t batch = 16;
        for (size_t at = 0; roster && at < stale.size() && generation == scoringGeneration_; at += batch) {
            std::vector<std::future<RideRecord>> work;
            for (size_t i = at; i < std::min(at + batch, stale.size()); ++i) {
                auto bytes = (*roster)->originalOf(stale[i].id);
                work.push_back(std::async(std::launch::async, [&ride = stale[i], &rider, bytes] {
                    auto scored = bytes ? scoreAgain(ride, *bytes, rider)
                                        : Result<RideRecord>(tl::unexpected(bytes.error()));
                    if (scored)
                        return *scored;
                    // What can't be scored keeps its figures and is not tried again and again.
                    RideRecord kept = ride;
                    kept.stale = false;
                    kept.scoringVersion = scoringVersion;
                    return kept;
                }));
            }
            std::vector<RideRecord> scored;
            for (auto& w : work)
                scored.push_back(w.get());
            QMetaObject::invokeMethod(
                this, [this, generation, scored] { takeScores(generation, scored); }, Qt::QueuedConnection);
        }
    });
}

void Workspace::takeScores(quint64 generation, const std::vector<RideRecord>& scored) {
    if (generation != scoringGeneration_ || !roster_)
        return;
    std::vector<RideRecord> changed;
    for (const RideRecord& s : scored) {
        const auto found =
            std::find_if(rides_.begin(), rides_.end(), [&](const RideRecord& r) { return r.id == s.id; });
        if (found == rides_.end())
            continue;
        found->score = s.score;
        found->best = s.best;
        found->thresholdPower = s.thresholdPower;
        found->scoringVersion = s.scoringVersion;
        found->stale = false;
        changed.push_back(*found);
    }
    if (!succeeded(roster_->updateRides(changed))) {
        ++scoringGeneration_;
        scoringLeft_ = 0;
        return;
    }
    seenChanges_ = roster_->foreignChanges();
    scoringLeft_ -= static_cast<int>(scored.size());
    emit scoringProgress(scoringLeft_);
    if (scoringLeft_ <= 0)
        finishScoring(scoringTotal_);
}

void Workspace::finishScoring(int count) {
    loadRides();
    relearn();
    solve(false);
    emit said(count == 1 ? QString("One ride was scored again.")
                         : QString("%1 rides were scored again.").arg(count));
}

void Workspace::importFiles(const QStringList& paths) {
    if (!rider() || importing_ || paths.isEmpty())
        return;
    importing_ = true;
    cancelImport_ = false;
    if (importThread_.joinable())
        importThread_.join();
    importThread_ = std::thread([this, paths, path = roster_->path(), who = *rider()] {
        ImportReport report;
        // A connection of its own: the interface keeps reading while rides come in.
        if (auto roster = Roster::open(path)) {
            Importer importer(**roster, who);
            importer.progress = [this](int done, int total) {
                emit importProgress(done, total);
                return !cancelImport_;
            };
            importer.onOverlap = [this](const RideRecord& now, const RideRecord& there) {
                OverlapChoice choice = OverlapChoice::Skip;
                if (askOverlap && !cancelImport_)
                    QMetaObject::invokeMethod(
                        this, [&] { choice = askOverlap(now, there); }, Qt::BlockingQueuedConnection);
                return choice;
            };
            report = importer.importFiles(paths);
        } else {
            report.stopped = roster.error();
        }
        QMetaObject::invokeMethod(
            this,
            [this, report, id = who.id] {
                if (id != rider_)
                    choose(id); // what came in is seen with its rider
                finishImport(report);
            },
            Qt::QueuedConnection);
    });
}

void Workspace::finishImport(const ImportReport& report) {
    importThread_.join();
    importing_ = false;
    seenChanges_ = roster_->foreignChanges();
    loadRiders(); // scales were learned anew
    loadRides();
    if (!report.added.empty()) {
        const QString what = report.added.size() == 1 ? QString("Import a ride")
                                                      : QString("Import %1 rides").arg(report.added.size());
        undo_.push(new RidesCommand(*this, rider_, report.added, report.replaced, true, what));
    }
    if (report.stopped)
        emit failed(QString::fromStdString(report.stopped->sentence));
    solve(false);
    emit importFinished(report);
}

Result<Recording> Workspace::loadRecording(qint64 id) const {
    auto bytes = roster_->originalOf(id);
    if (!bytes)
        return tl::unexpected(bytes.error());
    return readRecording(*bytes);
}

Result<Ride> Workspace::loadRideAsRecorded(qint64 id) const {
    auto recording = loadRecording(id);
    if (!recording)
        return tl::unexpected(recording.error());
    auto ride = toGrid(*recording);
    if (!ride)
        return refuse("This ride has no sample with a usable time.");
    return std::move(*ride);
}

Result<Ride> Workspace::loadRide(qint64 id) const {
    auto ride = loadRideAsRecorded(id);
    const RideRecord* record = rideById(id);
    if (!ride || !record || record->corrections.empty())
        return ride;
    auto right = corrected(std::move(*ride), record->corrections);
    if (!right)
        return refuse("The corrections leave nothing of this ride; trim less.");
    return std::move(*right);
}

Result<QString> Workspace::rideToday(const QString& folder) const {
    const RiderRecord* r = rider();
    if (!r)
        return refuse("There is no rider yet; add one under Roster first.");
    const auto& known = r->values;
    const auto power = known.on(Quantity::ThresholdPower, today_);
    const auto beats = known.on(Quantity::ThresholdHeartRate, today_);
    if (!power && !beats)
        return refuse("The rider has no threshold yet; set one under Rider first.");
    const auto planned = plannedOn(today_);
    const bool rest = !planned || planned->hours < 0.2;
    SimulatedRider who;
    who.powerMeter = power.has_value();
    who.thresholdPower = power.value_or(who.thresholdPower);
    who.thresholdHeartRate = beats.value_or(who.thresholdHeartRate);
    who.restHeartRate = known.on(Quantity::RestingHeartRate, today_).value_or(50);
    who.maxHeartRate = known.on(Quantity::MaximalHeartRate, today_).value_or(who.thresholdHeartRate + 18);
    who.weightKg = known.on(Quantity::Weight, today_).value_or(who.weightKg);
    SimulatedDay day;
    const QDateTime now = QDateTime::currentDateTime();
    day.utcOffset = now.offsetFromUtc();
    day.start = static_cast<std::int64_t>(today_.days) * 86400 + 9 * 3600 - day.utcOffset;
    const Session session = rest ? prescribe(SessionKind::Endurance, 1, 45)
                                 : prescribe(planned->role == Role::Hard      ? SessionKind::Intervals
                                             : planned->role == Role::Openers ? SessionKind::Openers
                                                                              : SessionKind::Endurance,
                                             planned->hours, planned->stress);
    return saveToDevice(folder, marram::ride(session, who, day, static_cast<std::uint64_t>(today_.days)));
}

} // namespace marram
