// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/shorthand.h"
#include "formats/json/season_json.h"
#include "formats/json/session_json.h"
#include "records/fields.h"
#include "store/connection.h"
#include "store/fields_sql.h"
#include "store/json_columns.h"
#include "wording/wording.h"

#include <limits>

namespace marram {
namespace {

/// A course as it is kept; empty text is none. Nothing where the text is something else.
std::optional<std::vector<CoursePoint>> courseFrom(const QString& text) {
    std::vector<CoursePoint> course;
    if (text.isEmpty())
        return course;
    const QJsonArray all = QJsonDocument::fromJson(text.toUtf8()).array();
    if (all.isEmpty() || all.size() > static_cast<qsizetype>(mostCoursePoints))
        return std::nullopt;
    for (const auto& each : all) {
        const CoursePoint at{each.toArray().at(0).toDouble(-1), each.toArray().at(1).toDouble(-1e6)};
        if (at.distance < (course.empty() ? 0 : course.back().distance) || at.distance > 2e6 ||
            at.altitude < -500 || at.altitude > 9000)
            return std::nullopt;
        course.push_back(at);
    }
    return course;
}

/// Text that is never null to the database.
QString textOf(const std::string& text) {
    return text.empty() ? QString("") : QString::fromStdString(text);
}

} // namespace

namespace sql {

template <>
struct ColumnOf<std::vector<CoursePoint>> {
    static constexpr int width = 1;
    static std::vector<CoursePoint> read(Row& row, int at, Span) {
        const auto course = courseFrom(row.text(at));
        if (!course)
            row.fail(at, marked("holds no course"));
        return course.value_or(std::vector<CoursePoint>{});
    }
    static void write(QVariantList& to, const std::vector<CoursePoint>& v) {
        to << (v.empty() ? QString("") : compactText(writeCourse(v)));
    }
};

template <>
struct ColumnOf<Rules> {
    static constexpr int width = 1;
    static Rules read(Row& row, int at, Span) {
        auto rules = readRules(objectIn(row, at), "rules");
        if (!rules)
            row.fail(at, wording("holds %1", QString::fromStdString(rules.error().sentence)));
        return rules.value_or(Rules{});
    }
    static void write(QVariantList& to, const Rules& v) { to << compactText(writeRules(v)); }
};

} // namespace sql

namespace {

/// What belongs to a season, in rows of its own.
Result<void> readParts(const QSqlDatabase& db, qint64 id, Season& s, Damage* damage) {
    const auto keep = [](auto& to, auto found) -> Result<void> {
        if (!found)
            return tl::unexpected(found.error());
        to = std::move(*found);
        return {};
    };
    if (auto ok = keep(s.races, sql::records<Race>(db, "race", "season=? ORDER BY place", {id},
                                                   wording("Races"), damage));
        !ok)
        return ok;
    if (auto ok = keep(s.weeks, sql::records<WeekPin>(db, "week_pin", "season=? ORDER BY start_day", {id},
                                                      wording("Pinned weeks"), damage));
        !ok)
        return ok;
    const auto isSession = [](sql::Row& row, const SessionPin& p, const auto&) {
        if (!p.words.empty() && !readShorthand(p.words))
            row.fail(4, marked("is no session"));
        return true;
    };
    if (auto ok =
            keep(s.sessions, sql::records<SessionPin>(db, "session_pin", {}, "season=? ORDER BY day", {id},
                                                      wording("Pinned sessions"), damage, isSession));
        !ok)
        return ok;
    const auto isSpan = [](sql::Row& row, const Away& a, const auto&) {
        if (a.to < a.from || a.to - a.from > 1100)
            row.fail(1, marked("does not go with its first day"));
        return true;
    };
    return keep(s.away, sql::records<Away>(db, "away", {}, "season=? ORDER BY place", {id},
                                           wording("Absences"), damage, isSpan));
}

/// Reads seasons with everything that belongs to them.
Result<std::vector<SeasonRecord>> seasonsWhere(const QSqlDatabase& db, const QString& where,
                                               const QVariantList& values, Damage* damage) {
    std::vector<SeasonRecord> all;
    if (auto ok = sql::each(db,
                            QString("SELECT id, rider, standing, name, branched_from, %1 FROM season WHERE "
                                    "%2 ORDER BY standing, id")
                                .arg(sql::columnsOf<Season>(), where),
                            values, "Seasons", damage,
                            [&](sql::Row& row) {
                                SeasonRecord r;
                                r.id = row.id(0);
                                r.rider = row.id(1);
                                r.standing = row.oneOf(2, SeasonStanding::Alternative);
                                r.name = row.text(3);
                                if (!row.isNull(4))
                                    r.branchedFrom = row.id(4);
                                sql::readRow(row, 5, r.season);
                                if (r.season.dayCount() > 1100)
                                    row.fail(6, marked("makes a season longer than 1100 days"));
                                if (row.wrong().isEmpty())
                                    all.push_back(std::move(r));
                            });
        !ok)
        return tl::unexpected(ok.error());
    for (SeasonRecord& r : all)
        if (auto ok = readParts(db, r.id, r.season, damage); !ok)
            return tl::unexpected(ok.error());
    return all;
}

Result<std::optional<SeasonRecord>> onlySeason(Result<std::vector<SeasonRecord>> found) {
    if (!found)
        return tl::unexpected(found.error());
    return found->empty() ? std::nullopt : std::optional(std::move(found->front()));
}

Result<std::vector<SolvedDay>> plannedWhere(const QSqlDatabase& db, const QString& where,
                                            const QVariantList& values, Damage* damage) {
    // The first plan for a day is that of the season in force.
    return sql::records<SolvedDay>(db, "planned_day p JOIN season s ON s.id=p.season", "p.",
                                   where + " ORDER BY day, standing, s.id DESC", values,
                                   wording("Planned days"), damage,
                                   [](sql::Row&, const SolvedDay& d, const auto& all) {
                                       return all.empty() || all.back().date != d.date;
                                   });
}

} // namespace

Result<std::vector<SeasonRecord>> Roster::seasons(qint64 rider, Damage* damage) const {
    return seasonsWhere(connection_->db, "rider=?", {rider}, damage);
}

Result<std::optional<SeasonRecord>> Roster::seasonInForce(qint64 rider, Damage* damage) const {
    return onlySeason(seasonsWhere(connection_->db, "rider=? AND standing=0", {rider}, damage));
}

Result<std::optional<SeasonRecord>> Roster::season(qint64 season) const {
    return onlySeason(seasonsWhere(connection_->db, "id=?", {season}, nullptr));
}

template <typename List>
static Result<void> putAll(const QSqlDatabase& db, const QString& table, qint64 season, const List& list) {
    for (const auto& one : list)
        if (auto put = sql::putRecord(db, table, "season", {season}, one); !put)
            return tl::unexpected(put.error());
    return {};
}

/// With its place in the list.
template <typename List>
static Result<void> putPlaced(const QSqlDatabase& db, const QString& table, qint64 season, const List& list) {
    int place = 0;
    for (const auto& one : list)
        if (auto put = sql::putRecord(db, table, "season, place", {season, place++}, one); !put)
            return tl::unexpected(put.error());
    return {};
}

Result<qint64> Roster::saveSeason(const SeasonRecord& r) {
    const QSqlDatabase& db = connection_->db;
    qint64 id = r.id;
    const auto ok = together([&]() -> Result<void> {
        const Season& s = r.season;
        if (r.standing == SeasonStanding::InForce)
            if (auto past = sql::run(
                    db, "UPDATE season SET standing=1 WHERE rider=? AND standing=0 AND id<>?", {r.rider, id});
                !past)
                return tl::unexpected(past.error());
        auto saved = sql::putById(
            db, "season", id, "rider, standing, name, branched_from, " + sql::columnsOf<Season>(),
            QVariantList{r.rider, static_cast<int>(r.standing), r.name.isNull() ? QString("") : r.name,
                         sql::orNull(r.branchedFrom)} +
                sql::valuesOf(s));
        if (!saved)
            return tl::unexpected(saved.error());
        if (id == 0)
            id = saved->lastInsertId().toLongLong();
        for (const char* table : {"race", "week_pin", "session_pin", "away"})
            if (auto gone = sql::run(db, QString("DELETE FROM %1 WHERE season=?").arg(table), {id}); !gone)
                return tl::unexpected(gone.error());
        if (auto done = putPlaced(db, "race", id, s.races); !done)
            return done;
        if (auto done = putAll(db, "week_pin", id, s.weeks); !done)
            return done;
        if (auto done = putAll(db, "session_pin", id, s.sessions); !done)
            return done;
        return putPlaced(db, "away", id, s.away);
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::removeSeason(qint64 season) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(connection_->db, "DELETE FROM season WHERE id=?", {season});
        return whether(ok);
    });
}

Result<void> Roster::savePlannedDays(qint64 season, Date from, const std::vector<SolvedDay>& days) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(connection_->db, "DELETE FROM planned_day WHERE season=? AND day>=?",
                                 {season, from.days});
            !gone)
            return tl::unexpected(gone.error());
        QSqlQuery query(connection_->db);
        const QString columns = sql::columnsOf<SolvedDay>();
        if (!query.prepare(QString("INSERT INTO planned_day(season, %1) VALUES(?,%2)")
                               .arg(columns, sql::marksFor(columns))))
            return sql::failure(query.lastError());
        for (const SolvedDay& d : days) {
            if (d.date < from)
                continue;
            int i = 0;
            for (const QVariant& v : QVariantList{season} + sql::valuesOf(d))
                query.bindValue(i++, v);
            if (!query.exec())
                return sql::failure(query.lastError());
        }
        return {};
    });
}

