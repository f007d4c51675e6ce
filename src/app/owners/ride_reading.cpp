// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/ride_reading.h"
#include "formats/recording/recording.h"
#include "store/roster.h"

namespace marram {

Result<Ride> correctedRide(Ride ride, const Corrections& corrections) {
    if (corrections.empty())
        return ride;
    auto right = corrected(std::move(ride), corrections);
    if (!right)
        return refuse("The corrections leave nothing of this ride; trim less.");
    return std::move(*right);
}

Result<Ride> rideAsRecorded(const Roster& roster, qint64 id) {
    auto bytes = roster.originalOf(id);
    if (!bytes)
        return tl::unexpected(bytes.error());
    auto recording = readRecording(*bytes);
    if (!recording)
        return tl::unexpected(recording.error());
    auto ride = toGrid(*recording);
    if (!ride)
        return refuse("This ride has no sample with a usable time.");
    return std::move(*ride);
}

Result<Ride> rideOf(const Roster& roster, const RideRecord& record) {
    auto ride = rideAsRecorded(roster, record.id);
    return ride ? correctedRide(std::move(*ride), record.corrections) : ride;
}

} // namespace marram
