// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/shorthand.h"
#include "formats/json/season_json.h"
#include "formats/json/session_json.h"
#include "store/connection.h"
#include "store/json_columns.h"
#include "wording/wording.h"

#include <limits>

namespace marram {
namespace {

constexpr double farthest = 100000; // beyond any number of points, hours or days in a season

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

/// Reads seasons with everything that belongs to them.
Result<std::vector<SeasonRecord>> seasonsWhere(const QSqlDatabase& db, const QString& where,
                                               const QVariantList& values, Damage* damage) {
    std::vector<SeasonRecord> all;
    const QString what = "Seasons";
    if (auto ok = sql::each(
            db,
            QString("SELECT id, rider, standing, name, branched_from, start_day, end_day, fitness, fatigue, "
                    "tau_fitness_d, tau_fatigue_d, rules, lay_off FROM season WHERE %1 ORDER BY standing, id")
                .arg(where),
            values, what, damage,
            [&](sql::Row& row) {
                SeasonRecord r;
                r.id = row.id(0);
                r.rider = row.id(1);
                r.standing = row.oneOf(2, SeasonStanding::Alternative);
                r.name = row.text(3);
                if (!row.isNull(4))
                    r.branchedFrom = row.id(4);
                Season& s = r.season;
                s.start = row.day(5);
                s.end = row.day(6);
                if (s.dayCount() > 1100)
                    row.fail(6, marked("makes a season longer than 1100 days"));
                s.before = {row.number(7, 0, 400), row.number(8, 0, 800)};
                s.tau = {row.number(9, 1, 200), row.number(10, 0.5, 100)};
                if (!row.isNull(12))
                    s.layOff = row.whole(12, 0, 1) == 1;
                auto rules = readRules(objectIn(row, 11), "rules");
                if (rules)
                    s.rules = *rules;
                else
                    row.fail(11, wording("holds %1", QString::fromStdString(rules.error().sentence)));
                if (row.wrong().isEmpty())
                    all.push_back(std::move(r));
            });
        !ok)
        return tl::unexpected(ok.error());
    for (SeasonRecord& r : all) {
        Season& s = r.season;
        if (auto ok = sql::each(db,
                                "SELECT name, day, priority, stress, days, gate_low, gate_high, demand, "
                                "course, result, note, squad_day FROM race "
                                "WHERE season=? ORDER BY place",
                                {r.id}, wording("Races"), damage,
                                [&](sql::Row& row) {
                                    Race race;
                                    race.name = row.text(0).toStdString();
                                    race.date = row.day(1);
                                    race.priority = row.oneOf(2, Priority::C);
                                    race.stress = row.numberOrNull(3, 0, 5000);
                                    race.days = row.whole(4, 1, 30);
                                    if (const auto low = row.numberOrNull(5, -100, 100))
                                        race.gate = Gate{*low, row.number(6, -100, 100)};
                                    race.demand = row.oneOf(7, Demand::Stage);
                                    if (const auto course = courseFrom(row.text(8)))
                                        race.course = *course;
                                    else
                                        row.fail(8, marked("holds no course"));
                                    race.result = row.text(9).toStdString();
                                    race.note = row.text(10).toStdString();
                                    if (!row.isNull(11))
                                        race.squad = row.day(11);
                                    if (row.wrong().isEmpty())
                                        s.races.push_back(race);
                                });
            !ok)
            return tl::unexpected(ok.error());
        if (auto ok = sql::each(
                db, "SELECT start_day, hours, kind, phase FROM week_pin WHERE season=? ORDER BY start_day",
                {r.id}, wording("Pinned weeks"), damage,
                [&](sql::Row& row) {
                    WeekPin p;
                    p.start = row.day(0);
                    if (!row.isNull(1))
                        p.hours = hoursFrom(row, 1);
                    if (!row.isNull(2))
                        p.kind = row.oneOf(2, WeekKind::Camp);
                    if (!row.isNull(3))
                        p.phase = row.oneOf(3, Phase::Specialise);
                    if (row.wrong().isEmpty())
                        s.weeks.push_back(p);
                });
            !ok)
            return tl::unexpected(ok.error());
        if (auto ok =
                sql::each(db,
                          "SELECT day, family, rung, minutes, words, note, verdict, team FROM session_pin "
                          "WHERE season=? ORDER BY day",
                          {r.id}, wording("Pinned sessions"), damage,
                          [&](sql::Row& row) {
                              SessionPin p;
                              p.date = row.day(0);
                              p.family = row.text(1).toStdString();
                              if (!row.isNull(2))
                                  p.rung = row.whole(2, 1, 40);
                              if (!row.isNull(3))
                                  p.minutes = row.whole(3, 5, 1440);
                              p.words = row.text(4).toStdString();
                              if (!p.words.empty() && !readShorthand(p.words))
                                  row.fail(4, marked("is no session"));
                              p.note = row.text(5).toStdString();
                              if (!row.isNull(6))
                                  p.verdict = row.oneOf(6, RungVerdict::Ease);
                              p.team = row.text(7).toStdString();
                              if (row.wrong().isEmpty())
                                  s.sessions.push_back(p);
                          });
            !ok)
            return tl::unexpected(ok.error());
        if (auto ok =
                sql::each(db, "SELECT from_day, to_day, why, stress FROM away WHERE season=? ORDER BY place",
                          {r.id}, wording("Absences"), damage,
                          [&](sql::Row& row) {
                              Away a;
                              a.from = row.day(0);
                              a.to = row.day(1);
                              if (a.to < a.from || a.to - a.from > 1100)
                                  row.fail(1, marked("does not go with its first day"));
                              a.why = row.oneOf(2, AwayWhy::Camp);
                              a.stress = row.numberOrNull(3, 0, 10000);
                              if (row.wrong().isEmpty())
                                  s.away.push_back(a);
                          });
            !ok)
            return tl::unexpected(ok.error());
    }
    return all;
}

Result<std::optional<SeasonRecord>> onlySeason(Result<std::vector<SeasonRecord>> found) {
    if (!found)
        return tl::unexpected(found.error());
    return found->empty() ? std::nullopt : std::optional(std::move(found->front()));
}

Result<std::vector<SolvedDay>> plannedWhere(const QSqlDatabase& db, const QString& where,
                                            const QVariantList& values, Damage* damage) {
    std::vector<SolvedDay> all;
    auto ok = sql::each(
        db,
        QString("SELECT day, role, stress, hours, p.fitness, p.fatigue, form, kind, phase FROM "
                "planned_day p JOIN season s ON s.id=p.season WHERE %1 ORDER BY day, standing, s.id DESC")
            .arg(where),
        values, wording("Planned days"), damage, [&](sql::Row& row) {
            SolvedDay d{row.day(0),
                        row.oneOf(1, Role::Race),
                        row.number(2, 0, farthest),
                        row.number(3, 0, 24),
                        row.number(4, -farthest, farthest),
                        row.number(5, -farthest, farthest),
                        row.number(6, -farthest, farthest)};
            if (!row.isNull(7))
                d.kind = row.oneOf(7, WeekKind::Camp);
            if (!row.isNull(8))
                d.phase = row.oneOf(8, Phase::Break);
            // The first plan for a day is that of the season in force.
            if (row.wrong().isEmpty() && (all.empty() || all.back().date != d.date))
                all.push_back(d);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
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
        auto saved =
            sql::run(db,
                     "INSERT INTO season VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?) ON CONFLICT(id) DO UPDATE SET "
                     "standing=excluded.standing, name=excluded.name, branched_from=excluded.branched_from, "
                     "start_day=excluded.start_day, end_day=excluded.end_day, fitness=excluded.fitness, "
                     "fatigue=excluded.fatigue, tau_fitness_d=excluded.tau_fitness_d, "
                     "tau_fatigue_d=excluded.tau_fatigue_d, "
                     "rules=excluded.rules, lay_off=excluded.lay_off",
                     {id == 0 ? QVariant() : QVariant(id), r.rider, static_cast<int>(r.standing),
                      r.name.isNull() ? QString("") : r.name, sql::orNull(r.branchedFrom), s.start.days,
                      s.end.days, s.before.fitness, s.before.fatigue, s.tau.fitness, s.tau.fatigue,
                      compactText(writeRules(s.rules)), s.layOff ? QVariant(*s.layOff ? 1 : 0) : QVariant()});
        if (!saved)
            return tl::unexpected(saved.error());
        if (id == 0)
            id = saved->lastInsertId().toLongLong();
        for (const char* table : {"race", "week_pin", "session_pin", "away"})
            if (auto gone = sql::run(db, QString("DELETE FROM %1 WHERE season=?").arg(table), {id}); !gone)
                return tl::unexpected(gone.error());
        int place = 0;
        for (const Race& race : s.races) {
            auto put =
                sql::run(db, "INSERT INTO race VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
                         {id, place++, QString::fromStdString(race.name), race.date.days,
                          static_cast<int>(race.priority), sql::orNull(race.stress), race.days,
                          race.gate ? QVariant(race.gate->low) : QVariant(),
                          race.gate ? QVariant(race.gate->high) : QVariant(), static_cast<int>(race.demand),
                          race.course.empty() ? QString("") : compactText(writeCourse(race.course)),
                          textOf(race.result), textOf(race.note),
                          race.squad ? QVariant(race.squad->days) : QVariant()});
            if (!put)
                return tl::unexpected(put.error());
        }
        for (const WeekPin& p : s.weeks) {
            auto put = sql::put(db, "week_pin",
                                {id, p.start.days, p.hours ? QVariant(hoursText(*p.hours)) : QVariant(),
                                 p.kind ? QVariant(static_cast<int>(*p.kind)) : QVariant(),
                                 p.phase ? QVariant(static_cast<int>(*p.phase)) : QVariant()});
            if (!put)
                return tl::unexpected(put.error());
        }
        for (const SessionPin& p : s.sessions) {
            auto put =
                sql::put(db, "session_pin",
                         {id, p.date.days, textOf(p.family), sql::orNull(p.rung), sql::orNull(p.minutes),
                          textOf(p.words), textOf(p.note),
                          p.verdict ? QVariant(static_cast<int>(*p.verdict)) : QVariant(), textOf(p.team)});
            if (!put)
                return tl::unexpected(put.error());
        }
        place = 0;
        for (const Away& a : s.away) {
            auto put = sql::run(
                db, "INSERT INTO away VALUES(?,?,?,?,?,?)",
                {id, place++, a.from.days, a.to.days, static_cast<int>(a.why), sql::orNull(a.stress)});
            if (!put)
                return tl::unexpected(put.error());
        }
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return id;
}

Result<void> Roster::removeSeason(qint64 season) {
    return together([&]() -> Result<void> {
        auto ok = sql::run(connection_->db, "DELETE FROM season WHERE id=?", {season});
        return ok ? Result<void>{} : tl::unexpected(ok.error());
    });
}

Result<void> Roster::savePlannedDays(qint64 season, Date from, const std::vector<SolvedDay>& days) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(connection_->db, "DELETE FROM planned_day WHERE season=? AND day>=?",
                                 {season, from.days});
            !gone)
            return tl::unexpected(gone.error());
        QSqlQuery query(connection_->db);
        if (!query.prepare("INSERT INTO planned_day VALUES(?,?,?,?,?,?,?,?,?,?)"))
            return sql::failure(query.lastError());
        for (const SolvedDay& d : days) {
            if (d.date < from)
                continue;
            int i = 0;
            for (const QVariant& v :
                 {QVariant(season), QVariant(d.date.days), QVariant(static_cast<int>(d.role)),
                  QVariant(d.stress), QVariant(d.hours), QVariant(d.fitness), QVariant(d.fatigue),
                  QVariant(d.form), d.kind ? QVariant(static_cast<int>(*d.kind)) : QVariant(),
                  d.phase ? QVariant(static_cast<int>(*d.phase)) : QVariant()})
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
        for (const Outlook& race : races)
            if (auto put = sql::put(connection_->db, "outlook",
                                    {season, day.days, textOf(race.race), race.form, race.fitness,
                                     sql::orNull(race.expectedForm), sql::orNull(race.chance)});
                !put)
                return tl::unexpected(put.error());
        return {};
    });
}

Result<std::vector<Outlook>> Roster::outlook(qint64 season, Date upTo, Damage* damage) const {
    std::vector<Outlook> all;
    const auto ok = sql::each(
        connection_->db,
        "SELECT day, race, form, fitness, expected_form, chance FROM outlook WHERE season=? AND day=(SELECT "
        "max(day) FROM outlook WHERE season=? AND day<=?)",
        {season, season, upTo.days}, wording("Outlooks"), damage, [&](sql::Row& row) {
            const Outlook o{row.day(0),
                            row.text(1).toStdString(),
                            row.number(2, -farthest, farthest),
                            row.number(3, -farthest, farthest),
                            row.numberOrNull(4, -farthest, farthest),
                            row.numberOrNull(5, 0, 1)};
            if (row.wrong().isEmpty())
                all.push_back(o);
        });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
}

Result<void> Roster::saveMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions) {
    return together([&]() -> Result<void> {
        if (auto gone = sql::run(connection_->db, "DELETE FROM meant_session WHERE season=? AND day>=?",
                                 {season, from.days});
            !gone)
            return tl::unexpected(gone.error());
        for (const MeantSession& m : sessions)
            if (m.date >= from)
                if (auto put = sql::put(
                        connection_->db,
                        "meant_session(season, day, family, rung, words, note, outcome, outcome_of, told)",
                        {season, m.date.days, textOf(m.family), m.rung, textOf(m.words), textOf(m.note),
                         m.outcome ? QVariant(static_cast<int>(*m.outcome)) : QVariant(), textOf(m.outcomeOf),
                         textOf(m.told)});
                    !put)
                    return tl::unexpected(put.error());
        return {};
    });
}

