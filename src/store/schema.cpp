// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/files/files.h"
#include "store/connection.h"

#include <QDate>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QRandomGenerator>
#include <QUrl>
#include <QUuid>

namespace marram {
namespace {

constexpr int applicationId = 0x4D52414D; // "MRAM"
constexpr int schemaVersion = 5;

/// The statements that bring a file from each version to the next.
const QStringList& step(int fromVersion) {
    static const QStringList first{
        "CREATE TABLE rider(id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL, sex INTEGER NOT NULL, "
        "born INTEGER,"
        " rest_hr_bpm REAL, max_hr_bpm REAL, hours TEXT NOT NULL, note TEXT NOT NULL)",
        "CREATE TABLE threshold(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, from_day "
        "INTEGER NOT NULL,"
        " power_w REAL NOT NULL, hr_bpm REAL, low_threshold REAL NOT NULL, weight_kg REAL, PRIMARY "
        "KEY(rider, from_day))",
        "CREATE TABLE season(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, start_day "
        "INTEGER NOT NULL,"
        " end_day INTEGER NOT NULL, fitness REAL NOT NULL, fatigue REAL NOT NULL, tau_fitness_d REAL NOT "
        "NULL,"
        " tau_fatigue_d REAL NOT NULL, rules TEXT NOT NULL)",
        "CREATE TABLE race(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place INTEGER "
        "NOT NULL,"
        " name TEXT NOT NULL, day INTEGER NOT NULL, priority INTEGER NOT NULL, stress REAL, days INTEGER NOT "
        "NULL,"
        " gate_low REAL, gate_high REAL, demand INTEGER NOT NULL, PRIMARY KEY(rider, place))",
        "CREATE TABLE week_pin(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, start_day "
        "INTEGER NOT NULL,"
        " hours TEXT, kind INTEGER, PRIMARY KEY(rider, start_day))",
        "CREATE TABLE away(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place INTEGER "
        "NOT NULL,"
        " from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, why INTEGER NOT NULL, stress REAL, PRIMARY "
        "KEY(rider, place))",
        "CREATE TABLE solved_day(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, day "
        "INTEGER NOT NULL,"
        " role INTEGER NOT NULL, stress REAL NOT NULL, hours REAL NOT NULL, fitness REAL NOT NULL, fatigue "
        "REAL NOT NULL,"
        " form REAL NOT NULL, PRIMARY KEY(rider, day)) WITHOUT ROWID",
        "CREATE TABLE ride(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES rider(id) "
        "ON DELETE CASCADE,"
        " day INTEGER NOT NULL, start_utc INTEGER NOT NULL, end_utc INTEGER NOT NULL, utc_offset_s INTEGER "
        "NOT NULL,"
        " file_name TEXT NOT NULL, content_sha256 BLOB NOT NULL, scoring_version INTEGER NOT NULL, "
        "threshold_power_w REAL NOT NULL,"
        " figures TEXT NOT NULL, best TEXT NOT NULL, remarks TEXT NOT NULL, excluded INTEGER NOT NULL "
        "DEFAULT 0,"
        " UNIQUE(rider, content_sha256))",
        "CREATE INDEX ride_by_day ON ride(rider, start_utc)",
        "CREATE TABLE original(ride INTEGER PRIMARY KEY REFERENCES ride(id) ON DELETE CASCADE, bytes BLOB "
        "NOT NULL)"};
    // Every quantity gets its own dates; rides get what the coach adds to them; tests and check-ins come.
    static const QStringList second{
        "CREATE TABLE rider_value(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, quantity "
        "TEXT NOT NULL, from_day INTEGER NOT NULL, value REAL NOT NULL, PRIMARY KEY(rider, quantity, "
        "from_day)) WITHOUT ROWID",
        "INSERT INTO rider_value SELECT rider, 'threshold_power_w', from_day, power_w FROM threshold",
        "INSERT INTO rider_value SELECT rider, 'threshold_hr_bpm', from_day, hr_bpm FROM threshold WHERE "
        "hr_bpm IS NOT NULL",
        "INSERT INTO rider_value SELECT rider, 'low_threshold', from_day, low_threshold FROM threshold",
        "INSERT INTO rider_value SELECT rider, 'weight_kg', from_day, weight_kg FROM threshold WHERE "
        "weight_kg IS NOT NULL",
        "INSERT INTO rider_value SELECT id, 'rest_hr_bpm', coalesce((SELECT min(from_day) FROM threshold "
        "WHERE rider=id), 0), rest_hr_bpm FROM rider WHERE rest_hr_bpm IS NOT NULL",
        "INSERT INTO rider_value SELECT id, 'max_hr_bpm', coalesce((SELECT min(from_day) FROM threshold "
        "WHERE rider=id), 0), max_hr_bpm FROM rider WHERE max_hr_bpm IS NOT NULL",
        "DROP TABLE threshold",
        "ALTER TABLE rider DROP COLUMN rest_hr_bpm",
        "ALTER TABLE rider DROP COLUMN max_hr_bpm",
        "ALTER TABLE rider ADD COLUMN training_years INTEGER",
        "ALTER TABLE rider ADD COLUMN slow_recoverer INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE rider ADD COLUMN injuries TEXT NOT NULL DEFAULT '[]'",
        "ALTER TABLE rider ADD COLUMN strengths TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN weaknesses TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN cautions TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN groups_in TEXT NOT NULL DEFAULT '[]'",
        "ALTER TABLE rider ADD COLUMN archived INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE rider ADD COLUMN scales TEXT NOT NULL DEFAULT '{}'",
        "ALTER TABLE ride DROP COLUMN best",
        "ALTER TABLE ride ADD COLUMN best BLOB NOT NULL DEFAULT x''",
        "ALTER TABLE ride ADD COLUMN stress REAL",
        "ALTER TABLE ride ADD COLUMN method INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE ride ADD COLUMN corrections TEXT NOT NULL DEFAULT '{}'",
        "ALTER TABLE ride ADD COLUMN effort REAL",
        "ALTER TABLE ride ADD COLUMN note TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE ride ADD COLUMN stale INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE ride ADD COLUMN aside_day INTEGER",
        "UPDATE ride SET stale=1, stress=json_extract(figures, '$.stress'), method=CASE "
        "json_extract(figures, '$.stress_method') WHEN 'power' THEN 1 WHEN 'heart_rate' THEN 2 ELSE 0 END",
        "CREATE INDEX ride_sums ON ride(rider, day, aside_day, excluded, stress, method)",
        "CREATE TABLE test_result(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES "
        "rider(id) ON DELETE CASCADE, day INTEGER NOT NULL, protocol TEXT NOT NULL, value REAL NOT NULL, "
        "second REAL NOT NULL, seconds REAL NOT NULL, work_kj REAL NOT NULL, altitude_m REAL, acclimatised "
        "INTEGER NOT NULL, place TEXT NOT NULL, note TEXT NOT NULL, verdict INTEGER NOT NULL, ride_sha256 "
        "BLOB NOT NULL)",
        "CREATE INDEX test_by_day ON test_result(rider, day)",
        "CREATE TABLE check_in(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, day INTEGER "
        "NOT NULL, feel INTEGER, sleep INTEGER, soreness INTEGER, motivation INTEGER, rest_hr_bpm REAL, "
        "weight_kg REAL, ill INTEGER NOT NULL, note TEXT NOT NULL, PRIMARY KEY(rider, day)) WITHOUT ROWID"};
    // Seasons get ids and know what they are to the rider; what is derived leaves the tables of what was
    // decided; changes are counted with who made them.
    static const QStringList third{
        "CREATE TABLE season_3(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES "
        "rider(id) "
        "ON DELETE CASCADE, standing INTEGER NOT NULL, name TEXT NOT NULL, branched_from INTEGER REFERENCES "
        "season_3(id) ON DELETE SET NULL, start_day INTEGER NOT NULL, end_day INTEGER NOT NULL, fitness REAL "
        "NOT "
        "NULL, fatigue REAL NOT NULL, tau_fitness_d REAL NOT NULL, tau_fatigue_d REAL NOT NULL, rules TEXT "
        "NOT NULL)",
        "INSERT INTO season_3(rider, standing, name, start_day, end_day, fitness, fatigue, tau_fitness_d, "
        "tau_fatigue_d, rules) SELECT rider, 0, '', start_day, end_day, fitness, fatigue, tau_fitness_d, "
        "tau_fatigue_d, rules FROM season",
        "CREATE TABLE race_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, place "
        "INTEGER NOT "
        "NULL, name TEXT NOT NULL, day INTEGER NOT NULL, priority INTEGER NOT NULL, stress REAL, days "
        "INTEGER NOT "
        "NULL, gate_low REAL, gate_high REAL, demand INTEGER NOT NULL, PRIMARY KEY(season, place))",
        "INSERT INTO race_3 SELECT s.id, r.place, r.name, r.day, r.priority, r.stress, r.days, r.gate_low, "
        "r.gate_high, r.demand FROM race r JOIN season_3 s ON s.rider=r.rider",
        "CREATE TABLE week_pin_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, "
        "start_day "
        "INTEGER NOT NULL, hours TEXT, kind INTEGER, PRIMARY KEY(season, start_day))",
        "INSERT INTO week_pin_3 SELECT s.id, p.start_day, p.hours, p.kind FROM week_pin p JOIN season_3 s ON "
        "s.rider=p.rider",
        "CREATE TABLE away_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, place "
        "INTEGER NOT "
        "NULL, from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, why INTEGER NOT NULL, stress REAL, "
        "PRIMARY "
        "KEY(season, place))",
        "INSERT INTO away_3 SELECT s.id, a.place, a.from_day, a.to_day, a.why, a.stress FROM away a JOIN "
        "season_3 "
        "s ON s.rider=a.rider",
        "CREATE TABLE planned_day(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, day "
        "INTEGER "
        "NOT NULL, role INTEGER NOT NULL, stress REAL NOT NULL, hours REAL NOT NULL, fitness REAL NOT NULL, "
        "fatigue REAL NOT NULL, form REAL NOT NULL, PRIMARY KEY(season, day)) WITHOUT ROWID",
        "INSERT INTO planned_day SELECT s.id, d.day, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form "
        "FROM "
        "solved_day d JOIN season_3 s ON s.rider=d.rider",
        "DROP TABLE race",
        "DROP TABLE week_pin",
        "DROP TABLE away",
        "DROP TABLE solved_day",
        "DROP TABLE season",
        "ALTER TABLE season_3 RENAME TO season",
        "ALTER TABLE race_3 RENAME TO race",
        "ALTER TABLE week_pin_3 RENAME TO week_pin",
        "ALTER TABLE away_3 RENAME TO away",
        "CREATE INDEX season_of ON season(rider, standing)",
        "CREATE UNIQUE INDEX season_in_force ON season(rider) WHERE standing=0",
        "CREATE TABLE learned(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, scales TEXT "
        "NOT "
        "NULL, owed INTEGER NOT NULL)",
        "INSERT INTO learned SELECT id, scales, 1 FROM rider",
        "ALTER TABLE rider DROP COLUMN scales",
        "ALTER TABLE rider ADD COLUMN usual_week_h REAL",
        "ALTER TABLE rider ADD COLUMN aside_day INTEGER",
        "CREATE TABLE figures(ride INTEGER PRIMARY KEY REFERENCES ride(id) ON DELETE CASCADE, "
        "scoring_version "
        "INTEGER NOT NULL, threshold_power_w REAL NOT NULL, figures BLOB NOT NULL, best BLOB NOT NULL, "
        "stress "
        "REAL, method INTEGER NOT NULL, stale INTEGER NOT NULL)",
        "INSERT INTO figures SELECT id, scoring_version, threshold_power_w, figures, best, stress, method, "
        "stale "
        "FROM ride",
        "DROP INDEX ride_sums",
        "ALTER TABLE ride DROP COLUMN scoring_version",
        "ALTER TABLE ride DROP COLUMN threshold_power_w",
        "ALTER TABLE ride DROP COLUMN figures",
        "ALTER TABLE ride DROP COLUMN best",
        "ALTER TABLE ride DROP COLUMN stress",
        "ALTER TABLE ride DROP COLUMN method",
        "ALTER TABLE ride DROP COLUMN stale",
        "CREATE INDEX ride_days ON ride(rider, day, aside_day, excluded)",
        "CREATE INDEX figure_sums ON figures(ride, stress, method)",
        "CREATE TABLE change(number INTEGER PRIMARY KEY AUTOINCREMENT, writer INTEGER NOT NULL)"};
    // A week's phase can be pinned; a race knows its course, and how it went.
    static const QStringList fourth{"ALTER TABLE season ADD COLUMN lay_off INTEGER",
                                    "ALTER TABLE week_pin ADD COLUMN phase INTEGER",
                                    "ALTER TABLE race ADD COLUMN course TEXT NOT NULL DEFAULT ''",
                                    "ALTER TABLE race ADD COLUMN result TEXT NOT NULL DEFAULT ''",
                                    "ALTER TABLE race ADD COLUMN note TEXT NOT NULL DEFAULT ''",
                                    "CREATE TABLE outlook(season INTEGER NOT NULL REFERENCES season(id) ON "
                                    "DELETE CASCADE, day INTEGER NOT NULL, race TEXT NOT NULL, form REAL NOT "
                                    "NULL, fitness REAL NOT NULL, PRIMARY KEY(season, day, race)) WITHOUT "
                                    "ROWID"};
    // What the coach says of a day's session, what stood on it when it came, and the coach's own families.
    static const QStringList fifth{
        "CREATE TABLE session_pin(season INTEGER NOT NULL REFERENCES season(id) ON DELETE CASCADE, day "
        "INTEGER "
        "NOT NULL, family TEXT NOT NULL, rung INTEGER, minutes INTEGER, words TEXT NOT NULL, note TEXT NOT "
        "NULL, verdict INTEGER, PRIMARY KEY(season, day)) WITHOUT ROWID",
        "CREATE TABLE meant_session(season INTEGER NOT NULL REFERENCES season(id) ON DELETE CASCADE, day "
        "INTEGER NOT NULL, family TEXT NOT NULL, rung INTEGER NOT NULL, words TEXT NOT NULL, note TEXT NOT "
        "NULL, outcome INTEGER, outcome_of TEXT NOT NULL DEFAULT '', told TEXT NOT NULL DEFAULT '', "
        "PRIMARY KEY(season, day)) WITHOUT ROWID",
        "CREATE TABLE family(name TEXT NOT NULL PRIMARY KEY, place INTEGER NOT NULL, content TEXT NOT NULL) "
        "WITHOUT ROWID"};
    static const std::array<const QStringList*, schemaVersion> steps{&first, &second, &third, &fourth,
                                                                     &fifth};
    return *steps.at(static_cast<size_t>(fromVersion));
}

Result<int> pragma(const QSqlDatabase& db, const char* name) {
    QSqlQuery query(db);
    if (!query.exec(QString("PRAGMA %1").arg(name)) || !query.next())
        return sql::failure(query.lastError());
    return query.value(0).toInt();
}

/// The file and its companions are for their owner only.
void keepPrivate(const QString& path) {
    for (const char* suffix : {"", "-wal", "-shm"})
        if (QFile::exists(path + suffix))
            QFile::setPermissions(path + suffix, QFile::ReadOwner | QFile::WriteOwner);
}

/// A name as a SQLite URI.
QString uriOf(const QString& path) {
    return "file:" + QString::fromLatin1(QUrl::toPercentEncoding(QFileInfo(path).absoluteFilePath(), "/"));
}

} // namespace

Writer newWriter() {
    return static_cast<Writer>(QRandomGenerator::system()->generate64() >> 1) | 1;
}

Roster::Roster() : connection_(std::make_unique<Connection>()) {}

Result<std::unique_ptr<Roster>> Roster::connect(const QString& path, Writer writer, bool readOnly) {
    std::unique_ptr<Roster> roster(new Roster);
    roster->path_ = path;
    roster->writer_ = writer;
    roster->readOnly_ = readOnly;
    roster->connection_->name = QUuid::createUuid().toString();
    QSqlDatabase& db = roster->connection_->db;
    db = QSqlDatabase::addDatabase("QSQLITE", roster->connection_->name);
    if (!readOnly) {
        db.setDatabaseName(path);
        db.setConnectOptions("QSQLITE_BUSY_TIMEOUT=5000");
    } else {
        // Where nothing is waiting to be taken over, nobody writes: the file can be read without companions,
        // which a folder that can't be written has no room for.
        const bool quiet = QFileInfo(path + "-wal").size() == 0;
        db.setDatabaseName(uriOf(path) + (quiet ? "?immutable=1" : ""));
        db.setConnectOptions("QSQLITE_OPEN_URI;QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=5000");
    }
    if (!db.open())
        return refuse(path.toStdString() + ": can't be opened (" +
                      db.lastError().databaseText().toStdString() + ")");
    return roster;
}

Result<std::unique_ptr<Roster>> Roster::create(const QString& path, Writer writer) {
    const std::string name = path.toStdString();
    if (QFile::exists(path))
        return refuse(name + ": exists already; choose another name");
    if (!QFileInfo(QFileInfo(path).absolutePath()).isDir())
        return refuse(name + ": its folder does not exist");
    // Made empty and private first, so that no byte of it is ever readable by others.
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly | QIODevice::NewOnly, QFile::ReadOwner | QFile::WriteOwner))
        return refuse(name + ": can't be written (" + file.errorString().toStdString() + ")");
    file.close();
    auto roster = opened(path, writer, true);
    if (!roster)
        for (const char* suffix : {"", "-wal", "-shm", "-journal"})
            QFile::remove(path + suffix);
    return roster;
}

