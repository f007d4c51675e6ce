// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/chosen_rider.h"
#include "core/review/history.h"
#include "headunit/device.h"
#include "records/merge.h"
#include "store/ride_reading.h"
#include "store/whole_season.h"
#include "wording/wording.h"

#include <QDateTime>
#include <QUndoStack>
#include <algorithm>
#include <cmath>
#include <utility>

namespace marram {

ChosenRider::ChosenRider(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices), clock_(clock) {
    rebuildHistory();
    connect(&roster_, &OpenRoster::opened, this, [this] { choose(0); });
    connect(&roster_, &OpenRoster::touched, this, &ChosenRider::take);
    connect(&roster_.undoStack(), &QUndoStack::indexChanged, this, &ChosenRider::follow);
    connect(&clock_, &Clock::dayChanged, this, [this] {
        rebuildHistory();
        emit ridesChanged();
    });
}

void ChosenRider::choose(qint64 asked) {
    qint64 next = asked;
    if (!roster_.rider(next)) {
        const auto first = std::find_if(roster_.riders().begin(), roster_.riders().end(),
                                        [](const RiderRecord& r) { return !r.archived; });
        next = first != roster_.riders().end() ? first->id
               : roster_.riders().empty()      ? 0
                                               : roster_.riders().front().id;
    }
    if (next != id_ && rider())
        emit leaving(); // what is being typed is taken for whom it was typed
    id_ = next;
    // Everything is read before anything is told: nobody sees one rider's rides beside another's season.
    choosing_ = true;
    readTests();
    readCheckIns();
    readRides();
    readSeasons();
    emit seasonChanged(); // who solves hears of it before who shows
    emit riderChanged();
    emit ridesChanged();
    emit testsChanged();
    emit checkInsChanged();
    choosing_ = false;
    emit settled();
    if (id_ != 0)
        roster_.scoreStale(id_, rides_);
}

void ChosenRider::take(const Touched& what) {
    // Riders come and go elsewhere too: somebody is always chosen while there is anybody.
    if (!rider()) {
        choose(what.rider);
        return;
    }
    if (what.rider != 0 && what.by == By::Hand) {
        (what.rider == id_ ? here_ : elsewhere_) = what.rider;
        // At the end of the step; where it is none, when this turn is over.
        QMetaObject::invokeMethod(this, &ChosenRider::follow, Qt::QueuedConnection);
    }
    if (what.rider != 0 && what.rider != id_)
        return;
    if (what.has(Part::Tests))
        readTests();
    if (what.has(Part::CheckIns))
        readCheckIns();
    if (what.has(Part::Rides))
        readRides();
    if (what.has(Part::Seasons))
        readSeasons();
    if (what.has(Part::Figures))
        rebuildHistory();
    if (what.has(Part::Seasons))
        emit seasonChanged();
    if (what.has(Part::Tests))
        emit testsChanged();
    if (what.has(Part::CheckIns))
        emit checkInsChanged();
    if (what.has(Part::Figures))
        emit riderChanged();
    if (what.has(Part::Rides))
        emit ridesChanged();
    // Scoring that runs goes on, unless a figure changed: then by the values of now.
    if (what.has(Part::Rides) && (what.has(Part::Figures) || !roster_.scoring()))
        roster_.scoreStale(id_, rides_);
    if (what.has(Part::Figures) || what.has(Part::Rides))
        emit settled();
}

void ChosenRider::follow() {
    const qint64 there = std::exchange(elsewhere_, 0);
    if (std::exchange(here_, 0) == 0 && there != 0)
        choose(there);
}

void ChosenRider::told(const Damage& damage) {
    if (!damage.empty())
        emit notices_.failed(
            wording("Something of this roster is damaged: %1.", damage.sentences.join("; ")));
}

const RideRecord* ChosenRider::rideById(qint64 id) const {
    const auto found =
        std::find_if(rides_.begin(), rides_.end(), [&](const RideRecord& r) { return r.id == id; });
    return found == rides_.end() ? nullptr : &*found;
}

void ChosenRider::readRides() {
    rides_.clear();
    counted_ = {};
    if (id_ != 0) {
        Damage damage;
        if (auto rides = roster_.file().rides(id_, &damage))
            rides_ = std::move(*rides);
        else
            emit notices_.failed(QString::fromStdString(rides.error().sentence));
        told(damage);
    }
    counted_ = countRidden(daySumsOf(rides_));
    rebuildHistory();
}

double ChosenRider::pointsOf(const RideRecord& ride) const {
    return ride.excluded      ? 0
           : counted_.byHours ? usualPointsPerHour * ride.score.elapsed / 3600
                              : ride.score.stress.value_or(0);
}

void ChosenRider::rebuildHistory() {
    LoadRecord record;
    record.ridden = counted_.points;
    if (const RiderRecord* r = rider())
        record.usualWeekHours = r->usualWeekHours;
    if (season_) {
        record.seasonStart = season_->start;
        record.atSeasonStart = season_->before;
        record.tau = season_->tau;
    }
    history_ = std::make_unique<LoadHistory>(record, clock_.today());
}

void ChosenRider::readSeasons() {
    seasons_.clear();
    season_.reset();
    planned_.clear();
    outlook_.clear();
    ++seasonVersion_;
    if (id_ != 0) {
        Damage damage;
        if (auto seasons = roster_.file().seasons(id_, &damage))
            seasons_ = std::move(*seasons);
        else
            emit notices_.failed(QString::fromStdString(seasons.error().sentence));
        if (auto days = roster_.file().plannedDays(id_, &damage))
            for (const SolvedDay& d : *days)
                planned_[d.date] = d;
        else
            emit notices_.failed(QString::fromStdString(days.error().sentence));
        if (!seasons_.empty() && seasons_.front().standing == SeasonStanding::InForce) {
            if (auto then = roster_.file().outlook(seasons_.front().id, clock_.today() - 7, &damage))
                outlook_ = std::move(*then);
            else
                emit notices_.failed(QString::fromStdString(then.error().sentence));
        }
        told(damage);
    }
    if (!seasons_.empty() && seasons_.front().standing == SeasonStanding::InForce)
        season_ = seasons_.front().season;
    rebuildHistory();
}

qint64 ChosenRider::seasonId() const {
    return season_ ? seasons_.front().id : 0;
}

double ChosenRider::riddenOn(Date day) const {
    const auto found = counted_.points.find(day);
    return found == counted_.points.end() ? 0 : found->second;
}

std::optional<SolvedDay> ChosenRider::plannedOn(Date day) const {
    const auto found = planned_.find(day);
    return found == planned_.end() ? std::nullopt : std::optional(found->second);
}

void ChosenRider::planKept(const std::vector<SolvedDay>& days) {
    if (!days.empty())
        planned_.erase(planned_.lower_bound(days.front().date), planned_.end());
    for (const SolvedDay& d : days)
        planned_[d.date] = d;
}

std::set<Date> ChosenRider::illDays() const {
    return illDaysOf(checkIns_, seasons_, clock_.today());
}

MissRate ChosenRider::misses() const {
    return missesOf(planned_, counted_.points, illDays(), clock_.today());
}

double ChosenRider::illSpells() const {
    const std::set<Date> ill = illDays();
    int spells = 0;
    Date last{-1000000};
    for (const Date d : ill) {
        spells += d - last > 3 ? 1 : 0;
        last = d;
    }
    return std::max(1, spells);
}

Season ChosenRider::completed(const Season& bare) const {
    const RiderRecord* r = rider();
    if (!r)
        return bare;
    return wholeSeason(bare, *r, *history_, counted_.points, misses(), clock_.today());
}

Proposal ChosenRider::proposedRhythm() const {
    const RiderRecord* r = rider();
    if (!r)
        return {};
    const Date today = clock_.today();
    return proposeRhythm({ageOn(*r, today), r->trainingYears, r->slowRecoverer, r->injuries,
                          stateBefore(today).fitness, history_->known(), !r->cautions.trimmed().isEmpty()},
                         today);
}

Lasting ChosenRider::lasting(const Race& race) const {
    std::vector<double> hours;
    const Date today = clock_.today();
    for (const RideRecord& ride : rides_)
        if (!ride.excluded && ride.day > today - 112 && ride.day <= today)
            hours.push_back(ride.score.duration / 3600.0);
    constexpr double pointsAnHour = 65; // ridden at four fifths of threshold (common practice)
    double length = raceStress(race) / race.days / pointsAnHour;
    if (const RiderRecord* r = rider(); r && !race.course.empty()) {
        const double threshold = r->values.on(Quantity::ThresholdPower, today).value_or(0);
        const Moving moving = movingOf(*r, today);
        if (lastCourse_.course != race.course || lastCourse_.threshold != threshold ||
            lastCourse_.mass != moving.mass) {
            const auto ridden = rideCourse(race.course, moving, threshold, std::nullopt);
            lastCourse_ = {race.course, threshold, moving.mass, ridden ? ridden->duration / 3600 : length};
        }
        length = lastCourse_.hours;
    }
    return canLast(length, hours);
}

Questions ChosenRider::knownAnswers(const Season& season) const {
    Questions q;
    q.start = season.start;
    const Race* first = nullptr;
    for (const Race& race : season.races)
        if (race.priority == Priority::A && race.date >= clock_.today() &&
            (!first || race.date < first->date))
            first = &race;
    if (first) {
        q.race = first->date;
        const Lasting lasts = lasting(*first);
        if (lasts.verdict != Lasting::Verdict::Unknown)
            q.lastsDistance = lasts.verdict == Lasting::Verdict::Yes;
    }
    if (const RiderRecord* r = rider()) {
        for (const double h : r->hours)
            q.hours += h;
        q.years = r->trainingYears;
    }
    return q;
}

Season ChosenRider::freshSeason() const {
    Season s;
    s.start = monday(clock_.today());
    const Date race = s.start + 26 * 7 + 6;
    s.end = race + 14;
    Race a;
    a.name = phrase("A race");
    a.date = race;
    a.priority = Priority::A;
    s.races.push_back(a);
    return s;
}

void ChosenRider::setRider(const RiderRecord& after, const QString& what) {
    if (const RiderRecord* before = rider())
        roster_.editRider(*before, after, what);
}

void ChosenRider::setSeason(const Season& after, const QString& what) {
    if (season_)
        roster_.editSeason(seasonId(), *season_, after, what);
    else if (id_ != 0)
        roster_.beginSeason(id_, after, what);
}

void ChosenRider::setRide(const RideRecord& after, const QString& what) {
    if (const RideRecord* before = rideById(after.id))
        roster_.editRide(*before, after, what);
}

void ChosenRider::removeRide(qint64 ride) {
    if (rideById(ride))
        roster_.removeRides(id_, {ride}, wording("Remove a ride"));
}

void ChosenRider::readTests() {
    tests_.clear();
    if (id_ != 0) {
        Damage damage;
        if (auto tests = roster_.file().tests(id_, &damage))
            tests_ = std::move(*tests);
        else
            emit notices_.failed(QString::fromStdString(tests.error().sentence));
        told(damage);
    }
}

void ChosenRider::readCheckIns() {
    checkIns_.clear();
    if (id_ != 0) {
        Damage damage;
        if (auto checkIns = roster_.file().checkIns(id_, &damage))
            checkIns_ = std::move(*checkIns);
        else
            emit notices_.failed(QString::fromStdString(checkIns.error().sentence));
        told(damage);
    }
}

std::vector<TestResult> ChosenRider::testResults() const {
    std::vector<TestResult> results;
    for (const TestRecord& t : tests_)
        results.push_back(t.result);
    return results;
}

void ChosenRider::setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                          const QString& what) {
    roster_.editTest(id_, before, after, what);
}

