// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/edits.h"
#include "app/owners/notices.h"
#include "app/owners/roster_jobs.h"

namespace marram {

/// Parts of what a roster holds of a rider.
enum class Part : unsigned {
    Figures = 1, ///< the rider's own: name, values, hours …
    Rides = 2,
    Stale = 128, ///< only which of the rides are to be scored again
    Seasons = 4,
    Tests = 8,
    CheckIns = 16,
    Letters = 32,
    Noted = 64, ///< cautions
    All = 255
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

/// The open file: which it is, who is in it, and that it is still ours. What is changed in it goes by its
/// edits(), what is done beside the interface by its jobs(), and what they change is told here. Closing ends
/// every job, in order.
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
    /// Families of sessions a coach added or changed, for all riders of the roster.
    const std::vector<Family>& ownFamilies() const { return families_; }
    std::optional<CheckIn> checkInOn(qint64 rider, Date day) const;

    Edits& edits() { return edits_; }
    /// What was done, to undo, and what waits for whoever is writing.
    Steps& steps() { return steps_; }
    RosterJobs& jobs() { return jobs_; }
    const RosterJobs& jobs() const { return jobs_; }

    /// True where the file was moved, removed or replaced under the window: nothing is written any more.
    bool isLost() const { return lost_; }
    /// Saves all of it as another file and goes on there, with what could not be written meanwhile and every
    /// step to undo.
    bool saveElsewhere(const QString& path);
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
    void damageFound(const marram::Damage& damage);
    void fileLost(const QString& sentence); ///< told once, when it is seen

private:
    friend class Edits;      // which write
    friend class RosterJobs; // which have read anew what they changed
    bool take(Result<std::unique_ptr<Roster>> roster);
    bool ours();
    bool write(const std::function<Result<void>()>& work);
    bool loadRiders();
    void loadFamilies();
    void tell(const Touched& what);

    Notices& notices_;
    Clock& clock_;
    std::unique_ptr<Roster> roster_;
    std::vector<RiderRecord> riders_;
    std::vector<Family> families_;
    bool lost_ = false;
    QString lostWhy_;
    QTimer after_; ///< looks after the file once the window has been open for a while
    QTimer poll_;
    qint64 seen_ = 0; ///< the newest change that shows
    Steps steps_;
    Edits edits_{*this};
    RosterJobs jobs_{*this, notices_, clock_};
};

} // namespace marram
