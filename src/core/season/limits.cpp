// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double seen = 1e-4;   ///< a breach smaller than this is rounding
constexpr double fallen = 1e-3; ///< of a week's load, that nobody sees

class Auditor {
public:
    Auditor(const Season& season, const Solved& solved) : season_(season), s_(solved) {}

    std::vector<Relaxed> run() {
        for (size_t w = 0; w < s_.plan.weeks.size(); ++w)
            if (s_.frame.weeks[w].first >= s_.frame.today) {
                ramp(w);
                besideWeekBefore(w);
            }
        floor();
        for (const TaperFrame& taper : s_.frame.tapers)
            volume(taper);
        slump();
        return std::move(found_);
    }

private:
    const PlannedWeek& at(size_t w) const { return s_.plan.weeks[w]; }

    /// True where a week trains all the time it has.
    bool full(size_t w) const { return at(w).hours >= 0.99 * at(w).availableHours - 1e-6; }

    std::string reason(size_t w, double wanted) const {
        if (std::string other = notTraining(w); !other.empty())
            return other;
        const auto& roles = s_.patterns[w].roles;
        const bool test = std::find(roles.begin(), roles.end(), Role::Test) != roles.end();
        const WeekFrame& frame = s_.frame.weeks[w];
        if (w > 0 && frame.volume < s_.frame.weeks[w - 1].volume)
            return phrase(": %1 fills %2 % of the hours.", nameOf(frame.phase),
                          fixedText(100 * frame.volume, 0));
        return s_.patterns[w].points >= wanted ? "."
               : test                          ? phrase(": a test takes the place of a hard day.")
                                               : phrase(": its hours hold no more.");
    }

    /// The same of the week, or of the one before it.
    std::string notTrainingIn(size_t w) const {
        std::string own = notTraining(w);
        return own.empty() ? notTraining(w - 1) : own;
    }

    /// What takes days of a week away from training, as the end of a sentence; empty where nothing does.
    std::string notTraining(size_t w) const {
        bool race = false, away = false, camp = false;
        for (int d = s_.frame.weeks[w].first; d <= s_.frame.weeks[w].last; ++d) {
            const DayFrame& day = s_.frame.days[static_cast<size_t>(d)];
            race = race || day.race >= 0;
            away = away || day.away;
            camp = camp || day.camp;
        }
        return race   ? phrase(": a race takes the place of a day.")
               : camp ? phrase(": a camp is in it.")
               : away ? phrase(": days away.")
                      : std::string();
    }

    void report(const std::string& text, double amount) { found_.push_back({text, amount}); }

    static std::string nameOfWeek(const WeekFrame& frame) {
        return phrase("the week of %1", isoText(frame.start));
    }

    void ramp(size_t w) {
        const WeekFrame& frame = s_.frame.weeks[w];
        const double before = frame.first > 0 ? s_.plan.days[static_cast<size_t>(frame.first - 1)].fitness
                                              : season_.before.fitness;
        const double ramp = at(w).fitness - before;
        const std::string name = nameOfWeek(frame);
        const double bears = std::max(0.0, rampBase + rampOfFitness * before);
        // With as many places as it takes to show the breach.
        const auto text = [&](double figure, double limit) {
            int places = 1;
            while (places < 4 && fixedText(ramp, places) == fixedText(limit, places))
                ++places;
            return fixedText(figure, places);
        };
        if (const double most = season_.rules.ramp; ramp > most + seen)
            report(phrase("Fitness rises %1 in %2, more than %3.", text(ramp, most), name, text(most, most)),
                   ramp - most);
        else if (ramp > bears + seen)
            report(phrase("Fitness rises %1 in %2, more than the %3 a fitness of %4 bears.",
                          text(ramp, bears), name, text(bears, bears), fixedText(before, 0)),
                   ramp - bears);
    }

