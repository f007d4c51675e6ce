// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_tries.h"
#include "wording/wording.h"

#include <algorithm>
#include <array>

namespace marram {
namespace {

constexpr std::array tradeSchools{School::Polarised, School::Pyramidal, School::ThresholdLed, School::Even};
constexpr std::array tradeOrders{Order::BaseFirst, Order::Mixed, Order::IntensityFirst};

/// Every week from `from` on with an hour more on a weekday; what the coach says of a week stays.
Season withAnHour(const Season& season, Date from, size_t day) {
    Season s = season;
    for (Date week = monday(from); week <= season.end; week = week + 7)
        s = withPin(s, week, [&](WeekPin& p) {
            WeekHours hours = p.hours.value_or(season.hours);
            hours[day] = std::min(24.0, hours[day] + 1);
            p.hours = hours;
        });
    return s;
}

Season withAway(const Season& season, Date from, AwayWhy why) {
    Season s = season;
    s.away.push_back({from, from + 6, why, why == AwayWhy::Camp ? std::optional(800.0) : std::nullopt});
    return s;
}

template <class Change>
Season changed(const Season& season, const Change& change) {
    Season s = season;
    change(s);
    return s;
}

} // namespace

std::vector<SeasonTry> variantsOf(const Season& season) {
    std::vector<SeasonTry> all;
    for (const School school : tradeSchools)
        if (school != season.rules.school)
            all.push_back({marked("Schools"), wording(nameOf(school)), changed(season, [&](Season& s) {
                               s.rules.school = school;
                               s.rules.ownSplits.clear();
                           })});
    for (const Order order : tradeOrders)
        if (order != season.rules.order)
            all.push_back({marked("Orders"), wording(nameOf(order)),
                           changed(season, [&](Season& s) { s.rules.order = order; })});
    for (const int weeks : {2, 3, 4})
        if (weeks != season.rules.buildWeeks || season.rules.deloadWeeks != 1)
            all.push_back({marked("Rhythms"), QString("%1:1").arg(weeks), changed(season, [&](Season& s) {
                               s.rules.buildWeeks = weeks;
                               s.rules.deloadWeeks = 1;
                           })});
    for (const int days : {7, 10, 14, 21})
        if (days != season.rules.taperDays || season.rules.taperBest)
            all.push_back(
                {marked("Tapers"), wording("a taper of %1 days").arg(days), changed(season, [&](Season& s) {
                     s.rules.taperDays = days;
                     s.rules.taperBest = false;
                     s.rules.taperSet = true;
                 })});
    return all;
}

std::vector<SeasonTry> changesToTry(const SeasonPicture& picture, Date day) {
    static const std::array weekdays{wording("Mondays"),   wording("Tuesdays"), wording("Wednesdays"),
                                     wording("Thursdays"), wording("Fridays"),  wording("Saturdays"),
                                     wording("Sundays")};
    const Season& s = picture.season;
    const Date from = std::max(day, picture.today);
    const QString when = QString::fromStdString(dayText(from));
    std::vector<SeasonTry> all;
    for (size_t d = 0; d < 7; ++d)
        all.push_back({wording("An hour more"), wording("an hour more on %1").arg(weekdays[d]),
                       withAnHour(s, picture.today, d)});
    all.push_back({{}, wording("ill for a week from %1", when), withAway(s, from, AwayWhy::Illness)});
    all.push_back({{},
                   wording("the week of %1 missed", QString::fromStdString(dayText(monday(from)))),
                   withAway(s, monday(from), AwayWhy::Holiday)});
    all.push_back({{},
                   wording("a camp in the week of %1", QString::fromStdString(dayText(monday(from)))),
                   withAway(s, monday(from), AwayWhy::Camp)});
    all.push_back({{}, wording("a B race more on %1", when), changed(s, [&](Season& season) {
                       Race race;
                       race.name = phrase("New race B");
                       race.date = std::clamp(from, season.start, season.end);
                       race.priority = Priority::B;
                       season.races.push_back(race);
                   })});
    for (SeasonTry& variant : variantsOf(s)) {
        variant.group = variant.group == "Schools"   ? wording("Another school")
                        : variant.group == "Orders"  ? wording("Another order")
                        : variant.group == "Rhythms" ? wording("Another rhythm")
                                                     : wording("Another taper");
        all.push_back(std::move(variant));
    }
    return all;
}

} // namespace marram
