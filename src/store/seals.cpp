// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/seals.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <array>
#include <map>

namespace marram::seals {
namespace {

/// A table whose rows carry a digest: what they are to a coach, and which rows belong together.
struct Sealed {
    const char* table;
    const char* words;
    const char* group;            ///< the column that names a group
    const char* then;             ///< a second one, or null
    const char* order;            ///< of the rows in a group
    const char* beside = nullptr; ///< a column that says what is still to be done, and is left out
};
constexpr std::array<Sealed, 21> sealed{
    {{"rider", marked("A rider"), "id", nullptr, "id"},
     {"rider_value", marked("Values of a rider"), "rider", nullptr, "quantity, from_day"},
     {"learned", marked("What was learned of a rider"), "rider", nullptr, "rider"},
     {"season", marked("A season"), "id", nullptr, "id"},
     {"race", marked("Races of a season"), "season", nullptr, "place"},
     {"week_pin", marked("Weeks of a season"), "season", nullptr, "start_day"},
     {"away", marked("Days away in a season"), "season", nullptr, "place"},
     {"session_pin", marked("Sessions of the coach"), "season", nullptr, "day"},
     {"planned_day", marked("Planned days of a season"), "season", nullptr, "day"},
     {"meant_session", marked("Sessions as they were meant"), "season", nullptr, "day"},
     {"outlook", marked("What a season expected"), "season", nullptr, "day, race"},
     {"family", marked("A family of sessions"), "name", nullptr, "name"},
     {"ride", marked("A ride"), "id", nullptr, "id"},
     {"figures", marked("Figures of a ride"), "ride", nullptr, "ride", "stale"},
     {"test_result", marked("A test"), "id", nullptr, "id"},
     {"check_in", marked("A check-in"), "rider", "day", "day"},
     {"letter", marked("The coach's words on a week"), "rider", "week", "week"},
     {"heard", marked("What a record was read for"), "rider", nullptr, "rider"},
     {"proposed", marked("What a record proposes"), "rider", nullptr, "quantity"},
     {"maximal", marked("Maximal efforts of a record"), "rider", nullptr, "ride, seconds"},
     {"noted", marked("Cautions the coach has noted"), "rider", nullptr, "caution"}}};

QString rowName(const Sealed& s, const char* row) {
    const QString first = QString("%1.%2").arg(row, s.group);
    return s.then ? QString("%1||'/'||%2.%3").arg(first, row, s.then) : first;
}

/// The bytes a value counts with: its kind, its length, itself.
void add(QCryptographicHash& hash, const QVariant& value) {
    QByteArray bytes;
    char kind = 'n';
    if (!value.isNull())
        switch (value.typeId()) {
        case QMetaType::LongLong:
        case QMetaType::Int:
            kind = 'i';
            bytes = QByteArray::number(value.toLongLong());
            break;
        case QMetaType::Double: {
            kind = 'd';
            const double v = value.toDouble();
            bytes = QByteArray(reinterpret_cast<const char*>(&v), sizeof v);
            break;
        }
        case QMetaType::QByteArray:
            kind = 'b';
            bytes = value.toByteArray();
            break;
        default:
            kind = 't';
            bytes = value.toString().toUtf8();
        }
    const QByteArray head = kind + QByteArray::number(bytes.size()) + ':';
    hash.addData(head);
    hash.addData(bytes);
}

using Digests = std::map<QString, QByteArray>;

/// The digests of the groups of a table that `where` leaves, by key.
Result<Digests> digests(const QSqlDatabase& db, const Sealed& s, const QString& where,
                        const QVariantList& values) {
    Digests found;
    // Another window may have added columns: the driver must not meet more of them than were prepared for.
    if (auto ok = sql::run(db, "SELECT count(*) FROM sqlite_master"); !ok)
        return tl::unexpected(ok.error());
    QSqlQuery query(db);
    query.setForwardOnly(true);
    query.prepare(QString("SELECT %1, t.* FROM %2 t %3 ORDER BY t.%4, %5")
                      .arg(rowName(s, "t"), s.table, where, s.group, s.order));
    for (const QVariant& v : values)
        query.addBindValue(v);
    if (!query.exec())
        return sql::failure(query.lastError());
    QCryptographicHash hash(QCryptographicHash::Sha256);
    QString key;
    bool any = false;
    const auto close = [&] {
        if (any)
            found[key] = hash.result().left(16);
        hash.reset();
    };
    const int columns = query.record().count();
    const int beside = s.beside ? query.record().indexOf(s.beside) : -1;
    while (query.next()) {
        const QString now = query.value(0).toString();
        if (any && now != key)
            close();
        key = now;
        any = true;
        for (int c = 1; c < columns; ++c)
            if (c != beside)
                add(hash, query.value(c));
    }
    if (query.lastError().isValid())
        return sql::failure(query.lastError());
    close();
    return found;
}

/// Writes digests down, thousands by one statement.
class Writer {
public:
    explicit Writer(const QSqlDatabase& db) : put_(db), drop_(db) {}

