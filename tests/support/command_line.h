// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QProcess>
#include <QStringList>

namespace marram::test {

/// What a programme said, and how it ended; −1 where it was ended.
struct Ran {
    int code = -1;
    QByteArray out, err;
};

/// A programme of ours with its arguments, in a folder where one is named.
inline Ran cli(const QStringList& arguments, const char* programme = "/marram-cli", const QString& in = {}) {
    QProcess p;
    if (!in.isEmpty())
        p.setWorkingDirectory(in);
    p.start(QString(BIN_DIR) + programme, arguments);
    p.waitForFinished(60000);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
            p.readAllStandardError()};
}

} // namespace marram::test
