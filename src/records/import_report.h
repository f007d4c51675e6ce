// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include <QStringList>
#include <optional>
#include <vector>

namespace marram {

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

} // namespace marram