void ChosenRider::judgeTest(qint64 id, Verdict verdict) {
    const auto found =
        std::find_if(tests_.begin(), tests_.end(), [&](const TestRecord& t) { return t.id == id; });
    if (found == tests_.end() || !rider())
        return;
    const TestRecord before = *found;
    TestRecord after = before;
    after.result.verdict = verdict;
    const QString what = verdict == Verdict::Accepted ? wording("Accept a test") : wording("Decline a test");
    roster_.asOneStep(what, [this, what, before, after, verdict, who = id_] {
        roster_.editTest(who, before, after, what);
        const auto threshold = thresholdFrom(after.result);
        const RiderRecord* now = roster_.rider(who);
        if (!threshold || verdict != Verdict::Accepted || !now)
            return;
        RiderRecord r = *now;
        r.values.set(Quantity::ThresholdPower, after.result.day, std::round(*threshold));
        roster_.editRider(*now, r, what);
    });
}

std::vector<DueTest> ChosenRider::dueTests(const std::vector<Date>& deloadEnds) const {
    const RiderRecord* r = rider();
    if (!r)
        return {};
    auto due =
        testsDue(testResults(), clock_.today(), deloadEnds, !r->values.of(Quantity::ThresholdPower).empty());
    std::stable_sort(due.begin(), due.end(),
                     [](const DueTest& a, const DueTest& b) { return a.from < b.from; });
    return due;
}

