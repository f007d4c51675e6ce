// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"

namespace marram {

class ChosenRider;

/// What the coach changes of the chosen rider: what was there before is what shows.
class ChosenEdits {
public:
    ChosenEdits(const ChosenRider& of, OpenRoster& roster) : of_(of), roster_(roster) {}

    void setRider(const RiderRecord& after, const QString& what);
    void setSeason(const Season& after, const QString& what);
    void setRide(const RideRecord& after, const QString& what);
    void removeRide(qint64 ride);
    void setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                 const QString& what);
    /// The coach's yes or no: a yes to a threshold test also enters the threshold from that day on. One step
    /// to undo.
    void judgeTest(qint64 test, Verdict verdict);

private:
    const ChosenRider& of_;
    OpenRoster& roster_;
};

} // namespace marram
