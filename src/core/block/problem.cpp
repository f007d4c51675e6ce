// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/choose.h"
#include "core/block/compose.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

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

/// The role of a day that a family is pinned to.
Role roleWith(const Family& family, Role was) {
    const std::string& name = family.name;
    if (name == "long ride" || (name == "late efforts" && was == Role::Long))
        return Role::Long;
    if (name == "openers")
        return Role::Openers;
    if (family.test)
        return Role::Test;
    if (easyFamily(name) || family.work.empty())
        return Role::Easy;
    // Tempo and its like lie on easy days too.
    const bool light =
        name == "tempo" || name == "just under threshold" || name == "low cadence" || name == "sprints";
    return light && was != Role::Hard ? Role::Easy : Role::Hard;
}

/// The least seconds a ride with a rung of a family takes.
int leastWith(const Family& family, std::optional<int> rung) {
    if (family.work.empty())
        return 900;
    const int length = figuresOf(family.work[static_cast<size_t>(rung.value_or(0))]).seconds;
    return length == 0                  ? 900
           : family.name == "long ride" ? length + 600 + 3600
                                        : shortestWith(lyingOf(family.name), length);
}

/// Lays a pinned family on a day, and the length it needs.
void layFamily(DaySlot& day, const SessionPin& pin, const Family& family) {
    day.family = &family;
    if (pin.rung && !family.rungs.empty())
        day.rung = std::clamp(*pin.rung, 1, static_cast<int>(family.rungs.size())) - 1;
    if (day.words)
        return;
    const bool ridden = day.hours > 0;
    day.role = roleWith(family, day.role);
    if (!ridden)
        day.hours = day.available > 0 ? std::min(day.available, 5400) : 3600;
    if (!pin.minutes && day.rung)
        day.hours = std::max(day.hours, 1.0 * leastWith(family, day.rung));
    day.available = std::max(day.available, static_cast<int>(day.hours));
    if (family.name == "endurance" || family.name == "openers" || (family.name == "long ride" && !day.rung))
        day.family = nullptr;
}

/// Lays what the coach pinned to a day over what the season has there.
void layPin(DaySlot& day, const SessionPin& pin, double lowThreshold, const BlockBasis& basis) {
    day.pinned = true;
    if (pin.minutes) {
        day.hours = 60.0 * *pin.minutes;
        day.available = std::max(day.available, 60 * *pin.minutes);
        day.fixedLength = true;
    }
    if (pin.family == "rest" || (pin.family == "strength" && pin.words.empty())) {
        day.role = pin.family == "rest" ? Role::Rest : Role::Gym;
        day.hours = 0;
        return;
    }
    if (!pin.words.empty()) {
        day.words = readShorthand(pin.words).value_or(Session{});
        const SessionFigures f = figuresOf(*day.words, lowThreshold);
        day.role = f.workSeconds > 0 ? Role::Hard : pin.family == "long ride" ? Role::Long : Role::Easy;
        day.hours = f.seconds;
        day.available = std::max(day.available, f.seconds);
        day.fixedLength = true;
    }
    if (const Family* family = basis.book->named(pin.family))
        layFamily(day, pin, *family);
}

/// Takes out what the rider may not ride.
void takeOut(DaySlot& day, const BlockBasis& basis) {
    const auto easier = [&](const std::string& what, const std::string& why) {
        day.replaced = phrase("No %1: %2; it is endurance instead.", what, why);
        day.family = nullptr;
        day.rung.reset();
        day.words.reset();
        day.role = Role::Easy;
    };
    const bool hard = day.role == Role::Hard || day.role == Role::Test || day.role == Role::Openers ||
                      (day.family && !easyFamily(day.family->name));
    if (hard && basis.easyUntil && day.date < *basis.easyUntil)
        easier(day.family ? translated(day.family->name) : phrase("hard day"), basis.easyWhy);
    else if (day.family && !allowed(*day.family, basis))
        easier(day.family->name,
               phrase("not with %1",
                      *std::find_if(basis.injuries.begin(), basis.injuries.end(),
                                    [&](const std::string& i) { return excludedBy(*day.family, i); })));
}

