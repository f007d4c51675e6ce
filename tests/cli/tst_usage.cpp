// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/command_line.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <random>

using namespace marram::test;

namespace {

/// marram-cli in a folder of its own.
Ran answerOf(const QStringList& arguments, const QString& in) {
    return cli(arguments, "/marram-cli", in);
}

/// A verb as it is called. FILE stands where it reads a file, and what follows `needed` may be left out.
struct Verb {
    const char* name;
    QStringList needed;           ///< a value each, in order, and options with theirs as one string
    QStringList options;          ///< named in its help
    const char* reads = "x.json"; ///< the file FILE stands for
};

const std::vector<Verb>& verbs() {
    static const std::vector<Verb> all{
        {"score",
         {"FILE", "--threshold-power 250"},
         {"--threshold-power", "--threshold-hr", "--rest-hr", "--max-hr", "--sex", "--low-threshold"},
         "x.fit"},
        {"curve", {"FILE"}, {}, "x.fit"},
        {"model", {"FILE"}, {"--tau-fitness", "--tau-fatigue", "--fitness", "--fatigue"}, "x.csv"},
        {"plan", {"FILE"}, {"--out", "--lp"}},
        {"compare", {"FILE", "rules.json"}, {"--equal-stress"}},
        {"chance", {"FILE"}, {"--miss", "--run", "--ill-per-year", "--ill-days", "--seasons", "--seed"}},
        {"course",
         {"FILE", "--threshold-power 250", "--mass 80"},
         {"--cda", "--crr", "--density", "--efficiency", "--intensity"},
         "x.gpx"},
        {"session", {"1 h 65"}, {"--threshold-power", "--low-threshold", "--fit"}},
        {"block", {"FILE", "--from 2027-01-04"}, {"--weeks", "--done", "--meant", "--fit", "--ics"}},
        {"demo", {"--out FILE"}, {"--out"}, "x.marram"},
        {"import", {"FILE", "Ann", "ride.fit"}, {"--overlap", "--other-rider"}, "x.marram"},
        {"letter", {"FILE", "Ann", "--week 2026-01-05"}, {"--week", "--pdf", "--all"}, "x.marram"},
        {"squad", {"FILE", "--group Club"}, {"--group", "--from", "--weeks", "--csv", "--pdf"}, "x.marram"},
        {"export", {"FILE", "--json out"}, {"--json", "--csv", "--ics"}, "x.marram"},
        {"bring", {"FILE", "from.json"}, {}, "x.marram"},
        {"check", {"FILE"}, {}, "x.marram"},
        {"backup", {"FILE"}, {"--list", "--restore", "--to"}, "x.marram"},
        {"learn values", {"FILE"}, {"--seed"}, "x.fit"},
        {"learn response", {"FILE", "results.csv"}, {"--at", "--seed"}, "x.csv"},
        {"learn gate", {"FILE"}, {"--seed"}, "x.csv"},
        {"learn before", {"FILE"}, {"--seed"}, "x.csv"},
        {"learn change", {"FILE", "--split 2027-01-04"}, {"--split", "--seed"}, "x.csv"},
        {"learn habits", {"FILE"}, {"--seed"}, "x.csv"},
    };
    return all;
}

/// The verb with what it needs but `without`; FILE as `file`.
QStringList called(const Verb& verb, const QString& file, int without = -1) {
    QStringList arguments = QString(verb.name).split(' ');
    for (int i = 0; i < verb.needed.size(); ++i) {
        if (i == without)
            continue;
        QString one = verb.needed[i];
        one.replace("FILE", file);
        if (one.startsWith("--"))
            arguments << one.section(' ', 0, 0) << one.section(' ', 1);
        else
            arguments << one;
    }
    return arguments;
}

/// One sentence a coach can read: one line, of whole words, with nothing of a programme's insides.
bool isOneLine(const QByteArray& err) {
    return err.count('\n') == 1 && err.endsWith('\n') && err.size() > 12 &&
           !err.contains("terminate called") && !err.contains("what()") && !err.contains("std::") &&
           !err.contains('\0');
}

} // namespace

