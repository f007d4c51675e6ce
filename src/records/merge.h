// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/records.h"

/// An edit is a change of fields, from `before` to `after`, applied to what the file holds now: fields the
/// edit did not touch stay as they are there, so that work done elsewhere survives. Undo is the edit turned
/// round.
namespace marram {

/// What `now` becomes. In a list each entry that changed takes the place of the entry it was; entries that
/// came are added and those that went are taken out. Where the same field was changed on both sides, the edit
/// holds.
RiderRecord merged(const RiderRecord& now, const RiderRecord& before, const RiderRecord& after);
Season merged(const Season& now, const Season& before, const Season& after);
/// Only what the coach adds to a ride: note, effort, corrections, excluded. The ride is stale where
/// corrections changed.
RideRecord merged(const RideRecord& now, const RideRecord& before, const RideRecord& after);
TestRecord merged(const TestRecord& now, const TestRecord& before, const TestRecord& after);
/// A coach's family: the words each, the ladder as one.
Family merged(const Family& now, const Family& before, const Family& after);
CheckIn merged(const CheckIn& now, const CheckIn& before, const CheckIn& after);

/// Whether two seasons are the same to the coach: everything but what is filled in from the rider.
bool sameSeason(const Season& a, const Season& b);

} // namespace marram
