// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/optimise.h"
#include "core/season/chance.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace marram {
namespace {

constexpr int mostRounds = 6; ///< of holding days found too deep
constexpr double tooDeep = 0.01;

class Optimiser {
public:
    Optimiser(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
              const std::vector<double>& promised)
        : season_(season), frame_(frame), patterns_(patterns), promised_(promised) {}

    void beginFrom(const Solution* from, Solution& out) {
        if (from) {
            out.basis = from->basis;
            adopt(from->floorDays, choices_.floorDays);
            adopt(from->depthDays, choices_.depthDays);
        }
        choices_.promised = promised_;
        if (from && from->start == season_.start && from->spread.size() == season_.races.size())
            choices_.spread = from->spread;
        else // with the load that would hold the fitness expected
            for (const Race& race : season_.races)
                choices_.spread.push_back(spreadOn(frame_.fitness, race.date - season_.start));
    }

    Solution run(const Solution* from, const std::string& textFile) {
        Solution out;
        out.start = season_.start;
        beginFrom(from, out);
        bool found = round(out);
        while (found && out.rounds < mostRounds) {
            const bool deeper = deep(out), aimed = aimAnew(out);
            if (!deeper && !aimed)
                break;
            found = round(out);
        }
        if (!found) {
            if (!textFile.empty())
                simplex_->writeText(textFile);
            return out;
        }
        readWorth(out);
        readPaid(out);
        out.comparable = comparable(out);
        out.gates.assign(season_.races.size(), std::nullopt);
        const auto model = runModel(out.stress, season_.before, season_.tau);
        for (size_t r = 0; r < season_.races.size(); ++r)
            out.gates[r] = r < choices_.gates.size() && choices_.gates[r]
                               ? choices_.gates[r]
                               : raceGate(season_.races[r], fitnessOn(model, r));
        out.spread = choices_.spread;
        for (const int d : choices_.floorDays)
            out.floorDays.push_back(season_.start + d);
        for (const int d : choices_.depthDays)
            out.depthDays.push_back(season_.start + d);
        if (!textFile.empty())
            simplex_->writeText(textFile);
        return out;
    }

private:
    void adopt(const std::vector<Date>& dates, std::vector<int>& days) const {
        for (const Date date : dates) {
            const int d = date - season_.start;
            if (d >= frame_.today && d < season_.dayCount() && floorHolds(frame_, d))
                days.push_back(d);
        }
    }

    double fitnessOn(const std::vector<LoadDay>& model, size_t race) const {
        const int d = season_.races[race].date - season_.start;
        return d > 0 ? model[static_cast<size_t>(d - 1)].fitness : season_.before.fitness;
    }

    bool round(Solution& out) {
        simplex_.reset();
        p_ = writeRows(season_, frame_, patterns_, choices_);
        simplex_ = std::make_unique<Simplex>(p_.programme);
        simplex_->startFrom(out.basis);
        ++out.rounds;
        bool found = simplex_->solve();
        out.iterations += simplex_->iterations();
        if (!found) {
            // What was ridden can leave rules that no plan keeps together: then each may give way, at a price
            // that nothing pays without need.
            letGive();
            simplex_ = std::make_unique<Simplex>(p_.programme);
            found = simplex_->solve();
            out.iterations += simplex_->iterations();
        }
        if (!found)
            return false;
        std::vector<double> values;
        for (size_t c = 0; c < p_.programme.columns.size(); ++c)
            values.push_back(simplex_->value(static_cast<int>(c)));
        out.stress = p_.loads->dailyStress(values);
        out.levels.clear();
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            const Linear& level = p_.loads->level(w);
            double sum = level.constant;
            for (const auto& [column, coefficient] : level.terms)
                sum += coefficient * values[static_cast<size_t>(column)];
            out.levels.push_back(sum);
        }
        out.basis = simplex_->basis();
        out.objective = simplex_->objective();
        return true;
    }

    void letGive() {
        constexpr double price = 20;
        Programme& p = p_.programme;
        for (Programme::Row& row : p.rows)
            for (const auto& [edge, sign] : {std::pair{row.lower, 1.0}, std::pair{row.upper, -1.0}})
                if (std::isfinite(edge))
                    row.terms.emplace_back(
                        p.addColumn(nameOf(Load::Breach, row.name.day, static_cast<int>(row.rule)), 0,
                                    unbounded, -price),
                        sign);
    }

