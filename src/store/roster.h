// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/review/caution.h"
#include "records/damage.h"
#include "records/proposed.h"
#include "records/records.h"
#include <functional>
#include <map>
#include <memory>

namespace marram {

/// Who writes to a roster: one window, with all its connections. Another window's writing is told from it.
using Writer = qint64;
Writer newWriter();

/// The roster file: one SQLite database, owner-only, in WAL mode. Every saving call is one transaction and is
/// on disk when it returns. Calls from the thread that opened it only.
///
/// Reading calls refuse a file that can't be read to the end. Those that take `damage` leave out what is
/// broken and name it there.
class BesideFile;

class Roster {
public:
    /// Makes a new file. Refuses one that exists, and folders that can't be written.
    static Result<std::unique_ptr<Roster>> create(const QString& path, Writer writer = newWriter());
    /// Opens a file, bringing an older schema up to date. Refuses files of other programmes, of newer
    /// versions of Marram, empty ones, and those whose first pages are damaged. A file that can't be written,
    /// or that lies in a folder that can't, opens for reading only. The sentence says why it can't be opened:
    /// damage, a full disk, another programme.
    static Result<std::unique_ptr<Roster>> open(const QString& path, Writer writer = newWriter());
    ~Roster();
    Roster(const Roster&) = delete;
    Roster& operator=(const Roster&) = delete;

    QString path() const { return path_; }
    bool readOnly() const { return readOnly_; }
    Writer writer() const { return writer_; }
    /// Whether anybody but this roster's writer has written since change number `seen`, which moves on to the
    /// newest one.
    Result<bool> othersWrote(qint64& seen) const;
    /// The number of the newest change.
    Result<qint64> newestChange() const;

    /// Whether the file under this name is still the one that was opened: not moved, removed, replaced, nor
    /// written over by another (an older copy, say). What is no longer ours is never written to.
    Result<void> stillOurs() const;
    /// Makes a whole copy of what is here as a new file, also where the file itself is gone by now. Refuses
    /// one that exists.
    Result<void> copyTo(const QString& path) const;
    /// Takes over into the file what waits beside it, so that the file by itself is whole. Does nothing where
    /// another connection is at it.
    void settle();
    /// Takes the right to write at once, for the next together(); false where somebody else has it just now.
    /// Where nobody may write at all it is true, and together() says why.
    bool claim();
    /// Gives it back where no together() came.
    void letGo();
    /// From now on together() waits for others as long as this says so, instead of a few seconds: for work
    /// beside the interface.
    void waitWhile(std::function<bool()> going) { going_ = std::move(going); }
    /// Rows that are not what was written, by the digests beside them.
    Damage checkSeals(const std::function<bool()>& going = {}) const;

    /// Looks at the structure of the whole file, and that every row belongs to one there is: what is wrong.
    Damage examineFile() const;

    Result<std::vector<RiderRecord>> riders(Damage* damage = nullptr) const;
    /// A rider, if there is one of that id.
    Result<std::optional<RiderRecord>> rider(qint64 rider) const;
    /// Stores a rider (id 0: a new one) and returns the id. What was learned stays as it is.
    Result<qint64> saveRider(const RiderRecord& rider);
    /// Puts a rider with everything of theirs aside, or takes them back. Who was put aside leaves the file
    /// for good a month later. Refuses a rider who is not there.
    Result<void> putRiderAside(qint64 rider, bool aside);
    /// Removes a rider with everything of theirs, for good.
    Result<void> removeRider(qint64 rider);
    /// The coach's words to a rider on the week that begins on a Monday; empty where there are none.
    Result<QString> letter(qint64 rider, Date week) const;
    /// All of a rider's, by week.
    Result<std::map<Date, QString>> letters(qint64 rider, Damage* damage = nullptr) const;
    Result<void> saveLetter(qint64 rider, Date week, const QString& words);
    /// Cautions the coach has noted for a rider.
    Result<std::vector<NotedCaution>> noted(qint64 rider, Damage* damage = nullptr) const;
    /// Keeps one, or with nothing takes it back.
    Result<void> saveNoted(qint64 rider, const std::string& code, const std::optional<NotedCaution>& noted);
    /// Maximal efforts of every rider since a day, by rider.
    Result<std::map<qint64, std::vector<KeptMaximal>>> maximalSince(Date day) const;
    Result<KeptHearing> heard(qint64 rider) const;
    Result<void> saveHeard(qint64 rider, const KeptHearing& heard);
    /// What every record proposes, by rider; answered ones too.
    Result<std::map<qint64, std::vector<KeptProposal>>> proposed(Damage* damage = nullptr) const;

