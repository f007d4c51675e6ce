// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_table.h"
#include "app/rides/ride_words.h"
#include "app/rides/rides_view.h"
#include "app/roster/roster_view.h"
#include "app/season/season_scene.h"
#include "app/season/season_words.h"
#include "app/shell/palette.h"
#include "app/theme/theme.h"
#include "support/suite.h"

#include <QApplication>
#include <QTest>

using namespace marram;

namespace {

SeasonPicture picture() {
    SeasonPicture p;
    p.season.start = parseDate("2027-01-04").value();
    p.season.end = parseDate("2027-09-26").value();
    p.season.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    p.season.before = {45, 45};
    p.today = parseDate("2027-02-10").value();
    for (const auto& [name, date, priority] :
         {std::tuple{"The Very Long Named Reliability Ride of the Northern Sands", "2027-06-13", Priority::C},
          {"Point", "2027-09-19", Priority::A},
          {"Eve", "2027-09-12", Priority::B}}) {
        Race r;
        r.name = name;
        r.date = parseDate(date).value();
        r.priority = priority;
        p.season.races.push_back(r);
    }
    p.plan = solveSeason(p.season).plan;
    p.hasPlan = true;
    return p;
}

SeasonScene sceneOf(const SeasonPicture& p, double width = 900) {
    SeasonScene scene;
    scene.layOut(p, QRectF(0, 0, width, 720), 14, {300, 60, 50});
    return scene;
}

} // namespace

