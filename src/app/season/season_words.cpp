// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_words.h"
#include "app/theme/theme.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString q(const std::string& s) {
    return QString::fromStdString(s).toHtmlEscaped();
}
QString number(double v, int decimals = 0) {
    return QString::number(v, 'f', decimals);
}
QString withSign(double v, int decimals = 1) {
    return q(signedText(v, decimals));
}

QString row(const QString& name, const QString& value, const QString& unit, const QString& from = {}) {
    const Shore& c = shore();
    QString out = QString("<tr><td style='white-space:nowrap'>%1</td><td align=right "
                          "style='white-space:nowrap'><b>%2</b></td><td style='color:%4'>&nbsp;%3</td></tr>")
                      .arg(name, value, unit, c.muted.name());
    if (!from.isEmpty())
        out += QString("<tr><td colspan=3 style='color:%2; padding-bottom:6px'>%1</td></tr>")
                   .arg(from, c.muted.name());
    return out;
}

QString table(const QString& rows) {
    return "<table cellspacing=0 cellpadding=1 width='100%'>" + rows + "</table>";
}
QString heading(const QString& words) {
    return QString("<p style='margin:10px 0 2px 0; color:%2'>%1</p>").arg(words, shore().muted.name());
}
QString list(const QStringList& items) {
    return items.isEmpty() ? QString()
                           : "<p style='margin:2px 0'>" + items.join("</p><p style='margin:5px 0'>") + "</p>";
}

const PlannedDay* dayOf(const Plan& plan, Date day) {
    const auto found =
        std::find_if(plan.days.begin(), plan.days.end(), [&](const PlannedDay& d) { return d.date == day; });
    return found == plan.days.end() ? nullptr : &*found;
}

const PlannedWeek* weekOf(const Plan& plan, Date day) {
    const auto found = std::find_if(plan.weeks.begin(), plan.weeks.end(),
                                    [&](const PlannedWeek& w) { return monday(w.start) == monday(day); });
    return found == plan.weeks.end() ? nullptr : &*found;
}

} // namespace

QString inspectRace(const SeasonPicture& picture, int index, const std::vector<Limit>& limits,
                    bool limitsReady) {
    if (!picture.hasPlan || static_cast<size_t>(index) >= picture.plan.races.size())
        return "<p>Planning…</p>";
    const PlannedRace& race = picture.plan.races[static_cast<size_t>(index)];
    const PlannedDay* before = dayOf(picture.plan, race.date - 1);
    const int days = race.date - picture.today;
    QString out = table(
        row(days >= 0 ? "Days to go" : "Days ago", number(std::abs(days)), "d") +
        row("Form that morning", withSign(race.form), "pts/day",
            before ? QString("Fitness %1 less fatigue %2, both at the end of the day before.")
                         .arg(number(before->fitness, 1), number(before->fatigue, 1))
                   : QString()) +
        row("Fitness", number(race.fitness, 1), "pts/day",
            QString("Mean daily stress weighed over %1 days.").arg(number(picture.season.tau.fitness))));
    if (race.gate) {
        const QString gate =
            QString("%1 to %2").arg(withSign(race.gate->low, 0), withSign(race.gate->high, 0));
        if (race.gateMiss > 0.05)
            out += QString("<p>The gate is %1. Form misses it by <b>%2</b>: with these hours, this ramp and "
                           "this taper no plan comes nearer.</p>")
                       .arg(gate, number(race.gateMiss, 1));
        else
            out += QString("<p>Form passes the gate of %1.</p>").arg(gate);
    }
    if (race.priority == Priority::A && days >= 0) {
        out += heading("What limits race day");
        QStringList items;
        for (const Limit& l : limits)
            items << q(l.text);
        if (items.isEmpty())
            items << (limitsReady ? "Nothing binds: more of any one limit adds nothing."
                                  : "Trying each limit…");
        for (QString& i : items)
            i[0] = i[0].toUpper();
        out += list(items);
        out += QString("<p style='color:%1'>Each was tried by solving the season again.</p>")
                   .arg(shore().muted.name());
    }
    return out;
}

QString inspectDay(const SeasonPicture& picture, Date date) {
    const PlannedDay* day = dayOf(picture.plan, date);
    const PlannedWeek* week = weekOf(picture.plan, date);
    if (!day || !week)
        return {};
    QString out = heading(q(weekdayText(date) + " " + dayText(date)));
    const PlannedDay* before = dayOf(picture.plan, date - 1);
    const QString role = day->past ? "ridden" : nameOf(day->role);
    out +=
        table(row(day->past ? "Stress ridden" : QString("Stress, %1").arg(role), number(day->stress), "pts") +
              (day->past ? QString()
                         : row("Training", number(day->hours, 1), "h",
                               day->availableHours > 0
                                   ? QString("of %1 h the day has").arg(number(day->availableHours, 1))
                                   : QString())) +
              row("Form on waking", withSign(day->form), "pts/day",
                  before ? QString("Fitness %1 less fatigue %2.")
                               .arg(number(before->fitness, 1), number(before->fatigue, 1))
                         : QString()));
    out += heading("Week of " + q(dayText(week->start)) + " · " + nameOf(week->kind) + " · " +
                   nameOf(week->phase));
    out += QString("<p style='margin:2px 0 6px 0'>%1</p>").arg(q(week->why));
    const double planned = picture.plannedIn(date), ridden = picture.riddenIn(date);
    const PlannedDay* sunday = dayOf(picture.plan, monday(date) + 6);
    const PlannedDay* start = dayOf(picture.plan, monday(date) - 1);
    QString rows;
    if (planned > 0 || ridden <= 0)
        rows += row("Planned", number(planned), "pts");
    if (ridden > 0 || monday(date) <= picture.today)
        rows += row("Ridden", number(ridden), "pts",
                    planned > 0 && monday(date) + 6 < picture.today
                        ? QString("%1 % of the plan.").arg(100 * ridden / planned, 0, 'f', 0)
                        : QString());
    if (week->hours > 0)
        rows += row("Training planned", number(week->hours, 1), "h",
                    QString("of %1 h; low %2, middle %3, high %4 h")
                        .arg(number(week->availableHours, 1), number(week->bandHours.low, 1),
                             number(week->bandHours.middle, 1), number(week->bandHours.high, 1)));
    if (sunday && start)
        rows += row("Ramp", withSign(sunday->fitness - start->fitness), "pts/day",
                    QString("Fitness %1 on Sunday night, %2 a week before; limit %3.")
                        .arg(number(sunday->fitness, 1), number(start->fitness, 1),
                             number(picture.season.rules.ramp)));
    out += table(rows);
    return out;
}

QString inspectSeason(const SeasonPicture& picture) {
    QString out;
    QStringList given, remarks;
    for (const Relaxed& r : picture.plan.relaxed)
        given << q(r.text);
    for (const std::string& w : picture.plan.warnings)
        remarks << q(w);
    if (!given.isEmpty())
        out += heading("What gave way") + list(given);
    if (!remarks.isEmpty())
        out += heading("Worth knowing") + list(remarks);
    if (out.isEmpty())
        out = heading("Every rule of the season holds.");
    return out;
}

} // namespace marram