ChosenRider::RecognitionBasis ChosenRider::recognitionBasis(qint64 id) const {
    const RideRecord* record = rideById(id);
    const RiderRecord* who = rider();
    RecognitionBasis basis;
    const auto threshold =
        who && record ? who->values.on(Quantity::ThresholdPower, record->day) : std::nullopt;
    if (!threshold)
        return basis;
    basis.threshold = Watts{*threshold};
    std::vector<RideBests> earlier;
    for (const RideRecord& r : rides_)
        if (!r.excluded && r.score.start < record->score.start)
            earlier.push_back({r.id, r.day, r.best});
    for (const CurvePoint& p : spanCurve(earlier, record->day - 365, record->day))
        basis.bestBefore.push_back({p.seconds, p.power, p.start});
    return basis;
}

std::vector<Recognised> ChosenRider::notWrittenDown(std::vector<Recognised> found) const {
    std::erase_if(found, [&](const Recognised& f) {
        return std::any_of(tests_.begin(), tests_.end(), [&](const TestRecord& t) {
            return t.result.day == f.result.day && t.result.protocol == f.result.protocol;
        });
    });
    return found;
}

Result<CriticalPower> ChosenRider::criticalPower(Date day) const {
    std::vector<MaximalPower> efforts;
    for (const TestRecord& t : tests_) {
        const TestResult& r = t.result;
        const bool counts = r.protocol == Protocol::Power5min || r.protocol == Protocol::TwentyMinutes ||
                            r.protocol == Protocol::Climb || r.protocol == Protocol::MaximalEffort;
        if (!counts || r.verdict != Verdict::Accepted || r.day > day || day - r.day > 90)
            continue;
        const double seconds = wordsFor(r.protocol).seconds > 0 ? wordsFor(r.protocol).seconds : r.seconds;
        // What was found in one ride may overlap; what was entered for a day was ridden by itself.
        const long long occasion = t.rideHash.isEmpty() ? -t.id : r.day.days;
        efforts.push_back({seconds, r.value, occasion});
    }
    return fitCriticalPower(efforts);
}

