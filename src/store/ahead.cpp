// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/ahead.h"
#include "core/session/shorthand.h"
#include "formats/ical/calendar.h"
#include "records/done_rung.h"
#include "store/block_basis.h"
#include "store/whole_season.h"

#include <algorithm>
#include <set>

namespace marram {

/// What was done of a session that lies behind; of one nobody compared with its ride, that it was ridden.
static std::optional<DoneRung> rungDone(const RiderAhead& ahead, const MeantSession& m) {
    const Family* family = ahead.book->named(m.family);
    const auto words = readShorthand(m.words);
    if (m.rung < 1 || !family || static_cast<size_t>(m.rung) > family->work.size() || !words)
        return {};
    const PlannedWeek* week = weekOf(ahead.plan, m.date);
    return doneRung(m, verdictOn(&ahead.season, m.date, &m).value_or(RungVerdict::Passed),
                    figuresOf(*words).workSeconds,
                    figuresOf(family->work[static_cast<size_t>(m.rung) - 1]).workSeconds,
                    week ? std::optional(week->kind) : std::nullopt);
}

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
    const auto tests = roster.tests(rider.id, &damage);
    if (!tests)
        return tl::unexpected(tests.error());
    RiderAhead ahead;
    ahead.season = std::move(**whole);
    ahead.plan = solveSeason(ahead.season).plan;
    ahead.book = std::make_shared<const FamilyBook>(FamilyBook::standard().with(*own));
    const Counted counted = countRidden(sums);
    const std::set<Date> ill = illDaysOf(*checkIns, *seasons, today);
    ahead.basis = basisOf({rider, *ahead.book, ill, counted.points, *tests}, today);
    BlockBasis& basis = ahead.basis;
    for (const MeantSession& m : *meant) {
        if (m.date >= today)
            basis.near[m.date] = {m.family, m.rung};
        else if (counted.points.contains(m.date))
            if (const auto done = rungDone(ahead, m))
                basis.done.push_back(*done);
        ahead.meant[m.date] = m;
    }
    return ahead;
}

std::vector<BlockSession> sessionsAhead(const RiderAhead& ahead, Date from, int weeks, Date today) {
    std::map<Date, std::vector<BlockSession>> days;
    std::map<Date, const SessionPin*> pins;
    for (const SessionPin& p : ahead.season.sessions)
        if (p.holds() && p.date >= today)
            pins[p.date] = &p;
    const Date first = std::max(from, monday(today));
    if (const int left = weeks - (first - from) / 7; left > 0)
        for (BlockWeek& week : solveBlock(ahead.season, ahead.plan, first, left, ahead.basis).weeks)
            for (BlockSession& s : week.sessions) {
                if (s.title.empty()) {
                    const Family* family = ahead.book->named(s.family);
                    s.title = translated(family ? family->name : s.family);
                }
                days[s.date].push_back(std::move(s));
            }
    // A week in which the coach pinned something since it was promised is made anew from today on, and so is
    // one whose rider fell ill.
    std::set<Date> anew;
    if (ahead.basis.easyUntil)
        for (Date day = today; day < *ahead.basis.easyUntil; day = day + 1)
            anew.insert(monday(day));
    for (const auto& [day, pin] : pins) {
        const auto promised = ahead.meant.find(day);
        const auto now = days.find(day);
        if (promised != ahead.meant.end() && !promised->second.words.empty() && now != days.end() &&
            std::none_of(now->second.begin(), now->second.end(), [&](const BlockSession& s) {
                return writeShorthand(s.session) == promised->second.words;
            }))
            anew.insert(monday(day));
    }
    // What was promised stands as it was promised.
    for (auto m = ahead.meant.lower_bound(from); m != ahead.meant.end() && m->first < from + 7 * weeks; ++m) {
        if (m->second.words.empty() || (m->first >= today && anew.contains(monday(m->first))))
            continue;
        const auto session = readShorthand(m->second.words);
        if (!session)
            continue;
        BlockSession s;
        s.date = m->first;
        s.family = m->second.family;
        s.rung = m->second.rung;
        s.note = m->second.note;
        s.session = *session;
        s.figures = figuresOf(*session, ahead.season.lowThreshold);
        s.seconds = s.figures.seconds;
        const Family* family = ahead.book->named(s.family);
        s.title = family && s.rung >= 1 && family->rungs.size() > 1 &&
                          static_cast<size_t>(s.rung) <= family->rungs.size()
                      ? family->rungs[static_cast<size_t>(s.rung) - 1]
                      : s.family;
        days[m->first] = {std::move(s)};
    }
    std::vector<BlockSession> all;
    for (auto& [day, sessions] : days)
        if (day >= from && day < from + 7 * weeks)
            std::move(sessions.begin(), sessions.end(), std::back_inserter(all));
    return all;
}

static void addSession(DayAhead& d, const BlockSession& s) {
    const bool second = !d.family.empty(); // gym beside a ride
    if (!second || s.ridden()) {
        d.family = s.family;
        const bool easy = s.figures.workSeconds <= 0;
        d.title = second ? phrase("strength and %1", easy ? translated(s.family) : s.title) : s.title;
    }
    d.seconds += s.seconds;
    d.stress = second ? d.stress + s.figures.stress : s.figures.stress;
    d.words += (d.words.isEmpty() ? "" : "\n") + sessionInWords(s);
}

std::vector<DayAhead> daysAhead(const RiderAhead& ahead, Date from, int weeks, Date today) {
    std::map<Date, DayAhead> days;
    for (const PlannedDay& d : ahead.plan.days)
        if (d.date >= from && d.date < from + 7 * weeks)
            days[d.date] = {d.date, d.role, {}, {}, {}, 0, d.stress, {}};
    for (const BlockSession& s : sessionsAhead(ahead, from, weeks, today)) {
        const auto found = days.find(s.date);
        if (found == days.end())
            continue; // outside the season
        addSession(found->second, s);
    }
    for (const SessionPin& p : ahead.season.sessions)
        if (const auto day = days.find(p.date); day != days.end() && p.holds())
            day->second.team = p.team;
    std::vector<DayAhead> all;
    all.reserve(days.size());
    for (auto& each : days)
        all.push_back(std::move(each.second));
    return all;
}

} // namespace marram
