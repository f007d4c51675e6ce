// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/chosen_rider.h"
#include "app/owners/solver_thread.h"

namespace marram {

/// Solves the season of the chosen rider. Every request carries whose season, which version of it and which
/// edit it is for; an answer is taken only while that is still asked for.
class PlanService : public QObject {
    Q_OBJECT
public:
    PlanService(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
                QObject* parent = nullptr);

    /// The season as it shows: the one being tried, or the one in force.
    const std::optional<Season>& season() const { return tried_ ? tried_ : rider_.season(); }
    /// The newest plan of what shows, or null.
    const Solved* solved() const { return solved_.get(); }
    const std::vector<Limit>& limits() const { return limits_; }
    /// Sundays of planned deload weeks from today on.
    std::vector<Date> deloadEnds() const;

    /// Shows what an edit would do, without making it: nothing is stored. Ends by itself when the season in
    /// force changes or another rider is chosen.
    void trySeason(const Season& season);
    void stopTrying();
    /// True while an edit is only tried out.
    bool trying() const { return tried_.has_value(); }

signals:
    void seasonShown(); ///< season(), by trying or not
    void planChanged(); ///< solved()
    void limitsChanged();

private:
    /// Whose season a request is for.
    struct Ticket {
        quint64 number = 0; ///< of the request
        qint64 season = 0;
        quint64 version = 0; ///< of the season in force
        bool trying = false;
        Date from; ///< first planned day
    };
    void solve();
    void followSeason();
    void forget();
    void take(quint64 number, const std::shared_ptr<const Solved>& solved);
    void keep();

    OpenRoster& roster_;
    ChosenRider& rider_;
    Notices& notices_;
    Clock& clock_;
    SolverThread solver_;
    Ticket ticket_;                   ///< of the newest request
    std::map<quint64, Ticket> asked_; ///< requests whose answers may still come
    std::optional<Season> tried_;
    std::shared_ptr<const Solved> solved_;
    std::vector<Limit> limits_;
};

} // namespace marram
