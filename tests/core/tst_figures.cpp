// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/corrections.h"
#include "core/ride/meanmax.h"
#include "core/ride/scale.h"
#include "core/ride/span_figures.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;

namespace {

/// A random ride with stops, gaps in both sensors and every series.
Recording random(unsigned seed) {
    std::mt19937 dice(seed);
    Recording r;
    double time = 1.7e9 + seed * 1000;
    const int count = 400 + static_cast<int>(dice() % 3000);
    for (int i = 0; i < count; ++i) {
        Sample s;
        s.time = time;
        if (dice() % 40)
            s.power = static_cast<float>(dice() % 420);
        if (dice() % 50)
            s.heartRate = static_cast<float>(95 + dice() % 85);
        s.cadence = static_cast<float>(dice() % 110);
        s.altitude = static_cast<float>(200 + 80 * std::sin(i / 200.0));
        s.distance = static_cast<float>(7.5 * i);
        s.temperature = 12;
        r.samples.push_back(s);
        time += dice() % 300 == 0 ? 12 + dice() % 200 : 1;
        if (dice() % 500 == 0)
            r.laps.push_back({r.laps.empty() ? r.samples.front().time : r.laps.back().end, time});
    }
    return r;
}

ScoringBasis byBoth() {
    ScoringBasis b;
    b.threshold = Watts{240};
    b.heartRate = HeartRateRange{{50}, {166}, {186}, Sex::Female};
    b.effort = 5;
    return b;
}

bool near(const std::optional<double>& a, const std::optional<double>& b) {
    return a.has_value() == b.has_value() && (!a || std::abs(*a - *b) <= 1e-9 * (1 + std::abs(*b)));
}

} // namespace

