// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"
#include "store/sql.h"
#include "wording/wording.h"
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

/// Columns that hold small lists and objects as JSON.
namespace marram {

inline QString compactText(const QJsonArray& a) {
    return QString::fromUtf8(QJsonDocument(a).toJson(QJsonDocument::Compact));
}
inline QString compactText(const QJsonObject& o) {
    return QString::fromUtf8(QJsonDocument(o).toJson(QJsonDocument::Compact));
}

inline QJsonArray arrayIn(sql::Row& row, int column) {
    const auto json = QJsonDocument::fromJson(row.bytes(column));
    if (!json.isArray())
        row.fail(column, marked("is no list"));
    return json.array();
}
inline QJsonObject objectIn(sql::Row& row, int column) {
    const auto json = QJsonDocument::fromJson(row.bytes(column));
    if (!json.isObject())
        row.fail(column, marked("is no object"));
    return json.object();
}
inline Date dayFrom(sql::Row& row, int column, const QJsonValue& value) {
    const double days = value.toDouble(-1e9);
    if (days >= fromCivil(1900, 1, 1).days && days <= fromCivil(2199, 12, 31).days)
        return {static_cast<int>(days)};
    row.fail(column, marked("holds a day that can't be"));
    return {};
}

inline QString hoursText(const WeekHours& hours) {
    QJsonArray list;
    for (const double h : hours)
        list.append(h);
    return compactText(list);
}
inline WeekHours hoursFrom(sql::Row& row, int column) {
    WeekHours hours{};
    const QJsonArray list = arrayIn(row, column);
    for (int i = 0; i < 7; ++i) {
        const double h = list[i].toDouble(-1);
        if (h < 0 || h > 24)
            row.fail(column, marked("holds hours that can't be"));
        else
            hours[static_cast<size_t>(i)] = h;
    }
    return hours;
}

} // namespace marram
