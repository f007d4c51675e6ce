// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/block.h"
#include "core/block/compose.h"
#include "core/session/feel.h"
#include "core/session/reserve.h"
#include "core/session/shorthand.h"
#include "support/generator.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <set>

using namespace marram;
using namespace marram::test;

namespace {

Season roadSeason(Demand demand = Demand::Road) {
    Season s = ordinary();
    s.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    s.before = {46, 46};
    s.races[0].demand = demand;
    return s;
}

SessionPin pinOf(Date day, const char* family, std::optional<int> rung = {}, std::optional<int> minutes = {},
                 const char* words = "") {
    SessionPin p;
    p.date = day;
    p.family = family;
    p.rung = rung;
    p.minutes = minutes;
    p.words = words;
    return p;
}

const BlockSession* on(const SessionBlock& block, Date day) {
    for (const BlockWeek& w : block.weeks)
        for (const BlockSession& s : w.sessions)
            if (s.date == day && s.ridden())
                return &s;
    return nullptr;
}

std::string wordsOn(const SessionBlock& block, Date day) {
    const BlockSession* s = on(block, day);
    return s ? writeShorthand(s->session) : "";
}

/// Weeks of build with hard days in them.
Date buildWeek(const Plan& plan, Phase phase = Phase::Build) {
    for (size_t i = 0; i + 3 < plan.weeks.size(); ++i)
        if (plan.weeks[i].phase == phase && plan.weeks[i].kind == WeekKind::Build &&
            plan.weeks[i + 1].phase == phase)
            return monday(plan.weeks[i].start);
    return {};
}

} // namespace

/// What a coach pins, what a rider may not ride, and what stays when something is changed.
class PinsTest : public QObject {
    Q_OBJECT
    const Season season_ = roadSeason();
    const Plan plan_ = solveSeason(season_).plan;
    const Date week_ = buildWeek(plan_);

