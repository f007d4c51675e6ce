// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/whole_record.h"
#include "store/whole_season.h"

#include <algorithm>

namespace marram {
namespace {

template <class T>
Result<void> keep(T& to, Result<T> from) {
    if (!from)
        return tl::unexpected(from.error());
    to = std::move(*from);
    return {};
}

} // namespace

Result<WholeRecord> wholeRecordOf(const Roster& roster, const RiderRecord& rider, Date today) {
    WholeRecord r;
    r.rider = rider;
    r.today = today;
    std::vector<Family> own;
    std::vector<SolvedDay> planned;
    std::vector<MeantSession> meant;
    for (auto ok :
         {keep(r.rides, roster.rides(rider.id, &r.damage)),
          keep(r.seasons, roster.seasons(rider.id, &r.damage)),
          keep(planned, roster.plannedDays(rider.id, &r.damage)),
          keep(meant, roster.meant(rider.id, &r.damage)),
          keep(r.checkIns, roster.checkIns(rider.id, &r.damage)),
          keep(r.tests, roster.tests(rider.id, &r.damage)), keep(r.heard, roster.heard(rider.id)),
          keep(r.noted, roster.noted(rider.id, &r.damage)), keep(own, roster.ownFamilies(&r.damage))})
        if (!ok)
            return tl::unexpected(ok.error());
    r.book = FamilyBook::standard().with(own);
    for (const SolvedDay& d : planned)
        r.planned[d.date] = d;
    for (MeantSession& m : meant)
        r.meant[m.date] = std::move(m);
    std::erase_if(r.rides, [&](const RideRecord& ride) { return ride.excluded || ride.day > today; });
    r.counted = countRidden(daySumsOf(r.rides));
    const SeasonRecord* season = r.inForce();
    r.history.emplace(historyOf(rider, r.counted.points, season ? &season->season : nullptr, today));
    return r;
}

} // namespace marram
