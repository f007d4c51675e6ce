// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/done_rung.h"

#include <algorithm>

namespace marram {

std::optional<DoneRung> doneRung(const MeantSession& meant, RungVerdict verdict, int work, int wholeWork,
                                 std::optional<WeekKind> week) {
    const double least = week == WeekKind::Build ? 0.5 : 0.9;
    if (meant.rung < 1 || wholeWork <= 0 || work < least * wholeWork)
        return std::nullopt;
    const bool eased = verdict == RungVerdict::Ease;
    return DoneRung{meant.date, meant.family, eased ? std::max(1, meant.rung - 1) : meant.rung,
                    verdict == RungVerdict::Passed};
}

std::optional<RungVerdict> verdictOn(const Season* season, Date day, const MeantSession* meant) {
    if (season)
        for (const SessionPin& p : season->sessions)
            if (p.date == day && p.verdict)
                return p.verdict;
    return meant ? meant->outcome : std::nullopt;
}

} // namespace marram
