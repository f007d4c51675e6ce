// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/palette.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QListWidget>
#include <QMessageBox>
#include <QPointer>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>

using namespace marram;
using namespace marram::test;

/// Every field that edits something, typed into as a coach would.
class EditorsTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    int rosters_ = 0;
    const Date today_ = parseDate("2027-03-01").value();

    template <class T>
    T* find(const char* name) {
        T* found = window_->findChild<T*>(name);
        if (!found)
            qFatal("no %s", name);
        return found;
    }
    template <class Box>
    void type(Box* box, const char* text) {
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, text);
        QTest::keyClick(box, Qt::Key_Return);
    }
    void choose(QComboBox* box, int index) {
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    const Race& race() { return w_->chosen.season()->races[0]; }

private slots:
    void initTestCase() {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
    }
    void init() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        QVERIFY(w_->roster.create(folder_.filePath(QString("%1.marram").arg(++rosters_))));
        w_->roster.edits().addRider("Ann Dunlin");
        RiderRecord ann = *w_->chosen.rider();
        ann.values.set(Quantity::ThresholdPower, today_ - 365, 220);
        w_->chosen.edits().setRider(ann, "Threshold");
        w_->roster.steps().stack().clear();
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
        QVERIFY(comes([&] { return w_->plans.solved() != nullptr; }));
    }
    void cleanup() {
        window_.reset();
        w_.reset();
    }

    void aRaceIsRenamedMovedAndReweighed() {
        window_->go(Place::Season);
        window_->seasonView().openOn(race().date, 0);
        type(find<QLineEdit>("raceName"), "Point");
        QCOMPARE(race().name, std::string("Point"));
        const Date before = race().date;
        auto* date = find<QDateEdit>("raceDate");
        date->setDate(date->date().addDays(-7));
        QCOMPARE(race().date, before - 7);
        type(find<QDoubleSpinBox>("raceStress"), "275");
        QCOMPARE(race().stress.value(), 275.0);
        type(find<QDoubleSpinBox>("gateLow"), "5");
        QCOMPARE(race().gate->low, 5.0);
        QCOMPARE(race().gate->high, 25.0);
        // Edges the wrong way round are put right, not refused.
        type(find<QDoubleSpinBox>("gateHigh"), "2");
        QVERIFY(*race().gate == Gate(2, 5));
        choose(find<QComboBox>("racePriority"), 1);
        QCOMPARE(race().priority, Priority::B);
        QVERIFY(!race().gate);
        QCOMPARE(w_->roster.steps().stack().count(), 7);
        while (w_->roster.steps().stack().index() > 1)
            w_->roster.steps().stack().undo();
        QCOMPARE(race().date, before);
        QCOMPARE(race().priority, Priority::A);
    }
    void anEmptyNameIsNotTaken() {
        window_->seasonView().openOn(race().date, 0);
        type(find<QLineEdit>("raceName"), " ");
        QCOMPARE(race().name, std::string("A race"));
    }
    void racesComeAndGo() {
        window_->go(Place::Season);
        window_->seasonView().addRace(today_ + 50, Priority::B);
        QCOMPARE(w_->chosen.season()->races.size(), 2U);
        QCOMPARE(window_->seasonView().canvas().marks().race, 1);
        window_->seasonView().removeSelectedRace();
        QCOMPARE(w_->chosen.season()->races.size(), 1U);
        window_->seasonView().addRace(today_ - 400);
        QCOMPARE(w_->chosen.season()->races[1].date, w_->chosen.season()->start);
    }
    void aWeekIsPinnedByItsBoxAndFreed() {
        const Date week = monday(today_) + 35;
        window_->seasonView().openOn(week + 1, -1);
        choose(find<QComboBox>("weekKind"), 2);
        QCOMPARE(w_->chosen.season()->weeks[0].kind.value(), WeekKind::Deload);
        choose(find<QComboBox>("weekKind"), 0);
        QVERIFY(w_->chosen.season()->weeks.empty());
        window_->seasonView().pinSelectedWeek(WeekKind::Deload);
        window_->seasonView().pinSelectedWeek(WeekKind::Deload);
        QVERIFY(w_->chosen.season()->weeks.empty());
    }
    void theRidersFieldsEditTheRider() {
        window_->go(Place::Rider);
        type(find<QLineEdit>("riderName"), "Ann Of The Very Long Dunlin");
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Of The Very Long Dunlin"));
        QVERIFY(window_->windowTitle().startsWith("Ann Of"));
        type(find<QSpinBox>("riderBorn"), "1990");
        QCOMPARE(w_->chosen.rider()->born.value(), 1990);
        type(find<QDoubleSpinBox>("riderHours5"), "4.5");
        QCOMPARE(w_->chosen.rider()->hours[5], 4.5);
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rider()->hours[5], 3.0);
        QCOMPARE(find<QDoubleSpinBox>("riderHours5")->value(), 3.0);
    }
    void valuesAreEditedInTheirTable_data() {
        QTest::addColumn<int>("column");
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("taken");
        QTest::newRow("power") << 1 << "245" << true;
        QTest::newRow("too much power") << 1 << "2450" << false;
        QTest::newRow("words") << 1 << "lots" << false;
        QTest::newRow("heart rate") << 2 << "171" << true;
        QTest::newRow("no heart rate") << 2 << "" << true;
        QTest::newRow("low threshold") << 3 << "74" << true;
        QTest::newRow("low threshold too low") << 3 << "20" << false;
        QTest::newRow("weight with a comma") << 4 << "61,5" << true;
        QTest::newRow("resting heart rate") << 5 << "48" << true;
        QTest::newRow("maximal heart rate too high") << 6 << "400" << false;
        QTest::newRow("date") << 0 << "2026-11-01" << true;
        QTest::newRow("no date") << 0 << "2026-02-30" << false;
    }
    void valuesAreEditedInTheirTable() {
        QFETCH(int, column);
        QFETCH(QString, text);
        QFETCH(bool, taken);
        window_->go(Place::Rider);
        const auto before = w_->chosen.rider()->values;
        QSignalSpy failed(&w_->notices, &Notices::failed);
        auto* table = find<QTableWidget>("values");
        table->item(0, column)->setText(text);
        QCOMPARE(failed.count(), taken ? 0 : 1);
        if (!taken) {
            QVERIFY(w_->chosen.rider()->values == before);
            QVERIFY(failed[0][0].toString().contains("Nothing was changed"));
            QVERIFY(table->item(0, column)->text() != text);
        } else if (!text.isEmpty()) {
            QVERIFY(!(w_->chosen.rider()->values == before));
        }
    }
    void aValueIsAddedFromTodayAndTakenBack() {
        window_->go(Place::Rider);
        auto* table = find<QTableWidget>("values");
        QTest::mouseClick(find<QPushButton>("addValues"), Qt::LeftButton);
        QCOMPARE(table->rowCount(), 2);
        QVERIFY(w_->chosen.rider()->values.of(Quantity::ThresholdPower).size() == 1); // nothing is made up
        table->item(1, 4)->setText("60.5");
        QCOMPARE(w_->chosen.rider()->values.of(Quantity::Weight).back(), (DatedValue{today_, 60.5}));
        QCOMPARE(table->rowCount(), 2);
        table->item(1, 4)->setText("");
        QVERIFY(w_->chosen.rider()->values.of(Quantity::Weight).empty());
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rider()->values.of(Quantity::Weight).size(), 1U);
        table->setCurrentCell(1, 4);
        QTest::mouseClick(find<QPushButton>("removeValues"), Qt::LeftButton);
        QVERIFY(w_->chosen.rider()->values.of(Quantity::Weight).empty());
    }
    void theRosterOpensARider() {
        w_->roster.edits().addRider("Bo Sanderling");
        window_->go(Place::Roster);
        auto* table = find<QTableWidget>("roster");
        QTRY_COMPARE_WITH_TIMEOUT(table->rowCount(), 2, Patience);
        table->setCurrentCell(0, 0);
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Dunlin"));
        emit table->cellActivated(0, 0);
        QCOMPARE(window_->place(), Place::Season);
        QTest::mouseClick(find<QPushButton>("addRider"), Qt::LeftButton);
        QCOMPARE(w_->roster.riders().size(), 3U);
    }
    void theHeaderChoosesRiderAndPlace() {
        w_->roster.edits().addRider("Bo Sanderling");
        auto* riders = find<QComboBox>("riderChoice");
        QCOMPARE(riders->count(), 2);
        choose(riders, 0);
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Dunlin"));
        for (int i = 1; i <= 6; ++i) {
            QTest::keyClick(window_.get(), static_cast<Qt::Key>(Qt::Key_0 + i), Qt::ControlModifier);
            QCOMPARE(static_cast<int>(window_->place()), i - 1);
        }
    }
    void thePaletteFindsAndDoes() {
        window_->go(Place::Rides);
        CommandPalette palette(window_->actions(), window_.get());
        palette.show();
        auto* search = palette.findChild<QLineEdit*>("paletteSearch");
        QTest::keyClicks(search, "go rider");
        QTest::keyClick(search, Qt::Key_Down);
        QTest::keyClick(search, Qt::Key_Up);
        QTest::keyClick(search, Qt::Key_Return);
        QTRY_COMPARE_WITH_TIMEOUT(window_->place(), Place::Rider, Patience);
        QVERIFY(!palette.isVisible());
        // As coaches call it; and what is called like nothing says so and does nothing.
        window_->go(Place::Season);
        palette.show();
        QTRY_VERIFY_WITH_TIMEOUT(search->hasFocus(), Patience);
        auto* list = palette.findChild<QListWidget*>();
        for (const auto& [typed, first] : {std::pair{"wall", "The season on a page"},
                                           {"backup", "Copies of this roster"},
                                           {"zoom", "Larger text"}}) {
            search->setText(typed);
            QVERIFY2(list->item(0)->text().startsWith(first), typed);
        }
        search->setText("qqxzy");
        QCOMPARE(list->count(), 1);
        QTest::keyClick(search, Qt::Key_Return);
        QVERIFY(palette.isVisible());
        QTest::keyClick(search, Qt::Key_Escape);
    }
    /// An action with events of its own, as a dialog with its progress has them: the palette goes meanwhile,
    /// and its list and its line must be done with what was clicked and typed.
    void thePaletteMayGoWhileItsActionRuns_data() {
        QTest::addColumn<bool>("pointer");
        QTest::newRow("by the pointer") << true;
        QTest::newRow("by Return") << false;
    }
    void thePaletteMayGoWhileItsActionRuns() {
        QFETCH(bool, pointer);
        QPointer<CommandPalette> palette;
        bool goneBefore = false;
        int runs = 0;
        QAction action("Ride a while");
        connect(&action, &QAction::triggered, this, [&] {
            ++runs;
            goneBefore = palette.isNull();
            QCoreApplication::processEvents();
        });
        palette = new CommandPalette({&action}, window_.get());
        palette->setAttribute(Qt::WA_DeleteOnClose);
        palette->show();
        auto* list = palette->findChild<QListWidget*>();
        if (pointer)
            QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                              list->visualItemRect(list->item(0)).center());
        else
            QTest::keyClick(palette->findChild<QLineEdit*>("paletteSearch"), Qt::Key_Return);
        QTRY_COMPARE_WITH_TIMEOUT(runs, 1, Patience);
        QVERIFY(goneBefore); // nobody's click or key was under way
        QVERIFY(palette.isNull());
    }
    void keysOfTheViewAreShown() {
        window_->go(Place::Season);
        QTest::keyClick(window_.get(), Qt::Key_F1);
        auto* box = window_->findChild<QDialog*>("keys");
        QVERIFY(box);
        const QString text = box->findChild<QTextBrowser*>("keysList")->toPlainText();
        QVERIFY(text.contains("Shift with arrows") && text.contains("Undo"));
        QVERIFY(box->height() <= window_->height());
        QTest::keyClick(box, Qt::Key_Escape);
        QVERIFY(!box->isVisible());
    }
    void ridesAreListedAndExplained() {
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), {save(folder_.filePath("a.fit"), fitOf(50, 1)),
                                                        save(folder_.filePath("b.fit"), fitOf(52, 2))});
        QVERIFY(done.wait(Patience));
        window_->go(Place::Rides);
        auto* table = find<QTableView>("rides");
        QTRY_VERIFY_WITH_TIMEOUT(table->model()->rowCount() >= 2, Patience);
        int row = 0;
        while (table->model()->index(row, 1).data().toString() != "2:00" && row < table->model()->rowCount())
            ++row;
        table->selectRow(row);
        const QString words = find<QTextBrowser>("rideWords")->toPlainText();
        QVERIFY2(words.contains("by power") && words.contains("b.fit"), qPrintable(words));
        window_->ridesView().removeSelected();
        // What scores the rides brought in may still write: an edit waits its turn then.
        QTRY_COMPARE_WITH_TIMEOUT(w_->chosen.rides().size(), 1U, Patience);
    }
    void whereTheWindowStoodIsRemembered() {
        window_->go(Place::Rider);
        window_->close();
        MainWindow next(*w_);
        QCOMPARE(next.place(), Place::Rider);
    }
};

MARRAM_WINDOW_SUITE(EditorsTest)
#include "tst_editors.moc"
