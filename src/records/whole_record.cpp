// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/whole_record.h"

#include <algorithm>

namespace marram {

const SeasonRecord* WholeRecord::inForce() const {
    return !seasons.empty() && seasons.front().standing == SeasonStanding::InForce ? &seasons.front()
                                                                                   : nullptr;
}

const RideRecord* WholeRecord::rideById(qint64 id) const {
    const auto found =
        std::find_if(rides.begin(), rides.end(), [&](const RideRecord& r) { return r.id == id; });
    return found == rides.end() ? nullptr : &*found;
}

const RideRecord* WholeRecord::longestOn(Date day) const {
    const RideRecord* longest = nullptr;
    for (const RideRecord& r : rides)
        if (r.day == day && (!longest || r.score.duration > longest->score.duration))
            longest = &r;
    return longest;
}

std::map<Date, DayWork> WholeRecord::work() const {
    std::map<Date, DayWork> days;
    for (const RideRecord& r : rides) {
        DayWork& d = days[r.day];
        d.hours += r.score.duration / 3600.0;
        if (r.score.stress)
            d.stress = d.stress.value_or(0) + *r.score.stress;
    }
    return days;
}

} // namespace marram
