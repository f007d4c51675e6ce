// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/steps.h"
#include "app/owners/workspace.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <chrono>
#include <future>
#include <thread>

using namespace marram;
using namespace marram::test;

/// Steps to undo: taken one at a time, and kept where the file they go to is lost.
class StepsTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    QString path_;

    void rename(const QString& name) {
        const RiderRecord before = w_->roster.riders().front();
        RiderRecord after = before;
        after.name = name;
        w_->roster.edits().editRider(before, after, "Rename");
    }
    static QString nameIn(const QString& path) {
        const auto roster = Roster::open(path);
        if (!roster)
            return QString::fromStdString(roster.error().sentence);
        const auto riders = (*roster)->riders();
        return !riders           ? QString::fromStdString(riders.error().sentence)
               : riders->empty() ? QString("nobody")
                                 : riders->front().name;
    }

private slots:
    void init() {
        path_ = folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()));
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(parseDate("2027-03-01").value());
        QVERIFY(w_->roster.create(path_));
        w_->roster.edits().addRider("Ann Dunlin");
    }
    void cleanup() { w_.reset(); }

    void whatComesWhileAStepIsTakenWaitsItsTurn() {
        Steps steps;
        QStringList log;
        const auto step = [&](const QString& name, std::function<void()> within = {}) {
            steps.take(
                name,
                [&log, name, within] {
                    log << name + " begins";
                    if (within)
                        within();
                    log << name + " ends";
                    return true;
                },
                [&log, name] {
                    log << name + " undone";
                    return true;
                });
        };
        bool once = false;
        step("first", [&] {
            if (!std::exchange(once, true))
                step("second");
        });
        QTRY_COMPARE_WITH_TIMEOUT(steps.stack().count(), 2, Patience);
        QCOMPARE(log, QStringList({"first begins", "first ends", "second begins", "second ends"}));
        steps.stack().undo();
        steps.stack().undo();
        QCOMPARE(log.mid(4), QStringList({"second undone", "first undone"}));
    }
    void aStepThatCannotBeTakenLeavesNothingToUndo() {
        Steps steps;
        steps.take(
            "no", [] { return false; }, [] { return true; });
        QCOMPARE(steps.stack().count(), 0);
        // One that could be taken and can't be undone goes as well.
        steps.take(
            "once", [] { return true; }, [] { return false; });
        QCOMPARE(steps.stack().count(), 1);
        steps.stack().undo();
        QCOMPARE(steps.stack().count(), 0);
    }
    void severalStepsAreOneToUndo() {
        Steps steps;
        int value = 0;
        const auto add = [&](int n) {
            steps.take(
                "add",
                [&value, n] {
                    value += n;
                    return true;
                },
                [&value, n] {
                    value -= n;
                    return true;
                });
        };
        steps.asOneStep("all", [&] {
            add(1);
            add(10);
        });
        QCOMPARE(value, 11);
        QCOMPARE(steps.stack().count(), 1);
        steps.stack().undo();
        QCOMPARE(value, 0);
        // Asked for while a step is taken they come one by one, after it.
        steps.take(
            "outer",
            [&] {
                if (value == 0)
                    steps.asOneStep("inner", [&] {
                        add(2);
                        add(3);
                    });
                return true;
            },
            [] { return true; });
        QTRY_COMPARE_WITH_TIMEOUT(value, 5, Patience);
    }
    void whatWasLostIsTakenAgainInOrder() {
        Steps steps;
        QString text;
        bool gone = true;
        const auto type = [&](QChar c) {
            steps.take(
                QString(c),
                [&, c] {
                    if (gone) {
                        steps.lost();
                        return false;
                    }
                    text += c;
                    return true;
                },
                [&] {
                    text.chop(1);
                    return true;
                });
        };
        type('a');
        type('b');
        QVERIFY(text.isEmpty() && steps.stack().count() == 0);
        gone = false;
        steps.takeLost();
        QCOMPARE(text, QString("ab"));
        steps.takeLost(); // once
        QCOMPARE(text, QString("ab"));
        steps.stack().undo();
        QCOMPARE(text, QString("a"));
    }

    void whatComesWhileSomebodyElseWritesWaitsInOrder() {
        Steps steps;
        bool free = false;
        int claims = 0;
        QString text;
        steps.writeWith(
            [&] {
                claims += free ? 1 : 0;
                return free;
            },
            [&] { --claims; });
        const auto type = [&](QChar c) {
            steps.take(
                QString(c),
                [&text, c] {
                    text += c;
                    return true;
                },
                [&text] {
                    text.chop(1);
                    return true;
                });
        };
        type('a');
        type('b');
        steps.undo();
        steps.asOneStep("cd", [type] {
            type('c');
            type('d');
        });
        steps.inTurn([&text] { text += '.'; });
        QVERIFY(text.isEmpty() && steps.waiting() && steps.stack().count() == 0);
        QTest::qWait(100);
        QVERIFY(text.isEmpty());
        free = true;
        QTRY_COMPARE_WITH_TIMEOUT(text, QString("acd."), Patience);
        QCOMPARE(claims, 0); // what was taken was given back each time
        QVERIFY(!steps.waiting());
        text.chop(1);
        steps.undo(); // both at once
        QCOMPARE(text, QString("a"));
        steps.redo();
        QCOMPARE(text, QString("acd"));
        free = false;
        type('e');
        steps.takeAll(); // at the end nobody is asked
        QCOMPARE(text, QString("acde"));
    }
    void anEditDoesNotStandStillWhileAnotherProgrammeWrites() {
        const auto other = Roster::open(path_);
        QVERIFY(other && (*other)->claim());
        QSignalSpy said(&w_->notices, &Notices::said), failed(&w_->notices, &Notices::failed);
        rename("Ann Redshank");
        w_->roster.steps().undo();
        rename("Ann Turnstone");
        w_->roster.lookForOthers();
        QVERIFY(w_->roster.steps().waiting() && failed.isEmpty()); // neither refused nor waited for
        QCOMPARE(nameIn(path_), QString("Ann Dunlin"));
        QTRY_VERIFY_WITH_TIMEOUT(said.count() > 0, Patience);
        QVERIFY(said.first().first().toString().contains("what you change is kept"));
        (*other)->letGo();
        QTRY_COMPARE_WITH_TIMEOUT(nameIn(path_), QString("Ann Turnstone"), Patience);
        QCOMPARE(failed.count(), 0);
        QCOMPARE(said.count(), 1); // and not again and again
        // What still waits when the roster closes is written then.
        std::promise<bool> held;
        std::thread third([&] {
            const auto theirs = Roster::open(path_);
            held.set_value(theirs && (*theirs)->claim());
            std::this_thread::sleep_for(std::chrono::milliseconds(300));
        }); // and lets go as it ends
        QVERIFY(held.get_future().get());
        rename("Ann Dunlin");
        w_->roster.close();
        third.join();
        QCOMPARE(nameIn(path_), QString("Ann Dunlin"));
    }

    void anEditOfAFileThatIsGoneIsKeptAndSavedElsewhere() {
        QSignalSpy lost(&w_->roster, &OpenRoster::fileLost);
        w_->roster.lookForOthers(); // the timer settles what was written into the file itself
        QVERIFY(QFile::rename(path_, path_ + ".away"));
        rename("Ann Redshank");
        QVERIFY(w_->roster.isLost());
        rename("Ann Turnstone");
        QCOMPARE(lost.count(), 1); // told once
        QCOMPARE(nameIn(path_ + ".away"), QString("Ann Dunlin"));
        QVERIFY(!QFile::exists(path_)); // nothing is written in its place
        const QString there = folder_.filePath("elsewhere.marram");
        QVERIFY(w_->roster.saveElsewhere(there));
        QCOMPARE(w_->roster.path(), there);
        QCOMPARE(w_->roster.riders().front().name, QString("Ann Turnstone"));
        QCOMPARE(nameIn(there), QString("Ann Turnstone"));
        w_->roster.steps().stack().undo();
        w_->roster.steps().stack().undo();
        QCOMPARE(nameIn(there), QString("Ann Dunlin"));
    }
    void aCopyPutInThePlaceOfTheFileIsNotWrittenOver() {
        const QString other = folder_.filePath("other.marram");
        {
            Workspace theirs;
            QVERIFY(theirs.roster.create(other));
            theirs.roster.edits().addRider("Bea Knot");
        }
        w_->roster.lookForOthers();
        QVERIFY(QFile::remove(path_) && QFile::rename(other, path_));
        rename("Ann Redshank");
        QVERIFY(w_->roster.isLost());
        w_.reset();
        QCOMPARE(nameIn(path_), QString("Bea Knot"));
    }
};

MARRAM_SUITE(StepsTest)
#include "tst_steps.moc"
