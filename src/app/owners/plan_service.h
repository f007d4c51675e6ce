// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/chosen_rider.h"
#include "app/owners/shown_season.h"
#include "app/owners/solver_thread.h"
#include <set>

namespace marram {

/// Solves the season of the chosen rider. Every request carries whose season, which version of it and which
/// edit it is for; an answer is taken only while that is still asked for.
class PlanService : public QObject {
    Q_OBJECT
public:
    PlanService(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
                QObject* parent = nullptr);

    /// The season as it shows: what is in the hand, the alternative looked at, or the one in force.
    const std::optional<Season>& season() const;
    /// The same without what is in the hand.
    const std::optional<Season>& decided() const;
    /// Its id: the alternative's, or that of the season in force; 0 without one.
    qint64 seasonId() const { return branch_ != 0 ? branch_ : rider_.seasonId(); }
    /// The newest plan of what shows with the season it is of; null while this version is being solved. While
    /// the hand moves it is the newest of what was in the hand.
    std::shared_ptr<const ShownSeason> shown() const { return current() ? shown_ : nullptr; }
    /// The plan of it, or null.
    const Solved* solved() const { return current() ? shown_->solved.get() : nullptr; }
    /// True while a plan is being worked out.
    bool solving() const { return asked_.contains(ticket_.number); }
    /// What limits it, worked out for just this plan; empty until it is there.
    const std::vector<Limit>& limits() const { return explained().limits; }
    /// Simulated chances of its races; empty until they are there.
    const std::vector<RaceChance>& chances() const { return explained().chances; }
    /// True once limits() and chances() are those of the plan shown.
    bool isExplained() const { return current() && explainedOf_ == shown_->number; }
    /// The plan it is tried against: that of the season in force, while something is tried or an alternative
    /// is looked at. Null otherwise, or until it is there.
    const Plan* beside() const;
    /// Looks at an alternative of the chosen rider; 0 goes back to the season in force.
    void lookAt(qint64 alternative);
    qint64 alternative() const { return branch_; }
    /// The season as it shows, with what the rider brings to it.
    Season whole() const { return rider_.facts().completed(season().value_or(Season{})); }
    /// Sundays of planned deload weeks from today on.
    std::vector<Date> deloadEnds() const;

    /// Shows what an edit would do, without making it: nothing is stored. Ends by itself when the season in
    /// force changes or another rider is chosen.
    void trySeason(const Season& season);
    void stopTrying();
    /// True while an edit is only tried out.
    bool trying() const { return tried_.has_value(); }

signals:
    void seasonShown();   ///< season(), by trying or not
    void planChanged();   ///< solved()
    void limitsChanged(); ///< limits(), chances(), beside()

private:
    /// Whose season a request is for.
    struct Ticket {
        quint64 number = 0; ///< of the request
        qint64 season = 0;
        quint64 version = 0; ///< of the season in force
        bool trying = false;
        Date from;          ///< first planned day
        Season bare, whole; ///< what is solved
    };
    bool current() const;
    void solve();
    void followSeason();
    void forget();
    void take(quint64 number, const std::shared_ptr<const Solved>& solved);
    void keep();
    void findBranch();
    void carryOver();
    OpenRoster& roster_;
    ChosenRider& rider_;
    Notices& notices_;
    Clock& clock_;
    SolverThread solver_;
    Ticket ticket_;                   ///< of the newest request
    std::map<quint64, Ticket> asked_; ///< requests whose answers may still come
    std::optional<Season> tried_;
    std::shared_ptr<const ShownSeason> shown_;
    const Explained& explained() const;
    Explained explained_;
    quint64 explainedOf_ = 0;                    ///< number of the plan it explains
    std::shared_ptr<const ShownSeason> inForce_; ///< the newest plan of the season in force
    qint64 branch_ = 0;
    std::optional<Season> branchSeason_;
};

} // namespace marram
