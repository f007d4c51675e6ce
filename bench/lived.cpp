// SPDX-License-Identifier: GPL-3.0-or-later
// Invented seasons as they are lived: what a plan promises and keeps, where riders wake, what recovery is
// given.
#include "support/lived.h"
#include "core/season/ahead.h"
#include "core/season/chance.h"
#include "support/generator.h"
#include "support/learner.h"
#include "support/properties.h"
#include "support/ridden_record.h"
#include "support/seasons.h"

#include <array>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <set>
#include <string>

using namespace marram;
using namespace marram::test;

namespace {

void properties(unsigned from, unsigned count) {
    std::map<int, std::set<unsigned>> broken;
    std::map<int, std::string> first;
    for (unsigned seed = from; seed < from + count; ++seed) {
        const Season season = Generator(seed).season();
        const Solved solved = solveSeason(season);
        for (const Properties::Breach& b : Properties(season, solved.plan).run()) {
            broken[b.property].insert(seed);
            if (first[b.property].size() < 700)
                first[b.property] += " | " + std::to_string(seed) + ": " + b.what;
        }
    }
    for (const auto& [property, seeds] : broken)
        std::printf("S%d: %zu of %u;%s\n", property, seeds.size(), count, first[property].c_str());
}

void word(unsigned from, unsigned count) {
    int mondays = 0, changed = 0, longest = 0;
    for (unsigned seed = from; seed < from + count; ++seed) {
        const Season season = Generator(seed).season();
        const Kept k = keptWord(season);
        mondays += k.mondays;
        changed += k.changed;
        longest = std::max(longest, k.longerThanPromised);
        if (k.changed > 0)
            std::printf("  seed %u: %d of %d changed, %s\n", seed, k.changed, k.mondays, k.first.c_str());
    }
    std::printf("S32: %d of %d Mondays changed; longer without unloading by at most %d weeks\n", changed,
                mondays, longest);
}

void aims(unsigned from, unsigned count) {
    double chance = 0, reachable = 0, paid = 0;
    int races = 0, within = 0, can = 0;
    for (unsigned seed = from; seed < from + count; ++seed) {
        Season season = Generator(seed).season();
        season.rules.miss = 0.1;
        season.rules.missRun = 2;
        const Aimed a = aimedAt(season);
        for (const Aimed::Race& r : a.races) {
            ++races;
            chance += r.chance;
            reachable += r.best;
            paid += r.paid;
            within += r.chance > r.best - 0.10 ? 1 : 0;
            can += r.best > 0.5 ? 1 : 0;
            if (r.chance < r.best - 0.10)
                std::printf("  seed %u %s: chance %.2f, best %.2f (fitness %.1f, %.1f there), gate %.0f to "
                            "%.0f, form "
                            "%.1f expected %.1f sd %.1f\n",
                            seed, r.name.c_str(), r.chance, r.best, r.fitness, r.fitness - r.paid, r.gate.low,
                            r.gate.high, r.form, r.expected, r.deviation);
        }
    }
    std::printf(
        "S26: %d A races (%d that can be met); chance %.3f, best by hand %.3f, within 10 of it %.2f\n", races,
        can, chance / races, reachable / races, double(within) / races);
}

struct Mornings {
    double inside = 0, fitness = 0, ramp = 0;
    int count = 0;
    void add(const Lived& lived, size_t race, const Gate& gate) {
        ++count;
        inside += lived.form[race] >= gate.low && lived.form[race] <= gate.high ? 1 : 0;
        fitness += lived.fitness[race];
        ramp = std::max(ramp, lived.largestRamp);
    }
};

/// A races to come after three months whose gate the plan meets.
std::vector<size_t> aimsOf(const Season& season, const Plan& plan) {
    std::vector<size_t> aims;
    for (size_t r = 0; r < plan.races.size(); ++r)
        if (plan.races[r].priority == Priority::A && plan.races[r].gate && plan.races[r].gateMiss < 0.1 &&
            plan.races[r].date >= season.start + 84)
            aims.push_back(r);
    return aims;
}

/// The same invented seasons lived under four ways of planning, and once more by riders who are never ill.
void table(unsigned from, unsigned riders, unsigned lives) {
    constexpr std::array ways{std::pair{Way::Thumb, "a rule of thumb, by hand"},
                              std::pair{Way::Once, "solved once"},
                              std::pair{Way::CaughtUp, "solved once, missed work caught up"},
                              std::pair{Way::Mondays, "solved again every Monday"}};
    std::array<Mornings, ways.size()> rows, well;
    int chosen = 0;
    for (unsigned seed = from; chosen < static_cast<int>(riders); ++seed) {
        Season season = any(seed);
        season.rules.miss = Life::share;
        season.rules.missRun = Life::run;
        const Plan plan = solveSeason(season).plan;
        const std::vector<size_t> aims = aimsOf(season, plan);
        if (aims.empty() || season.dayCount() > 400)
            continue;
        ++chosen;
        for (unsigned n = 0; n < lives; ++n)
            for (const bool falls : {true, false}) {
                const Life life(season, seed * 1000 + n, falls);
                for (size_t w = 0; w < ways.size(); ++w) {
                    if (!falls && ways[w].first != Way::Once && ways[w].first != Way::Mondays)
                        continue;
                    const Lived lived = liveOn(season, life, ways[w].first);
                    for (const size_t r : aims) {
                        // Where the coach sets none it is of the fitness the rider has that morning.
                        const Gate gate =
                            raceGate(season.races[r], lived.fitness[r]).value_or(*plan.races[r].gate);
                        (falls ? rows : well)[w].add(lived, r, gate);
                    }
                }
            }
    }
    std::printf("%-36s %10s %10s %12s\n", "", "inside", "fitness", "largest ramp");
    for (size_t w = 0; w < ways.size(); ++w)
        std::printf("%-36s %6.0f of 100 %8.1f %12.1f\n", ways[w].second, 100 * rows[w].inside / rows[w].count,
                    rows[w].fitness / rows[w].count, rows[w].ramp);
    std::printf(
        "%d riders, %u lives each, %d mornings of A races: a tenth of the days missed in runs of two, an "
        "illness a year, rides 15 %% other than meant.\n",
        chosen, lives, rows[0].count);
    std::printf(
        "Where nobody is ill %.0f of 100 wake inside solved once and %.0f of 100 solved again; that costs "
        "%.2f of fitness against riding the old plan on.\n",
        100 * well[1].inside / well[1].count, 100 * well[3].inside / well[3].count,
        (well[1].fitness - well[3].fitness) / well[1].count);
    std::printf("The model judges itself here: it says what its own equations make of these lives, not what "
                "riders do.\n");
}

/// One season week by week, as a coach reads it.
void show(unsigned seed) {
    const Season season = Generator(seed).season();
    const Plan plan = solveSeason(season).plan;
    for (const PlannedWeek& w : plan.weeks) {
        std::printf("%s %-9s %-10s block %2d  %6.1f points %5.2f of %5.2f h  low %.3f middle %.3f high %.3f ",
                    isoText(w.start).c_str(), nameOf(w.kind), nameOf(w.phase), w.block, w.stress, w.hours,
                    w.availableHours, w.bandHours.low / std::max(0.01, w.bandHours.sum()),
                    w.bandHours.middle / std::max(0.01, w.bandHours.sum()),
                    w.bandHours.high / std::max(0.01, w.bandHours.sum()));
        for (const PlannedDay& d : plan.days)
            if (d.date >= w.start && d.date < w.start + 7)
                std::printf(" %.2s%.1f", nameOf(d.role), d.hours);
        std::printf("\n");
    }
    for (const std::string& warning : plan.warnings)
        std::printf("%s\n", warning.c_str());
}

/// Values read out of the records of riders whose truth is known.
void record(unsigned from, unsigned count) {
    static constexpr const char* kinds[] = {"ordinary",   "no strap",   "dead strap", "spikes",
                                            "meter step", "only races", "commutes",   "hills"};
    for (int odd = 0; odd < 8; ++odd) {
        unsigned close = 0, held = 0, beats = 0, bounds = 0, over = 0;
        for (unsigned i = from; i < from + count; ++i) {
            const RiddenRecord r(i, static_cast<Oddity>(odd));
            const LearntValues v = learnValues(r.rides);
            beats += v.maxHeartRate && std::abs(v.maxHeartRate->value - r.maxBeats) <= 4 ? 1 : 0;
            if (v.thresholdPower.empty())
                continue;
            const LearntValue& last = v.thresholdPower.back();
            const double truth = r.shownThreshold();
            bounds += last.atLeast ? 1 : 0;
            over += last.atLeast && last.value > truth ? 1 : 0;
            close += std::abs(last.value / truth - 1) <= 0.05 ? 1 : 0;
            held += last.high && last.low <= truth && truth <= *last.high ? 1 : 0;
        }
        std::printf(
            "%-10s of %u: threshold within 5 %% %u, band holds it %u, highest heart rate within 4 %u, "
            "lower bounds %u, over the truth %u\n",
            kinds[odd], count, close, held, beats, bounds, over);
    }
}

/// What is learnt of riders whose gains, constants and best form are known.
void learn(unsigned from, unsigned count) {
    static constexpr const char* kinds[] = {"usual gains", "own constants", "own gains"};
    for (int kind = 0; kind < 3; ++kind) {
        unsigned enough = 0, held = 0, inside = 0, results = 0;
        double error = 0, none = 0;
        for (unsigned i = from; i < from + count; ++i) {
            const Learner l(i, static_cast<Learner::Kind>(kind));
            const auto r = learnResponse(l.daily, l.results, {l.ahead});
            if (!r)
                continue;
            const Banded& able = r->forecasts[0].able;
            enough += r->enough ? 1 : 0;
            held += able.low <= l.able && l.able <= able.high ? 1 : 0;
            error += std::pow(100 * (able.value / l.able - 1), 2) / count;
            double mean = 0;
            for (const TestPoint& p : l.results)
                mean += p.value / static_cast<double>(l.results.size());
            none += std::pow(100 * (mean / l.able - 1), 2) / count;
            for (const Response::Past& p : r->past)
                inside += p.inside() ? 1 : 0;
            results += static_cast<unsigned>(r->past.size());
        }
        std::printf("%-13s of %u: told %.2f, what they can do in 16 weeks %.2f %% off (the mean of all "
                    "results %.2f), "
                    "in its band %.2f, results in theirs %.2f\n",
                    kinds[kind], count, enough / static_cast<double>(count), std::sqrt(error),
                    std::sqrt(none), held / static_cast<double>(count),
                    inside / static_cast<double>(results));
    }
    for (const int races : {4, 12, 48}) {
        double width = 0;
        unsigned yours = 0;
        for (unsigned i = from; i < from + count; ++i) {
            const auto g = learnGate(formResults(i, races));
            width += g->widthRatio / count;
            yours += g->yours ? 1 : 0;
        }
        std::printf("gate after %d results: %.2f of the prior's width, called their own of %u of %u\n", races,
                    width, yours, count);
    }
}

} // namespace

int main(int argc, char** argv) {
    const std::string what = argc > 1 ? argv[1] : "all";
    const auto number = [&](int i, unsigned usual) {
        return argc > i ? static_cast<unsigned>(std::strtoul(argv[i], nullptr, 10)) : usual;
    };
    if (what == "show") {
        show(number(2, 1));
        return 0;
    }
    const unsigned from = number(2, 50000), count = number(3, 60);
    const auto asked = [&](const char* part) { return what == "all" || what == part; };
    if (asked("properties"))
        properties(from, count);
    if (asked("word"))
        word(from, count);
    if (asked("aims"))
        aims(from, count);
    if (asked("table"))
        table(from, number(3, 14), number(4, 6));
    if (asked("record"))
        record(from, count);
    if (asked("learn"))
        learn(from, count);
    return 0;
}
