// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/chosen_edits.h"
#include "app/owners/rider_facts.h"

namespace marram {

/// What the views read: everything of one rider, loaded together and told together. Edits go to the open
/// roster and come back from it.
class ChosenRider : public QObject {
    Q_OBJECT
public:
    ChosenRider(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent = nullptr);

    /// Shows a rider; the first of the roster where there is none of that id.
    void choose(qint64 rider);
    qint64 id() const { return id_; }
    const RiderRecord* rider() const { return roster_.rider(id_); }
    /// True while another rider is being brought up: many things change then, and settled() says when all
    /// have.
    bool choosing() const { return choosing_; }

    const std::vector<RideRecord>& rides() const { return rides_; }
    const RideRecord* rideById(qint64 ride) const;
    /// What the record counts, and by what.
    const Counted& counted() const { return counted_; }
    /// The rider's load up to today.
    const LoadHistory& history() const { return *history_; }

    /// All seasons, the one in force first.
    const std::vector<SeasonRecord>& seasons() const { return seasons_; }
    /// The season in force as the coach set it; empty for a rider without one.
    const std::optional<Season>& season() const { return season_; }
    /// Its id, 0 without one.
    qint64 seasonId() const;
    /// Grows whenever the season in force becomes another one or is changed.
    quint64 seasonVersion() const { return seasonVersion_; }
    /// What the season in force expected of its races a week ago, or on the newest day before that.
    const std::vector<Outlook>& outlookBefore() const { return outlook_; }
    /// What was planned for days before they came, where it was kept.
    const std::map<Date, SolvedDay>& planned() const { return planned_; }

    /// Tests in order of day.
    const std::vector<TestRecord>& tests() const { return tests_; }

    /// Check-ins in order of day.
    const std::vector<CheckIn>& checkIns() const { return checkIns_; }

    /// What all of that says once it is asked.
    const RiderFacts& facts() const { return facts_; }
    /// What the coach changes of it.
    ChosenEdits& edits() { return edits_; }
    /// Plans kept meanwhile are what was planned.
    void planKept(const std::vector<SolvedDay>& days);

signals:
    void leaving();      ///< another rider is about to be chosen: what is being typed is still taken
    void riderChanged(); ///< which rider, or a figure of theirs
    void settled();      ///< the rider chosen is here with everything
    void ridesChanged();
    void seasonChanged();
    void testsChanged();
    void checkInsChanged();

private:
    void take(const Touched& what);
    void readAnew(const Touched& what);
    void readRides();
    void readStale();
    void readSeasons();
    void readTests();
    void readCheckIns();
    void rebuildHistory();
    void told(const Damage& damage);
    /// Once a step is over: what was changed or taken back is seen, so another rider's is gone to; a step
    /// that changed the chosen one's too leaves them chosen.
    void follow();

    OpenRoster& roster_;
    Notices& notices_;
    Clock& clock_;
    qint64 id_ = 0;
    std::vector<RideRecord> rides_;
    Counted counted_;
    std::unique_ptr<LoadHistory> history_;
    std::vector<SeasonRecord> seasons_;
    std::optional<Season> season_;
    quint64 seasonVersion_ = 0;
    std::map<Date, SolvedDay> planned_;
    std::vector<Outlook> outlook_;
    std::vector<TestRecord> tests_;
    std::vector<CheckIn> checkIns_;
    bool choosing_ = false;
    RiderFacts facts_;
    ChosenEdits edits_;
    /// Whom the step under way has changed: the chosen one, and the last of the others; 0 for nobody.
    qint64 here_ = 0, elsewhere_ = 0;
};

} // namespace marram
