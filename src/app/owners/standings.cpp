// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/standings.h"
#include "core/load/history.h"
#include "store/squad.h"
#include "wording/wording.h"

#include <QSignalBlocker>
#include <algorithm>

namespace marram {

Standings::Standings(OpenRoster& roster, PlanService& plans, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), clock_(clock) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        const QSignalBlocker quiet(this); // ridersChanged() follows, and is told on
        forget(0);
    });
    // What they rode is what it was; who is new is read when it is asked for.
    connect(&roster_, &OpenRoster::ridersChanged, this, [this] {
        auto sums = std::move(sums_);
        const QSignalBlocker quiet(this);
        forget(0);
        if (roster_.isOpen())
            sums_ = std::move(sums);
    });
    connect(&roster_, &OpenRoster::ridersChanged, this, &Standings::changed);
    connect(&roster_, &OpenRoster::touched, this, [this](const Touched& what) { forget(what.rider); });
    connect(&plans, &PlanService::planChanged, this, [this, &plans] {
        if (!plans.trying())
            forget(0);
    });
    connect(&roster_, &OpenRoster::heardKept, this, &Standings::forget);
    connect(&clock_, &Clock::dayChanged, this, [this] { forget(0); });
}

namespace {

std::vector<WeekRidden> weeksRidden(const std::map<Date, double>& ridden,
                                    const std::map<Date, SolvedDay>& planned, Date first, int count) {
    std::vector<WeekRidden> weeks;
    for (Date start = first; start < first + 7 * count; start = start + 7) {
        WeekRidden w{start, 0, std::nullopt};
        for (Date d = start; d < start + 7; d = d + 1) {
            if (const auto r = ridden.find(d); r != ridden.end())
                w.ridden += r->second;
            if (const auto p = planned.find(d); p != planned.end())
                w.planned = w.planned.value_or(0) + p->second.stress;
        }
        weeks.push_back(w);
    }
    return weeks;
}

} // namespace

void Standings::forget(qint64 rider) {
    if (rider == 0)
        kept_.clear();
    else
        kept_.erase(rider);
    sums_.reset();
    checkIns_.reset();
    proposed_.reset();
    emit changed();
}

const Standing& Standings::of(qint64 id) const {
    const auto kept = kept_.find(id);
    if (kept != kept_.end())
        return kept->second;
    static const RiderRecord nobody;
    const RiderRecord* who = roster_.rider(id);
    static const Standing unknown;
    if (!roster_.isOpen())
        return unknown;
    return kept_[id] = standingOf(who ? *who : nobody);
}

