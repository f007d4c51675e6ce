// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"
#include "support/generator.h"
#include "support/read_season.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QTest>

using namespace marram;
using namespace marram::test;

/// What riders are given to ride who come back: from illness, from nothing, from a race they lived for. The
/// weeks may carry what they should and still hold one ride of five hours; so the rides are looked at.
class ComingBackTest : public QObject {
    Q_OBJECT

    struct Planned {
        unsigned seed;
        Season season;
        Plan plan;
    };
    std::vector<Planned> all_;

    /// Every day between two of the season that is neither raced nor away.
    template <class Check>
    static void ridden(const Planned& p, Date from, Date to, const Check& check) {
        for (const PlannedDay& day : p.plan.days) {
            const bool away = std::any_of(p.season.away.begin(), p.season.away.end(), [&](const Away& a) {
                return a.from <= day.date && day.date <= a.to;
            });
            if (day.date >= from && day.date <= to && day.role != Role::Race && !away)
                check(day);
        }
    }

    static QByteArray at(const Planned& p, const PlannedDay& day) {
        return "season " + QByteArray::number(p.seed) + ", " + isoText(day.date).c_str() + ": " +
               nameOf(day.role) + ", " + QByteArray::number(day.hours, 'f', 1) + " h";
    }

    static Date lastDay(const Race& race) { return race.date + (race.days - 1); }

private slots:
    void initTestCase() {
        for (unsigned seed = 62000; seed < 62160; ++seed) {
            const Season season = Generator(seed).season();
            all_.push_back({seed, season, solveSeason(season).plan});
        }
    }

    void afterIllnessRidesGrowWithTheWeeks() {
        // Common practice. A rider with hours on Sundays alone came back on the eighth day with the longest
        // ride of their season: the week's half of the load was there, and had nowhere else to go.
        Wrong w;
        for (const Planned& p : all_)
            for (const Away& a : p.season.away) {
                if (a.why != AwayWhy::Illness || a.to - a.from < 4)
                    continue;
                ridden(p, a.to + 1, a.to + 21, [&](const PlannedDay& day) {
                    const int since = day.date - a.to;
                    const double most = since <= 7 ? 2 : since <= 14 ? 3 : 4;
                    // How much of a day's hours is usual is a guess, from the second week on.
                    w.look(day.hours <= most + (since <= 7 ? 0.05 : 0.25), at(p, day));
                });
            }
        QVERIFY2(w.wrong <= w.looked / 100, w.text());
        QVERIFY(w.looked > 400);
    }

    void fromNothingNobodyBeginsWithALongRide() {
        // Common practice: it was three hours on the first Sunday of a rider with a fitness of ten.
        Wrong w;
        for (const Planned& p : all_)
            if (comesFromNothing(p.season))
                ridden(p, p.season.start, p.season.start + 13,
                       [&](const PlannedDay& day) { w.look(day.hours <= 2.55, at(p, day)); });
        QVERIFY2(w.wrong == 0, w.first);
        QVERIFY(w.looked > 300);
    }

    void theWeekAfterAnARaceIsEasyToItsEnd() {
        // Five light days and what is left of that week: six days after the race of the year stood five hours
        // with race starts in them. Two A races of one peak have no such week between them.
        Wrong w;
        for (const Planned& p : all_)
            for (const Race& race : p.season.races) {
                const Date end = lastDay(race), sunday = monday(end + 5) + 6;
                const bool another =
                    std::any_of(p.season.races.begin(), p.season.races.end(), [&](const Race& r) {
                        return r.priority == Priority::A && r.date > race.date && r.date - race.date <= 35;
                    });
                if (race.priority != Priority::A || another)
                    continue;
                ridden(p, end + 1, sunday, [&](const PlannedDay& day) {
                    w.look(day.role != Role::Hard && day.hours <= 3.05, at(p, day));
                });
            }
        QVERIFY2(w.wrong == 0, w.first);
        QVERIFY(w.looked > 800);
    }

    void whatCostMostOfAWeekIsFollowedByNoLongRide() {
        // A stage race of 600 points was followed on its eighth day by six hours: the recovery had a long
        // half.
        Wrong w;
        for (const Planned& p : all_)
            for (const Race& race : p.season.races) {
                const PlannedDay* eve = dayOf(p.plan, race.date - 1);
                const int days =
                    eve ? recoveryOf(raceStress(race), eve->fitness, race.priority == Priority::A) : 0;
                if (days < 6) // by one the fitness guessed beforehand may be another
                    continue;
                ridden(p, lastDay(race) + 1, lastDay(race) + days - 1, [&](const PlannedDay& day) {
                    if (weekOf(p.plan, day.date)->kind == WeekKind::Recovery)
                        w.look(day.hours <= 3.05, at(p, day));
                });
            }
        QVERIFY2(w.wrong == 0, w.first);
        QVERIFY(w.looked > 50);
    }

    void aTestSeldomStandsOnTheDayAfterHours() {
        // Common practice: tests are ridden fresh. Left are weeks whose other days are too short for one, or
        // lie too near to a race.
        Wrong w;
        for (const Planned& p : all_)
            for (size_t i = 1; i < p.plan.days.size(); ++i)
                if (p.plan.days[i].role == Role::Test)
                    w.look(p.plan.days[i - 1].hours < 2.5, at(p, p.plan.days[i]));
        QVERIFY2(w.wrong <= 0.025 * w.looked, w.text());
        QVERIFY(w.looked > 500);
    }

    void inTheWeekOfARaceNothingHardLastsForHours() {
        // Repetitions at 110 % stood in a ride of three hours and a half, five days after a race.
        Wrong w;
        for (const Planned& p : all_)
            for (const PlannedDay& day : p.plan.days)
                if (const PlannedWeek* week = weekOf(p.plan, day.date);
                    day.role == Role::Hard && week && week->kind == WeekKind::Race)
                    w.look(day.hours <= 3.05, at(p, day));
        QVERIFY2(w.wrong == 0, w.first);
        QVERIFY(w.looked > 100);
    }
};

MARRAM_SUITE(ComingBackTest)
#include "tst_coming_back.moc"
