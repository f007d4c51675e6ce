// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/roster.h"
#include "store/sql.h"

namespace marram {
namespace {

CheckIn checkInFrom(const QSqlQuery& q, int at) {
    CheckIn c;
    c.day = {q.value(at).toInt()};
    for (size_t i = 0; i < checkInScales.size(); ++i)
        if (const QVariant v = q.value(at + 1 + static_cast<int>(i)); !v.isNull())
            c.*checkInScales[i].value = v.toInt();
    c.restHeartRate = sql::optional(q.value(at + 5));
    c.weightKg = sql::optional(q.value(at + 6));
    c.ill = q.value(at + 7).toBool();
    c.note = q.value(at + 8).toString().toStdString();
    return c;
}

constexpr const char* checkInColumns =
    "day, feel, sleep, soreness, motivation, rest_hr_bpm, weight_kg, ill, note";

QString text(const std::string& s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

} // namespace

Result<std::vector<TestRecord>> Roster::tests(qint64 rider) const {
    auto query = sql::run(db_,
                          "SELECT id, day, protocol, value, second, seconds, work_kj, altitude_m, "
                          "acclimatised, place, note, verdict, ride_sha256 FROM test_result WHERE rider=? "
                          "ORDER BY day, id",
                          {rider});
    if (!query)
        return tl::unexpected(query.error());
    std::vector<TestRecord> all;
    while (query->next()) {
        const auto value = [&](int i) { return query->value(i); };
        const auto protocol = protocolNamed(value(2).toString().toStdString());
        if (!protocol)
            continue;
        TestRecord t;
        t.id = value(0).toLongLong();
        t.rider = rider;
        t.result = {{value(1).toInt()},
                    *protocol,
                    value(3).toDouble(),
                    value(4).toDouble(),
                    value(5).toDouble(),
                    value(6).toDouble(),
                    sql::optional(value(7)),
                    value(8).toBool(),
                    value(9).toString().toStdString(),
                    value(10).toString().toStdString(),
                    static_cast<Verdict>(value(11).toInt())};
        t.rideHash = value(12).toByteArray();
        all.push_back(std::move(t));
    }
    return all;
}

Result<qint64> Roster::saveTest(const TestRecord& t) {
    qint64 id = t.id;
    const auto ok = together([&]() -> Result<void> {
        const TestResult& r = t.result;
        auto saved = sql::run(
            db_, "INSERT OR REPLACE INTO test_result VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
            {id == 0 ? QVariant() : QVariant(id), t.rider, r.day.days, wordsFor(r.protocol).key, r.value,
             r.second, r.seconds, r.workKj, sql::orNull(r.altitudeM), r.acclimatised, text(r.place),
             text(r.note), static_cast<int>(r.verdict), t.rideHash.isNull() ? QByteArray("") : t.rideHash});
        if (!saved)
            return tl::unexpected(saved.error());
        id = saved->lastInsertId().toLongLong();
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::removeTest(qint64 test) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(db_, "DELETE FROM test_result WHERE id=?", {test});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Result<std::vector<CheckIn>> Roster::checkIns(qint64 rider) const {
    auto query = sql::run(
        db_, QString("SELECT %1 FROM check_in WHERE rider=? ORDER BY day").arg(checkInColumns), {rider});
    if (!query)
        return tl::unexpected(query.error());
    std::vector<CheckIn> all;
    while (query->next())
        all.push_back(checkInFrom(*query, 0));
    return all;
}

Result<std::map<qint64, std::vector<CheckIn>>> Roster::checkInsSince(Date from) const {
    auto query = sql::run(
        db_, QString("SELECT rider, %1 FROM check_in WHERE day>=? ORDER BY rider, day").arg(checkInColumns),
        {from.days});
    if (!query)
        return tl::unexpected(query.error());
    std::map<qint64, std::vector<CheckIn>> all;
    while (query->next())
        all[query->value(0).toLongLong()].push_back(checkInFrom(*query, 1));
    return all;
}

Result<void> Roster::saveCheckIn(qint64 rider, const CheckIn& c) {
    return together([&]() -> Result<void> {
        if (c.empty()) {
            auto gone = sql::run(db_, "DELETE FROM check_in WHERE rider=? AND day=?", {rider, c.day.days});
            return gone ? Result<void>{} : tl::unexpected(gone.error());
        }
        auto ok = sql::run(db_, "INSERT OR REPLACE INTO check_in VALUES(?,?,?,?,?,?,?,?,?,?)",
                           {rider, c.day.days, sql::orNull(c.feel), sql::orNull(c.sleep),
                            sql::orNull(c.soreness), sql::orNull(c.motivation), sql::orNull(c.restHeartRate),
                            sql::orNull(c.weightKg), c.ill, text(c.note)});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

} // namespace marram
