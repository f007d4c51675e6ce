// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/calendar/date.h"
#include "support/suite.h"

#include <QDate>
#include <QTest>

using namespace marram;

class CalendarTest : public QObject {
    Q_OBJECT
private slots:
    void everyDayOfTwoCenturiesAgreesWithQt() {
        QDate reference(1970, 1, 1);
        for (Date d{0}; d.days < 200 * 366; d = d + 1) {
            const CivilDate c = toCivil(d);
            QCOMPARE(QDate(c.year, c.month, c.day), reference);
            QCOMPARE(fromCivil(c.year, c.month, c.day), d);
            QCOMPARE(weekday(d) + 1, reference.dayOfWeek());
            reference = reference.addDays(1);
        }
    }
    void onlyRealDaysAreRead_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("real");
        for (const char* text : {"2027-01-04", "2028-02-29", "2000-02-29", "1969-12-31"})
            QTest::newRow(text) << text << true;
        for (const char* text :
             {"2027-02-29", "2100-02-29", "2027-13-01", "2027-00-10", "2027-04-31", "2027-1-04",
              "2027-01-04 ", "27-01-0004", "2027/01/04", "", "2027-01-0a", "9999-01-01"})
            QTest::newRow(*text ? text : "empty") << text << false;
    }
    void onlyRealDaysAreRead() {
        QFETCH(QString, text);
        QFETCH(bool, real);
        const auto date = parseDate(text.toStdString());
        QCOMPARE(date.has_value(), real);
        if (real)
            QCOMPARE(QString::fromStdString(isoText(*date)), text);
    }
    void weeksRunMondayToSundayAcrossNewYear() {
        const Date friday = parseDate("2027-01-01").value();
        QCOMPARE(weekdayText(friday), std::string("Friday"));
        QCOMPARE(isoText(monday(friday)), std::string("2026-12-28"));
        QCOMPARE(monday(monday(friday)), monday(friday));
        QCOMPARE(dayText(friday), std::string("1 January"));
    }
    void daysAreWrittenAndReadAsPeopleDo() {
        const Date now = parseDate("2027-03-01").value();
        const Date march = parseDate("2027-03-22").value(), later = parseDate("2028-03-22").value();
        QCOMPARE(dayText(march, now), std::string("22 March"));
        QCOMPARE(dayText(later, now), std::string("22 March 2028"));
        QCOMPARE(shortDayText(march, now), std::string("Mon 22 Mar"));
        QCOMPARE(shortDayText(later, now), std::string("Wed 22 Mar 2028"));
        for (const char* text : {"22 March", "22 mar", "Mon 22 Mar", "22.3.", "22.3.2027", "22/3/27",
                                 "2027-03-22", " 22 March 2027 "})
            QVERIFY2(parseDayText(text, now) == march, text);
        QCOMPARE(parseDayText("22 Mar 2028", now).value(), later);
        // Without a year the nearest: in January, December is the last one.
        QCOMPARE(parseDayText("30 December", parseDate("2027-01-05").value()).value(),
                 parseDate("2026-12-30").value());
        QCOMPARE(parseDayText("29 Feb", now).value(), parseDate("2028-02-29").value());
        for (const char* text :
             {"", "March", "32 March", "31 June 2027", "22 Ma", "22", "1 2 3 4", "22.13.", "yesterday"})
            QVERIFY2(!parseDayText(text, now), text);
        // Every day reads back from how a list writes it.
        for (int d = -180; d < 180; d += 7)
            QCOMPARE(parseDayText(shortDayText(now + d, now), now).value().days, (now + d).days);
    }
};

MARRAM_SUITE(CalendarTest)
#include "tst_calendar.moc"
