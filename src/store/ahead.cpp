// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/ahead.h"
#include "core/session/shorthand.h"
#include "formats/ical/calendar.h"
#include "store/whole_season.h"

namespace marram {

Result<std::optional<RiderAhead>> lookAhead(const Roster& roster, const RiderRecord& rider, Date today,
                                            Damage& damage) {
    const auto rides = roster.rides(rider.id, &damage);
    if (!rides)
        return tl::unexpected(rides.error());
    const auto sums = daySumsOf(*rides);
    auto whole = wholeSeasonOf(roster, rider, sums, today, damage);
    if (!whole)
        return tl::unexpected(whole.error());
    if (!*whole || !check(**whole))
        return std::nullopt;
    const auto meant = roster.meant(rider.id, &damage);
    if (!meant)
        return tl::unexpected(meant.error());
    const auto own = roster.ownFamilies(&damage);
    if (!own)
        return tl::unexpected(own.error());
    const auto checkIns = roster.checkIns(rider.id, &damage);
    if (!checkIns)
        return tl::unexpected(checkIns.error());
    const auto seasons = roster.seasons(rider.id, &damage);
    if (!seasons)
        return tl::unexpected(seasons.error());
    RiderAhead ahead;
    ahead.season = std::move(**whole);
    ahead.plan = solveSeason(ahead.season).plan;
    ahead.book = std::make_shared<const FamilyBook>(FamilyBook::standard().with(*own));
    const Counted counted = countRidden(sums);
    BlockBasis& basis = ahead.basis;
    basis.book = ahead.book.get();
    basis.setBacks = setBacksOf(illDaysOf(*checkIns, *seasons, today), counted.points, today);
    for (const Injury& i : rider.injuries)
        if (i.from <= today && (!i.to || *i.to >= today))
            basis.injuries.push_back(i.what);
    for (const MeantSession& m : *meant) {
        if (m.date >= today)
            basis.near[m.date] = {m.family, m.rung};
        else if (m.rung >= 1 && counted.points.contains(m.date))
            basis.done.push_back(
                {m.date, m.family, m.rung, m.outcome.value_or(RungVerdict::Passed) == RungVerdict::Passed});
        ahead.meant[m.date] = m;
    }
    return ahead;
}

std::vector<DayAhead> daysAhead(const RiderAhead& ahead, Date from, int weeks, Date today) {
    std::map<Date, DayAhead> days;
    for (const PlannedDay& d : ahead.plan.days)
        if (d.date >= from && d.date < from + 7 * weeks)
            days[d.date] = {d.date, d.role, {}, {}, 0, d.stress, {}};
    const auto titled = [&](const BlockSession& s) {
        const Family* family = ahead.book->named(s.family);
        return s.title.empty() ? (family ? family->name : s.family) : s.title;
    };
    const Date first = std::max(from, monday(today));
    if (const int left = weeks - (first - from) / 7; left > 0)
        for (const BlockWeek& week : solveBlock(ahead.season, ahead.plan, first, left, ahead.basis).weeks)
            for (const BlockSession& s : week.sessions) {
                DayAhead& d = days[s.date];
                const bool second = !d.family.empty(); // gym beside a ride
                d.date = s.date;
                if (!second || s.ridden()) {
                    d.family = s.family;
                    d.title = titled(s);
                }
                d.seconds += s.seconds;
                d.stress = second ? d.stress + s.figures.stress : s.figures.stress;
                d.words += (d.words.isEmpty() ? "" : "\n") + sessionInWords(s);
            }
    for (auto& [day, d] : days) {
        const auto m = ahead.meant.find(day);
        if (m == ahead.meant.end() || m->second.words.empty())
            continue;
        const auto session = readShorthand(m->second.words);
        if (!session)
            continue;
        BlockSession s;
        s.date = day;
        s.family = m->second.family;
        s.rung = m->second.rung;
        s.note = m->second.note;
        s.session = *session;
        s.figures = figuresOf(*session, ahead.season.lowThreshold);
        d.family = s.family;
        const Family* family = ahead.book->named(s.family);
        d.title = family && s.rung >= 1 && family->rungs.size() > 1 &&
                          static_cast<size_t>(s.rung) <= family->rungs.size()
                      ? family->rungs[static_cast<size_t>(s.rung) - 1]
                      : s.family;
        d.seconds = s.figures.seconds;
        d.stress = s.figures.stress;
        d.words = sessionInWords(s);
    }
    std::vector<DayAhead> all;
    for (auto& each : days)
        if (each.second.date == each.first && each.first >= from && each.first < from + 7 * weeks)
            all.push_back(std::move(each.second));
    return all;
}

} // namespace marram
