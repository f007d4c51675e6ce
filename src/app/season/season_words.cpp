// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_words.h"
#include "app/theme/theme.h"
#include "core/review/attention.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString q(const std::string& s) {
    return QString::fromStdString(s).toHtmlEscaped();
}
QString number(double v, int decimals = 0) {
    return decimal(v, decimals);
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

} // namespace

QString inspectRace(const SeasonPicture& picture, int index, const std::vector<Limit>& limits,
                    bool limitsReady) {
    if (!picture.hasPlan || static_cast<size_t>(index) >= picture.plan.races.size())
        return wording("<p>Planning…</p>");
    const PlannedRace& race = picture.plan.races[static_cast<size_t>(index)];
    const PlannedDay* before = dayOf(picture.plan, race.date - 1);
    const int days = race.date - picture.today;
    QString out = table(
        row(days >= 0 ? wording("Days to go") : wording("Days ago"), number(std::abs(days)), "d") +
        row(wording("Form that morning"), withSign(race.form), wording("pts/day"),
            before ? wording("Fitness %1 less fatigue %2, both at the end of the day before.")
                         .arg(number(before->fitness, 1), number(before->fatigue, 1))
                   : QString()) +
        row(wording("Fitness"), number(race.fitness, 1), wording("pts/day"),
            wording("Mean daily stress weighed over %1 days.").arg(number(picture.season.tau.fitness))));
    if (race.gate) {
        const QString gate =
            wording("%1 to %2").arg(withSign(race.gate->low, 0), withSign(race.gate->high, 0));
        if (race.gateMiss > 0.05)
            out += wording("<p>The gate is %1. Form misses it by <b>%2</b>: to come nearer would cost more "
                           "fitness than it is worth.</p>")
                       .arg(gate, number(race.gateMiss, 1));
        else
            out += wording("<p>Form passes the gate of %1.</p>").arg(gate);
    }
    if (const auto last = picture.lastTime.find(race.name); last != picture.lastTime.end())
        out += heading(wording("The time before")) +
               QString(wording("<p style='margin:2px 0'>%1</p><p style='margin:2px 0; color:%2'>How it went, "
                               "hour by hour, "
                               "stands under Review, Questions.</p>"))
                   .arg(last->second.toHtmlEscaped(), shore().muted.name());
    out += chanceWords(picture, index);
    if (race.priority == Priority::A && days >= 0) {
        out += heading(wording("What limits race day"));
        QStringList items;
        for (const Limit& l : limits)
            items << q(l.text);
        if (items.isEmpty())
            items << (limitsReady ? wording("Nothing binds: more of any one limit adds nothing.")
                                  : wording("Trying each limit…"));
        for (QString& i : items)
            i[0] = i[0].toUpper();
        out += list(items);
        out += wording("<p style='color:%1'>Each was tried by solving the season again.</p>")
                   .arg(shore().muted.name());
    }
    return out;
}

QString chanceWords(const SeasonPicture& picture, int index) {
    if (static_cast<size_t>(index) >= picture.plan.races.size())
        return {};
    const PlannedRace& race = picture.plan.races[static_cast<size_t>(index)];
    const auto found = std::find_if(picture.races.begin(), picture.races.end(), [&](const RaceChance& c) {
        return c.name == race.name && c.date == race.date;
    });
    if (found == picture.races.end() || race.date < picture.today)
        return {};
    QString out = heading(wording("If days are missed"));
    out += QString(wording("<p style='margin:2px 0'>On the morning that comes form is mostly near %1 and "
                           "fitness near %2; "
                           "%3 and %4 stand above with nothing missed.</p>"))
               .arg(withSign(race.expectedForm, 0), number(race.expectedFitness), withSign(race.form, 0),
                    number(race.fitness));
    if (found->inGate) {
        // In words a coach says: tenths are as fine as the simulation is true.
        const int tenths = static_cast<int>(std::lround(10 * *found->inGate));
        const QString often = tenths >= 10  ? wording("In nearly every season")
                              : tenths <= 0 ? wording("In hardly any season")
                                            : wording("In %1 seasons of ten").arg(tenths);
        out += wording("<p style='margin:2px 0'>%1 form is inside the gate: mostly %2 to %3.</p>")
                   .arg(often, withSign(found->form.p5, 0), withSign(found->form.p95, 0));
    } else {
        out += wording("<p style='margin:2px 0'>Form is mostly %1 to %2.</p>")
                   .arg(withSign(found->form.p5, 0), withSign(found->form.p95, 0));
    }
    out +=
        wording("<p style='margin:2px 0'>Fitness is %1 lower than planned in the middle case; mostly %2 to "
                "%3.</p>")
            .arg(number(std::max(0.0, race.fitness - found->fitness.p50), 1), number(found->fitness.p5),
                 number(found->fitness.p95));
    const MissRate& m = picture.misses;
    const QString basis =
        m.known ? QString(wording("%1 of %2 planned days of the last 90 were missed (%4 to %5 %); %3 % are "
                                  "reckoned with."))
                      .arg(m.missed)
                      .arg(m.planned)
                      .arg(number(100 * m.rate), number(100 * m.low), number(100 * m.high))
                : wording("Too few planned days have passed to know how often this rider misses one: 8 %% is "
                          "usual.")
                      .replace("%%", "%");
    out +=
        wording("<p style='margin:2px 0; color:%1'>%2 With %3 of illness a year. The plan is not made anew "
                "after a miss.</p>")
            .arg(shore().muted.name(), basis,
                 picture.illSpells == 1 ? wording("one spell")
                                        : wording("%1 spells", number(picture.illSpells)));
    return out;
}

