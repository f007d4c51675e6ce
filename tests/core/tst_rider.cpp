// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/physiology.h"
#include "core/rider/power_model.h"
#include "core/rider/proposal.h"
#include "core/rider/protocol.h"
#include "support/suite.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace marram;

namespace {

TestResult result(Protocol p, int day, double value, double second = 0) {
    TestResult r;
    r.protocol = p;
    r.day = Date{day};
    r.value = value;
    r.second = second;
    r.verdict = Verdict::Accepted;
    return r;
}

} // namespace

class RiderTest : public QObject {
    Q_OBJECT
private slots:
    void everyQuantityHasItsOwnDates() {
        RiderValues v;
        v.set(Quantity::ThresholdPower, Date{100}, 240);
        v.set(Quantity::Weight, Date{150}, 62);
        v.set(Quantity::ThresholdPower, Date{200}, 250);
        QCOMPARE(*v.on(Quantity::ThresholdPower, Date{199}), 240.0);
        QCOMPARE(*v.on(Quantity::ThresholdPower, Date{200}), 250.0);
        QCOMPARE(*v.on(Quantity::Weight, Date{0}), 62.0); // the earliest stands for what came before
        v.set(Quantity::ThresholdPower, Date{200}, 255);  // entered again for the same day
        QCOMPARE(v.of(Quantity::ThresholdPower).size(), 2U);
        QCOMPARE(v.entryOn(Quantity::ThresholdPower, Date{300})->value, 255.0);
        v.remove(Quantity::ThresholdPower, Date{200});
        QCOMPARE(*v.on(Quantity::ThresholdPower, Date{300}), 240.0);
        for (size_t q = 0; q < quantityCount; ++q)
            QVERIFY(quantityNamed(wordsFor(static_cast<Quantity>(q)).key) == static_cast<Quantity>(q));
        QVERIFY(!quantityNamed("shoe_size"));
    }
    void zonesByHeartRateFollowTheRider() {
        const HeartRateRange range{{50}, {170}, {190}, Sex::Male};
        QCOMPARE(heartRateAt(1, range), 170.0);
        QCOMPARE(heartRateAt(0, range), 74.0);
        const auto edges = heartRateZoneEdges(range);
        for (size_t z = 1; z < edges.size(); ++z)
            QVERIFY(edges[z] > edges[z - 1]);
        QCOMPARE(edges[4], 190.0);
        QVERIFY(edges[2] < 170 && edges[3] > 170); // threshold lies in zone 4
        // A rider whose maximum is near threshold still gets edges in order.
        const auto tight = heartRateZoneEdges({{50}, {170}, {171}, Sex::Male});
        QVERIFY(tight[3] <= tight[4]);
    }

    void zonesByHeartRateKeepTheirOrderForEverybody() {
        std::mt19937 dice(12);
        for (int i = 0; i < 500; ++i) {
            const double rest = 30 + dice() % 60, threshold = rest + 20 + dice() % 120,
                         most = threshold + dice() % 40;
            const auto edges = heartRateZoneEdges({{rest}, {threshold}, {most}, Sex::Unstated});
            QVERIFY(edges[0] > rest && edges[4] == most && std::is_sorted(edges.begin(), edges.end()));
        }
    }
    void altitudeTakesAerobicPower_data() {
        QTest::addColumn<double>("km");
        QTest::addColumn<bool>("acclimatised");
        QTest::addColumn<double>("percent");
        // Bassett et al. 1999, polynomials worked by hand (coefficients: values from memory)
        QTest::newRow("sea level") << 0.0 << true << 99.9;
        QTest::newRow("sea level, new") << 0.0 << false << 100.0;
        QTest::newRow("1 km") << 1.0 << true << 96.88;
        QTest::newRow("1 km, new") << 1.0 << false << 94.678;
        QTest::newRow("2.338 km, new") << 2.338 << false << 84.94259;
        QTest::newRow("2 km") << 2.0 << true << 91.62;
        QTest::newRow("3 km, new") << 3.0 << false << 79.726;
        QTest::newRow("below the sea") << -0.4 << false << 100.0;
    }
    void altitudeTakesAerobicPower() {
        QFETCH(double, km);
        QFETCH(bool, acclimatised);
        QFETCH(double, percent);
        QVERIFY(std::abs(100 * aerobicPowerLeft(km, acclimatised) - percent) < 1e-3);
    }
    void oxygenCostOfCycling() {
        // ACSM guidelines, worked by hand: 4 W/kg costs 10.8 × 4 + 7 = 50.2 ml/kg/min
        QVERIFY(std::abs(oxygenUptake(4) - 50.2) < 1e-12);
        // A worked example of the guidelines (value from memory): 150 W at 70 kg costs about 30.1 ml/kg/min
        QVERIFY(std::abs(oxygenUptake(150.0 / 70) - 30.143) < 1e-3);
    }
    void maximalHeartRateByAge() {
        // Tanaka et al. 2001: 208 − 0.7 × 40 = 180
        QCOMPARE(expectedMaxHeartRate(40), 180.0);
    }

