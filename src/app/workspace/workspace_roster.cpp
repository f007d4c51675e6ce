// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/commands.h"
#include "app/workspace/workspace.h"
#include "core/review/history.h"
#include "formats/csv/csv.h"
#include "formats/recording/recording.h"

#include <QSaveFile>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

std::vector<TestResult> resultsOf(const std::vector<TestRecord>& records) {
    std::vector<TestResult> results;
    for (const TestRecord& t : records)
        results.push_back(t.result);
    return results;
}

} // namespace

void Workspace::forgetStandings() {
    standings_.clear();
    sums_.reset();
    recentCheckIns_.reset();
}

const Standing& Workspace::standing(qint64 id) const {
    const auto kept = standings_.find(id);
    if (kept != standings_.end())
        return kept->second;
    const auto who =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == id; });
    static const RiderRecord nobody;
    return standings_[id] = standingOf(who == riders_.end() ? nobody : *who);
}

Standing Workspace::standingOf(const RiderRecord& who) const {
    Standing s;
    s.today = today_;
    const bool here = who.id == rider_;
    if (!sums_)
        sums_ = roster_->daySums().value_or(std::map<qint64, std::vector<DaySum>>{});
    if (!recentCheckIns_)
        recentCheckIns_ =
            roster_->checkInsSince(today_ - 28).value_or(std::map<qint64, std::vector<CheckIn>>{});
    std::map<Date, double> ridden;
    std::optional<Date> lastPower;
    for (const DaySum& d : (*sums_)[who.id]) {
        if (!here)
            ridden[d.day] = d.stress;
        if (d.byPower)
            lastPower = d.day;
    }
    if (here) {
        ridden = ridden_;
        for (const RideRecord& r : rides_)
            if (r.score.method == StressMethod::Power && (!lastPower || r.day > *lastPower))
                lastPower = r.day;
    }
    const auto season = here ? season_ : roster_->season(who.id).value_or(std::nullopt);
    const TimeConstants tau = season ? season->tau : TimeConstants{};
    s.state = modelUpTo(ridden, today_, {}, tau);
    s.ramp = s.state.fitness - modelUpTo(ridden, today_ - 7, s.state, tau).fitness;
    if (!ridden.empty())
        s.lastRide = std::prev(ridden.end())->first;
    if (s.lastRide && *s.lastRide > today_)
        s.lastRide = today_;
    std::map<Date, SolvedDay> planned;
    const auto take = [&](Date from, Date to) {
        if (here) {
            for (auto d = planned_.lower_bound(from); d != planned_.end() && d->first <= to; ++d)
                planned.insert(*d);
        } else if (const auto days = roster_->solvedDays(who.id, from, to)) {
            for (const SolvedDay& d : *days)
                planned[d.date] = d;
        }
    };
    take(today_ - 7, today_ - 1);
    for (const auto& [day, plan] : planned) {
        if (plan.stress < 20 || ridden.contains(day))
            continue;
        if (plan.role == Role::Hard || plan.role == Role::Race || plan.role == Role::Test)
            s.missedKey.push_back(day);
        else
            ++s.missedOther;
    }
    if (season) {
        s.rampLimit = season->rules.ramp;
        for (const Away& a : season->away)
            s.away = s.away || (a.from <= today_ && a.to >= today_ && a.why != AwayWhy::Camp);
        for (const Race& race : season->races) {
            if (race.priority == Priority::C || race.date < today_ ||
                (s.nextRaceDay && *s.nextRaceDay <= race.date))
                continue;
            s.nextRace = race.name;
            s.nextRaceDay = race.date;
            const auto gate = raceGate(race);
            take(race.date, race.date);
            const auto p = planned.find(race.date);
            s.raceMiss = gate && p != planned.end()
                             ? std::max({0.0, gate->low - p->second.form, p->second.form - gate->high})
                             : 0;
        }
    }
    const auto& known = who.values;
    if (const DatedValue* t = known.entryOn(Quantity::ThresholdPower, today_))
        s.thresholdFrom = t->from;
    // Who rode with power in the four weeks before the last ride has a power meter.
    s.hasPower =
        ridden.empty() || (lastPower && *s.lastRide - *lastPower < 28) ||
        (known.of(Quantity::ThresholdPower).empty() && known.of(Quantity::ThresholdHeartRate).empty());
    const auto& checkIns = here ? checkIns_ : (*recentCheckIns_)[who.id];
    s.checkIn = checkInConcern(checkIns, today_);
    for (const CheckIn& c : checkIns)
        s.ill = s.ill || (c.ill && today_ - c.day >= 0 && today_ - c.day < 3);
    const auto tests = here ? tests_ : roster_->tests(who.id).value_or(std::vector<TestRecord>{});
    if (s.thresholdFrom && s.lastRide)
        for (const DueTest& d : testsDue(resultsOf(tests), today_, {}, s.hasPower))
            if (d.from <= today_ && !s.testDue)
                s.testDue = std::string(wordsFor(d.protocol).name) + " is due. " + d.why;
    return s;
}

