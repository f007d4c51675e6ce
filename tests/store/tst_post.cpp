// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/scenario.h"
#include "formats/csv/csv.h"
#include "formats/fit/workout.h"
#include "store/post.h"
#include "support/demo_roster.h"
#include "support/suite.h"

#include <QDir>
#include <QDirIterator>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

/// The week as it is sent: a folder a rider, what is new and what changed, nothing of the rider's touched.
class PostTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    const Date now_ = *parseDate("2026-11-23");
    std::unique_ptr<Roster> roster_;

    Result<PostSent> send(const QString& to, const std::vector<qint64>& riders = {},
                          const Progress& progress = {}) {
        return sendWeek(
            *roster_, to, riders, now_ - 7, now_, progress,
            {[](const Letter& l) { return QByteArray("%PDF of ") + l.rider.toUtf8() + l.coach.toUtf8(); },
             [](const QString& rider, Date) { return QByteArray("%PDF for ") + rider.toUtf8(); }});
    }
    static std::map<QString, QByteArray> treeOf(const QString& at) {
        std::map<QString, QByteArray> tree;
        QDirIterator each(at, QDir::Files | QDir::Hidden, QDirIterator::Subdirectories);
        while (each.hasNext()) {
            QFile f(each.next());
            if (f.open(QIODevice::ReadOnly))
                tree[QDir(at).relativeFilePath(f.fileName())] = f.readAll();
        }
        return tree;
    }

private slots:
    void initTestCase() {
        const QString path = folder_.filePath("demo.marram");
        QVERIFY(demoRoster(path, now_));
        roster_ = Roster::open(path).value();
    }

    void everybodyGetsTheirWeekAndTheSecondTimeNothingIsWritten() {
        const QString to = folder_.filePath("post");
        const auto sent = send(to);
        QVERIFY2(sent, sent ? "" : sent.error().sentence.c_str());
        QVERIFY(sent->riders == 6 && sent->changed == 0 && sent->same == 0 && sent->fresh > 30);
        const auto tree = treeOf(to);
        QCOMPARE(static_cast<int>(tree.size()), sent->fresh);
        int workouts = 0, calendars = 0, letters = 0;
        for (const auto& [name, bytes] : tree) {
            QVERIFY2(name.contains("/to-rider/week-2026-11-23/"), qPrintable(name));
            QVERIFY(!(QFile::permissions(QDir(to).filePath(name)) & (QFile::ReadGroup | QFile::ReadOther)));
            workouts += name.endsWith(".fit") && bytes.mid(8, 4) == ".FIT" ? 1 : 0;
            calendars += name.endsWith(".ics") && bytes.startsWith("BEGIN:VCALENDAR") ? 1 : 0;
            letters += name.endsWith("letter.txt") ? 1 : 0;
            if (name.endsWith("check-in.csv")) {
                const auto sheet = readCheckIns(bytes);
                QVERIFY(sheet && sheet->size() == 7);
                QVERIFY(sheet->front().checkIn.day == now_ && sheet->front().checkIn.empty());
            }
        }
        QVERIFY(workouts > 12 && calendars == 6 && letters == 6);
        // Of whom nothing was promised it is now, for the weeks of the calendar, one session a day.
        QCOMPARE(sent->promised.size(), 6U);
        for (const PostSent::Promised& p : sent->promised) {
            QVERIFY(p.sessions.size() > 10 && p.sessions.back().date <= now_ + 27);
            for (size_t i = 0; i < p.sessions.size(); ++i)
                QVERIFY(p.sessions[i].date >= p.from &&
                        (i == 0 || p.sessions[i - 1].date < p.sessions[i].date));
        }
        const auto again = send(to);
        QVERIFY(again && again->fresh == 0 && again->changed == 0 && again->same == sent->fresh);
        QVERIFY(sent->differs.empty() && again->differs.empty());
        QVERIFY(treeOf(to) == tree);
    }

    void whatChangedIsSentAnewAndTheRidersFolderIsNeverTouched() {
        const QString to = folder_.filePath("post");
        const auto riders = roster_->riders().value();
        const auto nell = std::find_if(riders.begin(), riders.end(),
                                       [](const RiderRecord& r) { return r.name.contains("Nell"); });
        const QString home = to + QString("/%1-nell-varrowby").arg(nell->id, 3, 10, QChar('0'));
        QVERIFY(QDir(home + "/from-rider").exists());
        QFile answer(home + "/from-rider/note.txt");
        QVERIFY(answer.open(QIODevice::WriteOnly) && answer.write("The left knee again") > 0);
        answer.close();
        QFile own(home + "/to-rider/week-2026-11-23/what the rider keeps here.txt");
        QVERIFY(own.open(QIODevice::WriteOnly) && own.write("mine") > 0);
        own.close();
        // A workout of ours for a day of the week that is not meant any more.
        const QString stale = home + "/to-rider/week-2026-11-23/2026-11-29-sprints-of-old.fit";
        QVERIFY(QFile::copy(home + "/to-rider/week-2026-11-23/letter.txt", stale));
        QVERIFY(roster_->saveLetter(nell->id, now_ - 7, "Hold & <b>rest</b>"));
        const auto sent = send(to, {nell->id});
        QVERIFY(sent && sent->riders == 1 && sent->fresh == 0);
        QCOMPARE(sent->changed, 3); // the letter's text and page, and the workout that went
        QCOMPARE(sent->differs.size(), size_t(1));
        QCOMPARE(sent->differs[0].second,
                 QStringList({"letter.txt", "letter.pdf", "2026-11-29-sprints-of-old.fit"}));
        QVERIFY(!QFile::exists(stale) && QFile::exists(own.fileName()));
        QFile letter(home + "/to-rider/week-2026-11-23/letter.txt");
        QVERIFY(letter.open(QIODevice::ReadOnly) && letter.readAll().contains("Hold & <b>rest</b>"));
        QVERIFY(answer.open(QIODevice::ReadOnly) && answer.readAll() == "The left knee again");
    }

    void whatCannotBeWrittenIsSaidAndCancellingStops() {
        const QString to = folder_.filePath("elsewhere");
        const auto stopped = send(to, {}, [](int done, int) { return done < 2; });
        QVERIFY(!stopped && stopped.error().sentence.find("Cancelled") != std::string::npos);
        QCOMPARE(QDir(to).entryList(QDir::Dirs | QDir::NoDotAndDotDot).size(), qsizetype(2));
        QFile file(folder_.filePath("a-file"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.close();
        const auto refused = send(folder_.filePath("a-file"));
        QVERIFY(!refused && refused.error().sentence.find("a-file") != std::string::npos);
    }
};

MARRAM_SUITE(PostTest)
#include "tst_post.moc"
