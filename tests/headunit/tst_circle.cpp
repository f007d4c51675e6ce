// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/compose.h"
#include "core/review/against.h"
#include "core/session/family.h"
#include "core/session/shorthand.h"
#include "formats/fit/fit.h"
#include "formats/fit/workout.h"
#include "headunit/device.h"
#include "support/suite.h"

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
    return layOver(r, s, family, {watts}, defaultLowThreshold, usualSpread, std::nullopt);
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
        QVERIFY2(passed >= all * 95 / 100, qPrintable(told));
        QVERIFY2(found >= repetitions * 97 / 100, qPrintable(told));
    }
    void howItWasRiddenIsToldInTwoParts() {
        const Family& f = *familyNamed("threshold");
        const Session s = whole(f, 6);
        SimulatedDay day = plain();
        day.stops = false;
        const Against meant = judged(circle(s, day, 1), s, f.name);
        QVERIFY(meant.volume == Volume::AsMeant && meant.content == Content::AsMeant);
        QVERIFY(!meant.stopAt && meant.verdict == RungVerdict::Passed && meant.repetitions.size() == 3);
        for (const Repetition& r : meant.repetitions)
            QVERIFY(r.heartRate && r.cadence && r.inTarget > 300 && std::abs(r.fade) < 12);
        day.legs = 0.78; // a bad day
        const Against easy = judged(circle(s, day, 2), s, f.name);
        QVERIFY(easy.content == Content::Easier && easy.verdict != RungVerdict::Passed);
        // A rider who stops after half an hour.
        day.legs = 0.97;
        day.cutShortAfter = 0.5;
        const Against cut = judged(circle(s, day, 3), s, f.name);
        QVERIFY(cut.volume == Volume::Shorter && cut.verdict == RungVerdict::Repeat);
    }
    void theStopRuleIsHeld() {
        // Legs that give by eight in a hundred from the second repetition on: by its rule, 5 % under target,
        // the session should have ended there.
        const Session meant =
            *readShorthand("15 min 50 to 90, 4 × 8 min 97 with 5 min 50 between, 10 min 50");
        const Session ridden = *readShorthand("15 min 50 to 90, 8 min 97, 5 min 50, 8 min 88, 5 min 50, 8 "
                                              "min 87, 5 min 50, 8 min 86, 10 min 50");
        const Against a = judged(circle(ridden, plain(), 4), meant, "threshold");
        QCOMPARE(a.stopAt, std::optional<size_t>(1));
        QVERIFY(a.verdict != RungVerdict::Passed);
        QVERIFY(std::any_of(a.sentences.begin(), a.sentences.end(), [](const std::string& s) {
            return s.find("ended in repetition 2") != std::string::npos;
        }));
    }
    void anotherRideIsAnotherRide() {
        const Session meant =
            *readShorthand("15 min 50 to 90, 3 × 15 min 88 with 4 min 50 between, 10 min 50");
        const Session company = *readShorthand("10 min 60, 6 × 5 min 115 with 3 min 50 between, 20 min 65");
        const Against a = judged(circle(company, plain(), 5), meant, "just under threshold");
        QVERIFY(a.content == Content::Other || a.content == Content::Harder);
        QVERIFY(a.verdict == RungVerdict::Repeat); // which says nothing of the rung
        // Two easy hours instead of intervals.
        const Session hours = *readShorthand("1 h 10 min 62");
        const Against b = judged(circle(hours, plain(), 6), meant, "just under threshold");
        QVERIFY(b.content == Content::Easier || b.content == Content::Other);
        QVERIFY(b.verdict != RungVerdict::Passed);
    }
    void withoutPowerItIsJudgedByWhatItCost() {
        const Session s = *readShorthand("1 h 30 min 65");
        Ride r = circle(s, plain(), 7);
        r.hasPower = false;
        std::fill(r.power.begin(), r.power.end(), missing);
        const Against as = layOver(r, s, "endurance", {watts}, defaultLowThreshold, usualSpread, 0.66);
        QVERIFY(as.repetitions.empty() && as.content == Content::AsMeant && as.volume == Volume::AsMeant);
        QCOMPARE(layOver(r, s, "endurance", {watts}, defaultLowThreshold, usualSpread, 0.9).content,
                 Content::Harder);
        const Against unknown =
            layOver(r, s, "endurance", {watts}, defaultLowThreshold, usualSpread, std::nullopt);
        QVERIFY(unknown.sentences[1].find("can't be told") != std::string::npos);
    }
    void aFolderWithoutAWorkoutIsRefused() {
        QTemporaryDir dir;
        QVERIFY(!workoutFrom(dir.path(), watts));
        const auto bytes =
            writeWorkout(*readShorthand("3 × 8 min 106 with 5 min 50 between"), "x", watts, 0.77, 1);
        for (const size_t cut : {size_t{0}, size_t{13}, bytes.size() / 2, bytes.size() - 1}) {
            QVERIFY(!readWorkout(std::span(bytes).first(cut), watts));
            std::vector<std::uint8_t> broken = bytes;
            broken[std::min(cut, broken.size() - 3)] ^= 0x55;
            QVERIFY(!readWorkout(broken, watts) || cut == 0);
        }
        // Without threshold power percents are written, and read as such; without power at all, heart rates.
        const auto percent = readWorkout(writeWorkout(*readShorthand("10 min 80"), "x", {}, 0.77, 1), watts);
        QVERIFY(std::abs(*percent->front().low - 0.78) < 0.001);
        const auto beats = readWorkout(
            writeWorkout(*readShorthand("10 min 80"), "x", {}, 0.77, 1, HeartRateRange{{48}, {168}, {186}}),
            watts);
        QVERIFY(!beats->front().low && beats->front().note.find("bpm") != std::string::npos);
    }
};

MARRAM_SUITE(CircleTest)
#include "tst_circle.moc"
