// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QByteArray>
#include <QSqlDatabase>
#include <QString>
#include <memory>
#include <optional>
#include <vector>

namespace marram {

/// Recordings in a file of their own beside a roster, by their content. Nothing in it is ever changed or
/// removed. Readable by its owner only.
class BesideFile {
public:
    /// The file of a roster: "NAME recordings.marram-recordings".
    static QString pathOf(const QString& roster);
    /// Opens one for reading; refuses what is none.
    static Result<std::unique_ptr<BesideFile>> open(const QString& path);
    /// Opens one for writing, made where there is none.
    static Result<std::unique_ptr<BesideFile>> forWriting(const QString& path);
    ~BesideFile();
    BesideFile(const BesideFile&) = delete;
    BesideFile& operator=(const BesideFile&) = delete;

    /// A recording as a roster keeps it, packed; nothing where it is not here.
    Result<std::optional<QByteArray>> packed(const QByteArray& hash) const;
    struct Entry {
        QByteArray hash, packed;
    };
    /// Puts recordings in, all or none; they are on disk when this returns.
    Result<void> put(const std::vector<Entry>& entries);

private:
    BesideFile() = default;
    static Result<std::unique_ptr<BesideFile>> connect(const QString& path, bool writable);
    QString name_, path_;
    QSqlDatabase db_;
};

} // namespace marram
