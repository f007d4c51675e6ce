// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/exchange.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/seasons_of.h"
#include "support/suite.h"

#include <QCryptographicHash>
#include <QDirIterator>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlError>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

namespace {

/// Every file below a folder with its bytes.
std::map<QString, QByteArray> treeOf(const QString& folder) {
    std::map<QString, QByteArray> tree;
    QDirIterator it(folder, QDir::Files, QDirIterator::Subdirectories);
    while (it.hasNext()) {
        QFile f(it.next());
        if (f.open(QIODevice::ReadOnly))
            tree[QDir(folder).relativeFilePath(f.fileName())] = f.readAll();
    }
    return tree;
}

} // namespace

class ExchangeTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    int made_ = 0;

    std::unique_ptr<Roster> empty() {
        return std::move(*Roster::create(folder_.filePath(QString("%1.marram").arg(++made_))));
    }
    QString room() {
        const QString path = folder_.filePath(QString("out%1").arg(++made_));
        return path;
    }
    /// A roster with everything a rider can have, names and notes in more than one alphabet.
    std::unique_ptr<Roster> full() {
        auto roster = empty();
        for (int i = 0; i < 2; ++i) {
            RiderRecord r;
            r.name = i == 0 ? "Åse \"Quick\" Øre, jr." : "Bo";
            r.sex = Sex::Female;
            r.born = 1990;
            r.hours = {0, 1.1, 0.7, 1.0 / 3, 0, 4, 3};
            r.note = "line one\nline two; \"quoted\"";
            r.values.set(Quantity::ThresholdPower, Date{20400}, 241.7);
            r.values.set(Quantity::ThresholdHeartRate, Date{20400}, 169);
            r.values.set(Quantity::RestingHeartRate, Date{20400}, 51);
            r.values.set(Quantity::MaximalHeartRate, Date{20500}, 188);
            r.values.set(Quantity::Weight, Date{20450}, 61.23456789);
            r.trainingYears = 4;
            r.injuries = {{Date{20300}, std::nullopt, "Knee, left"}};
            r.groups = QStringList{"Road", "Über 30"};
            r.archived = i == 1;
            r.id = roster->saveRider(r).value();
            Season s;
            s.start = parseDate("2027-01-04").value();
            s.end = parseDate("2027-09-26").value();
            s.rules.school = School::Own;
            s.rules.ownSplits[Phase::Base] = {0.8, 0.15, 0.05};
            s.rules.ownSplits[Phase::Build] = {1.0 / 3, 1.0 / 3, 1 - 2.0 / 3};
            s.races.push_back({"Pōint", parseDate("2027-09-19").value(), Priority::A, 260.0, 2, Gate{5, 15.5},
                               Demand::Stage});
            s.weeks.push_back(
                {parseDate("2027-03-01").value(), WeekHours{0, 0, 1, 0, 0, 2, 2}, WeekKind::Deload});
            s.away.push_back(
                {parseDate("2027-05-10").value(), parseDate("2027-05-16").value(), AwayWhy::Camp, 900.0});
            const auto season = roster->saveSeason(inForce(r.id, s));
            if (!season ||
                !roster->savePlannedDays(*season, s.start, {{s.start, Role::Hard, 88.125, 1.5, 44, 50, -6}}))
                qFatal("no season");
            TestRecord t;
            t.rider = r.id;
            t.result.protocol = Protocol::DurabilityCheck;
            t.result.day = Date{20700};
            t.result.value = 301.5;
            t.result.second = 288;
            t.result.workKj = 2011;
            t.result.altitudeM = 640;
            t.result.note = "windy";
            t.rideHash = QByteArray::fromHex("00ff10");
            CheckIn c;
            c.day = Date{20800};
            c.feel = 4;
            c.restHeartRate = 49.5;
            c.ill = true;
            c.note = "hm, \"so so\"";
            if (!roster->saveTest(t) || !roster->saveCheckIn(r.id, c))
                qFatal("no test");
            QStringList files;
            for (int day = 0; day < 3; ++day)
                files << save(folder_.filePath(QString("r%1-%2.fit").arg(i).arg(day)),
                              fitOf(10 * i + day, 0.5, static_cast<std::uint64_t>(10 * i + day)));
            Importer importer(*roster, r);
            if (importer.importFiles(files).added.size() != 3)
                qFatal("no rides");
            auto rides = roster->rides(r.id).value();
            rides[0].note = "good";
            rides[0].effort = 6.5;
            rides[1].excluded = true;
            rides[1].corrections = {30, 60, {{100, 120}}};
            rides[1] = scoreAgain(rides[1], {roster->originalOf(rides[1].id).value()}, r).value();
            if (!roster->updateRides(rides))
                qFatal("no update");
        }
        return roster;
    }

