// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/exchange.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/seasons_of.h"
#include "support/suite.h"

#include <QDir>
#include <QDirIterator>
#include <QProcess>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>
#include <random>
#include <sys/stat.h>
#include <unistd.h>

using namespace marram;
using namespace marram::test;

namespace {

/// Runs statements on a roster file behind Marram's back.
bool meddle(const QString& path, const QStringList& statements) {
    bool ok = true;
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "meddle");
        db.setDatabaseName(path);
        ok = db.open();
        QSqlQuery q(db);
        for (const QString& s : statements)
            ok = q.exec(s) && ok;
        db.close();
    }
    QSqlDatabase::removeDatabase("meddle");
    return ok;
}

QString all(const Damage& d) {
    return d.sentences.join("; ");
}

struct Ran {
    int code = -1;
    QByteArray out, err;
};

/// marram-cli as somebody who is not root, for whom permissions hold; from a folder they may enter, which the
/// one it was built in need not be.
Ran cliAsNobody(const QStringList& arguments) {
    static const QTemporaryDir open(QDir::tempPath() + "/marram-open-XXXXXX");
    const QString cli = open.filePath("marram-cli");
    if (!QFile::exists(cli) && (!QFile::copy(QString(BIN_DIR) + "/marram-cli", cli) ||
                                ::chmod(QFile::encodeName(open.path()).constData(), 0755) != 0 ||
                                ::chmod(QFile::encodeName(cli).constData(), 0755) != 0))
        return {-1, {}, "marram-cli can't be copied"};
    QProcess p;
    if (geteuid() == 0)
        p.setChildProcessModifier([] {
            if (setgid(65534) != 0 || setuid(65534) != 0)
                _exit(99);
        });
    p.start(cli, arguments);
    p.waitForFinished(60000);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
            p.readAllStandardError()};
}

} // namespace

/// Rosters whose bytes went wrong, folders and disks that refuse: nothing lost in silence, the true reason
/// said.
class DamageTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString path_;
    int count_ = 0;

    QString copy() {
        const QString to = folder_.filePath(QString("copy%1.marram").arg(++count_));
        QFile::copy(path_, to);
        return to;
    }

