// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/workspace.h"
#include "app/workspace/commands.h"
#include "formats/recording/recording.h"
#include "headunit/device.h"

#include <QCoreApplication>
#include <QDate>
#include <QDateTime>
#include <algorithm>
#include <future>

namespace marram {

void RidesCommand::swap(const std::vector<Kept>& out, const std::vector<Kept>& in) {
    Roster* roster = workspace_.roster_.get();
    if (!roster)
        return;
    const auto ok = roster->together([&]() -> Result<void> {
        for (const Kept& k : out)
            if (auto gone = roster->removeRide(k.ride.id); !gone)
                return gone;
        for (const Kept& k : in)
            if (auto back = roster->addRide(k.ride, k.original); !back)
                return tl::unexpected(back.error());
        return {};
    });
    setObsolete(!workspace_.succeeded(ok));
    workspace_.loadRides();
    workspace_.solve(false);
}

Workspace::Workspace(QObject* parent) : QObject(parent) {
    const QDate now = QDate::currentDate();
    today_ = fromCivil(now.year(), now.month(), now.day());
    connect(&solver_, &SolverThread::solved, this, &Workspace::takePlan);
    connect(&solver_, &SolverThread::explained, this,
            [this](quint64 number, const std::vector<Limit>& limits) {
                if (number != newest_)
                    return;
                limits_ = limits;
                emit limitsChanged();
            });
    poll_.setInterval(1500);
    connect(&poll_, &QTimer::timeout, this, &Workspace::lookForOthers);
}

Workspace::~Workspace() {
    cancelImport_ = true;
    // The import may be waiting for an answer from this thread: let it have one.
    while (importing_)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

void Workspace::setToday(Date today) {
    today_ = today;
    if (isOpen())
        solve(false);
}

bool Workspace::succeeded(const Result<void>& result) {
    if (!result)
        emit failed(QString::fromStdString(result.error().sentence));
    return result.has_value();
}

bool Workspace::open(const QString& path) {
    return opened(Roster::open(path));
}
bool Workspace::create(const QString& path) {
    return opened(Roster::create(path));
}

bool Workspace::opened(Result<std::unique_ptr<Roster>> roster) {
    if (!roster) {
        emit failed(QString::fromStdString(roster.error().sentence));
        return false;
    }
    close();
    roster_ = std::move(*roster);
    seenChanges_ = roster_->foreignChanges();
    poll_.start();
    loadRiders();
    emit rosterChanged();
    choose(riders_.empty() ? 0 : riders_.front().id);
    if (readOnly())
        emit said("The roster is read-only here: it can be looked at, and nothing is kept.");
    return true;
}

void Workspace::close() {
    poll_.stop();
    undo_.clear();
    roster_.reset();
    riders_.clear();
    rides_.clear();
    ridden_.clear();
    planned_.clear();
    season_.reset();
    shown_.reset();
    solved_.reset();
    limits_.clear();
    rider_ = 0;
    ++newest_;
}

void Workspace::lookForOthers() {
    if (!roster_ || importing_)
        return;
    const int changes = roster_->foreignChanges();
    if (changes == seenChanges_)
        return;
    seenChanges_ = changes;
    undo_.clear();
    loadRiders();
    emit rosterChanged();
    choose(rider_);
    emit said("The roster was changed in another window; this is how it stands now.");
}

const RiderRecord* Workspace::rider() const {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == rider_; });
    return found == riders_.end() ? nullptr : &*found;
}

void Workspace::loadRiders() {
    auto riders = roster_->riders();
    if (riders)
        riders_ = std::move(*riders);
    else
        emit failed(QString::fromStdString(riders.error().sentence));
}

void Workspace::choose(qint64 rider) {
    rider_ = rider;
    if (!this->rider())
        rider_ = riders_.empty() ? 0 : riders_.front().id;
    solver_.forget();
    solved_.reset();
    limits_.clear();
    emit riderChanged();
    loadRides();
    loadSeason();
    solve(false);
}

