// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/words/phrase.h"

#include <QByteArray>
#include <QChar>
#include <QString>

/// The door of core/words for texts of the window.
namespace marram {

inline std::string argumentText(const QString& text) {
    return text.toStdString();
}
inline std::string argumentText(const QByteArray& text) {
    return text.toStdString();
}
inline std::string argumentText(QChar letter) {
    return QString(letter).toStdString();
}

/// A pattern for .arg() whose figures take the decimal mark of the language: pattern("%1 kJ").
QString pattern(QString text);

/// A text the window shows, in the language in force: wording("%1 of %2 races", done, all), or with .arg().
template <class... Arguments>
QString wording(const char* english, const Arguments&... arguments) {
    if constexpr (sizeof...(Arguments) == 0)
        return pattern(QString::fromStdString(translated(english)));
    else
        return QString::fromStdString(filled(translated(english), {argumentText(arguments)...}));
}
/// A text of a table, or of a record that holds it in English.
inline QString wording(const QString& english) {
    return QString::fromStdString(translated(english.toStdString()));
}
/// The form of the language for so many, with %1 … replaced.
template <class... Arguments>
QString countedWording(long n, const char* one, const char* many, const Arguments&... arguments) {
    return QString::fromStdString(filled(countedForm(n, one, many), {argumentText(arguments)...}));
}
/// A name within a sentence: small, in a language that writes its nouns so.
QString withinSentence(const QString& name);
/// A figure with so many decimals and the decimal mark of the language.
QString decimal(double value, int decimals);

} // namespace marram
