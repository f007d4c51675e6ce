// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/proposed.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace marram {
namespace {

/// Hours so far apart over a week are other hours.
constexpr double otherHours = 0.2;
/// The weekdays' medians make up less than this of a usual week where there are no fixed days.
constexpr double noFixedDays = 0.6;

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

    void hours(LearntValues said) {
        // Who rides on no fixed days has medians of nothing: the means of the weekdays then.
        const double medians = std::accumulate(said.hours.begin(), said.hours.end(), 0.0);
        const bool unfixed = medians < noFixedDays * said.usualWeek;
        const double means = std::accumulate(said.meanHours.begin(), said.meanHours.end(), 0.0);
        if (unfixed && means > 0)
            for (size_t d = 0; d < 7; ++d)
                said.hours[d] = std::round(4 * said.meanHours[d] * said.usualWeek / means) / 4;
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
        p.why =
            unfixed
                ? phrase(
                      "The rides lie on no fixed days: the mean of each weekday over the last twelve weeks "
                      "that were ridden in, to the length of a usual week.")
                : phrase("The median of each weekday over the last twelve weeks that were ridden in.");
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
    for (const LearntValue& v : said.weight)
        proposer.value(Quantity::Weight, v);
    std::stable_sort(proposer.all.begin(), proposer.all.end(),
                     [](const ValueProposal& a, const ValueProposal& b) { return a.from < b.from; });
    proposer.hours(said);
    return std::move(proposer.all);
}

namespace {

std::optional<Quantity> quantityOf(const ValueProposal& p) {
    return p.kind == ValueProposal::Kind::Hours ? std::nullopt : std::optional(p.quantity);
}

/// Hours of a week move a little every week; values are what they are.
bool saysTheSame(const KeptProposal& kept, const ValueProposal& p) {
    const double apart = std::abs(kept.value - p.value);
    return p.kind == ValueProposal::Kind::Hours ? apart <= 0.1 * p.value : apart < 0.01 * p.value;
}

KeptProposal keptFrom(const ValueProposal& p, Date today) {
    return {quantityOf(p), p.from, p.value, p.entered, p.atLeast, today, Answer::Open};
}

} // namespace

std::vector<KeptProposal> remembered(const std::vector<KeptProposal>& before,
                                     const std::vector<ValueProposal>& now, Date today) {
    std::vector<KeptProposal> all = before;
    for (KeptProposal& k : all)
        if (k.answer == Answer::Open && std::none_of(now.begin(), now.end(), [&](const ValueProposal& p) {
                return quantityOf(p) == k.quantity;
            }))
            k.answer = Answer::Settled;
    for (const ValueProposal& p : now) {
        const auto newer = [&](const ValueProposal& o) {
            return quantityOf(o) == quantityOf(p) && o.from > p.from;
        };
        if (std::any_of(now.begin(), now.end(), newer))
            continue;
        const auto kept = std::find_if(all.begin(), all.end(),
                                       [&](const KeptProposal& k) { return k.quantity == quantityOf(p); });
        if (kept == all.end()) {
            all.push_back(keptFrom(p, today));
            continue;
        }
        KeptProposal next = keptFrom(p, today);
        if (saysTheSame(*kept, p)) {
            next.said = kept->said;
            next.answer = kept->answer == Answer::NotNow ? Answer::NotNow : Answer::Open;
        } else if (kept->answer == Answer::Open) {
            next.said = kept->said;
        } else if (today - kept->said < daysBetweenProposals) {
            continue;
        }
        *kept = next;
    }
    return all;
}

std::vector<KeptProposal> setAside(std::vector<KeptProposal> kept, const ValueProposal& p, Date today) {
    KeptProposal aside = keptFrom(p, today);
    aside.answer = Answer::NotNow;
    std::erase_if(kept, [&](const KeptProposal& k) { return k.quantity == aside.quantity; });
    kept.push_back(aside);
    return kept;
}

bool stillOpen(const KeptProposal& p, const RiderRecord& rider) {
    if (p.answer != Answer::Open)
        return false;
    const auto entered = p.quantity
                             ? rider.values.on(*p.quantity, p.from)
                             : std::optional(std::accumulate(rider.hours.begin(), rider.hours.end(), 0.0));
    return !entered || std::abs(*entered - p.value) >= 0.01 * p.value;
}

QString proposalSentence(const KeptProposal& p, Date today) {
    const auto words = [&](double v) {
        return p.quantity ? valueWords(*p.quantity, {p.from, v, false})
                          : wording("%1 h a week").arg(v, 0, 'f', 1);
    };
    if (!p.quantity)
        return wording("%1 were really ridden lately%2: the hours entered should follow.")
            .arg(words(p.value), p.entered ? wording(", %1 are entered").arg(words(*p.entered)) : QString());
    return wording("%1: %2%3 is proposed from %4, %5.")
        .arg(wording(wordsFor(*p.quantity).name), p.atLeast ? wording("at least ") : "", words(p.value),
             QString::fromStdString(dayText(p.from, today)),
             p.entered ? wording("%1 is entered", words(*p.entered)) : wording("nothing is entered"));
}

void takeProposal(RiderRecord& rider, const ValueProposal& p) {
    if (p.kind == ValueProposal::Kind::Hours)
        rider.hours = p.hours;
    else
        rider.values.set(p.quantity, {p.from, p.value, p.atLeast});
}

} // namespace marram
