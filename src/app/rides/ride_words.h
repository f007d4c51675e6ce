// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/efforts.h"
#include "records/records.h"

namespace marram {

/// The figures of a ride; each value is a link (how:NAME) to its derivation. Rich text. Pure.
QString describeRide(const RideRecord& ride, std::optional<double> planned);

/// How one figure came about: the rule, the numbers that went in and where they are from. Rich text. Pure.
QString deriveFigure(const QString& name, const RideRecord& ride, const RiderRecord& rider,
                     std::optional<double> planned);

/// What scored the ride in a word: "power", "heart" for heart rate, "heart, low" where that undervalues it,
/// "effort", "nothing".
QString methodWords(const Score& score);

/// The figures of a brushed part in a line. Pure.
QString describeSpan(const SpanFigures& figures, Stretch span, double thresholdPower);

/// What sets of repetitions say, a sentence each. Pure.
QString describeSets(const Efforts& efforts);

/// A check-in in a line; what is missing is left out. Pure.
QString describeCheckIn(const CheckIn& checkIn);

/// "12:05" or "1:02:03".
QString preciseClock(int seconds);

} // namespace marram
