// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/physiology.h"
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

QString compactText(const QJsonDocument& json) {
    return QString::fromUtf8(json.toJson(QJsonDocument::Compact));
}

QString notNull(const QString& text) {
    return text.isNull() ? QString("") : text;
}

QString injuriesText(const std::vector<Injury>& injuries) {
    QJsonArray list;
    for (const Injury& i : injuries)
        list.append(QJsonObject{{"from_day", i.from.days},
                                {"to_day", i.to ? QJsonValue(i.to->days) : QJsonValue(QJsonValue::Null)},
                                {"what", QString::fromStdString(i.what)}});
    return compactText(QJsonDocument(list));
}

std::vector<Injury> injuriesFrom(const QByteArray& text) {
    std::vector<Injury> injuries;
    const QJsonArray list = QJsonDocument::fromJson(text).array();
    for (const auto& each : list) {
        const QJsonObject o = each.toObject();
        Injury i{{o["from_day"].toInt()}, std::nullopt, o["what"].toString().toStdString()};
        if (o["to_day"].isDouble())
            i.to = Date{o["to_day"].toInt()};
        injuries.push_back(i);
    }
    return injuries;
}

QString scalesText(const Scales& scales) {
    QJsonObject out;
    const auto put = [&](const char* key, const std::optional<LearnedScale>& s) {
        if (s)
            out[key] = QJsonObject{{"factor", s->factor}, {"error", s->error}, {"rides", s->rides}};
    };
    put("heart_rate", scales.heartRate);
    put("effort", scales.effort);
    return compactText(QJsonDocument(out));
}

Scales scalesFrom(const QByteArray& text) {
    const QJsonObject in = QJsonDocument::fromJson(text).object();
    const auto get = [&](const char* key) -> std::optional<LearnedScale> {
        if (!in[key].isObject())
            return std::nullopt;
        const QJsonObject o = in[key].toObject();
        return LearnedScale{o["factor"].toDouble(), o["error"].toDouble(), o["rides"].toInt()};
    };
    return {get("heart_rate"), get("effort")};
}

} // namespace

std::optional<int> ageOn(const RiderRecord& rider, Date day) {
    return rider.born ? std::optional(toCivil(day).year - *rider.born) : std::nullopt;
}

std::optional<HeartRateRange> heartRateRangeOn(const RiderRecord& rider, Date day) {
    const auto rest = rider.values.on(Quantity::RestingHeartRate, day);
    const auto threshold = rider.values.on(Quantity::ThresholdHeartRate, day);
    auto highest = rider.values.on(Quantity::MaximalHeartRate, day);
    if (!highest)
        if (const auto age = ageOn(rider, day))
            highest = std::max(expectedMaxHeartRate(*age), threshold.value_or(0));
    if (!rest || !threshold || !highest || *rest >= *threshold || *threshold > *highest)
        return std::nullopt;
    return HeartRateRange{{*rest}, {*threshold}, {*highest}, rider.sex};
}

ScoringBasis basisOn(const RiderRecord& rider, Date day) {
    ScoringBasis basis;
    if (const auto power = rider.values.on(Quantity::ThresholdPower, day))
        basis.threshold = Watts{*power};
    basis.lowThreshold = rider.values.on(Quantity::LowThreshold, day).value_or(defaultLowThreshold);
    basis.heartRate = heartRateRangeOn(rider, day);
    return withScales(basis, rider.scales);
}

