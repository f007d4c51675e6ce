// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/compare_sheet.h"
#include "app/season/season_end.h"
#include "app/season/season_tries.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "demo/scenario.h"
#include "formats/json/season_json.h"
#include "records/merge.h"
#include "support/workspaces.h"

#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QPdfWriter>
#include <QProcess>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QSvgRenderer>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>

using namespace marram;
using namespace marram::test;

/// The season in a real window: decided, tried, compared, shown.
class SeasonWindowTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString path_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    const Date today_ = parseDate("2026-11-23").value();

    SeasonView& view() { return window_->seasonView(); }
    SeasonCanvas& canvas() { return view().canvas(); }
    const Season& season() { return *w_->plans.season(); }
    const Plan& plan() { return w_->plans.solved()->plan; }
    int steps() { return w_->roster.undoStack().index(); }
    template <class T>
    T* find(const char* name) {
        return window_->findChild<T*>(name);
    }

    /// Waits until the newest edit is solved, explained and on the screen.
    bool settled() {
        QSignalSpy explained(&w_->plans, &PlanService::limitsChanged);
        return explained.wait(8000);
    }
    void openWindow() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        window_->resize(1280, 800);
        QSignalSpy explained(&w_->plans, &PlanService::limitsChanged);
        QVERIFY(w_->roster.open(path_));
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        window_->go(Place::Season);
        QVERIFY(!explained.isEmpty() || explained.wait(8000));
        canvas().look(std::nullopt);
    }
    void move(QPointF at, Qt::MouseButtons buttons = Qt::LeftButton) {
        QMouseEvent event(QEvent::MouseMove, at, canvas().mapToGlobal(at), Qt::NoButton, buttons, {});
        QApplication::sendEvent(&canvas(), &event);
    }
    /// Drags and says what stood at the hand before it was let go.
    QString drag(QPointF from, QPointF to) {
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, from.toPoint());
        for (int i = 1; i <= 6; ++i) {
            move(from + (to - from) * i / 6);
            QTest::qWait(8);
        }
        QTest::qWait(60);
        const QString said = canvas().marks().consequence;
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, to.toPoint());
        return said;
    }
    QPointF middleOf(Date week, double y) {
        return {canvas().scene().xOf(week) + 3.5 * canvas().scene().dayWidth(), y};
    }
    Date weekOfKind(WeekKind kind, int nth = 0) {
        for (const PlannedWeek& w : plan().weeks)
            if (w.kind == kind && w.start > today_ + 14 && nth-- == 0)
                return monday(w.start);
        return {};
    }
    void undo() {
        w_->roster.undoStack().undo();
        QVERIFY(settled());
    }