Result<void> Roster::saveOutlook(qint64 season, Date day, const std::vector<Outlook>& races) {
    return together([&]() -> Result<void> {
        if (auto gone =
                sql::run(connection_->db, "DELETE FROM outlook WHERE season=? AND day=?", {season, day.days});
            !gone)
            return tl::unexpected(gone.error());
        for (Outlook race : races) {
            race.day = day;
            if (auto put = sql::putRecord(connection_->db, "outlook", "season", {season}, race); !put)
                return tl::unexpected(put.error());
        }
        return {};
    });
}

Result<std::vector<Outlook>> Roster::outlook(qint64 season, Date upTo, Damage* damage) const {
    return sql::records<Outlook>(connection_->db, "outlook",
                                 "season=? AND day=(SELECT max(day) FROM outlook WHERE season=? AND day<=?)",
                                 {season, season, upTo.days}, wording("Outlooks"), damage);
}

Result<void> Roster::saveMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(connection_->db, "DELETE FROM meant_session WHERE season=? AND day>=?",
                                 {season, from.days});
            !gone)
            return tl::unexpected(gone.error());
        for (const MeantSession& m : sessions)
            if (m.date >= from)
                if (auto put = sql::putRecord(connection_->db, "meant_session", "season", {season}, m); !put)
                    return tl::unexpected(put.error());
        return {};
    });
}

