// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "support/recordings.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;
using marram::test::steady;

namespace {

Recording noisy(int seconds, unsigned seed) {
    std::mt19937 dice(seed);
    Recording r;
    double time = 1.8e9;
    for (int t = 0; t < seconds; ++t) {
        Sample s;
        s.time = time;
        s.power = static_cast<float>(dice() % 900);
        r.samples.push_back(s);
        time += dice() % 300 == 0 ? 5 + dice() % 60 : 1;
    }
    return r;
}

ScoringBasis basis(double watts) {
    ScoringBasis b;
    b.threshold = Watts{watts};
    return b;
}

bool near(double a, double b, double tolerance = 1e-9) {
    return std::abs(a - b) <= tolerance * std::max(1.0, std::abs(b));
}

} // namespace

class RideTest : public QObject {
    Q_OBJECT
private slots:
    void gapsUpToTenSecondsHoldAndLongerOnesStop_data() {
        QTest::addColumn<int>("gap");
        QTest::addColumn<int>("recorded");
        QTest::addColumn<int>("stretches");
        QTest::newRow("none") << 1 << 200 << 1;
        QTest::newRow("ten") << 10 << 209 << 1;
        QTest::newRow("eleven") << 11 << 200 << 2;
        QTest::newRow("an hour") << 3600 << 200 << 2;
    }
    void gapsUpToTenSecondsHoldAndLongerOnesStop() {
        QFETCH(int, gap);
        QFETCH(int, recorded);
        QFETCH(int, stretches);
        Recording r = steady(200, 150);
        for (size_t i = 100; i < 200; ++i)
            r.samples[i].time += gap - 1;
        const auto ride = toGrid(r);
        QVERIFY(ride);
        QCOMPARE(ride->recorded(), recorded);
        QCOMPARE(static_cast<int>(ride->stretches.size()), stretches);
        QCOMPARE(ride->elapsed(), 199 + gap);
    }
    void absurdReadingsAreSetAsideAndCounted() {
        Recording r = steady(100, 200, 140);
        r.samples[10].power = 2501;
        r.samples[11].power = -3;
        r.samples[12].heartRate = 251;
        r.samples[13].heartRate = 24;
        r.samples[14].time = std::nan("");
        const auto ride = toGrid(r);
        QCOMPARE(ride->faults.power, 2);
        QCOMPARE(ride->faults.heartRate, 2);
        QCOMPARE(ride->faults.clock, 1);
        QCOMPARE(ride->faults.powerMissing, 2);
        QVERIFY(near(*score(*ride, basis(250)).meanHeartRate, 140));
    }
    void aClockThatJumpsYearsLosesOnlyItsSamples() {
        Recording r = steady(600, 200);
        r.samples[300].time += 4e8;
        const auto ride = toGrid(r);
        QCOMPARE(ride->elapsed(), 600);
        QCOMPARE(ride->faults.clock, 1);
    }
    void samplesOutOfOrderAndTwiceInASecondAreUnderstood() {
        Recording r = steady(50, 100);
        std::swap(r.samples[10], r.samples[20]);
        r.samples.push_back(r.samples.back());
        r.samples.back().power = 300;
        const auto ride = toGrid(r);
        QCOMPARE(ride->elapsed(), 50);
        QCOMPARE(ride->power.back(), 300.0F);
    }
    void aRecordingWithoutSamplesIsNoRide() { QVERIFY(!toGrid({})); }
    void anHourAtThresholdIsAHundredPoints() {
        const auto s = score(*toGrid(steady(3600, 250)), basis(250));
        // Worked identity: one hour at threshold is 100 points
        QVERIFY(near(*s.stress, 100));
        QVERIFY(near(*s.relativeIntensity, 1));
        QVERIFY(near(*s.work, 900));
    }
    void equivalentPowerOfSteadyRidingIsThatPowerWhateverTheStops() {
        Recording r = steady(4000, 180);
        for (size_t i = 2000; i < 4000; ++i)
            r.samples[i].time += 900;
        QVERIFY(near(equivalentPower(toGrid(r)->power, toGrid(r)->stretches), 180));
    }
    void equivalentPowerFollowsItsDefinition() {
        const auto ride = toGrid(noisy(4000, 3));
        double fourth = 0;
        long windows = 0;
        // Brute force from the convention: every full trailing window of every stretch
        for (const Stretch& s : ride->stretches)
            for (int end = s.begin + 30; end <= s.end; ++end) {
                double sum = 0;
                for (int t = end - 30; t < end; ++t)
                    sum += static_cast<double>(ride->power[static_cast<size_t>(t)]);
                fourth += std::pow(sum / 30, 4);
                ++windows;
            }
        QVERIFY(near(equivalentPower(ride->power, ride->stretches),
                     std::pow(fourth / static_cast<double>(windows), 0.25), 1e-9));
    }
    void aRideOfShortStretchesFallsBackToThePlainMean() {
        QVERIFY(
            near(equivalentPower(toGrid(steady(20, 210))->power, toGrid(steady(20, 210))->stretches), 210));
    }
    void doublingThresholdQuartersStress() {
        const auto ride = toGrid(noisy(3000, 5));
        QVERIFY(near(*score(*ride, basis(200)).stress, 4 * *score(*ride, basis(400)).stress));
    }
    void anEdgeBelongsToTheZoneBelowIt_data() {
        QTest::addColumn<double>("watts");
        QTest::addColumn<int>("zone");
        const std::array edges{110.0, 150.0, 180.0, 210.0, 240.0, 300.0};
        for (size_t z = 0; z < edges.size(); ++z) {
            QTest::addRow("at %g", edges[z]) << edges[z] << static_cast<int>(z);
            QTest::addRow("over %g", edges[z]) << edges[z] + 1 << static_cast<int>(z) + 1;
        }
    }
    void anEdgeBelongsToTheZoneBelowIt() {
        QFETCH(double, watts);
        QFETCH(int, zone);
        QCOMPARE(zoneOf({watts}, {200}), zone);
        const auto s = score(*toGrid(steady(60, static_cast<float>(watts))), basis(200));
        QCOMPARE((*s.zoneSeconds)[static_cast<size_t>(zone)], 60.0);
    }
    void bandsMeetAtTheLowThresholdAndAtThreshold() {
        for (const auto& [watts, low, middle, high] : {std::tuple{154.0F, 60.0, 0.0, 0.0},
                                                       {155.0F, 0.0, 60.0, 0.0},
                                                       {200.0F, 0.0, 60.0, 0.0},
                                                       {201.0F, 0.0, 0.0, 60.0}}) {
            const auto b = *score(*toGrid(steady(60, watts)), basis(200)).bandSeconds;
            QCOMPARE(b.low, low);
            QCOMPARE(b.middle, middle);
            QCOMPARE(b.high, high);
        }
    }
    void bandsAndZonesEachCountEveryRecordedSecond() {
        const auto ride = toGrid(noisy(5000, 9));
        const auto s = score(*ride, basis(280));
        double zones = 0;
        for (const double z : *s.zoneSeconds)
            zones += z;
        QCOMPARE(s.bandSeconds->sum(), static_cast<double>(ride->recorded()));
        QCOMPARE(zones, static_cast<double>(ride->recorded()));
    }
    void bandsCostWhatTheTradeSays() {
        // Common practice: about 42, 72 and 105 points an hour
        const Bands each = stressPerHour(0.77);
        QVERIFY(std::abs(each.low - 42) < 1 && std::abs(each.middle - 72) < 1 &&
                std::abs(each.high - 105) < 1);
        QVERIFY(stressPerHour(0.70).low < each.low);
    }
    void meanMaxAgreesWithBruteForce_data() {
        QTest::addColumn<bool>("whole");
        QTest::newRow("whole watts") << true;
        QTest::newRow("fractions of a watt") << false;
    }
    void meanMaxAgreesWithBruteForce() {
        QFETCH(bool, whole);
        Recording r = noisy(900, 21);
        if (!whole)
            for (Sample& s : r.samples)
                s.power += 0.37F;
        const auto ride = toGrid(r);
        const auto curve = meanMaxCurve(*ride);
        QCOMPARE(curve.back().seconds, ride->elapsed());
        for (const BestEffort& b : curve) {
            double best = 0;
            for (int at = 0; at + b.seconds <= ride->elapsed(); ++at) {
                double sum = 0;
                for (int t = at; t < at + b.seconds; ++t)
                    sum += std::isnan(ride->power[static_cast<size_t>(t)])
                               ? 0
                               : static_cast<double>(ride->power[static_cast<size_t>(t)]);
                best = std::max(best, sum / b.seconds);
            }
            QVERIFY2(near(b.power, best, 1e-9), qPrintable(QString::number(b.seconds)));
        }
    }
    void curveDurationsAreDenseEnough() {
        const auto d = curveDurations(20000);
        for (int s = 1; s <= 120; ++s)
            QCOMPARE(d[static_cast<size_t>(s - 1)], s);
        int inDecade = 0;
        for (const int s : d)
            inDecade += s > 1000 && s <= 10000 ? 1 : 0;
        QVERIFY(inDecade >= 30);
        QCOMPARE(d.back(), 20000);
        QVERIFY(std::is_sorted(d.begin(), d.end()) && std::adjacent_find(d.begin(), d.end()) == d.end());
        QVERIFY(curveDurations(0).empty());
        QCOMPARE(curveDurations(7).back(), 7);
    }
    void driftIsTheFallOfEfficiency() {
        Recording r = steady(2000, 200, 140);
        for (size_t i = 1000; i < 2000; ++i)
            r.samples[i].heartRate = 147;
        QVERIFY(near(*driftPercent(*toGrid(r)), (1 - 140.0 / 147) * 100));
        QVERIFY(!driftPercent(*toGrid(steady(2000, 200))));
    }
    void banistersImpulseByHand_data() {
        QTest::addColumn<int>("sex");
        QTest::addColumn<double>("expected");
        // Morton, Fitz-Clarke & Banister 1990: 60 min × 0.75 × 0.64·e^(1.92 × 0.75), and 0.86·e^(1.67 × 0.75)
        QTest::newRow("men") << static_cast<int>(Sex::Male) << 60 * 0.75 * 0.64 * std::exp(1.44);
        QTest::newRow("women") << static_cast<int>(Sex::Female) << 60 * 0.75 * 0.86 * std::exp(1.2525);
    }
    void banistersImpulseByHand() {
        QFETCH(int, sex);
        QFETCH(double, expected);
        const HeartRateRange range{{50}, {165}, {190}, static_cast<Sex>(sex)};
        QVERIFY(near(trainingImpulse(*toGrid(steady(3600, missing, 155)), range), expected, 1e-9));
    }
    void withoutPowerHeartRateScoresAndAnHourAtItsThresholdIsAHundred() {
        ScoringBasis b = basis(250);
        b.heartRate = HeartRateRange{{50}, {165}, {190}, Sex::Female};
        const auto s = score(*toGrid(steady(3600, missing, 165)), b);
        QCOMPARE(s.method, StressMethod::HeartRate);
        QVERIFY(near(*s.stress, 100));
        QVERIFY(!s.equivalentPower && !s.bandSeconds && !s.drift);
    }
    void withNeitherThereIsNoStress() {
        const auto s = score(*toGrid(steady(3600, missing)), basis(250));
        QCOMPARE(s.method, StressMethod::None);
        QVERIFY(!s.stress && !s.meanHeartRate);
    }
    void whatHeldOnTheDayScoresTheRide() {
        RiderValues known;
        for (const int i : {2, 0, 1})
            known.set(Quantity::ThresholdPower, Date{100 * i}, 200.0 + i);
        const auto on = [&](int day) { return known.on(Quantity::ThresholdPower, Date{day}); };
        QCOMPARE(*on(-5), 200.0);
        QCOMPARE(*on(100), 201.0);
        QCOMPARE(*on(199), 201.0);
        QCOMPARE(*on(900), 202.0);
        QVERIFY(!known.on(Quantity::Weight, Date{0}));
    }
};

MARRAM_SUITE(RideTest)
#include "tst_ride.moc"
