// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/post.h"
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/files/files.h"
#include "formats/fit/workout.h"
#include "formats/ical/calendar.h"
#include "store/ahead.h"

#include <QDir>
#include <QRegularExpression>
#include <algorithm>

namespace marram {
namespace {

/// Writes what is new or reads otherwise than what is there.
Result<bool> put(const QDir& folder, const QString& name, const QByteArray& bytes, PostSent& sent) {
    const QString path = folder.filePath(name);
    const bool there = QFile::exists(path);
    if (there)
        if (const auto old = readWholeFile(path); old && *old == bytes) {
            ++sent.same;
            return false;
        }
    if (auto ok = writeWholeFile(path, bytes); !ok)
        return tl::unexpected(ok.error());
    ++(there ? sent.changed : sent.fresh);
    sent.differs.back().second << name;
    return true;
}

QString workoutName(const BlockSession& s) {
    static const QRegularExpression odd("[^\\p{L}\\p{N}]+");
    return QString::fromStdString(isoText(s.date) + "-") +
           QString::fromStdString(s.family.empty() ? "session" : s.family).replace(odd, "-") + ".fit";
}

/// A sheet the rider fills in: a day a line, as check-ins are read.
QByteArray sheetOf(const QString& rider, Date monday) {
    std::vector<NamedCheckIn> days;
    for (int d = 0; d < 7; ++d) {
        NamedCheckIn day{rider.toUtf8(), {}};
        day.checkIn.day = monday + d;
        days.push_back(std::move(day));
    }
    return writeCheckIns(days);
}

/// The calendar of four weeks and the workouts of one; their names are added to `meant`.
Result<void> putAhead(const Roster& roster, const RiderRecord& rider, const QDir& folder, Date week,
                      Date today, QStringList& meant, PostSent& sent) {
    Damage damage;
    const auto ahead = lookAhead(roster, rider, today, damage);
    if (!ahead)
        return tl::unexpected(ahead.error());
    if (!*ahead)
        return {};
    const RiderAhead& a = **ahead;
    CalendarParts parts;
    constexpr int weeks = 4;
    if (a.meant.lower_bound(today) == a.meant.end()) {
        auto sessions = sessionsAhead(a, monday(today), weeks, today);
        const Date first = a.season.past ? a.season.past->today : a.season.start;
        std::erase_if(sessions, [&](const BlockSession& s) { return s.date < first; });
        sent.promised.push_back({a.seasonId, std::max(first, today), promiseOf(sessions)});
    }
    for (const DayAhead& d : daysAhead(a, week + 7, weeks, today))
        if (!d.words.isEmpty() && d.date >= today)
            parts.sessions[d.date] = d.words;
    const QByteArray calendar =
        writeCalendar(rider.name, QString::number(rider.id), a.season, a.plan,
                      a.season.past ? a.season.past->today : a.season.start, week + 7, parts);
    if (auto ok = put(folder, "calendar.ics", calendar, sent); !ok)
        return tl::unexpected(ok.error());
    const auto threshold = rider.values.on(Quantity::ThresholdPower, week + 7);
    for (const BlockSession& s : sessionsAhead(a, week + 7, 1, today)) {
        if (!s.ridden() || s.date < today)
            continue;
        // Stamped with the week and not with the hour, so that the same workout is the same file.
        const auto bytes =
            writeWorkout(s.session, s.family + (s.rung > 0 ? " " + std::to_string(s.rung) : ""), threshold,
                         a.season.lowThreshold, static_cast<std::int64_t>((week + 7).days) * 86400,
                         heartRateRangeOn(rider, week + 7));
        meant << workoutName(s);
        if (auto ok = put(folder, meant.back(),
                          {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())},
                          sent);
            !ok)
            return tl::unexpected(ok.error());
    }
    return {};
}

/// The page says what the text says; made anew it would differ by its hour alone.
Result<void> putWithPage(const QDir& folder, const QString& name, const QByteArray& text, const QString& page,
                         const std::function<QByteArray()>& printed, PostSent& sent) {
    const auto changed = put(folder, name, text, sent);
    if (!changed)
        return tl::unexpected(changed.error());
    if (*changed || !QFile::exists(folder.filePath(page)))
        return whether(put(folder, page, printed(), sent));
    ++sent.same;
    return {};
}

Result<void> sendTo(const Roster& roster, const RiderRecord& rider, const QDir& home, Date week, Date today,
                    const PostPaper& paper, PostSent& sent) {
    const auto letter = letterOf(roster, rider, week, today);
    if (!letter)
        return tl::unexpected(letter.error());
    if (auto ok = makeFolderInside(home.path(), "from-rider"); !ok)
        return ok;
    const QString to = QString("to-rider/week-") + QString::fromStdString(isoText(week + 7));
    const bool again = QDir(home.filePath(to)).exists();
    sent.differs.emplace_back(rider.name, QStringList());
    for (const QString& each : {QString("to-rider"), to})
        if (auto ok = makeFolderInside(home.path(), each); !ok)
            return ok;
    const QDir folder(home.filePath(to));
    if (auto ok = putWithPage(
            folder, "letter.txt",
            QByteArray::fromStdString(letterText(letter->monday, letter->coach.toStdString())), "letter.pdf",
            [&] { return paper.letter(*letter); }, sent);
        !ok)
        return ok;
    if (auto ok = putWithPage(
            folder, "check-in.csv", sheetOf(rider.name, week + 7), "check-in.pdf",
            [&] { return paper.sheet(rider.name, week + 7); }, sent);
        !ok)
        return ok;
    QStringList meant;
    if (auto ok = putAhead(roster, rider, folder, week, today, meant, sent); !ok)
        return ok;
    for (const QString& old : folder.entryList({"*.fit"}, QDir::Files))
        if (!meant.contains(old) && old >= QString::fromStdString(isoText(std::max(today, week + 7)))) {
            QFile::remove(folder.filePath(old)); // ours, of a day that has something else now
            ++sent.changed;
            sent.differs.back().second << old;
        }
    if (!again || sent.differs.back().second.isEmpty())
        sent.differs.pop_back();
    return {};
}

} // namespace

Result<PostSent> sendWeek(const Roster& roster, const QString& folder, const std::vector<qint64>& riders,
                          Date week, Date today, const Progress& progress, const PostPaper& paper) {
    auto all = roster.riders();
    if (!all)
        return tl::unexpected(all.error());
    std::erase_if(*all, [&](const RiderRecord& r) {
        return riders.empty() ? r.archived : std::find(riders.begin(), riders.end(), r.id) == riders.end();
    });
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    PostSent sent;
    for (const RiderRecord& rider : *all) {
        const QString name = QString("%1-%2").arg(rider.id, 3, 10, QChar('0')).arg(fileNameOf(rider.name));
        if (auto ok = makeFolderInside(folder, name); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = sendTo(roster, rider, QDir(QDir(folder).filePath(name)), week, today, paper, sent); !ok)
            return refuse(phrase("%1: %2", rider.name.toStdString(), ok.error().sentence));
        ++sent.riders;
        if (progress && !progress(sent.riders, static_cast<int>(all->size())))
            return refuse(phrase("Cancelled; what was sent so far is there."));
    }
    return sent;
}

} // namespace marram
