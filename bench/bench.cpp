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

using namespace marram;
using namespace marram::bench;

namespace {

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
    line("season of 52 weeks, cold, choices made, median", c.median, "goal 8 ms", 8);
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
            QApplication::processEvents(QEventLoop::WaitForMoreEvents); // as the programme waits
    };
    settle();
    Season season = *workspace.chosen.season();
    const Date from = season.races[0].date;
    std::vector<double> times, bare;
    Solved last = solveSeason(workspace.chosen.facts().completed(season));
    for (int i = 0; i < 120; ++i) {
        season.races[0].date = from - (i * 2) % 45;
        // The same solve without a window, as the hand moves: choices stand, started from the last one.
        const Season whole = workspace.chosen.facts().completed(season);
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
    line("drag of a race in the window, median", s.median, "goal 8 ms", 8);
    line("the same, 95th percentile", s.high, "goal 16 ms", 16);
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
    dress(app, {});
    std::printf("| what | ms | against | ms | ratio |\n|---|---:|---|---:|---:|\n");
    // All of them, or those whose names are given; after "stalls" its own parts may follow.
    const QStringList wanted = QApplication::arguments().mid(1);
    for (const auto& [name, run] :
         std::initializer_list<std::pair<const char*, void (*)()>>{{"rides", rides},
                                                                   {"seasons", seasons},
                                                                   {"dragging", dragging},
                                                                   {"blocks", blocks},
                                                                   {"imports", imports},
                                                                   {"roster", bigRosters},
                                                                   {"huge", hugeRosters},
                                                                   {"stalls", stalls},
                                                                   {"track", bigTrack}})
        if (wanted.isEmpty() || wanted.contains(name))
            run();
    return 0;
}
