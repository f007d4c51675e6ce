// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/chooser.h"

namespace marram {

std::vector<Chooser::HardRide> Chooser::hardRides(const HardAsk& ask, int family, const Way& way,
                                                  bool& shortDay) {
    const DaySlot& day = ask.day();
    const auto f = static_cast<size_t>(family);
    const std::vector<int> rungs =
        ask.fixed() && day.rung ? std::vector{*day.rung}
                                : rungsFor(family, way.at[f], ask.light(), ask.number,
                                           ask.wanted == Wanted::ByItsLadder ? Wanted::AtItsEnd : ask.wanted);
    std::vector<HardRide> ridden;
    for (const int rung : rungs)
        if (ask.light())
            for (const Lighter ease : waysToEase(ask.week))
                ridden.push_back({rung, ease, 0});
        else
            ridden.push_back({rung, std::nullopt, ask.wanted == Wanted::Shortened ? 1 : 0});
    const auto tooLong = [&](const HardRide& ride) {
        const Work& work = workOf({ask.days[ask.n], family, ride.rung, ride.ease, ride.fewer});
        return shortestWith(lyingOf(all_[f].name), work.seconds, work.warm) > room(day);
    };
    // Where the day is too short for the rung that is due, it has some of its repetitions.
    shortDay = !ask.light() && !ask.fixed() && ask.wanted == Wanted::ByItsLadder &&
               std::all_of(ridden.begin(), ridden.end(), tooLong);
    for (HardRide& ride : ridden)
        while (shortDay && tooLong(ride) &&
               ride.fewer < mostFewer(rungs_[f][static_cast<size_t>(ride.rung)].session))
            ++ride.fewer;
    return ridden;
}

double Chooser::hardCost(const HardAsk& ask, const Chosen& chosen, const LadderStanding& stands,
                         const Way& way, long before) {
    const auto f = static_cast<size_t>(chosen.family);
    // Families asked for first come first, a family more costs a little, freshest legs for the hardest.
    double cost = stopgap(ask.wanted, chosen.rung < stands.rung) + (way.used[f] ? 0 : 0.0004) +
                  (before > 0 ? 0.0004 : 0) + strange(ask.day(), chosen.family, chosen.rung) -
                  (all_[f].own && before == 0 ? 0.003 : 0); // a coach's own is wanted
    if (!way.picks.empty() && workOf(chosen).target > workOf(way.picks.back()).target + 0.02)
        cost += 0.0006;
    if (!ask.light() && stands.rung == chosen.rung && stands.finished)
        cost += 0.0002;
    // In a lighter week what was reached rather than a rung under it.
    constexpr double ofARungUnder = 0.0002;
    if (ask.light() && !ask.fixed())
        cost += ofARungUnder * std::max(0, stands.rung - chosen.rung);
    // One hard day a week builds on the last one.
    constexpr double ofAnotherEachWeek = 0.003;
    if (!ask.light() && ask.days.size() == 1 && way.at[f].last != ask.number - 1)
        cost += ofAnotherEachWeek;
    return cost;
}

Chooser::Way Chooser::withHard(const HardAsk& ask, const Chosen& chosen, const LadderStanding& stands,
                               const Way& way) {
    const auto f = static_cast<size_t>(chosen.family);
    const DaySlot& day = ask.day();
    const Work& work = workOf(chosen);
    Way next = way;
    next.picks.push_back(chosen);
    next.high += work.purpose.high;
    next.middle += work.purpose.middle +
                   warmMiddle(std::max(day.hours, 1.0 * shortestAround(work.seconds, work.warm)), work.warm);
    next.least += added(work, day, 0.62);
    next.most += added(work, day, 0.70);
    if (!next.used[f]) {
        next.used[f] = true;
        ++next.usedCount;
    }
    LadderStanding then = stands;
    then.ride(chosen.rung, stands.above, ask.light() || (!ask.fixed() && chosen.rung < stands.rung),
              ask.number);
    next.at.set(f, then);
    return next;
}

bool Chooser::notForDay(const HardAsk& ask, size_t family, const Way& way) const {
    if (ask.wanted != Wanted::OfAnother && !way.used[family] && way.usedCount >= mostFamilies)
        return true;
    // Short on time is for days under an hour.
    return all_[family].name.starts_with("short on time") && ask.day().available >= 3600;
}

bool Chooser::hardDayBy(const HardAsk& ask, const Candidate& candidate, const Way& way,
                        std::vector<Way>& out) {
    const int family = candidate.family;
    const auto f = static_cast<size_t>(family);
    const DaySlot& day = ask.day();
    constexpr double ofShortDay = 0.002;
    constexpr int mostBesideATest = 300; // s of high work
    const long before = std::count_if(way.picks.begin(), way.picks.end(),
                                      [family](const Chosen& c) { return c.family == family; });
    if (!ask.fixed() && (before >= mostAWeek || notForDay(ask, f, way)))
        return false;
    bool shortDay = false, any = false;
    const double rests = !ask.light() && resting(f, way.at[f], ask.number) ? 0.004 : 0;
    for (const auto& [rung, ease, fewer] : hardRides(ask, family, way, shortDay)) {
        LadderStanding stands = way.at[f];
        if (!ask.light())
            comeBack(stands, static_cast<int>(rungs_[f].size()), ask.number);
        const Chosen chosen{ask.days[ask.n],
                            family,
                            rung,
                            ease,
                            fewer,
                            ask.fixed() && day.rung.has_value(),
                            rung == stands.rung ? stands.above : 0,
                            (ask.wanted == Wanted::Anyhow && rung <= stands.rung) || rests > 0};
        const Work& work = workOf(chosen);
        if (!ask.fixed() && shortestWith(lyingOf(all_[f].name), work.seconds, work.warm) > room(day))
            continue;
        // A maximal test is what a deload has of high work (common practice).
        if (ask.tested && !ask.fixed() && work.purpose.high > mostBesideATest)
            continue;
        any = true;
        Way next = withHard(ask, chosen, stands, way);
        next.cost +=
            hardCost(ask, chosen, stands, way, before) + (shortDay ? ofShortDay : 0) + rests + candidate.wish;
        hardDays(ask.week, ask.days, ask.candidates, ask.n + 1, ask.number, std::move(next), out);
    }
    return any;
}

bool Chooser::hardDayBy(const HardAsk& ask, const Way& way, std::vector<Way>& out) {
    bool any = false;
    if (ask.fixed())
        return hardDayBy(ask, Candidate{static_cast<int>(ask.day().family - all_.data()), 0}, way, out);
    for (const Candidate& candidate : ask.candidates)
        any = hardDayBy(ask, candidate, way, out) || any;
    return any;
}

void Chooser::hardDays(const WeekProblem& week, const std::vector<size_t>& days,
                       const std::vector<Candidate>& candidates, size_t n, int weekNumber, Way way,
                       std::vector<Way>& out) {
    if (n == days.size()) {
        out.push_back(std::move(way));
        return;
    }
    const DaySlot& day = week.days[days[n]];
    HardAsk ask{week, days, candidates, n, weekNumber, Wanted::ByItsLadder};
    ask.tested = week.kind == WeekKind::Deload &&
                 std::any_of(week.days.begin(), week.days.end(), [&](const DaySlot& d) {
                     const Family* test = testFor(week, d);
                     return test && test->name == "threshold test";
                 });
    bool any = hardDayBy(ask, way, out);
    // Where the four families of a block have nothing left that the day holds, what was reached, or another.
    for (const Wanted wanted : {Wanted::Shortened, Wanted::Anyhow, Wanted::OfAnother})
        if (!any && !day.family && !isLight(week)) {
            ask.wanted = wanted;
            any = hardDayBy(ask, way, out);
        }
    // A week holds a hard day less where all of them are too much of it.
    constexpr double leftEasy = 0.01;
    const bool mayBeEasy = any && !way.picks.empty() && !day.family;
    if (mayBeEasy)
        way.cost += leftEasy;
    // A day that holds none of them is endurance.
    if (!any || mayBeEasy)
        hardDays(week, days, candidates, n + 1, weekNumber, std::move(way), out);
}

void Chooser::tempoInLongRides(const WeekProblem& week, const State& from,
                               std::vector<TempoChoice>& all) const {
    const int number = numberOf(week);
    // Tempo late in the long ride does not shrink inside a block's build weeks without need.
    const bool goesOn = number > 0 && week.kind == WeekKind::Build &&
                        weeks_[static_cast<size_t>(number) - 1].kind == WeekKind::Build;
    const int before = goesOn ? from.longTempo.back() : 0;
    constexpr double ofARungLost = 0.0015, atMost = 0.006;
    const auto shrinking = [&](int seconds) {
        return std::min(atMost, ofARungLost * std::max(0, before - seconds) / 600);
    };
    all.front().cost = shrinking(0);
    const int firstTempo = 60 * (20 + 10 * newest_); // the long ride's rung a rider begins on
    double hours = 0;
    for (const DaySlot& d : week.days)
        hours += d.hours / 3600;
    // A week takes a little less than the hours that the season asked what they hold (held.h).
    constexpr double ample = 0.95 * 6; // h
    // A rung up at most, two down at most; a rider new to it begins low.
    const auto reached = [&](int seconds) {
        if (hours < ample && seconds > 1200)
            return false;
        return from.tempoReached == 0 ? seconds <= firstTempo
                                      : seconds <= from.tempoReached + 600 &&
                                            (seconds >= from.tempoReached - 1200 || hours < ample);
    };
    for (const DaySlot& d : week.days)
        if (holdsTempoLate(week, d))
            for (const int minutes : {20, 30, 40, 50, 60})
                if (reached(60 * minutes) && d.hours >= minutes * 60 + 600 + 3600) {
                    // Tempo in place of endurance.
                    const double tempo = tempoOver(low_) / 100.0;
                    const auto more = [&](double x) {
                        return minutes / 60.0 * 100 * (tempo * tempo - x * x);
                    };
                    all.push_back(
                        {60 * minutes, {}, 60.0 * minutes, shrinking(60 * minutes), more(0.62), more(0.70)});
                }
}

void Chooser::lateEfforts(const WeekProblem& week, const State& from, std::vector<TempoChoice>& all) {
    const int late = indexOf("late efforts");
    const bool racesLong = week.demand == Demand::Long || week.demand == Demand::Stage;
    if (!racesLong || (week.phase != Phase::Build && week.phase != Phase::Specialise) ||
        (!from.used[static_cast<size_t>(late)] && from.usedCount >= mostFamilies))
        return;
    for (size_t d = 0; d < week.days.size(); ++d)
        if (const DaySlot& day = week.days[d]; holdsTempoLate(week, day))
            for (const int rung : rungsFor(late, from.at[static_cast<size_t>(late)], false, numberOf(week))) {
                const Chosen c{d, late, rung};
                const Work& work = workOf(c);
                // A long ride is no hard day.
                if (work.hard88 < easyAt88 && work.hard105 < easyAt105 &&
                    shortestWith(Lying::Late, work.seconds) <= day.hours)
                    all.push_back({0,
                                   {c},
                                   work.purpose.middle,
                                   -0.001,
                                   added(work, day, 0.62),
                                   added(work, day, 0.70)});
            }
}

std::vector<size_t> Chooser::tempoDays(const WeekProblem& week) const {
    constexpr double tempoDay = 0.93 * 2700; // s
    std::vector<size_t> days;
    for (size_t d = 0; d < week.days.size(); ++d)
        if (week.days[d].role == Role::Easy && !week.days[d].pinned && week.days[d].hours >= tempoDay &&
            !tooEarly(week.days[d]) && !week.days[d].easyOnly && !week.days[d].besideHard &&
            week.kind == WeekKind::Build)
            days.push_back(d);
    std::sort(days.begin(), days.end(),
              [&](size_t a, size_t b) { return week.days[a].available > week.days[b].available; });
    if (days.size() > 2)
        days.resize(2);
    return days;
}

std::vector<Chosen> Chooser::tempoOn(const WeekProblem& week, size_t d, const State& from) {
    std::vector<Chosen> found;
    for (const char* name : {"tempo", "low cadence"}) {
        const int family = indexOf(name);
        const auto f = static_cast<size_t>(family);
        if ((!from.used[f] && from.usedCount >= mostFamilies) || !allowed(all_[f], basis_) ||
            (name[0] == 'l' && week.phase == Phase::Specialise))
            continue;
        for (const int rung : rungsFor(family, from.at[f], false, numberOf(week), Wanted::InTurn))
            for (int fewer = 0; fewer <= mostFewer(rungs_[f][static_cast<size_t>(rung)].session); ++fewer) {
                // A rung over what an easy day holds is ridden with fewer repetitions.
                const Chosen c{d, family, rung, std::nullopt, fewer};
                const Work& work = workOf(c);
                const bool fits =
                    work.atWork <= mostEasyTempo && shortestAround(work.seconds) <= room(week.days[d]);
                if (fits && work.target <= 0.865)
                    found.push_back(c);
                if (fits)
                    break;
            }
    }
    return found;
}

bool Chooser::goTogether(const WeekProblem& week, const Chosen& one, const Chosen& two,
                         const State& from) const {
    // Two of a family follow each other as everywhere.
    if (one.family == two.family) {
        const bool inOrder = one.day < two.day;
        const Chosen &first = inOrder ? one : two, &second = inOrder ? two : one;
        const std::vector<int> then =
            rungsFor(one.family, after(from.at[static_cast<size_t>(one.family)], first, numberOf(week)),
                     isLight(week), numberOf(week), Wanted::InTurn);
        if (std::find(then.begin(), then.end(), second.rung) == then.end())
            return false;
    }
    const size_t fresh = (from.used[static_cast<size_t>(one.family)] ? 0U : 1U) +
                         (one.family != two.family && !from.used[static_cast<size_t>(two.family)] ? 1U : 0U);
    return from.usedCount + fresh <= mostFamilies;
}

/// What tempo on one day after the other costs beside tempo days apart.
static double besideCost(Date one, Date two) {
    constexpr double dayAfterDay = 0.0015;
    return std::abs(one - two) > 1 ? 0 : dayAfterDay;
}

std::vector<Chooser::TempoChoice> Chooser::tempoChoices(const WeekProblem& week, const State& from) {
    std::vector<TempoChoice> all{{}};
    tempoInLongRides(week, from, all);
    // After hours of work, where the race is long.
    lateEfforts(week, from, all);
    const std::vector<TempoChoice> plain = all;
    // What each of the days may be given, alone and together; of ways that come to the same the cheapest.
    std::map<std::pair<int, long>, TempoChoice> together;
    const auto offer = [&](const std::vector<Chosen>& picks, double beside) {
        double least = 0, most = 0, middle = 0, own = 0;
        for (const Chosen& c : picks) {
            const Work& work = workOf(c);
            const DaySlot& day = week.days[c.day];
            least += added(work, day, 0.62);
            most += added(work, day, 0.70);
            middle += work.purpose.middle + warmMiddle(day.hours);
            own += day.besideHard ? 0.0015 : 0.0004;
        }
        for (const TempoChoice& e : plain) {
            TempoChoice extra{e.longTempo,     e.picks,      e.middle + middle, e.cost + (own + beside),
                              e.least + least, e.most + most};
            extra.picks.insert(extra.picks.end(), picks.begin(), picks.end());
            auto& best = together[{static_cast<int>(extra.picks.size()), std::lround(extra.middle / 60)}];
            if (best.picks.empty() || extra.cost < best.cost)
                best = extra;
        }
    };
    // In build weeks only, never beside a hard day or in a recovery: an easy day is not hard.
    std::vector<std::vector<Chosen>> options;
    for (const size_t d : tempoDays(week))
        options.push_back(tempoOn(week, d, from));
    for (const auto& mine : options)
        for (const Chosen& c : mine)
            offer({c}, 0);
    if (options.size() == 2)
        for (const Chosen& one : options[0])
            for (const Chosen& two : options[1])
                if (goTogether(week, one, two, from))
                    offer(one.day < two.day ? std::vector{one, two} : std::vector{two, one},
                          besideCost(week.days[one.day].date, week.days[two.day].date));
    for (auto& [key, extra] : together)
        all.push_back(std::move(extra));
    std::sort(all.begin(), all.end(),
              [](const TempoChoice& a, const TempoChoice& b) { return a.middle < b.middle; });
    return all;
}

bool Chooser::clash(const Way& way, const TempoChoice& extra) {
    for (const Chosen& x : extra.picks) {
        const auto sameFamily = [&](const Chosen& o) { return o.family == x.family; };
        const auto f = static_cast<size_t>(x.family);
        if (!way.used[f] && way.usedCount + extra.picks.size() > mostFamilies)
            return true;
        const long hard = std::count_if(way.picks.begin(), way.picks.end(), sameFamily);
        if (hard == 0)
            continue;
        // A family of the hard days may be ridden again at their rung, as often as a rung may.
        const long easy = std::count_if(extra.picks.begin(), extra.picks.end(), sameFamily);
        const bool atTheirRung = std::all_of(way.picks.begin(), way.picks.end(), [&](const Chosen& o) {
            return !sameFamily(o) || o.rung == x.rung;
        });
        if (!atTheirRung || hard + easy > mostAWeek || (!x.lighter && way.at[f].times + easy > mostAtARung))
            return true;
    }
    return false;
}

std::vector<size_t> Chooser::goingWith(const Way& way, const std::vector<TempoChoice>& tempos, double missing,
                                       bool over) {
    constexpr size_t enough = 3;
    std::vector<size_t> found;
    const auto place =
        std::lower_bound(tempos.begin(), tempos.end(), missing,
                         [](const TempoChoice& e, double middle) { return e.middle < middle; }) -
        tempos.begin();
    const long end = over ? static_cast<long>(tempos.size()) : -1;
    long at = over ? place : place - 1;
    for (int n = 0; n < farthestExtra && at != end && found.size() < enough; ++n, at += over ? 1 : -1)
        if (!clash(way, tempos[static_cast<size_t>(at)]))
            found.push_back(static_cast<size_t>(at));
    return found;
}

} // namespace marram
