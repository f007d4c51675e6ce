// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/reader.h"

#include <QJsonDocument>
#include <cmath>

namespace marram {

QJsonValue JsonReader::take(const char* key, bool needed) {
    asked_.insert(key);
    const QJsonValue value = object_.value(QLatin1String(key));
    if (needed && value.isUndefined())
        fail(key, "is missing");
    return value;
}

void JsonReader::fail(const char* key, const QString& wrong) {
    if (problem_.isEmpty())
        problem_ = place(key) + ": " + wrong;
}

bool JsonReader::has(const char* key) {
    return !take(key, false).isUndefined();
}

double JsonReader::number(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && (!value.isDouble() || !std::isfinite(value.toDouble())))
        fail(key, "must be a number");
    return value.toDouble();
}

double JsonReader::number(const char* key, double fallback) {
    return has(key) ? number(key) : fallback;
}

int JsonReader::whole(const char* key, int fallback) {
    if (!has(key))
        return fallback;
    const double value = number(key);
    if (value != std::floor(value) || std::abs(value) > 1e6)
        fail(key, "must be a whole number");
    return std::abs(value) > 1e6 ? 0 : static_cast<int>(value);
}

QString JsonReader::text(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && !value.isString())
        fail(key, "must be text");
    return value.toString();
}

QString JsonReader::text(const char* key, const QString& fallback) {
    return has(key) ? text(key) : fallback;
}

Date JsonReader::date(const char* key) {
    const QString value = text(key);
    const auto date = parseDate(value.toStdString());
    if (!date)
        fail(key, "\"" + value.left(40) + "\" is not a day; a date reads like 2027-01-04");
    return date.value_or(Date{});
}

QJsonObject JsonReader::object(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && !value.isObject())
        fail(key, "must be an object");
    return value.toObject();
}

QJsonArray JsonReader::array(const char* key) {
    const QJsonValue value = take(key, false);
    if (!value.isUndefined() && !value.isArray())
        fail(key, "must be a list");
    return value.toArray();
}

std::vector<double> JsonReader::numbers(const char* key, int count) {
    const QJsonValue value = take(key, true);
    std::vector<double> out;
    const QJsonArray list = value.toArray();
    bool right = value.isArray() && list.size() == count;
    for (const auto& each : list) {
        right = right && each.isDouble() && std::isfinite(each.toDouble());
        out.push_back(each.toDouble());
    }
    if (!value.isUndefined() && !right)
        fail(key, QString("must be a list of %1 numbers").arg(count));
    out.resize(static_cast<size_t>(count));
    return out;
}

Result<void> JsonReader::finish() {
    const QStringList keys = object_.keys();
    for (const QString& key : keys)
        if (!asked_.contains(key))
            fail(key.toUtf8().constData(), "is not a key Marram knows");
    if (!problem_.isEmpty())
        return refuse(problem_.toStdString());
    return {};
}

Result<QJsonObject> parseJsonObject(const QByteArray& bytes) {
    QJsonParseError error{};
    const QJsonDocument document = QJsonDocument::fromJson(bytes, &error);
    if (error.error != QJsonParseError::NoError) {
        const auto line = bytes.left(error.offset).count('\n') + 1;
        return refuse("line " + std::to_string(line) + ": not JSON (" + error.errorString().toStdString() +
                      "); numbers must be finite and text in double quotes");
    }
    if (!document.isObject())
        return refuse("line 1: must be one JSON object in braces");
    return document.object();
}

} // namespace marram
