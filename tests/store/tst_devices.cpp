// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/devices.h"
#include "formats/recording/recording.h"
#include "store/checking.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace marram;
using namespace marram::test;

namespace {

QByteArray bytesOf(const Recording& recording) {
    const auto bytes = writeFit(recording);
    return {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())};
}

/// A ride as it is on a device that lacks a channel, and begins some seconds later.
template <class Lack>
QByteArray lacking(const QByteArray& fit, Lack lack, double later = 0) {
    Recording r = readRecording(fit).value();
    for (Sample& s : r.samples) {
        lack(s);
        s.time += later;
    }
    return bytesOf(r);
}

} // namespace

/// Two devices on one ride, rides indoors, recordings of somebody else, and lists of activities.
class DevicesTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Roster> roster_;
    int rosters_ = 0;

    QString at(const QString& name) { return folder_.filePath(name); }
    RiderRecord rider() { return roster_->riders().value().front(); }
    std::vector<RideRecord> rides() { return roster_->rides(rider().id).value(); }
    ImportReport import(const QStringList& paths, OverlapChoice choice = OverlapChoice::Skip,
                        bool strangers = false) {
        Importer importer(*roster_, rider());
        importer.onOverlap = [&](const RideRecord&, const RideRecord&) {
            ++asked_;
            return OverlapAnswer{choice, true};
        };
        importer.onStranger = [&](const QString&) {
            ++asked_;
            return strangers;
        };
        return importer.importFiles(paths);
    }
    int asked_ = 0;

