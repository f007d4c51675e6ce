// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/files/files.h"
#include "store/backup.h"
#include "store/beside.h"
#include "store/connection.h"
#include "store/schema.h"
#include "store/seals.h"
#include "wording/wording.h"

#include <QDate>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QRandomGenerator>
#include <QUrl>
#include <QUuid>
#include <map>
#include <mutex>
#include <sys/stat.h>
#include <thread>
#include <utility>

namespace marram {
namespace {

constexpr int patience = 5000;            // ms that a lock of others is waited for
constexpr int applicationId = 0x4D52414D; // "MRAM"

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

/// While it lives, what another programme has locked is an answer at once instead of a wait.
class AtOnce {
public:
    explicit AtOnce(const QSqlDatabase& db) : db_(db) { wait(0); }
    ~AtOnce() { wait(patience); }
    AtOnce(const AtOnce&) = delete;
    AtOnce& operator=(const AtOnce&) = delete;

private:
    void wait(int ms) const { QSqlQuery(db_).exec(QString("PRAGMA busy_timeout=%1").arg(ms)); }
    QSqlDatabase db_;
};

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
        db.setConnectOptions(QString("QSQLITE_BUSY_TIMEOUT=%1").arg(patience));
    } else {
        // Where nothing is waiting to be taken over, nobody writes: the file can be read without companions,
        // which a folder that can't be written has no room for.
        const bool quiet = QFileInfo(path + "-wal").size() == 0;
        db.setDatabaseName(uriOf(path) + (quiet ? "?immutable=1" : ""));
        db.setConnectOptions(
            QString("QSQLITE_OPEN_URI;QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=%1").arg(patience));
    }
    if (!db.open())
        return refuse(phrase("%1: can't be opened (%2)", path.toStdString(),
                             db.lastError().databaseText().toStdString()));
    return roster;
}

Result<std::unique_ptr<Roster>> Roster::create(const QString& path, Writer writer) {
    const std::string name = path.toStdString();
    if (QFile::exists(path))
        return refuse(phrase("%1: exists already; choose another name", name));
    if (!QFileInfo(QFileInfo(path).absolutePath()).isDir())
        return refuse(phrase("%1: its folder does not exist", name));
    // Made empty and private first, so that no byte of it is ever readable by others.
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly | QIODevice::NewOnly, QFile::ReadOwner | QFile::WriteOwner))
        return refuse(phrase("%1: can't be written (%2)", name, file.errorString().toStdString()));
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

namespace {

/// That something lies there which can be read as a file.
Result<void> readable(const QFileInfo& info, const std::string& name, bool fresh) {
    if (!info.exists())
        return refuse(phrase("%1: does not exist", name));
    if (info.isDir())
        return refuse(phrase("%1: is a folder; a roster is a file", name));
    if (!info.isFile())
        return refuse(phrase("%1: is a pipe or a device; a roster is a file", name));
    if (!info.isReadable())
        return refuse(phrase("%1: can't be read; its owner has to allow it", name));
    if (info.size() == 0 && !fresh)
        return refuse(phrase("%1: is empty, so it holds no roster; restore it from a copy, or make a new one "
                             "under another name",
                             name));
    return {};
}

} // namespace

/// Whether a file is that of every other connection of a writer.
bool Roster::isThatOf(Writer writer, const std::optional<Identity>& identity) {
    static std::mutex mutex;
    static std::map<Writer, Identity> known;
    const std::lock_guard lock(mutex);
    const auto [first, fresh_] = known.try_emplace(writer, identity.value_or(Identity{}));
    return fresh_ || !identity || first->second == *identity;
}

static bool beginsAsDatabase(const QString& path) {
    QFile bytes(path);
    return bytes.open(QIODevice::ReadOnly) && bytes.read(16) == QByteArray("SQLite format 3\0", 16);
}

Result<void> Roster::makeReady(bool fresh) {
    for (const char* setting :
         {"PRAGMA journal_mode=WAL", "PRAGMA synchronous=FULL", "PRAGMA foreign_keys=ON"})
        if (auto ok = sql::run(connection_->db, setting); !ok)
            return tl::unexpected(ok.error());
    if (auto ok = upgrade(fresh); !ok)
        return ok;
    return whether(seals::watch(connection_->db));
}

