// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/addition.h"
#include "records/squad.h"
#include "store/roster.h"

namespace marram {

/// The days of a rider's rides that say how they stand today: those of the last two years at least, and all
/// of them where those say nothing.
Result<std::vector<DaySum>> recentSums(const Roster& roster, qint64 rider, const TimeConstants& tau,
                                       Date today, Damage& damage);
/// From when on rides still show in a rider's fitness: fourteen time constants.
Date firstThatCounts(const TimeConstants& tau, Date today);

/// A rider's row as the roster has it, without solving anything: what lies ahead is as it was kept last. Any
/// thread, with a roster of its own.
Result<SquadRow> keptRow(const Roster& roster, const RiderRecord& rider, Date today);
/// The same solved for today, with the sessions of `weeks` weeks from a Monday on.
Result<SquadRow> solvedRow(const Roster& roster, const RiderRecord& rider, Date today, Date week,
                           int weeks = 1);

/// What an addition would do to a rider: nothing is written. Any thread, with a roster of its own.
Result<SquadTrial> tryAddition(const Roster& roster, const RiderRecord& rider, const SquadAddition& addition,
                               Date today);

/// Rows as tables: a rider's A and B races to come, and a rider's days.
inline const QByteArrayList squadRaceColumns{"rider", "race",     "date",      "fitness",
                                             "form",  "gate_low", "gate_high", "chance"};
inline const QByteArrayList squadDayColumns{"rider", "date", "role", "family", "title", "minutes", "stress"};
std::vector<QByteArrayList> squadRaceRows(const SquadRow& row, Date today);
std::vector<QByteArrayList> squadDayRows(const SquadRow& row);

} // namespace marram