namespace {

QVariantList markValues(const std::optional<SessionMark>& m) {
    if (!m)
        return {QVariant(), QVariant(), QVariant(), QVariant(), QVariant(), QVariant()};
    return {m->power, sql::orNull(m->heartRate), m->fade, m->found, m->of, sql::orNull(m->temperature)};
}

std::optional<SessionMark> markIn(sql::Row& row, int column) {
    if (row.isNull(column))
        return std::nullopt;
    SessionMark m;
    m.power = row.number(column, 0, 5000);
    m.heartRate = row.numberOrNull(column + 1, 20, 260);
    m.fade = row.number(column + 2, -1000, 100);
    m.found = row.whole(column + 3, 0, 1000);
    m.of = row.whole(column + 4, 0, 1000);
    m.temperature = row.numberOrNull(column + 5, -40, 60);
    return m;
}

} // namespace

Result<void> Roster::saveOutcomes(qint64 rider, const std::vector<MeantSession>& sessions) {
    return together([&]() -> Result<void> {
        for (const MeantSession& m : sessions)
            if (auto put = sql::run(
                    connection_->db,
                    "UPDATE meant_session SET outcome=?, outcome_of=?, told=?, power_w=?, heart_bpm=?, "
                    "fade=?, found=?, of=?, temperature_c=? WHERE day=? AND words=? AND season IN (SELECT id "
                    "FROM "
                    "season WHERE rider=?)",
                    QVariantList{m.outcome ? QVariant(static_cast<int>(*m.outcome)) : QVariant(),
                                 textOf(m.outcomeOf), textOf(m.told)} +
                        markValues(m.mark) + QVariantList{m.date.days, textOf(m.words), rider});
                !put)
                return tl::unexpected(put.error());
        return {};
    });
}

