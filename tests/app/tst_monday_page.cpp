// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/ride_today.h"
#include "store/letters.h"
#include "store/looking_back.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QDateTime>
#include <QDir>
#include <QElapsedTimer>
#include <QLabel>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTextBrowser>

using namespace marram;
using namespace marram::test;

/// Monday's page in a real window: rider after rider, week after week, words, letters.
class MondayPageTest : public DemoWindow {
    Q_OBJECT
    void open() {
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(window_->place(), Place::Review);
    }
    bool read() {
        return comes([&] { return !w_->mondays.reading() && w_->mondays.picture(); });
    }

private slots:
    void initTestCase() { dressed(); }
    void init() {
        QSettings().remove("postFolder"); // of the test before
        openWindow();
    }
    void cleanup() { closeWindow(); }

    void whatWasSentIsWhatTheWindowShowsAfterwards() {
        // Riders who were never shown have promised nothing: what they are sent is the promise.
        QSignalSpy sent(&w_->roster.jobs(), &RosterJobs::weekSent);
        w_->roster.jobs().sendWeek(folder_.filePath("promise"), {}, monday(today_) - 7);
        QVERIFY(sent.wait(Patience));
        int days = 0, same = 0;
        for (const RiderRecord& r : w_->roster.riders()) {
            const auto season = w_->roster.file().seasonInForce(r.id);
            QVERIFY(season && *season);
            std::vector<MeantSession> promise;
            QVERIFY(comes([&] {
                promise = w_->roster.file().meantOf((*season)->id).value();
                return !promise.empty() && promise.back().date > today_ + 14;
            }));
            w_->chosen.choose(r.id);
            QVERIFY(comes([&] { return w_->plans.solved() && w_->blocks.block() && !w_->blocks.solving(); }));
            for (const MeantSession& m : promise)
                if (m.date >= today_ && m.date < today_ + 14 && !m.words.empty()) {
                    const BlockSession* shown = w_->blocks.sessionOn(m.date);
                    ++days;
                    same += shown && shown->family == m.family && shown->rung == m.rung ? 1 : 0;
                }
        }
        QVERIFY(days > 40);
        QVERIFY(same >= 0.95 * days); // as a plan ridden to the letter keeps its sessions
    }
    void thePageSaysWhatTheFileHolds() {
        choose("Wenna");
        open();
        QVERIFY(read());
        const auto facts = lookBack(w_->roster.file(), *w_->chosen.rider(), today_ - 7, today_);
        QVERIFY(facts);
        QCOMPARE(find<QLabel>("mondayTitle")->text(), QString("Week of 16 November"));
        QCOMPARE(find<QLabel>("mondayDone")->text(), QString::fromStdString(mondayOf(*facts).done));
        double points = 0;
        for (const RideRecord& r : w_->chosen.rides())
            if (!r.excluded && r.day >= today_ - 7 && r.day < today_)
                points += r.score.stress.value_or(0);
        double shown = 0;
        for (const MondayDay& d : facts->days)
            shown += d.ridden.value_or(0);
        QVERIFY(points > 100 && std::abs(points - shown) < 1e-6);
        // Form is the form shown everywhere.
        QCOMPARE(facts->after.form(), w_->chosen.history().before(today_).form());
        // The days can be read aloud and opened.
        auto* line = window_->findChild<DayLine*>("dayLine");
        QVERIFY(line->accessibleDescription().contains("points meant"));
        QSignalSpy wants(line, &DayLine::wantsRide);
        line->setFocus();
        for (int i = 0; i < 14 && wants.isEmpty(); ++i) {
            QTest::keyClick(line, Qt::Key_Right);
            QTest::keyClick(line, Qt::Key_Return);
        }
        QVERIFY(!wants.isEmpty());
        QCOMPARE(window_->place(), Place::Rides);
    }

    void aPageInTheMakingIsNeverAnotherRiders() {
        choose("Wenna");
        open();
        for (const char* name : {"Nell", "Osric", "Pim", "Wenna", "Nell"}) {
            choose(name); // while the one before is read
            const auto now = w_->mondays.picture();
            QVERIFY(!now || now->rider == w_->chosen.id());
        }
        QVERIFY(read());
        QCOMPARE(w_->mondays.picture()->rider, w_->chosen.id());
        QCOMPARE(w_->mondays.picture()->monday.rider, w_->chosen.rider()->name.toStdString());
    }

