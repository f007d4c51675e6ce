// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/monday.h"
#include "support/suite.h"

#include <QRegularExpression>
#include <QTest>
#include <random>

using namespace marram;

namespace {

const Date week = *parseDate("2026-11-16");

/// A rider's week in which nothing happened: ridden as meant but for chance.
MondayFacts ordinary(std::mt19937& random) {
    std::normal_distribution<double> normal(0, 1);
    MondayFacts f;
    f.rider = "Ferrin Otterby";
    f.week = week;
    f.today = week + 7;
    constexpr double hours[]{0, 1.5, 1, 1.5, 0, 3, 2};
    for (int i = 0; i < 7; ++i) {
        for (auto* days : {&f.days, &f.coming}) {
            MondayDay& d = (*days)[static_cast<size_t>(i)];
            d.day = week + i + (days == &f.coming ? 7 : 0);
            d.kept = true;
            d.plannedHours = hours[i];
            d.planned = 55 * hours[i];
            d.role = hours[i] == 0 ? Role::Rest : i == 1 || i == 3 ? Role::Hard : Role::Easy;
            d.meant = d.role == Role::Hard ? "threshold, 3 × 10 min at 95 %" : "endurance";
        }
        MondayDay& d = f.days[static_cast<size_t>(i)];
        d.hours = hours[i] * std::exp(0.11 * normal(random));
        d.ridden = hours[i] > 0 ? std::optional(55 * d.hours) : std::nullopt;
    }
    f.comingKind = "build";
    f.comingPhase = "base";
    for (int back = 0; back < 20; ++back)
        f.weeksBefore.emplace_back(480, 480 * std::exp(0.1 * normal(random)));
    for (int day = -62; day < 7; day += 2)
        f.steady.push_back({week + day, 1.4 * std::exp(0.025 * normal(random)), false});
    for (int day = -60; day < 7; ++day) {
        CheckIn c;
        c.day = week + day;
        c.feel = std::clamp(static_cast<int>(std::lround(3.5 + 0.7 * normal(random))), 1, 5);
        c.sleep = std::clamp(static_cast<int>(std::lround(3.5 + 0.7 * normal(random))), 1, 5);
        f.checkIns.push_back(c);
    }
    for (const int seconds : {60, 300, 1200, 3600}) {
        WeekBest b{seconds, 0, 0, week + 3, 7, 40};
        for (int ride = 0; ride < 44; ++ride)
            (ride < 4 ? b.power : b.before) =
                std::max(ride < 4 ? b.power : b.before, 260 * (1 + 0.03 * normal(random)));
        f.bests.push_back(b);
    }
    f.longest = 3;
    f.longestBefore = 4;
    return f;
}

bool any(const std::vector<std::string>& lines, const char* part) {
    return std::any_of(lines.begin(), lines.end(),
                       [&](const std::string& s) { return s.find(part) != std::string::npos; });
}

std::vector<std::string> cautions(const Monday& m) {
    std::vector<std::string> all;
    for (const Caution& c : m.cautions)
        all.push_back(c.text);
    return all;
}

std::vector<std::string> news(const Monday& m) {
    std::vector<std::string> all;
    for (const ReportLine& l : m.standsOut)
        all.push_back(l.text);
    return all;
}

} // namespace

/// What Monday's page says, and what it does not.
class MondayTest : public QObject {
    Q_OBJECT
private slots:
    void toWhomNothingHappenedThereIsNoNews() {
        std::mt19937 random(3);
        int told = 0, low = 0, cautioned = 0;
        constexpr int weeks = 1000;
        for (int i = 0; i < weeks; ++i) {
            const Monday m = mondayOf(ordinary(random));
            told += m.standsOut.empty() ? 0 : 1;
            low += any(m.felt, "Low: ") ? 1 : 0;
            cautioned += m.cautions.empty() ? 0 : 1;
            QVERIFY(m.done.find("Not ridden") == std::string::npos);
            QCOMPARE(m.say.size(), size_t(3));
        }
        // One rule in a hundred, one in twenty, and a best by over 2 % now and then.
        QVERIFY2(told < weeks / 10, qPrintable(QString::number(told)));
        QVERIFY2(low < weeks / 20, qPrintable(QString::number(low)));
        QVERIFY2(cautioned < weeks / 20, qPrintable(QString::number(cautioned)));
        qInfo("of %d weeks news in %d, low in %d, cautions in %d", weeks, told, low, cautioned);
    }

