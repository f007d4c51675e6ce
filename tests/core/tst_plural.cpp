// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "core/words/plural.h"
#include "support/suite.h"

#include <atomic>
#include <cstring>
#include <map>
#include <thread>

using namespace marram;
using namespace marram::test;

namespace {

/// A compiled catalogue, as msgfmt writes it: the magic number, the version, how many, where keys and where
/// values are listed, then the texts, each ended by a zero byte.
std::string catalogueOf(const std::map<std::string, std::string>& texts) {
    std::string head, lists, bytes;
    const auto number = [](std::string& out, size_t value) {
        const auto n = static_cast<std::uint32_t>(value);
        out.append(reinterpret_cast<const char*>(&n), sizeof n);
    };
    const size_t start = 28 + 16 * texts.size();
    for (const bool values : {false, true})
        for (const auto& [key, value] : texts) {
            const std::string& text = values ? value : key;
            number(lists, text.size());
            number(lists, start + bytes.size());
            bytes += text + '\0';
        }
    for (const size_t value : {size_t{0x950412de}, size_t{0}, texts.size(), size_t{28}, 28 + 8 * texts.size(),
                               size_t{0}, size_t{28}})
        number(head, value);
    return head + lists + bytes;
}

} // namespace

class PluralTest : public QObject {
    Q_OBJECT
private slots:
    void cleanup() { speak(Language{}); }

    void rulesOfLanguages_data() {
        QTest::addColumn<QString>("header");
        QTest::addColumn<int>("forms");
        QTest::addColumn<QList<int>>("numbers");
        QTest::addColumn<QList<int>>("expected");
        // Source: GNU gettext manual, "Additional functions for plural forms" (values from memory).
        QTest::newRow("none") << "" << 2 << QList{0, 1, 2, 21} << QList{1, 0, 1, 1};
        QTest::newRow("one form") << "Plural-Forms: nplurals=1; plural=0;\n"
                                  << 1 << QList{0, 1, 5} << QList{0, 0, 0};
        QTest::newRow("nothing is one") << "Plural-Forms: nplurals=2; plural=n>1;\n"
                                        << 2 << QList{0, 1, 2} << QList{0, 0, 1};
        QTest::newRow("Polish")
            << "Language: pl\nPlural-Forms: nplurals=3; plural=n==1 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || "
               "n%100>=20) ? 1 : 2;\nX: y\n"
            << 3 << QList{1, 2, 4, 5, 12, 14, 22, 25, 102, 112} << QList{0, 1, 1, 2, 2, 2, 1, 2, 1, 2};
        QTest::newRow("Russian")
            << "Plural-Forms: nplurals=3; plural=n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 "
               "|| n%100>=20) ? 1 : 2;\n"
            << 3 << QList{1, 21, 11, 3, 13, 100} << QList{0, 0, 2, 1, 2, 2};
        QTest::newRow("Slovenian") << "Plural-Forms: nplurals=4; plural=n%100==1 ? 0 : n%100==2 ? 1 : "
                                      "n%100==3 || n%100==4 ? 2 : 3;\n"
                                   << 4 << QList{1, 101, 2, 3, 4, 5, 0} << QList{0, 0, 1, 2, 2, 3, 3};
        // What can't be read is English, and never a form that is not there.
        QTest::newRow("cut off") << "Plural-Forms: nplurals=3; plural=n==1 ? 0 :" << 2 << QList{1, 2}
                                 << QList{0, 1};
        QTest::newRow("words") << "Plural-Forms: nplurals=2; plural=many;\n"
                               << 2 << QList{1, 2} << QList{0, 1};
        QTest::newRow("by nothing") << "Plural-Forms: nplurals=2; plural=n/0;\n"
                                    << 2 << QList{1, 2} << QList{0, 1};
        QTest::newRow("by nothing later") << "Plural-Forms: nplurals=2; plural=1/(n-2);\n"
                                          << 2 << QList{1, 2} << QList{0, 0};
        QTest::newRow("too high") << "Plural-Forms: nplurals=2; plural=n;\n"
                                  << 2 << QList{0, 1, 7} << QList{0, 1, 0};
        QTest::newRow("deep") << "Plural-Forms: nplurals=2; plural=" + QString(5000, '(') + "n" + ";\n"
                              << 2 << QList{1, 2} << QList{0, 1};
    }
    void rulesOfLanguages() {
        QFETCH(QString, header);
        QFETCH(QList<int>, numbers);
        QFETCH(QList<int>, expected);
        const PluralRule rule(header.toStdString());
        QTEST(rule.forms(), "forms");
        for (int i = 0; i < numbers.size(); ++i)
            QVERIFY2(rule.formOf(numbers[i]) == expected[i],
                     qPrintable(QString("%1: %2").arg(numbers[i]).arg(rule.formOf(numbers[i]))));
    }

    void aCatalogueSaysItsOwnForms() {
        const std::string zero(1, '\0');
        const std::map<std::string, std::string> texts{
            {"",
             "Plural-Forms: nplurals=3; plural=n==1 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 "
             ": 2;\n"},
            {"%1 week" + zero + "%1 weeks", "%1 tydzień" + zero + "%1 tygodnie" + zero + "%1 tygodni"},
            {"%1 ride" + zero + "%1 rides", "%1 jazda"}};
        QVERIFY(speak({"pl", ',', catalogueOf(texts), false}));
        QCOMPARE(counted(1, "%1 week", "%1 weeks", 1), std::string("1 tydzień"));
        QCOMPARE(counted(3, "%1 week", "%1 weeks", 3), std::string("3 tygodnie"));
        QCOMPARE(counted(12, "%1 week", "%1 weeks", 12), std::string("12 tygodni"));
        // A form that is missing is the last there is; a text that is missing is English.
        QCOMPARE(counted(12, "%1 ride", "%1 rides", 12), std::string("12 jazda"));
        QCOMPARE(counted(12, "%1 test", "%1 tests", 12), std::string("12 tests"));
        // Half a catalogue is none, and the language before stays.
        QVERIFY(!speak({"xx", '.', catalogueOf(texts).substr(0, 60), false}));
        QCOMPARE(languageCode(), std::string("pl"));
    }
    void aLanguageMayChangeWhileSomebodyReads() {
        const Language polish{"pl", ',', catalogueOf({{"week", "tydzień"}}), false};
        QVERIFY(speak(polish));
        std::atomic<bool> going = true;
        std::atomic<int> read = 0, strange = 0;
        std::thread reader([&] {
            while (going || read < 1000) {
                const std::string said = translated("week");
                strange += said == "week" || said == "tydzień" ? 0 : 1;
                ++read;
            }
        });
        for (int i = 0; i < 500; ++i)
            speak(i % 2 == 0 ? Language{} : polish);
        going = false;
        reader.join();
        QVERIFY(read >= 1000);
        QCOMPARE(strange.load(), 0);
    }
};

MARRAM_SUITE(PluralTest)
#include "tst_plural.moc"
