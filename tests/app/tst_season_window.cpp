// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/season_window.h"
#include "support/suite.h"

#include <QAction>

using namespace marram;
using namespace marram::test;

/// The season in a real window: moved by hand and by key, its rules set.
class SeasonWindowTest : public SeasonWindow {
    Q_OBJECT
private slots:
    void initTestCase() { openOnTheDemo(); }
    void cleanupTestCase() { closeIt(); }

    void everythingIsMovedByHandSaidPinnedAndUndone() {
        const Season before = season();
        const double strip = canvas().scene().phases.center().y();
        Date edge;
        for (size_t i = 1; i < plan().weeks.size(); ++i)
            if (plan().weeks[i].phase == Phase::Build && plan().weeks[i - 1].phase == Phase::Base)
                edge = monday(plan().weeks[i].start);
        QVERIFY(edge > today_);
        const double x = canvas().scene().xOf(edge), day = canvas().scene().dayWidth();
        // A phase's edge: the words at the hand name it, the races to come, and what they gain or lose.
        const QString said = drag({x, strip}, {x - 14 * day, strip});
        QVERIFY2(said.contains("build") && said.contains("form") && said.contains("fitness"),
                 qPrintable(said));
        QVERIFY(settled());
        QCOMPARE(season().weeks.size(), before.weeks.size() + 2);
        undo();
        QVERIFY(sameSeason(season(), before));
        // A deload.
        const Date deload = weekOfKind(WeekKind::Deload);
        drag(middleOf(deload, strip), middleOf(deload - 7, strip));
        QVERIFY(settled());
        bool moved = false;
        for (const PlannedWeek& w : plan().weeks)
            moved = moved || (monday(w.start) == deload - 7 && w.kind == WeekKind::Deload && w.pinned);
        QVERIFY(moved);
        undo();
        // A week's height.
        const Date build = weekOfKind(WeekKind::Build, 3);
        double stress = 0;
        for (const PlannedWeek& w : plan().weeks)
            if (monday(w.start) == build)
                stress = w.stress;
        const double top = canvas().scene().yOfLoad(stress);
        drag(middleOf(build, top), middleOf(build, canvas().scene().yOfLoad(0.7 * stress)));
        QVERIFY(settled());
        for (const PlannedWeek& w : plan().weeks)
            if (monday(w.start) == build)
                QVERIFY2(std::abs(w.stress - 0.7 * stress) < 0.08 * stress,
                         qPrintable(QString::number(w.stress)));
        undo();
        // The taper's length.
        for (size_t i = 1; i < plan().weeks.size(); ++i)
            if (plan().weeks[i].phase == Phase::Taper && plan().weeks[i - 1].phase != Phase::Taper)
                edge = monday(plan().weeks[i].start);
        const double taper = canvas().scene().xOf(edge);
        drag({taper, strip}, {taper - 5 * day, strip});
        QVERIFY(settled());
        QVERIFY(season().rules.taperDays > before.rules.taperDays);
        undo();
        QVERIFY(sameSeason(season(), before));
    }

    void daysAwayAreMovedAndStretched() {
        const Season before = season();
        QVERIFY(!before.away.empty());
        const QRectF ribbon = canvas().scene().ribbonOf(before.away[0]);
        const double day = canvas().scene().dayWidth();
        drag(ribbon.center(), ribbon.center() + QPointF(-7 * day, 0));
        QVERIFY(settled());
        QCOMPARE(season().away[0].from, before.away[0].from - 7);
        undo();
        drag({ribbon.right() - 2, ribbon.center().y()}, {ribbon.right() - 2 + 4 * day, ribbon.center().y()});
        QVERIFY(settled());
        QCOMPARE(season().away[0].to, before.away[0].to + 4);
        QCOMPARE(season().away[0].from, before.away[0].from);
        undo();
        QVERIFY(sameSeason(season(), before));
    }

