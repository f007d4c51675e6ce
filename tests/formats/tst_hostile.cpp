// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/score.h"
#include "formats/csv/csv.h"
#include "formats/gpx/gpx.h"
#include "formats/json/season_json.h"
#include "formats/recording/recording.h"
#include "support/suite.h"

#include <QStringEncoder>
#include <QTest>
#include <cmath>

using namespace marram;

namespace {

const QByteArray csv = "time,power,heart_rate\n2027-01-04T09:00:00Z,200,140\n2027-01-04T09:00:01Z,210,141\n";
const QByteArray gpx = "<?xml version=\"1.0\"?><gpx><trk><trkseg><trkpt lat=\"1\" lon=\"2\"><ele>3</ele>"
                       "<time>2027-01-04T09:00:00Z</time><extensions><power>250</power></extensions></trkpt>"
                       "</trkseg></trk></gpx>";
const QByteArray season =
    R"({"start":"2027-01-04","end":"2027-04-25","rider":{"threshold_power_w":250,"hours":[0,1,1,1,0,3,2]},
    "races":[{"name":"P","date":"2027-04-18","priority":"A","gate":[5,15]}],"weeks":[{"start":"2027-02-01","kind":"deload"}]})";

/// The text with one byte changed, for every byte and three changes.
template <class Check>
void eachFlip(const QByteArray& whole, Check check) {
    for (qsizetype at = 0; at < whole.size(); ++at)
        for (const char flip : {'\x01', '\x20', '\x7f'}) {
            QByteArray bad = whole;
            bad[at] = static_cast<char>(bad[at] ^ flip);
            check(bad, at);
        }
}

} // namespace

