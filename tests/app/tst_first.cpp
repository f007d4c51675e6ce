// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/dates.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "store/roster.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QApplication>
#include <QDir>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;

/// The first minutes of somebody new.
class FirstTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    const Date today_ = parseDate("2027-03-01").value();

    template <class T>
    T* find(const char* name) {
        auto* found = window_->findChild<T*>(name);
        if (!found)
            qFatal("no %s", name);
        return found;
    }

private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-first-test");
        QApplication::setOrganizationName("marram-first-test");
        dress(*qApp, {});
        QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
    }
    void init() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
    }
    void cleanup() {
        window_.reset();
        w_.reset();
        QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
    }

    void anEmptyPlaceOffersThreeWaysOn() {
        QSignalSpy demo(window_.get(), &MainWindow::wantsDemo);
        for (const char* way : {"lookRoundButton", "firstRiderButton", "bringRosterButton"})
            QVERIFY2(find<QPushButton>(way)->isVisible(), way);
        QTest::mouseClick(find<QPushButton>("lookRoundButton"), Qt::LeftButton);
        QCOMPARE(demo.count(), 1);
    }
    void theFirstRiderNeedsNoDecisionAboutFiles() {
        QTest::mouseClick(find<QPushButton>("firstRiderButton"), Qt::LeftButton);
        QVERIFY(w_->roster.isOpen() && w_->chosen.rider());
        QCOMPARE(window_->place(), Place::Rider);
        // The name is chosen for typing: what is typed is the name.
        auto* name = find<QLineEdit>("riderName");
        QCOMPARE(name->selectedText(), QString("New rider"));
        QTest::keyClicks(name, "Ann Dunlin");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Dunlin"));
        // The roster is its owner's only.
        QCOMPARE(QFile::permissions(w_->roster.path()) &
                     (QFile::ReadGroup | QFile::ReadOther | QFile::WriteOther),
                 QFile::Permissions());
    }
    void aNewRidersPageAsksForWhatASeasonNeeds() {
        QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier); // with no roster open
        QVERIFY(w_->chosen.rider());
        auto* needs = find<QLabel>("riderNeeds");
        QVERIFY(needs->isVisible());
        for (const char* need : {"enter:hours", "enter:threshold", "enter:lately", "skip:hours"})
            QVERIFY2(needs->text().contains(need), need);
        emit needs->linkActivated("skip:hours");
        QVERIFY(!needs->text().contains("enter:hours") && needs->text().contains("enter:lately"));
        emit needs->linkActivated("enter:lately");
        auto* usual = find<QDoubleSpinBox>("usualWeek");
        QVERIFY(usual->isVisible());
        QTest::keyClicks(usual, "8");
        QTest::keyClick(usual, Qt::Key_Return);
        QVERIFY(!needs->text().contains("enter:lately"));
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::ThresholdPower, today_, 240);
        w_->chosen.edits().setRider(r, "Threshold");
        QVERIFY(!needs->isVisible());
        // Who comes later is asked anew.
        w_->roster.edits().addRider("Bo");
        QVERIFY(needs->text().contains("enter:hours"));
    }
    void whatARiderNeedsIsSaidWithWhatIsLost() {
        RiderRecord r;
        r.hours = guessedHours;
        QCOMPARE(riderNeeds(r, false).size(), 3U);
        for (const RiderNeed& n : riderNeeds(r, false))
            QVERIFY(n.what.contains(':') && n.what.endsWith('.'));
        r.hours[1] = 2;
        r.values.set(Quantity::ThresholdHeartRate, today_, 170);
        QCOMPARE(riderNeeds(r, true).size(), 1U); // resting heart rate is still unknown
        r.values.set(Quantity::RestingHeartRate, today_, 50);
        QVERIFY(riderNeeds(r, true).empty());
    }
    void everyActionStandsInAMenuThatCanBeHidden() {
        QStringList titles;
        QSet<QAction*> listed;
        for (QAction* menu : window_->menuBar()->actions()) {
            titles << menu->text().remove('&');
            for (QAction* a : menu->menu()->actions())
                listed.insert(a);
        }
        QCOMPARE(titles, (QStringList{"File", "Edit", "Rider", "Season", "Block", "Review", "View", "Help"}));
        for (QAction* a : window_->actions())
            QVERIFY2(listed.contains(a), qPrintable(a->text()));
        QVERIFY(window_->menuBar()->isVisible());
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
        QVERIFY(!window_->menuBar()->isVisible());
        QTest::keyClick(window_.get(), Qt::Key_4, Qt::ControlModifier); // keys go on working
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
        QVERIFY(window_->menuBar()->isVisible());
    }
    void damageIsToldOnceWithAWayOut() {
        QVERIFY(w_->roster.create(folder_.filePath("damaged.marram")));
        Damage d;
        d.add("Ann's ride of 2027-01-04 (mill.fit): its recording is damaged and no longer unpacks");
        emit w_->roster.damageFound(d);
        emit w_->roster.damageFound(d);
        const auto boxes = window_->findChildren<QMessageBox*>("damage");
        QCOMPARE(boxes.size(), 1);
        QVERIFY(boxes[0]->informativeText().contains("mill.fit"));
        const auto buttons = boxes[0]->buttons();
        QVERIFY(std::any_of(buttons.begin(), buttons.end(),
                            [](QAbstractButton* b) { return b->text().contains("Save what is whole"); }));
        boxes[0]->close();
    }
    void sentencesHavePeoplesDates() {
        QCOMPARE(withPeoplesDates("The week of 2027-03-22 is full.", today_),
                 QString("The week of 22 March is full."));
        QCOMPARE(withPeoplesDates("From 2027-12-27 to 2028-01-02.", today_),
                 QString("From 27 December to 2 January 2028."));
        QCOMPARE(withPeoplesDates("2027-03-22-090000.fit came in.", today_),
                 QString("2027-03-22-090000.fit came in."));
        QCOMPARE(withPeoplesDates("2027-02-30 is no day.", today_), QString("2027-02-30 is no day."));
    }
};

MARRAM_WINDOW_SUITE(FirstTest)
#include "tst_first.moc"
