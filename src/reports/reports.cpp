// SPDX-License-Identifier: GPL-3.0-or-later
#include "reports/reports.h"
#include "core/review/attention.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

namespace marram {

/// The next race of that name, or else the next A or B race that is far enough to show anything.
static const PlannedRace* nextRace(const Plan& plan, Date today, const std::string& name) {
    constexpr int enoughAhead = 21; // a race nearer than that shows little of it
    const PlannedRace* first = nullptr;
    for (const PlannedRace& r : plan.races) {
        const bool meant = name.empty() ? r.date >= today + enoughAhead && r.priority != Priority::C
                                        : r.date >= today && r.name == name;
        if (meant && (!first || r.date < first->date))
            first = &r;
    }
    return first;
}

std::optional<ReportTry> tryOf(const ReportBasis& basis, const std::string& name,
                               const std::function<void(Season&)>& change, const std::string& race) {
    const SeasonRecord* season = basis.record.inForce();
    if (!season || !basis.ahead || !basis.going())
        return std::nullopt;
    ReportTry t{name, {}, season->season};
    change(t.season);
    Season whole = basis.ahead->whole;
    change(whole);
    if (!check(whole))
        return std::nullopt;
    const Plan plan = solveSeason(whole).plan;
    const PlannedRace* now = nextRace(basis.ahead->plan, basis.record.today, race);
    const PlannedRace* then = nextRace(plan, basis.record.today, race);
    if (now && then)
        t.does = phrase("%1: fitness %2 instead of %3, form %4 instead of %5%6.", then->name,
                        fixedText(then->fitness, 0), fixedText(now->fitness, 0), figure(then->form, 0),
                        figure(now->form, 0),
                        (now->chance && then->chance
                             ? phrase(", inside the gate in %1 of 100 seasons instead of %2",
                                      fixedText(100 * *then->chance, 0), fixedText(100 * *now->chance, 0))
                             : std::string()));
    else
        t.does = phrase("On the season's last day: fitness %1 instead of %2.",
                        fixedText(plan.days.back().fitness, 0),
                        fixedText(basis.ahead->plan.days.back().fitness, 0));
    return t;
}

Date formKnownFrom(const WholeRecord& record) {
    return record.rides.empty() ? record.today : record.rides.front().day + enoughRecord;
}

Report answer(const ReportBasis& basis, Question question, int days) {
    if (basis.record.rides.empty() && question != Question::Body) {
        const auto& words = questions.at(static_cast<size_t>(question));
        return cannotTell(words.name, phrase("No ride is in this rider's record yet."),
                          phrase("Bring rides in: files, a folder or an archive of years."));
    }
    switch (question) {
    case Question::Changing:
        return changingReport(basis, days);
    case Question::Worth:
        return worthReport(basis);
    case Question::BestDays:
        return bestDaysReport(basis);
    case Question::Form:
        return formReport(basis);
    case Question::Kind:
        return kindReport(basis);
    case Question::Split:
        return splitReport(basis);
    case Question::Habits:
        return habitsReport(basis);
    case Question::Races:
        return racesReport(basis);
    case Question::Body:
        break;
    }
    return bodyReport(basis);
}

} // namespace marram
