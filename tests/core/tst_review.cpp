// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/attention.h"
#include "core/review/checkin.h"
#include "core/review/history.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace marram;

namespace {

const Date today{1000};

Standing calm() {
    Standing s;
    s.today = today;
    s.state = {50, 48};
    s.lastRide = today - 1;
    s.thresholdFrom = today - 20;
    s.nextRace = "Point";
    s.nextRaceDay = today + 60;
    return s;
}

CheckIn felt(int daysAgo, int all) {
    CheckIn c;
    c.day = today - daysAgo;
    c.feel = c.sleep = c.soreness = c.motivation = all;
    return c;
}

TestResult check(int day, double efficiency, double drift = 3) {
    TestResult r;
    r.protocol = Protocol::AerobicCheck;
    r.day = Date{day};
    r.value = efficiency;
    r.second = drift;
    r.verdict = Verdict::Accepted;
    return r;
}

} // namespace

/// All sentences after one another.
std::string said(const std::vector<Concern>& all) {
    std::string text;
    for (const Concern& c : all)
        text += c.sentence;
    return text;
}

class ReviewTest : public QObject {
    Q_OBJECT
private slots:
    /// The rules of whom to look at (common practice), each alone.
    void everyReasonIsSaid_data() {
        QTest::addColumn<int>("rule");
        QTest::addColumn<QString>("says");
        QTest::addColumn<int>("urgency");
        int rule = 0;
        for (const auto& [says, urgency] :
             std::vector<std::pair<const char*, int>>{{"On course: Point is in 60 days", 1},
                                                      {"Ill on", 100},
                                                      {"miss its gate by 4.0", 90},
                                                      {"Form is −40", 85},
                                                      {"Check-ins fell", 80},
                                                      {"rose by 8.0 in a week, over the limit of 6.0", 70},
                                                      {"key session of", 60},
                                                      {"2 key sessions", 60},
                                                      {"No ride for 5 days", 50},
                                                      {"No threshold power yet", 45},
                                                      {"is due", 40},
                                                      {"10 weeks ago", 35},
                                                      {"3 easy sessions were", 30},
                                                      {"Nothing ridden yet", 20}})
            QTest::addRow("%d %s", rule, says) << rule << QString(says) << urgency, ++rule;
    }
    void everyReasonIsSaid() {
        QFETCH(int, rule);
        QFETCH(QString, says);
        QFETCH(int, urgency);
        Standing s = calm();
        switch (rule) {
        case 1:
            s.checkIns = {{100, "Ill on 3 May: no hard work."}};
            break;
        case 2:
            s.nextRaceDay = today + 9;
            s.raceMiss = 4;
            break;
        case 3:
            s.state = {50, 90};
            break;
        case 4:
            s.checkIns = {{80, "Check-ins fell from 4.0 to 2.5."}};
            break;
        case 5:
            s.ramp = 8;
            break;
        case 6:
            s.missedKey = {today - 3};
            break;
        case 7:
            s.missedKey = {today - 3, today - 1};
            break;
        case 8:
            s.lastRide = today - 5;
            break;
        case 9:
            s.thresholdFrom.reset();
            break;
        case 10:
            s.testDue = "Benchmark climb is due.";
            break;
        case 11:
            s.thresholdFrom = today - 70;
            break;
        case 12:
            s.missedOther = 3;
            break;
        case 13:
            s.lastRide.reset();
            break;
        default:
            break;
        }
        const auto reasons = reasonsToLook(s);
        QCOMPARE(reasons.front().urgency, urgency);
        QVERIFY2(QString::fromStdString(reasons.front().sentence).contains(says),
                 reasons.front().sentence.c_str());
        QVERIFY(std::is_sorted(reasons.begin(), reasons.end(),
                               [](const Reason& a, const Reason& b) { return a.urgency > b.urgency; }));
    }
    void limitsAreWhereTheyAreSaidToBe() {
        const auto top = [](const Standing& s) { return reasonsToLook(s).front().urgency; };
        Standing s = calm();
        s.lastRide = today - 3;
        QCOMPARE(top(s), 1);
        s.lastRide = today - 4;
        QCOMPARE(top(s), 50);
        s.away = true; // a holiday is no missing ride
        QVERIFY(top(s) < 50);
        s = calm();
        s.thresholdFrom = today - 56;
        QCOMPARE(top(s), 1);
        s.thresholdFrom = today - 57;
        QCOMPARE(top(s), 35);
        s.hasPower = false; // who has no power meter has no threshold power to grow old
        QCOMPARE(top(s), 1);
        s = calm();
        s.nextRaceDay = today + 15;
        s.raceMiss = 9;
        QCOMPARE(top(s), 1);
        s = calm();
        s.nextRace.reset();
        s.nextRaceDay.reset();
        QCOMPARE(reasonsToLook(s).front().sentence, std::string("No race ahead."));
    }