private slots:
    void initTestCase() {
        QVERIFY(folder_.isValid());
        path_ = folder_.filePath("whole.marram");
        auto roster = Roster::create(path_);
        QVERIFY(roster);
        RiderRecord r;
        r.name = "Ann Dunlin";
        r.values.set(Quantity::ThresholdPower, Date{20000}, 240);
        r.id = (*roster)->saveRider(r).value();
        Season s;
        s.start = parseDate("2027-01-04").value();
        s.end = parseDate("2027-09-26").value();
        s.races.push_back({"Point", s.start + 200, Priority::A, 260.0, 1, Gate{5, 15}, Demand::Long});
        const auto season = (*roster)->saveSeason(inForce(r.id, s));
        QVERIFY(season);
        std::vector<SolvedDay> days;
        for (int d = 0; d < 200; ++d)
            days.push_back({s.start + d, Role::Easy, 40, 1, 30, 30, 0});
        QVERIFY((*roster)->savePlannedDays(*season, s.start, days));
        QStringList files;
        for (int day = 1; day <= 40; ++day)
            files << save(folder_.filePath(QString("r%1.fit").arg(day)),
                          fitOf(day, 0.4, static_cast<std::uint64_t>(day)));
        Importer importer(**roster, r);
        QCOMPARE(importer.importFiles(files).added.size(), 40U);
        for (int d = 0; d < 30; ++d) {
            CheckIn c;
            c.day = s.start + d;
            c.feel = 4;
            QVERIFY((*roster)->saveCheckIn(r.id, c));
        }
    }

    void aWholeRosterHasNoDamage() {
        const auto roster = Roster::open(path_);
        QVERIFY(roster);
        const auto found = examine(**roster);
        QVERIFY2(found && found->empty(), found ? qPrintable(all(*found)) : "");
    }
    void anOriginalThatIsNotWhatCameIsNamed() {
        const QString path = copy();
        QVERIFY(
            meddle(path, {"UPDATE original SET bytes=(SELECT bytes FROM original WHERE ride=2) WHERE ride=1",
                          "UPDATE original SET bytes=x'0102030405060708' WHERE ride=3",
                          "UPDATE original SET bytes=x'ffffffff789c03000000000100' WHERE ride=4",
                          "DELETE FROM original WHERE ride=5"}));
        auto roster = std::move(*Roster::open(path));
        for (const qint64 ride : {1, 3, 4, 5}) {
            const auto bytes = roster->originalOf(ride);
            QVERIFY(!bytes);
            QVERIFY2(bytes.error().sentence.find("Ann Dunlin's ride of 2027-01-0") == 0,
                     bytes.error().sentence.c_str());
        }
        QVERIFY(roster->originalOf(6));
        const QString out = folder_.filePath("out1");
        const auto damage = exportJson(*roster, out);
        QVERIFY(damage);
        QCOMPARE(damage->rides.size(), 4U);
        QVERIFY2(all(*damage).contains("not what was brought in") &&
                     all(*damage).contains("no longer unpacks"),
                 qPrintable(all(*damage)));
        // The figures of what is lost go along, and a roster made of the export knows them.
        const QString back = folder_.filePath("back.marram");
        auto other = std::move(*Roster::create(back));
        QVERIFY(importJson(*other, out + "/roster.json"));
        const auto rides = other->rides(other->riders()->front().id).value();
        QCOMPARE(rides.size(), 40U);
        QVERIFY(rides[0].score.stress == roster->rides(1)->front().score.stress);
        QVERIFY(rides[0].remarks.join(' ').contains("lost"));
        QVERIFY(!other->originalOf(rides[0].id));
        // What was lost once is no new damage.
        const auto again = exportJson(*other, folder_.filePath("out2"));
        QVERIFY(again && again->empty());
    }
    void savingWhatIsWholeMakesARosterThatIs() {
        const QString path = copy(), to = folder_.filePath("whole-again.marram");
        QVERIFY(meddle(path, {"UPDATE original SET bytes=x'00' WHERE ride=7",
                              "UPDATE figures SET method=9 WHERE ride=8",
                              "UPDATE check_in SET feel=77 WHERE day=20824", "UPDATE race SET priority=5"}));
        auto roster = std::move(*Roster::open(path));
        const auto left = saveWhole(*roster, to);
        QVERIFY2(left.has_value(), left ? "" : left.error().sentence.c_str());
        QVERIFY(!left->empty());
        auto whole = std::move(*Roster::open(to));
        QVERIFY(examine(*whole)->empty());
        QVERIFY(whole->rides(1)->size() >= 39);
        QCOMPARE(whole->checkIns(1)->size(), 29U);
        QVERIFY(!saveWhole(*roster, to)); // never over a file
        QVERIFY(QDir(folder_.path()).entryList({".marram-*"}, QDir::AllEntries | QDir::Hidden).isEmpty());
    }
    void valuesOutOfRangeAreNamedAndReadNothingElse_data() {
        QTest::addColumn<QString>("statement");
        for (const char* s :
             {"UPDATE rider SET sex=12", "UPDATE rider SET hours='[1,2]'",
              "UPDATE rider SET hours='nonsense'", "UPDATE rider SET injuries='[{\"from_day\":5000000}]'",
              "UPDATE rider_value SET value=1e9", "UPDATE rider_value SET quantity='luck'",
              "UPDATE season SET tau_fitness_d=-42", "UPDATE season SET end_day=90000000",
              "UPDATE season SET rules='{\"ramp\":\"steep\"}'", "UPDATE race SET demand=99",
              "UPDATE planned_day SET role=40 WHERE day=20830",
              "UPDATE planned_day SET stress='x' WHERE day=20830",
              "UPDATE ride SET day=2000000000 WHERE id=3",
              "UPDATE ride SET corrections='{\"power_cuts_s\":[5]}' WHERE id=3",
              "UPDATE ride SET corrections='[]' WHERE id=3", "UPDATE figures SET best=x'0102' WHERE ride=3",
              "UPDATE figures SET figures=x'01' WHERE ride=3",
              "UPDATE check_in SET soreness=-1 WHERE day=20825",
              "UPDATE figures SET figures=substr(figures, 1, 60) WHERE ride=3"})
            QTest::addRow("%s", s) << QString(s);
    }
    void valuesOutOfRangeAreNamedAndReadNothingElse() {
        QFETCH(QString, statement);
        const QString path = copy();
        QVERIFY(meddle(path, {statement}));
        const auto roster = Roster::open(path);
        QVERIFY2(roster.has_value(), roster ? "" : roster.error().sentence.c_str());
        const auto found = examine(**roster);
        QVERIFY2(found && !found->empty(), qPrintable(statement));
        // What is whole can still be used: never fewer than all rides but the one that is broken.
        Damage damage;
        const auto rides = (*roster)->rides(1, &damage);
        QVERIFY(rides && rides->size() >= 39);
        QVERIFY(exportCsv(**roster, folder_.filePath("csv")));
    }
    void everyDamagedCopyIsNamedOrRefused() {
        // Whole pages zeroed, bytes changed, the end cut off: whatever is missing afterwards has been said.
        QFile whole(path_);
        QVERIFY(whole.open(QIODevice::ReadOnly));
        const QByteArray bytes = whole.readAll();
        std::mt19937 dice(20271125);
        int refused = 0, named = 0, unharmed = 0;
        for (int round = 0; round < 80; ++round) {
            QByteArray bad = bytes;
            const auto at = static_cast<qsizetype>(dice() % static_cast<unsigned>(bytes.size()));
            if (round % 3 == 0)
                bad = bad.left(std::max<qsizetype>(200, at));
            else if (round % 3 == 1)
                bad.replace(at / 4096 * 4096, 4096, QByteArray(4096, '\0'));
            else
                for (qsizetype i = at; i < std::min(at + 64, bad.size()); ++i)
                    bad[i] = static_cast<char>(dice());
            const QString path = save(folder_.filePath("bad.marram"), bad);
            for (const char* beside : {"-wal", "-shm"})
                QFile::remove(path + beside);
            const auto roster = Roster::open(path);
            if (!roster) {
                ++refused;
                QVERIFY(!roster.error().sentence.empty());
                continue;
            }
            const QString out = folder_.filePath("bad-out");
            QDir(out).removeRecursively();
            const auto damage = exportJson(**roster, out);
            if (!damage || !damage->empty()) {
                ++named;
                continue;
            }
            // Nothing said: then everything is there.
            ++unharmed;
            const auto rides = (*roster)->rides(1);
            QVERIFY(rides && rides->size() == 40);
            QCOMPARE(QDir(out + "/originals").entryList(QDir::Files).size(), 40);
            QCOMPARE((*roster)->checkIns(1)->size(), 30U);
            QCOMPARE((*roster)->plannedDays(1)->size(), 200U);
        }
        QVERIFY2(
            named > 20,
            qPrintable(QString("refused %1, named %2, unharmed %3").arg(refused).arg(named).arg(unharmed)));
    }
    void theCommandLineNamesWhatItCouldNotSave() {
        const QString path = copy();
        QVERIFY(meddle(path, {"UPDATE original SET bytes=x'00' WHERE ride=9"}));
        QProcess p;
        p.start(QString(BIN_DIR) + "/marram-cli", {"export", path, "--json", folder_.filePath("cli-out")});
        QVERIFY(p.waitForFinished(60000));
        QCOMPARE(p.exitCode(), 3);
        const QByteArray err = p.readAllStandardError();
        QVERIFY2(err.contains("r9.fit") && err.contains("is damaged"), err);
        QCOMPARE(QDir(folder_.filePath("cli-out/originals")).entryList(QDir::Files).size(), 39);
    }

    void aFileOfNoLengthIsNoRoster() {
        const QString path = save(folder_.filePath("empty.marram"), "");
        const auto r = Roster::open(path);
        QVERIFY(!r && r.error().sentence.find("is empty") != std::string::npos);
        QCOMPARE(QFileInfo(path).size(), 0);
    }
    void aPipeOrADeviceIsNoRoster() {
        const QString path = folder_.filePath("pipe.marram");
        QCOMPARE(::mkfifo(QFile::encodeName(path).constData(), 0600), 0);
        QVERIFY(!Roster::open(path));
        QVERIFY(!Roster::open("/dev/zero"));
    }
    void anIntactRosterInAFolderNobodyMayWriteOpensForLooking() {
        QTemporaryDir locked(QDir::tempPath() + "/marram-locked-XXXXXX");
        const QString path = locked.filePath("r.marram");
        QVERIFY(QFile::copy(path_, path));
        QVERIFY(::chmod(QFile::encodeName(path).constData(), 0444) == 0);
        QVERIFY(::chmod(QFile::encodeName(locked.path()).constData(), 0555) == 0);
        QTemporaryDir out(QDir::tempPath() + "/marram-out-XXXXXX");
        QVERIFY(::chmod(QFile::encodeName(out.path()).constData(), 0777) == 0);
        const Ran looked = cliAsNobody({"export", path, "--csv", out.filePath("csv")});
        QVERIFY2(looked.code == 0, looked.err);
        const Ran wrote = cliAsNobody({"import", path, "Ann Dunlin", folder_.filePath("r1.fit")});
        QCOMPARE(wrote.code, 3);
        QVERIFY2(wrote.err.contains("read-only") && !wrote.err.contains("damaged") &&
                     wrote.err.count('\n') == 1,
                 wrote.err);
        ::chmod(QFile::encodeName(locked.path()).constData(), 0755);
    }
    void anothersLockIsNoDamage() {
        const QString path = copy();
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "lock");
            db.setDatabaseName(path);
            QVERIFY(db.open());
            QSqlQuery q(db);
            QVERIFY(q.exec("PRAGMA locking_mode=EXCLUSIVE") && q.exec("PRAGMA journal_mode=DELETE") &&
                    q.exec("BEGIN EXCLUSIVE"));
            const auto r = Roster::open(path);
            QVERIFY(!r);
            QVERIFY2(r.error().sentence.find("Another programme") != std::string::npos,
                     r.error().sentence.c_str());
            q.exec("ROLLBACK");
        }
        QSqlDatabase::removeDatabase("lock");
        QVERIFY(Roster::open(path));
    }
    void aFullDiskIsNoDamage() {
        // A real full disk: a file system of a few hundred kilobytes in memory, in a namespace of its own.
        QProcess p;
        p.start("unshare", {"-m", "sh", "-c",
                            QString("mount -t tmpfs -o size=%3k none /mnt && cp '%1' /mnt/r.marram && "
                                    "(dd if=/dev/zero of=/mnt/fill bs=1k 2>/dev/null; true) && "
                                    "'%2'/marram-cli import /mnt/r.marram 'Ann Dunlin' '%4'")
                                .arg(path_, BIN_DIR)
                                .arg(QFileInfo(path_).size() / 1024 + 40)
                                .arg(save(folder_.filePath("late.fit"), fitOf(99, 0.5)))});
        QVERIFY(p.waitForFinished(60000));
        const QByteArray err = p.readAllStandardError();
        if (err.contains("unshare") || err.contains("mount:"))
            QSKIP("no file system can be made here to fill");
        QCOMPARE(p.exitCode(), 3);
        QVERIFY2(err.contains("disk") && !err.contains("damaged") && !err.contains("copy"), err);
    }
    void twoWindowsBringAnOlderFileUpToDateAtOnce() {
        const QString path = folder_.filePath("old.marram");
        for (int round = 0; round < 5; ++round) {
            QFile::remove(path);
            for (const char* beside : {"-wal", "-shm"})
                QFile::remove(path + beside);
            QVERIFY(QFile::copy(QString(TEST_DATA) + "/roster-version-2.marram", path));
            QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
            QProcess a, b;
            for (QProcess* p : {&a, &b})
                p->start(QString(BIN_DIR) + "/marram-cli",
                         {"export", path, "--csv", folder_.filePath(p == &a ? "oa" : "ob")});
            QVERIFY(a.waitForFinished(30000) && b.waitForFinished(30000));
            QVERIFY2(a.exitCode() == 0 && b.exitCode() == 0,
                     a.readAllStandardError() + b.readAllStandardError());
        }
    }
    void aRosterOfTheSecondVersionKeepsEverything() {
        const QString path = folder_.filePath("second.marram");
        QVERIFY(QFile::copy(QString(TEST_DATA) + "/roster-version-2.marram", path));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        auto roster = std::move(*Roster::open(path));
        QVERIFY(examine(*roster)->empty());
        const RiderRecord r = roster->riders()->front();
        QCOMPARE(r.cautions, QString("asks before maximal tests"));
        QVERIFY(r.owesLearning);
        const auto season = roster->seasonInForce(r.id).value();
        QVERIFY(season && season->season.races.size() == 4 && season->season.away.size() == 1);
        QCOMPARE(roster->plannedDays(r.id)->size(), 301U);
        const auto rides = roster->rides(r.id).value();
        QCOMPARE(rides.size(), 2U);
        QVERIFY(rides[0].note == "wind from the sea" || rides[1].note == "wind from the sea");
        QVERIFY(rides[0].stale && rides[0].score.stress && !rides[0].best.empty());
        QVERIFY(roster->tests(r.id)->size() == 7 && roster->checkIns(r.id)->size() == 63);
    }
    void aRefusalInsideReachesTheOutside() {
        auto roster = std::move(*Roster::open(copy()));
        const auto before = roster->rides(1)->size();
        const auto ok = roster->together([&]() -> Result<void> {
            (void)roster->putAside({1}, true);
            (void)roster->putAside({987654}, true); // refused inside, and the body goes on
            return {};
        });
        QVERIFY(!ok && ok.error().sentence.find("no longer") != std::string::npos);
        QCOMPARE(roster->rides(1)->size(), before);
        QVERIFY(roster->together([&] { return roster->putAside({1}, true); })); // and is forgotten
        QCOMPARE(roster->rides(1)->size(), before - 1);
    }
    void seasonsOfARiderAreKeptApart() {
        auto roster = std::move(*Roster::open(copy()));
        const SeasonRecord now = *roster->seasonInForce(1).value();
        SeasonRecord branch = now;
        branch.id = 0;
        branch.standing = SeasonStanding::Alternative;
        branch.name = "an hour more on Thursdays";
        branch.branchedFrom = now.id;
        branch.season.rules.ramp = 4;
        branch.id = roster->saveSeason(branch).value();
        QVERIFY(roster->savePlannedDays(branch.id, now.season.start,
                                        {{now.season.start, Role::Hard, 99, 1, 0, 0, 0}}));
        QCOMPARE(roster->seasons(1)->size(), 2U);
        QCOMPARE(roster->seasonInForce(1).value()->season.rules.ramp, now.season.rules.ramp);
        QCOMPARE(roster->plannedDays(1)->front().stress, 40.0); // alternatives plan nothing
        QCOMPARE(roster->plannedDaysOf(branch.id)->front().stress, 99.0);
        // Another one in force puts this one into history; its days stay known.
        SeasonRecord next = now;
        next.id = 0;
        next.season.start = now.season.start + 100;
        next.id = roster->saveSeason(next).value();
        QVERIFY(roster->savePlannedDays(next.id, next.season.start,
                                        {{next.season.start, Role::Long, 70, 2, 0, 0, 0}}));
        const auto all = roster->seasons(1).value();
        QVERIFY(all.size() == 3 && all[0].id == next.id && all[1].standing == SeasonStanding::History);
        const auto days = roster->plannedDays(1).value();
        QCOMPARE(days.size(), 200U);
        QCOMPARE(days[99].stress, 40.0);
        QCOMPARE(days[100].stress, 70.0); // of two plans the one in force
        // The plan is made anew from a day on: what came before stays, also when the season begins later now.
        QVERIFY(roster->savePlannedDays(now.id, now.season.start + 50, {}));
        QCOMPARE(roster->plannedDaysOf(now.id)->size(), 50U);
        QVERIFY(roster->removeSeason(now.id));
        QVERIFY(!roster->season(branch.id).value()->branchedFrom);
    }
};

MARRAM_SUITE(DamageTest)
#include "tst_damage.moc"
