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

/// What became of a proposal.
enum class Answer {
    Open,
    NotNow, ///< the coach wants to hear no more of this value
    Settled ///< taken, or no longer proposed
};

/// The newest proposal of a quantity as the roster remembers it, so that whoever looks at the roster is told
/// without the recordings being read again, and of one value at most every three weeks.
struct KeptProposal {
    std::optional<Quantity> quantity; ///< none for the hours of a week
    Date from;
    double value = 0; ///< in the quantity's unit, or hours of a week
    std::optional<double> entered;
    bool atLeast = false;
    Date said; ///< when it was first told
    Answer answer = Answer::Open;
    bool operator==(const KeptProposal&) const = default;
};

/// An effort that was found to be maximal.
struct KeptMaximal {
    qint64 ride = 0;
    Date day;
    int seconds = 0;
    double power = 0; ///< W
    bool operator==(const KeptMaximal&) const = default;
};

/// What a rider's record was heard to say, as the roster keeps it.
struct KeptHearing {
    QByteArray of; ///< digest of the rides it was read from
    std::vector<KeptProposal> proposed;
    std::vector<KeptMaximal> maximal; ///< in order of day
    bool operator==(const KeptHearing&) const = default;
};

/// Days between two different proposals of one quantity.
inline constexpr int daysBetweenProposals = 21;

/// What is remembered once a record has been heard on a day: the newest proposal of each quantity. One that
/// says what was said keeps its day and its answer; another one while the last is open takes its place; after
/// an answer it waits until three weeks have passed since the last was told.
std::vector<KeptProposal> remembered(const std::vector<KeptProposal>& before,
                                     const std::vector<ValueProposal>& now, Date today);

/// The same with what the coach wants to hear no more of.
std::vector<KeptProposal> setAside(std::vector<KeptProposal> kept, const ValueProposal& proposal, Date today);

/// Whether a proposal is open: nobody has answered it, and what is entered does not say the same by now.
bool stillOpen(const KeptProposal& proposal, const RiderRecord& rider);

/// An open proposal in a sentence: "271 W is proposed from 3 May; 258 W is entered."
QString proposalSentence(const KeptProposal& proposal, Date today);

} // namespace marram