/// Text formats cut at every byte and with every byte changed: a sentence or something usable, never harm.
class HostileTest : public QObject {
    Q_OBJECT
private slots:
    void aGpxCutAnywhereIsRefused() {
        for (qsizetype n = 0; n < gpx.size(); ++n) {
            const auto r = readGpx(gpx.left(n));
            QVERIFY2(!r && !r.error().sentence.empty(), qPrintable(QString::number(n)));
        }
        QVERIFY(readGpx(gpx));
    }
    void entityBombsDepthAndDoctypesAreRefused() {
        const auto says = [](const QByteArray& bytes, const char* words) {
            const auto r = readGpx(bytes);
            return !r && r.error().sentence.find(words) != std::string::npos;
        };
        const QByteArray bomb =
            "<?xml version=\"1.0\"?><!DOCTYPE g [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b "
            "\"&a;&a;&a;&a;&a;&a;&a;&a;\"><!ENTITY c \"&b;&b;&b;&b;&b;&b;&b;&b;\">]><gpx>&c;</gpx>";
        QVERIFY(says(bomb, "document type"));
        QVERIFY(says("<!DOCTYPE gpx SYSTEM \"file:///etc/passwd\"><gpx/>", "document type"));
        QByteArray deep = "<gpx>";
        for (int i = 0; i < 100000; ++i)
            deep += "<a>";
        QVERIFY(says(deep, "nested deeper"));
        QVERIFY(says("<gpx><trk><trkseg><trkpt lat=\"91\" lon=\"0\"/></trkseg></trk></gpx>", "no place"));
        QVERIFY(says("<svg/>", "not GPX"));
    }
    void floodsOfAttributesAndNamespacesEndAtOnce() {
        const auto sentence = [](const QByteArray& bytes) {
            const auto r = readGpx(bytes);
            return QString::fromStdString(r ? "read" : r.error().sentence);
        };
        const auto flood = [](const QByteArray& name, int count) {
            QByteArray all;
            for (int i = 0; i < count; ++i)
                all += " " + name + QByteArray::number(i) + "=\"urn:" + QByteArray::number(i) + "\"";
            return all;
        };
        const auto holding = [](const QByteArray& inside) {
            return QByteArray(gpx).replace("<trk>", "<trk>" + inside);
        };
        QCOMPARE(sentence(holding("\n<a" + flood("b", 256) + "/>")), "read");
        const QString crowded = "line 2: an element has more than 256 attributes, which GPX has no need of";
        QCOMPARE(sentence(holding("\n<a" + flood("b", 257) + "/>")), crowded);
        QCOMPARE(sentence(holding("\n<a b='>'" + flood("b", 400000) + "/>")), crowded);
        // What only looks like it is read.
        const QByteArray alike = "<a" + flood("b", 300) + "/>";
        QCOMPARE(sentence(holding("<!-- " + alike + " --><![CDATA[" + alike + "]]><?x " + alike + "?>")),
                 "read");
        QCOMPARE(sentence(holding("<name>a = 'b' = \"" + flood("b", 300) + "</name>")), "read");
        QByteArray nested;
        for (int depth = 0; depth < 40; ++depth)
            nested += "<a" + flood("xmlns:n" + QByteArray::number(depth) + "x", 250) + ">";
        QVERIFY2(sentence(holding(nested + QByteArray("<n0x0:b/>").repeated(200000))).contains("namespaces"),
                 "each name would be sought among 10 000");
        // One declared anew at every point is what some devices write.
        QCOMPARE(sentence(holding(QByteArray("<e xmlns='urn:e' xmlns:f='urn:f'><f:g/></e>").repeated(1000))),
                 "read");
    }
    void encodingsAndEntitiesAreWhatTheySay() {
        const auto sentence = [](const QByteArray& bytes) {
            const auto r = readGpx(bytes);
            return QString::fromStdString(r ? "read" : r.error().sentence);
        };
        const auto holding = [](const QByteArray& inside) {
            return QByteArray(gpx).replace("<trk>", "<trk>" + inside);
        };
        const QString other = "line 1: is not in UTF-8; save it as UTF-8, or export the ride again";
        const QByteArray latin = holding("<name>D\xFCne</name>");
        QCOMPARE(sentence(latin), other);
        QCOMPARE(sentence(QByteArray(latin).replace("\"1.0\"", "\"1.0\" encoding=\"ISO-8859-1\"")), "read");
        for (const char* name : {"windows-1252", "IBM037", "UTF-7", "no-such"})
            QCOMPARE(
                sentence(QByteArray(gpx).replace("\"1.0\"", "\"1.0\" encoding=\"" + QByteArray(name) + "\"")),
                other);
        for (const auto to :
             {QStringConverter::Utf16LE, QStringConverter::Utf16BE, QStringConverter::Utf32BE})
            QCOMPARE(sentence(QStringEncoder(to, QStringConverter::Flag::WriteBom)(QString(gpx))), other);
        QCOMPARE(sentence("seconds,power"), "line 1: is not GPX; it should begin with <");
        QCOMPARE(sentence("\xEF\xBB\xBF" + gpx), "read");
        QCOMPARE(sentence(holding("<name>Dunes &amp; dikes &#228;</name>")), "read");
        QVERIFY(sentence(holding("\n<name>&dunes;</name>")).startsWith("line 2: broken XML"));
        QVERIFY(sentence(holding("\n<name>a\x01z</name>")).startsWith("line 2: broken XML"));
        QVERIFY(sentence(holding("\n<" + QByteArray(60000, 'a') + "></b>")).size() < 200);
        // Devices forget to declare their prefixes; the points are no worse for it.
        const auto r = readGpx(QByteArray(gpx).replace("<ele>", "<x:hr>150</x:hr><ele>"));
        QVERIFY(r && r->samples.at(0).heartRate == 150.0F);
    }
    void aWrongEndingDoesNotMatter() {
        // What a file is called says nothing; what it begins with does.
        QCOMPARE(kindOf(gpx), RecordingKind::Gpx);
        QCOMPARE(kindOf("\xEF\xBB\xBF" + gpx), RecordingKind::Gpx);
        QCOMPARE(kindOf(csv), RecordingKind::Csv);
        QVERIFY(readRecording(gpx) && readRecording(csv));
    }
    void checkInsCutOrChangedGiveASentenceOrRows() {
        const QByteArray text = "rider,date,feel,note\nAnn,2027-01-04,4,\"a, b\"\nBo,2027-01-05,2,\n";
        for (qsizetype n = 0; n < text.size(); ++n) {
            const auto r = readCheckIns(text.left(n));
            QVERIFY(r ? r->size() <= 2 : !r.error().sentence.empty());
        }
        eachFlip(text, [](const QByteArray& bad, qsizetype) {
            const auto r = readCheckIns(bad);
            QVERIFY(r ? r->size() <= 2 : !r.error().sentence.empty());
        });
    }
    void aCsvCutAnywhereGivesWholeRowsOrASentence() {
        for (qsizetype n = 0; n < csv.size(); ++n) {
            const auto r = readCsvRecording(csv.left(n));
            if (r)
                QVERIFY(r->samples.size() <= 2 && r->samples[0].power == 200.0F);
            else
                QVERIFY(!r.error().sentence.empty());
        }
    }
    void aSeasonCutAnywhereIsRefused() {
        for (qsizetype n = 0; n < season.size(); ++n)
            QVERIFY2(!readSeason(season.left(n)), qPrintable(QString::number(n)));
        QVERIFY(readSeason(season));
    }
    void aSeasonWithAnyByteChangedIsRefusedOrPlanned() {
        int refused = 0, planned = 0;
        eachFlip(season, [&](const QByteArray& bad, qsizetype) {
            const auto s = readSeason(bad);
            if (!s) {
                ++refused;
                QVERIFY(!s.error().sentence.empty());
                return;
            }
            // What passes is a season: every day of it can be planned.
            ++planned;
            if (planned % 10 == 0)
                QCOMPARE(static_cast<int>(solveSeason(*s).plan.days.size()), s->dayCount());
        });
        QVERIFY(refused > 300 && planned > 10);
    }
    void recordingsWithAnyByteChangedAreRefusedOrScoreFinitely() {
        for (const QByteArray& whole : {csv, gpx})
            eachFlip(whole, [&](const QByteArray& bad, qsizetype) {
                const auto r = readRecording(bad);
                if (!r)
                    return;
                const auto ride = toGrid(*r);
                if (!ride)
                    return;
                QVERIFY(ride->elapsed() > 0 && ride->elapsed() <= longestRide);
                ScoringBasis basis;
                basis.threshold = Watts{250};
                const Score s = score(*ride, basis);
                QVERIFY(!s.stress || std::isfinite(*s.stress));
            });
    }
    void twoSamplesYearsApartDoNotMakeAYearLongRide() {
        Recording r;
        r.samples.resize(3);
        for (size_t i = 0; i < 3; ++i) {
            r.samples[i].time = 1.8e9 + static_cast<double>(i);
            r.samples[i].power = 100;
        }
        r.samples[0].time -= 3.0e7;
        const auto ride = toGrid(r);
        QCOMPARE(ride->elapsed(), 2);
        QCOMPARE(ride->faults.clock, 1);
    }
};

MARRAM_SUITE(HostileTest)
#include "tst_hostile.moc"