Result<std::unique_ptr<Roster>> Roster::opened(const QString& path, Writer writer, bool fresh) {
    const std::string name = path.toStdString();
    const QFileInfo info(path);
    if (auto ok = readable(info, name, fresh); !ok)
        return tl::unexpected(ok.error());
    const bool writable = info.isWritable() && QFileInfo(info.absolutePath()).isWritable();
    auto roster = connect(path, writer, !writable);
    if (!roster)
        return roster;
    const QSqlDatabase& db = (*roster)->connection_->db;
    const auto ofFile = [&](const Problem& why) { return refuse(phrase("%1: %2", name, why.sentence)); };
    const auto notRoster = [&] {
        return refuse(phrase(
            "%1: is not a roster of Marram, or its beginning is damaged; restore it from a copy", name));
    };
    if (!fresh && !beginsAsDatabase(path))
        return notRoster();
    const auto id = pragma(db, "application_id"), version = pragma(db, "user_version");
    if (!id)
        return ofFile(id.error());
    if (!version)
        return ofFile(version.error());
    if (!fresh && *id != applicationId)
        return notRoster();
    if (*version > schemaVersion)
        return refuse(phrase("%1: was written by a newer Marram; update Marram to open it", name));
    if (!writable && *version < schemaVersion)
        return refuse(phrase("%1: was written by an older Marram and is read-only, so it can't be brought up "
                             "to date; make it writable, or open a copy",
                             name));
    if (auto ok = sql::run(db, "PRAGMA cell_size_check=ON"); !ok)
        return ofFile(ok.error());
    sweepAside(info.absolutePath());
    if (writable) {
        if (auto ok = (*roster)->makeReady(fresh); !ok)
            return ofFile(ok.error());
        keepPrivate(path);
        // Tidying may wait; a roster that can't be tidied can still be read.
        (void)(*roster)->dropLongAside();
    }
    // Every connection of one writer is to one file: what was put in its place meanwhile is another.
    (*roster)->identity_ = identityOf(path);
    (*roster)->newest_ = (*roster)->newestChange().value_or(0);
    (*roster)->looked_ = QFileInfo(path).lastModified().toMSecsSinceEpoch();
    if (!isThatOf(writer, (*roster)->identity_))
        return refuse(phrase("%1: was moved, removed or replaced while it was open; nothing was written to "
                             "what lies there now",
                             name));
    return roster;
}

std::optional<Roster::Identity> Roster::identityOf(const QString& path) {
    struct stat info {};
    if (::stat(QFile::encodeName(path).constData(), &info) != 0)
        return std::nullopt;
    return Identity{static_cast<quint64>(info.st_dev), static_cast<quint64>(info.st_ino)};
}

Result<void> Roster::stillOurs() const {
    const auto now = identityOf(path_);
    const std::string name = path_.toStdString();
    if (!now)
        return refuse(phrase("%1: was moved or removed while it was open. Nothing was written", name));
    if (identity_ && *now != *identity_)
        return refuse(phrase(
            "%1: another file was put in its place while it was open. Nothing was written to it", name));
    const qint64 when = QFileInfo(path_).lastModified().toMSecsSinceEpoch();
    if (when == looked_)
        return {};
    // Somebody wrote to it. Windows of Marram only ever add changes: fewer of them mean another content.
    const auto fresh = connect(path_, newWriter(), true);
    if (!fresh)
        return tl::unexpected(fresh.error());
    const auto newest = (*fresh)->newestChange();
    if (!newest || *newest < newest_)
        return refuse(phrase("%1: its content was replaced while it was open, by an older copy it seems. "
                             "Nothing was written to it; open it again to see what it holds now",
                             name));
    looked_ = when;
    newest_ = *newest;
    return {};
}

Result<void> Roster::copyTo(const QString& path) const {
    return makeAside(path, [&](const QString& aside) -> Result<void> {
        auto ok = sql::run(connection_->db, "VACUUM INTO ?", {aside});
        if (!ok)
            return tl::unexpected(ok.error());
        keepPrivate(aside);
        return {};
    });
}

bool Roster::claim() {
    if (readOnly_ || claimed_ || depth_ > 0)
        return true;
    const AtOnce now(connection_->db);
    const auto begun = sql::begin(connection_->db);
    claimed_ = begun == sql::Begun::Yes;
    return begun != sql::Begun::Busy;
}

void Roster::letGo() {
    if (std::exchange(claimed_, false))
        (void)sql::run(connection_->db, "ROLLBACK");
}

void Roster::settle() {
    if (readOnly_ || claimed_ || depth_ > 0 || QFileInfo(path_ + "-wal").size() == 0)
        return;
    const AtOnce now(connection_->db);
    QSqlQuery query(connection_->db);
    query.exec("PRAGMA wal_checkpoint(TRUNCATE)"); // busy is an answer too
    looked_ = QFileInfo(path_).lastModified().toMSecsSinceEpoch();
}

Damage Roster::checkSeals(const std::function<bool()>& going) const {
    Damage damage;
    if (auto ok = seals::check(connection_->db, damage, going); !ok)
        damage.add(QString::fromStdString(ok.error().sentence));
    return damage;
}

