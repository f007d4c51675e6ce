// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/ride_today.h"
#include "app/owners/chosen_rider.h"
#include "headunit/device.h"
#include "wording/wording.h"

#include <QDateTime>

namespace marram {

Result<QString> rideToday(const ChosenRider& chosen, Date today, const QString& folder,
                          const std::optional<Session>& asked) {
    const RiderRecord* r = chosen.rider();
    if (!r)
        return refuse(phrase("There is no rider yet; add one under Roster first."));
    const auto& known = r->values;
    const auto power = known.on(Quantity::ThresholdPower, today);
    const auto beats = known.on(Quantity::ThresholdHeartRate, today);
    if (!power && !beats)
        return refuse(phrase("The rider has no threshold yet; set one under Rider first."));
    const auto planned = chosen.facts().plannedOn(today);
    const bool rest = !planned || planned->hours < 0.2;
    SimulatedRider who;
    who.powerMeter = power.has_value();
    who.thresholdPower = power.value_or(who.thresholdPower);
    who.thresholdHeartRate = beats.value_or(who.thresholdHeartRate);
    who.restHeartRate = known.on(Quantity::RestingHeartRate, today).value_or(50);
    who.maxHeartRate = known.on(Quantity::MaximalHeartRate, today).value_or(who.thresholdHeartRate + 18);
    who.weightKg = known.on(Quantity::Weight, today).value_or(who.weightKg);
    SimulatedDay day;
    const QDateTime now = QDateTime::currentDateTime();
    day.utcOffset = now.offsetFromUtc();
    day.start = static_cast<std::int64_t>(today.days) * 86400 + 32400 - day.utcOffset; // nine in the morning
    const RoughSession session =
        asked  ? asRidden(*asked, known.on(Quantity::LowThreshold, today).value_or(defaultLowThreshold))
        : rest ? prescribe(SessionKind::Endurance, 1, 45)
               : prescribe(planned->role == Role::Hard      ? SessionKind::Intervals
                           : planned->role == Role::Openers ? SessionKind::Openers
                                                            : SessionKind::Endurance,
                           planned->hours, planned->stress);
    return saveToDevice(folder, marram::ride(session, who, day, static_cast<std::uint64_t>(today.days)));
}

} // namespace marram
