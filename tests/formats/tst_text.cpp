// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/score.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/gpx/gpx.h"
#include "formats/json/score_json.h"
#include "formats/json/season_json.h"
#include "formats/recording/recording.h"
#include "support/suite.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QTest>
#include <cmath>

using namespace marram;

namespace {

const char* const goodSeason = R"({ "start": "2027-01-04", "end": "2027-09-26",
  "rider": { "threshold_power_w": 250, "fitness": 45, "fatigue": 44, "hours": [0, 1.5, 1.5, 1, 0, 4, 3],
             "low_threshold": 0.75, "tau_fitness_d": 40, "tau_fatigue_d": 8 },
  "rules": { "rhythm": [2, 1], "ramp": 5, "form_floor": -25, "deload": 0.6, "taper_d": 10, "hard_days": 3,
             "school": {"base": [80, 15, 5], "build": [75, 15, 10]}, "order": "mixed" },
  "races": [ { "name": "Point", "date": "2027-09-19", "priority": "A", "stress": 260, "days": 2, "gate": [15, 25], "demand": "stage" } ],
  "weeks": [ { "start": "2027-03-01", "hours": [0,0,0,0,0,2,2], "kind": "deload" } ],
  "away": [ { "from": "2027-05-10", "to": "2027-05-16", "why": "camp", "stress": 900 } ] })";

} // namespace

