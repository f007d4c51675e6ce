// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/import.h"
#include "support/rides.h"
#include "support/seasons_of.h"
#include "support/suite.h"

#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>
#include <unistd.h>

using namespace marram;
using namespace marram::test;

namespace {

RiderRecord someone() {
    RiderRecord r;
    r.name = "Nell Varrowby";
    r.sex = Sex::Female;
    r.born = 1995;
    r.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    r.note = "likes wind";
    r.values.set(Quantity::ThresholdPower, Date{20000}, 240);
    r.values.set(Quantity::ThresholdPower, Date{20800}, 250);
    r.values.set(Quantity::ThresholdHeartRate, Date{20000}, 170);
    r.values.set(Quantity::LowThreshold, Date{20000}, 0.76);
    r.values.set(Quantity::Weight, Date{20100}, 61.5);
    r.values.set(Quantity::RestingHeartRate, Date{20000}, 47);
    r.values.set(Quantity::MaximalHeartRate, Date{20000}, 190);
    r.trainingYears = 9;
    r.slowRecoverer = true;
    r.injuries = {{Date{20300}, Date{20320}, "Left knee"}, {Date{20700}, std::nullopt, "Back"}};
    r.strengths = "wind";
    r.weaknesses = "long climbs";
    r.cautions = "asks before maximal tests";
    r.groups = QStringList{"Road", "Über 30"};
    return r;
}

Season full() {
    Season s;
    s.start = parseDate("2027-01-04").value();
    s.end = parseDate("2027-09-26").value();
    s.before = {40, 50};
    s.rules.school = School::Own;
    s.rules.ownSplits[Phase::Base] = {0.8, 0.15, 0.05};
    s.rules.order = Order::Mixed;
    s.races.push_back(
        {"Point", parseDate("2027-09-19").value(), Priority::A, 260.0, 2, Gate{5, 15}, Demand::Stage});
    s.races.push_back({"Small", parseDate("2027-05-02").value(), Priority::C, std::nullopt, 1, std::nullopt,
                       Demand::Unstated});
    s.weeks.push_back({parseDate("2027-03-01").value(), WeekHours{0, 0, 1, 0, 0, 2, 2}, WeekKind::Deload});
    s.away.push_back(
        {parseDate("2027-05-10").value(), parseDate("2027-05-16").value(), AwayWhy::Camp, 900.0});
    return s;
}

} // namespace

class RosterTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString path_;
    std::unique_ptr<Roster> roster_;
    qint64 rider_ = 0;

    /// What another programme does to the file.
    void behindOurBack(const char* statement) {
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "behind");
            db.setDatabaseName(path_);
            QVERIFY(db.open() && QSqlQuery(db).exec(statement));
        }
        QSqlDatabase::removeDatabase("behind");
    }
    ImportReport import(const QStringList& files, OverlapChoice choice = OverlapChoice::Skip) {
        RiderRecord who = roster_->riders()->front();
        Importer importer(*roster_, who);
        importer.onOverlap = [choice](const RideRecord&, const RideRecord&) {
            return OverlapAnswer{choice, false};
        };
        return importer.importFiles(files);
    }
    QString file(const char* name, const QByteArray& bytes) { return save(folder_.filePath(name), bytes); }