    /// Stores what was learned, and that nothing is owed.
    Result<void> saveScales(qint64 rider, const Scales& scales);
    /// Remembers that the scales have to be learned again; what saveScales settles.
    Result<void> oweLearning(qint64 rider);

    /// All seasons of a rider, the one in force first, then by id.
    Result<std::vector<SeasonRecord>> seasons(qint64 rider, Damage* damage = nullptr) const;
    /// The season in force, if there is one.
    Result<std::optional<SeasonRecord>> seasonInForce(qint64 rider, Damage* damage = nullptr) const;
    Result<std::optional<SeasonRecord>> season(qint64 season) const;
    /// Stores a season (id 0: a new one; else with that id) and returns the id. One in force puts the one
    /// that was into history.
    Result<qint64> saveSeason(const SeasonRecord& season);
    Result<void> removeSeason(qint64 season);

    /// Keeps a plan of a season: its days from `from` on are replaced, those before stay as they were
    /// planned. Days of `days` before `from` are not looked at.
    Result<void> savePlannedDays(qint64 season, Date from, const std::vector<SolvedDay>& days);
    /// Keeps what a season expects of its races, as of a day.
    Result<void> saveOutlook(qint64 season, Date day, const std::vector<Outlook>& races);
    /// What was expected on the newest day up to `upTo`; empty where nothing was kept.
    Result<std::vector<Outlook>> outlook(qint64 season, Date upTo, Damage* damage = nullptr) const;
    /// Keeps the sessions of a season: those from `from` on are replaced, those before stay as they were
    /// meant.
    Result<void> saveMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions);
    /// Stores what became of sessions, where they are still what was meant on their days.
    Result<void> saveOutcomes(qint64 rider, const std::vector<MeantSession>& sessions);
    /// What was meant for a rider by the season in force and those of the past, in order of day.
    Result<std::vector<MeantSession>> meant(qint64 rider, Damage* damage = nullptr) const;
    /// What was meant by one season.
    Result<std::vector<MeantSession>> meantOf(qint64 season, Damage* damage = nullptr) const;
    /// Families of sessions a coach added or changed, for all riders.
    Result<std::vector<Family>> ownFamilies(Damage* damage = nullptr) const;
    Result<void> saveOwnFamilies(const std::vector<Family>& all);
    /// What was planned for a rider by the season in force and those of the past, in order of day; of two
    /// plans for a day the one in force.
    Result<std::vector<SolvedDay>> plannedDays(qint64 rider, Damage* damage = nullptr) const;
    /// The same from `from` to `to`, both included.
    Result<std::vector<SolvedDay>> plannedDays(qint64 rider, Date from, Date to,
                                               Damage* damage = nullptr) const;
    /// What was planned by one season.
    Result<std::vector<SolvedDay>> plannedDaysOf(qint64 season, Damage* damage = nullptr) const;

    Result<std::vector<TestRecord>> tests(qint64 rider, Damage* damage = nullptr) const;
    /// Stores a test (id 0: a new one; else with that id) and returns the id.
    Result<qint64> saveTest(const TestRecord& test);
    Result<void> removeTest(qint64 test);

    /// Check-ins of a rider in order of day.
    Result<std::vector<CheckIn>> checkIns(qint64 rider, Damage* damage = nullptr) const;
    /// Check-ins of all riders from a day on, by rider.
    Result<std::map<qint64, std::vector<CheckIn>>> checkInsSince(Date from, Damage* damage = nullptr) const;
    /// The check-in of a day, if there is one.
    Result<std::optional<CheckIn>> checkIn(qint64 rider, Date day) const;
    /// Stores a check-in over the one of its day; an empty one removes it.
    Result<void> saveCheckIn(qint64 rider, const CheckIn& checkIn);

    /// Days of a rider with a ride and what they came to, in order; excluded rides left out.
    Result<std::vector<DaySum>> daySumsOf(qint64 rider, Damage* damage = nullptr) const;
    /// The same from a day on.
    Result<std::vector<DaySum>> daySumsOf(qint64 rider, Date from, Damage* damage = nullptr) const;
    /// The same of all riders.
    Result<std::map<qint64, std::vector<DaySum>>> daySumsSince(Date from, Damage* damage = nullptr) const;