    SessionBlock with(const std::vector<SessionPin>& pins, const BlockBasis& basis = {},
                      int weeks = 4) const {
        Season s = season_;
        s.sessions = pins;
        return solveBlock(s, plan_, week_, weeks, basis);
    }

private slots:
    void aPinWins_data() {
        QTest::addColumn<QString>("family");
        QTest::addColumn<int>("rung");
        for (const Family& f : families())
            for (size_t r = 0; r < f.rungs.size(); r += 3)
                if (f.name != "openers" && f.name != "aerobic check")
                    QTest::addRow("%s %zu", f.name.c_str(), r + 1)
                        << QString::fromStdString(f.name) << static_cast<int>(r) + 1;
    }
    void aPinWins() {
        QFETCH(QString, family);
        QFETCH(int, rung);
        const Date day = week_ + 8;
        const SessionBlock block = with({pinOf(day, family.toUtf8(), rung)});
        const BlockSession* s = on(block, day);
        QVERIFY(s);
        QCOMPARE(QString::fromStdString(s->family), family);
        QCOMPARE(s->rung, rung);
        QVERIFY(s->pinned);
        // Its work is in it, whole.
        const auto& work = rungOf(*familyNamed(family.toStdString()), static_cast<size_t>(rung - 1)).items;
        QVERIFY(std::search(s->session.items.begin(), s->session.items.end(), work.begin(), work.end()) !=
                s->session.items.end());
        QVERIFY(s->seconds % 300 == 0);
    }
    void wordsRestLengthAndGymArePinnedToo() {
        const char* words = "20 min 60, 4 × 4 min 108 with 4 min 50 between, 20 min 60";
        const SessionBlock block =
            with({pinOf(week_ + 1, "", {}, {}, words), pinOf(week_ + 2, "rest"), pinOf(week_ + 3, "strength"),
                  pinOf(week_ + 5, "endurance", {}, 130)});
        QCOMPARE(QString::fromStdString(wordsOn(block, week_ + 1)), QString(words));
        QVERIFY(!on(block, week_ + 2) && !on(block, week_ + 3));
        QCOMPARE(on(block, week_ + 5)->seconds, 130 * 60);
        QCOMPARE(on(block, week_ + 5)->family, std::string("endurance"));
        bool gym = false;
        for (const BlockSession& s : block.weeks[0].sessions)
            gym = gym || (s.date == week_ + 3 && s.family == "strength");
        QVERIFY(gym);
    }
    void theWeekRoundAPinStillComesToItsPoints() {
        const SessionBlock block =
            with({pinOf(week_ + 8, "sprints", 1), pinOf(week_ + 15, "low cadence", 2)});
        for (const BlockWeek& w : block.weeks)
            QVERIFY2(std::abs(w.sum.stress / w.target.stress - 1) < 0.05,
                     qPrintable(QString("%1 of %2").arg(w.sum.stress).arg(w.target.stress)));
    }
    void weeksBeforeAChangeStayAndTheOthersMoveLittle() {
        BlockBasis basis;
        const auto first = std::make_shared<SessionBlock>(with({}, basis));
        basis.last = first;
        basis.touched = week_ + 14;
        const SessionBlock then = with({pinOf(week_ + 15, "threshold", 4)}, basis);
        for (Date d = week_; d < week_ + 14; d = d + 1)
            QCOMPARE(wordsOn(then, d), wordsOn(*first, d));
        QCOMPARE(on(then, week_ + 15)->rung, 4);
        // Nothing changed at all: nothing changes.
        basis.touched = week_ + 40;
        const SessionBlock same = with({}, basis);
        for (Date d = week_; d < week_ + 28; d = d + 1)
            QCOMPARE(wordsOn(same, d), wordsOn(*first, d));
    }
    void anIllRiderRidesOnlyEasily() {
        BlockBasis basis;
        basis.easyUntil = week_ + 10;
        basis.easyWhy = "the rider was marked ill";
        const SessionBlock block = with({pinOf(week_ + 2, "threshold", 3)}, basis);
        int said = 0;
        for (Date d = week_; d < week_ + 10; d = d + 1)
            if (const BlockSession* s = on(block, d)) {
                QVERIFY2(s->figures.workSeconds == 0 || s->family == "endurance with drills",
                         s->title.c_str());
                for (const std::string& b : s->broken)
                    said += b.find("marked ill") != std::string::npos ? 1 : 0;
            }
        QVERIFY(said >= 2);
        bool hard = false;
        for (Date d = week_ + 10; d < week_ + 28; d = d + 1)
            hard = hard || (on(block, d) && on(block, d)->role == Role::Hard);
        QVERIFY(hard);
    }
    void anInjuryKeepsItsFamiliesAway() {
        BlockBasis basis;
        basis.injuries = {"Left knee"};
        const SessionBlock block = with({pinOf(week_ + 1, "jumps and sprints", 1)}, basis, 8);
        for (const BlockWeek& w : block.weeks)
            for (const BlockSession& s : w.sessions)
                QVERIFY(s.family != "jumps and sprints" && s.family != "low cadence");
        QVERIFY(on(block, week_ + 1)->broken.front().find("Left knee") != std::string::npos);
        QVERIFY(excludedBy(*familyNamed("low cadence"), "LEFT KNEE, again"));
        QVERIFY(!excludedBy(*familyNamed("threshold"), "Left knee"));
    }
    void afterIllnessOrAWeekOffItIsTwoRungsDown() {
        BlockBasis basis;
        for (const char* f : {"threshold", "over-unders", "aerobic ceiling short", "just above threshold"})
            basis.done.push_back({week_ - 20, f, 6, true});
        basis.setBacks = {week_ - 6};
        const SessionBlock block = with({}, basis, 1);
        for (const BlockSession& s : block.weeks[0].sessions)
            if (s.role == Role::Hard && s.rung > 0 && (s.family == "threshold" || s.family == "over-unders"))
                QVERIFY2(s.rung == 4 || s.rung == 5, s.title.c_str());
    }
    void aCoachsFamilyIsPlacedAndClimbed() {
        Family mine;
        mine.name = "sand climbs";
        mine.purpose = "the race's last hill";
        mine.grows = "number";
        mine.phases = {"build"};
        mine.own = true;
        for (int n = 3; n <= 8; ++n)
            mine.rungs.push_back(std::to_string(n) + " × 5 min 104 with 4 min 50 between");
        QVERIFY(readRungs(mine).has_value());
        const FamilyBook book = FamilyBook::standard().with({mine});
        BlockBasis basis;
        basis.book = &book;
        int last = 0, often = 0;
        const SessionBlock block = with({}, basis);
        for (const BlockWeek& w : block.weeks)
            for (const BlockSession& s : w.sessions)
                if (s.family == "sand climbs" && w.kind == WeekKind::Build) {
                    QVERIFY(last == 0 || s.rung == last || s.rung == last + 1);
                    last = s.rung;
                    ++often;
                }
        QVERIFY(often >= 1);
        // However much a coach writes into one rung, it is ridden as it is written: more high time than the
        // trade's rungs are given.
        Family much = mine;
        much.rungs = {"65 min 102"};
        QVERIFY(readRungs(much).has_value());
        const FamilyBook heavy = FamilyBook::standard().with({much});
        basis.book = &heavy;
        Season s = roadSeason(Demand::Road);
        s.rules.school = School::Polarised;
        s.rules.hardDays = 1;
        int whole = 0;
        for (const BlockWeek& w : solveBlock(s, solveSeason(s).plan, s.start, 200, basis).weeks)
            for (const BlockSession& x : w.sessions)
                if (x.family == "sand climbs" && w.kind == WeekKind::Build) {
                    QCOMPARE(x.figures.workSeconds, 65 * 60); // its power grows when it comes back
                    ++whole;
                }
        QVERIFY(whole >= 1);
        Family wrong = mine;
        wrong.rungs[2] = "3 × 5 m 104";
        QVERIFY(readRungs(wrong).error().sentence.find("rungs[2], character") == 0);
        // One of the trade's changed takes its place, and the others stay.
        Family tempo = *familyNamed("tempo");
        tempo.rungs = {"30 min 78"};
        QVERIFY(readRungs(tempo).has_value());
        const FamilyBook changed = FamilyBook::standard().with({tempo});
        QCOMPARE(changed.all().size(), families().size());
        QCOMPARE(changed.named("tempo")->work.size(), 1U);
        QVERIFY(changed.named("tempo")->own && !familyNamed("tempo")->own);
    }
    void whatBreaksARuleOfPlacingSaysSo() {
        const auto said = [&](const std::vector<SessionPin>& pins, Date day, const char* what,
                              const BlockBasis& basis = {}) {
            const SessionBlock block = with(pins, basis);
            for (const BlockWeek& w : block.weeks)
                for (const BlockSession& s : w.sessions)
                    for (const std::string& b : s.broken)
                        if (s.date == day && b.find(what) != std::string::npos)
                            return true;
            return false;
        };
        QVERIFY(said({pinOf(week_ + 8, "threshold", 3), pinOf(week_ + 9, "threshold", 3)}, week_ + 9,
                     "hard day straight after"));
        QVERIFY(said({pinOf(week_ + 8, "endurance", {}, 600)}, week_ + 8, "Longer than the day"));
        BlockBasis basis;
        basis.done = {{week_ - 5, "threshold", 3, true}};
        QVERIFY(said({pinOf(week_ + 1, "threshold", 9)}, week_ + 1, "Skips from rung 3 to 9", basis));
        BlockBasis fresh;
        fresh.criticalPower = 250;
        fresh.wPrime = 9000;
        QVERIFY(said({pinOf(week_ + 8, "aerobic ceiling long", 8)}, week_ + 8, "of W′", fresh));
        // Gym in the week of a race, and not the week before last.
        const Date race = season_.races[0].date;
        const auto gym = [&](int before) {
            Season s = season_;
            s.sessions = {pinOf(race - before, "strength")};
            const SessionBlock block = solveBlock(s, plan_, monday(race) - 14, 3, BlockBasis{});
            for (const BlockWeek& w : block.weeks)
                for (const BlockSession& b : w.sessions)
                    if (b.date == race - before)
                        for (const std::string& sentence : b.broken)
                            if (sentence.find("Gym") == 0)
                                return true;
            return false;
        };
        QVERIFY(gym(4) && !gym(9));
    }
    void lateEffortsSprintsAndDrillsFindTheirPlaces() {
        std::set<std::string> seen;
        for (const Demand demand : {Demand::Long, Demand::Road, Demand::Punchy, Demand::Stage}) {
            Season s = roadSeason(demand);
            if (demand == Demand::Punchy)
                s.rules.hardDays = 1; // fewer families leave room for one more
            const Plan plan = solveSeason(s).plan;
            const SessionBlock block = solveBlock(s, plan, s.start, 200);
            for (const BlockWeek& w : block.weeks)
                for (const BlockSession& b : w.sessions) {
                    seen.insert(b.family);
                    if (b.family == "late efforts" && b.ridden()) {
                        // Two hours and more of riding come before the first.
                        int before = 0;
                        for (const UnfoldedStep& u : b.figures.steps) {
                            if (u.work)
                                break;
                            before += u.step.seconds;
                        }
                        QVERIFY(before >= 7200);
                    }
                }
        }
        for (const char* family :
             {"endurance", "endurance with drills", "long ride", "late efforts", "tempo", "threshold",
              "over-unders", "sprints", "strength", "threshold test", "aerobic check"})
            QVERIFY2(seen.contains(family), family);
        QVERIFY(std::any_of(seen.begin(), seen.end(),
                            [](const std::string& f) { return f.starts_with("aerobic ceiling"); }));
    }

