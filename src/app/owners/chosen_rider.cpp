// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/chosen_rider.h"
#include "store/roster.h"
#include "wording/wording.h"

#include <QUndoStack>
#include <algorithm>
#include <utility>

namespace marram {

ChosenRider::ChosenRider(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices), clock_(clock), facts_(*this, roster, clock),
      edits_(*this, roster) {
    rebuildHistory();
    connect(&roster_, &OpenRoster::opened, this, [this] { choose(0); });
    connect(&roster_, &OpenRoster::touched, this, &ChosenRider::take);
    connect(&roster_.steps().stack(), &QUndoStack::indexChanged, this, &ChosenRider::follow);
    connect(&clock_, &Clock::dayChanged, this, [this] {
        rebuildHistory();
        emit ridesChanged();
    });
}

void ChosenRider::choose(qint64 asked) {
    qint64 next = asked;
    if (!roster_.rider(next)) {
        const auto first = std::find_if(roster_.riders().begin(), roster_.riders().end(),
                                        [](const RiderRecord& r) { return !r.archived; });
        next = first != roster_.riders().end() ? first->id
               : roster_.riders().empty()      ? 0
                                               : roster_.riders().front().id;
    }
    if (next != id_ && rider())
        emit leaving(); // what is being typed is taken for whom it was typed
    id_ = next;
    // Everything is read before anything is told: nobody sees one rider's rides beside another's season.
    choosing_ = true;
    readTests();
    readCheckIns();
    readRides();
    readSeasons();
    emit seasonChanged(); // who solves hears of it before who shows
    emit riderChanged();
    emit ridesChanged();
    emit testsChanged();
    emit checkInsChanged();
    choosing_ = false;
    emit settled();
    if (id_ != 0)
        roster_.jobs().scoreStale(id_, rides_);
}

void ChosenRider::readAnew(const Touched& what) {
    if (what.has(Part::Tests))
        readTests();
    if (what.has(Part::CheckIns))
        readCheckIns();
    if (what.has(Part::Rides))
        readRides();
    else if (what.has(Part::Stale))
        readStale();
    if (what.has(Part::Seasons))
        readSeasons();
    if (what.has(Part::Figures))
        rebuildHistory();
}

void ChosenRider::take(const Touched& what) {
    // Riders come and go elsewhere too: somebody is always chosen while there is anybody.
    if (!rider()) {
        choose(what.rider);
        return;
    }
    if (what.rider != 0 && what.by == By::Hand) {
        (what.rider == id_ ? here_ : elsewhere_) = what.rider;
        // At the end of the step; where it is none, when this turn is over.
        QMetaObject::invokeMethod(this, &ChosenRider::follow, Qt::QueuedConnection);
    }
    if (what.rider != 0 && what.rider != id_)
        return;
    readAnew(what);
    const bool rides = what.has(Part::Rides) || what.has(Part::Stale);
    if (what.has(Part::Seasons))
        emit seasonChanged();
    if (what.has(Part::Tests))
        emit testsChanged();
    if (what.has(Part::CheckIns))
        emit checkInsChanged();
    if (what.has(Part::Figures))
        emit riderChanged();
    if (rides)
        emit ridesChanged();
    // Scoring that runs goes on, unless a figure changed: then by the values of now.
    if (rides && (what.has(Part::Figures) || !roster_.jobs().scoring()))
        roster_.jobs().scoreStale(id_, rides_);
    if (what.has(Part::Figures) || rides)
        emit settled();
}

void ChosenRider::follow() {
    const qint64 there = std::exchange(elsewhere_, 0);
    if (std::exchange(here_, 0) == 0 && there != 0)
        choose(there);
}

void ChosenRider::told(const Damage& damage) {
    if (!damage.empty())
        emit notices_.failed(
            wording("Something of this roster is damaged: %1.", damage.sentences.join("; ")));
}

const RideRecord* ChosenRider::rideById(qint64 id) const {
    const auto found =
        std::find_if(rides_.begin(), rides_.end(), [&](const RideRecord& r) { return r.id == id; });
    return found == rides_.end() ? nullptr : &*found;
}

void ChosenRider::readRides() {
    rides_.clear();
    counted_ = {};
    if (id_ != 0) {
        Damage damage;
        if (auto rides = roster_.file().rides(id_, &damage))
            rides_ = std::move(*rides);
        else
            emit notices_.failed(QString::fromStdString(rides.error().sentence));
        told(damage);
    }
    counted_ = countRidden(daySumsOf(rides_));
    rebuildHistory();
}

void ChosenRider::readStale() {
    const auto stale = roster_.file().staleRides(id_);
    if (!stale) {
        emit notices_.failed(QString::fromStdString(stale.error().sentence));
        return;
    }
    for (RideRecord& r : rides_)
        r.stale = std::binary_search(stale->begin(), stale->end(), r.id);
}

void ChosenRider::rebuildHistory() {
    LoadRecord record;
    record.ridden = counted_.points;
    if (const RiderRecord* r = rider())
        record.usualWeekHours = r->usualWeekHours;
    if (season_) {
        record.seasonStart = season_->start;
        record.atSeasonStart = season_->before;
        record.tau = season_->tau;
    }
    history_ = std::make_unique<LoadHistory>(record, clock_.today());
}

void ChosenRider::readSeasons() {
    seasons_.clear();
    season_.reset();
    planned_.clear();
    outlook_.clear();
    ++seasonVersion_;
    if (id_ != 0) {
        Damage damage;
        if (auto seasons = roster_.file().seasons(id_, &damage))
            seasons_ = std::move(*seasons);
        else
            emit notices_.failed(QString::fromStdString(seasons.error().sentence));
        if (auto days = roster_.file().plannedDays(id_, &damage))
            for (const SolvedDay& d : *days)
                planned_[d.date] = d;
        else
            emit notices_.failed(QString::fromStdString(days.error().sentence));
        if (!seasons_.empty() && seasons_.front().standing == SeasonStanding::InForce) {
            if (auto then = roster_.file().outlook(seasons_.front().id, clock_.today() - 7, &damage))
                outlook_ = std::move(*then);
            else
                emit notices_.failed(QString::fromStdString(then.error().sentence));
        }
        told(damage);
    }
    if (!seasons_.empty() && seasons_.front().standing == SeasonStanding::InForce)
        season_ = seasons_.front().season;
    rebuildHistory();
}

qint64 ChosenRider::seasonId() const {
    return season_ ? seasons_.front().id : 0;
}

void ChosenRider::planKept(const std::vector<SolvedDay>& days) {
    if (!days.empty())
        planned_.erase(planned_.lower_bound(days.front().date), planned_.end());
    for (const SolvedDay& d : days)
        planned_[d.date] = d;
}

void ChosenRider::readTests() {
    tests_.clear();
    if (id_ != 0) {
        Damage damage;
        if (auto tests = roster_.file().tests(id_, &damage))
            tests_ = std::move(*tests);
        else
            emit notices_.failed(QString::fromStdString(tests.error().sentence));
        told(damage);
    }
}

void ChosenRider::readCheckIns() {
    checkIns_.clear();
    if (id_ != 0) {
        Damage damage;
        if (auto checkIns = roster_.file().checkIns(id_, &damage))
            checkIns_ = std::move(*checkIns);
        else
            emit notices_.failed(QString::fromStdString(checkIns.error().sentence));
        told(damage);
    }
}

} // namespace marram

#include "moc_chosen_rider.cpp"
