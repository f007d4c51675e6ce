// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/generator.h"
#include "support/read_season.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QRegularExpression>
#include <QTest>
#include <cmath>

using namespace marram;
using namespace marram::test;

/// What a rider is given in the first weeks from nothing and in the last before a race: minutes at which
/// power, whatever the days are called.
class AsRiddenTest : public QObject {
    Q_OBJECT
private slots:
    void fromNothingTempoComesFirst() {
        // After a long lay-off two weeks low only, then tempo once a week (common practice); in any order and
        // school.
        Wrong days, weeks, late;
        for (unsigned seed = 400; seed < 436; ++seed) {
            Season season = any(seed);
            season.layOff = true;
            season.before = {static_cast<double>(seed % 4) * 3, 0};
            season.rules.order = seed % 3 == 0   ? Order::IntensityFirst
                                 : seed % 3 == 1 ? Order::Mixed
                                                 : Order::BaseFirst;
            const Read r = readSeason(seed, season);
            for (const BlockWeek& week : r.block.weeks) {
                int hard = 0;
                bool disturbed = false;
                for (const BlockSession& s : week.sessions) {
                    const bool given =
                        s.role != Role::Test && s.role != Role::Race && s.role != Role::Openers;
                    disturbed = disturbed || !given;
                    if (s.date >= season.start + 28) {
                        late.look(secondsFrom(s, 1) > 0, "none");
                        continue;
                    }
                    hard += given && secondsFrom(s, season.lowThreshold + 0.02) >= 600 ? 1 : 0;
                    if (given)
                        days.look(secondsFrom(s, 0.91) == 0,
                                  r.at(s.date) + " " + QByteArray::fromStdString(s.title));
                }
                if (week.start < season.start + 21 && !disturbed)
                    weeks.look(hard <= (week.start < season.start + 8 ? 0 : 1), r.at(week.start));
            }
        }
        QVERIFY(days.looked > 300 && weeks.looked > 60);
        QVERIFY2(days.wrong == 0, days.text());
        QVERIFY2(weeks.wrong == 0, weeks.text());
        QVERIFY(late.wrong < late.looked); // work above threshold does come
    }

    void aTaperRidesTheIntensityItFollows() {
        // Bosquet et al. 2007: volume falls, intensity is kept.
        Wrong weeks;
        for (unsigned seed = 90000; seed < 90060; ++seed) {
            const Season season = Generator(seed).season();
            if (season.dayCount() > 300)
                continue;
            const Read r = readSeason(seed, season);
            for (const BlockWeek& week : r.block.weeks) {
                if ((week.kind != WeekKind::Taper && week.kind != WeekKind::Race) ||
                    week.target.purpose.high < 300)
                    continue;
                double high = 0;
                for (const BlockSession& s : week.sessions)
                    high += s.role == Role::Race ? 0 : secondsFrom(s, 1.0);
                weeks.look(high >= 60, r.at(week.start));
            }
        }
        QVERIFY(weeks.looked > 60);
        QVERIFY2(weeks.wrong <= 0.05 * weeks.looked, weeks.text());
    }

    void aShortWeekHoldsNoBlockDown() {
        // §2.6: a week may rise over the highest of the last three; one of few hours among them holds nothing
        // down.
        Wrong blocks;
        for (unsigned seed = 90000; seed < 90060; ++seed) {
            Season season = Generator(seed).season();
            season.weeks.clear();
            const Plan usual = solveSeason(season).plan;
            for (size_t w = 4; w + 2 < usual.weeks.size(); ++w) {
                const bool plain =
                    std::all_of(usual.weeks.begin() + static_cast<long>(w) - 2,
                                usual.weeks.begin() + static_cast<long>(w) + 1,
                                [](const PlannedWeek& x) { return x.kind == WeekKind::Build; }) &&
                    usual.weeks[w + 1].kind == WeekKind::Deload && usual.weeks[w + 2].kind == WeekKind::Build;
                if (!plain)
                    continue;
                WeekPin shorter;
                shorter.start = usual.weeks[w].start;
                shorter.hours = season.hours;
                for (double& h : *shorter.hours)
                    h = std::floor(2 * h) / 4;
                season.weeks.push_back(shorter);
                const Plan then = solveSeason(season).plan;
                if (then.weeks[w + 2].kind == WeekKind::Build)
                    blocks.look(then.weeks[w + 2].stress > 0.85 * usual.weeks[w + 2].stress,
                                "season " + QByteArray::number(seed) + ", " +
                                    QByteArray::fromStdString(isoText(usual.weeks[w + 2].start)) + ": " +
                                    QByteArray::number(then.weeks[w + 2].stress) + " of " +
                                    QByteArray::number(usual.weeks[w + 2].stress));
                break;
            }
        }
        QVERIFY(blocks.looked > 20);
        QVERIFY2(blocks.wrong <= 0.05 * blocks.looked, blocks.text());
    }

    void noOtherTaperIsFitterAndNearerItsGate() {
        // §2.8: a length that gives more fitness and meets the gate better than the one taken is a mistake.
        Wrong tapers;
        for (unsigned seed = 90000; seed < 90080; ++seed) {
            Season season = Generator(seed).season();
            std::erase_if(season.races, [](const Race& r) { return r.priority == Priority::B; });
            const auto peak = [](const Race& r) { return r.priority == Priority::A; };
            if (std::count_if(season.races.begin(), season.races.end(), peak) != 1 || season.dayCount() > 300)
                continue;
            const auto at = static_cast<size_t>(std::find_if(season.races.begin(), season.races.end(), peak) -
                                                season.races.begin());
            season.races[at].gate = seed % 2 ? Gate{0, 8} : Gate{-5, 5};
            season.rules.taperSet = false;
            season.rules.taperBest = true;
            const Plan chosen = solveSeason(season).plan;
            const PlannedRace& race = chosen.races[at];
            season.rules.taperSet = true;
            season.rules.taperBest = false;
            for (const int days : {7, 8, 10, 12, 14}) {
                season.rules.taperDays = days;
                const PlannedRace other = solveSeason(season).plan.races[at];
                tapers.look(other.fitness < race.fitness + 0.3 || other.gateMiss > race.gateMiss - 0.3,
                            "season " + QByteArray::number(seed) + ", " + QByteArray::number(days) +
                                " days: fitness " + QByteArray::number(other.fitness) + " for " +
                                QByteArray::number(race.fitness) + ", off by " +
                                QByteArray::number(other.gateMiss) + " for " +
                                QByteArray::number(race.gateMiss));
            }
        }
        QVERIFY(tapers.looked > 60);
        QVERIFY2(tapers.wrong <= 0.02 * tapers.looked, tapers.text());
    }

    void aRiseIsSaidWithFiguresThatShowIt() {
        // S30: no sentence whose own figures contradict it.
        int said = 0;
        for (unsigned seed = 400; seed < 460; ++seed) {
            Season season = any(seed);
            season.layOff = true;
            season.before = {3, 0};
            for (const Relaxed& r : solveSeason(season).plan.relaxed) {
                static const QRegularExpression rise("rises ([0-9.]+) in .*more than (the )?([0-9.]+)");
                const auto match = rise.match(QString::fromStdString(r.text));
                if (!match.hasMatch())
                    continue;
                ++said;
                QVERIFY2(match.captured(1).toDouble() > QString(match.captured(3)).toDouble(),
                         r.text.c_str());
            }
        }
        QVERIFY(said > 20);
    }
};

MARRAM_SUITE(AsRiddenTest)
#include "tst_as_ridden.moc"
