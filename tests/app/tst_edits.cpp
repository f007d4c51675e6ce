// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_canvas.h"
#include "app/season/season_edits.h"
#include "app/season/season_end.h"
#include "app/season/season_scene.h"
#include "app/season/season_tries.h"
#include "records/merge.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QApplication>
#include <QMouseEvent>
#include <QSignalSpy>
#include <QTest>

using namespace marram;
using namespace marram::test;

namespace {

SeasonPicture pictureOf(const Season& s) {
    SeasonPicture p;
    p.season = s;
    p.today = s.start;
    p.plan = solveSeason(s).plan;
    p.hasPlan = true;
    for (const PlannedWeek& w : p.plan.weeks)
        p.planned[monday(w.start)] = layersOf(w.bandHours, w.stress, 0, s.lowThreshold);
    return p;
}

Date edgeInto(const Plan& plan, Phase phase) {
    for (size_t w = 1; w < plan.weeks.size(); ++w)
        if (plan.weeks[w].phase == phase && plan.weeks[w - 1].phase != phase)
            return monday(plan.weeks[w].start);
    return {};
}

} // namespace

/// What hands do to a season, without a window; and the geometry they do it in.
class EditsTest : public QObject {
    Q_OBJECT
    const Season s_ = ordinary();
    const SeasonPicture p_ = pictureOf(s_);

private slots:
    void aPhaseEdgeMovesBothWaysAndThePlanFollows() {
        const Date edge = edgeInto(p_.plan, Phase::Build);
        QVERIFY(edge.days > 0);
        const SeasonEdit earlier = movePhaseEdge(s_, p_.plan, edge, edge - 20);
        const Plan plan = solveSeason(earlier.season).plan;
        QCOMPARE(edgeInto(plan, Phase::Build), edge - 21);
        QVERIFY(earlier.what.contains("build") && earlier.what.contains("begin"));
        const SeasonEdit later = movePhaseEdge(s_, p_.plan, edge, edge + 14);
        QCOMPARE(edgeInto(solveSeason(later.season).plan, Phase::Build), edge + 14);
        // Less than half a week is no move.
        QVERIFY(sameSeason(movePhaseEdge(s_, p_.plan, edge, edge + 2).season, s_));
    }
    void aPinnedPhaseSurvivesFilesAndRosters() {
        const Date edge = edgeInto(p_.plan, Phase::Build);
        const SeasonEdit e = movePhaseEdge(s_, p_.plan, edge, edge + 7);
        QCOMPARE(e.season.weeks.size(), 1U);
        QCOMPARE(e.season.weeks[0].phase, std::optional(Phase::Base));
        // Merged into what another window changed meanwhile.
        Season other = s_;
        other.rules.ramp = 4;
        const Season both = merged(other, s_, e.season);
        QCOMPARE(both.rules.ramp, 4.0);
        QCOMPARE(both.weeks.size(), 1U);
    }
    void aTapersFirstDayIsItsLength() {
        const Date edge = edgeInto(p_.plan, Phase::Taper);
        const SeasonEdit longer = moveTaper(s_, p_.plan, edge, s_.races[0].date - 20);
        QCOMPARE(longer.season.rules.taperDays, 20);
        QCOMPARE(moveTaper(s_, p_.plan, edge, s_.races[0].date - 90).season.rules.taperDays, 28);
        QCOMPARE(moveTaper(s_, p_.plan, edge, s_.races[0].date + 9).season.rules.taperDays, 4);
    }
    void aDeloadGoesToAnotherWeek() {
        Date deload;
        for (const PlannedWeek& w : p_.plan.weeks)
            if (w.kind == WeekKind::Deload && deload.days == 0)
                deload = monday(w.start);
        const SeasonEdit e = moveDeload(s_, deload, deload + 7 + 3);
        const Plan plan = solveSeason(e.season).plan;
        QCOMPARE(weekOf(plan, deload + 7)->kind, WeekKind::Deload);
        QCOMPARE(weekOf(plan, deload)->kind, WeekKind::Build);
        QVERIFY(sameSeason(moveDeload(s_, deload, deload + 3).season, s_));
        QVERIFY(sameSeason(moveDeload(s_, deload, s_.end + 30).season, s_));
    }
    void aWeekCarriesWhatItIsPulledTo() {
        Date build;
        for (const PlannedWeek& w : p_.plan.weeks)
            if (w.kind == WeekKind::Build)
                build = monday(w.start);
        const double before = weekOf(p_.plan, build)->stress;
        const SeasonEdit less = setWeekHeight(s_, p_.plan, build, 0.6 * before);
        const double now = weekOf(solveSeason(less.season).plan, build)->stress;
        QVERIFY2(std::abs(now - 0.6 * before) < 0.06 * before,
                 qPrintable(QString("%1 of %2").arg(now).arg(before)));
        // Steps of three minutes, and never more than a day has.
        for (const double h : *less.season.weeks[0].hours)
            QVERIFY(std::abs(20 * h - std::round(20 * h)) < 1e-9);
        const SeasonEdit most = setWeekHeight(s_, p_.plan, build, 1e9);
        for (const double h : *most.season.weeks[0].hours)
            QVERIFY(h <= 24);
        QVERIFY(sameSeason(setWeekHeight(s_, p_.plan, s_.end + 300, 100).season, s_));
    }
    void daysAwayMoveAndStretchWithinReason() {
        Season s = s_;
        s.away.push_back({s.start + 50, s.start + 56, AwayWhy::Camp, 700});
        QCOMPARE(moveAway(s, 0, 10).season.away[0].from, s.start + 60);
        QCOMPARE(moveAway(s, 0, 10).season.away[0].to, s.start + 66);
        QCOMPARE(moveAway(s, 0, -9999).season.away[0].to, s.start);
        QCOMPARE(moveAway(s, 0, 9999).season.away[0].from, s.end);
        QCOMPARE(stretchAway(s, 0, true, s.start + 45).season.away[0].from, s.start + 45);
        QCOMPARE(stretchAway(s, 0, true, s.start + 99).season.away[0].from, s.start + 56); // a day at least
        QCOMPARE(stretchAway(s, 0, false, s.start + 1).season.away[0].to, s.start + 50);
    }
    void everyEditGivesASeasonThatCanBePlanned() {
        Season s = s_;
        s.away.push_back({s.start + 50, s.start + 56, AwayWhy::Holiday, std::nullopt});
        const Plan plan = solveSeason(s).plan;
        for (int step = -400; step <= 400; step += 37) {
            const Date to = s.start + 120 + step;
            for (const SeasonEdit& e :
                 {moveRace(s, 0, to), movePhaseEdge(s, plan, edgeInto(plan, Phase::Build), to),
                  moveTaper(s, plan, edgeInto(plan, Phase::Taper), to),
                  moveDeload(s, monday(s.start + 28), to), setWeekHeight(s, plan, s.start + 70, step),
                  moveAway(s, 0, step), stretchAway(s, 0, true, to), stretchAway(s, 0, false, to),
                  moveGate(s, plan, 0, true, step), moveGate(s, plan, 0, false, step)}) {
                const auto ok = check(e.season);
                QVERIFY2(ok.has_value(), ok ? "" : ok.error().sentence.c_str());
            }
        }
    }