    void whatIsTypedGoesToWhomItWasBegunForAndIsUndone() {
        choose("Wenna");
        const qint64 wenna = w_->chosen.id();
        open();
        QVERIFY(read());
        auto* words = find<QPlainTextEdit>("mondayWords");
        const QString proposed = words->toPlainText();
        QVERIFY(proposed.startsWith("You rode"));
        words->setFocus();
        words->selectAll();
        QTest::keyClicks(words, "Well ridden, Wenna.");
        // On to the next rider with one key, in the middle of it.
        QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
        QVERIFY(w_->chosen.id() != wenna);
        QCOMPARE(w_->roster.file().letter(wenna, today_ - 7).value(), QString("Well ridden, Wenna."));
        QVERIFY(w_->roster.file().letter(w_->chosen.id(), today_ - 7).value().isEmpty());
        QVERIFY(read());
        QVERIFY(!words->toPlainText().contains("Wenna"));
        w_->chosen.choose(wenna);
        QVERIFY(read());
        QCOMPARE(words->toPlainText(), QString("Well ridden, Wenna."));
        w_->roster.steps().stack().undo();
        QVERIFY(read());
        QTRY_COMPARE_WITH_TIMEOUT(words->toPlainText(), proposed, Patience);
        w_->roster.steps().stack().redo();
        QTRY_COMPARE_WITH_TIMEOUT(words->toPlainText(), QString("Well ridden, Wenna."), Patience);
        // Emptied, it is proposed again; a look changes nothing.
        const int steps = w_->roster.steps().stack().index();
        words->setFocus();
        words->clear();
        find<QPushButton>("mondayBefore")->setFocus();
        QTRY_COMPARE_WITH_TIMEOUT(w_->roster.steps().stack().index(), steps + 1, Patience);
        QVERIFY(w_->roster.file().letter(wenna, today_ - 7).value().isEmpty());
        QTRY_COMPARE_WITH_TIMEOUT(words->toPlainText(), proposed, Patience);
    }

    void theSameAgainIsTheSameEverywhere() {
        choose("Wenna");
        const auto before = lookBack(w_->roster.file(), *w_->chosen.rider(), today_ - 7, today_);
        QVERIFY(before && !before->again.empty()); // laid over the rides by the way
        const Date day = before->again.front().now.day;
        // The rides are laid over their sessions beside the interface, and what they came to is kept.
        QTRY_VERIFY_WITH_TIMEOUT(w_->blocks.againOn(day) && !w_->blocks.againOn(day)->earlier.empty(),
                                 Patience);
        QTRY_COMPARE_WITH_TIMEOUT(w_->blocks.againOn(day)->earlier.size(),
                                  before->again.front().earlier.size(), Patience);
        const std::string here = againText(*w_->blocks.againOn(day), today_);
        QCOMPARE(here, againText(before->again.front(), today_));
        const auto after = lookBack(w_->roster.file(), *w_->chosen.rider(), today_ - 7, today_);
        QCOMPARE(againText(after->again.front(), today_), here);
        window_->go(Place::Rides);
        window_->ridesView().showRide(w_->blocks.againOn(day)->now.ride);
        window_->ridesView().panel().openPage(3);
        QTRY_VERIFY_WITH_TIMEOUT(
            find<QTextBrowser>("meantWords")->toPlainText().contains(QString::fromStdString(here).left(60)),
            Patience);
    }

    void weeksGoBackAndForth() {
        choose("Nell");
        open();
        QVERIFY(read());
        QTest::mouseClick(find<QPushButton>("mondayBefore"), Qt::LeftButton);
        QVERIFY(read());
        QCOMPARE(find<QLabel>("mondayTitle")->text(), QString("Week of 9 November"));
        QCOMPARE(w_->mondays.picture()->week, today_ - 14);
        QTest::mouseClick(find<QPushButton>("mondayAfter"), Qt::LeftButton);
        QTest::mouseClick(find<QPushButton>("mondayAfter"), Qt::LeftButton);
        QVERIFY(read());
        QCOMPARE(w_->mondays.week(), today_); // the week that runs
        QVERIFY(!find<QPushButton>("mondayAfter")->isEnabled());
        QVERIFY(!QString::fromStdString(w_->mondays.picture()->monday.done).contains("Not ridden"));
    }

