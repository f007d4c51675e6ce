// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/language.h"
#include "app/settings/settings.h"
#include "app/shell/dates.h"
#include "app/shell/tables.h"
#include "app/window/reader.h"
#include "core/calendar/date.h"
#include "core/rider/protocol.h"
#include "core/session/family.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"
#include "wording/wording.h"

#include <QAbstractButton>
#include <QAccessible>
#include <QAccessibleInterface>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QRegularExpression>
#include <QTabBar>
#include <QTableWidget>
#include <QTextBrowser>
#include <functional>
#include <set>

using namespace marram;
using namespace marram::test;

namespace {

/// One entry of a catalogue as it stands in po/.
struct Entry {
    QStringList english, spoken; ///< two where it has a plural
};

/// Reads a catalogue's text; every literal as it is written, escapes and all.
QList<Entry> entriesOf(const QString& path) {
    QFile file(path);
    QList<Entry> all;
    if (!file.open(QIODevice::ReadOnly))
        return all;
    QStringList* now = nullptr;
    for (QString line : QString::fromUtf8(file.readAll()).split('\n')) {
        if (line.startsWith("#"))
            continue;
        if (line.startsWith("msgid ")) {
            all.push_back({});
            now = &all.back().english;
        } else if (line.startsWith("msgid_plural "))
            now = &all.back().english;
        else if (line.startsWith("msgstr"))
            now = &all.back().spoken;
        if (line.startsWith("msg"))
            now->push_back({});
        const auto from = line.indexOf('"'), to = line.lastIndexOf('"');
        if (from >= 0 && to > from)
            now->back() += line.mid(from + 1, to - from - 1);
    }
    if (!all.isEmpty())
        all.removeFirst(); // what the catalogue says of itself
    return all;
}

std::multiset<QString> marks(const QString& text, const char* pattern) {
    std::multiset<QString> all;
    auto found = QRegularExpression(pattern).globalMatch(text);
    while (found.hasNext())
        all.insert(found.next().captured());
    return all;
}

} // namespace

/// Every word by one door, in the language in force.
class LanguageTest : public DemoWindow {
    Q_OBJECT

    /// What the coach wrote: no translation touches it.
    QStringList theirs() {
        QStringList all;
        for (const RiderRecord& r : w_->roster.riders()) {
            all << r.name << r.name.split(QLatin1Char(32)) << r.groups;
            choose(r.name);
            if (comes([&] { return w_->chosen.season().has_value(); }))
                for (const Race& race : w_->chosen.season()->races)
                    all << QString::fromStdString(race.name);
        }
        std::sort(all.begin(), all.end(),
                  [](const QString& a, const QString& b) { return a.size() > b.size(); });
        return all;
    }
    /// The words of a text that went by no door: in the pseudo language every vowel has its accent.
    static QStringList plainWords(QString text, const QStringList& theirs) {
        static const QRegularExpression tags("<[^>]*>|&\\w+;"), plain("^[A-Za-z]*[AEIOUaeiou][A-Za-z]*$"),
            between("[^\\p{L}]+");
        // Units, the two languages by their own names, and keys, which have theirs by Qt's catalogue.
        static const QStringList same{"Marram", "min",   "rpm",  "Deutsch", "English", "Shift", "Backspace",
                                      "Alt",    "Space", "Home", "End",     "Return",  "Del"};
        text.replace('\n', ' '); // names go over lines in narrow heads
        for (const QString& their : theirs)
            text.remove(their);
        QStringList found;
        for (const QString& word : text.remove(tags).split(between))
            if (word.size() > 2 && plain.match(word).hasMatch() && !same.contains(word))
                found << word;
        return found;
    }
    /// Whether it is a part of one of Qt's own widgets, which speak by Qt's catalogue.
    static bool isQts(const QObject* part) {
        for (; part; part = part->parent())
            if (part->objectName().startsWith("qt_") || part->inherits("QCalendarWidget"))
                return true;
        return false;
    }
    /// Everything a widget shows in words.
    static QStringList shownBy(QWidget* w) {
        QStringList all{w->toolTip(), w->accessibleName(), w->statusTip()};
        if (auto* label = qobject_cast<QLabel*>(w))
            all << label->text();
        if (auto* button = qobject_cast<QAbstractButton*>(w))
            all << button->text();
        if (auto* line = qobject_cast<QLineEdit*>(w))
            all << line->placeholderText();
        if (auto* box = qobject_cast<QComboBox*>(w); box && box->objectName() != "riders")
            for (int i = 0; i < box->count(); ++i)
                all << box->itemText(i);
        if (auto* bar = qobject_cast<QTabBar*>(w))
            for (int i = 0; i < bar->count(); ++i)
                all << bar->tabText(i);
        if (auto* browser = qobject_cast<QTextBrowser*>(w))
            all << browser->toPlainText();
        if (auto* table = qobject_cast<QTableWidget*>(w)) {
            for (int c = 0; c < table->columnCount(); ++c) {
                if (auto* head = table->horizontalHeaderItem(c))
                    all << head->text() << head->toolTip();
                for (int r = 0; r < table->rowCount(); ++r)
                    if (auto* cell = table->item(r, c))
                        all << cell->text();
            }
        }
        // What is drawn is read aloud in words of its own.
        if (QAccessibleInterface* drawn = QAccessible::queryAccessibleInterface(w))
            for (int i = 0; i < drawn->childCount(); ++i)
                if (QAccessibleInterface* part = drawn->child(i); part && !part->object() && part->isValid())
                    all << part->text(QAccessible::Name);
        return all;
    }

private slots:
    void initTestCase() { dressed(); }
    void cleanup() {
        closeWindow();
        QVERIFY(speak({}));
        QLocale::setDefault(QLocale::c());
    }