    /// All rides of a rider in order of start.
    Result<std::vector<RideRecord>> rides(qint64 rider, Damage* damage = nullptr) const;
    Result<std::optional<RideRecord>> ride(qint64 ride) const;
    Result<std::optional<qint64>> rideWithContent(qint64 rider, const QByteArray& hash) const;
    /// Rides of the rider that share time with [start, end), Unix seconds.
    Result<std::vector<RideRecord>> overlapping(qint64 rider, qint64 start, qint64 end) const;
    /// The bytes of a recording as the file keeps them. Takes the time of compressing them; any thread.
    static QByteArray packed(const QByteArray& original);
    /// Stores a ride with its original, packed, and returns its id; null bytes for a recording that was lost.
    /// A ride with the same content that was put aside comes back with the new figures. Owes learning.
    Result<qint64> addRide(const RideRecord& ride, const QByteArray& packedOriginal);
    /// Puts rides aside, or takes them back, all or none. What was put aside leaves the file for good a month
    /// later. Refuses rides that are not there. Owes learning.
    Result<void> putAside(const std::vector<qint64>& rides, bool aside);
    /// The recording as it came, from the file or from beside it. Refuses one that no longer unpacks or is
    /// not what was brought in.
    Result<QByteArray> originalOf(qint64 ride) const;
    /// Moves the recordings of rides before a day into a file beside the roster, where they are read from
    /// when they are asked for; how many. Each is on disk there before it goes here; cancelled or killed,
    /// what has moved has moved and nothing is lost.
    Result<int> moveRecordingsBeside(Date before,
                                     const std::function<bool(int done, int total)>& progress = {});
    /// How many recordings of rides before a day the file itself holds.
    Result<int> countRecordings(Date before) const;
    /// The same, and behind it those of second devices on that ride that can be read.
    Result<std::vector<QByteArray>> recordingsOf(const RideRecord& ride) const;
    /// Replaces everything about rides but their content, all or none. Refuses rides that are not there.
    Result<void> updateRides(const std::vector<RideRecord>& rides);
    /// Days on which a rider has rides, in order, those put aside left out.
    Result<std::vector<Date>> rideDays(qint64 rider) const;
    /// Rides of a rider that are to be scored again, in order.
    Result<std::vector<qint64>> staleRides(qint64 rider) const;
    /// Marks rides of a rider from `from` to `to`, both included, to be scored again; how many there are.
    Result<int> markStale(qint64 rider, Date from, Date to);

    /// Work done in one transaction: `body` may call any of the above; a refusal inside undoes all of it and
    /// is what is returned, also where the body goes on after it.
    Result<void> together(const std::function<Result<void>()>& body);

private:
    struct Connection;
    Roster();
    static Result<std::unique_ptr<Roster>> connect(const QString& path, Writer writer, bool readOnly);
    static Result<std::unique_ptr<Roster>> opened(const QString& path, Writer writer, bool fresh);
    /// Settings, schema and seals, before it is written to.
    Result<void> makeReady(bool fresh);
    Result<void> upgrade(bool fresh);
    Result<void> keepBeforeUpgrade(int version) const;
    /// What a file is known by.
    struct Identity {
        quint64 device = 0, node = 0;
        bool operator==(const Identity&) const = default;
    };
    static bool isThatOf(Writer writer, const std::optional<Identity>& identity);
    static std::optional<Identity> identityOf(const QString& path);
    Result<void> dropLongAside();
    /// A recording that lies in a file beside; `looked` is where it was looked for last.
    Result<std::optional<QByteArray>> packedBeside(const QByteArray& hash, QString& looked) const;

    std::unique_ptr<Connection> connection_;
    mutable std::unique_ptr<BesideFile> beside_; ///< opened when it was first asked for
    mutable QString besideIs_;
    QString path_;
    Writer writer_ = 0;
    bool readOnly_ = false;
    int depth_ = 0;
    bool claimed_ = false;
    std::function<bool()> going_;
    std::optional<Identity> identity_;
    mutable qint64 newest_ = 0;      ///< the newest change seen
    mutable qint64 looked_ = 0;      ///< modification time of the file when its content was last compared
    std::optional<Problem> refusal_; ///< the first one inside the transaction under way
};

} // namespace marram
