// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/rough.h"
#include "support/suite.h"

#include <QTest>

using namespace marram;

class RoughSessionTest : public QObject {
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
        const RoughSession s = prescribe(static_cast<SessionKind>(kind), hours, stress);
        QCOMPARE(s.seconds(), static_cast<int>(hours * 3600));
        QVERIFY2(std::abs(s.stress() - stress) < tolerance * stress, qPrintable(QString::number(s.stress())));
    }
    void intervalsBeginWithAWarmUpAndHaveRepetitions() {
        const RoughSession s = prescribe(SessionKind::Intervals, 1.5, 95);
        // Common practice: 5 easy, 5 mid endurance, 5 at 85–95 %
        QVERIFY(s.steps[0].intensity < 0.55 && s.steps[2].intensity >= 0.85 && s.steps[2].intensity <= 0.95);
        QVERIFY(std::count_if(s.steps.begin(), s.steps.end(), [](const RoughStep& x) { return x.work; }) >=
                2);
    }
    void tooShortForIntervalsIsRiddenEvenly() {
        QCOMPARE(prescribe(SessionKind::Intervals, 0.4, 30).steps.size(), 1U);
    }
};

MARRAM_SUITE(RoughSessionTest)
#include "tst_rough.moc"
