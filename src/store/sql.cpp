// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sql.h"
#include "core/words/phrase.h"
#include "wording/wording.h"

namespace marram::sql {
namespace {

/// Result codes of SQLite, sqlite.org/rescode.html; the low byte is the kind.
enum Code {
    Error = 1,
    Busy = 5,
    Locked = 6,
    ReadOnly = 8,
    IoError = 10,
    Corrupt = 11,
    Full = 13,
    CantOpen = 14,
    Constraint = 19,
    NotADatabase = 26
};

int kindOf(const QSqlError& error) {
    return error.nativeErrorCode().toInt() & 0xFF;
}

} // namespace

tl::unexpected<Problem> failure(const QSqlError& error) {
    switch (kindOf(error)) {
    case Busy:
    case Locked:
        return refuse(phrase("Another programme is writing to the roster; try again in a moment."));
    case ReadOnly:
        return refuse(phrase("The roster can't be written: the file or its folder is read-only."));
    case Full:
        return refuse(phrase("The disk is full; free some space and try again."));
    case IoError:
        return refuse(phrase("The disk can't be read or written (%1); is it full, or the drive gone?",
                             error.databaseText().toStdString()));
    case Corrupt:
    case NotADatabase:
        return refuse(phrase("The roster is damaged here; Save what is whole keeps what can still be read."));
    case CantOpen:
        return refuse(phrase(
            "%1", phrase("The roster can't be opened: its folder can't be written, or the disk is full.")));
    default:
        break;
    }
    return refuse(phrase("The roster could not be used: %1.", error.databaseText().toStdString()));
}

bool isDamage(const QSqlError& error) {
    const int kind = kindOf(error);
    // A table that is not there, in a file with the mark of a roster, has been lost.
    return kind == Corrupt || kind == NotADatabase ||
           (kind == Error && error.databaseText().contains("no such"));
}

Begun begin(const QSqlDatabase& db) {
    QSqlQuery query(db);
    if (query.exec("BEGIN IMMEDIATE"))
        return Begun::Yes;
    const int kind = kindOf(query.lastError());
    return kind == Busy || kind == Locked ? Begun::Busy : Begun::Failed;
}

Result<QSqlQuery> run(const QSqlDatabase& db, const QString& text, const QVariantList& values) {
    QSqlQuery query(db);
    query.setForwardOnly(true);
    if (!query.prepare(text))
        return failure(query.lastError());
    for (const QVariant& v : values)
        query.addBindValue(v);
    if (!query.exec())
        return failure(query.lastError());
    return query;
}

Result<QSqlQuery> put(const QSqlDatabase& db, const QString& table, const QVariantList& values) {
    return run(
        db,
        QString("INSERT OR REPLACE INTO %1 VALUES(%2)").arg(table, QStringList(values.size(), "?").join(",")),
        values);
}

Result<QSqlQuery> putById(const QSqlDatabase& db, const QString& table, qint64 id, const QString& columns,
                          const QVariantList& values) {
    QStringList news;
    for (const QString& column : columns.split(", "))
        news << column + "=excluded." + column;
    return run(db,
               QString("INSERT INTO %1(id, %2) VALUES(?,%3) ON CONFLICT(id) DO UPDATE SET %4")
                   .arg(table, columns, marksFor(columns), news.join(", ")),
               QVariantList{id == 0 ? QVariant() : QVariant(id)} + values);
}

void addColumns(QStringList& to, const char* names, const QString& of, bool (*which)(const QString& column)) {
    const QString all = QString::fromLatin1(names);
    if (all.isEmpty() || (which && !which(all)))
        return;
    for (const QString& column : all.split(", "))
        to << of + column;
}

} // namespace marram::sql
