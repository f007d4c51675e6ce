// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/plan_service.h"

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
                emit limitsChanged();
            });
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

const Plan* PlanService::beside() const {
    if (branch_ != 0)
        return explained_.beside ? explained_.beside.get() : nullptr;
    return trying() && inForce_ ? &inForce_->plan : nullptr;
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

std::set<Date> PlanService::illDays() const {
    std::set<Date> ill;
    const Date today = clock_.today();
    for (const CheckIn& c : rider_.checkIns())
        if (c.ill && c.day > today - 365 && c.day <= today)
            ill.insert(c.day);
    for (const SeasonRecord& s : rider_.seasons())
        if (s.standing != SeasonStanding::Alternative)
            for (const Away& a : s.season.away)
                if (a.why == AwayWhy::Illness)
                    for (Date d = std::max(a.from, today - 364); d <= std::min(a.to, today); d = d + 1)
                        ill.insert(d);
    return ill;
}

MissRate PlanService::misses() const {
    std::vector<PlannedAndRidden> days;
    const Date today = clock_.today();
    const std::set<Date> ill = illDays(); // illness is reckoned by its spells, not twice
    for (auto it = rider_.planned().lower_bound(today - 90);
         it != rider_.planned().end() && it->first < today; ++it)
        if (it->second.role != Role::Race && !ill.contains(it->first))
            days.push_back({it->second.stress, rider_.riddenOn(it->first)});
    return missRate(days);
}

double PlanService::illSpells() const {
    const std::set<Date> ill = illDays();
    int spells = 0;
    Date last{-1000000};
    for (const Date d : ill) {
        spells += d - last > 3 ? 1 : 0;
        last = d;
    }
    return std::max(1, spells);
}

void PlanService::forget() {
    tried_.reset();
    solved_.reset();
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
        explained_ = {};
        asked_.clear();
        ticket_ = {};
        ticket_.season = seasonId();
        emit planChanged();
        return;
    }
    ticket_ = {0, seasonId(), rider_.seasonVersion(), trying(), whole.past ? whole.past->today : whole.start};
    Misses misses;
    misses.miss = this->misses().rate;
    misses.illPerYear = illSpells();
    misses.seasons = 4000;
    std::optional<Season> beside;
    if (branch_ != 0 && rider_.season())
        if (Season other = rider_.completed(*rider_.season()); check(other))
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
    solved_ = solved;
    if (number == ticket_.number && !ticket.trying) {
        explained_.limits.clear();
        explained_.chances.clear();
        if (branch_ == 0) {
            inForce_ = solved;
            keep();
        }
    }
    emit planChanged();
}

void PlanService::keep() {
    std::vector<SolvedDay> days;
    for (const PlannedDay& d : solved_->plan.days)
        if (!d.past)
            days.push_back({d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form});
    std::vector<Outlook> outlook;
    for (const PlannedRace& race : solved_->plan.races)
        if (race.date >= clock_.today())
            outlook.push_back({clock_.today(), race.name, race.form, race.fitness});
    // What was planned for days gone by stays as it was planned.
    if (roster_.keepPlan(ticket_.season, ticket_.from, days, outlook))
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

#include "moc_plan_service.cpp"