    void besideWeekBefore(size_t w) {
        const WeekFrame& frame = s_.frame.weeks[w];
        const std::string name = nameOfWeek(frame);
        if (w == 0 || s_.frame.weeks[w - 1].first < s_.frame.today)
            return;
        const double load = at(w).stress, previous = at(w - 1).stress;
        const bool building = frame.kind == WeekKind::Build && at(w - 1).kind == WeekKind::Build;
        if (building && load < previous - fallen * previous)
            report(phrase("Build falls in %1 below the week before%2", name, reason(w, previous)),
                   previous - load);
        if (building && load > largestRise * previous * (1 + seen)) {
            const bool afterLean = full(w - 1);
            const std::string other = notTrainingIn(w);
            report(phrase("Build rises in %1 by more than 10 % over the week before%2", name,
                          (!other.empty() ? other
                           : afterLean    ? phrase(", whose hours were full.")
                                          : ".")),
                   load - largestRise * previous);
        }
        if (frame.kind == WeekKind::Deload && at(w - 1).kind == WeekKind::Build && previous > 0) {
            const double share = load / previous;
            const double off = std::max(0.5 - share, share - 0.7);
            const std::string other = notTrainingIn(w);
            if (off > seen)
                report(phrase("The deload in %1 carries %2 % of the week before%3", name,
                              fixedText(100 * share, 0), (other.empty() ? "." : other)),
                       off);
        }
    }

    void floor() {
        const auto& days = s_.plan.days;
        for (size_t d = static_cast<size_t>(s_.frame.today); d < days.size(); ++d) {
            if (days[d].form >= season_.rules.formFloor - seen)
                continue;
            size_t deepest = d, end = d;
            for (; end < days.size() && days[end].form < season_.rules.formFloor - seen; ++end)
                if (days[end].form < days[deepest].form)
                    deepest = end;
            const double under = season_.rules.formFloor - days[deepest].form;
            // With as many decimals as tell it from the floor.
            report(phrase("Form falls to %1 on %2, below the floor of %3.",
                          signedText(days[deepest].form, under < 0.05 ? 2 : 1), isoText(days[deepest].date),
                          signedText(season_.rules.formFloor, 0)),
                   under);
            d = end;
        }
    }

    void volume(const TaperFrame& taper) {
        const int from = std::max(taper.window, 0);
        if (taper.lastBuildWeek < 0 || taper.window < s_.frame.today || taper.raceDay - from < 5)
            return;
        double hours = 0;
        for (int d = from; d < taper.raceDay; ++d)
            hours += s_.plan.days[static_cast<size_t>(d)].hours;
        const double build = at(static_cast<size_t>(taper.lastBuildWeek)).hours;
        // Days away in that week make no measure.
        if (build <= 0 || !notTraining(static_cast<size_t>(taper.lastBuildWeek)).empty())
            return;
        const double share = hours / ((taper.raceDay - from) / 7.0) / build;
        const double off = std::max(0.4 - share, share - 0.6);
        if (off > seen)
            report(phrase("The taper before %1 keeps %2 % of the last build week's hours.",
                          season_.races[static_cast<size_t>(taper.race)].name, fixedText(100 * share, 0)),
                   off);
    }

    std::string whySmaller(const Block& before, const Block& block, bool full) const {
        const WeekFrame &then = s_.frame.weeks[before.weeks.back()],
                        &now = s_.frame.weeks[block.weeks.front()];
        if (block.explained)
            return phrase(": a break, a camp, a race or days away lie between.");
        if (full)
            return phrase(": its hours are full.");
        if (now.pointsPerHour < then.pointsPerHour)
            return phrase(": its hours are easier.");
        return phrase(": races or a gate ahead take some of its load.");
    }

