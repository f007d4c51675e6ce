// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include <QJsonArray>
#include <QJsonObject>
#include <QSet>
#include <QString>

namespace marram {

/// Reads a JSON object key by key and refuses, by name and with what would be right, everything that is
/// missing, of the wrong kind, out of range or unknown. The first problem is kept; later reads do nothing.
class JsonReader {
public:
    /// `where` names the object in sentences, e.g. "races[2]"; empty for the outermost.
    JsonReader(const QJsonObject& object, QString where) : object_(object), where_(std::move(where)) {}

    bool has(const char* key);
    double number(const char* key, double fallback);
    double number(const char* key);
    int whole(const char* key, int fallback);
    bool boolean(const char* key, bool fallback = false);
    bool flag(const char* key); ///< must be there
    /// Whether the key holds null. One that is not there holds nothing that could be read, and is refused as
    /// soon as it is.
    bool isNull(const char* key) { return take(key, false).isNull(); }
    QString text(const char* key);
    QString text(const char* key, const QString& fallback);
    Date date(const char* key);
    QJsonObject object(const char* key);
    QJsonArray array(const char* key); ///< empty where the key is left out
    /// Exactly `count` finite numbers.
    std::vector<double> numbers(const char* key, int count);

    void fail(const char* key, const QString& wrong);
    void fail(const char* key, const char* english); ///< in the language in force
    /// Takes over the problem of an object within.
    void take(JsonReader& within);
    /// The first problem, or one naming a key nobody asked for.
    Result<void> finish();
    QString place(const char* key) const {
        return where_.isEmpty() ? QString::fromLatin1(key) : where_ + "." + key;
    }

private:
    QJsonValue take(const char* key, bool needed);

    QJsonObject object_;
    QString where_;
    QSet<QString> asked_;
    QString problem_;
};

/// Parses a JSON object; a syntax error names the line.
Result<QJsonObject> parseJsonObject(const QByteArray& bytes);

} // namespace marram