Result<std::unique_ptr<Roster>> Roster::open(const QString& path, Writer writer) {
    return opened(path, writer, false);
}

Result<std::unique_ptr<Roster>> Roster::opened(const QString& path, Writer writer, bool fresh) {
    const std::string name = path.toStdString();
    const QFileInfo info(path);
    if (!info.exists())
        return refuse(name + ": does not exist");
    if (info.isDir())
        return refuse(name + ": is a folder; a roster is a file");
    if (!info.isFile())
        return refuse(name + ": is a pipe or a device; a roster is a file");
    if (!info.isReadable())
        return refuse(name + ": can't be read; its owner has to allow it");
    if (info.size() == 0 && !fresh)
        return refuse(name +
                      ": is empty, so it holds no roster; restore it from a copy, or make a new one under "
                      "another name");
    const bool writable = info.isWritable() && QFileInfo(info.absolutePath()).isWritable();
    auto roster = connect(path, writer, !writable);
    if (!roster)
        return roster;
    const QSqlDatabase& db = (*roster)->connection_->db;
    const auto ofFile = [&](const Problem& why) { return refuse(name + ": " + why.sentence); };
    const auto notRoster = [&] {
        return refuse(name +
                      ": is not a roster of Marram, or its beginning is damaged; restore it from a copy");
    };
    if (!fresh) {
        QFile bytes(path);
        if (!bytes.open(QIODevice::ReadOnly) || bytes.read(16) != QByteArray("SQLite format 3\0", 16))
            return notRoster();
    }
    const auto id = pragma(db, "application_id"), version = pragma(db, "user_version");
    if (!id)
        return ofFile(id.error());
    if (!version)
        return ofFile(version.error());
    if (!fresh && *id != applicationId)
        return notRoster();
    if (*version > schemaVersion)
        return refuse(name + ": was written by a newer Marram; update Marram to open it");
    if (!writable && *version < schemaVersion)
        return refuse(name +
                      ": was written by an older Marram and is read-only, so it can't be brought up to "
                      "date; make it writable, or open a copy");
    if (auto ok = sql::run(db, "PRAGMA cell_size_check=ON"); !ok)
        return ofFile(ok.error());
    if (writable) {
        for (const char* setting :
             {"PRAGMA journal_mode=WAL", "PRAGMA synchronous=FULL", "PRAGMA foreign_keys=ON"})
            if (auto ok = sql::run(db, setting); !ok)
                return ofFile(ok.error());
        if (auto ok = (*roster)->upgrade(fresh); !ok)
            return ofFile(ok.error());
        keepPrivate(path);
        // Tidying may wait; a roster that can't be tidied can still be read.
        (void)(*roster)->dropLongAside();
    }
    return roster;
}

