// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/ical/calendar.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <libical/ical.h>

namespace marram {
namespace {

icaltimetype allDay(Date date) {
    const CivilDate c = toCivil(date);
    icaltimetype t = icaltime_null_date();
    t.year = c.year;
    t.month = c.month;
    t.day = c.day;
    t.is_date = 1;
    return t;
}

icaltimetype midnight(Date date) {
    icaltimetype t = allDay(date);
    t.is_date = 0;
    t.hour = t.minute = t.second = 0;
    t.zone = icaltimezone_get_utc_timezone();
    return t;
}

/// Control characters have no place in a text value; line ends stay.
QByteArray clean(QString text) {
    for (QChar& c : text)
        if (c < ' ' && c != '\n')
            c = ' ';
    return text.toUtf8();
}

struct Event {
    QString uid;
    Date first, last; ///< both included
    QString summary, description;
    const char* category;
};

icalcomponent* made(const Event& e, Date stamp) {
    const QByteArray uid = clean(e.uid), summary = clean(e.summary), words = clean(e.description);
    icalcomponent* event = icalcomponent_new(ICAL_VEVENT_COMPONENT);
    icalcomponent_add_property(event, icalproperty_new_uid(uid.constData()));
    icalcomponent_add_property(event, icalproperty_new_dtstamp(midnight(stamp)));
    icalcomponent_add_property(event, icalproperty_new_dtstart(allDay(e.first)));
    icalcomponent_add_property(event, icalproperty_new_dtend(allDay(e.last + 1)));
    icalcomponent_add_property(event, icalproperty_new_summary(summary.constData()));
    if (!words.isEmpty())
        icalcomponent_add_property(event, icalproperty_new_description(words.constData()));
    icalcomponent_add_property(event, icalproperty_new_categories(e.category));
    icalcomponent_add_property(event, icalproperty_new_transp(ICAL_TRANSP_TRANSPARENT));
    return event;
}

QByteArray written(const QString& of, const std::vector<Event>& events, Date stamp) {
    icalcomponent* calendar = icalcomponent_new(ICAL_VCALENDAR_COMPONENT);
    icalcomponent_add_property(calendar, icalproperty_new_version("2.0"));
    icalcomponent_add_property(calendar, icalproperty_new_prodid("-//Marram//Season//EN"));
    icalcomponent_add_property(calendar, icalproperty_new_calscale("GREGORIAN"));
    icalproperty* name = icalproperty_new_x(clean(of).constData());
    icalproperty_set_x_name(name, "X-WR-CALNAME");
    icalcomponent_add_property(calendar, name);
    for (const Event& event : events)
        icalcomponent_add_component(calendar, made(event, stamp));
    char* text = icalcomponent_as_ical_string_r(calendar);
    QByteArray bytes(text);
    icalmemory_free_buffer(text);
    icalcomponent_free(calendar);
    // libical 3.0.16 ends a line that fills its fold exactly with CR CR LF.
    while (bytes.contains("\r\r\n"))
        bytes.replace("\r\r\n", "\r\n");
    return bytes;
}

QString number(double v, int decimals) {
    QString text = QString::number(v, 'f', decimals);
    if (text.contains('.'))
        while (text.endsWith('0') || text.endsWith('.')) {
            const bool point = text.endsWith('.');
            text.chop(1);
            if (point)
                break;
        }
    return text;
}

QString isoOf(Date d) {
    return QString::fromStdString(isoText(d));
}

} // namespace

QString dayInWords(const PlannedDay& day) {
    if (day.stress <= 0 && day.role != Role::Gym)
        return {};
    QString role = nameOf(day.role);
    role[0] = role[0].toUpper();
    if (day.hours <= 0)
        return role;
    return wording("%1, %2 h, %3 points").arg(role, number(day.hours, 2), number(day.stress, 0));
}

static QString raceWords(const Race& race, const Plan& plan) {
    QString words =
        (wording("%1 race, about %2 points.")).arg(nameOf(race.priority), number(raceStress(race), 0));
    for (const PlannedRace& p : plan.races)
        if (p.name == race.name && p.date == race.date)
            words += (wording("\nExpected: form %1, fitness %2."))
                         .arg(QString::fromStdString(signedText(p.form, 0)), number(p.fitness, 0));
    if (!race.result.empty())
        words += "\n" + QString::fromStdString(race.result);
    if (!race.note.empty())
        words += "\n" + QString::fromStdString(race.note);
    return words;
}

QByteArray writeCalendar(const QString& rider, const QString& key, const Season& season, const Plan& plan,
                         Date from, Date stamp, const CalendarParts& parts) {
    std::vector<Event> events;
    for (size_t r = 0; parts.races && r < season.races.size(); ++r) {
        const Race& race = season.races[r];
        events.push_back({QString("race-%1-%2-%3@marram").arg(key, isoOf(season.start)).arg(r), race.date,
                          race.date + (race.days - 1), QString::fromStdString(race.name),
                          raceWords(race, plan), "race"});
    }
    for (const PlannedDay& day : plan.days) {
        const QString words = dayInWords(day);
        if (!parts.days || day.date < from || day.role == Role::Race || words.isEmpty())
            continue;
        QString what = (wording("Form on waking %1.")).arg(QString::fromStdString(signedText(day.form, 0)));
        if (const auto session = parts.sessions.find(day.date); session != parts.sessions.end())
            what.prepend(session->second + "\n");
        events.push_back({QString("day-%1-%2@marram").arg(key, isoOf(day.date)), day.date, day.date, words,
                          what, "training"});
    }
    for (const PlannedWeek& week : plan.weeks) {
        if (!parts.weeks || week.start + 6 < from)
            continue;
        events.push_back(
            {QString("week-%1-%2@marram").arg(key, isoOf(monday(week.start))), week.start,
             monday(week.start) + 6,
             (wording("Week: %1, %2, %3 h, %4 points"))
                 .arg(nameOf(week.kind), nameOf(week.phase), number(week.hours, 1), number(week.stress, 0)),
             QString::fromStdString(week.why), "week"});
    }
    return written(rider, events, stamp);
}

QString sessionInWords(const BlockSession& s) {
    QString words = QString::fromStdString(translated(s.family.empty() ? "session" : s.family));
    words[0] = words[0].toUpper();
    if (s.ridden())
        words += ": " + QString::fromStdString(spokenShorthand(writeShorthand(s.session)));
    return s.note.empty() ? words : words + "\n" + QString::fromStdString(s.note);
}

QByteArray writeCalendar(const SessionBlock& block, Date stamp, const QString& rider, const QString& key) {
    std::vector<Event> events;
    for (const BlockWeek& week : block.weeks)
        for (const BlockSession& s : week.sessions) {
            QString words = s.ridden() ? QString::fromStdString(spokenShorthand(writeShorthand(s.session))) +
                                             (wording("\n%1 points.")).arg(number(s.figures.stress, 0))
                                       : QString();
            for (const std::string* more : {&s.why, &s.note})
                if (!more->empty())
                    words += (words.isEmpty() ? "" : "\n") + QString::fromStdString(*more);
            events.push_back({QString("session-%1%2-%3@marram")
                                  .arg(key.isEmpty() ? QString() : key + "-", isoOf(s.date),
                                       QString::fromStdString(s.family).replace(' ', '-')),
                              s.date, s.date, QString::fromStdString(spokenShorthand(s.title)), words,
                              "training"});
        }
    return written(rider, events, stamp);
}

} // namespace marram
