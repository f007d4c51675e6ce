// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/generator.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>

using namespace marram;
using namespace marram::test;

/// Where hard days, tests and the long ride lie in weeks that hold little.
class SmallWeeksTest : public QObject {
    Q_OBJECT
private slots:
    void hardDaysTestsAndOpenersKeepTheirTimeInSmallWeeks() {
        // Common practice: a hard day is never under half an hour, a test wants about an hour, openers 45–60
        // min.
        int hard = 0, tests = 0, openers = 0;
        for (const School school : {School::Polarised, School::Pyramidal, School::ThresholdLed}) {
            Season s = ordinary();
            s.rules.school = school;
            s.before = {30, 30};
            for (const PlannedDay& d : solveSeason(s).plan.days) {
                const bool room = d.availableHours >= 1;
                if (d.role == Role::Hard && room)
                    QVERIFY2(d.hours >= 0.5, (isoText(d.date) + " " + fixedText(d.hours, 2)).c_str());
                if (d.role == Role::Test && room)
                    QVERIFY2(d.hours >= 0.9, (isoText(d.date) + " " + fixedText(d.hours, 2)).c_str());
                if (d.role == Role::Openers && room)
                    QVERIFY2(d.hours >= 0.5, (isoText(d.date) + " " + fixedText(d.hours, 2)).c_str());
                hard += d.role == Role::Hard ? 1 : 0;
                tests += d.role == Role::Test ? 1 : 0;
                openers += d.role == Role::Openers ? 1 : 0;
            }
        }
        QVERIFY(hard > 100 && tests > 15 && openers == 3);
    }

    void aTestWaitsForTheDeloadAndIsNotRiddenTwiceInTwoWeeks() {
        int tests = 0;
        for (unsigned seed = 300; seed < 400; ++seed) {
            const Plan plan = solveSeason(Generator(seed).season()).plan;
            Date last{-1000};
            for (const PlannedDay& d : plan.days) {
                if (d.role != Role::Test)
                    continue;
                QVERIFY2(d.date - last >= 14, (std::to_string(seed) + " " + isoText(d.date)).c_str());
                last = d.date;
                ++tests;
            }
        }
        QVERIFY(tests > 300);
    }

    void aQuarterOfAnHourIsNoRide() {
        // sessions.md: no ride under 20 min, it is rest; what a recovery leaves of half an hour is none
        // either
        Season s = ordinary();
        s.hours = {0, 0.25, 1.5, 0.5, 0.5, 3, 2.5};
        s.races.push_back(race("Small Cup", "2027-05-09", Priority::B, 280));
        const Plan plan = solveSeason(s).plan;
        int halves = 0;
        for (const PlannedDay& d : plan.days) {
            if (weekday(d.date) == 1)
                QCOMPARE(d.stress, 0.0);
            QVERIFY2(d.hours < 1e-9 || d.hours > 0.33 || d.role == Role::Race || d.role == Role::Openers,
                     qPrintable(QString("%1 %2").arg(isoText(d.date).c_str()).arg(d.hours)));
            halves += weekday(d.date) == 3 && d.hours > 0.33 ? 1 : 0;
        }
        QVERIFY(halves > 10); // half an hour is one
    }

    void theLongRideIsNotCutUnderAHardOne() {
        // Two days of four hours, and a start that lets the week use little of them.
        Season s = ordinary();
        s.hours = {0, 0, 0, 1, 0, 4.25, 4};
        s.before = {12, 12};
        s.rules.school = School::Even;
        const Plan plan = solveSeason(s).plan;
        int weeks = 0;
        for (const PlannedWeek& w : plan.weeks) {
            double longest = -1, hard = 0;
            for (const PlannedDay& d : plan.days)
                if (w.kind == WeekKind::Build && monday(d.date) == w.start) {
                    longest = d.role == Role::Long ? d.hours : longest;
                    hard = d.role == Role::Hard ? std::max(hard, d.hours) : hard;
                }
            // The hard day has a quarter of an hour more than the other.
            if (longest < 0 || hard <= 0)
                continue;
            ++weeks;
            QVERIFY2(
                longest > hard - 0.5,
                qPrintable(
                    QString("%1: long %2, hard %3").arg(isoText(w.start).c_str()).arg(longest).arg(hard)));
        }
        QVERIFY(weeks > 10);
    }

