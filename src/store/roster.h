// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/checkin.h"
#include "core/ride/corrections.h"
#include "core/ride/meanmax.h"
#include "core/ride/scale.h"
#include "core/rider/proposal.h"
#include "core/rider/protocol.h"
#include "core/season/season.h"
#include <QByteArray>
#include <QSqlDatabase>
#include <QString>
#include <QStringList>
#include <map>
#include <memory>

namespace marram {

/// A rider as the roster keeps them.
struct RiderRecord {
    qint64 id = 0; ///< 0 until it is stored
    QString name;
    Sex sex = Sex::Unstated;
    std::optional<int> born; ///< year
    RiderValues values;      ///< thresholds, weight and heart rates, each with its dates
    WeekHours hours{};       ///< Monday to Sunday
    QString note;
    std::optional<int> trainingYears;
    bool slowRecoverer = false;
    std::vector<Injury> injuries; ///< in the order they were entered
    QString strengths, weaknesses, cautions;
    QStringList groups;
    bool archived = false;
    Scales scales; ///< learned from the rides; saved by saveScales only

    bool operator==(const RiderRecord&) const = default;
};

/// What a ride is scored by on a day, without the ride's own effort. A maximal heart rate nobody measured is
/// expected from age.
ScoringBasis basisOn(const RiderRecord& rider, Date day);

/// The heart-rate range in force on a day; nothing where rest or threshold is unknown or they contradict.
std::optional<HeartRateRange> heartRateRangeOn(const RiderRecord& rider, Date day);

/// Age in years that a rider reaches in the year of a day.
std::optional<int> ageOn(const RiderRecord& rider, Date day);

/// A ride without its bytes.
struct RideRecord {
    qint64 id = 0;
    qint64 rider = 0;
    Date day;          ///< local date it started on
    int utcOffset = 0; ///< s
    QString fileName;
    QByteArray contentHash; ///< SHA-256 of the original bytes
    Score score;
    int scoringVersion = 0;       ///< version of the code that derived the score
    double thresholdPower = 0;    ///< W it was scored with, 0 without
    std::vector<BestEffort> best; ///< bestDurations()
    QStringList remarks;
    bool excluded = false; ///< counts for nothing, and stays in the list
    Corrections corrections;
    std::optional<double> effort; ///< session effort, CR-10, as the rider gave it
    QString note;                 ///< the coach's
    bool stale = false;           ///< to be scored again: something it rests on has changed
};

/// Durations of the best efforts kept beside every ride, in seconds: 1 s to 5 h, about evenly on a
/// logarithmic scale, with those coaches ask for.
std::vector<int> bestDurations();

/// A test result in the roster.
struct TestRecord {
    qint64 id = 0; ///< 0 until it is stored
    qint64 rider = 0;
    TestResult result;
    QByteArray rideHash; ///< content of the ride it was found in, empty for one that was entered
    bool operator==(const TestRecord&) const = default;
};

/// Stress ridden by a rider on a day.
struct DaySum {
    Date day;
    double stress = 0;
    bool byPower = false; ///< a ride of that day was scored by power
};

/// A solved day as the roster keeps it, so that a plan shows before it is solved again.
struct SolvedDay {
    Date date;
    Role role = Role::Rest;
    double stress = 0, hours = 0, fitness = 0, fatigue = 0, form = 0;
};

/// The roster file: one SQLite database, owner-only, in WAL mode. Every saving call is one transaction and is
/// on disk when it returns. Calls from the thread that opened it only.
class Roster {
public:
    /// Makes a new file. Refuses one that exists, and folders that can't be written.
    static Result<std::unique_ptr<Roster>> create(const QString& path);
    /// Opens a file, bringing an older schema up to date. Refuses files of other programmes, of newer
    /// versions of Marram, and damaged ones. A file that can't be written opens for reading only.
    static Result<std::unique_ptr<Roster>> open(const QString& path);
    ~Roster();
    Roster(const Roster&) = delete;
    Roster& operator=(const Roster&) = delete;

