// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/squad.h"

#include <algorithm>
#include <map>

namespace marram {

std::vector<RaceFit> fitsFor(const SquadRace& race, const std::vector<SquadRow>& rows,
                             const std::vector<RiderRecord>& riders) {
    std::vector<RaceFit> all;
    for (const SquadRow& row : rows) {
        const auto rider = std::find_if(riders.begin(), riders.end(),
                                        [&](const RiderRecord& r) { return r.id == row.rider; });
        if (rider == riders.end())
            continue;
        RaceFit fit;
        fit.rider = row.rider;
        fit.name = row.name;
        for (const auto& [day, form] : row.forms)
            if (day == race.date)
                fit.form = form;
        for (const SquadRace& own : row.races)
            if (own.name == race.name && own.date == race.date) {
                fit.rides = true;
                fit.form = own.form;
                fit.fitness = own.fitness;
                fit.chance = own.chance;
            }
        const DatedValue* threshold = rider->values.entryOn(Quantity::ThresholdPower, race.date);
        if (threshold) {
            fit.bound = threshold->atLeast;
            if (const auto asked =
                    rideCourse(race.course, movingOf(*rider, race.date), threshold->value, {})) {
                fit.seconds = asked->duration;
                fit.power = asked->power;
                fit.share = asked->intensity;
                if (const auto kilos = rider->values.on(Quantity::Weight, race.date))
                    fit.perKilo = asked->power / *kilos;
                for (const Climb& c : asked->climbs)
                    fit.climb = std::max(fit.climb.value_or(0), c.duration);
            }
        }
        all.push_back(std::move(fit));
    }
    std::stable_sort(all.begin(), all.end(), [](const RaceFit& a, const RaceFit& b) {
        return QString::localeAwareCompare(a.name, b.name) < 0;
    });
    return all;
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

std::vector<std::pair<Date, Date>> sharedCamps(const std::vector<SquadRow>& rows) {
    std::map<std::pair<Date, Date>, int> counts;
    for (const SquadRow& row : rows)
        for (const Away& a : row.away)
            counts[{a.from, a.to}] += a.why == AwayWhy::Camp ? 1 : 0;
    std::vector<std::pair<Date, Date>> shared;
    for (const auto& [days, count] : counts)
        if (count > 1)
            shared.push_back(days);
    return shared;
}

} // namespace marram
