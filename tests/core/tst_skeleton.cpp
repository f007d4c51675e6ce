// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/seasons.h"
#include "support/suite.h"

#include <QTest>

using namespace marram;
using namespace marram::test;

namespace {

std::string skeleton(const Season& s) {
    return kinds(solveSeason(s).plan);
}

} // namespace

class SkeletonTest : public QObject {
    Q_OBJECT
private slots:
    void theNumberOfWeeksIsCutAsTheTradeWould_data() {
        QTest::addColumn<int>("weeks");
        QTest::addColumn<QString>("expected");
        // Common practice: fourteen are 4 + 4 + four building weeks straight into a two-week taper
        QTest::newRow("fourteen") << 14 << "BBBDBBBDBBBBTR";
        // Common practice: thirteen are three fours and one over
        QTest::newRow("thirteen") << 13 << "BBBDBBBDBBBTR";
        QTest::newRow("ten") << 10 << "BBBDBBBBTR";
        QTest::newRow("five") << 5 << "BBBTR";
    }
    void theNumberOfWeeksIsCutAsTheTradeWould() {
        QFETCH(int, weeks);
        QFETCH(QString, expected);
        QCOMPARE(QString::fromStdString(skeleton(weeksToRace(weeks))), expected);
    }
    void nobodyIsUnloadedThreeWeeksInFour() {
        for (int rhythm = 2; rhythm <= 4; ++rhythm)
            for (int weeks = 6; weeks <= 52; ++weeks) {
                Season s = weeksToRace(weeks);
                s.rules.buildWeeks = rhythm;
                const std::string k = skeleton(s);
                for (size_t i = 3; i < k.size(); ++i) {
                    const int builds = static_cast<int>(std::count(
                        k.begin() + static_cast<long>(i) - 3, k.begin() + static_cast<long>(i) + 1, 'B'));
                    QVERIFY2(builds >= 2, qPrintable(QString("%1 weeks, %2:1, %3")
                                                         .arg(weeks)
                                                         .arg(rhythm)
                                                         .arg(QString::fromStdString(k))));
                }
                QVERIFY(k.find("DT") == std::string::npos);
                QVERIFY2(k.find(std::string(static_cast<size_t>(rhythm) + 2, 'B')) == std::string::npos,
                         qPrintable(QString("%1:1, %2").arg(rhythm).arg(QString::fromStdString(k))));
            }
    }
    void recoveryFollowsAnARaceAndACamp() {
        Season s = ordinary();
        s.away = {{on("2027-05-10"), on("2027-05-16"), AwayWhy::Camp, 900.0}};
        const Plan plan = solveSeason(s).plan;
        const std::string k = kinds(plan);
        QCOMPARE(k.back(), 'r');
        QVERIFY(k.find("Cr") != std::string::npos);
    }
    void aHolidayIsABreakAndNoDeloadTouchesIt() {
        Season s = ordinary();
        s.away = {{on("2027-05-10"), on("2027-05-16"), AwayWhy::Holiday, std::nullopt}};
        const std::string k = skeleton(s);
        QVERIFY(k.find('-') != std::string::npos);
        QVERIFY(k.find("D-") == std::string::npos && k.find("-D") == std::string::npos);
    }
    void aPinAlwaysWins() {
        Season s = ordinary();
        for (int week = 0; week < 35; ++week) {
            s.weeks = {WeekPin{s.start + 7 * week, std::nullopt, WeekKind::Deload}};
            const Plan plan = solveSeason(s).plan;
            QCOMPARE(plan.weeks[static_cast<size_t>(week)].kind, WeekKind::Deload);
            QVERIFY(plan.weeks[static_cast<size_t>(week)].pinned);
        }
    }
    void aPinThatBreaksARuleIsRemarkedOn() {
        Season s = weeksToRace(14);
        s.weeks = {WeekPin{s.start + 7 * 11, std::nullopt, WeekKind::Deload},
                   WeekPin{s.start + 7 * 12, std::nullopt, WeekKind::Build}};
        const Plan plan = solveSeason(s).plan;
        QVERIFY(std::any_of(plan.warnings.begin(), plan.warnings.end(), [](const std::string& w) {
            return w.find("pinned as build") != std::string::npos;
        }));
    }
    void twoARacesAWeekApartAreWarnedOf() {
        Season s = ordinary();
        s.races.push_back(race("Second", "2027-09-12", Priority::A, 150));
        const Plan plan = solveSeason(s).plan;
        QVERIFY(std::any_of(plan.warnings.begin(), plan.warnings.end(),
                            [](const std::string& w) { return w.find("six weeks") != std::string::npos; }));
        QCOMPARE(plan.races.size(), 2U);
    }
    void baseComesFirstOrLastAsTheOrderSays() {
        Season s = ordinary();
        const auto firstPhase = [&] { return solveSeason(s).plan.weeks.front().phase; };
        QCOMPARE(firstPhase(), Phase::Base);
        s.rules.order = Order::IntensityFirst;
        QCOMPARE(firstPhase(), Phase::Build);
        const Plan plan = solveSeason(s).plan;
        QVERIFY(std::any_of(plan.weeks.begin() + 15, plan.weeks.end(),
                            [](const PlannedWeek& w) { return w.phase == Phase::Base; }));
    }
    void theLastBlockBeforeAnARaceSpecialises() {
        const Plan plan = solveSeason(ordinary()).plan;
        size_t taper = 0;
        while (plan.weeks[taper].kind != WeekKind::Taper)
            ++taper;
        QCOMPARE(plan.weeks[taper - 1].phase, Phase::Specialise);
    }
    void namedSchoolsStayWithinThreePointsOfTheirTarget_data() {
        QTest::addColumn<int>("school");
        QTest::addColumn<double>("low");
        QTest::addColumn<double>("high");
        // Trade figures: polarised 80/0–5/15–20, pyramidal about 78/19/3 to 80/15/5
        QTest::newRow("polarised") << static_cast<int>(School::Polarised) << 80.0 << 16.0;
        QTest::newRow("pyramidal") << static_cast<int>(School::Pyramidal) << 79.0 << 5.0;
    }
    void namedSchoolsStayWithinThreePointsOfTheirTarget() {
        QFETCH(int, school);
        QFETCH(double, low);
        QFETCH(double, high);
        Rules rules;
        rules.school = static_cast<School>(school);
        for (const Phase phase : {Phase::Build, Phase::Specialise})
            for (const Order order : {Order::BaseFirst, Order::IntensityFirst, Order::Mixed})
                for (const Demand demand :
                     {Demand::Unstated, Demand::Steady, Demand::Punchy, Demand::Long, Demand::Road}) {
                    rules.order = order;
                    const Bands b = phaseSplit(rules, phase, demand);
                    QVERIFY(std::abs(b.sum() - 1) < 1e-12);
                    QVERIFY(std::abs(100 * b.low - low) <= 3 && std::abs(100 * b.high - high) <= 3);
                }
    }
    void baseComesFromBelowMonthByMonth() {
        for (const School school :
             {School::Polarised, School::Pyramidal, School::ThresholdLed, School::Even}) {
            Rules rules;
            rules.school = school;
            Bands last{1, 0, 0};
            for (int week = 0; week < 16; ++week) {
                const Bands b = phaseSplit(rules, Phase::Base, Demand::Unstated, week);
                QVERIFY(std::abs(b.sum() - 1) < 1e-12 && b.middle >= 0);
                QVERIFY(b.low <= last.low + 1e-12 && b.high >= last.high - 1e-12);
                last = b;
            }
            const Bands build = phaseSplit(rules, Phase::Build, Demand::Unstated);
            QVERIFY(last.low > build.low && last.high < build.high);
        }
    }
    void hardDaysAreCountedAsTheYearHasThem() {
        // Trade table of the year: one in two weeks, one a week, two a week; then by the coach's number
        Rules rules;
        int first = 0, second = 0;
        for (int week = 0; week < 4; ++week) {
            first += phaseHardDays(rules, Phase::Base, week);
            second += phaseHardDays(rules, Phase::Base, week + 4);
        }
        QCOMPARE(first, 2);
        QCOMPARE(second, 4);
        QCOMPARE(phaseHardDays(rules, Phase::Base, 9), 2);
        QCOMPARE(phaseHardDays(rules, Phase::Build, 0), 2);
        rules.hardDays = 0;
        QCOMPARE(phaseHardDays(rules, Phase::Build, 0), 0);
    }
    void phasesHaveASensibleLength() {
        for (int weeks = 8; weeks <= 104; weeks += 3)
            for (const Order order : {Order::BaseFirst, Order::IntensityFirst, Order::Mixed}) {
                Season s = weeksToRace(weeks);
                s.rules.order = order;
                std::map<Phase, int> run;
                Phase last = Phase::Break;
                for (const PlannedWeek& w : solveSeason(s).plan.weeks) {
                    run[w.phase] = w.phase == last ? run[w.phase] + 1 : 1;
                    last = w.phase;
                    // Trade figures: base to 16 weeks, build to 12, specialise to 8
                    QVERIFY2(run[Phase::Base] <= 16 && run[Phase::Build] <= 12 && run[Phase::Specialise] <= 8,
                             qPrintable(QString("%1 weeks").arg(weeks)));
                }
            }
    }
    void aReturnIsCountedInDaysNotInCalendarWeeks() {
        Season s = ordinary();
        s.away = {
            {on("2027-05-05"), on("2027-05-12"), AwayWhy::Illness, std::nullopt}}; // Wednesday to Wednesday
        SeasonFrame frame = layOut(s);
        decideSkeleton(s, frame);
        const auto day = [&](const char* date) {
            return frame.days[static_cast<size_t>(on(date) - s.start)];
        };
        QCOMPARE(day("2027-05-13").weight, 0.5);
        QCOMPARE(day("2027-05-19").weight, 0.5);
        QCOMPARE(day("2027-05-20").weight, 0.7);
        QCOMPARE(day("2027-06-02").weight, 0.85);
        QCOMPARE(day("2027-06-03").weight, 1.0);
        // Nothing hard for a week, nothing measured until the three weeks are over.
        QVERIFY(day("2027-05-19").noHard && !day("2027-05-20").noHard);
        QVERIFY(day("2027-06-02").noTest && !day("2027-06-03").noTest);
        QVERIFY(day("2027-05-16").lowOnly && !day("2027-05-17").lowOnly); // eight days ill: four days
    }
    void twoARacesAtAnyDistanceHaveAPlanAndItsReason() {
        for (int gap = 0; gap <= 210; gap += 3) {
            Season s = ordinary();
            s.end = s.start + 7 * 52 - 1;
            s.races = {race("First", "2027-05-23", Priority::A, 180),
                       race("Second", isoText(on("2027-05-23") + gap).c_str(), Priority::A, 200)};
            const Plan plan = solveSeason(s).plan;
            const bool close =
                std::any_of(plan.warnings.begin(), plan.warnings.end(),
                            [](const std::string& w) { return w.find("six weeks") != std::string::npos; });
            QCOMPARE(close, gap < 42);
            const double first = plan.races[0].fitness, second = plan.races[1].fitness;
            QVERIFY2(first > 40 && second > 0.85 * first, qPrintable(QString::number(gap)));
        }
    }

    void polarisedSplitsArePolarised() {
        Rules rules;
        rules.school = School::Polarised;
        const Bands b = phaseSplit(rules, Phase::Build, Demand::Unstated);
        // Treff et al. 2019: polarised above 2.00
        QVERIFY(std::log10(b.low / b.middle * b.high * 100) > 2.0);
    }
};

MARRAM_SUITE(SkeletonTest)
#include "tst_skeleton.moc"
