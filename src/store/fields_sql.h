// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/words/fields.h"
#include "store/json_columns.h"
#include "store/sql.h"
#include <QStringList>
#include <string>

/// Records read from and put into rows, by their lists of fields.
namespace marram::sql {

/// How a value stands in a row; specialisations add to these.
template <class T>
struct ColumnOf;

template <>
struct ColumnOf<double> {
    static constexpr int width = 1; ///< columns
    static double read(Row& row, int at, Span span) { return row.number(at, span.least, span.most); }
    static void write(QVariantList& to, double v) { to << v; }
};

template <>
struct ColumnOf<int> {
    static constexpr int width = 1;
    static int read(Row& row, int at, Span span) {
        return row.whole(at, static_cast<int>(span.least), static_cast<int>(span.most));
    }
    static void write(QVariantList& to, int v) { to << v; }
};

template <>
struct ColumnOf<bool> {
    static constexpr int width = 1;
    static bool read(Row& row, int at, Span) { return row.flag(at); }
    static void write(QVariantList& to, bool v) { to << v; }
};

// Text and bytes are never null to the database.
template <>
struct ColumnOf<QString> {
    static constexpr int width = 1;
    static QString read(Row& row, int at, Span) { return row.text(at); }
    static void write(QVariantList& to, const QString& v) { to << (v.isNull() ? QString("") : v); }
};

template <>
struct ColumnOf<std::string> {
    static constexpr int width = 1;
    static std::string read(Row& row, int at, Span) { return row.text(at).toStdString(); }
    static void write(QVariantList& to, const std::string& v) {
        to << (v.empty() ? QString("") : QString::fromUtf8(v.data(), static_cast<qsizetype>(v.size())));
    }
};

template <>
struct ColumnOf<QByteArray> {
    static constexpr int width = 1;
    static QByteArray read(Row& row, int at, Span) { return row.bytes(at); }
    static void write(QVariantList& to, const QByteArray& v) { to << (v.isNull() ? QByteArray("") : v); }
};

template <>
struct ColumnOf<QStringList> {
    static constexpr int width = 1;
    static QStringList read(Row& row, int at, Span) {
        QStringList all;
        for (const auto& each : arrayIn(row, at))
            all << each.toString();
        return all;
    }
    static void write(QVariantList& to, const QStringList& v) {
        to << compactText(QJsonArray::fromStringList(v));
    }
};

template <>
struct ColumnOf<Date> {
    static constexpr int width = 1;
    static Date read(Row& row, int at, Span) { return row.day(at); }
    static void write(QVariantList& to, Date v) { to << v.days; }
};

template <>
struct ColumnOf<WeekHours> {
    static constexpr int width = 1;
    static WeekHours read(Row& row, int at, Span) { return hoursFrom(row, at); }
    static void write(QVariantList& to, const WeekHours& v) { to << hoursText(v); }
};

template <>
struct ColumnOf<Gate> {
    static constexpr int width = 2;
    static Gate read(Row& row, int at, Span span) {
        return {row.number(at, span.least, span.most), row.number(at + 1, span.least, span.most)};
    }
    static void write(QVariantList& to, const Gate& v) { to << v.low << v.high; }
};

/// An enumeration by its number.
template <class Enum>
requires std::is_enum_v<Enum>
struct ColumnOf<Enum> {
    static constexpr int width = 1;
    static Enum read(Row& row, int at, Span span) {
        return static_cast<Enum>(row.whole(at, static_cast<int>(span.least), static_cast<int>(span.most)));
    }
    static void write(QVariantList& to, Enum v) { to << static_cast<int>(v); }
};

template <class T>
requires requires {
    sizeof(ColumnOf<T>);
}
struct ColumnOf<std::optional<T>> {
    static constexpr int width = ColumnOf<T>::width;
    static std::optional<T> read(Row& row, int at, Span span) {
        return row.isNull(at) ? std::nullopt : std::optional(ColumnOf<T>::read(row, at, span));
    }
    static void write(QVariantList& to, const std::optional<T>& v) {
        if (v)
            ColumnOf<T>::write(to, *v);
        else
            for (int i = 0; i < width; ++i)
                to << QVariant();
    }
};

template <class T>
struct Inner {
    using Type = T;
};
template <class T>
struct Inner<std::optional<T>> {
    using Type = T;
};
/// Whether rows hold a field under a column of their own.
template <class F>
constexpr bool inRow(const F& field) {
    return field.columnName()[0] != '\0';
}

/// The columns of a record, as a statement lists them, each behind `of` ("p."); those of a column for which
/// `which` is true.
template <Described Record>
QString columnsOf(const QString& of = {}, bool (*which)(const QString& column) = nullptr) {
    QStringList all;
    eachField<Record>([&]<class F>(const F& f) {
        using T = typename Inner<typename F::Value>::Type;
        if constexpr (Described<T>)
            if (f.columnName()[0] == '*') {
                if (!which || which(QStringLiteral("*")))
                    all << columnsOf<T>(of);
                return;
            }
        addColumns(all, f.columnName(), of, which);
    });
    return all.join(", ");
}

/// Whether each field of a record that rows hold has a way.
template <Described Record>
consteval bool allHaveColumns() {
    return FieldsOf<Record>::list([]<class... F>(const F&... f) {
        return ((!inRow(f) || requires { ColumnOf<typename F::Value>::width; }) && ...);
    });
}

/// Reads a record out of the columns from `at` on; the first column behind it.
template <Described Record>
int readRow(Row& row, int at, Record& record) {
    static_assert(allHaveColumns<Record>(), "a field of this record has a column and no way into it");
    eachField<Record>([&](const auto& f) {
        using T = typename std::decay_t<decltype(f)>::Value;
        if constexpr (requires { ColumnOf<T>::width; }) {
            if (!inRow(f))
                return;
            record.*f.at = ColumnOf<T>::read(row, at, f.span);
            at += ColumnOf<T>::width;
        }
    });
    return at;
}

/// The values of a record in the order of columnsOf().
template <Described Record>
QVariantList valuesOf(const Record& record, bool (*which)(const QString& column) = nullptr) {
    QVariantList all;
    eachField<Record>([&](const auto& f) {
        using T = typename std::decay_t<decltype(f)>::Value;
        if constexpr (requires { ColumnOf<T>::width; })
            if (inRow(f) && (!which || which(f.columnName()))) {
                if constexpr (requires(const T& v) { v.isEmpty(); })
                    if (f.emptyIsNull && (record.*f.at).isEmpty()) {
                        all << QVariant();
                        return;
                    }
                ColumnOf<T>::write(all, record.*f.at);
            }
    });
    return all;
}

/// A record within another, by its own columns.
template <Described T>
struct ColumnOf<T> {
    static constexpr int width = FieldsOf<T>::list([]<class... F>(const F&... f) {
        return (0 + ... + (inRow(f) ? ColumnOf<typename F::Value>::width : 0));
    });
    static T read(Row& row, int at, Span) {
        T record;
        (void)readRow(row, at, record);
        return record;
    }
    static void write(QVariantList& to, const T& v) { to << valuesOf(v); }
};

/// Puts a record into a table behind the columns of `keys`, in place of the row of the same key.
template <Described Record>
Result<QSqlQuery> putRecord(const QSqlDatabase& db, const QString& table, const QString& keys,
                            const QVariantList& keyValues, const Record& record) {
    return put(db, QString("%1(%2, %3)").arg(table, keys, columnsOf<Record>()), keyValues + valuesOf(record));
}

/// Reads the records of a table, in the order they come; `judge` may refuse a row and says whether the record
/// is taken.
template <Described Record, class Judge>
Result<std::vector<Record>> records(const QSqlDatabase& db, const QString& table, const QString& of,
                                    const QString& where, const QVariantList& values, const QString& what,
                                    Damage* damage, Judge judge) {
    std::vector<Record> all;
    auto ok = each(db, QString("SELECT %1 FROM %2 WHERE %3").arg(columnsOf<Record>(of), table, where), values,
                   what, damage, [&](Row& row) {
                       Record one;
                       readRow(row, 0, one);
                       if (judge(row, one, all) && row.wrong().isEmpty())
                           all.push_back(std::move(one));
                   });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}
template <Described Record>
Result<std::vector<Record>> records(const QSqlDatabase& db, const QString& table, const QString& where,
                                    const QVariantList& values, const QString& what, Damage* damage) {
    return records<Record>(db, table, {}, where, values, what, damage,
                           [](Row&, const Record&, const std::vector<Record>&) { return true; });
}

} // namespace marram::sql