void Workspace::loadRides() {
    rides_.clear();
    ridden_.clear();
    if (rider_ != 0) {
        if (auto rides = roster_->rides(rider_))
            rides_ = std::move(*rides);
        else
            emit failed(QString::fromStdString(rides.error().sentence));
    }
    for (const RideRecord& r : rides_)
        if (!r.excluded)
            ridden_[r.day] += r.score.stress.value_or(0);
    emit ridesChanged();
}

void Workspace::loadSeason() {
    season_.reset();
    planned_.clear();
    if (rider_ != 0) {
        if (auto season = roster_->season(rider_))
            season_ = *season;
        else
            emit failed(QString::fromStdString(season.error().sentence));
        if (auto days = roster_->solvedDays(rider_))
            for (const SolvedDay& d : *days)
                planned_[d.date] = d;
    }
    shown_ = season_;
    emit seasonChanged();
}

double Workspace::riddenOn(Date day) const {
    const auto found = ridden_.find(day);
    return found == ridden_.end() ? 0 : found->second;
}

std::optional<SolvedDay> Workspace::plannedOn(Date day) const {
    const auto found = planned_.find(day);
    return found == planned_.end() ? std::nullopt : std::optional(found->second);
}

LoadState Workspace::modelUpTo(const std::map<Date, double>& ridden, Date day, LoadState otherwise,
                               TimeConstants tau) const {
    if (ridden.empty() || ridden.begin()->first >= day)
        return otherwise;
    std::vector<double> stress;
    for (Date d = ridden.begin()->first; d < day; d = d + 1) {
        const auto found = ridden.find(d);
        stress.push_back(found == ridden.end() ? 0 : found->second);
    }
    // The first six weeks of a record stand for what came before it.
    double first = 0;
    const size_t known = std::min<size_t>(42, stress.size());
    for (size_t i = 0; i < known; ++i)
        first += stress[i] / static_cast<double>(known);
    const auto days = runModel(stress, {first, first}, tau);
    return {days.back().fitness, days.back().fatigue};
}

LoadState Workspace::stateBefore(Date day) const {
    return modelUpTo(ridden_, day, season_ ? season_->before : LoadState{},
                     season_ ? season_->tau : TimeConstants{});
}

Glance Workspace::glance(qint64 id) const {
    Glance g;
    const bool here = id == rider_;
    const auto rides = here ? rides_ : roster_->rides(id).value_or(std::vector<RideRecord>{});
    const auto season = here ? season_ : roster_->season(id).value_or(std::nullopt);
    std::map<Date, double> ridden;
    for (const RideRecord& r : rides)
        if (!r.excluded)
            ridden[r.day] += r.score.stress.value_or(0);
    g.state = modelUpTo(ridden, today_, {}, season ? season->tau : TimeConstants{});
    if (!ridden.empty())
        g.lastRide = ridden.rbegin()->first;
    std::map<Date, SolvedDay> planned;
    if (here)
        planned = planned_;
    else if (const auto days = roster_->solvedDays(id))
        for (const SolvedDay& d : *days)
            planned[d.date] = d;
    for (Date d = today_ - 7; d < today_; d = d + 1)
        if (const auto p = planned.find(d);
            p != planned.end() && p->second.stress >= 20 && !ridden.contains(d))
            ++g.missedThisWeek;
    for (size_t i = 0; season && i < season->races.size(); ++i) {
        const Race& race = season->races[i];
        if (race.priority == Priority::C || race.date < today_ ||
            (g.nextRaceDay && *g.nextRaceDay <= race.date))
            continue;
        g.nextRace = QString::fromStdString(race.name);
        g.nextRaceDay = race.date;
        const auto gate = raceGate(race);
        const auto p = planned.find(race.date);
        g.raceMiss = gate && p != planned.end()
                         ? std::max({0.0, gate->low - p->second.form, p->second.form - gate->high})
                         : 0;
    }
    return g;
}

Season Workspace::completed(const Season& bare) const {
    Season s = bare;
    const RiderRecord* r = rider();
    s.hours = r->hours;
    if (const Threshold* t = thresholdOn(r->thresholds, today_)) {
        s.thresholdPower = t->power.value;
        s.lowThreshold = t->lowThreshold;
    }
    s.before = stateBefore(s.start);
    // A day already ridden is past; the plan begins after it.
    const Date first = ridden_.contains(today_) ? today_ + 1 : today_;
    if (first > s.start) {
        s.past = Past{std::min(first, s.end + 1), {}};
        for (Date d = s.start; d < s.past->today; d = d + 1)
            s.past->stress.push_back(riddenOn(d));
    }
    return s;
}

