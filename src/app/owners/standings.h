// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/plan_service.h"
#include "core/review/attention.h"

namespace marram {

/// Where each rider stands today, for the roster. Kept until something of theirs changes.
class Standings : public QObject {
    Q_OBJECT
public:
    Standings(OpenRoster& roster, PlanService& plans, Clock& clock, QObject* parent = nullptr);
    const Standing& of(qint64 rider) const;

signals:
    void changed();

private:
    Standing standingOf(const RiderRecord& rider) const;
    std::vector<DaySum>& sumsOf(qint64 rider, const TimeConstants& tau, Damage& damage) const;
    void readWhatIsShared(Damage& damage) const;
    void forget(qint64 rider);

    OpenRoster& roster_;
    Clock& clock_;
    mutable std::map<qint64, Standing> kept_;
    mutable std::optional<std::map<qint64, std::vector<DaySum>>> sums_;
    mutable std::optional<std::map<qint64, std::vector<CheckIn>>> checkIns_;
    mutable std::optional<std::map<qint64, std::vector<KeptProposal>>> proposed_;
};

} // namespace marram
