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
    ahead.seasonId = seasons->front().id;
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

namespace {

/// Sessions as they were promised, by day; nothing for what was off the bicycle or can't be read.
using Promise = std::map<Date, BlockSession>;

Promise promisedFor(const RiderAhead& ahead, Date from, Date end) {
    Promise promise;
    for (auto m = ahead.meant.lower_bound(from); m != ahead.meant.end() && m->first < end; ++m) {
        const auto session = readShorthand(m->second.words);
        if (m->second.words.empty() || !session)
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
        promise.emplace(m->first, std::move(s));
    }
    return promise;
}

/// Whether a day of the season as it is now can be ridden as it was promised.
bool fits(const RiderAhead& ahead, const PlannedDay& day, const BlockSession& promised) {
    constexpr int fiveMinutes = 300;
    if (day.role == Role::Race || day.role == Role::Rest || day.hours <= 0)
        return false;
    const SessionFigures& f = promised.figures;
    const bool easy = day.role == Role::Easy || day.role == Role::Long;
    if (day.easyOnly ? f.workSeconds > 0 : easy && f.purpose.high > fiveMinutes)
        return false; // tempo and drills may stand on an easy day
    const Family* family = ahead.book->named(promised.family);
    if (family && std::any_of(ahead.basis.injuries.begin(), ahead.basis.injuries.end(),
                              [&](const std::string& injury) { return excludedBy(*family, injury); }))
        return false;
    return promised.seconds <= 3600 * day.availableHours + fiveMinutes;
}

/// The Mondays of weeks to come that the season now asks otherwise than they were promised: another day is
/// raced or rested on, a day has become shorter, or the week carries more or less.
std::set<Date> changedWeeks(const RiderAhead& ahead, const Promise& promise, Date today) {
    struct Sum {
        double promised = 0, planned = 0;
        bool fits = true, any = false;
    };
    std::map<Date, Sum> weeks;
    for (const PlannedDay& d : ahead.plan.days) {
        if (d.date < today || d.past || promise.empty() || d.date > promise.rbegin()->first)
            continue; // of a week that is promised in part, that part
        Sum& week = weeks[monday(d.date)];
        const auto found = promise.find(d.date);
        const BlockSession* promised = found == promise.end() ? nullptr : &found->second;
        week.any = week.any || promised;
        week.fits = week.fits && (!promised || fits(ahead, d, *promised));
        week.promised += promised ? promised->figures.stress : 0;
        week.planned += d.role == Role::Race ? 0 : d.stress;
    }
    std::set<Date> changed;
    for (const auto& [start, w] : weeks)
        if (w.any && (!w.fits || std::abs(w.promised - w.planned) > std::max(10.0, 0.1 * w.planned)))
            changed.insert(start);
    return changed;
}

} // namespace

std::vector<BlockSession> sessionsAhead(const RiderAhead& ahead, Date from, int weeks, Date today) {
    std::map<Date, std::vector<BlockSession>> days;
    std::map<Date, const SessionPin*> pins;
    for (const SessionPin& p : ahead.season.sessions)
        if (p.holds() && p.date >= today)
            pins[p.date] = &p;
    // Worked out from this week on and for four weeks at least, as in the window: a week by itself would be
    // another.
    const Date first = monday(today), end = std::max(from + 7 * weeks, first + 28);
    if (from + 7 * weeks > first)
        for (BlockWeek& week :
             solveBlock(ahead.season, ahead.plan, first, (end - first) / 7, ahead.basis).weeks)
            for (BlockSession& s : week.sessions) {
                if (s.title.empty()) {
                    const Family* family = ahead.book->named(s.family);
                    s.title = translated(family ? family->name : s.family);
                }
                days[s.date].push_back(std::move(s));
            }
    // A week in which the coach pinned something since it was promised is made anew from today on, and so is
    // one whose season has changed or whose rider fell ill or was injured.
    Promise promise = promisedFor(ahead, from, from + 7 * weeks);
    std::set<Date> anew = changedWeeks(ahead, promise, today);
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
    for (auto& [day, session] : promise)
        if (day < today || !anew.contains(monday(day)))
            days[day] = {std::move(session)};
    std::vector<BlockSession> all;
    for (auto& [day, sessions] : days)
        if (day >= from && day < from + 7 * weeks)
            std::move(sessions.begin(), sessions.end(), std::back_inserter(all));
    return all;
}

std::vector<MeantSession> promiseOf(const std::vector<BlockSession>& sessions) {
    std::map<Date, const BlockSession*> days;
    for (const BlockSession& s : sessions)
        if (const BlockSession*& day = days[s.date]; !day || s.ridden())
            day = &s;
    std::vector<MeantSession> promise;
    promise.reserve(days.size());
    for (const auto& [date, s] : days)
        promise.push_back({date,
                           s->family,
                           s->rung,
                           s->ridden() ? writeShorthand(s->session) : "",
                           s->note,
                           {},
                           {},
                           {},
                           {}});
    return promise;
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