class TextTest : public QObject {
    Q_OBJECT
private slots:
    void csvIsReadByHeaderName_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("seconds") << QByteArray("seconds,power,heart_rate\n0,200,140\n1,210,141\n2,,142\n");
        QTest::newRow("units, order, case")
            << QByteArray("Heart Rate_bpm,Time_s,POWER_W\n140,0,200\n141,1,210\n142,2,\n");
        QTest::newRow("iso") << QByteArray("time,power,hr\n2027-01-04T09:00:00Z,200,140\n2027-01-04T09:00:"
                                           "01Z,210,141\n2027-01-04T09:00:02Z,,142\n");
        QTest::newRow("offset") << QByteArray("time,power,hr\n2027-01-04T10:00:00+01:00,200,140\n2027-01-"
                                              "04T10:00:01+01:00,210,141\n2027-01-04T10:00:02+01:00,,142\n");
        QTest::newRow("semicolons") << QByteArray(
            "time;power;hr;extra\r\n0;200,0;140;x\r\n1;210,0;141;y\r\n2;;142;z\r\n");
        QTest::newRow("tabs and BOM")
            << QByteArray("\xEF\xBB\xBFt\tpower\thr\n0\t200\t140\n1\t210\t141\n2\t\t142\n");
    }
    void csvIsReadByHeaderName() {
        QFETCH(QByteArray, text);
        const auto r = readCsvRecording(text);
        QVERIFY2(r.has_value(), r ? "" : r.error().sentence.c_str());
        QCOMPARE(r->samples.size(), 3U);
        QCOMPARE(r->samples[1].power, 210.0F);
        QVERIFY(std::isnan(r->samples[2].power));
        QCOMPARE(r->samples[2].heartRate, 142.0F);
        QCOMPARE(r->samples[2].time - r->samples[0].time, 2.0);
    }
    void badCsvIsRefusedWithItsLine_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("part");
        QTest::newRow("no time") << QByteArray("power,hr\n1,2\n") << "line 1";
        QTest::newRow("nothing known") << QByteArray("time,colour\n1,2\n") << "line 1";
        QTest::newRow("not a number") << QByteArray("time,power\n0,200\n1,many\n") << "line 3";
        QTest::newRow("nan") << QByteArray("time,power\n0,nan\n") << "line 2";
        QTest::newRow("cells") << QByteArray("time,power\n0,200,7\n") << "line 2";
        QTest::newRow("time") << QByteArray("time,power\nyesterday,200\n") << "line 2";
        QTest::newRow("header only") << QByteArray("time,power\n") << "no rows";
    }
    void badCsvIsRefusedWithItsLine() {
        QFETCH(QByteArray, text);
        QFETCH(QString, part);
        const auto r = readCsvRecording(text);
        QVERIFY(!r);
        QVERIFY2(r.error().sentence.find(part.toStdString()) != std::string::npos,
                 r.error().sentence.c_str());
    }
    void dailyStressIsReadAndSummed() {
        const auto days = readDailyStress("date,stress\n2027-01-04,50\n2027-01-06,20.5\n2027-01-04,10\n");
        QVERIFY(days);
        QCOMPARE(days->at(parseDate("2027-01-04").value()), 60.0);
        for (const char* bad :
             {"date,stress\n2027-02-30,5\n", "date,stress\n2027-01-04,-5\n", "date,stress\n2027-01-04,inf\n",
              "when,what\n", "date,stress\n", "date,stress\n1930-01-01,1\n2150-01-01,1\n"})
            QVERIFY2(!readDailyStress(bad), bad);
    }
    void cellsOfATableAreReadAsTheyStand_data() {
        QTest::addColumn<QByteArray>("row");
        QTest::addColumn<QByteArrayList>("cells");
        QTest::addColumn<int>("line");
        const QByteArrayList two{"a", "b"};
        // RFC 4180, with blanks round what is not quoted left out.
        QTest::newRow("plain") << QByteArray("a,b") << two << 1;
        QTest::newRow("blanks") << QByteArray(" a , b ") << two << 1;
        QTest::newRow("quoted") << QByteArray("\"a\",\"b\"") << two << 1;
        QTest::newRow("quoted after blanks") << QByteArray("  \"a\"  ,b") << two << 1;
        QTest::newRow("a comma in quotes") << QByteArray("\"a,b\",c") << QByteArrayList{"a,b", "c"} << 1;
        QTest::newRow("a quote twice")
            << QByteArray("\"a \"\"b\"\"\",c") << QByteArrayList{"a \"b\"", "c"} << 1;
        QTest::newRow("nothing but quotes") << QByteArray("\"\",\"\"\"\"") << QByteArrayList{"", "\""} << 1;
        QTest::newRow("a line in quotes") << QByteArray("\"a\nb\",c") << QByteArrayList{"a\nb", "c"} << 2;
        QTest::newRow("a quote that never ends") << QByteArray("\"a,b") << QByteArrayList{"a,b"} << 1;
        QTest::newRow("behind the last quote") << QByteArray("\"a\"x,b") << two << 1;
        QTest::newRow("an empty last cell") << QByteArray("a,b,") << QByteArrayList{"a", "b", ""} << 1;
    }
    void cellsOfATableAreReadAsTheyStand() {
        QFETCH(QByteArray, row);
        QFETCH(QByteArrayList, cells);
        QFETCH(int, line);
        // Between two ordinary rows, so that one that goes too far takes of the next.
        CsvLines lines("x,y\n" + row + (row == "\"a,b" ? "" : "\nz,z\n"));
        QByteArrayList read;
        QVERIFY(lines.next(read));
        QCOMPARE(read, (QByteArrayList{"x", "y"}));
        QVERIFY(lines.next(read));
        QCOMPARE(read, cells);
        if (row == "\"a,b")
            return;
        QVERIFY(lines.next(read));
        QCOMPARE(read, (QByteArrayList{"z", "z"}));
        QCOMPARE(lines.line(), 2 + line);
        QVERIFY(!lines.next(read));
    }
    void aLapLastsAsLongAsItsNumber() {
        const auto laps = [](const char* rows) {
            const auto r = readCsvRecording(QByteArray("time,power,lap\n") + rows);
            std::vector<std::pair<double, double>> spans;
            if (r)
                for (const Lap& lap : r->laps)
                    spans.emplace_back(lap.start, lap.end);
            return spans;
        };
        using Spans = std::vector<std::pair<double, double>>;
        QCOMPARE(laps("0,200,1\n1,200,1\n2,200,2\n3,200,2\n"), (Spans{{0, 2}, {2, 4}}));
        QCOMPARE(laps("0,200,1\n1,200,2\n2,200,1\n"),
                 (Spans{{0, 1}, {1, 2}, {2, 3}}));                            // a number comes again
        QCOMPARE(laps("0,200,\n1,200,\n2,200,5\n3,200,\n"), (Spans{{2, 4}})); // none before the first
        QCOMPARE(laps("0,200,\n1,200,\n"), Spans{});
        QCOMPARE(laps("0,200,0\n1,200,0\n"), (Spans{{0, 2}})); // nought is a number
        QVERIFY(!readCsvRecording("time,power,lap\n0,200,first\n"));
        QVERIFY(!readCsvRecording("time,power\n0,hard\n"));
        QVERIFY(readCsvRecording("time,power,mood\n0,200,well\n")); // what is not known is not read
    }
    void gpxIsReadWithItsExtensionsByLocalName() {
        const auto r = readGpx(R"(<?xml version="1.0"?><gpx version="1.1" xmlns:a="urn:a"><trk><trkseg>
            <trkpt lat="10.0" lon="20.0"><ele>5</ele><time>2027-01-04T09:00:00Z</time><extensions><power>250</power><a:x><a:hr>150</a:hr><a:cad>90</a:cad></a:x></extensions></trkpt>
            <trkpt lat="10.001" lon="20.0"><time>2027-01-04T09:00:10Z</time></trkpt></trkseg></trk></gpx>)");
        QVERIFY2(r.has_value(), r ? "" : r.error().sentence.c_str());
        QCOMPARE(r->samples.size(), 2U);
        QCOMPARE(r->samples[0].power, 250.0F);
        QCOMPARE(r->samples[0].heartRate, 150.0F);
        // A thousandth of a degree along a meridian is 111.2 m on the mean sphere
        QVERIFY(std::abs(r->samples[1].distance - 111.2F) < 0.2F);
    }
    void hostileXmlIsRefused_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("entities") << QByteArray(
            "<!DOCTYPE g [<!ENTITY a 'aaaaaaaaaa'><!ENTITY b '&a;&a;&a;&a;'>]><gpx>&b;</gpx>");
        QTest::newRow("depth") << "<gpx>" + QByteArray("<a>").repeated(5000);
        QTest::newRow("unclosed") << QByteArray("<gpx><trk><trkseg><trkpt lat='1' lon='2'>");
        QTest::newRow("other") << QByteArray("<html></html>");
        QTest::newRow("no time") << QByteArray(
            "<gpx><trk><trkseg><trkpt lat='1' lon='2'/></trkseg></trk></gpx>");
        QTest::newRow("no place") << QByteArray(
            "<gpx><trk><trkseg><trkpt lat='x' lon='2'/></trkseg></trk></gpx>");
    }
    void hostileXmlIsRefused() {
        QFETCH(QByteArray, text);
        const auto r = readGpx(text);
        QVERIFY(!r);
        QVERIFY(!r.error().sentence.empty());
    }
    void recordingsAreKnownByContentNotByName() {
        QVERIFY(readRecording("time,power\n0,100\n"));
        QVERIFY(!readRecording(""));
        QVERIFY(!readRecording(QByteArray("\x00\x01\x02\x03zzzzzzzzzzzz", 16)));
        QVERIFY(!readWholeFile("/nowhere/at/all.fit"));
        QVERIFY(readWholeFile(TEST_DATA).error().sentence.find("folder") != std::string::npos);
    }
    void aScoreSurvivesJson() {
        Score s;
        s.start = 1800000000;
        s.duration = 3600;
        s.elapsed = 3700;
        s.stress = 64.123456789012345;
        s.method = StressMethod::HeartRate;
        s.bandSeconds = Bands{1, 2, 3};
        s.zoneSeconds = std::array<double, 7>{1, 2, 3, 4, 5, 6, 7};
        s.faults.power = 4;
        const Score back =
            scoreFrom(QJsonDocument::fromJson(QJsonDocument(writeScore(s)).toJson()).object()).value();
        QCOMPARE(back.start, s.start);
        QCOMPARE(*back.stress, *s.stress);
        QCOMPARE(back.method, s.method);
        QCOMPARE(back.bandSeconds->high, 3.0);
        QCOMPARE((*back.zoneSeconds)[6], 7.0);
        QCOMPARE(back.faults.power, 4);
        QVERIFY(!back.distance && !back.drift);
    }
    void aWholeSeasonIsRead() {
        const auto s = readSeason(goodSeason);
        QVERIFY2(s.has_value(), s ? "" : s.error().sentence.c_str());
        QCOMPARE(s->rules.buildWeeks, 2);
        QCOMPARE(s->rules.school, School::Own);
        QCOMPARE(s->rules.ownSplits.at(Phase::Base).low, 0.8);
        QCOMPARE(s->races[0].days, 2);
        QCOMPARE(s->weeks[0].kind.value(), WeekKind::Deload);
        QCOMPARE(s->away[0].stress.value(), 900.0);
        QCOMPARE(s->tau.fatigue, 8.0);
        const auto again = readRules(writeRules(s->rules), "rules");
        QVERIFY(again && again->ownSplits.at(Phase::Build).high == s->rules.ownSplits.at(Phase::Build).high &&
                again->ramp == 5);
    }
    void aBadSeasonIsRefusedByName_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("named");
        const auto row = [](const char* from, const char* to, const char* named) {
            QTest::newRow(to) << from << to << named;
        };
        row("\"fitness\": 45", "\"fitnes\": 45", "rider.fitnes");
        row("\"ramp\": 5", "\"rampe\": 5", "rules.rampe");
        row("\"demand\": \"stage\"", "\"colour\": 1", "races[0].colour");
        row("\"end\": \"2027-09-26\"", "\"end\": \"2027-02-30\"", "end");
        row("\"end\": \"2027-09-26\"", "\"end\": \"2026-09-26\"", "end");
        row("\"fitness\": 45", "\"fitness\": NaN", "line 2");
        row("\"fitness\": 45", "\"fitness\": 1e999", "");
        row("\"hours\": [0, 1.5, 1.5, 1, 0, 4, 3]", "\"hours\": [0, -1, 1.5, 1, 0, 4, 3]", "rider.hours");
        row("\"hours\": [0, 1.5, 1.5, 1, 0, 4, 3]", "\"hours\": [0, 1.5, 4, 3]", "rider.hours");
        row("\"hours\": [0, 1.5, 1.5, 1, 0, 4, 3]", "\"hours\": [0, 1.5, 1.5, 1, 0, 4, 25]", "rider.hours");
        row("\"priority\": \"A\"", "\"priority\": \"D\"", "races[0].priority");
        row("\"date\": \"2027-09-19\"", "\"date\": \"2028-09-19\"", "Point");
        row("\"gate\": [15, 25]", "\"gate\": [25, 15]", "gate");
        row("\"rhythm\": [2, 1]", "\"rhythm\": [0, 1]", "rules.rhythm");
        row("\"base\": [80, 15, 5]", "\"base\": [80, 15, 15]", "rules.school.base");
        row("\"why\": \"camp\"", "\"why\": \"sulking\"", "away[0].why");
        row("\"start\": \"2027-03-01\"", "\"start\": \"2027-03-02\"", "2027-03-02");
        row("\"threshold_power_w\": 250", "\"threshold_power_w\": \"250\"", "rider.threshold_power_w");
        row("\"races\": [", "\"races\": [], \"x\": [", "x");
    }
    void aBadSeasonIsRefusedByName() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, named);
        QString changed = goodSeason;
        QVERIFY(changed.contains(from));
        changed.replace(changed.indexOf(from), from.size(), to);
        const auto s = readSeason(changed.toUtf8());
        QVERIFY(!s);
        QVERIFY2(QString::fromStdString(s.error().sentence).contains(named), s.error().sentence.c_str());
    }
    void aSeasonNeedsNoRace() {
        const auto s = readSeason(
            R"({"start":"2027-01-04","end":"2027-09-26","rider":{"threshold_power_w":250,"hours":[0,1,1,1,0,3,2]},"races":[]})");
        QVERIFY(s && s->races.empty());
        const Plan plan = solveSeason(*s).plan;
        QVERIFY(plan.races.empty() && plan.days.size() == 266 && plan.days.back().fitness > 20);
        QVERIFY(!readSeason("[]"));
        QVERIFY(!readSeason(""));
    }
    void aPlanIsWrittenWithEveryKey() {
        const auto s = readSeason(goodSeason);
        const QJsonObject plan = QJsonDocument::fromJson(writePlan(solveSeason(*s).plan)).object();
        for (const char* key : {"weeks", "days", "races", "limits", "relaxed", "warnings"})
            QVERIFY2(plan.value(key).isArray(), key);
        for (const char* key : {"start", "kind", "phase", "stress", "hours", "low_h", "middle_h", "high_h",
                                "fitness", "fatigue"})
            QVERIFY2(plan["weeks"].toArray()[0].toObject().contains(key), key);
        for (const char* key : {"date", "role", "stress", "hours", "fitness", "fatigue", "form"})
            QVERIFY2(plan["days"].toArray()[0].toObject().contains(key), key);
        for (const char* key : {"name", "date", "priority", "form", "fitness", "gate", "gate_miss"})
            QVERIFY2(plan["races"].toArray()[0].toObject().contains(key), key);
    }

    void checkInsComeBackAsTheyWere() {
        std::vector<NamedCheckIn> all(3);
        for (auto& n : all)
            n.checkIn.day = parseDate("2027-03-01").value();
        all[0].rider = "Nell, \"the wheel\"";
        all[0].checkIn.feel = 4;
        all[0].checkIn.soreness = 1;
        all[0].checkIn.restHeartRate = 47.5;
        all[0].checkIn.note = "two\nlines, and a \"quote\"";
        all[1].rider = "Bo";
        all[1].checkIn.ill = true;
        all[2].rider = "Åse";
        all[2].checkIn.weightKg = 61.2;
        const auto back = readCheckIns(writeCheckIns(all));
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(*back == all);
    }
    void wrongCheckInsAreRefusedWithTheirLine_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says");
        const QByteArray head = "rider,date,feel,ill,rest_hr_bpm\n";
        QTest::newRow("empty") << QByteArray() << "empty";
        QTest::newRow("unknown column") << QByteArray("rider,date,mood\n") << "\"mood\" is unknown";
        QTest::newRow("twice") << QByteArray("rider,date,feel,feel\n") << "comes twice";
        QTest::newRow("no rider") << QByteArray("date,feel\n") << "rider and date";
        QTest::newRow("six") << head + "Ann,2027-03-01,6,,\n"
                             << "line 2: feel should be";
        QTest::newRow("half") << head + "Ann,2027-03-01,3.5,,\n"
                              << "line 2";
        QTest::newRow("day") << head + "Ann,2027-02-29,3,,\n"
                             << "line 2: \"2027-02-29\" is not a day";
        QTest::newRow("ill") << head + "Ann,2027-03-01,3,maybe,\n"
                             << "yes or no";
        QTest::newRow("heart") << head + "Ann,2027-03-01,3,,500\n"
                               << "rest_hr_bpm should be 25 to 120";
        QTest::newRow("cells") << head + "Ann,2027-03-01\n"
                               << "2 cells where the header names 5";
        QTest::newRow("nobody") << head + ",2027-03-01,3,,\n"
                                << "names no rider";
    }
    void wrongCheckInsAreRefusedWithTheirLine() {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        const auto r = readCheckIns(text);
        QVERIFY(!r);
        QVERIFY2(QString::fromStdString(r.error().sentence).contains(says), r.error().sentence.c_str());
    }
    void aRecordingGoesThroughCsvAndGpxAndBack() {
        Recording r;
        for (int t = 0; t < 200; ++t) {
            Sample s;
            s.time = 1.8e9 + t + (t > 100 ? 300 : 0);
            s.power = t % 9 == 0 ? missing : static_cast<float>(180 + t % 40);
            s.heartRate = static_cast<float>(120 + t % 30);
            s.cadence = static_cast<float>(85 + t % 5);
            s.altitude = static_cast<float>(12.2 + 0.1 * t);
            s.distance = static_cast<float>(8.37 * t);
            s.temperature = 14;
            s.leftShare = 0.49F;
            s.latitude = 0.01 + t * 1e-5;
            s.longitude = -0.02 + t * 2e-5;
            r.samples.push_back(s);
        }
        r.laps = {{1.8e9, 1.8e9 + 50}, {1.8e9 + 50, 1.8e9 + 500}};
        const auto same = [](float a, float b) { return a == b || (std::isnan(a) && std::isnan(b)); };
        const auto csv = readCsvRecording(writeCsvRecording(r));
        QVERIFY2(csv.has_value(), csv ? "" : csv.error().sentence.c_str());
        const auto gpxBytes = writeGpx(r, "A <ride> & more");
        QVERIFY(gpxBytes);
        QCOMPARE(gpxBytes->count("<trkseg>"), 2); // the stop parts them
        const auto gpx = readGpx(*gpxBytes);
        QVERIFY2(gpx.has_value(), gpx ? "" : gpx.error().sentence.c_str());
        QCOMPARE(csv->samples.size(), r.samples.size());
        QCOMPARE(gpx->samples.size(), r.samples.size());
        QCOMPARE(csv->laps.size(), 2U);
        for (size_t i = 0; i < r.samples.size(); ++i) {
            const Sample &a = r.samples[i], &b = csv->samples[i], &c = gpx->samples[i];
            for (const Sample* x : {&b, &c}) {
                QCOMPARE(x->time, a.time);
                QVERIFY(same(x->power, a.power) && same(x->heartRate, a.heartRate) &&
                        same(x->cadence, a.cadence));
                QVERIFY(same(x->altitude, a.altitude) && same(x->temperature, a.temperature));
                QVERIFY(std::abs(x->latitude - a.latitude) < 1e-8 &&
                        std::abs(x->longitude - a.longitude) < 1e-8);
            }
            QVERIFY(same(b.distance, a.distance) && same(b.leftShare, a.leftShare));
        }
        r.samples.resize(3);
        for (Sample& s : r.samples)
            s.latitude = std::nan("");
        const auto placeless = writeGpx(r, "x");
        QVERIFY(!placeless && placeless.error().sentence.find("no places") != std::string::npos);
    }
};

MARRAM_SUITE(TextTest)
#include "tst_text.moc"
