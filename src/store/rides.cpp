// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/score_json.h"
#include "store/roster.h"
#include "store/sql.h"

#include <QJsonArray>
#include <QJsonDocument>

namespace marram {
namespace {

constexpr const char* columns = "id, rider, day, utc_offset_s, file_name, content_sha256, scoring_version, "
                                "threshold_power_w, figures, best, remarks, excluded";

QString compact(const QJsonObject& o) {
    return QString::fromUtf8(QJsonDocument(o).toJson(QJsonDocument::Compact));
}
QString compact(const QJsonArray& a) {
    return QString::fromUtf8(QJsonDocument(a).toJson(QJsonDocument::Compact));
}

QString bestText(const std::vector<BestEffort>& best) {
    QJsonArray list;
    for (const BestEffort& b : best)
        list.append(QJsonArray{b.seconds, b.power, b.start});
    return compact(list);
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
    r.score = scoreFrom(QJsonDocument::fromJson(q.value(8).toByteArray()).object());
    const QJsonArray best = QJsonDocument::fromJson(q.value(9).toByteArray()).array();
    for (const auto& b : best)
        r.best.push_back({b.toArray()[0].toInt(), b.toArray()[1].toDouble(), b.toArray()[2].toInt()});
    const QJsonArray remarks = QJsonDocument::fromJson(q.value(10).toByteArray()).array();
    for (const auto& remark : remarks)
        r.remarks << remark.toString();
    r.excluded = q.value(11).toBool();
    return r;
}

Result<std::vector<RideRecord>> select(const QSqlDatabase& db, const QString& where,
                                       const QVariantList& values) {
    auto query = sql::run(
        db, QString("SELECT %1 FROM ride WHERE %2 ORDER BY start_utc, id").arg(columns, where), values);
    if (!query)
        return tl::unexpected(query.error());
    std::vector<RideRecord> rides;
    while (query->next())
        rides.push_back(read(*query));
    return rides;
}

} // namespace

std::vector<int> bestDurations() {
    return {5, 15, 30, 60, 120, 300, 480, 720, 1200, 1800, 3600, 7200};
}

Result<std::vector<RideRecord>> Roster::rides(qint64 rider) const {
    return select(db_, "rider=?", {rider});
}

std::optional<qint64> Roster::rideWithContent(qint64 rider, const QByteArray& hash) const {
    auto query = sql::run(db_, "SELECT id FROM ride WHERE rider=? AND content_sha256=?", {rider, hash});
    return query && query->next() ? std::optional(query->value(0).toLongLong()) : std::nullopt;
}

std::vector<RideRecord> Roster::overlapping(qint64 rider, qint64 start, qint64 end) const {
    return select(db_, "rider=? AND start_utc<? AND end_utc>?", {rider, end, start})
        .value_or(std::vector<RideRecord>{});
}

Result<qint64> Roster::addRide(const RideRecord& r, const QByteArray& original) {
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        auto saved = sql::run(
            db_,
            "INSERT INTO ride(id, rider, day, start_utc, end_utc, utc_offset_s, file_name, content_sha256,"
            " scoring_version, threshold_power_w, figures, best, remarks, excluded) "
            "VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
            {id == 0 ? QVariant() : QVariant(id), r.rider, r.day.days, static_cast<qint64>(r.score.start),
             static_cast<qint64>(r.score.start + r.score.elapsed), r.utcOffset,
             r.fileName.isNull() ? QString("") : r.fileName, r.contentHash, r.scoringVersion,
             r.thresholdPower, compact(writeScore(r.score)), bestText(r.best),
             compact(QJsonArray::fromStringList(r.remarks)), r.excluded});
        if (!saved)
            return tl::unexpected(saved.error());
        id = saved->lastInsertId().toLongLong();
        auto bytes = sql::run(db_, "INSERT INTO original VALUES(?,?)", {id, qCompress(original, 1)});
        return bytes ? Result<void>{} : tl::unexpected(bytes.error());
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::removeRide(qint64 ride) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(db_, "DELETE FROM ride WHERE id=?", {ride});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
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

Result<void> Roster::updateScores(const std::vector<RideRecord>& rides) {
    return together([&]() -> Result<void> {
        for (const RideRecord& r : rides) {
            auto ok = sql::run(db_,
                               "UPDATE ride SET scoring_version=?, threshold_power_w=?, figures=?, best=?, "
                               "excluded=? WHERE id=?",
                               {r.scoringVersion, r.thresholdPower, compact(writeScore(r.score)),
                                bestText(r.best), r.excluded, r.id});
            if (!ok)
                return tl::unexpected(ok.error());
        }
        return {};
    });
}

} // namespace marram
