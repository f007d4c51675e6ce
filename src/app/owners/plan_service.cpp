// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/plan_service.h"

namespace marram {

PlanService::PlanService(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
                         QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices), clock_(clock) {
    connect(&solver_, &SolverThread::solved, this, &PlanService::take);
    connect(&solver_, &SolverThread::explained, this,
            [this](quint64 number, const std::vector<Limit>& limits) {
                if (number != ticket_.number)
                    return;
                limits_ = limits;
                emit limitsChanged();
            });
    connect(&roster_, &OpenRoster::closing, this, &PlanService::forget);
    connect(&rider_, &ChosenRider::seasonChanged, this, &PlanService::followSeason);
    // What was ridden, the hours or a threshold changed: the season in force has another plan.
    connect(&rider_, &ChosenRider::settled, this, [this] { solve(); });
    connect(&clock_, &Clock::dayChanged, this, [this] { solve(); });
}

void PlanService::forget() {
    tried_.reset();
    solved_.reset();
    limits_.clear();
    asked_.clear();
    ticket_ = {};
}

void PlanService::followSeason() {
    // What was tried was tried on another season, or another version of this one.
    const bool other = rider_.seasonId() != ticket_.season;
    tried_.reset();
    if (other || !rider_.season())
        forget();
    emit seasonShown();
    if (!rider_.choosing())
        solve();
}

void PlanService::solve() {
    if (!rider_.rider() || !season()) {
        forget();
        emit planChanged();
        return;
    }
    const Season whole = rider_.completed(*season());
    if (const auto ok = check(whole); !ok) {
        if (!trying())
            emit notices_.failed(
                "This season can't be planned: " + QString::fromStdString(ok.error().sentence) + ".");
        solved_.reset();
        asked_.clear();
        ticket_ = {};
        ticket_.season = rider_.seasonId();
        emit planChanged();
        return;
    }
    ticket_ = {0, rider_.seasonId(), rider_.seasonVersion(), trying(),
               whole.past ? whole.past->today : whole.start};
    ticket_.number = solver_.request(static_cast<quint64>(rider_.seasonId()), whole, !trying());
    asked_[ticket_.number] = ticket_;
}

void PlanService::take(quint64 number, const std::shared_ptr<const Solved>& solved) {
    const auto asked = asked_.find(number);
    if (asked == asked_.end())
        return;
    const Ticket ticket = asked->second;
    asked_.erase(asked_.begin(), std::next(asked));
    if (ticket.season != rider_.seasonId() || ticket.version != rider_.seasonVersion())
        return;
    // While the hand moves, an overtaken plan is still newer than what is on the screen.
    if (number != ticket_.number && !(trying() && ticket.trying))
        return;
    solved_ = solved;
    if (number == ticket_.number && !ticket.trying) {
        limits_.clear();
        keep();
    }
    emit planChanged();
}

void PlanService::keep() {
    std::vector<SolvedDay> days;
    for (const PlannedDay& d : solved_->plan.days)
        if (!d.past)
            days.push_back({d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form});
    // What was planned for days gone by stays as it was planned.
    if (roster_.keepPlan(ticket_.season, ticket_.from, days))
        rider_.planKept(days);
}

std::vector<Date> PlanService::deloadEnds() const {
    std::vector<Date> ends;
    if (solved_)
        for (const PlannedWeek& w : solved_->plan.weeks)
            if (w.kind == WeekKind::Deload && w.start + 6 >= clock_.today())
                ends.push_back(w.start + 6);
    return ends;
}

void PlanService::trySeason(const Season& season) {
    if (!rider_.season())
        return;
    tried_ = season;
    emit seasonShown();
    solve();
}

void PlanService::stopTrying() {
    if (!tried_)
        return;
    tried_.reset();
    emit seasonShown();
    solve();
}

} // namespace marram