void pin(DaySlot& day, const SessionPin* pin, double lowThreshold, const BlockBasis& basis) {
    if (pin && pin->holds() && day.role != Role::Race)
        layPin(day, *pin, lowThreshold, basis);
    if (day.rides())
        takeOut(day, basis);
}

/// A day takes over what the season had on another.
void trade(DaySlot& other, Role roleThere, double hoursThere) {
    other.role = roleThere == Role::Gym || roleThere == Role::Openers ? Role::Easy : roleThere;
    other.hours = std::min(hoursThere, 1.0 * other.available);
    if (other.hours < 900) {
        other.hours = 0;
        other.role = Role::Rest;
    }
}

/// What is ridden with others stands on its day; the rest of the week makes room: the day that was to be hard
/// (or long) trades with it, and no other hard day stays beside it.
void makeRoom(std::vector<WeekProblem>& all, const std::map<Date, Role>& wanted,
              const std::map<Date, double>& hours, const std::set<Date>& together) {
    std::vector<DaySlot*> days;
    for (WeekProblem& p : all)
        for (DaySlot& d : p.days)
            days.push_back(&d);
    const auto free = [](const DaySlot& d) { return !d.pinned && d.rides(); };
    for (const DaySlot* team : days) {
        if (!together.contains(team->date) || (team->role != Role::Hard && team->role != Role::Long))
            continue;
        const Role was = wanted.at(team->date);
        if (was != team->role) {
            DaySlot* nearest = nullptr;
            for (DaySlot* d : days)
                if (free(*d) && d->role == team->role && monday(d->date) == monday(team->date) &&
                    (!nearest || std::abs(d->date - team->date) < std::abs(nearest->date - team->date)))
                    nearest = d;
            if (nearest)
                trade(*nearest, was, hours.at(team->date));
        }
        if (team->role != Role::Hard)
            continue;
        const auto beside = [&](Date day, const DaySlot* except) {
            return std::any_of(days.begin(), days.end(), [&](const DaySlot* d) {
                return d != except && std::abs(d->date - day) == 1 &&
                       (d->role == Role::Hard || d->role == Role::Test || d->role == Role::Race ||
                        d->role == Role::Openers);
            });
        };
        for (DaySlot* d : days) {
            if (std::abs(d->date - team->date) != 1 || !free(*d) || d->role != Role::Hard)
                continue;
            // Where the week has another place for it, there; else it is easy this week.
            for (DaySlot* e : days)
                if (free(*e) && e->role == Role::Easy && !e->easyOnly && monday(e->date) == monday(d->date) &&
                    e->hours >= 2700 && !beside(e->date, d)) {
                    e->role = Role::Hard;
                    break;
                }
            d->role = Role::Easy;
        }
    }
}

/// High and middle seconds a hard day of the build weeks before has been shown to hold, of an hour at most.
int shownBefore(const Plan& plan, Date start) {
    int shown = 0;
    for (const PlannedWeek& w : plan.weeks) {
        if (w.start >= start || w.start < start - 56 || w.kind != WeekKind::Build)
            continue;
        int hard = 0;
        for (const PlannedDay& d : plan.days)
            hard += d.role == Role::Hard && monday(d.date) == monday(w.start) ? 1 : 0;
        if (hard > 0)
            shown = std::max(
                shown,
                static_cast<int>(3600 * std::min(1.0, (w.bandHours.middle + w.bandHours.high) / hard)));
    }
    return shown;
}

