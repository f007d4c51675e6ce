// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/monotony.h"
#include "core/ride/scale.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;

namespace {

Ride heartOnly(const std::vector<float>& beats) {
    Recording r;
    for (size_t t = 0; t < beats.size(); ++t) {
        Sample s;
        s.time = 1.8e9 + static_cast<double>(t);
        s.heartRate = beats[t];
        r.samples.push_back(s);
    }
    return *toGrid(r);
}

Score both(double byPower, double byHeart, int seconds = 3600) {
    Score s;
    s.method = StressMethod::Power;
    s.stress = byPower;
    s.heartRateStress = byHeart;
    s.duration = seconds;
    return s;
}

} // namespace

class ScaleTest : public QObject {
    Q_OBJECT
private slots:
    void banistersImpulseByHand_data() {
        QTest::addColumn<int>("sex");
        QTest::addColumn<double>("impulse");
        // Morton, Fitz-Clarke & Banister 1990: 30 min at x = 0.5: 30 × 0.5 × 0.64·e^0.96 and 30 × 0.5 ×
        // 0.86·e^0.835
        QTest::newRow("man") << int(Sex::Male) << 30 * 0.5 * 0.64 * 2.611696473423118;
        QTest::newRow("woman") << int(Sex::Female) << 30 * 0.5 * 0.86 * 2.3048140482870125;
    }
    void banistersImpulseByHand() {
        QFETCH(int, sex);
        QFETCH(double, impulse);
        const HeartRateRange range{{50}, {160}, {190}, static_cast<Sex>(sex)};
        const Ride ride = heartOnly(std::vector<float>(1800, 120)); // (120 − 50) / 140 = 0.5
        QVERIFY(std::abs(trainingImpulse(ride, range) - impulse) < 1e-9 * impulse);
    }
    void anHourAtThresholdIsAHundredByEveryMethod() {
        const HeartRateRange range{{50}, {165}, {190}, Sex::Female};
        ScoringBasis basis;
        basis.heartRate = range;
        const Score s = score(heartOnly(std::vector<float>(3600, 165)), basis);
        QCOMPARE(s.method, StressMethod::HeartRate);
        QVERIFY(std::abs(*s.stress - 100) < 1e-9);
        basis.heartRateScale = 0.9;
        QVERIFY(std::abs(*score(heartOnly(std::vector<float>(3600, 165)), basis).stress - 90) < 1e-9);
        // Foster 1998: effort × minutes; before anything is learned an hour at effort 8 is 100 points
        ScoringBasis byEffort;
        byEffort.effort = 8;
        const Score e = score(heartOnly(std::vector<float>(3600, 165)), byEffort);
        QCOMPARE(e.method, StressMethod::Effort);
        QVERIFY(std::abs(*e.stress - 100) < 1e-9);
    }
    void powerGoesBeforeHeartRateBeforeEffort() {
        Recording r;
        for (int t = 0; t < 3600; ++t) {
            Sample s;
            s.time = 1.8e9 + t;
            s.power = 200;
            s.heartRate = 150;
            r.samples.push_back(s);
        }
        ScoringBasis basis;
        basis.effort = 4;
        QCOMPARE(score(*toGrid(r), basis).method, StressMethod::Effort);
        basis.heartRate = HeartRateRange{{50}, {165}, {190}, Sex::Male};
        QCOMPARE(score(*toGrid(r), basis).method, StressMethod::HeartRate);
        basis.threshold = Watts{250};
        const Score s = score(*toGrid(r), basis);
        QCOMPARE(s.method, StressMethod::Power);
        QVERIFY(s.heartRateStress && *s.heartRateStress > 0); // kept beside, to learn from
        Score again = s;
        rescale(again, basis);
        QCOMPARE(*again.stress, *s.stress);
    }
    void theScaleIsLearnedWithItsError() {
        std::mt19937 dice(5);
        std::normal_distribution<double> noise(0, 0.08);
        std::vector<Score> rides;
        for (int i = 0; i < 400; ++i) {
            const double byHeart = 30 + i % 120;
            rides.push_back(both(0.85 * byHeart * std::exp(noise(dice)), byHeart));
        }
        for (int i = 0; i < 40; ++i)
            rides.push_back(both(10, 200)); // a strap that slipped
        const auto s = learnScales(rides).heartRate;
        QVERIFY(s && s->rides == 440);
        QVERIFY2(std::abs(s->factor - 0.85) < 0.02, qPrintable(QString::number(s->factor)));
        QVERIFY2(std::abs(s->all.deviation - 0.08) < 0.03, qPrintable(QString::number(s->all.deviation)));
    }
    void tooFewOrTooShortRidesTeachNothing() {
        std::vector<Score> rides(static_cast<size_t>(ridesForScale) - 1, both(90, 100));
        rides.push_back(both(90, 100, 600));
        QVERIFY(!learnScales(rides).heartRate);
        rides.push_back(both(90, 100));
        const auto s = learnScales(rides).heartRate;
        QVERIFY(s && std::abs(s->factor - 0.9) < 1e-12 && std::abs(s->all.deviation) < 1e-12);
        QVERIFY(!learnScales({}).effort);
    }
    void theErrorIsPredictedFromEnoughRidesOfItsKind() {
        std::mt19937 dice(8);
        std::normal_distribution<double> even(0, 0.05), odd(0, 0.15);
        std::vector<Score> rides;
        for (int i = 0; i < 300; ++i) {
            rides.push_back(both(0.9 * 80 * std::exp(even(dice)), 80));
            if (i % 4 == 0) {
                rides.push_back(both(0.9 * 80 * std::exp(odd(dice)), 80));
                rides.back().shortIntervals = true;
            }
        }
        const auto s = learnScales(rides).heartRate;
        QVERIFY(s && s->steady.rides == 300 && s->uneven.rides == 75);
        const double steady = *predictedError(s->steady), uneven = *predictedError(s->uneven);
        QVERIFY(uneven > 2 * steady);
        // Nine of ten new rides of the kind lie inside what was predicted: a simulation.
        int inside = 0;
        for (int i = 0; i < 4000; ++i)
            inside += std::abs(odd(dice)) <= std::log1p(uneven) ? 1 : 0;
        QVERIFY2(inside > 0.85 * 4000 && inside < 0.96 * 4000, qPrintable(QString::number(inside)));
        QVERIFY(!predictedError({0.05, 19}) && predictedError({0.05, 20}));
        // Student's t of 19 degrees of freedom at 95 % is 1.729 (tables): e^(1.729·0.05·√1.05) − 1 = 9.27 %
        QVERIFY(std::abs(*predictedError({0.05, 20}) - 0.0927) < 1e-4);
    }
    void effortIsLearnedFromPowerOrScaledHeartRate() {
        std::vector<Score> rides;
        for (int i = 0; i < 10; ++i) {
            Score s = both(80, 100);
            s.effort = 5; // 80 points in 60 min at 5: 0.2667 a minute
            rides.push_back(s);
        }
        for (int i = 0; i < 10; ++i) {
            Score s;
            s.method = StressMethod::HeartRate;
            s.duration = 3600;
            s.heartRateStress = 100;
            s.effort = 5;
            rides.push_back(s);
        }
        const Scales learned = learnScales(rides);
        QVERIFY(std::abs(learned.heartRate->factor - 0.8) < 1e-12);
        QCOMPARE(learned.effort->rides, 20);
        QVERIFY(std::abs(learned.effort->factor - 80.0 / 300) < 1e-12);
        QCOMPARE(withScales({}, learned).effortScale, learned.effort->factor);
        QCOMPARE(withScales({}, {}).effortScale, defaultEffortScale);
    }
    void shortIntervalsByHeartRateAreMarked() {
        // Heart rate lags: zone 6 efforts end before it arrives (trade figures, common practice)
        const HeartRateRange range{{50}, {165}, {190}, Sex::Male};
        std::vector<float> swinging, steady;
        for (int t = 0; t < 3600; ++t) {
            swinging.push_back(static_cast<float>(145 + 14 * std::sin(t / 120.0 * 6.2832)));
            steady.push_back(static_cast<float>(140 + 3 * std::sin(t / 60.0) + t / 600.0));
        }
        QVERIFY(swingsLikeIntervals(heartOnly(swinging), range));
        QVERIFY(!swingsLikeIntervals(heartOnly(steady), range));
        // Three long climbs are no short intervals.
        std::vector<float> climbs;
        for (int t = 0; t < 7200; ++t)
            climbs.push_back(t / 1200 % 2 ? 165 : 125);
        QVERIFY(!swingsLikeIntervals(heartOnly(climbs), range));
    }

