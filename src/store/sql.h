// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QVariant>

namespace marram::sql {

/// Why a statement failed, as a sentence.
inline tl::unexpected<Problem> failure(const QSqlError& error) {
    const QString text = error.databaseText();
    if (text.contains("readonly") || text.contains("read-only"))
        return refuse(
            "The roster can't be written: the file or its folder is read-only. Nothing was changed.");
    if (text.contains("full"))
        return refuse("The disk is full. Nothing was changed; free some space and try again.");
    if (text.contains("locked") || text.contains("busy"))
        return refuse(
            "Another programme is writing to the roster. Nothing was changed; try again in a moment.");
    return refuse("The roster could not be used: " + text.toStdString() + ". Nothing was changed.");
}

/// Prepares, binds in order and runs one statement.
inline Result<QSqlQuery> run(const QSqlDatabase& db, const QString& text, const QVariantList& values = {}) {
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

template <class T>
QVariant orNull(const std::optional<T>& v) {
    return v ? QVariant(*v) : QVariant();
}
inline std::optional<double> optional(const QVariant& v) {
    return v.isNull() ? std::nullopt : std::optional(v.toDouble());
}

} // namespace marram::sql
