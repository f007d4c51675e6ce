// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_edits.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString weekWords(Date week) {
    return QString::fromStdString(dayText(week));
}

bool pinnable(Phase phase) {
    return phase <= Phase::Specialise;
}

/// The Monday nearest to a day.
Date nearestMonday(Date day) {
    const Date before = monday(day);
    return day - before > 3 ? before + 7 : before;
}

double threeMinutes(double hours) {
    return std::clamp(std::round(20 * hours) / 20, 0.0, 24.0);
}

} // namespace

SeasonEdit moveRace(const Season& season, int race, Date to) {
    SeasonEdit edit{season, {}};
    Race& r = edit.season.races.at(static_cast<size_t>(race));
    r.date = std::clamp(to, season.start, std::max(season.start, season.end - (r.days - 1)));
    edit.what = wording("Move %1", QString::fromStdString(r.name));
    return edit;
}

SeasonEdit moveGate(const Season& season, const Plan& plan, int race, bool low, double form) {
    SeasonEdit edit{season, {}};
    Race& r = edit.season.races.at(static_cast<size_t>(race));
    Gate gate = gateInForce(season.races.at(static_cast<size_t>(race)), plan).value_or(Gate{});
    if (low)
        gate.low = std::clamp(std::round(form), -60.0, gate.high - 1);
    else
        gate.high = std::clamp(std::round(form), gate.low + 1, 60.0);
    r.gate = gate;
    edit.what = wording("Change the gate of %1", QString::fromStdString(r.name));
    return edit;
}

SeasonEdit movePhaseEdge(const Season& season, const Plan& plan, Date edge, Date to) {
    SeasonEdit edit{season, {}};
    const PlannedWeek *left = weekOf(plan, edge - 7), *right = weekOf(plan, edge);
    const Date goal = nearestMonday(to);
    if (!left || !right || goal == edge)
        return edit;
    const Phase grows = goal < edge ? right->phase : left->phase;
    if (!pinnable(grows))
        return edit;
    for (Date w = std::min(edge, goal); w < std::max(edge, goal); w = w + 7)
        // Weeks of a taper, a race or a break have a phase of their own.
        if (const PlannedWeek* passed = weekOf(plan, w); passed && pinnable(passed->phase))
            edit.season = withPin(edit.season, w, [&](WeekPin& p) { p.phase = grows; });
    edit.what =
        wording("Let %1 %2 on %3")
            .arg(wording(nameOf(goal < edge ? right->phase : left->phase)),
                 goal < edge ? wording("begin") : wording("end"), weekWords(goal < edge ? goal : goal - 1));
    return edit;
}

SeasonEdit moveTaper(const Season& season, const Plan& plan, Date edge, Date to) {
    SeasonEdit edit{season, {}};
    const PlannedRace* race = nullptr;
    for (const PlannedRace& r : plan.races)
        if (r.priority == Priority::A && r.date >= edge && (!race || r.date < race->date))
            race = &r;
    if (!race)
        return edit;
    edit.season.rules.taperDays = std::clamp(race->date - to, 4, 28);
    edit.season.rules.taperBest = false;
    edit.season.rules.taperSet = true;
    edit.what = wording("A taper of %1 days").arg(edit.season.rules.taperDays);
    return edit;
}

SeasonEdit moveDeload(const Season& season, Date from, Date to) {
    SeasonEdit edit{season, {}};
    const Date goal = monday(to);
    if (goal == from || goal < monday(season.start) || goal > season.end)
        return edit;
    edit.season = withPin(edit.season, from, [](WeekPin& p) { p.kind = WeekKind::Build; });
    edit.season = withPin(edit.season, goal, [](WeekPin& p) { p.kind = WeekKind::Deload; });
    edit.what = wording("Move the deload of %1 to %2").arg(weekWords(from), weekWords(goal));
    return edit;
}

SeasonEdit setWeekHeight(const Season& season, const Plan& plan, Date week, double points) {
    SeasonEdit edit{season, {}};
    const PlannedWeek* planned = weekOf(plan, week);
    if (!planned)
        return edit;
    WeekHours rides{};
    double trained = 0;
    for (const PlannedDay& d : plan.days)
        if (monday(d.date) == monday(week) && d.hours > 0) {
            rides[static_cast<size_t>(weekday(d.date))] = d.hours;
            trained += d.stress;
        }
    if (trained <= 0)
        return edit;
    const double other = planned->stress - trained, factor = std::clamp((points - other) / trained, 0.0, 3.0);
    WeekHours given = season.hours;
    for (const WeekPin& p : season.weeks)
        if (p.start == monday(week) && p.hours)
            given = *p.hours;
    edit.season = withPin(edit.season, monday(week), [&](WeekPin& p) {
        WeekHours hours{};
        for (size_t d = 0; d < 7; ++d) {
            const double wanted = threeMinutes(rides[d] * factor);
            hours[d] = factor > 1 ? std::max(given[d], wanted) : wanted;
        }
        p.hours = hours;
    });
    edit.what = wording("Set the week of %1", weekWords(monday(week)));
    return edit;
}

SeasonEdit moveAway(const Season& season, int away, int days) {
    SeasonEdit edit{season, {}};
    Away& a = edit.season.away.at(static_cast<size_t>(away));
    // It stays with the season it belongs to, at least by a day.
    days = std::clamp(days, season.start - a.to, season.end - a.from);
    a.from = a.from + days;
    a.to = a.to + days;
    edit.what = wording("Move the %1").arg(wording(nameOf(a.why)));
    return edit;
}

SeasonEdit stretchAway(const Season& season, int away, bool from, Date to) {
    SeasonEdit edit{season, {}};
    Away& a = edit.season.away.at(static_cast<size_t>(away));
    if (from)
        a.from = std::clamp(to, a.to - 1099, a.to);
    else
        a.to = std::clamp(to, a.from, a.from + 1099);
    edit.what = QString(a.from == a.to ? wording("A day of %1") : wording("Change the days of the %1"))
                    .arg(wording(nameOf(a.why)));
    return edit;
}

} // namespace marram
