// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/chance.h"
#include "core/season/rows.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double overIsWorth = 0.7; ///< of fitness, a point of form over the gate's middle

/// Writes the rows of the mornings that are aimed at: form inside the gate, and the chance to wake there.
class GateWriter {
public:
    GateWriter(const Season& season, const SeasonFrame& frame, const RowChoices& choices,
               SeasonProgramme& out)
        : season_(season), frame_(frame), choices_(choices), out_(out) {}

    void write() {
        for (size_t r = 0; r < season_.races.size(); ++r) {
            const Race& race = season_.races[r];
            const int d = race.date - season_.start;
            const bool peak = race.priority == Priority::A;
            if (!raceGate(race) || d < frame_.today)
                continue;
            const Linear form = out_.loads->formOn(d);
            const Gate gate = gateFor(r, d);
            const double weight = peak ? 1 : 0.3;
            const double dial = peak ? season_.rules.gatePrice : std::min(1.0, season_.rules.gatePrice);
            SeasonProgramme::GateColumns columns;
            columns.race = static_cast<int>(r);
            const auto priced = [&](Rule rule, double most, double price) {
                return out_.programme.addColumn(
                    nameOf(Load::Breach, race.date, 64 * static_cast<int>(r % 3) + static_cast<int>(rule)), 0,
                    most, -price);
            };
            // Under the edge the chance lost has its price already; both together are what a point is worth.
            const double spread = choices_.spread[r];
            const double lost = season_.rules.miss > 0 && gate.high - gate.low >= 0.5
                                    ? 100 * chancePrice * (1 - season_.rules.miss) *
                                          normalShareSlope(gate.low, spread, gate.low, gate.high)
                                    : 0;
            columns.missLow =
                priced(Rule::GateLow, unbounded,
                       std::max(0.3, 1.05 * priceOf(Rule::GateLow).price - lost) * dial * weight);
            columns.missHigh = priced(Rule::GateHigh, unbounded,
                                      lost > 0 ? 0.05
                                      : peak   ? priceOf(Rule::GateHigh).price
                                               : 0.1);
            row(Rule::GateLow, race.date, gate.low, form + Linear{}.add(columns.missLow, 1), unbounded,
                static_cast<int>(r));
            row(Rule::GateHigh, race.date, -unbounded, form - Linear{}.add(columns.missHigh, 1), gate.high,
                static_cast<int>(r));
            keepOffTheEdge(race, form, columns.missLow, gate, static_cast<int>(r),
                           weight * std::min(1.0, dial));
            aim(race, columns, expected(form), gate, spread, static_cast<int>(r), dial);
            out_.gates.push_back(columns);
        }
    }

private:
    int row(Rule rule, Date day, double lower, const Linear& expression, double upper, int nth) {
        return out_.programme.addRow(rule, day, nth, lower, expression, upper);
    }

    /// What comes on the morning: training from today on counts with the share that is ridden.
    Linear expected(Linear form) const {
        for (auto& [column, coefficient] : form.terms)
            coefficient *= 1 - season_.rules.miss;
        return form;
    }

    /// The gate a race is solved for: the coach's, what was set down, else by the fitness that is expected.
    Gate gateFor(size_t r, int day) const {
        if (r < choices_.gates.size() && choices_.gates[r])
            return *choices_.gates[r];
        const double fitness =
            day > 0 ? frame_.fitness[static_cast<size_t>(day - 1)] : season_.before.fitness;
        return raceGate(season_.races[r], fitness).value_or(Gate{});
    }

    /// Most seasons miss little that still counts on the morning, and what is missed long before lowers form
    /// a little: at the very edge all of those wake outside.
    void keepOffTheEdge(const Race& race, const Linear& form, int missLow, const Gate& gate, int r,
                        double dial) {
        constexpr double part = 0.35, price = 0.7; // of the span; fitness a point
        const double inside = part * (gate.high - gate.low);
        if (season_.rules.miss <= 0 || inside < 0.5)
            return;
        const int near = out_.programme.addColumn(
            nameOf(Load::Breach, race.date, 64 * (r % 3) + static_cast<int>(Rule::GateMargin)), 0, inside,
            -price * dial);
        row(Rule::GateMargin, race.date, gate.low + inside, form + Linear{}.add(near, 1).add(missLow, 1),
            unbounded, 8 * (r % 8) + 7);
    }

    /// The chance lost by not waking in the middle of the gate, by tangents of the normal share.
    void aim(const Race& race, SeasonProgramme::GateColumns& columns, const Linear& form, const Gate& gate,
             double spread, int r, double dial) {
        if (season_.rules.miss <= 0 || gate.high - gate.low < 0.5)
            return;
        const double price =
            100 * chancePrice * (race.priority == Priority::A ? 1 : 1.0 / 3) * std::min(1.0, dial);
        columns.lost = out_.programme.addColumn(
            nameOf(Load::Distance, race.date, 64 * (r % 3) + static_cast<int>(Rule::GateMargin)), 0,
            unbounded, -price);
        const double middle = (gate.low + gate.high) / 2, half = (gate.high - gate.low) / 2;
        const double best = normalShare(middle, spread, gate.low, gate.high);
        int nth = 0;
        for (const double share : {-1.0, -0.6, -0.25, 0.25, 0.6, 1.0}) {
            const double at = middle + share * half;
            // Only lost training brings form down, a point for a point: over the middle the slope stays well
            // under one.
            const double most = -normalShareSlope(gate.high, spread, gate.low, gate.high);
            const double scale = share < 0 ? 1 : std::min(1.0, overIsWorth / std::max(1e-9, price * most));
            const double slope = -scale * normalShareSlope(at, spread, gate.low, gate.high);
            const double lost = scale * (best - normalShare(at, spread, gate.low, gate.high));
            // lost ≥ lost(at) + slope × (form − at)
            row(share < 0 ? Rule::GateMargin : Rule::GateMarginUp, race.date, lost - slope * at,
                Linear{}.add(columns.lost, 1) - slope * form, unbounded, 8 * (r % 8) + nth++);
        }
    }

    const Season& season_;
    const SeasonFrame& frame_;
    const RowChoices& choices_;
    SeasonProgramme& out_;
};

} // namespace

void writeGates(const Season& season, const SeasonFrame& frame, const RowChoices& choices,
                SeasonProgramme& out) {
    GateWriter(season, frame, choices, out).write();
}

} // namespace marram
