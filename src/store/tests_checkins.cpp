// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/fields.h"
#include "store/connection.h"
#include "store/fields_sql.h"
#include "wording/wording.h"

namespace marram {
namespace sql {

/// A protocol by its key.
template <>
struct ColumnOf<Protocol> {
    static constexpr int width = 1;
    static Protocol read(Row& row, int at, Span) {
        const auto protocol = protocolNamed(row.text(at).toStdString());
        if (!protocol)
            row.fail(at, marked("is unknown"));
        return protocol.value_or(Protocol::TwentyMinutes);
    }
    static void write(QVariantList& to, Protocol v) { to << wordsFor(v).key; }
};

} // namespace sql

Result<std::vector<TestRecord>> Roster::tests(qint64 rider, Damage* damage) const {
    std::vector<TestRecord> all;
    const auto ok = sql::each(connection_->db,
                              QString("SELECT id, %1 FROM test_result WHERE rider=? ORDER BY day, id")
                                  .arg(sql::columnsOf<TestRecord>()),
                              {rider}, wording("Tests"), damage, [&](sql::Row& row) {
                                  TestRecord t;
                                  t.id = row.id(0);
                                  t.rider = rider;
                                  sql::readRow(row, 1, t);
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
        auto saved = sql::putRecord(connection_->db, "test_result", "id, rider",
                                    {id == 0 ? QVariant() : QVariant(id), t.rider}, t);
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
        return whether(ok);
    });
}

Result<std::vector<CheckIn>> Roster::checkIns(qint64 rider, Damage* damage) const {
    return sql::records<CheckIn>(connection_->db, "check_in", "rider=? ORDER BY day", {rider}, "Check-ins",
                                 damage);
}

Result<std::map<qint64, std::vector<CheckIn>>> Roster::checkInsSince(Date from, Damage* damage) const {
    std::map<qint64, std::vector<CheckIn>> all;
    const auto ok = sql::each(connection_->db,
                              QString("SELECT rider, %1 FROM check_in WHERE day>=? ORDER BY rider, day")
                                  .arg(sql::columnsOf<CheckIn>()),
                              {from.days}, "Check-ins", damage, [&](sql::Row& row) {
                                  CheckIn c;
                                  sql::readRow(row, 1, c);
                                  if (row.wrong().isEmpty())
                                      all[row.id(0)].push_back(c);
                              });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<std::optional<CheckIn>> Roster::checkIn(qint64 rider, Date day) const {
    const auto found = sql::records<CheckIn>(connection_->db, "check_in", "rider=? AND day=?",
                                             {rider, day.days}, "Check-ins", nullptr);
    if (!found)
        return tl::unexpected(found.error());
    return found->empty() ? std::nullopt : std::optional(found->front());
}

Result<void> Roster::saveCheckIn(qint64 rider, const CheckIn& c) {
    return together([&]() -> Result<void> {
        if (c.empty()) {
            auto gone = sql::run(connection_->db, "DELETE FROM check_in WHERE rider=? AND day=?",
                                 {rider, c.day.days});
            return whether(gone);
        }
        auto ok = sql::putRecord(connection_->db, "check_in", "rider", {rider}, c);
        return whether(ok);
    });
}

} // namespace marram
