// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/ahead.h"
#include "core/season/plan.h"
#include <algorithm>
#include <cmath>
#include <optional>
#include <random>
#include <string>
#include <vector>

/// Seasons as they are lived, solved again as they go: what a plan promised and what it keeps.
namespace marram::test {

/// The season on a morning inside it, with what was ridden.
inline Season riddenUpTo(const Season& season, Date morning, const std::vector<double>& ridden) {
    Season s = season;
    s.past = Past{morning, {ridden.begin(), ridden.begin() + (morning - season.start)}};
    return s;
}

struct Kept {
    int mondays = 0, changed = 0;
    int longerThanPromised = 0; ///< weeks without unloading beyond the promise, at most
    std::string first;
};

inline bool unloads(WeekKind k) {
    return k != WeekKind::Build && k != WeekKind::Camp;
}

/// Ridden to the letter and solved again on every Monday: how often the next four weeks are others (their
/// kinds, their stress by more than 5 %).
inline Kept keptWord(const Season& season) {
    Kept k;
    Plan plan = solveSeason(season).plan;
    std::vector<double> ridden;
    int run = 0, promised = 0, longestPromised = 0, longest = 0;
    for (const PlannedWeek& w : plan.weeks) {
        promised = unloads(w.kind) ? 0 : promised + 1;
        longestPromised = std::max(longestPromised, promised);
    }
    for (Date monday = marram::monday(season.start) + 7; monday <= season.end; monday = monday + 7) {
        for (Date d = season.start + static_cast<int>(ridden.size()); d < monday; d = d + 1)
            ridden.push_back(plan.days[static_cast<size_t>(d - season.start)].stress);
        const Plan next = solveSeason(riddenUpTo(season, monday, ridden)).plan;
        ++k.mondays;
        bool other = false;
        for (size_t w = 0; w < plan.weeks.size(); ++w) {
            const PlannedWeek &a = plan.weeks[w], &b = next.weeks[w];
            if (a.start < monday || a.start >= monday + 28)
                continue;
            if (a.kind != b.kind || std::abs(a.stress - b.stress) > 0.05 * std::max(20.0, a.stress)) {
                if (!other && k.first.empty())
                    k.first = "on " + isoText(monday) + " the week of " + isoText(a.start) + ": " +
                              nameOf(a.kind) + " " + fixedText(a.stress, 0) + " becomes " + nameOf(b.kind) +
                              " " + fixedText(b.stress, 0);
                other = true;
            }
        }
        k.changed += other ? 1 : 0;
        plan = next;
    }
    for (const PlannedWeek& w : plan.weeks) {
        run = unloads(w.kind) ? 0 : run + 1;
        longest = std::max(longest, run);
    }
    k.longerThanPromised = std::max(0, longest - longestPromised);
    return k;
}

struct Aimed {
    struct Race {
        std::string name;
        double chance = 0, best = 0, paid = 0, fitness = 0, form = 0, expected = 0, deviation = 0;
        Gate gate;
    };
    std::vector<Race> races;
};

/// The chance to wake inside the gate of each A race, by simulation, beside the best that moving its gate by
/// hand finds for at most 1.3 of fitness.
inline Aimed aimedAt(const Season& season, int seasons = 3000) {
    Misses misses;
    misses.miss = season.rules.miss;
    misses.run = season.rules.missRun;
    misses.seasons = seasons;
    const auto shareOf = [&](const Plan& plan, size_t r, const Gate& gate) {
        Plan judged = plan;
        judged.races[r].gate = gate;
        return (*chancesOf(season, judged, misses))[r].inGate.value_or(0);
    };
    Aimed all;
    const Plan plan = solveSeason(season).plan;
    for (size_t r = 0; r < season.races.size(); ++r) {
        const PlannedRace& race = plan.races[r];
        if (race.priority != Priority::A || !race.gate)
            continue;
        Aimed::Race a{race.name,         shareOf(plan, r, *race.gate), 0,         0, race.fitness, race.form,
                      race.expectedForm, race.formDeviation,           *race.gate};
        a.best = a.chance;
        for (const double move : {-4.0, -2.0, 2.0, 4.0, 6.0}) {
            Season moved = season;
            const double width = race.gate->high - race.gate->low;
            moved.races[r].gate = Gate{race.gate->low + move, race.gate->low + move + width};
            const Plan other = solveSeason(moved).plan;
            const double share = shareOf(other, r, *race.gate), paid = race.fitness - other.races[r].fitness;
            if (share > a.best && paid <= 1.3) {
                a.best = share;
                a.paid = paid;
            }
        }
        all.races.push_back(a);
    }
    return all;
}

/// How one rider rides one season, whatever is planned: which days are missed, how far rides differ, when
/// they are ill.
struct Life {
    std::vector<bool> missed;   ///< each day of the season
    std::vector<double> ridden; ///< of what was planned
    std::optional<Away> ill;
    static constexpr double share = 0.1, run = 2,
                            off = 0.15; ///< missed days, their mean run; deviation of a ride