class ViewsTest : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { dress(*qApp, {}); }

    void everyDayHasItsPlaceOnTheAxis() {
        const SeasonPicture p = picture();
        const SeasonScene scene = sceneOf(p);
        for (Date d = scene.first; d <= scene.last; d = d + 1)
            QCOMPARE(scene.dateAt(scene.xOf(d) + scene.dayWidth() / 2), d);
        QCOMPARE(scene.dateAt(-500), scene.first);
        QCOMPARE(scene.dateAt(1e6), scene.last);
        QVERIFY(std::abs(scene.formAt(scene.yOfForm(7.5)) - 7.5) < 1e-9);
    }
    void strataDoNotOverlapAndFillTheArea() {
        const SeasonScene scene = sceneOf(picture());
        const std::array strata{scene.months, scene.stakes, scene.phases, scene.load,
                                scene.dune,   scene.form,   scene.life};
        for (size_t i = 1; i < strata.size(); ++i)
            QVERIFY(strata[i].top() >= strata[i - 1].bottom() - 1e-6 && strata[i].height() > 20);
        QVERIFY(strata.back().bottom() <= 720);
    }
    void labelsOfStakesDoNotRunIntoEachOther() {
        const SeasonPicture p = picture();
        for (const double width : {700.0, 900.0, 1500.0}) {
            const SeasonScene scene = sceneOf(p, width);
            for (int a = 0; a < 3; ++a)
                for (int b = 0; b < a; ++b)
                    QVERIFY(!scene.labelOf(a)
                                 .box.adjusted(1, 1, -1, -1)
                                 .intersects(scene.labelOf(b).box.adjusted(1, 1, -1, -1)));
        }
    }
    void theHandFindsStakesGatesAndDays() {
        const SeasonPicture p = picture();
        const SeasonScene scene = sceneOf(p);
        const double x = scene.xOf(p.season.races[1].date) + scene.dayWidth() / 2;
        const Gate gate = *gateInForce(p.season.races[1], p.plan);
        SeasonHit hit = scene.hit(p, {x, scene.load.center().y()});
        QCOMPARE(hit.part, SeasonHit::Part::Race);
        QCOMPARE(hit.race, 1);
        QCOMPARE(scene.hit(p, {x, scene.yOfForm(gate.low)}).part, SeasonHit::Part::GateLow);
        QCOMPARE(scene.hit(p, {x, scene.yOfForm(gate.high)}).part, SeasonHit::Part::GateHigh);
        hit = scene.hit(p, {scene.xOf(p.today) + 1, scene.load.center().y()});
        QCOMPARE(hit.part, SeasonHit::Part::Day);
        QCOMPARE(hit.date, p.today);
        QCOMPARE(scene.hit(p, {-50, 10}).part, SeasonHit::Part::Nothing);
    }
    void theInspectorNamesWhereNumbersComeFrom() {
        const SeasonPicture p = picture();
        const QString race = inspectRace(
            p, 1, {{"one more hour in the week of 30 August: +1.7 fitness on race day", "h", 1.7, {}, {}}},
            true);
        QVERIFY(race.contains("less fatigue") &&
                race.contains(
                    QString::fromStdString(signedText(gateInForce(p.season.races[1], p.plan)->low, 0))) &&
                race.contains("One more hour"));
        const QString day = inspectDay(p, parseDate("2027-03-09").value());
        QVERIFY(day.contains("Tuesday") && day.contains("Build week") && day.contains("limit 6"));
        QVERIFY(inspectDay(p, parseDate("1999-01-01").value()).isEmpty());
    }
    void missedSessionsStandAmongTheRides() {
        RideRecord r;
        r.day = Date{100};
        r.score.stress = 80;
        r.score.duration = 5400;
        const auto rows = rideRows({r},
                                   {{Date{100}, Role::Easy, 82, 1.5},
                                    {Date{99}, Role::Hard, 90, 1.2},
                                    {Date{98}, Role::Rest, 0},
                                    {Date{120}, Role::Easy, 50, 1}},
                                   Date{110});
        QCOMPARE(rows.size(), 2U);
        QCOMPARE(wordsFor(rows[0].verdict), std::string("as meant"));
        QVERIFY(!rows[1].ride && rows[1].verdict.kind == DayVerdict::Kind::Missed);
    }
    void aRideSaysHowItWasScored() {
        RideRecord r;
        r.score.duration = 3600;
        r.score.stress = 64;
        r.score.relativeIntensity = 0.8;
        r.score.equivalentPower = 200;
        r.score.method = StressMethod::Power;
        r.score.faults.powerMissing = 12;
        r.thresholdPower = 250;
        r.fileName = "<b>odd</b>.fit";
        const QString words = describeRide(r, 70);
        QVERIFY(words.contains("by power") && words.contains("250 W") && words.contains("planned 70") &&
                words.contains("12 s without power"));
        QVERIFY(!words.contains("<b>odd"));
    }
    void anImportIsSummedUpInWords() {
        ImportReport r;
        r.added = {1, 2};
        r.duplicates = QStringList{"a.fit"};
        r.refused = QStringList{"b.fit: not a FIT file"};
        QCOMPARE(describeImport(r), QString("2 rides came in, one was there already, one file could not be "
                                            "read.\nb.fit: not a FIT file"));
        QCOMPARE(describeImport({}), QString("There was nothing to bring in."));
    }
    void whomToLookAtIsSaidInASentence() {
        std::vector<RiderRecord> riders(3);
        const char* names[] = {"Ann", "Bo", "Cy"};
        std::map<qint64, Standing> standings;
        for (size_t i = 0; i < 3; ++i) {
            riders[i].id = static_cast<qint64>(i) + 1;
            riders[i].name = names[i];
            Standing s;
            s.today = Date{1000};
            s.lastRide = Date{999};
            s.hasPower = false;
            standings[riders[i].id] = s;
        }
        riders[0].groups = QStringList{"Track"};
        riders[1].note = "likes Track bikes";
        standings[3].missedKey = {Date{998}};
        const auto rows = [&](const RosterFilter& f) {
            QStringList out;
            for (const RosterRow& r : rosterRows(
                     riders, f, [&](qint64 id) -> const Standing& { return standings[id]; }, Date{1000}))
                out << r.name;
            return out;
        };
        QCOMPARE(rows({}), (QStringList{"Cy", "Ann", "Bo"}));
        QCOMPARE(rows({"track", {}, false}), (QStringList{"Ann", "Bo"}));
        QCOMPARE(rows({{}, "Track", false}), QStringList{"Ann"});
        riders[1].archived = true;
        QCOMPARE(rows({}), (QStringList{"Cy", "Ann"}));
        QCOMPARE(rows({{}, {}, true}), QStringList{"Bo"});
    }
    void actionsAreFoundByAFewLetters() {
        QVERIFY(matchesLetters("Pin the chosen week as deload", "pin del"));
        QVERIFY(matchesLetters("Undo", ""));
        QVERIFY(!matchesLetters("Undo", "xu"));
    }
    void textKeepsItsContrast_data() {
        QTest::addColumn<bool>("dark");
        QTest::newRow("light") << false;
        QTest::newRow("dark") << true;
    }
    void textKeepsItsContrast() {
        QFETCH(bool, dark);
        dress(*qApp, {dark});
        const auto luminance = [](const QColor& c) {
            const auto part = [](double v) {
                return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
            };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const Shore& s = shore();
        for (const QColor& ink : {s.ink, s.muted, s.tide, s.rust, s.ochre, s.driftwood})
            for (const QColor& ground : {s.paper, s.sheet}) {
                const double a = luminance(ink), b = luminance(ground);
                // WCAG 2: contrast ratio of at least 4.5 for text
                QVERIFY2((std::max(a, b) + 0.05) / (std::min(a, b) + 0.05) >= 4.5,
                         qPrintable(ink.name() + " on " + ground.name()));
            }
        dress(*qApp, {});
    }
};

MARRAM_WINDOW_SUITE(ViewsTest)
#include "tst_views.moc"
