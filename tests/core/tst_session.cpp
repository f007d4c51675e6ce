// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/session.h"
#include "core/session/shorthand.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;

namespace {

const std::string warm = "15 min 50 to 90, ", cool = ", 10 min 50";

/// Sessions of every shape, the same for the same seed.
class Sayer {
public:
    explicit Sayer(unsigned seed) : dice_(seed) {}
    Session session() {
        Session s;
        for (int i = 0, n = 1 + below(5); i < n; ++i)
            s.items.push_back(item(0));
        return s;
    }

private:
    int below(int n) { return static_cast<int>(dice_() % static_cast<unsigned>(n)); }
    Step step() {
        Step s;
        s.seconds = below(4) == 0 ? 1 + below(119) : below(3) == 0 ? 60 * (1 + below(200)) : 1 + below(9000);
        const int kind = below(6);
        s.kind = kind == 0 ? TargetKind::AllOut : kind == 1 ? TargetKind::Effort : TargetKind::Power;
        if (s.kind == TargetKind::Effort)
            s.effort = 1 + below(10);
        if (s.kind == TargetKind::Power) {
            s.from = s.to = (20 + below(281)) / 100.0;
            if (below(3) == 0)
                s.to = (200 + below(2801)) / 10.0 / 100;
        }
        if (below(4) == 0) {
            s.cadenceFrom = s.cadenceTo = 20 + below(150);
            if (below(2))
                s.cadenceTo = *s.cadenceFrom + 1 + below(30);
        }
        if (below(6) == 0)
            s.note = below(2) ? "seated, hands on the tops" : "(×) \"no\"" + std::string();
        std::erase(s.note, '"');
        return s;
    }
    Item item(int depth) {
        Item i;
        if (depth >= 2 || below(2) == 0) {
            i.step = step();
            return i;
        }
        i.count = 1 + below(4);
        i.bracket = below(2) == 0;
        const int parts = i.bracket ? 1 + below(3) : 1;
        for (int n = 0; n < parts; ++n)
            i.part.push_back(i.bracket ? item(depth + 1) : Item{step(), 0, false, {}, {}});
        for (int n = 0, rests = below(3); n < rests; ++n)
            i.rest.push_back(step());
        return i;
    }
    std::mt19937 dice_;
};

} // namespace

