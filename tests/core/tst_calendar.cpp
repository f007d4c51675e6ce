// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/calendar/date.h"

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
};

QTEST_APPLESS_MAIN(CalendarTest)
#include "tst_calendar.moc"