/// Figures of rides against slow and plain computations, on rides nobody would ride.
class FiguresTest : public QObject {
    Q_OBJECT
private slots:
    void aSpansFiguresAreThoseOfTheTrimmedRide() {
        std::mt19937 dice(11);
        for (unsigned seed = 1; seed <= 60; ++seed) {
            const Ride ride = *toGrid(random(seed));
            const int a = static_cast<int>(dice() % static_cast<unsigned>(ride.elapsed()));
            const int b = a + 1 + static_cast<int>(dice() % static_cast<unsigned>(ride.elapsed() - a));
            Corrections c;
            c.trimStart = a;
            c.trimEnd = ride.elapsed() - b;
            const auto cut = corrected(ride, c);
            const SpanFigures f = figuresOver(ride, {a, b});
            QCOMPARE(f.seconds > 0, cut.has_value());
            if (!cut)
                continue;
            const SpanFigures g = figuresOver(*cut, {0, cut->elapsed()});
            QCOMPARE(f.seconds, g.seconds);
            QCOMPARE(f.seconds, cut->recorded());
            if (!cut->hasPower)
                continue;
            QVERIFY(near(f.meanPower, g.meanPower) && near(f.equivalentPower, g.equivalentPower));
            QVERIFY(near(f.meanHeartRate, g.meanHeartRate) && near(f.cadence, g.cadence));
            const Score s = score(*cut, byBoth());
            QVERIFY(near(f.meanPower, s.meanPower) && near(f.work, s.work));
        }
    }
    void aSpansMeansAreThoseOfItsSeconds() {
        for (unsigned seed = 61; seed <= 90; ++seed) {
            const Ride ride = *toGrid(random(seed));
            const Stretch span{ride.elapsed() / 5, ride.elapsed() / 2};
            double power = 0, beats = 0, turning = 0;
            int seconds = 0, withBeats = 0, pedalling = 0;
            for (const Stretch& s : ride.stretches)
                for (int t = std::max(s.begin, span.begin); t < std::min(s.end, span.end); ++t) {
                    const auto i = static_cast<size_t>(t);
                    ++seconds;
                    power += std::isnan(ride.power[i]) ? 0 : static_cast<double>(ride.power[i]);
                    if (!std::isnan(ride.heartRate[i])) {
                        beats += static_cast<double>(ride.heartRate[i]);
                        ++withBeats;
                    }
                    if (ride.cadence[i] > 0) {
                        turning += static_cast<double>(ride.cadence[i]);
                        ++pedalling;
                    }
                }
            const SpanFigures f = figuresOver(ride, span);
            QCOMPARE(f.seconds, seconds);
            if (seconds == 0)
                continue;
            QVERIFY(near(f.meanPower, power / seconds));
            QVERIFY(near(f.meanHeartRate, withBeats ? std::optional(beats / withBeats) : std::nullopt));
            QVERIFY(near(f.cadence, pedalling ? std::optional(turning / pedalling) : std::nullopt));
        }
    }
    void timeInHeartRateZonesIsAllTimeWithAHeartRate() {
        for (unsigned seed = 1; seed <= 30; ++seed) {
            const Ride ride = *toGrid(random(seed));
            const Score s = score(ride, byBoth());
            double sum = 0;
            for (const double z : *s.heartRateZoneSeconds)
                sum += z;
            int with = 0;
            for (const Stretch& stretch : ride.stretches)
                for (int t = stretch.begin; t < stretch.end; ++t)
                    with += std::isnan(ride.heartRate[static_cast<size_t>(t)]) ? 0 : 1;
            QCOMPARE(sum, static_cast<double>(with));
        }
    }
    void anEdgeOfHeartRateBelongsToTheZoneBelow() {
        const HeartRateRange range{{50}, {150}, {200}, Sex::Male};
        const auto edges = heartRateZoneEdges(range);
        QVERIFY(std::abs(edges[1] - (50 + 0.8 * 100)) < 1e-9); // 75 %: a fifth and three quarters of the rest
        Recording r;
        for (int t = 0; t < 60; ++t) {
            Sample s;
            s.time = 1.8e9 + t;
            s.heartRate = t < 20 ? 130 : t < 40 ? 131 : 199;
            r.samples.push_back(s);
        }
        const auto zones = timeInHeartRateZones(*toGrid(r), range);
        QCOMPARE(zones[1], 20.0);
        QCOMPARE(zones[2], 20.0);
        QCOMPARE(zones[4], 20.0);
    }
    void changingMethodsIsScoringAgain() {
        // rescale() must give what scoring from the recording gives, whatever the basis.
        for (unsigned seed = 1; seed <= 30; ++seed) {
            const Ride ride = *toGrid(random(seed));
            for (int kind = 0; kind < 8; ++kind) {
                ScoringBasis b = byBoth();
                if (kind & 1)
                    b.threshold.reset();
                if (kind & 2)
                    b.heartRate.reset();
                if (kind & 4)
                    b.effort.reset();
                b.heartRateScale = 0.87;
                b.effortScale = 0.23;
                Score once = score(ride, b);
                Score twice = once;
                ScoringBasis other = b;
                other.heartRateScale = 2;
                other.effortScale = 3;
                rescale(twice, other);
                rescale(twice, b);
                QVERIFY(near(once.stress, twice.stress) && once.method == twice.method &&
                        once.scale == twice.scale);
                const StressMethod expected = !(kind & 1)   ? StressMethod::Power
                                              : !(kind & 2) ? StressMethod::HeartRate
                                              : !(kind & 4) ? StressMethod::Effort
                                                            : StressMethod::None;
                QCOMPARE(once.method, expected);
                QCOMPARE(once.stress.has_value(), expected != StressMethod::None);
            }
        }
    }
    void timeOfDayChangesNothing() {
        for (unsigned seed = 1; seed <= 10; ++seed) {
            Recording r = random(seed);
            const Score a = score(*toGrid(r), byBoth());
            for (Sample& s : r.samples)
                s.time += 86400 * 100 + 7 * 3600;
            const Score b = score(*toGrid(r), byBoth());
            QVERIFY(near(a.stress, b.stress) && near(a.trainingImpulse, b.trainingImpulse) &&
                    near(a.drift, b.drift));
        }
    }
    void cutsOnlyEverTakePowerAway() {
        std::mt19937 dice(4);
        for (unsigned seed = 1; seed <= 30; ++seed) {
            const Ride ride = *toGrid(random(seed));
            Corrections c;
            for (int i = 0; i < 3; ++i) {
                const int at = static_cast<int>(dice() % static_cast<unsigned>(ride.elapsed()));
                c.powerCuts.push_back({at - 20, at + static_cast<int>(dice() % 400)}); // also over both ends
            }
            const auto cut = corrected(ride, c);
            QVERIFY(cut);
            QCOMPARE(cut->elapsed(), ride.elapsed());
            int taken = 0;
            for (size_t t = 0; t < ride.power.size(); ++t) {
                const bool same = std::isnan(ride.power[t])
                                      ? std::isnan(cut->power[t])
                                      : cut->power[t] == ride.power[t] || std::isnan(cut->power[t]);
                QVERIFY(same);
                taken += !std::isnan(ride.power[t]) && std::isnan(cut->power[t]) ? 1 : 0;
            }
            QCOMPARE(cut->faults.powerMissing, ride.faults.powerMissing + taken);
            QVERIFY(*score(*cut, byBoth()).work <= *score(ride, byBoth()).work);
        }
    }
    void lapsStandOnTheGrid() {
        Recording r = random(7);
        r.laps = {{r.samples.front().time - 50, r.samples.front().time + 100},
                  {r.samples.front().time + 100, r.samples.front().time + 250.5},
                  {r.samples.back().time + 10, r.samples.back().time + 90},
                  {std::nan(""), r.samples.back().time}};
        const Ride ride = *toGrid(r);
        QCOMPARE(ride.laps.size(), 2U);
        QCOMPARE(ride.laps[0], (Stretch{0, 100}));
        QCOMPARE(ride.laps[1], (Stretch{100, 250}));
    }
    void aScaleIsUntouchedByOrderAndByOneBadRide() {
        std::mt19937 dice(9);
        std::vector<Score> rides;
        for (int i = 0; i < 41; ++i) {
            Score s;
            s.method = StressMethod::Power;
            s.duration = 4000;
            s.heartRateStress = 60 + i;
            s.stress = (0.8 + 0.01 * i) * *s.heartRateStress;
            rides.push_back(s);
        }
        const auto first = learnScales(rides).heartRate;
        QVERIFY(std::abs(first->factor - 1.0) < 1e-9); // the middle one
        std::shuffle(rides.begin(), rides.end(), dice);
        QCOMPARE(learnScales(rides).heartRate->factor, first->factor);
        rides.push_back(rides.front());
        rides.back().stress = 1e5;
        QVERIFY(std::abs(learnScales(rides).heartRate->factor - first->factor) < 0.006);
    }
};

MARRAM_SUITE(FiguresTest)
#include "tst_figures.moc"