private slots:
    void init() {
        roster_ = Roster::create(at(QString("%1.marram").arg(++rosters_))).value();
        RiderRecord r;
        r.name = "Ann Dunlin";
        const Date from = *parseDate("2026-01-01");
        r.values.set(Quantity::ThresholdPower, from, 250);
        r.values.set(Quantity::Weight, from, 70);
        QVERIFY(roster_->saveRider(r));
        asked_ = 0;
    }

    void oneRideOnTwoDevicesIsToldByStartAndLength() {
        QVERIFY(sameRideTwice(1000, 3600, 1090, 3560));
        QVERIFY(!sameRideTwice(1000, 3600, 1000, 1800));  // half of it
        QVERIFY(!sameRideTwice(1000, 3600, 1600, 3600));  // ten minutes later
        QVERIFY(sameRideTwice(1000, 18000, 1600, 17900)); // ten minutes of five hours
    }

    void theRideHasTheBetterChannelsOfBoth() {
        const QByteArray whole = fitOf(3);
        const QString watch = save(at("watch.fit"), lacking(
                                                        whole, [](Sample&s) { s.power = missing; }, 20)),
                      computer =
                          save(at("computer.fit"), lacking(whole, [](Sample&s) { s.heartRate = missing; }));
        const Ride truth = toGrid(readRecording(whole).value()).value();
        const std::vector<QStringList> orders{{watch, computer}, {computer, watch}};
        for (const QStringList& order : orders) {
            init();
            const ImportReport report = import(order, OverlapChoice::OneRide);
            QCOMPARE(report.added.size(), size_t(2));
            QCOMPARE(report.secondDevices, 1);
            QCOMPARE(asked_, 1);
            const auto all = rides();
            QCOMPARE(all.size(), size_t(2));
            const RideRecord& main = all[all[0].beside.isEmpty() ? 0 : 1];
            const RideRecord& second = all[all[0].beside.isEmpty() ? 1 : 0];
            QVERIFY(!main.excluded && second.excluded && second.beside == main.contentHash);
            QVERIFY(main.score.meanHeartRate && main.score.stress && !main.stale);
            QCOMPARE(main.score.method, StressMethod::Power);
            const Ride merged = onGrid(roster_->recordingsOf(main).value()).value();
            QVERIFY(merged.hasPower && merged.hasHeartRate);
            // Second by second what each device had then.
            const auto shift = merged.start - truth.start;
            int seen = 0;
            for (int t = 600; t < 1200; ++t) {
                const auto here = static_cast<size_t>(t);
                const auto there = static_cast<size_t>(t + shift);
                const auto watchThere = static_cast<size_t>(t + shift - 20);
                if (std::isnan(merged.power[here]) || std::isnan(truth.power[there]))
                    continue;
                QCOMPARE(merged.power[here], truth.power[there]);
                if (!std::isnan(merged.heartRate[here]) && !std::isnan(truth.heartRate[watchThere])) {
                    QCOMPARE(merged.heartRate[here], truth.heartRate[watchThere]);
                    ++seen;
                }
            }
            QVERIFY(seen > 500);
            // Both recordings are kept as they came, and what stands is what they give.
            QCOMPARE(roster_->originalOf(second.id).value().mid(8, 4), QByteArray(".FIT"));
            const auto sums = roster_->daySumsSince({}).value()[rider().id];
            QCOMPARE(sums.size(), size_t(1));
            QCOMPARE(sums[0].stress, *main.score.stress);
            const Damage damage = checkWhole(*roster_, {}).value();
            QVERIFY2(damage.empty(), qPrintable(damage.sentences.join('\n')));
            // Without the second one the ride is to be scored again, with it too.
            QVERIFY(roster_->putAside({second.id}, true));
            QVERIFY(roster_->ride(main.id).value()->stale);
            QCOMPARE(roster_->recordingsOf(main).value().size(), size_t(1));
        }
    }

    void whatIsOneRideSurvivesAnExport() {
        const QByteArray whole = fitOf(4);
        const auto powerless = [](Sample& s) { s.power = missing; };
        const QString one = save(at("one.fit"), whole),
                      two = save(at("two.fit"), lacking(whole, powerless, 5));
        import({one, two}, OverlapChoice::OneRide);
        const QString out = at("export");
        QVERIFY(exportJson(*roster_, out));
        const auto back = Roster::create(at("back.marram")).value();
        const auto ids = importJson(*back, out + "/roster.json");
        QVERIFY2(ids, ids ? "" : ids.error().sentence.c_str());
        const auto all = back->rides(ids->front()).value();
        QCOMPARE(all.size(), size_t(2));
        QVERIFY(all[0].beside.isEmpty() != all[1].beside.isEmpty());
        QVERIFY(checkWhole(*back, {}).value().empty());
    }

    void ridesIndoorsAreMarked_data() {
        QTest::addColumn<bool>("said");
        QTest::addColumn<bool>("still");
        QTest::addColumn<bool>("indoors");
        QTest::addRow("outdoors") << false << false << false;
        QTest::addRow("the file says so") << true << false << true;
        QTest::addRow("no altitude and no distance") << false << true << true;
    }
    void ridesIndoorsAreMarked() {
        QFETCH(const bool, said);
        QFETCH(const bool, still);
        QFETCH(const bool, indoors);
        Recording r = readRecording(fitOf(5)).value();
        r.indoors = said;
        if (still)
            for (Sample& s : r.samples)
                s.altitude = s.distance = missing;
        import({save(at("indoors.fit"), bytesOf(r))});
        QCOMPARE(rides().front().score.indoors, indoors);
    }

    void somebodyElsesFilesAreAskedAboutOnce_data() {
        QTest::addColumn<double>("weight");
        QTest::addColumn<double>("threshold");
        QTest::addColumn<double>("power");
        QTest::addColumn<bool>("stranger");
        QTest::addRow("theirs") << 72.0 << 255.0 << 1.0 << false;
        QTest::addRow("nothing said") << 0.0 << 0.0 << 1.0 << false;
        QTest::addRow("weight") << 54.0 << 0.0 << 1.0 << true;
        QTest::addRow("threshold") << 70.0 << 340.0 << 1.0 << true;
        QTest::addRow("power nobody of 250 W has") << 0.0 << 0.0 << 2.6 << true;
    }
    void somebodyElsesFilesAreAskedAboutOnce() {
        QFETCH(const double, weight);
        QFETCH(const double, threshold);
        QFETCH(const double, power);
        QFETCH(const bool, stranger);
        QStringList files;
        for (int day = 10; day < 13; ++day) {
            Recording r = readRecording(fitOf(day)).value();
            if (weight > 0)
                r.riderWeight = weight;
            if (threshold > 0)
                r.deviceThreshold = threshold;
            for (Sample& s : r.samples)
                s.power *= static_cast<float>(power);
            files << save(at(QString("whose-%1.fit").arg(day)), bytesOf(r));
        }
        const ImportReport left = import(files);
        QCOMPARE(asked_, stranger ? 1 : 0);
        QCOMPARE(left.strangers.size(), stranger ? 3 : 0);
        QCOMPARE(rides().size(), stranger ? size_t(0) : size_t(3));
        if (stranger) {
            asked_ = 0;
            QCOMPARE(import(files, OverlapChoice::Skip, true).added.size(), size_t(3));
            QCOMPARE(asked_, 1);
        }
    }

    void aListGivesRidesTheirEffortsAndWords() {
        const QString list =
            save(at("activities.csv"), "Activity Date,Activity Name,Perceived Exertion,Description\n"
                                       "\"Jan 2, 2027, 9:00:00 AM\",Dune loop,6,\"windy, cold\"\n"
                                       "2027-01-03 09:05,=SUM(A1),,\n"
                                       "\"Jan 4, 2027, 7:00:00 AM\",Gym,7,\n"
                                       "nonsense,Not a day,3,\n");
        const ImportReport report =
            import({list, save(at("d1.fit"), fitOf(1)), save(at("d2.fit"), fitOf(2))});
        QVERIFY2(report.refused.isEmpty(), qPrintable(report.refused.join('\n')));
        QCOMPARE(report.listed.size(), size_t(2));
        const auto all = rides();
        QCOMPARE(all[0].note, QString("Dune loop. windy, cold"));
        QCOMPARE(all[0].effort, std::optional(6.0));
        QCOMPARE(all[1].note, QString("=SUM(A1)"));
        QVERIFY(!all[1].effort);
        QVERIFY2(report.remarks.join('\n').contains("2 of its lines belong"),
                 qPrintable(report.remarks.join('\n')));
        // What the coach wrote stays.
        const ImportReport again = import({save(at("other.csv"), "date,name,rpe\n2027-01-02,Other,9\n")});
        QVERIFY(again.listed.empty());
        QCOMPARE(rides()[0].note, QString("Dune loop. windy, cold"));
    }

    void listsAreReadHoweverTheirDaysAreWritten_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("days");
        QTest::addRow("iso") << QByteArray("date;name\n2027-01-04;a\n") << "2027-01-04";
        QTest::addRow("points") << QByteArray("Datum;Titel\n4.1.2027;a\n") << "2027-01-04";
        QTest::addRow("slashes") << QByteArray("day,title\n4/1/2027,a\n5/1/2027,b\n")
                                 << "2027-01-04 2027-01-05";
        QTest::addRow("months first")
            << QByteArray("day,title\n1/4/2027,a\n1/25/2027,b\n") << "2027-01-04 2027-01-25";
        QTest::addRow("words") << QByteArray("start,note\n\"4 January 2027\",a\n\"Mar 5, 2027\",b\n")
                               << "2027-01-04 2027-03-05";
        QTest::addRow("a leap day, and one that never was")
            << QByteArray("date,name\n2028-02-29,a\n2027-02-29,b\n") << "2028-02-29";
    }
    void listsAreReadHoweverTheirDaysAreWritten() {
        QFETCH(const QByteArray, text);
        QFETCH(const QString, days);
        const auto head = activityHead(text);
        QVERIFY(head);
        const ActivityColumns columns = recognisedColumns(head->columns);
        QVERIFY(columns.usable());
        const auto list = readActivities(text, columns);
        QVERIFY2(list, list ? "" : list.error().sentence.c_str());
        QStringList found;
        for (const Activity& a : list->activities)
            found << QString::fromStdString(isoText(a.day.value()));
        QCOMPARE(found.join(' '), days);
    }

    void aFolderThatGoesHalfwayLeavesWhatCameIn() {
        const QString folder = at("stick");
        QVERIFY(QDir().mkpath(folder + "/rides"));
        QStringList files;
        for (int day = 20; day < 50; ++day)
            files << save(QString("%1/rides/%2.fit").arg(folder).arg(day), fitOf(day, 0.3));
        Importer importer(*roster_, rider());
        importer.progress = [&](int done, int) {
            if (done == 5)
                QDir(folder).removeRecursively();
            return true;
        };
        const ImportReport report = importer.importFiles(files);
        QVERIFY(report.added.size() >= 5 && report.added.size() < 30);
        QCOMPARE(rides().size(), report.added.size());
        QCOMPARE(report.refused.size(), 1); // one sentence, not one a file
        QVERIFY2(report.refused[0].startsWith(folder + ": has gone, at "), qPrintable(report.refused[0]));
        // A single file that is not there is only itself.
        const QString there = save(at("d60.fit"), fitOf(60, 0.3));
        const ImportReport single = Importer(*roster_, rider()).importFiles({at("none.fit"), there});
        QVERIFY(single.refused.size() == 1 && single.added.size() == 1);
    }

    void unknownColumnsAreAskedAboutAndRecordingsAreNot() {
        QVERIFY(!activityHead("seconds,power_w\n0,100\n1,110\n"));
        QVERIFY(!activityHead("<gpx></gpx>"));
        QVERIFY(!activityHead(QByteArray("a,b\n\0,1\n", 8)));
        import({save(at("d6.fit"), fitOf(6))});
        const QString odd = save(at("odd.csv"), "wann,was,wie\n2027-01-07,Dünenrunde,5\n");
        QCOMPARE(import({odd}).refused.size(), 1); // nobody to ask
        Importer importer(*roster_, rider());
        int asked = 0;
        importer.onList = [&](const QString& file,
                              const ActivityHead& head) -> std::optional<ActivityColumns> {
            ++asked;
            if (file != "odd.csv" || head.columns.size() != 3 || head.rows.size() != 1)
                return std::nullopt;
            return ActivityColumns{0, -1, 1, 2, -1};
        };
        const ImportReport report = importer.importFiles({odd});
        QCOMPARE(asked, 1);
        QCOMPARE(report.listed.size(), size_t(1));
        QCOMPARE(rides().front().note, QString::fromUtf8("Dünenrunde"));
        // A table without a single day is no list, and nobody is asked.
        importer.importFiles({save(at("table.csv"), "a,b\n1,2\n")});
        QCOMPARE(asked, 1);
    }
};

MARRAM_SUITE(DevicesTest)
#include "tst_devices.moc"
