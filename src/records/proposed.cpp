// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/proposed.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Hours so far apart over a week are other hours.
constexpr double otherHours = 0.2;

class Proposer {
public:
    explicit Proposer(const RiderRecord& rider) : rider_(rider) {}

    void value(Quantity quantity, const LearntValue& said) {
        ValueProposal p;
        p.quantity = quantity;
        p.from = said.from;
        const double unit = std::pow(10, wordsFor(quantity).decimals);
        p.value = std::round(said.value * unit) / unit;
        p.low = said.low;
        p.high = said.high;
        p.atLeast = said.atLeast;
        p.why = said.why;
        for (const std::string& ride : said.rides)
            p.rides.push_back(std::strtoll(ride.c_str(), nullptr, 10));
        if (const DatedValue* entry = rider_.values.entryOn(quantity, said.from)) {
            // What is entered for that very day was decided.
            if (entry->from == said.from || agrees(entry->value, p))
                return;
            p.entered = entry->value;
        }
        all.push_back(std::move(p));
    }

    void hours(const LearntValues& said) {
        double ridden = 0, entered = 0, apart = 0;
        for (size_t d = 0; d < 7; ++d) {
            ridden += said.hours[d];
            entered += rider_.hours[d];
            apart += std::abs(said.hours[d] - rider_.hours[d]);
        }
        if (ridden <= 0 || said.hours == rider_.hours ||
            (rider_.hours != guessedHours && apart <= otherHours * entered))
            return;
        ValueProposal p;
        p.kind = ValueProposal::Kind::Hours;
        p.hours = said.hours;
        p.value = ridden;
        p.entered = entered;
        p.why = "The median of each weekday over the last twelve weeks that were ridden in.";
        all.push_back(std::move(p));
    }

    std::vector<ValueProposal> all;

private:
    static bool agrees(double entered, const ValueProposal& p) {
        // A bound, and the highest that was seen, may lie under what is entered.
        if (p.atLeast || p.quantity == Quantity::MaximalHeartRate)
            return entered >= p.low - 1e-9;
        return entered >= p.low - 1e-9 && entered <= p.high.value_or(entered) + 1e-9;
    }
    const RiderRecord& rider_;
};

} // namespace

std::vector<ValueProposal> proposalsFrom(const LearntValues& said, const RiderRecord& rider) {
    Proposer proposer(rider);
    const auto& power = said.thresholdPower;
    if (!power.empty() && power.back().atLeast)
        proposer.value(Quantity::ThresholdPower, power.back());
    else
        for (const LearntValue& v : power)
            proposer.value(Quantity::ThresholdPower, v);
    for (const LearntValue& v : said.thresholdHeartRate)
        proposer.value(Quantity::ThresholdHeartRate, v);
    if (said.maxHeartRate) {
        LearntValue highest = *said.maxHeartRate;
        highest.low -= 2; // what was entered two beats lower was read off another ride
        proposer.value(Quantity::MaximalHeartRate, highest);
    }
    std::stable_sort(proposer.all.begin(), proposer.all.end(),
                     [](const ValueProposal& a, const ValueProposal& b) { return a.from < b.from; });
    proposer.hours(said);
    return std::move(proposer.all);
}

void takeProposal(RiderRecord& rider, const ValueProposal& p) {
    if (p.kind == ValueProposal::Kind::Hours)
        rider.hours = p.hours;
    else
        rider.values.set(p.quantity, p.from, p.value);
}

} // namespace marram