    Life(const Season& season, unsigned seed, bool falls) {
        std::mt19937 dice(seed);
        const auto uniform = [&] { return (static_cast<double>(dice()) + 0.5) / 4294967296.0; };
        bool miss = uniform() < share;
        for (int d = 0; d < season.dayCount(); ++d) {
            missed.push_back(miss);
            miss = uniform() < (miss ? 1 - 1 / run : share / (run * (1 - share)));
            // Twelve uniforms less six are nearly normal.
            double normal = -6;
            for (int i = 0; i < 12; ++i)
                normal += uniform();
            ridden.push_back(std::max(0.3, 1 + off * normal));
        }
        // An illness a year.
        if (falls && uniform() < season.dayCount() / 365.0) {
            const Date from = season.start + static_cast<int>(uniform() * season.dayCount());
            const int days = 3 + static_cast<int>(uniform() * 7);
            ill = Away{from, std::min(from + days - 1, season.end), AwayWhy::Illness, std::nullopt};
        }
    }
    bool isIll(Date day) const { return ill && ill->from <= day && day <= ill->to; }
};

/// How the weeks of a life are planned.
enum class Way { Thumb, Once, CaughtUp, Mondays };

struct Lived {
    std::vector<double> form, fitness; ///< on the morning of each race of the season
    double largestRamp = 0;            ///< points/day a week
};

/// By hand: three weeks each seven per cent over the last and one at 60 %, from what the rider is used to up
/// to what the hours hold at 50 points an hour; the last two weeks before an A race at 60 and 40 % (common
/// practice).
inline std::vector<double> thumbPlan(const Season& season, const Plan& plan) {
    std::vector<double> days;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    double level = std::clamp(7 * season.before.fitness, 0.3 * hours * 50, 0.95 * hours * 50);
    int week = 0;
    for (Date start = monday(season.start); start <= season.end; start = start + 7, ++week) {
        double share = week % 4 == 3 ? 0.6 : 1;
        for (const Race& r : season.races)
            if (r.priority == Priority::A && r.date >= start && r.date < start + 14)
                share = r.date < start + 7 ? 0.4 : 0.6;
        if (share == 1)
            level = std::min(level * 1.07, 0.95 * hours * 50);
        for (int i = 0; i < 7; ++i) {
            const Date day = start + i;
            if (day < season.start || day > season.end)
                continue;
            const PlannedDay& of = plan.days[static_cast<size_t>(day - season.start)];
            const bool away = std::any_of(season.away.begin(), season.away.end(), [&](const Away& a) {
                return a.why != AwayWhy::Camp && a.from <= day && day <= a.to;
            });
            days.push_back(of.role == Role::Race ? of.stress
                           : away || hours <= 0
                               ? 0
                               : share * level * season.hours[static_cast<size_t>(i)] / hours);
        }
    }
    return days;
}

/// One life under one way of planning. What was missed is caught up on the days that follow in the week, at
/// most half as much again a day.
inline Lived liveOn(const Season& season, const Life& life, Way way) {
    Lived lived;
    Season known = season;
    Plan plan = solveSeason(season).plan;
    std::vector<double> thumb;
    if (way == Way::Thumb)
        thumb = thumbPlan(season, plan);
    std::vector<double> ridden;
    LoadState state = season.before;
    double monday = state.fitness, owed = 0;
    lived.form.assign(season.races.size(), 0);
    lived.fitness.assign(season.races.size(), 0);
    for (Date day = season.start; day <= season.end; day = day + 1) {
        const auto d = static_cast<size_t>(day - season.start);
        if (weekday(day) == 0) {
            lived.largestRamp = std::max(lived.largestRamp, state.fitness - monday);
            monday = state.fitness;
            owed = 0;
            if (way == Way::Mondays && d > 0) {
                known.away = season.away;
                if (life.ill && life.ill->from < day)
                    known.away.push_back(*life.ill);
                plan = solveSeason(riddenUpTo(known, day, ridden)).plan;
            }
        }
        for (size_t r = 0; r < season.races.size(); ++r)
            if (season.races[r].date == day) {
                lived.form[r] = state.form();
                lived.fitness[r] = state.fitness;
            }
        const PlannedDay& planned = plan.days[d];
        double stress = way == Way::Thumb ? thumb[d] : planned.stress;
        if (planned.role != Role::Race) {
            const double meant = stress;
            if (life.isIll(day) || (life.missed[d] && meant > 0)) {
                stress = 0;
                owed += meant;
            } else if (meant > 0) {
                stress = meant * life.ridden[d];
                if (way == Way::CaughtUp) {
                    const double more = std::min(owed, 0.5 * meant);
                    owed -= more;
                    stress += more;
                }
            }
        }
        ridden.push_back(stress);
        const double f = decay(season.tau.fitness), a = decay(season.tau.fatigue);
        state = {f * state.fitness + (1 - f) * stress, a * state.fatigue + (1 - a) * stress};
    }
    return lived;
}

} // namespace marram::test