    void whatTheHandHoldsIsLetGoWhenItsSeasonGoes() {
        SeasonCanvas canvas;
        canvas.resize(900, 600);
        canvas.QWidget::show();
        SeasonPicture p;
        p.subject = 1;
        p.version = 7;
        p.today = s_.start;
        p.season = s_;
        p.season.races.resize(1);
        canvas.show(p);
        QSignalSpy changed(&canvas, &SeasonCanvas::changed), letGo(&canvas, &SeasonCanvas::letGo);
        const auto press = [&](int races, quint64 version, qint64 subject) {
            const QPointF at(canvas.scene().xOf(p.season.races[0].date) + 1,
                             canvas.scene().stakes.center().y());
            QTest::mousePress(&canvas, Qt::LeftButton, {}, at.toPoint());
            QMouseEvent move(QEvent::MouseMove, at - QPointF(60, 0), canvas.mapToGlobal(at - QPointF(60, 0)),
                             Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(&canvas, &move);
            SeasonPicture next = p; // an undo, an import, another rider, with other races
            next.subject = subject;
            next.version = version;
            next.season.races.clear();
            for (int i = 0; i < races; ++i) {
                next.season.races.push_back(p.season.races[0]);
                next.season.races.back().date = p.season.start + 10 + 5 * i;
            }
            canvas.show(next);
            QTest::mouseRelease(&canvas, Qt::LeftButton, {}, at.toPoint() - QPoint(60, 0));
            QCOMPARE(changed.count(), 0);
            canvas.show(p);
        };
        press(0, 8, 1);
        press(12, 8, 1);
        press(3, 7, 2);
        QCOMPARE(letGo.count(), 3);
    }
    void theHandFindsEdgesTopsAndDaysAway() {
        Season s = s_;
        s.away.push_back({s.start + 50, s.start + 63, AwayWhy::Holiday, std::nullopt});
        const SeasonPicture p = pictureOf(s);
        SeasonScene scene;
        scene.layOut(p, QRectF(0, 0, 1000, 720), 14, {60});
        const auto part = [&](double x, double y) { return scene.hit(p, {x, y}).part; };
        const double strip = scene.phases.center().y();
        QCOMPARE(part(scene.xOf(edgeInto(p.plan, Phase::Build)), strip), SeasonHit::Part::PhaseEdge);
        QCOMPARE(part(scene.xOf(edgeInto(p.plan, Phase::Taper)), strip), SeasonHit::Part::TaperEdge);
        int tops = 0, deloads = 0;
        for (const PlannedWeek& w : p.plan.weeks) {
            const double x = scene.xOf(monday(w.start)) + 3.4 * scene.dayWidth();
            tops += part(x, scene.yOfLoad(w.stress)) == SeasonHit::Part::WeekTop ? 1 : 0;
            if (w.kind == WeekKind::Deload)
                deloads += part(x, strip) == SeasonHit::Part::Deload ? 1 : 0;
        }
        QVERIFY(tops > 30 && deloads > 3);
        const QRectF ribbon = scene.ribbonOf(s.away[0]);
        QCOMPARE(part(ribbon.center().x(), ribbon.center().y()), SeasonHit::Part::Away);
        QCOMPARE(part(ribbon.left() + 1, ribbon.center().y()), SeasonHit::Part::AwayFrom);
        QCOMPARE(part(ribbon.right() - 1, ribbon.center().y()), SeasonHit::Part::AwayTo);
        // What has passed cannot be moved.
        SeasonPicture later = p;
        later.today = s.end;
        QVERIFY(scene.hit(later, {scene.xOf(edgeInto(p.plan, Phase::Build)), strip}).part ==
                SeasonHit::Part::Day);
    }
    void zoomingKeepsWhatIsUnderTheHandAndItsBounds() {
        SeasonScene scene;
        scene.layOut(p_, QRectF(0, 0, 1000, 720), 14, {60});
        const Date under = s_.start + 100;
        const double before = scene.xOf(under);
        const Span near = scene.zoomed(0.5, under);
        scene.layOut(p_, QRectF(0, 0, 1000, 720), 14, {60}, near);
        QVERIFY(std::abs(scene.xOf(under) - before) < 2 * scene.dayWidth());
        for (int i = 0; i < 20; ++i)
            scene.layOut(p_, QRectF(0, 0, 1000, 720), 14, {60}, scene.zoomed(0.5, under));
        QCOMPARE(scene.last - scene.first + 1, SeasonScene::shortest);
        for (int i = 0; i < 20; ++i)
            scene.layOut(p_, QRectF(0, 0, 1000, 720), 14, {60}, scene.zoomed(2, under));
        QCOMPARE(scene.last - scene.first + 1, SeasonScene::longest);
        // Races out of sight have no label to take hold of.
        scene.layOut(p_, QRectF(0, 0, 1000, 720), 14, {60}, Span{s_.start, s_.start + 20});
        QVERIFY(!scene.labelOf(0).box.isValid());
    }
    void layersAddUpToWhatAWeekCarries() {
        const Sediment layers = layersOf({6, 1.5, 0.5}, 430, 120, 0.77);
        QVERIFY(std::abs(layers.band.sum() - 430) < 1e-9);
        QCOMPARE(layers.whole, 120.0);
        QVERIFY(layers.band.low > layers.band.middle && layers.band.middle > layers.band.high);
        QCOMPARE(layersOf({}, 80, 0, 0.77).whole, 80.0); // without bands it is one layer
    }

    void whatCanBeTriedCanBePlannedAndDiffers() {
        const auto all = changesToTry(p_, s_.start + 60);
        QVERIFY(all.size() >= 20);
        for (const SeasonTry& t : all) {
            const auto ok = check(t.season);
            QVERIFY2(ok.has_value(), qPrintable(t.name));
            QVERIFY2(!sameSeason(t.season, s_), qPrintable(t.name));
        }
        // The variants of the sheet leave out what the season has already.
        for (const SeasonTry& t : variantsOf(s_))
            QVERIFY2(!sameSeason(t.season, s_), qPrintable(t.name));
        QCOMPARE(variantsOf(s_).size(), 3U + 2U + 2U + 3U);
    }
    void anHourMoreKeepsWhatTheCoachSaidOfAWeek() {
        Season s = s_;
        s.weeks.push_back({s.start + 28, WeekHours{1, 1, 1, 3, 1, 1, 1}, WeekKind::Deload, std::nullopt});
        const SeasonPicture p = pictureOf(s);
        for (const SeasonTry& t : changesToTry(p, s.start))
            if (t.name == "an hour more on Thursdays")
                for (const WeekPin& pin : t.season.weeks) {
                    QCOMPARE((*pin.hours)[3], pin.start == s.start + 28 ? 4.0 : 2.0);
                    if (pin.start == s.start + 28)
                        QCOMPARE(pin.kind, std::optional(WeekKind::Deload));
                }
    }

    void theNextSeasonBeginsWhereTheLastEnds() {
        Season s = s_;
        s.races.push_back(race("Training race", "2027-06-01", Priority::C, 80));
        s.races[0].result = "won";
        s.rules.school = School::Polarised;
        const Season next = nextSeason(s, s.end + 5);
        QCOMPARE(next.start, monday(s.end) + 7);
        QVERIFY(check(next).has_value());
        QCOMPARE(next.races.size(), 1U);
        QCOMPARE(next.races[0].date, s.races[0].date + 364); // the same Sunday a year on
        QVERIFY(next.races[0].result.empty());
        QCOMPARE(next.rules.school, School::Polarised);
        // Years later too, and without a race that falls into it.
        const Season late = nextSeason(s, s.end + 1200);
        QVERIFY(check(late).has_value());
        QVERIFY(late.start >= s.end + 1190 && late.races.size() == 1);
    }
};

MARRAM_WINDOW_SUITE(EditsTest)
#include "tst_edits.moc"
