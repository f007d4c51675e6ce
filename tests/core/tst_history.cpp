// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/history.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>

using namespace marram;

namespace {

const Date now{21000};

LoadRecord ridden(int days, double points) {
    LoadRecord r;
    for (int ago = days; ago >= 1; --ago)
        r.ridden[now - ago] = points;
    return r;
}

} // namespace

/// One history of load for everybody who asks.
class HistoryTest : public QObject {
    Q_OBJECT
private slots:
    void aLongRecordBeginsInWhatItsFirstSixWeeksCarried() {
        const LoadHistory h(ridden(60, 70), now);
        QVERIFY(h.known());
        QCOMPARE(h.recordDays(), 60);
        // Steady from its own mean, it stays there: an identity of the model.
        for (int ago = 0; ago <= 60; ago += 10) {
            QVERIFY(std::abs(h.before(now - ago).fitness - 70) < 1e-9);
            QVERIFY(std::abs(h.form(now - ago)) < 1e-9);
        }
    }
    void oneLongRideIsNoFitness() {
        LoadRecord r;
        r.ridden[now - 1] = 250;
        const LoadHistory h(r, now);
        QVERIFY(!h.known());
        // 250·(1 − e^(−1/42)), by hand.
        QVERIFY(std::abs(h.before(now).fitness - 5.882) < 0.001);
    }
    void theRidersWordStandsForWhatCameBefore() {
        LoadRecord r = ridden(10, 50);
        r.usualWeekHours = 7; // 7 h × 50 points an hour / 7 days
        const LoadHistory h(r, now);
        QVERIFY(h.known());
        QVERIFY(std::abs(h.before(now).fitness - 50) < 1e-9);
        QVERIFY(std::abs(h.before(now - 400).fatigue - 50) < 1e-9);
    }
    void theCoachsStateHoldsForAShortRecord() {
        LoadRecord r = ridden(5, 0);
        r.seasonStart = now - 42;
        r.atSeasonStart = {84, 84};
        const LoadHistory h(r, now);
        // Six weeks without riding leave 1/e of fitness.
        QVERIFY(h.known() && std::abs(h.before(now).fitness - 84 / std::exp(1.0)) < 1e-9);
        QCOMPARE(h.begin(), now - 42);
    }
    void whatWasRiddenTodayCountsFromTomorrow() {
        LoadRecord r = ridden(50, 40);
        r.ridden[now] = 200;
        r.ridden[now + 3] = 999; // a clock ahead of its time
        const LoadHistory h(r, now);
        QVERIFY(std::abs(h.before(now).fitness - 40) < 1e-9);
        const double a = std::exp(-1.0 / 42);
        QVERIFY(std::abs(h.before(now + 1).fitness - (a * 40 + (1 - a) * 200)) < 1e-9);
        QVERIFY(std::abs(h.before(now + 43).fitness - h.before(now + 1).fitness * std::exp(-1.0)) < 1e-9);
        QCOMPARE(h.ridden(now), 200.0);
        QCOMPARE(h.ridden(now + 3), 0.0);
    }
    void rampIsTheChangeOverSevenDays() {
        LoadRecord r = ridden(100, 60);
        for (int ago = 7; ago >= 1; --ago)
            r.ridden[now - ago] = 120;
        const LoadHistory h(r, now);
        QVERIFY(std::abs(h.ramp(now) - 60 * (1 - std::exp(-7.0 / 42))) < 1e-9);
    }
    void nothingIsKnownOfNobody() {
        const LoadHistory h({}, now);
        QVERIFY(!h.known() && h.recordDays() == 0);
        QCOMPARE(h.before(now + 10).fitness, 0.0);
    }
};

MARRAM_SUITE(HistoryTest)
#include "tst_history.moc"
