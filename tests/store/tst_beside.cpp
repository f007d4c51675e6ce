// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/beside.h"
#include "store/checking.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <csignal>
#include <random>
#include <sys/wait.h>
#include <unistd.h>

using namespace marram;
using namespace marram::test;

/// Old recordings in a file beside the roster.
class BesideTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::map<QString, QByteArray> content_;
    int rosters_ = 0;

    /// A roster of one rider with so many rides.
    QString made(int rides) {
        const QString path = folder_.filePath(QString("%1.marram").arg(++rosters_));
        auto roster = Roster::create(path);
        if (!roster)
            return {};
        RiderRecord r;
        r.name = "Ann";
        r.values.set(Quantity::ThresholdPower, Date{0}, 250);
        r.id = (*roster)->saveRider(r).value_or(0);
        for (int i = 0; i < rides; ++i) {
            const QString file = save(folder_.filePath(QString("r%1.fit").arg(i)), fitOf(i, 0.1, 7u + i));
            QFile f(file);
            if (!f.open(QIODevice::ReadOnly))
                return {};
            const QByteArray bytes = f.readAll();
            auto ride = prepareRide(bytes, QFileInfo(file).fileName(), r);
            if (!ride || !(*roster)->addRide(*ride, Roster::packed(bytes)))
                return {};
            content_[ride->fileName] = bytes;
        }
        return path;
    }
    /// True where every recording is what was brought in.
    bool allThere(const Roster& roster) {
        const auto rides = roster.rides(roster.riders()->front().id);
        for (const RideRecord& r : *rides)
            if (const auto bytes = roster.originalOf(r.id); !bytes || *bytes != content_[r.fileName])
                return false;
        return true;
    }
    static Date after(const Roster& roster, size_t rides) {
        const auto all = roster.rides(roster.riders()->front().id);
        return (*all)[rides - 1].day + 1;
    }

private slots:
    void whatHasMovedIsReadThereAndTheFilesAreTheirOwners() {
        const QString path = made(12);
        auto roster = Roster::open(path);
        QVERIFY(roster && allThere(**roster));
        const auto moved = (*roster)->moveRecordingsBeside(after(**roster, 8));
        QVERIFY2(moved, moved ? "" : moved.error().sentence.c_str());
        QVERIFY(*moved >= 8 && *moved < 12);
        QVERIFY(allThere(**roster));
        const QString beside = BesideFile::pathOf(path);
        QVERIFY(QFile::exists(beside) &&
                !(QFile::permissions(beside) & (QFile::ReadGroup | QFile::ReadOther | QFile::WriteGroup)));
        QCOMPARE(*(*roster)->countRecordings(Date{40000}), 12 - *moved);
        // A second time there is nothing to do; what is newer goes too when it is asked for.
        QCOMPARE((*roster)->moveRecordingsBeside(after(**roster, 8)).value(), 0);
        QCOMPARE((*roster)->moveRecordingsBeside(Date{40000}).value(), 12 - *moved);
        QVERIFY(allThere(**roster));
        // Nothing is damaged by it, also for who opens it afresh.
        roster = Roster::open(path);
        const auto damage = checkWhole(**roster, {});
        QVERIFY(damage && damage->empty());
    }

    void bothFilesMayBeCarriedElsewhereAndAMissingOneIsNamed() {
        const QString path = made(5);
        {
            auto roster = Roster::open(path);
            QVERIFY((*roster)->moveRecordingsBeside(Date{40000}));
            (*roster)->settle();
        }
        const QString there = folder_.filePath("elsewhere ü");
        QVERIFY(QDir().mkpath(there));
        const QString carried = there + "/" + QFileInfo(path).fileName();
        QVERIFY(QFile::copy(path, carried));
        const QString beside = BesideFile::pathOf(path);
        QVERIFY(QFile::rename(beside, BesideFile::pathOf(carried)));
        auto roster = Roster::open(carried);
        QVERIFY(roster && allThere(**roster));
        // The one that stayed behind says what it misses, and where it should lie.
        auto old = Roster::open(path);
        const auto ride = (*old)->rides((*old)->riders()->front().id)->front();
        const auto missing = (*old)->originalOf(ride.id);
        QVERIFY(!missing);
        QVERIFY2(missing.error().sentence.find(beside.toStdString()) != std::string::npos,
                 missing.error().sentence.c_str());
        // Rubbish in its place is no recording.
        QFile rubbish(beside);
        QVERIFY(rubbish.open(QIODevice::WriteOnly) && rubbish.write(QByteArray(9000, 'x')) > 0);
        rubbish.close();
        QVERIFY(!(*old)->originalOf(ride.id));
        QVERIFY(!(*old)->moveRecordingsBeside(Date{40000}) ||
                *(*old)->moveRecordingsBeside(Date{40000}) == 0);
    }

    void aPlaceThatCannotBeWrittenMovesNothing() {
        const QString path = made(3);
        auto roster = Roster::open(path);
        QVERIFY(QDir().mkpath(BesideFile::pathOf(path))); // a folder stands in its place
        const auto refused = (*roster)->moveRecordingsBeside(Date{40000});
        QVERIFY(!refused && refused.error().sentence.find("marram-recordings") != std::string::npos);
        QVERIFY(allThere(**roster));
        QCOMPARE(*(*roster)->countRecordings(Date{40000}), 3);
    }

    void whoIsKilledWhileMovingLosesNothing() {
        std::mt19937 dice(11);
        const QString path = made(150);
        QVERIFY(!path.isEmpty());
        int killed = 0;
        for (int round = 0; round < 12; ++round) {
            const pid_t child = ::fork();
            QVERIFY(child >= 0);
            if (child == 0) {
                if (auto roster = Roster::open(path))
                    (void)(*roster)->moveRecordingsBeside(
                        after(**roster, static_cast<size_t>(12 * (round + 1))));
                ::_exit(0);
            }
            ::usleep(1000 * (1 + dice() % 25));
            ::kill(child, SIGKILL);
            int status = 0;
            QVERIFY(::waitpid(child, &status, 0) == child);
            killed += WIFSIGNALED(status) ? 1 : 0;
            auto roster = Roster::open(path);
            QVERIFY(roster);
            QVERIFY2(allThere(**roster), qPrintable(QString("round %1").arg(round)));
        }
        QVERIFY2(killed >= 4, qPrintable(QString::number(killed)));
        auto roster = Roster::open(path);
        QVERIFY((*roster)->moveRecordingsBeside(Date{40000}));
        QVERIFY(allThere(**roster));
    }
};

MARRAM_SUITE(BesideTest)
#include "tst_beside.moc"
