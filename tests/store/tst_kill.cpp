// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/import.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <random>

using namespace marram;
using namespace marram::test;

/// A real process imports 300 rides and is killed at a random moment, many times over.
class KillTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QStringList files_;

private slots:
    void initTestCase() {
        for (int i = 0; i < 300; ++i)
            files_ << save(folder_.filePath(QString("r%1.fit").arg(i, 3, 10, QChar('0'))),
                           fitOf(i, 0.2, static_cast<std::uint64_t>(i)));
    }
    void aKilledImportLeavesARosterWithEveryFinishedRide() {
        std::mt19937 dice(20271123);
        const QString path = folder_.filePath("killed.marram");
        {
            auto roster = Roster::create(path);
            QVERIFY(roster);
            RiderRecord r;
            r.name = "Ann";
            r.values.set(Quantity::ThresholdPower, Date{0}, 250);
            QVERIFY((*roster)->saveRider(r));
        }
        size_t before = 0;
        int kills = 0;
        for (int round = 0; round < 25; ++round) {
            QProcess process;
            process.start(QString(BIN_DIR) + "/marram-cli", QStringList{"import", path, "Ann"} + files_);
            QVERIFY(process.waitForStarted());
            if (!process.waitForFinished(20 + static_cast<int>(dice() % 160))) {
                process.kill();
                ++kills;
            }
            QVERIFY(process.waitForFinished());
            auto roster = Roster::open(path);
            QVERIFY2(roster.has_value(), roster ? "" : roster.error().sentence.c_str());
            const qint64 rider = (*roster)->riders()->front().id;
            const auto rides = (*roster)->rides(rider);
            QVERIFY(rides);
            QVERIFY2(rides->size() >= before, "a finished ride was lost");
            for (size_t i = before; i < rides->size(); ++i) {
                const RideRecord& r = (*rides)[i];
                QFile original(folder_.filePath(r.fileName));
                QVERIFY(original.open(QIODevice::ReadOnly));
                QCOMPARE((*roster)->originalOf(r.id).value(), original.readAll());
                QVERIFY(r.score.stress.has_value());
            }
            before = rides->size();
        }
        QVERIFY2(kills >= 5, qPrintable(QString("only %1 were killed").arg(kills)));
        QProcess last;
        last.start(QString(BIN_DIR) + "/marram-cli", QStringList{"import", path, "Ann"} + files_);
        QVERIFY(last.waitForFinished(60000));
        QCOMPARE(last.exitCode(), 0);
        auto roster = Roster::open(path);
        QCOMPARE((*roster)->rides((*roster)->riders()->front().id)->size(), 300U);
    }
};

MARRAM_SUITE(KillTest)
#include "tst_kill.moc"