    /// Adds the deepest day of every week that is too deep; true where one was added.
    bool deep(const Solution& out) {
        const auto model = runModel(out.stress, season_.before, season_.tau);
        bool added = false;
        for (const WeekFrame& week : frame_.weeks) {
            int floorDay = -1, depthDay = -1;
            double worst = tooDeep, worstDepth = tooDeep;
            for (int d = std::max(week.first, 1); d <= week.last; ++d) {
                if (!floorHolds(frame_, d))
                    continue;
                const double form = model[static_cast<size_t>(d)].form,
                             fitness = model[static_cast<size_t>(d - 1)].fitness;
                if (const double under = season_.rules.formFloor - form; under > worst) {
                    worst = under;
                    floorDay = d;
                }
                if (const double under = depthOfFitness * fitness - form;
                    fitness > depthFrom && under > worstDepth) {
                    worstDepth = under;
                    depthDay = d;
                }
            }
            added = hold(floorDay, choices_.floorDays) || added;
            added = hold(depthDay, choices_.depthDays) || added;
        }
        for (const int d : choices_.depthDays)
            added = ease(d, model[static_cast<size_t>(d)].form, model[static_cast<size_t>(d - 1)].fitness) ||
                    added;
        return added;
    }

    /// A day that is held although fitness is not over 15 there now may go as deep as at 15; once, and not
    /// where that lifts fitness over it. True where anything changed.
    bool ease(int day, double form, double fitness) {
        const double under = depthOfFitness * fitness - form;
        const auto found = choices_.eased.find(day);
        if (found == choices_.eased.end() && fitness < depthFrom && under > -0.05) {
            choices_.eased[day] = depthOfFitness * (fitness - depthFrom);
            return true;
        }
        if (found != choices_.eased.end() && found->second > 0 && fitness > depthFrom && under > tooDeep) {
            found->second = 0;
            return true;
        }
        return false;
    }

    static bool hold(int day, std::vector<int>& days) {
        if (day < 0 || std::find(days.begin(), days.end(), day) != days.end())
            return false;
        days.push_back(day);
        return true;
    }

    /// Sets down gates that grow with fitness, and how much form varies on each morning, by the plan there is
    /// now. True where either moved enough to solve again.
    bool aimAnew(const Solution& out) {
        const auto model = runModel(out.stress, season_.before, season_.tau);
        bool moved = false;
        choices_.gates.resize(season_.races.size());
        for (const auto& gate : p_.gates) {
            const auto r = static_cast<size_t>(gate.race);
            const Race& race = season_.races[r];
            const auto its = raceGate(race, fitnessOn(model, r));
            const int day = race.date - season_.start;
            const double before =
                day > 0 ? frame_.fitness[static_cast<size_t>(day - 1)] : season_.before.fitness;
            const auto used = choices_.gates[r] ? choices_.gates[r] : raceGate(race, before);
            double spread = spreadOn(out.stress, day);
            // Far outside there is no chance to be lost by another point: the slope of the edge holds near it
            // only.
            if (const Gate aim = its.value_or(Gate{});
                its && day >= 0 && day < static_cast<int>(model.size())) {
                const double form = model[static_cast<size_t>(day)].form;
                spread = std::max(spread, std::max(aim.low - form, form - aim.high) - 2 * spread);
            }
            const bool other = its != used && aims_ < 3;
            if (other || !choices_.gates[r])
                choices_.gates[r] = other ? its : used;
            const double had = choices_.spread[r];
            moved = moved || other ||
                    (season_.rules.miss > 0 && std::abs(spread - had) > 0.12 * spread && aims_ < 2);
            choices_.spread[r] = spread;
        }
        ++aims_;
        return moved;
    }

