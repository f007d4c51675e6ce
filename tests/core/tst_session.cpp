// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/review.h"
#include "core/session/session.h"

#include <QTest>

using namespace marram;

class SessionTest : public QObject {
    Q_OBJECT
private slots:
    void aSessionLastsAsLongAsAskedAndCostsAboutAsMuch_data() {
        QTest::addColumn<int>("kind");
        QTest::addColumn<double>("hours");
        QTest::addColumn<double>("stress");
        QTest::addColumn<double>("tolerance");
        QTest::newRow("easy") << static_cast<int>(SessionKind::Endurance) << 1.5 << 64.0 << 0.02;
        QTest::newRow("long") << static_cast<int>(SessionKind::Endurance) << 4.0 << 170.0 << 0.02;
        QTest::newRow("intervals") << static_cast<int>(SessionKind::Intervals) << 1.5 << 95.0 << 0.12;
        QTest::newRow("long intervals") << static_cast<int>(SessionKind::Intervals) << 3.0 << 190.0 << 0.12;
        QTest::newRow("race") << static_cast<int>(SessionKind::Race) << 3.0 << 220.0 << 0.12;
    }
    void aSessionLastsAsLongAsAskedAndCostsAboutAsMuch() {
        QFETCH(int, kind);
        QFETCH(double, hours);
        QFETCH(double, stress);
        QFETCH(double, tolerance);
        const Session s = prescribe(static_cast<SessionKind>(kind), hours, stress);
        QCOMPARE(s.seconds(), static_cast<int>(hours * 3600));
        QVERIFY2(std::abs(s.stress() - stress) < tolerance * stress, qPrintable(QString::number(s.stress())));
    }
    void intervalsBeginWithAWarmUpAndHaveRepetitions() {
        const Session s = prescribe(SessionKind::Intervals, 1.5, 95);
        // Common practice: 5 easy, 5 mid endurance, 5 at 85–95 %
        QVERIFY(s.steps[0].intensity < 0.55 && s.steps[2].intensity >= 0.85 && s.steps[2].intensity <= 0.95);
        QVERIFY(std::count_if(s.steps.begin(), s.steps.end(), [](const Step& x) { return x.work; }) >= 2);
    }
    void tooShortForIntervalsIsRiddenEvenly() {
        QCOMPARE(prescribe(SessionKind::Intervals, 0.4, 30).steps.size(), 1U);
    }
    void plannedAndRiddenAreComparedAsTheTradeDoes_data() {
        QTest::addColumn<double>("planned");
        QTest::addColumn<double>("ridden");
        QTest::addColumn<int>("expected");
        const auto row = [](double p, double r, Compliance c) {
            QTest::addRow("%g %g", p, r) << p << r << static_cast<int>(c);
        };
        // Common practice: ±20 % done; 50–80 % or 120–150 % off; beyond far off; then missed; then unplanned
        row(100, 100, Compliance::Done);
        row(100, 80, Compliance::Done);
        row(100, 120, Compliance::Done);
        row(100, 79, Compliance::Off);
        row(100, 150, Compliance::Off);
        row(100, 49, Compliance::FarOff);
        row(100, 151, Compliance::FarOff);
        row(100, 0, Compliance::Missed);
        row(0, 60, Compliance::Unplanned);
        row(0, 0, Compliance::Rest);
    }
    void plannedAndRiddenAreComparedAsTheTradeDoes() {
        QFETCH(double, planned);
        QFETCH(double, ridden);
        QFETCH(int, expected);
        QCOMPARE(static_cast<int>(compare(planned, ridden)), expected);
    }
};

QTEST_APPLESS_MAIN(SessionTest)
#include "tst_session.moc"