    void aKnownHyperbolaIsRecovered() {
        // P = 18000/t + 260, exactly
        std::vector<MaximalPower> efforts;
        for (const double t : {150.0, 240.0, 480.0, 900.0, 1200.0})
            efforts.push_back({t, 18000 / t + 260, static_cast<long long>(t)});
        const auto fit = fitCriticalPower(efforts);
        QVERIFY(fit);
        QVERIFY(std::abs(fit->power.value - 260) < 1e-9 && std::abs(fit->work.value - 18000) < 1e-6);
        QVERIFY(fit->scatter < 1e-9);
        QVERIFY(std::abs(fit->expectedThreshold.value - 249.6) < 1e-9);
        QVERIFY(std::abs(fit->at(360) - 310) < 1e-9);
        // However well they lie on the curve, single efforts vary: the interval stays open.
        QVERIFY(fit->power.high - fit->power.low > 0.06 * 260);
    }
    void threeEffortsWorkedByHand() {
        // 3, 6 and 12 min at 340, 290 and 265 W lie on P = 18000/t + 240 exactly: 100 + 240, 50 + 240, 25 +
        // 240.
        const auto fit =
            fitCriticalPower(std::vector<MaximalPower>{{180, 340, 1}, {360, 290, 2}, {720, 265, 3}});
        QVERIFY(fit);
        QVERIFY(std::abs(fit->power.value - 240) < 1e-9 && std::abs(fit->work.value - 18000) < 1e-6);
        // Their 3 % are 10.2, 8.7 and 7.95 W. A separate programme (Python, weighted normal equations) gives
        // CP a standard deviation of 10.3276 W; 1.95996 of them to either side.
        QVERIFY(std::abs((fit->power.high - fit->power.low) / 2 - 20.2416) < 1e-3);
    }
    void theIntervalHoldsTheTruthThroughDayToDayNoise() {
        // A simulation, not the programme's own formula: efforts from a known rider, each 3 % off at random.
        std::mt19937 dice(3);
        std::normal_distribution<double> noise(0, 0.03);
        int inside = 0, fitted = 0;
        for (int round = 0; round < 2000; ++round) {
            std::vector<MaximalPower> efforts;
            for (const double t : {180.0, 420.0, 1200.0})
                efforts.push_back({t, (20000 / t + 240) * (1 + noise(dice)), static_cast<long long>(t)});
            const auto fit = fitCriticalPower(efforts);
            if (!fit)
                continue;
            ++fitted;
            inside += fit->power.low <= 240 && fit->power.high >= 240 ? 1 : 0;
        }
        QVERIFY2(fitted > 1900 && inside >= 0.93 * fitted,
                 qPrintable(QString("%1 of %2").arg(inside).arg(fitted)));
    }
    void effortsOfOneOccasionAreOne() {
        // The best 3 and 6 minutes lie inside the 12: nothing can be learned from them beside it.
        const auto fit =
            fitCriticalPower(std::vector<MaximalPower>{{180, 340, 1}, {360, 300, 1}, {720, 265, 1}});
        QVERIFY(!fit && fit.error().sentence.find("there is one") != std::string::npos);
    }
    void effortsThatCannotTellAreRefused_data() {
        QTest::addColumn<QList<double>>("seconds");
        QTest::addColumn<QList<double>>("power");
        QTest::addColumn<QString>("says");
        QTest::newRow("none") << QList<double>{} << QList<double>{} << "there are none";
        QTest::newRow("too short and too long")
            << QList<double>{30, 60, 3600} << QList<double>{600, 450, 250} << "there are none";
        QTest::newRow("two lengths") << QList<double>{180, 180, 600} << QList<double>{350, 360, 300}
                                     << "are two";
        QTest::newRow("all alike") << QList<double>{300, 350, 400} << QList<double>{330, 320, 310}
                                   << "too alike";
        QTest::newRow("rising with length")
            << QList<double>{180, 400, 1200} << QList<double>{250, 260, 270} << "all out";
        QTest::newRow("too much work")
            << QList<double>{180, 400, 1200} << QList<double>{600, 400, 300} << "5 to 40 kJ";
    }
    void effortsThatCannotTellAreRefused() {
        QFETCH(QList<double>, seconds);
        QFETCH(QList<double>, power);
        QFETCH(QString, says);
        std::vector<MaximalPower> points;
        for (qsizetype i = 0; i < seconds.size(); ++i)
            points.push_back({seconds[i], power[i], i});
        const auto fit = fitCriticalPower(points);
        QVERIFY(!fit);
        QVERIFY2(QString::fromStdString(fit.error().sentence).contains(says), fit.error().sentence.c_str());
    }

