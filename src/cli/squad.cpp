// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/squad.h"
#include "cli/letter.h"
#include "formats/csv/lines.h"
#include "formats/files/files.h"
#include "store/ahead.h"

#include <QStringList>
#include <cmath>
#include <set>

namespace marram::cli {
namespace {

QByteArray utf8(const std::string& s) {
    return QByteArray::fromStdString(s);
}

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

void races(const RiderRecord& rider, const RiderAhead& ahead, Date today, std::vector<QByteArrayList>& rows) {
    for (const PlannedRace& r : ahead.plan.races)
        if (r.priority != Priority::C && r.date >= today)
            rows.push_back({rider.name.toUtf8(), utf8(r.name), utf8(isoText(r.date)), csvNumber(r.fitness),
                            csvNumber(r.form), csvNumber(r.gate ? std::optional(r.gate->low) : std::nullopt),
                            csvNumber(r.gate ? std::optional(r.gate->high) : std::nullopt),
                            csvNumber(r.chance)});
}

void days(const RiderRecord& rider, const RiderAhead& ahead, Date from, int weeks, Date today,
          std::vector<QByteArrayList>& rows) {
    for (const DayAhead& d : daysAhead(ahead, from, weeks, today))
        rows.push_back({rider.name.toUtf8(), utf8(isoText(d.date)), nameOf(d.role), utf8(d.family),
                        utf8(d.title), QByteArray::number(static_cast<int>(std::lround(d.seconds / 60.0))),
                        csvNumber(std::round(10 * d.stress) / 10)});
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
    const QByteArrayList header =
        from ? QByteArrayList{"rider", "date", "role", "family", "title", "minutes", "stress"}
             : QByteArrayList{"rider", "race", "date", "fitness", "form", "gate_low", "gate_high", "chance"};
    std::vector<QByteArrayList> rows;
    Damage damage;
    for (const RiderRecord& rider : *members) {
        const auto ahead = lookAhead(**roster, rider, today, damage);
        if (!ahead)
            return tl::unexpected(ahead.error());
        if (!*ahead)
            continue; // no season, nothing to say
        if (from)
            days(rider, **ahead, *from, r.weeks, today, rows);
        else
            races(rider, **ahead, today, rows);
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
