// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/squad.h"
#include "cli/letter.h"
#include "formats/csv/lines.h"
#include "formats/files/files.h"
#include "store/squad.h"

#include <QStringList>
#include <set>

namespace marram::cli {
namespace {

/// The riders of a group who are not archived, by name; refuses a group nobody is in, with those there are.
Result<std::vector<RiderRecord>> membersOf(const Roster& roster, const QString& group) {
    auto riders = roster.riders();
    if (!riders)
        return tl::unexpected(riders.error());
    std::set<QString> groups;
    for (const RiderRecord& r : *riders)
        groups.insert(r.groups.begin(), r.groups.end());
    std::erase_if(*riders, [&](const RiderRecord& r) { return r.archived || !r.groups.contains(group); });
    if (riders->empty())
        return refuse(roster.path().toStdString() + ": has nobody in a group \"" + group.toStdString() +
                      "\"; its groups are " +
                      (groups.empty() ? "none yet"
                                      : QStringList(groups.begin(), groups.end()).join(", ").toStdString()));
    return std::move(*riders);
}

} // namespace

Result<QByteArray> squad(const SquadRequest& r) {
    const auto from = parseDate(r.from);
    if (!r.from.empty() && (!from || weekday(*from) != 0))
        return refuse("--from: must be a Monday, as 2027-03-01");
    if (r.weeks < 1 || r.weeks > 52)
        return refuse("--weeks: must be 1 to 52");
    const auto roster = Roster::open(r.roster);
    if (!roster)
        return tl::unexpected(roster.error());
    const auto members = membersOf(**roster, r.group);
    if (!members)
        return tl::unexpected(members.error());
    const Date today = todayHere();
    const QByteArrayList& header = from ? squadDayColumns : squadRaceColumns;
    std::vector<QByteArrayList> rows;
    for (const RiderRecord& rider : *members) {
        const auto row = solvedRow(**roster, rider, today, from.value_or(today), from ? r.weeks : 0);
        if (!row)
            return tl::unexpected(row.error());
        const auto of = from ? squadDayRows(*row) : squadRaceRows(*row, today);
        rows.insert(rows.end(), of.begin(), of.end());
    }
    if (!r.pdf.isEmpty())
        if (auto ok = writeTablePdf(r.pdf, r.group, header, rows); !ok)
            return tl::unexpected(ok.error());
    QByteArray out = csvRow(header);
    for (const QByteArrayList& row : rows)
        out += csvRow(row);
    return out;
}

} // namespace marram::cli
