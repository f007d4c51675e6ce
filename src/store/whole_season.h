// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/history.h"
#include "core/season/ahead.h"
#include "store/roster.h"

namespace marram {

/// Days of the year up to `today` on which a rider was ill, by check-ins and days away.
std::set<Date> illDaysOf(const std::vector<CheckIn>& checkIns, const std::vector<SeasonRecord>& seasons,
                         Date today);

/// Returns from illness and from weeks off in the last 90 days: the first days back.
std::vector<Date> setBacksOf(const std::set<Date>& ill, const std::map<Date, double>& ridden, Date today);

/// How often a rider misses a planned day, from the 90 days up to `today`; days of illness apart.
MissRate missesOf(const std::map<Date, SolvedDay>& planned, const std::map<Date, double>& ridden,
                  const std::set<Date>& ill, Date today);

/// A season with what its rider brings to it, and with the rider's own misses where the record can tell them:
/// what is solved.
Season wholeSeason(const Season& season, const RiderRecord& rider, const LoadHistory& history,
                   const std::map<Date, double>& ridden, const MissRate& misses, Date today);

/// The load of a rider as the roster keeps it.
LoadHistory historyOf(const RiderRecord& rider, const std::map<Date, double>& ridden, const Season* season,
                      Date today);

/// A season of a rider, whole: with what the roster knows of them.
Result<Season> wholeSeasonWith(const Roster& roster, const RiderRecord& rider, const Season& season,
                               const std::vector<SeasonRecord>& seasons, const std::vector<DaySum>& sums,
                               Date today, Damage& damage);
/// The season in force of a rider, whole; nothing for one without.
Result<std::optional<Season>> wholeSeasonOf(const Roster& roster, const RiderRecord& rider,
                                            const std::vector<DaySum>& sums, Date today, Damage& damage);

} // namespace marram
