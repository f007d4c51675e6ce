// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/shown_season.h"
#include "core/season/proposals.h"
#include "records/records.h"
#include <QString>
#include <map>

namespace marram {

struct Workspace;

/// A week's stress in its layers, points: by band where that is known, races and camps whole.
struct Sediment {
    Bands band;
    double whole = 0;
    double sum() const { return band.sum() + whole; }
};

/// What the season view shows, as plain values: no widget, no roster, no solver.
struct SeasonPicture {
    qint64 subject = 0;  ///< id of the season
    quint64 version = 0; ///< of the season in force; what is held in the hand was taken from one version
    qint64 rider = 0;
    Season season;
    Plan plan;
    std::shared_ptr<const ShownSeason> of; ///< what season and plan were taken from; null without a plan
    std::vector<Limit> limits;             ///< of this plan, once worked out
    bool explained = false;                ///< they are
    LoadState before;                      ///< the rider's, as the season begins
    QString bound;    ///< what a threshold that is a lower bound means; empty where it is none
    QString proposed; ///< what the record proposes where rides carry no points
    int counted = 0;  ///< rides without points that count by their hours; 0 where rides carry points
    bool hasPlan = false;
    Date today;
    std::map<Date, Sediment> planned; ///< by Monday, also for weeks gone by
    std::map<Date, Sediment> ridden;  ///< by Monday
    std::map<Date, double> record;    ///< fitness at the end of days the record reaches and the plan does not
    std::map<Date, double> recordForm; ///< form of the same days, on waking
    std::map<Date, double> lastYear;   ///< fitness 52 weeks before each day, under the day it stands for
    std::vector<ChanceOfDay> chance;   ///< of planned days, once computed
    std::vector<RaceChance> races;     ///< simulated, once computed
    double illSpells = 1;              ///< a year, in what was simulated
    MissRate misses;
    Questions answers; ///< what the record answers
    Proposal rhythm;

    struct CheckMark {
        bool ill = false, low = false;
    };
    std::map<Date, CheckMark> checks; ///< days with a check-in
    /// How the week that has ended went, of the season in force.
    struct Week {
        bool known = false;
        int planned = 0, ridden = 0; ///< days with a plan; of those with a ride of at least a tenth of it
        double points = 0, done = 0;
        std::optional<double> plannedFitness; ///< on Sunday night
        double fitness = 0, form = 0;         ///< now, and on waking today
    } last;
    std::map<std::string, QString> lastTime; ///< how a race of the same name went before, by name
    std::vector<Outlook> outlook;            ///< what was expected of the races a week ago
    std::string dayWhy;                      ///< where the chosen day's role and load come from
    std::optional<Plan> beside;              ///< the plan this one is tried against, or an alternative
    QString besideName;

    double plannedIn(Date week) const { return sumIn(planned, week); }
    double riddenIn(Date week) const { return sumIn(ridden, week); }

private:
    static double sumIn(const std::map<Date, Sediment>& weeks, Date day) {
        const auto found = weeks.find(monday(day));
        return found == weeks.end() ? 0 : found->second.sum();
    }
};

/// The picture as everything stands now, of one version of one season.
SeasonPicture pictureOf(const Workspace& workspace);

/// What an editor remembers of the race it shows: which season's, by name and day, not by its place in a
/// list.
qint64 raceKey(qint64 season, const Race& race);
/// The race of that key in a season, or null.
Race* raceOfKey(qint64 key, qint64 season, Season& in);

/// A week's training in layers: the hours of each band at the rider's own points an hour, scaled to what the
/// week carries.
Sediment layersOf(const Bands& hours, double trained, double whole, double lowThreshold);

} // namespace marram
