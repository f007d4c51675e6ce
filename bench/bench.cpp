// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_view.h"
#include "app/theme/theme.h"
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "core/season/plan.h"
#include "demo/scenario.h"
#include "formats/fit/fit.h"
#include "headunit/simulate.h"

#include <QApplication>
#include <QCryptographicHash>
#include <QDate>
#include <QFile>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <functional>
#include <numeric>

using namespace marram;

namespace {

using Clock = std::chrono::steady_clock;

double once(const std::function<void()>& work) {
    const auto from = Clock::now();
    work();
    return std::chrono::duration<double, std::milli>(Clock::now() - from).count();
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

void seasons() {
    std::vector<double> warm, cold;
    Season s = year();
    Solved last = solveSeason(s);
    for (int i = 0; i < 200; ++i) {
        // As a hand drags it: a few days at a time, back and forth, across block borders.
        s.races[0].date = s.start + 258 + ((i * 3) % 60) - 30;
        cold.push_back(once([&] { solveSeason(s); }));
        warm.push_back(once([&] { last = solveSeason(s, &last.solution); }));
    }
    const Spread w = spread(warm), c = spread(cold);
    line("season of 52 weeks after a moved race, warm, median", w.median, "limit 16 ms", 16);
    line("the same, 95th percentile", w.high, "limit 40 ms", 40);
    line("the same, cold, median", c.median, "limit 16 ms", 16);
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
    line("all eight aims, warm", w.median,
         "clp, the last aim's programme alone, its start and reading left in", outside.median);
    line("all eight aims, cold", c.median, "the same less clp's bare start",
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
    if (!workspace.open(path))
        return;
    const auto settle = [&] {
        while (!workspace.solved() ||
               workspace.solved()->plan.races[0].date != workspace.season()->races[0].date)
            QApplication::processEvents(); // busy, so that no waiting is measured
    };
    settle();
    Season season = *workspace.season();
    const Date from = season.races[0].date;
    std::vector<double> times;
    for (int i = 0; i < 120; ++i) {
        season.races[0].date = from - (i * 2) % 45;
        times.push_back(once([&] {
            workspace.trySeason(season);
            settle();
            QApplication::processEvents(); // paints what the plan changed
        }));
    }
    const Spread s = spread(times);
    line("drag of a race in the window, change to painted curves, median", s.median, "limit 16 ms", 16);
    line("the same, 95th percentile", s.high, "limit 40 ms", 40);
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

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    dress(app, false, 1);
    std::printf("| what | ms | against | ms | ratio |\n|---|---:|---|---:|---:|\n");
    rides();
    seasons();
    dragging();
    imports();
    return 0;
}
