// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/choose.h"
#include "core/block/compose.h"
#include "core/session/shorthand.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace marram {

std::vector<const char*> familiesOf(Phase phase, Demand demand, bool late) {
    switch (phase) {
    case Phase::Base:
        return late ? std::vector<const char*>{"just under threshold", "threshold", "tempo", "low cadence",
                                               "over-unders"}
                    : std::vector<const char*>{"tempo", "just under threshold", "threshold"};
    case Phase::Transition:
    case Phase::Break:
        return {"threshold", "aerobic ceiling short", "tempo"};
    case Phase::Build:
        return {"threshold",
                "just above threshold",
                "aerobic ceiling long",
                "aerobic ceiling short",
                "over-unders",
                "just under threshold",
                "tempo",
                "hard starts"};
    case Phase::Specialise:
    case Phase::Taper:
    case Phase::Race:
        break;
    }
    switch (demand) {
    case Demand::Punchy:
        return {"above maximal aerobic", "race starts", "aerobic ceiling short", "threshold",
                "aerobic ceiling long",  "hard starts"};
    case Demand::Road:
        return {"over-unders",           "surges",     "aerobic ceiling short", "threshold",
                "above maximal aerobic", "hard starts"};
    case Demand::Long:
        return {"race pace",  "late efforts", "threshold", "just under threshold", "aerobic ceiling long",
                "hard starts"};
    case Demand::Stage:
        return {"race pace",   "late efforts",         "threshold",
                "over-unders", "just under threshold", "aerobic ceiling long"};
    case Demand::Steady:
    case Demand::Unstated:
        break;
    }
    return {"race pace",  "threshold", "just above threshold", "over-unders", "just under threshold",
            "hard starts"};
}

bool allowed(const Family& family, const BlockBasis& basis) {
    return std::none_of(basis.injuries.begin(), basis.injuries.end(),
                        [&](const std::string& injury) { return excludedBy(family, injury); });
}

namespace {

/// Whether a family is ridden easily throughout.
bool easyFamily(const std::string& name) {
    return name == "endurance" || name == "endurance with drills" || name == "long ride" || name == "rest" ||
           name == "strength";
}

/// Lays what the coach pinned to a day over what the season has there, and takes out what the rider may not
/// ride.
void pin(DaySlot& day, const SessionPin* pin, double lowThreshold, const BlockBasis& basis) {
    const auto easier = [&](const std::string& what, const std::string& why) {
        day.replaced = "No " + what + ": " + why + "; it is endurance instead.";
        day.family = nullptr;
        day.rung.reset();
        day.words.reset();
        day.role = Role::Easy;
    };
    if (pin && pin->holds() && day.role != Role::Race) {
        day.pinned = true;
        if (pin->minutes) {
            day.hours = 60.0 * *pin->minutes;
            day.available = std::max(day.available, 60 * *pin->minutes);
            day.fixedLength = true;
        }
        if (pin->family == "rest" || (pin->family == "strength" && pin->words.empty())) {
            day.role = pin->family == "rest" ? Role::Rest : Role::Gym;
            day.hours = 0;
            return;
        }
        const Family* family = basis.book->named(pin->family);
        if (!pin->words.empty()) {
            day.words = readShorthand(pin->words).value_or(Session{});
            const SessionFigures f = figuresOf(*day.words, lowThreshold);
            day.role = f.workSeconds > 0 ? Role::Hard : pin->family == "long ride" ? Role::Long : Role::Easy;
            day.hours = f.seconds;
            day.available = std::max(day.available, f.seconds);
            day.fixedLength = true;
        }
        if (family) {
            day.family = family;
            if (pin->rung && !family->rungs.empty())
                day.rung = std::clamp(*pin->rung, 1, static_cast<int>(family->rungs.size())) - 1;
            if (!day.words) {
                const std::string& name = family->name;
                const bool ridden = day.hours > 0;
                const bool work = !easyFamily(name) && !family->work.empty();
                const bool light = name == "tempo" || name == "just under threshold" ||
                                   name == "low cadence" || name == "sprints";
                if (name == "long ride" || (name == "late efforts" && day.role == Role::Long))
                    day.role = Role::Long;
                else if (name == "openers")
                    day.role = Role::Openers;
                else if (name == "aerobic check" || name == "threshold test" || name == "benchmark climb" ||
                         name == "sprint test" || name == "durability check")
                    day.role = Role::Test;
                else if (!work)
                    day.role = Role::Easy;
                else // tempo and its like lie on easy days too
                    day.role = light && day.role != Role::Hard ? Role::Easy : Role::Hard;
                if (!ridden)
                    day.hours = day.available > 0 ? std::min(day.available, 5400) : 3600;
                const int length =
                    family->work.empty()
                        ? 0
                        : figuresOf(family->work[static_cast<size_t>(day.rung.value_or(0))]).seconds;
                const int least = length == 0           ? 900
                                  : name == "long ride" ? length + 600 + 3600
                                                        : shortestWith(lyingOf(name), length);
                if (!pin->minutes && day.rung)
                    day.hours = std::max(day.hours, 1.0 * least);
                day.available = std::max(day.available, static_cast<int>(day.hours));
                if (name == "endurance" || name == "openers" || (name == "long ride" && !day.rung))
                    day.family = nullptr;
            }
        } else if (!day.words && day.hours <= 0) {
            day.hours = 0;
        }
    }
    if (!day.rides())
        return;
    const bool hard = day.role == Role::Hard || day.role == Role::Test || day.role == Role::Openers ||
                      (day.family && !easyFamily(day.family->name));
    if (hard && basis.easyUntil && day.date < *basis.easyUntil)
        easier(day.family ? day.family->name : "hard day", basis.easyWhy);
    else if (day.family && !allowed(*day.family, basis))
        easier(day.family->name,
               "not with " + *std::find_if(basis.injuries.begin(), basis.injuries.end(),
                                           [&](const std::string& i) { return excludedBy(*day.family, i); }));
}

} // namespace

