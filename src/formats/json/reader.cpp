// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/reader.h"
#include "core/words/phrase.h"
#include "wording/wording.h"

#include <QJsonDocument>
#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace marram {

QJsonValue JsonReader::take(const char* key, bool needed) {
    asked_.insert(key);
    QJsonValue value = object_.value(QLatin1String(key));
    if (needed && value.isUndefined())
        fail(key, marked("is missing"));
    return value;
}

void JsonReader::fail(const char* key, const QString& wrong) {
    if (problem_.isEmpty())
        problem_ = place(key) + ": " + wrong;
}

void JsonReader::fail(const char* key, const char* english) {
    fail(key, wording(english));
}

bool JsonReader::has(const char* key) {
    return !take(key, false).isUndefined();
}

double JsonReader::number(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && (!value.isDouble() || !std::isfinite(value.toDouble())))
        fail(key, marked("must be a number"));
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
        fail(key, marked("must be a whole number"));
    return std::abs(value) > 1e6 ? 0 : static_cast<int>(value);
}

bool JsonReader::boolean(const char* key, bool fallback) {
    if (!has(key))
        return fallback;
    return flag(key);
}

bool JsonReader::flag(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && !value.isBool())
        fail(key, marked("must be true or false"));
    return value.toBool();
}

QString JsonReader::text(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && !value.isString())
        fail(key, marked("must be text"));
    QString text = value.toString();
    if (std::any_of(text.begin(), text.end(), [](QChar c) {
            return (c < QChar(0x20) && c != QChar('\n') && c != QChar('\t') && c != QChar('\r')) ||
                   c == QChar(0x7F);
        }))
        fail(key, marked("holds a control character; take it out"));
    return text;
}

QString JsonReader::text(const char* key, const QString& fallback) {
    return has(key) ? text(key) : fallback;
}

Date JsonReader::date(const char* key) {
    const QString value = text(key);
    const auto date = parseDate(value.toStdString());
    if (!date)
        fail(key, wording("\"%1\" is not a day; a date reads like 2027-01-04", value.left(40)));
    return date.value_or(Date{});
}

QJsonObject JsonReader::object(const char* key) {
    const QJsonValue value = take(key, true);
    if (!value.isUndefined() && !value.isObject())
        fail(key, marked("must be an object"));
    return value.toObject();
}

QJsonArray JsonReader::array(const char* key) {
    const QJsonValue value = take(key, false);
    if (!value.isUndefined() && !value.isArray())
        fail(key, marked("must be a list"));
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
        fail(key, wording("must be a list of %1 numbers", count));
    out.resize(static_cast<size_t>(count));
    return out;
}

void JsonReader::take(JsonReader& within) {
    if (const auto ok = within.finish(); !ok && problem_.isEmpty())
        problem_ = QString::fromStdString(ok.error().sentence);
}

Result<void> JsonReader::finish() {
    const QStringList keys = object_.keys();
    for (const QString& key : keys)
        if (!asked_.contains(key))
            fail(key.toUtf8().constData(), marked("is not a key Marram knows"));
    if (!problem_.isEmpty())
        return refuse(problem_.toStdString());
    return {};
}

namespace {

/// Where the quote that ends a text stands.
qsizetype endOfText(const QByteArray& bytes, qsizetype from) {
    qsizetype at = from;
    while (at < bytes.size() && bytes[at] != '"')
        at += bytes[at] == '\\' ? 2 : 1;
    return at;
}

/// A key that an object of well-formed JSON text names twice, with its line; nothing where none does. The
/// library keeps the last of them without a word.
std::optional<std::pair<QByteArray, int>> keyGivenTwice(const QByteArray& bytes) {
    struct Level {
        QSet<QByteArray> keys;
        bool object = false, keyNext = false;
    };
    std::vector<Level> levels;
    int line = 1;
    for (qsizetype i = 0; i < bytes.size(); ++i) {
        const char c = bytes[i];
        if (c == '\n') {
            ++line;
        } else if (c == '{' || c == '[') {
            levels.push_back({{}, c == '{', c == '{'});
        } else if ((c == '}' || c == ']') && !levels.empty()) {
            levels.pop_back();
        } else if (c == ',' && !levels.empty()) {
            levels.back().keyNext = levels.back().object;
        } else if (c == '"') {
            const qsizetype from = i + 1;
            i = endOfText(bytes, from);
            if (levels.empty() || !levels.back().keyNext)
                continue;
            levels.back().keyNext = false;
            const QByteArray key = bytes.mid(from, i - from);
            if (levels.back().keys.contains(key))
                return std::pair(key, line);
            levels.back().keys.insert(key);
        }
    }
    return std::nullopt;
}

} // namespace

Result<QJsonObject> parseJsonObject(const QByteArray& bytes) {
    if (!bytes.isValidUtf8())
        return refuse(phrase("is not in UTF-8; save it as UTF-8"));
    QJsonParseError error{};
    const QJsonDocument document = QJsonDocument::fromJson(bytes, &error);
    if (error.error != QJsonParseError::NoError) {
        const auto line = bytes.left(error.offset).count('\n') + 1;
        return refuse(phrase("line %1: not JSON (%2); numbers must be finite and text in double quotes",
                             std::to_string(line), error.errorString().toStdString()));
    }
    if (!document.isObject())
        return refuse(phrase("line 1: must be one JSON object in braces"));
    if (const auto twice = keyGivenTwice(bytes))
        return refuse(phrase("line %1: \"%2\" is given twice; name it once", std::to_string(twice->second),
                             twice->first.left(40).toStdString()));
    return document.object();
}

} // namespace marram