    void withoutACatalogueEverythingIsSaidInEnglish() {
        QCOMPARE(phrase("%1 of %2 races", "three", 5), std::string("three of 5 races"));
        QCOMPARE(counted(1, "%1 week holds", "%1 weeks hold", 1), std::string("1 week holds"));
        QCOMPARE(counted(0, "%1 week holds", "%1 weeks hold", 0), std::string("0 weeks hold"));
        // What an argument says is never read as a place, and a place without an argument stays.
        QCOMPARE(phrase("%1 and %2", "%2", "%1"), std::string("%2 and %1"));
        QCOMPARE(phrase("%1 and %2", "one"), std::string("one and %2"));
        QCOMPARE(phrase("100 % of %1", "it"), std::string("100 % of it"));
        QCOMPARE(fixedText(-2.345, 2), std::string("-2.35"));
        QCOMPARE(signedText(-0.04), std::string("0.0"));
    }

    void germanIsSpokenWithItsPluralsFiguresAndDays() {
        QVERIFY(takeLanguage(*qApp, "de"));
        QCOMPARE(languageCode(), std::string("de"));
        QCOMPARE(phrase("Rider"), std::string("Fahrer"));
        QCOMPARE(counted(1, "day", "days"), std::string("Tag"));
        QCOMPARE(counted(2, "day", "days"), std::string("Tage"));
        QCOMPARE(fixedText(-2.345, 2), std::string("-2,35"));
        QCOMPARE(signedText(0.5), std::string("+0,5"));
        QCOMPARE(decimal(3.5, 1), QString("3,5"));
        QCOMPARE(wording("%1 m up").arg(2.25, 0, 'f', 2), QString("2,25 m hinauf"));
        QCOMPARE(wording("%1 rides were scored again.").arg(2026),
                 QString("2026 Fahrten wurden neu bewertet."));
        const Date day = *parseDate("2027-03-22");
        QCOMPARE(dayText(day), std::string("22. März"));
        QCOMPARE(namedDayText(day), std::string("Montag, 22. März"));
        QCOMPARE(shortDayText(day, day), std::string("Mo 22. Mär"));
        // Days are read as they are written, in German and in English.
        for (const char* written :
             {"22. März", "22. Mär 2027", "Montag, 22. März 2027", "22 March", "2027-03-22"})
            QVERIFY2(parseDayText(written, day) == day, written);
        // The names kept in files stay theirs.
        QCOMPARE(std::string(nameOf(Phase::Build)), std::string("build"));
    }

