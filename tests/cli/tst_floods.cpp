// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/efforts.h"
#include "formats/csv/lines.h"
#include "formats/fit/protocol.h"
#include "formats/recording/recording.h"
#include "store/exchange.h"
#include "store/import.h"
#include "support/rides.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <fcntl.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace marram;
using namespace marram::test;

namespace {

struct Measured {
    int code = -1;
    double megabytes = 0; ///< most memory it held at once
    QByteArray err;
};

/// marram-cli as a process of its own, ended after half a minute.
Measured measured(const QStringList& arguments, const QString& errTo) {
    std::vector<QByteArray> words{QByteArray(BIN_DIR) + "/marram-cli"};
    for (const QString& a : arguments)
        words.push_back(QFile::encodeName(a));
    std::vector<char*> argv;
    for (QByteArray& w : words)
        argv.push_back(w.data());
    argv.push_back(nullptr);
    const QByteArray errors = QFile::encodeName(errTo);
    const pid_t child = fork();
    if (child == 0) {
        alarm(30);
        dup2(open("/dev/null", O_WRONLY), 1);
        dup2(open(errors.constData(), O_WRONLY | O_CREAT | O_TRUNC, 0600), 2);
        execv(argv[0], argv.data());
        _exit(98);
    }
    int status = 0;
    rusage used{};
    wait4(child, &status, 0, &used);
    QFile file(errTo);
    Measured ran;
    ran.code = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    ran.megabytes = static_cast<double>(used.ru_maxrss) / 1024;
    if (file.open(QIODevice::ReadOnly))
        ran.err = file.readAll();
    return ran;
}

/// A FIT file of records that are one byte each: a message without fields, repeated.
QByteArray oneByteRecords(int count) {
    QByteArray data;
    data += QByteArray("\x40\x00\x00\x14\x00\x00", 6); // definition of local message 0: record, no fields
    data += QByteArray(count, '\0');
    QByteArray file(12, '\0');
    file[0] = 12;
    file[1] = 0x20;
    for (int i = 0; i < 4; ++i)
        file[4 + i] = static_cast<char>(data.size() >> (8 * i));
    file.replace(8, 4, ".FIT");
    file += data;
    const std::span bytes(reinterpret_cast<const std::uint8_t*>(file.constData()),
                          static_cast<size_t>(file.size()));
    const auto sum = fit::checksum(bytes);
    file += static_cast<char>(sum & 0xFF);
    file += static_cast<char>(sum >> 8);
    return file;
}

} // namespace

/// Floods, pipes, devices and links: bounded memory, an end, and one line of words.
class FloodsTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    QString in(const QString& name) { return folder_.filePath(name); }
    Measured score(const QString& file) {
        return measured({"score", file, "--threshold-power", "250"}, in("err"));
    }