    void whatReallyChangedIsToldWithItsBand() {
        std::mt19937 random(5);
        int found = 0;
        constexpr int weeks = 200;
        for (int i = 0; i < weeks; ++i) {
            MondayFacts f = ordinary(random);
            for (SteadyRide& r : f.steady)
                if (r.day >= week)
                    r.wattsPerBeat *= 1.08;
            const auto told = news(mondayOf(f));
            found += any(told, "Power per beat") ? 1 : 0;
            for (const std::string& s : told)
                if (s.find("Power per beat") == 0)
                    QVERIFY(s.find("99 %: ") != std::string::npos &&
                            s.find("rides against") != std::string::npos);
        }
        QVERIFY2(found > weeks / 2, qPrintable(QString::number(found)));
    }

    void aMissedDayIsNotOwed() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        f.days[1].hours = 0;
        f.days[1].ridden.reset();
        const Monday m = mondayOf(f);
        QVERIFY(m.done.find("Not ridden: the key session of Tuesday. What is missed is not owed.") !=
                std::string::npos);
        QVERIFY(any(m.say, "leave Tuesday's session where it is"));
        QVERIFY(any(m.comes, "nothing is made up for"));
        // Nor is a day that is still to come missed.
        f.today = week + 1;
        QVERIFY(mondayOf(f).done.find("Not ridden") == std::string::npos);
    }

    void aWeekHardlyRiddenIsNotPraised() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        for (MondayDay& d : f.days) {
            d.hours *= 0.4;
            if (d.ridden)
                d.ridden = *d.ridden * 0.4;
        }
        const Monday m = mondayOf(f);
        QVERIFY(any(m.say, "what is missing is not owed"));
        QVERIFY(any(m.comes, "counts as unloaded"));
        QVERIFY(any(news(m), "19 of 20"));
    }

    void aLowStretchPutsAnEasyDayBeforeTheNextHardOne() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        for (CheckIn& c : f.checkIns)
            if (c.day >= week)
                c.feel = c.sleep = 2;
        const Monday m = mondayOf(f);
        QVERIFY(any(m.felt, "Low: ") && any(m.felt, "A healthy year has two such weeks"));
        QVERIFY(any(m.felt, "an easy day before Tuesday's threshold"));
        QVERIFY(any(m.say, "easy day before anything hard"));
        // With too little to compare with, nothing is said.
        std::erase_if(f.checkIns, [](const CheckIn& c) { return c.day < week - 10; });
        QVERIFY(any(mondayOf(f).felt, "too few, or too short a past"));
        f.checkIns.clear();
        QVERIFY(any(mondayOf(f).felt, "ask"));
    }

    void threePairsTheSameWayAreAFinding() {
        const auto ride = [](int back, double power, double beats) {
            AgainRide a;
            a.day = week - back;
            a.rung = 3;
            a.mark = {power, beats, 1, 3, 3, std::nullopt};
            return a;
        };
        Again again{"threshold", ride(0, 250, 160), {ride(20, 251, 166), ride(30, 249, 165)}};
        QVERIFY(againFinding(again).empty()); // two are only shown
        again.earlier.push_back(ride(40, 252, 167));
        QVERIFY(againFinding(again).find("6 beats less") != std::string::npos);
        again.earlier[1].mark.heartRate = 161; // one of them says nothing
        QVERIFY(againFinding(again).empty());
        again.earlier = {ride(20, 240, 160), ride(30, 241, 161), ride(40, 239, 159)};
        QVERIFY(againFinding(again).find("more power than before") != std::string::npos);
        again.earlier[0].rung = 2; // another rung is shown and not counted
        QVERIFY(againFinding(again).empty());
    }

    void cautionsNameWhomToSee() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        f.days[4].ill = true;
        f.illSpells = 3;
        f.deepDays = 15;
        f.monotony = {2.3, 2.2, 2.4};
        f.age = 16;
        f.needsCare = true;
        const Monday m = mondayOf(f);
        for (const char* part :
             {"two days without fever", "see a doctor", "belongs to a doctor", "3 illnesses in twelve weeks",
              "Monotony over 2", "licensed practitioner", "Under eighteen"})
            QVERIFY2(any(cautions(m), part), part);
        QVERIFY(any(m.say, "Get well first"));
        QVERIFY(letterText(m, "").find("does not diagnose") != std::string::npos);
    }

    void aCautionThatIsNotedStaysNotedUntilItIsWorseOrFourWeeksHavePassed() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        f.illSpells = 3;
        f.deepDays = 15;
        const Monday before = mondayOf(f);
        QCOMPARE(before.cautions.size(), size_t(2));
        const auto deep = std::find_if(before.cautions.begin(), before.cautions.end(),
                                       [](const Caution& c) { return c.code == "form"; });
        QVERIFY(deep != before.cautions.end());
        f.noted = {{deep->code, f.today - 2, deep->measure, "a camp, as meant"}};
        const Monday noted = mondayOf(f);
        QCOMPARE(noted.cautions.size(), size_t(1));
        QCOMPARE(noted.cautions[0].code, std::string("illnesses"));
        QCOMPARE(noted.noted.size(), size_t(1));
        QCOMPARE(noted.noted[0].second.reason, std::string("a camp, as meant"));
        // The rider reads it all the same.
        QCOMPARE(mondayOf(f, Reads::Rider).cautions.size(), size_t(2));
        f.deepDays = 16; // a day more is the same
        QCOMPARE(mondayOf(f).cautions.size(), size_t(1));
        f.deepDays = 18;
        QCOMPARE(mondayOf(f).cautions.size(), size_t(2));
        f.deepDays = 15;
        f.noted[0].day = f.today - 28;
        QCOMPARE(mondayOf(f).cautions.size(), size_t(2));
    }

    void hardWorkTooSoonAfterIllnessIsACaution() {
        std::mt19937 random(1);
        MondayFacts f = ordinary(random);
        const auto hard = std::find_if(f.days.begin(), f.days.end(), [](const MondayDay& d) {
            return d.role == Role::Hard && d.hours > 0;
        });
        QVERIFY(hard != f.days.end());
        const auto ill = [&](int from, int to) { // days before the hard one
            f.checkIns.clear();
            for (int ago = from; ago >= to; --ago) {
                CheckIn c;
                c.day = hard->day - ago;
                c.ill = true;
                f.checkIns.push_back(c);
            }
            return any(cautions(mondayOf(f)), "of illness: as many easy days");
        };
        QVERIFY(ill(5, 3));  // three days ill, the third day after
        QVERIFY(ill(2, 1));  // two ill, the day after
        QVERIFY(!ill(6, 4)); // three ill, three easy days
        QVERIFY(!ill(9, 9));
        f.checkIns.clear();
        QVERIFY(!any(cautions(mondayOf(f)), "of illness"));
    }

    void theLetterBeginsWithTheCoachsWordsAndFitsItsWidth() {
        std::mt19937 random(2);
        MondayFacts f = ordinary(random);
        f.rider = "A & B <b>x</b> Åkerström";
        f.race = MondayFacts::RaceAhead{"Dünenrunde", week + 40, 12, 60, 10, 9, 0.7, Gate{5, 15}};
        const Monday m = mondayOf(f, Reads::Rider);
        const std::string letter = letterText(m, "Well ridden.\nRest now.");
        QVERIFY(letter.find(
                    "A & B <b>x</b> Åkerström\nWeek of 16 November 2026\n\nWell ridden.\nRest now.\n") == 0);
        for (const QString& line : QString::fromStdString(letter).split('\n'))
            QVERIFY2(line.size() <= 78, qPrintable(line));
        // Spoken to, the rider is you.
        for (const char* word : {" their ", " them ", " they "})
            QVERIFY2(letter.find(word) == std::string::npos, word);
        QVERIFY(letterText(m, "").find(m.say[0].substr(0, 20)) != std::string::npos);
        const QRegularExpression weekdays("^(Monday|Tuesday|Wednesday|Thursday|Friday|Saturday|Sunday) ",
                                          QRegularExpression::MultilineOption);
        int days = 0;
        auto found = weekdays.globalMatch(QString::fromStdString(letter));
        while (found.hasNext()) {
            found.next();
            ++days;
        }
        QCOMPARE(days, 14);
    }

    void withoutASeasonOrRidesItStillReads() {
        MondayFacts f;
        f.rider = "Nobody Yet";
        f.week = week;
        f.today = week + 9;
        for (int i = 0; i < 7; ++i) {
            f.days[static_cast<size_t>(i)].day = week + i;
            f.coming[static_cast<size_t>(i)].day = week + 7 + i;
        }
        const Monday m = mondayOf(f);
        QCOMPARE(m.done, std::string("Nothing was ridden."));
        QVERIFY(any(m.comes, "No season covers the week of 23 November"));
        QVERIFY(m.standsOut.empty() && m.cautions.empty() && m.say.size() == 3);
        f.unscored = 30; // nothing is concluded from zero
        QVERIFY(mondayOf(f).did.empty());
    }
};

MARRAM_SUITE(MondayTest)
#include "tst_monday.moc"
