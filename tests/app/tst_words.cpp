// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/trend_page.h"
#include "app/review/week_page.h"
#include "app/rider/tests_page.h"
#include "app/rider/values_page.h"
#include "app/rides/ride_words.h"
#include "app/rides/zone_bars.h"
#include "app/theme/theme.h"
#include "support/suite.h"

#include <QApplication>
#include <QTest>
#include <QTextDocument>

using namespace marram;

namespace {

QString plain(const QString& html) {
    QTextDocument d;
    d.setHtml(html);
    return d.toPlainText();
}

RiderRecord rider() {
    RiderRecord r;
    r.name = "Ann";
    r.sex = Sex::Female;
    r.born = 1985;
    r.values.set(Quantity::ThresholdPower, Date{20000}, 240);
    r.values.set(Quantity::ThresholdHeartRate, Date{20000}, 168);
    r.values.set(Quantity::RestingHeartRate, Date{20000}, 50);
    r.values.set(Quantity::MaximalHeartRate, Date{20000}, 188);
    return r;
}

/// An hour at 192 W and 140 bpm, by power.
RideRecord hour() {
    RideRecord r;
    r.day = Date{20500};
    r.fileName = "hour.fit";
    r.scoringVersion = scoringVersion;
    r.thresholdPower = 240;
    Score& s = r.score;
    s.duration = 3600;
    s.elapsed = 4000;
    s.meanPower = 190;
    s.work = 684;
    s.equivalentPower = 192;
    s.relativeIntensity = 0.8;
    s.stress = 64;
    s.method = StressMethod::Power;
    s.meanHeartRate = 140;
    s.maxHeartRate = 155;
    s.efficiency = 192.0 / 140;
    s.drift = 3.2;
    s.distance = 31000;
    s.bandSeconds = Bands{1800, 1500, 300};
    s.zoneSeconds = std::array<double, 7>{600, 1200, 900, 600, 300, 0, 0};
    s.faults.heartRate = 4;
    return r;
}

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

/// What the screens say, without a window: every sentence carries the numbers it should.
class WordsTest : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { dress(*qApp, {}); }

