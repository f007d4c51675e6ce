// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/backup.h"
#include "store/roster.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

/// Copies beside the roster, and seals on its records.
class CopiesTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString fresh(const QString& name) {
        const QString path = folder_.filePath(name);
        auto roster = Roster::create(path);
        if (!roster)
            return {};
        RiderRecord rider;
        rider.name = "Ann Example";
        rider.note = "as she said it";
        if (!(*roster)->saveRider(rider))
            return {};
        return path;
    }
private slots:
    void aRecordChangedBehindItsSealIsNamed() {
        const QString path = fresh("sealed.marram");
        QVERIFY(!path.isEmpty());
        QVERIFY((*Roster::open(path))->checkSeals().sentences.isEmpty());
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "behind");
            db.setDatabaseName(path);
            QVERIFY(db.open());
            QSqlQuery q(db);
            QVERIFY(q.exec("UPDATE rider SET note='as nobody said it'"));
        }
        QSqlDatabase::removeDatabase("behind");
        const Damage damage = (*Roster::open(path))->checkSeals();
        QCOMPARE(damage.sentences.size(), 1);
        QVERIFY2(damage.sentences[0].contains("rider"), qPrintable(damage.sentences[0]));
    }
    void copiesStayAsLongAsIsSaidAndComeBack() {
        const QString path = fresh("copied.marram");
        const Date first = *parseDate("2026-01-05");
        for (int day = 0; day < 90; ++day)
            QVERIFY(backUp(path, first + day));
        const auto copies = copiesOf(path);
        QVERIFY2(copies.size() >= CopyRule{}.days + CopyRule{}.weeks - 2 &&
                     copies.size() <= CopyRule{}.days + CopyRule{}.weeks,
                 qPrintable(QString::number(copies.size())));
        QVERIFY(QFile::permissions(copies.front().path).testAnyFlags(QFile::ReadOwner) &&
                !QFile::permissions(copies.front().path).testAnyFlags(QFile::ReadGroup | QFile::ReadOther));
        const QString to = folder_.filePath("back.marram");
        QVERIFY(restoreCopy(path, first + 89, to));
        auto back = Roster::open(to);
        QVERIFY(back && (*back)->riders()->front().note == "as she said it");
        // A file that is there is never overwritten.
        const auto again = restoreCopy(path, first + 89, to);
        QVERIFY(!again && !again.error().sentence.empty());
        QVERIFY(!restoreCopy(path, first - 10, folder_.filePath("none.marram")));
        QVERIFY(!QFile::exists(folder_.filePath("none.marram")));
    }
};

MARRAM_SUITE(CopiesTest)
#include "tst_copies.moc"