    void anEditIsSeenOnThePage() {
        choose("Nell");
        open();
        QVERIFY(read());
        const QString before = find<QLabel>("mondayDone")->text();
        qint64 ride = 0;
        for (const RideRecord& r : w_->chosen.rides())
            if (r.day >= today_ - 7 && r.day < today_)
                ride = r.id;
        w_->chosen.edits().removeRide(ride);
        QTRY_VERIFY_WITH_TIMEOUT(find<QLabel>("mondayDone")->text() != before, Patience);
        w_->roster.steps().stack().undo();
        QTRY_COMPARE_WITH_TIMEOUT(find<QLabel>("mondayDone")->text(), before, Patience);
    }

    void theWeekIsSentToAllFromTheWindow() {
        choose("Nell");
        open();
        QVERIFY(read());
        const QString to = folder_.filePath("post");
        QSignalSpy sent(&w_->roster.jobs(), &RosterJobs::weekSent);
        window_->reviewView().mondayPage().sendWeek(to);
        QVERIFY(sent.wait(Patience));
        QCOMPARE(sent[0][1].toInt(), 6);
        QCOMPARE(QDir(to).entryList(QDir::Dirs | QDir::NoDotAndDotDot).size(), qsizetype(6));
        QVERIFY(!window_->findChild<QWidget*>("lettersProgress") ||
                !window_->findChild<QWidget*>("lettersProgress")->isVisible());
        // Closing the roster in the middle ends it in order.
        window_->reviewView().mondayPage().sendWeek(folder_.filePath("post2"));
        w_->roster.close();
        QTest::qWait(50);
        QVERIFY(!w_->roster.isOpen());
    }

    void whatRidersSentBackIsTakenInOnce() {
        choose("Nell");
        open();
        QVERIFY(read());
        const QString to = folder_.filePath("exchange");
        QSignalSpy sent(&w_->roster.jobs(), &RosterJobs::weekSent);
        window_->reviewView().mondayPage().sendWeek(to);
        QVERIFY(sent.wait(Patience));
        const auto homeOf = [&](const QString& name) {
            for (const QString& each : QDir(to).entryList(QDir::Dirs | QDir::NoDotAndDotDot))
                if (each.endsWith(name))
                    return QDir(to).filePath(each) + "/from-rider/";
            return QString();
        };
        const auto write = [](const QString& file, const QByteArray& bytes) {
            QFile f(file);
            return f.open(QIODevice::WriteOnly) && f.write(bytes) == bytes.size();
        };
        // Nell: a ride, a sheet with one day filled in, a note. Osric: a sheet of somebody else. Pim:
        // rubbish.
        const qint64 nell = w_->chosen.id();
        const QString fit = folder_.filePath("device");
        QVERIFY(QDir().mkpath(fit));
        const auto made = rideToday(w_->chosen, w_->today(), fit);
        QVERIFY(made);
        QVERIFY(QFile::copy(*made, homeOf("nell-varrowby") + "today.fit"));
        QVERIFY(write(
            homeOf("nell-varrowby") + "check-in.csv",
            "rider,date,feel,note\nNell Varrowby,2026-11-22,4,slept well\nNell Varrowby,2026-11-23,,\n"));
        QVERIFY(write(homeOf("nell-varrowby") + "note.txt", "Could we ride <b>earlier</b> on Tuesdays?"));
        QVERIFY(write(homeOf("osric-tallowfen") + "check-in.csv",
                      "rider,date,feel\nWenna Strake,2026-11-22,1\n"));
        QVERIFY(write(homeOf("pim-aldertide") + "broken.fit", "no ride at all"));
        const auto kept = w_->roster.checkInOn(nell, today_);
        const size_t rides = w_->chosen.rides().size();
        QSignalSpy taken(&w_->inbox, &Inbox::taken);
        window_->reviewView().mondayPage().takeInPost(to);
        QVERIFY(taken.count() == 1 || taken.wait(Patience));
        auto* words = window_->findChild<QTextBrowser*>("postWords");
        QVERIFY(words);
        QVERIFY(!window_->findChild<QMessageBox*>("postWaiting")); // they were just taken in
        const QString told = words->toPlainText();
        QVERIFY2(told.contains("1 ride, 1 check-in taken in.") && told.contains("ride <b>earlier</b> on") &&
                     told.contains("Wenna Strake") && told.contains("broken.fit"),
                 qPrintable(told));
        QCOMPARE(w_->roster.checkInOn(nell, today_ - 1)->note, std::string("slept well"));
        // An empty line takes nothing away, and the note is kept with the day it came.
        auto now = w_->roster.checkInOn(nell, today_);
        QVERIFY(now && now->note.find("Could we ride <b>earlier</b> on Tuesdays?") != std::string::npos);
        now->note = kept->note;
        QVERIFY(now == kept);
        choose("Nell");
        QCOMPARE(w_->chosen.rides().size(), rides + 1);
        QVERIFY(QFile::exists(homeOf("nell-varrowby") + "today.fit"));
        // Once more: everything is known.
        window_->findChild<QDialog*>("postTaken")->close();
        window_->reviewView().mondayPage().takeInPost(to);
        QVERIFY(taken.count() == 2 || taken.wait(Patience));
        QCOMPARE(w_->chosen.rides().size(), rides + 1);
    }

