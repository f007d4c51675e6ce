// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/json/score_json.h"
#include "records/fields.h"
#include "store/connection.h"
#include "store/fields_sql.h"
#include "store/json_columns.h"
#include "store/rider_json.h"
#include "wording/wording.h"

#include <QDate>
#include <map>

namespace marram {
namespace {

QString injuriesText(const std::vector<Injury>& injuries) {
    QJsonArray list;
    for (const Injury& i : injuries)
        list.append(QJsonObject{{"from_day", i.from.days},
                                {"to_day", i.to ? QJsonValue(i.to->days) : QJsonValue(QJsonValue::Null)},
                                {"what", QString::fromStdString(i.what)}});
    return compactText(list);
}

std::vector<Injury> injuriesFrom(sql::Row& row, int column) {
    std::vector<Injury> injuries;
    const QJsonArray list = arrayIn(row, column);
    for (const auto& each : list) {
        const QJsonObject o = each.toObject();
        Injury i{dayFrom(row, column, o["from_day"]), std::nullopt, o["what"].toString().toStdString()};
        if (!o["to_day"].isNull())
            i.to = dayFrom(row, column, o["to_day"]);
        injuries.push_back(i);
    }
    return injuries;
}

} // namespace

namespace sql {

template <>
struct ColumnOf<std::vector<Injury>> {
    static constexpr int width = 1;
    static std::vector<Injury> read(Row& row, int at, Span) { return injuriesFrom(row, at); }
    static void write(QVariantList& to, const std::vector<Injury>& v) { to << injuriesText(v); }
};

template <>
struct ColumnOf<RiderCare> {
    static constexpr int width = 2; ///< what, and whether it is cleared
    static RiderCare read(Row& row, int at, Span) {
        RiderCare care;
        for (const auto& each : arrayIn(row, at))
            if (const auto one = careNamed(each.toString().toStdString()))
                care.set(*one);
            else
                row.fail(at, marked("names no care there is"));
        care.cleared = row.flag(at + 1);
        return care;
    }
    static void write(QVariantList& to, const RiderCare& v) { to << compactText(careArray(v)) << v.cleared; }
};

} // namespace sql

namespace {

RiderRecord riderFrom(sql::Row& row) {
    RiderRecord r;
    r.id = row.id(0);
    const int at = sql::readRow(row, 1, r);
    if (const auto scales = scalesFrom(objectIn(row, at)))
        r.scales = *scales;
    else
        row.fail(at, QString::fromStdString(scales.error().sentence));
    r.owesLearning = row.flag(at + 1);
    return r;
}

Result<std::vector<RiderRecord>> ridersWhere(const QSqlDatabase& db, qint64 only, Damage* damage) {
    std::vector<RiderRecord> all;
    std::map<qint64, size_t> places;
    if (auto ok = sql::each(
            db,
            QString(
                "SELECT id, %1, coalesce(scales, '{}'), coalesce(owed, 0) FROM rider LEFT JOIN learned ON "
                "learned.rider=rider.id WHERE aside_day IS NULL AND (?=0 OR id=?) ORDER BY name COLLATE "
                "NOCASE, id")
                .arg(sql::columnsOf<RiderRecord>()),
            {only, only}, wording("Riders"), damage,
            [&](sql::Row& row) {
                RiderRecord r = riderFrom(row);
                places[r.id] = all.size();
                all.push_back(std::move(r));
            });
        !ok)
        return tl::unexpected(ok.error());
    if (auto ok = sql::each(
            db, "SELECT rider, quantity, from_day, value, at_least FROM rider_value WHERE ?=0 OR rider=?",
            {only, only}, wording("Thresholds and weights"), damage,
            [&](sql::Row& row) {
                const auto place = places.find(row.id(0));
                const auto quantity = quantityNamed(row.text(1).toStdString());
                if (!quantity) {
                    row.fail(1, marked("is unknown"));
                    return;
                }
                const QuantityWords& w = wordsFor(*quantity);
                const Date day = row.day(2);
                const double value = row.number(3, w.least, w.most);
                if (place != places.end() && row.wrong().isEmpty())
                    all[place->second].values.set(*quantity, {day, value, row.flag(4)});
            });
        !ok)
        return tl::unexpected(ok.error());
    return all;
}

} // namespace

Result<std::vector<RiderRecord>> Roster::riders(Damage* damage) const {
    return ridersWhere(connection_->db, 0, damage);
}

Result<std::optional<RiderRecord>> Roster::rider(qint64 id) const {
    auto one = ridersWhere(connection_->db, id, nullptr);
    if (!one)
        return tl::unexpected(one.error());
    return id != 0 && one->size() == 1 ? std::optional(std::move(one->front())) : std::nullopt;
}

Result<qint64> Roster::saveRider(const RiderRecord& r) {
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        auto saved =
            sql::putById(connection_->db, "rider", id, sql::columnsOf<RiderRecord>(), sql::valuesOf(r));
        if (!saved)
            return tl::unexpected(saved.error());
        if (id == 0)
            id = saved->lastInsertId().toLongLong();
        if (auto gone = sql::run(connection_->db, "DELETE FROM rider_value WHERE rider=?", {id}); !gone)
            return tl::unexpected(gone.error());
        for (size_t q = 0; q < quantityCount; ++q)
            for (const DatedValue& v : r.values.of(static_cast<Quantity>(q))) {
                auto added =
                    sql::run(connection_->db, "INSERT INTO rider_value VALUES(?,?,?,?,?)",
                             {id, wordsFor(static_cast<Quantity>(q)).key, v.from.days, v.value, v.atLeast});
                if (!added)
                    return tl::unexpected(added.error());
            }
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::saveScales(qint64 rider, const Scales& scales) {
    return together([&]() -> Result<void> {
        auto ok = sql::put(connection_->db, "learned", {rider, compactText(writeScales(scales)), 0});
        return whether(ok);
    });
}

namespace {

constexpr const char* hoursKey = "hours";

Result<std::map<qint64, std::vector<KeptProposal>>> proposedWhere(const QSqlDatabase& db, qint64 only,
                                                                  Damage* damage) {
    std::map<qint64, std::vector<KeptProposal>> all;
    const auto ok = sql::each(
        db,
        "SELECT rider, quantity, from_day, value, entered, at_least, said_day, answer FROM proposed WHERE "
        "?=0 OR rider=? ORDER BY rider, quantity",
        {only, only}, wording("What records propose"), damage, [&](sql::Row& row) {
            KeptProposal p;
            const QString key = row.text(1);
            p.quantity = quantityNamed(key.toStdString());
            if (!p.quantity && key != hoursKey)
                row.fail(1, marked("is unknown"));
            p.from = row.day(2);
            p.value = row.number(3, 0, 10000);
            p.entered = row.numberOrNull(4, 0, 10000);
            p.atLeast = row.flag(5);
            p.said = row.day(6);
            p.answer = row.oneOf(7, Answer::Settled);
            if (row.wrong().isEmpty())
                all[row.id(0)].push_back(p);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

} // namespace

Result<std::map<qint64, std::vector<KeptProposal>>> Roster::proposed(Damage* damage) const {
    return proposedWhere(connection_->db, 0, damage);
}

Result<QString> Roster::letter(qint64 rider, Date week) const {
    QString words;
    if (auto ok = sql::each(connection_->db, "SELECT words FROM letter WHERE rider=? AND week=?",
                            {rider, week.days}, wording("Words on a week"), nullptr,
                            [&](sql::Row& row) { words = row.text(0); });
        !ok)
        return tl::unexpected(ok.error());
    return words;
}

Result<std::map<Date, QString>> Roster::letters(qint64 rider, Damage* damage) const {
    std::map<Date, QString> all;
    if (auto ok = sql::each(connection_->db, "SELECT week, words FROM letter WHERE rider=?", {rider},
                            wording("Words on a week"), damage,
                            [&](sql::Row& row) {
                                const Date week = row.day(0);
                                if (row.wrong().isEmpty())
                                    all[week] = row.text(1);
                            });
        !ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<void> Roster::saveLetter(qint64 rider, Date week, const QString& words) {
    return together([&]() -> Result<void> {
        const auto ok =
            words.trimmed().isEmpty()
                ? sql::run(connection_->db, "DELETE FROM letter WHERE rider=? AND week=?", {rider, week.days})
                : sql::put(connection_->db, "letter", {rider, week.days, words});
        return whether(ok);
    });
}

namespace {

Result<std::map<qint64, std::vector<KeptMaximal>>> maximalWhere(const QSqlDatabase& db, const char* which,
                                                                const QVariant& value) {
    std::map<qint64, std::vector<KeptMaximal>> all;
    const auto ok = sql::each(
        db,
        QString("SELECT m.rider, m.ride, r.day, m.seconds, m.power FROM maximal m JOIN ride r ON r.id=m.ride "
                "WHERE r.excluded=0 AND %1 ORDER BY r.day, m.ride, m.seconds")
            .arg(which),
        {value}, wording("Maximal efforts"), nullptr, [&](sql::Row& row) {
            const KeptMaximal m{row.id(1), row.day(2), row.whole(3, 1, 86400), row.number(4, 1, 2500)};
            if (row.wrong().isEmpty())
                all[row.id(0)].push_back(m);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

} // namespace

Result<std::map<qint64, std::vector<KeptMaximal>>> Roster::maximalSince(Date day) const {
    return maximalWhere(connection_->db, "r.day>=?", day.days);
}

Result<std::vector<NotedCaution>> Roster::noted(qint64 rider, Damage* damage) const {
    std::vector<NotedCaution> all;
    if (auto ok = sql::each(connection_->db,
                            "SELECT caution, day, measure, reason FROM noted WHERE rider=? ORDER BY caution",
                            {rider}, wording("Cautions that were noted"), damage,
                            [&](sql::Row& row) {
                                NotedCaution n{row.text(0).toStdString(), row.day(1),
                                               row.number(2, -1e6, 1e6), row.text(3).toStdString()};
                                if (row.wrong().isEmpty())
                                    all.push_back(std::move(n));
                            });
        !ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<void> Roster::saveNoted(qint64 rider, const std::string& code,
                               const std::optional<NotedCaution>& noted) {
    return together([&]() -> Result<void> {
        const QString caution = QString::fromStdString(code);
        const auto ok = noted ? sql::put(connection_->db, "noted",
                                         {rider, caution, noted->day.days, noted->measure,
                                          QString::fromStdString(noted->reason)})
                              : sql::run(connection_->db, "DELETE FROM noted WHERE rider=? AND caution=?",
                                         {rider, caution});
        return whether(ok);
    });
}

Result<KeptHearing> Roster::heard(qint64 rider) const {
    KeptHearing heard;
    if (auto ok = sql::each(connection_->db, "SELECT of FROM heard WHERE rider=?", {rider},
                            wording("What records propose"), nullptr,
                            [&](sql::Row& row) { heard.of = row.bytes(0); });
        !ok)
        return tl::unexpected(ok.error());
    auto all = proposedWhere(connection_->db, rider, nullptr);
    if (!all)
        return tl::unexpected(all.error());
    heard.proposed = std::move((*all)[rider]);
    auto maximal = maximalWhere(connection_->db, "m.rider=?", rider);
    if (!maximal)
        return tl::unexpected(maximal.error());
    heard.maximal = std::move((*maximal)[rider]);
    return heard;
}

Result<void> Roster::saveHeard(qint64 rider, const KeptHearing& heard) {
    return together([&]() -> Result<void> {
        const QSqlDatabase& db = connection_->db;
        if (auto ok = sql::put(db, "heard", {rider, heard.of}); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = sql::run(db, "DELETE FROM proposed WHERE rider=?", {rider}); !ok)
            return tl::unexpected(ok.error());
        for (const KeptProposal& p : heard.proposed) {
            const auto ok =
                sql::run(db, "INSERT INTO proposed VALUES(?,?,?,?,?,?,?,?)",
                         {rider, p.quantity ? wordsFor(*p.quantity).key : hoursKey, p.from.days, p.value,
                          sql::orNull(p.entered), p.atLeast, p.said.days, static_cast<int>(p.answer)});
            if (!ok)
                return tl::unexpected(ok.error());
        }
        if (auto ok = sql::run(db, "DELETE FROM maximal WHERE rider=?", {rider}); !ok)
            return tl::unexpected(ok.error());
        for (const KeptMaximal& m : heard.maximal)
            if (auto ok =
                    sql::run(db, "INSERT INTO maximal VALUES(?,?,?,?)", {rider, m.ride, m.seconds, m.power});
                !ok)
                return tl::unexpected(ok.error());
        return {};
    });
}

Result<void> Roster::oweLearning(qint64 rider) {
    return together([&]() -> Result<void> {
        auto ok =
            sql::run(connection_->db,
                     "INSERT INTO learned VALUES(?,'{}',1) ON CONFLICT(rider) DO UPDATE SET owed=1", {rider});
        return whether(ok);
    });
}

Result<void> Roster::putRiderAside(qint64 rider, bool aside) {
    const QVariant day = aside ? QVariant(QDate(1970, 1, 1).daysTo(QDate::currentDate())) : QVariant();
    return together([&]() -> Result<void> {
        auto ok = sql::run(connection_->db, "UPDATE rider SET aside_day=? WHERE id=?", {day, rider});
        if (!ok)
            return tl::unexpected(ok.error());
        return ok->numRowsAffected() == 1 ? Result<void>{}
                                          : refuse(phrase("The rider is no longer in the roster."));
    });
}

Result<void> Roster::removeRider(qint64 rider) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(connection_->db, "DELETE FROM rider WHERE id=?", {rider});
        return whether(ok);
    });
}

} // namespace marram
