// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/files/files.h"
#include "formats/ical/calendar.h"
#include "store/ahead.h"
#include "store/exchange.h"

#include <QDir>

namespace marram {
Result<Damage> exportCalendars(const Roster& roster, const QString& folder, Date today) {
    Damage damage = roster.examineFile();
    const auto riders = roster.riders(&damage);
    if (!riders)
        return tl::unexpected(riders.error());
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    int number = 0;
    for (const RiderRecord& rider : *riders) {
        const auto found = lookAhead(roster, rider, today, damage);
        if (!found)
            return tl::unexpected(found.error());
        ++number;
        // Without a season, or one nothing can be planned from, there is nothing to write.
        if (!*found)
            continue;
        const RiderAhead& ahead = **found;
        CalendarParts parts;
        constexpr int weeks = 6;
        for (const DayAhead& d : daysAhead(ahead, monday(today), weeks, today))
            if (!d.words.isEmpty() && d.date >= today)
                parts.sessions[d.date] = d.words;
        const Date from = ahead.season.past ? ahead.season.past->today : ahead.season.start;
        const QString name = QString("%1-%2.ics").arg(number, 3, 10, QChar('0')).arg(fileNameOf(rider.name));
        if (auto ok = writeWholeFile(QDir(folder).filePath(name),
                                     writeCalendar(rider.name, QString::number(rider.id), ahead.season,
                                                   ahead.plan, from, today, parts));
            !ok)
            return tl::unexpected(ok.error());
    }
    return damage;
}

} // namespace marram
