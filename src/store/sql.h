// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "records/damage.h"
#include "wording/wording.h"
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QSqlRecord>
#include <QVariant>
#include <algorithm>
#include <cmath>
#include <optional>

/// Statements on a roster file whose every failure is seen: one that begins, one that ends, and a row that
/// holds what can't be.
namespace marram::sql {

/// Why a statement failed, as a sentence with what to do.
tl::unexpected<Problem> failure(const QSqlError& error);

/// True where a failure says that the file itself is broken, and not the disk, the folder or another
/// programme.
bool isDamage(const QSqlError& error);

/// Begins a transaction that writes, or says that another connection is writing just now.
enum class Begun { Yes, Busy, Failed };
Begun begin(const QSqlDatabase& db);

/// Prepares, binds in order and runs one statement. For statements that give no rows.
Result<QSqlQuery> run(const QSqlDatabase& db, const QString& text, const QVariantList& values = {});

/// Puts a row into a table, in place of the one of the same key. The one statement that another database says
/// differently.
Result<QSqlQuery> put(const QSqlDatabase& db, const QString& table, const QVariantList& values);

/// A question mark for each of the columns a statement lists.
inline QString marksFor(const QString& columns) {
    return QString("?,").repeated(columns.count(',')) + "?";
}
/// Puts a row in under its id, or in place of what the columns of that id held; an id of 0 is given by the
/// database.
Result<QSqlQuery> putById(const QSqlDatabase& db, const QString& table, qint64 id, const QString& columns,
                          const QVariantList& values);

/// One row, read with care: what is out of range is remembered with its column, and gives a harmless value.
class Row {
public:
    explicit Row(const QSqlQuery& query) : query_(query) {}

    bool isNull(int column) const { return query_.isNull(column); }
    qint64 id(int column) const { return query_.value(column).toLongLong(); }
    int whole(int column, int least, int most) { return static_cast<int>(number(column, least, most)); }
    double number(int column, double least, double most) {
        const QVariant value = query_.value(column);
        bool ok = false;
        const double v = value.toDouble(&ok);
        if (!ok || !std::isfinite(v) || v < least || v > most)
            fail(column, wording("is not between %1 and %2", QString::number(least), QString::number(most)));
        return ok && std::isfinite(v) ? std::clamp(v, least, most) : least;
    }
    std::optional<double> numberOrNull(int column, double least, double most) {
        return isNull(column) ? std::nullopt : std::optional(number(column, least, most));
    }
    /// A day of the years 1900 to 2199.
    Date day(int column) { return {whole(column, fromCivil(1900, 1, 1).days, fromCivil(2199, 12, 31).days)}; }
    bool flag(int column) { return whole(column, 0, 1) != 0; }
    template <class Enum>
    Enum oneOf(int column, Enum last) {
        return static_cast<Enum>(whole(column, 0, static_cast<int>(last)));
    }
    QString text(int column) { return query_.value(column).toString(); }
    QByteArray bytes(int column) { return query_.value(column).toByteArray(); }
    void fail(int column, const char* english) { fail(column, wording(english)); }
    void fail(int column, const QString& wrong) {
        if (wrong_.isEmpty())
            wrong_ = QString::fromLatin1(query_.record().fieldName(column).toLatin1()) + " " + wrong;
    }
    /// The same where the column is known by name.
    void failNamed(const char* column, const char* english) {
        if (wrong_.isEmpty())
            wrong_ = QString::fromLatin1(column) + " " + wording(english);
    }
    /// What is wrong with the row; empty where nothing is.
    const QString& wrong() const { return wrong_; }

private:
    const QSqlQuery& query_;
    QString wrong_;
};

/// Runs a query and gives `take` every row. With `damage`, rows that can't be are left out and named there as
/// `what`, and so is an end before the last row; without, both are refused.
template <class Take>
Result<void> each(const QSqlDatabase& db, const QString& text, const QVariantList& values,
                  const QString& what, Damage* damage, Take take) {
    const auto give = [&](const QSqlError& error) -> Result<void> {
        if (!damage || !isDamage(error))
            return failure(error);
        damage->add(wording("%1: can't all be read", what));
        return {};
    };
    QSqlQuery query(db);
    query.setForwardOnly(true);
    if (!query.prepare(text))
        return give(query.lastError());
    for (const QVariant& v : values)
        query.addBindValue(v);
    if (!query.exec())
        return give(query.lastError());
    while (query.next()) {
        Row row(query);
        take(row);
        if (row.wrong().isEmpty())
            continue;
        const QString sentence = wording("%1: a row can't be right, %2", what, row.wrong());
        if (!damage)
            return refuse(sentence.toStdString());
        damage->add(sentence);
    }
    // A query also ends when the file can't be read on.
    if (query.lastError().isValid())
        return give(query.lastError());
    return {};
}

template <class T>
QVariant orNull(const std::optional<T>& v) {
    return v ? QVariant(*v) : QVariant();
}

/// Adds the columns of one field ("" none, "from_day, to_day" two), each behind `of`, where `which` takes
/// them.
void addColumns(QStringList& to, const char* names, const QString& of, bool (*which)(const QString& column));

} // namespace marram::sql