    Result<void> put(const Sealed& s, const QString& key, const QByteArray& digest) {
        const bool gone = digest.isEmpty();
        QSqlQuery& query = gone ? drop_ : put_;
        if (query.lastQuery().isEmpty() &&
            !query.prepare(gone ? "DELETE FROM seal WHERE part=? AND key=?"
                                : "INSERT OR REPLACE INTO seal(part, key, digest) VALUES(?,?,?)"))
            return sql::failure(query.lastError());
        query.bindValue(0, QLatin1String(s.table));
        query.bindValue(1, key);
        if (!gone)
            query.bindValue(2, digest);
        return query.exec() ? Result<void>{} : sql::failure(query.lastError());
    }

private:
    QSqlQuery put_, drop_;
};

} // namespace

const char* const schema =
    "CREATE TABLE seal(part TEXT NOT NULL, key TEXT NOT NULL, digest BLOB NOT NULL, PRIMARY "
    "KEY(part, key)) WITHOUT ROWID";

Result<void> watch(const QSqlDatabase& db) {
    if (auto ok = sql::run(db, "CREATE TEMP TABLE touched_group(part TEXT NOT NULL, key TEXT NOT NULL)"); !ok)
        return tl::unexpected(ok.error());
    for (const Sealed& s : sealed) {
        QString update = "UPDATE";
        if (s.beside) { // what it says changes for thousands of rows at once, and no digest with it
            QStringList columns;
            if (auto ok =
                    sql::each(db, "SELECT name FROM pragma_table_info(?) WHERE name<>?", {s.table, s.beside},
                              wording("Digests"), nullptr, [&](sql::Row& row) { columns << row.text(0); });
                !ok)
                return ok;
            update += " OF " + columns.join(", ");
        }
        for (const auto& [what, row] :
             {std::pair{QString("INSERT"), "NEW"}, {QString("DELETE"), "OLD"}, {update, "NEW"}}) {
            const auto ok = sql::run(db, QString("CREATE TEMP TRIGGER %1_%2 AFTER %3 ON main.%1 BEGIN INSERT "
                                                 "INTO touched_group VALUES('%1', %4); END")
                                             .arg(s.table, what.left(6), what, rowName(s, row)));
            if (!ok)
                return tl::unexpected(ok.error());
        }
    }
    return {};
}

Result<void> renew(const QSqlDatabase& db) {
    std::map<QString, QStringList> touched;
    if (auto ok = sql::each(db, "SELECT DISTINCT part, key FROM touched_group", {}, wording("Digests"),
                            nullptr, [&](sql::Row& row) { touched[row.text(0)] << row.text(1); });
        !ok)
        return ok;
    if (touched.empty())
        return {};
    Writer writer(db);
    for (const Sealed& s : sealed) {
        const QStringList keys = touched.contains(s.table) ? touched.at(s.table) : QStringList();
        // Many at once, as where an import is undone, are read in one go.
        constexpr int many = 50;
        std::optional<Digests> together;
        if (keys.size() > many && !s.then) {
            auto now =
                digests(db, s,
                        QString("WHERE CAST(t.%1 AS TEXT) IN (SELECT key FROM touched_group WHERE part=?)")
                            .arg(s.group),
                        {s.table});
            if (!now)
                return tl::unexpected(now.error());
            together = std::move(*now);
        }
        for (const QString& key : keys) {
            if (together) {
                if (auto ok = writer.put(s, key, together->contains(key) ? together->at(key) : QByteArray());
                    !ok)
                    return ok;
                continue;
            }
            const QString first = s.then ? key.section('/', 0, 0) : key;
            QString where = QString("WHERE t.%1=?").arg(s.group);
            QVariantList values{first};
            if (s.then) {
                where += QString(" AND t.%1=?").arg(s.then);
                values << key.section('/', 1);
            }
            const auto now = digests(db, s, where, values);
            if (!now)
                return tl::unexpected(now.error());
            if (auto ok = writer.put(s, key, now->contains(key) ? now->at(key) : QByteArray()); !ok)
                return ok;
        }
    }
    auto ok = sql::run(db, "DELETE FROM touched_group");
    return whether(ok);
}

Result<void> all(const QSqlDatabase& db) {
    Writer writer(db);
    for (const Sealed& s : sealed) {
        const auto now = digests(db, s, {}, {});
        if (!now)
            return tl::unexpected(now.error());
        for (const auto& [key, digest] : *now)
            if (auto ok = writer.put(s, key, digest); !ok)
                return ok;
    }
    return {};
}

Result<void> check(const QSqlDatabase& db, Damage& damage, const std::function<bool()>& going) {
    for (const Sealed& s : sealed) {
        if (going && !going())
            return {};
        Digests written;
        if (auto ok =
                sql::each(db, "SELECT key, digest FROM seal WHERE part=?", {s.table}, wording("Digests"),
                          &damage, [&](sql::Row& row) { written[row.text(0)] = row.bytes(1); });
            !ok)
            return ok;
        const auto now = digests(db, s, {}, {});
        if (!now) {
            damage.add(wording("%1: can't all be read", s.words));
            continue;
        }
        const auto name = [&](const QString& key) {
            return QString("%1 (%2 %3)").arg(wording(s.words), s.table, key);
        };
        for (const auto& [key, digest] : *now)
            if (const auto of = written.find(key); of == written.end())
                damage.add(wording("%1: was not written by Marram", name(key)));
            else if (of->second != digest)
                damage.add(wording("%1: is not what was written; something changed it", name(key)));
        for (const auto& [key, digest] : written)
            if (!now->contains(key))
                damage.add(wording("%1: is missing", name(key)));
    }
    return {};
}

} // namespace marram::seals