    /// The objective with mornings far outside their gates, for which the last round widened the spread, at
    /// the price of every other.
    double comparable(const Solution& out) const {
        double value = out.objective;
        const auto model = runModel(out.stress, season_.before, season_.tau);
        LoadState before = season_.before;
        if (frame_.today > 0) {
            const LoadDay& last = model[static_cast<size_t>(frame_.today - 1)];
            before = {last.fitness, last.fatigue};
        }
        constexpr double widened = 1.15; // moved since the last round: no more than that
        for (const auto& gate : p_.gates) {
            const auto r = static_cast<size_t>(gate.race);
            const Race& race = season_.races[r];
            const int day = race.date - season_.start;
            const double spread = spreadOn(out.stress, day);
            if (choices_.spread[r] <= widened * spread)
                continue; // it stands at its price
            for (const int column : {gate.missLow, gate.missHigh, gate.lost})
                if (column >= 0)
                    value -=
                        p_.programme.columns[static_cast<size_t>(column)].worth * simplex_->value(column);
            if (const auto its = r < choices_.gates.size() && choices_.gates[r]
                                     ? choices_.gates[r]
                                     : raceGate(race, fitnessOn(model, r));
                its && day < static_cast<int>(model.size()))
                value -= morningCosts(season_.rules, race, *its, spread, model[static_cast<size_t>(day)].form,
                                      coming(before, out.stress, day).form());
        }
        return value;
    }

    /// Form as it comes on a morning, with the rider's misses from today on, from the state before today.
    ComingForm coming(const LoadState& before, const std::vector<double>& stress, int day) const {
        ComingForm form(before, season_.tau, season_.rules.miss, season_.rules.missRun);
        for (int d = frame_.today; d < day; ++d) {
            const DayFrame& at = frame_.days[static_cast<size_t>(d)];
            form.day(stress[static_cast<size_t>(d)], at.race < 0 && !at.camp);
        }
        return form;
    }

    /// Standard deviation of form on a morning.
    double spreadOn(const std::vector<double>& stress, int day) const {
        constexpr double least = 0.5; // form never varies less
        return std::max(least, coming({}, stress, day).formDeviation());
    }

    void readWorth(Solution& out) const {
        using What = Solution::Worth::What;
        std::map<Phase, double> volume;
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            const int c = p_.loads->levelColumn(w);
            if (c < 0 || simplex_->reducedCost(c) <= 1e-9)
                continue;
            const WeekFrame& week = frame_.weeks[w];
            out.worth.push_back({What::Hours, w, -1, week.phase,
                                 simplex_->reducedCost(c) * week.pointsPerHour * week.volume});
            if (week.volume < 1)
                volume[week.phase] += 0.01 * simplex_->reducedCost(c) * patterns_[w].points;
        }
        for (const auto& [phase, worth] : volume)
            out.worth.push_back({What::Volume, 0, -1, phase, worth});
        double ramp = 0, floor = 0;
        for (size_t r = 0; r < p_.programme.rows.size(); ++r) {
            const Rule rule = p_.programme.rows[r].rule;
            if (rule == Rule::Ramp)
                ramp += std::max(0.0, simplex_->dual(static_cast<int>(r)));
            else if (rule == Rule::Floor)
                floor += std::max(0.0, -simplex_->dual(static_cast<int>(r)));
        }
        if (ramp > 1e-9)
            out.worth.push_back({What::Ramp, 0, -1, Phase::Base, ramp});
        if (floor > 1e-9)
            out.worth.push_back({What::FormFloor, 0, -1, Phase::Base, floor});
        for (const auto& gate : p_.gates) {
            if (simplex_->value(gate.missLow) > 1e-6)
                out.worth.push_back({What::GateLow, 0, gate.race, Phase::Base, 0.5});
            if (simplex_->value(gate.missHigh) > 1e-6)
                out.worth.push_back({What::GateHigh, 0, gate.race, Phase::Base, 0.1});
        }
    }

    void readPaid(Solution& out) const {
        for (size_t c = 0; c < p_.programme.columns.size(); ++c) {
            const auto& column = p_.programme.columns[c];
            const double amount = simplex_->value(static_cast<int>(c));
            if (column.name.kind != static_cast<std::uint8_t>(Load::Breach) || amount < 1e-6)
                continue;
            out.paid.push_back(
                {static_cast<Rule>(column.name.nth % 64), column.name.day, amount, -column.worth * amount});
        }
    }

    const Season& season_;
    const SeasonFrame& frame_;
    const std::vector<WeekPattern>& patterns_;
    const std::vector<double>& promised_;
    int aims_ = 0;
    RowChoices choices_;
    SeasonProgramme p_;
    std::unique_ptr<Simplex> simplex_;
};

} // namespace

Solution optimise(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                  const Solution* from, const std::string& textFile, const std::vector<double>& promised) {
    return Optimiser(season, frame, patterns, promised).run(from, textFile);
}

} // namespace marram