private slots:
    void memoryStaysBounded_data() {
        QTest::addColumn<QByteArray>("bytes");
        const int size = 12 << 20;
        QTest::newRow("one-byte records") << oneByteRecords(size);
        QByteArray rows = "seconds,power\n";
        for (int t = 0; rows.size() < size; ++t)
            rows += QByteArray::number(t % 100) + ",9\n";
        QTest::newRow("short rows") << rows;
        QTest::newRow("commas") << QByteArray("time,power\n") + QByteArray(size, ',');
        QTest::newRow("a header of commas") << QByteArray(size, ',');
        QTest::newRow("one cell") << QByteArray("time,power\n\"") + QByteArray(size, 'x');
        QByteArray attributes = "<gpx><trk><trkseg><trkpt lat=\"1\" lon=\"2\" ";
        for (int i = 0; attributes.size() < 2 << 20; ++i)
            attributes += "a" + QByteArray::number(i) + "=\"\" ";
        QTest::newRow("attributes") << attributes + "/></trkseg></trk></gpx>";
        QByteArray text = "<gpx><trk><trkseg><trkpt lat=\"1\" lon=\"2\"><time>";
        QTest::newRow("a long time") << text + QByteArray(size, '2') + "</time></trkpt></trkseg></trk></gpx>";
        QByteArray deep = text;
        for (int i = 0; i < 100000; ++i)
            deep += "<a>";
        QTest::newRow("depth inside a time") << deep;
        // The XML reader has words of its own for what it can't turn into UTF-8.
        QTest::newRow("another encoding")
            << QByteArray("<?xml version=\"1.0\" encoding=\"SHIFT_JIS\"?><gpx>") +
                   QByteArray(1 << 20, '\xFF') + "</gpx>";
    }
    void memoryStaysBounded() {
        QFETCH(QByteArray, bytes);
        const QString file = save(in("flood"), bytes);
        const Measured r = score(file);
        QVERIFY2(r.code == 3 || r.code == 0, r.err);
        QVERIFY2(r.err.count('\n') == 1 && r.err.size() < 400, r.err);
        const double limit = 8.0 * static_cast<double>(bytes.size()) / (1 << 20) + 200;
        QVERIFY2(r.megabytes < limit, qPrintable(QString("%1 MB of at most %2").arg(r.megabytes).arg(limit)));
        qInfo("%.0f MB for a file of %.0f MB", r.megabytes, static_cast<double>(bytes.size()) / (1 << 20));
    }
    void pipesDevicesAndLinksToThemAreNoRecordings() {
        const QString pipe = in("pipe.fit"), zero = in("zero.fit");
        QCOMPARE(mkfifo(QFile::encodeName(pipe).constData(), 0600), 0);
        QVERIFY(QFile::link("/dev/zero", zero));
        for (const QString& file : {pipe, zero, QString("/dev/zero")}) {
            const Measured r = score(file);
            QCOMPARE(r.code, 3);
            QVERIFY2(r.err.contains("pipe or a device"), r.err);
        }
        for (const char* verb : {"plan", "model"})
            QCOMPARE(measured({verb, pipe}, in("err")).code, 3);
    }
    void aFolderIsBroughtInWithoutWhatIsNoFile() {
        const QString roster = in("r.marram"), rides = in("rides");
        QVERIFY(QDir().mkpath(rides + "/more"));
        {
            auto r = std::move(*Roster::create(roster));
            RiderRecord ann;
            ann.name = "Ann";
            QVERIFY(r->saveRider(ann));
        }
        save(rides + "/a.fit", fitOf(1, 0.3));
        save(rides + "/more/B.FIT", fitOf(2, 0.3, 2));
        QCOMPARE(mkfifo(QFile::encodeName(rides + "/pipe.fit").constData(), 0600), 0);
        QVERIFY(QFile::link("/dev/zero", rides + "/zero.csv"));
        QVERIFY(QFile::link(rides, rides + "/more/round"));               // a circle
        const QByteArray bad = QFile::encodeName(rides) + "/caf\xe9.fit"; // not UTF-8
        const int fd = open(bad.constData(), O_WRONLY | O_CREAT, 0600);
        QVERIFY(fd >= 0);
        ::close(fd);
        const Measured r = measured({"import", roster, "Ann", rides}, in("err"));
        QCOMPARE(r.code, 0);
        QVERIFY2(r.err.contains("caf") && r.err.contains("not in UTF-8"), r.err);
        QCOMPARE((*Roster::open(roster))->rides(1)->size(), 2U);
        ::unlink(bad.constData());
    }
    void exportsFollowNoLinksAndKeepTheModesOfFolders() {
        const QString roster = in("links.marram"), out = in("out"), elsewhere = in("elsewhere");
        {
            auto r = std::move(*Roster::create(roster));
            RiderRecord ann;
            ann.name = "Ann";
            QVERIFY(r->saveRider(ann));
        }
        QVERIFY(QDir().mkpath(out) && QDir().mkpath(elsewhere));
        QCOMPARE(::chmod(QFile::encodeName(out).constData(), 0755), 0);
        save(elsewhere + "/precious", "kept");
        QVERIFY(QFile::link(elsewhere + "/precious", out + "/roster.json"));
        QCOMPARE(measured({"export", roster, "--json", out}, in("err")).code, 0);
        QFile precious(elsewhere + "/precious");
        QVERIFY(precious.open(QIODevice::ReadOnly));
        QCOMPARE(precious.readAll(), QByteArray("kept"));
        QVERIFY(!QFileInfo(out + "/roster.json").isSymLink());
        struct stat info {};
        QCOMPARE(::stat(QFile::encodeName(out).constData(), &info), 0);
        QCOMPARE(info.st_mode & 0777, 0755U);
        QCOMPARE(::stat(QFile::encodeName(out + "/roster.json").constData(), &info), 0);
        QCOMPARE(info.st_mode & 0777, 0600U);
        const QString linked = in("linked");
        QVERIFY(QDir().mkpath(linked) && QFile::link(elsewhere, linked + "/riders"));
        const Measured r = measured({"export", roster, "--json", linked}, in("err"));
        QVERIFY2(r.code == 3 && r.err.contains("is a link"), r.err);
        QCOMPARE(QDir(elsewhere).entryList(QDir::Files), QStringList{"precious"});
    }
    void whatFailsLeavesNothingBehind() {
        const QString to = in("none.marram");
        QCOMPARE(
            measured({"bring", to, QString(TEST_DATA) + "/hostile/bring-best-number.json"}, in("err")).code,
            3);
        QVERIFY(!QFileInfo::exists(to));
        QCOMPARE(measured({"demo", "--out", "/proc/none.marram"}, in("err")).code, 3);
        const QString there = save(in("there.marram"), "mine");
        QCOMPARE(measured({"demo", "--out", there}, in("err")).code, 3);
        QCOMPARE(QFileInfo(there).size(), 4);
        for (const QString& name : QDir(folder_.path()).entryList(QDir::AllEntries | QDir::Hidden))
            QVERIFY2(!name.startsWith(".marram-"), qPrintable(name));
    }
    void cellsThatWouldBeFormulasAreHarmlessAndComeBack_data() {
        QTest::addColumn<QByteArray>("text");
        for (const char* t : {"=1+1", "+49 a", "-x", "@sum", "\tx", "'=x", "''=x", "plain", "'quoted'", "-5",
                              "+3.5", "a,b", "=\"a\",\"b\"", "'", ""})
            QTest::addRow("%s", t) << QByteArray(t);
    }
    void cellsThatWouldBeFormulasAreHarmlessAndComeBack() {
        QFETCH(QByteArray, text);
        const QByteArray row = csvRow({text, "x"});
        const QByteArray cell = row.startsWith('"') ? row.mid(1) : row;
        bool number = false;
        text.toDouble(&number);
        QVERIFY2(number || cell.isEmpty() || !startsFormula(cell[0]), row);
        CsvLines lines("a,b\n" + row);
        QByteArrayList cells;
        QVERIFY(lines.next(cells) && lines.next(cells));
        QCOMPARE(cells[0], text);
    }
    void twiceNamedKeysAndWrongEncodingsAreNamed_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QByteArray>("says");
        const QByteArray rest = R"("rider":{"threshold_power_w":250,"hours":[0,1,1,1,0,3,2]},
 "races":[{"name":"P","date":"2027-04-18","priority":"A"}])";
        const QByteArray days = R"({"start":"2027-01-04","end":"2027-04-25",)";
        QTest::newRow("twice") << days + "\n\"end\":\"2027-05-30\"," + rest + "}"
                               << QByteArray("line 2: \"end\" is given twice");
        QTest::newRow("two pins")
            << days + rest +
                   R"(,"weeks":[{"start":"2027-02-01","kind":"deload"},{"start":"2027-02-01","kind":"build"}]})"
            << QByteArray("comes twice");
        QTest::newRow("control character") << days + QByteArray(rest).replace("\"P\"", "\"P\\u0007\"") + "}"
                                           << QByteArray("control character");
        QTest::newRow("Latin-1") << days + QByteArray(rest).replace("\"P\"", "\"Caf\xe9\"") + "}"
                                 << QByteArray("not in UTF-8");
        QTest::newRow("time constants")
            << days + QByteArray(rest).replace("\"hours\"", "\"tau_fitness_d\":-42,\"hours\"") + "}"
            << QByteArray("time constants must be");
    }
    void twiceNamedKeysAndWrongEncodingsAreNamed() {
        QFETCH(QByteArray, bytes);
        QFETCH(QByteArray, says);
        const Measured r = measured({"plan", save(in("s.json"), bytes)}, in("err"));
        QCOMPARE(r.code, 3);
        QVERIFY2(r.err.contains(says) && r.err.count('\n') == 1, r.err);
    }
    void timesWithoutAZoneAreLocalAndTheFirstOffsetDecidesTheDay() {
        qputenv("TZ", "Pacific/Auckland"); // 13 hours ahead in January
        tzset();
        const auto local = readRecording("time,power\n2027-01-04T00:30:00,200\n2027-01-04T00:30:01,200\n");
        QVERIFY(local && !local->utcOffset);
        QCOMPARE(local->samples[0].time, 1798975800.0); // 2027-01-03T11:30:00Z
        const auto offsets =
            readRecording("time,power\n2027-01-04T00:30:00+02:00,200\n2027-01-03T22:30:01+00:00,200\n");
        QVERIFY(offsets && offsets->utcOffset == 7200);
        RiderRecord ann;
        QCOMPARE(prepareRide("time,power\n2027-01-04T00:30:00+02:00,200\n2027-01-04T00:30:01+02:00,200\n",
                             "a.csv", ann)
                     ->day,
                 parseDate("2027-01-04").value());
        qunsetenv("TZ");
        tzset();
    }
    void effortsOfADayLongRideAreFoundInOneGo() {
        // Four times the ride, about four times the work: counted, not timed.
        const auto ridden = [](int hours) {
            Recording r;
            for (int t = 0; t < hours * 3600; ++t) {
                Sample s;
                s.time = 1800000000.0 + t;
                s.power = t / 20 % 2 ? 400 : 150;
                r.samples.push_back(s);
            }
            return *toGrid(r);
        };
        const Efforts few = findEfforts(ridden(2), Watts{250}), many = findEfforts(ridden(96), Watts{250});
        QVERIFY(few.all.size() > 150 && many.all.size() > 48 * 170);
        QVERIFY(std::abs(many.sets.front().fade) < 1);
    }
};

MARRAM_SUITE(FloodsTest)
#include "tst_floods.moc"
