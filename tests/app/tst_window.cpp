// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "support/demo_roster.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QDropEvent>
#include <QMessageBox>
#include <QMimeData>
#include <QPrinter>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>
#include <QTimer>

using namespace marram;
using namespace marram::test;

/// The real window on a real roster, driven as a coach would.
class WindowTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString path_;
    std::unique_ptr<Workspace> workspace_;
    std::unique_ptr<MainWindow> window_;
    const Date today_ = parseDate("2026-11-23").value();

    SeasonCanvas& canvas() { return window_->seasonView().canvas(); }
    /// As it shows: what is held in the hand, too.
    const Race& race(size_t i) { return workspace_->plans.season()->races[i]; }
    Gate gateOf(size_t i) { return gateInForce(race(i), workspace_->plans.solved()->plan).value_or(Gate{}); }
    double formOf(size_t i) { return workspace_->plans.solved()->plan.races[i].form; }

    /// Waits until the plan of the newest edit is on the screen.
    bool settled() {
        return comes([&] {
            const Solved* s = workspace_->plans.solved();
            if (!s || !workspace_->plans.season())
                return false;
            const auto& races = workspace_->plans.season()->races;
            if (s->plan.races.size() != races.size())
                return false;
            for (size_t i = 0; i < races.size(); ++i)
                if (s->plan.races[i].date != races[i].date ||
                    (races[i].gate && s->plan.races[i].gate != races[i].gate))
                    return false;
            return true;
        });
    }
    QPoint stakeOf(size_t i) {
        return QPointF(canvas().scene().xOf(race(i).date) + canvas().scene().dayWidth() / 2,
                       canvas().scene().load.center().y())
            .toPoint();
    }

    void openWindow() {
        workspace_ = std::make_unique<Workspace>();
        workspace_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*workspace_);
        window_->resize(1280, 800);
        QVERIFY(workspace_->roster.open(path_));
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
        window_->go(Place::Season);
        QVERIFY(settled());
    }

    void drag(QPoint from, QPoint to) {
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) {
            const QPointF at = QPointF(from) + (QPointF(to) - QPointF(from)) * i / 8;
            QMouseEvent move(QEvent::MouseMove, at, canvas().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                             {});
            QApplication::sendEvent(&canvas(), &move);
            QTest::qWait(5);
        }
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, to);
    }

    void drop(const QStringList& files) {
        QMimeData mime;
        QList<QUrl> urls;
        for (const QString& f : files)
            urls << QUrl::fromLocalFile(f);
        mime.setUrls(urls);
        QSignalSpy finished(&workspace_->roster.jobs(), &RosterJobs::importFinished);
        QDragEnterEvent enter({200, 200}, Qt::CopyAction, &mime, Qt::LeftButton, {});
        QApplication::sendEvent(&window_->ridesView(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent event({200, 200}, Qt::CopyAction, &mime, Qt::LeftButton, {});
        QApplication::sendEvent(&window_->ridesView(), &event);
        QVERIFY(finished.wait(Patience));
    }

private slots:
    void initTestCase() {
        qputenv("XDG_CONFIG_HOME", folder_.filePath("config").toUtf8());
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
        path_ = folder_.filePath("club.marram");
        const auto made = demoRoster(path_, today_);
        QVERIFY2(made.has_value(), made ? "" : made.error().sentence.c_str());
        openWindow();
    }
    void cleanupTestCase() {
        window_.reset();
        workspace_.reset();
    }

    void theDemoHasAYearBehindAndASeasonAhead() {
        QVERIFY(workspace_->chosen.rides().size() > 180);
        QVERIFY(workspace_->chosen.rides().front().day < today_ - 400);
        QCOMPARE(workspace_->chosen.season()->races.size(), 5U);
        QVERIFY(workspace_->chosen.facts().plannedOn(today_ - 20).has_value());
        // The record shows its troubles: the cold's days are empty.
        QCOMPARE(workspace_->chosen.facts().riddenOn(today_ - 48), 0.0);
    }

    void draggingARaceSolvesTheSeasonWhileItMoves() {
        const Date from = race(0).date;
        const double formBefore = formOf(0);
        QSignalSpy plans(&workspace_->plans, &PlanService::planChanged);
        const QPoint at = stakeOf(0);
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, at);
        const QPointF there(at.x() - 21 * canvas().scene().dayWidth(), at.y());
        QMouseEvent move(QEvent::MouseMove, there, canvas().mapToGlobal(there), Qt::NoButton, Qt::LeftButton,
                         {});
        QApplication::sendEvent(&canvas(), &move);
        QCOMPARE(race(0).date, from - 21);
        // The plan follows before anything is let go, and nothing is written yet.
        QVERIFY(settled());
        QVERIFY(plans.count() > 0);
        QCOMPARE(workspace_->roster.steps().stack().count(), 0);
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, there.toPoint());
        QVERIFY(settled());
        QCOMPARE(race(0).date, from - 21);
        QCOMPARE(workspace_->roster.steps().stack().count(), 1);
        QVERIFY(window_->lastSaid().contains("Move"));
        const Gate gate = gateOf(0);
        QVERIFY(formOf(0) >= gate.low - 0.01 && formOf(0) <= gate.high + 0.01);
        // What the inspector says is the new form.
        const auto* words = window_->findChild<QTextBrowser*>("seasonWords");
        QVERIFY(comes(
            [&] { return words->toPlainText().contains(QString::fromStdString(signedText(formOf(0)))); }));
        workspace_->roster.steps().stack().undo();
        QVERIFY(settled());
        QCOMPARE(race(0).date, from);
        QVERIFY(std::abs(formOf(0) - formBefore) < 1e-3);
        workspace_->roster.steps().stack().redo();
        QCOMPARE(race(0).date, from - 21);
        workspace_->roster.steps().stack().undo();
        QVERIFY(settled());
    }

    void escapeLetsGoOfWhatIsHeld() {
        const Date from = race(1).date;
        const QPoint at = stakeOf(1);
        const int edits = workspace_->roster.steps().stack().index();
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, at);
        const QPointF there(at.x() + 60, at.y());
        QMouseEvent move(QEvent::MouseMove, there, canvas().mapToGlobal(there), Qt::NoButton, Qt::LeftButton,
                         {});
        QApplication::sendEvent(&canvas(), &move);
        QVERIFY(race(1).date != from);
        QTest::keyClick(&canvas(), Qt::Key_Escape);
        QCOMPARE(race(1).date, from);
        QCOMPARE(workspace_->roster.steps().stack().index(), edits);
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, there.toPoint());
        QVERIFY(settled());
    }

    void theEdgeOfAGateIsDraggedToo() {
        const Gate before = gateOf(0);
        const double x = stakeOf(0).x();
        const QPoint from(static_cast<int>(x), static_cast<int>(canvas().scene().yOfForm(before.high)));
        const QPoint to(static_cast<int>(x), static_cast<int>(canvas().scene().yOfForm(before.high + 6)));
        drag(from, to);
        QVERIFY(gateOf(0).high > before.high + 3);
        QCOMPARE(gateOf(0).low, before.low);
        workspace_->roster.steps().stack().undo();
        QVERIFY(settled());
        QVERIFY(gateOf(0) == before);
    }

    void theKeyboardMovesARaceByADay() {
        canvas().setFocus();
        canvas().select(today_, -1);
        for (int i = 0; i < 10 && canvas().marks().race != 0; ++i)
            QTest::keyClick(&canvas(), Qt::Key_PageDown);
        QCOMPARE(canvas().marks().race, 0);
        const Date from = race(0).date;
        QTest::keyClick(&canvas(), Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(race(0).date, from - 1);
        QVERIFY(settled());
        workspace_->roster.steps().stack().undo();
        QCOMPARE(race(0).date, from);
    }

    void priorityHoursAndADeloadPinAreEdited() {
        window_->seasonView().openOn(race(2).date, 2);
        window_->seasonView().setSelectedPriority(Priority::B);
        QCOMPARE(race(2).priority, Priority::B);
        QVERIFY(settled());
        const Date week = monday(today_) + 28;
        window_->seasonView().openOn(week + 2, -1);
        window_->seasonView().pinSelectedWeek(WeekKind::Deload);
        QVERIFY(settled());
        QVERIFY(comes([&] {
            if (!workspace_->plans.solved())
                return false;
            for (const PlannedWeek& w : workspace_->plans.solved()->plan.weeks)
                if (w.start == week)
                    return w.kind == WeekKind::Deload && w.pinned;
            return false;
        }));
        auto* saturday = window_->findChild<QDoubleSpinBox*>("hours5");
        saturday->setFocus();
        saturday->selectAll();
        QTest::keyClicks(saturday, "1.5");
        QTest::keyClick(saturday, Qt::Key_Return);
        QCOMPARE((*workspace_->chosen.season()->weeks.back().hours)[5], 1.5);
        QVERIFY(comes([&] {
            if (!workspace_->plans.solved())
                return false;
            for (const PlannedDay& d : workspace_->plans.solved()->plan.days)
                if (d.date == week + 5)
                    return d.hours <= 1.5 + 1e-9 && std::abs(d.availableHours - 1.5) < 1e-9;
            return false;
        }));
        for (int i = 0; i < 3; ++i)
            workspace_->roster.steps().stack().undo();
        QVERIFY(workspace_->chosen.season()->weeks.empty());
        QCOMPARE(race(2).priority, Priority::C);
        QVERIFY(settled());
    }

    void aDroppedFileComesInAndMovesTheNumbers() {
        window_->go(Place::Rides);
        const size_t before = workspace_->chosen.rides().size();
        const double fitness = workspace_->chosen.history().before(today_ + 1).fitness;
        SimulatedDay day;
        day.start = static_cast<std::int64_t>(today_.days) * 86400 + 10 * 3600;
        const auto fit = writeFit(ride(prescribe(SessionKind::Endurance, 3, 160), {}, day, 5));
        const QString file = save(folder_.filePath("today.fit"), {reinterpret_cast<const char*>(fit.data()),
                                                                  static_cast<qsizetype>(fit.size())});
        drop({file});
        QCOMPARE(workspace_->chosen.rides().size(), before + 1);
        QVERIFY(workspace_->chosen.history().before(today_ + 1).fitness > fitness + 2);
        QVERIFY(comes([&] {
            return workspace_->plans.solved() &&
                   workspace_->plans.solved()->frame.today == today_ + 1 - workspace_->chosen.season()->start;
        }));
        QVERIFY(window_->lastSaid().contains("One ride came in"));
        // The same file again is known by its content.
        drop({file});
        QCOMPARE(workspace_->chosen.rides().size(), before + 1);
        workspace_->roster.steps().stack().undo();
        QCOMPARE(workspace_->chosen.rides().size(), before);
        QVERIFY(std::abs(workspace_->chosen.history().before(today_ + 1).fitness - fitness) < 1e-9);
        workspace_->roster.steps().stack().redo();
        QCOMPARE(workspace_->chosen.rides().size(), before + 1);
    }

    void anOverlapIsAskedAboutInTheWindow() {
        int asked = 0;
        QTimer answer; // presses the button once the question stands there
        connect(&answer, &QTimer::timeout, &answer, [&] {
            auto* box = window_->findChild<QMessageBox*>("overlap");
            if (!box || asked > 0)
                return;
            QVERIFY(box->text().contains("today.fit"));
            for (QAbstractButton* b : box->buttons())
                if (b->text().contains("Replace")) {
                    ++asked;
                    b->click();
                    return;
                }
        });
        answer.start(10);
        SimulatedDay day;
        day.start = static_cast<std::int64_t>(today_.days) * 86400 + 11 * 3600;
        const auto fit = writeFit(ride(prescribe(SessionKind::Endurance, 1, 50), {}, day, 6));
        const size_t before = workspace_->chosen.rides().size();
        drop({save(folder_.filePath("shorter.fit"),
                   {reinterpret_cast<const char*>(fit.data()), static_cast<qsizetype>(fit.size())})});
        QCOMPARE(asked, 1);
        QCOMPARE(workspace_->chosen.rides().size(), before);
        QCOMPARE(workspace_->chosen.rides().back().fileName, QString("shorter.fit"));
        workspace_->roster.steps().stack().undo();
        QCOMPARE(workspace_->chosen.rides().back().fileName, QString("today.fit"));
        workspace_->roster.steps().stack().undo();
    }

    void badFilesAreListedAndNothingIsLost() {
        const size_t before = workspace_->chosen.rides().size();
        drop({save(folder_.filePath("bad.fit"), "no ride"),
              save(folder_.filePath("worse.gpx"), "<gpx><trk>")});
        QCOMPARE(workspace_->chosen.rides().size(), before);
        auto* box = window_->findChild<QMessageBox*>("importReport");
        QVERIFY(box && box->informativeText().contains("bad.fit") &&
                box->informativeText().contains("worse.gpx"));
        box->close();
    }

    void aNewThresholdScoresAgainJustWhatItTouches() {
        const auto rides = workspace_->chosen.rides();
        RiderRecord r = *workspace_->chosen.rider();
        const DatedValue last = r.values.of(Quantity::ThresholdPower).back();
        const Date from = last.from;
        r.values.set(Quantity::ThresholdPower, from, last.value * 1.1);
        workspace_->chosen.edits().setRider(r, "Change a threshold");
        QVERIFY(comes([&] { return !workspace_->roster.jobs().scoring(); }));
        for (size_t i = 0; i < rides.size(); ++i) {
            const double before = *rides[i].score.stress, now = *workspace_->chosen.rides()[i].score.stress;
            QVERIFY(std::abs(now - (rides[i].day < from ? before : before / 1.21)) < 1e-6 * before);
        }
        workspace_->roster.steps().stack().undo();
        QVERIFY(comes([&] { return !workspace_->roster.jobs().scoring(); }));
        for (size_t i = 0; i < rides.size(); ++i)
            QVERIFY(std::abs(*workspace_->chosen.rides()[i].score.stress - *rides[i].score.stress) < 1e-9);
    }

    void theSimulatedBikeComputerRidesTodayIntoTheDeviceFolder() {
        const QString device = folder_.filePath("device");
        QSettings().setValue("deviceFolder", device);
        const size_t before = workspace_->chosen.rides().size();
        QSignalSpy finished(&workspace_->roster.jobs(), &RosterJobs::importFinished);
        window_->ridesView().rideToday();
        QVERIFY(finished.wait(Patience));
        QCOMPARE(workspace_->chosen.rides().size(), before + 1);
        QCOMPARE(workspace_->chosen.rides().back().day, today_);
        workspace_->roster.steps().stack().undo();
    }

    void itPrintsWithItsCautions() {
        window_->go(Place::Season);
        QVERIFY(settled());
        QPrinter printer;
        printer.setOutputFormat(QPrinter::PdfFormat);
        const QString pdf = folder_.filePath("season.pdf");
        printer.setOutputFileName(pdf);
        printer.setPageOrientation(QPageLayout::Landscape);
        window_->seasonView().print(printer);
        QFile file(pdf);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.size() > 10000 && file.read(5) == "%PDF-");
    }

    void nothingClipsAtLargeTextOrInTheDark() {
        window_->useTextScale(1.5);
        window_->useDark(true);
        for (int i = 0; i < 6; ++i) {
            window_->go(static_cast<Place>(i));
            QTest::qWait(30);
            QVERIFY2(window_->minimumSizeHint().width() <= 1280,
                     qPrintable(QString("place %1 needs %2").arg(i).arg(window_->minimumSizeHint().width())));
        }
        window_->useDark(false);
        window_->useTextScale(1);
        window_->go(Place::Season);
        QVERIFY(settled());
    }

    void anEditMadeHereIsThereAfterClosingAndReopening() {
        window_->seasonView().openOn(race(0).date, 0);
        Season s = *workspace_->chosen.season();
        s.races[0].date = s.races[0].date - 7;
        s.races[0].name = "Marrow Point, moved";
        workspace_->chosen.edits().setSeason(s, "Move");
        QVERIFY(settled());
        const double form = formOf(0);
        window_->close();
        window_.reset();
        workspace_.reset();
        openWindow();
        QCOMPARE(QString::fromStdString(race(0).name), QString("Marrow Point, moved"));
        QVERIFY(std::abs(formOf(0) - form) < 1e-3);
    }

    void anotherWindowsEditAppearsHere() {
        auto other = std::move(*Roster::open(path_));
        RiderRecord r = other->riders()->front();
        r.note = "written elsewhere";
        QVERIFY(other->saveRider(r));
        QVERIFY(comes([&] {
            return workspace_->chosen.rider() && workspace_->chosen.rider()->note == "written elsewhere";
        }));
    }

    void aRiderWithNothingIsGreetedWithWhatToDo() {
        workspace_->roster.edits().addRider(
            "Someone With A Remarkably Long And Hyphenated Double-Barrelled Name");
        for (int i = 0; i < 6; ++i) {
            window_->go(static_cast<Place>(i));
            QTest::qWait(20);
        }
        QVERIFY(!workspace_->chosen.season());
        window_->go(Place::Season);
        auto* start = window_->seasonView().findChild<QPushButton*>("emptyPageButton");
        QVERIFY(start && start->isVisible());
        QTest::mouseClick(start, Qt::LeftButton);
        QVERIFY(settled());
        QCOMPARE(workspace_->chosen.season()->races.size(), 1U);
        workspace_->roster.steps().stack().undo();
        QVERIFY(!workspace_->chosen.season());
    }

    void anEmptyRosterAndNoRosterAreGreetedToo() {
        QVERIFY(workspace_->roster.create(folder_.filePath("empty.marram")));
        for (int i = 0; i < 6; ++i) {
            window_->go(static_cast<Place>(i));
            QTest::qWait(10);
        }
        QVERIFY(!workspace_->chosen.rider());
        QSignalSpy trouble(&workspace_->notices, &Notices::failed);
        QVERIFY(!workspace_->roster.open(folder_.filePath("absent.marram")));
        QCOMPARE(trouble.count(), 1);
        QVERIFY(workspace_->roster.isOpen());
    }
};

MARRAM_WINDOW_SUITE(WindowTest)
#include "tst_window.moc"
