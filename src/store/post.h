// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/letters.h"

namespace marram {

/// What sending a week did.
struct PostSent {
    int riders = 0;
    int fresh = 0, changed = 0,
        same = 0; ///< files that are new, that read otherwise than last time, or the same
    /// What differs for riders who had this week already: a name and the files that are new, other or gone.
    std::vector<std::pair<QString, QStringList>> differs;
    /// What riders of whom nothing was promised yet were sent: from now on it is.
    struct Promised {
        qint64 season = 0;
        Date from;
        std::vector<MeantSession> sessions;
    };
    std::vector<Promised> promised;
};

/// What makes pages for a rider: of a letter, and of the sheet for a week's check-ins.
struct PostPaper {
    std::function<QByteArray(const Letter&)> letter;
    std::function<QByteArray(const QString& rider, Date monday)> sheet;
};

/// Sends the week that follows the one of the letters to riders: into `folder`, a folder a rider, and in it
/// `to-rider/week-2026-11-30/` with the letter as a page and a text, a calendar of the season, the week's
/// workouts for a bike computer, and a sheet to answer on, as a table and a page. What reads as it did is not
/// written again; workouts of the week that are no longer meant go. `from-rider/` is made and never touched.
/// Readable by their owner only. No riders named: everybody who is not archived. Cancelled where `progress`
/// says so.
Result<PostSent> sendWeek(const Roster& roster, const QString& folder, const std::vector<qint64>& riders,
                          Date week, Date today, const Progress& progress, const PostPaper& paper);

} // namespace marram