Result<void> Roster::upgrade(bool fresh) {
    const auto before = pragma(connection_->db, "user_version");
    if (!before)
        return tl::unexpected(before.error());
    if (*before == schemaVersion)
        return {};
    const QSqlDatabase& db = connection_->db;
    if (auto ok = sql::run(db, "BEGIN IMMEDIATE"); !ok)
        return tl::unexpected(ok.error());
    const auto work = [&]() -> Result<void> {
        // Looked at again now that nobody else can be bringing it up to date.
        auto version = pragma(db, "user_version");
        if (!version)
            return tl::unexpected(version.error());
        if (*version == 0 && !fresh)
            return refuse("is damaged at its beginning; restore it from a copy");
        for (; *version < schemaVersion; ++*version)
            for (const QString& statement : step(*version))
                if (auto ok = sql::run(db, statement); !ok)
                    return tl::unexpected(ok.error());
        for (const QString& mark : {QString("PRAGMA application_id=%1").arg(applicationId),
                                    QString("PRAGMA user_version=%1").arg(schemaVersion)})
            if (auto ok = sql::run(db, mark); !ok)
                return tl::unexpected(ok.error());
        auto done = sql::run(db, "COMMIT");
        return done ? Result<void>{} : tl::unexpected(done.error());
    };
    auto ok = work();
    if (!ok)
        (void)sql::run(db, "ROLLBACK");
    return ok;
}

