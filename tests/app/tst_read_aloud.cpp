// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/session_panel.h"
#include "app/review/day_line.h"
#include "app/rider/record_strip.h"
#include "app/rides/ride_trace.h"
#include "app/rides/zone_bars.h"
#include "app/roster/glance.h"
#include "app/shell/read_aloud.h"
#include "core/session/shorthand.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QAccessible>
#include <QAccessibleInterface>
#include <QRegularExpression>
#include <functional>

using namespace marram;
using namespace marram::test;

/// What is drawn by hand, as a screen reader walks it.
class ReadAloudTest : public DemoWindow {
    Q_OBJECT
    /// The names of a widget's parts, each checked to belong to it and to lie in it.
    QStringList partsOf(QWidget* widget) {
        QStringList names;
        QAccessibleInterface* all = QAccessible::queryAccessibleInterface(widget);
        if (!all)
            return {};
        for (int i = 0; i < all->childCount(); ++i) {
            QAccessibleInterface* part = all->child(i);
            if (!part || !part->isValid() || !part->parent() || part->parent()->object() != widget ||
                all->indexOfChild(part) != i || part->role() != QAccessible::ListItem)
                return {};
            names << part->text(QAccessible::Name);
        }
        return names;
    }

    /// What a screen reader finds as the label of a field.
    static QString labelOf(QAccessibleInterface* field) {
        for (const auto& [label, kind] : field->relations(QAccessible::Label))
            if (label && kind == QAccessible::Label)
                return label->text(QAccessible::Name);
        return {};
    }

private slots:
    void initTestCase() { dressed(); }
    void init() {
        openWindow();
        choose("Nell");
        window_->go(Place::Season);
        QVERIFY(comes([&] { return w_->plans.solved() != nullptr; }));
    }
    void cleanup() { closeWindow(); }

    void theCrossSectionTellsItsRacesAndWeeks() {
        auto* canvas = window_->findChild<SeasonCanvas*>();
        QVERIFY(canvas);
        const QStringList names = partsOf(canvas);
        const Season season = *w_->chosen.season();
        QVERIFY2(names.size() > static_cast<int>(season.races.size()) + 20, qPrintable(names.join("\n")));
        for (const Race& race : season.races)
            QVERIFY2(!names.filter(QString::fromStdString(race.name)).isEmpty(), race.name.c_str());
        const QString peak = names.filter("Marrow Point Stage Race").front();
        QVERIFY2(peak.contains("A race") && peak.contains("form +") && peak.contains("gate "),
                 qPrintable(peak));
        QVERIFY(!names.filter(QRegularExpression("^Week of .* points, .* fitness \\d+")).isEmpty());
        // What is under a point is the part that is drawn there.
        QAccessibleInterface* all = QAccessible::queryAccessibleInterface(canvas);
        for (int i = 0; i < all->childCount(); ++i) {
            const QRect at = all->child(i)->rect();
            if (names[i].startsWith("Week of") && at.width() > 8) {
                QAccessibleInterface* there = all->childAt(at.center().x(), at.bottom() - 2);
                QVERIFY(there && there->text(QAccessible::Name).startsWith("Week of"));
                break;
            }
        }
        // Races that go take their parts with them, and one past the end says nothing any more.
        QAccessibleInterface* last = all->child(all->childCount() - 1);
        Season fewer = season;
        fewer.races.clear();
        fewer.away.clear();
        w_->chosen.edits().setSeason(fewer, "No races");
        QVERIFY(comes([&] { return partsOf(canvas).filter("Marrow Point").isEmpty(); }));
        QVERIFY(!last->isValid() && last->text(QAccessible::Name).isEmpty());
        QVERIFY(!canvas->grab().isNull());
    }

    void theBoardTellsItsDays() {
        window_->go(Place::Block);
        auto* board = window_->findChild<BoardCanvas*>();
        QVERIFY(board);
        QVERIFY(comes([&] { return !partsOf(board).filter("long ride").isEmpty(); }));
        const QStringList names = partsOf(board);
        QVERIFY(names.filter("points of").size() >= 4);
        QVERIFY2(!names.filter(QRegularExpression("^Saturday, .*long ride, \\d h")).isEmpty(),
                 qPrintable(names.join("\n")));
        QVERIFY2(!names.filter("together: Harbour Saturday").isEmpty(), qPrintable(names.join("\n")));
    }

