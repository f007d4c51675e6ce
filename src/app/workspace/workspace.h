// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/solver_thread.h"
#include "store/import.h"
#include <QObject>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <map>

namespace marram {

/// Where a rider stands today, for the roster.
struct Glance {
    LoadState state; ///< this morning
    std::optional<Date> lastRide;
    std::optional<QString> nextRace; ///< the next A or B race
    std::optional<Date> nextRaceDay;
    double raceMiss = 0;    ///< points its gate will be missed by
    int missedThisWeek = 0; ///< planned sessions of the last seven days not ridden
};

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

    Glance glance(qint64 rider) const;

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

    /// Brings files in beside the interface. importFinished follows. One import at a time.
    void importFiles(const QStringList& paths);
    bool importing() const { return importing_; }
    void cancelImport() { cancelImport_ = true; }
    /// Asked on the interface thread for a ride that overlaps one already there.
    std::function<OverlapChoice(const RideRecord&, const RideRecord&)> askOverlap;

    /// The full recording of a ride on its grid.
    Result<Ride> loadRide(qint64 ride) const;
    /// Has the simulated bike computer ride today's session into a folder; the path of the file.
    Result<QString> rideToday(const QString& deviceFolder) const;

signals:
    void rosterChanged(); ///< riders, or the file itself
    void riderChanged();  ///< which rider, or a figure of theirs
    void ridesChanged();
    void seasonChanged(); ///< the season's settings
    void planChanged();   ///< solved()
    void limitsChanged();
    void importProgress(int done, int total);
    void importFinished(const marram::ImportReport& report);
    void said(const QString& sentence);   ///< something worth a line
    void failed(const QString& sentence); ///< something that could not be done

private:
    friend class SeasonCommand;
    friend class RiderCommand;
    friend class RidesCommand;

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
    void rescore(const RiderRecord& before, const RiderRecord& after);
    void lookForOthers();
    void finishImport(const ImportReport& report);

    Date today_;
    std::unique_ptr<Roster> roster_;
    std::vector<RiderRecord> riders_;
    qint64 rider_ = 0;
    std::vector<RideRecord> rides_;
    std::map<Date, double> ridden_;
    std::map<Date, SolvedDay> planned_;
    std::optional<Season> season_, shown_;
    std::shared_ptr<const Solved> solved_;
    std::vector<Limit> limits_;
    QUndoStack undo_;
    SolverThread solver_;
    quint64 newest_ = 0;
    bool trying_ = false;
    bool importing_ = false;
    std::atomic<bool> cancelImport_ = false;
    std::thread importThread_;
    QTimer poll_;
    int seenChanges_ = 0;
};

} // namespace marram

Q_DECLARE_METATYPE(marram::ImportReport)
