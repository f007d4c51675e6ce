// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/corrections.h"
#include "core/ride/efforts.h"
#include "core/ride/meanmax.h"
#include "core/ride/recognise.h"
#include "core/ride/score.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;

namespace {

struct Part {
    int seconds;
    double power;
    double beats = 130;
};

/// A ride of parts with the noise of a road: each second off by up to `noise` of its power.
Ride rideOf(const std::vector<Part>& parts, double noise = 0.05, unsigned seed = 1) {
    std::mt19937 dice(seed);
    std::normal_distribution<double> bell(0, noise);
    Recording r;
    double time = 1.8e9;
    for (const Part& p : parts)
        for (int t = 0; t < p.seconds; ++t) {
            Sample s;
            s.time = time++;
            s.power = static_cast<float>(std::max(0.0, std::round(p.power * (1 + bell(dice)))));
            s.heartRate = static_cast<float>(p.beats);
            s.cadence = t % 10 == 0 ? 0 : 90;
            s.altitude = static_cast<float>(100 + t % 50);
            s.distance = static_cast<float>(8 * (time - 1.8e9));
            s.temperature = 18;
            s.leftShare = 0.49F;
            r.samples.push_back(s);
        }
    r.laps = {{1.8e9, 1.8e9 + 600}, {1.8e9 + 600, time}};
    return *toGrid(r);
}

std::vector<Part> intervals(int count, int on, double hard, int off, double easy) {
    std::vector<Part> parts{{900, 150}};
    for (int i = 0; i < count; ++i) {
        parts.push_back({on, hard});
        parts.push_back({off, easy});
    }
    parts.push_back({600, 140});
    return parts;
}

} // namespace