    void fallingCheckInsAreNoticed() {
        std::vector<CheckIn> all;
        for (int ago = 20; ago >= 3; --ago)
            all.push_back(felt(ago, 4));
        all.push_back(felt(1, 4));
        QVERIFY(checkInConcerns(all, today).empty());
        all.back() = felt(1, 3);
        QVERIFY(said(checkInConcerns(all, today)).find("4.0 to 3.0") != std::string::npos);
        all.back() = felt(1, 4);
        all.back().ill = true;
        QVERIFY(said(checkInConcerns(all, today)).find("doctor") != std::string::npos);
        QCOMPARE(checkInConcerns(all, today).front().urgency, 100);
        QCOMPARE(checkInConcerns(all, today + 3).front().urgency, 75); // within the week
        QVERIFY(checkInConcerns(all, today + 7).empty());
        QVERIFY(checkInConcerns({}, today).empty());
        QVERIFY(checkInConcerns(std::vector<CheckIn>{felt(1, 1)}, today).empty()); // one low day says little
    }
    void eachScaleIsComparedWithItself() {
        // Everything at 5 but soreness, which is always 3; today only soreness is given, and it is 3 again.
        std::vector<CheckIn> all;
        for (int ago = 20; ago >= 3; --ago) {
            all.push_back(felt(ago, 5));
            all.back().soreness = 3;
        }
        CheckIn lone;
        lone.day = today;
        lone.soreness = 3;
        all.push_back(lone);
        QVERIFY(checkInConcerns(all, today).empty());
        all.back().soreness = 2;
        QCOMPARE(said(checkInConcerns(all, today)),
                 std::string("Soreness fell from 3.0 to 2.0 of 5 in three days: ask before anything hard."));
    }
    void threeLowDaysAreAlwaysWorthAWord() {
        std::vector<CheckIn> all;
        for (int ago = 30; ago >= 0; --ago)
            all.push_back(felt(ago, 2)); // never higher, so nothing fell
        const auto low = checkInConcerns(all, today);
        QVERIFY(said(low).find("last three check-ins are at 2.0") != std::string::npos);
        QVERIFY(said(low).find("low for two weeks") != std::string::npos);
        QCOMPARE(low.front().urgency, 92);
        all.back() = felt(0, 3);
        QVERIFY(said(checkInConcerns(all, today)).find("last three") == std::string::npos);
    }
    void restingHeartRateIsJudgedByItsOwnSpread() {
        const auto with = [&](double swing, std::vector<double> now) {
            std::vector<CheckIn> all;
            for (int ago = 25; ago >= 3; --ago) {
                all.push_back(felt(ago, 4));
                all.back().restHeartRate = 50 + (ago % 2 ? swing : -swing);
            }
            for (size_t i = 0; i < now.size(); ++i) {
                all.push_back(felt(static_cast<int>(now.size() - 1 - i), 4));
                all.back().restHeartRate = now[i];
            }
            return said(checkInConcerns(all, today));
        };
        QVERIFY(with(1, {54, 55}).find("4.5 beats") !=
                std::string::npos);         // steady: four beats mean something
        QVERIFY(with(4, {54, 55}).empty()); // swings by eight anyway
        QVERIFY(with(1, {58}).empty());     // a single reading
        QVERIFY(with(1, {51, 51}).empty());
    }
    void weightThatFallsFastIsACautionAndNoDiagnosis() {
        const auto falling = [&](double perWeek, int weeks) {
            std::vector<CheckIn> all;
            for (int ago = 7 * weeks; ago >= 0; --ago) {
                CheckIn c;
                c.day = today - ago;
                c.weightKg = 70 * (1 - perWeek / 100 * (7.0 * weeks - ago) / 7);
                all.push_back(c);
            }
            return said(checkInConcerns(all, today));
        };
        QVERIFY(falling(1.3, 3).find("over 1 % a week") != std::string::npos);
        QVERIFY(falling(0.5, 5).empty());
        const std::string month = falling(1.4, 5);
        QVERIFY(month.find("in a month") != std::string::npos &&
                month.find("does not diagnose") != std::string::npos &&
                month.find("doctor") != std::string::npos);
    }
    void onCourseStandsAlone() {
        Standing s = calm();
        QCOMPARE(reasonsToLook(s).size(), 1U);
        QVERIFY(reasonsToLook(s).front().sentence.find("On course") == 0);
        s.testDue = "Benchmark climb is due.";
        for (const Reason& r : reasonsToLook(s))
            QVERIFY(r.sentence.find("On course") == std::string::npos);
        s = calm();
        s.state = {50, 95};
        s.deepDays = 15;
        QVERIFY(reasonsToLook(s).front().sentence.find("doctor") != std::string::npos);
        s = calm();
        s.loadKnown = false;
        QVERIFY(reasonsToLook(s).front().sentence.find("usual week") != std::string::npos);
    }
    void impossibleCheckInsAreNamed() {
        CheckIn c = felt(0, 5);
        QVERIFY(whyImpossible(c).empty() && !c.empty() && *wellness(c) == 5);
        c.sleep = 6;
        QVERIFY(whyImpossible(c).find("sleep") == 0);
        c = {};
        QVERIFY(c.empty() && !wellness(c));
        c.weightKg = 4;
        QVERIFY(whyImpossible(c).find("weight_kg") == 0);
        c.weightKg.reset();
        c.restHeartRate = 300;
        QVERIFY(whyImpossible(c).find("rest_hr_bpm") == 0);
    }