/// Every verb of the command line called in every way it should not be: exit 2 for wrong usage, 3 for a file
/// that cannot be used, one line that says so, and nothing written.
class UsageTest : public QObject {
    Q_OBJECT

    static void eachVerb() {
        QTest::addColumn<int>("verb");
        for (size_t i = 0; i < verbs().size(); ++i)
            QTest::newRow(verbs()[i].name) << static_cast<int>(i);
    }
    static const Verb& ofRow() {
        QFETCH(int, verb);
        return verbs()[static_cast<size_t>(verb)];
    }
    static QStringList entries(const QTemporaryDir& folder) {
        return QDir(folder.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot);
    }

    /// Refused in a line; of a folder of recordings those that cannot be read are named in the answer.
    static bool refused(const QString& verb, const Ran& r) {
        if (verb == "learn values")
            return r.code == 0 && r.err.isEmpty() && r.out.contains("left_out") && r.out.contains("x.fit");
        return r.code == 3 && r.out.isEmpty() && isOneLine(r.err);
    }

private slots:
    void itsHelpNamesEveryOption_data() { eachVerb(); }
    void itsHelpNamesEveryOption() {
        const Verb& verb = ofRow();
        QTemporaryDir folder;
        const Ran r = answerOf(QString(verb.name).split(' ') << "--help", folder.path());
        QCOMPARE(r.code, 0);
        QVERIFY(r.err.isEmpty());
        for (const QString& option : verb.options)
            QVERIFY2(r.out.contains(option.toUtf8()), qPrintable(option));
        QVERIFY(entries(folder).isEmpty());
    }

    void theProgrammeNamesItsVersionAndItsVerbs() {
        QTemporaryDir folder;
        const Ran version = answerOf({"--version"}, folder.path());
        QCOMPARE(version.code, 0);
        QVERIFY(version.out.startsWith("marram-cli ") && version.out.count('\n') == 1);
        const Ran help = answerOf({"--help"}, folder.path());
        QCOMPARE(help.code, 0);
        for (const Verb& verb : verbs())
            QVERIFY2(help.out.contains(QByteArray(verb.name).split(' ').front()), verb.name);
        const Ran learn = answerOf({"learn"}, folder.path());
        QVERIFY(learn.code == 2 && isOneLine(learn.err)); // which of them is asked for
    }

    void whatItNeedsIsAskedFor_data() { eachVerb(); }
    void whatItNeedsIsAskedFor() {
        const Verb& verb = ofRow();
        for (int without = 0; without < verb.needed.size(); ++without) {
            QTemporaryDir folder;
            const Ran r = answerOf(called(verb, verb.reads, without), folder.path());
            QCOMPARE(r.code, 2);
            QVERIFY2(r.out.isEmpty() && isOneLine(r.err), r.err);
            QVERIFY(entries(folder).isEmpty());
        }
    }

    void anOptionItDoesNotKnowIsRefused_data() { eachVerb(); }
    void anOptionItDoesNotKnowIsRefused() {
        const Verb& verb = ofRow();
        QTemporaryDir folder;
        for (const QStringList& more : {QStringList{"--quickly"}, QStringList{"--quickly", "7"}}) {
            const Ran r = answerOf(called(verb, verb.reads) << more, folder.path());
            QCOMPARE(r.code, 2);
            QVERIFY2(r.out.isEmpty() && isOneLine(r.err) && r.err.contains("quickly"), r.err);
        }
        QVERIFY(entries(folder).isEmpty());
    }

    void aFileThatIsNotThereIsNamed_data() { eachVerb(); }
    void aFileThatIsNotThereIsNamed() {
        const Verb& verb = ofRow();
        const QString name = verb.name;
        if (name == "session" || name == "demo" || name == "bring")
            return; // the one reads none, the others make it
        QTemporaryDir folder;
        const Ran r = answerOf(called(verb, QString("Dünen %1").arg(verb.reads)), folder.path());
        QCOMPARE(r.code, 3);
        QVERIFY2(r.out.isEmpty() && isOneLine(r.err), r.err);
        QVERIFY2(r.err.contains("Dünen"), r.err);
        QVERIFY(entries(folder).isEmpty());
    }