    void fostersMonotonyAndStrainOfAWorkedWeek() {
        // Foster 1998 (formulas); the week worked by hand: sum 420, mean 60, squares of the deviations 1600 +
        // 400 + 0 + 1600 + 3600 + 3600 + 400 = 11 200, over 6 = 1866.67, root 43.2049; monotony 1.38873,
        // strain 583.27
        const WeekStrain w = strainOf({100, 80, 60, 20, 0, 120, 40});
        QCOMPARE(w.load, 420.0);
        QVERIFY(std::abs(w.deviation - std::sqrt(11200.0 / 6)) < 1e-12);
        QVERIFY(std::abs(*w.monotony - 1.38873) < 1e-5);
        QVERIFY(std::abs(*w.strain - 583.266) < 1e-3);
    }
    void daysAllAlikeHaveNoMonotonyToDivideBy() {
        QVERIFY(!strainOf({50, 50, 50, 50, 50, 50, 50}).monotony);
        QVERIFY(!strainOf({}).strain);
        // More even days, the same load: more monotony, more strain.
        QVERIFY(*strainOf({70, 70, 70, 70, 70, 70, 0}).strain > *strainOf({0, 210, 0, 0, 0, 210, 0}).strain);
    }
};

MARRAM_SUITE(ScaleTest)
#include "tst_scale.moc"
