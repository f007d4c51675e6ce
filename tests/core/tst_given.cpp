// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/block.h"
#include "core/season/frame.h"
#include "support/generator.h"
#include "support/suite.h"

#include <QTest>
#include <set>

using namespace marram;
using namespace marram::test;

/// What invented riders are given from block to block, read as the coach who signs it.
class GivenTest : public QObject {
    Q_OBJECT
    struct Given {
        unsigned seed = 0;
        Season season;
        std::vector<BlockWeek> weeks; ///< block after block, each ridden as meant

        QByteArray on(Date day, const BlockSession& s) const {
            return QString("season %1, %2: %3, %4 min")
                .arg(seed)
                .arg(isoText(day).c_str(), s.family.c_str())
                .arg(s.seconds / 60)
                .toUtf8();
        }
        /// Whether nothing but training lies in a week and near it.
        bool plain(Date week) const {
            for (const Race& r : season.races)
                if (r.date + r.days - 1 >= week - 3 && r.date < week + 9)
                    return false;
            for (const Away& a : season.away)
                if (a.to >= week - 7 && a.from < week + 7)
                    return false;
            return std::none_of(season.weeks.begin(), season.weeks.end(),
                                [&](const WeekPin& p) { return p.start == week; });
        }
        bool builds(size_t w) const { return weeks[w].kind == WeekKind::Build && plain(weeks[w].start); }
    };
    std::vector<Given> all_;
    int blocks_ = 0, unmet_ = 0; ///< blocks, and those that say something can't be met

    static const BlockSession* longRideOf(const BlockWeek& week) {
        const BlockSession* found = nullptr;
        for (const BlockSession& s : week.sessions)
            if (s.role == Role::Long && s.ridden())
                found = &s;
        return found;
    }

    /// A session after an illness.
    struct Back {
        const BlockSession* session;
        int ill, days; ///< days ill, and since
        QByteArray said;
    };
    std::vector<Back> back() const {
        std::vector<Back> found;
        for (const Given& g : all_)
            for (const BlockWeek& week : g.weeks)
                for (const BlockSession& s : week.sessions)
                    for (const Away& a : g.season.away)
                        if (a.why == AwayWhy::Illness && s.date > a.to)
                            found.push_back({&s, a.to - a.from + 1, s.date - a.to, g.on(s.date, s)});
        return found;
    }

private slots:
    void initTestCase() {
        for (unsigned seed = 2000; seed < 2050; ++seed) {
            Given g{seed, Generator(seed).season(), {}};
            const Plan plan = solveSeason(g.season).plan;
            std::vector<DoneRung> done;
            for (Date from = monday(g.season.start); from <= g.season.end; from = from + 28) {
                SessionBlock block = solveBlock(g.season, plan, from, 4, done);
                ++blocks_;
                unmet_ += block.unmet.empty() ? 0 : 1;
                for (BlockWeek& week : block.weeks) {
                    for (const BlockSession& s : week.sessions)
                        if (s.rung > 0)
                            done.push_back({s.date, s.family, s.rung, true});
                    g.weeks.push_back(std::move(week));
                }
            }
            all_.push_back(std::move(g));
        }
    }

    void whatASeasonAsksItsSessionsHold() {
        // S21, over any four weeks of a season, breaks, tapers and weeks of racing among them.
        QVERIFY(blocks_ > 400);
        QVERIFY2(unmet_ * 100 <= 4 * blocks_, qPrintable(QString("%1 of %2").arg(unmet_).arg(blocks_)));
    }

    void aWeekOffTheCoachSetIsOffInATaperToo() {
        Season s = Generator(2000).season();
        s.races = {{"Point", s.start + 7 * 16 + 6, Priority::A, 200.0, 1, std::nullopt, Demand::Road}};
        s.end = s.start + 7 * 18 - 1;
        s.away.clear();
        s.weeks = {{monday(s.start) + 7 * 15, std::nullopt, WeekKind::Break}};
        const Plan plan = solveSeason(s).plan;
        for (const PlannedDay& d : plan.days)
            if (d.date >= s.weeks[0].start && d.date < s.weeks[0].start + 7)
                QVERIFY2(d.stress < 1e-9 && d.hours < 1e-9, qPrintable(isoText(d.date).c_str()));
    }

    void tempoLateInTheLongRideRarelyShrinksInsideABlock() {
        // sessions.md §2, common practice: it never shrinks inside a block's build weeks. Where the split
        // can't be met otherwise it may; before it did in one of seven.
        int pairs = 0, less = 0;
        for (const Given& g : all_)
            for (size_t w = 1; w < g.weeks.size(); ++w) {
                const BlockSession *one = longRideOf(g.weeks[w - 1]), *two = longRideOf(g.weeks[w]);
                if (!g.builds(w) || !g.builds(w - 1) || !one || !two || one->family != two->family)
                    continue;
                ++pairs;
                less += two->rung < one->rung ? 1 : 0;
            }
        QVERIFY(pairs > 300);
        QVERIFY2(less * 100 <= 8 * pairs, qPrintable(QString("%1 of %2").arg(less).arg(pairs)));
    }

