// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/choose.h"

#include <algorithm>
#include <cmath>

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
        return {"race pace", "threshold", "just under threshold", "aerobic ceiling long", "hard starts"};
    case Demand::Stage:
        return {"race pace", "threshold", "over-unders", "just under threshold", "aerobic ceiling long"};
    case Demand::Steady:
    case Demand::Unstated:
        break;
    }
    return {"race pace",  "threshold", "just above threshold", "over-unders", "just under threshold",
            "hard starts"};
}

std::vector<WeekProblem> weekProblems(const Season& season, const Plan& plan, Date from, int weeks) {
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
        p.purpose = {3600 * planned->bandHours.low, 3600 * planned->bandHours.middle,
                     3600 * planned->bandHours.high};
        for (const PlannedDay& d : plan.days) {
            if (d.role == Role::Test && d.date < start)
                ++p.tests;
            if (monday(d.date) != start)
                continue;
            const bool trains = !d.past && d.role != Role::Race && d.hours > 0;
            p.stress += trains ? d.stress : 0;
            p.days.push_back({d.date, d.past ? Role::Rest : d.role, trains ? 3600 * d.hours : 0,
                              static_cast<int>(std::floor(d.availableHours * 12 + 1e-9)) * 300, false});
        }
        for (DaySlot& d : p.days)
            for (const PlannedDay& other : plan.days)
                if (std::abs(other.date - d.date) == 1 &&
                    (other.role == Role::Hard || other.role == Role::Race))
                    d.besideHard = true;
        all.push_back(std::move(p));
    }
    return all;
}

} // namespace marram
