// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/json/score_json.h"
#include "records/fields.h"
#include "store/connection.h"
#include "store/fields_sql.h"
#include "store/json_columns.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <QDataStream>
#include <QDate>
#include <QDateTime>
#include <QIODevice>
#include <QtEndian>
#include <algorithm>
#include <cmath>
#include <limits>

namespace marram {
namespace {

constexpr quint32 largestOriginal = 1U << 30;

/// Best efforts one after another: seconds and start as 32-bit, power as 64-bit, little-endian.
QByteArray bestBytes(const std::vector<BestEffort>& best) {
    QByteArray bytes("");
    QDataStream out(&bytes, QIODevice::WriteOnly);
    out.setByteOrder(QDataStream::LittleEndian);
    for (const BestEffort& b : best)
        out << static_cast<qint32>(b.seconds) << static_cast<qint32>(b.start) << b.power;
    return bytes;
}

std::vector<BestEffort> bestFrom(sql::Row& row, int column) {
    const QByteArray bytes = row.bytes(column);
    if (bytes.size() % 16 != 0 || bytes.size() > qsizetype{16000})
        row.fail(column, marked("has no whole number of entries"));
    std::vector<BestEffort> best(static_cast<size_t>(bytes.size()) / 16);
    QDataStream in(bytes);
    in.setByteOrder(QDataStream::LittleEndian);
    for (BestEffort& b : best) {
        qint32 seconds = 0, start = 0;
        in >> seconds >> start >> b.power;
        b.seconds = seconds;
        b.start = start;
        if (seconds < 1 || start < 0 || seconds > longestRide || start > longestRide ||
            !(b.power >= 0 && b.power < 1e5))
            row.fail(column, marked("holds an effort that can't be"));
    }
    return best;
}

/// Every figure of a score in the order of `visit`, NaN for one that is not there.
template <class S, class Visit>
void everyFigure(S& s, Visit visit) {
    for (auto* v : {&s.distance, &s.work, &s.meanPower, &s.equivalentPower, &s.relativeIntensity, &s.stress,
                    &s.trainingImpulse, &s.heartRateStress, &s.effort, &s.meanHeartRate, &s.maxHeartRate,
                    &s.efficiency, &s.drift})
        visit(*v);
}

/// A score as the file keeps it: little-endian, far quicker to read for thousands of rides than text.
QByteArray figureBytes(const Score& s) {
    QByteArray bytes;
    QDataStream out(&bytes, QIODevice::WriteOnly);
    out.setByteOrder(QDataStream::LittleEndian);
    const double none = std::numeric_limits<double>::quiet_NaN();
    out << static_cast<quint8>(3) << static_cast<qint64>(s.start) << static_cast<qint32>(s.duration)
        << static_cast<qint32>(s.elapsed) << static_cast<quint8>(s.method) << s.scale << s.shortIntervals;
    everyFigure(s, [&](const std::optional<double>& v) { out << v.value_or(none); });
    for (const int f : {s.faults.power, s.faults.heartRate, s.faults.clock, s.faults.powerMissing})
        out << static_cast<qint32>(f);
    out << s.bandSeconds.has_value() << s.zoneSeconds.has_value() << s.heartRateZoneSeconds.has_value()
        << s.purposeSeconds.has_value() << s.intervalsSeen << s.powerShare << s.heartRateShare << s.indoors;
    if (s.bandSeconds)
        out << s.bandSeconds->low << s.bandSeconds->middle << s.bandSeconds->high;
    if (s.zoneSeconds)
        for (const double z : *s.zoneSeconds)
            out << z;
    if (s.heartRateZoneSeconds)
        for (const double z : *s.heartRateZoneSeconds)
            out << z;
    if (s.purposeSeconds)
        out << s.purposeSeconds->low << s.purposeSeconds->middle << s.purposeSeconds->high;
    return bytes;
}

/// Which times follow the figures, in their order.
struct TimesThere {
    bool bands, zones, heartRateZones, purpose;
};
template <class Seconds>
void readTimes(const Seconds& seconds, TimesThere there, Score& s) {
    if (there.bands)
        s.bandSeconds = Bands{seconds(), seconds(), seconds()};
    if (there.zones)
        for (double& z : s.zoneSeconds.emplace())
            z = seconds();
    if (there.heartRateZones)
        for (double& z : s.heartRateZoneSeconds.emplace())
            z = seconds();
    if (there.purpose)
        s.purposeSeconds = Bands{seconds(), seconds(), seconds()};
}

Score figuresFromText(sql::Row& row, int column, const QByteArray& bytes) {
    auto s = scoreFrom(QJsonDocument::fromJson(bytes).object());
    if (!s)
        row.fail(column, QString::fromStdString(s.error().sentence));
    return s.value_or(Score{});
}

bool possibleTimes(qint64 start, qint32 duration, qint32 elapsed) {
    return start >= 0 && start <= 5000000000 && duration >= 0 && duration <= longestRide &&
           elapsed >= duration && elapsed <= longestRide;
}

/// Figures and flags in the order figureBytes writes them; every one is looked at.
Score figuresFrom(sql::Row& row, int column) {
    const QByteArray bytes = row.bytes(column);
    if (bytes.startsWith('{')) // as the first version of the file kept them
        return figuresFromText(row, column, bytes);
    Score s;
    QDataStream in(bytes);
    in.setByteOrder(QDataStream::LittleEndian);
    quint8 version = 0, method = 0;
    qint64 start = 0;
    qint32 duration = 0, elapsed = 0;
    bool right = true;
    const auto number = [&](double least, double most) {
        double v = 0;
        in >> v;
        right = right && v >= least && v <= most;
        return v;
    };
    in >> version >> start >> duration >> elapsed >> method;
    s.scale = number(0, 1e6);
    in >> s.shortIntervals;
    s.start = start;
    s.duration = duration;
    s.elapsed = elapsed;
    right = right && version >= 1 && version <= 3 && possibleTimes(start, duration, elapsed) &&
            method <= static_cast<quint8>(StressMethod::Effort);
    s.method = right ? static_cast<StressMethod>(method) : StressMethod::None;
    everyFigure(s, [&](std::optional<double>& v) {
        double value = 0;
        in >> value;
        right = right && !(std::abs(value) > 1e12);
        if (!std::isnan(value))
            v = value;
    });
    std::array<qint32, 4> faults{};
    for (qint32& f : faults) {
        in >> f;
        right = right && f >= 0;
    }
    s.faults = {faults[0], faults[1], faults[2], faults[3]};
    bool bands = false, zones = false, heartRateZones = false, purpose = false;
    in >> bands >> zones >> heartRateZones;
    if (version >= 2) {
        in >> purpose >> s.intervalsSeen;
        s.powerShare = number(0, 1);
        s.heartRateShare = number(0, 1);
    }
    if (version >= 3)
        in >> s.indoors;
    const auto seconds = [&] { return number(0, longestRide); };
    readTimes(seconds, {bands, zones, heartRateZones, purpose}, s);
    if (!right || in.status() != QDataStream::Ok || !in.atEnd())
        row.fail(column, marked("hold what can't be"));
    return s;
}

} // namespace

namespace sql {

template <>
struct ColumnOf<Score> {
    static constexpr int width = 1;
    static Score read(Row& row, int at, Span) { return figuresFrom(row, at); }
    static void write(QVariantList& to, const Score& v) { to << figureBytes(v); }
};

template <>
struct ColumnOf<std::vector<BestEffort>> {
    static constexpr int width = 1;
    static std::vector<BestEffort> read(Row& row, int at, Span) { return bestFrom(row, at); }
    static void write(QVariantList& to, const std::vector<BestEffort>& v) { to << bestBytes(v); }
};

template <>
struct ColumnOf<Corrections> {
    static constexpr int width = 1;
    static Corrections read(Row& row, int at, Span) {
        if (row.bytes(at) == "{}")
            return {};
        auto corrections = correctionsFrom(objectIn(row, at));
        if (!corrections)
            row.fail(at, QString::fromStdString(corrections.error().sentence));
        return corrections.value_or(Corrections{});
    }
    static void write(QVariantList& to, const Corrections& v) { to << compactText(writeCorrections(v)); }
};

} // namespace sql

namespace {

RideRecord rideIn(sql::Row& row) {
    RideRecord r;
    r.id = row.id(0);
    r.rider = row.id(1);
    sql::readRow(row, 2, r);
    const auto refuse = [&](const char* column) { row.failNamed(column, marked("is no hash")); };
    if (r.contentHash.size() != 32)
        refuse("content_sha256");
    if (!r.beside.isEmpty() && r.beside.size() != 32)
        refuse("beside");
    r.stale = r.stale || r.scoringVersion < scoringVersion;
    return r;
}

/// A ride as its coach would look for it.
QString rideName(const QSqlDatabase& db, qint64 ride) {
    QString name = wording("Ride number %1", QString::number(ride));
    (void)sql::each(
        db, "SELECT rider.name, day, file_name FROM ride JOIN rider ON rider.id=rider WHERE ride.id=?",
        {ride}, wording("Rides"), nullptr, [&](sql::Row& row) {
            const QString who = row.text(0), day = QString::fromStdString(isoText(row.day(1)));
            name = wording("%1's ride of %2 (%3)", who, day, row.text(2));
        });
    return name;
}

const QString rideTables = "FROM ride JOIN figures ON figures.ride=ride.id";

Result<std::vector<RideRecord>> ridesWhere(const QSqlDatabase& db, const QString& where,
                                           const QVariantList& values, Damage* damage = nullptr) {
    const QString text = QString("SELECT id, rider, %1 %2 WHERE %3 AND aside_day IS NULL ")
                             .arg(sql::columnsOf<RideRecord>(), rideTables, where);
    std::vector<RideRecord> rides;
    Damage found;
    qint64 last = 0;
    const auto take = [&](sql::Row& row) {
        RideRecord r = rideIn(row);
        last = r.id;
        if (row.wrong().isEmpty())
            rides.push_back(std::move(r));
        else
            found.rides.insert(r.id);
    };
    auto ok = sql::each(db, text + "ORDER BY start_utc, id", values, wording("Rides"),
                        damage ? &found : nullptr, take);
    if (!ok)
        return tl::unexpected(ok.error());
    if (found.empty())
        return rides;
    // One by one, so that what lies behind the broken place is kept too.
    rides.clear();
    found = {};
    qint64 most = 0;
    (void)sql::each(db, "SELECT seq FROM sqlite_sequence WHERE name='ride'", {}, "Rides", &found,
                    [&](sql::Row& row) { most = std::min<qint64>(row.id(0), 10000000); });
    for (qint64 id = 1; id <= most; ++id) {
        Damage here;
        const size_t before = rides.size();
        (void)sql::each(db, text + "AND ride.id=?", values + QVariantList{id}, "Rides", &here, take);
        if (here.empty())
            continue;
        rides.resize(before);
        damage->add(wording("%1: can't be read", rideName(db, id)));
        damage->rides.insert(id);
    }
    std::stable_sort(rides.begin(), rides.end(),
                     [](const RideRecord& a, const RideRecord& b) { return a.score.start < b.score.start; });
    return rides;
}

bool ofFigures(const QString& column) {
    return column.startsWith("figures.");
}
bool ofRide(const QString& column) {
    return !ofFigures(column);
}

/// What belongs to the ride itself and what the coach adds, with the seconds it is found by.
QString rideColumns() {
    return sql::columnsOf<RideRecord>({}, ofRide) + ", start_utc, end_utc";
}
QVariantList rideValues(const RideRecord& r) {
    return sql::valuesOf(r, ofRide) + QVariantList{static_cast<qint64>(r.score.start),
                                                   static_cast<qint64>(r.score.start + r.score.elapsed)};
}

/// What is derived from it, with what days are summed by.
QString figureTable() {
    return "figures(ride, " + sql::columnsOf<RideRecord>({}, ofFigures).remove("figures.") +
           ", stress, method)";
}
QVariantList figureValues(qint64 id, const RideRecord& r) {
    return QVariantList{id} + sql::valuesOf(r, ofFigures) +
           QVariantList{sql::orNull(r.score.stress), static_cast<int>(r.score.method)};
}

} // namespace

Result<std::vector<RideRecord>> Roster::rides(qint64 rider, Damage* damage) const {
    return ridesWhere(connection_->db, "rider=?", {rider}, damage);
}

Result<std::optional<RideRecord>> Roster::ride(qint64 ride) const {
    auto one = ridesWhere(connection_->db, "ride.id=?", {ride});
    if (!one)
        return tl::unexpected(one.error());
    return one->empty() ? std::nullopt : std::optional(std::move(one->front()));
}

Result<std::optional<qint64>> Roster::rideWithContent(qint64 rider, const QByteArray& hash) const {
    std::optional<qint64> found;
    auto ok = sql::each(connection_->db,
                        "SELECT id FROM ride WHERE rider=? AND content_sha256=? AND aside_day IS NULL",
                        {rider, hash}, wording("Rides"), nullptr, [&](sql::Row& row) { found = row.id(0); });
    if (!ok)
        return tl::unexpected(ok.error());
    return found;
}

Result<std::vector<RideRecord>> Roster::overlapping(qint64 rider, qint64 start, qint64 end) const {
    return ridesWhere(connection_->db, "rider=? AND start_utc<? AND end_utc>?", {rider, end, start});
}

QByteArray Roster::packed(const QByteArray& original) {
    return qCompress(original, 1);
}

Result<qint64> Roster::addRide(const RideRecord& r, const QByteArray& packedOriginal) {
    const QSqlDatabase& db = connection_->db;
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        std::optional<qint64> aside;
        if (auto looked = sql::each(
                db, "SELECT id FROM ride WHERE rider=? AND content_sha256=? AND aside_day IS NOT NULL",
                {r.rider, r.contentHash}, wording("Rides"), nullptr,
                [&](sql::Row& row) { aside = row.id(0); });
            !looked)
            return looked;
        if (aside) {
            RideRecord back = r;
            back.id = id = *aside;
            if (auto shown = putAside({id}, false); !shown)
                return shown;
            return updateRides({back});
        }
        const QString columns = rideColumns();
        auto saved = sql::run(
            db,
            QString("INSERT INTO ride(id, rider, %1) VALUES(?,?,%2)").arg(columns, sql::marksFor(columns)),
            QVariantList{id == 0 ? QVariant() : QVariant(id), r.rider} + rideValues(r));
        if (!saved)
            return tl::unexpected(saved.error());
        id = saved->lastInsertId().toLongLong();
        if (auto derived = sql::put(db, figureTable(), figureValues(id, r)); !derived)
            return tl::unexpected(derived.error());
        if (!packedOriginal.isNull())
            if (auto bytes = sql::run(db, "INSERT INTO original VALUES(?,?)", {id, packedOriginal}); !bytes)
                return tl::unexpected(bytes.error());
        return oweLearning(r.rider);
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::putAside(const std::vector<qint64>& rides, bool aside) {
    const QVariant day = aside ? QVariant(QDate(1970, 1, 1).daysTo(QDate::currentDate())) : QVariant();
    const QSqlDatabase& db = connection_->db;
    QJsonArray ids; // thousands at once, in one statement each
    for (const qint64 ride : rides)
        ids.append(ride);
    const QString these = compactText(ids);
    const QString among = "IN (SELECT value FROM json_each(?))";
    return together([&]() -> Result<void> {
        auto put = sql::run(db, "UPDATE ride SET aside_day=? WHERE id " + among, {day, these});
        if (!put)
            return tl::unexpected(put.error());
        if (put->numRowsAffected() != static_cast<int>(rides.size()))
            return refuse(phrase("A ride is no longer in the roster."));
        // What a second device had better goes from the ride with it, or comes back.
        auto main =
            sql::run(db,
                     "UPDATE figures SET stale=1 WHERE ride IN (SELECT m.id FROM ride m JOIN ride c ON "
                     "c.beside=m.content_sha256 AND c.rider=m.rider WHERE c.id " +
                         among + ")",
                     {these});
        if (!main)
            return tl::unexpected(main.error());
        auto owed = sql::run(db,
                             "INSERT INTO learned SELECT DISTINCT rider, '{}', 1 FROM ride WHERE id " +
                                 among + " ON CONFLICT(rider) DO UPDATE SET owed=1",
                             {these});
        return whether(owed);
    });
}

Result<QByteArray> Roster::originalOf(qint64 ride) const {
    const QSqlDatabase& db = connection_->db;
    std::optional<QByteArray> packed;
    QByteArray hash;
    if (auto ok = sql::each(db,
                            "SELECT bytes, content_sha256 FROM ride LEFT JOIN original ON "
                            "original.ride=ride.id WHERE ride.id=?",
                            {ride}, wording("Recordings"), nullptr,
                            [&](sql::Row& row) {
                                if (!row.isNull(0))
                                    packed = row.bytes(0);
                                hash = row.bytes(1);
                            });
        !ok)
        return tl::unexpected(ok.error());
    const auto lost = [&](const std::string& why) {
        return refuse(phrase("%1: %2", rideName(db, ride).toStdString(), why));
    };
    if (!packed) {
        QString looked;
        auto beside = packedBeside(hash, looked);
        if (!beside)
            return lost(beside.error().sentence);
        if (!*beside)
            return lost(
                looked.isEmpty()
                    ? phrase("its recording is not in the roster; its figures are all there is")
                    : phrase("its recording lies in %1, which is not there or does not hold it; put that "
                             "file back beside the roster",
                             looked.toStdString()));
        packed = std::move(**beside);
    }
    // The first four bytes say how long it was; a damaged length must not ask for the memory.
    if (packed->size() < 5 || qFromBigEndian<quint32>(packed->constData()) > largestOriginal)
        return lost(phrase("its recording is damaged and no longer unpacks"));
    const QByteArray bytes = qUncompress(*packed);
    if (bytes.isNull())
        return lost(phrase("its recording is damaged and no longer unpacks"));
    if (QCryptographicHash::hash(bytes, QCryptographicHash::Sha256) != hash)
        return lost(phrase("its recording is damaged: it is not what was brought in"));
    return bytes;
}

Result<std::vector<QByteArray>> Roster::recordingsOf(const RideRecord& ride) const {
    auto own = originalOf(ride.id);
    if (!own)
        return tl::unexpected(own.error());
    std::vector<QByteArray> all{std::move(*own)};
    std::vector<qint64> others;
    if (auto ok =
            sql::each(connection_->db,
                      "SELECT id FROM ride WHERE rider=? AND beside=? AND aside_day IS NULL ORDER BY id",
                      {ride.rider, ride.contentHash}, wording("Rides"), nullptr,
                      [&](sql::Row& row) { others.push_back(row.id(0)); });
        !ok)
        return tl::unexpected(ok.error());
    for (const qint64 other : others)
        if (auto bytes = originalOf(other)) // a damaged one has nothing better
            all.push_back(std::move(*bytes));
    return all;
}

Result<void> Roster::updateRides(const std::vector<RideRecord>& rides) {
    const QSqlDatabase& db = connection_->db;
    const QString columns = rideColumns();
    const QString ride = QString("UPDATE ride SET (%1)=(%2) WHERE id=?").arg(columns, sql::marksFor(columns));
    return together([&]() -> Result<void> {
        for (const RideRecord& r : rides) {
            auto ok = sql::run(db, ride, rideValues(r) + QVariantList{r.id});
            if (!ok)
                return tl::unexpected(ok.error());
            if (ok->numRowsAffected() != 1)
                return refuse(phrase("A ride is no longer in the roster."));
            if (auto derived = sql::put(db, figureTable(), figureValues(r.id, r)); !derived)
                return tl::unexpected(derived.error());
        }
        return {};
    });
}

Result<std::vector<Date>> Roster::rideDays(qint64 rider) const {
    std::vector<Date> days;
    auto ok = sql::each(
        connection_->db, "SELECT DISTINCT day FROM ride WHERE rider=? AND aside_day IS NULL ORDER BY day",
        {rider}, wording("Rides"), nullptr, [&](sql::Row& row) { days.push_back(row.day(0)); });
    if (!ok)
        return tl::unexpected(ok.error());
    return days;
}

Result<std::vector<qint64>> Roster::staleRides(qint64 rider) const {
    std::vector<qint64> ids;
    auto ok =
        sql::each(connection_->db,
                  "SELECT r.id FROM ride r JOIN figures f ON f.ride=r.id WHERE r.rider=? AND f.stale<>0 "
                  "AND r.aside_day IS NULL ORDER BY r.id",
                  {rider}, wording("Rides"), nullptr, [&](sql::Row& row) { ids.push_back(row.id(0)); });
    if (!ok)
        return tl::unexpected(ok.error());
    return ids;
}

Result<int> Roster::markStale(qint64 rider, Date from, Date to) {
    int count = 0;
    const auto ok = together([&]() -> Result<void> {
        auto marked = sql::run(
            connection_->db,
            "UPDATE figures SET stale=1 WHERE stale=0 AND ride IN (SELECT id FROM ride WHERE rider=? AND day "
            "BETWEEN ? AND ?)",
            {rider, from.days, to.days});
        if (!marked)
            return tl::unexpected(marked.error());
        count = marked->numRowsAffected();
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return count;
}

namespace {

/// Calls `take` with a rider and a day of theirs, in order.
template <class Take>
Result<void> eachDaySum(const QSqlDatabase& db, const char* where, const QVariantList& values, Damage* damage,
                        Take take) {
    return sql::each(
        db,
        QString("SELECT rider, day, sum(coalesce(stress, 0)), max(method=1), sum(stress IS NULL), "
                "sum(CASE WHEN stress IS NULL THEN end_utc-start_utc ELSE 0 END) %1 WHERE %2 aside_day IS "
                "NULL AND "
                "excluded=0 GROUP BY rider, day")
            .arg(rideTables, where),
        values, wording("Rides"), damage, [&](sql::Row& row) {
            const DaySum sum{row.day(1), row.number(2, 0, 1e6), row.flag(3),
                             static_cast<int>(row.number(4, 0, 1e6)), row.number(5, 0, 1e9) / 3600};
            if (row.wrong().isEmpty())
                take(row.id(0), sum);
        });
}

} // namespace

Result<std::vector<DaySum>> Roster::daySumsOf(qint64 rider, Damage* damage) const {
    return daySumsOf(rider, fromCivil(1900, 1, 1), damage);
}

Result<std::vector<DaySum>> Roster::daySumsOf(qint64 rider, Date from, Damage* damage) const {
    std::vector<DaySum> sums;
    if (auto ok = eachDaySum(connection_->db, "rider=? AND day>=? AND", {rider, from.days}, damage,
                             [&](qint64, const DaySum& sum) { sums.push_back(sum); });
        !ok)
        return tl::unexpected(ok.error());
    return sums;
}

Result<std::map<qint64, std::vector<DaySum>>> Roster::daySumsSince(Date from, Damage* damage) const {
    std::map<qint64, std::vector<DaySum>> sums;
    if (auto ok = eachDaySum(connection_->db, "rider IN (SELECT id FROM rider) AND day>=? AND", {from.days},
                             damage, [&](qint64 rider, const DaySum& sum) { sums[rider].push_back(sum); });
        !ok)
        return tl::unexpected(ok.error());
    return sums;
}

} // namespace marram
