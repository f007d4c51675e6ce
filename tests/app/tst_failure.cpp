// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/failure.h"
#include "store/backup.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <csignal>

using namespace marram;
using namespace marram::test;

/// What is left of a failure: by the real programme, ended from outside; and what the next start says of it.
class FailureTest : public DemoWindow {
    Q_OBJECT

    void leaveReport(const QString& roster, const QByteArray& text) {
        QFile file(failure::reportOf(roster));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(text) == text.size());
    }

private slots:
    void initTestCase() { dressed(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }

    void theProgrammeSaysWhatEndedItAndNamesNobody_data() {
        QTest::addColumn<int>("signal");
        QTest::addColumn<QByteArray>("word");
        QTest::addRow("memory") << SIGSEGV << QByteArray("SIGSEGV");
        QTest::addRow("abort") << SIGABRT << QByteArray("SIGABRT");
    }
    void theProgrammeSaysWhatEndedItAndNamesNobody() {
        QFETCH(int, signal);
        QFETCH(QByteArray, word);
        const QString roster = folder_.filePath("Tamsin's squad.marram");
        const QString path = failure::reportOf(roster);
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        for (const char* home : {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"})
            environment.insert(home, folder_.filePath("home"));
        environment.insert("QT_QPA_PLATFORM", "offscreen");
        environment.insert("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nonexistent");
        // Its file is open once the log beside it is there; what it shows comes after that, on a machine that
        // hardly gets on long after.
        for (const int after : {500, 5000, 30000}) {
            for (const char* beside : {"", "-wal", "-shm"})
                QFile::remove(roster + beside);
            QVERIFY(demoRoster(roster, today_));
            QProcess programme;
            programme.setProcessEnvironment(environment);
            programme.start(QCoreApplication::applicationDirPath() + "/marram", {roster});
            QVERIFY(programme.waitForStarted(Patience));
            QVERIFY(comes([&] { return QFile::exists(roster + "-wal"); }));
            QTest::qWait(after);
            QCOMPARE(::kill(static_cast<pid_t>(programme.processId()), signal), 0);
            QVERIFY(programme.waitForFinished(Patience));
            QCOMPARE(programme.exitStatus(),
                     QProcess::CrashExit);                  // it ends as it would have without the report
            if (failure::read(path).contains("  Season\n")) // the place that showed
                break;
        }
        QVERIFY(QFile::exists(path));
        QVERIFY(!QFile::permissions(path).testAnyFlags(QFile::ReadGroup | QFile::ReadOther));
        const QString text = failure::read(path);
        QVERIFY2(text.contains(word), qPrintable(text));
        QVERIFY2(text.contains("  Season\n"), qPrintable(text)); // the place that showed
        QVERIFY2(text.contains("marram +0x"), qPrintable(text));
        QVERIFY2(!text.contains("Tamsin") && !text.contains(folder_.path()) && !text.contains('/'),
                 qPrintable(text));
        QFile::remove(path);
    }

    void theNextStartShowsItBeforeTheRoster() {
        const QString path = w_->roster.path();
        QVERIFY(!window_->showFailure(path)); // nothing happened
        w_->roster.close();
        leaveReport(path, "Marram 0.7.0 ended unexpectedly: something\n");
        QVERIFY(window_->showFailure(path));
        QVERIFY(!w_->roster.isOpen());
        QCOMPARE(find<QPlainTextEdit>("failureText")->toPlainText(),
                 QString("Marram 0.7.0 ended unexpectedly: something"));
        QVERIFY(!window_->findChild<QPushButton*>("failureCopy")); // there is no copy yet
        find<QPushButton>("failureOpen")->click();
        QVERIFY(w_->roster.isOpen());
        QCOMPARE(w_->roster.path(), path);
        QVERIFY(!QFile::exists(failure::reportOf(path)));
        QVERIFY(!window_->showFailure(path));
    }

    void theLastGoodStateOpensAsANewFile() {
        const QString path = w_->roster.path();
        w_->roster.close();
        QVERIFY(backUp(path, today_ - 1));
        leaveReport(path, "Marram ended\n");
        QVERIFY(window_->showFailure(path));
        QVERIFY(find<QPushButton>("failureCopy")->text().contains("22 November"));
        const QString kept = folder_.filePath("kept.txt"), copy = folder_.filePath("good.marram");
        find<FailureDialog>("failure")->keepReport(kept);
        QCOMPARE(failure::read(kept), QString("Marram ended"));
        // Where there is a file already nothing happens to it, and it says so.
        find<FailureDialog>("failure")->openCopy(kept);
        QVERIFY(!w_->roster.isOpen());
        QVERIFY(!find<QLabel>("failureSaid")->text().isEmpty());
        QCOMPARE(failure::read(kept), QString("Marram ended"));
        find<FailureDialog>("failure")->openCopy(copy);
        QCOMPARE(w_->roster.path(), copy);
        QVERIFY(w_->roster.riders().size() > 1);
        QVERIFY(QFile::exists(path));
    }

    void aReportThatIsNoneIsNotShown() {
        const QString path = w_->roster.path();
        QVERIFY(QDir().mkpath(failure::reportOf(path))); // a folder of that name
        QVERIFY(!window_->showFailure(path));
        QVERIFY(QDir().rmdir(failure::reportOf(path)));
        leaveReport(path, QByteArray("\n"));
        QVERIFY(!window_->showFailure(path));
    }
};

MARRAM_WINDOW_SUITE(FailureTest)
#include "tst_failure.moc"