/// A session: its shorthand, its sets, what it costs.
class SessionTest : public QObject {
    Q_OBJECT
private slots:
    void theCheckValuesHold_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("seconds");
        QTest::addColumn<double>("stress");
        QTest::addColumn<QList<int>>("band");
        QTest::addColumn<QList<int>>("purpose");
        const auto row = [](const std::string& text, int seconds, double stress, QList<int> band,
                            QList<int> purpose) {
            QTest::newRow(text.c_str())
                << QString::fromStdString(text) << seconds << stress << band << purpose;
        };
        // Check values of the design, computed elsewhere by its text
        row(warm + "2 × 10 min 80 with 3 min 55 between" + cool, 2880, 42.17, {1388, 1492, 0},
            {1208, 1672, 0});
        row(warm + "3 × 12 min 88 with 4 min 50 between" + cool, 4140, 71.79, {1688, 2452, 0},
            {1208, 2932, 0});
        row(warm + "3 × 15 min 100 with 4 min 50 between" + cool, 4680, 104.33, {1688, 2992, 0},
            {1208, 3472, 0});
        row(warm + "3 × (2 × (2 min 90, 1 min 105)) with 5 min 50 between" + cool, 3180, 54.68,
            {1808, 1012, 360}, {1208, 1972, 0});
        row(warm + "4 × (3 × (1 min 95, 2 min 107)) with 5 min 50 between" + cool, 4560, 99.11,
            {2108, 1012, 1440}, {1208, 292, 3060});
        row(warm + "3 × 8 min 106 with 5 min 50 between" + cool, 3540, 76.28, {1808, 292, 1440},
            {1208, 292, 2040});
        row(warm + "2 × (8 × 30 s 120 with 30 s 50 between) with 5 min 50 between" + cool, 2700, 45.53,
            {1928, 292, 480}, {1508, 292, 900});
        row(warm + "4 × (40 s 140, 3 min 106) with 4 min 50 between" + cool, 3100, 64.68, {1928, 292, 880},
            {1208, 292, 1600});
        row(warm + "4 × (20 s all out, 4 min 40 s 106) with 8 min 45 between" + cool, 4140, 82.53,
            {2648, 292, 1200}, {1208, 292, 2640});
        row(warm + "12 × (110 s 88, 10 s 140)" + cool, 2940, 55.89, {1208, 1612, 120}, {1208, 1732, 0});
        row("1 h 65, 4 × 8 s all out with 2 min 50 between, 20 min 60", 5192, 59.10, {5160, 0, 32},
            {5160, 0, 32});
        row("3 h 65, 2 × 10 min 90 with 5 min 60 between, 15 min 50", 13200, 169.07, {12000, 1200, 0},
            {11700, 1500, 0});
        row("10 min 77, 10 min 100, 10 min 75, 10 min 120", 2400, 64.24, {1200, 600, 600}, {1200, 600, 600});
    }
    void theCheckValuesHold() {
        QFETCH(QString, text);
        QFETCH(int, seconds);
        QFETCH(double, stress);
        QFETCH(QList<int>, band);
        QFETCH(QList<int>, purpose);
        const auto s = readShorthand(text.toStdString());
        QVERIFY2(s.has_value(), s ? "" : s.error().sentence.c_str());
        const SessionFigures f = figuresOf(*s);
        QCOMPARE(f.seconds, seconds);
        QVERIFY2(std::abs(f.stress - stress) < 0.006, qPrintable(QString::number(f.stress, 'f', 4)));
        QCOMPARE((QList<int>{int(f.band.low), int(f.band.middle), int(f.band.high)}), band);
        QCOMPARE((QList<int>{int(f.purpose.low), int(f.purpose.middle), int(f.purpose.high)}), purpose);
    }

    void whatWasReadIsWrittenAndReadAgain() {
        for (unsigned seed = 0; seed < 2000; ++seed) {
            const Session s = Sayer(seed).session();
            const std::string text = writeShorthand(s);
            const auto again = readShorthand(text);
            if (!again) {
                // Only what is too long is refused.
                QVERIFY2(again.error().sentence.find("24 h") != std::string::npos ||
                             again.error().sentence.find("2000") != std::string::npos,
                         (text + ": " + again.error().sentence).c_str());
                continue;
            }
            QCOMPARE(writeShorthand(*again), text);
            const SessionFigures a = figuresOf(s), b = figuresOf(*again);
            QCOMPARE(a.seconds, b.seconds);
            QCOMPARE(a.steps.size(), b.steps.size());
            for (size_t i = 0; i < a.steps.size(); ++i) {
                QVERIFY(a.steps[i].step == b.steps[i].step);
                QCOMPARE(a.steps[i].set, b.steps[i].set);
            }
        }
    }

    void caseSpacesAndSignsAreFree_data() {
        QTest::addColumn<QString>("said");
        QTest::addColumn<QString>("written");
        QTest::newRow("x") << "3 X 8MIN 110% WITH 5min50 between"
                           << "3 × 8 min 110 with 5 min 50 between";
        QTest::newRow("no spaces") << "3x8min110with5min50between,10min50"
                                   << "3 × 8 min 110 with 5 min 50 between, 10 min 50";
        QTest::newRow("seconds in a length") << "1 min 50 s 90"
                                             << "110 s 90";
        QTest::newRow("a minute at 50") << "1 min 50"
                                        << "1 min 50";
        QTest::newRow("long") << "90 min 65"
                              << "1 h 30 min 65";
        QTest::newRow("half minutes") << "1.5 min 120"
                                      << "90 s 120";
        QTest::newRow("half an hour") << "0.5 h 65"
                                      << "30 min 65";
        QTest::newRow("cadence") << "20 min 85 AT 55 to 60 RPM \"Seated\""
                                 << "20 min 85 at 55 to 60 rpm \"Seated\"";
        QTest::newRow("ramp") << "20 min 100% to 150%"
                              << "20 min 100 to 150";
        QTest::newRow("tenths") << "10 min 92.50"
                                << "10 min 92.5";
        QTest::newRow("effort") << "1 h Effort 3, 4 × 8 s ALL OUT with 2 min effort 1 between"
                                << "1 h effort 3, 4 × 8 s all out with 2 min effort 1 between";
        QTest::newRow("rests") << "2 × 5 min 100 with (1 min 50, 2 min 60) between"
                               << "2 × 5 min 100 with (1 min 50, 2 min 60) between";
        QTest::newRow("list without spaces") << "20 min 65,10 min 50"
                                             << "20 min 65, 10 min 50";
    }
    void caseSpacesAndSignsAreFree() {
        QFETCH(QString, said);
        QFETCH(QString, written);
        const auto s = readShorthand(said.toStdString());
        QVERIFY2(s.has_value(), s ? "" : s.error().sentence.c_str());
        QCOMPARE(QString::fromStdString(writeShorthand(*s)), written);
    }

    void mistakesAreNamedWhereTheyStand_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("place");
        QTest::addColumn<QString>("right");
        QTest::newRow("nothing") << "" << 1 << "length and a target";
        QTest::newRow("m") << "20 m 65" << 4 << "write min";
        QTest::newRow("decimal comma in a length") << "1,5 min 50" << 2 << "write a point";
        QTest::newRow("decimal comma in a target") << "20 min 92,5" << 10 << "write a point";
        QTest::newRow("decimal comma before rpm") << "20 min 92,5 at 90 rpm" << 10 << "write a point";
        QTest::newRow("target first") << "110 8 min" << 1 << "length first";
        QTest::newRow("percent first") << "110% 8 min" << 1 << "length first";
        QTest::newRow("all out first") << "all out 8 s" << 1 << "length first";
        QTest::newRow("bracket without a count") << "20 min 65, (2 min 90, 1 min 105)" << 12 << "how often";
        QTest::newRow("bracket not closed") << "3 × (2 min 90" << 5 << "close it";
        QTest::newRow("bracket never opened") << "2 min 90)" << 9 << "take it out";
        QTest::newRow("no target") << "20 min" << 7 << "target";
        QTest::newRow("no unit") << "20 65" << 1 << "unit";
        QTest::newRow("no between") << "3 × 8 min 110 with 5 min 50, 10 min 50" << 28 << "between";
        QTest::newRow("with after a step") << "8 min 110 with 5 min 50 between" << 11 << "repetition";
        QTest::newRow("too hard") << "8 min 310" << 7 << "20 to 300";
        QTest::newRow("too easy") << "8 min 10" << 7 << "20 to 300";
        QTest::newRow("count") << "100 × 8 min 90" << 1 << "1 to 99";
        QTest::newRow("no count") << "0 × 8 min 90" << 1 << "1 to 99";
        QTest::newRow("three deep") << "2 × (2 × (2 × 1 min 90))" << 11 << "two deep";
        QTest::newRow("part of a second") << "0.3 s 90" << 1 << "whole seconds";
        QTest::newRow("no length") << "0 s 90" << 1 << "at least a second";
        QTest::newRow("too long") << "25 h 60" << 1 << "24 h";
        QTest::newRow("too long together") << "99 × 1 h 60" << 1 << "24 h";
        QTest::newRow("too many") << "99 × (99 × 1 s 60)" << 1 << "2000 steps";
        QTest::newRow("effort") << "1 min effort 11" << 14 << "1 to 10";
        QTest::newRow("out") << "8 s all" << 8 << "out";
        QTest::newRow("cadence") << "8 min 90 at 300 rpm" << 13 << "20 to 200";
        QTest::newRow("rpm") << "8 min 90 at 90" << 15 << "rpm";
        QTest::newRow("note") << "8 min 90 \"easy" << 10 << "quotation mark";
        QTest::newRow("comma at the end") << "8 min 90," << 10 << "comma";
        QTest::newRow("words") << "8 min easily" << 7 << "percent of threshold";
        QTest::newRow("a sign") << "8 min 90 ; 5 min 50" << 10 << "comma";
        QTest::newRow("after letters of two bytes")
            << "3 × 8 min 110 with 5 min 50 between, 8 m 50" << 40 << "write min";
        QTest::newRow("a number without end") << "999999999999999999999 s 90" << 1 << "digits";
    }
    void mistakesAreNamedWhereTheyStand() {
        QFETCH(QString, text);
        QFETCH(int, place);
        QFETCH(QString, right);
        const auto s = readShorthand(text.toStdString());
        QVERIFY(!s.has_value());
        QVERIFY2(QString::fromStdString(s.error().sentence).contains(right), s.error().sentence.c_str());
        QCOMPARE(s.error().place, place);
        QVERIFY(s.error().sentence.find('\n') == std::string::npos);
    }

    void setsAreCountedAsTheVocabularySays() {
        // A last rest inside the bracket is rest, and after the last repetition outside the set.
        const SessionFigures a = figuresOf(*readShorthand("4 × (3 min 110, 3 min 50)"));
        QCOMPARE(a.purpose.high, 4 * 180.0 + 3 * 180.0);
        QCOMPARE(a.purpose.low, 180.0);
        // A rest of over ten minutes, or longer than twice the work, leaves each repetition by itself.
        const SessionFigures b = figuresOf(*readShorthand("2 × 8 min 106 with 11 min 50 between"));
        QCOMPARE(b.purpose.high, 960.0);
        QCOMPARE(b.steps.front().set, 1);
        QCOMPARE(b.steps.back().set, 2);
        QCOMPARE(figuresOf(*readShorthand("2 × 8 min 106 with 10 min 50 between")).purpose.high, 1560.0);
        // What holds no work is no set.
        QCOMPARE(figuresOf(*readShorthand("5 × 3 min 70 with 1 min 50 between")).steps.front().set, 0);
        // A set of both bands counts to where its mean work lies; exactly at threshold is middle.
        QCOMPARE(figuresOf(*readShorthand("3 × (1 min 95, 1 min 105)")).purpose.middle, 360.0);
        // The low threshold is the rider's.
        QCOMPARE(figuresOf(*readShorthand("10 min 78"), 0.80).purpose.low, 600.0);
    }
    void aShortAllOutCountsForMoreThanALongOne() {
        QVERIFY(std::abs(meanTarget({8, TargetKind::AllOut}) - 1.7) < 1e-12);
        QVERIFY(std::abs(meanTarget({300, TargetKind::AllOut}) - 1.2) < 1e-12);
        QVERIFY(std::abs(meanTarget({60, TargetKind::Effort, 0, 0, 10}) - 1.7) < 1e-12);
        QVERIFY(std::abs(meanTarget({60, TargetKind::Effort, 0, 0, 5}) - 0.80) < 1e-12);
    }
    void anHourAtThresholdIsAHundredPoints() {
        QVERIFY(std::abs(figuresOf(*readShorthand("1 h 100")).stress - 100) < 1e-9);
        QVERIFY(figuresOf(*readShorthand("20 s 100")).stress > 0);
    }
};

MARRAM_SUITE(SessionTest)
#include "tst_session.moc"