void Workspace::solve(bool trying) {
    trying_ = trying;
    if (!shown_ || !rider()) {
        solved_.reset();
        ++newest_;
        emit planChanged();
        return;
    }
    const Season season = completed(*shown_);
    if (const auto ok = check(season); !ok) {
        if (!trying)
            emit failed("This season can't be planned: " + QString::fromStdString(ok.error().sentence) + ".");
        solved_.reset();
        emit planChanged();
        return;
    }
    newest_ = solver_.request(season, !trying);
}

void Workspace::takePlan(quint64 number, std::shared_ptr<const Solved> solved) {
    // While the hand moves, an overtaken plan is still newer than what is on the screen.
    if (number != newest_ && !trying_)
        return;
    solved_ = std::move(solved);
    if (number == newest_ && !trying_) {
        limits_.clear();
        keepPlan();
    }
    emit planChanged();
}

void Workspace::keepPlan() {
    // What was planned for days gone by stays as it was planned.
    for (const PlannedDay& d : solved_->plan.days)
        if (!d.past)
            planned_[d.date] = {d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form};
    std::vector<SolvedDay> days;
    const Season& s = *shown_;
    for (const auto& [date, day] : planned_)
        if (date >= s.start && date <= s.end)
            days.push_back(day);
    if (!readOnly() && succeeded(roster_->saveSolvedDays(rider_, days)))
        seenChanges_ = roster_->foreignChanges();
}

void Workspace::trySeason(const Season& season) {
    shown_ = season;
    emit seasonChanged();
    solve(true);
}

void Workspace::stopTrying() {
    shown_ = season_;
    emit seasonChanged();
    solve(false);
}

void Workspace::setSeason(const Season& season, const QString& what) {
    if (rider_ == 0)
        return;
    undo_.push(new SeasonCommand(*this, rider_, season_, season, what));
}

bool Workspace::writeSeason(qint64 rider, const std::optional<Season>& season) {
    if (!succeeded(season ? roster_->saveSeason(rider, *season) : roster_->removeSeason(rider))) {
        stopTrying();
        return false;
    }
    if (rider != rider_) {
        choose(rider);
        return true;
    }
    season_ = season;
    shown_ = season_;
    if (!season)
        planned_.clear();
    emit seasonChanged();
    solve(false);
    return true;
}

Season Workspace::freshSeason() const {
    Season s;
    s.start = monday(today_);
    const Date race = monday(today_) + 26 * 7 + 6;
    s.end = race + 14;
    Race a;
    a.name = "A race";
    a.date = race;
    a.priority = Priority::A;
    s.races.push_back(a);
    return s;
}

void Workspace::setRider(const RiderRecord& after, const QString& what) {
    const RiderRecord* before = rider();
    if (before && !(*before == after))
        undo_.push(new RiderCommand(*this, *before, after, what));
}

bool Workspace::writeRider(const RiderRecord& after) {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == after.id; });
    if (found == riders_.end())
        return false;
    const RiderRecord before = *found;
    const auto saved = roster_->saveRider(after);
    if (!saved) {
        emit failed(QString::fromStdString(saved.error().sentence));
        emit riderChanged();
        return false;
    }
    *found = after;
    if (rider_ != after.id)
        choose(after.id);
    rescore(before, after);
    emit rosterChanged();
    emit riderChanged();
    solve(false);
    return true;
}

