// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "formats/files/files.h"
#include <QByteArray>
#include <QString>

/// How verbs read what they are given and write figures.
namespace marram::cli {

/// A refusal with the file's name before it.
template <class T>
Result<T> ofFile(const QString& file, Result<T> result) {
    if (!result)
        return refuse(file.toStdString() + ": " + result.error().sentence);
    return result;
}

/// A whole file, read as what `read` makes of bytes; what is wrong names the file.
template <class Read>
auto readAs(const QString& file, Read read) -> decltype(read(QByteArray())) {
    const auto bytes = readWholeFile(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    return ofFile(file, read(*bytes));
}

/// A number with all its digits.
inline QByteArray full(double v) {
    return QByteArray::number(v, 'g', 17);
}

} // namespace marram::cli
