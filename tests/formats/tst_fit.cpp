// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "formats/fit/fit.h"
#include "formats/fit/protocol.h"
#include "support/suite.h"

#include <QFile>
#include <QTest>
#include <cmath>

using namespace marram;
using Bytes = std::vector<std::uint8_t>;

namespace {

Bytes file(const char* name) {
    QFile f(QString(TEST_DATA) + "/" + name);
    if (!f.open(QIODevice::ReadOnly))
        return {};
    const QByteArray all = f.readAll();
    return {all.begin(), all.end()};
}

Recording small(int seconds) {
    Recording r;
    r.utcOffset = 7200;
    for (int t = 0; t < seconds; ++t) {
        Sample s;
        s.time = 1.8e9 + t + (t >= seconds / 2 ? 400 : 0);
        s.power = static_cast<float>(150 + t % 90);
        s.heartRate = static_cast<float>(120 + t % 30);
        s.cadence = 88;
        s.altitude = 123.4F;
        s.distance = static_cast<float>(8 * t);
        s.temperature = -4;
        s.leftShare = 0.48F;
        s.latitude = 12.25;
        s.longitude = -45.5;
        r.samples.push_back(s);
    }
    r.laps.push_back({r.samples.front().time, r.samples.back().time});
    return r;
}

/// A file from message bytes: header, data, checksums.
Bytes wrap(const Bytes& data) {
    Bytes out{14, 0x10, 0, 0};
    for (int i = 0; i < 4; ++i)
        out.push_back(static_cast<std::uint8_t>(data.size() >> 8 * i));
    for (const char c : {'.', 'F', 'I', 'T'})
        out.push_back(static_cast<std::uint8_t>(c));
    const auto sum = [&] {
        const auto crc = fit::checksum(out);
        out.push_back(static_cast<std::uint8_t>(crc & 0xFF));
        out.push_back(static_cast<std::uint8_t>(crc >> 8));
    };
    sum();
    out.insert(out.end(), data.begin(), data.end());
    sum();
    return out;
}

} // namespace

