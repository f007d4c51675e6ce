// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_canvas.h"
#include "app/season/season_view.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "core/block/block.h"
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "core/season/ahead.h"
#include "demo/scenario.h"
#include "formats/fit/fit.h"
#include "formats/paper/letter.h"
#include "formats/recording/recording.h"
#include "headunit/simulate.h"
#include "store/backup.h"
#include "store/letters.h"
#include "store/looking_back.h"
#include "store/reporting.h"
#include "store/squad.h"

#include "support/generator.h"

#include <QApplication>
#include <QCryptographicHash>
#include <QDate>
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QProcess>
#include <QSettings>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <functional>
#include <libxml/parser.h>
#include <numeric>
#include <thread>

#include "measuring.h"

namespace marram::bench {
namespace {

/// A roster of many riders with some years each, 250 rides a year: the demo's riders over and over, their
/// rides repeated through the years. The figures are real; of the original recordings only that of the ride
/// shown first is there, which is all that moving between riders touches.
bool bigRoster(const QString& path, Date today, int count, int years) {
    if (!writeDemo(path, today, {}))
        return false;
    const auto run = [&](const QStringList& statements) {
        bool ok = true;
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "big");
            db.setDatabaseName(path);
            ok = db.open();
            for (const QString& s : statements) {
                QSqlQuery q(db);
                if (!q.exec(s)) {
                    std::fprintf(stderr, "%s\n", qPrintable(q.lastError().text()));
                    ok = false;
                }
            }
        }
        QSqlDatabase::removeDatabase("big");
        return ok;
    };
    const QString rider =
        "name, sex, born, hours, note, training_years, slow_recoverer, injuries, strengths, "
        "weaknesses, cautions, groups_in, archived, usual_week_h, aside_day";
    const QString ride = "utc_offset_s, file_name, remarks, excluded, corrections, effort, note, aside_day";
    const QString figures = "scoring_version, threshold_power_w, figures, best, stress, method, stale";
    return run({
        "PRAGMA synchronous=OFF",
        "BEGIN",
        "CREATE TEMP TABLE newest AS SELECT bytes FROM original WHERE ride=(SELECT id FROM ride WHERE "
        "rider=1 "
        "ORDER BY start_utc DESC LIMIT 1)",
        "DELETE FROM original",
        // Everybody is one of the first six over again, with their season in force.
        "WITH RECURSIVE n(i) AS (SELECT 7 UNION ALL SELECT i+1 FROM n WHERE i<" + QString::number(count) +
            ") INSERT INTO rider(id, " + rider + ") SELECT i, " +
            QString(rider).replace("name", "name || ' ' || i") +
            " FROM n, rider WHERE rider.id = 1 + (i % 6)",
        "INSERT INTO rider_value SELECT r.id, quantity, from_day, value, at_least FROM rider r, rider_value "
        "v WHERE "
        "r.id>6 "
        "AND v.rider = 1 + (r.id % 6)",
        "CREATE TEMP TABLE forces AS SELECT * FROM season WHERE standing=0",
        "INSERT INTO season SELECT 1000 + r.id, r.id, 0, s.name, NULL, start_day, end_day, fitness, fatigue, "
        "tau_fitness_d, tau_fatigue_d, rules, lay_off FROM rider r, forces s WHERE r.id>6 AND s.rider = 1 + "
        "(r.id % 6)",
        "INSERT INTO race SELECT 1000 + r.id, place, a.name, day, priority, stress, days, gate_low, "
        "gate_high, "
        "demand, course, result, a.note, squad_day FROM rider r, forces s, race a WHERE r.id>6 AND s.rider = "
        "1 + (r.id "
        "% 6) "
        "AND a.season = s.id",
        "INSERT INTO planned_day SELECT 1000 + r.id, day, role, stress, d.hours, d.fitness, d.fatigue, form, "
        "kind, phase "
        "FROM "
        "rider r, forces s, planned_day d WHERE r.id>6 AND s.rider = 1 + (r.id % 6) AND d.season = s.id",
        // Everybody rides as the first rider did; 1500 rides each over five years.
        "CREATE TEMP TABLE kept AS SELECT row_number() OVER (ORDER BY start_utc DESC) AS n, * FROM ride JOIN "
        "figures ON figures.ride=ride.id WHERE rider=1 ORDER BY start_utc DESC LIMIT 250",
        "CREATE INDEX temp.kept_by_n ON kept(n)",
        "DELETE FROM figures",
        "DELETE FROM ride",
        "WITH RECURSIVE y(i) AS (SELECT 0 UNION ALL SELECT i+1 FROM y WHERE i<" + QString::number(years) +
            ") INSERT INTO ride(rider, day, "
            "start_utc, end_utc, content_sha256, " +
            ride +
            ") SELECT r.id, day - 364*i, start_utc - 364*86400*i, end_utc - 364*86400*i, randomblob(32), " +
            QString(ride).replace("note", "k.note").replace("aside_day", "k.aside_day") +
            " FROM y, rider r, kept k",
        "INSERT INTO figures(ride, " + figures + ") SELECT q.id, " + figures +
            " FROM ride q JOIN kept k ON k.n = 1 + ((q.id - 1) % 250)",
        "INSERT INTO original SELECT id, bytes FROM ride, newest WHERE rider=1 AND start_utc=(SELECT "
        "max(start_utc) FROM ride WHERE rider=1)",
        "UPDATE learned SET owed=0",
        "INSERT INTO learned SELECT r.id, l.scales, 0 FROM rider r, learned l WHERE r.id>6 AND l.rider = 1 + "
        "(r.id % 6)",
        "COMMIT",
    });
}

