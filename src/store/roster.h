// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "core/season/season.h"
#include <QByteArray>
#include <QSqlDatabase>
#include <QString>
#include <QStringList>
#include <memory>

namespace marram {

/// A rider as the roster keeps them.
struct RiderRecord {
    qint64 id = 0; ///< 0 until it is stored
    QString name;
    Sex sex = Sex::Unstated;
    std::optional<int> born;                           ///< year
    std::optional<double> restHeartRate, maxHeartRate; ///< bpm
    WeekHours hours{};                                 ///< Monday to Sunday
    QString note;
    std::vector<Threshold> thresholds; ///< in order of date

    bool operator==(const RiderRecord&) const = default;
};

/// What a ride is scored by on a day.
ScoringBasis basisOn(const RiderRecord& rider, Date day);

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
    bool excluded = false;
};

/// Durations of the best efforts kept beside every ride, in seconds.
std::vector<int> bestDurations();

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

    /// All rides of a rider in order of start.
    Result<std::vector<RideRecord>> rides(qint64 rider) const;
    std::optional<qint64> rideWithContent(qint64 rider, const QByteArray& hash) const;
    /// Rides of the rider that share time with [start, end), Unix seconds.
    std::vector<RideRecord> overlapping(qint64 rider, qint64 start, qint64 end) const;
    /// Stores a ride with its original bytes and returns the id (the record's own, where it is not 0).
    Result<qint64> addRide(const RideRecord& ride, const QByteArray& original);
    Result<void> removeRide(qint64 ride);
    Result<QByteArray> originalOf(qint64 ride) const;
    /// Replaces the derived figures of rides, all or none.
    Result<void> updateScores(const std::vector<RideRecord>& rides);

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

    QSqlDatabase db_;
    QString path_, connection_;
    bool readOnly_ = false;
    int depth_ = 0;
    bool failed_ = false;
};

} // namespace marram