    void thresholdFromATest_data() {
        QTest::addColumn<int>("protocol");
        QTest::addColumn<double>("value");
        QTest::addColumn<double>("threshold");
        // Common practice: 95 % of 20 minutes, 75 % of the best ramp minute, the hour itself
        QTest::newRow("20 min") << int(Protocol::TwentyMinutes) << 300.0 << 285.0;
        QTest::newRow("ramp") << int(Protocol::Ramp) << 400.0 << 300.0;
        QTest::newRow("hour") << int(Protocol::Hour) << 280.0 << 280.0;
        QTest::newRow("climb says nothing") << int(Protocol::Climb) << 280.0 << 0.0;
        QTest::newRow("sprint says nothing") << int(Protocol::Sprint5s) << 900.0 << 0.0;
    }
    void thresholdFromATest() {
        QFETCH(int, protocol);
        QFETCH(double, value);
        QFETCH(double, threshold);
        const auto t = thresholdFrom(result(static_cast<Protocol>(protocol), 1, value));
        QCOMPARE(t.has_value(), threshold > 0);
        if (t)
            QVERIFY(std::abs(*t - threshold) < 1e-9);
    }
    void altitudeCorrectsAerobicTestsOnly() {
        TestResult climb = result(Protocol::TwentyMinutes, 1, 250);
        climb.altitudeM = 2000;
        // Bassett et al. 1999 not acclimatised at 2 km: 0.178·8 − 1.43·4 − 4.07·2 + 100 = 87.564 %
        QVERIFY(std::abs(atSeaLevel(climb) - 250 / 0.87564) < 1e-9);
        // What was measured up there holds up there.
        QVERIFY(std::abs(*thresholdFrom(climb) - 0.95 * 250) < 1e-9);
        climb.protocol = Protocol::Power1min; // half of the loss: 1 − 0.12436 / 2
        QVERIFY(std::abs(atSeaLevel(climb) - 250 / 0.93782) < 1e-9);
        climb.altitudeM = 5000; // to 4 km only: 0.178·64 − 1.43·16 − 4.07·4 + 100 = 72.232 %
        climb.protocol = Protocol::TwentyMinutes;
        QVERIFY(std::abs(atSeaLevel(climb) - 250 / 0.72232) < 1e-9);
        climb.altitudeM = 2000;
        climb.protocol = Protocol::Sprint5s;
        QCOMPARE(atSeaLevel(climb), 250.0);
        climb.protocol = Protocol::TwentyMinutes;
        climb.altitudeM = -100;
        QCOMPARE(atSeaLevel(climb), 250.0);
    }
    void aTrendHoldsOneProtocolAndPlace() {
        std::vector<TestResult> all{result(Protocol::TwentyMinutes, 30, 300), result(Protocol::Ramp, 10, 390),
                                    result(Protocol::TwentyMinutes, 5, 290), result(Protocol::Climb, 20, 280),
                                    result(Protocol::Climb, 25, 285)};
        all[3].place = "Dune Crest";
        all[4].place = "Lighthouse Hill";
        all.push_back(result(Protocol::TwentyMinutes, 40, 999));
        all.back().verdict = Verdict::Declined;
        const auto trend = trendOf(all, Protocol::TwentyMinutes, {});
        QCOMPARE(trend.size(), 2U);
        QVERIFY(trend[0].day < trend[1].day);
        QCOMPARE(trendOf(all, Protocol::Climb, "Dune Crest").size(), 1U);
        RiderValues known;
        known.set(Quantity::ThresholdPower, Date{0}, 270);
        known.set(Quantity::Weight, Date{0}, 60);
        const std::string words = describeResult(all[0], all, known);
        QVERIFY2(words.find("+3.4 % since") != std::string::npos &&
                     words.find("5.00 W/kg") != std::string::npos &&
                     words.find("285 W where 270 W holds now") != std::string::npos,
                 words.c_str());
    }
    void impossibleResultsAreNamed() {
        QVERIFY(whyImpossible(result(Protocol::TwentyMinutes, 1, 300)).empty());
        QVERIFY(!whyImpossible(result(Protocol::TwentyMinutes, 1, 3000)).empty());
        QVERIFY(!whyImpossible(result(Protocol::TwentyMinutes, 1, std::nan(""))).empty());
        QVERIFY(!whyImpossible(result(Protocol::AerobicCheck, 1, 30)).empty());
        QVERIFY(whyImpossible(result(Protocol::AerobicCheck, 1, 1.3, 4)).empty());
        QVERIFY(!whyImpossible(result(Protocol::DurabilityCheck, 1, 300, 280)).empty()); // no work between
        TestResult high = result(Protocol::Hour, 1, 300);
        high.altitudeM = 9000;
        QVERIFY(!whyImpossible(high).empty());
    }
    void everyMaximalTestCarriesItsCaution() {
        for (int i = 0; i < protocolCount; ++i) {
            const ProtocolWords& w = wordsFor(static_cast<Protocol>(i));
            QVERIFY(std::string(w.instructions).size() > 60);
            QVERIFY(w.maximal || static_cast<Protocol>(i) == Protocol::AerobicCheck);
            QVERIFY(protocolNamed(w.key) == static_cast<Protocol>(i));
        }
        QVERIFY(std::string(maximalCaution).find("screening") != std::string::npos);
    }
    void testsComeEverySixToEightWeeksAtTheEndOfADeloadWeek() {
        // Common practice: alternate a threshold test and a benchmark climb, near the end of a deload week
        const Date today{1000};
        const std::vector<Date> deloads{Date{1006}, Date{1013}, Date{1041}};
        auto due = testsDue({}, today, deloads, true);
        QCOMPARE(due[0].protocol, Protocol::TwentyMinutes);
        QCOMPARE(due[0].from, today);
        std::vector<TestResult> done{result(Protocol::Ramp, 965, 380),
                                     result(Protocol::AerobicCheck, 990, 1.2, 2)};
        due = testsDue(done, today, deloads, true);
        QCOMPARE(due[0].protocol, Protocol::Climb);
        QCOMPARE(due[0].from, Date{1012}); // the Saturday of the first deload week six weeks on
        QCOMPARE(due[1].from, Date{990 + 21});
        done.push_back(result(Protocol::Climb, 980, 300));
        due = testsDue(done, today, {}, true);
        QCOMPARE(due[0].protocol, Protocol::Ramp); // the threshold test the rider is used to
        QCOMPARE(due[0].from, Date{980 + 56});
        QVERIFY(testsDue(done, today, {}, false).empty());
    }