    void aSpansCurveIsTheBestOfItsRides() {
        std::mt19937 dice(8);
        const std::vector<int> durations{1, 5, 60, 300, 1200, 3600};
        std::vector<std::vector<BestEffort>> bests(60);
        std::vector<RideBests> rides;
        for (int i = 0; i < 60; ++i) {
            double power = 900 + dice() % 400;
            for (const int d : durations) {
                bests[static_cast<size_t>(i)].push_back({d, power, i});
                power *= 0.5 + (dice() % 400) / 1000.0;
            }
            rides.push_back({i, Date{i}, bests[static_cast<size_t>(i)]});
        }
        const auto curve = spanCurve(rides, Date{10}, Date{29});
        QCOMPARE(curve.size(), durations.size());
        for (size_t d = 0; d < durations.size(); ++d) {
            double best = 0;
            for (int i = 10; i <= 29; ++i)
                best = std::max(best, bests[static_cast<size_t>(i)][d].power);
            QCOMPARE(curve[d].power, best);
            QVERIFY(curve[d].day >= Date{10} && curve[d].day <= Date{29});
            QCOMPARE(bests[static_cast<size_t>(curve[d].ride)][d].power, best);
        }
        QVERIFY(spanCurve(rides, Date{200}, Date{300}).empty());
    }
    void bothEndsOfASpanBelongToIt() {
        const std::vector<BestEffort> best{{60, 300, 0}};
        const std::vector<RideBests> rides{{1, Date{10}, best}, {2, Date{20}, {}}};
        QCOMPARE(spanCurve(rides, Date{10}, Date{20}).size(), 1U);
        QCOMPARE(spanCurve(rides, Date{5}, Date{10}).size(), 1U);
        QVERIFY(spanCurve(rides, Date{11}, Date{20}).empty()); // a ride without power has no bests
        QVERIFY(spanCurve(rides, Date{20}, Date{10}).empty()); // a span the wrong way round holds nothing
    }
    void aCurveNeverRises() {
        // A long ride that starts after the shorter durations were cut off must not lie over them.
        const std::vector<BestEffort> a{{60, 300, 0}, {300, 250, 0}}, b{{300, 320, 5}};
        const auto curve =
            spanCurve(std::vector<RideBests>{{1, Date{1}, a}, {2, Date{2}, b}}, Date{0}, Date{9});
        QCOMPARE(curve[0].power, 320.0);
        QCOMPARE(curve[0].ride, 2);
        QCOMPARE(curve[0].seconds, 60);
    }
    void improvementComparesHalfAYearWithTheYearBefore() {
        const std::vector<BestEffort> old{{5, 1000, 0}, {60, 500, 0}, {300, 300, 0}, {1200, 250, 0}};
        const std::vector<BestEffort> now{{5, 1003, 0}, {60, 550, 0}, {300, 290, 0}, {3600, 230, 0}};
        const auto all = improvements(
            std::vector<RideBests>{{1, today - 200, old}, {2, today - 10, now}, {3, today - 900, now}},
            today);
        QCOMPARE(all.size(), 5U);
        QCOMPARE(all[0].words, std::string("the same"));
        QCOMPARE(all[1].words, std::string("up 10.0 %"));
        QCOMPARE(all[2].words, std::string("down 3.3 %"));
        QCOMPARE(all[3].words, std::string("nothing lately"));
        QCOMPARE(all[4].words, std::string("first record"));
        QCOMPARE(all[1].now->ride, 2);
    }
    void aPlateauOfEfficiencyIsSaidInWords() {
        // Common practice: efficiency that has stopped rising over successive checks has used the stimulus up
        std::vector<TestResult> checks{check(10, 1.20), check(40, 1.25)};
        QVERIFY(!aerobicTrend(checks).plateau);
        QVERIFY(aerobicTrend(checks).words.find("From three checks") != std::string::npos);
        checks.push_back(check(70, 1.30));
        QVERIFY(!aerobicTrend(checks).plateau);
        checks.push_back(check(100, 1.305));
        QVERIFY(!aerobicTrend(checks).plateau); // the one before it still rose
        checks.push_back(check(130, 1.30, 6));
        const AerobicTrend t = aerobicTrend(checks);
        QVERIFY(t.plateau && t.words.find("tempo or sub-threshold") != std::string::npos);
        QVERIFY(t.words.find("under 5 % is good") != std::string::npos);
        QVERIFY(aerobicTrend({}).words.find("No aerobic check yet") == 0);
    }
    void durabilityIsComparedWithTheTimeBefore() {
        TestResult a = check(10, 300, 276), b = check(80, 300, 285);
        a.protocol = b.protocol = Protocol::DurabilityCheck;
        a.workKj = b.workKj = 2000;
        QCOMPARE(durabilityLoss(a), 8.0);
        QVERIFY(durabilityTrend(std::vector<TestResult>{a}).words.find("lost 8.0 %.") != std::string::npos);
        QVERIFY(
            durabilityTrend(std::vector<TestResult>{a, b}).words.find("lost 5.0 %, less than the 8.0 %") !=
            std::string::npos);
    }
    void durationsReadAsCoachesSayThem() {
        QCOMPARE(durationText(5), std::string("5 s"));
        QCOMPARE(durationText(60), std::string("1 min"));
        QCOMPARE(durationText(75), std::string("1 min 15 s"));
        QCOMPARE(durationText(3600), std::string("1 h"));
        QCOMPARE(durationText(5400), std::string("1 h 30"));
    }
};

QTEST_APPLESS_MAIN(ReviewTest)
#include "tst_review.moc"
