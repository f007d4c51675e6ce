// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/season_json.h"
#include "support/properties.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QTest>

using namespace marram;
using namespace marram::test;

/// Seasons that once came out wrong: starved for a gate or a seconds' worth of taper, without deloads, too
/// hard too early. They are held to what a coach would see.
class SeasonsTest : public QObject {
    Q_OBJECT
private slots:
    void seasonsThatOnceWentWrongAreSound_data() {
        QTest::addColumn<QString>("file");
        const QDir folder(QString(TEST_DATA) + "/seasons");
        for (const QString& name : folder.entryList({"*.json"}, QDir::Files))
            QTest::newRow(qPrintable(name)) << folder.filePath(name);
    }
    void seasonsThatOnceWentWrongAreSound() {
        QFETCH(QString, file);
        QFile f(file);
        QVERIFY(f.open(QIODevice::ReadOnly));
        const auto season = readSeason(f.readAll());
        QVERIFY2(season.has_value(), season ? "" : season.error().sentence.c_str());
        const Plan plan = solveSeason(*season).plan;
        // What tests and reached rungs leave in a few (docs/model.md §5): a build week of full hours under
        // the one before, never under five sixths of it; a base whose tempo gives way to high work.
        for (const Properties::Breach& b : Properties(*season, plan).run())
            QVERIFY2(b.property == 6 || b.property == 15 || b.property == 3,
                     ("S" + std::to_string(b.property) + ": " + b.what).c_str());
        for (size_t w = 1; w < plan.weeks.size(); ++w) {
            const PlannedWeek &now = plan.weeks[w], &last = plan.weeks[w - 1];
            if (now.kind == WeekKind::Build && last.kind == WeekKind::Build &&
                now.hours > 0.97 * now.availableHours)
                QVERIFY2(now.stress > 0.8 * last.stress || now.availableHours < 0.9 * last.availableHours,
                         isoText(now.start).c_str());
        }
        double before = season->before.fitness, peak = 0;
        for (const PlannedDay& d : plan.days)
            peak = std::max(peak, d.fitness);
        // None of them is let go: the rider is never far under where they began, races and breaks and all.
        QVERIFY2(peak > 0.9 * before, qPrintable(QString::number(peak)));
    }
};

MARRAM_SUITE(SeasonsTest)
#include "tst_seasons.moc"