private slots:
    void initTestCase() {
        qputenv("XDG_CONFIG_HOME", folder_.filePath("config").toUtf8());
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, false, 1);
        path_ = folder_.filePath("club.marram");
        const auto made = writeDemo(path_, today_, {});
        QVERIFY2(made.has_value(), made ? "" : made.error().sentence.c_str());
        openWindow();
    }
    void cleanupTestCase() {
        window_.reset();
        w_.reset();
    }

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

    void theSameByKeyboard() {
        const Season before = season();
        canvas().setFocus();
        const auto key = [&](Qt::Key k, Qt::KeyboardModifiers m = {}) {
            QTest::keyClick(&canvas(), k, m);
            QVERIFY(settled());
        };
        const Date deload = weekOfKind(WeekKind::Deload);
        canvas().select(deload + 2, -1);
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
            w_->roster.undoStack().undo();
            QCoreApplication::processEvents();
        }
        QVERIFY(settled());
        QVERIFY(sameSeason(season(), before));
        QCOMPARE(find<QDoubleSpinBox>("ruleRamp")->value(), before.rules.ramp); // seen
    }

    void whatIsProposedIsTakenWithItsReason() {
        view().openOn(std::nullopt, -1);
        Season other = season();
        other.rules.ramp = 9;
        w_->chosen.setSeason(other, "A steep ramp");
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

    void anAlternativeIsTriedKeptDroppedAndLasts() {
        const Season before = season();
        view().openOn(std::nullopt, -1);
        view().tryOut("2:1", [&] {
            Season s = before;
            s.rules.buildWeeks = 2;
            return s;
        }());
        QVERIFY(settled());
        QVERIFY(w_->plans.alternative() != 0);
        QVERIFY(sameSeason(*w_->chosen.season(), before)); // the season in force stands
        QVERIFY(view().picture().beside.has_value());
        const QString words = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(words.contains("What this changes") && words.contains("Hard days"), qPrintable(words));
        // An edit while it is looked at goes to it.
        find<QDoubleSpinBox>("ruleHardDays")->setValue(1);
        QVERIFY(settled());
        QCOMPARE(season().rules.hardDays, 1);
        QCOMPARE(w_->chosen.season()->rules.hardDays, before.rules.hardDays);
        view().renameAlternative("short blocks");
        // It lasts: closed and opened again it is there.
        window_.reset();
        w_.reset();
        openWindow();
        auto* which = find<QComboBox>("whichSeason");
        QCOMPARE(which->count(), 2);
        QCOMPARE(which->itemText(1), QString("short blocks"));
        which->setCurrentIndex(1);
        emit which->activated(1);
        QVERIFY(settled());
        QCOMPARE(season().rules.buildWeeks, 2);
        view().keepAlternative();
        QVERIFY(settled());
        QCOMPARE(w_->plans.alternative(), 0);
        QCOMPARE(w_->chosen.season()->rules.hardDays, 1);
        QCOMPARE(w_->chosen.seasons().size(), 2U); // in force, and the one of the past
        undo(); // one step: the alternative is back beside the season as it was
        QVERIFY(sameSeason(*w_->chosen.season(), before));
        QCOMPARE(w_->chosen.seasons().size(), 3U);
        view().tryOut({}, before);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), 3U);
        w_->plans.lookAt(w_->chosen.seasons().back().id);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
        QVERIFY(sameSeason(season(), before));
    }

    void anAlternativeOfOneRiderIsNotAnothers() {
        const qint64 first = w_->chosen.id();
        view().tryOut("mine", season());
        QVERIFY(settled());
        for (const RiderRecord& r : w_->roster.riders())
            if (r.id != first && w_->chosen.id() == first)
                w_->chosen.choose(r.id);
        QVERIFY(w_->chosen.id() != first);
        QVERIFY(settled());
        QCOMPARE(w_->plans.alternative(), 0);
        QVERIFY(!view().picture().beside.has_value());
        w_->chosen.choose(first);
        QVERIFY(settled());
        w_->plans.lookAt(w_->chosen.seasons().back().id);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
    }

    void oneClickTriesAreInTheMenu() {
        auto* button = find<QToolButton>("tryButton");
        emit button->menu()->aboutToShow();
        QStringList all;
        for (QAction* a : button->menu()->actions()) {
            all << a->text();
            if (a->menu())
                for (QAction* b : a->menu()->actions())
                    all << b->text();
        }
        const QString words = all.join('\n');
        for (const char* part : {"An hour more on Thursdays", "Ill for a week", "A camp", "Polarised", "2:1",
                                 "A B race more", "missed"})
            QVERIFY2(words.contains(part), part);
        const auto before = w_->chosen.seasons().size();
        for (QAction* a : button->menu()->actions())
            if (a->text().startsWith("Ill for a week"))
                a->trigger();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), before + 1);
        QCOMPARE(season().away.back().why, AwayWhy::Illness);
        view().dropAlternative();
        QVERIFY(settled());
    }

    void theSheetComparesEverythingAtOnce() {
        view().compare();
        QPointer<CompareSheet> sheet = find<CompareSheet>("compareSheet");
        QVERIFY(sheet);
        QVERIFY(QTest::qWaitFor([&] { return sheet->complete(); }, 20000));
        auto* table = sheet->findChild<QTableWidget*>();
        QCOMPARE(table->rowCount(), static_cast<int>(1 + variantsOf(season()).size()));
        // The first row is the season as it is.
        const Summary is = summarise(w_->plans.whole(), plan());
        QCOMPARE(table->item(0, 1)->text(), QString::number(is.hours, 'f', 0));
        QCOMPARE(table->item(0, 2)->text(), QString::number(is.stress, 'f', 0));
        QVERIFY(sheet->csv().count('\n') == table->rowCount() + 1);
        // One is tried from it.
        table->selectRow(1);
        sheet->findChild<QPushButton*>("compareTry")->click();
        QVERIFY(settled());
        QVERIFY(w_->plans.alternative() != 0);
        view().dropAlternative();
        QVERIFY(settled());
        // It is of one season: another rider closes it, also while it is solving.
        view().compare();
        QPointer<CompareSheet> second = find<CompareSheet>("compareSheet");
        const qint64 rider = w_->chosen.id();
        w_->chosen.choose(w_->roster.riders().back().id);
        QVERIFY(QTest::qWaitFor([&] { return second.isNull(); }, 5000));
        w_->chosen.choose(rider);
        QVERIFY(settled());
    }

    void aRaceGetsItsCourseItsResultAndItsNote() {
        QFile gpx(folder_.filePath("course.gpx"));
        QVERIFY(gpx.open(QIODevice::WriteOnly));
        gpx.write("<gpx version=\"1.1\" xmlns=\"http://www.topografix.com/GPX/1/1\"><trk><trkseg>");
        // 20 km along a meridian, up 500 m and down again.
        for (int i = 0; i <= 200; ++i)
            gpx.write(QString("<trkpt lat=\"%1\" lon=\"8\"><ele>%2</ele></trkpt>")
                          .arg(54 + i * 0.1 / 111.195, 0, 'f', 7)
                          .arg(i < 100 ? 5.0 * i : 5.0 * (200 - i))
                          .toUtf8());
        gpx.write("</trkseg></trk></gpx>");
        gpx.close();
        view().showRaces(true);
        int race = -1;
        for (size_t i = 0; i < season().races.size(); ++i)
            if (season().races[i].course.empty())
                race = static_cast<int>(i);
        QVERIFY(race >= 0);
        view().openOn(season().races[static_cast<size_t>(race)].date, race);
        view().races().bringCourse(gpx.fileName());
        QVERIFY(settled());
        const auto shown = [&]() -> const Race& { return season().races[static_cast<size_t>(race)]; };
        QVERIFY(std::abs(shown().course.back().distance - 20000) < 100);
        const QString asks = find<QTextBrowser>("raceAsks")->toPlainText();
        QVERIFY2(asks.contains("climbing") && asks.contains("Climb at") && asks.contains("longest ride"),
                 qPrintable(asks));
        find<QPushButton>("takeCourse")->click();
        QVERIFY(settled());
        QVERIFY(shown().stress && *shown().stress > 20 && *shown().stress < 200);
        auto* result = find<QLineEdit>("raceResult");
        result->setFocus();
        QTest::keyClicks(result, "3rd");
        QTest::keyClick(result, Qt::Key_Return);
        QVERIFY(settled());
        QCOMPARE(shown().result, std::string("3rd"));
        // Kept in the file, taken out by undo.
        const auto kept = seasonOf(w_->roster.file(), w_->chosen.id());
        QVERIFY(sameSeason(*kept, season()));
        undo();
        undo();
        undo();
        QVERIFY(shown().course.empty() && shown().result.empty());
        // A file that is no course says so, and nothing changes.
        QSignalSpy failed(&w_->notices, &Notices::failed);
        view().races().bringCourse(path_);
        QVERIFY(failed.wait(5000));
        QVERIFY(failed[0][0].toString().contains("club.marram"));
        QVERIFY(shown().course.empty());
        view().showRaces(false);
    }

    void chancesAndTheWeekAreSaidInWords() {
        view().openOn(season().races[0].date, 0);
        QVERIFY(QTest::qWaitFor([&] { return !w_->plans.chances().empty(); }, 8000));
        QVERIFY(QTest::qWaitFor(
            [&] { return find<QTextBrowser>("seasonWords")->toPlainText().contains("If days are missed"); },
            3000));
        const QString words = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(words.contains("form is inside the gate") && words.contains("lower than planned"),
                 qPrintable(words));
        view().openOn(std::nullopt, -1);
        const QString season = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(season.contains("Last week") && season.contains("planned days were ridden"),
                 qPrintable(season));
    }

    void thePageIsSavedInEveryForm() {
        view().showPage();
        auto* page = find<WallPage>("wallPage");
        QVERIFY(page);
        const auto saved = [&](const QString& name) {
            const QString path = folder_.filePath(name);
            const QString wrong = page->save(path);
            if (!wrong.isEmpty())
                qWarning("%s", qPrintable(wrong));
            QFile file(path);
            (void)file.open(QIODevice::ReadOnly);
            return file.readAll();
        };
        QVERIFY(saved("s.pdf").startsWith("%PDF"));
        QSvgRenderer svg(saved("s.svg"));
        QVERIFY(svg.isValid() && svg.defaultSize().width() > svg.defaultSize().height());
        const QImage png = QImage::fromData(saved("s.png"));
        QVERIFY(png.width() > 2000 && png.width() > png.height());
        // On paper it is dark on white whatever the theme.
        QCOMPARE(png.pixelColor(3, 3), QColor(Qt::white));
        QVERIFY(saved("s.ics").contains("Marrow Point Stage Race"));
        QVERIFY(saved("s.csv").startsWith("date,weekday"));
        QVERIFY(!page->save(folder_.filePath("nowhere/s.pdf")).isEmpty()); // says what is wrong
        for (const char* name : {"s.pdf", "s.svg", "s.png", "s.ics", "s.csv"})
            QCOMPARE(QFile::permissions(folder_.filePath(name)) &
                         (QFile::ReadGroup | QFile::ReadOther | QFile::WriteOther),
                     QFile::Permissions());
        page->close();
    }

    void aSeasonMadeHereGivesTheSamePlanOnTheCommandLine() {
        view().showPage();
        const QString file = folder_.filePath("season.json");
        QCOMPARE(find<WallPage>("wallPage")->save(file), QString());
        find<WallPage>("wallPage")->close();
        QProcess cli;
        cli.start(BIN_DIR "/marram-cli", {"plan", file});
        QVERIFY(cli.waitForFinished(30000));
        QCOMPARE(cli.exitCode(), 0);
        const QJsonArray days =
            QJsonDocument::fromJson(cli.readAllStandardOutput()).object()["days"].toArray();
        const Plan here = solveSeason(w_->plans.whole()).plan;
        QCOMPARE(static_cast<size_t>(days.size()), here.days.size());
        for (size_t i = 0; i < here.days.size(); ++i) {
            const QJsonObject day = days[static_cast<qsizetype>(i)].toObject();
            QVERIFY(std::abs(here.days[i].stress - day["stress"].toDouble()) < 1e-9);
            QVERIFY(std::abs(here.days[i].form - day["form"].toDouble()) < 1e-9);
            // And it is what the window shows.
            QVERIFY(std::abs(here.days[i].stress - plan().days[i].stress) < 0.5);
        }
    }

    void aSeasonThatIsOverIsLookedBackOnAndTheNextBegun() {
        const Date end = w_->chosen.season()->end;
        w_->clock.setToday(end + 3);
        QVERIFY(QTest::qWaitFor([&] { return find<QToolButton>("overButton")->isVisible(); }, 5000));
        find<QToolButton>("overButton")->click();
        auto* dialog = find<SeasonEnd>("seasonEnd");
        QVERIFY(dialog);
        const QString words = dialog->findChild<QTextBrowser*>("seasonSummary")->toPlainText();
        QVERIFY2(words.contains("Fitness went from") && words.contains("Marrow Point"), qPrintable(words));
        const auto seasons = w_->chosen.seasons().size();
        dialog->findChild<QPushButton*>("beginNext")->click();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), seasons + 1);
        QVERIFY(w_->chosen.season()->start > end - 7);
        undo();
        QCOMPARE(w_->chosen.season()->end, end);
        w_->clock.setToday(today_);
        QCoreApplication::processEvents();
    }
};

QTEST_MAIN(SeasonWindowTest)
#include "tst_season_window.moc"
