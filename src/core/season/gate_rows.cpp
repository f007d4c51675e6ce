// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/chance.h"
#include "core/season/rows.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr double overIsWorth = 0.7; ///< of fitness, a point of form over the gate's middle

/// What a morning's form costs, in race-day fitness, by how much it varies: a point outside the gate, and the
/// chance lost by not waking in its middle, by tangents of the normal share.
class MorningPrice {
public:
    MorningPrice(const Rules& rules, const Race& race, const Gate& gate, double spread)
        : peak_(race.priority == Priority::A), miss_(rules.miss),
          dial_(peak_ ? rules.gatePrice : std::min(1.0, rules.gatePrice)), gate_(gate), spread_(spread) {}

    double dial() const { return dial_; }
    double weight() const { return peak_ ? 1 : 0.3; }
    /// Whether the chance has a price.
    bool aims() const { return miss_ > 0 && gate_.high - gate_.low >= 0.5; }
    double under() const {
        // Under the edge the chance lost has its price already; both together are what a point is worth.
        const double lost = aims() ? 100 * chancePrice * (1 - miss_) * slope(gate_.low) : 0;
        return std::max(0.3, 1.05 * priceOf(Rule::GateLow).price - lost) * dial_ * weight();
    }
    double over() const { return aims() ? 0.05 : peak_ ? priceOf(Rule::GateHigh).price : 0.1; }
    double ofChance() const { return 100 * chancePrice * (peak_ ? 1 : 1.0 / 3) * std::min(1.0, dial_); }

    /// lost ≥ `base` + `slope` × form
    struct Tangent {
        bool over;
        double base, slope;
    };
    std::array<Tangent, 6> tangents() const {
        std::array<Tangent, 6> all{};
        const double middle = (gate_.low + gate_.high) / 2, half = (gate_.high - gate_.low) / 2;
        // Only lost training brings form down, a point for a point: over the middle the slope stays well
        // under one.
        const double most = std::max(1e-9, ofChance() * -slope(gate_.high));
        size_t n = 0;
        for (const double part : {-1.0, -0.6, -0.25, 0.25, 0.6, 1.0}) {
            const double at = middle + part * half;
            const double scale = part < 0 ? 1 : std::min(1.0, overIsWorth / most);
            const double lost = scale * (share(middle) - share(at));
            all.at(n++) = {part > 0, lost + scale * slope(at) * at, -scale * slope(at)};
        }
        return all;
    }

    /// Of a morning with that form where nothing is missed, and with what is expected.
    double of(double form, double expected) const {
        double lost = 0;
        if (aims())
            for (const Tangent& t : tangents())
                lost = std::max(lost, t.base + t.slope * expected);
        return ofChance() * lost + under() * std::max(0.0, gate_.low - form) +
               over() * std::max(0.0, form - gate_.high);
    }

private:
    double share(double mean) const { return normalShare(mean, spread_, gate_.low, gate_.high); }
    double slope(double mean) const { return normalShareSlope(mean, spread_, gate_.low, gate_.high); }

    bool peak_;
    double miss_, dial_;
    Gate gate_;
    double spread_;
};

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
            if (!raceGate(race) || d < frame_.today)
                continue;
            const Linear form = out_.loads->formOn(d);
            const Gate gate = gateFor(r, d);
            const MorningPrice morning(season_.rules, race, gate, choices_.spread[r]);
            SeasonProgramme::GateColumns columns;
            columns.race = static_cast<int>(r);
            const auto priced = [&](Rule rule, double most, double price) {
                return out_.programme.addColumn(
                    nameOf(Load::Breach, race.date, 64 * static_cast<int>(r % 3) + static_cast<int>(rule)), 0,
                    most, -price);
            };
            columns.missLow = priced(Rule::GateLow, unbounded, morning.under());
            columns.missHigh = priced(Rule::GateHigh, unbounded, morning.over());
            row(Rule::GateLow, race.date, gate.low, form + Linear{}.add(columns.missLow, 1), unbounded,
                static_cast<int>(r));
            row(Rule::GateHigh, race.date, -unbounded, form - Linear{}.add(columns.missHigh, 1), gate.high,
                static_cast<int>(r));
            keepOffTheEdge(race, form, columns.missLow, gate, static_cast<int>(r),
                           morning.weight() * std::min(1.0, morning.dial()));
            if (morning.aims())
                aim(race, columns, expected(form), morning, static_cast<int>(r));
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

    /// The chance lost by not waking in the middle of the gate.
    void aim(const Race& race, SeasonProgramme::GateColumns& columns, const Linear& form,
             const MorningPrice& price, int r) {
        columns.lost = out_.programme.addColumn(
            nameOf(Load::Distance, race.date, 64 * (r % 3) + static_cast<int>(Rule::GateMargin)), 0,
            unbounded, -price.ofChance());
        int nth = 0;
        for (const MorningPrice::Tangent& t : price.tangents())
            row(t.over ? Rule::GateMarginUp : Rule::GateMargin, race.date, t.base,
                Linear{}.add(columns.lost, 1) - t.slope * form, unbounded, 8 * (r % 8) + nth++);
    }

    const Season& season_;
    const SeasonFrame& frame_;
    const RowChoices& choices_;
    SeasonProgramme& out_;
};

} // namespace

double morningCosts(const Rules& rules, const Race& race, const Gate& gate, double spread, double form,
                    double expected) {
    return MorningPrice(rules, race, gate, spread).of(form, expected);
}

void writeGates(const Season& season, const SeasonFrame& frame, const RowChoices& choices,
                SeasonProgramme& out) {
    GateWriter(season, frame, choices, out).write();
}

} // namespace marram