    void theRiderInTheListIsToldAtAGlance() {
        window_->go(Place::Roster);
        auto* weeks = window_->findChild<RecentWeeks*>();
        QVERIFY(weeks && weeks->isVisible());
        const Standing& stands = w_->standings.of(w_->chosen.rider()->id);
        QCOMPARE(partsOf(weeks).size(), static_cast<int>(stands.weeks.size()));
        for (size_t i = 0; i < stands.weeks.size(); ++i)
            QVERIFY2(partsOf(weeks)[static_cast<int>(i)].contains(
                         QString(": %1 of %2 points")
                             .arg(stands.weeks[i].ridden, 0, 'f', 0)
                             .arg(stands.weeks[i].planned.value(), 0, 'f', 0)),
                     qPrintable(partsOf(weeks).join("\n")));
        const auto* facts = window_->findChild<QLabel*>("riderFacts");
        QVERIFY2(facts->text().contains("Next race: Ebbtide Circuit") &&
                     facts->text().contains("Threshold 244 W since"),
                 qPrintable(facts->text()));
        // Another rider is told of by their own; a search that finds nobody says so alone.
        choose("Pim");
        QVERIFY(facts->text().contains("Newcomers' Criterium") && !facts->text().contains("W since"));
        window_->findChild<QLineEdit*>("searchRiders")->setText("nobody of that name");
        QVERIFY(!facts->isVisible() && !weeks->isVisible());
        QVERIFY(window_->findChild<QLabel*>("otherReasons")->text().startsWith("No rider fits"));
    }

