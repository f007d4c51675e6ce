// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/schema.h"
#include "store/seals.h"

#include <array>

namespace marram {

// Statements longer than a line stand as neighbouring literals here; no comma is missing between them.
// NOLINTBEGIN(bugprone-suspicious-missing-comma)

const QStringList& schemaStep(int fromVersion) {
    static const QStringList first{
        "CREATE TABLE rider(id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL, sex INTEGER NOT NULL, "
        "born INTEGER,"
        " rest_hr_bpm REAL, max_hr_bpm REAL, hours TEXT NOT NULL, note TEXT NOT NULL)",
        "CREATE TABLE threshold(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, from_day "
        "INTEGER NOT NULL,"
        " power_w REAL NOT NULL, hr_bpm REAL, low_threshold REAL NOT NULL, weight_kg REAL, PRIMARY "
        "KEY(rider, from_day))",
        "CREATE TABLE season(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, start_day "
        "INTEGER NOT NULL,"
        " end_day INTEGER NOT NULL, fitness REAL NOT NULL, fatigue REAL NOT NULL, tau_fitness_d REAL NOT "
        "NULL,"
        " tau_fatigue_d REAL NOT NULL, rules TEXT NOT NULL)",
        "CREATE TABLE race(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place INTEGER "
        "NOT NULL,"
        " name TEXT NOT NULL, day INTEGER NOT NULL, priority INTEGER NOT NULL, stress REAL, days INTEGER NOT "
        "NULL,"
        " gate_low REAL, gate_high REAL, demand INTEGER NOT NULL, PRIMARY KEY(rider, place))",
        "CREATE TABLE week_pin(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, start_day "
        "INTEGER NOT NULL,"
        " hours TEXT, kind INTEGER, PRIMARY KEY(rider, start_day))",
        "CREATE TABLE away(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, place INTEGER "
        "NOT NULL,"
        " from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, why INTEGER NOT NULL, stress REAL, PRIMARY "
        "KEY(rider, place))",
        "CREATE TABLE solved_day(rider INTEGER NOT NULL REFERENCES season(rider) ON DELETE CASCADE, day "
        "INTEGER NOT NULL,"
        " role INTEGER NOT NULL, stress REAL NOT NULL, hours REAL NOT NULL, fitness REAL NOT NULL, fatigue "
        "REAL NOT NULL,"
        " form REAL NOT NULL, PRIMARY KEY(rider, day)) WITHOUT ROWID",
        "CREATE TABLE ride(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES rider(id) "
        "ON DELETE CASCADE,"
        " day INTEGER NOT NULL, start_utc INTEGER NOT NULL, end_utc INTEGER NOT NULL, utc_offset_s INTEGER "
        "NOT NULL,"
        " file_name TEXT NOT NULL, content_sha256 BLOB NOT NULL, scoring_version INTEGER NOT NULL, "
        "threshold_power_w REAL NOT NULL,"
        " figures TEXT NOT NULL, best TEXT NOT NULL, remarks TEXT NOT NULL, excluded INTEGER NOT NULL "
        "DEFAULT 0,"
        " UNIQUE(rider, content_sha256))",
        "CREATE INDEX ride_by_day ON ride(rider, start_utc)",
        "CREATE TABLE original(ride INTEGER PRIMARY KEY REFERENCES ride(id) ON DELETE CASCADE, bytes BLOB "
        "NOT NULL)"};
    // Every quantity gets its own dates; rides get what the coach adds to them; tests and check-ins come.
    static const QStringList second{
        "CREATE TABLE rider_value(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, quantity "
        "TEXT NOT NULL, from_day INTEGER NOT NULL, value REAL NOT NULL, PRIMARY KEY(rider, quantity, "
        "from_day)) WITHOUT ROWID",
        "INSERT INTO rider_value SELECT rider, 'threshold_power_w', from_day, power_w FROM threshold",
        "INSERT INTO rider_value SELECT rider, 'threshold_hr_bpm', from_day, hr_bpm FROM threshold WHERE "
        "hr_bpm IS NOT NULL",
        "INSERT INTO rider_value SELECT rider, 'low_threshold', from_day, low_threshold FROM threshold",
        "INSERT INTO rider_value SELECT rider, 'weight_kg', from_day, weight_kg FROM threshold WHERE "
        "weight_kg IS NOT NULL",
        "INSERT INTO rider_value SELECT id, 'rest_hr_bpm', coalesce((SELECT min(from_day) FROM threshold "
        "WHERE rider=id), 0), rest_hr_bpm FROM rider WHERE rest_hr_bpm IS NOT NULL",
        "INSERT INTO rider_value SELECT id, 'max_hr_bpm', coalesce((SELECT min(from_day) FROM threshold "
        "WHERE rider=id), 0), max_hr_bpm FROM rider WHERE max_hr_bpm IS NOT NULL",
        "DROP TABLE threshold",
        "ALTER TABLE rider DROP COLUMN rest_hr_bpm",
        "ALTER TABLE rider DROP COLUMN max_hr_bpm",
        "ALTER TABLE rider ADD COLUMN training_years INTEGER",
        "ALTER TABLE rider ADD COLUMN slow_recoverer INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE rider ADD COLUMN injuries TEXT NOT NULL DEFAULT '[]'",
        "ALTER TABLE rider ADD COLUMN strengths TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN weaknesses TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN cautions TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE rider ADD COLUMN groups_in TEXT NOT NULL DEFAULT '[]'",
        "ALTER TABLE rider ADD COLUMN archived INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE rider ADD COLUMN scales TEXT NOT NULL DEFAULT '{}'",
        "ALTER TABLE ride DROP COLUMN best",
        "ALTER TABLE ride ADD COLUMN best BLOB NOT NULL DEFAULT x''",
        "ALTER TABLE ride ADD COLUMN stress REAL",
        "ALTER TABLE ride ADD COLUMN method INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE ride ADD COLUMN corrections TEXT NOT NULL DEFAULT '{}'",
        "ALTER TABLE ride ADD COLUMN effort REAL",
        "ALTER TABLE ride ADD COLUMN note TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE ride ADD COLUMN stale INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE ride ADD COLUMN aside_day INTEGER",
        "UPDATE ride SET stale=1, stress=json_extract(figures, '$.stress'), method=CASE "
        "json_extract(figures, '$.stress_method') WHEN 'power' THEN 1 WHEN 'heart_rate' THEN 2 ELSE 0 END",
        "CREATE INDEX ride_sums ON ride(rider, day, aside_day, excluded, stress, method)",
        "CREATE TABLE test_result(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES "
        "rider(id) ON DELETE CASCADE, day INTEGER NOT NULL, protocol TEXT NOT NULL, value REAL NOT NULL, "
        "second REAL NOT NULL, seconds REAL NOT NULL, work_kj REAL NOT NULL, altitude_m REAL, acclimatised "
        "INTEGER NOT NULL, place TEXT NOT NULL, note TEXT NOT NULL, verdict INTEGER NOT NULL, ride_sha256 "
        "BLOB NOT NULL)",
        "CREATE INDEX test_by_day ON test_result(rider, day)",
        "CREATE TABLE check_in(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, day INTEGER "
        "NOT NULL, feel INTEGER, sleep INTEGER, soreness INTEGER, motivation INTEGER, rest_hr_bpm REAL, "
        "weight_kg REAL, ill INTEGER NOT NULL, note TEXT NOT NULL, PRIMARY KEY(rider, day)) WITHOUT ROWID"};
    // Seasons get ids and know what they are to the rider; what is derived leaves the tables of what was
    // decided; changes are counted with who made them.
    static const QStringList third{
        "CREATE TABLE season_3(id INTEGER PRIMARY KEY AUTOINCREMENT, rider INTEGER NOT NULL REFERENCES "
        "rider(id) "
        "ON DELETE CASCADE, standing INTEGER NOT NULL, name TEXT NOT NULL, branched_from INTEGER REFERENCES "
        "season_3(id) ON DELETE SET NULL, start_day INTEGER NOT NULL, end_day INTEGER NOT NULL, fitness REAL "
        "NOT "
        "NULL, fatigue REAL NOT NULL, tau_fitness_d REAL NOT NULL, tau_fatigue_d REAL NOT NULL, rules TEXT "
        "NOT NULL)",
        "INSERT INTO season_3(rider, standing, name, start_day, end_day, fitness, fatigue, tau_fitness_d, "
        "tau_fatigue_d, rules) SELECT rider, 0, '', start_day, end_day, fitness, fatigue, tau_fitness_d, "
        "tau_fatigue_d, rules FROM season",
        "CREATE TABLE race_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, place "
        "INTEGER NOT "
        "NULL, name TEXT NOT NULL, day INTEGER NOT NULL, priority INTEGER NOT NULL, stress REAL, days "
        "INTEGER NOT "
        "NULL, gate_low REAL, gate_high REAL, demand INTEGER NOT NULL, PRIMARY KEY(season, place))",
        "INSERT INTO race_3 SELECT s.id, r.place, r.name, r.day, r.priority, r.stress, r.days, r.gate_low, "
        "r.gate_high, r.demand FROM race r JOIN season_3 s ON s.rider=r.rider",
        "CREATE TABLE week_pin_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, "
        "start_day "
        "INTEGER NOT NULL, hours TEXT, kind INTEGER, PRIMARY KEY(season, start_day))",
        "INSERT INTO week_pin_3 SELECT s.id, p.start_day, p.hours, p.kind FROM week_pin p JOIN season_3 s ON "
        "s.rider=p.rider",
        "CREATE TABLE away_3(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, place "
        "INTEGER NOT "
        "NULL, from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, why INTEGER NOT NULL, stress REAL, "
        "PRIMARY "
        "KEY(season, place))",
        "INSERT INTO away_3 SELECT s.id, a.place, a.from_day, a.to_day, a.why, a.stress FROM away a JOIN "
        "season_3 "
        "s ON s.rider=a.rider",
        "CREATE TABLE planned_day(season INTEGER NOT NULL REFERENCES season_3(id) ON DELETE CASCADE, day "
        "INTEGER "
        "NOT NULL, role INTEGER NOT NULL, stress REAL NOT NULL, hours REAL NOT NULL, fitness REAL NOT NULL, "
        "fatigue REAL NOT NULL, form REAL NOT NULL, PRIMARY KEY(season, day)) WITHOUT ROWID",
        "INSERT INTO planned_day SELECT s.id, d.day, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form "
        "FROM "
        "solved_day d JOIN season_3 s ON s.rider=d.rider",
        "DROP TABLE race",
        "DROP TABLE week_pin",
        "DROP TABLE away",
        "DROP TABLE solved_day",
        "DROP TABLE season",
        "ALTER TABLE season_3 RENAME TO season",
        "ALTER TABLE race_3 RENAME TO race",
        "ALTER TABLE week_pin_3 RENAME TO week_pin",
        "ALTER TABLE away_3 RENAME TO away",
        "CREATE INDEX season_of ON season(rider, standing)",
        "CREATE UNIQUE INDEX season_in_force ON season(rider) WHERE standing=0",
        "CREATE TABLE learned(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, scales TEXT "
        "NOT "
        "NULL, owed INTEGER NOT NULL)",
        "INSERT INTO learned SELECT id, scales, 1 FROM rider",
        "ALTER TABLE rider DROP COLUMN scales",
        "ALTER TABLE rider ADD COLUMN usual_week_h REAL",
        "ALTER TABLE rider ADD COLUMN aside_day INTEGER",
        "CREATE TABLE figures(ride INTEGER PRIMARY KEY REFERENCES ride(id) ON DELETE CASCADE, "
        "scoring_version "
        "INTEGER NOT NULL, threshold_power_w REAL NOT NULL, figures BLOB NOT NULL, best BLOB NOT NULL, "
        "stress "
        "REAL, method INTEGER NOT NULL, stale INTEGER NOT NULL)",
        "INSERT INTO figures SELECT id, scoring_version, threshold_power_w, figures, best, stress, method, "
        "stale "
        "FROM ride",
        "DROP INDEX ride_sums",
        "ALTER TABLE ride DROP COLUMN scoring_version",
        "ALTER TABLE ride DROP COLUMN threshold_power_w",
        "ALTER TABLE ride DROP COLUMN figures",
        "ALTER TABLE ride DROP COLUMN best",
        "ALTER TABLE ride DROP COLUMN stress",
        "ALTER TABLE ride DROP COLUMN method",
        "ALTER TABLE ride DROP COLUMN stale",
        "CREATE INDEX ride_days ON ride(rider, day, aside_day, excluded)",
        "CREATE INDEX figure_sums ON figures(ride, stress, method)",
        "CREATE TABLE change(number INTEGER PRIMARY KEY AUTOINCREMENT, writer INTEGER NOT NULL)"};
    // A week's phase can be pinned; a race knows its course, and how it went.
    static const QStringList fourth{"ALTER TABLE season ADD COLUMN lay_off INTEGER",
                                    "ALTER TABLE week_pin ADD COLUMN phase INTEGER",
                                    "ALTER TABLE race ADD COLUMN course TEXT NOT NULL DEFAULT ''",
                                    "ALTER TABLE race ADD COLUMN result TEXT NOT NULL DEFAULT ''",
                                    "ALTER TABLE race ADD COLUMN note TEXT NOT NULL DEFAULT ''",
                                    "CREATE TABLE outlook(season INTEGER NOT NULL REFERENCES season(id) ON "
                                    "DELETE CASCADE, day INTEGER NOT NULL, race TEXT NOT NULL, form REAL NOT "
                                    "NULL, fitness REAL NOT NULL, PRIMARY KEY(season, day, race)) WITHOUT "
                                    "ROWID"};
    // What the coach says of a day's session, what stood on it when it came, and the coach's own families.
    static const QStringList fifth{
        "CREATE TABLE session_pin(season INTEGER NOT NULL REFERENCES season(id) ON DELETE CASCADE, day "
        "INTEGER "
        "NOT NULL, family TEXT NOT NULL, rung INTEGER, minutes INTEGER, words TEXT NOT NULL, note TEXT NOT "
        "NULL, verdict INTEGER, PRIMARY KEY(season, day)) WITHOUT ROWID",
        "CREATE TABLE meant_session(season INTEGER NOT NULL REFERENCES season(id) ON DELETE CASCADE, day "
        "INTEGER NOT NULL, family TEXT NOT NULL, rung INTEGER NOT NULL, words TEXT NOT NULL, note TEXT NOT "
        "NULL, outcome INTEGER, outcome_of TEXT NOT NULL DEFAULT '', told TEXT NOT NULL DEFAULT '', "
        "PRIMARY KEY(season, day)) WITHOUT ROWID",
        "CREATE TABLE family(name TEXT NOT NULL PRIMARY KEY, place INTEGER NOT NULL, content TEXT NOT NULL) "
        "WITHOUT ROWID"};
    // Digests beside what is kept; what a rider needs care for.
    static const QStringList sixth{seals::schema,
                                   "ALTER TABLE rider ADD COLUMN care TEXT NOT NULL DEFAULT '[]'",
                                   "ALTER TABLE rider ADD COLUMN cleared INTEGER NOT NULL DEFAULT 0"};
    // Values that are lower bounds; what a record was heard to say; a second device on a ride; the same
    // session again, and the coach's words on a week.
    static const QStringList seventh{
        "ALTER TABLE rider_value ADD COLUMN at_least INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE ride ADD COLUMN beside BLOB",
        "CREATE TABLE heard(rider INTEGER PRIMARY KEY REFERENCES rider(id) ON DELETE CASCADE, of BLOB NOT "
        "NULL)",
        "ALTER TABLE planned_day ADD COLUMN kind INTEGER",
        "ALTER TABLE planned_day ADD COLUMN phase INTEGER",
        "ALTER TABLE outlook ADD COLUMN expected_form REAL",
        "ALTER TABLE outlook ADD COLUMN chance REAL",
        "ALTER TABLE meant_session ADD COLUMN power_w REAL",
        "ALTER TABLE meant_session ADD COLUMN heart_bpm REAL",
        "ALTER TABLE meant_session ADD COLUMN fade REAL",
        "ALTER TABLE meant_session ADD COLUMN found INTEGER",
        "ALTER TABLE meant_session ADD COLUMN of INTEGER",
        "ALTER TABLE meant_session ADD COLUMN temperature_c REAL",
        "CREATE TABLE letter(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, week INTEGER NOT "
        "NULL, words TEXT NOT NULL, PRIMARY KEY(rider, week)) WITHOUT ROWID",
        "CREATE TABLE proposed(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, quantity TEXT "
        "NOT NULL, from_day INTEGER NOT NULL, value REAL NOT NULL, entered REAL, at_least INTEGER NOT NULL, "
        "said_day INTEGER NOT NULL, answer INTEGER NOT NULL, PRIMARY KEY(rider, quantity)) WITHOUT ROWID"};
    // Efforts that were found maximal, so that records are heard once more; cautions the coach has noted.
    static const QStringList eighth{
        "CREATE TABLE maximal(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, ride INTEGER "
        "NOT "
        "NULL REFERENCES ride(id) ON DELETE CASCADE, seconds INTEGER NOT NULL, power REAL NOT NULL, PRIMARY "
        "KEY(rider, ride, seconds)) WITHOUT ROWID",
        "CREATE TABLE noted(rider INTEGER NOT NULL REFERENCES rider(id) ON DELETE CASCADE, caution TEXT NOT "
        "NULL, day INTEGER NOT NULL, measure REAL NOT NULL, reason TEXT NOT NULL, PRIMARY KEY(rider, "
        "caution)) WITHOUT ROWID",
        "DELETE FROM heard"};
    // Races and sessions that came from the squad; files with recordings beside the roster.
    static const QStringList ninth{"ALTER TABLE race ADD COLUMN squad_day INTEGER",
                                   "ALTER TABLE session_pin ADD COLUMN team TEXT NOT NULL DEFAULT ''",
                                   "CREATE TABLE beside(place TEXT NOT NULL PRIMARY KEY)"};
    // Digests of figures no longer hold whether they are to be scored again; all are written anew after a
    // step.
    static const QStringList tenth{};
    static const std::array<const QStringList*, schemaVersion> steps{
        &first, &second, &third, &fourth, &fifth, &sixth, &seventh, &eighth, &ninth, &tenth};
    return *steps.at(static_cast<size_t>(fromVersion));
}

// NOLINTEND(bugprone-suspicious-missing-comma)

} // namespace marram
