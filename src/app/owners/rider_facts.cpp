// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/rider_facts.h"
#include "app/owners/chosen_rider.h"
#include "core/review/history.h"
#include "store/block_basis.h"
#include "store/ride_reading.h"
#include "store/whole_season.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace marram {

RiderFacts::RiderFacts(const ChosenRider& of, const OpenRoster& roster, const Clock& clock)
    : of_(of), roster_(roster), clock_(clock) {}

double RiderFacts::pointsOf(const RideRecord& ride) const {
    return ride.excluded           ? 0
           : of_.counted().byHours ? usualPointsPerHour * ride.score.elapsed / 3600
                                   : ride.score.stress.value_or(0);
}

double RiderFacts::riddenOn(Date day) const {
    const auto found = of_.counted().points.find(day);
    return found == of_.counted().points.end() ? 0 : found->second;
}

std::optional<SolvedDay> RiderFacts::plannedOn(Date day) const {
    const auto found = of_.planned().find(day);
    return found == of_.planned().end() ? std::nullopt : std::optional(found->second);
}

std::set<Date> RiderFacts::illDays() const {
    return illDaysOf(of_.checkIns(), of_.seasons(), clock_.today());
}

MissRate RiderFacts::misses() const {
    return missesOf(of_.planned(), of_.counted().points, illDays(), clock_.today());
}

double RiderFacts::illSpells() const {
    const std::set<Date> ill = illDays();
    int spells = 0;
    Date last{-1000000};
    for (const Date d : ill) {
        spells += d - last > 3 ? 1 : 0;
        last = d;
    }
    return std::max(1, spells);
}

Season RiderFacts::completed(const Season& bare) const {
    const RiderRecord* r = of_.rider();
    if (!r)
        return bare;
    return wholeSeason(bare, *r, of_.history(), of_.counted().points, misses(), clock_.today());
}

Proposal RiderFacts::proposedRhythm() const {
    const RiderRecord* r = of_.rider();
    if (!r)
        return {};
    const Date today = clock_.today();
    return proposeRhythm({ageOn(*r, today), r->trainingYears, r->slowRecoverer, r->injuries,
                          of_.history().before(today).fitness, of_.history().known(),
                          !r->cautions.trimmed().isEmpty()},
                         today);
}

Lasting RiderFacts::lasting(const Race& race) const {
    std::vector<double> hours;
    const Date today = clock_.today();
    for (const RideRecord& ride : of_.rides())
        if (!ride.excluded && ride.day > today - 112 && ride.day <= today)
            hours.push_back(ride.score.duration / 3600.0);
    constexpr double pointsAnHour = 65; // ridden at four fifths of threshold (common practice)
    double length = raceStress(race) / race.days / pointsAnHour;
    if (const RiderRecord* r = of_.rider(); r && !race.course.empty()) {
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

Questions RiderFacts::knownAnswers(const Season& season) const {
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
    if (const RiderRecord* r = of_.rider()) {
        for (const double h : r->hours)
            q.hours += h;
        q.years = r->trainingYears;
    }
    return q;
}

Season RiderFacts::freshSeason() const {
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

std::vector<TestResult> RiderFacts::testResults() const {
    std::vector<TestResult> results;
    for (const TestRecord& t : of_.tests())
        results.push_back(t.result);
    return results;
}

std::vector<DueTest> RiderFacts::dueTests(const std::vector<Date>& deloadEnds) const {
    const RiderRecord* r = of_.rider();
    if (!r)
        return {};
    auto due =
        testsDue(testResults(), clock_.today(), deloadEnds, !r->values.of(Quantity::ThresholdPower).empty());
    std::stable_sort(due.begin(), due.end(),
                     [](const DueTest& a, const DueTest& b) { return a.from < b.from; });
    return due;
}

RiderFacts::RecognitionBasis RiderFacts::recognitionBasis(qint64 id) const {
    const RideRecord* record = of_.rideById(id);
    const RiderRecord* who = of_.rider();
    RecognitionBasis basis;
    const auto threshold =
        who && record ? who->values.on(Quantity::ThresholdPower, record->day) : std::nullopt;
    if (!threshold)
        return basis;
    basis.threshold = Watts{*threshold};
    std::vector<RideBests> earlier;
    for (const RideRecord& r : of_.rides())
        if (!r.excluded && r.score.start < record->score.start)
            earlier.push_back({r.id, r.day, r.best});
    for (const CurvePoint& p : spanCurve(earlier, record->day - 365, record->day))
        basis.bestBefore.push_back({p.seconds, p.power, p.start});
    return basis;
}

std::vector<Recognised> RiderFacts::notWrittenDown(std::vector<Recognised> found) const {
    std::erase_if(found, [&](const Recognised& f) {
        return std::any_of(of_.tests().begin(), of_.tests().end(), [&](const TestRecord& t) {
            return t.result.day == f.result.day && t.result.protocol == f.result.protocol;
        });
    });
    return found;
}

Result<CriticalPower> RiderFacts::criticalPower(Date day) const {
    return criticalPowerOf(of_.tests(), day);
}

Result<Recording> RiderFacts::loadRecording(qint64 id) const {
    auto bytes = roster_.file().originalOf(id);
    if (!bytes)
        return tl::unexpected(bytes.error());
    return readRecording(*bytes);
}

Result<Ride> RiderFacts::loadRide(qint64 id) const {
    const RideRecord* record = of_.rideById(id);
    if (!record)
        return refuse(phrase("The ride is no longer in the roster."));
    auto ride = rideAsRecorded(roster_.file(), *record);
    return ride ? correctedRide(std::move(*ride), record->corrections) : ride;
}

} // namespace marram
