// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/records.h"
#include <memory>

namespace marram {

/// A day of some weeks, with the session as it was promised, else as it is worked out now.
struct DayAhead {
    Date date;
    Role role = Role::Rest;
    std::string family, title;
    std::string team;  ///< what is ridden with others, by name; empty for a day of one's own
    int seconds = 0;   ///< of the session, off the bicycle too
    double stress = 0; ///< points
    QString words;     ///< the session in words; empty for rest
};

/// A race of a rider as it stands ahead.
struct SquadRace {
    std::string name;
    Date date;
    int days = 1;
    Priority priority = Priority::C;
    double form = 0, fitness = 0; ///< on its morning, nothing missed
    std::optional<Gate> gate;
    std::optional<double> chance;    ///< share of seasons inside the gate
    std::vector<CoursePoint> course; ///< its profile; empty without
    std::optional<Date> squad;       ///< the day the squad rides it, where it came from there
};

/// A rider beside others: what lies ahead, thin enough for a row.
struct SquadRow {
    qint64 rider = 0;
    QString name;
    double fitness = 0, form = 0;                 ///< this morning
    std::vector<std::pair<Date, double>> forms;   ///< on waking, in order: ridden up to today, then planned
    std::vector<Date> deloads;                    ///< Mondays of deload weeks
    std::vector<std::pair<Date, WeekKind>> weeks; ///< what each is, by its Monday, in order
    std::vector<Away> away;
    std::vector<SquadRace> races;         ///< in order of date, those of the last weeks too
    std::shared_ptr<const Season> season; ///< in force, as the coach set it; none without
    bool planned = false;                 ///< there is a season ahead
    bool fresh = false;                   ///< solved for today; else as it was kept last
    std::vector<DayAhead> week;           ///< of the week asked for; where fresh
};

/// What a course asks of a rider, and what they bring to it.
struct RaceFit {
    qint64 rider = 0;
    QString name;
    std::optional<double> seconds, power, share, perKilo; ///< s; W, of threshold, W/kg that are held for that
                                                          ///< long; none without a threshold
    std::optional<double> climb;                          ///< s on its longest climb at that power
    std::optional<double> form, fitness, chance; ///< of that morning; the last two where it is theirs
    bool rides = false;                          ///< it is in their season
    bool bound = false;                          ///< the threshold is a lower bound only
};
/// Each rider of the rows beside a race's course, by name: time and power at what can be held for as long as
/// it takes, on a bicycle of 8 kg. No order of merit.
std::vector<RaceFit> fitsFor(const SquadRace& race, const std::vector<SquadRow>& rows,
                             const std::vector<RiderRecord>& riders);

/// The race of priority A or B that a rider rides next; null without one.
const SquadRace* nextRace(const SquadRow& row, Date today);

/// Races that two riders and more of the squad ride on the same day, by name and day, in order of day.
std::vector<std::pair<Date, std::string>> sharedRaces(const std::vector<SquadRow>& rows);

/// Camps that two riders and more go to together, their first and last day, in order.
std::vector<std::pair<Date, Date>> sharedCamps(const std::vector<SquadRow>& rows);

} // namespace marram