Result<void> Roster::dropLongAside() {
    constexpr int month = 31;
    const qint64 today = QDate(1970, 1, 1).daysTo(QDate::currentDate());
    for (const char* table : {"ride", "rider"}) {
        // Looking first: writing without need would wake every other window.
        bool any = false;
        if (auto ok =
                sql::each(connection_->db, QString("SELECT 1 FROM %1 WHERE aside_day < ? LIMIT 1").arg(table),
                          {today - month}, "What was put aside", nullptr, [&](sql::Row&) { any = true; });
            !ok)
            return ok;
        if (!any)
            continue;
        const auto gone = together([&]() -> Result<void> {
            auto ok = sql::run(connection_->db, QString("DELETE FROM %1 WHERE aside_day < ?").arg(table),
                               {today - month});
            return ok ? Result<void>{} : tl::unexpected(ok.error());
        });
        if (!gone)
            return gone;
    }
    return {};
}

Roster::~Roster() = default;

Roster::Connection::~Connection() {
    db.close();
    db = {};
    QSqlDatabase::removeDatabase(name);
}

Result<qint64> Roster::newestChange() const {
    qint64 newest = 0;
    if (auto ok = sql::each(connection_->db, "SELECT seq FROM sqlite_sequence WHERE name='change'", {},
                            "Changes", nullptr, [&](sql::Row& row) { newest = row.id(0); });
        !ok)
        return tl::unexpected(ok.error());
    return newest;
}

