// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/change.h"
#include "core/learn/gate.h"
#include "core/learn/habits.h"
#include "core/learn/trend.h"
#include "support/learner.h"
#include "support/ridden_record.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;
using namespace marram::test;

namespace {

/// `planned` Mondays of which the first `missed` were.
std::vector<HabitDay> mondays(int planned, int missed) {
    std::vector<HabitDay> days;
    const Date first = *parseDate("2026-01-05");
    for (int i = 0; i < planned; ++i)
        days.push_back({first + 7 * i, 60, i < missed ? 0.0 : 60.0, "threshold"});
    return days;
}

} // namespace

/// What a record can say, on records whose truth is known.
class LearnTest : public QObject {
    Q_OBJECT
private slots:
    void aRateOfMissesIsTheMeanOfItsBeta() {
        // Beta(2, 23) with what was seen; quantiles of the beta distribution to three places (computed
        // apart).
        struct Case {
            int planned, missed;
            double mean, low, high;
        };
        for (const Case& c : {Case{12, 3, 0.135, 0.069, 0.210},
                              {12, 1, 0.081, 0.031, 0.141},
                              {50, 10, 0.160, 0.108, 0.216}}) {
            const Habits h = learnHabits(mondays(c.planned, c.missed));
            QCOMPARE(h.weekdays.size(), size_t(1));
            const MissedRate& r = h.weekdays[0];
            QVERIFY(r.planned == c.planned && r.missed == c.missed);
            QVERIFY(std::abs(r.rate.value - c.mean) < 5e-4 && std::abs(r.rate.low - c.low) < 1e-3 &&
                    std::abs(r.rate.high - c.high) < 1e-3);
            QVERIFY(h.differences.empty()); // one weekday differs from nothing
        }
    }
    void moreEffortsAreNoProgress() {
        // The same rider on both sides, four times as many efforts after: their best is higher by number
        // alone.
        std::mt19937 random(7);
        std::normal_distribution<double> of(300, 9);
        const Date split = *parseDate("2026-06-01");
        double sum = 0;
        int outside = 0;
        constexpr int riders = 40;
        for (int rider = 0; rider < riders; ++rider) {
            std::vector<DatedEffort> efforts;
            for (int i = 0; i < 10; ++i)
                efforts.push_back({split - 5 * (i + 1), 300, of(random)});
            for (int i = 0; i < 40; ++i)
                efforts.push_back({split + 2 * i, 300, of(random)});
            const auto changes = learnChange(efforts, split, static_cast<std::uint64_t>(rider + 1));
            QCOMPARE(changes.size(), size_t(1));
            QVERIFY(changes[0].beforeCount == 10 && changes[0].afterCount == 40);
            sum += changes[0].percent;
            outside += changes[0].low > 0 || changes[0].high < 0 ? 1 : 0;
        }
        QVERIFY2(std::abs(sum / riders) < 0.8, qPrintable(QString::number(sum / riders)));
        QVERIFY2(outside <= 16, qPrintable(QString::number(outside))); // 80 % bands: 8 expected
    }
    void aGateIsOnlyTheRidersOwnWhereMorningsTell() {
        QVERIFY(!learnGate({}));
        // Four results on equal mornings say nothing of where the best lies.
        const auto same = learnGate({{10, 100, {}}, {10, 101, {}}, {10, 99, {}}, {10, 100, {}}});
        QVERIFY(same && !same->yours && same->widthRatio > 0.6);
        std::mt19937 random(3);
        std::normal_distribution<double> noise(0, 1.5), form(10, 9);
        std::vector<FormResult> results;
        for (int i = 0; i < 60; ++i) {
            const double f = form(random);
            results.push_back({f, 100 - 0.02 * (f - 20) * (f - 20) + noise(random), {}});
        }
        const auto learnt = learnGate(results);
        QVERIFY(learnt && learnt->yours);
        QVERIFY2(std::abs(learnt->optimum.value - 20) < 5,
                 qPrintable(QString::number(learnt->optimum.value)));
    }
    void aTrendIsAsSureAsItsResultsLetItBe_data() {
        QTest::addColumn<int>("results");
        QTest::addColumn<int>("apart");
        QTest::addColumn<double>("half");
        // Half the 80 % band over the span, for results of 2 % (computed apart).
        QTest::newRow("nine weekly ones") << 9 << 7 << 2.6;
        QTest::newRow("six, every four weeks") << 6 << 28 << 3.1;
    }
    void aTrendIsAsSureAsItsResultsLetItBe() {
        QFETCH(int, results);
        QFETCH(int, apart);
        QFETCH(double, half);
        const Date first = *parseDate("2026-01-05"), last = first + apart * (results - 1);
        std::vector<TestPoint> points;
        for (int i = 0; i < results; ++i)
            points.push_back({first + apart * i, 300 * std::exp(0.0004 * apart * i)});
        const auto t = trendOf(points, first, last, {2, true});
        QVERIFY(t && t->count == results);
        QVERIFY(std::abs((t->change.high - t->change.low) / 2 - half) < 0.1);
        QVERIFY(std::abs(t->change.value - 0.04 * (last - first)) < 1e-6);
        QVERIFY(std::abs(t->first - 300) < 1e-6 && std::abs(t->last - points.back().value) < 1e-6);
        QVERIFY(!trendOf(std::vector<TestPoint>(points.begin(), points.begin() + 2), first, last, {2, true}));
        QVERIFY(!trendOf(std::vector<TestPoint>(4, points[0]), first, last, {2, true}));
    }
    void whereNothingChangedNothingIsToldButForOneInTwenty() {
        std::mt19937 random(11);
        std::normal_distribution<double> of(300, 6), rising(0, 6);
        const Date first = *parseDate("2026-01-05");
        int told = 0, seen = 0, plateaus = 0, held = 0;
        constexpr int riders = 400;
        for (int rider = 0; rider < riders; ++rider) {
            std::vector<TestPoint> flat, up;
            for (int i = 0; i < 9; ++i) {
                flat.push_back({first + 7 * i, of(random)});
                up.push_back({first + 7 * i, 300 * (1 + 0.01 * i) + rising(random)});
            }
            const auto none = trendOf(flat, first, first + 56, {2, true}),
                       some = trendOf(up, first, first + 56, {2, true});
            told += none->told ? 1 : 0;
            plateaus += none->plateau ? 1 : 0;
            held += none->change.low <= 0 && none->change.high >= 0 ? 1 : 0;
            seen += some->told && some->change.value > 0 ? 1 : 0;
        }
        QVERIFY2(told <= riders / 20 + 8, qPrintable(QString::number(told)));
        QVERIFY2(held >= 0.77 * riders, qPrintable(QString::number(held)));
        QVERIFY2(seen >= 0.8 * riders, qPrintable(QString::number(seen)));
        // Two per cent of noise can't show that nothing moved by one: a tenth by luck at most.
        QVERIFY2(plateaus <= riders / 10, qPrintable(QString::number(plateaus)));
    }
    void whatStandsStillWithLittleScatterIsAPlateau() {
        const Date first = *parseDate("2026-01-05");
        std::vector<TestPoint> points;
        const std::array wobble{0.1, -0.15, 0.05, 0.12, -0.1, 0.0};
        for (size_t i = 0; i < wobble.size(); ++i)
            points.push_back({first + 14 * static_cast<int>(i), 1.2 * (1 + wobble[i] / 100)});
        const auto t = trendOf(points, first, first + 70, {2, true});
        QVERIFY(t && t->plateau && !t->told);
        QVERIFY(t->own.high - t->own.low < 1 && t->change.high - t->change.low > 4);
        points.resize(4); // four results are none
        QVERIFY(!trendOf(points, first, first + 70, {2, true})->plateau);
    }
    void whatLoadHasBeenWorthIsToldOnlyOfRidersWhoDiffer() {
        // Riders with the usual gains are rarely told apart from them, riders with gains of their own mostly;
        // forecasts hold what came. ./dev bench lived learn counts hundreds.
        constexpr unsigned riders = 16;
        int usual = 0, own = 0, inside = 0, forecast = 0, held = 0;
        for (unsigned rider = 0; rider < 2 * riders; ++rider) {
            const bool differs = rider >= riders;
            const Learner of(500 + rider, differs ? Learner::Kind::Own : Learner::Kind::Usual);
            const auto r = learnResponse(of.daily, of.results, {of.ahead});
            QVERIFY(r);
            (differs ? own : usual) += r->enough ? 1 : 0;
            for (const Response::Past& p : r->past)
                inside += p.inside() ? 1 : 0;
            forecast += static_cast<int>(r->past.size());
            held += r->forecasts[0].able.low <= of.able && of.able <= r->forecasts[0].able.high ? 1 : 0;
        }
        QVERIFY2(usual <= 3, qPrintable(QString::number(usual)));
        QVERIFY2(own >= 7, qPrintable(QString::number(own)));
        const double share = static_cast<double>(inside) / forecast;
        QVERIFY2(share > 0.75 && share < 0.86, qPrintable(QString::number(share)));
        QVERIFY2(held >= 20, qPrintable(QString::number(held))); // 80 % of 32: 26
    }
    void aGateNarrowsAsResultsCome_data() {
        QTest::addColumn<int>("results");
        QTest::addColumn<double>("width");
        // Of the prior's width, over hundreds of riders (computed apart).
        QTest::newRow("four races") << 4 << 0.81;
        QTest::newRow("twelve") << 12 << 0.62;
        QTest::newRow("forty-eight") << 48 << 0.43;
    }
    void aGateNarrowsAsResultsCome() {
        QFETCH(int, results);
        QFETCH(double, width);
        constexpr unsigned riders = 80;
        double sum = 0;
        for (unsigned rider = 0; rider < riders; ++rider)
            sum += learnGate(formResults(900 + rider, results))->widthRatio / riders;
        QVERIFY2(std::abs(sum - width) < 0.05, qPrintable(QString::number(sum)));
    }
    void valuesComeOutOfARecord() {
        // Every four weeks a test, two efforts or a race; without a strap, with a dead one, spikes, a meter
        // that steps, only races. ./dev bench lived record counts hundreds.
        constexpr unsigned each = 6;
        unsigned close = 0, held = 0, all = 0;
        for (int odd = 0; odd <= static_cast<int>(Oddity::OnlyRaces); ++odd)
            for (unsigned i = 0; i < each; ++i) {
                const RiddenRecord record(1000 + 100 * static_cast<unsigned>(odd) + i,
                                          static_cast<Oddity>(odd));
                const LearntValues v = learnValues(record.rides);
                QVERIFY(!v.thresholdPower.empty());
                const LearntValue& last = v.thresholdPower.back();
                QVERIFY(!last.atLeast && last.high && !last.rides.empty());
                const double truth = record.shownThreshold();
                close += std::abs(last.value / truth - 1) <= 0.05 ? 1 : 0;
                held += last.low <= truth && truth <= *last.high ? 1 : 0;
                ++all;
                if (odd == static_cast<int>(Oddity::NoStrap))
                    QVERIFY(!v.maxHeartRate && v.thresholdHeartRate.empty());
                else
                    QVERIFY(v.maxHeartRate && std::abs(v.maxHeartRate->value - record.maxBeats) <= 4);
                // What comes early is no riding between repetitions taken for a maximum.
                const LearntValue& first = v.thresholdPower.front();
                QVERIFY2(std::abs(first.value / record.truthOn(first.from - record.firstDay) - 1) < 0.12,
                         first.why.c_str());
            }
        QVERIFY2(close >= 0.85 * all && held >= 2 * all / 3,
                 qPrintable(QString("%1 close and %2 held of %3").arg(close).arg(held).arg(all)));
    }
    void easyRidesAreALowerBound_data() {
        QTest::addColumn<int>("odd");
        QTest::addColumn<bool>("easy");
        QTest::addRow("easy rides") << 0 << true;
        QTest::addRow("commutes") << static_cast<int>(Oddity::OnlyCommutes) << true;
        QTest::addRow("the same climb every day") << static_cast<int>(Oddity::OnlyHills) << true;
    }
    void easyRidesAreALowerBound() {
        QFETCH(int, odd);
        QFETCH(bool, easy);
        for (unsigned i = 0; i < 3; ++i) {
            const RiddenRecord record(2000 + i, static_cast<Oddity>(odd), easy);
            const LearntValues v = learnValues(record.rides);
            QVERIFY(!v.thresholdPower.empty());
            for (const LearntValue& t : v.thresholdPower)
                QVERIFY2(t.atLeast && !t.high && t.value == t.low && t.value < record.threshold,
                         t.why.c_str());
            QVERIFY(!v.maxHeartRate && v.thresholdHeartRate.empty());
        }
    }
    void weeksAndGapsComeOutOfARecord() {
        std::vector<RideFacts> rides;
        const Date first = *parseDate("2026-01-05");
        for (int week = 0; week < 30; ++week)
            for (const auto& [day, hours] : {std::pair{1, 1.5}, {3, 1.0}, {6, 3.0}})
                if (week < 10 || week > 14) {
                    RideFacts f;
                    f.day = first + 7 * week + day;
                    f.hours = hours;
                    rides.push_back(f);
                }
        const LearntValues v = learnValues(rides);
        QCOMPARE(v.rides, 75);
        QCOMPARE(v.usualWeek, 5.5);
        QCOMPARE(v.longestRide, 3.0);
        QVERIFY((v.hours == std::array<double, 7>{0, 1.5, 0, 1, 0, 0, 3}));
        QCOMPARE(v.gaps.size(), size_t(1));
        QVERIFY(v.gaps[0].from == first + 7 * 10 && v.gaps[0].to == first + 7 * 15);
        QVERIFY(v.thresholdPower.empty() && !v.maxHeartRate && v.meterChanges.empty());
        QCOMPARE(learnValues({}).rides, 0);
    }
    void aMeterThatStepsIsAskedAbout() {
        int found = 0, invented = 0;
        for (unsigned i = 0; i < 6; ++i) {
            const RiddenRecord record(3000 + i, Oddity::MeterStep);
            for (const auto& change : learnValues(record.rides).meterChanges)
                found += std::abs(change.day - record.firstDay - 84) <= 7 && change.stepPercent > 3 &&
                                 change.stepPercent < 9
                             ? 1
                             : 0;
            invented +=
                static_cast<int>(learnValues(RiddenRecord(3000 + i, Oddity::None).rides).meterChanges.size());
        }
        QVERIFY2(found >= 3 && invented == 0,
                 qPrintable(QString("%1 found, %2 invented").arg(found).arg(invented)));
    }
};

MARRAM_SUITE(LearnTest)
#include "tst_learn.moc"