Result<void> Roster::saveOutcomes(qint64 rider, const std::vector<MeantSession>& sessions) {
    const auto becameOf = [](const QString& column) {
        return column == "outcome" || column == "outcome_of" || column == "told" || column == "*";
    };
    const QString columns = sql::columnsOf<MeantSession>({}, becameOf);
    return together([&]() -> Result<void> {
        for (const MeantSession& m : sessions)
            if (auto put =
                    sql::run(connection_->db,
                             QString("UPDATE meant_session SET (%1)=(%2) WHERE day=? AND words=? AND "
                                     "season IN (SELECT id FROM season WHERE rider=?)")
                                 .arg(columns, sql::marksFor(columns)),
                             sql::valuesOf(m, becameOf) + QVariantList{m.date.days, textOf(m.words), rider});
                !put)
                return tl::unexpected(put.error());
        return {};
    });
}

namespace {
Result<std::vector<MeantSession>> meantWhere(const QSqlDatabase& db, const QString& where,
                                             const QVariantList& values, Damage* damage) {
    return sql::records<MeantSession>(db, "meant_session m JOIN season s ON s.id=m.season", "m.",
                                      where + " ORDER BY day, standing, s.id DESC", values,
                                      wording("Sessions as they were meant"), damage,
                                      [](sql::Row& row, const MeantSession& m, const auto& all) {
                                          if (!m.words.empty() && !readShorthand(m.words))
                                              row.fail(3, marked("is no session"));
                                          return all.empty() || all.back().date != m.date;
                                      });
}
} // namespace

Result<std::vector<MeantSession>> Roster::meant(qint64 rider, Damage* damage) const {
    return meantWhere(connection_->db, "s.rider=? AND standing<2", {rider}, damage);
}

Result<std::vector<MeantSession>> Roster::meantOf(qint64 season, Damage* damage) const {
    return meantWhere(connection_->db, "m.season=?", {season}, damage);
}

Result<std::vector<Family>> Roster::ownFamilies(Damage* damage) const {
    std::vector<Family> all;
    const auto ok =
        sql::each(connection_->db, "SELECT content FROM family ORDER BY place, name", {},
                  wording("Families of sessions"), damage, [&](sql::Row& row) {
                      auto family = readFamily(objectIn(row, 0), {});
                      if (family)
                          all.push_back(std::move(*family));
                      else
                          row.fail(0, wording("holds %1", QString::fromStdString(family.error().sentence)));
                  });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<void> Roster::saveOwnFamilies(const std::vector<Family>& all) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(connection_->db, "DELETE FROM family", {}); !gone)
            return tl::unexpected(gone.error());
        int place = 0;
        for (const Family& f : all)
            if (auto put = sql::put(connection_->db, "family",
                                    {textOf(f.name), place++, compactText(writeFamily(f))});
                !put)
                return tl::unexpected(put.error());
        return {};
    });
}

Result<std::vector<SolvedDay>> Roster::plannedDays(qint64 rider, Damage* damage) const {
    return plannedWhere(connection_->db, "s.rider=? AND standing<2", {rider}, damage);
}

Result<std::vector<SolvedDay>> Roster::plannedDays(qint64 rider, Date from, Date to, Damage* damage) const {
    return plannedWhere(connection_->db, "s.rider=? AND standing<2 AND day BETWEEN ? AND ?",
                        {rider, from.days, to.days}, damage);
}

Result<std::vector<SolvedDay>> Roster::plannedDaysOf(qint64 season, Damage* damage) const {
    return plannedWhere(connection_->db, "p.season=?", {season}, damage);
}

} // namespace marram
