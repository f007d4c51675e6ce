// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/compose.h"
#include "core/review/against.h"
#include "core/session/family.h"
#include "core/session/shorthand.h"
#include "formats/fit/fit.h"
#include "formats/fit/workout.h"
#include "headunit/device.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;

namespace {

constexpr double watts = 260;

/// Session → workout file in a folder → the simulated bike computer → its FIT file → the ride on its grid.
Ride circle(const Session& session, const SimulatedDay& day, std::uint64_t seed, QString* path = nullptr) {
    QTemporaryDir dir;
    const auto bytes = writeWorkout(session, "today", watts, defaultLowThreshold, 1798761600);
    QFile file(dir.filePath("today.fit"));
    file.open(QIODevice::WriteOnly);
    file.write(reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size()));
    file.close();
    const auto read = workoutFrom(dir.path(), watts);
    if (!read)
        return {};
    SimulatedRider rider;
    rider.thresholdPower = watts;
    const auto saved = saveToDevice(dir.filePath("rides"), ride(*read, rider, day, seed));
    if (!saved)
        return {};
    if (path)
        *path = *saved;
    QFile recorded(*saved);
    recorded.open(QIODevice::ReadOnly);
    const QByteArray fit = recorded.readAll();
    return *toGrid(
        *readFit({reinterpret_cast<const std::uint8_t*>(fit.constData()), static_cast<size_t>(fit.size())}));
}

SimulatedDay plain() {
    SimulatedDay day;
    day.start = 1798761600;
    day.legs = 0.97; // the simulated rider rides a little over what it is told
    return day;
}

Session whole(const Family& family, size_t rung) {
    const int work = figuresOf(rungOf(family, rung)).seconds;
    const Lying lying = lyingOf(family.name);
    return rideWith(lying, rungOf(family, rung), shortestWith(lying, work), 65);
}

Against judged(const Ride& r, const Session& s, const std::string& family) {
    return layOver(r, s, family, {watts}, defaultLowThreshold, {}, std::nullopt);
}

} // namespace

class CircleTest : public QObject {
    Q_OBJECT
private slots:
    void everyRungGoesRoundAndPasses() {
        int all = 0, passed = 0, found = 0, repetitions = 0;
        QStringList wrong;
        for (const Family& f : families()) {
            for (size_t rung = 0; rung < f.rungs.size(); rung += 2) {
                const Session s = whole(f, rung);
                if (figuresOf(s).workSeconds == 0)
                    continue;
                const Against a = judged(circle(s, plain(), 100 + rung), s, f.name);
                ++all;
                passed += a.verdict == RungVerdict::Passed ? 1 : 0;
                size_t here = 0;
                for (const Repetition& r : a.repetitions)
                    here += r.found ? 1 : 0;
                found += static_cast<int>(here);
                repetitions += static_cast<int>(a.repetitions.size());
                if (a.verdict != RungVerdict::Passed) {
                    for (const Repetition& r : a.repetitions)
                        qInfo("%d %d %.0f: %d-%d %.0f", r.begins, r.seconds, r.target,
                              r.found ? r.found->begin : 0, r.found ? r.found->end : 0, r.power);
                }
                if (a.verdict != RungVerdict::Passed)
                    wrong << QString("%1 %2: %3 of %4 found; %5")
                                 .arg(QString::fromStdString(f.name))
                                 .arg(rung + 1)
                                 .arg(here)
                                 .arg(a.repetitions.size())
                                 .arg(QString::fromStdString(a.sentences[1]));
            }
        }
        const QString told = QString("%1 of %2 passed, %3 of %4 repetitions found\n")
                                 .arg(passed)
                                 .arg(all)
                                 .arg(found)
                                 .arg(repetitions) +
                             wrong.join('\n');
        for (const QString& w : wrong)
            qInfo("%s", qPrintable(w));
        QVERIFY2(passed >= all * 95 / 100, qPrintable(told));
        QVERIFY2(found >= repetitions * 97 / 100, qPrintable(told));
    }
};

QTEST_GUILESS_MAIN(CircleTest)
#include "tst_circle.moc"
