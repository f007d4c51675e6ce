// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/whole_season.h"

#include <algorithm>
#include <cmath>

namespace marram {

std::set<Date> illDaysOf(const std::vector<CheckIn>& checkIns, const std::vector<SeasonRecord>& seasons,
                         Date today) {
    std::set<Date> ill;
    for (const CheckIn& c : checkIns)
        if (c.ill && c.day > today - 365 && c.day <= today)
            ill.insert(c.day);
    for (const SeasonRecord& s : seasons)
        if (s.standing != SeasonStanding::Alternative)
            for (const Away& a : s.season.away)
                if (a.why == AwayWhy::Illness)
                    for (Date d = std::max(a.from, today - 364); d <= std::min(a.to, today); d = d + 1)
                        ill.insert(d);
    return ill;
}

std::vector<Date> setBacksOf(const std::set<Date>& ill, const std::map<Date, double>& ridden, Date today) {
    constexpr int spell = 3, off = 7, window = 90;
    std::vector<Date> back;
    int running = 0;
    for (Date d = today - window; d <= today; d = d + 1) {
        running = ill.contains(d) ? running + 1 : 0;
        if (running >= spell && !ill.contains(d + 1))
            back.push_back(d + 1);
    }
    auto last = ridden.lower_bound(today - window);
    if (last != ridden.end())
        for (auto next = std::next(last); next != ridden.end() && next->first <= today; ++next) {
            if (next->first - last->first > off)
                back.push_back(next->first);
            last = next;
        }
    if (last != ridden.end() && today - last->first > off) // still off
        back.push_back(today);
    std::sort(back.begin(), back.end());
    // An illness with its days off is one.
    std::vector<Date> apart;
    for (const Date d : back)
        if (apart.empty() || d - apart.back() > 14)
            apart.push_back(d);
    return apart;
}

MissRate missesOf(const std::map<Date, SolvedDay>& planned, const std::map<Date, double>& ridden,
                  const std::set<Date>& ill, Date today) {
    std::vector<PlannedAndRidden> days; // illness is reckoned by its spells, not twice
    for (auto it = planned.lower_bound(today - 90); it != planned.end() && it->first < today; ++it)
        if (it->second.role != Role::Race && !ill.contains(it->first)) {
            const auto found = ridden.find(it->first);
            days.push_back({it->second.stress, found == ridden.end() ? 0 : found->second});
        }
    return missRate(days);
}

Season wholeSeason(const Season& season, const RiderRecord& rider, const LoadHistory& history,
                   const std::map<Date, double>& ridden, const MissRate& misses, Date today) {
    Season whole = completedSeason(season, rider, history, ridden, today);
    // In whole percent: one day more in the record does not make another season of it.
    if (misses.known) {
        whole.rules.miss = std::min(mostMissed, std::round(100 * misses.rate) / 100);
        if (whole.rules.missRun == Rules{}.missRun) // the coach's own stands
            whole.rules.missRun =
                std::clamp(std::round(10 * misses.run) / 10, 1 / (1 - whole.rules.miss) + 0.01, 30.0);
    }
    return whole;
}

LoadHistory historyOf(const RiderRecord& rider, const std::map<Date, double>& ridden, const Season* season,
                      Date today) {
    LoadRecord record;
    record.ridden = ridden;
    record.usualWeekHours = rider.usualWeekHours;
    if (season) {
        record.seasonStart = season->start;
        record.atSeasonStart = season->before;
        record.tau = season->tau;
    }
    return LoadHistory(record, today);
}

Result<Season> wholeSeasonWith(const Roster& roster, const RiderRecord& rider, const Season& season,
                               const std::vector<SeasonRecord>& seasons, const std::vector<DaySum>& sums,
                               Date today, Damage& damage) {
    const auto planned = roster.plannedDays(rider.id, today - 90, today, &damage);
    if (!planned)
        return tl::unexpected(planned.error());
    const auto checkIns = roster.checkIns(rider.id, &damage);
    if (!checkIns)
        return tl::unexpected(checkIns.error());
    std::map<Date, SolvedDay> days;
    for (const SolvedDay& d : *planned)
        days[d.date] = d;
    const Counted counted = countRidden(sums);
    return wholeSeason(season, rider, historyOf(rider, counted.points, &season, today), counted.points,
                       missesOf(days, counted.points, illDaysOf(*checkIns, seasons, today), today), today);
}

Result<std::optional<Season>> wholeSeasonOf(const Roster& roster, const RiderRecord& rider,
                                            const std::vector<DaySum>& sums, Date today, Damage& damage) {
    const auto seasons = roster.seasons(rider.id, &damage);
    if (!seasons)
        return tl::unexpected(seasons.error());
    if (seasons->empty() || seasons->front().standing != SeasonStanding::InForce)
        return std::nullopt;
    auto whole = wholeSeasonWith(roster, rider, seasons->front().season, *seasons, sums, today, damage);
    if (!whole)
        return tl::unexpected(whole.error());
    return std::move(*whole);
}

} // namespace marram