    void thePostIsWatchedAndWhatCameMeanwhileIsAskedAbout() {
        const QString to = folder_.filePath("watched");
        QSignalSpy sent(&w_->roster.jobs(), &RosterJobs::weekSent);
        choose("Osric");
        open();
        QVERIFY(read());
        w_->inbox.setLeastBetween(100);
        window_->reviewView().mondayPage().sendWeek(to);
        QVERIFY(sent.wait(Patience));
        QString home;
        for (const QString& each : QDir(to).entryList(QDir::Dirs | QDir::NoDotAndDotDot))
            if (each.endsWith("osric-tallowfen"))
                home = QDir(to).filePath(each) + "/from-rider/";
        const auto ride = [&](const QString& name, int watts) {
            QFile file(home + name);
            if (!file.open(QIODevice::WriteOnly))
                return false;
            QByteArray bytes = "time,power_w\n";
            const QDateTime start(QDate(2026, 11, 20), QTime(watts / 10, 0), Qt::UTC);
            for (int t = 0; t < 900; ++t)
                bytes += start.addSecs(t).toString(Qt::ISODate).toUtf8() + "," +
                         QByteArray::number(watts + t % 7) + "\n";
            return file.write(bytes) == bytes.size();
        };
        // What is put there is in the roster soon, and no dialog stands in front of the work.
        QSignalSpy taken(&w_->inbox, &Inbox::taken), said(&w_->notices, &Notices::said);
        const size_t rides = w_->chosen.rides().size();
        QVERIFY(ride("one.csv", 120));
        QVERIFY(taken.wait(Patience));
        QVERIFY(!taken[0][1].toBool());
        QTRY_COMPARE_WITH_TIMEOUT(w_->chosen.rides().size(), rides + 1, Patience);
        QVERIFY(!window_->findChild<QDialog*>("postTaken"));
        QVERIFY(std::any_of(said.begin(), said.end(), [](const QList<QVariant>& one) {
            return one[0].toString().contains("Osric Tallowfen: 1 ride");
        }));
        // Nothing is looked at twice.
        QVERIFY(!taken.wait(2500));
        // What comes while no roster is open is asked about when it is.
        const QString path = w_->roster.path();
        w_->roster.close();
        QVERIFY(ride("two.csv", 140) && ride("three.csv", 150));
        QTest::qWait(1700);
        QCOMPARE(taken.count(), 1);
        QSettings().setValue("postFolder", to);
        QVERIFY(w_->roster.open(path));
        auto* box = window_->findChild<QMessageBox*>("postWaiting");
        QVERIFY(box && box->text().startsWith("2 new files lie from one rider"));
        for (QAbstractButton* button : box->buttons())
            if (button->text() == "Take in")
                button->click();
        QVERIFY(taken.count() == 2 || taken.wait(Patience));
        QVERIFY(taken[1][1].toBool());
        choose("Osric");
        QCOMPARE(w_->chosen.rides().size(), rides + 3);
        // Once more: there is nothing to ask about.
        w_->roster.close();
        QVERIFY(w_->roster.open(path));
        QTest::qWait(50);
        for (QMessageBox* each : window_->findChildren<QMessageBox*>("postWaiting"))
            QVERIFY(!each->isVisible());
        QSettings().remove("postFolder");
    }

