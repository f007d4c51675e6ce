// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/language.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "core/words/phrase.h"
#include "support/contrast.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>
#include <QSignalSpy>
#include <QStyleOption>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>

using namespace marram;
using namespace marram::test;

/// Every page at 1280×800, with text as it is and at 1.5 times, for a rider with much and one with nothing.
class LayoutTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    const Date today_ = parseDate("2027-03-01").value();

    /// Goes through every page of a window and calls `look` with its name.
    template <class Look>
    void everyPage(MainWindow& window, Look look) {
        const auto see = [&](const QString& name) {
            QApplication::processEvents();
            QApplication::processEvents();
            look(name);
        };
        window.go(Place::Roster);
        see("roster");
        window.rosterView().openCheckIns();
        see("check-ins");
        window.go(Place::Rider);
        for (int page = 0; page < 3; ++page) {
            window.riderView().openPage(page);
            see(QString("rider %1").arg(page));
        }
        window.go(Place::Season);
        see("season");
        window.seasonView().openOn(std::nullopt, -1);
        see("the rules of the season");
        window.seasonView().showRaces(true);
        if (w_->chosen.season())
            window.seasonView().openOn(w_->chosen.season()->races[0].date, 0);
        see("races");
        window.seasonView().showRaces(false);
        window.go(Place::Block);
        see("block");
        window.blockView().showFamilies(true);
        see("families");
        window.blockView().showFamilies(false);
        window.go(Place::Rides);
        for (int page = 0; page < 4; ++page) {
            window.ridesView().panel().openPage(page);
            see(QString("rides %1").arg(page));
        }
        window.go(Place::Review);
        for (int page = 0; page < 4; ++page) {
            window.reviewView().openPage(page);
            see(QString("review %1").arg(page));
        }
    }

    /// What inside an area asks for more than it has.
    static QString widestIn(const QScrollArea& area) {
        QStringList all;
        for (const QWidget* w : area.widget()->findChildren<QWidget*>())
            if (std::max(w->minimumWidth(), w->minimumSizeHint().width()) > area.viewport()->width() - 40)
                all << QString(" %1 %2 %3")
                           .arg(w->metaObject()->className(), w->objectName())
                           .arg(std::max(w->minimumWidth(), w->minimumSizeHint().width()));
        return QString(": %1 of").arg(area.viewport()->width()) + all.join(",");
    }

