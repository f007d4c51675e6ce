// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/attention.h"
#include "core/review/checkin.h"
#include "core/review/history.h"
#include "core/review/review.h"
#include "support/suite.h"

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
    void improvementComparesTheSameMonthsAYearApart() {
        std::vector<std::vector<BestEffort>> efforts;
        std::vector<RideBests> rides;
        efforts.reserve(40);
        const auto ride = [&](int ago, double five, double minute) {
            efforts.push_back({{5, five, 0}, {60, minute, 0}});
            rides.push_back({static_cast<long long>(rides.size()), today - ago, efforts.back()});
        };
        for (const double w : {500.0, 490.0, 480.0, 300.0})
            ride(10, 1000, 1.1 * w);
        for (const double w : {500.0, 490.0, 480.0})
            ride(375, 1010, w);
        ride(300, 2000, 2000); // of other months: says nothing
        const auto all = improvements(rides, today);
        QCOMPARE(all.size(), 5U);
        // Means of three; of the four lately every choice of three counts, for there are three a year before.
        QVERIFY(*all[1].now < 539 && std::abs(*all[1].before - 490) < 1e-9);
        QVERIFY(all[1].percent && all[1].low <= *all[1].percent && all[1].high >= *all[1].percent);
        QVERIFY(all[0].words.find("no change to be told (−1.0 %, 80 %: ") == 0);
        QCOMPARE(all[4].words, std::string("under three efforts lately"));
        rides.erase(rides.begin() + 5);
        QCOMPARE(improvements(rides, today)[1].words, std::string("under three efforts a year ago"));
        QVERIFY(all[1].best && all[1].best->ride == 0);
    }
    void moreRidesAloneAreNoImprovement_data() {
        QTest::addColumn<int>("lately");
        QTest::addColumn<int>("then");
        QTest::addRow("as many") << 10 << 10;
        QTest::addRow("twenty against six") << 20 << 6;
        QTest::addRow("six against twenty") << 6 << 20;
    }
    void moreRidesAloneAreNoImprovement() {
        // The same legs, another number of rides: the plain best of more is higher, what is said is not. The
        // plain three best of 20 against 6 are 2.3 % higher (simulated, 3 % an effort).
        QFETCH(const int, lately);
        QFETCH(const int, then);
        std::mt19937 dice(4);
        std::normal_distribution<double> day(0, 0.03);
        int cried = 0;
        double sum = 0;
        constexpr int rounds = 200;
        for (int round = 0; round < rounds; ++round) {
            std::vector<std::vector<BestEffort>> efforts;
            efforts.reserve(static_cast<size_t>(lately + then));
            std::vector<RideBests> rides;
            for (int i = 0; i < lately + then; ++i) {
                efforts.push_back({{300, 300 * (1 + day(dice)), 0}});
                rides.push_back({i, today - (i < lately ? 5 + i : 370 + i - lately), efforts.back()});
            }
            const auto i = improvements(rides, today)[2];
            sum += *i.percent;
            cried += i.words.find("no change") == std::string::npos ? 1 : 0;
        }
        QVERIFY2(cried <= rounds / 10, qPrintable(QString::number(cried)));
        QVERIFY2(std::abs(sum / rounds) < 0.5, qPrintable(QString::number(sum / rounds)));
    }
    void whatReallyRoseIsSaid() {
        std::mt19937 dice(9);
        std::normal_distribution<double> day(0, 0.02);
        std::vector<std::vector<BestEffort>> efforts;
        efforts.reserve(30);
        std::vector<RideBests> rides;
        for (int i = 0; i < 30; ++i) {
            efforts.push_back({{300, (i < 15 ? 318.0 : 300.0) * (1 + day(dice)), 0}});
            rides.push_back({i, today - (i < 15 ? 5 + i : 370 + i - 15), efforts.back()});
        }
        const auto i = improvements(rides, today)[2];
        QVERIFY2(i.words.find("up ") == 0 && i.low > 2 && i.high < 10, i.words.c_str());
    }
    void theTrendOfEfficiencySaysHowSureItIs() {
        const auto checks = [&](std::vector<double> values, int apart) {
            std::vector<TestResult> all;
            for (size_t i = 0; i < values.size(); ++i)
                all.push_back(
                    check(today.days - 1 - apart * static_cast<int>(values.size() - 1 - i), values[i]));
            return aerobicTrend(all, today);
        };
        using V = AerobicTrend::Verdict;
        QCOMPARE(checks({1.20, 1.25}, 28).verdict, V::CannotTell);
        QVERIFY(checks({1.20, 1.25}, 28).words.find("takes three checks") != std::string::npos);
        QCOMPARE(checks({1.20, 1.24, 1.27, 1.31, 1.35, 1.38}, 28).verdict, V::Rising);
        const AerobicTrend flat = checks({1.30, 1.31, 1.30, 1.29, 1.30, 1.30}, 28);
        QVERIFY(flat.verdict == V::NotRising &&
                flat.words.find("tempo or sub-threshold") != std::string::npos);
        // Three checks in three weeks can't tell: one varies by 2 %.
        QCOMPARE(checks({1.30, 1.31, 1.32}, 10).verdict, V::CannotTell);
        QVERIFY(checks({1.30, 1.31, 1.32}, 10).words.find("80 %") != std::string::npos);
        // What is half a year old no longer counts.
        QCOMPARE(checks({1.0, 1.1, 1.30, 1.31}, 100).used, 2);
        QVERIFY(aerobicTrend({}, today).words.find("No aerobic check yet") == 0);
        // The slope of a line is the line's: 1.20 → 1.26 over 140 days, ln(1.05)/140 × 30.4 = 1.0594 % a
        // month
        const AerobicTrend line = checks({1.20, 1.20 * std::pow(1.05, 0.5), 1.26}, 70);
        QVERIFY(std::abs(line.slope - 1.0594) < 1e-3);
    }
    void aRisingLineIsMostlySeen() {
        // A simulation: 2 % a month, single checks off by 2 %; and none at all.
        std::mt19937 dice(11);
        std::normal_distribution<double> noise(0, 0.02);
        int rising = 0, falsely = 0;
        for (int round = 0; round < 400; ++round)
            for (const double month : {0.02, 0.0}) {
                std::vector<TestResult> all;
                for (int i = 0; i < 6; ++i)
                    all.push_back(check(today.days - 150 + 30 * i, 1.3 * std::exp(month * i + noise(dice))));
                const bool said = aerobicTrend(all, today).verdict == AerobicTrend::Verdict::Rising;
                (month > 0 ? rising : falsely) += said ? 1 : 0;
            }
        QVERIFY2(rising > 340 && falsely < 60, qPrintable(QString("%1 %2").arg(rising).arg(falsely)));
    }
    void durabilityIsComparedAtLikeWorkOnly() {
        TestResult a = check(10, 300, 270), b = check(80, 300, 291), c = check(150, 300, 285);
        for (TestResult* t : {&a, &b, &c})
            t->protocol = Protocol::DurabilityCheck;
        a.workKj = 2000;
        b.workKj = 2200;
        c.workKj = 1200;
        const auto words = [](std::vector<TestResult> all) { return durabilityTrend(all).words; };
        QCOMPARE(durabilityLoss(a), 10.0);
        QVERIFY(words({a}).find("lost 10.0 %.") != std::string::npos);
        QVERIFY(words({a, b}).find("lost 3.0 %, less than the 10.0 %") != std::string::npos);
        QVERIFY(words({a, b, c}).find("nothing to compare it with") != std::string::npos);
        b.second = 285; // 5 % against 10 %: within five points nothing is told
        QVERIFY(words({a, b}).find("no difference to be told") != std::string::npos);
    }
    void aDayIsJudgedByTheRidersOwnSpread() {
        using V = DayVerdict;
        const DayWork plan{2, 100.0};
        const PlanSpread tight{0.05, 0.05, 40}, loose{0.25, 0.25, 40};
        QCOMPARE(wordsFor(judgeDay(plan, {2, 100.0}, tight)), std::string("as meant"));
        // A fifth longer at the same effort: long for one rider, ordinary for the other.
        QCOMPARE(wordsFor(judgeDay(plan, {2.4, 120.0}, tight)), std::string("longer"));
        QCOMPARE(wordsFor(judgeDay(plan, {2.4, 120.0}, loose)), std::string("as meant"));
        QCOMPARE(wordsFor(judgeDay(plan, {2, 80.0}, tight)), std::string("easier"));
        QCOMPARE(wordsFor(judgeDay(plan, {1.7, 102.0}, tight)), std::string("shorter, harder"));
        QCOMPARE(wordsFor(judgeDay(plan, {0.5, 60.0}, tight)), std::string("another session"));
        QCOMPARE(judgeDay(plan, {2, std::nullopt}, tight).content, V::Content::Unknown);
        QCOMPARE(wordsFor(judgeDay(plan, {}, tight)), std::string("missed"));
        QCOMPARE(wordsFor(judgeDay({}, {1, 40.0}, tight)), std::string("extra"));
        QCOMPARE(wordsFor(judgeDay({}, {}, tight)), std::string("rest"));
    }
    void theSpreadIsLearnedFromTheRidersOwnDays() {
        std::mt19937 dice(2);
        std::normal_distribution<double> off(0, 0.2);
        std::vector<std::pair<DayWork, DayWork>> days;
        for (int i = 0; i < 9; ++i)
            days.push_back({{2, 100.0}, {2, 100.0}});
        QCOMPARE(spreadFromPlan(days).volume, usualSpread.volume); // too few to say
        days.clear();
        for (int i = 0; i < 400; ++i) {
            const double hours = 2 * std::exp(off(dice));
            days.push_back({{2, 100.0}, {hours, 50.0 * hours * std::exp(off(dice) / 2)}});
        }
        const PlanSpread s = spreadFromPlan(days);
        QVERIFY(std::abs(s.volume - 0.2) < 0.03 && std::abs(s.content - 0.1) < 0.02 && s.days == 400);
        // Nine of ten of the rider's own days are as meant in each part.
        int named = 0;
        for (const auto& [plan, ridden] : days)
            named += judgeDay(plan, ridden, s).volume != DayVerdict::Volume::AsMeant ? 1 : 0;
        QVERIFY2(named > 20 && named < 60, qPrintable(QString::number(named)));
    }
    void durationsReadAsCoachesSayThem() {
        QCOMPARE(durationText(5), std::string("5 s"));
        QCOMPARE(durationText(60), std::string("1 min"));
        QCOMPARE(durationText(75), std::string("1 min 15 s"));
        QCOMPARE(durationText(3600), std::string("1 h"));
        QCOMPARE(durationText(5400), std::string("1 h 30"));
    }
};

MARRAM_SUITE(ReviewTest)
#include "tst_review.moc"
