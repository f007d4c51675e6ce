// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/values.h"
#include "records/records.h"

namespace marram {

/// A value of a rider that the record proposes and that is not entered so. Nothing is taken by itself.
struct ValueProposal {
    enum class Kind { Value, Hours };
    Kind kind = Kind::Value;
    Quantity quantity = Quantity::ThresholdPower; ///< of a value
    Date from;                                    ///< holds from this day on
    double value = 0, low = 0;                    ///< in the quantity's unit, with its 80 % band
    std::optional<double> high;                   ///< empty for a lower bound
    bool atLeast = false;                         ///< nothing maximal was ridden
    std::optional<double> entered;                ///< what is in force on that day and differs
    WeekHours hours{};                            ///< of a usual week, of hours
    std::string why;
    std::vector<qint64> rides; ///< it rests on
};

/// What the record says and the rider's figures do not, in order of date, hours last. Values within the band
/// of what is entered agree with it; of lower bounds only the highest counts; what is entered for the very
/// day of a proposal stands; hours differ where a week is a fifth apart or they were guessed.
std::vector<ValueProposal> proposalsFrom(const LearntValues& said, const RiderRecord& rider);

/// The rider with a proposal taken.
void takeProposal(RiderRecord& rider, const ValueProposal& proposal);

} // namespace marram
