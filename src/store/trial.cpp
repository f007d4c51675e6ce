// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/family.h"
#include "store/squad.h"
#include "store/whole_season.h"

#include <algorithm>

namespace marram {
namespace {

constexpr int lately = 42; ///< days whose longest ride says what a rider is used to

TeamHealth healthOf(const RiderRecord& rider, const std::vector<RideRecord>& rides, const std::set<Date>& ill,
                    Date today) {
    TeamHealth health;
    health.ill = ill.contains(today) || ill.contains(today - 1);
    health.injuries = injuriesOn(rider, today);
    for (const RideRecord& r : rides)
        if (!r.excluded && r.day >= today - lately && r.day <= today)
            health.longest = std::max(health.longest, static_cast<int>(r.score.duration));
    return health;
}

/// What a session ridden together is for this rider.
Result<std::vector<TeamAdvice>> adviceFor(const Roster& roster, const RiderRecord& rider,
                                          const SquadAddition& addition, const Season& now,
                                          const Plan& before, const std::vector<SeasonRecord>& seasons,
                                          Date today, Damage& damage) {
    const auto own = roster.ownFamilies(&damage);
    const auto checkIns = roster.checkIns(rider.id, &damage);
    const auto rides = roster.rides(rider.id, &damage);
    if (!own || !checkIns || !rides)
        return tl::unexpected(!own ? own.error() : !checkIns ? checkIns.error() : rides.error());
    return teamAdvice(now, before, addition,
                      healthOf(rider, *rides, illDaysOf(*checkIns, seasons, today), today),
                      FamilyBook::standard().with(*own), today);
}

} // namespace

/// The goal as it becomes, and what gives way that did not before.
static void compare(const Plan& before, const Plan& after, Date today, SquadTrial& trial) {
    if (trial.goalBefore)
        trial.goalAfter = sameGoal(*trial.goalBefore, after);
    if (!trial.goalAfter)
        trial.goalAfter = goalOf(after, today);
    for (const Relaxed& r : after.relaxed)
        if (std::none_of(before.relaxed.begin(), before.relaxed.end(),
                         [&](const Relaxed& b) { return b.text == r.text; }))
            trial.gaveWay.push_back(r.text);
}

Result<SquadTrial> tryAddition(const Roster& roster, const RiderRecord& rider, const SquadAddition& addition,
                               Date today) {
    SquadTrial trial;
    trial.rider = rider.id;
    trial.name = rider.name;
    Damage damage;
    const auto seasons = roster.seasons(rider.id, &damage);
    if (!seasons)
        return tl::unexpected(seasons.error());
    if (!seasons->empty() && seasons->front().standing == SeasonStanding::InForce)
        trial.season = seasons->front();
    const bool begins = addition.what == SquadAddition::What::Season;
    if (!trial.season && !begins) {
        trial.whyNot = "has no season";
        return trial;
    }
    const auto sums = roster.daySumsOf(rider.id, &damage);
    if (!sums)
        return tl::unexpected(sums.error());
    const auto whole = [&](const Season& season) {
        return wholeSeasonWith(roster, rider, season, *seasons, *sums, today, damage);
    };
    Plan before;
    if (trial.season) {
        const auto now = whole(trial.season->season);
        if (!now)
            return tl::unexpected(now.error());
        if (check(*now)) {
            before = solveSeason(*now).plan;
            trial.goalBefore = goalOf(before, today);
        }
        if (addition.what == SquadAddition::What::Team) {
            auto advice = adviceFor(roster, rider, addition, *now, before, *seasons, today, damage);
            if (!advice)
                return tl::unexpected(advice.error());
            trial.advice = std::move(*advice);
        }
    }
    const Season is = trial.season ? trial.season->season : Season{};
    trial.after = withAddition(is, addition, trial.advice);
    if (!trial.after) {
        trial.whyNot = QString::fromStdString(whyNotWith(is, addition, trial.advice));
        return trial;
    }
    if (addition.what == SquadAddition::What::Team) // the season asks for the same; its weeks make room
        return trial;
    const auto then = whole(*trial.after);
    if (!then)
        return tl::unexpected(then.error());
    if (auto ok = check(*then); !ok) {
        trial.after.reset();
        trial.whyNot = QString::fromStdString(ok.error().sentence);
        return trial;
    }
    compare(before, solveSeason(*then).plan, today, trial);
    return trial;
}

} // namespace marram
