// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include "core/load/history.h"
#include "core/ride/recognise.h"
#include "core/rider/power_model.h"
#include "core/rider/proposal.h"
#include "core/season/ahead.h"
#include "formats/recording/recording.h"

namespace marram {

class ChosenRider;

/// What the record of the chosen rider says once it is asked: nothing is kept here but the course ridden
/// last.
class RiderFacts {
public:
    RiderFacts(const ChosenRider& of, const OpenRoster& roster, const Clock& clock);

    /// What a ride of the record counts.
    double pointsOf(const RideRecord& ride) const;
    double riddenOn(Date day) const;
    /// What was planned for a day before it came, where it was kept.
    std::optional<SolvedDay> plannedOn(Date day) const;
    /// Days of the last year on which the rider was ill, by check-ins and days away.
    std::set<Date> illDays() const;
    /// How often the rider misses a planned day, from the last 90 days; days of illness apart.
    MissRate misses() const;
    /// Spells of illness a year: those of the last year, by days away and check-ins, at least one.
    double illSpells() const;
    /// A season with what the rider brings to it: hours, thresholds, the load up to its start and what was
    /// ridden since.
    Season completed(const Season& season) const;
    /// The rhythm and ramp proposed for this rider, or why there is none.
    Proposal proposedRhythm() const;
    /// Can the rider last a race, by the longest rides of the last sixteen weeks? Its length in hours from
    /// its course where it has one, else from its stress.
    Lasting lasting(const Race& race) const;
    /// What the record answers of the questions a season begins with: hours, years, the first A race to come,
    /// whether the rider lasts its length.
    Questions knownAnswers(const Season& season) const;
    /// A first season for a rider: this Monday to the Sunday after a race half a year ahead.
    Season freshSeason() const;
    std::vector<TestResult> testResults() const;
    /// Tests that should be done, soonest first; `deloadEnds` are the Sundays of planned deload weeks.
    std::vector<DueTest> dueTests(const std::vector<Date>& deloadEnds) const;
    /// What tests in a ride are recognised by: the threshold of its day and the rider's bests before it.
    struct RecognitionBasis {
        std::optional<Watts> threshold;
        std::vector<BestEffort> bestBefore;
    };
    RecognitionBasis recognitionBasis(qint64 ride) const;
    /// Of recognised tests those that are not in the record yet.
    std::vector<Recognised> notWrittenDown(std::vector<Recognised> found) const;
    /// Critical power from confirmed maximal efforts of the 90 days up to a day.
    Result<CriticalPower> criticalPower(Date day) const;
    /// The recording as it came, for writing it in another format.
    Result<Recording> loadRecording(qint64 ride) const;
    /// The full recording of a ride on its grid, corrected where the coach corrected it.
    Result<Ride> loadRide(qint64 ride) const;

private:
    const ChosenRider& of_;
    const OpenRoster& roster_;
    const Clock& clock_;
    struct Ridden {
        std::vector<CoursePoint> course;
        double threshold = 0, mass = 0, hours = 0;
    };
    mutable Ridden lastCourse_; ///< the course ridden last, and what it took
};

} // namespace marram
