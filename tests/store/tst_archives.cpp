// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/gpx/gpx.h"
#include "formats/recording/archive.h"
#include "formats/recording/recording.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <zip.h>
#include <zlib.h>

using namespace marram;
using namespace marram::test;

namespace {

QByteArray gzipped(const QString& path, const QByteArray& bytes) {
    gzFile file = gzopen(QFile::encodeName(path).constData(), "wb");
    gzwrite(file, bytes.constData(), static_cast<unsigned>(bytes.size()));
    gzclose(file);
    QFile back(path);
    return back.open(QIODevice::ReadOnly) ? back.readAll() : QByteArray();
}

void zipped(const QString& path, const std::vector<std::pair<QString, QByteArray>>& files) {
    zip_t* archive = zip_open(QFile::encodeName(path).constData(), ZIP_CREATE | ZIP_TRUNCATE, nullptr);
    for (const auto& [name, bytes] : files)
        zip_file_add(
            archive, name.toUtf8().constData(),
            zip_source_buffer(archive, bytes.constData(), static_cast<zip_uint64_t>(bytes.size()), 0),
            ZIP_FL_ENC_UTF_8);
    zip_close(archive);
}

/// The same recording as another sport.
QByteArray as(const QByteArray& fit, const char* sport) {
    auto recording = readRecording(fit);
    recording->otherSport = sport;
    const auto bytes = writeFit(*recording);
    return {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())};
}

} // namespace

/// Whole archives: folders, packed files, zips; what is no ride in them; what is broken.
class ArchivesTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString at(const QString& name) { return folder_.filePath(name); }

    std::vector<RideRecord> ridesOf(const Roster& roster) {
        return roster.rides(roster.riders().value().front().id).value();
    }
    ImportReport import(Roster& roster, const QStringList& paths) {
        const RiderRecord rider = roster.riders().value().front();
        return Importer(roster, rider).importFiles(paths);
    }
    std::unique_ptr<Roster> rosterOf(const QString& name) {
        auto roster = Roster::create(at(name)).value();
        RiderRecord rider;
        rider.name = "Ann Dunlin";
        roster->saveRider(rider).value();
        return roster;
    }