private slots:
    void initTestCase() {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QVERIFY(w_->roster.create(folder_.filePath("layout.marram")));
        w_->roster.edits().addRider("Bartholomea Featherstonehaugh-Winterbourne of the Outer Sands");
        RiderRecord r = *w_->chosen.rider();
        r.note = QString("A long note. ").repeated(20);
        r.cautions = QString("A long caution. ").repeated(20);
        r.groups = QStringList{"The group with the very long name", "Another"};
        for (int i = 0; i < 30; ++i)
            for (const auto& [q, v] : {std::pair{Quantity::ThresholdPower, 220.0 + i},
                                       {Quantity::Weight, 60.0},
                                       {Quantity::ThresholdHeartRate, 168.0},
                                       {Quantity::RestingHeartRate, 48.0},
                                       {Quantity::MaximalHeartRate, 188.0}})
                r.values.set(q, today_ - 30 * i, v);
        w_->chosen.edits().setRider(r, "Fill");
        Season s = w_->chosen.facts().freshSeason();
        s.races[0].name = "The Grand Circular Sandbank and Estuary Reliability Trial";
        w_->chosen.edits().setSeason(s, "Start");
        QStringList files;
        for (int day = 20; day < 50; day += 3)
            files << save(folder_.filePath(QString("a long file name of ride number %1.fit").arg(day)),
                          fitOf(day, 1.2, static_cast<std::uint64_t>(day)));
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
        TestRecord t;
        t.result.day = today_ - 20;
        t.result.value = 260;
        t.result.altitudeM = 1200;
        w_->chosen.edits().setTest(std::nullopt, t, "Test");
        CheckIn c;
        c.day = today_;
        c.feel = 3;
        c.note = std::string(200, 'x');
        checkIn(*w_, w_->chosen.rider()->id, c);
        w_->roster.edits().addRider("Bo");
    }
    void cleanupTestCase() {
        w_.reset();
        dress(*qApp, {});
    }

    void everyPageFitsTheWindow_data() {
        QTest::addColumn<QSize>("size");
        QTest::addColumn<double>("scale");
        QTest::addColumn<int>("rider");
        QTest::addColumn<QString>("language");
        for (const char* language : {"de", "pseudo"})
            for (const QSize& size : {QSize(1280, 800), QSize(1024, 700)})
                for (const int rider : {0, 1})
                    if (size.width() > 1100 || QString(language) == "de")
                        QTest::addRow("%d, %s, %s", size.width(), language,
                                      rider ? "nothing known" : "much known")
                            << size << 1.0 << rider << QString(language);
        for (const int rider : {0, 1})
            QTest::addRow("1280, de, 1.5, %s", rider ? "nothing known" : "much known")
                << QSize(1280, 800) << 1.5 << rider << QString("de");
        for (const auto& [size, scale] :
             {std::pair{QSize(1280, 800), 1.0}, std::pair{QSize(1280, 800), 1.5},
              std::pair{QSize(1024, 700), 1.0}, std::pair{QSize(1920, 1080), 2.0}})
            for (const int rider : {0, 1})
                QTest::addRow("%d, %.1f, %s", size.width(), scale, rider ? "nothing known" : "much known")
                    << size << scale << rider << QString("en");
    }
    void everyPageFitsTheWindow() {
        QFETCH(QSize, size);
        QFETCH(double, scale);
        QFETCH(int, rider);
        QFETCH(QString, language);
        QVERIFY(takeLanguage(*qApp, language));
        dress(*qApp, {false, scale});
        w_->chosen.choose(w_->roster.riders()[static_cast<size_t>(rider)].id);
        MainWindow window(*w_);
        window.resize(size);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window, Patience));
        everyPage(window, [&](const QString& name) {
            QVERIFY2(window.width() <= size.width(),
                     qPrintable(QString("%1 is %2 wide").arg(name).arg(window.width())));
            QVERIFY2(window.height() <= size.height(),
                     qPrintable(QString("%1 is %2 high").arg(name).arg(window.height())));
            if (scale > 1)
                return;
            // With text as it is nothing scrolls sideways.
            for (const QScrollArea* area : window.findChildren<QScrollArea*>())
                if (area->isVisible())
                    QVERIFY2(area->horizontalScrollBar()->maximum() == 0, qPrintable(name + widestIn(*area)));
        });
    }
    void cleanup() { QVERIFY(speak({})); }
    void numbersAreNeverCutShort() {
        dress(*qApp, {});
        w_->chosen.choose(w_->roster.riders()[0].id);
        MainWindow window(*w_);
        window.resize(1280, 800);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window, Patience));
        everyPage(window, [&](const QString& name) {
            for (const QTableWidget* table : window.findChildren<QTableWidget*>()) {
                if (!table->isVisible())
                    continue;
                const QFontMetrics metrics(table->font());
                for (int row = 0; row < table->rowCount(); ++row)
                    for (int column = 0; column < table->columnCount(); ++column) {
                        const auto* item = table->item(row, column);
                        if (!item || !(item->textAlignment() & Qt::AlignRight))
                            continue; // words may be cut, numbers stand right
                        QVERIFY2(
                            metrics.horizontalAdvance(item->text()) + 8 <= table->columnWidth(column),
                            qPrintable(QString("%1, %2: %3").arg(name, table->objectName(), item->text())));
                    }
            }
        });
    }
    void textReadsInBothThemes_data() {
        QTest::addColumn<bool>("dark");
        QTest::newRow("light") << false;
        QTest::newRow("dark") << true;
    }
    void textReadsInBothThemes() {
        QFETCH(bool, dark);
        dress(*qApp, {dark});
        const Shore& c = shore();
        // 4.5 to 1 for text (design language)
        for (const QColor& ground : {c.paper, c.sheet})
            for (const QColor& text : {c.ink, c.muted, c.tide, c.rust, c.deepGrass})
                QVERIFY2(
                    contrast(ground, text) >= 4.5,
                    qPrintable(
                        QString("%1 on %2: %3").arg(text.name(), ground.name()).arg(contrast(ground, text))));
        QVERIFY(contrast(c.water, c.ink) >= 4.5); // the chosen row
        QCOMPARE(c.dark, dark);
    }
    void anotherLookIsTakenUpByEveryPage() {
        dress(*qApp, {});
        w_->chosen.choose(w_->roster.riders()[0].id);
        MainWindow window(*w_);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window, Patience));
        // Read for every widget anew a sheet would keep the hand waiting for a second.
        QVERIFY(qApp->styleSheet().isEmpty());
        for (const bool dark : {true, false}) {
            window.useDark(dark);
            const Shore& now = shore();
            QCOMPARE(now.dark, dark);
            int tables = 0;
            everyPage(window, [&](const QString& name) {
                const QByteArray where = name.toUtf8();
                for (const QTableView* table : window.findChildren<QTableView*>()) {
                    ++tables;
                    QVERIFY2(table->palette().color(QPalette::Base) == now.paper, where);
                    QVERIFY2(table->palette().color(QPalette::Highlight) == now.water, where);
                    QVERIFY2(table->horizontalHeader()->palette().color(QPalette::ButtonText) == now.muted,
                             where);
                }
                for (const QLineEdit* field : window.findChildren<QLineEdit*>())
                    QVERIFY2(field->palette().color(QPalette::Base) == now.sheet, where);
            });
            QVERIFY(tables > 10);
            // What is drawn too: the ground of a field.
            auto* field = window.findChild<QComboBox*>("riderChoice");
            QVERIFY(field);
            const QImage small = field->grab().toImage();
            QVERIFY(small.pixelColor(small.width() / 2, 1) == now.sheet);
        }
        dress(*qApp, {});
    }
    void whatControlsSayFitsIntoThem() {
        // A button, a field, a list of choices and a head of a table have room for their words and the
        // margins round them, at any size of text.
        for (const double scale : {0.8, 1.0, 1.5, 2.0}) {
            dress(*qApp, {false, scale});
            const QString words = "Wöchentlich gefahren";
            const int wide = QFontMetrics(qApp->font()).horizontalAdvance(words);
            QPushButton button(words);
            QVERIFY(button.sizeHint().width() >= wide + 8);
            QToolButton tool;
            tool.setText(words);
            QVERIFY(tool.sizeHint().width() >= wide + 16);
            QComboBox choice;
            choice.addItem(words);
            QStyleOptionComboBox box;
            box.initFrom(&choice);
            box.rect = QRect(QPoint(), choice.sizeHint());
            for (const auto direction : {Qt::LeftToRight, Qt::RightToLeft}) {
                box.direction = direction;
                const QRect text = choice.style()->subControlRect(QStyle::CC_ComboBox, &box,
                                                                  QStyle::SC_ComboBoxEditField, &choice),
                            arrow = choice.style()->subControlRect(QStyle::CC_ComboBox, &box,
                                                                   QStyle::SC_ComboBoxArrow, &choice);
                QVERIFY(text.width() >= wide);
                QVERIFY(!text.intersects(arrow) && box.rect.contains(text) && box.rect.contains(arrow));
                QVERIFY((arrow.left() > text.left()) == (direction == Qt::LeftToRight));
            }
            QTableWidget table(1, 1);
            table.setHorizontalHeaderLabels({words});
            table.resizeColumnsToContents();
            QVERIFY(table.columnWidth(0) >= wide + 16);
            table.setHorizontalHeaderLabels({"x"});
            table.setItem(0, 0, new QTableWidgetItem(words));
            table.resizeColumnsToContents();
            QVERIFY(table.columnWidth(0) >= wide + 16);
            QScrollBar bar(Qt::Vertical);
            bar.setRange(0, 1000000);
            bar.setPageStep(1);
            bar.setValue(1000000);
            bar.resize(bar.sizeHint().width(), 200);
            QStyleOptionSlider slider;
            slider.initFrom(&bar);
            slider.orientation = Qt::Vertical;
            slider.maximum = 1000000;
            slider.pageStep = 1;
            slider.sliderPosition = 1000000;
            const QRect handle =
                bar.style()->subControlRect(QStyle::CC_ScrollBar, &slider, QStyle::SC_ScrollBarSlider, &bar);
            QVERIFY(handle.height() >= 30 && handle.bottom() <= 199 && handle.bottom() >= 198);
        }
        dress(*qApp, {});
    }
    void everyButtonIsReachedByKeyboardAndNamed() {
        dress(*qApp, {});
        w_->chosen.choose(w_->roster.riders()[0].id);
        MainWindow window(*w_);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window, Patience));
        everyPage(window, [&](const QString& name) {
            for (const QAbstractButton* b : window.findChildren<QAbstractButton*>()) {
                if (!b->isVisible() || b->objectName().startsWith("qt_") ||
                    b->inherits("QTableCornerButton") || b->parentWidget()->inherits("QLineEdit"))
                    continue;
                QVERIFY2(!b->text().isEmpty() || !b->accessibleName().isEmpty(),
                         qPrintable(name + ": " + b->objectName() + b->metaObject()->className()));
            }
            for (const QWidget* field : window.findChildren<QWidget*>()) {
                if (!field->isVisible() || field->focusPolicy() == Qt::NoFocus ||
                    !(field->inherits("QAbstractSpinBox") || field->inherits("QComboBox") ||
                      field->inherits("QTableView")))
                    continue;
                QVERIFY2(!field->accessibleName().isEmpty() || !field->objectName().isEmpty(),
                         qPrintable(name + ": " + field->metaObject()->className()));
            }
        });
    }
};

MARRAM_WINDOW_SUITE(LayoutTest)
#include "tst_layout.moc"
