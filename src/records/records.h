// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/load/history.h"
#include "core/review/against.h"
#include "core/review/checkin.h"
#include "core/ride/corrections.h"
#include "core/ride/meanmax.h"
#include "core/ride/scale.h"
#include "core/rider/care.h"
#include "core/rider/proposal.h"
#include "core/rider/protocol.h"
#include "core/season/season.h"
#include "core/session/family.h"
#include <QByteArray>
#include <QString>
#include <QStringList>

/// What a roster keeps, as plain values: no file, no database.
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
    std::optional<double> usualWeekHours; ///< hours ridden in a usual week lately, as the rider says; for one
                                          ///< whose rides are not in the roster yet
    bool slowRecoverer = false;
    std::vector<Injury> injuries; ///< in the order they were entered
    QString strengths, weaknesses, cautions;
    RiderCare care; ///< what asks for licensed care
    QStringList groups;
    bool archived = false;
    Scales scales;             ///< learned from the rides, never entered
    bool owesLearning = false; ///< rides came or changed since the scales were learned

    bool operator==(const RiderRecord&) const = default;
};

/// Those that last on a day, in the coach's words.
std::vector<std::string> injuriesOn(const RiderRecord& rider, Date day);

/// The hours a new rider is given until theirs are known.
inline constexpr WeekHours guessedHours{0, 1, 1, 1, 0, 3, 2};

/// What a ride is scored by on a day, without the ride's own effort. A maximal heart rate nobody measured is
/// expected from age.
ScoringBasis basisOn(const RiderRecord& rider, Date day);

/// The heart-rate range in force on a day; nothing where rest or threshold is unknown or they contradict.
std::optional<HeartRateRange> heartRateRangeOn(const RiderRecord& rider, Date day);

/// An entry with its unit: "231 W", and "at least 231 W" for a bound that is worked with.
QString valueWords(Quantity quantity, const DatedValue& entry);

/// What a threshold power that is only a lower bound means for what rests on it on a day, and what would
/// tell, in a sentence; empty where it is none.
QString boundSentence(const RiderRecord& rider, Date day);

/// True where rides of every day are scored by the same values for both.
bool scoredAlike(const RiderRecord& a, const RiderRecord& b);
/// True where a ride of that day is.
bool scoredAlike(const RiderRecord& a, const RiderRecord& b, Date day);

/// A rider on a bicycle of 8 kg as the road sees them on a day: the weight in force, else 75 kg.
Moving movingOf(const RiderRecord& rider, Date day);

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
    QByteArray beside; ///< content of the ride that this is a second device's recording of; empty for none
    Corrections corrections;
    std::optional<double> effort; ///< session effort, CR-10, as the rider gave it
    QString note;                 ///< the coach's
    bool stale = false;           ///< to be scored again: something it rests on has changed
};

/// How a recording of another sport is remarked on, and which sport a ride's remarks name; empty for a ride.
QString otherSportRemark(const QString& sport);
QString otherSportOf(const RideRecord& ride);

/// Whether what the coach added to a ride, and whether it is stale, is the same on both.
bool sameForCoach(const RideRecord& a, const RideRecord& b);

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
    bool byPower = false;     ///< a ride of that day was scored by power
    int unscored = 0;         ///< rides that carry no points
    double unscoredHours = 0; ///< h from their first sample to their last
};

/// The days of a rider's rides; excluded ones left out.
std::vector<DaySum> daySumsOf(const std::vector<RideRecord>& rides);

/// What a record counts.
struct Counted {
    std::map<Date, double> points; ///< by day
    int unscored = 0;              ///< rides that carry no points
    bool byHours = false;          ///< not one ride carries any, so all count by their hours
};

/// Points as the rides carry them. Where not one carries any – a threshold is missing – usualPointsPerHour
/// for an hour: unscored is not unridden.
Counted countRidden(const std::vector<DaySum>& days);

/// A day as it was planned, kept so that a plan shows before it is solved again and is known after the day
/// has passed.
struct SolvedDay {
    Date date;
    Role role = Role::Rest;
    double stress = 0, hours = 0, fitness = 0, fatigue = 0, form = 0;
    std::optional<WeekKind> kind = {}; ///< of its week; none where it was kept before kinds were
    std::optional<Phase> phase = {};
    bool operator==(const SolvedDay&) const = default;
};

/// A day's session as it was meant, kept so that it is known after the day has passed.
struct MeantSession {
    Date date;
    std::string family;
    int rung = 0;      ///< 1 the first; 0 for a family without
    std::string words; ///< the whole ride in shorthand; empty off the bicycle
    std::string note;
    // What became of it, once it was laid over a ride; derived.
    std::optional<RungVerdict> outcome;
    std::string outcomeOf; ///< of which ride, by which values: what would make it another
    std::string told;      ///< sentences, one a line
    std::optional<SessionMark> mark;
    bool operator==(const MeantSession&) const = default;
};

/// What was expected of a race, as the plan stood on a day.
struct Outlook {
    Date day;
    std::string race;
    double form = 0, fitness = 0;
    std::optional<double> expectedForm, chance; ///< with the rider's misses; none where they were not kept
};

/// What a season is to its rider. One is in force; the others are over, or are tried beside it.
enum class SeasonStanding { InForce, History, Alternative };

/// A season with what its rider brings to it: hours, thresholds in force today, the load up to its start and
/// what was ridden since; a day ridden already is past. Where nothing was ridden for four weeks before it,
/// and the record reaches further back, it begins after a lay-off unless the coach has said otherwise.
Season completedSeason(const Season& season, const RiderRecord& rider, const LoadHistory& history,
                       const std::map<Date, double>& ridden, Date today);

/// A season as the coach set it. Its past and the rider's own figures are not filled in.
struct SeasonRecord {
    qint64 id = 0; ///< 0 until it is stored
    qint64 rider = 0;
    SeasonStanding standing = SeasonStanding::InForce;
    QString name;                       ///< the coach's; empty for one that needs none
    std::optional<qint64> branchedFrom; ///< the season an alternative was made from
    Season season;
};

} // namespace marram
