// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QPointingDevice>

using namespace marram;
using namespace marram::test;

/// Fingers on the pictures of a real window.
class TouchTest : public DemoWindow {
    Q_OBJECT
    std::unique_ptr<QPointingDevice> screen_{QTest::createTouchDevice()};

    /// Two fingers from one place to another, in steps.
    void two(QWidget* on, QLine from, QLine to) {
        constexpr int steps = 12;
        QTest::touchEvent(on, screen_.get()).press(0, from.p1(), on).press(1, from.p2(), on);
        for (int i = 1; i <= steps; ++i)
            QTest::touchEvent(on, screen_.get())
                .move(0, from.p1() + (to.p1() - from.p1()) * i / steps, on)
                .move(1, from.p2() + (to.p2() - from.p2()) * i / steps, on);
        QTest::touchEvent(on, screen_.get()).release(0, to.p1(), on).release(1, to.p2(), on);
    }
    QPointF stakeOf(const char* name) {
        const auto& canvas = window_->seasonView().canvas();
        for (const Race& race : w_->chosen.season()->races)
            if (race.name == name)
                return {canvas.scene().xOf(race.date) + canvas.scene().dayWidth() / 2,
                        canvas.scene().load.center().y()};
        qFatal("no such race");
    }
    /// The season is there, solved, and no edit is on its way.
    bool settled() {
        return comes([&] { return w_->plans.isExplained(); });
    }

private slots:
    void initTestCase() { dressed(); }
    void init() {
        openWindow();
        choose("Nell");
        window_->go(Place::Season);
        QVERIFY(settled());
    }
    void cleanup() { closeWindow(); }

    void twoFingersApartShowFewerDaysAndWhatIsUnderThemStays() {
        auto& canvas = window_->seasonView().canvas();
        const auto& scene = canvas.scene();
        const int before = scene.last - scene.first + 1;
        const QPoint middle(canvas.width() / 2, canvas.height() / 2);
        const Date under = scene.dateAt(middle.x());
        two(&canvas, {middle - QPoint(60, 0), middle + QPoint(60, 0)},
            {middle - QPoint(180, 0), middle + QPoint(180, 0)});
        const int after = scene.last - scene.first + 1;
        QVERIFY2(std::abs(after - before / 3.0) < 0.12 * before,
                 qPrintable(QString("%1 of %2").arg(after).arg(before)));
        QVERIFY2(std::abs(scene.dateAt(middle.x()) - under) <= std::max(3, before / 40),
                 qPrintable(QString::number(scene.dateAt(middle.x()) - under)));
        // And back.
        two(&canvas, {middle - QPoint(180, 0), middle + QPoint(180, 0)},
            {middle - QPoint(60, 0), middle + QPoint(60, 0)});
        QVERIFY(std::abs(scene.last - scene.first + 1 - before) < 0.15 * before);
        QCOMPARE(w_->roster.steps().stack().count(), 0); // looking changes nothing
    }

    void twoFingersTogetherMoveTheDays() {
        auto& canvas = window_->seasonView().canvas();
        const auto& scene = canvas.scene();
        canvas.look(Span{scene.first + 60, scene.first + 150});
        const Date first = scene.first;
        const double days = 120 / scene.dayWidth();
        const QPoint at(canvas.width() / 2, canvas.height() / 2);
        two(&canvas, {at, at + QPoint(80, 0)}, {at - QPoint(120, 0), at - QPoint(40, 0)});
        QVERIFY2(std::abs(scene.first - first - days) <= 2,
                 qPrintable(QString("%1 of %2").arg(scene.first - first).arg(days)));
    }

    void aFingerTakesAStakeItIsNotQuiteOn() {
        auto& canvas = window_->seasonView().canvas();
        const QPointF stake = stakeOf("Ebbtide Circuit");
        const QPoint beside = (stake + QPointF(13, 0)).toPoint(); // within 32 px, out of a mouse's reach
        QTest::mouseClick(&canvas, Qt::LeftButton, {}, beside);
        QCOMPARE(canvas.marks().race, -1);
        const Date before =
            w_->chosen.season()->races[static_cast<size_t>(raceNamed("Ebbtide Circuit"))].date;
        const int pixels = qRound(10 * canvas.scene().dayWidth());
        QTest::touchEvent(&canvas, screen_.get()).press(0, beside, &canvas);
        for (int i = 1; i <= 10; ++i)
            QTest::touchEvent(&canvas, screen_.get()).move(0, beside + QPoint(pixels * i / 10, 0), &canvas);
        QTest::touchEvent(&canvas, screen_.get()).release(0, beside + QPoint(pixels, 0), &canvas);
        QVERIFY(settled());
        QTRY_COMPARE_WITH_TIMEOUT(
            w_->chosen.season()->races[static_cast<size_t>(raceNamed("Ebbtide Circuit"))].date, before + 10,
            Patience);
        w_->roster.steps().stack().undo();
        QVERIFY(settled());
    }
    int raceNamed(const char* name) {
        const auto& races = w_->chosen.season()->races;
        for (size_t r = 0; r < races.size(); ++r)
            if (races[r].name == name)
                return static_cast<int>(r);
        return -1;
    }

    void aFingerThatStaysOpensTheMenu() {
        auto& canvas = window_->seasonView().canvas();
        const QPoint at = stakeOf("Ebbtide Circuit").toPoint();
        QTest::touchEvent(&canvas, screen_.get()).press(0, at, &canvas);
        QTRY_VERIFY_WITH_TIMEOUT(qobject_cast<QMenu*>(QApplication::activePopupWidget()), Patience);
        QApplication::activePopupWidget()->close();
        QTest::touchEvent(&canvas, screen_.get()).release(0, at, &canvas);
        QVERIFY(canvas.marks().race >= 0); // it is of what was under the finger
        QCOMPARE(w_->roster.steps().stack().count(), 0);
    }

    void theSquadZoomsAndScrollsUnderTwoFingers() {
        window_->go(Place::Roster);
        window_->rosterView().openSquad(false);
        auto* canvas = find<SquadCanvas>("squadCanvas");
        QTRY_VERIFY_WITH_TIMEOUT(canvas->isVisible() && canvas->rowRect(w_->chosen.id()).isValid(), Patience);
        const QImage before = canvas->grab().toImage();
        const QPoint at(canvas->width() / 2, std::min(200, canvas->height() / 2));
        two(canvas, {at - QPoint(40, 0), at + QPoint(40, 0)}, {at - QPoint(160, 0), at + QPoint(160, 0)});
        const QImage near = canvas->grab().toImage();
        QVERIFY(near != before);
        two(canvas, {at, at + QPoint(60, 0)}, {at - QPoint(100, 0), at - QPoint(40, 0)});
        QVERIFY(canvas->grab().toImage() != near);
    }
};

MARRAM_WINDOW_SUITE(TouchTest)
#include "tst_touch.moc"
