// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/csv/lines.h"
#include "formats/csv/plan_csv.h"
#include "formats/ical/calendar.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <libical/ical.h>

using namespace marram;
using namespace marram::test;

namespace {

struct Read {
    QString uid, first, after, summary, description;
};

Season awkward() {
    Season s = ordinary();
    s.races[0].name = "Marrow; Point, \"the long one\" \\ höher";
    s.races[0].days = 3;
    s.races[0].note = "line one\nline two";
    s.races.push_back(race("Twins", "2027-05-01", Priority::C, 80));
    s.races.push_back(race("Twins", "2027-05-02", Priority::C, 80));
    return s;
}

/// By libical, which Debian has: every event of a calendar.
std::map<QString, Read> byLibical(const QByteArray& bytes) {
    std::map<QString, Read> all;
    icalcomponent* calendar = icalparser_parse_string(bytes.constData());
    if (!calendar)
        return all;
    for (icalcomponent* e = icalcomponent_get_first_component(calendar, ICAL_VEVENT_COMPONENT); e;
         e = icalcomponent_get_next_component(calendar, ICAL_VEVENT_COMPONENT)) {
        const auto day = [](icaltimetype t) {
            return QString::asprintf("%04d-%02d-%02d", t.year, t.month, t.day);
        };
        const char* words = icalcomponent_get_description(e);
        Read r{icalcomponent_get_uid(e), day(icalcomponent_get_dtstart(e)), day(icalcomponent_get_dtend(e)),
               QString::fromUtf8(icalcomponent_get_summary(e)), QString::fromUtf8(words ? words : "")};
        all[r.uid] = r;
    }
    icalcomponent_free(calendar);
    return all;
}

} // namespace

/// Calendars and the plan as CSV, read back by programmes of others.
class CalendarsTest : public QObject {
    Q_OBJECT

    void check(const std::map<QString, Read>& events, const Season& s, const Plan& plan) {
        size_t races = 0, days = 0, weeks = 0;
        for (const auto& [uid, e] : events) {
            races += uid.startsWith("race-") ? 1 : 0;
            days += uid.startsWith("day-") ? 1 : 0;
            weeks += uid.startsWith("week-") ? 1 : 0;
        }
        QCOMPARE(races, s.races.size());
        QCOMPARE(weeks, plan.weeks.size());
        const Read& first = events.at("race-nell-1-2027-01-04-0@marram");
        QCOMPARE(first.summary, QString::fromStdString(s.races[0].name));
        QCOMPARE(first.first, QString("2027-09-19"));
        QCOMPARE(first.after, QString("2027-09-22")); // the day after the last
        QVERIFY(first.description.contains("line one\nline two"));
        size_t wanted = 0;
        for (const PlannedDay& d : plan.days) {
            if (d.role == Role::Race || dayInWords(d).isEmpty())
                continue;
            ++wanted;
            const Read& e = events.at("day-nell-1-" + QString::fromStdString(isoText(d.date)) + "@marram");
            QCOMPARE(e.summary, dayInWords(d));
            QCOMPARE(e.first, QString::fromStdString(isoText(d.date)));
        }
        QCOMPARE(days, wanted);
    }

private slots:
    void libicalReadsWhatWasWritten() {
        const Season s = awkward();
        const Plan plan = solveSeason(s).plan;
        const QByteArray bytes = writeCalendar("Nell", "nell-1", s, plan, s.start, s.start);
        check(byLibical(bytes), s, plan);
    }
    // Independent parser: npm ical.js
    void soDoesAParserFromNpm() {
        if (QStandardPaths::findExecutable("node").isEmpty() ||
            !QDir(NPM_DIR "/node_modules/ical.js").exists())
            QSKIP("needs node and the npm packages that ./dev test installs");
        const Season s = awkward();
        const Plan plan = solveSeason(s).plan;
        QTemporaryDir folder;
        QFile file(folder.filePath("c.ics"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(writeCalendar("Nell", "nell-1", s, plan, s.start, s.start));
        file.close();
        QProcess p;
        p.start("node", {QString(INDEPENDENT) + "/calendar.mjs", file.fileName(), NPM_DIR});
        QVERIFY(p.waitForFinished(60000));
        QCOMPARE(p.exitCode(), 0);
        std::map<QString, Read> events;
        for (const auto& each : QJsonDocument::fromJson(p.readAllStandardOutput()).array()) {
            const QJsonArray a = each.toArray();
            QVERIFY(a[5].toBool()); // whole days
            events[a[0].toString()] = {a[0].toString(), a[1].toString(), a[2].toString(), a[3].toString(),
                                       a[4].toString()};
        }
        check(events, s, plan);
    }
    void linesKeepToRfc5545() {
        const Season s = awkward();
        // RFC 5545 §3.1: lines of at most 75 octets, ended by CR LF
        for (const QByteArray& line :
             writeCalendar("Nell", "nell-1", s, solveSeason(s).plan, s.start, s.start).split('\n')) {
            QVERIFY2(line.isEmpty() || line.endsWith('\r'), line.constData());
            QVERIFY2(line.size() <= 76, line.constData());
        }
    }
    void onlyWhatIsAskedForAndToCome() {
        const Season s = ordinary();
        const Plan plan = solveSeason(s).plan;
        const auto races =
            byLibical(writeCalendar("Nell", "n", s, plan, s.start, s.start, {true, false, false}));
        QCOMPARE(races.size(), 1U);
        for (const auto& [uid, e] : byLibical(writeCalendar("Nell", "n", s, plan, s.start + 100, s.start)))
            if (uid.startsWith("day-"))
                QVERIFY(e.first >= QString::fromStdString(isoText(s.start + 100)));
    }
    void namesWithControlCharactersDoNotBreakIt() {
        Season s = ordinary();
        const auto events =
            byLibical(writeCalendar("Nell\r\nEND:VCALENDAR", "n", s, solveSeason(s).plan, s.start, s.start));
        QVERIFY(events.size() > 100);
    }
    void thePlanAsCsvHasEveryDayAsItIs() {
        Season s = ordinary();
        s.races[0].name = "=HARBOUR, \"night\"";
        const Plan plan = solveSeason(s).plan;
        const QList<QByteArray> lines = writePlanCsv(s, plan).trimmed().split('\n');
        QCOMPARE(static_cast<size_t>(lines.size()), plan.days.size() + 1);
        size_t i = 0;
        for (const QByteArray& line : lines.mid(1)) {
            const PlannedDay& d = plan.days[i++];
            const auto cells = line.split(',');
            QCOMPARE(cells[0], QByteArray::fromStdString(isoText(d.date)));
            QCOMPARE(cells[4], QByteArray(nameOf(d.role)));
            QCOMPARE(cells[6].toDouble(), d.stress); // full precision
            QCOMPARE(cells[9].toDouble(), d.form);
            if (d.role == Role::Race)
                QVERIFY2(line.contains("\"'=HARBOUR"), line.constData());
        }
    }
};

MARRAM_SUITE(CalendarsTest)
#include "tst_calendars.moc"
