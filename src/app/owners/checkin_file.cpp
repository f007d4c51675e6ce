// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/checkin_file.h"
#include "app/owners/open_roster.h"
#include "formats/csv/csv.h"
#include "formats/files/files.h"
#include "wording/wording.h"

#include <algorithm>
#include <map>

namespace marram {

Result<void> writeCheckInsTo(const OpenRoster& roster, const QString& path) {
    std::vector<NamedCheckIn> all;
    for (const RiderRecord& r : roster.riders()) {
        const auto checkIns = roster.file().checkIns(r.id);
        if (!checkIns)
            return tl::unexpected(checkIns.error());
        for (const CheckIn& c : *checkIns)
            all.push_back({r.name.toUtf8(), c});
    }
    return writeWholeFile(path, writeCheckIns(all));
}

Result<int> readCheckInsFrom(OpenRoster& roster, const QString& path) {
    const auto bytes = readWholeFile(path);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const auto all = readCheckIns(*bytes);
    if (!all)
        return refuse(path.toStdString() + ": " + all.error().sentence);
    std::vector<CheckInEdit> edits;
    std::map<std::pair<qint64, Date>, size_t> places;
    std::map<qint64, std::vector<CheckIn>> known;
    for (const NamedCheckIn& n : *all) {
        const auto who = std::find_if(roster.riders().begin(), roster.riders().end(),
                                      [&](const RiderRecord& r) { return r.name.toUtf8() == n.rider; });
        if (who == roster.riders().end())
            return refuse(phrase("%1: names \"%2\", who is not in this roster; nothing was taken in",
                                 path.toStdString(), n.rider.toStdString()));
        if (!known.contains(who->id)) {
            auto there = roster.file().checkIns(who->id);
            if (!there)
                return tl::unexpected(there.error());
            known[who->id] = std::move(*there);
        }
        CheckInEdit edit{who->id, {}, n.checkIn};
        edit.before.day = n.checkIn.day;
        const auto& days = known[who->id];
        const auto now = std::lower_bound(days.begin(), days.end(), n.checkIn.day,
                                          [](const CheckIn& c, Date d) { return c.day < d; });
        if (now != days.end() && now->day == n.checkIn.day)
            edit.before = *now;
        // Of two lines for a day the later one holds.
        const auto [place, fresh] = places.try_emplace({who->id, n.checkIn.day}, edits.size());
        if (fresh)
            edits.push_back(edit);
        else
            edits[place->second] = edit;
    }
    const int before = roster.steps().stack().index();
    roster.edits().editCheckIns(edits, wording("Take in %1 check-ins").arg(edits.size()));
    const bool nothingNew =
        std::all_of(edits.begin(), edits.end(), [](const CheckInEdit& e) { return e.before == e.after; });
    if (roster.steps().stack().index() == before && !roster.steps().waiting() && !nothingNew)
        return refuse(phrase("%1: could not be taken in; nothing was changed", path.toStdString()));
    return static_cast<int>(edits.size());
}

} // namespace marram
