// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/connection.h"
#include "wording/wording.h"

namespace marram {
namespace {

CheckIn checkInIn(sql::Row& row, int at) {
    CheckIn c;
    c.day = row.day(at);
    for (size_t i = 0; i < checkInScales.size(); ++i)
        if (const int column = at + 1 + static_cast<int>(i); !row.isNull(column))
            c.*checkInScales[i].value = row.whole(column, 1, 5);
    c.restHeartRate = row.numberOrNull(at + 5, 20, 250);
    c.weightKg = row.numberOrNull(at + 6, 20, 300);
    c.ill = row.flag(at + 7);
    c.note = row.text(at + 8).toStdString();
    return c;
}

constexpr const char* checkInColumns =
    "day, feel, sleep, soreness, motivation, rest_hr_bpm, weight_kg, ill, note";

QString text(const std::string& s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

} // namespace

Result<std::vector<TestRecord>> Roster::tests(qint64 rider, Damage* damage) const {
    std::vector<TestRecord> all;
    const auto ok = sql::each(
        connection_->db,
        "SELECT id, day, protocol, value, second, seconds, work_kj, altitude_m, acclimatised, place, note, "
        "verdict, ride_sha256 FROM test_result WHERE rider=? ORDER BY day, id",
        {rider}, wording("Tests"), damage, [&](sql::Row& row) {
            const auto protocol = protocolNamed(row.text(2).toStdString());
            if (!protocol) {
                row.fail(2, marked("is unknown"));
                return;
            }
            constexpr double far = 1e6;
            TestRecord t;
            t.id = row.id(0);
            t.rider = rider;
            t.result = {row.day(1),
                        *protocol,
                        row.number(3, -far, far),
                        row.number(4, -far, far),
                        row.number(5, 0, far),
                        row.number(6, 0, far),
                        row.numberOrNull(7, -500, 9000),
                        row.flag(8),
                        row.text(9).toStdString(),
                        row.text(10).toStdString(),
                        row.oneOf(11, Verdict::Declined)};
            t.rideHash = row.bytes(12);
            if (row.wrong().isEmpty())
                all.push_back(std::move(t));
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<qint64> Roster::saveTest(const TestRecord& t) {
    qint64 id = t.id;
    const auto ok = together([&]() -> Result<void> {
        const TestResult& r = t.result;
        auto saved = sql::put(
            connection_->db, "test_result",
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
        auto ok = sql::run(connection_->db, "DELETE FROM test_result WHERE id=?", {test});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Result<std::vector<CheckIn>> Roster::checkIns(qint64 rider, Damage* damage) const {
    std::vector<CheckIn> all;
    const auto ok = sql::each(
        connection_->db, QString("SELECT %1 FROM check_in WHERE rider=? ORDER BY day").arg(checkInColumns),
        {rider}, "Check-ins", damage, [&](sql::Row& row) {
            const CheckIn c = checkInIn(row, 0);
            if (row.wrong().isEmpty())
                all.push_back(c);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<std::map<qint64, std::vector<CheckIn>>> Roster::checkInsSince(Date from, Damage* damage) const {
    std::map<qint64, std::vector<CheckIn>> all;
    const auto ok = sql::each(
        connection_->db,
        QString("SELECT rider, %1 FROM check_in WHERE day>=? ORDER BY rider, day").arg(checkInColumns),
        {from.days}, "Check-ins", damage, [&](sql::Row& row) {
            const CheckIn c = checkInIn(row, 1);
            if (row.wrong().isEmpty())
                all[row.id(0)].push_back(c);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<std::optional<CheckIn>> Roster::checkIn(qint64 rider, Date day) const {
    std::optional<CheckIn> found;
    const auto ok = sql::each(
        connection_->db, QString("SELECT %1 FROM check_in WHERE rider=? AND day=?").arg(checkInColumns),
        {rider, day.days}, "Check-ins", nullptr, [&](sql::Row& row) { found = checkInIn(row, 0); });
    if (!ok)
        return tl::unexpected(ok.error());
    return found;
}

Result<void> Roster::saveCheckIn(qint64 rider, const CheckIn& c) {
    return together([&]() -> Result<void> {
        if (c.empty()) {
            auto gone = sql::run(connection_->db, "DELETE FROM check_in WHERE rider=? AND day=?",
                                 {rider, c.day.days});
            return gone ? Result<void>{} : tl::unexpected(gone.error());
        }
        auto ok = sql::put(connection_->db, "check_in",
                           {rider, c.day.days, sql::orNull(c.feel), sql::orNull(c.sleep),
                            sql::orNull(c.soreness), sql::orNull(c.motivation), sql::orNull(c.restHeartRate),
                            sql::orNull(c.weightKg), c.ill, text(c.note)});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

} // namespace marram
