// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/chosen_edits.h"
#include "app/owners/chosen_rider.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {

void ChosenEdits::setRider(const RiderRecord& after, const QString& what) {
    if (const RiderRecord* before = of_.rider())
        roster_.edits().editRider(*before, after, what);
}

void ChosenEdits::setSeason(const Season& after, const QString& what) {
    if (of_.season())
        roster_.edits().editSeason(of_.seasonId(), *of_.season(), after, what);
    else if (of_.id() != 0)
        roster_.edits().beginSeason(of_.id(), after, what);
}

void ChosenEdits::setRide(const RideRecord& after, const QString& what) {
    if (const RideRecord* before = of_.rideById(after.id))
        roster_.edits().editRide(*before, after, what);
}

void ChosenEdits::removeRide(qint64 ride) {
    if (of_.rideById(ride))
        roster_.edits().removeRides(of_.id(), {ride}, wording("Remove a ride"));
}

void ChosenEdits::setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                          const QString& what) {
    roster_.edits().editTest(of_.id(), before, after, what);
}

void ChosenEdits::judgeTest(qint64 id, Verdict verdict) {
    const auto found =
        std::find_if(of_.tests().begin(), of_.tests().end(), [&](const TestRecord& t) { return t.id == id; });
    if (found == of_.tests().end() || !of_.rider())
        return;
    const TestRecord before = *found;
    TestRecord after = before;
    after.result.verdict = verdict;
    const QString what = verdict == Verdict::Accepted ? wording("Accept a test") : wording("Decline a test");
    roster_.steps().asOneStep(what, [this, what, before, after, verdict, who = of_.id()] {
        roster_.edits().editTest(who, before, after, what);
        const auto threshold = thresholdFrom(after.result);
        const RiderRecord* now = roster_.rider(who);
        if (!threshold || verdict != Verdict::Accepted || !now)
            return;
        RiderRecord r = *now;
        r.values.set(Quantity::ThresholdPower, after.result.day, std::round(*threshold));
        roster_.edits().editRider(*now, r, what);
    });
}

} // namespace marram
