// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/instance.h"
#include "app/window/reader.h"
#include "support/demo_window.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QDBusConnection>
#include <QInputDialog>
#include <QProcess>
#include <QSignalSpy>

using namespace marram;
using namespace marram::test;

/// One window a roster, by a message bus of the test's own; and without one.
class InstanceTest : public DemoWindow {
    Q_OBJECT
    QProcess bus_;

private slots:
    void initTestCase() {
        dressed();
        bus_.start("dbus-daemon", {"--session", "--print-address", "--nofork"});
        if (bus_.waitForStarted(3000) && bus_.waitForReadyRead(5000))
            qputenv("DBUS_SESSION_BUS_ADDRESS", bus_.readLine().trimmed());
        else
            qputenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nonexistent");
    }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }
    void cleanupTestCase() {
        bus_.kill();
        bus_.waitForFinished(3000);
    }

    void aRosterThatIsOpenComesToTheFront() {
        const QString path = w_->roster.path();
        Instance instance(w_->roster, *window_);
        if (!QDBusConnection::sessionBus().isConnected()) {
            QVERIFY(!Instance::handOver(path, {})); // and two windows open
            QSKIP("There is no message bus here; what needs one is not looked at.");
        }
        QSignalSpy handed(&instance, &Instance::handed);
        window_->showMinimized();
        QVERIFY(Instance::handOver(path, {"/tmp/a ride.fit"}));
        QVERIFY(!window_->isMinimized());
        QCOMPARE(handed.count(), 1);
        QCOMPARE(handed[0][0].toStringList(), QStringList{"/tmp/a ride.fit"});
        // Another path to the same file is the same roster; another file is none of this window's.
        const QString link = folder_.filePath("link.marram");
        QVERIFY(QFile::link(path, link));
        QVERIFY(Instance::handOver(link, {}));
        QVERIFY(!Instance::handOver(folder_.filePath("nothing.marram"), {}));
        w_->roster.close();
        QVERIFY(!Instance::handOver(path, {}));
        QVERIFY(w_->roster.open(path));
        QVERIFY(Instance::handOver(path, {}));
    }

    void theGuideOpensWhereTheCoachIsAndIsSearched() {
        window_->go(Place::Block);
        QTest::keyClick(window_.get(), Qt::Key_F1);
        auto* keys = window_->findChild<QDialog*>("keys");
        QVERIFY(keys && QTest::qWaitForWindowExposed(keys, Patience));
        QTest::keyClick(keys, Qt::Key_F1);
        auto* reader = window_->findChild<QDialog*>("reader");
        QVERIFY(reader);
        auto* parts = reader->findChild<QListWidget*>("readerParts");
        auto* page = reader->findChild<QTextBrowser*>("readerPage");
        QCOMPARE(parts->currentItem()->text(), QString("The block"));
        QVERIFY(page->toPlainText().startsWith("The block"));
        auto* search = reader->findChild<QLineEdit*>("readerSearch");
        QTest::keyClicks(search, "from-rider note");
        QCOMPARE(parts->count(), 1);
        QCOMPARE(parts->currentItem()->text(), QString("The post"));
        QVERIFY(!page->extraSelections().isEmpty());
        search->clear();
        QTest::keyClicks(search, "xyzzy");
        QVERIFY(parts->count() == 0 && page->toPlainText().contains("No part"));
        reader->close();
    }

    void whatIsNewIsShownOnceAfterAnUpgrade() {
        QSettings().remove("seenVersion");
        QVERIFY(!isNewerThanSeen("0.7.0")); // the first start is no upgrade
        QVERIFY(!isNewerThanSeen("0.7.0"));
        QVERIFY(isNewerThanSeen("0.8.0"));
        QVERIFY(!isNewerThanSeen("0.8.0"));
        const QString changes = newestChanges();
        QVERIFY(changes.startsWith("## ") && changes.count("\n## ") == 0 && changes.size() > 500);
    }

    void aBikeComputerThatIsPluggedInIsOffered() {
        const QString media = folder_.filePath("media");
        QVERIFY(QDir().mkpath(media));
        w_->devices.setSettling(60);
        w_->devices.watch({media});
        w_->devices.begin();
        QSignalSpy found(&w_->devices, &Devices::found);
        QVERIFY(!found.wait(300)); // nothing is there
        QVERIFY(QDir().mkpath(media + "/STICK/photos"));
        QVERIFY(!found.wait(300)); // no bike computer
        QVERIFY(QDir().mkpath(media + "/HEADUNIT/unit/Activities"));
        save(media + "/HEADUNIT/unit/Activities/a.fit", fitOf(4, 0.2, 21));
        save(media + "/HEADUNIT/unit/Activities/b.fit", fitOf(5, 0.2, 22));
        const auto before = QDir(media + "/HEADUNIT").entryList(QDir::AllEntries | QDir::NoDotAndDotDot);
        QVERIFY(found.count() == 1 || found.wait(Patience));
        auto* ask = window_->findChild<QInputDialog*>("whoseRecordings");
        QVERIFY(ask && ask->labelText() == "On HEADUNIT: 2 recordings are rides of");
        QSignalSpy finished(&w_->roster.jobs(), &RosterJobs::importFinished);
        ask->accept();
        QVERIFY(finished.wait(Patience));
        QCOMPARE(finished[0][1].value<ImportReport>().added.size(), size_t(2));
        QCOMPARE(QDir(media + "/HEADUNIT").entryList(QDir::AllEntries | QDir::NoDotAndDotDot), before);
        // It is told of once, and again when it was pulled out.
        QVERIFY(QDir().mkpath(media + "/OTHER"));
        QVERIFY(!found.wait(300));
        QSignalSpy left(&w_->devices, &Devices::left);
        QVERIFY(QDir().rename(media + "/HEADUNIT", folder_.filePath("pulled")));
        QVERIFY(left.wait(Patience));
        QVERIFY(QDir().rename(folder_.filePath("pulled"), media + "/HEADUNIT"));
        QVERIFY(found.count() == 2 || found.wait(Patience));
    }

    void recordingsOpenedFromElsewhereAreAskedAbout() {
        const QString ride = save(folder_.filePath("opened.fit"), fitOf(2, 0.2, 9));
        choose("Osric");
        const size_t before = w_->chosen.rides().size();
        window_->bringIn({ride});
        auto* ask = window_->findChild<QInputDialog*>("whoseRecordings");
        QVERIFY(ask && ask->labelText().contains("opened.fit"));
        QCOMPARE(ask->textValue(), QString("Osric Tallowfen"));
        QSignalSpy finished(&w_->roster.jobs(), &RosterJobs::importFinished);
        ask->accept();
        QVERIFY(finished.wait(Patience));
        QCOMPARE(window_->place(), Place::Rides);
        QCOMPARE(w_->chosen.rides().size(), before + 1);
        // Left alone nothing comes in; without a roster it is said what to do.
        window_->bringIn({ride});
        window_->findChildren<QInputDialog*>("whoseRecordings").back()->reject();
        QTest::qWait(20);
        w_->roster.close();
        window_->bringIn({ride});
        QVERIFY(window_->lastSaid().contains("open a roster"));
    }
};

MARRAM_WINDOW_SUITE(InstanceTest)
#include "tst_instance.moc"
