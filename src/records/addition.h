// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/season/proposals.h"
#include "records/records.h"

namespace marram {

/// What is put on several riders at once.
struct SquadAddition {
    enum class What {
        Race,    ///< one, or a series
        Camp,    ///< carries its stress
        Away,    ///< days on which nothing is trained
        Team,    ///< a session ridden together, once or every week
        Deloads, ///< deload weeks that are the same for all
        Move,    ///< a race the squad rides, to another day
        Rule,    ///< one rule as another rider's season has it
        Rules,   ///< all of them
        Season ///< a season begun from another rider's: rules, races, camps; hours and values stay their own
    } what = What::Race;
    std::string name; ///< of a race, or of what is ridden together
    Date from;        ///< first day; of deloads any day of the first week; of a move the day it was on
    int days = 1;
    Priority priority = Priority::C;
    std::optional<double> stress; ///< points of a race or a camp; as is usual where empty
    int times = 1;                ///< how often
    int everyWeeks = 1;           ///< from one to the next
    Demand demand = Demand::Unstated;
    std::vector<CoursePoint> course; ///< of a race; empty without
    // What is ridden together.
    std::string family;      ///< where it is not in words
    std::optional<int> rung; ///< 1 the first
    int minutes = 120;
    std::string words; ///< shorthand; targets are of each rider's own threshold
    // From elsewhere.
    Date to; ///< of a move
    RuleName rule = RuleName::Ramp;
    std::optional<Season> of; ///< the season rules, or all, are taken from

    /// The days it stands on: its first, and those after it.
    std::vector<Date> dates() const;
};

/// How a rider takes part in what is ridden together.
enum class TeamPart { AsAsked, Shorter, Easier, Not };

/// What is advised for one rider on one day, and why.
struct TeamAdvice {
    Date date;
    TeamPart part = TeamPart::AsAsked;
    int minutes = 0;
    std::string why; ///< empty for as asked; else the end of a sentence: "has 1 h 30 that day"
};

/// What is known of a rider's health beside the season.
struct TeamHealth {
    bool ill = false; ///< marked ill today or yesterday
    std::vector<std::string> injuries;
    int longest = 0; ///< s, of any ride of the last six weeks; 0 where nothing is recorded
};

/// Who of a team day should ride it as asked, shorter, easier or not at all: not when away, racing, ill or
/// without time; easier when recovering or returning, under care, injured for it, or before a race; shorter
/// in deloads and tapers, with less time, or far beyond what was ridden lately. Common practice.
std::vector<TeamAdvice> teamAdvice(const Season& whole, const Plan& plan, const SquadAddition& team,
                                   const TeamHealth& health, const FamilyBook& book, Date today);

/// A season with it; nothing where it cannot be: the season does not reach it, has it already, or could not
/// hold it. `advice` is that of what is ridden together: who is not to ride gets nothing.
std::optional<Season> withAddition(const Season& season, const SquadAddition& addition,
                                   const std::vector<TeamAdvice>& advice = {});

/// The race a trial is judged by: the first A race to come, else the first B race.
struct Goal {
    std::string race;
    Date date;
    double form = 0, fitness = 0; ///< on its morning
    std::optional<double> chance; ///< of its gate
};
std::optional<Goal> goalOf(const Plan& plan, Date today);
/// The race of that name in another plan, on the day nearest to it.
std::optional<Goal> sameGoal(const Goal& goal, const Plan& plan);

/// What an addition would do to one rider, each solved on its own.
struct SquadTrial {
    qint64 rider = 0;
    QString name;
    std::optional<SeasonRecord> season; ///< in force
    std::optional<Season> after;        ///< with it; empty where it cannot be
    QString whyNot;                     ///< why not, as the end of a sentence; empty where it can
    std::optional<Goal> goalBefore, goalAfter;
    std::vector<std::string> gaveWay; ///< what could not be kept any more, a sentence each
    std::vector<TeamAdvice> advice;   ///< of what is ridden together
};

/// Why a season takes an addition not, as the end of a sentence: "has it already".
std::string whyNotWith(const Season& season, const SquadAddition& addition,
                       const std::vector<TeamAdvice>& advice);

/// What it is, for a step to undo and a heading: "Tide Race", "a camp", "the rule Ramp".
QString wordsFor(const SquadAddition& addition);
/// The name of a rule as a coach says it.
std::string labelOf(RuleName rule);
inline constexpr std::array allRules{
    RuleName::Order,    RuleName::School, RuleName::Rhythm,   RuleName::Ramp,      RuleName::Floor,
    RuleName::Deload,   RuleName::Taper,  RuleName::Shape,    RuleName::Overreach, RuleName::Volume,
    RuleName::HardDays, RuleName::Gym,    RuleName::GatePrice};

/// A season begun from another rider's on `today` or its own first day: its days, rules, A and B races and
/// camps. What is the rider's own – hours, values, gates, results – is not taken over.
Season seasonLike(const Season& other);

} // namespace marram
