// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/solver.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace marram;
using Sense = Simplex::Sense;

namespace {

bool near(double a, double b) {
    return std::abs(a - b) < 1e-9 * std::max(1.0, std::abs(b));
}

/// Two products, three machines: maximise 3x + 5y with x <= 4, 2y <= 12, 3x + 2y <= 18.
struct Workshop {
    Programme p;
    int x, y, third;
    Workshop() {
        x = p.addColumn("x", 0, 4);
        y = p.addColumn("y", 0, unbounded);
        p.addRow("second", RowKind::Definition, -unbounded, 2 * Linear{}.add(y, 1), 12);
        third = p.addRow("third", RowKind::Definition, -unbounded, Linear{}.add(x, 3).add(y, 2), 18);
    }
    std::vector<std::pair<int, double>> profit() const { return {{x, 3}, {y, 5}}; }
};

} // namespace

class ProgrammeTest : public QObject {
    Q_OBJECT
private slots:
    void expressionsAddSubtractAndScale() {
        const Linear a = Linear{1, {{0, 2}}}, b = Linear{3, {{1, 4}}};
        const Linear c = 2 * a - b + Linear{}.add(0, 1);
        QCOMPARE(c.constant, -1.0);
        Programme p;
        p.addColumn("u", 0, 1);
        p.addColumn("v", 0, 1);
        p.addRow("r", RowKind::Ramp, -5, c, 5);
        // Columns named twice are summed; the constant moves to the bounds.
        QCOMPARE(p.rows[0].terms.size(), 2U);
        QCOMPARE(p.rows[0].terms[0].second, 5.0);
        QCOMPARE(p.rows[0].terms[1].second, -4.0);
        QCOMPARE(p.rows[0].lower, -4.0);
        QCOMPARE(p.rows[0].upper, 6.0);
    }
    void columnsThatCancelLeaveNoTerm() {
        Programme p;
        const int c = p.addColumn("u", 0, 1);
        p.addRow("r", RowKind::Shape, 0, Linear{}.add(c, 1) - Linear{}.add(c, 1), 1);
        QVERIFY(p.rows[0].terms.empty());
    }
    void aTextbookProgrammeHasItsKnownOptimum() {
        const Workshop w;
        Simplex s(w.p);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        // Textbook example with optimum 36 at (2, 6) and shadow prices 3/2 and 1 (value from memory; the
        // arithmetic is checked here: 3·2 + 5·6 = 36, 12·1.5 + 18·1 = 36)
        QVERIFY(near(s.objective(), 36) && near(s.value(w.x), 2) && near(s.value(w.y), 6));
        QVERIFY(near(s.dual(0), 1.5) && near(s.dual(w.third), 1));
        QVERIFY(near(s.activity(w.third), 18) && near(s.reducedCost(w.x), 0));
    }
    void aDualIsWhatOneUnitMoreIsWorth() {
        Workshop w;
        Simplex s(w.p);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        const double before = s.objective(), dual = s.dual(w.third);
        s.boundRow(w.third, -unbounded, 19);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        QVERIFY(near(s.objective() - before, dual));
    }
    void objectivesFollowOneAnotherWithTheBetterOnesHeld() {
        Workshop w;
        const int aim = w.p.addRow("aim", RowKind::Definition, -unbounded, Linear{0, w.profit()}, unbounded);
        Simplex s(w.p);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        s.boundRow(aim, 30, unbounded);
        const std::pair<int, double> least{w.y, 1};
        QVERIFY(s.solve({&least, 1}, Sense::Minimise));
        // The least y that still earns 30 on the third machine: 3x + 5y = 30 and 3x + 2y = 18 meet at (10/3,
        // 4)
        QVERIFY(near(s.value(w.y), 4) && near(s.value(w.x), 10.0 / 3));
        // An old objective leaves nothing behind.
        QVERIFY(near(s.objective(), 4));
    }
    void whatCannotBeMetIsSaid() {
        Workshop w;
        w.p.addRow("too much", RowKind::Definition, 100, Linear{}.add(w.x, 1), unbounded);
        QVERIFY(!Simplex(w.p).solve(w.profit(), Sense::Maximise));
    }
    void whatHasNoEndIsNoOptimum() {
        Programme p;
        const int c = p.addColumn("u", 0, unbounded);
        const std::pair<int, double> most{c, 1};
        QVERIFY(!Simplex(p).solve({&most, 1}, Sense::Maximise));
    }
    void aBasisServesItsOwnProgrammeAndIsRepairedForOthers() {
        const Workshop w;
        Simplex first(w.p);
        QVERIFY(first.solve(w.profit(), Sense::Maximise));
        const Basis basis = first.basis();
        Workshop other;
        other.p.addColumn("z", 0, 3);
        other.p.addRow("fourth", RowKind::Definition, -unbounded, Linear{}.add(2, 1).add(0, 1), 5);
        Simplex second(w.p), third(other.p);
        QVERIFY(second.knows(basis) && !third.knows(basis) && !second.knows({}));
        for (Simplex* s : {&second, &third}) {
            s->startFrom(basis);
            QVERIFY(s->solve(w.profit(), Sense::Maximise));
            QVERIFY(near(s->objective(), 36));
        }
    }
    void nonsenseForABasisStillEndsAtTheOptimum() {
        const Workshop w;
        Basis nonsense;
        for (const char* name : {"x", "y", "second", "third"})
            nonsense[name] = 1; // everything basic
        Simplex s(w.p);
        s.startFrom(nonsense);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        QVERIFY(near(s.objective(), 36));
    }
    void theProgrammeIsWrittenAsText() {
        const Workshop w;
        Simplex s(w.p);
        QVERIFY(s.solve(w.profit(), Sense::Maximise));
        QTemporaryDir folder;
        QVERIFY(s.writeText(folder.filePath("p.lp").toStdString()));
        QFile f(folder.filePath("p.lp"));
        QVERIFY(f.open(QIODevice::ReadOnly));
        const QByteArray text = f.readAll();
        for (const char* word : {"Maximize", "Subject To", "third", "+ 3 x", "Bounds", "End"})
            QVERIFY2(text.contains(word), word);
        QVERIFY(!s.writeText("/nowhere/at/all.lp"));
    }
};

QTEST_APPLESS_MAIN(ProgrammeTest)
#include "tst_programme.moc"