/// A window that shows the list of riders, with no roster yet.
struct RosterWindow {
    Workspace workspace;
    MainWindow window{workspace};
    RosterWindow() {
        window.resize(1280, 800);
        window.go(Place::Roster);
        window.show();
        QApplication::processEvents();
    }
};

} // namespace

void bigRosters() {
    QTemporaryDir folder;
    const QDate now = QDate::currentDate();
    const Date today = fromCivil(now.year(), now.month(), now.day());
    const QString path = folder.filePath("big.marram");
    if (!bigRoster(path, today, 60, 5))
        return;
    const double before = residentMb();
    RosterWindow shown;
    auto& [workspace, window] = shown;
    const double opened = once([&] {
        workspace.roster.open(path);
        window.grab();
    });
    size_t total = 0;
    const auto& riders = workspace.roster.riders();
    std::vector<double> roster, rides;
    for (int i = 0; i < 40; ++i) {
        const qint64 id = riders[static_cast<size_t>((i * 7) % 60)].id;
        window.go(i < 20 ? Place::Roster : Place::Rides);
        QApplication::processEvents();
        (i < 20 ? roster : rides).push_back(once([&] {
            workspace.chosen.choose(id);
            window.grab();
        }));
        total = workspace.chosen.rides().size();
    }
    std::printf("| (%zu riders, %zu rides each) | | | | |\n", riders.size(), total);
    line("open 60 riders with 90 000 rides to the first picture", opened, "limit 1 s", 1000);
    line("move to another rider in the roster, median", spread(roster).median, "limit 100 ms", 100);
    line("the same, 95th percentile", spread(roster).high, "limit 100 ms", 100);
    line("move to another rider in the list of rides, median", spread(rides).median, "limit 100 ms", 100);
    const auto file = Roster::open(path);
    std::vector<double> mondays, letters;
    for (int i = 0; file && i < 20; ++i) {
        const RiderRecord& rider = riders[static_cast<size_t>((i * 7) % 60)];
        mondays.push_back(once([&] { (void)lookBack(**file, rider, weekToLookAt(today), today); }));
    }
    line("Monday's page of a rider, from the file, median", spread(mondays).median, "limit 100 ms", 100);
    line("the same, 95th percentile", spread(mondays).high, "limit 150 ms", 150);
    std::vector<double> answers;
    for (const QuestionWords& q : questions)
        for (int i = 0; file && i < 5; ++i)
            answers.push_back(once([&] {
                (void)reportOf(**file, riders[static_cast<size_t>((i * 7) % 60)], q.question, 140, today);
            }));
    line("an answer of Review, median of nine questions", spread(answers).median, "limit 300 ms", 300);
    line("the same, 95th percentile", spread(answers).high, "limit 1 s", 1000);
    line("60 rows of the squad as they were kept", once([&] {
             for (const RiderRecord& rider : riders)
                 if (file)
                     (void)keptRow(**file, rider, today);
         }),
         "limit 500 ms", 500);
    line("letters of 60 riders, page and text", once([&] {
             if (file)
                 (void)eachLetter(**file, weekToLookAt(today), today, {},
                                  [](const Letter& l) -> Result<void> {
                                      (void)letterText(l.monday, l.coach.toStdString());
                                      (void)letterPdf(l.monday, l.coach);
                                      return {};
                                  });
         }),
         "limit 20 s", 20000);
    std::printf("| memory with that roster open: %.0f MB (%.0f before; limit 400) | | | | %.2f |\n",
                residentMb(), before, residentMb() / 400);
}