    void oneHardDayAWeekBuildsOnTheLast() {
        int looked = 0, hopping = 0;
        for (const Given& g : all_)
            for (size_t w = 0; w + 2 < g.weeks.size(); ++w) {
                std::set<std::string> families;
                bool single = true;
                for (size_t i = w; i < w + 3; ++i) {
                    int hard = 0;
                    for (const BlockSession& s : g.weeks[i].sessions)
                        if (s.role == Role::Hard) {
                            ++hard;
                            families.insert(s.family);
                        }
                    single = single && g.builds(i) && hard == 1;
                }
                looked += single ? 1 : 0;
                hopping += single && families.size() == 3 ? 1 : 0;
            }
        QVERIFY(looked > 20);
        QVERIFY2(hopping * 100 <= 12 * looked, qPrintable(QString("%1 of %2").arg(hopping).arg(looked)));
    }

    void aShortRideIsNotCalledLong() {
        for (const Given& g : all_)
            for (const BlockWeek& week : g.weeks)
                for (const BlockSession& s : week.sessions)
                    if (s.family == "long ride" && week.kind != WeekKind::Build)
                        QVERIFY2(s.seconds >= 75 * 60, g.on(s.date, s));
    }

    void theDayBeforeARaceIsShortAndHasItsOpeners() {
        // sessions.md §2, common practice: 45 to 60 min easy with a few short efforts.
        // A rider whose hours all lie on that day rides a little longer.
        int looked = 0, longer = 0;
        for (const Given& g : all_)
            for (const BlockWeek& week : g.weeks)
                for (const BlockSession& s : week.sessions)
                    if (s.role == Role::Openers && week.kind != WeekKind::Build && !s.pinned) {
                        ++looked;
                        longer += s.seconds > 75 * 60 ? 1 : 0;
                        QVERIFY2(s.seconds <= 100 * 60, g.on(s.date, s));
                        QVERIFY2(s.family != "openers" || s.figures.workSeconds > 0, g.on(s.date, s));
                    }
        QVERIFY(looked > 40 && longer * 50 <= looked);
    }

    void nobodyRidesForHoursOnTheDayBeforeARace() {
        // Common practice, also where the race is only training: in one of six it was over two and a half
        // hours. A Monday's race has another week's Sunday before it.
        int looked = 0;
        for (const Given& g : all_)
            for (const BlockWeek& week : g.weeks)
                for (const BlockSession& s : week.sessions)
                    for (const Race& r : g.season.races)
                        if (r.date == s.date + 1 && r.priority == Priority::C && weekday(r.date) > 0 &&
                            s.ridden()) {
                            ++looked;
                            QVERIFY2(s.seconds <= 155 * 60, g.on(s.date, s));
                        }
        QVERIFY2(looked > 30, qPrintable(QString::number(looked)));
    }

    void firstRidesAfterIllnessAreShort() {
        // Common practice: an hour at most on the first day back, an hour and a half on the next two; after
        // fewer than five days ill one short ride (after four, five hours stood on the Sunday before).
        int looked = 0, brief = 0;
        for (const Back& b : back())
            if (b.session->ridden() && b.ill >= 5 && b.days <= 3) {
                ++looked;
                QVERIFY2(b.session->seconds <= (b.days == 1 ? 65 : 95) * 60, b.said);
            } else if (b.session->ridden() && b.ill < 5 && b.days == 1) {
                ++brief;
                QVERIFY2(b.session->seconds <= (b.ill >= 3 ? 65 : 95) * 60, b.said);
            }
        QVERIFY2(looked > 15 && brief > 5, qPrintable(QString("%1 %2").arg(looked).arg(brief)));
    }

    void nothingIsHardForAWeekAfterIllnessNorMeasuredForThree() {
        // Common practice. A maximal test stood on the sixth day after ten days of illness before.
        int looked = 0;
        for (const Back& b : back())
            if (b.ill >= 5 && b.days <= 21) {
                ++looked;
                QVERIFY2(b.session->role != Role::Test && (b.session->role != Role::Hard || b.days > 7),
                         b.said);
            }
        QVERIFY(looked > 100);
    }

    void aDeloadWithAMaximalTestHasNoOtherHighWork() {
        // Common practice: the test is what the week has of it. Two of five rides were all out before.
        int deloads = 0;
        for (const Given& g : all_)
            for (const BlockWeek& week : g.weeks) {
                const bool tested =
                    std::any_of(week.sessions.begin(), week.sessions.end(),
                                [](const BlockSession& s) { return s.family == "threshold test"; });
                if (week.kind != WeekKind::Deload || !tested)
                    continue;
                ++deloads;
                for (const BlockSession& s : week.sessions)
                    if (s.ridden() && s.family != "threshold test")
                        QVERIFY2(s.figures.purpose.high <= 300, g.on(s.date, s));
            }
        QVERIFY2(deloads > 40, qPrintable(QString::number(deloads)));
    }

    void newcomersHaveNoMaximalTestInEightWeeks() {
        int newcomers = 0, tests = 0;
        for (const Given& g : all_) {
            if (!comesFromNothing(g.season))
                continue;
            ++newcomers;
            for (const BlockWeek& week : g.weeks)
                for (const BlockSession& s : week.sessions)
                    if (s.role == Role::Test && week.start < g.season.start + 56) {
                        ++tests;
                        QVERIFY2(s.family != "threshold test", g.on(s.date, s));
                    }
        }
        QVERIFY(newcomers > 5 && tests > 5);
    }
};

MARRAM_SUITE(GivenTest)
#include "tst_given.moc"
