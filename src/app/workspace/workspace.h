// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/solver_thread.h"
#include "core/review/attention.h"
#include "core/ride/recognise.h"
#include "core/rider/power_model.h"
#include "store/exchange.h"
#include "store/import.h"
#include <QObject>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <map>

namespace marram {

/// The open roster and everything derived from it. Views read from here, hand edits to it, and are told what
/// changed; none of them talks to the file or to the solver. Every edit is one command that can be undone and
/// is on disk when it shows.
class Workspace : public QObject {
    Q_OBJECT
public:
    explicit Workspace(QObject* parent = nullptr);
    ~Workspace() override;

    /// The day on which the plan begins. Settable so that tests and pictures do not depend on the clock.
    void setToday(Date today);
    Date today() const { return today_; }

    bool open(const QString& path);
    bool create(const QString& path);
    void close();
    bool isOpen() const { return roster_ != nullptr; }
    bool readOnly() const { return roster_ && roster_->readOnly(); }
    QString path() const { return roster_ ? roster_->path() : QString(); }

    const std::vector<RiderRecord>& riders() const { return riders_; }
    const RiderRecord* rider() const;
    void choose(qint64 rider);
    /// True while another rider is being brought up: many things change then, and settled() says when all
    /// have.
    bool choosing() const { return choosing_; }
    const std::vector<RideRecord>& rides() const { return rides_; }
    /// The season as the coach set it; empty for a rider without one.
    const std::optional<Season>& season() const { return shown_; }
    /// The newest plan, or null. While an edit is only tried out it is the plan of that.
    const Solved* solved() const { return solved_.get(); }
    const std::vector<Limit>& limits() const { return limits_; }
    /// What was planned for a day before it came, where it was kept.
    std::optional<SolvedDay> plannedOn(Date day) const;
    /// Stress ridden on a day.
    double riddenOn(Date day) const;
    /// The load model over everything ridden: the state at the end of the day before `day`.
    LoadState stateBefore(Date day) const;

    /// Where a rider stands today, for the roster. Kept until something of theirs changes.
    const Standing& standing(qint64 rider) const;
    /// Points a day ridden by the chosen rider, by day.
    const std::map<Date, double>& ridden() const { return ridden_; }

    QUndoStack& undoStack() { return undo_; }

    /// Shows what an edit would do, without making it: nothing is stored until setSeason.
    void trySeason(const Season& season);
    void stopTrying();
    /// True while an edit is only tried out.
    bool trying() const { return trying_; }
    void setSeason(const Season& season, const QString& what);
    /// A first season for a rider: this Monday to the Sunday after a race half a year ahead.
    Season freshSeason() const;
    void setRider(const RiderRecord& rider, const QString& what);
    void addRider(const QString& name);
    void removeRide(qint64 ride);
    /// Changes what the coach adds to a ride: note, effort, corrections, excluded.
    void setRide(const RideRecord& ride, const QString& what);

    /// Tests of the chosen rider, in order of day.
    const std::vector<TestRecord>& tests() const { return tests_; }
    std::vector<TestResult> testResults() const;
    /// Stores a test (id 0: a new one), or removes it where `after` is empty.
    void setTest(const std::optional<TestRecord>& before, const std::optional<TestRecord>& after,
                 const QString& what);
    /// The coach's yes or no: a yes to a threshold test also enters the threshold from that day on. One step
    /// to undo.
    void judgeTest(qint64 test, Verdict verdict);
    /// Tests that should be done, soonest first.
    std::vector<DueTest> dueTests() const;
    /// Tests the chosen rider's ride looks to hold that are not in the record yet.
    std::vector<Recognised> recognise(qint64 ride) const;

    /// Check-ins of the chosen rider, in order of day.
    const std::vector<CheckIn>& checkIns() const { return checkIns_; }
    std::optional<CheckIn> checkInOn(qint64 rider, Date day) const;
    void setCheckIn(qint64 rider, const CheckIn& checkIn);
    /// Check-ins of the whole roster as CSV, and such a file taken in as one step to undo.
    Result<void> writeCheckInsTo(const QString& file) const;
    Result<int> readCheckInsFrom(const QString& file);

    /// Critical power of the chosen rider from their best efforts of the 90 days up to a day.
    Result<CriticalPower> criticalPower(Date day) const;

    Result<void> exportRiders(const QString& folder, const std::vector<qint64>& riders,
                              const Progress& progress) const;
    Result<int> bringRiders(const QString& file, const Progress& progress);

