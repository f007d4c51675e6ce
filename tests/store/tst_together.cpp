// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/block.h"
#include "core/session/shorthand.h"
#include "records/addition.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <map>
#include <set>

using namespace marram;
using namespace marram::test;

namespace {

using What = SquadAddition::What;

SquadAddition together(Date day, const char* family = "long ride", int minutes = 150, int times = 1) {
    SquadAddition a;
    a.what = What::Team;
    a.name = "Harbour Saturday";
    a.from = day;
    a.family = family;
    a.minutes = minutes;
    a.times = times;
    return a;
}

/// A season of a road rider with time on every day but Monday.
Season rider() {
    Season s = ordinary();
    s.hours = {0, 1.5, 1.5, 1.5, 1, 4, 3};
    s.before = {50, 50};
    s.races[0].demand = Demand::Road;
    return s;
}

TeamAdvice adviceFor(const Season& season, const SquadAddition& team, const TeamHealth& health = {},
                     std::optional<Date> now = {}) {
    const Plan plan = solveSeason(season).plan;
    return teamAdvice(season, plan, team, health, FamilyBook::standard(), now.value_or(season.start)).front();
}

/// A Monday whose week is of a kind, and not the first.
Date weekOfKind(const Season& season, WeekKind kind) {
    for (const PlannedWeek& w : solveSeason(season).plan.weeks)
        if (w.kind == kind && w.start > season.start + 21)
            return w.start;
    return {};
}

/// What the days of a block are ridden as.
std::map<Date, Role> rolesOf(const SessionBlock& block) {
    std::map<Date, Role> roles;
    for (const BlockWeek& w : block.weeks)
        for (const BlockSession& s : w.sessions)
            if (s.ridden())
                roles[s.date] = s.role;
    return roles;
}

} // namespace

/// What is ridden together: who should, and how the rest of the week makes room.
class TogetherTest : public QObject {
    Q_OBJECT
private slots:
    void whoShouldRideItOtherwiseIsSaidWithTheReason_data() {
        QTest::addColumn<int>("part");
        QTest::addColumn<QString>("why");
        QTest::addColumn<int>("what");
        QTest::newRow("nothing stands against it") << int(TeamPart::AsAsked) << "" << 0;
        QTest::newRow("no time") << int(TeamPart::Not) << "has no time on a Monday" << 1;
        QTest::newRow("less time") << int(TeamPart::Shorter) << "has 1 h 30 that day" << 2;
        QTest::newRow("away") << int(TeamPart::Not) << "is away" << 3;
        QTest::newRow("at a camp") << int(TeamPart::Not) << "is at a camp" << 4;
        QTest::newRow("races") << int(TeamPart::Not) << "races " << 5;
        QTest::newRow("races the day after") << int(TeamPart::Not) << "the day after" << 6;
        QTest::newRow("marked ill") << int(TeamPart::Not) << "is marked ill" << 7;
        QTest::newRow("an injury") << int(TeamPart::Easier) << "not with Left knee" << 8;
        QTest::newRow("under care") << int(TeamPart::Easier) << "under care" << 9;
        QTest::newRow("a minor") << int(TeamPart::Easier) << "before a doctor has cleared it" << 10;
        QTest::newRow("a deload week") << int(TeamPart::Easier) << "has a deload week" << 11;
        QTest::newRow("a session of their own") << int(TeamPart::Not) << "of their own" << 12;
        QTest::newRow("beyond the season") << int(TeamPart::Not) << "has no season then" << 13;
        QTest::newRow("far longer than lately") << int(TeamPart::Shorter) << "at most lately" << 14;
        QTest::newRow("behind") << int(TeamPart::Not) << "lies behind" << 15;
        QTest::newRow("tapers") << int(TeamPart::Shorter) << "tapers" << 16;
        QTest::newRow("a race two days later") << int(TeamPart::Easier) << "2 days later" << 17;
        QTest::newRow("is ill") << int(TeamPart::Not) << "is ill" << 18;
    }
    void whoShouldRideItOtherwiseIsSaidWithTheReason() {
        QFETCH(int, part);
        QFETCH(QString, why);
        QFETCH(int, what);
        Season s = rider();
        const Date week = weekOfKind(s, WeekKind::Build);
        SquadAddition team = together(week + 5);
        TeamHealth health;
        health.longest = 3 * 3600;
        Date today = s.start;
        switch (what) {
        case 1:
            team.from = week;
            break;
        case 2:
            team.from = week + 1;
            break;
        case 3:
            s.away.push_back({week + 4, week + 6, AwayWhy::Holiday, {}});
            break;
        case 4:
            s.away.push_back({week + 4, week + 6, AwayWhy::Camp, {}});
            break;
        case 5:
            team.from = s.races[0].date;
            break;
        case 6:
            team.from = s.races[0].date - 1;
            break;
        case 7:
            health.ill = true;
            today = week + 4;
            break;
        case 8:
            health.injuries = {"Left knee"};
            team = together(week + 5, "low cadence", 120);
            break;
        case 9:
            s.care.set(Care::Heart);
            team = together(week + 5, "threshold", 120);
            break;
        case 10:
            s.born = toCivil(s.start).year - 15;
            team = together(week + 5, "lead-outs", 120);
            break;
        case 11:
            team = together(weekOfKind(s, WeekKind::Deload) + 5, "threshold", 90);
            break;
        case 12: {
            SessionPin own;
            own.date = week + 5;
            own.family = "tempo";
            s.sessions = {own};
            break;
        }
        case 13:
            team.from = s.end + 5;
            break;
        case 14:
            s.hours[5] = 9;
            team.minutes = 540;
            break;
        case 15:
            today = week + 6;
            break;
        case 16:
            team.from = weekOfKind(s, WeekKind::Taper) + 5;
            team.minutes = 240;
            break;
        case 17:
            team = together(s.races[0].date - 2, "threshold", 60);
            break;
        case 18:
            s.away.push_back({week + 4, week + 6, AwayWhy::Illness, {}});
            break;
        default:
            break;
        }
        const TeamAdvice a = adviceFor(s, team, health, today);
        QVERIFY2(int(a.part) == part && QString::fromStdString(a.why).contains(why),
                 qPrintable(QString("%1: %2").arg(int(a.part)).arg(QString::fromStdString(a.why))));
        QVERIFY(a.minutes <= team.minutes);
    }

