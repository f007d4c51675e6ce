// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/season_json.h"
#include "store/roster.h"
#include "store/sql.h"

#include <QJsonArray>
#include <QJsonDocument>

namespace marram {
namespace {

QString hoursText(const WeekHours& hours) {
    QJsonArray list;
    for (const double h : hours)
        list.append(h);
    return QString::fromUtf8(QJsonDocument(list).toJson(QJsonDocument::Compact));
}

WeekHours hoursFrom(const QString& text) {
    WeekHours hours{};
    const QJsonArray list = QJsonDocument::fromJson(text.toUtf8()).array();
    for (int i = 0; i < 7 && i < list.size(); ++i)
        hours[static_cast<size_t>(i)] = list[i].toDouble();
    return hours;
}

Result<std::vector<Threshold>> thresholdsOf(const QSqlDatabase& db, qint64 rider) {
    auto query = sql::run(db,
                          "SELECT from_day, power_w, hr_bpm, low_threshold, weight_kg FROM threshold WHERE "
                          "rider=? ORDER BY from_day",
                          {rider});
    if (!query)
        return tl::unexpected(query.error());
    std::vector<Threshold> all;
    while (query->next()) {
        Threshold t;
        t.from = {query->value(0).toInt()};
        t.power = {query->value(1).toDouble()};
        if (const auto beats = sql::optional(query->value(2)))
            t.heartRate = BeatsPerMinute{*beats};
        t.lowThreshold = query->value(3).toDouble();
        t.weightKg = sql::optional(query->value(4));
        all.push_back(t);
    }
    return all;
}

} // namespace

ScoringBasis basisOn(const RiderRecord& rider, Date day) {
    ScoringBasis basis;
    const Threshold* t = thresholdOn(rider.thresholds, day);
    if (!t)
        return basis;
    basis.threshold = t->power;
    basis.lowThreshold = t->lowThreshold;
    if (t->heartRate && rider.restHeartRate && rider.maxHeartRate)
        basis.heartRate =
            HeartRateRange{{*rider.restHeartRate}, *t->heartRate, {*rider.maxHeartRate}, rider.sex};
    return basis;
}

Result<std::vector<RiderRecord>> Roster::riders() const {
    auto query = sql::run(db_, "SELECT id, name, sex, born, rest_hr_bpm, max_hr_bpm, hours, note FROM rider "
                               "ORDER BY name COLLATE NOCASE, id");
    if (!query)
        return tl::unexpected(query.error());
    std::vector<RiderRecord> all;
    while (query->next()) {
        RiderRecord r;
        r.id = query->value(0).toLongLong();
        r.name = query->value(1).toString();
        r.sex = static_cast<Sex>(query->value(2).toInt());
        if (!query->value(3).isNull())
            r.born = query->value(3).toInt();
        r.restHeartRate = sql::optional(query->value(4));
        r.maxHeartRate = sql::optional(query->value(5));
        r.hours = hoursFrom(query->value(6).toString());
        r.note = query->value(7).toString();
        auto thresholds = thresholdsOf(db_, r.id);
        if (!thresholds)
            return tl::unexpected(thresholds.error());
        r.thresholds = std::move(*thresholds);
        all.push_back(std::move(r));
    }
    return all;
}

Result<qint64> Roster::saveRider(const RiderRecord& r) {
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        const QVariantList values{r.name,
                                  static_cast<int>(r.sex),
                                  sql::orNull(r.born),
                                  sql::orNull(r.restHeartRate),
                                  sql::orNull(r.maxHeartRate),
                                  hoursText(r.hours),
                                  r.note.isNull() ? QString("") : r.note};
        auto saved = sql::run(
            db_,
            "INSERT INTO rider(id, name, sex, born, rest_hr_bpm, max_hr_bpm, hours, note) "
            "VALUES(?,?,?,?,?,?,?,?)"
            " ON CONFLICT(id) DO UPDATE SET name=excluded.name, sex=excluded.sex, born=excluded.born,"
            " rest_hr_bpm=excluded.rest_hr_bpm, max_hr_bpm=excluded.max_hr_bpm, hours=excluded.hours, "
            "note=excluded.note",
            QVariantList{id == 0 ? QVariant() : QVariant(id)} + values);
        if (!saved)
            return tl::unexpected(saved.error());
        if (id == 0)
            id = saved->lastInsertId().toLongLong();
        if (auto gone = sql::run(db_, "DELETE FROM threshold WHERE rider=?", {id}); !gone)
            return tl::unexpected(gone.error());
        for (const Threshold& t : r.thresholds) {
            auto added = sql::run(db_, "INSERT INTO threshold VALUES(?,?,?,?,?,?)",
                                  {id, t.from.days, t.power.value,
                                   t.heartRate ? QVariant(t.heartRate->value) : QVariant(), t.lowThreshold,
                                   sql::orNull(t.weightKg)});
            if (!added)
                return tl::unexpected(added.error());
        }
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::removeRider(qint64 rider) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(db_, "DELETE FROM rider WHERE id=?", {rider});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Result<std::optional<Season>> Roster::season(qint64 rider) const {
    auto query = sql::run(db_,
                          "SELECT start_day, end_day, fitness, fatigue, tau_fitness_d, tau_fatigue_d, rules "
                          "FROM season WHERE rider=?",
                          {rider});
    if (!query)
        return tl::unexpected(query.error());
    if (!query->next())
        return std::optional<Season>();
    Season s;
    s.start = {query->value(0).toInt()};
    s.end = {query->value(1).toInt()};
    s.before = {query->value(2).toDouble(), query->value(3).toDouble()};
    s.tau = {query->value(4).toDouble(), query->value(5).toDouble()};
    auto rules = readRules(QJsonDocument::fromJson(query->value(6).toByteArray()).object(), "rules");
    if (!rules)
        return tl::unexpected(rules.error());
    s.rules = *rules;
    auto races = sql::run(db_,
                          "SELECT name, day, priority, stress, days, gate_low, gate_high, demand FROM race "
                          "WHERE rider=? ORDER BY place",
                          {rider});
    if (!races)
        return tl::unexpected(races.error());
    while (races->next()) {
        Race r;
        r.name = races->value(0).toString().toStdString();
        r.date = {races->value(1).toInt()};
        r.priority = static_cast<Priority>(races->value(2).toInt());
        r.stress = sql::optional(races->value(3));
        r.days = races->value(4).toInt();
        if (const auto low = sql::optional(races->value(5)))
            r.gate = Gate{*low, races->value(6).toDouble()};
        r.demand = static_cast<Demand>(races->value(7).toInt());
        s.races.push_back(r);
    }
    auto pins = sql::run(db_, "SELECT start_day, hours, kind FROM week_pin WHERE rider=? ORDER BY start_day",
                         {rider});
    if (!pins)
        return tl::unexpected(pins.error());
    while (pins->next()) {
        WeekPin p;
        p.start = {pins->value(0).toInt()};
        if (!pins->value(1).isNull())
            p.hours = hoursFrom(pins->value(1).toString());
        if (!pins->value(2).isNull())
            p.kind = static_cast<WeekKind>(pins->value(2).toInt());
        s.weeks.push_back(p);
    }
    auto away =
        sql::run(db_, "SELECT from_day, to_day, why, stress FROM away WHERE rider=? ORDER BY place", {rider});
    if (!away)
        return tl::unexpected(away.error());
    while (away->next())
        s.away.push_back({{away->value(0).toInt()},
                          {away->value(1).toInt()},
                          static_cast<AwayWhy>(away->value(2).toInt()),
                          sql::optional(away->value(3))});
    return std::optional(s);
}

Result<void> Roster::saveSeason(qint64 rider, const Season& s) {
    return together([&]() -> Result<void> {
        const QByteArray rules = QJsonDocument(writeRules(s.rules)).toJson(QJsonDocument::Compact);
        auto saved = sql::run(db_,
                              "INSERT INTO season VALUES(?,?,?,?,?,?,?,?) ON CONFLICT(rider) DO UPDATE SET "
                              "start_day=excluded.start_day,"
                              " end_day=excluded.end_day, fitness=excluded.fitness, fatigue=excluded.fatigue,"
                              " tau_fitness_d=excluded.tau_fitness_d, tau_fatigue_d=excluded.tau_fatigue_d, "
                              "rules=excluded.rules",
                              {rider, s.start.days, s.end.days, s.before.fitness, s.before.fatigue,
                               s.tau.fitness, s.tau.fatigue, QString::fromUtf8(rules)});
        if (!saved)
            return tl::unexpected(saved.error());
        for (const char* table : {"race", "week_pin", "away"})
            if (auto gone = sql::run(db_, QString("DELETE FROM %1 WHERE rider=?").arg(table), {rider}); !gone)
                return tl::unexpected(gone.error());
        int place = 0;
        for (const Race& r : s.races) {
            auto ok = sql::run(db_, "INSERT INTO race VALUES(?,?,?,?,?,?,?,?,?,?)",
                               {rider, place++, QString::fromStdString(r.name), r.date.days,
                                static_cast<int>(r.priority), sql::orNull(r.stress), r.days,
                                r.gate ? QVariant(r.gate->low) : QVariant(),
                                r.gate ? QVariant(r.gate->high) : QVariant(), static_cast<int>(r.demand)});
            if (!ok)
                return tl::unexpected(ok.error());
        }
        for (const WeekPin& p : s.weeks) {
            auto ok = sql::run(db_, "INSERT OR REPLACE INTO week_pin VALUES(?,?,?,?)",
                               {rider, p.start.days, p.hours ? QVariant(hoursText(*p.hours)) : QVariant(),
                                p.kind ? QVariant(static_cast<int>(*p.kind)) : QVariant()});
            if (!ok)
                return tl::unexpected(ok.error());
        }
        place = 0;
        for (const Away& a : s.away) {
            auto ok = sql::run(
                db_, "INSERT INTO away VALUES(?,?,?,?,?,?)",
                {rider, place++, a.from.days, a.to.days, static_cast<int>(a.why), sql::orNull(a.stress)});
            if (!ok)
                return tl::unexpected(ok.error());
        }
        return {};
    });
}

Result<void> Roster::removeSeason(qint64 rider) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(db_, "DELETE FROM season WHERE rider=?", {rider});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Result<void> Roster::saveSolvedDays(qint64 rider, const std::vector<SolvedDay>& days) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(db_, "DELETE FROM solved_day WHERE rider=?", {rider}); !gone)
            return tl::unexpected(gone.error());
        QSqlQuery query(db_);
        if (!query.prepare("INSERT INTO solved_day VALUES(?,?,?,?,?,?,?,?)"))
            return sql::failure(query.lastError());
        for (const SolvedDay& d : days) {
            int i = 0;
            for (const QVariant& v :
                 {QVariant(rider), QVariant(d.date.days), QVariant(static_cast<int>(d.role)),
                  QVariant(d.stress), QVariant(d.hours), QVariant(d.fitness), QVariant(d.fatigue),
                  QVariant(d.form)})
                query.bindValue(i++, v);
            if (!query.exec())
                return sql::failure(query.lastError());
        }
        return {};
    });
}

Result<std::vector<SolvedDay>> Roster::solvedDays(qint64 rider) const {
    auto query = sql::run(
        db_,
        "SELECT day, role, stress, hours, fitness, fatigue, form FROM solved_day WHERE rider=? ORDER BY day",
        {rider});
    if (!query)
        return tl::unexpected(query.error());
    std::vector<SolvedDay> days;
    while (query->next())
        days.push_back({{query->value(0).toInt()},
                        static_cast<Role>(query->value(1).toInt()),
                        query->value(2).toDouble(),
                        query->value(3).toDouble(),
                        query->value(4).toDouble(),
                        query->value(5).toDouble(),
                        query->value(6).toDouble()});
    return days;
}

} // namespace marram