/// Three hundred riders with ten years each: what grows with the roster, and what must not.
void hugeRosters() {
    QTemporaryDir folder;
    const QDate now = QDate::currentDate();
    const Date today = fromCivil(now.year(), now.month(), now.day());
    const QString path = folder.filePath("huge.marram");
    if (!bigRoster(path, today, 300, 9))
        return;
    RosterWindow shown;
    auto& [workspace, window] = shown;
    const double before = residentMb();
    const double opened = once([&] {
        workspace.roster.open(path);
        window.grab();
    });
    std::printf("| (300 riders, ten years each, a file of %lld MB) | | | | |\n",
                static_cast<long long>(QFileInfo(path).size() / 1048576));
    line("open it to the first picture", opened, "limit 1.5 s", 1500);
    std::printf("| memory with it open: %.0f MB (%.0f before; limit 300) | | | | %.2f |\n", residentMb(),
                before, residentMb() / 300);
    const auto file = Roster::open(path);
    const auto& riders = workspace.roster.riders();
    line("60 of its rows of the squad as they were kept", once([&] {
             for (size_t i = 0; file && i < 60; ++i)
                 (void)keptRow(**file, riders[i], today);
         }),
         "limit 500 ms", 500);
    std::vector<double> moved;
    for (int i = 0; i < 10; ++i)
        moved.push_back(once([&] {
            workspace.chosen.choose(riders[static_cast<size_t>(i * 29)].id);
            window.grab();
        }));
    line("move to another rider in the roster, median", spread(moved).median, "limit 150 ms", 150);
    // The squad's canvas as a hand scrolls and zooms it.
    SquadCanvas canvas;
    canvas.resize(1260, 700);
    std::vector<SquadRow> rows;
    for (size_t i = 0; file && i < 60; ++i)
        if (auto row = keptRow(**file, riders[i], today))
            rows.push_back(std::move(*row));
    canvas.show(rows, today);
    std::vector<double> frames;
    for (int i = 0; i < 200; ++i) {
        if (i % 4 == 0)
            canvas.zoom(i % 8 == 0 ? 1.25 : 0.8);
        canvas.pan(0.01);
        const int top = (i * 17) % std::max(1, canvas.height() - 700);
        frames.push_back(once([&] { canvas.grab(QRect(0, top, 1260, 700)); }));
    }
    line("a frame of 60 riders' rows as they are moved, 95th percentile", spread(frames).high, "limit 16 ms",
         16);
    // An edit while the copy of the day is being made.
    std::atomic<bool> copied = false;
    double copying = 0;
    std::thread copy([&] {
        copying = once([&] { (void)backUp(path, today); });
        copied = true;
    });
    std::vector<double> edits;
    while (!copied && file) {
        RiderRecord r = riders[0];
        r.note = QString::number(edits.size());
        edits.push_back(once([&] { (void)(*file)->saveRider(r); }));
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    copy.join();
    std::printf("| (its copy took %.1f s) | | | | |\n", copying / 1000);
    if (!edits.empty()) {
        line("an edit meanwhile, 95th percentile", spread(edits).high, "limit 100 ms", 100);
        line("the slowest", *std::max_element(edits.begin(), edits.end()), "limit 500 ms", 500);
    }
}

} // namespace marram::bench