private slots:
    void aFolderOfAllKindsComesInOnce() {
        QDir(folder_.path()).mkpath("whole/2027/march");
        const QByteArray one = fitOf(1), two = fitOf(2), three = fitOf(3), four = fitOf(4);
        save(at("whole/one.fit"), one);
        gzipped(at("whole/2027/march/two.fit.gz"), two);
        const QByteArray packed = gzipped(at("pack.gz"), four);
        zipped(at("whole/2027/Export ä.ZIP"), {{"activities/dreißig.fit", three},
                                               {"activities/four.fit.gz", packed},
                                               {"activities/again.fit", one},
                                               {"__MACOSX/._one.fit", "junk"},
                                               {"profile.json", "{}"}});
        const FoundFiles found = recordingsBelow(at("whole"));
        QVERIFY2(found.refused.isEmpty(), qPrintable(found.refused.join('\n')));
        QCOMPARE(found.files.size(), 5);
        const auto inside = readRecordingFile(at("whole/2027/Export ä.ZIP/activities/dreißig.fit"));
        QVERIFY2(inside, inside ? "" : inside.error().sentence.c_str());
        QCOMPARE(*inside, three);
        const auto twice = readRecordingFile(at("whole/2027/Export ä.ZIP/activities/four.fit.gz"));
        QVERIFY2(twice, twice ? "" : twice.error().sentence.c_str());
        QCOMPARE(*twice, four);
        const auto roster = rosterOf("all.marram");
        const ImportReport report = import(*roster, found.files);
        QVERIFY2(report.refused.isEmpty(), qPrintable(report.refused.join('\n')));
        QCOMPARE(report.added.size(), size_t(4));
        QCOMPARE(report.duplicates.size(), 1);
        // The archive alone, once more: all of it is known, whatever it was packed in.
        const ImportReport again = import(*roster, {at("whole/2027/Export ä.ZIP"), at("whole/one.fit")});
        QVERIFY(again.added.empty());
        QCOMPARE(again.duplicates.size(), 4);
        // What is kept is the recording, not its wrapping.
        for (const RideRecord& r : ridesOf(*roster))
            QVERIFY(roster->originalOf(r.id).value().mid(8, 4) == ".FIT");
    }

    void whatIsBrokenIsNamed_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("says");
        const QByteArray packed = gzipped(at("whole.gz"), fitOf(5));
        QTest::addRow("cut") << "cut.fit.gz" << packed.left(packed.size() / 2) << "ends early or is damaged";
        QTest::addRow("changed") << "bad.fit.gz" << packed.left(200) + QByteArray(400, 'x') + packed.mid(600)
                                 << "ends early or is damaged";
        QTest::addRow("a head alone") << "head.fit.gz" << packed.left(3) << "ends early or is damaged";
        QTest::addRow("no zip") << "no.zip" << QByteArray("PK\x03\x04 and no more") << "is no archive";
        QTest::addRow("empty zip name") << "text.zip" << QByteArray("date,power\n") << "is no archive";
    }
    void whatIsBrokenIsNamed() {
        QFETCH(QString, name);
        QFETCH(QByteArray, bytes);
        QFETCH(QString, says);
        save(at(name), bytes);
        const auto roster = rosterOf(name + ".marram");
        const ImportReport report = import(*roster, {at(name)});
        QCOMPARE(report.refused.size(), 1);
        QVERIFY2(report.refused[0].contains(name) && report.refused[0].contains(says),
                 qPrintable(report.refused[0]));
        QVERIFY(report.added.empty());
    }

    void oneThatIsNoArchiveDoesNotKeepTheOthersOut() {
        save(at("bad.zip"), "nothing");
        zipped(at("good.zip"), {{"a.fit", fitOf(6)}});
        const auto roster = rosterOf("others.marram");
        const ImportReport report = import(*roster, {at("bad.zip"), at("good.zip"), at("missing.zip")});
        QCOMPARE(report.added.size(), size_t(1));
        QCOMPARE(report.refused.size(), 2);
    }

    void whatUnpacksToTooMuchIsRefused() {
        gzipped(at("bomb.csv.gz"), QByteArray(8 << 20, '0'));
        const auto gz = readRecordingFile(at("bomb.csv.gz"), 1 << 20);
        QVERIFY(!gz && gz.error().sentence.find("1 MiB") != std::string::npos);
        zipped(at("bomb.zip"), {{"big.csv", QByteArray(8 << 20, '0')}});
        const auto zip = readRecordingFile(at("bomb.zip/big.csv"), 1 << 20);
        QVERIFY(!zip && zip.error().sentence.find("1 MiB") != std::string::npos);
        QCOMPARE(readRecordingFile(at("bomb.zip/big.csv")).value().size(), 8 << 20);
        QVERIFY(!readRecordingFile(at("bomb.zip/other.csv")));
    }

    void otherSportsStayInTheListAndCountForNothing() {
        const QByteArray run = as(fitOf(7), "running");
        QCOMPARE(readRecording(run)->otherSport.value_or(""), std::string("running"));
        QVERIFY(!readRecording(fitOf(7))->otherSport);
        save(at("run.fit"), run);
        save(at("ride.fit"), fitOf(8));
        const auto roster = rosterOf("sports.marram");
        const ImportReport report = import(*roster, {at("run.fit"), at("ride.fit")});
        QCOMPARE(report.added.size(), size_t(2));
        QVERIFY(report.remarks.join('\n').contains("is running, not riding"));
        int counted = 0;
        for (const RideRecord& r : ridesOf(*roster))
            counted += r.excluded ? 0 : 1;
        QCOMPARE(counted, 1);
        // A track that says so itself.
        QByteArray gpx = "<gpx><trk><type>Running</type><trkseg>";
        for (int i = 0; i < 30; ++i)
            gpx += "<trkpt lat='54.1' lon='8.2'><time>2027-03-01T10:00:" +
                   QByteArray::number(i).rightJustified(2, '0') + "Z</time></trkpt>";
        QCOMPARE(readRecording(gpx + "</trkseg></trk></gpx>")->otherSport.value_or(""),
                 std::string("running"));
    }
};

MARRAM_SUITE(ArchivesTest)
#include "tst_archives.moc"