    void escapeLetsGoAndNothingIsKept() {
        const int before = steps();
        const Season was = season();
        const Date deload = weekOfKind(WeekKind::Deload);
        const double strip = canvas().scene().phases.center().y();
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, middleOf(deload, strip).toPoint());
        move(middleOf(deload + 14, strip));
        QVERIFY(w_->plans.trying());
        QTest::keyClick(&canvas(), Qt::Key_Escape);
        QVERIFY(!w_->plans.trying());
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, middleOf(deload + 14, strip).toPoint());
        QCOMPARE(steps(), before);
        QVERIFY(sameSeason(season(), was));
    }

    void theSideSaysWhatTheHandDoesOnceItRests() {
        const auto* words = find<QTextBrowser>("seasonWords");
        const Date deload = weekOfKind(WeekKind::Deload);
        const double strip = canvas().scene().phases.center().y();
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, middleOf(deload, strip).toPoint());
        for (const int days : {3, 7, 14})
            move(middleOf(deload + days, strip));
        QVERIFY(canvas().marks().consequence.contains("fitness"));
        QTRY_VERIFY_WITH_TIMEOUT(words->toPlainText().contains("What this changes"), Patience);
        QTest::keyClick(&canvas(), Qt::Key_Escape);
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, middleOf(deload + 14, strip).toPoint());
        QTRY_VERIFY_WITH_TIMEOUT(!words->toPlainText().contains("What this changes"), Patience);
    }

    void theSameByKeyboard() {
        const Season before = season();
        canvas().setFocus();
        const auto key = [&](Qt::Key k, Qt::KeyboardModifiers m = {}) {
            QTest::keyClick(&canvas(), k, m);
            QVERIFY(settled());
        };
        const Date deload = weekOfKind(WeekKind::Deload);
        canvas().select(deload + 2, -1);
        // Life interferes: any of it goes into the chosen week from the menu or the finder.
        for (const auto& [name, why] : {std::pair{"Illness in the chosen week", AwayWhy::Illness},
                                        std::pair{"Holiday in the chosen week", AwayWhy::Holiday},
                                        std::pair{"Camp in the chosen week", AwayWhy::Camp}}) {
            for (QAction* action : window_->actions())
                if (action->text() == name)
                    action->trigger();
            QVERIFY(settled());
            const Away& last = season().away.back();
            QVERIFY2(season().away.size() == before.away.size() + 1 && last.why == why &&
                         last.from == deload && last.to == deload + 6,
                     name);
            undo();
        }
        key(Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(season().weeks.size(), before.weeks.size() + 2);
        QCOMPARE(*canvas().marks().day, deload + 9);
        undo();
        canvas().select(weekOfKind(WeekKind::Build, 3), -1);
        key(Qt::Key_Down, Qt::AltModifier);
        QVERIFY(season().weeks.size() == before.weeks.size() + 1 && season().weeks.back().hours);
        undo();
        key(Qt::Key_BracketLeft);
        QCOMPARE(season().rules.taperDays, before.rules.taperDays + 1);
        undo();
        key(Qt::Key_Left, Qt::AltModifier); // the edge its phase begins with
        QVERIFY(!sameSeason(season(), before));
        undo();
        canvas().select(before.away[0].from + 1, -1);
        key(Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(season().away[0].from, before.away[0].from - 1);
        undo();
        canvas().select(before.away[0].from + 1, -1);
        key(Qt::Key_Right, Qt::AltModifier);
        QCOMPARE(season().away[0].to, before.away[0].to + 1);
        undo();
        QVERIFY(sameSeason(season(), before));
        // Escape lets go of what is chosen, and the side shows the rules.
        QTest::keyClick(&canvas(), Qt::Key_Escape);
        QVERIFY(!canvas().marks().day);
        QVERIFY(find<QComboBox>("ruleSchool")->isVisible());
    }

    void zoomPanAndFit() {
        const SeasonScene& scene = canvas().scene();
        const int whole = scene.last - scene.first + 1;
        const QPointF at = scene.form.center();
        const auto wheel = [&](int x, int y, Qt::KeyboardModifiers m = {}) {
            QWheelEvent e(at, canvas().mapToGlobal(at), {}, {x, y}, Qt::NoButton, m, Qt::NoScrollPhase,
                          false);
            QApplication::sendEvent(&canvas(), &e);
        };
        wheel(0, 240);
        const int near = scene.last - scene.first + 1;
        QVERIFY(near < whole);
        const Date first = scene.first;
        wheel(120, 0);
        QVERIFY(scene.first < first);
        QCOMPARE(scene.last - scene.first + 1, near);
        const Date panned = scene.first;
        drag({scene.plot.left() + 300, scene.dune.center().y()},
             {scene.plot.left() + 200, scene.dune.center().y()});
        QVERIFY(scene.first > panned); // the ground itself moves along
        for (int i = 0; i < 30; ++i)
            QTest::keyClick(&canvas(), Qt::Key_Minus);
        QCOMPARE(scene.last - scene.first + 1, SeasonScene::longest);
        QVERIFY(canvas().grab().width() > 0); // four years, painted
        for (int i = 0; i < 40; ++i)
            QTest::keyClick(&canvas(), Qt::Key_Plus);
        QCOMPARE(scene.last - scene.first + 1, SeasonScene::shortest);
        QTest::keyClick(&canvas(), Qt::Key_0);
        QCOMPARE(scene.last - scene.first + 1, whole);
        // However far one pans, something of the season stays in sight.
        canvas().zoom(0.3);
        for (int i = 0; i < 60; ++i)
            QTest::keyClick(&canvas(), Qt::Key_End);
        QVERIFY(scene.first <= season().end);
        canvas().look(std::nullopt);
    }

    void everyRuleIsSetSeenAndUndone() {
        view().openOn(std::nullopt, -1);
        const Season before = season();
        const int start = steps();
        const auto number = [&](const char* name, double value) {
            auto* field = find<QDoubleSpinBox>(name);
            QVERIFY2(field, name);
            field->setValue(value);
            QVERIFY(settled());
        };
        const auto choice = [&](const char* name, int index) {
            auto* field = find<QComboBox>(name);
            QVERIFY2(field, name);
            field->setCurrentIndex(index);
            emit field->activated(index);
            QVERIFY(settled());
        };
        number("ruleBuild", 4);
        number("ruleDeloadWeeks", 2);
        number("ruleRamp", 4.5);
        number("ruleFloor", -22);
        number("ruleDeload", 55);
        number("ruleTaper", 17);
        number("ruleVolume0", 95);
        number("ruleVolume1", 90);
        number("ruleVolume2", 85);
        number("ruleHardDays", 3);
        number("ruleGym0", 3);
        number("ruleGym1", 2);
        number("ruleGym2", 0);
        number("ruleGatePrice", 2);
        choice("ruleOrder", 1);
        choice("ruleShape", 1);
        choice("ruleOverreach", 1);
        choice("ruleSchool", 0);
        const Rules& r = season().rules;
        QCOMPARE(r.buildWeeks, 4);
        QCOMPARE(r.deloadWeeks, 2);
        QCOMPARE(r.ramp, 4.5);
        QCOMPARE(r.formFloor, -22.0);
        QCOMPARE(r.deload, 0.55);
        QCOMPARE(r.taperDays, 17);
        QCOMPARE(r.volume, (std::map<Phase, double>{
                               {Phase::Base, 0.95}, {Phase::Build, 0.9}, {Phase::Specialise, 0.85}}));
        QCOMPARE(r.hardDays, 3);
        QCOMPARE(r.gym, (std::array{3, 2, 0}));
        QCOMPARE(r.gatePrice, 2.0);
        QCOMPARE(r.order, Order::Mixed);
        QCOMPARE(r.taperShape, TaperShape::DeepThenModerate);
        QVERIFY(r.overreach);
        QCOMPARE(r.school, School::Polarised);
        // A share of a phase: the three sum to a hundred, the school is the coach's own.
        number("split12", 20);
        QCOMPARE(r.school, School::Own);
        QCOMPARE(season().rules.ownSplits.at(Phase::Build).high, 0.2);
        QVERIFY(std::abs(season().rules.ownSplits.at(Phase::Build).sum() - 1) < 1e-9);
        QVERIFY(find<QLabel>("highMinutes")->text().contains("minutes of high work"));
        choice("ruleTaperBest", 1);
        choice("ruleShape", 3);
        QVERIFY(season().rules.taperBest && season().rules.shapeBest);
        choice("seasonLayOff", 2);
        QCOMPARE(season().layOff, std::optional(false));
        auto* end = find<QDateEdit>("seasonEnd");
        end->setDate(end->date().addDays(7));
        QVERIFY(settled());
        QCOMPARE(season().end, before.end + 7);
        // All of it is in the file.
        QVERIFY(sameSeason(*seasonOf(w_->roster.file(), w_->chosen.id()), season()));
        while (steps() > start) {
            w_->roster.steps().stack().undo();
            QCoreApplication::processEvents();
        }
        QVERIFY(settled());
        QVERIFY(sameSeason(season(), before));
        QCOMPARE(find<QDoubleSpinBox>("ruleRamp")->value(), before.rules.ramp); // seen
    }

    void aWeeksPhaseIsPinnedAndADaySaysWhyItIsSo() {
        const Date week = weekOfKind(WeekKind::Build, 1);
        view().openOn(week + 1, -1);
        auto* phase = find<QComboBox>("weekPhase");
        phase->setCurrentIndex(4);
        emit phase->activated(4);
        QVERIFY(settled());
        bool pinned = false;
        for (const PlannedWeek& w : plan().weeks)
            pinned = pinned || (monday(w.start) == week && w.phase == Phase::Specialise);
        QVERIFY(pinned);
        undo();
        QCOMPARE(phase->currentIndex(), 0);
        const std::string why = whyDay(w_->plans.whole(), *w_->plans.solved(), week + 1);
        QVERIFY(!why.empty());
        QVERIFY(
            find<QTextBrowser>("seasonWords")->toPlainText().contains(QString::fromStdString(why).left(20)));
    }

    void whatIsProposedIsTakenWithItsReason() {
        view().openOn(std::nullopt, -1);
        Season other = season();
        other.rules.ramp = 9;
        w_->chosen.edits().setSeason(other, "A steep ramp");
        QVERIFY(settled());
        auto* take = find<QPushButton>(("take" + std::to_string(static_cast<int>(RuleName::Ramp))).c_str());
        QVERIFY(take && take->isVisible());
        take->click();
        QVERIFY(settled());
        QVERIFY(season().rules.ramp <= 7);
        QVERIFY(!take->isVisible());
        undo();
        undo();
        // Answers change what is proposed.
        const auto ask = [&](const char* name, int index) {
            auto* field = find<QComboBox>(name);
            field->setCurrentIndex(index);
            emit field->activated(index);
        };
        ask("askWinter", 2);
        ask("askLasts", 1);
        auto* order = find<QPushButton>(("take" + std::to_string(static_cast<int>(RuleName::Order))).c_str());
        QVERIFY(order->isVisible()); // an experienced rider who lasts the distance: intensity first
        order->click();
        QVERIFY(settled());
        QCOMPARE(season().rules.order, Order::IntensityFirst);
        undo();
        ask("askWinter", 0);
        ask("askLasts", 0);
    }
};

MARRAM_WINDOW_SUITE(SeasonWindowTest)
#include "tst_season_window.moc"
