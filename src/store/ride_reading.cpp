// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/ride_reading.h"
#include "core/words/phrase.h"
#include "store/import.h"

namespace marram {

Result<Ride> correctedRide(Ride ride, const Corrections& corrections) {
    if (corrections.empty())
        return ride;
    auto right = corrected(std::move(ride), corrections);
    if (!right)
        return refuse(phrase("The corrections leave nothing of this ride; trim less."));
    return std::move(*right);
}

Result<Ride> rideAsRecorded(const Roster& roster, const RideRecord& record) {
    const auto recordings = roster.recordingsOf(record);
    return recordings ? onGrid(*recordings) : tl::unexpected(recordings.error());
}

Result<Ride> rideOf(const Roster& roster, const RideRecord& record) {
    auto ride = rideAsRecorded(roster, record);
    return ride ? correctedRide(std::move(*ride), record.corrections) : ride;
}

} // namespace marram