class EffortsTest : public QObject {
    Q_OBJECT
private slots:
    void intervalsAreFoundFromThePowerItself_data() {
        QTest::addColumn<int>("count");
        QTest::addColumn<int>("on");
        QTest::addColumn<double>("hard");
        QTest::addColumn<int>("off");
        QTest::addColumn<int>("zone");
        // Sessions coaches write (common practice), threshold 250 W
        QTest::newRow("3 x 15 min at threshold") << 3 << 900 << 255.0 << 180 << 4;
        QTest::newRow("5 x 5 min") << 5 << 300 << 285.0 << 300 << 5;
        QTest::newRow("8 x 2 min") << 8 << 120 << 290.0 << 120 << 5;
        QTest::newRow("12 x 30 s") << 12 << 30 << 330.0 << 30 << 6;
        QTest::newRow("10 x 15 s") << 10 << 15 << 360.0 << 15 << 6;
        QTest::newRow("4 sprints of 8 s") << 4 << 8 << 800.0 << 120 << 7;
        QTest::newRow("3 x 8 min tempo") << 3 << 480 << 215.0 << 120 << 3;
    }
    void intervalsAreFoundFromThePowerItself() {
        QFETCH(int, count);
        QFETCH(int, on);
        QFETCH(double, hard);
        QFETCH(int, off);
        QFETCH(int, zone);
        for (unsigned seed = 1; seed <= 5; ++seed) {
            const Efforts found =
                findEfforts(rideOf(intervals(count, on, hard, off, 120), 0.06, seed), {250});
            QCOMPARE(static_cast<int>(found.all.size()), count);
            for (int i = 0; i < count; ++i) {
                const Effort& e = found.all[static_cast<size_t>(i)];
                QVERIFY2(std::abs(e.span.begin - (900 + i * (on + off))) <= 3,
                         qPrintable(QString::number(e.span.begin)));
                QVERIFY(std::abs(e.span.length() - on) <= 4);
                QCOMPARE(e.zone + 1, zone);
            }
            QCOMPARE(found.sets.size(), 1U);
            QCOMPARE(found.sets[0].efforts.size(), static_cast<size_t>(count));
            QVERIFY(std::abs(found.sets[0].fade) <
                    (on < 30 ? 12 : 4)); // a few seconds keep much of the noise
        }
    }
    void anEnduranceRideHasNone() {
        for (unsigned seed = 1; seed <= 5; ++seed)
            QVERIFY(findEfforts(rideOf({{7200, 170}}, 0.15, seed), {250}).all.empty());
    }
    void dipsDoNotCutAnEffort() {
        const Efforts found =
            findEfforts(rideOf({{900, 150}, {200, 260}, {8, 0}, {280, 260}, {600, 140}}), {250});
        QCOMPARE(found.all.size(), 1U);
        QVERIFY(std::abs(found.all[0].span.length() - 488) <= 4);
    }
    void hardPartsOfALongEffortStandForIt() {
        std::vector<Part> parts{{600, 150}};
        for (int i = 0; i < 4; ++i) {
            parts.push_back({180, 290});
            parts.push_back({180, 195});
        }
        const Efforts found = findEfforts(rideOf(parts), {250});
        QCOMPARE(found.all.size(), 4U);
    }
    void aWarmUpThatRunsIntoTheFirstRepetitionIsNoPartOfIt() {
        // 15 min of warm-up as coaches write it (common practice), then three times eight minutes
        std::vector<Part> parts{{300, 125}, {300, 163}, {300, 228}};
        for (int i = 0; i < 3; ++i)
            parts.insert(parts.end(), {{480, 275}, {300, 130}});
        const Efforts found = findEfforts(rideOf(parts, 0.05), {250});
        QCOMPARE(found.sets.size(), 1U);
        QCOMPARE(found.sets[0].efforts.size(), 3U);
        for (const size_t e : found.sets[0].efforts)
            QVERIFY(std::abs(found.all[e].span.length() - 480) <= 10);
    }
    void fadeAndLeavingTheZoneAreTold() {
        std::vector<Part> parts{{900, 150}};
        for (const double w : {290.0, 285.0, 275.0, 258.0})
            parts.insert(parts.end(), {{300, w}, {300, 130}});
        const Efforts found = findEfforts(rideOf(parts, 0.03), {250});
        QCOMPARE(found.sets.size(), 1U);
        const Repetitions& set = found.sets[0];
        // The median of the six pairwise slopes is about −10 W a repetition: over three, a tenth of the
        // first.
        QVERIFY2(set.fade > 7 && set.fade < 13, qPrintable(QString::number(set.fade)));
        QCOMPARE(*set.leftZone, 3U); // 258 W is no longer zone 5
        // One that breaks in its middle: 5 min that fall from 290 to 200 after 3 min.
        const Ride broke = rideOf({{600, 150}, {180, 300}, {120, 215}, {600, 150}}, 0.02);
        const Effort e = describeEffort(broke, {600, 900}, {250});
        QVERIFY(e.fade > 10);
        QVERIFY(e.leftZoneAt && std::abs(*e.leftZoneAt - 180) < 20);
        QVERIFY(!describeEffort(broke, {600, 780}, {250}).leftZoneAt);
    }
    void withoutPowerOrThresholdThereIsNothingToFind() {
        Recording r;
        for (int t = 0; t < 100; ++t) {
            Sample s;
            s.time = 1.8e9 + t;
            s.heartRate = 120;
            r.samples.push_back(s);
        }
        const Ride ride = *toGrid(r);
        QVERIFY(findEfforts(ride, {250}).all.empty());
        QCOMPARE(thresholdFromRide(ride).value, 0.0);
        QVERIFY(findEfforts(rideOf({{100, 300}}), {0}).all.empty());
    }