    void halfAnHourIsNoHardDayWhereAnotherHasMore() {
        Season s = ordinary();
        s.hours = {1, 0.5, 0.5, 0, 0.5, 1.25, 2.5};
        s.rules.school = School::ThresholdLed;
        int hard = 0;
        for (const PlannedDay& d : solveSeason(s).plan.days)
            if (d.role == Role::Hard) {
                ++hard;
                QVERIFY2(hoursOn(s, d.date) > 0.5 || d.date > on("2027-09-01"), isoText(d.date).c_str());
            }
        QVERIFY(hard > 15);
    }

    void noBuildWeekFallsForATest() {
        Season s = ordinary();
        s.rules.school = School::Polarised;
        for (double& h : s.hours)
            h *= 0.85; // what two hard days hold of this school
        s.races = {race("First", "2027-06-20", Priority::A, 200),
                   race("Small Cup", "2027-05-09", Priority::B, 160),
                   race("Second", "2027-09-12", Priority::A, 200)};
        s.races.front().demand = Demand::Road;
        s.races.back().demand = Demand::Long;
        const Solved solved = solveSeason(s);
        // Nor does one week with a test say that the hard days hold too little all season.
        for (const std::string& warning : solved.plan.warnings)
            QVERIFY2(warning.find("The split asks for") == std::string::npos, warning.c_str());
        for (size_t w = 1; w < solved.plan.weeks.size(); ++w)
            if (solved.plan.weeks[w].kind == WeekKind::Build &&
                solved.plan.weeks[w - 1].kind == WeekKind::Build)
                QVERIFY2(solved.plan.weeks[w].stress > 0.999 * solved.plan.weeks[w - 1].stress,
                         isoText(solved.plan.weeks[w].start).c_str());
    }

    void fewHoursAreRiddenOnSeveralDays() {
        // Common practice: nobody with time on four days rides once a week. Somebody new with one long day
        // did, for eight weeks.
        Season s = Generator(5529).season();
        int weeks = 0;
        const Plan plan = solveSeason(s).plan;
        for (const PlannedWeek& w : plan.weeks) {
            int rides = 0;
            double longest = 0;
            for (const PlannedDay& d : plan.days)
                if (monday(d.date) == monday(w.start) && d.hours > 0) {
                    ++rides;
                    longest = std::max(longest, d.hours);
                }
            if (w.kind != WeekKind::Build || w.hours < 2.5 || w.hours > 4)
                continue;
            ++weeks;
            QVERIFY2(rides >= 3 && longest < 0.7 * w.hours,
                     qPrintable(QString("%1: %2 rides").arg(isoText(w.start).c_str()).arg(rides)));
        }
        QVERIFY(weeks >= 4);
        // And anybody.
        int all = 0, single = 0;
        for (unsigned seed = 5000; seed < 5120; ++seed) {
            s = Generator(seed).season();
            const auto days =
                std::count_if(s.hours.begin(), s.hours.end(), [](double h) { return h >= 0.5; });
            if (days < 3 || !s.away.empty())
                continue;
            const Plan its = solveSeason(s).plan;
            for (const PlannedWeek& w : its.weeks) {
                int rides = 0;
                for (const PlannedDay& d : its.days)
                    rides +=
                        monday(d.date) == monday(w.start) && (d.hours > 0 || d.role == Role::Race) ? 1 : 0;
                all += w.hours > 1.6 ? 1 : 0;
                single += w.hours > 1.6 && rides == 1 ? 1 : 0;
            }
        }
        QVERIFY2(all > 400 && single * 500 <= all, qPrintable(QString("%1 of %2").arg(single).arg(all)));
    }
};

MARRAM_SUITE(SmallWeeksTest)
#include "tst_small_weeks.moc"