    void theSquadTellsItsRiders() {
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier | Qt::ShiftModifier);
        SquadCanvas& canvas = window_->rosterView().squad().canvas();
        QVERIFY(comes([&] { return partsOf(&canvas).size() == 6; }));
        QVERIFY(partsOf(&canvas).front().startsWith("Nell Varrowby: fitness "));
        // The roster goes: so do they, and who still holds one is told nothing false.
        QAccessibleInterface* all = QAccessible::queryAccessibleInterface(&canvas);
        QAccessibleInterface* held = all->child(3);
        QVERIFY(w_->roster.create(folder_.filePath("empty.marram")));
        QTest::qWait(30);
        QCOMPARE(partsOf(&canvas).size(), 0);
        QVERIFY(!held->isValid() && held->text(QAccessible::Name).isEmpty() && held->rect().isNull());
    }

    void tracesAndLinesTellTheirParts() {
        window_->go(Place::Rides);
        auto* trace = window_->findChild<RideTrace*>();
        QVERIFY(trace);
        QVERIFY(comes([&] { return !partsOf(trace).isEmpty(); }));
        QVERIFY2(partsOf(trace).front().contains(" long, ") && partsOf(trace).front().contains(" W"),
                 qPrintable(partsOf(trace).join("\n")));
        auto* bars = window_->findChild<ZoneBars*>();
        QVERIFY(bars && partsOf(bars).size() == 7);
        QVERIFY2(QRegularExpression("^1 Recovery: \\d+:\\d\\d.*%$").match(partsOf(bars).front()).hasMatch(),
                 qPrintable(partsOf(bars).front()));
        window_->go(Place::Review);
        window_->reviewView().openPage(0);
        auto* line = window_->findChild<DayLine*>();
        QVERIFY(line);
        QVERIFY(comes([&] { return partsOf(line).size() == 14; }));
        QVERIFY(partsOf(line).front().startsWith("Monday"));
        window_->go(Place::Rider);
        window_->riderView().openRecord();
        auto* strip = window_->findChild<RecordStrip*>();
        QVERIFY(strip);
        QVERIFY(comes([&] { return !partsOf(strip).filter("h ridden").isEmpty(); }));
    }

    void profilesAndCurvesTellTheirParts() {
        SessionProfile profile;
        profile.resize(300, 96);
        profile.show(*readShorthand("15 min 50 to 90, 3 × 8 min 106 with 5 min 50 between, 10 min 50"), 0.77);
        QCOMPARE(partsOf(&profile),
                 QStringList({"15 min 50 to 90", "3 × 8 min 106 with 5 min 50 between", "10 min 50"}));
        const auto parts = profile.spokenParts();
        QVERIFY(parts[0].at.right() <= parts[1].at.left() + 2 && parts[1].at.width() > parts[2].at.width());
        profile.show({}, 0.77);
        QCOMPARE(partsOf(&profile).size(), 0);
        window_->go(Place::Review);
        window_->reviewView().openPage(2);
        auto* plot = window_->findChild<QWidget*>("curvePlot");
        QVERIFY(plot && comes([&] { return partsOf(plot).size() == 5; }));
        QVERIFY2(QRegularExpression("^Best over 5 s: full line \\d+ W, .+; broken line ")
                     .match(partsOf(plot).front())
                     .hasMatch(),
                 qPrintable(partsOf(plot).join("\n")));
    }

    void whateverTakesKeysHasANameInEveryView_data() {
        QTest::addColumn<int>("place");
        QTest::addColumn<int>("pages");
        QTest::addRow("Roster") << 0 << 1;
        QTest::addRow("Rider") << 1 << 4;
        QTest::addRow("Season") << 2 << 1;
        QTest::addRow("Block") << 3 << 1;
        QTest::addRow("Rides") << 4 << 1;
        QTest::addRow("Review") << 5 << 4;
    }
    void whateverTakesKeysHasANameInEveryView() {
        QFETCH(int, place);
        QFETCH(int, pages);
        window_->go(static_cast<Place>(place));
        QStringList nameless, order;
        int walked = 0;
        for (int page = 0; page < pages; ++page) {
            if (place == 1)
                window_->riderView().openPage(page);
            if (place == 5)
                window_->reviewView().openPage(page);
            QTest::qWait(400);
            const std::function<void(QAccessibleInterface*)> walk = [&](QAccessibleInterface* at) {
                if (!at || !at->isValid() || at->state().invisible)
                    return;
                const QString name = at->text(QAccessible::Name);
                const auto isEmptyLabel = [](const QWidget* w) {
                    const auto* label = qobject_cast<const QLabel*>(w);
                    return label && label->text().isEmpty();
                };
                const auto* widget = qobject_cast<QWidget*>(at->object());
                if (widget && at->state().focusable && widget->isVisible() && widget->isEnabled() &&
                    !isEmptyLabel(widget)) {
                    ++walked;
                    const bool typed = at->role() == QAccessible::EditableText ||
                                       at->role() == QAccessible::SpinBox ||
                                       at->role() == QAccessible::ComboBox;
                    if (name.trimmed().isEmpty())
                        nameless << QString("%1 %2 in %3")
                                        .arg(widget->metaObject()->className(), widget->objectName(),
                                             widget->parentWidget()->objectName());
                    // On Linux a field that opens a list is read by what is chosen; its label says what of.
                    else if (at->role() == QAccessible::ComboBox && labelOf(at).trimmed().isEmpty())
                        nameless << QString("%1, chosen of nothing").arg(name);
                    // What is typed into says what stands in it.
                    else if (typed && at->role() != QAccessible::EditableText &&
                             at->text(QAccessible::Value).isEmpty() && at->childCount() == 0)
                        nameless << name + " has no value";
                    // A name is words, not a name of ours.
                    else if (QRegularExpression("^[a-z]+[A-Z0-9]\\w*$").match(name).hasMatch())
                        nameless << name + " is no word";
                }
                if (at->role() == QAccessible::Table || at->role() == QAccessible::Tree)
                    return; // its cells say what is in them
                for (int i = 0; i < at->childCount(); ++i)
                    walk(at->child(i));
            };
            walk(QAccessible::queryAccessibleInterface(window_.get()));
        }
        QVERIFY(walked > 10);
        nameless.removeDuplicates();
        QVERIFY2(nameless.isEmpty(), qPrintable(nameless.join("\n")));
    }
};

MARRAM_WINDOW_SUITE(ReadAloudTest)
#include "tst_read_aloud.moc"