private slots:
    void init() {
        path_ = folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()) +
                                 (QTest::currentDataTag() ? QTest::currentDataTag() : ""));
        auto made = Roster::create(path_);
        QVERIFY2(made.has_value(), made ? "" : made.error().sentence.c_str());
        roster_ = std::move(*made);
        rider_ = roster_->saveRider(someone()).value();
    }
    void cleanup() { roster_.reset(); }

    void onlyItsOwnerMayReadIt() {
        for (const char* suffix : {"", "-wal", "-shm"})
            if (QFile::exists(path_ + suffix))
                QCOMPARE(QFile::permissions(path_ + suffix) &
                             (QFile::ReadGroup | QFile::ReadOther | QFile::WriteGroup | QFile::WriteOther),
                         QFile::Permissions());
    }
    void aRiderAndASeasonComeBackAsTheyWere() {
        QVERIFY(roster_->saveSeason(inForce(rider_, full())));
        roster_ = nullptr;
        roster_ = std::move(*Roster::open(path_));
        RiderRecord expected = someone();
        expected.id = rider_;
        QVERIFY(roster_->riders()->front() == expected);
        const Season s = roster_->seasonInForce(rider_)->value().season;
        QCOMPARE(s.races.size(), 2U);
        QVERIFY(s.races[0].gate == Gate(5, 15) && s.races[0].days == 2 &&
                s.races[0].demand == Demand::Stage && s.races[0].stress == 260.0);
        QVERIFY(!s.races[1].gate && !s.races[1].stress);
        QVERIFY(s.weeks[0].kind == WeekKind::Deload && (*s.weeks[0].hours)[5] == 2.0);
        QVERIFY(s.away[0].why == AwayWhy::Camp && s.away[0].stress == 900.0);
        QVERIFY(s.rules.ownSplits.at(Phase::Base).middle == 0.15 && s.rules.order == Order::Mixed);
        QCOMPARE(s.before.fatigue, 50.0);
    }
    void removingARiderTakesEverythingAlong() {
        QVERIFY(roster_->saveSeason(inForce(rider_, full())));
        QCOMPARE(import({file("a.fit", fitOf(1))}).added.size(), 1U);
        QVERIFY(roster_->removeRider(rider_));
        QVERIFY(roster_->riders()->empty() && roster_->rides(rider_)->empty() &&
                !roster_->seasonInForce(rider_)->has_value());
    }
    void aFailedTransactionLeavesNothing() {
        const auto ok = roster_->together([&]() -> Result<void> {
            RiderRecord other = someone();
            other.name = "Half Written";
            if (!roster_->saveRider(other))
                return refuse("unexpected");
            return refuse("changed my mind");
        });
        QVERIFY(!ok);
        QCOMPARE(roster_->riders()->size(), 1U);
    }
    void ridesKeepTheirOriginalBytesAndFigures() {
        const QByteArray bytes = fitOf(3, 1.5);
        const ImportReport report = import({file("ride.fit", bytes)});
        QCOMPARE(report.added.size(), 1U);
        const RideRecord r = roster_->rides(rider_)->front();
        QCOMPARE(roster_->originalOf(r.id).value(), bytes);
        QCOMPARE(isoText(r.day), std::string("2027-01-04"));
        QVERIFY(r.score.stress && *r.score.stress > 30 && *r.score.stress < 120);
        QCOMPARE(r.scoringVersion, scoringVersion);
        QCOMPARE(r.thresholdPower, 250.0);
        const auto again = scoreAgain(r, {bytes}, roster_->riders()->front());
        QCOMPARE(*again->score.stress, *r.score.stress);
        // A ride that is no second device's holds nothing there, as rosters of before do.
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "plain");
            db.setDatabaseName(path_);
            QVERIFY(db.open());
            QSqlQuery query("SELECT typeof(beside), typeof(effort), typeof(note) FROM ride", db);
            QVERIFY(query.next());
            QCOMPARE(query.value(0).toString(), QString("null"));
            QCOMPARE(query.value(1).toString(), QString("null"));
            QCOMPARE(query.value(2).toString(), QString("text"));
        }
        QSqlDatabase::removeDatabase("plain");
    }
    void theSameRideTwiceIsKnownByItsContent() {
        const QByteArray bytes = fitOf(4);
        const ImportReport report = import({file("one.fit", bytes), file("two.fit", bytes)});
        QCOMPARE(report.added.size(), 1U);
        QCOMPARE(report.duplicates, QStringList{"two.fit"});
        QCOMPARE(import({folder_.filePath("one.fit")}).duplicates.size(), 1);
    }
    void anOverlapAsks_data() {
        QTest::addColumn<int>("choice");
        QTest::addColumn<int>("rides");
        QTest::newRow("skip") << static_cast<int>(OverlapChoice::Skip) << 1;
        QTest::newRow("both") << static_cast<int>(OverlapChoice::KeepBoth) << 2;
        QTest::newRow("replace") << static_cast<int>(OverlapChoice::Replace) << 1;
    }
    void anOverlapAsks() {
        QFETCH(int, choice);
        QFETCH(int, rides);
        QCOMPARE(import({file("first.fit", fitOf(5, 1, 1))}).added.size(), 1U);
        const ImportReport report =
            import({file("second.fit", fitOf(5, 1.2, 2))}, static_cast<OverlapChoice>(choice));
        QCOMPARE(static_cast<int>(roster_->rides(rider_)->size()), rides);
        if (choice == static_cast<int>(OverlapChoice::Replace)) {
            QCOMPARE(report.replaced.size(), 1U);
            QCOMPARE(roster_->rides(rider_)->front().fileName, QString("second.fit"));
        }
    }
    void badFilesAreNamedAndTheRestComesIn() {
        const QByteArray good = fitOf(6);
        const ImportReport report =
            import({file("cut.fit", fitOf(7).left(9000)), file("words.fit", "only words"),
                    file("good.fit", good), folder_.filePath("absent.fit"), file("empty.csv", ""),
                    file("undated.csv", "seconds,power\n0,100\n1,100\n")});
        QCOMPARE(report.added.size(), 2U);
        QCOMPARE(report.refused.size(), 4);
        for (const char* name : {"words.fit", "absent.fit", "empty.csv", "undated.csv"})
            QVERIFY2(report.refused.join('\n').contains(name), name);
        QVERIFY(report.remarks.join(' ').contains("cut short"));
    }
    void cancellingKeepsWhatWasDone() {
        QStringList files;
        for (int i = 0; i < 8; ++i)
            files << file(qPrintable(QString("c%1.fit").arg(i)), fitOf(20 + i, 0.3));
        Importer importer(*roster_, roster_->riders()->front());
        importer.progress = [](int done, int) { return done < 3; };
        const ImportReport report = importer.importFiles(files);
        QVERIFY(report.cancelled);
        QCOMPARE(report.added.size(), 3U);
        QCOMPARE(roster_->rides(rider_)->size(), 3U);
    }
    void aRideBelongsToTheLocalDayItStartedOn_data() {
        QTest::addColumn<int>("offset");
        QTest::addColumn<QString>("day");
        QTest::newRow("west") << -8 * 3600 << "2027-01-09";
        QTest::newRow("utc") << 0 << "2027-01-10";
        QTest::newRow("east") << 13 * 3600 << "2027-01-10";
    }
    void aRideBelongsToTheLocalDayItStartedOn() {
        QFETCH(int, offset);
        QFETCH(QString, day);
        SimulatedDay when;
        when.start = 1798761600 + 86400LL * 9 + 2 * 3600;
        when.utcOffset = offset;
        const auto bytes = writeFit(ride(prescribe(SessionKind::Endurance, 0.3, 10), {}, when, 1));
        const auto r =
            prepareRide({reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())},
                        "x.fit", someone());
        QCOMPARE(QString::fromStdString(isoText(r->day)), day);
    }
    void theFilesOfOthersAreRefused_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("text") << QByteArray("a shopping list, somewhat long").repeated(40);
        QTest::newRow("half a roster") << QByteArray();
    }
    void theFilesOfOthersAreRefused() {
        QFETCH(QByteArray, bytes);
        const QString other = folder_.filePath(QString("other-%1").arg(QTest::currentDataTag()));
        if (bytes.isEmpty()) {
            roster_ = nullptr;
            QFile whole(path_);
            QVERIFY(whole.open(QIODevice::ReadOnly));
            bytes = whole.read(3000);
        }
        save(other, bytes);
        const auto r = Roster::open(other);
        QVERIFY(!r);
        QVERIFY(r.error().sentence.find(other.toStdString()) == 0);
        QFile f(other);
        QVERIFY(f.open(QIODevice::ReadOnly));
        QCOMPARE(f.readAll(), bytes);
    }
    void anotherProgrammesDatabaseIsRefused() {
        const QString other = folder_.filePath("other.sqlite");
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "other");
            db.setDatabaseName(other);
            QVERIFY(db.open());
            QSqlQuery(db).exec("CREATE TABLE t(x)");
        }
        QSqlDatabase::removeDatabase("other");
        QVERIFY(!Roster::open(other));
    }
    void aNewerSchemaIsRefused() {
        roster_ = nullptr;
        behindOurBack("PRAGMA user_version=99");
        const auto r = Roster::open(path_);
        QVERIFY(!r && r.error().sentence.find("newer") != std::string::npos);
    }
    void nothingIsMadeOverAnExistingFileOrWithoutAFolder() {
        QVERIFY(!Roster::create(path_));
        QVERIFY(!Roster::create("/nowhere/at/all.marram"));
        QVERIFY(!Roster::open(folder_.filePath("absent.marram")));
        QVERIFY(!Roster::open(folder_.path()));
    }
    void aWriteThatFailsSaysSoAndChangesNothing() {
        // A full disk, as far as SQLite can tell: the file may not grow any further.
        QCOMPARE(import({file("before.fit", fitOf(30, 0.3))}).added.size(), 1U);
        roster_ = nullptr;
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "limit");
            db.setDatabaseName(path_);
            QVERIFY(db.open());
            QVERIFY(QSqlQuery(db).exec("CREATE TRIGGER full BEFORE INSERT ON original BEGIN SELECT "
                                       "RAISE(ABORT, 'database or disk is full'); END"));
        }
        QSqlDatabase::removeDatabase("limit");
        roster_ = std::move(*Roster::open(path_));
        const ImportReport report = import({file("after.fit", fitOf(31, 0.3))});
        QVERIFY(report.stopped && report.stopped->sentence.find("full") != std::string::npos);
        QCOMPARE(roster_->rides(rider_)->size(), 1U);
    }
    void twoWindowsSeeEachOthersChanges() {
        auto second = std::move(*Roster::open(path_));
        qint64 seen = second->newestChange().value();
        QVERIFY(!second->othersWrote(seen).value());
        RiderRecord r = roster_->riders()->front();
        r.note = "changed elsewhere";
        QVERIFY(roster_->saveRider(r));
        // An own change in between hides nothing.
        QVERIFY(second->oweLearning(rider_));
        QVERIFY(second->othersWrote(seen).value());
        QVERIFY(!second->othersWrote(seen).value());
        QVERIFY(second->oweLearning(rider_) && !second->othersWrote(seen).value());
        QCOMPARE(second->riders()->front().note, QString("changed elsewhere"));
    }

    void testsCheckInsAndScalesComeBackAsTheyWere() {
        TestRecord t;
        t.rider = rider_;
        t.result = {Date{20900}, Protocol::DurabilityCheck, 301.25, 288.5, 480, 2011.5, 1240.0, true, "Crest",
                    "wind",      Verdict::Declined};
        t.rideHash = QByteArray::fromHex("00010203ff");
        t.id = roster_->saveTest(t).value();
        TestRecord later = t;
        later.id = 0;
        later.result.day = Date{20800};
        later.result.altitudeM.reset();
        later.id = roster_->saveTest(later).value();
        CheckIn c;
        c.day = Date{20850};
        c.sleep = 3;
        c.weightKg = 61.4;
        c.note = "schlecht geschlafen, \"müde\"";
        QVERIFY(roster_->saveCheckIn(rider_, c));
        const Scales scales{LearnedScale{0.91, 0.055, 120}, LearnedScale{0.2, 0.14, 33}};
        QVERIFY(roster_->saveScales(rider_, scales));
        const QString path = path_;
        roster_ = nullptr;
        roster_ = std::move(*Roster::open(path));
        const auto tests = roster_->tests(rider_).value();
        QCOMPARE(tests.size(), 2U);
        QVERIFY(tests[0] == later && tests[1] == t); // in order of day
        QVERIFY(roster_->checkIns(rider_).value() == std::vector<CheckIn>{c});
        QVERIFY(roster_->riders()->front().scales == scales);
        // Saving the rider leaves what was learned alone.
        QVERIFY(roster_->saveRider(someone()) && roster_->riders()->front().scales == scales);
        // The same day's check-in is one; an empty one is none.
        c.sleep = 5;
        QVERIFY(roster_->saveCheckIn(rider_, c));
        QCOMPARE(roster_->checkIns(rider_)->size(), 1U);
        QCOMPARE(roster_->checkInsSince(Date{20851})->size(), 0U);
        CheckIn none;
        none.day = c.day;
        QVERIFY(roster_->saveCheckIn(rider_, none));
        QVERIFY(roster_->checkIns(rider_)->empty());
        QVERIFY(roster_->removeTest(t.id));
        QCOMPARE(roster_->tests(rider_)->size(), 1U);
        // What belongs to a rider leaves with them.
        QCOMPARE(import({file("gone.fit", fitOf(40, 0.3))}).added.size(), 1U);
        QVERIFY(roster_->removeRider(rider_));
        QVERIFY(roster_->tests(rider_)->empty() && roster_->rides(rider_)->empty());
        QVERIFY(!roster_->daySumsSince({})->contains(rider_));
    }
    void excludedRidesAreInNoSum() {
        QCOMPARE(import({file("a.fit", fitOf(50, 1)), file("b.fit", fitOf(50, 0.5, 2, 15)),
                         file("c.fit", fitOf(51, 1, 3))})
                     .added.size(),
                 3U);
        auto rides = roster_->rides(rider_).value();
        const double both = *rides[0].score.stress + *rides[1].score.stress;
        auto sums = roster_->daySumsSince({})->at(rider_);
        QCOMPARE(sums.size(), 2U);
        QVERIFY(std::abs(sums[0].stress - both) < 1e-9 && sums[0].byPower);
        rides[0].excluded = true;
        rides[2].excluded = true;
        QVERIFY(roster_->updateRides(rides));
        sums = roster_->daySumsSince({})->at(rider_);
        QCOMPARE(sums.size(), 1U);
        QVERIFY(std::abs(sums[0].stress - *rides[1].score.stress) < 1e-9);
        QCOMPARE(roster_->markStale(rider_, rides[2].day, rides[2].day).value(), 1);
        QVERIFY(roster_->rides(rider_)->back().stale && !roster_->rides(rider_)->front().stale);
        QCOMPARE(roster_->staleRides(rider_).value(), std::vector{rides[2].id});
        // To be scored again is no change of what was found: no digest is written for it, and none is missed.
        QVERIFY(roster_->checkSeals().empty());
        rides[2].thresholdPower += 1;
        QVERIFY(roster_->updateRides({rides[2]}));
        QVERIFY(roster_->staleRides(rider_)->empty() && roster_->checkSeals().empty());
        roster_.reset();
        behindOurBack("UPDATE figures SET stale=1");
        QVERIFY((*Roster::open(path_))->checkSeals().empty());
        behindOurBack("UPDATE figures SET threshold_power_w=threshold_power_w+1");
        QCOMPARE((*Roster::open(path_))->checkSeals().sentences.size(), 3);
    }
};

MARRAM_SUITE(RosterTest)
#include "tst_roster.moc"