    void slump() {
        const std::vector<Block> blocks = plannedBlocks(s_.frame);
        const auto mean = [&](const Block& block, auto what) {
            double sum = 0;
            for (const size_t w : block.weeks)
                sum += what(at(w));
            return sum / static_cast<double>(block.weeks.size());
        };
        const auto stress = [](const PlannedWeek& w) { return w.stress; };
        for (size_t k = 1; k < blocks.size(); ++k) {
            const double fall = mean(blocks[k - 1], stress) - mean(blocks[k], stress);
            // A phase that is to fill less of the hours carries less: nothing gave way for it.
            const double asked = std::min(1.0, s_.frame.weeks[blocks[k].weeks.front()].volume /
                                                   s_.frame.weeks[blocks[k - 1].weeks.back()].volume);
            if (fall <= (1 - asked + 2e-3) * mean(blocks[k - 1], stress))
                continue;
            const bool hours = std::all_of(blocks[k].weeks.begin(), blocks[k].weeks.end(),
                                           [&](size_t w) { return full(w); });
            report(phrase("The block from %1 is smaller than the one before%2",
                          isoText(at(blocks[k].weeks.front()).start),
                          whySmaller(blocks[k - 1], blocks[k], hours)),
                   fall);
        }
    }

    const Season& season_;
    const Solved& s_;
    std::vector<Relaxed> found_;
};

/// A change of one unit, and how it reads.
struct Candidate {
    Season changed;
    Limit limit;
    double expected = 0;
};

Candidate oneMoreHour(const Season& season, const Solved& s, size_t week, double expected) {
    const WeekFrame& frame = s.frame.weeks[week];
    Candidate c{season, {}, expected};
    c.changed = withPin(season, frame.start, [&](WeekPin& pin) {
        WeekHours hours = pin.hours.value_or(season.hours);
        double sum = 0;
        for (const double h : hours)
            sum += h;
        for (double& h : hours)
            h = std::min(24.0, sum > 0 ? h * (1 + 1 / sum) : 1.0 / 7);
        pin.hours = hours;
    });
    c.limit = {phrase("one more hour in the week of %1", dayText(frame.start)), "h", 0, frame.start,
               frame.start + 6};
    c.limit.weekly = true;
    return c;
}

/// The share of its hours a phase may fill.
double volumeOf(const Solved& s, Phase phase) {
    for (const WeekFrame& week : s.frame.weeks)
        if (week.phase == phase)
            return week.volume;
    return 1;
}

std::vector<Candidate> candidates(const Season& season, const Solved& s) {
    using What = Solution::Worth::What;
    std::vector<Candidate> all;
    for (const auto& worth : s.solution.worth) {
        Candidate c{season, {}, worth.perUnit};
        switch (worth.what) {
        case What::Hours:
            c = oneMoreHour(season, s, worth.week, worth.perUnit);
            break;
        case What::Ramp:
            c.changed.rules.ramp += 1;
            c.limit = {phrase("a ramp of one point a week more"), phrase("points/day per week"), 0,
                       season.start, season.end};
            break;
        case What::FormFloor:
            c.changed.rules.formFloor -= 1;
            c.limit = {phrase("form allowed one point deeper"), marked("points/day"), 0, season.start,
                       season.end};
            break;
        case What::GateLow:
        case What::GateHigh: {
            const bool low = worth.what == What::GateLow;
            Race& race = c.changed.races[static_cast<size_t>(worth.race)];
            Gate gate = s.solution.gates[static_cast<size_t>(worth.race)].value_or(Gate{});
            (low ? gate.low : gate.high) += low ? -1 : 1;
            race.gate = gate;
            c.limit = {phrase("the %1 edge of the gate of %2 one point %3",
                              (low ? marked("lower") : marked("upper")), race.name,
                              (low ? marked("lower") : marked("higher"))),
                       marked("points/day"), 0, race.date, race.date};
            break;
        }
        case What::Volume:
            c.changed.rules.volume[worth.phase] = std::min(1.0, volumeOf(s, worth.phase) + 0.01);
            c.limit = {phrase("one per cent more of the hours in %1", nameOf(worth.phase)), "%", 0,
                       season.start, season.end};
            break;
        }
        all.push_back(std::move(c));
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const Candidate& a, const Candidate& b) { return a.expected > b.expected; });
    return all;
}

} // namespace