private slots:
    void aRosterGoesOutAndComesInWithoutLoss() {
        const auto before = full();
        const QString first = room(), second = room();
        QVERIFY(exportJson(*before, first));
        auto after = empty();
        const auto added = importJson(*after, first + "/roster.json");
        QVERIFY2(added.has_value(), added ? "" : added.error().sentence.c_str());
        QCOMPARE(added->size(), 2U);
        QVERIFY(exportJson(*after, second));
        QVERIFY(treeOf(first) == treeOf(second)); // byte for byte, originals too
        auto a = before->riders().value(), b = after->riders().value();
        for (size_t i = 0; i < a.size(); ++i) {
            const auto x = before->rides(a[i].id).value(), y = after->rides(b[i].id).value();
            QCOMPARE(x.size(), y.size());
            for (size_t k = 0; k < x.size(); ++k) {
                QVERIFY(x[k].corrections == y[k].corrections && x[k].effort == y[k].effort &&
                        x[k].note == y[k].note);
                QCOMPARE(before->originalOf(x[k].id).value(), after->originalOf(y[k].id).value());
            }
            QVERIFY(before->checkIns(a[i].id).value() == after->checkIns(b[i].id).value());
            b[i].id = a[i].id;
            QVERIFY(a[i] == b[i]);
        }
    }
    void everyFileIsItsOwnersOnly() {
        const QString out = room();
        QVERIFY(exportJson(*full(), out) && exportCsv(*full(), out));
        QDirIterator it(out, QDir::Files, QDirIterator::Subdirectories);
        int files = 0;
        while (it.hasNext()) {
            const auto p = QFile::permissions(it.next());
            QVERIFY(!(p & (QFile::ReadGroup | QFile::ReadOther | QFile::WriteGroup | QFile::WriteOther)));
            ++files;
        }
        QVERIFY(files > 12);
    }
    void oneRiderGoesToAnotherRosterWhole() {
        const auto before = full();
        const QString out = room();
        QVERIFY(exportJson(*before, out, {before->riders()->front().id}));
        auto other = full();
        QVERIFY(importJson(*other, out + "/riders/001-bo.json"));
        QCOMPARE(other->riders()->size(), 3U);
        const auto riders = other->riders().value();
        for (const RiderRecord& r : riders)
            QCOMPARE(other->rides(r.id)->size(), 3U);
    }
    void whatIsWrongIsNamedAndNothingComesIn_data() {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("says");
        QTest::newRow("no JSON") << 0 << "roster.json";
        QTest::newRow("newer version") << 1 << "another version";
        QTest::newRow("a rider's unknown key") << 2 << "shoe_size";
        QTest::newRow("impossible weight") << 3 << "weight_kg";
        QTest::newRow("original missing") << 4 << "does not exist";
        QTest::newRow("original changed") << 5 << "not the recording";
        QTest::newRow("a way out of the folder") << 6 << "outside";
        QTest::newRow("a rider file missing") << 7 << "does not exist";
        QTest::newRow("an impossible date") << 8 << "2027-02-30";
    }
    void whatIsWrongIsNamedAndNothingComesIn() {
        QFETCH(int, kind);
        QFETCH(QString, says);
        const QString out = room();
        QVERIFY(exportJson(*full(), out));
        const QString rider = out + "/riders/001-bo.json";
        const auto edit = [&](const QString& file, const QByteArray& from, const QByteArray& to) {
            QFile f(file);
            QVERIFY(f.open(QIODevice::ReadOnly));
            QByteArray text = f.readAll();
            f.close();
            QVERIFY(text.contains(from));
            text.replace(text.indexOf(from), from.size(), to);
            QVERIFY(f.open(QIODevice::WriteOnly) && f.write(text) == text.size());
        };
        const QString original = QDir(out + "/originals").entryInfoList(QDir::Files).front().filePath();
        switch (kind) {
        case 0:
            save(out + "/roster.json", "{ not json");
            break;
        case 1:
            edit(out + "/roster.json", "\"version\": 1", "\"version\": 7");
            break;
        case 2:
            edit(rider, "\"name\":", "\"shoe_size\": 42, \"name\":");
            break;
        case 3:
            edit(rider, "61.23456789", "6123");
            break;
        case 4:
            QVERIFY(QFile::remove(original));
            break;
        case 5:
            save(original, "seconds,power\n1,2\n");
            break;
        case 6:
            edit(out + "/roster.json", "riders/001-bo.json", "../../../etc/passwd");
            break;
        case 7:
            QVERIFY(QFile::remove(rider));
            break;
        default:
            edit(rider, "2027-09-19", "2027-02-30");
        }
        auto into = empty();
        const auto added = importJson(*into, out + "/roster.json");
        QVERIFY(!added);
        QVERIFY2(QString::fromStdString(added.error().sentence).contains(says),
                 added.error().sentence.c_str());
        QVERIFY(into->riders()->empty());
    }
    void aDamagedFileIsRefusedOrComesInWhole() {
        const auto source = full();
        const QString out = room();
        QVERIFY(exportJson(*source, out));
        const QString file = out + "/riders/001-bo.json";
        QFile f(file);
        QVERIFY(f.open(QIODevice::ReadOnly));
        const QByteArray whole = f.readAll();
        f.close();
        auto into = empty();
        size_t riders = 0;
        const auto tried = [&](const QByteArray& bytes) {
            save(file, bytes);
            const auto added = importJson(*into, file);
            if (added)
                riders += added->size();
            else
                QVERIFY(!added.error().sentence.empty());
            QCOMPARE(into->riders()->size(), riders); // never a part of one
        };
        for (qsizetype n = 0; n < whole.size(); n += 97)
            tried(whole.left(n));
        QCOMPARE(riders, 0U); // a file cut short is never JSON
        for (qsizetype at = 11; at < whole.size(); at += 131) {
            QByteArray bad = whole;
            bad[at] = static_cast<char>(bad[at] ^ 0x11);
            tried(bad);
        }
        tried(whole);
        QVERIFY(riders >= 1);
    }
    void cancellingComesBackToNothing() {
        const QString out = room();
        QVERIFY(exportJson(*full(), out));
        auto into = empty();
        QVERIFY(!importJson(*into, out + "/roster.json", [](int done, int) { return done < 2; }));
        QVERIFY(into->riders()->empty());
        QVERIFY(!exportJson(*full(), room(), {}, [](int done, int) { return done < 2; }));
    }
    void theTablesHoldEveryRide() {
        const QString out = room();
        QVERIFY(exportCsv(*full(), out));
        const auto tree = treeOf(out);
        QCOMPARE(tree.size(), 7U);
        QCOMPARE(tree.at("rides.csv").count("\n2027-") + tree.at("rides.csv").count(",2027-01"),
                 12); // day and start
        QVERIFY(tree.at("riders.csv").contains("\"Åse \"\"Quick\"\" Øre, jr.\""));
        QVERIFY(tree.at("values.csv").contains("Bo,weight_kg,2025-12-28,61.23456789"));
        QVERIFY(tree.at("check_ins.csv").contains("\"hm, \"\"so so\"\"\""));
    }

    void whatTheCoachWroteAndNotedGoesWithTheRider() {
        auto roster = full();
        const qint64 rider = roster->riders()->front().id;
        const Date week = *parseDate("2027-01-04");
        const NotedCaution noted{"form", week + 2, 15, "a <b>camp</b> & a cold"};
        QVERIFY(roster->saveLetter(rider, week, "Hold & <b>rest</b>"));
        QVERIFY(roster->saveNoted(rider, noted.code, noted));
        auto rides = roster->rides(rider).value();
        const qint64 leftOut = rides.size();
        std::erase_if(rides, [](const RideRecord& r) { return r.excluded; });
        QVERIFY(static_cast<qint64>(rides.size()) < leftOut); // what counts for nothing says nothing either
        QVERIFY(roster->saveHeard(
            rider,
            {"x", {}, {{rides[0].id, rides[0].day, 300, 280}, {rides[0].id, rides[0].day, 1200, 240}}}));
        QCOMPARE(roster->heard(rider)->maximal.size(), 2U);
        QCOMPARE(roster->maximalSince(rides[0].day)->at(rider).back().seconds, 1200);
        QVERIFY(roster->maximalSince(rides.back().day + 1)->empty());
        QVERIFY(roster->checkSeals().empty());
        const QString out = room();
        QVERIFY(exportJson(*roster, out, {rider}));
        auto other = Roster::create(room() + ".marram").value();
        const auto ids = importJson(*other, out + "/roster.json");
        QVERIFY(ids);
        QCOMPARE(other->letters(ids->front())->at(week), QString("Hold & <b>rest</b>"));
        QVERIFY(other->noted(ids->front()).value() == std::vector<NotedCaution>{noted});
        // What was maximal is heard anew where the recordings are; a ride that goes takes it along.
        QVERIFY(other->heard(ids->front())->maximal.empty());
        QVERIFY(roster->saveNoted(rider, noted.code, std::nullopt) && roster->noted(rider)->empty());
    }

    void whatIsPutAsideComesBack() {
        auto roster = full();
        const qint64 rider = roster->riders()->front().id;
        const auto rides = roster->rides(rider).value();
        QVERIFY(roster->putAside({rides[0].id, rides[1].id}, true));
        QCOMPARE(roster->rides(rider)->size(), 1U);
        QCOMPARE(roster->daySumsSince({})->at(rider).size(), 1U);
        QVERIFY(!*roster->rideWithContent(rider, rides[0].contentHash));
        QVERIFY(roster->overlapping(rider, rides[0].score.start, rides[0].score.start + 60)->empty());
        // The same file again brings the same ride back instead of a second one.
        const auto id = roster->addRide(rides[0], Roster::packed(roster->originalOf(rides[0].id).value()));
        QCOMPARE(*id, rides[0].id);
        QVERIFY(roster->putAside({rides[1].id}, false));
        QCOMPARE(roster->rides(rider)->size(), 3U);
    }
    void whatWasPutAsideLongAgoLeavesTheFile() {
        auto roster = full();
        const qint64 rider = roster->riders()->front().id;
        const auto rides = roster->rides(rider).value();
        QVERIFY(roster->putAside({rides[0].id}, true));
        const QString path = roster->path();
        roster.reset();
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "old");
            db.setDatabaseName(path);
            QVERIFY(db.open());
            QVERIFY(
                QSqlQuery(db).exec("UPDATE ride SET aside_day = aside_day - 40 WHERE aside_day IS NOT NULL"));
        }
        QSqlDatabase::removeDatabase("old");
        roster = std::move(*Roster::open(path));
        QVERIFY(!roster->originalOf(rides[0].id));
        QCOMPARE(roster->rides(rider)->size(), 2U);
    }
    void aRosterOfTheFirstVersionIsBroughtUpToDate() {
        const QString path = folder_.filePath("first.marram");
        const QByteArray fit = fitOf(3, 0.5);
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "first");
            db.setDatabaseName(path);
            QVERIFY(db.open());
            // The schema as version 1 wrote it.
            const QStringList statements{
                "CREATE TABLE rider(id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL, sex INTEGER "
                "NOT NULL, born "
                "INTEGER, rest_hr_bpm REAL, max_hr_bpm REAL, hours TEXT NOT NULL, note TEXT NOT NULL)",
                "CREATE TABLE threshold(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, "
                "from_day INTEGER NOT "
                "NULL, power_w REAL NOT NULL, hr_bpm REAL, low_threshold REAL NOT NULL, weight_kg REAL, "
                "PRIMARY KEY(rider, "
                "from_day))",
                "CREATE TABLE season(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, "
                "start_day INTEGER NOT "
                "NULL, end_day INTEGER NOT NULL, fitness REAL NOT NULL, fatigue REAL NOT NULL, tau_fitness_d "
                "REAL NOT NULL, "
                "tau_fatigue_d REAL NOT NULL, rules TEXT NOT NULL)",
                "CREATE TABLE race(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place "
                "INTEGER NOT "
                "NULL, name TEXT NOT NULL, day INTEGER NOT NULL, priority INTEGER NOT NULL, stress REAL, "
                "days INTEGER NOT "
                "NULL, gate_low REAL, gate_high REAL, demand INTEGER NOT NULL, PRIMARY KEY(rider, place))",
                "CREATE TABLE week_pin(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, "
                "start_day INTEGER "
                "NOT NULL, hours TEXT, kind INTEGER, PRIMARY KEY(rider, start_day))",
                "CREATE TABLE away(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place "
                "INTEGER NOT "
                "NULL, from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, why INTEGER NOT NULL, stress "
                "REAL, PRIMARY "
                "KEY(rider, place))",
                "CREATE TABLE solved_day(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, "
                "day INTEGER NOT "
                "NULL, role INTEGER NOT NULL, stress REAL NOT NULL, hours REAL NOT NULL, fitness REAL NOT "
                "NULL, fatigue "
                "REAL NOT NULL, form REAL NOT NULL, PRIMARY KEY(rider, day)) WITHOUT ROWID",
                "CREATE TABLE ride(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES "
                "rider(id) ON "
                "DELETE CASCADE, day INTEGER NOT NULL, start_utc INTEGER NOT NULL, end_utc INTEGER NOT NULL, "
                "utc_offset_s "
                "INTEGER NOT NULL, file_name TEXT NOT NULL, content_sha256 BLOB NOT NULL, scoring_version "
                "INTEGER NOT NULL, "
                "threshold_power_w REAL NOT NULL, figures TEXT NOT NULL, best TEXT NOT NULL, remarks TEXT "
                "NOT NULL, "
                "excluded INTEGER NOT NULL DEFAULT 0, UNIQUE(rider, content_sha256))",
                "CREATE INDEX ride_by_day ON ride(rider, start_utc)",
                "CREATE TABLE original(ride INTEGER PRIMARY KEY REFERENCES ride(id) ON DELETE CASCADE, bytes "
                "BLOB NOT NULL)",
                "INSERT INTO rider VALUES(1, 'Ann', 1, 1990, 48, 190, '[0,1,1,1,0,3,2]', 'kept')",
                "INSERT INTO threshold VALUES(1, 20000, 240, 170, 0.76, 61.5), (1, 20800, 250, NULL, 0.77, "
                "NULL)",
                "PRAGMA application_id=1297236301",
                "PRAGMA user_version=1"};
            QSqlQuery q(db);
            for (const QString& s : statements)
                QVERIFY2(q.exec(s), qPrintable(q.lastError().text()));
            q.prepare(
                "INSERT INTO ride VALUES(1, 1, 20824, 1799053200, 1799055000, 0, 'a.fit', ?, 1, 250, "
                "'{\"start\":\"2027-01-04T09:00:00Z\",\"duration_s\":1800,\"elapsed_s\":1800,\"stress\":22.5,"
                "\"stress_method\":\"power\"}', '[[5,300,0]]', '[]', 0)");
            q.addBindValue(QCryptographicHash::hash(fit, QCryptographicHash::Sha256));
            QVERIFY(q.exec());
            q.prepare("INSERT INTO original VALUES(1, ?)");
            q.addBindValue(qCompress(fit, 1));
            QVERIFY(q.exec());
        }
        QSqlDatabase::removeDatabase("first");
        auto roster = Roster::open(path);
        QVERIFY2(roster.has_value(), roster ? "" : roster.error().sentence.c_str());
        const RiderRecord r = (*roster)->riders()->front();
        QCOMPARE(r.note, QString("kept"));
        QCOMPARE(*r.values.on(Quantity::ThresholdPower, Date{20500}), 240.0);
        QCOMPARE(*r.values.on(Quantity::ThresholdPower, Date{20900}), 250.0);
        QCOMPARE(*r.values.on(Quantity::ThresholdHeartRate, Date{20900}), 170.0);
        QCOMPARE(*r.values.on(Quantity::RestingHeartRate, Date{20900}), 48.0);
        QCOMPARE(*r.values.on(Quantity::MaximalHeartRate, Date{19000}), 190.0);
        QCOMPARE(r.values.of(Quantity::Weight).size(), 1U);
        const RideRecord ride = (*roster)->rides(1)->front();
        QVERIFY(ride.stale && *ride.score.stress == 22.5);
        QCOMPARE((*roster)->daySumsSince({})->at(1).front().stress, 22.5);
        const auto scored = scoreAgain(ride, {(*roster)->originalOf(1).value()}, r);
        QVERIFY(scored && !scored->stale && scored->best.size() > 20);
    }
};

MARRAM_SUITE(ExchangeTest)
#include "tst_exchange.moc"
