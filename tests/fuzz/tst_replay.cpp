// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "formats/files/files.h"
#include "formats/json/season_json.h"
#include "fuzz/targets.h"
#include "support/suite.h"

#include <QDir>
#include <QTest>

using namespace marram;

/// Everything that once broke something, thrown again at every reader.
class ReplayTest : public QObject {
    Q_OBJECT
private slots:
    void findings_data() {
        QTest::addColumn<QString>("file");
        const QDir folder(QString(TEST_DATA) + "/hostile");
        for (const QString& name : folder.entryList(QDir::Files))
            QTest::newRow(qPrintable(name)) << folder.filePath(name);
    }
    void findings() {
        QFETCH(QString, file);
        const auto bytes = readWholeFile(file);
        QVERIFY(bytes);
        for (const auto& target : fuzz::targets)
            target.run(*bytes); // aborts where something does not hold
    }
    void seasons_data() {
        QTest::addColumn<QString>("file");
        const QDir folder(QString(TEST_DATA) + "/seasons");
        for (const QString& name : folder.entryList(QDir::Files))
            QTest::newRow(qPrintable(name)) << folder.filePath(name);
    }
    void seasons() {
        QFETCH(QString, file);
        const auto season = readSeason(*readWholeFile(file));
        QVERIFY(season);
        const Solved solved = solveSeason(*season);
        QCOMPARE(solved.plan.days.size(), static_cast<size_t>(season->dayCount()));
        QCOMPARE(solved.plan.races.size(), season->races.size());
    }
};

MARRAM_SUITE(ReplayTest)
#include "tst_replay.moc"