    void figuresOfAPartAreThoseOfItsSeconds() {
        const Ride ride = rideOf({{600, 150, 120}, {300, 280, 160}, {600, 120, 130}});
        const SpanFigures f = figuresOver(ride, {600, 900});
        double sum = 0;
        for (size_t t = 600; t < 900; ++t)
            sum += static_cast<double>(ride.power[t]);
        QCOMPARE(f.seconds, 300);
        QVERIFY(std::abs(*f.meanPower - sum / 300) < 1e-9 && std::abs(*f.work - sum / 1000) < 1e-9);
        QCOMPARE(*f.meanHeartRate, 160.0);
        QCOMPARE(*f.cadence, 90.0); // seconds without turning are left out
        QVERIFY(std::abs(*f.leftShare - 0.49) < 1e-6);
        QVERIFY(std::abs(*f.temperature - 18) < 1e-9);
        QVERIFY(std::abs(*f.distance - 8 * 299) < 1);
        const Score whole = score(ride, {});
        const SpanFigures all = figuresOver(ride, {-5, 99999});
        QVERIFY(std::abs(*all.equivalentPower - *whole.equivalentPower) < 1e-9);
        QCOMPARE(figuresOver(ride, {2000, 2100}).seconds, 0);
        QVERIFY(!figuresOver(ride, {2000, 2100}).meanPower);
    }
    void climbingIgnoresTheNoiseOfABarometer() {
        Recording r;
        for (int t = 0; t < 1000; ++t) {
            Sample s;
            s.time = 1.8e9 + t;
            s.altitude = static_cast<float>(t < 500 ? 100 + 0.2 * t : 200) + (t % 2 ? 0.8F : -0.8F);
            r.samples.push_back(s);
        }
        const auto gained = figuresOver(*toGrid(r), {0, 1000}).climbed;
        QVERIFY2(gained && std::abs(*gained - 100) < 3, qPrintable(QString::number(gained.value_or(-1))));
    }

    void steadinessIsJudged_data() {
        QTest::addColumn<int>("kind");
        QTest::addColumn<bool>("steady");
        QTest::addColumn<QString>("says");
        QTest::newRow("steady hour") << 0 << true << "Steady enough";
        QTest::newRow("too short") << 1 << false << "too short";
        QTest::newRow("intervals") << 2 << false << "uneven";
        QTest::newRow("second half harder") << 3 << false << "harder";
        QTest::newRow("no heart rate") << 4 << false << "no efficiency";
        QTest::newRow("coffee stop") << 5 << false << "Stopped";
    }
    void steadinessIsJudged() {
        QFETCH(int, kind);
        QFETCH(bool, steady);
        QFETCH(QString, says);
        Ride ride = kind == 1   ? rideOf({{1800, 190}})
                    : kind == 2 ? rideOf(intervals(6, 240, 330, 240, 100))
                    : kind == 3 ? rideOf({{1800, 180}, {1800, 205}})
                                : rideOf({{3600, 190}});
        if (kind == 4)
            ride.hasHeartRate = false;
        if (kind == 5) {
            Recording r;
            for (int t = 0; t < 3600; ++t) {
                Sample s;
                s.time = 1.8e9 + t + (t > 1800 ? 900 : 0);
                s.power = 190;
                s.heartRate = 130;
                r.samples.push_back(s);
            }
            ride = *toGrid(r);
        }
        const Steadiness s = judgeSteadiness(ride);
        QCOMPARE(s.steady, steady);
        QVERIFY2(QString::fromStdString(s.why).contains(says), s.why.c_str());
    }

