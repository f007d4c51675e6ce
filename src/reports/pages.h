// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/response.h"
#include "core/review/wording.h"
#include "core/words/phrase.h"
#include "reports/markers.h"
#include "reports/reports.h"

/// The pages, one a question, and what they share.
namespace marram {

Report changingReport(const ReportBasis& basis, int days);
Report worthReport(const ReportBasis& basis);
Report bestDaysReport(const ReportBasis& basis);
Report formReport(const ReportBasis& basis);
Report kindReport(const ReportBasis& basis);
Report splitReport(const ReportBasis& basis);
Report habitsReport(const ReportBasis& basis);
Report racesReport(const ReportBasis& basis);
Report bodyReport(const ReportBasis& basis);

/// "80 %: +1.2 to +3.4".
inline std::string bandText(const Banded& b, int decimals, const std::string& unit = {}) {
    return phrase("80 %: %1 to %2%3", signedText(b.low, decimals), signedText(b.high, decimals),
                  (unit.empty() ? "" : " " + unit));
}

/// A page that has nothing to say and says what would tell.
inline Report cannotTell(const std::string& title, const std::string& words, const std::string& wouldTell) {
    Report r{title, {}, true};
    ReportPart part;
    part.words.push_back({words, 0});
    if (!wouldTell.empty())
        part.asides.push_back(wouldTell);
    r.parts.push_back(std::move(part));
    return r;
}

/// The season in force with a change, and what it does to a race, or where none is named to the A or B race
/// that comes next but not at once. Nothing without a season ahead, or where it cannot be planned so.
std::optional<ReportTry> tryOf(const ReportBasis& basis, const std::string& name,
                               const std::function<void(Season&)>& change, const std::string& race = {});

/// The next race from today on of that priority or a higher one in the season in force; null where none lies
/// ahead.
inline const Race* nextRaceOf(const WholeRecord& record, Priority least) {
    const Race* next = nullptr;
    if (const SeasonRecord* season = record.inForce())
        for (const Race& race : season->season.races)
            if (race.date >= record.today && race.priority <= least && (!next || race.date < next->date))
                next = &race;
    return next;
}

/// Where the record begins to know the morning's form: one time constant of fitness after its first day.
Date formKnownFrom(const WholeRecord& record);

} // namespace marram
