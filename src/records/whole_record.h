// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/caution.h"
#include "core/review/review.h"
#include "records/damage.h"
#include "records/proposed.h"
#include "records/records.h"

namespace marram {

/// Everything a roster holds of a rider that has happened up to a day, read in one go: what pages of review
/// are made of.
struct WholeRecord {
    RiderRecord rider;
    Date today;
    std::vector<RideRecord> rides;     ///< that count, up to today, in order of day
    std::vector<SeasonRecord> seasons; ///< the one in force first
    std::map<Date, SolvedDay> planned; ///< days to come too
    std::map<Date, MeantSession> meant;
    std::vector<CheckIn> checkIns;
    std::vector<TestRecord> tests;
    KeptHearing heard;
    std::vector<NotedCaution> noted;
    FamilyBook book{{}};
    Counted counted;
    std::optional<LoadHistory> history; ///< always there
    Damage damage;                      ///< what could not be read

    /// The season in force; null without one.
    const SeasonRecord* inForce() const;
    const RideRecord* rideById(qint64 id) const;
    /// The longest ride of a day; null without one.
    const RideRecord* longestOn(Date day) const;
    /// Days with what was ridden: hours and points.
    std::map<Date, DayWork> work() const;
};

} // namespace marram