    void correctionsNeverTouchTheRecording() {
        const Ride ride = rideOf({{600, 150}, {300, 280}, {600, 120}});
        Corrections c;
        c.trimStart = 100;
        c.trimEnd = 200;
        c.powerCuts = {{700, 720}};
        const auto right = corrected(ride, c);
        QVERIFY(right);
        QCOMPARE(right->elapsed(), 1200);
        QCOMPARE(right->start, ride.start + 100);
        QCOMPARE(right->stretches.size(), 1U);
        QCOMPARE(right->power[0], ride.power[100]);
        QVERIFY(std::isnan(right->power[610]) && !std::isnan(right->power[590]) &&
                !std::isnan(right->power[620]));
        QCOMPARE(right->faults.powerMissing, 20);
        QVERIFY(std::abs(right->distance[0]) < 1e-3F);
        QCOMPARE(right->laps.size(), 2U);
        QCOMPARE(right->laps[0], (Stretch{0, 500}));
        QVERIFY(corrected(ride, {})->power.size() == ride.power.size());
        c.trimStart = 5000;
        QVERIFY(!corrected(ride, c));
    }
    void spikesStandOutAndSprintsDoNot() {
        Ride ride = rideOf({{600, 150}, {12, 900}, {600, 150}});
        QVERIFY(findSpikes(ride).empty());
        ride.power[100] = 1900;
        ride.power[300] = 1500;
        ride.power[301] = 1400;
        const auto spikes = findSpikes(ride);
        QCOMPARE(spikes.size(), 2U);
        QCOMPARE(spikes[0], (Stretch{100, 101}));
        QCOMPARE(spikes[1], (Stretch{300, 302}));
    }

    void testsAreRecognised_data() {
        QTest::addColumn<int>("kind");
        QTest::addColumn<int>("protocol"); // -1: none
        QTest::newRow("20 minutes") << 0 << int(Protocol::TwentyMinutes);
        QTest::newRow("an hour") << 1 << int(Protocol::Hour);
        QTest::newRow("ramp") << 2 << int(Protocol::Ramp);
        QTest::newRow("sprint") << 3 << int(Protocol::Sprint5s);
        QTest::newRow("five minutes") << 4 << int(Protocol::Power5min);
        QTest::newRow("aerobic check") << 5 << int(Protocol::AerobicCheck);
        QTest::newRow("durability") << 6 << int(Protocol::DurabilityCheck);
        QTest::newRow("endurance") << 7 << -1;
        QTest::newRow("uneven race") << 8 << -1;
    }
    void testsAreRecognised() {
        QFETCH(int, kind);
        QFETCH(int, protocol);
        std::vector<Part> ramp{{600, 120}};
        for (int i = 0; i < 14; ++i)
            ramp.push_back({60, 130 + 14.0 * i});
        ramp.push_back({300, 100});
        std::vector<Part> race;
        for (int i = 0; i < 40; ++i)
            race.insert(race.end(), {{40, 400}, {50, 140}});
        const std::vector<std::vector<Part>> rides{
            {{900, 150}, {1200, 262}, {600, 120}},
            {{900, 150}, {3600, 260}, {600, 120}},
            ramp,
            {{900, 150}, {6, 950}, {600, 150}},
            {{900, 150}, {300, 310}, {600, 120}},
            {{600, 150}, {3900, 188}, {300, 130}},
            {{900, 150}, {600, 262}, {9000, 165}, {600, 248}, {600, 120}},
            {{7200, 165}},
            race,
        };
        const auto found = recogniseTests(rideOf(rides[static_cast<size_t>(kind)], 0.02), Date{9}, {250}, {});
        const auto has = [&](int p) {
            return std::any_of(found.begin(), found.end(),
                               [&](const Recognised& r) { return int(r.result.protocol) == p; });
        };
        if (protocol < 0)
            QVERIFY2(found.empty(), found.empty() ? "" : wordsFor(found[0].result.protocol).name);
        else
            QVERIFY(has(protocol));
        for (const Recognised& r : found) {
            QVERIFY(r.result.verdict == Verdict::Open && r.result.day == Date{9} && !r.why.empty());
            QVERIFY(whyImpossible(r.result).empty());
        }
    }
    void aSprintFarFromTheBestIsNoTest() {
        const std::vector<BestEffort> bests{{5, 1300, 0}};
        QVERIFY(
            recogniseTests(rideOf({{900, 150}, {6, 950}, {600, 150}}, 0.02), Date{1}, {250}, bests).empty());
    }
};

MARRAM_SUITE(EffortsTest)
#include "tst_efforts.moc"
