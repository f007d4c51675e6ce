// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/score_json.h"
#include "store/roster.h"
#include "store/sql.h"

#include <QDataStream>
#include <QDate>
#include <QJsonArray>
#include <QJsonDocument>
#include <cmath>
#include <limits>

namespace marram {
namespace {

constexpr const char* columns = "id, rider, day, utc_offset_s, file_name, content_sha256, scoring_version, "
                                "threshold_power_w, figures, best, remarks, excluded, corrections, effort, "
                                "note, stale";

QString compact(const QJsonObject& o) {
    return QString::fromUtf8(QJsonDocument(o).toJson(QJsonDocument::Compact));
}
QString compact(const QJsonArray& a) {
    return QString::fromUtf8(QJsonDocument(a).toJson(QJsonDocument::Compact));
}

/// Best efforts one after another: seconds and start as 32-bit, power as 64-bit, little-endian.
QByteArray bestBytes(const std::vector<BestEffort>& best) {
    QByteArray bytes("");
    QDataStream out(&bytes, QIODevice::WriteOnly);
    out.setByteOrder(QDataStream::LittleEndian);
    for (const BestEffort& b : best)
        out << static_cast<qint32>(b.seconds) << static_cast<qint32>(b.start) << b.power;
    return bytes;
}

std::vector<BestEffort> bestFrom(const QByteArray& bytes) {
    std::vector<BestEffort> best(static_cast<size_t>(bytes.size()) / 16);
    QDataStream in(bytes);
    in.setByteOrder(QDataStream::LittleEndian);
    for (BestEffort& b : best) {
        qint32 seconds = 0, start = 0;
        in >> seconds >> start >> b.power;
        b.seconds = seconds;
        b.start = start;
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
    out << static_cast<quint8>(1) << static_cast<qint64>(s.start) << static_cast<qint32>(s.duration)
        << static_cast<qint32>(s.elapsed) << static_cast<quint8>(s.method) << s.scale << s.shortIntervals;
    everyFigure(s, [&](const std::optional<double>& v) { out << v.value_or(none); });
    for (const int f : {s.faults.power, s.faults.heartRate, s.faults.clock, s.faults.powerMissing})
        out << static_cast<qint32>(f);
    out << s.bandSeconds.has_value() << s.zoneSeconds.has_value() << s.heartRateZoneSeconds.has_value();
    if (s.bandSeconds)
        out << s.bandSeconds->low << s.bandSeconds->middle << s.bandSeconds->high;
    if (s.zoneSeconds)
        for (const double z : *s.zoneSeconds)
            out << z;
    if (s.heartRateZoneSeconds)
        for (const double z : *s.heartRateZoneSeconds)
            out << z;
    return bytes;
}

Score figuresFrom(const QByteArray& bytes) {
    if (bytes.startsWith('{')) // as the first version of the file kept them
        return scoreFrom(QJsonDocument::fromJson(bytes).object());
    Score s;
    QDataStream in(bytes);
    in.setByteOrder(QDataStream::LittleEndian);
    quint8 version = 0, method = 0;
    qint64 start = 0;
    qint32 duration = 0, elapsed = 0;
    in >> version >> start >> duration >> elapsed >> method >> s.scale >> s.shortIntervals;
    s.start = start;
    s.duration = duration;
    s.elapsed = elapsed;
    s.method = static_cast<StressMethod>(method);
    everyFigure(s, [&](std::optional<double>& v) {
        double value = 0;
        in >> value;
        if (!std::isnan(value))
            v = value;
    });
    std::array<qint32, 4> faults{};
    for (qint32& f : faults)
        in >> f;
    s.faults = {faults[0], faults[1], faults[2], faults[3]};
    bool bands = false, zones = false, heartRateZones = false;
    in >> bands >> zones >> heartRateZones;
    if (bands) {
        s.bandSeconds.emplace();
        in >> s.bandSeconds->low >> s.bandSeconds->middle >> s.bandSeconds->high;
    }
    if (zones)
        for (double& z : s.zoneSeconds.emplace())
            in >> z;
    if (heartRateZones)
        for (double& z : s.heartRateZoneSeconds.emplace())
            in >> z;
    return s;
}

RideRecord read(const QSqlQuery& q) {
    RideRecord r;
    r.id = q.value(0).toLongLong();
    r.rider = q.value(1).toLongLong();
    r.day = {q.value(2).toInt()};
    r.utcOffset = q.value(3).toInt();
    r.fileName = q.value(4).toString();
    r.contentHash = q.value(5).toByteArray();
    r.scoringVersion = q.value(6).toInt();
    r.thresholdPower = q.value(7).toDouble();
    r.score = figuresFrom(q.value(8).toByteArray());
    r.best = bestFrom(q.value(9).toByteArray());
    if (const QByteArray text = q.value(10).toByteArray(); text != "[]") {
        const QJsonArray remarks = QJsonDocument::fromJson(text).array();
        for (const auto& remark : remarks)
            r.remarks << remark.toString();
    }
    r.excluded = q.value(11).toBool();
    if (const QByteArray text = q.value(12).toByteArray(); text != "{}")
        r.corrections = correctionsFrom(QJsonDocument::fromJson(text).object());
    r.effort = sql::optional(q.value(13));
    r.note = q.value(14).toString();
    r.stale = q.value(15).toBool() || r.scoringVersion < scoringVersion;
    return r;
}

Result<std::vector<RideRecord>> select(const QSqlDatabase& db, const QString& where,
                                       const QVariantList& values) {
    auto query = sql::run(db,
                          QString("SELECT %1 FROM ride WHERE %2 AND aside_day IS NULL ORDER BY start_utc, id")
                              .arg(columns, where),
                          values);
    if (!query)
        return tl::unexpected(query.error());
    std::vector<RideRecord> rides;
    while (query->next())
        rides.push_back(read(*query));
    return rides;
}

/// Everything about a ride but whose it is and its content, in the order of `settable`.
constexpr const char* settable[] = {
    "day",     "start_utc", "end_utc", "utc_offset_s", "file_name", "scoring_version", "threshold_power_w",
    "figures", "best",      "remarks", "excluded",     "stress",    "corrections",     "effort",
    "note",    "stale",     "method"};
QVariantList settableOf(const RideRecord& r) {
    return {r.day.days,
            static_cast<qint64>(r.score.start),
            static_cast<qint64>(r.score.start + r.score.elapsed),
            r.utcOffset,
            r.fileName.isNull() ? QString("") : r.fileName,
            r.scoringVersion,
            r.thresholdPower,
            figureBytes(r.score),
            bestBytes(r.best),
            compact(QJsonArray::fromStringList(r.remarks)),
            r.excluded,
            sql::orNull(r.score.stress),
            compact(writeCorrections(r.corrections)),
            sql::orNull(r.effort),
            r.note.isNull() ? QString("") : r.note,
            r.stale,
            static_cast<int>(r.score.method)};
}

} // namespace

std::vector<int> bestDurations() {
    return {1,    2,    3,    5,    8,    10,   12,   15,   20,   25,   30,   40,    45,    60,   75,   90,
            105,  120,  150,  180,  210,  240,  300,  360,  420,  480,  600,  720,   900,   1080, 1200, 1500,
            1800, 2100, 2400, 2700, 3000, 3600, 4500, 5400, 6300, 7200, 9000, 10800, 14400, 18000};
}

Result<std::vector<RideRecord>> Roster::rides(qint64 rider) const {
    return select(db_, "rider=?", {rider});
}

std::optional<qint64> Roster::rideWithContent(qint64 rider, const QByteArray& hash) const {
    auto query = sql::run(db_, "SELECT id FROM ride WHERE rider=? AND content_sha256=? AND aside_day IS NULL",
                          {rider, hash});
    return query && query->next() ? std::optional(query->value(0).toLongLong()) : std::nullopt;
}

std::vector<RideRecord> Roster::overlapping(qint64 rider, qint64 start, qint64 end) const {
    return select(db_, "rider=? AND start_utc<? AND end_utc>?", {rider, end, start})
        .value_or(std::vector<RideRecord>{});
}

QByteArray Roster::packed(const QByteArray& original) {
    return qCompress(original, 1);
}

Result<qint64> Roster::addRide(const RideRecord& r, const QByteArray& packedOriginal) {
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        auto aside =
            sql::run(db_, "SELECT id FROM ride WHERE rider=? AND content_sha256=? AND aside_day IS NOT NULL",
                     {r.rider, r.contentHash});
        if (!aside)
            return tl::unexpected(aside.error());
        if (aside->next()) {
            RideRecord back = r;
            back.id = id = aside->value(0).toLongLong();
            if (auto shown = putAside({id}, false); !shown)
                return shown;
            return updateRides({back});
        }
        QStringList names, marks;
        for (const char* name : settable) {
            names << name;
            marks << "?";
        }
        auto saved = sql::run(db_,
                              QString("INSERT INTO ride(id, rider, content_sha256, %1) VALUES(?,?,?,%2)")
                                  .arg(names.join(','), marks.join(',')),
                              QVariantList{id == 0 ? QVariant() : QVariant(id), r.rider, r.contentHash} +
                                  settableOf(r));
        if (!saved)
            return tl::unexpected(saved.error());
        id = saved->lastInsertId().toLongLong();
        auto bytes = sql::run(db_, "INSERT INTO original VALUES(?,?)", {id, packedOriginal});
        return bytes ? Result<void>{} : tl::unexpected(bytes.error());
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::putAside(const std::vector<qint64>& rides, bool aside) {
    const QVariant day = aside ? QVariant(QDate(1970, 1, 1).daysTo(QDate::currentDate())) : QVariant();
    return together([&]() -> Result<void> {
        for (const qint64 ride : rides)
            if (auto ok = sql::run(db_, "UPDATE ride SET aside_day=? WHERE id=?", {day, ride}); !ok)
                return tl::unexpected(ok.error());
        return {};
    });
}

Result<QByteArray> Roster::originalOf(qint64 ride) const {
    auto query = sql::run(db_, "SELECT bytes FROM original WHERE ride=?", {ride});
    if (!query)
        return tl::unexpected(query.error());
    if (!query->next())
        return refuse("The original recording of this ride is not in the roster.");
    return qUncompress(query->value(0).toByteArray());
}

Result<void> Roster::updateRides(const std::vector<RideRecord>& rides) {
    QStringList names;
    for (const char* name : settable)
        names << QString(name) + "=?";
    const QString text = QString("UPDATE ride SET %1 WHERE id=?").arg(names.join(','));
    return together([&]() -> Result<void> {
        for (const RideRecord& r : rides)
            if (auto ok = sql::run(db_, text, settableOf(r) + QVariantList{r.id}); !ok)
                return tl::unexpected(ok.error());
        return {};
    });
}

Result<int> Roster::markStale(qint64 rider, Date from, Date to) {
    int count = 0;
    const auto ok = together([&]() -> Result<void> {
        auto marked = sql::run(db_, "UPDATE ride SET stale=1 WHERE rider=? AND day BETWEEN ? AND ?",
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

Result<std::map<qint64, std::vector<DaySum>>> Roster::daySums() const {
    auto query = sql::run(
        db_, "SELECT rider, day, sum(coalesce(stress, 0)), max(method=1) FROM ride WHERE aside_day IS NULL "
             "AND excluded=0 GROUP BY rider, day");
    if (!query)
        return tl::unexpected(query.error());
    std::map<qint64, std::vector<DaySum>> sums;
    while (query->next())
        sums[query->value(0).toLongLong()].push_back(
            {{query->value(1).toInt()}, query->value(2).toDouble(), query->value(3).toBool()});
    return sums;
}

} // namespace marram
