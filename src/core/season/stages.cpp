// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/stages.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double holdTolerance = 1e-7;
/// Slack is held a little looser: several held sums of it leave hardly any room for rounding.
constexpr double giveTolerance = 1e-5;
/// Race fitness the gentlest way there may cost, in points: months before the race a week's load hardly
/// counts any more, and without this the solver fills even those weeks to the brim.
constexpr double gentleCost = 0.1;
constexpr int mostRounds = 8; ///< of adding floor days or shapes found wanting

using Sense = Simplex::Sense;

class Stages {
public:
    Stages(const SeasonProgramme& programme, const Basis& basis)
        : p_(programme), simplex_(programme.programme) {
        // A basis serves where the programme has kept its shape; where the skeleton moved, finding back from
        // it takes longer than beginning from an empty season.
        Basis start;
        if (simplex_.knows(basis))
            start = basis;
        else
            for (const int c : p_.atUpper)
                start[p_.programme.columns[static_cast<size_t>(c)].name] = atUpperStatus;
        simplex_.startFrom(start);
    }

    /// Runs every aim; false when the rows cannot all hold.
    bool run(Solution& out) {
        if (!giveWay())
            return false;
        if (!least(p_.missA) || !least(p_.missB))
            return false;
        fitness(out);
        most(p_.fitnessB, gentleCost);
        const std::pair<int, double> ramp{p_.largestRamp, 1};
        if (simplex_.solve({&ramp, 1}, Sense::Minimise)) {
            const double r = simplex_.value(p_.largestRamp);
            simplex_.boundColumn(p_.largestRamp, 0, r + holdTolerance * (1 + r));
        }
        if (p_.unevenness.row >= 0)
            simplex_.solve(p_.unevenness.value.terms, Sense::Minimise);
        out.objective = simplex_.objective();
        return true;
    }

    const Simplex& simplex() const { return simplex_; }

private:
    static constexpr int atUpperStatus = 3; // GLP_NU

    bool giveWay() {
        for (auto kind = p_.give.rbegin(); kind != p_.give.rend(); ++kind)
            if (!least(kind->second, giveTolerance))
                return false;
        return true;
    }

    double held(const SeasonProgramme::Aim& aim) const { return simplex_.objective() - aim.value.constant; }

    bool least(const SeasonProgramme::Aim& aim, double tolerance = holdTolerance) {
        if (aim.row < 0)
            return true;
        if (!simplex_.solve(aim.value.terms, Sense::Minimise, aim.value.constant))
            return false;
        const double best = held(aim);
        simplex_.boundRow(aim.row, -unbounded, best + tolerance * (1 + std::abs(best)));
        return true;
    }

    void most(const SeasonProgramme::Aim& aim, double leave) {
        if (aim.row < 0 || !simplex_.solve(aim.value.terms, Sense::Maximise, aim.value.constant))
            return;
        const double best = held(aim);
        simplex_.boundRow(aim.row, best - leave, unbounded);
    }

    /// Fitness on A mornings, weighed against arriving inside the gates rather than on their edge.
    void fitness(Solution& out) {
        if (p_.fitnessA.row < 0)
            return;
        if (p_.shortfall.row < 0) {
            most(p_.fitnessA, gentleCost);
            return;
        }
        if (!simplex_.solve(p_.fitnessA.value.terms, Sense::Maximise))
            return;
        const double alone = simplex_.activity(p_.fitnessA.row);
        const Linear both = p_.fitnessA.value - marginPrice * p_.shortfall.value;
        if (!simplex_.solve(both.terms, Sense::Maximise))
            return;
        out.marginCost = std::max(0.0, alone - simplex_.activity(p_.fitnessA.row));
        readWorth(out);
        const double f = simplex_.activity(p_.fitnessA.row), s = simplex_.activity(p_.shortfall.row);
        simplex_.boundRow(p_.fitnessA.row, f - gentleCost, unbounded);
        simplex_.boundRow(p_.shortfall.row, -unbounded, s + holdTolerance * (1 + s));
    }

