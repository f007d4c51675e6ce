// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_picture.h"
#include "app/owners/workspace.h"
#include "app/season/season_scene.h"
#include "wording/wording.h"

namespace marram {
namespace {

/// Load of the weeks that is planned, from the plan and what was kept of earlier ones.
void fillPlannedWeeks(const Workspace& workspace, SeasonPicture& p) {
    std::map<Date, double> trained, whole;
    for (const PlannedDay& d : p.plan.days) {
        const auto kept = d.past ? workspace.chosen.facts().plannedOn(d.date) : std::nullopt;
        const double stress = d.past ? (kept ? kept->stress : 0) : d.stress;
        const bool race =
            (d.past ? kept && kept->role == Role::Race : d.role == Role::Race) || (!d.past && d.hours <= 0);
        (race ? whole : trained)[monday(d.date)] += stress;
    }
    // What was planned before this season began.
    for (auto it = workspace.chosen.planned().begin();
         it != workspace.chosen.planned().end() && it->first < p.season.start; ++it)
        (it->second.role == Role::Race ? whole : trained)[monday(it->first)] += it->second.stress;
    std::map<Date, Bands> hours;
    for (const PlannedWeek& w : p.plan.weeks)
        hours[monday(w.start)] = w.bandHours;
    for (const auto* part : {&trained, &whole})
        for (const auto& [week, points] : *part)
            p.planned[week] = layersOf(hours[week], trained[week], whole[week], p.season.lowThreshold);
}

void fillRiddenWeeks(const Workspace& workspace, SeasonPicture& p) {
    struct Done {
        Bands hours;
        double inBands = 0, whole = 0;
    };
    std::map<Date, Done> done;
    for (const RideRecord& r : workspace.chosen.rides()) {
        if (r.excluded)
            continue;
        Done& week = done[monday(r.day)];
        (r.score.bandSeconds ? week.inBands : week.whole) += workspace.chosen.facts().pointsOf(r);
        if (r.score.bandSeconds) {
            week.hours.low += r.score.bandSeconds->low / 3600;
            week.hours.middle += r.score.bandSeconds->middle / 3600;
            week.hours.high += r.score.bandSeconds->high / 3600;
        }
    }
    for (const auto& [week, d] : done)
        p.ridden[week] = layersOf(d.hours, d.inBands, d.whole, p.season.lowThreshold);
}

/// Fitness and form of the record before the plan, and fitness a year before each day of it.
void fillRecord(const Workspace& workspace, SeasonPicture& p) {
    const LoadHistory& history = workspace.chosen.history();
    const Date begin = history.begin();
    if (workspace.chosen.rides().empty())
        return;
    for (Date d = begin; d < std::min(p.season.start, p.today); d = d + 1) {
        p.record[d] = history.before(d + 1).fitness;
        p.recordForm[d] = history.before(d).form();
    }
    constexpr int year = 364; // whole weeks
    for (Date d = std::max(begin + year, p.season.start); d <= p.season.end && d - year < p.today; d = d + 1)
        p.lastYear[d] = history.before(d - year + 1).fitness;
}

/// How the last whole week went against what was planned for it.
void fillLastWeek(const Workspace& workspace, SeasonPicture& p) {
    const Date end = monday(p.today) - 1; // Sunday
    if (workspace.plans.alternative() != 0 || end < p.season.start)
        return;
    auto& week = p.last;
    for (Date d = end - 6; d <= end; d = d + 1) {
        const auto planned = workspace.chosen.facts().plannedOn(d);
        const double done = workspace.chosen.facts().riddenOn(d);
        week.done += done;
        if (planned) {
            week.known = true;
            week.points += planned->stress;
            week.planned += planned->stress > 0 ? 1 : 0;
            week.ridden += planned->stress > 0 && done >= 0.1 * planned->stress ? 1 : 0;
        }
    }
    if (const auto sunday = workspace.chosen.facts().plannedOn(end))
        week.plannedFitness = sunday->fitness;
    week.fitness = workspace.chosen.history().before(end + 1).fitness;
    week.form = workspace.chosen.history().before(p.today).form();
    p.outlook = workspace.chosen.outlookBefore();
}

/// How the races of this season went when they were ridden last.
void fillLastTime(const Workspace& workspace, SeasonPicture& p) {
    for (const Race& race : p.season.races) {
        const Race* last = nullptr;
        for (const SeasonRecord& s : workspace.chosen.seasons())
            if (s.standing != SeasonStanding::Alternative)
                for (const Race& r : s.season.races)
                    if (r.name == race.name && r.date < race.date && r.date < p.today &&
                        (!last || r.date > last->date))
                        last = &r;
        if (!last)
            continue;
        const LoadState then = workspace.chosen.history().before(last->date);
        QString words = wording("On %1 they woke up with a form of %2 and a fitness of %3.")
                            .arg(QString::fromStdString(dayText(last->date, p.today)),
                                 QString::fromStdString(signedText(then.form(), 0)),
                                 QString::fromStdString(fixedText(then.fitness, 0)));
        for (const std::string& said : {last->result, last->note})
            if (!said.empty())
                words +=
                    " " + QString::fromStdString(said) + (QString(".!?").contains(said.back()) ? "" : ".");
        p.lastTime[race.name] = words;
    }
}

} // namespace

SeasonPicture pictureOf(const Workspace& workspace) {
    SeasonPicture p;
    const auto& shown = workspace.plans.season();
    if (!shown)
        return p;
    p.subject = workspace.plans.seasonId();
    p.version = workspace.chosen.seasonVersion();
    p.rider = workspace.chosen.id();
    p.season = *shown;
    p.today = workspace.today();
    if (const RiderRecord* r = workspace.chosen.rider()) {
        p.season.hours = r->hours;
        p.bound = boundSentence(*r, p.today);
    }
    p.proposed = workspace.chosen.counted().byHours ? workspace.listening.proposedWords() : QString();
    p.counted = workspace.chosen.counted().byHours ? workspace.chosen.counted().unscored : 0;
    if (const auto of = workspace.plans.shown()) {
        // The season is the one this plan is of, not the one that may be being solved.
        p.season = of->season;
        p.season.hours = of->whole.hours;
        p.of = of;
        p.plan = of->solved->plan;
        p.hasPlan = true;
        p.misses = workspace.chosen.facts().misses();
        p.before = of->whole.before;
        p.chance = chanceByDay(of->whole, p.plan, of->whole.rules.miss, of->whole.rules.missRun);
        p.limits = workspace.plans.limits();
        p.explained = workspace.plans.isExplained();
    }
    if (const Plan* beside = workspace.plans.beside()) {
        p.beside = *beside;
        p.besideName =
            workspace.plans.alternative() != 0 ? wording("the season in force") : wording("before");
    }
    p.races = workspace.plans.chances();
    p.illSpells = workspace.chosen.facts().illSpells();
    fillLastWeek(workspace, p);
    fillLastTime(workspace, p);
    if (!workspace.plans.trying()) {
        p.answers = workspace.chosen.facts().knownAnswers(p.season);
        p.rhythm = workspace.chosen.facts().proposedRhythm();
    }
    fillPlannedWeeks(workspace, p);
    fillRiddenWeeks(workspace, p);
    fillRecord(workspace, p);
    for (const CheckIn& c : workspace.chosen.checkIns()) {
        bool low = false;
        for (const CheckInScale& s : checkInScales)
            low = low || (c.*s.value && *(c.*s.value) <= 2);
        p.checks[c.day] = {c.ill, low};
    }
    return p;
}

} // namespace marram