void Workspace::loadTests() {
    tests_.clear();
    if (rider_ != 0)
        tests_ = roster_->tests(rider_).value_or(std::vector<TestRecord>{});
    standings_.erase(rider_);
    emit testsChanged();
}

void Workspace::loadCheckIns() {
    checkIns_.clear();
    if (rider_ != 0)
        checkIns_ = roster_->checkIns(rider_).value_or(std::vector<CheckIn>{});
    standings_.erase(rider_);
    emit checkInsChanged();
}

std::vector<TestResult> Workspace::testResults() const {
    return resultsOf(tests_);
}

void Workspace::setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                        const QString& what) {
    if (rider_ != 0 && before != after)
        undo_.push(new TestCommand(*this, rider_, before, after, what));
}

bool Workspace::writeTest(qint64 rider, const std::optional<TestRecord>& before,
                          std::optional<TestRecord>& after) {
    if (rider != rider_)
        choose(rider);
    const auto ok = roster_->together([&]() -> Result<void> {
        if (!after)
            return before ? roster_->removeTest(before->id) : Result<void>{};
        after->rider = rider;
        auto id = roster_->saveTest(*after);
        if (!id)
            return tl::unexpected(id.error());
        after->id = *id; // undone and done again it is the same test
        return {};
    });
    if (!succeeded(ok))
        return false;
    seenChanges_ = roster_->foreignChanges();
    loadTests();
    return true;
}

void Workspace::judgeTest(qint64 id, Verdict verdict) {
    const auto found =
        std::find_if(tests_.begin(), tests_.end(), [&](const TestRecord& t) { return t.id == id; });
    if (found == tests_.end() || !rider())
        return;
    const TestRecord before = *found;
    TestRecord after = before;
    after.result.verdict = verdict;
    const QString what = verdict == Verdict::Accepted ? "Accept a test" : "Decline a test";
    undo_.beginMacro(what);
    setTest(before, after, what);
    const auto threshold = thresholdFrom(after.result);
    if (threshold && verdict == Verdict::Accepted) {
        RiderRecord r = *rider();
        r.values.set(Quantity::ThresholdPower, after.result.day, std::round(*threshold));
        setRider(r, what);
    }
    undo_.endMacro();
}

std::vector<DueTest> Workspace::dueTests() const {
    const RiderRecord* r = rider();
    if (!r)
        return {};
    std::vector<Date> deloadEnds;
    if (solved_)
        for (const PlannedWeek& w : solved_->plan.weeks)
            if (w.kind == WeekKind::Deload && w.start + 6 >= today_)
                deloadEnds.push_back(w.start + 6);
    auto due = testsDue(testResults(), today_, deloadEnds, !r->values.of(Quantity::ThresholdPower).empty());
    std::stable_sort(due.begin(), due.end(),
                     [](const DueTest& a, const DueTest& b) { return a.from < b.from; });
    return due;
}

std::vector<Recognised> Workspace::recognise(qint64 id) const {
    const RideRecord* record = rideById(id);
    const RiderRecord* who = rider();
    const auto threshold =
        who && record ? who->values.on(Quantity::ThresholdPower, record->day) : std::nullopt;
    if (!threshold)
        return {};
    const auto ride = loadRide(id);
    if (!ride)
        return {};
    std::vector<RideBests> earlier;
    for (const RideRecord& r : rides_)
        if (!r.excluded && r.score.start < record->score.start)
            earlier.push_back({r.id, r.day, r.best});
    std::vector<BestEffort> bests;
    for (const CurvePoint& p : spanCurve(earlier, record->day - 365, record->day))
        bests.push_back({p.seconds, p.power, p.start});
    auto found = recogniseTests(*ride, record->day, Watts{*threshold}, bests);
    std::erase_if(found, [&](const Recognised& f) {
        return std::any_of(tests_.begin(), tests_.end(), [&](const TestRecord& t) {
            return t.result.day == f.result.day && t.result.protocol == f.result.protocol;
        });
    });
    return found;
}