namespace {
Result<std::vector<MeantSession>> meantWhere(const QSqlDatabase& db, const QString& where,
                                             const QVariantList& values, Damage* damage) {
    std::vector<MeantSession> all;
    const auto ok = sql::each(db,
                              QString("SELECT day, family, rung, words, m.note, outcome, outcome_of, told, "
                                      "power_w, heart_bpm, fade, found, of, temperature_c "
                                      "FROM meant_session m JOIN season s ON s.id=m.season "
                                      "WHERE %1 ORDER BY day, standing, s.id DESC")
                                  .arg(where),
                              values, wording("Sessions as they were meant"), damage, [&](sql::Row& row) {
                                  MeantSession m{row.day(0),
                                                 row.text(1).toStdString(),
                                                 row.whole(2, 0, 40),
                                                 row.text(3).toStdString(),
                                                 row.text(4).toStdString(),
                                                 {},
                                                 row.text(6).toStdString(),
                                                 row.text(7).toStdString(),
                                                 markIn(row, 8)};
                                  if (!row.isNull(5))
                                      m.outcome = row.oneOf(5, RungVerdict::Ease);
                                  if (!m.words.empty() && !readShorthand(m.words))
                                      row.fail(3, marked("is no session"));
                                  if (row.wrong().isEmpty() && (all.empty() || all.back().date != m.date))
                                      all.push_back(std::move(m));
                              });
    if (!ok)
        return tl::unexpected(ok.error());
    return all;
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