QString sinceLastWeek(const SeasonPicture& picture) {
    const auto& w = picture.last;
    if (!w.known || !picture.hasPlan)
        return {};
    QStringList lines;
    lines << (w.planned > 0
                  ? wording("Last week %1 of %2 planned days were ridden, %3 of %4 points.")
                        .arg(w.ridden)
                        .arg(w.planned)
                        .arg(number(w.done), number(w.points))
                  : wording("Last week %1 points were ridden; nothing was planned.").arg(number(w.done)));
    QString now = wording("Fitness is %1").arg(number(w.fitness, 1));
    if (w.plannedFitness && std::abs(*w.plannedFitness - w.fitness) >= 0.1)
        now += wording(", %1 %2 than was planned")
                   .arg(number(std::abs(*w.plannedFitness - w.fitness), 1),
                        w.fitness < *w.plannedFitness ? wording("less") : wording("more"));
    lines << now + wording("; form this morning %1.").arg(withSign(w.form, 0));
    for (const PlannedRace& race : picture.plan.races) {
        if (race.date < picture.today || race.priority == Priority::C)
            continue;
        const auto then = std::find_if(picture.outlook.begin(), picture.outlook.end(),
                                       [&](const Outlook& o) { return o.race == race.name; });
        if (then == picture.outlook.end())
            continue;
        lines << QString(wording("%1: fitness %2 and form %3 are expected, where %4 it was %5 and %6. "
                                 "Nothing missed is "
                                 "owed; the plan goes on from where the rider is."))
                     .arg(q(race.name), number(race.fitness, 1), withSign(race.form, 0),
                          q(phrase("on %1", dayText(then->day))), number(then->fitness, 1),
                          withSign(then->form, 0));
        break;
    }
    return heading(wording("Since last week")) + list(lines);
}

QString differences(const SeasonPicture& picture) {
    if (!picture.beside || !picture.hasPlan)
        return {};
    Season season = picture.season;
    season.before = picture.before;
    const Summary is = summarise(season, picture.plan), was = summarise(season, *picture.beside);
    const Shore& c = shore();
    QString rows = wording("<tr style='color:%1'><td></td><td align=right>here</td><td align=right>%2</td>"
                           "<td align=right>differs</td></tr>")
                       .arg(c.muted.name(), q(picture.besideName.toStdString()));
    const auto line = [&](const QString& name, double a, double b, int decimals, bool sign = false) {
        const bool same = std::abs(a - b) < 0.5 * std::pow(10, -decimals);
        rows +=
            QString(
                "<tr><td>%1</td><td align=right>%2</td><td align=right>%3</td><td align=right>%4</td></tr>")
                .arg(name, sign ? withSign(a, decimals) : number(a, decimals),
                     sign ? withSign(b, decimals) : number(b, decimals),
                     same ? QString("–") : "<b>" + withSign(a - b, decimals) + "</b>");
    };
    line(wording("Hours"), is.hours, was.hours, 0);
    line(wording("Points"), is.stress, was.stress, 0);
    line(wording("Low, h"), is.bandHours.low, was.bandHours.low, 0);
    line(wording("Middle, h"), is.bandHours.middle, was.bandHours.middle, 0);
    line(wording("High, h"), is.bandHours.high, was.bandHours.high, 0);
    line(wording("Hard days"), is.hardDays, was.hardDays, 0);
    line(wording("Largest ramp"), is.largestRamp, was.largestRamp, 1);
    line(wording("Deepest form"), is.deepestForm, was.deepestForm, 0, true);
    for (const PlannedRace& race : is.races)
        for (const PlannedRace& then : was.races)
            if (race.name == then.name && race.priority != Priority::C) {
                line(wording("%1, form", q(race.name)), race.form, then.form, 1, true);
                line(wording("fitness"), race.fitness, then.fitness, 1);
            }
    return heading(wording("What this changes")) + "<table cellspacing=0 cellpadding=1 width='100%'>" + rows +
           "</table>";
}

