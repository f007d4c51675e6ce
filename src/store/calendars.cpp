// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/block.h"
#include "core/season/plan.h"
#include "core/session/shorthand.h"
#include "formats/files/files.h"
#include "formats/ical/calendar.h"
#include "store/exchange.h"
#include "store/whole_season.h"

#include <QDir>

namespace marram {
namespace {

/// What a rider does on the days of the next six weeks: as it is kept, else as it is worked out now.
Result<std::map<Date, QString>> sessionsAhead(const Roster& roster, qint64 rider, const Season& season,
                                              const Plan& plan, const FamilyBook& book, Date today,
                                              Damage& damage) {
    constexpr int weeks = 6;
    const auto meant = roster.meant(rider, &damage);
    if (!meant)
        return tl::unexpected(meant.error());
    BlockBasis basis;
    basis.book = &book;
    for (const MeantSession& m : *meant)
        if (m.date >= today)
            basis.near[m.date] = {m.family, m.rung};
    std::map<Date, QString> all;
    for (const BlockWeek& week : solveBlock(season, plan, monday(today), weeks, basis).weeks)
        for (const BlockSession& s : week.sessions)
            all[s.date] += (all[s.date].isEmpty() ? "" : "\n") + sessionInWords(s);
    for (const MeantSession& m : *meant)
        if (m.date >= today && !m.words.empty()) {
            BlockSession s;
            s.family = m.family;
            s.note = m.note;
            if (auto read = readShorthand(m.words))
                s.session = std::move(*read);
            all[m.date] = sessionInWords(s);
        }
    return all;
}

} // namespace

Result<Damage> exportCalendars(const Roster& roster, const QString& folder, Date today) {
    Damage damage = roster.examineFile();
    const auto riders = roster.riders(&damage);
    if (!riders)
        return tl::unexpected(riders.error());
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    auto sums = roster.daySums(&damage);
    if (!sums)
        return tl::unexpected(sums.error());
    const auto own = roster.ownFamilies(&damage);
    if (!own)
        return tl::unexpected(own.error());
    const FamilyBook book = FamilyBook::standard().with(*own);
    int number = 0;
    for (const RiderRecord& rider : *riders) {
        const auto season = wholeSeasonOf(roster, rider, (*sums)[rider.id], today, damage);
        if (!season)
            return tl::unexpected(season.error());
        ++number;
        // Without a season, or one nothing can be planned from, there is nothing to write.
        if (!*season || !check(**season))
            continue;
        const Plan plan = solveSeason(**season).plan;
        auto sessions = sessionsAhead(roster, rider.id, **season, plan, book, today, damage);
        if (!sessions)
            return tl::unexpected(sessions.error());
        CalendarParts parts;
        parts.sessions = std::move(*sessions);
        const Date from = (*season)->past ? (*season)->past->today : (*season)->start;
        const QString name = QString("%1-%2.ics").arg(number, 3, 10, QChar('0')).arg(fileNameOf(rider.name));
        if (auto ok = writeWholeFile(
                QDir(folder).filePath(name),
                writeCalendar(rider.name, QString::number(rider.id), **season, plan, from, today, parts));
            !ok)
            return tl::unexpected(ok.error());
    }
    return damage;
}

} // namespace marram