    /// Brings files in beside the interface. importFinished follows. One import at a time.
    void importFiles(const QStringList& paths);
    bool importing() const { return importing_; }
    void cancelImport() { cancelImport_ = true; }
    /// Asked on the interface thread for a ride that overlaps one already there.
    std::function<OverlapChoice(const RideRecord&, const RideRecord&)> askOverlap;

    /// The full recording of a ride on its grid, corrected where the coach corrected it.
    Result<Ride> loadRide(qint64 ride) const;
    /// The same without corrections.
    Result<Ride> loadRideAsRecorded(qint64 ride) const;
    /// The recording as it came, for writing it in another format.
    Result<Recording> loadRecording(qint64 ride) const;
    const RideRecord* rideById(qint64 ride) const;
    /// True while rides are scored again beside the interface.
    bool scoring() const { return scoringLeft_ > 0; }
    /// Has the simulated bike computer ride today's session into a folder; the path of the file.
    Result<QString> rideToday(const QString& deviceFolder) const;

signals:
    void rosterChanged(); ///< riders, or the file itself
    void riderChanged();  ///< which rider, or a figure of theirs
    void settled();       ///< the rider chosen is here with everything
    void ridesChanged();
    void seasonChanged(); ///< the season's settings
    void planChanged();   ///< solved()
    void limitsChanged();
    void testsChanged();
    void checkInsChanged();
    void scoringProgress(int left); ///< rides still to be scored again; 0 when done
    void importProgress(int done, int total);
    void importFinished(const marram::ImportReport& report);
    void said(const QString& sentence);   ///< something worth a line
    void failed(const QString& sentence); ///< something that could not be done

private:
    friend class SeasonCommand;
    friend class RiderCommand;
    friend class RidesCommand;
    friend class RideCommand;
    friend class AddRiderCommand;
    friend class TestCommand;
    friend class CheckInCommand;

    bool opened(Result<std::unique_ptr<Roster>> roster);
    bool succeeded(const Result<void>& result);
    void loadRiders();
    void loadRides();
    void loadSeason();
    void solve(bool trying);
    void takePlan(quint64 number, std::shared_ptr<const Solved> solved);
    void keepPlan();
    LoadState modelUpTo(const std::map<Date, double>& ridden, Date day, LoadState otherwise,
                        TimeConstants tau) const;
    Season completed(const Season& season) const;
    bool writeSeason(qint64 rider, const std::optional<Season>& season);
    bool writeRider(const RiderRecord& rider);
    bool bringRider(RiderRecord& rider);
    bool dropRider(qint64 rider);
    bool writeRide(const RideRecord& ride);
    bool writeTest(qint64 rider, const std::optional<TestRecord>& before, std::optional<TestRecord>& after);
    bool writeCheckIn(qint64 rider, const CheckIn& checkIn);
    bool putRidesAside(const std::vector<qint64>& rides, bool aside);
    void scoreStaleRides();
    void takeScores(quint64 generation, const std::vector<RideRecord>& scored);
    void finishScoring(int count);
    void relearn();
    void loadTests();
    void loadCheckIns();
    void forgetStandings();
    Standing standingOf(const RiderRecord& rider) const;
    void lookForOthers();
    void finishImport(const ImportReport& report);

    Date today_;
    std::unique_ptr<Roster> roster_;
    std::vector<RiderRecord> riders_;
    qint64 rider_ = 0;
    std::vector<RideRecord> rides_;
    std::map<Date, double> ridden_;
    std::vector<TestRecord> tests_;
    std::vector<CheckIn> checkIns_;
    mutable std::map<qint64, Standing> standings_;
    mutable std::optional<std::map<qint64, std::vector<DaySum>>> sums_;
    mutable std::optional<std::map<qint64, std::vector<CheckIn>>> recentCheckIns_;
    std::map<Date, SolvedDay> planned_;
    std::optional<Season> season_, shown_;
    std::shared_ptr<const Solved> solved_;
    std::vector<Limit> limits_;
    QUndoStack undo_;
    SolverThread solver_;
    quint64 newest_ = 0;
    bool trying_ = false, choosing_ = false;
    bool importing_ = false;
    std::atomic<bool> cancelImport_ = false;
    std::thread importThread_;
    std::thread scoringThread_;
    std::atomic<quint64> scoringGeneration_ = 0;
    int scoringLeft_ = 0, scoringTotal_ = 0;
    QTimer poll_;
    int seenChanges_ = 0;
};

} // namespace marram

Q_DECLARE_METATYPE(marram::ImportReport)