Result<bool> Roster::othersWrote(qint64& seen) const {
    const auto newest = newestChange();
    if (!newest)
        return tl::unexpected(newest.error());
    bool others = false;
    qint64 first = *newest + 1;
    if (auto ok = sql::each(connection_->db,
                            "SELECT coalesce(min(number), 0), sum(writer<>? AND number>?) FROM change",
                            {writer_, seen}, "Changes", nullptr,
                            [&](sql::Row& row) {
                                first = row.id(0);
                                others = row.id(1) > 0;
                            });
        !ok)
        return tl::unexpected(ok.error());
    // What was counted so long ago that it is no longer listed may have been anybody's.
    others = others || (first > seen + 1 && *newest > seen);
    seen = *newest;
    return others;
}

Damage Roster::examineFile() const {
    Damage damage;
    const QString file = "The file " + QFileInfo(path_).fileName();
    QSqlQuery query(connection_->db);
    query.setForwardOnly(true);
    if (!query.exec("PRAGMA integrity_check(5)"))
        damage.add(file + ": can't be read through");
    while (query.next())
        if (const QString found = query.value(0).toString(); found != "ok")
            damage.add(file + ": " + found.simplified());
    if (query.lastError().isValid())
        damage.add(file + ": can't be read through");
    if (!query.exec("PRAGMA foreign_key_check"))
        damage.add(file + ": can't be read through");
    int orphans = 0;
    while (query.next())
        ++orphans;
    if (orphans > 0)
        damage.add(
            QString("%1: %2 rows belong to a rider, season or ride that is gone").arg(file).arg(orphans));
    return damage;
}

