// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/workspace.h"
#include "app/workspace/commands.h"

#include <QCoreApplication>
#include <QDate>
#include <algorithm>

namespace marram {

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
    ++scoringGeneration_;
    if (scoringThread_.joinable())
        scoringThread_.join();
    cancelImport_ = true;
    // The import may be waiting for an answer from this thread: let it have one.
    while (importing_)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

void Workspace::setToday(Date today) {
    today_ = today;
    forgetStandings();
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
    ++scoringGeneration_;
    scoringLeft_ = 0;
    undo_.clear();
    forgetStandings();
    tests_.clear();
    checkIns_.clear();
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
    forgetStandings();
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
    choosing_ = true;
    loadTests();
    loadCheckIns();
    emit riderChanged();
    loadRides();
    loadSeason();
    scoreStaleRides();
    solve(false);
    choosing_ = false;
    emit settled();
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
    standings_.erase(rider_);
    if (sums_) {
        // Kept for when another rider is looked at.
        auto& sums = (*sums_)[rider_];
        sums.clear();
        for (const RideRecord& r : rides_) {
            if (r.excluded)
                continue;
            if (sums.empty() || sums.back().day != r.day)
                sums.push_back({r.day, ridden_[r.day], false});
            sums.back().byPower = sums.back().byPower || r.score.method == StressMethod::Power;
        }
    }
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

Season Workspace::completed(const Season& bare) const {
    Season s = bare;
    const RiderRecord* r = rider();
    s.hours = r->hours;
    s.thresholdPower = r->values.on(Quantity::ThresholdPower, today_).value_or(s.thresholdPower);
    s.lowThreshold = r->values.on(Quantity::LowThreshold, today_).value_or(s.lowThreshold);
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
        standings_.erase(rider_);
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
    standings_.erase(rider);
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

bool Workspace::writeRider(const RiderRecord& record) {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == record.id; });
    if (found == riders_.end())
        return false;
    if (rider_ != record.id)
        choose(record.id);
    const RiderRecord before = *found;
    RiderRecord after = record;
    after.scales = before.scales; // learned, not edited
    const auto scoredBy = [](const RiderRecord& r, Date day) {
        const ScoringBasis b = basisOn(r, day);
        const HeartRateRange h = b.heartRate.value_or(HeartRateRange{});
        return std::array{b.threshold.value_or(Watts{}).value,
                          b.lowThreshold,
                          h.rest.value,
                          h.threshold.value,
                          h.max.value,
                          double(int(h.sex))};
    };
    const auto saved = roster_->together([&]() -> Result<void> {
        if (auto id = roster_->saveRider(after); !id)
            return tl::unexpected(id.error());
        // Just the days on which something else holds now.
        for (const RideRecord& r : rides_)
            if (scoredBy(before, r.day) != scoredBy(after, r.day))
                if (auto marked = roster_->markStale(rider_, r.day, r.day); !marked)
                    return tl::unexpected(marked.error());
        return {};
    });
    if (!saved) {
        emit failed(QString::fromStdString(saved.error().sentence));
        emit riderChanged();
        return false;
    }
    for (RideRecord& r : rides_)
        r.stale = r.stale || scoredBy(before, r.day) != scoredBy(after, r.day);
    *found = after;
    standings_.erase(rider_);
    emit rosterChanged();
    emit riderChanged();
    scoreStaleRides();
    solve(false);
    return true;
}

void Workspace::addRider(const QString& name) {
    RiderRecord rider;
    rider.name = name;
    rider.hours = {0, 1, 1, 1, 0, 3, 2};
    undo_.push(new AddRiderCommand(*this, rider));
}

bool Workspace::bringRider(RiderRecord& rider) {
    const auto id = roster_->saveRider(rider);
    if (!id) {
        emit failed(QString::fromStdString(id.error().sentence));
        return false;
    }
    rider.id = *id; // brought again it is the same rider
    seenChanges_ = roster_->foreignChanges();
    loadRiders();
    emit rosterChanged();
    choose(*id);
    return true;
}

bool Workspace::dropRider(qint64 rider) {
    if (!succeeded(roster_->removeRider(rider)))
        return false;
    seenChanges_ = roster_->foreignChanges();
    forgetStandings();
    loadRiders();
    emit rosterChanged();
    choose(rider_);
    return true;
}

} // namespace marram
