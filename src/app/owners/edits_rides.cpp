// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/edits.h"
#include "app/owners/open_roster.h"
#include "records/merge.h"
#include "store/import.h"
#include "wording/wording.h"

#include <algorithm>
#include <utility>

namespace marram {

bool Edits::relearn(qint64 rider) {
    const auto changed = relearnIfOwed(file(), rider);
    if (!changed) {
        emit notices_.failed(QString::fromStdString(changed.error().sentence));
        return false;
    }
    return true;
}

void Edits::editRide(const RideRecord& before, const RideRecord& after, const QString& what) {
    if (sameForCoach(merged(before, before, after), before))
        return;
    const auto apply = [this](const RideRecord& from, const RideRecord& to) {
        const bool done = of_.write([&]() -> Result<void> {
            const auto now = file().ride(to.id);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The ride is no longer in the roster."));
            if (auto ok = file().updateRides({merged(**now, from, to)}); !ok)
                return ok;
            // The ride a second device belonged to, or belongs to now, is another one.
            for (const QByteArray& main : {from.beside, to.beside}) {
                if (from.beside == to.beside || main.isEmpty())
                    continue;
                const auto id = file().rideWithContent(to.rider, main);
                if (!id)
                    return tl::unexpected(id.error());
                auto ride = *id ? file().ride(**id) : Result<std::optional<RideRecord>>(std::nullopt);
                if (!ride)
                    return tl::unexpected(ride.error());
                if (!*ride)
                    continue;
                (*ride)->stale = true;
                if (auto ok = file().updateRides({**ride}); !ok)
                    return ok;
            }
            return file().oweLearning(to.rider);
        });
        if (done)
            relearn(to.rider);
        emit of_.touched({to.rider, {Part::Rides}});
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

bool Edits::putRides(qint64 rider, const std::vector<qint64>& out, const std::vector<qint64>& in) {
    const bool done = of_.write([&]() -> Result<void> {
        if (auto ok = file().putAside(out, true); !ok)
            return ok;
        return file().putAside(in, false);
    });
    if (done)
        relearn(rider);
    of_.loadRiders(); // scales were learned anew
    emit of_.touched({rider, {Part::Figures, Part::Rides}});
    return done;
}

void Edits::removeRides(qint64 rider, const std::vector<qint64>& rides, const QString& what) {
    steps_.take(
        what, [=, this] { return putRides(rider, rides, {}); },
        [=, this] { return putRides(rider, {}, rides); });
}

bool Edits::putListed(const std::vector<std::pair<RideRecord, RideRecord>>& listed, bool forward) {
    const bool done = of_.write([&]() -> Result<void> {
        std::vector<RideRecord> changed;
        for (const auto& [before, after] : listed) {
            const auto now = file().ride(before.id);
            if (!now)
                return tl::unexpected(now.error());
            if (*now) // else it is aside
                changed.push_back(forward ? merged(**now, before, after) : merged(**now, after, before));
        }
        if (changed.empty())
            return {};
        if (auto ok = file().updateRides(changed); !ok)
            return ok;
        return file().oweLearning(changed.front().rider);
    });
    const qint64 rider = listed.front().first.rider;
    if (done)
        relearn(rider);
    emit of_.touched({rider, {Part::Rides}});
    return done;
}

void Edits::cameIn(qint64 rider, const ImportReport& report) {
    of_.loadRiders(); // scales were learned anew
    if (!report.added.empty() || !report.listed.empty()) {
        const QString what = report.added.empty()       ? wording("Take a list of activities")
                             : report.added.size() == 1 ? wording("Import a ride")
                                                        : wording("Import %1 rides").arg(report.added.size());
        const auto came = report.added, went = report.replaced;
        const auto listed = report.listed;
        auto first = std::make_shared<bool>(true); // they are in already
        steps_.take(
            what,
            [=, this] {
                if (std::exchange(*first, false))
                    return true;
                const bool back = putRides(rider, went, came);
                return back && (listed.empty() || putListed(listed, true));
            },
            [=, this] {
                const bool bare = listed.empty() || putListed(listed, false);
                return bare && putRides(rider, came, went);
            });
    }
    if (report.stopped)
        emit notices_.failed(QString::fromStdString(report.stopped->sentence) +
                             (report.added.empty() ? "" : wording(" What came in before that is kept.")));
    emit of_.ridersChanged();
    emit of_.touched({rider, {Part::Figures, Part::Rides}, By::Others});
}

} // namespace marram
