// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/beside.h"
#include "core/words/phrase.h"
#include "store/connection.h"
#include "wording/wording.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>

namespace marram {
namespace {

constexpr int batch = 64; ///< recordings a step: some ten megabytes

} // namespace

QString BesideFile::pathOf(const QString& roster) {
    const QFileInfo info(roster);
    return QDir(info.absolutePath()).filePath(info.completeBaseName() + " recordings.marram-recordings");
}

Result<std::unique_ptr<BesideFile>> BesideFile::connect(const QString& path, bool writable) {
    std::unique_ptr<BesideFile> file(new BesideFile);
    file->path_ = path;
    file->name_ = QUuid::createUuid().toString();
    file->db_ = QSqlDatabase::addDatabase("QSQLITE", file->name_);
    file->db_.setDatabaseName(path);
    file->db_.setConnectOptions(writable ? "QSQLITE_BUSY_TIMEOUT=5000"
                                         : "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=5000");
    if (!file->db_.open())
        return refuse(phrase("%1: can't be opened (%2)", path.toStdString(),
                             file->db_.lastError().databaseText().toStdString()));
    return file;
}

Result<std::unique_ptr<BesideFile>> BesideFile::open(const QString& path) {
    if (!QFile::exists(path))
        return refuse(phrase("%1: does not exist", path.toStdString()));
    // Who was killed while moving left a step half-written: whoever may write takes it back when reading.
    auto file =
        connect(path, QFileInfo(path).isWritable() && QFileInfo(QFileInfo(path).absolutePath()).isWritable());
    if (!file)
        return file;
    bool holds = false;
    if (auto ok = sql::each((*file)->db_, "SELECT 1 FROM sqlite_master WHERE name='recording'", {},
                            wording("Recordings"), nullptr, [&](sql::Row&) { holds = true; });
        !ok || !holds)
        return refuse(phrase("%1: is no file of recordings, or is damaged", path.toStdString()));
    return file;
}

Result<std::unique_ptr<BesideFile>> BesideFile::forWriting(const QString& path) {
    if (!QFile::exists(path)) { // private from its first byte
        QFile fresh(path);
        if (!fresh.open(QIODevice::WriteOnly | QIODevice::NewOnly, QFile::ReadOwner | QFile::WriteOwner))
            return refuse(
                phrase("%1: can't be written (%2)", path.toStdString(), fresh.errorString().toStdString()));
    }
    auto file = connect(path, true);
    if (!file)
        return file;
    for (const char* statement :
         {"PRAGMA synchronous=FULL",
          "CREATE TABLE IF NOT EXISTS recording(content_sha256 BLOB PRIMARY KEY, bytes BLOB NOT NULL)"})
        if (auto ok = sql::run((*file)->db_, statement); !ok)
            return refuse(phrase("%1: %2", path.toStdString(), ok.error().sentence));
    return file;
}

BesideFile::~BesideFile() {
    db_.close();
    db_ = {};
    QSqlDatabase::removeDatabase(name_);
}

Result<std::optional<QByteArray>> BesideFile::packed(const QByteArray& hash) const {
    std::optional<QByteArray> bytes;
    if (auto ok = sql::each(db_, "SELECT bytes FROM recording WHERE content_sha256=?", {hash},
                            wording("Recordings"), nullptr, [&](sql::Row& row) { bytes = row.bytes(0); });
        !ok)
        return refuse(phrase("%1: %2", path_.toStdString(), ok.error().sentence));
    return bytes;
}

Result<void> BesideFile::put(const std::vector<Entry>& entries) {
    if (!db_.transaction())
        return refuse(phrase("%1: can't be written (%2)", path_.toStdString(),
                             db_.lastError().databaseText().toStdString()));
    for (const Entry& e : entries)
        if (auto ok =
                sql::run(db_, "INSERT INTO recording VALUES(?,?) ON CONFLICT(content_sha256) DO NOTHING",
                         {e.hash, e.packed});
            !ok) {
            db_.rollback();
            return refuse(phrase("%1: %2", path_.toStdString(), ok.error().sentence));
        }
    if (!db_.commit()) {
        const std::string why = db_.lastError().databaseText().toStdString();
        db_.rollback();
        return refuse(phrase("%1: can't be written (%2)", path_.toStdString(), why));
    }
    return {};
}

Result<int> Roster::countRecordings(Date before) const {
    int count = 0;
    if (auto ok = sql::each(connection_->db,
                            "SELECT count(*) FROM ride JOIN original ON original.ride=ride.id WHERE day<?",
                            {before.days}, wording("Recordings"), nullptr,
                            [&](sql::Row& row) { count = static_cast<int>(row.number(0, 0, 1e9)); });
        !ok)
        return tl::unexpected(ok.error());
    return count;
}

namespace {

/// That a file gives back what was put into it.
Result<void> holds(BesideFile& beside, const std::vector<BesideFile::Entry>& entries, const QString& path) {
    for (const BesideFile::Entry& e : entries) {
        const auto there = beside.packed(e.hash);
        if (!there)
            return tl::unexpected(there.error());
        // Another ride may have brought the same content packed otherwise.
        if (!*there || qUncompress(**there) != qUncompress(e.packed))
            return refuse(
                phrase("%1: does not hold what was put into it; nothing more was moved", path.toStdString()));
    }
    return {};
}

} // namespace

static Result<void> removeOriginals(const QSqlDatabase& db, const std::vector<qint64>& rides) {
    for (const qint64 ride : rides)
        if (auto gone = sql::run(db, "DELETE FROM original WHERE ride=?", {ride}); !gone)
            return tl::unexpected(gone.error());
    return {};
}

Result<int> Roster::moveRecordingsBeside(Date before, const std::function<bool(int, int)>& progress) {
    if (readOnly_)
        return refuse(phrase("%1: is read-only here", path_.toStdString()));
    auto total = countRecordings(before);
    if (!total || *total == 0)
        return total;
    const QString to = BesideFile::pathOf(path_);
    const auto beside = BesideFile::forWriting(to);
    if (!beside)
        return tl::unexpected(beside.error());
    if (auto ok = together([&] { return whether(sql::put(connection_->db, "beside", {to})); }); !ok)
        return tl::unexpected(ok.error());
    int moved = 0;
    while (moved < *total) {
        if (progress && !progress(moved, *total))
            return moved; // what has moved has moved
        std::vector<BesideFile::Entry> entries;
        std::vector<qint64> rides;
        if (auto ok = sql::each(connection_->db,
                                "SELECT ride.id, content_sha256, bytes FROM ride JOIN original ON "
                                "original.ride=ride.id WHERE day<? ORDER BY ride.id LIMIT ?",
                                {before.days, batch}, wording("Recordings"), nullptr,
                                [&](sql::Row& row) {
                                    rides.push_back(row.id(0));
                                    entries.push_back({row.bytes(1), row.bytes(2)});
                                });
            !ok)
            return tl::unexpected(ok.error());
        if (rides.empty())
            break;
        // On disk there, and read back, before it goes here.
        if (auto ok = (*beside)->put(entries); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = holds(**beside, entries, to); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = together([&] { return removeOriginals(connection_->db, rides); }); !ok)
            return tl::unexpected(ok.error());
        moved += static_cast<int>(rides.size());
    }
    if (progress)
        progress(moved, *total);
    // The room is given back to the disk; where another window is at it, it is used again by what comes.
    (void)sql::run(connection_->db, "VACUUM");
    return moved;
}

Result<std::optional<QByteArray>> Roster::packedBeside(const QByteArray& hash, QString& looked) const {
    std::vector<QString> places;
    if (auto ok = sql::each(connection_->db, "SELECT place FROM beside", {}, wording("Files beside"), nullptr,
                            [&](sql::Row& row) { places.push_back(row.text(0)); });
        !ok)
        return tl::unexpected(ok.error());
    for (const QString& place : places) {
        // A roster that was moved has it beside itself.
        const QString here = QDir(QFileInfo(path_).absolutePath()).filePath(QFileInfo(place).fileName());
        for (const QString& path : {here, place}) {
            looked = place;
            if (!beside_ || besideIs_ != path) {
                auto file = BesideFile::open(path);
                if (!file)
                    continue;
                beside_ = std::move(*file);
                besideIs_ = path;
            }
            auto bytes = beside_->packed(hash);
            if (!bytes || *bytes)
                return bytes;
        }
    }
    return std::optional<QByteArray>();
}

} // namespace marram
