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

using namespace marram;

namespace {

using Watch = std::chrono::steady_clock;

double once(const std::function<void()>& work) {
    const auto from = Watch::now();
    work();
    return std::chrono::duration<double, std::milli>(Watch::now() - from).count();
}

struct Spread {
    double median = 0, high = 0; ///< ms; high is the 95th percentile
};

Spread spread(std::vector<double> times) {
    std::sort(times.begin(), times.end());
    return {times[times.size() / 2], times[times.size() * 95 / 100]};
}

Spread repeat(int count, const std::function<void()>& work) {
    std::vector<double> times;
    for (int i = 0; i < count; ++i)
        times.push_back(once(work));
    return spread(times);
}

void line(const char* what, double ms, const char* reference, double referenceMs) {
    std::printf("| %s | %.3f | %s | %.3f | %.2f |\n", what, ms, reference, referenceMs, ms / referenceMs);
    std::fflush(stdout);
}

void rides() {
    Dice dice(5);
    Recording r;
    for (int t = 0; t < 5 * 3600; ++t) {
        Sample s;
        s.time = 1.8e9 + t;
        s.power = static_cast<float>(static_cast<int>(dice.between(0, 600)));
        s.heartRate = static_cast<float>(static_cast<int>(dice.between(110, 180)));
        r.samples.push_back(s);
    }
    const Ride ride = *toGrid(r);
    ScoringBasis basis;
    basis.threshold = Watts{250};
    basis.heartRate = HeartRateRange{{50}, {170}, {190}, Sex::Female};
    volatile double sink = 0;
    const auto pass = repeat(200, [&] {
        // One pass over memory: every series summed once.
        double sum = 0;
        for (const auto* series : {&ride.power, &ride.heartRate, &ride.cadence, &ride.altitude,
                                   &ride.distance, &ride.temperature, &ride.leftShare})
            sum += std::accumulate(series->begin(), series->end(), 0.0);
        sink = sum;
    });
    const auto scored = repeat(100, [&] { sink = *score(ride, basis).stress; });
    const auto grid = repeat(50, [&] { sink = toGrid(r)->elapsed(); });
    const auto curve = repeat(50, [&] { sink = meanMaxCurve(ride).back().power; });
    line("score a five-hour ride", scored.median, "limit 5 ms", 5);
    line("score a five-hour ride", scored.median, "one pass over memory", pass.median);
    line("put its samples on the grid", grid.median, "one pass over memory", pass.median);
    line("mean-max of a five-hour ride", curve.median, "limit 10 ms", 10);
    line("mean-max of a five-hour ride", curve.median, "one pass over memory", pass.median);
    (void)sink;
}

Season year() {
    Season s;
    s.start = fromCivil(2027, 1, 4);
    s.end = s.start + 363;
    s.before = {45, 45};
    s.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    const auto race = [&](const char* name, int day, Priority p, double stress) {
        Race r;
        r.name = name;
        r.date = s.start + day;
        r.priority = p;
        r.stress = stress;
        s.races.push_back(r);
    };
    race("A", 258, Priority::A, 260);
    race("B", 160, Priority::B, 150);
    race("C1", 118, Priority::C, 90);
    race("C2", 201, Priority::C, 120);
    return s;
}

/// As a hand drags it: the first A race a few days at a time, back and forth, across block borders.
std::vector<double> dragged(Season s, int steps) {
    const auto peak =
        std::find_if(s.races.begin(), s.races.end(), [](const Race& r) { return r.priority == Priority::A; });
    const Date from = peak->date;
    std::vector<double> times;
    Solved last = solveSeason(s);
    for (int i = 1; i <= steps; ++i) {
        peak->date = std::clamp(from + ((i * 3) % 40) - 20, s.start, s.end - (peak->days - 1));
        times.push_back(once([&] { last = solveSeason(s, &last.solution, {}, Choices::Keep); }));
    }
    return times;
}

void seasons() {
    const Spread w = spread(dragged(year(), 200));
    std::vector<double> cold, any, longOnes;
    for (int i = 0; i < 50; ++i)
        cold.push_back(once([&] { solveSeason(year()); }));
    // Invented seasons of every kind, rules that give way among them.
    for (unsigned seed = 0, found = 0; found < 60; ++seed) {
        Season s = test::Generator(seed).season();
        if (s.dayCount() < 340 || s.dayCount() > 380)
            continue;
        ++found;
        const auto times = dragged(s, 20);
        any.insert(any.end(), times.begin(), times.end());
    }
    double slowest = 0;
    for (unsigned seed = 0; seed < 400; ++seed) {
        const Season s = test::Generator(seed).season();
        slowest = std::max(slowest, once([&] { solveSeason(s); }));
    }
    for (int i = 0; i < 20; ++i) {
        Season s = year();
        s.end = s.start + 7 * 104 - 1;
        Race second = s.races[0];
        second.name = "A2";
        second.date = second.date + 364 - i;
        s.races.push_back(second);
        longOnes.push_back(once([&] { solveSeason(s); }));
    }
    const Spread a = spread(any), l = spread(longOnes), c = spread(cold);
    line("season of 52 weeks after a moved race, warm, median", w.median, "limit 8 ms", 8);
    line("the same, 95th percentile", w.high, "limit 25 ms", 25);
    line("60 invented seasons of about 52 weeks, warm, median", a.median, "limit 8 ms", 8);
    line("the same, 95th percentile", a.high, "limit 25 ms", 25);
    line("season of 52 weeks, cold, choices made, median", c.median, "limit 16 ms", 16);
    line("season of 104 weeks, cold, 95th percentile", l.high, "limit 150 ms", 150);
    line("slowest of 400 invented seasons, cold", slowest, "limit 1000 ms", 1000);
    const Solved solved = solveSeason(year());
    volatile double sink = 0;
    const auto chances = repeat(5, [&] { sink = chancesOf(year(), solved.plan, {})->front().form.p50; });
    (void)sink;
    line("10 000 simulated seasons", chances.median, "limit 1000 ms", 1000);
    const QString clp = QStandardPaths::findExecutable("clp");
    if (clp.isEmpty())
        return;
    QTemporaryDir folder;
    const QString file = folder.filePath("season.lp");
    solveSeason(year(), nullptr, file.toStdString());
    const auto outside = repeat(15, [&] {
        QProcess::execute("/bin/sh", {"-c", clp + " " + file + " -solve >/dev/null"});
    });
    const auto empty = repeat(15, [&] { QProcess::execute("/bin/sh", {"-c", clp + " -quit >/dev/null"}); });
    line("a whole season, cold", c.median, "clp on its last programme, start and reading left in",
         outside.median);
    line("a whole season, cold", c.median, "the same less clp's bare start",
         std::max(0.001, outside.median - empty.median));
}

/// From the hand's change to the painted season, in the real view on the demo roster.
void dragging() {
    QTemporaryDir folder;
    const QDate now = QDate::currentDate();
    const QString path = folder.filePath("drag.marram");
    if (!writeDemo(path, fromCivil(now.year(), now.month(), now.day()), {}))
        return;
    Workspace workspace;
    SeasonView view(workspace);
    view.resize(1280, 760);
    view.show();
    if (!workspace.roster.open(path))
        return;
    const auto settle = [&] {
        while (!workspace.plans.solved() ||
               workspace.plans.solved()->plan.races[0].date != workspace.plans.season()->races[0].date)
            QApplication::processEvents(); // busy, so that no waiting is measured
    };
    settle();
    Season season = *workspace.chosen.season();
    const Date from = season.races[0].date;
    std::vector<double> times, bare;
    Solved last = solveSeason(workspace.chosen.completed(season));
    for (int i = 0; i < 120; ++i) {
        season.races[0].date = from - (i * 2) % 45;
        // The same solve without a window, as the hand moves: choices stand, started from the last one.
        const Season whole = workspace.chosen.completed(season);
        bare.push_back(once([&] { last = solveSeason(whole, &last.solution, {}, Choices::Keep); }));
        times.push_back(once([&] {
            workspace.plans.trySeason(season);
            settle();
            QApplication::processEvents(); // paints what the plan changed
        }));
    }
    const Spread s = spread(times), b = spread(bare);
    line("drag of a race in the window, change to painted curves, median", s.median, "the bare solve, median",
         b.median);
    line("the same, 95th percentile", s.high, "the bare solve, 95th percentile", b.high);
    line("drag of a race in the window, median", s.median, "limit 16 ms", 16);
    line("the same, 95th percentile", s.high, "limit 40 ms", 40);
}

/// Blocks of four weeks of riders with 5 to 15 hours under three schools, and a whole season of sessions.
void blocks() {
    std::vector<double> times, edits;
    double season = 0;
    for (const double hours : {5.0, 8.0, 11.0, 15.0})
        for (const School school : {School::Polarised, School::Pyramidal, School::ThresholdLed}) {
            Season s = year();
            double sum = 0;
            for (const double h : s.hours)
                sum += h;
            for (double& h : s.hours)
                h = std::round(4 * h * hours / sum) / 4;
            s.rules.school = school;
            const Plan plan = solveSeason(s).plan;
            for (const int week : {4, 12, 20, 28, 36}) {
                const Date from = monday(s.start) + 7 * week;
                times.push_back(once([&] { (void)solveBlock(s, plan, from, 4); }));
                // A session pinned in the third week, from the last answer.
                BlockBasis basis;
                basis.last = std::make_shared<SessionBlock>(solveBlock(s, plan, from, 4));
                basis.touched = from + 14;
                Season pinned = s;
                SessionPin pin;
                pin.date = from + 15;
                pin.family = "threshold";
                pin.rung = 4;
                pinned.sessions = {pin};
                edits.push_back(once([&] { (void)solveBlock(pinned, plan, from, 4, basis); }));
            }
            season = std::max(season, once([&] { (void)solveBlock(s, plan, monday(s.start), 60); }));
        }
    const Spread b = spread(times);
    line("a block of four weeks, median of 60", b.median, "limit 150 ms", 150);
    line("the same, 95th percentile", b.high, "limit 150 ms", 150);
    const Spread e = spread(edits);
    line("a session changed in the third of four weeks, median of 60", e.median, "the whole block", b.median);
    line("the same, 95th percentile", e.high, "the whole block", b.high);
    line("a whole season of sessions, slowest of 12", season, "limit 2 s", 2000);
}

void imports() {
    QTemporaryDir folder;
    QStringList files;
    qint64 bytes = 0;
    for (int i = 0; i < 300; ++i) {
        SimulatedDay day;
        day.start = 1798761600 + 86400LL * i;
        const auto fit =
            writeFit(ride(prescribe(SessionKind::Endurance, 2, 100), {}, day, static_cast<std::uint64_t>(i)));
        files << folder.filePath(QString("%1.fit").arg(i, 3, 10, QChar('0')));
        QFile f(files.back());
        if (f.open(QIODevice::WriteOnly))
            bytes += f.write(reinterpret_cast<const char*>(fit.data()), static_cast<qint64>(fit.size()));
    }
    const double hashed = once([&] {
        for (const QString& name : files) {
            QFile f(name);
            if (f.open(QIODevice::ReadOnly))
                QCryptographicHash::hash(f.readAll(), QCryptographicHash::Sha256);
        }
    });
    auto roster = std::move(*Roster::create(folder.filePath("bench.marram")));
    RiderRecord rider;
    rider.name = "bench";
    rider.values.set(Quantity::ThresholdPower, Date{0}, 250);
    rider.id = *roster->saveRider(rider);
    Importer importer(*roster, rider);
    size_t added = 0;
    const double taken = once([&] { added = importer.importFiles(files).added.size(); });
    line("import of 300 two-hour FIT rides", taken, "reading and hashing the same bytes", hashed);
    std::printf("| (%zu rides, %.1f MB: %.0f rides a second; limit of a later issue 60) | | | | %.2f |\n",
                added, static_cast<double>(bytes) / 1e6, 1000.0 * static_cast<double>(added) / taken,
                60 / (1000.0 * static_cast<double>(added) / taken));
    const QDate now = QDate::currentDate();
    const double demo = once([&] {
        (void)writeDemo(folder.filePath("demo.marram"), fromCivil(now.year(), now.month(), now.day()), {});
    });
    line("making the demo roster", demo, "limit 6 s, window included", 6000);
}

/// Memory of this process in MB, as the kernel counts it.
double residentMb() {
    QFile status("/proc/self/status");
    if (status.open(QIODevice::ReadOnly))
        for (const QByteArray& each : status.readAll().split('\n'))
            if (each.startsWith("VmRSS:"))
                return each.mid(6).trimmed().split(' ').front().toDouble() / 1024;
    return 0;
}

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

void bigRosters() {
    QTemporaryDir folder;
    const QDate now = QDate::currentDate();
    const Date today = fromCivil(now.year(), now.month(), now.day());
    const QString path = folder.filePath("big.marram");
    if (!bigRoster(path, today, 60, 5))
        return;
    const double before = residentMb();
    Workspace workspace;
    MainWindow window(workspace);
    window.resize(1280, 800);
    window.go(Place::Roster);
    window.show();
    QApplication::processEvents();
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
    Workspace workspace;
    MainWindow window(workspace);
    window.resize(1280, 800);
    window.go(Place::Roster);
    window.show();
    QApplication::processEvents();
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

/// A track of 200 MB read through the importer's reader.
void bigTrack() {
    QByteArray gpx = "<?xml version=\"1.0\"?><gpx version=\"1.1\"><trk><trkseg>\n";
    const QByteArray tail = "</trkseg></trk></gpx>\n";
    for (int t = 0; gpx.size() < 200 * 1024 * 1024; ++t) {
        gpx +=
            "<trkpt lat=\"" + QByteArray::number(0.001 * (t % 900), 'f', 6) + "\" lon=\"" +
            QByteArray::number(-0.001 * (t % 800), 'f', 6) + "\"><ele>12.5</ele><time>" +
            QDateTime::fromSecsSinceEpoch(1800000000 + t % 600000, Qt::UTC).toString(Qt::ISODate).toLatin1() +
            "</time><extensions><hr>140</hr><cad>88</cad><power>201</power></extensions></trkpt>\n";
    }
    gpx += tail;
    size_t points = 0;
    const double read = once([&] {
        const auto r = readRecording(gpx);
        points = r ? r->samples.size() : 0;
    });
    // The reference: libxml2 going through the same bytes with handlers that do nothing.
    const double bare = once([&] {
        xmlSAXHandler nothing{};
        nothing.initialized = XML_SAX2_MAGIC;
        nothing.startElementNs = [](void*, const xmlChar*, const xmlChar*, const xmlChar*, int,
                                    const xmlChar**, int, int, const xmlChar**) {};
        nothing.endElementNs = [](void*, const xmlChar*, const xmlChar*, const xmlChar*) {};
        nothing.characters = nothing.ignorableWhitespace = [](void*, const xmlChar*, int) {};
        xmlSAXUserParseMemory(&nothing, nullptr, gpx.constData(), static_cast<int>(gpx.size()));
    });
    line("read a GPX of 200 MB", read, "a bare pass of libxml2 over it", bare);
    std::printf("| (%zu points, %.0f MB a second; asked for 60; memory %.0f MB) | | | | |\n", points,
                static_cast<double>(gpx.size()) / 1048576 / read * 1000, residentMb());
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QTemporaryDir config; // the bench neither reads nor leaves settings
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, config.path());
    QApplication::setApplicationName("marram-bench");
    QApplication::setOrganizationName("marram-bench");
    dress(app, false, 1);
    std::printf("| what | ms | against | ms | ratio |\n|---|---:|---|---:|---:|\n");
    // All of them, or those whose names are given.
    const QStringList wanted = QApplication::arguments().mid(1);
    for (const auto& [name, run] :
         std::initializer_list<std::pair<const char*, void (*)()>>{{"rides", rides},
                                                                   {"seasons", seasons},
                                                                   {"dragging", dragging},
                                                                   {"blocks", blocks},
                                                                   {"imports", imports},
                                                                   {"roster", bigRosters},
                                                                   {"huge", hugeRosters},
                                                                   {"track", bigTrack}})
        if (wanted.isEmpty() || wanted.contains(name))
            run();
    return 0;
}
