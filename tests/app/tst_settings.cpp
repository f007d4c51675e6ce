// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/settings_page.h"
#include "support/contrast.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QMenuBar>
#include <QTableWidget>
#include <QToolButton>

using namespace marram;
using namespace marram::test;

/// The page of settings in a real window: each works at once, goes back, and travels in a file.
class SettingsTest : public DemoWindow {
    Q_OBJECT

    SettingsPage* page() { return find<SettingsPage>("settings"); }
    void pick(const char* key, const char* value) {
        auto* box = find<QComboBox>(QByteArray("set-") + key);
        const int at = box->findData(value);
        QVERIFY(at >= 0);
        box->setCurrentIndex(at);
        emit box->activated(at);
    }
    template <class T>
    T* find(const QByteArray& name) {
        return DemoWindow::find<T>(name.constData());
    }

private slots:
    void initTestCase() {
        dressed();
        openWindow();
    }
    void init() { window_->showSettings(); }
    void cleanup() {
        if (auto* open = window_->findChild<QPushButton*>("settingsUsual"))
            open->click();
        delete window_->findChild<SettingsPage*>("settings");
        for (const Setting& s : settings())
            QVERIFY2(isUsual(s), s.key);
    }
    void cleanupTestCase() { closeWindow(); }

    void eachSettingIsDescribedOnce() {
        std::set<QString> keys;
        for (const Setting& s : settings()) {
            QVERIFY2(keys.insert(s.key).second, s.key);
            QVERIFY(*s.name && *s.what && *s.group);
            QVERIFY2(whyNot(s, s.usual).isEmpty(), s.key);
            QCOMPARE(setting(s.key), s.usual);
            // Nothing that is usual is kept, and what is out of its range is as usual.
            QVERIFY2(!QSettings().contains(s.key), s.key);
            if (s.kind == Setting::Kind::Number || s.kind == Setting::Kind::Choice) {
                QSettings().setValue(s.key, s.kind == Setting::Kind::Number ? "1e9" : "whatever");
                QCOMPARE(setting(s.key), s.usual);
                QSettings().remove(s.key);
            }
            QVERIFY2(window_->findChild<QWidget*>(QString("set-%1").arg(s.key)), s.key);
        }
    }

    void wordsFindThem_data() {
        QTest::addColumn<QString>("words");
        QTest::addColumn<QStringList>("keys");
        QTest::addRow("miles") << "miles" << QStringList{"distance"};
        QTest::addRow("two words, any case") << "CONTRAST light" << QStringList{"theme"};
        QTest::addRow("another word for it") << "backup" << QStringList{"dailyCopies", "weeklyCopies"};
        QTest::addRow("nothing") << "gearbox" << QStringList{};
    }
    void wordsFindThem() {
        QFETCH(QString, words);
        QFETCH(QStringList, keys);
        QTest::keyClicks(find<QLineEdit>("settingsSearch"), words);
        QStringList shown;
        for (const Setting& s : settings())
            if (window_->findChild<QWidget*>(QString("set-%1").arg(s.key))->isVisibleTo(page()))
                shown << s.key;
        QCOMPARE(shown, keys);
    }

    void aThemeIsPutOnAtOnceAndTextIsReadable_data() {
        QTest::addColumn<QByteArray>("theme");
        QTest::addColumn<bool>("dark");
        QTest::addColumn<double>("least");
        // WCAG 2.1: 4.5:1 for text (1.4.3), 7:1 where contrast is asked for (1.4.6).
        QTest::addRow("light") << QByteArray("light") << false << 4.5;
        QTest::addRow("dark") << QByteArray("dark") << true << 4.5;
        QTest::addRow("strong") << QByteArray("strong") << false << 7.0;
        QTest::addRow("strong, dark") << QByteArray("strong-dark") << true << 7.0;
    }
    void aThemeIsPutOnAtOnceAndTextIsReadable() {
        QFETCH(QByteArray, theme);
        QFETCH(bool, dark);
        QFETCH(double, least);
        pick("theme", theme);
        const Shore& s = shore();
        QCOMPARE(s.dark, dark);
        for (const QColor& text : {s.ink, s.muted, s.rust, s.tide, s.ochre, s.grass, s.driftwood})
            for (const QColor& ground : {s.paper, s.sheet})
                QVERIFY2(contrast(text, ground) >= least - 0.005 ||
                             (least < 7 && (text == s.grass || text == s.driftwood || text == s.ochre)),
                         qPrintable(text.name() + " on " + ground.name()));
        // Ctrl+T keeps the strength of the contrast.
        const bool strong = theme.startsWith("strong");
        window_->useDark(!dark);
        QCOMPARE(setting("theme").toString().startsWith("strong"), strong);
        QCOMPARE(shore().dark, !dark);
    }

    void whatTheCommandLineAskedForStays() {
        dress(*qApp, {true}); // marram --dark
        window_->useTextScale(1.1);
        QVERIFY(shore().dark);
        QCOMPARE(textScale(), 1.1);
        find<QDoubleSpinBox>("set-dailyCopies")->setValue(9); // nothing of the look
        QVERIFY(shore().dark);
        pick("theme", "strong");
        QVERIFY(!shore().dark && lookNow().strong);
    }