    void aPointAndACommaAreBothTheDecimalMarkInFields() {
        for (const char* language : {"de", "en"}) {
            QVERIFY(takeLanguage(*qApp, language));
            if (language == QByteArray("en"))
                QLocale::setDefault(QLocale::c());
            for (const char* typed : {"2.5", "2,5"}) {
                QDoubleSpinBox box;
                box.setRange(0, 100);
                box.setDecimals(2);
                box.show();
                box.selectAll();
                QTest::keyClicks(&box, typed);
                QTest::keyClick(&box, Qt::Key_Return);
                QVERIFY2(box.value() == 2.5,
                         qPrintable(QString("%1 in %2: %3").arg(typed, language).arg(box.value())));
            }
            // A text is nobody's number.
            QLineEdit line;
            QTest::keyClicks(&line, "a.b,c");
            QCOMPARE(line.text(), QString("a.b,c"));
        }
    }
    void datesInFieldsStandAsTheLanguageWritesThem() {
        QCOMPARE(dateFormat(true), QString("ddd d MMM yyyy"));
        QVERIFY(takeLanguage(*qApp, "de"));
        QCOMPARE(QLocale().toString(QDate(2027, 7, 8), dateFormat(true)), QString("Do. 8. Juli 2027"));
        QVERIFY(takeLanguage(*qApp, "pseudo")); // to see what clips: dates stay dates
        QVERIFY(dateFormat(false).contains("d MMM yyyy"));
    }

    void whatIsNoLanguageIsRefusedAndChangesNothing() {
        QVERIFY(takeLanguage(*qApp, "de"));
        QVERIFY(!takeLanguage(*qApp, "xx"));
        QVERIFY(takeLanguage(*qApp, "de"));
        for (const std::string& broken :
             {std::string("no catalogue"), std::string("\xde\x12\x04\x95", 4),
              std::string("\xde\x12\x04\x95\0\0\0\0\xff\xff\xff\x7f\x1c\0\0\0\x1c\0\0\0", 20)}) {
            Language language;
            language.catalogue = broken;
            QVERIFY(!speak(language));
            QCOMPARE(phrase("Rider"), std::string("Fahrer"));
        }
        // Cut at any byte it is refused, or holds what is whole; it never ends the programme.
        QFile whole(":/words/de.mo");
        QVERIFY(whole.open(QIODevice::ReadOnly));
        const std::string bytes = whole.readAll().toStdString();
        QVERIFY(bytes.size() > 100000);
        for (size_t end = 0; end < bytes.size(); end += 1 + bytes.size() / 97) {
            Language language;
            language.catalogue = bytes.substr(0, end);
            QCOMPARE(speak(language), end == 0); // nothing is English
        }
        // The other order of bytes says the same.
        std::string swapped = bytes;
        const auto number = [&](size_t at) {
            return static_cast<size_t>(static_cast<unsigned char>(bytes[at])) |
                   static_cast<size_t>(static_cast<unsigned char>(bytes[at + 1])) << 8U |
                   static_cast<size_t>(static_cast<unsigned char>(bytes[at + 2])) << 16U;
        };
        for (size_t at = 0; at < 28; at += 4)
            std::reverse(swapped.begin() + static_cast<long>(at),
                         swapped.begin() + static_cast<long>(at) + 4);
        for (const size_t table : {number(12), number(16)})
            for (size_t at = table; at < table + 8 * number(8); at += 4)
                std::reverse(swapped.begin() + static_cast<long>(at),
                             swapped.begin() + static_cast<long>(at) + 4);
        Language language;
        language.catalogue = swapped;
        QVERIFY(speak(language));
        QCOMPARE(phrase("Rider"), std::string("Fahrer"));
    }