    void readWorth(Solution& out) const {
        using What = Solution::Worth::What;
        double ramp = simplex_.reducedCost(p_.largestRamp), floor = 0;
        for (size_t w = 0; w < p_.loads->weekCount(); ++w)
            if (const int c = p_.loads->levelOf(w);
                c >= 0 && p_.loads->spreadOf(w) < 0 && simplex_.reducedCost(c) > 1e-9)
                out.worth.push_back(
                    {What::Hours, w, -1, simplex_.reducedCost(c) * p_.loads->pointsPerHour(w)});
        size_t week = 0;
        for (size_t r = 0; r < p_.programme.rows.size(); ++r) {
            const auto& row = p_.programme.rows[r];
            const double dual = simplex_.dual(static_cast<int>(r));
            if (row.name.starts_with("hours_")) {
                while (p_.loads->spreadOf(week) < 0)
                    ++week;
                if (dual > 1e-9)
                    out.worth.push_back({What::Hours, week, -1, dual * p_.loads->pointsPerHour(week)});
                ++week;
            }
            if (row.kind == RowKind::FormFloor)
                floor += std::abs(dual);
            if (row.kind == RowKind::Ramp && row.upper > 0)
                ramp += std::abs(dual);
            if (dual != 0 && (row.name.starts_with("gate_low_") || row.name.starts_with("margin_low_")))
                out.worth.push_back({What::GateEdge, 0,
                                     std::stoi(row.name.substr(row.name.rfind('_') + 1)) - 1,
                                     std::abs(dual)});
        }
        if (ramp > 1e-9)
            out.worth.push_back({What::Ramp, 0, -1, ramp});
        if (floor > 1e-9)
            out.worth.push_back({What::FormFloor, 0, -1, floor});
    }

    const SeasonProgramme& p_;
    Simplex simplex_;
};

void readDays(const Season& season, const LoadColumns& loads, const Simplex& simplex, size_t columns,
              Solution& out) {
    std::vector<double> values(columns);
    for (size_t c = 0; c < columns; ++c)
        values[c] = simplex.value(static_cast<int>(c));
    out.stress.clear();
    out.hours.clear();
    for (int d = 0; d < season.dayCount(); ++d) {
        out.stress.push_back(loads.dailyStress(d, values));
        out.hours.push_back(loads.dailyHours(d, values));
    }
}

/// The deepest day of each week below the floor: these are what the next round holds.
bool addFloorDays(const Season& season, const SeasonFrame& frame, const std::vector<double>& stress,
                  std::set<int>& floorDays) {
    const auto days = runModel(stress, season.before, season.tau);
    bool added = false;
    for (const WeekFrame& week : frame.weeks) {
        int deepest = -1;
        for (int d = week.first; d <= week.last; ++d)
            if (floorHolds(season, frame, d) &&
                days[static_cast<size_t>(d)].form < season.rules.formFloor - 1e-6 &&
                (deepest < 0 || days[static_cast<size_t>(d)].form < days[static_cast<size_t>(deepest)].form))
                deepest = d;
        if (deepest >= 0)
            added = floorDays.insert(deepest).second || added;
    }
    return added;
}

/// Weeks with fewer hours that turned out to have room for their block's load.
bool addFullShapes(const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                   const std::set<size_t>& limited, const std::vector<double>& stress,
                   std::set<size_t>& full) {
    const auto load = [&](size_t w) {
        double sum = 0;
        for (int d = frame.weeks[w].first; d <= frame.weeks[w].last; ++d)
            sum += stress[static_cast<size_t>(d)];
        return sum;
    };
    bool added = false;
    for (const size_t w : limited)
        if (w > 0 && !full.contains(w) && load(w) < load(w - 1) - 1e-6 &&
            weekCapacity(frame, patterns[w], w) >= load(w - 1) * 1.0000001) {
            full.insert(w);
            added = true;
        }
    return added;
}

} // namespace

Solution solveStages(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                     const Solution* from, const std::string& textFile) {
    Solution out;
    RowChoices choices;
    if (from) {
        out.basis = from->basis;
        for (const int d : from->floorDays)
            if (d < season.dayCount() && floorHolds(season, frame, d))
                choices.floorDays.insert(d);
    }
    for (int round = 0; round < mostRounds; ++round) {
        out.worth.clear();
        ++out.rounds;
        SeasonProgramme programme = writeRows(season, frame, patterns, choices);
        auto stages = std::make_unique<Stages>(programme, out.basis);
        if (!stages->run(out)) {
            if (choices.slack) {
                // Only rounding can bring this about; a fresh start settles it.
                if (out.basis.empty())
                    break;
                out.basis.clear();
                continue;
            }
            choices.slack = true;
            out.gaveWay = true;
            continue;
        }
        out.basis = stages->simplex().basis();
        readDays(season, *programme.loads, stages->simplex(), programme.programme.columns.size(), out);
        if (!textFile.empty())
            stages->simplex().writeText(textFile);
        const bool floors = addFloorDays(season, frame, out.stress, choices.floorDays);
        const bool shapes =
            addFullShapes(frame, patterns, programme.limitedWeeks, out.stress, choices.fullShape);
        if (!floors && !shapes)
            break;
    }
    out.floorDays = choices.floorDays;
    return out;
}

} // namespace marram