    void aTestMayStandInADeload() {
        const Season s = rider();
        const auto a = adviceFor(s, together(weekOfKind(s, WeekKind::Deload) + 5, "threshold test", 60),
                                 {{}, {}, 4 * 3600});
        QVERIFY2(a.part == TeamPart::AsAsked, a.why.c_str());
    }

    void theOthersDaysAreKeptAndTheCoachsOwnStay() {
        Season s = rider();
        const Date week = weekOfKind(s, WeekKind::Build);
        SessionPin note;
        note.date = week + 5;
        note.note = "Lights on.";
        s.sessions = {note};
        const SquadAddition team = together(week + 5, "long ride", 150, 2);
        const Plan plan = solveSeason(s).plan;
        const auto advice = teamAdvice(s, plan, team, {}, FamilyBook::standard(), s.start);
        const auto with = withAddition(s, team, advice);
        QVERIFY(with && with->sessions.size() == 2);
        QVERIFY(with->sessions[0].note == "Lights on." && with->sessions[0].team == "Harbour Saturday" &&
                with->sessions[0].minutes == 150);
        // Once more, longer: what is the squad's is the squad's to change.
        SquadAddition longer = team;
        longer.minutes = 180;
        const auto again =
            withAddition(*with, longer, teamAdvice(*with, plan, longer, {}, FamilyBook::standard(), s.start));
        QVERIFY(again && again->sessions.size() == 2 && again->sessions[0].minutes == 180);
        // Nobody who is not to ride gets anything.
        std::vector<TeamAdvice> none = advice;
        for (TeamAdvice& a : none)
            a.part = TeamPart::Not;
        QVERIFY(!withAddition(s, team, none));
    }

    void rulesAreTakenOneByOneAndWhatIsMissedStaysTheRiders() {
        Season s = rider(), other = rider();
        other.rules.ramp = 4;
        other.rules.hardDays = 3;
        other.rules.miss = 0.2;
        other.rules.missRun = 4;
        SquadAddition a;
        a.what = What::Rule;
        a.rule = RuleName::Ramp;
        a.of = other;
        auto with = withAddition(s, a);
        QVERIFY(with && with->rules.ramp == 4 && with->rules.hardDays == s.rules.hardDays);
        QVERIFY(!withAddition(*with, a)); // it is so already
        a.what = What::Rules;
        with = withAddition(s, a);
        QVERIFY(with && with->rules.hardDays == 3 && with->rules.miss == s.rules.miss);
        for (const RuleName rule : allRules) // every rule has a name and a value of its own
            QVERIFY(labelOf(rule).size() > 2 && !valueText(rule, other.rules).empty());
        std::set<QString> names;
        for (const RuleName rule : allRules)
            names.insert(QString::fromStdString(labelOf(rule)));
        QCOMPARE(names.size(), allRules.size());
    }

