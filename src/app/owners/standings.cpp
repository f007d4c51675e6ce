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

/// The days of the plan kept, of a span; empty where it cannot be read.
using PlannedDays = std::function<std::vector<SolvedDay>(Date from, Date to)>;

void takeLoad(const RiderRecord& who, const Season* season, const std::map<Date, double>& ridden,
              Standing& s) {
    LoadRecord record;
    record.ridden = ridden;
    record.usualWeekHours = who.usualWeekHours;
    if (season) {
        record.seasonStart = season->start;
        record.atSeasonStart = season->before;
        record.tau = season->tau;
    }
    const LoadHistory history(record, s.today);
    s.state = history.before(s.today);
    s.ramp = history.ramp(s.today);
    s.loadKnown = history.known();
    while (s.deepDays < 60 && history.form(s.today - s.deepDays) < -30)
        ++s.deepDays;
}

/// The last weeks as they were ridden, and what was missed of the last seven days.
void takeWeeks(const std::map<Date, double>& ridden, const PlannedDays& read, Standing& s) {
    const Date thisWeek = monday(s.today);
    constexpr int weeksBack = 5;
    std::map<Date, SolvedDay> planned;
    for (const SolvedDay& d : read(thisWeek - 7 * weeksBack, thisWeek + 6))
        planned[d.date] = d;
    if (s.unscored == 0 && s.lastRide)
        s.weeks = weeksRidden(ridden, planned, thisWeek - 7 * weeksBack, weeksBack + 1);
    for (const auto& [day, plan] : planned) {
        if (day < s.today - 7 || day >= s.today || plan.stress < 20 || ridden.contains(day))
            continue;
        if (plan.role == Role::Hard || plan.role == Role::Race || plan.role == Role::Test)
            s.missedKey.push_back(day);
        else
            ++s.missedOther;
    }
}

/// What the season in force says: its ramp, whether they are away, and the next race that matters.
void takeSeason(const Season& season, const PlannedDays& read, Standing& s) {
    s.rampLimit = season.rules.ramp;
    for (const Away& a : season.away)
        s.away = s.away || (a.from <= s.today && a.to >= s.today && a.why != AwayWhy::Camp);
    for (const Race& race : season.races) {
        if (race.priority == Priority::C || race.date < s.today ||
            (s.nextRaceDay && *s.nextRaceDay <= race.date))
            continue;
        s.nextRace = race.name;
        s.nextRaceDay = race.date;
        const std::vector<SolvedDay> days = read(race.date - 1, race.date);
        const auto on = [&](Date day) {
            return std::find_if(days.begin(), days.end(), [&](const SolvedDay& d) { return d.date == day; });
        };
        const auto p = on(race.date), eve = on(race.date - 1);
        const auto gate = eve != days.end() ? raceGate(race, eve->fitness) : raceGate(race);
        s.raceMiss = gate && p != days.end() ? std::max({0.0, gate->low - p->form, p->form - gate->high}) : 0;
    }
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

std::vector<DaySum>& Standings::sumsOf(qint64 rider, const TimeConstants& tau, Damage& damage) const {
    const Roster& file = roster_.file();
    const Date today = clock_.today();
    if (!sums_)
        sums_ = file.daySumsSince(firstThatCounts({}, today), &damage)
                    .value_or(std::map<qint64, std::vector<DaySum>>{});
    std::vector<DaySum>& sums = (*sums_)[rider];
    // Where that is not enough to say how they stand, all there is.
    if (sums.empty() || countRidden(sums).byHours || firstThatCounts(tau, today) < firstThatCounts({}, today))
        sums = recentSums(file, rider, tau, today, damage).value_or(std::vector<DaySum>{});
    if (sums.empty())
        sums = file.daySumsOf(rider, &damage).value_or(std::vector<DaySum>{});
    return sums;
}

void Standings::readWhatIsShared(Damage& damage) const {
    const Date today = clock_.today();
    if (!checkIns_)
        checkIns_ = roster_.file()
                        .checkInsSince(today - checkInWindow, &damage)
                        .value_or(std::map<qint64, std::vector<CheckIn>>{});
    if (!proposed_)
        proposed_ = roster_.file().proposed(&damage).value_or(std::map<qint64, std::vector<KeptProposal>>{});
}

/// Who rode with power after a day, four weeks before the last ride, has a power meter.
static bool powerWithin(const std::vector<DaySum>& sums, Date after) {
    return std::any_of(sums.begin(), sums.end(), [&](const DaySum& d) { return d.byPower && d.day > after; });
}

static std::optional<std::string> testDue(const std::vector<TestRecord>& tests, Date today, bool hasPower) {
    std::vector<TestResult> results;
    results.reserve(tests.size());
    for (const TestRecord& t : tests)
        results.push_back(t.result);
    for (const DueTest& d : testsDue(results, today, {}, hasPower))
        if (d.from <= today)
            return phrase("%1 is due. %2", translated(wordsFor(d.protocol).name), d.why);
    return {};
}

Standing Standings::standingOf(const RiderRecord& who) const {
    const Roster& file = roster_.file();
    const Date today = clock_.today();
    Damage damage; // told when the rider is chosen
    Standing s;
    s.today = today;
    const auto found = file.seasonInForce(who.id, &damage).value_or(std::nullopt);
    const Season* season = found ? &found->season : nullptr;
    const std::vector<DaySum>& sums = sumsOf(who.id, season ? season->tau : TimeConstants{}, damage);
    readWhatIsShared(damage);
    for (const KeptProposal& p : (*proposed_)[who.id])
        if (stillOpen(p, who))
            s.proposed.push_back(proposalSentence(p, today).toStdString());
    const Counted counted = countRidden(sums);
    s.unscored = counted.byHours ? counted.unscored : 0;
    takeLoad(who, season, counted.points, s);
    const auto& ridden = counted.points;
    if (!ridden.empty())
        s.lastRide = std::min(std::prev(ridden.end())->first, today);
    const PlannedDays planned = [&](Date from, Date to) {
        return file.plannedDays(who.id, from, to, &damage).value_or(std::vector<SolvedDay>{});
    };
    takeWeeks(ridden, planned, s);
    if (season)
        takeSeason(*season, planned, s);
    const auto& known = who.values;
    if (const DatedValue* t = known.entryOn(Quantity::ThresholdPower, today)) {
        s.thresholdFrom = t->from;
        s.thresholdAtLeast = t->atLeast;
    }
    s.hasPower =
        ridden.empty() || powerWithin(sums, *s.lastRide - 28) ||
        (known.of(Quantity::ThresholdPower).empty() && known.of(Quantity::ThresholdHeartRate).empty());
    s.checkIns = checkInConcerns((*checkIns_)[who.id], today);
    if (s.thresholdFrom && s.lastRide)
        if (const auto tests = file.tests(who.id, &damage))
            s.testDue = testDue(*tests, today, s.hasPower);
    return s;
}

} // namespace marram

#include "moc_standings.cpp"
