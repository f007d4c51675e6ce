// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/load.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>

using namespace marram;

class LoadTest : public QObject {
    Q_OBJECT
private slots:
    void steadyStressEndsAtItself() {
        const std::vector<double> year(1000, 80);
        const auto days = runModel(year, {0, 0});
        QVERIFY(std::abs(days.back().fitness - 80) < 1e-6);
        QVERIFY(std::abs(days.back().fatigue - 80) < 1e-6);
        QVERIFY(std::abs(days.back().form) < 1e-6);
    }
    void aSingleDayDecaysByItsTimeConstant() {
        std::vector<double> stress(60, 0);
        stress[0] = 100;
        const auto days = runModel(stress, {0, 0}, {42, 7});
        for (size_t n = 0; n < stress.size(); ++n) {
            const double t = static_cast<double>(n);
            QVERIFY(std::abs(days[n].fitness - 100 * (1 - std::exp(-1 / 42.0)) * std::exp(-t / 42)) < 1e-12);
            QVERIFY(std::abs(days[n].fatigue - 100 * (1 - std::exp(-1 / 7.0)) * std::exp(-t / 7)) < 1e-12);
        }
    }
    void formIsWhatTheRiderWakesUpWith() {
        const auto days = runModel(std::vector<double>{300, 0}, {50, 60});
        QCOMPARE(days[0].form, -10.0);
        QCOMPARE(days[1].form, days[0].fitness - days[0].fatigue);
    }
    void theModelIsLinear() {
        const std::vector<double> a{10, 0, 120, 40, 0, 200, 90}, b{0, 50, 0, 60, 70, 0, 10};
        std::vector<double> sum;
        for (size_t i = 0; i < a.size(); ++i)
            sum.push_back(2 * a[i] + 3 * b[i]);
        const auto ra = runModel(a, {5, 9}), rb = runModel(b, {7, 1}), rs = runModel(sum, {31, 21});
        for (size_t i = 0; i < a.size(); ++i)
            QVERIFY(std::abs(rs[i].fitness - 2 * ra[i].fitness - 3 * rb[i].fitness) < 1e-12);
    }
    void trainingHarmsTheRaceInTheLastSixteenDays() {
        const Influence curve;
        // Fitz-Clarke, Morton & Banister 1991: 15.6 days for τ1 45, τ2 15, k1 1, k2 2
        QVERIFY(std::abs(curve.harmfulWithin() - 15.6) < 0.05);
        QVERIFY(std::abs(curve.at(curve.harmfulWithin())) < 1e-12);
        QVERIFY(curve.at(15) < 0 && curve.at(16.5) > 0);
    }
    void trainingHelpsMostFortyDaysBefore() {
        const Influence curve;
        // Fitz-Clarke, Morton & Banister 1991: 40.3 days
        QVERIFY(std::abs(curve.mostHelpfulAt() - 40.3) < 0.05);
        const double best = curve.at(curve.mostHelpfulAt());
        for (double d = 0; d < 200; d += 0.25)
            QVERIFY(curve.at(d) <= best + 1e-12);
    }
    void theDailyModelHasTheInfluenceCurvesTimes() {
        // The model itself, fed one day's impulse, changes sign and peaks where the published curve says:
        // performance k1·fitness − k2·fatigue with both scaled to unit impulses.
        const double tau1 = 45, tau2 = 15;
        std::vector<double> stress(121, 0);
        stress[0] = 1;
        const auto days = runModel(stress, {0, 0}, {tau1, tau2});
        int crossing = -1, peak = 0;
        double best = -1;
        for (int n = 0; n <= 120; ++n) {
            const auto& d = days[static_cast<size_t>(n)];
            const double p = d.fitness / (1 - decay(tau1)) - 2 * d.fatigue / (1 - decay(tau2));
            if (crossing < 0 && p > 0)
                crossing = n;
            if (p > best) {
                best = p;
                peak = n;
            }
        }
        // Fitz-Clarke, Morton & Banister 1991: 15.6 and 40.3 days
        QCOMPARE(crossing, 16);
        QCOMPARE(peak, 40);
    }
};

MARRAM_SUITE(LoadTest)
#include "tst_load.moc"