    void everyTextIsInGermanWithItsPlacesAndItsMarkup() {
        const auto entries = entriesOf(QString(TEST_DATA) + "/../../po/de.po");
        QVERIFY(entries.size() > 2500);
        QStringList wrong;
        for (const Entry& e : entries) {
            const QString& first = e.english.front();
            const auto say = [&wrong, &first](const char* what) {
                wrong << QString("%1: %2").arg(what, first);
            };
            if (e.spoken.size() != e.english.size())
                say("has another number of forms");
            for (qsizetype i = 0; i < std::min(e.spoken.size(), e.english.size()); ++i) {
                const QString &from = e.english[i], &to = e.spoken[i];
                if (to.isEmpty())
                    say("is not there");
                if (marks(from, "%\\d") != marks(to, "%\\d")) // as often, for each is an argument of its own
                    say("has other places");
                if (marks(from, "<[^>]*>") != marks(to, "<[^>]*>"))
                    say("has other markup");
                if (from.startsWith(' ') != to.startsWith(' ') || from.endsWith(' ') != to.endsWith(' ') ||
                    from.startsWith("\\n") != to.startsWith("\\n") ||
                    from.endsWith("\\n") != to.endsWith("\\n"))
                    say("begins or ends otherwise");
                if (from.count("&") != to.count("&"))
                    say("has another key");
                if ((from.contains('|') && from.count('|') != to.count('|')) ||
                    from.count(";;") != to.count(";;"))
                    say("has other parts");
            }
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
    }

    void everyNameSaidFromATableIsInTheCatalogue() {
        QSet<QString> known;
        for (const Entry& e : entriesOf(QString(TEST_DATA) + "/../../po/de.po"))
            known.unite(QSet<QString>(e.english.begin(), e.english.end()));
        QStringList unknown;
        const auto look = [&](const QString& text) {
            if (text.size() > 1 && !known.contains(text))
                unknown << text;
        };
        for (const Family& f : FamilyBook::standard().all())
            for (const std::string* of : {&f.name, &f.purpose, &f.grows, &f.stop, &f.caution})
                look(QString::fromStdString(*of));
        const auto all = [&](auto first, auto last) {
            for (int i = static_cast<int>(first); i <= static_cast<int>(last); ++i)
                look(nameOf(static_cast<decltype(first)>(i)));
        };
        all(Demand::Unstated, Demand::Stage);
        all(Phase::Transition, Phase::Break);
        all(WeekKind::Build, WeekKind::Camp);
        all(Role::Rest, Role::Race);
        all(School::Polarised, School::Own);
        all(AwayWhy::Holiday, AwayWhy::Camp);
        all(RungVerdict::Passed, RungVerdict::Ease);
        for (int p = 0; p < protocolCount; ++p)
            for (const char* of :
                 {wordsFor(static_cast<Protocol>(p)).name, wordsFor(static_cast<Protocol>(p)).measures,
                  wordsFor(static_cast<Protocol>(p)).instructions})
                look(of);
        for (const Setting& s : settings()) {
            for (const char* of : {s.group, s.name, s.what, s.also, s.unit})
                look(of);
            for (const auto& [kept, shown] : s.choices)
                if (QString(s.key) != "language" || QString(kept) == "system")
                    look(shown);
        }
        openWindow();
        for (const QTableWidget* table : window_->findChildren<QTableWidget*>())
            look(wordsOfName(table->objectName()));
        QVERIFY2(unknown.isEmpty(), qPrintable(unknown.join("\n")));
    }

    /// All that matches, in order.
    static QStringList found(const QString& text, const char* pattern, int group = 0) {
        QStringList all;
        for (auto it = QRegularExpression(pattern, QRegularExpression::MultilineOption).globalMatch(text);
             it.hasNext();)
            all << it.next().captured(group);
        return all;
    }

    void theGuideSaysTheSameInGerman() {
        QVERIFY(takeLanguage(*qApp, "en"));
        const QString english = guideText(), changes = newestChanges();
        QVERIFY(takeLanguage(*qApp, "de"));
        const QString german = guideText();
        QVERIFY(german != english && german.startsWith("# Leitfaden"));
        // Part by part, picture by picture, row by row.
        for (const char* pattern : {"^## ", "^\\|", "^[0-9]\\. "})
            QCOMPARE(found(german, pattern).size(), found(english, pattern).size());
        QCOMPARE(found(german, "\\]\\((screenshots/[^)]*)\\)", 1),
                 found(english, "\\]\\((screenshots/[^)]*)\\)", 1));
        const QStringList parts = english.split("\n## "), teile = german.split("\n## ");
        for (int i = 0; i < parts.size(); ++i)
            QVERIFY2(found(parts[i], "^- ").size() == found(teile[i], "^- ").size(),
                     qPrintable(teile[i].left(60)));
        // What the window calls something, the guide calls it too.
        const auto plain = [](QString text) { return text.remove('&').remove("…").simplified(); };
        const QString read = plain(german);
        int labels = 0;
        QStringList missing;
        for (const QString& label : found(english, "\\*([^*\\n]+)\\*", 1))
            if (const QString said = plain(wording(label)); said != plain(label)) {
                ++labels;
                if (!read.contains(said, Qt::CaseInsensitive))
                    missing << said;
            }
        QVERIFY(labels > 40);
        QVERIFY2(missing.isEmpty(), qPrintable(missing.join("\n")));
        // What is new, of the same version.
        QVERIFY(newestChanges() != changes);
        QCOMPARE(newestChanges().section(' ', 1, 1), changes.section(' ', 1, 1));
        QVERIFY(newestChanges().count("\n- ") > 15);
    }

    void nothingInTheWindowPassesByTheDoor() {
        QVERIFY(takeLanguage(*qApp, "pseudo"));
        openWindow();
        choose("Nell");
        window_->go(Place::Season);
        QVERIFY(comes([&] { return w_->plans.solved() != nullptr; }));
        const QStringList written = theirs();
        choose("Nell");
        QStringList passed;
        for (int place = 0; place < 6; ++place) {
            window_->go(static_cast<Place>(place));
            for (auto* bar : window_->findChildren<QTabBar*>()) {
                if (!bar->isVisible())
                    continue;
                for (int page = 0; page < bar->count(); ++page) {
                    bar->setCurrentIndex(page);
                    QTest::qWait(150);
                }
            }
            for (QWidget* w : window_->findChildren<QWidget*>())
                if (!isQts(w))
                    for (const QString& text : shownBy(w))
                        for (const QString& word : plainWords(text, written))
                            passed << QString("%1 in %2 %3: %4")
                                          .arg(word, w->metaObject()->className(), w->objectName(),
                                               text.left(160));
        }
        for (const QAction* action : window_->findChildren<QAction*>())
            if (!isQts(action))
                for (const QString& word : plainWords(action->text() + " " + action->toolTip(), written))
                    passed << word + " in the action " + action->text();
        // What opens over it.
        for (const char* name :
             {"Settings", "Copies of this roster", "Schools, rhythms, orders", "The season on a page",
              "How the season went", "Find any action", "Keys of this view"}) {
            const QString begins = wording(name).section('~', 0, 0).trimmed();
            QAction* opens = nullptr;
            for (QAction* action : window_->findChildren<QAction*>())
                if (action->text().remove('&').startsWith(begins))
                    opens = action;
            QVERIFY2(opens, name);
            window_->go(Place::Season);
            opens->trigger();
            QTest::qWait(400);
            int opened = 0;
            for (QWidget* top : QApplication::topLevelWidgets()) {
                auto* dialog = qobject_cast<QDialog*>(top);
                if (!dialog || !dialog->isVisible())
                    continue;
                ++opened;
                for (QWidget* w : dialog->findChildren<QWidget*>())
                    if (!isQts(w))
                        for (const QString& text : shownBy(w))
                            for (const QString& word : plainWords(text, written))
                                passed << QString("%1 over %2: %3").arg(word, name, text.left(160));
                dialog->close();
            }
            QVERIFY2(opened == 1 || QString(name) == "Find any action", name);
            QTest::keyClick(window_.get(), Qt::Key_Escape);
            QTest::qWait(50);
        }
        passed.removeDuplicates();
        QVERIFY2(passed.isEmpty(), qPrintable(passed.join("\n")));
    }
};

MARRAM_WINDOW_SUITE(LanguageTest)
#include "tst_language.moc"