std::vector<Relaxed> audit(const Season& season, const Solved& solved) {
    return Auditor(season, solved).run();
}

namespace {

/// What an hour more in the week from a day gives the fitness of the A races after it, or else of the B
/// races.
double givenBy(const Season& season, const Solved& solved, size_t w, Date from) {
    const double keep = decay(season.tau.fitness);
    const WeekPattern& pattern = solved.patterns[w];
    const double points = 1 / std::max(1e-9, hoursPerPoint(pattern));
    for (const Priority priority : {Priority::A, Priority::B}) {
        double direct = 0;
        bool peak = false;
        for (const PlannedRace& race : solved.plan.races) {
            if (race.priority != priority || race.date <= from)
                continue;
            peak = true;
            for (int i = 0; i < 7; ++i)
                if (const int left = race.date - 1 - (from + i); left >= 0)
                    direct +=
                        (1 - keep) * std::pow(keep, left) * points * pattern.share[static_cast<size_t>(i)];
        }
        if (peak)
            return direct;
    }
    return 0;
}

/// An hour is worth what that hour gives, the other weeks held at what they carry; where less of it can be
/// used, or others move with it, the sentence says what else does.
void onlyThatHour(const Season& season, const Solved& solved, const Solved& again, Limit& limit) {
    const auto w = static_cast<size_t>(solved.frame.weekOf(std::max(0, limit.from - season.start)));
    const double direct = givenBy(season, solved, w, limit.from);
    if (direct <= 0)
        return;
    const bool little = limit.fitnessPerUnit <= 0.7 * direct, much = limit.fitnessPerUnit > 1.4 * direct;
    limit.fitnessPerUnit = std::min(limit.fitnessPerUnit, direct);
    if (!little && !much)
        return;
    double moved = 0;
    for (size_t other = 0; other < solved.plan.weeks.size(); ++other)
        if (other != w)
            moved += again.plan.weeks[other].stress - solved.plan.weeks[other].stress;
    if (much && std::abs(moved) < 1)
        return;
    limit.takes = std::abs(moved) < 1
                      ? phrase("some of that hour stays unused")
                      : phrase("other weeks carry %1 points %2", fixedText(std::abs(moved), 0),
                               (moved < 0 ? marked("less") : marked("more")));
}

} // namespace

std::vector<Limit> explainLimits(const Season& season, const Solved& solved, size_t most) {
    std::vector<Limit> limits;
    size_t tried = 0;
    // A plan that was promised is left for little of what an hour is worth: it is not held here, on neither
    // side.
    Solution from = solved.solution;
    from.held = false;
    const Solved free = season.past ? solveSeason(season, &from, {}, Choices::Keep) : solved;
    for (Candidate& c : candidates(season, free)) {
        if (tried++ == most + 2)
            break;
        const Solved again = solveSeason(c.changed, &from, {}, Choices::Keep);
        c.limit.fitnessPerUnit = aimedFitness(again.plan) - aimedFitness(free.plan);
        if (c.limit.fitnessPerUnit < 0.005)
            continue;
        if (c.limit.weekly)
            onlyThatHour(season, free, again, c.limit);
        c.limit.text += phrase(": %1 fitness on race day%2", signedText(c.limit.fitnessPerUnit, 2),
                               (c.limit.takes.empty() ? "" : phrase(", and %1", c.limit.takes)));
        limits.push_back(c.limit);
    }
    std::stable_sort(limits.begin(), limits.end(),
                     [](const Limit& a, const Limit& b) { return a.fitnessPerUnit > b.fitnessPerUnit; });
    if (limits.size() > most)
        limits.resize(most);
    return limits;
}

} // namespace marram