void Workspace::rescore(const RiderRecord& before, const RiderRecord& after) {
    const auto differs = [&](Date day) {
        const ScoringBasis a = basisOn(before, day), b = basisOn(after, day);
        const auto beats = [](const ScoringBasis& s) {
            return s.heartRate ? std::array{s.heartRate->rest.value, s.heartRate->threshold.value,
                                            s.heartRate->max.value, static_cast<double>(s.heartRate->sex)}
                               : std::array{0.0, 0.0, 0.0, 0.0};
        };
        return a.threshold != b.threshold || a.lowThreshold != b.lowThreshold || beats(a) != beats(b);
    };
    std::vector<std::future<Result<RideRecord>>> work;
    std::vector<RideRecord> changed;
    const auto collect = [&] {
        for (auto& w : work)
            if (auto r = w.get())
                changed.push_back(*r);
        work.clear();
    };
    for (const RideRecord& ride : rides_) {
        if (!differs(ride.day))
            continue;
        auto bytes = roster_->originalOf(ride.id);
        if (!bytes)
            continue;
        work.push_back(std::async(std::launch::async, [ride, original = std::move(*bytes), &after] {
            return scoreAgain(ride, original, after);
        }));
        if (work.size() == 8)
            collect();
    }
    collect();
    if (changed.empty())
        return;
    succeeded(roster_->updateScores(changed));
    loadRides();
    emit said(QString("%1 rides were scored again.").arg(changed.size()));
}

void Workspace::addRider(const QString& name) {
    RiderRecord rider;
    rider.name = name;
    rider.hours = {0, 1, 1, 1, 0, 3, 2};
    rider.thresholds = {Threshold{today_ - 365, Watts{220}, std::nullopt, defaultLowThreshold, std::nullopt}};
    const auto id = roster_->saveRider(rider);
    if (!id) {
        emit failed(QString::fromStdString(id.error().sentence));
        return;
    }
    loadRiders();
    emit rosterChanged();
    choose(*id);
}

void Workspace::removeRide(qint64 id) {
    const auto found =
        std::find_if(rides_.begin(), rides_.end(), [&](const RideRecord& r) { return r.id == id; });
    if (found == rides_.end())
        return;
    auto original = roster_->originalOf(id);
    if (!original) {
        emit failed(QString::fromStdString(original.error().sentence));
        return;
    }
    undo_.push(new RidesCommand(*this, {}, {{*found, *original}}, false, "Remove a ride"));
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
            this, [this, report] { finishImport(report); }, Qt::QueuedConnection);
    });
}

void Workspace::finishImport(const ImportReport& report) {
    importThread_.join();
    importing_ = false;
    seenChanges_ = roster_->foreignChanges();
    loadRides();
    if (!report.added.empty()) {
        std::vector<RidesCommand::Kept> came, went;
        for (const RideRecord& r : rides_)
            if (std::find(report.added.begin(), report.added.end(), r.id) != report.added.end())
                if (auto bytes = roster_->originalOf(r.id))
                    came.push_back({r, *bytes});
        for (size_t i = 0; i < report.replaced.size(); ++i)
            went.push_back({report.replaced[i], report.replacedOriginals[i]});
        const QString what =
            came.size() == 1 ? QString("Import a ride") : QString("Import %1 rides").arg(came.size());
        undo_.push(new RidesCommand(*this, std::move(came), std::move(went), true, what));
    }
    if (report.stopped)
        emit failed(QString::fromStdString(report.stopped->sentence));
    solve(false);
    emit importFinished(report);
}

Result<Ride> Workspace::loadRide(qint64 id) const {
    auto bytes = roster_->originalOf(id);
    if (!bytes)
        return tl::unexpected(bytes.error());
    auto recording = readRecording(*bytes);
    if (!recording)
        return tl::unexpected(recording.error());
    auto ride = toGrid(*recording);
    if (!ride)
        return refuse("This ride has no sample with a usable time.");
    return std::move(*ride);
}

Result<QString> Workspace::rideToday(const QString& folder) const {
    const RiderRecord* r = rider();
    const Threshold* t = r ? thresholdOn(r->thresholds, today_) : nullptr;
    if (!t)
        return refuse("The rider has no threshold power yet; set one under Rider first.");
    const auto planned = plannedOn(today_);
    const bool rest = !planned || planned->hours < 0.2;
    SimulatedRider who;
    who.thresholdPower = t->power.value;
    who.thresholdHeartRate = t->heartRate.value_or(BeatsPerMinute{168}).value;
    who.restHeartRate = r->restHeartRate.value_or(50);
    who.maxHeartRate = r->maxHeartRate.value_or(who.thresholdHeartRate + 18);
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
