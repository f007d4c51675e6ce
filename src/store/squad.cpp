// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/squad.h"
#include "formats/csv/lines.h"
#include "store/ahead.h"
#include "store/whole_season.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr int behind = 56; ///< days of what was ridden that a row shows

QByteArray utf8(const std::string& s) {
    return QByteArray::fromStdString(s);
}

/// What happened so far: form of the last weeks, and of this morning.
void layPastOf(SquadRow& row, const LoadHistory& history, Date today) {
    const LoadState morning = history.before(today);
    row.fitness = morning.fitness;
    row.form = morning.form();
    for (Date d = std::max(history.begin(), today - behind); d <= today; d = d + 1)
        row.forms.emplace_back(d, history.form(d));
}

} // namespace

Date firstThatCounts(const TimeConstants& tau, Date today) {
    return today - std::max(730, static_cast<int>(std::ceil(14 * std::max(tau.fitness, tau.fatigue))));
}

Result<std::vector<DaySum>> recentSums(const Roster& roster, qint64 rider, const TimeConstants& tau,
                                       Date today, Damage& damage) {
    auto sums = roster.daySumsOf(rider, firstThatCounts(tau, today), &damage);
    if (sums && countRidden(*sums).byHours)
        return roster.daySumsOf(rider, &damage);
    return sums;
}

/// What was planned when it was last solved.
static void layPlanOf(SquadRow& row, const std::vector<SolvedDay>& planned, Date today) {
    for (const SolvedDay& d : planned) {
        if (d.date > today) {
            row.forms.emplace_back(d.date, d.form);
            row.planned = true;
        }
        if (d.kind && (row.weeks.empty() || row.weeks.back().first != monday(d.date)))
            row.weeks.emplace_back(monday(d.date), *d.kind);
        if (d.kind == WeekKind::Deload && (row.deloads.empty() || row.deloads.back() != monday(d.date)))
            row.deloads.push_back(monday(d.date));
    }
}

Result<SquadRow> keptRow(const Roster& roster, const RiderRecord& rider, Date today) {
    SquadRow row;
    row.rider = rider.id;
    row.name = rider.name;
    Damage damage;
    const auto season = roster.seasonInForce(rider.id, &damage);
    if (!season)
        return tl::unexpected(season.error());
    const auto planned = roster.plannedDays(rider.id, today - behind, today + 3 * 366, &damage);
    if (!planned)
        return tl::unexpected(planned.error());
    const Season* s = *season ? &(*season)->season : nullptr;
    const auto sums = recentSums(roster, rider.id, s ? s->tau : TimeConstants{}, today, damage);
    if (!sums)
        return tl::unexpected(sums.error());
    const Counted counted = countRidden(*sums);
    layPastOf(row, historyOf(rider, counted.points, s, today), today);
    layPlanOf(row, *planned, today);
    if (!s)
        return row;
    row.season = std::make_shared<const Season>(*s);
    row.away = s->away;
    const auto outlook = roster.outlook((*season)->id, today, &damage);
    if (!outlook)
        return tl::unexpected(outlook.error());
    for (const Race& race : s->races) {
        SquadRace r{race.name, race.date, race.days, race.priority, 0, 0, {}, {}, race.course, race.squad};
        const auto day = std::find_if(planned->begin(), planned->end(),
                                      [&](const SolvedDay& d) { return d.date == race.date; });
        if (day != planned->end())
            r.form = day->form;
        const auto kept = std::find_if(outlook->begin(), outlook->end(),
                                       [&](const Outlook& o) { return o.race == race.name; });
        if (kept != outlook->end() && race.date >= today) {
            r.form = kept->form;
            r.fitness = kept->fitness;
            r.chance = kept->chance;
        }
        r.gate = raceGate(race, r.fitness);
        row.races.push_back(std::move(r));
    }
    std::stable_sort(row.races.begin(), row.races.end(),
                     [](const SquadRace& a, const SquadRace& b) { return a.date < b.date; });
    return row;
}

Result<SquadRow> solvedRow(const Roster& roster, const RiderRecord& rider, Date today, Date week, int weeks) {
    auto row = keptRow(roster, rider, today);
    if (!row)
        return row;
    Damage damage;
    const auto ahead = lookAhead(roster, rider, today, damage);
    if (!ahead)
        return tl::unexpected(ahead.error());
    row->fresh = true;
    row->planned = ahead->has_value();
    if (!*ahead)
        return row;
    const RiderAhead& a = **ahead;
    std::erase_if(row->forms, [&](const auto& f) { return f.first > today; });
    for (const PlannedDay& d : a.plan.days)
        if (d.date > today)
            row->forms.emplace_back(d.date, d.form);
    row->deloads.clear();
    row->weeks.clear();
    for (const PlannedWeek& w : a.plan.weeks)
        row->weeks.emplace_back(monday(w.start), w.kind);
    for (const PlannedWeek& w : a.plan.weeks)
        if (w.kind == WeekKind::Deload)
            row->deloads.push_back(w.start);
    row->races.clear();
    for (const PlannedRace& r : a.plan.races) {
        const auto race = std::find_if(a.season.races.begin(), a.season.races.end(),
                                       [&](const Race& o) { return o.name == r.name && o.date == r.date; });
        const bool known = race != a.season.races.end();
        row->races.push_back({r.name, r.date, known ? race->days : 1, r.priority, r.form, r.fitness, r.gate,
                              r.chance, known ? race->course : std::vector<CoursePoint>{},
                              known ? race->squad : std::optional<Date>()});
    }
    std::stable_sort(row->races.begin(), row->races.end(),
                     [](const SquadRace& x, const SquadRace& y) { return x.date < y.date; });
    row->week = daysAhead(a, week, weeks, today);
    return row;
}

std::vector<QByteArrayList> squadRaceRows(const SquadRow& row, Date today) {
    std::vector<QByteArrayList> rows;
    for (const SquadRace& r : row.races)
        if (r.priority != Priority::C && r.date >= today)
            rows.push_back({row.name.toUtf8(), utf8(r.name), utf8(isoText(r.date)), csvNumber(r.fitness),
                            csvNumber(r.form), csvNumber(r.gate ? std::optional(r.gate->low) : std::nullopt),
                            csvNumber(r.gate ? std::optional(r.gate->high) : std::nullopt),
                            csvNumber(r.chance)});
    return rows;
}

std::vector<QByteArrayList> squadDayRows(const SquadRow& row) {
    std::vector<QByteArrayList> rows;
    for (const DayAhead& d : row.week)
        rows.push_back({row.name.toUtf8(), utf8(isoText(d.date)), nameOf(d.role), utf8(d.family),
                        utf8(d.title), QByteArray::number(static_cast<int>(std::lround(d.seconds / 60.0))),
                        csvNumber(std::round(10 * d.stress) / 10)});
    return rows;
}

} // namespace marram
