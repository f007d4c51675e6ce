// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/checking.h"
#include "store/import.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Whether a ride's figures are those its recording gives.
bool figuresHold(const RideRecord& kept, const std::vector<QByteArray>& recordings,
                 const RiderRecord& rider) {
    const auto again = scoreAgain(kept, recordings, rider);
    if (!again)
        return true; // what can't be scored again keeps its figures
    const auto near = [](const std::optional<double>& a, const std::optional<double>& b) {
        return a.has_value() == b.has_value() &&
               (!a || std::abs(*a - *b) <= 1e-6 * std::max({1.0, std::abs(*a), std::abs(*b)}));
    };
    const Score &a = kept.score, &b = again->score;
    if (a.start != b.start || a.duration != b.duration || !near(a.stress, b.stress) ||
        !near(a.meanPower, b.meanPower) || !near(a.equivalentPower, b.equivalentPower) ||
        !near(a.meanHeartRate, b.meanHeartRate) || !near(kept.thresholdPower, again->thresholdPower) ||
        kept.best.size() != again->best.size())
        return false;
    for (size_t i = 0; i < kept.best.size(); ++i)
        if (kept.best[i].seconds != again->best[i].seconds || !near(kept.best[i].power, again->best[i].power))
            return false;
    return true;
}

} // namespace

Result<Damage> checkWhole(const Roster& roster, const Progress& progress) {
    auto damage = examine(roster, progress);
    if (!damage)
        return damage;
    for (const QString& sentence : roster.checkSeals([&] { return !progress || progress(0, 0); }).sentences)
        damage->add(sentence);
    const auto riders = roster.riders(&*damage);
    if (!riders)
        return tl::unexpected(riders.error());
    int done = 0;
    for (const RiderRecord& rider : *riders) {
        const auto rides = roster.rides(rider.id, &*damage);
        if (!rides)
            return tl::unexpected(rides.error());
        for (const RideRecord& r : *rides) {
            if (progress && !progress(++done, 0))
                return damage;
            if (r.stale || r.scoringVersion != scoringVersion || rider.owesLearning)
                continue; // is to be scored again anyway
            const auto bytes = roster.recordingsOf(r);
            if (bytes && !figuresHold(r, *bytes, rider))
                damage->add(wording("%1, ride of %2 (%3): its figures are not what its recording gives",
                                    rider.name, isoText(r.day), r.fileName));
        }
    }
    return damage;
}

} // namespace marram