    void rhythmAndRampFollowTheRider_data() {
        QTest::addColumn<int>("age");
        QTest::addColumn<int>("years");
        QTest::addColumn<bool>("slow");
        QTest::addColumn<bool>("injured");
        QTest::addColumn<double>("fitness");
        QTest::addColumn<int>("build");
        QTest::addColumn<double>("ramp");
        // Common practice throughout
        QTest::newRow("ordinary") << 35 << 5 << false << false << 50.0 << 3 << 5.0;
        QTest::newRow("late fifties") << 58 << 20 << false << false << 60.0 << 2 << 4.0;
        QTest::newRow("slow recoverer") << 30 << 8 << true << false << 60.0 << 2 << 4.0;
        QTest::newRow("injured this year") << 30 << 8 << false << true << 60.0 << 2 << 3.0;
        QTest::newRow("new") << 22 << 1 << false << false << 20.0 << 3 << 4.0;
        QTest::newRow("seasoned and fit") << 33 << 12 << false << false << 85.0 << 4 << 6.0;
        QTest::newRow("seasoned, not fit") << 33 << 12 << false << false << 40.0 << 3 << 5.0;
    }
    void rhythmAndRampFollowTheRider() {
        QFETCH(int, age);
        QFETCH(int, years);
        QFETCH(bool, slow);
        QFETCH(bool, injured);
        QFETCH(double, fitness);
        QFETCH(int, build);
        QFETCH(double, ramp);
        Background b{age, years, slow, {}, fitness};
        b.injuries.push_back({Date{100}, Date{120}, "An old one"});
        if (injured)
            b.injuries.push_back({Date{900}, Date{930}, "Left knee"});
        b.loadKnown = true;
        const Proposal p = proposeRhythm(b, Date{1000});
        QVERIFY(p.offered);
        QCOMPARE(p.buildWeeks, build);
        QCOMPARE(p.ramp, ramp);
        QVERIFY(!p.why.empty());
        QCOMPARE(p.why.front().find("Left knee") != std::string::npos, injured);
    }
    void whoIsInOthersCareGetsNoProposal() {
        const auto why = [](Background b) {
            const Proposal p = proposeRhythm(b, Date{1000});
            return p.offered ? std::string() : p.why.front();
        };
        Background b{35, 5, false, {}, 50};
        QVERIFY(why(b).empty());
        b.age = 17;
        QVERIFY(why(b).find("Under eighteen") == 0);
        b.age = 18;
        QVERIFY(why(b).empty());
        b.injuries = {{Date{900}, std::nullopt, "Left knee"}};
        QVERIFY(why(b).find("Left knee is not over") == 0);
        b.injuries[0].to = Date{999};
        QVERIFY(why(b).empty());
        b.cautions = true;
        QVERIFY(why(b).find("Cautions") == 0);
        b.cautions = false;
        b.loadKnown = false;
        QVERIFY(why(b).find("six weeks") != std::string::npos);
    }
};

MARRAM_SUITE(RiderTest)
#include "tst_rider.moc"