std::vector<WeekProblem> weekProblems(const Season& season, const Plan& plan, Date from, int weeks,
                                      const BlockBasis& basis) {
    std::map<Date, const SessionPin*> pins;
    for (const SessionPin& p : season.sessions)
        pins[p.date] = &p;
    std::vector<WeekProblem> all;
    Demand demand = Demand::Unstated;
    for (int n = 0; n < weeks; ++n) {
        const Date start = monday(from) + 7 * n;
        const PlannedWeek* planned = nullptr;
        for (const PlannedWeek& w : plan.weeks)
            if (monday(w.start) == start)
                planned = &w;
        if (!planned)
            continue;
        WeekProblem p;
        p.start = start;
        p.kind = planned->kind;
        p.phase = planned->phase;
        const Race* goal = nullptr;
        for (const Race& race : season.races)
            if (race.priority == Priority::A && race.date >= start && (!goal || race.date < goal->date))
                goal = &race;
        p.demand = demand = goal ? goal->demand : demand;
        p.noMaximal = careOf(season).noMaximal;
        p.since = (start - monday(season.start)) / 7;
        p.fitness = season.before.fitness;
        for (const PlannedDay& d : plan.days)
            if (d.date < start)
                p.fitness = d.fitness;
        for (const PlannedWeek& w : plan.weeks) {
            if (w.start >= start || w.start < start - 56 || w.kind != WeekKind::Build)
                continue;
            int hard = 0;
            for (const PlannedDay& d : plan.days)
                hard += d.role == Role::Hard && monday(d.date) == monday(w.start) ? 1 : 0;
            if (hard > 0)
                p.shown = std::max(
                    p.shown,
                    static_cast<int>(3600 * std::min(1.0, (w.bandHours.middle + w.bandHours.high) / hard)));
        }
        p.purpose = {3600 * planned->bandHours.low, 3600 * planned->bandHours.middle,
                     3600 * planned->bandHours.high};
        for (const PlannedDay& d : plan.days) {
            if (d.role == Role::Test && d.date < start)
                ++p.tests;
            if (monday(d.date) != start)
                continue;
            const bool trains = !d.past && d.role != Role::Race && d.hours > 0;
            p.stress += trains ? d.stress : 0;
            const double gym = d.role == Role::Gym && !season.rules.gymBeside ? gymHours : 0;
            p.days.push_back(
                {d.date, d.past ? Role::Rest : d.role, trains ? 3600 * d.hours : 0,
                 static_cast<int>(std::floor(std::max(0.0, d.availableHours - gym) * 12 + 1e-9)) * 300});
            p.days.back().easyOnly = d.easyOnly;
            const auto pinned = pins.find(d.date);
            if (!d.past)
                pin(p.days.back(), pinned == pins.end() ? nullptr : pinned->second, season.lowThreshold,
                    basis);
        }
        all.push_back(std::move(p));
    }
    std::map<Date, Role> roles;
    for (const PlannedDay& d : plan.days)
        roles[d.date] = d.role;
    for (const WeekProblem& p : all)
        for (const DaySlot& d : p.days)
            roles[d.date] = d.role;
    for (WeekProblem& p : all)
        for (DaySlot& d : p.days)
            for (const int side : {-1, 1}) {
                const auto other = roles.find(d.date + side);
                d.besideHard = d.besideHard || (other != roles.end() &&
                                                (other->second == Role::Hard || other->second == Role::Test ||
                                                 other->second == Role::Race));
            }
    return all;
}

bool keepsPromise(const BlockWeek& promised, const WeekProblem& week) {
    if (promised.kind != week.kind)
        return false;
    double stress = promised.target.stress; // what the season asked for then
    if (stress <= 0)
        for (const BlockSession& s : promised.sessions)
            stress += s.figures.stress;
    if (std::abs(stress - week.stress) > std::max(6.0, 0.06 * week.stress))
        return false;
    for (const DaySlot& day : week.days) {
        int seconds = 0;
        bool any = false, same = true;
        for (const BlockSession& s : promised.sessions)
            if (s.date == day.date) {
                any = any || s.ridden();
                seconds += s.ridden() ? s.seconds : 0;
                same = same && (s.role == day.role || !s.ridden());
            }
        if (day.pinned || day.words || !same || (any && !day.rides()) || (!any && day.role == Role::Hard) ||
            seconds > day.available + fiveMinutes)
            return false;
    }
    return true;
}

} // namespace marram
