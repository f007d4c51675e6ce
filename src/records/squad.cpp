// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/squad.h"

#include <map>

namespace marram {

std::optional<Season> withAddition(const Season& season, const SquadAddition& a) {
    const Date last = a.from + a.days - 1;
    if (a.from < season.start || last > season.end)
        return std::nullopt;
    Season with = season;
    if (a.what == SquadAddition::What::Race) {
        for (const Race& r : season.races)
            if (r.name == a.name && r.date == a.from)
                return std::nullopt;
        Race race;
        race.name = a.name;
        race.date = a.from;
        race.days = a.days;
        race.priority = a.priority;
        race.stress = a.stress;
        with.races.push_back(std::move(race));
    } else {
        const bool camp = a.what == SquadAddition::What::Camp;
        with.away.push_back({a.from, last, camp ? AwayWhy::Camp : AwayWhy::Holiday,
                             camp ? a.stress : std::optional<double>()});
    }
    if (!check(with))
        return std::nullopt;
    return with;
}

const SquadRace* nextRace(const SquadRow& row, Date today) {
    for (const SquadRace& r : row.races)
        if (r.date >= today && r.priority != Priority::C)
            return &r;
    return nullptr;
}

std::vector<std::pair<Date, std::string>> sharedRaces(const std::vector<SquadRow>& rows) {
    std::map<std::pair<Date, std::string>, int> counts;
    for (const SquadRow& row : rows)
        for (const SquadRace& r : row.races)
            ++counts[{r.date, r.name}];
    std::vector<std::pair<Date, std::string>> shared;
    for (const auto& [race, count] : counts)
        if (count > 1)
            shared.push_back(race);
    return shared;
}

} // namespace marram
