// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/letters.h"

namespace marram {

/// What sending a week did.
struct PostSent {
    int riders = 0;
    int fresh = 0, changed = 0,
        same = 0; ///< files that are new, that read otherwise than last time, or the same
};

/// Sends the week that follows the one of the letters to riders: into `folder`, a folder a rider, and in it
/// `to-rider/week-2026-11-30/` with the letter as a page and a text, a calendar of the season, the week's
/// workouts for a bike computer, and a sheet to answer on. What reads as it did is not written again;
/// workouts of the week that are no longer meant go. `from-rider/` is made and never touched. Readable by
/// their owner only. No riders named: everybody who is not archived. `page` makes a letter's page. Cancelled
/// where `progress` says so.
Result<PostSent> sendWeek(const Roster& roster, const QString& folder, const std::vector<qint64>& riders,
                          Date week, Date today, const Progress& progress,
                          const std::function<QByteArray(const Letter&)>& page);

} // namespace marram
