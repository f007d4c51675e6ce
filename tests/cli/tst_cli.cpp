// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/calendar/date.h"
#include "support/command_line.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QDate>
#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace marram;
using namespace marram::test;

namespace {

const QByteArray season = R"({ "start": "2027-01-04", "end": "2027-09-26",
  "rider": { "threshold_power_w": 250, "fitness": 45, "fatigue": 45, "hours": [0, 1.5, 1.5, 1, 0, 4, 3] },
  "races": [ { "name": "Point", "date": "2027-09-19", "priority": "A", "stress": 260, "gate": [15, 25] } ] })";

} // namespace

class CliTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    /// The demo roster, made once.
    QString demo() {
        const QString path = folder_.filePath("demo.marram");
        return QFile::exists(path) || cli({"demo", "--out", path}).code == 0 ? path : QString();
    }

private slots:
    void wrongUsageIsTwo_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::newRow("nothing") << QStringList{};
        QTest::newRow("unknown verb") << QStringList{"dance"};
        QTest::newRow("missing file") << QStringList{"score"};
        QTest::newRow("missing threshold") << QStringList{"score", "x.fit"};
        QTest::newRow("no number") << QStringList{"score", "x.fit", "--threshold-power", "lots"};
        QTest::newRow("unknown option") << QStringList{"plan", "x.json", "--quickly"};
    }
    void wrongUsageIsTwo() {
        QFETCH(QStringList, arguments);
        const Ran r = cli(arguments);
        QCOMPARE(r.code, 2);
        QVERIFY(r.out.isEmpty() && !r.err.isEmpty());
        if (!arguments.isEmpty() && arguments[0] == "dance")
            QVERIFY(r.err.contains("\"dance\" is not a verb") && r.err.contains("score, curve"));
    }
    void theBikeComputerHelps() { QVERIFY(cli({"--help"}, "/marram-headunit").out.contains("simulated")); }
    void unusableInputIsThreeInOneLine_data() {
        QTest::addColumn<QStringList>("arguments");
        const QString bad = save(folder_.filePath("bad.json"), "{ \"start\": 1 }"),
                      words = save(folder_.filePath("words.fit"), "words");
        const QString nan = save(folder_.filePath("nan.csv"), "date,stress\n2027-01-04,nan\n");
        QTest::newRow("absent") << QStringList{"score", "absent.fit", "--threshold-power", "250"};
        QTest::newRow("words") << QStringList{"score", words, "--threshold-power", "250"};
        QTest::newRow("threshold") << QStringList{"score", QString(TEST_DATA) + "/steady.fit",
                                                  "--threshold-power", "0"};
        QTest::newRow("heart rates") << QStringList{"score",
                                                    QString(TEST_DATA) + "/steady.fit",
                                                    "--threshold-power",
                                                    "250",
                                                    "--threshold-hr",
                                                    "170",
                                                    "--rest-hr",
                                                    "180",
                                                    "--max-hr",
                                                    "190"};
        QTest::newRow("season") << QStringList{
            "plan", bad, "--lp", folder_.filePath("never.lp"), "--out", folder_.filePath("never")};
        QTest::newRow("daily") << QStringList{"model", nan};
        QTest::newRow("roster") << QStringList{"import", folder_.filePath("absent.marram"), "Ann", "x.fit"};
    }
    void unusableInputIsThreeInOneLine() {
        QFETCH(QStringList, arguments);
        const Ran r = cli(arguments);
        QCOMPARE(r.code, 3);
        QVERIFY(r.out.isEmpty());
        QCOMPARE(r.err.count('\n'), 1);
        QVERIFY(!QFile::exists(folder_.filePath("never.lp")) && !QFile::exists(folder_.filePath("never")));
    }
    void scorePrintsEveryFigure() {
        const Ran r = cli({"score", QString(TEST_DATA) + "/gapped-intervals.fit", "--threshold-power", "250",
                           "--threshold-hr", "170", "--rest-hr", "50", "--max-hr", "190", "--sex", "male"});
        QCOMPARE(r.code, 0);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        for (const char* key :
             {"start", "duration_s", "distance_m", "work_kj", "mean_power_w", "equivalent_power_w",
              "relative_intensity", "stress", "stress_method", "training_impulse", "mean_hr_bpm",
              "max_hr_bpm", "efficiency", "drift_percent", "band_seconds", "zone_seconds"})
            QVERIFY2(o.contains(key) && !o[key].isNull(), key);
        QVERIFY(std::abs(o["stress"].toDouble() - 95.0048) < 1e-4);
        QCOMPARE(o["stress_method"].toString(), QString("power"));
        QCOMPARE(o["zone_seconds"].toArray().size(), 7);
    }
    void whatARecordingLacksIsNull() {
        const QString csv = save(folder_.filePath("hr.csv"),
                                 "time,heart_rate\n2027-01-04T09:00:00Z,140\n2027-01-04T09:00:01Z,141\n");
        const QJsonObject o =
            QJsonDocument::fromJson(cli({"score", csv, "--threshold-power", "250"}).out).object();
        for (const char* key :
             {"distance_m", "work_kj", "mean_power_w", "equivalent_power_w", "stress", "stress_method",
              "training_impulse", "efficiency", "drift_percent", "band_seconds"})
            QVERIFY2(o.contains(key) && o[key].isNull(), key);
        QCOMPARE(cli({"curve", csv}).code, 3);
    }
    void curveEndsAtTheRidesLength() {
        const QList<QByteArray> lines =
            cli({"curve", QString(TEST_DATA) + "/gapped-intervals.fit"}).out.trimmed().split('\n');
        QCOMPARE(lines.front(), QByteArray("duration_s,power_w"));
        QVERIFY(lines.back().startsWith("4510,"));
        QVERIFY(lines.size() > 150);
    }
    void modelFillsMissingDaysWithZero() {
        const QString csv =
            save(folder_.filePath("daily.csv"), "date,stress\n2027-02-27,100\n2027-03-02,50\n");
        const QList<QByteArray> lines =
            cli({"model", csv, "--fitness", "40", "--fatigue", "30"}).out.trimmed().split('\n');
        QCOMPARE(lines.size(), 5);
        QVERIFY(lines[2].startsWith("2027-02-28,0,"));
        const QList<QByteArray> first = lines[1].split(',');
        QCOMPARE(first[4].toDouble(), 10.0);
        QVERIFY(std::abs(first[2].toDouble() - (40 * std::exp(-1 / 42.0) + 100 * (1 - std::exp(-1 / 42.0)))) <
                1e-12);
    }
    void planWritesWhatItPrints() {
        const QString in = save(folder_.filePath("season.json"), season), out = folder_.filePath("plan"),
                      lp = folder_.filePath("season.lp");
        const Ran r = cli({"plan", in, "--out", out, "--lp", lp});
        QCOMPARE(r.code, 0);
        QFile file(out + "/plan.json"), text(lp);
        QVERIFY(file.open(QIODevice::ReadOnly) && text.open(QIODevice::ReadOnly));
        QCOMPARE(file.readAll(), r.out);
        QVERIFY(text.readAll().contains("Subject To"));
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        QCOMPARE(o["days"].toArray().size(), 266);
        QVERIFY(o["limits"].toArray().size() >= 1);
    }
    void aSessionIsReadCountedAndWrittenAsAWorkout() {
        const QString fit = folder_.filePath("w.fit");
        const Ran r = cli({"session", "15 min 50 to 90, 3 x 8min 106% with 5 min 50 between, 10 min 50",
                           "--threshold-power", "250", "--fit", fit});
        QCOMPARE(r.code, 0);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        QCOMPARE(o["shorthand"].toString(),
                 QString::fromUtf8("15 min 50 to 90, 3 × 8 min 106 with 5 min 50 between, 10 min 50"));
        QCOMPARE(o["seconds"].toInt(), 3540);
        // Check value of the design
        QVERIFY(std::abs(o["stress"].toDouble() - 76.28) < 0.006);
        QCOMPARE(o["purpose_seconds"].toObject()["high"].toInt(), 2040);
        QCOMPARE(o["zone_seconds"].toArray().size(), 7);
        const QJsonArray steps = o["steps"].toArray();
        QCOMPARE(steps.size(), 7);
        QCOMPARE(steps[1].toObject()["set"].toInt(), 1);
        QVERIFY(steps[2].toObject()["set"].toInt() == 1 && !steps[2].toObject()["work"].toBool());
        // Work: the mean target of every step, over its length.
        const double work = 250 * (0.7 * 900 + 3 * 1.06 * 480 + 2 * 0.5 * 300 + 0.5 * 600) / 1000;
        QVERIFY(std::abs(o["work_kj"].toDouble() - work) < 1e-6);
        QVERIFY(QFileInfo(fit).size() > 300);
        QVERIFY(QJsonDocument::fromJson(cli({"session", "20 min 65"}).out).object()["work_kj"].isNull());
        const Ran wrong = cli({"session", "20 min 65, 8 m 50"});
        QCOMPARE(wrong.code, 3);
        QCOMPARE(wrong.err, QByteArray("character 14: \"m\" could be metres or minutes; write min\n"));
        QVERIFY(wrong.out.isEmpty());
    }
    void aBlockGivesEveryDayItsSession() {
        QFile file(folder_.filePath("block.json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(season);
        file.close();
        const QString fits = folder_.filePath("fits"), ics = folder_.filePath("block.ics");
        const Ran r = cli({"block", file.fileName(), "--from", "2027-05-03", "--fit", fits, "--ics", ics});
        QCOMPARE(r.code, 0);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        const QJsonArray weeks = o["weeks"].toArray();
        QCOMPARE(weeks.size(), 4);
        QVERIFY(o["unmet"].toArray().isEmpty());
        int ridden = 0;
        for (const auto& each : weeks) {
            const QJsonObject week = each.toObject();
            double stress = 0;
            for (const auto& s : week["sessions"].toArray()) {
                stress += s.toObject()["stress"].toDouble();
                ridden += s.toObject()["shorthand"].isString() ? 1 : 0;
                for (const char* key : {"date", "role", "family", "title", "why"})
                    QVERIFY2(!s.toObject()[key].toString().isEmpty(), key);
            }
            const QJsonObject sum = week["sum"].toObject(), target = week["target"].toObject();
            QVERIFY(std::abs(stress - sum["stress"].toDouble()) < 1e-9);
            QVERIFY(std::abs(stress / target["stress"].toDouble() - 1) <= 0.03);
        }
        QVERIFY(ridden >= 18);
        QCOMPARE(QDir(fits).entryList({"*.fit"}).size(), ridden);
        QFile calendar(ics);
        QVERIFY(calendar.open(QIODevice::ReadOnly));
        QVERIFY(calendar.readAll().count("BEGIN:VEVENT") >= ridden);
        // Refused in a line, and nothing is written.
        for (const auto& [arguments, part] :
             {std::pair{QStringList{"--from", "2027-05-04"}, "Monday"},
              {QStringList{"--from", "2031-05-05"}, "outside"},
              {QStringList{"--from", "2027-05-03", "--weeks", "0"}, "1 to"},
              {QStringList{"--from", "2027-05-03", "--done", file.fileName()}, "list"}}) {
            const Ran wrong = cli(QStringList{"block", file.fileName()} + arguments);
            QCOMPARE(wrong.code, 3);
            QVERIFY2(wrong.err.contains(part) && wrong.err.count('\n') == 1, wrong.err.constData());
        }
    }
    void calendarsAreExportedForEveryRider() {
        const QString roster = demo(), out = folder_.filePath("ics");
        QCOMPARE(cli({"export", roster, "--ics", out}).code, 0);
        const QStringList files = QDir(out).entryList({"*.ics"});
        QCOMPARE(files.size(), 6);
        // What to do on the days ahead is in it, in words.
        QFile first(QDir(out).filePath(files.front()));
        QVERIFY(first.open(QIODevice::ReadOnly));
        const QByteArray calendar = first.readAll().replace("\r\n ", "").replace("\\,", ",");
        QVERIFY(calendar.contains("DESCRIPTION:Endurance: "));
        QVERIFY(calendar.contains("Over-unders: 15 min 50 to 90, "));
    }
    void compareGivesWhatPlanGivesForEachVariant() {
        const QString in = save(folder_.filePath("season.json"), season);
        const QString rules = save(folder_.filePath("pol.json"), R"({"school": "polarised", "taper_d": 10})");
        const QString races =
            save(folder_.filePath("two.json"),
                 R"({"races": [{"name": "Point", "date": "2027-09-12", "priority": "A", "stress": 200},
                                                 {"name": "Eve", "date": "2027-06-06", "priority": "B"}]})");
        const Ran r = cli({"compare", in, rules, races});
        QCOMPARE(r.code, 0);
        const QList<QByteArray> lines = r.out.trimmed().split('\n');
        QCOMPARE(lines.size(), 4);
        const QList<QByteArray> head = lines[0].split(',');
        QCOMPARE(head[0], QByteArray("variant"));
        QVERIFY(lines[1].startsWith("as it is,") && lines[2].startsWith("pol,") &&
                lines[3].startsWith("two,"));
        QVERIFY(head.contains("fitness Point") && head.contains("gate_miss Eve"));
        // The variant merged by hand and planned
        QByteArray merged = season;
        merged.replace("\"races\"", "\"rules\": {\"school\": \"polarised\", \"taper_d\": 10}, \"races\"");
        const QJsonObject plan =
            QJsonDocument::fromJson(cli({"plan", save(folder_.filePath("merged.json"), merged)}).out)
                .object();
        const double fitness = plan["races"].toArray()[0].toObject()["fitness"].toDouble();
        QVERIFY(std::abs(lines[2].split(',')[head.indexOf("fitness Point")].toDouble() - fitness) < 1e-9);
        double hours = 0;
        for (const QJsonValue& w : plan["weeks"].toArray())
            hours += w.toObject()["hours"].toDouble();
        QVERIFY(std::abs(lines[2].split(',')[1].toDouble() - hours) < 1e-6);
        QVERIFY(lines[1].endsWith(",,,")); // no Eve in the season as it is
        const Ran wrong = cli({"compare", in, save(folder_.filePath("no.json"), R"({"colour": "red"})")});
        QVERIFY(wrong.code == 3 && wrong.err.contains("colour") && wrong.out.isEmpty());
    }
    void chanceIsTheSameForTheSameSeed() {
        const QString in = save(folder_.filePath("season.json"), season);
        const QStringList ask{"chance", in, "--miss", "0.1", "--ill-per-year", "2", "--seasons", "500"};
        const Ran a = cli(ask), b = cli(ask), other = cli(ask + QStringList{"--seed", "9"});
        QVERIFY(a.code == 0 && a.out == b.out && a.out != other.out);
        const QJsonObject race = QJsonDocument::fromJson(a.out).object()["races"].toArray()[0].toObject();
        QVERIFY(race["closed"].toObject()["fitness_sd"].toDouble() > 0.5);
        QVERIFY(race["simulated"].toObject()["in_gate"].toDouble() <= 1);
        QCOMPARE(cli({"chance", in, "--miss", "2"}).code, 3);
    }
    void aCourseSaysWhatItAsks() {
        QByteArray gpx = "<gpx version=\"1.1\"><rte>";
        for (int i = 0; i <= 200; ++i)
            gpx += "<rtept lat=\"" + QByteArray::number(40 + i * 50 / 111194.9266, 'f', 8) +
                   "\" lon=\"5\"><ele>" + QByteArray::number(100 + 2.5 * i) + "</ele></rtept>";
        const QString file = save(folder_.filePath("climb.gpx"), gpx + "</rte></gpx>");
        const Ran r = cli({"course", file, "--threshold-power", "300", "--mass", "80", "--crr", "0.004",
                           "--density", "1.2", "--intensity", "1"});
        QCOMPARE(r.code, 0);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        // Martin et al. 1998, worked: 10 km of 5 % at 300 W and 5.899 m/s
        QVERIFY(std::abs(o["duration_s"].toDouble() - 10000 * std::sqrt(1.0025) / 5.899) < 2);
        QVERIFY(std::abs(o["distance_m"].toDouble() - 10000) < 1 &&
                std::abs(o["climb_m"].toDouble() - 500) < 0.5);
        QCOMPARE(o["climbs"].toArray().size(), 1);
        const Ran flat = cli({"course",
                              save(folder_.filePath("flat.gpx"),
                                   "<gpx><trk><trkseg><trkpt lat=\"1\" lon=\"1\"/><trkpt lat=\"1.1\" "
                                   "lon=\"1\"/></trkseg></trk></gpx>"),
                              "--threshold-power", "300", "--mass", "80"});
        QVERIFY(flat.code == 3 && flat.err.contains("heights"));
    }
    void demoAndImportWorkTogether() {
        const QString roster = folder_.filePath("imported.marram");
        QVERIFY(QFile::copy(demo(), roster));
        QCOMPARE(cli({"demo", "--out", roster}).code, 3);
        const QString fit = save(folder_.filePath("new.fit"), fitOf(4000, 1));
        const Ran wrong = cli({"import", roster, "Nobody", fit});
        QVERIFY(wrong.code == 3 && wrong.err.contains("Nell Varrowby"));
        QVERIFY(cli({"import", roster, "Nell Varrowby", fit}).out.startsWith("1 added"));
        QVERIFY(cli({"import", roster, "Nell Varrowby", fit}).out.contains("1 there already"));
    }
    void theSimulatedBikeComputerLeavesAFile() {
        const Ran r = cli({folder_.filePath("device"), "--hours", "0.5", "--start",
                           "2027-01-04T09:30:00+01:00", "--seed", "9"},
                          "/marram-headunit");
        QCOMPARE(r.code, 0);
        QVERIFY(r.out.trimmed().endsWith("2027-01-04-093000.fit"));
        QCOMPARE(cli({"score", QString::fromUtf8(r.out.trimmed()), "--threshold-power", "250"}).code, 0);
        QCOMPARE(cli({folder_.filePath("device"), "--start", "soon"}, "/marram-headunit").code, 3);
    }

    void aRosterGoesOutAndComesBackByteForByte() {
        const QString roster = demo(), first = folder_.filePath("first"), second = folder_.filePath("second"),
                      copy = folder_.filePath("copy.marram");
        const Ran out = cli({"export", roster, "--json", first, "--csv", first});
        QVERIFY2(out.code == 0 && out.out.isEmpty(), out.err.constData());
        const Ran in = cli({"bring", copy, first + "/roster.json"});
        QVERIFY2(in.code == 0 && in.out == "6 riders added\n", in.err.constData());
        QCOMPARE(cli({"export", copy, "--json", second}).code, 0);
        QDir a(first + "/riders");
        const QStringList riders = a.entryList(QDir::Files);
        QCOMPARE(riders.size(), 6);
        for (const QString& name : riders + QStringList{"../roster.json"}) {
            QFile x(first + "/riders/" + name), y(second + "/riders/" + name);
            QVERIFY(x.open(QIODevice::ReadOnly) && y.open(QIODevice::ReadOnly));
            QVERIFY2(x.readAll() == y.readAll(), qPrintable(name));
        }
        QCOMPARE(QDir(first + "/originals").entryList(QDir::Files),
                 QDir(second + "/originals").entryList(QDir::Files));
        // The tables name every rider and hold every ride.
        QFile rides(first + "/rides.csv");
        QVERIFY(rides.open(QIODevice::ReadOnly));
        QCOMPARE(rides.readAll().count('\n') - 1, QDir(first + "/originals").entryList(QDir::Files).size());
        for (const QString& file : {first + "/roster.json", first + "/rides.csv", copy})
            QVERIFY(!(QFile::permissions(file) & (QFile::ReadGroup | QFile::ReadOther)));
    }
    void exportsAndBringsThatCannotBeAreRefused() {
        const QString nothing = folder_.filePath("nothing.marram"), bad = folder_.filePath("bad.json");
        QCOMPARE(cli({"export", nothing}).code, 2);
        QCOMPARE(cli({"export", nothing, "--json", folder_.filePath("x")}).code, 3);
        QVERIFY(!QFile::exists(folder_.filePath("x")));
        save(bad, "{\"format\": \"a shopping list\"}");
        const Ran r = cli({"bring", nothing, bad});
        QVERIFY(r.code == 3 && r.out.isEmpty() && r.err.startsWith(bad.toUtf8()) && r.err.count('\n') == 1);
        QVERIFY(!QFile::exists(nothing)); // a refusal leaves no empty roster behind
    }
    void heartRateAloneScoresWithItsImpulse() {
        QByteArray csv = "seconds,heart_rate\n";
        for (int t = 0; t < 3600; ++t)
            csv += QByteArray::number(t) + ",165\n";
        const Ran r = cli({"score", save(folder_.filePath("hr.csv"), csv), "--threshold-power", "250",
                           "--threshold-hr", "165", "--rest-hr", "50", "--max-hr", "190", "--sex", "male"});
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        QCOMPARE(o["stress_method"].toString(), QString("heart_rate"));
        QVERIFY(std::abs(o["stress"].toDouble() - 100) < 1e-9);
        // Banister's impulse of an hour by hand: 60 × x × 0.64·e^(1.92x) with x = 115/140
        const double x = 115.0 / 140;
        QVERIFY(std::abs(o["training_impulse"].toDouble() - 60 * x * 0.64 * std::exp(1.92 * x)) < 1e-9);
        QVERIFY(o["mean_power_w"].isNull() && o["zone_seconds"].isNull() && o["effort"].isNull());
    }
    void learnReadsValuesOutOfAFolder() {
        QDir(folder_.path()).mkpath("rides/older");
        for (int day = 0; day < 12; ++day)
            save(folder_.filePath(QString("rides/older/%1.fit").arg(day)),
                 fitOf(3 * day, 1.5, static_cast<std::uint64_t>(day + 1)));
        save(folder_.filePath("rides/broken.fit"), QByteArray(500, '\0'));
        save(folder_.filePath("rides/route.gpx"), "<gpx><trk><trkseg/></trk></gpx>");
        const Ran r = cli({"learn", "values", folder_.filePath("rides")});
        QVERIFY2(r.code == 0, r.err);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        QCOMPARE(o["rides"].toInt(), 12);
        QCOMPARE(o["left_out"].toArray().size(), 2);
        QVERIFY(o["max_hr_bpm"].isNull() && o["threshold_hr_bpm"].toArray().isEmpty());
        QCOMPARE(o["hours"].toArray().size(), 7);
        QVERIFY(std::abs(o["longest_ride_h"].toDouble() - 1.5) < 0.1);
        const QJsonArray power = o["threshold_power_w"].toArray();
        QVERIFY(!power.isEmpty());
        for (const auto& v : power) { // easy rides say only what it is at least
            const QJsonObject t = v.toObject();
            QVERIFY(t["at_least"].toBool() && t["high"].isNull() && t["low"] == t["value"]);
            QVERIFY(t["value"].toDouble() < 250 && !t["rides"].toArray().isEmpty());
        }
        QCOMPARE(cli({"learn", "values", folder_.filePath("nothing")}).code, 3);
    }
    void learnAnswersFromTables_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QByteArray>("csv");
        QTest::addColumn<QStringList>("has");
        QTest::addRow("gate") << QStringList{"gate"}
                              << QByteArray("form,result_percent\n10,100\n12,101\n15,99\n5,98\n")
                              << QStringList{"optimum", "width_ratio", "yours", "why"};
        QTest::addRow("before") << QStringList{"before"}
                                << QByteArray("date,maximal,best,form\n2027-01-04,1,0,3\n2027-01-11,1,1,9\n")
                                << QStringList{"findings", "cannot_tell", "why"};
        QTest::addRow("change") << QStringList{"change", "--split", "2027-02-01"}
                                << QByteArray(
                                       "date,duration_s,power_w\n2027-01-04,300,300\n2027-01-05,300,302\n"
                                       "2027-01-06,300,301\n2027-03-04,300,305\n2027-03-05,300,306\n"
                                       "2027-03-06,300,304\n")
                                << QStringList{"durations"};
        QTest::addRow("habits") << QStringList{"habits"}
                                << QByteArray("date,planned,done\n2027-01-04,60,0\n2027-01-05,60,58\n")
                                << QStringList{"weekdays", "run", "differences"};
    }
    void learnAnswersFromTables() {
        QFETCH(QStringList, arguments);
        QFETCH(QByteArray, csv);
        QFETCH(QStringList, has);
        const QString file = save(folder_.filePath(arguments[0] + ".csv"), csv);
        QStringList whole = QStringList{"learn", arguments[0], file} + arguments.mid(1);
        const Ran r = cli(whole);
        QVERIFY2(r.code == 0, r.err);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        for (const QString& key : has)
            QVERIFY2(o.contains(key), qPrintable(key));
        QCOMPARE(cli(whole).out, r.out); // the same question, the same answer
        // A cell that is none: one line with file and place, and nothing printed.
        save(file, csv + "never,1,2,3\n");
        const Ran bad = cli(whole);
        QVERIFY(bad.code == 3 && bad.out.isEmpty() && bad.err.count('\n') == 1);
        QVERIFY2(bad.err.contains(file.toUtf8()) && bad.err.contains("line "), bad.err);
        save(file, "a,b\n1,2\n");
        QVERIFY(cli(whole).err.contains("line 1: the header should name"));
    }
    void learnForecastsWithABandAroundTheAnswer() {
        QByteArray daily = "date,stress\n", results = "date,value\n";
        const Date first = *parseDate("2026-01-05");
        for (int d = 0; d < 400; ++d) {
            const QByteArray day = QByteArray::fromStdString(isoText(first + d));
            daily += day + "," + QByteArray::number(d % 7 == 0 ? 0 : 60 + d % 40) + "\n";
            if (d > 42 && d < 330 && d % 14 == 0)
                results += day + "," + QByteArray::number(300 + d % 5) + "\n";
        }
        const QString all = save(folder_.filePath("daily.csv"), daily),
                      some = save(folder_.filePath("results.csv"), results);
        const Ran r = cli({"learn", "response", all, some, "--at", "2027-01-25"});
        QVERIFY2(r.code == 0, r.err);
        const QJsonObject o = QJsonDocument::fromJson(r.out).object();
        const QJsonObject f = o["forecast"].toArray()[0].toObject();
        QVERIFY(f["result_low"].toDouble() < f["low"].toDouble() &&
                f["low"].toDouble() < f["value"].toDouble() && f["value"].toDouble() < f["high"].toDouble() &&
                f["high"].toDouble() < f["result_high"].toDouble());
        QVERIFY(o["enough"].isBool() && !o["why"].toString().isEmpty() && o["score"].isObject());
        QVERIFY(cli({"learn", "response", all, some, "--at", "2029-01-25"}).code == 3);
    }
    void aRosterIsCheckedCopiedAndRestored() {
        const QString path = folder_.filePath("kept.marram");
        QVERIFY(QFile::copy(demo(), path));
        QCOMPARE(cli({"check", path}).code, 0);
        QCOMPARE(cli({"backup", path}).code, 0);
        const QByteArray listed = cli({"backup", path, "--list"}).out;
        QCOMPARE(listed.count('\n'), 1);
        const QString day = QString::fromUtf8(listed.left(10)), back = folder_.filePath("back.marram");
        QCOMPARE(cli({"backup", path, "--restore", day, "--to", back}).code, 0);
        QCOMPARE(cli({"check", back}).code, 0);
        QCOMPARE(cli({"backup", path, "--restore", day, "--to", back}).code, 3); // never over a file
        QCOMPARE(cli({"backup", path, "--restore", "2001-01-01", "--to", back + "2"}).code, 3);
        // A recording that is not what came in is found.
        QFile file(back);
        QVERIFY(file.open(QIODevice::ReadWrite));
        const qint64 middle = file.size() / 2;
        file.seek(middle);
        file.write(QByteArray(4096, 'x'));
        file.close();
        const Ran found = cli({"check", back});
        QVERIFY(found.code == 3 && !(found.out + found.err).isEmpty());
    }
    void longerRunsOfMissedDaysSpreadFurther() {
        const QString file = save(folder_.filePath("runs.json"), season);
        const auto spread = [&](const QStringList& more) {
            const Ran r = cli(QStringList{"chance", file, "--seasons", "2000"} + more);
            return QJsonDocument::fromJson(r.out)["races"][0]["closed"]["form_sd"].toDouble();
        };
        QVERIFY(spread({"--run", "1"}) < spread({"--run", "2"}) &&
                spread({"--run", "2"}) < spread({"--run", "5"}));
    }
    void schoolsAtEqualStressAreComparedAtEqualStress() {
        const QString file = save(folder_.filePath("equal.json"), season),
                      rules = save(folder_.filePath("even.json"), R"({"school": "even"})");
        const QByteArrayList lines =
            cli({"compare", file, rules, "--equal-stress"}).out.trimmed().split('\n');
        QCOMPARE(lines.size(), 3);
        const QByteArrayList head = lines[0].split(',');
        for (const char* name : {"high_min_a_week", "monotony", "strain", "chance Point",
                                 "fitness Point at equal stress", "hours at equal stress"})
            QVERIFY2(head.contains(name), name);
        const auto of = [&](int row, const char* name) {
            return lines[row].split(',')[head.indexOf(name)].toDouble();
        };
        // S28: at equal stress schools differ little; in hours they may
        QVERIFY(std::abs(of(1, "fitness Point at equal stress") - of(2, "fitness Point at equal stress")) <
                2);
        QVERIFY(of(1, "hours at equal stress") != of(2, "hours at equal stress"));
    }
    void aLetterLooksBackOnAWeek() {
        const QString roster = demo();
        const Date now = parseDate(QDate::currentDate().toString(Qt::ISODate).toStdString()).value();
        const QString week = QString::fromStdString(isoText(monday(now) - 7));
        const QString page = folder_.filePath("letter.pdf");
        const Ran one = cli({"letter", roster, "Wenna Strake", "--week", week, "--pdf", page});
        QVERIFY2(one.code == 0 && one.err.isEmpty(), one.err);
        QVERIFY(one.out.startsWith("Wenna Strake\nWeek of "));
        for (const char* part : {"\nThe week\n", "\nWhat it did\n", "\nWhat comes\n", "Monday ", "Sunday "})
            QVERIFY2(one.out.contains(part), part);
        QFile pdf(page);
        QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.readAll().startsWith("%PDF"));
        const QString all = folder_.filePath("letters");
        const Ran every = cli({"letter", roster, "--all", all, "--week", week});
        QVERIFY2(every.code == 0, every.err);
        QCOMPARE(QDir(all).entryList({"*.txt"}).size(), 6);
        QFile same(QDir(all).filePath(QDir(all).entryList({"*wenna*"}).value(0)));
        QVERIFY(same.open(QIODevice::ReadOnly));
        QCOMPARE(same.readAll(), one.out);
        // Refused, in one line, with nothing written.
        QCOMPARE(cli({"letter", roster, "--week", week}).code, 2);
        for (const QStringList& wrong :
             {QStringList{"letter", roster, "Nobody", "--week", week},
              {"letter", roster, "Wenna Strake", "--week", "2026-11-17"},
              {"letter", roster, "Wenna Strake", "--week", "2199-01-07"},
              {"letter", roster, "Wenna Strake", "--week", "soon"},
              {"letter", folder_.filePath("none.marram"), "Wenna Strake", "--week", week}}) {
            const Ran r = cli(wrong);
            QVERIFY2(r.code == 3 && r.out.isEmpty() && r.err.count('\n') == 1, r.err);
        }
        QVERIFY(!QFile::exists(folder_.filePath("none.marram")));
    }
    void aSquadIsItsRidersByDaysAndByRaces() {
        const QString roster = demo();
        const Date now = parseDate(QDate::currentDate().toString(Qt::ISODate).toStdString()).value();
        const Ran races = cli({"squad", roster, "--group", "Road"});
        QVERIFY2(races.code == 0, races.err);
        const QByteArrayList lines = races.out.trimmed().split('\n');
        QCOMPARE(lines[0], QByteArray("rider,race,date,fitness,form,gate_low,gate_high,chance"));
        QVERIFY(lines.size() >= 4 && races.out.contains("Nell Varrowby,") && !races.out.contains("Pim"));
        const QString week = QString::fromStdString(isoText(monday(now) + 7));
        const QString page = folder_.filePath("squad.pdf");
        const Ran days =
            cli({"squad", roster, "--group", "Road", "--from", week, "--weeks", "2", "--pdf", page});
        QVERIFY2(days.code == 0, days.err);
        const QByteArrayList rows = days.out.trimmed().split('\n');
        QCOMPARE(rows[0], QByteArray("rider,date,role,family,title,minutes,stress"));
        QCOMPARE(days.out.count("Nell Varrowby,"), 14);
        QFile pdf(page);
        QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.readAll().startsWith("%PDF"));
        // What is said to one rider is said to the squad: the calendar has the same sessions.
        const QString calendars = folder_.filePath("squad-ics");
        QCOMPARE(cli({"export", roster, "--ics", calendars}).code, 0);
        QFile calendar(QDir(calendars).filePath(QDir(calendars).entryList({"*nell*"}).value(0)));
        QVERIFY(calendar.open(QIODevice::ReadOnly));
        const QByteArray events = calendar.readAll();
        for (const QByteArray& row : rows)
            if (row.startsWith("Nell Varrowby,") && row.contains(",endurance,"))
                QVERIFY2(events.contains("DTSTART;VALUE=DATE:" + row.split(',')[1].replace("-", "")), row);
        for (const QStringList& wrong :
             {QStringList{"squad", roster, "--group", "Nobody's"},
              {"squad", roster, "--group", "Road", "--from", "2026-12-01"},
              {"squad", roster, "--group", "Road", "--from", week, "--weeks", "0"}}) {
            const Ran r = cli(wrong);
            QVERIFY2(r.code == 3 && r.out.isEmpty() && r.err.count('\n') == 1, r.err);
        }
        QCOMPARE(cli({"squad", roster}).code, 2);
    }
    void sessionsGivenOutStay() {
        const QString file = save(folder_.filePath("given.json"), season);
        const Ran first = cli({"block", file, "--from", "2027-03-01", "--weeks", "4"});
        QCOMPARE(first.code, 0);
        const QString meant = save(folder_.filePath("meant.json"), first.out);
        const Ran again = cli({"block", file, "--from", "2027-03-08", "--weeks", "3", "--meant", meant});
        QVERIFY2(again.code == 0, again.err);
        const auto sessions = [](const QByteArray& json, int from) {
            QStringList all;
            const QJsonArray weeks = QJsonDocument::fromJson(json).object()["weeks"].toArray();
            for (qsizetype w = from; w < weeks.size(); ++w)
                for (const auto& s : weeks[w].toObject()["sessions"].toArray())
                    all << s.toObject()["date"].toString() + s.toObject()["shorthand"].toString();
            return all;
        };
        QCOMPARE(sessions(again.out, 0), sessions(first.out, 1));
    }
};

MARRAM_SUITE(CliTest)
#include "tst_cli.moc"