Standing Standings::standingOf(const RiderRecord& who) const {
    const Roster& file = roster_.file();
    const Date today = clock_.today();
    Damage damage; // told when the rider is chosen
    Standing s;
    s.today = today;
    const auto found = file.seasonInForce(who.id, &damage).value_or(std::nullopt);
    const Season* season = found ? &found->season : nullptr;
    const TimeConstants tau = season ? season->tau : TimeConstants{};
    if (!sums_)
        sums_ = file.daySumsSince(firstThatCounts({}, today), &damage)
                    .value_or(std::map<qint64, std::vector<DaySum>>{});
    std::vector<DaySum>& sums = (*sums_)[who.id];
    // Where that is not enough to say how they stand, all there is.
    if (sums.empty() || countRidden(sums).byHours || firstThatCounts(tau, today) < firstThatCounts({}, today))
        sums = recentSums(file, who.id, tau, today, damage).value_or(std::vector<DaySum>{});
    if (sums.empty())
        sums = file.daySumsOf(who.id, &damage).value_or(std::vector<DaySum>{});
    if (!checkIns_)
        checkIns_ = file.checkInsSince(today - checkInWindow, &damage)
                        .value_or(std::map<qint64, std::vector<CheckIn>>{});
    if (!proposed_)
        proposed_ = file.proposed(&damage).value_or(std::map<qint64, std::vector<KeptProposal>>{});
    for (const KeptProposal& p : (*proposed_)[who.id])
        if (stillOpen(p, who))
            s.proposed.push_back(proposalSentence(p, today).toStdString());
    LoadRecord record;
    std::optional<Date> lastPower;
    for (const DaySum& d : sums)
        if (d.byPower)
            lastPower = d.day;
    const Counted counted = countRidden(sums);
    record.ridden = counted.points;
    s.unscored = counted.byHours ? counted.unscored : 0;
    const auto& ridden = record.ridden;
    record.usualWeekHours = who.usualWeekHours;
    if (season) {
        record.seasonStart = season->start;
        record.atSeasonStart = season->before;
        record.tau = season->tau;
    }
    const LoadHistory history(record, today);
    s.state = history.before(today);
    s.ramp = history.ramp(today);
    s.loadKnown = history.known();
    while (s.deepDays < 60 && history.form(today - s.deepDays) < -30)
        ++s.deepDays;
    if (!ridden.empty())
        s.lastRide = std::min(std::prev(ridden.end())->first, today);
    std::map<Date, SolvedDay> planned;
    const auto take = [&](Date from, Date to) {
        if (const auto days = file.plannedDays(who.id, from, to, &damage))
            for (const SolvedDay& d : *days)
                planned[d.date] = d;
    };
    const Date thisWeek = monday(today);
    constexpr int weeksBack = 5;
    take(thisWeek - 7 * weeksBack, thisWeek + 6);
    if (s.unscored == 0 && s.lastRide)
        s.weeks = weeksRidden(ridden, planned, thisWeek - 7 * weeksBack, weeksBack + 1);
    for (const auto& [day, plan] : planned) {
        if (day < today - 7 || day >= today || plan.stress < 20 || ridden.contains(day))
            continue;
        if (plan.role == Role::Hard || plan.role == Role::Race || plan.role == Role::Test)
            s.missedKey.push_back(day);
        else
            ++s.missedOther;
    }
    if (season) {
        s.rampLimit = season->rules.ramp;
        for (const Away& a : season->away)
            s.away = s.away || (a.from <= today && a.to >= today && a.why != AwayWhy::Camp);
        for (const Race& race : season->races) {
            if (race.priority == Priority::C || race.date < today ||
                (s.nextRaceDay && *s.nextRaceDay <= race.date))
                continue;
            s.nextRace = race.name;
            s.nextRaceDay = race.date;
            take(race.date - 1, race.date);
            const auto p = planned.find(race.date), eve = planned.find(race.date - 1);
            const auto gate = eve != planned.end() ? raceGate(race, eve->second.fitness) : raceGate(race);
            s.raceMiss = gate && p != planned.end()
                             ? std::max({0.0, gate->low - p->second.form, p->second.form - gate->high})
                             : 0;
        }
    }
    const auto& known = who.values;
    if (const DatedValue* t = known.entryOn(Quantity::ThresholdPower, today)) {
        s.thresholdFrom = t->from;
        s.thresholdAtLeast = t->atLeast;
    }
    // Who rode with power in the four weeks before the last ride has a power meter.
    s.hasPower =
        ridden.empty() || (lastPower && *s.lastRide - *lastPower < 28) ||
        (known.of(Quantity::ThresholdPower).empty() && known.of(Quantity::ThresholdHeartRate).empty());
    s.checkIns = checkInConcerns((*checkIns_)[who.id], today);
    std::vector<TestResult> results;
    if (const auto tests = file.tests(who.id, &damage))
        for (const TestRecord& t : *tests)
            results.push_back(t.result);
    if (s.thresholdFrom && s.lastRide)
        for (const DueTest& d : testsDue(results, today, {}, s.hasPower))
            if (d.from <= today && !s.testDue)
                s.testDue = phrase("%1 is due. %2", translated(wordsFor(d.protocol).name), d.why);
    return s;
}

} // namespace marram

#include "moc_standings.cpp"