    void aSeriesOfRacesIsPutOnWhereTheSeasonReaches() {
        const Season s = rider();
        SquadAddition series;
        series.name = "Tide Series";
        series.from = s.end - 20;
        series.times = 10;
        const auto with = withAddition(s, series);
        QVERIFY(with);
        QCOMPARE(with->races.size(), s.races.size() + 3);
        for (size_t i = s.races.size(); i < with->races.size(); ++i)
            QVERIFY(with->races[i].squad == with->races[i].date);
        QVERIFY(!withAddition(*with, series));
    }

    /// Team days thrown on generated seasons: the day is ridden as pinned, no other hard day stands beside a
    /// hard one, and the week does not get a hard day more than it was to have.
    void theRestOfTheWeekMakesRoom() {
        int weeks = 0, hard = 0;
        for (unsigned seed = 1; seed <= 60; ++seed) {
            Season s = any(seed);
            if (!check(s))
                continue;
            const Plan plan = solveSeason(s).plan;
            for (const PlannedWeek& w : plan.weeks) {
                if (w.kind != WeekKind::Build || w.phase != Phase::Build || w.start < s.start ||
                    weekday(w.start) != 0)
                    continue;
                const bool lead = seed % 2 == 0;
                Date day = w.start + 2;
                if (!lead)
                    day = w.start + 5;
                SquadAddition team = lead ? together(day, "lead-outs", 90) : together(day, "long ride", 150);
                const auto advice =
                    teamAdvice(s, plan, team, {false, {}, 6 * 3600}, FamilyBook::standard(), s.start);
                if (advice.front().part != TeamPart::AsAsked)
                    break;
                const auto with = withAddition(s, team, advice);
                QVERIFY(with);
                // The season asks for what it asked for.
                const Plan same = solveSeason(*with).plan;
                for (size_t d = 0; d < plan.days.size(); ++d)
                    QVERIFY(plan.days[d].role == same.days[d].role &&
                            std::abs(plan.days[d].stress - same.days[d].stress) < 1e-6);
                const auto before = rolesOf(solveBlock(s, plan, w.start, 1)),
                           after = rolesOf(solveBlock(*with, plan, w.start, 1));
                const auto count = [](const std::map<Date, Role>& roles, Role role) {
                    int n = 0;
                    for (const auto& [d, r] : roles)
                        n += r == role ? 1 : 0;
                    return n;
                };
                ++weeks;
                QString said;
                for (const auto* roles : {&before, &after}) {
                    for (const auto& [d, r] : *roles)
                        said += QString("%1%2 ").arg(weekday(d)).arg(nameOf(r));
                    said += "| ";
                }
                if (lead) {
                    ++hard;
                    QVERIFY2(after.at(day) == Role::Hard, qPrintable(QString("seed %1").arg(seed)));
                    QVERIFY2(count(after, Role::Hard) <= std::max(1, count(before, Role::Hard)),
                             qPrintable(QString("seed %1: ").arg(seed) + said));
                    for (const int side : {-1, 1}) {
                        const auto beside = after.find(day + side);
                        QVERIFY2(beside == after.end() || beside->second != Role::Hard,
                                 qPrintable(QString("seed %1, beside").arg(seed)));
                    }
                } else {
                    QVERIFY2(after.at(day) == Role::Long, qPrintable(QString("seed %1").arg(seed)));
                    QVERIFY2(count(after, Role::Long) <= std::max(1, count(before, Role::Long)),
                             qPrintable(QString("seed %1").arg(seed)));
                }
                break;
            }
        }
        QVERIFY2(weeks >= 15 && hard >= 5, qPrintable(QString("%1 %2").arg(weeks).arg(hard)));
    }
};

MARRAM_SUITE(TogetherTest)
#include "tst_together.moc"
