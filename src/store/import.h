// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"
#include <QStringList>
#include <functional>

namespace marram {

/// A recording made ready for the roster: read, put on its grid, scored. Pure; any thread.
Result<RideRecord> prepareRide(const QByteArray& original, const QString& fileName, const RiderRecord& rider);

/// Scores a stored ride anew from its original bytes by what holds for the rider now.
Result<RideRecord> scoreAgain(const RideRecord& ride, const QByteArray& original, const RiderRecord& rider);

/// Learns the rider's scales from all their rides anew, and brings what is scored by heart rate or effort up
/// to date with them. How many rides changed.
Result<int> relearnScales(Roster& roster, RiderRecord& rider);

/// What to do with a ride that shares time with one already there.
enum class OverlapChoice { Skip, KeepBoth, Replace };

struct ImportReport {
    std::vector<qint64> added;    ///< ids of new rides
    QStringList duplicates;       ///< files whose content is there already
    QStringList overlaps;         ///< files skipped because they share time with another ride
    std::vector<qint64> replaced; ///< ids of rides that gave way
    QStringList refused;          ///< a sentence each: file, what is wrong
    QStringList remarks;          ///< a sentence each on rides that were kept
    bool cancelled = false;
    std::optional<Problem> stopped; ///< the roster itself failed; what was added before stays
    Date firstDay, lastDay;         ///< of what was added, where anything was
};

/// Brings files into a roster: read and scored on all cores, stored one transaction each, so that whatever
/// happens every finished ride is there. The same content is recognised; overlaps are asked about.
class Importer {
public:
    Importer(Roster& roster, RiderRecord rider) : roster_(roster), rider_(std::move(rider)) {}

    /// Called after every file with done and total; returning false cancels.
    std::function<bool(int, int)> progress;
    /// Asked for a ride (first) that shares time with a stored one (second). Skips where not set.
    std::function<OverlapChoice(const RideRecord&, const RideRecord&)> onOverlap;

    ImportReport importFiles(const QStringList& paths);
    /// Stores one prepared ride with its packed bytes; what happened goes into `report`.
    void store(RideRecord ride, const QByteArray& packed, ImportReport& report);

private:
    Roster& roster_;
    RiderRecord rider_;
};

/// All recordings below a folder (.fit, .gpx, .csv), in order of name; at most 20 000.
QStringList recordingsBelow(const QString& folder);

} // namespace marram