    void whoLeavesWhileThePostIsReadHoldsNobodyUp() {
        const QString to = folder_.filePath("leaving");
        QSignalSpy sent(&w_->roster.jobs(), &RosterJobs::weekSent);
        choose("Nell");
        open();
        QVERIFY(read());
        window_->reviewView().mondayPage().sendWeek(to);
        QVERIFY(sent.wait(Patience));
        for (const QString& home : QDir(to).entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
            QFile file(QDir(to).filePath(home) + "/from-rider/ride.csv");
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write("seconds,power_w\n");
            for (int t = 0; t < 900; ++t)
                file.write(QByteArray::number(t) + "," + QByteArray::number(120 + t % 7) + "\n");
        }
        QSignalSpy taken(&w_->inbox, &Inbox::taken);
        w_->inbox.takeIn(to);
        QVERIFY(w_->inbox.busy());
        w_->inbox.takeIn(to); // a second time meanwhile does nothing
        const auto last = std::find_if(w_->roster.riders().begin(), w_->roster.riders().end(),
                                       [](const RiderRecord& r) { return r.name.contains("Wenna"); });
        QVERIFY(last != w_->roster.riders().end());
        {
            // Another window takes her out of the roster.
            const auto other = Roster::open(w_->roster.path()).value();
            QVERIFY(other->putRiderAside(last->id, true));
        }
        w_->roster.lookForOthers();
        QVERIFY(taken.count() == 1 || taken.wait(Patience));
        QVERIFY(!w_->inbox.busy());
        // And closing in the middle leaves nothing waiting.
        w_->inbox.takeIn(to);
        w_->roster.close();
        QVERIFY(!w_->inbox.busy());
    }

    void lettersGoToOneAndToAll() {
        choose("Nell");
        open();
        QVERIFY(read());
        const QString page = folder_.filePath("nell.pdf"), text = folder_.filePath("nell.txt");
        window_->reviewView().mondayPage().saveLetter(page);
        window_->reviewView().mondayPage().saveLetter(text);
        QFile pdf(page), txt(text);
        QVERIFY(pdf.open(QIODevice::ReadOnly) && txt.open(QIODevice::ReadOnly));
        QVERIFY(pdf.readAll().startsWith("%PDF"));
        const QByteArray words = txt.readAll();
        QVERIFY(words.startsWith("Nell Varrowby\nWeek of 16 November 2026"));
        QVERIFY(!QFile(page).permissions().testFlag(QFileDevice::ReadOther));
        const QString all = folder_.filePath("letters");
        QVERIFY(QDir().mkpath(all));
        QSignalSpy written(&w_->roster.jobs(), &RosterJobs::lettersWritten);
        window_->reviewView().mondayPage().saveAllLetters(all);
        QVERIFY(written.wait(Patience));
        QCOMPARE(written[0][1].toInt(), static_cast<int>(w_->roster.riders().size()));
        QCOMPARE(QDir(all).entryList({"*.pdf"}).size(), static_cast<qsizetype>(w_->roster.riders().size()));
        QCOMPARE(QDir(all).entryList({"*.txt"}).size(), static_cast<qsizetype>(w_->roster.riders().size()));
        // Into a place that takes nothing: one sentence, nothing half-written.
        QSignalSpy failed(&w_->notices, &Notices::failed);
        window_->reviewView().mondayPage().saveAllLetters(page); // a file
        QVERIFY(failed.count() == 1 || failed.wait(Patience));
    }

    void theNextRiderIsTheNextWhoNeedsALook() {
        open();
        QVERIFY(read());
        // The roster's own order, as far as somebody needs a look, and from the first again.
        std::vector<qint64> order;
        for (const RosterRow& row : rosterRows(
                 w_->roster.riders(), {}, [&](qint64 r) -> const Standing& { return w_->standings.of(r); },
                 today_))
            if (row.reasons.front().urgency >= needsLook)
                order.push_back(row.rider);
        QVERIFY(order.size() >= 2);
        w_->chosen.choose(order.front());
        for (size_t i = 1; i <= order.size(); ++i) {
            QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
            QCOMPARE(w_->chosen.id(), order[i % order.size()]);
        }
    }

    void emptyRosterAndNewRiderAreNoTrouble() {
        open();
        QVERIFY(w_->roster.create(folder_.filePath("empty.marram")));
        QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
        w_->roster.edits().addRider("Nobody Yet");
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        QTest::qWait(50);
        CheckIn c;
        c.day = today_ - 2;
        c.feel = 3;
        CheckIn none;
        none.day = c.day;
        w_->roster.edits().editCheckIns({{w_->chosen.id(), none, c}}, "Enter");
        QVERIFY(read());
        QCOMPARE(find<QLabel>("mondayDone")->text(), QString("Nothing was ridden."));
        w_->roster.close();
        QVERIFY(!w_->mondays.picture());
    }
};

MARRAM_WINDOW_SUITE(MondayPageTest)
#include "tst_monday_page.moc"
