// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"

namespace marram {

/// A copy of a roster, kept in the folder "NAME copies" beside it.
struct BackupCopy {
    Date day;
    QString path;
    qint64 bytes = 0;
    int upgradedFrom = 0; ///< schema version it was kept at before an upgrade; 0 for a copy of the day
};

/// How long copies stay: the newest of each of this many days with one, then the newest of each of this many
/// weeks. Copies from before an upgrade stay until somebody removes them.
struct CopyRule {
    int days = 7, weeks = 8;
};

/// The folder of a roster's copies.
QString copiesFolder(const QString& roster);
/// Copies there are, newest first.
std::vector<BackupCopy> copiesOf(const QString& roster);
/// Makes the copy of a day from what the file holds now (SQLite's VACUUM INTO), replacing one of the same
/// day, and removes those past their time. Refuses what can't be written; the copies there were stay then.
/// Returns its path.
Result<QString> backUp(const QString& roster, Date today, const CopyRule& rule = {});
/// A copy of the day, or the newest before it, as a new file. Refuses where there is none, or the file is
/// there.
Result<QString> restoreCopy(const QString& roster, Date day, const QString& to);
/// Which of some copies are past their time by the rule above.
std::vector<BackupCopy> pastTheirTime(std::vector<BackupCopy> copies, const CopyRule& rule = {});

} // namespace marram
