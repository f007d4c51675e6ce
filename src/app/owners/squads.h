// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include "app/owners/worker.h"
#include "records/addition.h"
#include "records/squad.h"

namespace marram {

/// Riders beside each other, read beside the interface: at once as they were kept last, then one by one as
/// they are solved for today. Nothing is read until somebody looks, nor after they look away.
class Squads : public QObject {
    Q_OBJECT
public:
    Squads(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent = nullptr);

    /// Whose rows, in no order.
    void show(const std::vector<qint64>& riders);
    /// The week whose sessions are worked out: this one, and so many after or before it.
    void look(int weeksAhead);
    int weeksAhead() const { return ahead_; }
    Date week() const { return monday(clock_.today()) + 7 * ahead_; }
    void watch(bool on);

    /// The rows there are; those of riders who are not shown any more are gone.
    const std::vector<SquadRow>& rows() const { return rows_; }
    bool reading() const { return work_.busy(); }
    int done() const { return done_; }
    int total() const { return static_cast<int>(riders_.size()); }
    /// Reckons, beside the interface, what an addition would do to each rider shown; tried() follows, again
    /// and again until stopTrying(). Of several asked for the newest counts.
    void tryOut(const SquadAddition& addition);
    void stopTrying();
    bool trying() const { return trials_.busy(); }
    /// What was reckoned so far, in order of name.
    const std::vector<SquadTrial>& trials() const { return tried_; }
    struct Put {
        int on = 0; ///< riders it was put on
        QStringList
            left; ///< names of those it was not: no season then, it is there already, or it can't be held
    };
    /// Puts what was tried on these riders, in one step to undo.
    Put put(const SquadAddition& addition, const std::vector<SquadTrial>& on);
    /// Puts an addition on all whose rows are there; nothing that needs advice or another's season.
    Result<Put> put(const SquadAddition& addition);
    /// The week's days of the rows, in an order, as CSV.
    QByteArray weekCsv(const std::vector<qint64>& order) const;

signals:
    void changed();
    void tried(); ///< trials() has more, or all

private:
    void forget();
    void read();
    void take(std::vector<SquadRow> rows);
    /// A piece of work over the riders shown, in rounds, with a reader of its own; what one refuses ends it.
    using OfRider = std::function<Result<void>(const Roster&, const RiderRecord&)>;
    Worker::Task overRiders(std::function<std::vector<OfRider>(const Worker::Link&)> rounds) const;

    OpenRoster& roster_;
    Notices& notices_;
    Clock& clock_;
    std::vector<qint64> riders_;
    std::vector<SquadRow> rows_;
    int ahead_ = 0, done_ = 0;
    bool watched_ = false, stale_ = true;
    std::optional<SquadAddition> trying_;
    std::vector<SquadTrial> tried_;
    Worker work_, trials_;
};

} // namespace marram
