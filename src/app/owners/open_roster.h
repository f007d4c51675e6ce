// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/notices.h"
#include "app/owners/steps.h"
#include "app/owners/worker.h"
#include "core/review/caution.h"
#include "formats/csv/activities.h"
#include "records/damage.h"
#include "records/import_report.h"
#include "records/proposed.h"
#include "records/records.h"
#include <atomic>
#include <map>
#include <memory>

namespace marram {

class Roster;
struct BackupCopy;

/// Parts of what a roster holds of a rider.
enum class Part : unsigned {
    Figures = 1, ///< the rider's own: name, values, hours …
    Rides = 2,
    Seasons = 4,
    Tests = 8,
    CheckIns = 16,
    Letters = 32,
    Noted = 64, ///< cautions
    All = 127
};

/// Who changed something: the coach's hand (done, undone or redone, and seen), or work beside the interface
/// and other windows, which never take the coach to another rider.
enum class By { Hand, Others };

/// What of a roster changed: of which rider (0: of any), what, and by whom.
struct Touched {
    Touched(qint64 of, std::initializer_list<Part> what, By whose = By::Hand) : rider(of), by(whose) {
        for (const Part part : what)
            parts |= static_cast<unsigned>(part);
    }
    qint64 rider = 0;
    By by = By::Hand;
    bool has(Part part) const { return (parts & static_cast<unsigned>(part)) != 0; }

private:
    unsigned parts = 0;
};

/// A check-in that changes.
struct CheckInEdit {
    qint64 rider = 0;
    CheckIn before, after; ///< of the same day
};

/// The open file, the undo stack, and every job that runs on it. Edits are changes of fields, applied to what
/// the file holds now in one transaction, and are on disk when they show; each is one step to undo. Closing
/// ends every job, in order, and nothing they deliver later is taken.
class OpenRoster : public QObject {
    Q_OBJECT
public:
    OpenRoster(Notices& notices, Clock& clock, QObject* parent = nullptr);
    ~OpenRoster() override;

    bool open(const QString& path);
    bool create(const QString& path);
    void close();
    bool isOpen() const { return roster_ != nullptr; }
    bool readOnly() const;
    QString path() const;
    /// The file, for reading. Only while open.
    const Roster& file() const { return *roster_; }

    /// Riders by name, archived ones included.
    const std::vector<RiderRecord>& riders() const { return riders_; }
    const RiderRecord* rider(qint64 id) const;

    QUndoStack& undoStack() { return steps_.stack(); }
    /// Undo and redo, when their turn has come: see Steps.
    void undo() { steps_.undo(); }
    void redo() { steps_.redo(); }
    /// Whether edits wait for whoever is writing.
    bool waits() const { return steps_.waiting(); }
    /// Has several edits be one step to undo; they may be made later, when their turn has come.
    void asOneStep(const QString& what, std::function<void()> edits) {
        steps_.asOneStep(what, std::move(edits));
    }

    void addRider(const QString& name);
    void editRider(const RiderRecord& before, const RiderRecord& after, const QString& what);
    /// Puts a season in force that was not there before.
    void beginSeason(qint64 rider, const Season& season, const QString& what);
    void editSeason(qint64 season, const Season& before, const Season& after, const QString& what);
    /// Stores a season beside the one in force (no `before`), changes its name, or removes it (no `after`).
    /// `stored` is told its id once it is.
    void editAlternative(const std::optional<SeasonRecord>& before, const std::optional<SeasonRecord>& after,
                         const QString& what, std::function<void(qint64)> stored = {});
    /// An alternative becomes what the season in force is, and goes. One step to undo.
    void keepAlternative(qint64 inForce, qint64 alternative, const QString& what);
    void editRide(const RideRecord& before, const RideRecord& after, const QString& what);
    void removeRides(qint64 rider, const std::vector<qint64>& rides, const QString& what);
    /// Stores a test (no `before`), changes it, or removes it (no `after`).
    void editTest(qint64 rider, const std::optional<TestRecord>& before,
                  const std::optional<TestRecord>& after, const QString& what);
    /// Changes the coach's words to a rider on the week of a Monday.
    void editLetter(qint64 rider, Date week, const QString& before, const QString& after);
    /// Notes a caution of a rider with a reason, or takes the note back.
    void editNoted(qint64 rider, const std::string& code, const std::optional<NotedCaution>& before,
                   const std::optional<NotedCaution>& after);
    /// Writes the letters of a week to all riders who are not archived, beside the interface: a page and a
    /// text each. lettersWritten follows.
    void writeLetters(const QString& folder, Date week);
    /// Sends the week after the one of the letters to riders, all who are not archived where none is named,
    /// beside the interface; weekSent follows.
    void sendWeek(const QString& folder, const std::vector<qint64>& riders, Date week);
    void editCheckIns(const std::vector<CheckInEdit>& edits, const QString& what);
    std::optional<CheckIn> checkInOn(qint64 rider, Date day) const;