static QString weekRows(const SeasonPicture& picture, const PlannedWeek& week, Date date) {
    const double planned = picture.plannedIn(date), ridden = picture.riddenIn(date);
    const PlannedDay* sunday = dayOf(picture.plan, monday(date) + 6);
    const PlannedDay* start = dayOf(picture.plan, monday(date) - 1);
    QString rows;
    if (planned > 0 || ridden <= 0)
        rows += row(wording("Planned"), number(planned), wording("pts"));
    if (ridden > 0 || monday(date) <= picture.today)
        rows += row(wording("Ridden"), number(ridden), wording("pts"),
                    planned > 0 && monday(date) + 6 < picture.today
                        ? wording("%1 % of the plan.").arg(100 * ridden / planned, 0, 'f', 0)
                        : QString());
    if (week.hours > 0)
        rows += row(wording("Training planned"), number(week.hours, 1), "h",
                    wording("of %1 h; low %2, middle %3, high %4 h")
                        .arg(number(week.availableHours, 1), number(week.bandHours.low, 1),
                             number(week.bandHours.middle, 1), number(week.bandHours.high, 1)));
    if (sunday && start)
        rows += row(wording("Ramp"), withSign(sunday->fitness - start->fitness), wording("pts/day"),
                    wording("Fitness %1 on Sunday night, %2 a week before; limit %3.")
                        .arg(number(sunday->fitness, 1), number(start->fitness, 1),
                             number(picture.season.rules.ramp)));
    return rows;
}

QString inspectDay(const SeasonPicture& picture, Date date) {
    const PlannedDay* day = dayOf(picture.plan, date);
    const PlannedWeek* week = weekOf(picture.plan, date);
    if (!day || !week)
        return {};
    QString out = heading(q(namedDayText(date)));
    const PlannedDay* before = dayOf(picture.plan, date - 1);
    const QString role = day->past ? wording("ridden") : wording(nameOf(day->role));
    out += table(row(day->past ? wording("Stress ridden") : wording("Stress, %1").arg(role),
                     number(day->stress), wording("pts")) +
                 (day->past ? QString()
                            : row(wording("Training"), number(day->hours, 1), "h",
                                  day->availableHours > 0
                                      ? wording("of %1 h the day has").arg(number(day->availableHours, 1))
                                      : QString())) +
                 row(wording("Form on waking"), withSign(day->form), wording("pts/day"),
                     before ? wording("Fitness %1 less fatigue %2.")
                                  .arg(number(before->fitness, 1), number(before->fatigue, 1))
                            : QString()));
    if (!picture.dayWhy.empty())
        out += QString("<p style='margin:2px 0 6px 0'>%1</p>").arg(q(picture.dayWhy));
    out += heading(wording("Week of %1 · %2 · %3", q(dayText(week->start)), wording(nameOf(week->kind)),
                           wording(nameOf(week->phase))));
    out += QString("<p style='margin:2px 0 6px 0'>%1</p>").arg(q(week->why));
    out += table(weekRows(picture, *week, date));
    return out;
}

QString inspectSeason(const SeasonPicture& picture) {
    QString out;
    QStringList given, remarks;
    if (picture.counted > 0)
        remarks << q(unscoredSentence(picture.counted)) + picture.proposed.toHtmlEscaped();
    if (!picture.bound.isEmpty())
        remarks << picture.bound.toHtmlEscaped();
    for (const Relaxed& r : picture.plan.relaxed)
        given << q(r.text);
    for (const std::string& w : picture.plan.warnings)
        remarks << q(w);
    if (!given.isEmpty())
        out += heading(wording("What gave way")) + list(given);
    if (!remarks.isEmpty())
        out += heading(wording("Worth knowing")) + list(remarks);
    if (out.isEmpty())
        out = heading(wording("Every rule of the season holds."));
    return out;
}

} // namespace marram