    void everyFigureOpensItsDerivation() {
        const QString html = describeRide(hour(), 70);
        static const QRegularExpression link("how:([a-z_]+)");
        QStringList names;
        for (auto it = link.globalMatch(html); it.hasNext();)
            names << it.next().captured(1);
        QCOMPARE(names, (QStringList{"duration", "stress", "equivalent", "mean_power", "heart_rate",
                                     "efficiency", "drift", "distance", "bands"}));
        for (const QString& name : names) {
            const QString how = plain(deriveFigure(name, hour(), rider(), 70));
            QVERIFY2(how.size() > 40, qPrintable(name));
        }
        QVERIFY(deriveFigure("shoe_size", hour(), rider(), 70).isEmpty());
    }
    void derivationsCarryTheNumbers_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QStringList>("says");
        QTest::newRow("stress") << "stress" << QStringList{"100 × 1.0000 × 0.8000²", "64.0", "240 W", "91 %"};
        QTest::newRow("duration") << "duration" << QStringList{"3600 s", "4000 s"};
        QTest::newRow("equivalent") << "equivalent" << QStringList{"192.0 W", "240 W", "0.8000"};
        QTest::newRow("mean") << "mean_power" << QStringList{"684.0 kJ", "190.0 W"};
        QTest::newRow("heart") << "heart_rate" << QStringList{"140.0 bpm", "4 here"};
        QTest::newRow("efficiency") << "efficiency" << QStringList{"192.0 W", "140.0 bpm", "1.371"};
        QTest::newRow("drift") << "drift" << QStringList{"3.20 %"};
        QTest::newRow("bands") << "bands" << QStringList{"185 W", "0.77", "1800, 1500 and 300 s"};
    }
    void derivationsCarryTheNumbers() {
        QFETCH(QString, name);
        QFETCH(QStringList, says);
        const QString how = plain(deriveFigure(name, hour(), rider(), 70));
        for (const QString& each : says)
            QVERIFY2(how.contains(each), qPrintable(how + " lacks " + each));
    }
    void everyMethodSaysSoAndHow() {
        RideRecord r = hour();
        QCOMPARE(methodWords(r.score), QString("power"));
        RiderRecord who = rider();
        r.score.method = StressMethod::HeartRate;
        r.score.relativeIntensity.reset();
        r.score.trainingImpulse = 80;
        r.score.heartRateStress = 70;
        r.score.scale = 0.9;
        r.score.stress = 63;
        QCOMPARE(methodWords(r.score), QString("heart"));
        QString how = plain(deriveFigure("stress", r, who, std::nullopt));
        QVERIFY(how.contains("Banister") && how.contains("not learned yet") && how.contains("63.0"));
        who.scales.heartRate = LearnedScale{0.9, {0.07, 41}, {0.06, 36}, {0.12, 5}, 41};
        how = plain(deriveFigure("stress", r, who, std::nullopt));
        QVERIFY(how.contains("learned from 41 rides") &&
                how.contains("nine of ten steady rides are within 11 %"));
        r.score.shortIntervals = true;
        QCOMPARE(methodWords(r.score), QString("heart")); // heart rate alone also swings in hills
        r.score.intervalsSeen = true;
        QCOMPARE(methodWords(r.score), QString("heart, maybe higher"));
        QVERIFY(plain(deriveFigure("stress", r, who, {})).contains("higher than this"));
        QVERIFY(plain(describeRide(r, {})).contains("may be higher"));
        r.score.method = StressMethod::Effort;
        r.score.effort = 6;
        r.score.scale = 0.2;
        r.score.stress = 72;
        how = plain(deriveFigure("stress", r, who, {}));
        QVERIFY(how.contains("6.0 × 60.0 × 0.2000 = 72.0") && how.contains("common practice"));
        r.score.method = StressMethod::None;
        r.score.stress.reset();
        QCOMPARE(methodWords(r.score), QString("nothing"));
        QVERIFY(plain(describeRide(r, {})).contains("there is no power, heart rate or effort"));
    }
    void aRideSetAsideOrCorrectedSaysSo() {
        RideRecord r = hour();
        QVERIFY(!plain(describeRide(r, {})).contains("counts for nothing"));
        r.excluded = true;
        r.corrections.trimEnd = 60;
        const QString words = plain(describeRide(r, {}));
        QVERIFY(words.contains("counts for nothing") && words.contains("corrected by you"));
        r.fileName = "<script>.fit";
        QVERIFY(!describeRide(r, {}).contains("<script>"));
    }
    void aSpanIsToldInALine() {
        SpanFigures f;
        f.seconds = 300;
        QCOMPARE(describeSpan(f, {60, 360}, 250), QString("1:00–6:00, 5:00"));
        f.meanPower = 275;
        f.meanHeartRate = 171;
        f.leftShare = 0.487;
        f.distance = 2500;
        const QString line = describeSpan(f, {3600, 3900}, 250);
        for (const char* says :
             {"1:00:00–1:05:00", "275 W mean", "110 % of threshold", "171 bpm", "48.7/51.3", "30.0 km/h"})
            QVERIFY2(line.contains(says), qPrintable(line));
        QVERIFY(!describeSpan(f, {0, 300}, 0).contains("% of threshold"));
    }
    void setsAreToldInASentenceEach() {
        Efforts e;
        QVERIFY(describeSets(e).isEmpty());
        for (const double w : {290.0, 280.0, 262.0}) {
            Effort one;
            one.span = {0, 301};
            one.zone = 4;
            one.figures.meanPower = w;
            e.all.push_back(one);
        }
        e.sets.push_back({{0, 1, 2}, 9.6, 2});
        QCOMPARE(describeSets(e),
                 QString("3 × 5 min, zone 5 Aerobic ceiling: power fell 9.6 % to the last; number 3 fell "
                         "out of the zone."));
        e.sets[0].fade = 0.4;
        e.sets[0].leftZone.reset();
        QVERIFY(describeSets(e).endsWith("held to the last."));
        e.sets[0].fade = -4;
        QVERIFY(describeSets(e).contains("rose 4.0 %"));
    }
    void aCheckInIsToldInALine() {
        CheckIn c;
        QVERIFY(describeCheckIn(c).isEmpty());
        c.feel = 4;
        c.soreness = 2;
        c.restHeartRate = 51;
        c.ill = true;
        c.note = "cold";
        QCOMPARE(describeCheckIn(c), QString("feel 4, soreness 2 of 5, resting 51 bpm, ill, “cold”"));
    }
    void zonesAreByPowerElseByHeartRate() {
        Score s = hour().score;
        auto lines = zoneLines(s);
        QCOMPARE(lines.size(), 7U);
        QVERIFY(lines[1].name == "2 Endurance" && std::abs(lines[1].part - 1.0 / 3) < 1e-12);
        s.zoneSeconds.reset();
        s.heartRateZoneSeconds = std::array<double, 5>{0, 0, 0, 0, 0};
        lines = zoneLines(s);
        QVERIFY(lines.size() == 5 && lines[4].part == 0);
        QVERIFY(zoneLines(Score{}).empty());
    }
    void thePowerModelIsExplainedOrRefused() {
        const auto fit =
            fitCriticalPower(std::vector<MaximalPower>{{180, 340, 1}, {480, 285, 2}, {1200, 262, 3}});
        const QString words = plain(describeModel(fit, 250, 65, 310));
        for (const char* says : {"Critical power", "kJ", "96 % of critical power", "250 W is in force",
                                 "4.77 W/kg", "54 to 63 ml/kg/min", "ACSM", "3 % from day to day"})
            QVERIFY2(words.contains(says), qPrintable(words));
        const QString none = plain(describeModel(fitCriticalPower({}), {}, {}, {}));
        QVERIFY(none.contains("three maximal efforts of different length") && !none.contains("oxygen"));
    }
    void whatIsLearnedAndWhatIsOnlyExpectedIsSaid() {
        RiderRecord r = rider();
        const Date day{20700}; // 2026
        QVERIFY(describeScales(r, day).contains("from 8 rides"));
        QVERIFY(!describeScales(r, day).contains("Tanaka"));
        r.values.remove(Quantity::MaximalHeartRate, Date{20000});
        QVERIFY(describeScales(r, day).contains("179 bpm is expected at 41")); // 208 − 0.7 × 41 = 179.3
        QCOMPARE(heartRateRangeOn(r, day)->max.value, 208 - 0.7 * 41);
        r.scales.heartRate = LearnedScale{0.91, {0.06, 30}, {0.05, 25}, {0.1, 5}, 30};
        r.scales.effort = LearnedScale{0.2, {0.15, 12}, {0.15, 12}, {}, 12};
        const QString words = describeScales(r, day);
        QVERIFY(words.contains("0.91") && words.contains("30 rides") &&
                words.contains("nine of ten steady rides within 9 %") &&
                words.contains("too few rides with short intervals (5)") &&
                words.contains("too few steady rides (12)") && words.contains("0.200"));
        r.values.set(Quantity::RestingHeartRate, Date{20000},
                     170); // above threshold: no range, no zones, no impulse
        QVERIFY(!heartRateRangeOn(r, day));
    }
    void testsAreComparedOnlyWithThemselves() {
        std::vector<TestResult> all{result(Protocol::TwentyMinutes, 10, 280),
                                    result(Protocol::TwentyMinutes, 70, 290), result(Protocol::Ramp, 80, 390),
                                    result(Protocol::AerobicCheck, 20, 1.3, 2)};
        TestResult a = result(Protocol::Climb, 30, 270), b = result(Protocol::Climb, 40, 275);
        a.place = "Crest";
        b.place = "Hill & Dale";
        all.push_back(a);
        all.push_back(b);
        const QString words = plain(describeTrends(all));
        QCOMPARE(words.count('\n'), 3); // 20 minutes, ramp, two climbs
        QVERIFY(words.contains("280 W (11 January) → 290 W"));
        QVERIFY(words.contains("Benchmark climb, Hill & Dale: 275 W"));
        QVERIFY(!words.contains("Aerobic"));
        QVERIFY(describeTrends({}).contains("No other test yet"));
    }
    void weeksCountTheirDaysAndCheckIns() {
        const Date today =
            parseDate("2027-01-06").value(); // a Wednesday; the week began in the old year's last days
        std::map<Date, double> ridden{{today, 50}, {today - 2, 70}, {today - 5, 100}, {today - 9, 30}};
        CheckIn c;
        c.day = today - 1;
        c.feel = 2;
        c.sleep = 4;
        CheckIn ill;
        ill.day = today - 6;
        ill.ill = true;
        const auto lines = weekLines(ridden, {ill, c}, today, 3);
        QCOMPARE(lines.size(), 3U);
        // The last seven completed days, today not among them; then weeks that are over.
        QCOMPARE(isoText(lines[0].start), std::string("2026-12-30"));
        QCOMPARE(lines[0].strain.load, 170.0);
        QCOMPARE(isoText(lines[1].start), std::string("2026-12-28"));
        QCOMPARE(lines[1].strain.load, 130.0);
        QCOMPARE(*lines[0].wellness, 3.0);
        QVERIFY(!lines[1].wellness && lines[1].ill == 1);
        QVERIFY(lines[2].strain.load == 0 && !lines[2].strain.monotony);
    }
    void clocksAndDurationsRead() {
        QCOMPARE(preciseClock(0), QString("0:00"));
        QCOMPARE(preciseClock(59), QString("0:59"));
        QCOMPARE(preciseClock(754), QString("12:34"));
        QCOMPARE(preciseClock(3723), QString("1:02:03"));
    }
    void boldIsSemiBold() {
        QCOMPARE(semiBold("a <b>x</b>"), QString("a <span style='font-weight:600'>x</span>"));
    }
};

MARRAM_WINDOW_SUITE(WordsTest)
#include "tst_words.moc"