Result<CriticalPower> Workspace::criticalPower(Date day) const {
    std::vector<RideBests> bests;
    for (const RideRecord& r : rides_)
        if (!r.excluded)
            bests.push_back({r.id, r.day, r.best});
    std::vector<PowerPoint> efforts;
    for (const CurvePoint& p : spanCurve(bests, day - 90, day))
        for (const int seconds : {180, 300, 480, 720, 1200})
            if (p.seconds == seconds)
                efforts.push_back({static_cast<double>(p.seconds), p.power});
    return fitCriticalPower(efforts);
}

std::optional<CheckIn> Workspace::checkInOn(qint64 rider, Date day) const {
    std::vector<CheckIn> others;
    if (rider != rider_) {
        const auto known = roster_->checkIns(rider);
        others = known.value_or(std::vector<CheckIn>{});
    }
    const auto& all = rider == rider_ ? checkIns_ : others;
    const auto found = std::find_if(all.begin(), all.end(), [&](const CheckIn& c) { return c.day == day; });
    return found == all.end() ? std::nullopt : std::optional(*found);
}

void Workspace::setCheckIn(qint64 rider, const CheckIn& after) {
    CheckIn none;
    none.day = after.day;
    const CheckIn before = checkInOn(rider, after.day).value_or(none);
    if (!(before == after))
        undo_.push(new CheckInCommand(*this, rider, before, after));
}

bool Workspace::writeCheckIn(qint64 rider, const CheckIn& checkIn) {
    if (!succeeded(roster_->saveCheckIn(rider, checkIn)))
        return false;
    seenChanges_ = roster_->foreignChanges();
    recentCheckIns_.reset();
    standings_.erase(rider);
    if (rider == rider_)
        loadCheckIns();
    else
        emit checkInsChanged();
    return true;
}

Result<void> Workspace::writeCheckInsTo(const QString& path) const {
    std::vector<NamedCheckIn> all;
    for (const RiderRecord& r : riders_) {
        const auto checkIns = roster_->checkIns(r.id);
        if (!checkIns)
            return tl::unexpected(checkIns.error());
        for (const CheckIn& c : *checkIns)
            all.push_back({r.name.toUtf8(), c});
    }
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(writeCheckIns(all)) < 0 || !file.commit())
        return refuse(path.toStdString() + ": can't be written (" + file.errorString().toStdString() + ")");
    QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
    return {};
}

Result<int> Workspace::readCheckInsFrom(const QString& path) {
    const auto bytes = readWholeFile(path);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const auto all = readCheckIns(*bytes);
    if (!all)
        return refuse(path.toStdString() + ": " + all.error().sentence);
    for (const NamedCheckIn& n : *all)
        if (std::none_of(riders_.begin(), riders_.end(),
                         [&](const RiderRecord& r) { return r.name.toUtf8() == n.rider; }))
            return refuse(path.toStdString() + ": names \"" + n.rider.toStdString() +
                          "\", who is not in this roster; nothing was taken in");
    undo_.beginMacro(QString("Take in %1 check-ins").arg(all->size()));
    for (const NamedCheckIn& n : *all)
        for (const RiderRecord& r : riders_)
            if (r.name.toUtf8() == n.rider) {
                setCheckIn(r.id, n.checkIn);
                break;
            }
    undo_.endMacro();
    return static_cast<int>(all->size());
}

Result<void> Workspace::exportRiders(const QString& folder, const std::vector<qint64>& riders,
                                     const Progress& progress) const {
    return exportJson(*roster_, folder, riders, progress);
}

Result<int> Workspace::bringRiders(const QString& file, const Progress& progress) {
    const auto added = importJson(*roster_, file, progress);
    if (!added)
        return tl::unexpected(added.error());
    seenChanges_ = roster_->foreignChanges();
    forgetStandings();
    loadRiders();
    emit rosterChanged();
    if (!added->empty())
        choose(added->front());
    return static_cast<int>(added->size());
}

} // namespace marram
