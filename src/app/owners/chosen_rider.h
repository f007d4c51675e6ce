// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include "core/load/history.h"
#include "core/ride/recognise.h"
#include "core/rider/power_model.h"
#include "core/rider/proposal.h"
#include "core/season/ahead.h"
#include "formats/recording/recording.h"

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
    /// Points ridden, by day.
    const std::map<Date, double>& ridden() const { return counted_.points; }
    /// What the record counts, and by what.
    const Counted& counted() const { return counted_; }
    /// What a ride of the record counts.
    double pointsOf(const RideRecord& ride) const;
    double riddenOn(Date day) const;
    /// The rider's load up to today.
    const LoadHistory& history() const { return *history_; }
    LoadState stateBefore(Date day) const { return history_->before(day); }

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
    /// A season with what the rider brings to it: hours, thresholds, the load up to its start and what was
    /// ridden since.
    Season completed(const Season& season) const;
    /// What was planned for a day before it came, where it was kept.
    std::optional<SolvedDay> plannedOn(Date day) const;
    const std::map<Date, SolvedDay>& planned() const { return planned_; }
    /// The rhythm and ramp proposed for this rider, or why there is none.
    Proposal proposedRhythm() const;
    /// What the record answers of the questions a season begins with: hours, years, the first A race to come,
    /// whether the rider lasts its length.
    Questions knownAnswers(const Season& season) const;
    /// Can the rider last a race, by the longest rides of the last sixteen weeks? Its length in hours from
    /// its course where it has one, else from its stress.
    Lasting lasting(const Race& race) const;
    /// How often the rider misses a planned day, from the last 90 days; days of illness apart.
    MissRate misses() const;
    /// Days of the last year on which the rider was ill, by check-ins and days away.
    std::set<Date> illDays() const;
    /// Spells of illness a year: those of the last year, by days away and check-ins, at least one.
    double illSpells() const;
    /// A first season for a rider: this Monday to the Sunday after a race half a year ahead.
    Season freshSeason() const;

    /// Tests in order of day.
    const std::vector<TestRecord>& tests() const { return tests_; }
    std::vector<TestResult> testResults() const;
    /// Tests that should be done, soonest first; `deloadEnds` are the Sundays of planned deload weeks.
    std::vector<DueTest> dueTests(const std::vector<Date>& deloadEnds) const;
    /// What tests in a ride are recognised by: the threshold of its day and the rider's bests before it.
    struct RecognitionBasis {
        std::optional<Watts> threshold;
        std::vector<BestEffort> bestBefore;
    };
    RecognitionBasis recognitionBasis(qint64 ride) const;
    /// Of recognised tests those that are not in the record yet.
    std::vector<Recognised> notWrittenDown(std::vector<Recognised> found) const;
    /// Critical power from confirmed maximal efforts of the 90 days up to a day.
    Result<CriticalPower> criticalPower(Date day) const;

    /// Check-ins in order of day.
    const std::vector<CheckIn>& checkIns() const { return checkIns_; }

    /// The full recording of a ride on its grid, corrected where the coach corrected it.
    Result<Ride> loadRide(qint64 ride) const;
    /// The same without corrections.
    Result<Ride> loadRideAsRecorded(qint64 ride) const;
    /// The recording as it came, for writing it in another format.
    Result<Recording> loadRecording(qint64 ride) const;

    void setRider(const RiderRecord& after, const QString& what);
    void setSeason(const Season& after, const QString& what);
    void setRide(const RideRecord& after, const QString& what);
    void removeRide(qint64 ride);
    void setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                 const QString& what);
    /// The coach's yes or no: a yes to a threshold test also enters the threshold from that day on. One step
    /// to undo.
    void judgeTest(qint64 test, Verdict verdict);
    /// Has the simulated bike computer ride today's session, or one like what is planned, into a folder; the
    /// path of the file.
    Result<QString> rideToday(const QString& deviceFolder, const std::optional<Session>& session = {}) const;
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
    void readRides();
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
    struct Ridden {
        std::vector<CoursePoint> course;
        double threshold = 0, mass = 0, hours = 0;
    };
    mutable Ridden lastCourse_; ///< the course ridden last, and what it took
    std::vector<TestRecord> tests_;
    std::vector<CheckIn> checkIns_;
    bool choosing_ = false;
    /// Whom the step under way has changed: the chosen one, and the last of the others; 0 for nobody.
    qint64 here_ = 0, elsewhere_ = 0;
};

} // namespace marram
