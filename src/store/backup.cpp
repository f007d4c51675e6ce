// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/backup.h"
#include "core/words/phrase.h"
#include "formats/files/files.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QRegularExpression>
#include <algorithm>
#include <set>

namespace marram {

QString copiesFolder(const QString& roster) {
    const QFileInfo info(roster);
    return info.absolutePath() + "/" + info.completeBaseName() + " copies";
}

std::vector<BackupCopy> copiesOf(const QString& roster) {
    static const QRegularExpression name("^(\\d{4}-\\d{2}-\\d{2})(?: before version (\\d+))?\\.marram$");
    std::vector<BackupCopy> all;
    const QDir folder(copiesFolder(roster));
    for (const QFileInfo& file : folder.entryInfoList(QDir::Files | QDir::NoSymLinks)) {
        const auto match = name.match(file.fileName());
        const auto day = match.hasMatch() ? parseDate(match.captured(1).toStdString()) : std::nullopt;
        if (day)
            all.push_back({*day, file.absoluteFilePath(), file.size(), match.captured(2).toInt()});
    }
    std::sort(all.begin(), all.end(), [](const BackupCopy& a, const BackupCopy& b) {
        return a.day != b.day ? a.day > b.day : a.upgradedFrom < b.upgradedFrom;
    });
    return all;
}

std::vector<BackupCopy> pastTheirTime(std::vector<BackupCopy> copies, const CopyRule& rule) {
    std::sort(copies.begin(), copies.end(),
              [](const BackupCopy& a, const BackupCopy& b) { return a.day > b.day; });
    std::set<Date> days, weeks;
    int weekly = 0;
    std::vector<BackupCopy> past;
    for (const BackupCopy& c : copies) {
        if (c.upgradedFrom != 0)
            continue;
        if (days.contains(c.day) || static_cast<int>(days.size()) < rule.days) {
            days.insert(c.day);
            weeks.insert(monday(c.day));
        } else if (weekly < rule.weeks && weeks.insert(monday(c.day)).second) {
            ++weekly;
        } else {
            past.push_back(c);
        }
    }
    return past;
}

Result<QString> backUp(const QString& path, Date today, const CopyRule& rule) {
    const QString folder = copiesFolder(path);
    const auto roster = Roster::open(path);
    if (!roster)
        return tl::unexpected(roster.error());
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    const QString to = QDir(folder).filePath(QString::fromStdString(isoText(today)) + ".marram");
    const QString fresh = QDir(folder).filePath(QString::fromStdString(isoText(today)) + ".new");
    QFile::remove(fresh);
    if (auto ok = (*roster)->copyTo(fresh); !ok)
        return tl::unexpected(ok.error());
    // In one step: whoever is killed here has the copy of before or the new one.
    if (std::rename(QFile::encodeName(fresh).constData(), QFile::encodeName(to).constData()) != 0)
        return refuse(phrase("%1: can't be written", to.toStdString()));
    for (const BackupCopy& old : pastTheirTime(copiesOf(path), rule))
        QFile::remove(old.path);
    return to;
}

Result<QString> restoreCopy(const QString& path, Date day, const QString& to) {
    for (const BackupCopy& copy : copiesOf(path)) {
        if (copy.day > day)
            continue;
        const auto roster = Roster::open(copy.path);
        if (!roster)
            return tl::unexpected(roster.error());
        if (auto ok = (*roster)->copyTo(to); !ok)
            return tl::unexpected(ok.error());
        return copy.path;
    }
    return refuse(phrase("%1: has no copy of %2 or before", path.toStdString(), isoText(day)));
}

} // namespace marram