    void aFileOfAnythingIsRefusedAndLeftAlone_data() { eachVerb(); }
    void aFileOfAnythingIsRefusedAndLeftAlone() {
        const Verb& verb = ofRow();
        const QString name = verb.name;
        if (name == "session")
            return; // it reads none
        std::mt19937 dice(7);
        QByteArray noise;
        for (int i = 0; i < 3000; ++i)
            noise.append(static_cast<char>(dice() & 0xFF));
        for (const QByteArray& bytes : {QByteArray(), QByteArray("\0\0\0\0", 4), QByteArray("{"), noise}) {
            QTemporaryDir folder;
            QFile file(folder.filePath(verb.reads));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
            file.close();
            const Ran r = answerOf(called(verb, verb.reads), folder.path());
            QVERIFY2(refused(name, r), r.err);
            // It is as it was, and alone.
            QVERIFY(file.open(QIODevice::ReadOnly));
            QCOMPARE(file.readAll(), bytes);
            QCOMPARE(entries(folder), QStringList{verb.reads});
        }
    }

    void aFolderInPlaceOfAFileIsRefused_data() { eachVerb(); }
    void aFolderInPlaceOfAFileIsRefused() {
        const Verb& verb = ofRow();
        const QString name = verb.name;
        if (name == "session" || name == "learn values")
            return; // the one reads none, the other all that are in it
        QTemporaryDir folder;
        QVERIFY(QDir(folder.path()).mkdir(verb.reads));
        const Ran r = answerOf(called(verb, verb.reads), folder.path());
        QVERIFY2(refused(name, r), r.err);
        QCOMPARE(entries(folder), QStringList{verb.reads});
    }

    void aNameOfOddLettersStaysOneLine_data() {
        QTest::addColumn<QString>("file");
        QTest::newRow("two lines") << "a\nb.json";
        QTest::newRow("a terminal's colours") << "\x1b[31mred.json";
        QTest::newRow("a bell") << "ring\x07.json";
        QTest::newRow("quotes") << "the \"best\" season.json";
        QTest::newRow("longer than a name may be") << QString(300, 'x') + ".json";
        QTest::newRow("right to left") << QString(QChar(0x202E)) + "nosj.x";
        QTest::newRow("empty") << "";
    }
    void aNameOfOddLettersStaysOneLine() {
        QFETCH(QString, file);
        QTemporaryDir folder;
        for (const char* verb : {"plan", "chance", "check", "curve"}) {
            const Ran r = answerOf({verb, file}, folder.path());
            QVERIFY2(r.code == 2 || r.code == 3, verb); // an empty name is none
            QVERIFY2(r.out.isEmpty() && isOneLine(r.err), r.err.toHex(' '));
            QVERIFY2(!r.err.contains('\x1b') && !r.err.contains('\x07'), r.err.toHex(' '));
        }
        QVERIFY(entries(folder).isEmpty());
    }

    void aNumberThatIsNoneIsRefused_data() {
        QTest::addColumn<QStringList>("arguments");
        for (const char* value : {"lots", "1e999", "nan", "", "12,5", "0x10 W"}) {
            QTest::addRow("threshold %s", value) << QStringList{"score", "x.fit", "--threshold-power", value};
            QTest::addRow("weeks %s", value)
                << QStringList{"block", "x.json", "--from", "2027-01-04", "--weeks", value};
        }
    }
    void aNumberThatIsNoneIsRefused() {
        QFETCH(QStringList, arguments);
        QTemporaryDir folder;
        const Ran r = answerOf(arguments, folder.path());
        QVERIFY(r.code == 2 || r.code == 3); // read as a number that cannot be, or as none
        QVERIFY2(r.out.isEmpty() && isOneLine(r.err), r.err);
    }
};

MARRAM_SUITE(UsageTest)
#include "tst_usage.moc"
