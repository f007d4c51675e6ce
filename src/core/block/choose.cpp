// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/chooser.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

namespace marram {

std::vector<Chooser::Candidate> Chooser::withNeighbours(const WeekProblem& week,
                                                        const std::vector<int>& families, const State& from,
                                                        int number) const {
    constexpr double month = 480; // s of high time a week that are a session a month
    constexpr double later = 0.00004, neighbour = 0.0015, overdue = 0.0006, elsewhere = 0.003;
    const bool sparing = week.phase == Phase::Base && week.purpose.high < month;
    std::vector<Candidate> all;
    for (const int f : families)
        if (const auto i = static_cast<size_t>(f); !sparing || !all_[i].name.starts_with("aerobic ceiling") ||
                                                   number - from.at[i].last >= static_cast<int>(blockWeeks))
            all.push_back({f, later * static_cast<double>(all.size())});
    if (week.start < tempoUntil_)
        return all;
    // A build without work near maximal uptake for a month is no build (common practice).
    if (week.phase == Phase::Build && !ceilingWithin(from, number, static_cast<int>(blockWeeks)))
        for (Candidate& c : all)
            c.wish -= all_[static_cast<size_t>(c.family)].name.starts_with("aerobic ceiling") ? overdue : 0;
    const auto listed = [&](int f) {
        return std::find(families.begin(), families.end(), f) != families.end();
    };
    const auto offer = [&](const char* name, double wish, bool reached) {
        const int f = indexOf(name);
        if (!listed(f) && allowed(all_[static_cast<size_t>(f)], basis_) &&
            (!reached || from.at[static_cast<size_t>(f)].rung >= 0))
            all.push_back({f, wish + later * static_cast<double>(all.size())});
    };
    // A lighter week rides what was reached: where that is none of the phase's, what the phases before left.
    // And where a school asks for more of the middle than of high work, a race's own families are not all.
    const auto reachedOnes = std::count_if(families.begin(), families.end(),
                                           [&](int f) { return from.at[static_cast<size_t>(f)].rung >= 0; });
    if (isLight(week) && reachedOnes < 4)
        for (const char* name : {"threshold", "over-unders", "just above threshold", "aerobic ceiling short",
                                 "aerobic ceiling long", "just under threshold", "tempo"})
            offer(name, elsewhere, true);
    else if (week.phase == Phase::Specialise && week.purpose.middle > week.purpose.high)
        for (const char* name : {"just under threshold", "over-unders"})
            offer(name, neighbour, false);
    if (week.phase != Phase::Specialise || isLight(week))
        return all;
    static constexpr std::array<const char*, 4> row{"threshold", "just above threshold",
                                                    "aerobic ceiling long", "aerobic ceiling short"};
    for (size_t i = 0; i < row.size(); ++i) {
        const int f = indexOf(row[i]);
        if (listed(f) || !allowed(all_[static_cast<size_t>(f)], basis_))
            continue;
        bool beside = false, ended = false;
        for (const size_t side : {i + 1, i - 1})
            if (side < row.size() && listed(indexOf(row[side]))) {
                beside = true;
                ended = ended || resting(static_cast<size_t>(indexOf(row[side])),
                                         from.at[static_cast<size_t>(indexOf(row[side]))], number);
            }
        if (beside)
            all.push_back({f, later * static_cast<double>(all.size()) + (ended ? 0 : neighbour)});
    }
    return all;
}

/// Tests and openers are counted by what they are.
static bool asksWork(const DaySlot& day) {
    return day.hasWork() && !(day.family && day.family->work.empty()) && day.role != Role::Test &&
           day.role != Role::Openers;
}

Chooser::Fixed Chooser::fixedOf(const WeekProblem& week) const {
    constexpr double usual = 0.65; // of threshold: endurance
    Fixed fixed;
    for (size_t d = 0; d < week.days.size(); ++d) {
        const DaySlot& day = week.days[d];
        fixed.time += day.rides() ? day.hours : 0;
        const bool longRide = day.role == Role::Long && (!day.family || day.family->name == "long ride");
        if (!longRide && asksWork(day))
            fixed.hard.push_back(d);
        if (day.words) {
            const SessionFigures f = figuresOf(*day.words, low_);
            fixed.stress += f.stress - 100 * day.hours / 3600 * usual * usual;
            fixed.high += f.purpose.high;
            fixed.middle += f.purpose.middle;
        } else if (longRide && day.family && day.rung) {
            fixed.middle += secondsOfRung(day);
            fixed.stress += secondsOfRung(day) / 3600 * 100 * (0.64 - usual * usual);
        }
        if (const auto test = testFor(week, day)) {
            const Work work = counted(rungOf(*test, 0), low_);
            fixed.stress += added(work, day, usual);
            fixed.high += work.purpose.high;
            fixed.middle += work.purpose.middle + warmMiddle(day.hours);
        }
        if (day.role == Role::Openers && day.available >= 1800) {
            const Work work = counted(rungOf(*basis_.book->named("openers"), 0), low_);
            fixed.stress += added(work, day, usual);
            fixed.high += work.purpose.high;
            fixed.middle += warmMiddle(day.hours);
        }
    }
    return fixed;
}

bool Chooser::ownOfPhase(const Family& f, Phase phase) const {
    return f.own && !f.work.empty() && allowed(f, basis_) &&
           std::find(f.phases.begin(), f.phases.end(), phaseName(phase)) != f.phases.end();
}

std::vector<int> Chooser::familiesFor(size_t w, const std::vector<size_t>& hard) const {
    const WeekProblem& week = weeks_[w];
    std::vector<int> families;
    // From nothing the first hard days are tempo, whatever the phase.
    const bool tempoFirst = week.start < tempoUntil_;
    for (const char* name : tempoFirst
                                ? std::vector<const char*>{"tempo"}
                                : familiesOf(week.phase, week.demand, week.phase == Phase::Base && late(w)))
        if (allowed(*basis_.book->named(name), basis_))
            families.push_back(indexOf(name));
    for (size_t f = 0; f < all_.size() && f < familyCount; ++f)
        if (ownOfPhase(all_[f], week.phase) &&
            std::find(families.begin(), families.end(), static_cast<int>(f)) == families.end())
            families.insert(families.begin(), static_cast<int>(f));
    // Where a base is asked for work above threshold it is aerobic ceiling, once a month where it is little.
    if (week.phase == Phase::Base && week.purpose.high > 0)
        for (const char* name : {"aerobic ceiling long", "aerobic ceiling short"})
            if (allowed(*basis_.book->named(name), basis_))
                families.push_back(indexOf(name));
    // Days too short for anything else.
    for (const size_t d : hard)
        if (week.days[d].available < 3300 &&
            (families.empty() || families.back() != indexOf("short on time")))
            families.push_back(indexOf("short on time"));
    return families;
}

double Chooser::costOf(const WeekProblem& week, const State& from, const Fixed& fixed, const Way& way,
                       const TempoChoice& extra) {
    const double total = std::max(3600.0, from.time + fixed.time);
    const double high = (from.high + fixed.high + way.high - week.purpose.high) / total;
    const double bare = from.middle + fixed.middle + way.middle - week.purpose.middle;
    const double middle = (bare + extra.middle) / total;
    const double low = high + middle; // too much of both, or too little, is felt in the low band
    // Whether the week's points can be met between endurance at either end.
    const double ride = 100 * fixed.time / 3600;
    const double least = 0.95 * 0.3844 * ride + fixed.stress + way.least + extra.least,
                 most = 1.03 * 0.49 * ride + fixed.stress + way.most + extra.most;
    const double off = week.stress > 0 ? std::max({0.0, least / week.stress - 1, 1 - most / week.stress}) : 0;
    return high * high + middle * middle + 2 * low * low + 0.2 * std::abs(high) + 0.1 * std::abs(middle) +
           0.2 * std::abs(low) + extra.cost + 0.4 * off;
}

std::vector<Chooser::Scored> Chooser::scored(size_t w, const State& from, const Fixed& fixed,
                                             const std::vector<Way>& ways,
                                             const std::vector<TempoChoice>& tempos) const {
    const WeekProblem& week = weeks_[w];
    const bool eased = week.kind == WeekKind::Taper || week.kind == WeekKind::Race;
    std::vector<Scored> all;
    for (size_t i = 0; i < ways.size(); ++i) {
        const Way& way = ways[i];
        const double missing = -(from.middle + fixed.middle + way.middle - week.purpose.middle);
        for (const bool over : {true, false}) {
            std::optional<Scored> best;
            for (const size_t e : goingWith(way, tempos, missing, over))
                if (const double cost = costOf(week, from, fixed, way, tempos[e]); !best || cost < best->cost)
                    best = {cost, i, e};
            if (!best)
                continue;
            best->cost += from.cost + way.cost;
            // A taper keeps the intensity it follows, week by week (Bosquet et al. 2007).
            constexpr double someHigh = 240, keepsHigh = 0.012; // s; for half of it
            if (eased && week.purpose.high >= someHigh)
                best->cost += keepsHigh * std::max(0.0, 0.5 - (fixed.high + way.high) / week.purpose.high);
            for (size_t f = 0; f < familyCount; ++f)
                if (way.used[f] && way.at[f].last >= 0 && static_cast<int>(w) - way.at[f].last > leftAlone)
                    best->cost += 0.002;
            all.push_back(*best);
        }
    }
    const size_t keep = std::min(all.size(), beamWidth);
    std::partial_sort(all.begin(), all.begin() + static_cast<long>(keep), all.end(),
                      [](const Scored& a, const Scored& b) { return a.cost < b.cost; });
    all.resize(keep);
    return all;
}

State Chooser::afterWeek(size_t w, const State& from, const Fixed& fixed, const Way& way,
                         const TempoChoice& extra, double cost) {
    const WeekProblem& week = weeks_[w];
    State s = from;
    s.at = way.at.all();
    s.used = way.used;
    s.usedCount = way.usedCount;
    s.cost = cost;
    s.high += fixed.high + way.high - week.purpose.high;
    s.middle += fixed.middle + way.middle + extra.middle - week.purpose.middle;
    s.time += fixed.time;
    std::vector<Chosen> picks = way.picks;
    for (const Chosen& c : extra.picks) {
        const auto f = static_cast<size_t>(c.family);
        picks.push_back(c);
        if (!s.used[f]) {
            s.used[f] = true;
            ++s.usedCount;
        }
        s.at[f] = after(s.at[f], c, static_cast<int>(w));
    }
    s.picks.push_back(std::move(picks));
    s.longTempo.push_back(extra.longTempo);
    if (extra.longTempo > 0)
        s.tempoReached = extra.longTempo;
    return s;
}

bool Chooser::beginsABlock(size_t w) const {
    return w >= lastFresh_ + blockWeeks &&
           (weeks_[w].phase != weeks_[w - 1].phase ||
            (weeks_[w].kind == WeekKind::Build && weeks_[w - 1].kind != WeekKind::Build));
}

void Chooser::step(size_t w) {
    const WeekProblem& week = weeks_[w];
    if (stays(w))
        return stay(w);
    const Fixed fixed = fixedOf(week);
    const std::vector<int> families = familiesFor(w, fixed.hard);
    // Four families are for one block; where more weeks are asked for, the next may take others.
    const bool fresh = beginsABlock(w);
    std::vector<State> next;
    for (const State& from : beam_) {
        State begun = from;
        if (fresh) {
            begun.used.fill(false);
            begun.usedCount = 0;
        }
        if (fixed.time <= 0) // a week off: two rungs down
            for (LadderStanding& s : begun.at)
                s.fall();
        for (const DaySlot& day : week.days)
            if (day.words && day.family)
                take(begun, day.family->name, day.rung.value_or(-1), static_cast<int>(w));
        std::vector<Way> ways;
        hardDays(week, fixed.hard, withNeighbours(week, families, from, static_cast<int>(w)), 0,
                 static_cast<int>(w), Way(begun), ways);
        State standing = from;
        standing.used = begun.used;
        standing.usedCount = begun.usedCount;
        const std::vector<TempoChoice> tempos = tempoChoices(week, standing);
        for (const Scored& s : scored(w, from, fixed, ways, tempos))
            next.push_back(afterWeek(w, from, fixed, ways[s.way], tempos[s.extra], s.cost));
    }
    if (fresh)
        lastFresh_ = w;
    const size_t keep = std::min(next.size(), beamWidth);
    std::partial_sort(next.begin(), next.begin() + static_cast<long>(keep), next.end(),
                      [](const State& a, const State& b) { return a.cost < b.cost; });
    next.resize(keep);
    beam_ = std::move(next);
}

/// What is held for some hours, as a fraction of threshold: an hour of 95 points, a climb of 50 points over
/// 105 %, and 88 % from four hours on (common practice).
static double raceIntensity(double hours) {
    return std::max(0.88, 0.975 * std::pow(hours, hours < 1 ? -0.094 : -0.075));
}

Session Chooser::racePace(const Season& season, const std::vector<WeekProblem>& weeks, size_t rung) {
    const Race* goal = nullptr;
    for (const Race& race : season.races)
        if (race.priority == Priority::A && (weeks.empty() || race.date >= weeks.front().start) &&
            (!goal || race.date < goal->date))
            goal = &race;
    const double stress = goal ? raceStress(*goal) / goal->days : 300;
    // The length whose stress, ridden at what is held for it, is the race's.
    double hours = 1;
    for (int turn = 0; turn < 60; ++turn)
        hours = 0.5 * hours +
                0.5 * std::clamp(stress / (100 * raceIntensity(hours) * raceIntensity(hours)), 0.1, 24.0);
    const double shares[] = {0.25, 1.0 / 3, 0.42, 0.5};
    const double minutes = std::clamp(60 * hours * shares[std::min<size_t>(rung, 3)], 3.0, 30.0);
    const int length = static_cast<int>(std::lround(minutes)),
              percent = static_cast<int>(std::lround(100 * raceIntensity(hours)));
    const int count = length < 10 ? 3 : 2;
    return *readShorthand(std::to_string(count) + " × " + std::to_string(length) + " min " +
                          std::to_string(percent) + " with 5 min 50 between");
}

std::string Chooser::whyOf(size_t w, const Chosen& c) {
    const WeekProblem& week = weeks_[w];
    const Work& work = workOf(c);
    const Family& family = all_[static_cast<size_t>(c.family)];
    std::string why = phrase("Rung %1 of %2, for %3", std::to_string(c.rung + 1),
                             std::to_string(family.rungs.size()), translated(family.purpose)) +
                      whyThatRung(w, c);
    if (week.days[c.day].role == Role::Easy)
        why += phrase("; tempo between the hard days makes up the middle of the split");
    if (work.bent > 0)
        why += phrase("; %1 points under the rung, which would leave too little of the rider's W′",
                      std::to_string(work.bent));
    if (week.days[c.day].pinned)
        why += phrase("; the coach put it here");
    return why;
}

std::string Chooser::whyThatRung(size_t w, const Chosen& c) const {
    const WeekProblem& week = weeks_[w];
    if (c.lighter)
        return std::string(*c.lighter == Lighter::Half ? phrase(", with half of its repetitions: ")
                                                       : phrase(", with a repetition fewer: ")) +
               (week.kind == WeekKind::Taper || week.kind == WeekKind::Race ? phrase("the race is near")
                                                                            : phrase("a lighter week"));
    if (c.fewer > 0)
        return (c.fewer == 1 ? phrase(", with a repetition fewer: ")
                             : phrase(", with two repetitions fewer: ")) +
               (week.days[c.day].role == Role::Hard ? phrase("the day holds no more")
                                                    : phrase("the day is not a hard one"));
    if (c.above > 0)
        return phrase("; the ladder has ended, and it came back %1%2", std::to_string(c.above),
                      (counted(c.above, " point of power higher", " points of power higher")));
    if (c.again)
        return phrase("; what was reached, once more");
    if (w > 0 || anyDone_)
        return phrase("; it grows by %1", translated(all_[static_cast<size_t>(c.family)].grows));
    return {};
}

WeekChoice Chooser::choiceOf(size_t w, const State& state) {
    const WeekProblem& week = weeks_[w];
    WeekChoice choice;
    choice.onDay.resize(week.days.size());
    choice.longTempo = state.longTempo[w];
    choice.longTarget = tempoOver(low_);
    for (size_t d = 0; d < week.days.size(); ++d)
        if (const Family* test = testFor(week, week.days[d])) {
            const Work work = counted(rungOf(*test, 0), low_);
            choice.onDay[d] = Pick{test, 0, work.session, work.seconds,
                                   phrase("A test at the end of a lighter week; kinds alternate.")};
        }
    for (const Chosen& c : state.picks[w]) {
        const Work& work = workOf(c);
        const Family& family = all_[static_cast<size_t>(c.family)];
        choice.onDay[c.day] = Pick{&family, c.rung, work.session, work.seconds, whyOf(w, c) + "."};
    }
    for (const DaySlot& day : week.days)
        if (day.role == Role::Long && day.family && day.family->name == "long ride" && day.rung &&
            !day.words) {
            const SessionFigures f = figuresOf(day.family->work[static_cast<size_t>(*day.rung)], low_);
            choice.longTempo = f.seconds;
            choice.longTarget = static_cast<int>(std::lround(100 * f.mean));
        }
    return choice;
}

std::vector<WeekChoice> chooseSessions(const Season& season, const std::vector<WeekProblem>& weeks,
                                       const BlockBasis& basis) {
    return Chooser(season, weeks, basis).run();
}

} // namespace marram
