// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/reporting.h"
#include "store/ride_reading.h"
#include "store/whole_record.h"
#include "store/whole_season.h"

namespace marram {
namespace {

constexpr int lastYear = 365; // days

/// The best maximal efforts of the last year of the others who are not archived, over their thresholds.
Result<std::vector<MaximalShares>> othersOf(const Roster& roster, const RiderRecord& rider, Date today) {
    const auto efforts = roster.maximalSince(today - lastYear);
    if (!efforts)
        return tl::unexpected(efforts.error());
    const auto riders = roster.riders();
    if (!riders)
        return tl::unexpected(riders.error());
    std::vector<MaximalShares> all;
    for (const RiderRecord& other : *riders) {
        const auto found = efforts->find(other.id);
        if (other.id == rider.id || other.archived || found == efforts->end())
            continue;
        MaximalShares shares;
        for (const KeptMaximal& m : found->second)
            if (const auto threshold = other.values.on(Quantity::ThresholdPower, m.day))
                shares[m.seconds] = std::max(shares[m.seconds], m.power / *threshold);
        all.push_back(std::move(shares));
    }
    return all;
}

} // namespace

Result<Report> reportOf(const Roster& roster, const RiderRecord& rider, Question question, int days,
                        Date today, const std::function<bool()>& going, const Units& units) {
    auto record = wholeRecordOf(roster, rider, today);
    if (!record)
        return tl::unexpected(record.error());
    ReportBasis basis;
    basis.units = units;
    basis.record = std::move(*record);
    if (going)
        basis.going = going;
    basis.read = [&](const RideRecord& ride) { return rideOf(roster, ride); };
    if (question == Question::Changing || question == Question::Form) {
        auto whole = wholeSeasonOf(roster, rider, daySumsOf(basis.record.rides), today, basis.record.damage);
        if (!whole)
            return tl::unexpected(whole.error());
        if (*whole && check(**whole))
            basis.ahead = ReportBasis::Ahead{**whole, solveSeason(**whole).plan};
    }
    if (question == Question::Kind) {
        auto others = othersOf(roster, rider, today);
        if (!others)
            return tl::unexpected(others.error());
        basis.others = std::move(*others);
    }
    return answer(basis, question, days);
}

} // namespace marram