    QString path() const { return path_; }
    bool readOnly() const { return readOnly_; }
    /// Counts the changes other windows or programmes have made; differs when there was one.
    int foreignChanges() const;

    Result<std::vector<RiderRecord>> riders() const;
    /// Stores a rider (id 0: a new one) and returns the id.
    Result<qint64> saveRider(const RiderRecord& rider);
    Result<void> removeRider(qint64 rider);

    /// The season of a rider, if one was made. Its past and the rider's own figures are not filled in.
    Result<std::optional<Season>> season(qint64 rider) const;
    Result<void> saveSeason(qint64 rider, const Season& season);
    Result<void> removeSeason(qint64 rider);
    Result<void> saveSolvedDays(qint64 rider, const std::vector<SolvedDay>& days);
    Result<std::vector<SolvedDay>> solvedDays(qint64 rider) const;
    /// The same from `from` to `to`, both included.
    Result<std::vector<SolvedDay>> solvedDays(qint64 rider, Date from, Date to) const;
    Result<void> saveScales(qint64 rider, const Scales& scales);

    Result<std::vector<TestRecord>> tests(qint64 rider) const;
    /// Stores a test (id 0: a new one; else with that id) and returns the id.
    Result<qint64> saveTest(const TestRecord& test);
    Result<void> removeTest(qint64 test);

    /// Check-ins of a rider in order of day.
    Result<std::vector<CheckIn>> checkIns(qint64 rider) const;
    /// Check-ins of all riders from a day on, by rider.
    Result<std::map<qint64, std::vector<CheckIn>>> checkInsSince(Date from) const;
    /// Stores a check-in over the one of its day; an empty one removes it.
    Result<void> saveCheckIn(qint64 rider, const CheckIn& checkIn);

    /// Days with a ride and what they came to, by rider, in order of day; excluded rides left out.
    Result<std::map<qint64, std::vector<DaySum>>> daySums() const;

    /// All rides of a rider in order of start.
    Result<std::vector<RideRecord>> rides(qint64 rider) const;
    std::optional<qint64> rideWithContent(qint64 rider, const QByteArray& hash) const;
    /// Rides of the rider that share time with [start, end), Unix seconds.
    std::vector<RideRecord> overlapping(qint64 rider, qint64 start, qint64 end) const;
    /// The bytes of a recording as the file keeps them. Takes the time of compressing them; any thread.
    static QByteArray packed(const QByteArray& original);
    /// Stores a ride with its original, packed, and returns its id. A ride with the same content that was put
    /// aside comes back with the new figures.
    Result<qint64> addRide(const RideRecord& ride, const QByteArray& packedOriginal);
    /// Puts rides aside, or takes them back, all or none. What was put aside leaves the file for good a month
    /// later.
    Result<void> putAside(const std::vector<qint64>& rides, bool aside);
    Result<QByteArray> originalOf(qint64 ride) const;
    /// Replaces everything about rides but their content, all or none.
    Result<void> updateRides(const std::vector<RideRecord>& rides);
    /// Marks rides of a rider from `from` to `to`, both included, to be scored again; how many there are.
    Result<int> markStale(qint64 rider, Date from, Date to);

    /// Work done in one transaction: `body` may call any of the above; a refusal undoes all of it.
    template <class Body>
    Result<void> together(Body body) {
        if (auto ok = begin(); !ok)
            return ok;
        Result<void> ok = body();
        if (!ok) {
            rollBack();
            return ok;
        }
        return commit();
    }

private:
    Roster() = default;
    static Result<std::unique_ptr<Roster>> connect(const QString& path, bool readOnly);
    Result<void> begin();
    Result<void> commit();
    void rollBack();
    Result<void> upgrade();
    Result<void> dropLongAside();

    QSqlDatabase db_;
    QString path_, connection_;
    bool readOnly_ = false;
    int depth_ = 0;
    bool failed_ = false;
};

} // namespace marram