Result<std::vector<RiderRecord>> Roster::riders() const {
    auto query = sql::run(db_, "SELECT id, name, sex, born, hours, note, training_years, slow_recoverer, "
                               "injuries, strengths, weaknesses, cautions, groups_in, archived, scales FROM "
                               "rider ORDER BY name COLLATE NOCASE, id");
    if (!query)
        return tl::unexpected(query.error());
    std::vector<RiderRecord> all;
    std::map<qint64, size_t> places;
    while (query->next()) {
        const auto value = [&](int i) { return query->value(i); };
        RiderRecord r;
        r.id = value(0).toLongLong();
        r.name = value(1).toString();
        r.sex = static_cast<Sex>(value(2).toInt());
        if (!value(3).isNull())
            r.born = value(3).toInt();
        r.hours = hoursFrom(value(4).toString());
        r.note = value(5).toString();
        if (!value(6).isNull())
            r.trainingYears = value(6).toInt();
        r.slowRecoverer = value(7).toBool();
        r.injuries = injuriesFrom(value(8).toByteArray());
        r.strengths = value(9).toString();
        r.weaknesses = value(10).toString();
        r.cautions = value(11).toString();
        const QJsonArray groups = QJsonDocument::fromJson(value(12).toByteArray()).array();
        for (const auto& g : groups)
            r.groups << g.toString();
        r.archived = value(13).toBool();
        r.scales = scalesFrom(value(14).toByteArray());
        places[r.id] = all.size();
        all.push_back(std::move(r));
    }
    auto values = sql::run(db_, "SELECT rider, quantity, from_day, value FROM rider_value");
    if (!values)
        return tl::unexpected(values.error());
    while (values->next()) {
        const auto place = places.find(values->value(0).toLongLong());
        const auto quantity = quantityNamed(values->value(1).toString().toStdString());
        if (place != places.end() && quantity)
            all[place->second].values.set(*quantity, {values->value(2).toInt()}, values->value(3).toDouble());
    }
    return all;
}

Result<qint64> Roster::saveRider(const RiderRecord& r) {
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        const QVariantList values{r.name,
                                  static_cast<int>(r.sex),
                                  sql::orNull(r.born),
                                  hoursText(r.hours),
                                  notNull(r.note),
                                  sql::orNull(r.trainingYears),
                                  r.slowRecoverer,
                                  injuriesText(r.injuries),
                                  notNull(r.strengths),
                                  notNull(r.weaknesses),
                                  notNull(r.cautions),
                                  compactText(QJsonDocument(QJsonArray::fromStringList(r.groups))),
                                  r.archived};
        auto saved = sql::run(
            db_,
            "INSERT INTO rider(id, name, sex, born, hours, note, training_years, slow_recoverer, injuries, "
            "strengths, weaknesses, cautions, groups_in, archived) VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?)"
            " ON CONFLICT(id) DO UPDATE SET name=excluded.name, sex=excluded.sex, born=excluded.born,"
            " hours=excluded.hours, note=excluded.note, training_years=excluded.training_years,"
            " slow_recoverer=excluded.slow_recoverer, injuries=excluded.injuries, "
            "strengths=excluded.strengths,"
            " weaknesses=excluded.weaknesses, cautions=excluded.cautions, groups_in=excluded.groups_in,"
            " archived=excluded.archived",
            QVariantList{id == 0 ? QVariant() : QVariant(id)} + values);
        if (!saved)
            return tl::unexpected(saved.error());
        if (id == 0)
            id = saved->lastInsertId().toLongLong();
        if (auto gone = sql::run(db_, "DELETE FROM rider_value WHERE rider=?", {id}); !gone)
            return tl::unexpected(gone.error());
        for (size_t q = 0; q < quantityCount; ++q)
            for (const DatedValue& v : r.values.of(static_cast<Quantity>(q))) {
                auto added = sql::run(db_, "INSERT INTO rider_value VALUES(?,?,?,?)",
                                      {id, wordsFor(static_cast<Quantity>(q)).key, v.from.days, v.value});
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
        auto ok = sql::run(db_, "UPDATE rider SET scales=? WHERE id=?", {scalesText(scales), rider});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
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
    return solvedDays(rider, {std::numeric_limits<int>::min()}, {std::numeric_limits<int>::max()});
}

Result<std::vector<SolvedDay>> Roster::solvedDays(qint64 rider, Date from, Date to) const {
    auto query = sql::run(db_,
                          "SELECT day, role, stress, hours, fitness, fatigue, form FROM solved_day WHERE "
                          "rider=? AND day BETWEEN ? AND ? ORDER BY day",
                          {rider, from.days, to.days});
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