/// A week as its plan has it, without its days. `demand`: of the A race before, where none is ahead.
WeekProblem weekAsPlanned(const Season& season, const Plan& plan, const PlannedWeek& planned, Date start,
                          Demand demand) {
    WeekProblem p;
    p.start = start;
    p.kind = planned.kind;
    p.phase = planned.phase;
    const Race* goal = nullptr;
    for (const Race& race : season.races)
        if (race.priority == Priority::A && race.date >= start && (!goal || race.date < goal->date))
            goal = &race;
    p.demand = goal ? goal->demand : demand;
    p.noMaximal = noMaximalIn(season, start);
    p.since = (start - monday(season.start)) / 7;
    p.fitness = season.before.fitness;
    for (const PlannedDay& d : plan.days)
        if (d.date < start) {
            p.fitness = d.fitness;
            p.tests += d.role == Role::Test ? 1 : 0;
        }
    p.shown = shownBefore(plan, start);
    p.purpose = {3600 * planned.bandHours.low, 3600 * planned.bandHours.middle,
                 3600 * planned.bandHours.high};
    return p;
}

/// Marks the days beside a hard one, over the edges of the weeks too.
void markBesideHard(const Plan& plan, std::vector<WeekProblem>& all) {
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
}

} // namespace

/// A day as the season planned it, in whole five minutes.
static DaySlot slotOf(const Season& season, const PlannedDay& d, bool trains) {
    const double gym = d.role == Role::Gym && !season.rules.gymBeside ? gymHours : 0;
    DaySlot slot{d.date, d.past ? Role::Rest : d.role, trains ? 3600 * d.hours : 0,
                 static_cast<int>(std::floor(std::max(0.0, d.availableHours - gym) * 12 + 1e-9)) * 300};
    slot.easyOnly = d.easyOnly;
    return slot;
}

std::vector<WeekProblem> weekProblems(const Season& season, const Plan& plan, Date from, int weeks,
                                      const BlockBasis& basis) {
    std::map<Date, const SessionPin*> pins;
    for (const SessionPin& p : season.sessions)
        pins[p.date] = &p;
    std::vector<WeekProblem> all;
    std::map<Date, Role> wanted;
    std::map<Date, double> hours;
    std::set<Date> together;
    Demand demand = Demand::Unstated;
    for (int n = 0; n < weeks; ++n) {
        const Date start = monday(from) + 7 * n;
        const PlannedWeek* planned = weekOf(plan, start);
        if (!planned)
            continue;
        WeekProblem p = weekAsPlanned(season, plan, *planned, start, demand);
        demand = p.demand;
        for (const PlannedDay& d : plan.days) {
            if (monday(d.date) != start)
                continue;
            const bool trains = !d.past && d.role != Role::Race && d.hours > 0;
            p.stress += trains ? d.stress : 0;
            p.days.push_back(slotOf(season, d, trains));
            const auto pinned = pins.find(d.date);
            wanted[d.date] = p.days.back().role;
            hours[d.date] = p.days.back().hours;
            if (pinned != pins.end() && !d.past && pinned->second->holds() && !pinned->second->team.empty())
                together.insert(d.date);
            if (!d.past)
                pin(p.days.back(), pinned == pins.end() ? nullptr : pinned->second, season.lowThreshold,
                    basis);
        }
        all.push_back(std::move(p));
    }
    makeRoom(all, wanted, hours, together);
    markBesideHard(plan, all);
    return all;
}

/// Whether a day can be ridden as it was promised.
static bool keepsDay(const BlockWeek& promised, const DaySlot& day) {
    if (day.pinned || day.words)
        return false;
    int seconds = 0;
    bool any = false;
    for (const BlockSession& s : promised.sessions) {
        if (s.date != day.date || !s.ridden())
            continue;
        if (s.role != day.role)
            return false;
        any = true;
        seconds += s.seconds;
    }
    return (any ? day.rides() : day.role != Role::Hard) && seconds <= day.available + fiveMinutes;
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
    return std::all_of(week.days.begin(), week.days.end(),
                       [&](const DaySlot& day) { return keepsDay(promised, day); });
}

} // namespace marram