    /// Keeps a plan of a season from a day on; not an edit. False where the file could not take it; it may
    /// also wait for its turn, as edits do.
    bool keepPlan(qint64 season, Date from, const std::vector<SolvedDay>& days,
                  const std::vector<Outlook>& outlook);

    /// Keeps the sessions of a season from a day on, and what became of those of a rider; not edits. False
    /// where the file could not take them.
    bool keepMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions);
    bool keepOutcomes(qint64 rider, const std::vector<MeantSession>& sessions);

    /// Keeps what a rider's record was heard to say; not an edit.
    bool keepHeard(qint64 rider, const KeptHearing& heard);

    /// Families of sessions a coach added or changed, for all riders of the roster.
    const std::vector<Family>& ownFamilies() const { return families_; }
    void editFamilies(const std::vector<Family>& before, const std::vector<Family>& after,
                      const QString& what);

    /// Check-ins of the whole roster as CSV, and such a file taken in, all of it or nothing.
    Result<void> writeCheckInsTo(const QString& file) const;
    Result<int> readCheckInsFrom(const QString& file);

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

    /// Exports riders (all where none is named), or brings some from an export, beside the interface;
    /// exportFinished or bringFinished follows.
    void exportRiders(const QString& folder, const std::vector<qint64>& riders);
    void bringRiders(const QString& file);
    /// Moves recordings of rides before a day into a file beside the roster, beside the interface;
    /// recordingsMoved follows.
    void moveRecordings(Date before);
    /// Looks through everything the file holds, beside the interface; damageFound follows where there is any.
    void examine();
    /// Makes a new roster of what is whole; savedWhole follows.
    void saveWhole(const QString& path);
    /// True where the file was moved, removed or replaced under the window: nothing is written any more.
    bool isLost() const { return lost_; }
    /// Saves all of it as another file and goes on there, with what could not be written meanwhile and every
    /// step to undo.
    bool saveElsewhere(const QString& path);
    /// Copies of this roster, newest first.
    std::vector<BackupCopy> copies() const;
    /// Restores a copy as a new file. The roster that is open stays as it is.
    bool restore(Date day, const QString& to);

    bool running(JobKind kind) const { return jobs_.running(kind); }
    /// Asks a kind of work to stop; what it finished stays.
    void cancel(JobKind kind);

    /// Looks whether another window has written; what a timer does.
    void lookForOthers();

signals:
    void opened();  ///< another file, or none
    void leaving(); ///< the file is about to be closed: what is being typed is still taken
    void closing();
    void familiesChanged();
    void ridersChanged();
    void touched(const marram::Touched& what);
    void planKept(qint64 season); ///< its plan, or its sessions, were kept anew
    void heardKept(qint64 rider); ///< what a record proposes was kept anew
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
    void damageFound(const marram::Damage& damage);
    void fileLost(const QString& sentence); ///< told once, when it is seen

private:
    using Work = std::function<Result<void>()>;
    template <class Made>
    void
    toRiders(const std::function<Result<Made>(const Roster&, const std::function<bool(int, int)>&)>& write,
             const std::function<void(bool, const Made&)>& after);
    bool take(Result<std::unique_ptr<Roster>> roster);
    bool ours();
    void lookAfter();
    bool write(const Work& work);
    bool keep(std::function<Result<void>()> write, std::function<void()> kept = {});
    /// A connection of a job's own: the interface keeps reading meanwhile, and the job waits for whoever
    /// writes.
    static Result<std::unique_ptr<Roster>> openBeside(JobLink& link, const QString& path, qint64 writer);
    /// Tells how far a job is; the job goes on while it says so.
    std::function<bool(int, int)> progressOf(JobKind kind, JobLink& link);
    bool loadRiders();
    void loadFamilies();
    void tell(const Touched& what);
    bool relearn(qint64 rider);
    bool putRides(qint64 rider, const std::vector<qint64>& out, const std::vector<qint64>& in);
    bool applyRider(const RiderRecord& before, const RiderRecord& after);
    bool applyCheckIns(const std::vector<CheckInEdit>& edits, bool forward);
    bool applyTest(qint64 rider, const std::optional<TestRecord>& before, std::shared_ptr<TestRecord> after);
    bool putListed(const std::vector<std::pair<RideRecord, RideRecord>>& listed, bool forward);
    void finishImport(qint64 rider, const ImportReport& report);

    Notices& notices_;
    Clock& clock_;
    std::unique_ptr<Roster> roster_;
    std::vector<RiderRecord> riders_;
    std::vector<Family> families_;
    bool lost_ = false;
    QString lostWhy_;
    QTimer after_; ///< looks after the file once the window has been open for a while
    Steps steps_;
    Jobs jobs_;
    qint64 seen_ = 0; ///< the newest change that shows
    QTimer poll_;
    struct Question;
    std::shared_ptr<Question> asked(quint64 number);
    std::shared_ptr<Question> question_;
    quint64 questions_ = 0;
    int scoringLeft_ = 0, scoringTotal_ = 0;
};

} // namespace marram

Q_DECLARE_METATYPE(marram::ImportReport)
Q_DECLARE_METATYPE(marram::Damage)
