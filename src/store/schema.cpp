// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/roster.h"
#include "store/sql.h"

#include <QDate>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>

namespace marram {
namespace {

constexpr int applicationId = 0x4D52414D; // "MRAM"
constexpr int schemaVersion = 2;

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
    static const QStringList none;
    return fromVersion == 0 ? first : fromVersion == 1 ? second : none;
}

int pragma(const QSqlDatabase& db, const char* name) {
    QSqlQuery query(db);
    return query.exec(QString("PRAGMA %1").arg(name)) && query.next() ? query.value(0).toInt() : -1;
}

/// The file and its companions are for their owner only.
void keepPrivate(const QString& path) {
    for (const char* suffix : {"", "-wal", "-shm"})
        if (QFile::exists(path + suffix))
            QFile::setPermissions(path + suffix, QFile::ReadOwner | QFile::WriteOwner);
}

} // namespace

Result<std::unique_ptr<Roster>> Roster::connect(const QString& path, bool readOnly) {
    std::unique_ptr<Roster> roster(new Roster);
    roster->path_ = path;
    roster->readOnly_ = readOnly;
    roster->connection_ = QUuid::createUuid().toString();
    roster->db_ = QSqlDatabase::addDatabase("QSQLITE", roster->connection_);
    roster->db_.setDatabaseName(path);
    roster->db_.setConnectOptions(readOnly ? "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=5000"
                                           : "QSQLITE_BUSY_TIMEOUT=5000");
    if (!roster->db_.open())
        return refuse(path.toStdString() + ": can't be opened (" +
                      roster->db_.lastError().databaseText().toStdString() + ")");
    return roster;
}

Result<std::unique_ptr<Roster>> Roster::create(const QString& path) {
    const std::string name = path.toStdString();
    if (QFile::exists(path))
        return refuse(name + ": exists already; choose another name");
    const QFileInfo folder(QFileInfo(path).absolutePath());
    if (!folder.isDir())
        return refuse(name + ": its folder does not exist");
    // Made empty and private first, so that no byte of it is ever readable by others.
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly | QIODevice::NewOnly))
        return refuse(name + ": can't be written (" + file.errorString().toStdString() + ")");
    file.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
    file.close();
    return open(path);
}

Result<std::unique_ptr<Roster>> Roster::open(const QString& path) {
    const std::string name = path.toStdString();
    const QFileInfo info(path);
    if (!info.exists())
        return refuse(name + ": does not exist");
    if (info.isDir())
        return refuse(name + ": is a folder; a roster is a file");
    const bool writable = info.isWritable() && QFileInfo(info.absolutePath()).isWritable();
    auto roster = connect(path, !writable);
    if (!roster)
        return roster;
    const QSqlDatabase& db = (*roster)->db_;
    const int id = pragma(db, "application_id"), version = pragma(db, "user_version");
    const bool fresh = info.size() == 0;
    if (!fresh && id != applicationId)
        return refuse(name + ": is not a roster of Marram, or it is damaged; restore it from a copy");
    if (version > schemaVersion)
        return refuse(name + ": was written by a newer Marram; update Marram to open it");
    if (!writable && !fresh && version < schemaVersion)
        return refuse(name +
                      ": was written by an older Marram and is read-only, so it can't be brought up to "
                      "date; make it writable, or open a copy");
    if (writable) {
        for (const char* setting :
             {"PRAGMA journal_mode=WAL", "PRAGMA synchronous=FULL", "PRAGMA foreign_keys=ON"})
            if (auto ok = sql::run(db, setting); !ok)
                return tl::unexpected(ok.error());
        if (auto ok = (*roster)->upgrade(); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = (*roster)->dropLongAside(); !ok)
            return tl::unexpected(ok.error());
        keepPrivate(path);
    }
    if (auto check = sql::run(db, "SELECT count(*) FROM rider"); !check)
        return refuse(name + ": is damaged and can't be read; restore it from a copy");
    return roster;
}

Result<void> Roster::upgrade() {
    int version = pragma(db_, "user_version");
    if (version == schemaVersion)
        return {};
    return together([&]() -> Result<void> {
        for (; version < schemaVersion; ++version)
            for (const QString& statement : step(version))
                if (auto ok = sql::run(db_, statement); !ok)
                    return tl::unexpected(ok.error());
        for (const QString& mark : {QString("PRAGMA application_id=%1").arg(applicationId),
                                    QString("PRAGMA user_version=%1").arg(schemaVersion)})
            if (auto ok = sql::run(db_, mark); !ok)
                return tl::unexpected(ok.error());
        return {};
    });
}

Result<void> Roster::dropLongAside() {
    constexpr int month = 31;
    const qint64 today = QDate(1970, 1, 1).daysTo(QDate::currentDate());
    // Looking first: writing without need would wake every other window.
    auto any = sql::run(db_, "SELECT 1 FROM ride WHERE aside_day < ? LIMIT 1", {today - month});
    if (!any)
        return tl::unexpected(any.error());
    if (!any->next())
        return {};
    return together([&]() -> Result<void> {
        auto ok = sql::run(db_, "DELETE FROM ride WHERE aside_day < ?", {today - month});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Roster::~Roster() {
    db_.close();
    db_ = {};
    QSqlDatabase::removeDatabase(connection_);
}

int Roster::foreignChanges() const {
    return pragma(db_, "data_version");
}

Result<void> Roster::begin() {
    if (depth_++ > 0)
        return {};
    failed_ = false;
    if (auto ok = sql::run(db_, "BEGIN IMMEDIATE"); !ok) {
        depth_ = 0;
        return tl::unexpected(ok.error());
    }
    return {};
}

Result<void> Roster::commit() {
    if (--depth_ > 0)
        return {};
    auto ok = sql::run(db_, failed_ ? "ROLLBACK" : "COMMIT");
    if (!ok) {
        const auto problem = ok.error();
        (void)sql::run(db_, "ROLLBACK");
        return tl::unexpected(problem);
    }
    return {};
}

void Roster::rollBack() {
    if (--depth_ > 0) {
        failed_ = true;
        return;
    }
    (void)sql::run(db_, "ROLLBACK");
}

} // namespace marram
