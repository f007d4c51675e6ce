// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/plan_service.h"
#include "records/merge.h"
#include "wording/wording.h"

namespace marram {

PlanService::PlanService(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
                         QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices), clock_(clock) {
    connect(&solver_, &SolverThread::solved, this, &PlanService::take);
    connect(&solver_, &SolverThread::explained, this,
            [this](quint64 number, const std::shared_ptr<const Explained>& explained) {
                if (number != ticket_.number)
                    return;
                explained_ = *explained;
                explainedOf_ = number;
                emit limitsChanged();
            });
    connect(&solver_, &SolverThread::failed, &notices_, &Notices::failed);
    connect(&roster_, &OpenRoster::closing, this, &PlanService::forget);
    connect(&rider_, &ChosenRider::seasonChanged, this, &PlanService::followSeason);
    // What was ridden, the hours or a threshold changed: the season in force has another plan.
    connect(&rider_, &ChosenRider::settled, this, [this] { solve(); });
    connect(&clock_, &Clock::dayChanged, this, [this] { solve(); });
}

const std::optional<Season>& PlanService::season() const {
    return tried_ ? tried_ : branch_ != 0 ? branchSeason_ : rider_.season();
}

const std::optional<Season>& PlanService::decided() const {
    return branch_ != 0 ? branchSeason_ : rider_.season();
}

bool PlanService::current() const {
    return shown_ && shown_->id == seasonId() && shown_->version == rider_.seasonVersion() &&
           (!shown_->trying || trying()) && season().has_value();
}

const Plan* PlanService::beside() const {
    if (branch_ != 0)
        return explained().beside.get();
    return trying() && inForce_ && inForce_->version == rider_.seasonVersion() ? &inForce_->solved->plan
                                                                               : nullptr;
}

const Explained& PlanService::explained() const {
    static const Explained nothing;
    return isExplained() ? explained_ : nothing;
}

void PlanService::lookAt(qint64 alternative) {
    if (branch_ == alternative)
        return;
    branch_ = alternative;
    findBranch();
    tried_.reset();
    explained_ = {};
    asked_.clear();
    emit seasonShown();
    solve();
}

/// The alternative looked at as the file has it now; one that is gone is looked at no more.
void PlanService::findBranch() {
    branchSeason_.reset();
    for (const SeasonRecord& s : rider_.seasons())
        if (s.id == branch_ && s.standing == SeasonStanding::Alternative)
            branchSeason_ = s.season;
    if (!branchSeason_)
        branch_ = 0;
}

void PlanService::forget() {
    tried_.reset();
    shown_.reset();
    inForce_.reset();
    explained_ = {};
    asked_.clear();
    ticket_ = {};
}

void PlanService::followSeason() {
    // What was tried was tried on another season, or another version of this one.
    findBranch();
    const bool other = seasonId() != ticket_.season;
    tried_.reset();
    if (other || !rider_.season())
        forget();
    carryOver();
    emit seasonShown();
    if (!rider_.choosing())
        solve();
}

/// A plan does not look at sessions: where only they changed, the plan there is is that of this version too.
void PlanService::carryOver() {
    const auto& now = season();
    if (!shown_ || shown_->trying || !now || shown_->id != seasonId())
        return;
    Season then = shown_->season;
    then.sessions = now->sessions;
    if (!sameSeason(then, *now))
        return;
    auto next = std::make_shared<ShownSeason>(*shown_);
    next->version = rider_.seasonVersion();
    next->season = *now;
    next->whole.sessions = now->sessions;
    if (inForce_ == shown_)
        inForce_ = next;
    shown_ = next;
}

void PlanService::solve() {
    if (!rider_.rider() || !season()) {
        forget();
        emit planChanged();
        return;
    }
    const Season whole = rider_.facts().completed(*season());
    if (const auto ok = check(whole); !ok) {
        if (!trying())
            emit notices_.failed(
                wording("This season can't be planned: %1.", QString::fromStdString(ok.error().sentence)));
        shown_.reset();
        explained_ = {};
        asked_.clear();
        ticket_ = {};
        ticket_.season = seasonId();
        emit planChanged();
        return;
    }
    ticket_ = {
        0,         seasonId(), rider_.seasonVersion(), trying(), whole.past ? whole.past->today : whole.start,
        *season(), whole};
    Misses misses;
    misses.miss = whole.rules.miss;
    misses.run = whole.rules.missRun;
    misses.illPerYear = rider_.facts().illSpells();
    misses.seasons = 4000;
    std::optional<Season> beside;
    if (branch_ != 0 && rider_.season())
        if (Season other = rider_.facts().completed(*rider_.season()); check(other))
            beside = std::move(other);
    ticket_.number = solver_.request(static_cast<quint64>(seasonId()), whole, !trying(), misses, beside);
    asked_[ticket_.number] = ticket_;
}

void PlanService::take(quint64 number, const std::shared_ptr<const Solved>& solved) {
    const auto asked = asked_.find(number);
    if (asked == asked_.end())
        return;
    const Ticket ticket = asked->second;
    asked_.erase(asked_.begin(), std::next(asked));
    if (ticket.season != seasonId() || ticket.version != rider_.seasonVersion())
        return;
    // While the hand moves, an overtaken plan is still newer than what is on the screen.
    if (number != ticket_.number && !(trying() && ticket.trying))
        return;
    shown_ = std::make_shared<ShownSeason>(
        ShownSeason{ticket.season, ticket.version, ticket.trying, ticket.bare, ticket.whole, solved, number});
    if (number == ticket_.number && !ticket.trying) {
        if (branch_ == 0) {
            inForce_ = shown_;
            keep();
        }
    }
    emit planChanged();
}

void PlanService::keep() {
    std::vector<SolvedDay> days;
    const Plan& plan = shown_->solved->plan;
    for (const PlannedDay& d : plan.days) {
        if (d.past)
            continue;
        days.push_back({d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form});
        if (const PlannedWeek* week = weekOf(plan, d.date)) {
            days.back().kind = week->kind;
            days.back().phase = week->phase;
        }
    }
    std::vector<Outlook> outlook;
    for (const PlannedRace& race : plan.races)
        if (race.date >= clock_.today())
            outlook.push_back(
                {clock_.today(), race.name, race.form, race.fitness, race.expectedForm, race.chance});
    // What was planned for days gone by stays as it was planned.
    if (roster_.edits().keepPlan(ticket_.season, ticket_.from, days, outlook))
        rider_.planKept(days);
}

std::vector<Date> PlanService::deloadEnds() const {
    std::vector<Date> ends;
    if (const Solved* now = solved())
        for (const PlannedWeek& w : now->plan.weeks)
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
    if (branch_ == 0 && inForce_ && inForce_->version == rider_.seasonVersion())
        shown_ = inForce_; // as it was before the hand took hold
    emit seasonShown();
    solve();
}

} // namespace marram

#include "moc_plan_service.cpp"