Result<void> Roster::keepBeforeUpgrade(int version) const {
    const QString folder = copiesFolder(path_);
    if (auto ok = makeFolder(folder); !ok)
        return ok;
    const QDate now = QDate::currentDate();
    const QString to =
        QString("%1/%2 before version %3.marram").arg(folder, now.toString(Qt::ISODate)).arg(version);
    if (QFile::exists(to))
        return {};
    auto kept = copyTo(to);
    // Another window may be bringing it up to date at the same moment: its copy is as good.
    return kept || QFile::exists(to) ? Result<void>{} : kept;
}

Result<void> Roster::upgrade(bool fresh) {
    const auto before = pragma(connection_->db, "user_version");
    if (!before)
        return tl::unexpected(before.error());
    if (*before == schemaVersion)
        return {};
    const QSqlDatabase& db = connection_->db;
    if (!fresh && *before > 0)
        if (auto ok = keepBeforeUpgrade(schemaVersion); !ok)
            return refuse(phrase(
                "is of an older Marram, and a copy could not be kept before bringing it up to date: %1",
                ok.error().sentence));
    if (auto ok = sql::run(db, "BEGIN IMMEDIATE"); !ok)
        return tl::unexpected(ok.error());
    const auto work = [&]() -> Result<void> {
        // Looked at again now that nobody else can be bringing it up to date.
        auto version = pragma(db, "user_version");
        if (!version)
            return tl::unexpected(version.error());
        if (*version == 0 && !fresh)
            return refuse(phrase("is damaged at its beginning; restore it from a copy"));
        if (*version == schemaVersion) { // another window has done it meanwhile
            auto done = sql::run(db, "COMMIT");
            return whether(done);
        }
        for (; *version < schemaVersion; ++*version)
            for (const QString& statement : schemaStep(*version))
                if (auto ok = sql::run(db, statement); !ok)
                    return tl::unexpected(ok.error());
        if (auto ok = seals::all(db); !ok)
            return ok;
        for (const QString& mark : {QString("PRAGMA application_id=%1").arg(applicationId),
                                    QString("PRAGMA user_version=%1").arg(schemaVersion)})
            if (auto ok = sql::run(db, mark); !ok)
                return tl::unexpected(ok.error());
        auto done = sql::run(db, "COMMIT");
        return whether(done);
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
        if (auto ok = sql::each(
                connection_->db, QString("SELECT 1 FROM %1 WHERE aside_day < ? LIMIT 1").arg(table),
                {today - month}, wording("What was put aside"), nullptr, [&](sql::Row&) { any = true; });
            !ok)
            return ok;
        if (!any)
            continue;
        auto gone = together([&]() -> Result<void> {
            auto ok = sql::run(connection_->db, QString("DELETE FROM %1 WHERE aside_day < ?").arg(table),
                               {today - month});
            return whether(ok);
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
                            wording("Changes"), nullptr, [&](sql::Row& row) { newest = row.id(0); });
        !ok)
        return tl::unexpected(ok.error());
    newest_ = std::max(newest_, newest);
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
                            {writer_, seen}, wording("Changes"), nullptr,
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
    const QString file = wording("The file %1", QFileInfo(path_).fileName());
    QSqlQuery query(connection_->db);
    query.setForwardOnly(true);
    if (!query.exec("PRAGMA integrity_check(5)"))
        damage.add(wording("%1: can't be read through", file));
    while (query.next())
        if (const QString found = query.value(0).toString(); found != "ok")
            damage.add(wording("%1: %2", file, found.simplified()));
    if (query.lastError().isValid())
        damage.add(wording("%1: can't be read through", file));
    if (!query.exec("PRAGMA foreign_key_check"))
        damage.add(wording("%1: can't be read through", file));
    int orphans = 0;
    while (query.next())
        ++orphans;
    if (orphans > 0)
        damage.add(wording("%1: %2 rows belong to a rider, season or ride that is gone", file, orphans));
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
        return refuse(phrase("The roster can't be written: the file or its folder is read-only."));
    if (auto ok = stillOurs(); !ok)
        return ok;
    refusal_.reset();
    while (going_ && !claim()) {
        if (!going_())
            return refuse(phrase("Another programme is writing to the roster; try again in a moment."));
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    if (!std::exchange(claimed_, false))
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
        if (auto renewed = seals::renew(db); !renewed)
            return renewed;
        auto done = sql::run(db, "COMMIT");
        return whether(done);
    };
    if (ok)
        ok = finish();
    if (!ok)
        (void)sql::run(db, "ROLLBACK");
    return ok;
}

} // namespace marram
