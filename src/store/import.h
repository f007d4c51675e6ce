// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/csv/activities.h"
#include "records/import_report.h"
#include "store/roster.h"
#include <functional>

namespace marram {

/// A recording made ready for the roster: read, put on its grid, scored. Pure; any thread. `stranger` gets a
/// sentence where it looks like another rider's: the device was told a weight or a threshold far from what is
/// entered, or it holds power or heart rate that cannot be theirs. The limits are constants of ours. `grid`
/// gets the ride itself.
Result<RideRecord> prepareRide(const QByteArray& original, const QString& fileName, const RiderRecord& rider,
                               QString* stranger = nullptr, Ride* grid = nullptr);

/// A ride on its grid from its recordings: the first its own, the others by second devices, from which it
/// gets what they have better (devices.h).
Result<Ride> onGrid(const std::vector<QByteArray>& recordings);

/// Scores a stored ride anew from its recordings by what holds for the rider now.
Result<RideRecord> scoreAgain(const RideRecord& ride, const std::vector<QByteArray>& recordings,
                              const RiderRecord& rider);

/// Learns the rider's scales from all their rides anew, and brings what is scored by heart rate or effort up
/// to date with them, in one transaction. How many rides changed.
Result<int> relearnScales(Roster& roster, qint64 rider);
/// The same where something is owed: rides came, went or changed since the last time.
Result<int> relearnIfOwed(Roster& roster, qint64 rider);

/// Brings files into a roster: read and scored on all cores, stored one transaction each, so that whatever
/// happens every finished ride is there. The same content is recognised and overlaps are found inside the
/// transaction that stores; overlaps are asked about outside of it. A ride that was scored by values changed
/// meanwhile is stored stale. What is left owed by an import that was killed, the next one learns.
class Importer {
public:
    Importer(Roster& roster, const RiderRecord& rider) : roster_(roster), rider_(rider), now_(rider) {}

    /// Called after every file with done and total; returning false cancels.
    std::function<bool(int, int)> progress;
    /// Asked for a ride (first) that shares time with a stored one (second). Skips where not set. What is
    /// answered for all is not asked again.
    std::function<OverlapAnswer(const RideRecord&, const RideRecord&)> onOverlap;
    /// Asked once, for the first recording that looks like another rider's, with why; true takes it and all
    /// that follow. Left out where not set.
    std::function<bool(const QString&)> onStranger;
    /// Asked for a table that is no recording and holds days, but whose columns are not recognised: which are
    /// which. Nothing refuses it. Refused where not set.
    std::function<std::optional<ActivityColumns>(const QString& file, const ActivityHead& head)> onList;

    /// Archives stand for the recordings inside. A CSV that lists activities gives its efforts, names and
    /// notes to the rides it names, after all of them are in; what is on a ride already stays.
    ImportReport importFiles(const QStringList& paths);
    /// Stores one prepared ride with its packed bytes; what happened goes into `report`.
    void store(RideRecord ride, const QByteArray& packed, ImportReport& report);

private:
    Result<qint64> lookAgain();
    Result<void> scoreWithSecond(const RideRecord& before);
    Result<void> storeOnce(const RideRecord& ride, const QByteArray& packed,
                           std::optional<OverlapChoice>& choice, ImportReport& report);
    /// Beside, in place of or over `others`, as was chosen.
    Result<void> storeBeside(const RideRecord& scored, const QByteArray& packed,
                             const std::vector<RideRecord>& others, std::optional<OverlapChoice> choice,
                             ImportReport& report);

    void takeList(const QString& path, const QByteArray& bytes, const Problem& refusal, ImportReport& report);

    Roster& roster_;
    const RiderRecord rider_; ///< as scored by
    RiderRecord now_;         ///< as the roster has them since change number `seen_`
    qint64 seen_ = -1;
    std::optional<RideRecord> asked_; ///< the stored ride in the way of the one being stored
    std::optional<OverlapChoice> forOverlaps_, forDevices_; ///< answered for all
    std::optional<bool> takesStrangers_;
};

} // namespace marram
