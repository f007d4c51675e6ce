// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/score.h"
#include "formats/recording/recording.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

namespace {

Score ridden(const RoughSession& session, const SimulatedRider& rider, const SimulatedDay& day,
             std::uint64_t seed) {
    const auto fit = writeFit(ride(session, rider, day, seed));
    const auto back = readFit(fit);
    ScoringBasis basis;
    basis.threshold = Watts{rider.thresholdPower};
    basis.heartRate =
        HeartRateRange{{rider.restHeartRate}, {rider.thresholdHeartRate}, {rider.maxHeartRate}, Sex::Female};
    return score(*toGrid(*back), basis);
}

SimulatedDay plainDay() {
    SimulatedDay day;
    day.start = 1798761600;
    day.stops = day.dropouts = false;
    return day;
}

} // namespace

class HeadunitTest : public QObject {
    Q_OBJECT
private slots:
    void theSameSeedRidesTheSameRide() {
        QCOMPARE(fitOf(1, 1, 42), fitOf(1, 1, 42));
        QVERIFY(fitOf(1, 1, 42) != fitOf(1, 1, 43));
    }
    void aRideCostsAboutWhatWasPrescribed_data() {
        QTest::addColumn<int>("kind");
        QTest::newRow("endurance") << static_cast<int>(SessionKind::Endurance);
        QTest::newRow("intervals") << static_cast<int>(SessionKind::Intervals);
        QTest::newRow("race") << static_cast<int>(SessionKind::Race);
    }
    void aRideCostsAboutWhatWasPrescribed() {
        QFETCH(int, kind);
        const RoughSession s = prescribe(static_cast<SessionKind>(kind), 2, 120);
        for (std::uint64_t seed = 1; seed <= 5; ++seed) {
            const Score got = ridden(s, {}, plainDay(), seed);
            QVERIFY2(std::abs(*got.stress - s.stress()) < 0.15 * s.stress(),
                     qPrintable(QString("%1 for %2").arg(*got.stress).arg(s.stress())));
        }
    }
    void heartRateLagsDriftsAndStaysHuman() {
        const auto r = ride(prescribe(SessionKind::Endurance, 3, 150), {}, plainDay(), 7);
        double early = 0, late = 0;
        for (size_t i = 0; i < r.samples.size(); ++i) {
            QVERIFY(r.samples[i].heartRate >= 48 && r.samples[i].heartRate <= 188);
            if (i >= 600 && i < 3000)
                early += static_cast<double>(r.samples[i].heartRate) / 2400;
            if (i + 2400 >= r.samples.size())
                late += static_cast<double>(r.samples[i].heartRate) / 2400;
        }
        QVERIFY(r.samples[5].heartRate < early - 20);
        QVERIFY(late > early);
    }
    void whatIsNotFittedIsNotRecorded() {
        SimulatedRider rider;
        rider.powerMeter = false;
        const Score s = ridden(prescribe(SessionKind::Endurance, 1, 50), rider, plainDay(), 3);
        QCOMPARE(s.method, StressMethod::HeartRate);
        rider.heartRateStrap = false;
        QCOMPARE(ridden(prescribe(SessionKind::Endurance, 1, 50), rider, plainDay(), 3).method,
                 StressMethod::None);
    }
    void aSessionCutShortIsShort() {
        SimulatedDay day = plainDay();
        day.cutShortAfter = 0.5;
        QCOMPARE(ridden(prescribe(SessionKind::Endurance, 2, 100), {}, day, 3).duration, 3600);
    }
    void stopsAndDropoutsHappen() {
        SimulatedDay day = plainDay();
        day.stops = day.dropouts = true;
        int stops = 0, missingSeconds = 0;
        for (std::uint64_t seed = 1; seed <= 6; ++seed) {
            const auto grid =
                toGrid(*readFit(writeFit(ride(prescribe(SessionKind::Endurance, 4, 180), {}, day, seed))));
            stops += static_cast<int>(grid->stretches.size()) - 1;
            missingSeconds += grid->faults.powerMissing;
        }
        QVERIFY(stops > 5 && missingSeconds > 20);
    }
    void theDeviceFolderGetsAPrivateWholeFile() {
        QTemporaryDir folder;
        const auto path = saveToDevice(folder.filePath("device/rides"),
                                       ride(prescribe(SessionKind::Openers, 0.75, 40), {}, plainDay(), 1));
        QVERIFY(path);
        QVERIFY(path->endsWith("2027-01-01-000000.fit"));
        QVERIFY(!(QFile::permissions(*path) & (QFile::ReadGroup | QFile::ReadOther)));
        QVERIFY(readRecording(readWholeFile(*path).value()));
        QVERIFY(!saveToDevice("/proc/no/such",
                              ride(prescribe(SessionKind::Openers, 0.75, 40), {}, plainDay(), 1)));
        QVERIFY(!saveToDevice(folder.path(), {}));
    }
};

MARRAM_SUITE(HeadunitTest)
#include "tst_headunit.moc"