class FitTest : public QObject {
    Q_OBJECT
private slots:
    void filesOfAnIndependentEncoderScoreAsExpected_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QList<double>>("expected");
        // tests/data/ORIGIN.md: duration, mean, equivalent, stress, drift, best 60 s, best 1200 s, by an
        // independent programme
        QTest::newRow("steady") << "steady.fit" << QList<double>{3600, 200, 200, 64.0, 2.7889, 200, 200};
        QTest::newRow("gapped") << "gapped-intervals.fit"
                                << QList<double>{4140, 198.6205, 227.2291, 95.0048, 8.7849, 292.2, 246.4933};
    }
    void filesOfAnIndependentEncoderScoreAsExpected() {
        QFETCH(QString, name);
        QFETCH(QList<double>, expected);
        const auto recording = readFit(file(qPrintable(name)));
        QVERIFY(recording);
        QVERIFY(recording->remarks.empty());
        const auto ride = toGrid(*recording);
        ScoringBasis basis;
        basis.threshold = Watts{250};
        const Score s = score(*ride, basis);
        const auto best = meanMax(*ride, std::array{60, 1200});
        const QList<double> got{static_cast<double>(s.duration),
                                *s.meanPower,
                                *s.equivalentPower,
                                *s.stress,
                                *s.drift,
                                best[0].power,
                                best[1].power};
        for (int i = 0; i < got.size(); ++i)
            QVERIFY2(std::abs(got[i] - expected[i]) < 6e-5 * std::max(1.0, expected[i] / 100),
                     qPrintable(QString("%1: %2 for %3").arg(i).arg(got[i]).arg(expected[i])));
    }
    void whatIsWrittenIsReadBack() {
        const Recording before = small(300);
        const auto after = readFit(writeFit(before));
        QVERIFY(after);
        QCOMPARE(after->samples.size(), before.samples.size());
        QCOMPARE(after->utcOffset.value(), 7200);
        QCOMPARE(after->laps.size(), 1U);
        QCOMPARE(after->timerStops, 2);
        for (size_t i = 0; i < before.samples.size(); ++i) {
            const Sample &a = before.samples[i], &b = after->samples[i];
            QCOMPARE(a.time, b.time);
            QCOMPARE(a.power, b.power);
            QCOMPARE(a.heartRate, b.heartRate);
            QVERIFY(std::abs(a.altitude - b.altitude) <= 0.11F && std::abs(a.distance - b.distance) <= 0.01F);
            QCOMPARE(a.temperature, b.temperature);
            QVERIFY(std::abs(a.leftShare - b.leftShare) < 0.006F &&
                    std::abs(a.latitude - b.latitude) < 1e-6 && std::abs(a.longitude - b.longitude) < 1e-6);
        }
    }
    void missingValuesStayMissing() {
        Recording r = small(20);
        for (Sample& s : r.samples) {
            s.power = s.heartRate = s.cadence = s.altitude = s.distance = s.temperature = s.leftShare =
                missing;
            s.latitude = s.longitude = std::nan("");
        }
        const auto back = readFit(writeFit(r));
        for (const Sample& s : back->samples)
            QVERIFY(std::isnan(s.power) && std::isnan(s.heartRate) && std::isnan(s.altitude) &&
                    std::isnan(s.temperature) && std::isnan(s.leftShare) && std::isnan(s.latitude));
    }
    void bothByteOrdersDeveloperFieldsAndCompressedTimesAreRead() {
        const std::uint32_t time = 1000000000;
        Bytes d{0x40, 0, 1, 0, 20, 2, 253, 4, 0x86, 7, 2, 0x84}; // big-endian record: time, power
        const auto big = [&](std::uint32_t v, int n) {
            for (int i = n - 1; i >= 0; --i)
                d.push_back(static_cast<std::uint8_t>(v >> 8 * i));
        };
        d.push_back(0);
        big(time, 4);
        big(301, 2);
        // local 1, little-endian, power only, with one developer field of three bytes
        for (const int b : {0x61, 0, 0, 20, 0, 1, 7, 2, 0x84, 1, 0, 3, 0})
            d.push_back(static_cast<std::uint8_t>(b));
        const auto compressed = [&](int offset, int power) {
            d.push_back(static_cast<std::uint8_t>(0x80 | 1 << 5 | offset));
            for (const int b : {power & 0xFF, power >> 8, 9, 9, 9})
                d.push_back(static_cast<std::uint8_t>(b));
        };
        const int low = static_cast<int>(time & 31);
        compressed((low + 1) & 31, 302);
        compressed((low + 30) & 31, 303); // near the roll-over
        compressed((low + 2) & 31, 304);  // behind it
        // an unknown message with an unknown base type is skipped
        for (const int b : {0x42, 0, 0, 0xFE, 0xF0, 1, 77, 5, 0x1F, 2, 1, 2, 3, 4, 5})
            d.push_back(static_cast<std::uint8_t>(b));
        const auto r = readFit(wrap(d));
        QVERIFY(r);
        QCOMPARE(r->samples.size(), 4U);
        const double first = static_cast<double>(time) + static_cast<double>(fit::epoch);
        const std::array<double, 4> at{0, 1, 30, 34};
        for (size_t i = 0; i < 4; ++i) {
            QCOMPARE(r->samples[i].time, first + at[i]);
            QCOMPARE(r->samples[i].power, static_cast<float>(301 + i));
        }
    }
    void chainedFilesAreOneRecording() {
        Bytes two = writeFit(small(50));
        Recording later = small(40);
        for (Sample& s : later.samples)
            s.time += 5000;
        const Bytes second = writeFit(later);
        two.insert(two.end(), second.begin(), second.end());
        const auto r = readFit(two);
        QVERIFY(r);
        QCOMPARE(r->samples.size(), 90U);
    }
    void aFileCutAnywhereGivesEveryWholeRecordAndSaysSo() {
        const Bytes whole = writeFit(small(60));
        size_t before = 0;
        for (size_t length = 0; length < whole.size(); ++length) {
            const auto r = readFit(std::span(whole).first(length));
            if (!r) {
                QVERIFY(!r.error().sentence.empty());
                QCOMPARE(before, 0U);
                continue;
            }
            QVERIFY(r->samples.size() >= before);
            QCOMPARE(r->remarks.size(), 1U);
            QVERIFY(r->remarks[0].find("cut short") != std::string::npos);
            before = r->samples.size();
        }
        QCOMPARE(before, 60U);
    }
    void aFileWithAnyByteFlippedIsRefusedOrReadWithoutHarm() {
        const Bytes whole = writeFit(small(40));
        int refused = 0;
        for (size_t at = 0; at < whole.size(); ++at)
            for (const int flip : {0x01, 0x80, 0xFF}) {
                Bytes bad = whole;
                bad[at] = static_cast<std::uint8_t>(bad[at] ^ flip);
                const auto r = readFit(bad);
                refused += r ? 0 : 1;
                if (r)
                    QVERIFY(r->samples.size() <= bad.size());
                else
                    QVERIFY(!r.error().sentence.empty());
                if (!r)
                    continue;
                // Only bytes of the header that the protocol lets vary may pass, and what passes is the ride.
                QVERIFY2(at < 14 || at >= whole.size() - 2, qPrintable(QString::number(at)));
            }
        QVERIFY(refused > static_cast<int>(whole.size()) * 2);
    }
    void othersAreRefusedInASentence_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("text") << QByteArray("this is not a ride at all, only words");
        QTest::newRow("header only") << QByteArray("\x0e\x10\x00\x00\x00\x00\x00\x00.FIT\x00\x00", 14);
        QTest::newRow("huge size") << QByteArray("\x0c\x10\x00\x00\xff\xff\xff\xff.FIT", 12);
    }
    void othersAreRefusedInASentence() {
        QFETCH(QByteArray, bytes);
        const Bytes b(bytes.begin(), bytes.end());
        const auto r = readFit(b);
        QVERIFY(!r);
        QVERIFY(r.error().sentence.size() > 20);
    }
    void theChecksumIsTheProtocols() {
        // CRC-16/ARC check value of "123456789" (value from memory)
        const Bytes digits{'1', '2', '3', '4', '5', '6', '7', '8', '9'};
        QCOMPARE(fit::checksum(digits), 0xBB3D);
    }
};

MARRAM_SUITE(FitTest)
#include "tst_fit.moc"