Result<Recording> ChosenRider::loadRecording(qint64 id) const {
    auto bytes = roster_.file().originalOf(id);
    if (!bytes)
        return tl::unexpected(bytes.error());
    return readRecording(*bytes);
}

Result<Ride> ChosenRider::loadRideAsRecorded(qint64 id) const {
    const RideRecord* record = rideById(id);
    return record ? rideAsRecorded(roster_.file(), *record)
                  : Result<Ride>(refuse(phrase("The ride is no longer in the roster.")));
}

Result<Ride> ChosenRider::loadRide(qint64 id) const {
    auto ride = loadRideAsRecorded(id);
    const RideRecord* record = rideById(id);
    return ride && record ? correctedRide(std::move(*ride), record->corrections) : ride;
}

Result<QString> ChosenRider::rideToday(const QString& folder, const std::optional<Session>& asked) const {
    const RiderRecord* r = rider();
    if (!r)
        return refuse(phrase("There is no rider yet; add one under Roster first."));
    const auto& known = r->values;
    const auto power = known.on(Quantity::ThresholdPower, clock_.today());
    const auto beats = known.on(Quantity::ThresholdHeartRate, clock_.today());
    if (!power && !beats)
        return refuse(phrase("The rider has no threshold yet; set one under Rider first."));
    const auto planned = plannedOn(clock_.today());
    const bool rest = !planned || planned->hours < 0.2;
    SimulatedRider who;
    who.powerMeter = power.has_value();
    who.thresholdPower = power.value_or(who.thresholdPower);
    who.thresholdHeartRate = beats.value_or(who.thresholdHeartRate);
    who.restHeartRate = known.on(Quantity::RestingHeartRate, clock_.today()).value_or(50);
    who.maxHeartRate =
        known.on(Quantity::MaximalHeartRate, clock_.today()).value_or(who.thresholdHeartRate + 18);
    who.weightKg = known.on(Quantity::Weight, clock_.today()).value_or(who.weightKg);
    SimulatedDay day;
    const QDateTime now = QDateTime::currentDateTime();
    day.utcOffset = now.offsetFromUtc();
    day.start =
        static_cast<std::int64_t>(clock_.today().days) * 86400 + 32400 - day.utcOffset; // nine in the morning
    const RoughSession session =
        asked
            ? asRidden(*asked, known.on(Quantity::LowThreshold, clock_.today()).value_or(defaultLowThreshold))
        : rest ? prescribe(SessionKind::Endurance, 1, 45)
               : prescribe(planned->role == Role::Hard      ? SessionKind::Intervals
                           : planned->role == Role::Openers ? SessionKind::Openers
                                                            : SessionKind::Endurance,
                           planned->hours, planned->stress);
    return saveToDevice(folder,
                        marram::ride(session, who, day, static_cast<std::uint64_t>(clock_.today().days)));
}

} // namespace marram

#include "moc_chosen_rider.cpp"
