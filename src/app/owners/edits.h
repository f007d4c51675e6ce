// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/steps.h"
#include "core/review/caution.h"
#include "records/import_report.h"
#include "records/proposed.h"
#include "records/records.h"
#include <memory>

namespace marram {

class Clock;
class Notices;
class OpenRoster;
class Roster;

/// A check-in that changes.
struct CheckInEdit {
    qint64 rider = 0;
    CheckIn before, after; ///< of the same day
};

/// What the coach changes in the open roster, and what is kept there beside it. Edits are changes of fields,
/// applied to what the file holds now in one transaction, and are on disk when they show; each is one step to
/// undo. What comes of them the open roster tells.
class Edits {
public:
    explicit Edits(OpenRoster& of);

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
    void editCheckIns(const std::vector<CheckInEdit>& edits, const QString& what);
    /// Family by family, for all riders of the roster.
    void editFamilies(const std::vector<Family>& before, const std::vector<Family>& after,
                      const QString& what);
    /// The step of an import that has ended: to undo it takes out what came in and brings back what went.
    void cameIn(qint64 rider, const ImportReport& report);

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

    /// Learns anew what a rider owes since rides came, went or changed; false where the file could not take
    /// it.
    bool relearn(qint64 rider);

private:
    Roster& file() const;
    bool keep(std::function<Result<void>()> write, std::function<void()> kept = {});
    bool putRides(qint64 rider, const std::vector<qint64>& out, const std::vector<qint64>& in);
    bool applyRider(const RiderRecord& before, const RiderRecord& after);
    bool applyCheckIns(const std::vector<CheckInEdit>& edits, bool forward);
    bool applyTest(qint64 rider, const std::optional<TestRecord>& before, std::shared_ptr<TestRecord> after);
    bool putListed(const std::vector<std::pair<RideRecord, RideRecord>>& listed, bool forward);

    OpenRoster& of_;
    Steps& steps_;
    Notices& notices_;
    Clock& clock_;
};

} // namespace marram