    // Skiba et al. 2015: a worked example computed from its equations, CP 250 W, W′ 20 kJ.
    void theReserveIsSpentAndComesBack() {
        const double left = reserveAfter(20000, 20000, 250, 330, 180);
        QVERIFY(std::abs(left - 5600) < 1);
        QVERIFY(std::abs(reserveAfter(left, 20000, 250, 125, 180) - 15330) < 5);
        // Riding at critical power leaves it as it is; it never comes back beyond full.
        QCOMPARE(reserveAfter(9000, 20000, 250, 250, 600), 9000.0);
        QVERIFY(reserveAfter(9000, 20000, 250, 50, 100000) <= 20000);
        const double least = leastReserve(*readShorthand("10 min 50, 3 min 132, 3 min 50"), 250, 250, 20000);
        QVERIFY(std::abs(least - (20000 - 80 * 180) / 20000.0) < 1e-9);
    }
    void targetsBendToWhatTheRidersReserveHolds() {
        const Session hard = *readShorthand("5 × 5 min 112 with 4 min 50 between");
        QCOMPARE(bendToReserve(hard, 250, 250, 40000).points, 0); // plenty
        const Bent bent = bendToReserve(hard, 250, 250, 8000);
        QVERIFY(bent.points > 0 && leastReserve(bent.session, 250, 250, 8000) >= 0.1);
        QVERIFY(leastReserve(bendToReserve(hard, 250, 250, 8000, 0.0).session, 250, 250, 8000) < 0.1);
        QCOMPARE(figuresOf(bent.session).seconds, figuresOf(hard).seconds);
        QVERIFY(readShorthand(writeShorthand(bent.session)) == bent.session); // it can be said
        // In a block: nothing the solver gives leaves less, and where it bent it says so.
        BlockBasis basis;
        basis.criticalPower = 245;
        basis.wPrime = 6500;
        int said = 0;
        const SessionBlock block = with({}, basis, 8);
        for (const BlockWeek& w : block.weeks)
            for (const BlockSession& s : w.sessions)
                if (s.role == Role::Hard && s.ridden()) {
                    QVERIFY2(leastReserve(s.session, season_.thresholdPower, 245, 6500) > 0.05,
                             s.title.c_str());
                    said += s.why.find("points under the rung") != std::string::npos ? 1 : 0;
                }
        QVERIFY(said > 0);
    }
    void aStepIsFeltAndItsHeartArrivesLate() {
        const HeartRateRange range{{48}, {168}, {186}};
        const auto step = [](const char* words) { return readShorthand(words)->items[0].step; };
        QCOMPARE(feelOf(step("30 s 120"), range, 0.77).heartRateFrom, std::nullopt);
        const Feel hard = feelOf(step("8 min 100"), range, 0.77);
        QVERIFY(hard.lags && *hard.heartRateFrom <= 168 && *hard.heartRateTo >= 168);
        QVERIFY(feelWords(hard).find("arrives after 2 minutes") != std::string::npos);
        const Feel easy = feelOf(step("1 h 65"), range, 0.77);
        QVERIFY(!easy.lags && easy.effort == 3 && *easy.heartRateTo < *hard.heartRateFrom);
        QCOMPARE(feelOf(step("10 s all out"), range, 0.77).effort, 10);
        QCOMPARE(feelOf(step("5 min effort 6"), std::nullopt, 0.77).effort, 6);
        int last = 0;
        for (int percent = 45; percent <= 130; percent += 5) { // harder never feels easier
            const int effort =
                feelOf(step(("5 min " + std::to_string(percent)).c_str()), std::nullopt, 0.77).effort;
            QVERIFY(effort >= last);
            last = effort;
        }
        // Joint position statement on nutrition 2016: 30–60 g an hour for 1–2.5 h, up to 90 g beyond.
        QVERIFY(fuelWords(2700).find("Water") == 0);
        QVERIFY(fuelWords(7200).find("30 to 60") != std::string::npos);
        QVERIFY(fuelWords(4 * 3600).find("60 to 90") != std::string::npos);
    }
};

MARRAM_SUITE(PinsTest)
#include "tst_pins.moc"
