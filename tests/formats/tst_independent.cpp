// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/shorthand.h"
#include "formats/fit/fit.h"
#include "formats/fit/workout.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <functional>

using namespace marram;
using namespace marram::test;

/// FIT against programmes of others from npm (installed by ./dev test into build/npm): what the simulated
/// bike computer writes read by them, what they write read by Marram.
class IndependentTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    QByteArray run(const char* script, const QString& file) {
        QProcess p;
        p.start("node", {QString(INDEPENDENT) + "/" + script, file, NPM_DIR});
        p.waitForFinished(60000);
        if (p.exitCode() != 0)
            qWarning("%s", p.readAllStandardError().constData());
        return p.exitCode() == 0 ? p.readAllStandardOutput() + "\n" : QByteArray();
    }

private slots:
    void initTestCase() {
        if (QStandardPaths::findExecutable("node").isEmpty() ||
            !QDir(NPM_DIR "/node_modules/fit-file-parser").exists())
            QSKIP("needs node and the npm packages that ./dev test installs");
    }
    // Independent decoder: npm fit-file-parser
    void whatWeWriteOthersRead() {
        SimulatedDay day;
        day.start = 1804230000;
        const Recording written = ride(prescribe(SessionKind::Intervals, 1.2, 90), {}, day, 77);
        const auto bytes = writeFit(written);
        const QString file = save(folder_.filePath("ours.fit"), {reinterpret_cast<const char*>(bytes.data()),
                                                                 static_cast<qsizetype>(bytes.size())});
        const QJsonObject read = QJsonDocument::fromJson(run("decode.mjs", file)).object();
        const QJsonArray records = read["records"].toArray();
        QCOMPARE(records.size(), static_cast<qsizetype>(written.samples.size()));
        QCOMPARE(read["laps"].toInt(), static_cast<int>(written.laps.size()));
        for (qsizetype i = 0; i < records.size(); ++i) {
            const QJsonArray r = records[i].toArray();
            const Sample& s = written.samples[static_cast<size_t>(i)];
            QCOMPARE(r[0].toDouble(), s.time);
            const auto same = [](const QJsonValue& theirs, float ours, double within) {
                return std::isnan(ours) ? !theirs.isDouble()
                                        : std::abs(theirs.toDouble() - static_cast<double>(ours)) <= within;
            };
            QVERIFY2(same(r[1], s.power, 1e-9) && same(r[2], s.heartRate, 1e-9) &&
                         same(r[3], s.cadence, 1e-9) && same(r[4], s.distance, 0.006),
                     qPrintable(QString::number(i)));
        }
    }
    // Independent decoder: npm fit-file-parser
    void workoutsAreReadByOthers() {
        const auto session = readShorthand("15 min 50 to 90, 3 × (2 × (2 min 90, 1 min 105)) with 5 min 50 "
                                           "between, 4 × 8 s all out, 10 min 50 at 90 to "
                                           "95 rpm \"easy\"");
        QVERIFY(session.has_value());
        const auto bytes =
            writeWorkout(*session, "Over-unders höher and longer than the field", 250, 0.77, 1804230000);
        const QString file =
            save(folder_.filePath("workout.fit"),
                 {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
        const QJsonObject read = QJsonDocument::fromJson(run("workout.mjs", file)).object();
        QCOMPARE(read["type"].toString(), QString("workout"));
        const QJsonArray steps = read["steps"].toArray();
        QCOMPARE(read["workout"].toObject()["num_valid_steps"].toInt(), static_cast<int>(steps.size()));
        // Unfolded as a head unit does it, it lasts as long as the session.
        std::vector<double> ridden;
        const std::function<void(int, int)> go = [&](int from, int to) {
            for (int i = from; i < to; ++i) {
                const QJsonObject s = steps[i].toObject();
                if (s["duration_type"].toString() == "time")
                    ridden.push_back(s["duration_value"].toDouble() / 1000);
                else
                    for (int n = 1; n < s["target_value"].toInt(); ++n)
                        go(s["duration_value"].toInt(), i);
            }
        };
        go(0, static_cast<int>(steps.size()));
        const SessionFigures figures = figuresOf(*session);
        QCOMPARE(ridden.size(), figures.steps.size());
        for (size_t i = 0; i < ridden.size(); ++i)
            QCOMPARE(ridden[i], 1.0 * figures.steps[i].step.seconds);
        const QJsonObject first = steps[0].toObject(), last = steps.last().toObject();
        QCOMPARE(first["target_type"].toString(), QString("power"));
        QCOMPARE(first["custom_target_value_low"].toInt(), 1125); // half of 250 W, watts above a thousand
        QCOMPARE(first["custom_target_value_high"].toInt(), 1225);
        QVERIFY(last["notes"].toString().contains("easy") && last["notes"].toString().contains("95 rpm"));
    }
    // Independent encoder: npm @markw65/fit-file-writer
    void whatOthersWriteWeRead() {
        const QString file = folder_.filePath("theirs.fit");
        QVERIFY(!run("encode.mjs", file).isEmpty());
        QFile f(file);
        QVERIFY(f.open(QIODevice::ReadOnly));
        const QByteArray bytes = f.readAll();
        const auto read = readFit(
            {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())});
        QVERIFY2(read.has_value(), read ? "" : read.error().sentence.c_str());
        QCOMPARE(read->samples.size(), 1800U);
        QCOMPARE(read->laps.size(), 1U);
        for (int s = 0; s < 1800; ++s) {
            const Sample& at = read->samples[static_cast<size_t>(s)];
            QCOMPARE(at.time, 1805007600.0 + s);
            QCOMPARE(at.power, static_cast<float>(150 + s % 100));
            QCOMPARE(at.heartRate, static_cast<float>(120 + s / 60));
            QCOMPARE(at.cadence, static_cast<float>(80 + s % 7));
            QVERIFY(std::abs(at.distance - 9.5F * static_cast<float>(s)) < 0.01F);
        }
    }
};

MARRAM_SUITE(IndependentTest)
#include "tst_independent.moc"
