// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "records/records.h"
#include <QStringList>
#include <optional>
#include <vector>

namespace marram {

/// What to do with a ride that shares time with one already there.
enum class OverlapChoice {
    Skip,
    KeepBoth,
    Replace,
    OneRide ///< two devices on one ride: what the new one has better is used for the one that is there
};

/// A choice, and whether it holds for every ride of the import that is asked about for the same reason.
struct OverlapAnswer {
    OverlapChoice choice = OverlapChoice::Skip;
    bool forAll = false;
};

struct ImportReport {
    std::vector<qint64> added;    ///< ids of new rides
    QStringList duplicates;       ///< files whose content is there already
    QStringList overlaps;         ///< files skipped because they share time with another ride
    std::vector<qint64> replaced; ///< ids of rides that gave way
    QStringList strangers;        ///< files left out because they look like another rider's, a sentence each
    int secondDevices = 0;        ///< how many of the new rides are second recordings of one that is there
    QStringList refused;          ///< a sentence each: file, what is wrong
    QStringList remarks;          ///< a sentence each on rides that were kept
    /// Rides that got an effort or words out of a list of activities, as they were and as they are.
    std::vector<std::pair<RideRecord, RideRecord>> listed;
    bool cancelled = false;
    std::optional<Problem> stopped; ///< the roster itself failed; what was added before stays
    Date firstDay, lastDay;         ///< of what was added, where anything was
};

} // namespace marram