    void unitsAreShownAndTypedAndKeptInMetresAndKilograms() {
        choose("Tamsin");
        window_->go(Place::Rider);
        auto* values = find<QTableWidget>("values");
        const int weight = 4;
        QVERIFY(values->horizontalHeaderItem(weight)->text().contains("kg"));
        pick("weight", "lb");
        QVERIFY(values->horizontalHeaderItem(weight)->text().contains("lb"));
        const int row = values->rowCount() - 1;
        QVERIFY(row >= 0);
        values->item(row, weight)->setText("132.3");
        QCoreApplication::processEvents();
        const auto kept = w_->chosen.rider()->values.on(Quantity::Weight, today_);
        QVERIFY(kept);
        QVERIFY2(std::abs(*kept - 132.3 * 0.45359237) < 1e-9, qPrintable(QString::number(*kept)));
        QVERIFY(std::abs(values->item(row, weight)->text().toDouble() - 132.3) < 0.051);
        // Out of range says so in pounds.
        values->item(row, weight)->setText("9000");
        QCoreApplication::processEvents();
        QVERIFY2(window_->lastSaid().contains("lb"), qPrintable(window_->lastSaid()));
        pick("weight", "kg");
        QVERIFY(std::abs(values->item(row, weight)->text().toDouble() - 60.0) < 0.051);
        pick("distance", "mi");
        QCOMPARE(QString(shownUnits().distanceUnit()), QString("mi"));
        QCOMPARE(shownUnits().distance(1609.344), 1.0);
    }

    void theWeekBeginsAsItIsSet() {
        choose("Tamsin");
        window_->go(Place::Rider);
        window_->riderView().openPage(1);
        auto *monday = find<QDoubleSpinBox>("riderHours0"), *sunday = find<QDoubleSpinBox>("riderHours6");
        const auto before = w_->chosen.rider()->hours;
        pick("firstDay", "sunday");
        QVERIFY(comes([&] { return sunday->x() < monday->x(); }));
        QCOMPARE(w_->chosen.rider()->hours, before); // it is only shown so
        QCOMPARE(sunday->value(), before[6]);
        pick("firstDay", "monday");
        QVERIFY(comes([&] { return sunday->x() > monday->x(); }));
        window_->riderView().openPage(0);
    }

    void whatIsChangedGoesBack() {
        auto* days = find<QDoubleSpinBox>("set-dailyCopies");
        auto* back = find<QToolButton>("usual-dailyCopies");
        QVERIFY(!back->isVisibleTo(page()));
        days->setFocus();
        days->selectAll();
        QTest::keyClicks(days, "12");
        QTest::keyClick(days, Qt::Key_Return);
        QCOMPARE(setting("dailyCopies").toInt(), 12);
        QVERIFY(page()); // Return in a field closes nothing
        QVERIFY(back->isVisibleTo(page()));
        back->click();
        QCOMPARE(setting("dailyCopies").toInt(), 7);
        QVERIFY(!QSettings().contains("dailyCopies"));
    }

    void theyTravelInAFile() {
        pick("distance", "mi");
        pick("theme", "dark");
        const QString path = folder_.filePath("settings.json");
        page()->saveTo(path);
        QVERIFY(!QFile::permissions(path).testAnyFlags(QFile::ReadGroup | QFile::ReadOther));
        find<QPushButton>("settingsUsual")->click();
        QVERIFY(!shore().dark);
        QVERIFY(isUsual(settingOf("distance")));
        page()->takeFrom(path);
        QVERIFY(shore().dark);
        QCOMPARE(setting("distance").toString(), QString("mi"));
    }

    void aFileThatIsNoneChangesNothing_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("says");
        QTest::addRow("not JSON") << QByteArray("{\"marram") << "at byte";
        QTest::addRow("another file") << QByteArray("{\"races\": []}") << "no file of settings";
        QTest::addRow("unknown")
            << QByteArray("{\"marram_settings\":1,\"settings\":{\"distance\":\"mi\",\"gears\":9}}")
            << "gears";
        QTest::addRow("out of range")
            << QByteArray("{\"marram_settings\":1,\"settings\":{\"distance\":\"mi\",\"textScale\":40}}")
            << "from 0.8 to 2";
        QTest::addRow("no choice")
            << QByteArray("{\"marram_settings\":1,\"settings\":{\"distance\":\"mi\",\"theme\":\"pink\"}}")
            << "strong-dark";
        QTest::addRow("no path") << QByteArray("{\"marram_settings\":1,\"settings\":{\"postFolder\":7}}")
                                 << "path of a folder";
    }
    void aFileThatIsNoneChangesNothing() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, says);
        const QString path = folder_.filePath("bad.json");
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
        file.close();
        page()->takeFrom(path);
        const QString said = find<QLabel>("settingsSaid")->text();
        QVERIFY2(said.contains(says) && said.contains("Nothing was changed"), qPrintable(said));
        for (const Setting& s : settings())
            QVERIFY2(isUsual(s), s.key);
    }

    void theMenuBarIsHiddenWherePeopleWantItSo() {
        QVERIFY(window_->menuBar()->isVisible());
        find<QCheckBox>("set-menuBar")->click();
        QVERIFY(!window_->menuBar()->isVisible());
        QVERIFY(!setting("menuBar").toBool());
    }
};

MARRAM_WINDOW_SUITE(SettingsTest)
#include "tst_settings.moc"
