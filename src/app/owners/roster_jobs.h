// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/worker.h"
#include "formats/csv/activities.h"
#include "records/damage.h"
#include "records/import_report.h"
#include "records/records.h"
#include <QObject>
#include <memory>

namespace marram {

class Clock;
class Notices;
class OpenRoster;
class Roster;
struct BackupCopy;

/// Where riders come from: brings them into a roster and says who came last. It goes on while `progress` says
/// so, and tells `came` of those who are whole before the others are.
using Bringing = std::function<Result<std::vector<qint64>>(
    Roster& roster, const std::function<bool(int, int)>& progress, const std::function<void()>& came)>;
/// From an export.
Bringing ridersIn(const QString& file);

/// Everything that is done with the open roster beside the interface, each with a connection of its own: the
/// interface keeps reading meanwhile, and a job waits for whoever writes. The roster ends them all, in order,
/// before it closes; nothing they deliver later is taken.
class RosterJobs : public QObject {
    Q_OBJECT
public:
    RosterJobs(OpenRoster& of, Notices& notices, Clock& clock);
    ~RosterJobs() override;

    /// Brings recordings in beside the interface; importFinished follows. One import at a time.
    void importFiles(qint64 rider, const QStringList& paths, const QStringList& refused = {});
    bool importing() const { return running(JobKind::Import); }
    /// The answer to overlapAsked(); one for a question that is no longer asked is not heard.
    void answerOverlap(quint64 question, OverlapAnswer answer);
    /// The same for strangerAsked(): whether such recordings come in.
    void answerStranger(quint64 question, bool take);
    /// The same for listAsked(): which columns are which; nothing for a table that is no list.
    void answerList(quint64 question, const std::optional<ActivityColumns>& columns);

    /// Scores again, beside the interface, what of a rider's rides rests on values of before, and learns what
    /// is owed. Instead of what was being scored. scoringProgress follows.
    void scoreStale(qint64 rider, const std::vector<RideRecord>& rides);
    bool scoring() const { return running(JobKind::Scoring); }

    /// Exports riders (all where none is named), or brings some, beside the interface; exportFinished or
    /// bringFinished follows.
    void exportRiders(const QString& folder, const std::vector<qint64>& riders);
    void bringRiders(const Bringing& from);
    /// Moves recordings of rides before a day into a file beside the roster, beside the interface;
    /// recordingsMoved follows.
    void moveRecordings(Date before);
    /// Looks through everything the file holds, beside the interface; damageFound follows where there is any.
    void examine();
    /// Makes a new roster of what is whole; savedWhole follows.
    void saveWhole(const QString& path);
    /// Writes the letters of a week to all riders who are not archived, beside the interface: a page and a
    /// text each. lettersWritten follows.
    void writeLetters(const QString& folder, Date week);
    /// Sends the week after the one of the letters to riders, all who are not archived where none is named,
    /// beside the interface; weekSent follows.
    void sendWeek(const QString& folder, const std::vector<qint64>& riders, Date week);

    /// Copies of this roster, newest first.
    std::vector<BackupCopy> copies() const;
    /// Restores a copy as a new file. The roster that is open stays as it is.
    bool restore(Date day, const QString& to);

    bool running(JobKind kind) const { return jobs_.running(kind); }
    /// Asks a kind of work to stop; what it finished stays.
    void cancel(JobKind kind);

signals:
    void jobProgress(marram::JobKind kind, int done, int total);
    void importFinished(qint64 rider, const marram::ImportReport& report);
    void overlapAsked(quint64 question, const marram::RideRecord& now, const marram::RideRecord& there);
    void strangerAsked(quint64 question, const QString& why); ///< a recording looks like another rider's
    void listAsked(quint64 question, const QString& file, const marram::ActivityHead& head);
    void questionWithdrawn();       ///< what was asked last is no longer asked
    void scoringProgress(int left); ///< rides still to be scored again; 0 when there is nothing left to do
    /// How many riders got how many files that are new, changed or the same, and what differs for those who
    /// had the week already, a line each; no folder where it failed.
    void weekSent(const QString& folder, int riders, int fresh, int changed, int same,
                  const QStringList& differs);
    void lettersWritten(const QString& folder, int count); ///< no folder where it failed or was cancelled
    void exportFinished(const QString& folder, const marram::Damage& damage); ///< no folder where it failed
    void recordingsMoved(int count);                                          ///< -1 where it failed
    void bringFinished(const std::vector<qint64>& riders);
    void savedWhole(const QString& path, const marram::Damage& leftBehind);

private:
    friend class OpenRoster; // which ends them
    template <class Made>
    void
    toRiders(const std::function<Result<Made>(const Roster&, const std::function<bool(int, int)>&)>& write,
             const std::function<void(bool, const Made&)>& after);
    /// A copy of the day, and a look through the digests.
    void lookAfter();
    /// Ends every job, and with them what they asked and how far they were.
    void endAll();
    static Result<std::unique_ptr<Roster>> openBeside(JobLink& link, const QString& path, qint64 writer);
    /// Tells how far a job is; the job goes on while it says so.
    std::function<bool(int, int)> progressOf(JobKind kind, JobLink& link);

    OpenRoster& of_;
    Notices& notices_;
    Clock& clock_;
    Jobs jobs_;
    struct Question;
    std::shared_ptr<Question> asked(quint64 number);
    std::shared_ptr<Question> question_;
    quint64 questions_ = 0;
    int scoringLeft_ = 0, scoringTotal_ = 0;
};

} // namespace marram

Q_DECLARE_METATYPE(marram::ImportReport)
Q_DECLARE_METATYPE(marram::Damage)