Result<void> Roster::together(const std::function<Result<void>()>& body) {
    const QSqlDatabase& db = connection_->db;
    if (depth_ > 0) {
        ++depth_;
        Result<void> ok = body();
        --depth_;
        if (!ok && !refusal_)
            refusal_ = ok.error();
        return ok;
    }
    if (readOnly_)
        return refuse("The roster can't be written: the file or its folder is read-only.");
    refusal_.reset();
    if (auto ok = sql::run(db, "BEGIN IMMEDIATE"); !ok)
        return tl::unexpected(ok.error());
    depth_ = 1;
    Result<void> ok = body();
    depth_ = 0;
    if (ok && refusal_)
        ok = tl::unexpected(*refusal_);
    const auto finish = [&]() -> Result<void> {
        constexpr int listed = 1000; // so many changes are told from another window's
        if (auto counted = sql::run(db, "INSERT INTO change(writer) VALUES(?)", {writer_}); !counted)
            return tl::unexpected(counted.error());
        if (auto old = sql::run(db, "DELETE FROM change WHERE number <= (SELECT max(number) FROM change) - ?",
                                {listed});
            !old)
            return tl::unexpected(old.error());
        auto done = sql::run(db, "COMMIT");
        return done ? Result<void>{} : tl::unexpected(done.error());
    };
    if (ok)
        ok = finish();
    if (!ok)
        (void)sql::run(db, "ROLLBACK");
    return ok;
}

} // namespace marram
