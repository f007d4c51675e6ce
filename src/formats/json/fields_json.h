// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/season/season.h"
#include "core/words/fields.h"
#include "formats/json/reader.h"
#include "wording/wording.h"
#include <QStringList>
#include <algorithm>
#include <optional>
#include <string>

/// Records read from and written as objects of JSON, by their lists of fields.
namespace marram {

/// Whether what a number may be is looked at while it is read, or by whoever checks the whole.
enum class Ranges { Here, Later };

/// How a value stands in JSON; specialisations add to these.
template <class T>
struct JsonOf;

template <>
struct JsonOf<double> {
    static double read(JsonReader& in, const char* key, Span span) {
        const double v = in.number(key);
        if (span.limited() && !(v >= span.least && v <= span.most))
            in.fail(key,
                    wording("must be %1 to %2", QString::number(span.least), QString::number(span.most)));
        return v;
    }
    static QJsonValue write(double v) { return v; }
};

template <>
struct JsonOf<int> {
    static int read(JsonReader& in, const char* key, Span span) {
        (void)JsonOf<double>::read(in, key, span); // that it is there, a number, and one that may be
        return in.whole(key, 0);
    }
    static QJsonValue write(int v) { return v; }
};

template <>
struct JsonOf<bool> {
    static bool read(JsonReader& in, const char* key, Span) { return in.flag(key); }
    static QJsonValue write(bool v) { return v; }
};

template <>
struct JsonOf<QString> {
    static QString read(JsonReader& in, const char* key, Span) { return in.text(key); }
    static QJsonValue write(const QString& v) { return v.isNull() ? QString("") : v; }
};

template <>
struct JsonOf<std::string> {
    static std::string read(JsonReader& in, const char* key, Span) { return in.text(key).toStdString(); }
    static QJsonValue write(const std::string& v) {
        return QString::fromUtf8(v.data(), static_cast<qsizetype>(v.size()));
    }
};

template <>
struct JsonOf<Date> {
    static Date read(JsonReader& in, const char* key, Span) { return in.date(key); }
    static QJsonValue write(Date v) { return QString::fromStdString(isoText(v)); }
};

/// Bytes, as the digits of a hash.
template <>
struct JsonOf<QByteArray> {
    static QByteArray read(JsonReader& in, const char* key, Span) {
        const QByteArray bytes = QByteArray::fromHex(in.text(key).toLatin1());
        return bytes.isNull() ? QByteArray("") : bytes;
    }
    static QJsonValue write(const QByteArray& v) { return QString::fromLatin1(v.toHex()); }
};

template <>
struct JsonOf<QStringList> {
    static QStringList read(JsonReader& in, const char* key, Span) {
        QStringList all;
        for (const auto& each : in.array(key))
            all << each.toString();
        return all;
    }
    static QJsonValue write(const QStringList& v) { return QJsonArray::fromStringList(v); }
};

template <>
struct JsonOf<WeekHours> {
    static WeekHours read(JsonReader& in, const char* key, Span span) {
        WeekHours hours{};
        const auto list = in.numbers(key, static_cast<int>(hours.size()));
        std::copy(list.begin(), list.end(), hours.begin());
        if (span.limited() &&
            std::any_of(list.begin(), list.end(), [&](double h) { return !(h >= 0 && h <= span.most); }))
            in.fail(key, marked("must each be 0 to 24 hours"));
        return hours;
    }
    static QJsonValue write(const WeekHours& v) {
        QJsonArray list;
        for (const double h : v)
            list.append(h);
        return list;
    }
};

template <>
struct JsonOf<Gate> {
    static Gate read(JsonReader& in, const char* key, Span) {
        const auto gate = in.numbers(key, 2);
        return {gate[0], gate[1]};
    }
    static QJsonValue write(const Gate& v) { return QJsonArray{v.low, v.high}; }
};

/// One of the names of an enumeration; refuses others, listing what is allowed.
template <class Enum>
requires std::is_enum_v<Enum>
struct JsonOf<Enum> {
    static Enum read(JsonReader& in, const char* key, Span span) {
        const QString text = in.has(key) ? in.text(key) : QString();
        QStringList names;
        for (int i = static_cast<int>(span.least); i <= static_cast<int>(span.most); ++i) {
            const QString name = QString::fromUtf8(nameOf(static_cast<Enum>(i)));
            if (name.isEmpty())
                continue; // what is said by leaving the key out
            if (name == text)
                return static_cast<Enum>(i);
            names << name;
        }
        in.fail(key, in.has(key) ? wording("\"%1\" must be one of %2", text.left(40), names.join(", "))
                                 : wording("is missing; it must be one of %1", names.join(", ")));
        return static_cast<Enum>(static_cast<int>(span.least));
    }
    static QJsonValue write(Enum v) { return QString::fromUtf8(nameOf(v)); }
};

template <class T>
requires requires {
    sizeof(JsonOf<T>);
}
struct JsonOf<std::optional<T>> {
    static std::optional<T> read(JsonReader& in, const char* key, Span span) {
        return JsonOf<T>::read(in, key, span);
    }
    static QJsonValue write(const std::optional<T>& v) {
        return v ? JsonOf<T>::write(*v) : QJsonValue(QJsonValue::Null);
    }
};

template <class T>
inline constexpr bool isChoice = std::is_enum_v<T>;
template <class T>
inline constexpr bool isChoice<std::optional<T>> = std::is_enum_v<T>;

/// Whether each field of a record that is not by hand has a way.
template <Described Record>
consteval bool allHaveWays() {
    return FieldsOf<Record>::list([]<class... F>(const F&... f) {
        return ((f.stands == Stands::ByHand ||
                 requires(JsonReader & in, const F& one) {
                     JsonOf<typename F::Value>::read(in, one.key, one.span);
                 }) &&
                ...);
    });
}
template <Described Record>
inline constexpr bool readable = allHaveWays<Record>();

/// Reads into a record what stands in an object; what is by hand is left to the caller.
template <Described Record>
void readFields(JsonReader& in, Record& record, Ranges ranges = Ranges::Here) {
    static_assert(readable<Record>, "a field of this record is neither by hand nor has a way into JSON");
    eachField<Record>([&](const auto& f) {
        using T = typename std::decay_t<decltype(f)>::Value;
        if constexpr (requires { JsonOf<T>::read(in, f.key, f.span); }) {
            const bool there = f.stands == Stands::Always   ? true
                               : f.stands == Stands::ByHand ? false
                               : f.stands == Stands::OrNull ? !in.isNull(f.key)
                                                            : in.has(f.key);
            if (there)
                record.*f.at =
                    JsonOf<T>::read(in, f.key, ranges == Ranges::Here || isChoice<T> ? f.span : Span{});
        }
    });
}

/// An object of what a record holds.
template <Described Record>
QJsonObject fieldsObject(const Record& record) {
    static_assert(readable<Record>, "a field of this record is neither by hand nor has a way into JSON");
    static const Record usual{};
    QJsonObject out;
    eachField<Record>([&](const auto& f) {
        using T = typename std::decay_t<decltype(f)>::Value;
        if constexpr (requires { JsonOf<T>::write(record.*f.at); })
            if (f.stands != Stands::ByHand &&
                (f.stands != Stands::WhereSet || !(record.*f.at == usual.*f.at)))
                out[QLatin1String(f.key)] = JsonOf<T>::write(record.*f.at);
    });
    return out;
}

} // namespace marram
