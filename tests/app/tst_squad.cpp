// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/squad.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QClipboard>
#include <QComboBox>
#include <QDateEdit>
#include <QFile>
#include <QSignalSpy>

using namespace marram;
using namespace marram::test;

namespace {

SquadRow rowOf(qint64 id, const char* name, std::vector<SquadRace> races) {
    SquadRow r;
    r.rider = id;
    r.name = name;
    r.races = std::move(races);
    r.planned = true;
    return r;
}

SquadRace raceOn(const char* name, Date date, Priority priority, double form) {
    return {name, date, 1, priority, form, 60, Gate{5, 20}, 0.7, {}, {}};
}

} // namespace

/// The squad in a real window: rows, one time axis, the week, what is put on all.
class SquadTest : public DemoWindow {
    Q_OBJECT
    SquadPage& page() { return window_->rosterView().squad(); }
    bool solved() {
        return comes([&] { return !w_->squads.reading() && w_->squads.done() == w_->squads.total(); });
    }
    void open() {
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(window_->place(), Place::Roster);
        QVERIFY(page().isVisible());
    }
    Season seasonOf(const QString& part) {
        for (const RiderRecord& r : w_->roster.riders())
            if (r.name.contains(part))
                return w_->roster.file().seasonInForce(r.id).value()->season;
        return {};
    }

private slots:
    void initTestCase() { dressed(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }

    void rowsStandInTheOrderThatIsAsked() {
        const std::vector<SquadRow> rows{
            rowOf(1, "Åse", {raceOn("x", today_ + 60, Priority::A, 4)}),
            rowOf(2, "Bo",
                  {raceOn("y", today_ - 5, Priority::A, 1), raceOn("z", today_ + 90, Priority::B, 12)}),
            rowOf(3, "Cy", {raceOn("x", today_ + 60, Priority::C, 0)}), rowOf(4, "Di", {})};
        const auto ids = [&](SquadOrder order) {
            std::vector<qint64> all;
            for (const SquadRow& r :
                 ordered(rows, order, today_, [](qint64 id) { return id == 3 ? 90 : static_cast<int>(id); }))
                all.push_back(r.rider);
            return all;
        };
        const auto named = ids(SquadOrder::Name);
        QVERIFY(std::is_permutation(named.begin(), named.end(), std::vector<qint64>{1, 2, 3, 4}.begin()));
        QVERIFY(ids(SquadOrder::NextRace) ==
                (std::vector<qint64>{1, 2, 3, 4})); // a C race is none to wait for
        QVERIFY(ids(SquadOrder::Form) == (std::vector<qint64>{1, 2, 3, 4}));
        QVERIFY(ids(SquadOrder::Look) == (std::vector<qint64>{3, 4, 2, 1}));
        QCOMPARE(nextRace(rows[1], today_)->name, std::string("z"));
        QVERIFY(!nextRace(rows[3], today_));
        const auto shared = sharedRaces(rows);
        QCOMPARE(shared.size(), size_t(1));
        QVERIFY(shared[0].first == today_ + 60 && shared[0].second == "x");
        auto away = rows;
        away[0].away = {{today_ + 5, today_ + 8, AwayWhy::Camp, {}},
                        {today_ + 20, today_ + 22, AwayWhy::Holiday, {}}};
        away[2].away = away[0].away;
        away[3].away = {{today_ + 5, today_ + 9, AwayWhy::Camp, {}}};
        const auto camps = sharedCamps(away); // a holiday of two is no camp, nor is another length
        QVERIFY(camps.size() == 1 && camps[0] == std::pair(today_ + 5, today_ + 8));
        SquadCanvas canvas;
        canvas.resize(1000, 400);
        canvas.show(away, today_);
        QVERIFY(!canvas.grab().isNull());
    }

    void whatCannotBeHeldIsNotPutOn() {
        Season s;
        s.start = today_ - 10;
        s.end = today_ + 100;
        s.hours = {0, 1, 1, 1, 0, 3, 2};
        SquadAddition a{SquadAddition::What::Race, "Tide Race", today_ + 20, 1, Priority::B, 120.0};
        const auto with = withAddition(s, a);
        QVERIFY(with && with->races.size() == 1 && *with->races[0].stress == 120);
        QVERIFY(!withAddition(*with, a)); // it is there already
        a.from = today_ + 101;
        QVERIFY(!withAddition(s, a)); // beyond the season
        a.from = today_ + 98;
        a.days = 5;
        QVERIFY(!withAddition(s, a));
        a = {SquadAddition::What::Camp, "", today_ + 30, 7, Priority::C, {}};
        QVERIFY(withAddition(s, a)->away[0].why == AwayWhy::Camp);
        a.what = SquadAddition::What::Away;
        a.stress = 500;
        const auto away = withAddition(s, a);
        QVERIFY(away->away[0].why == AwayWhy::Holiday && !away->away[0].stress);
    }

    void everyRowIsWhatTheRidersOwnSeasonSays() {
        open();
        QVERIFY(solved());
        QCOMPARE(w_->squads.rows().size(), size_t(6));
        for (const SquadRow& row : w_->squads.rows()) {
            QVERIFY(row.fresh);
            w_->chosen.choose(row.rider);
            const LoadState morning = w_->chosen.history().before(today_);
            QVERIFY(std::abs(row.form - morning.form()) < 1e-9 &&
                    std::abs(row.fitness - morning.fitness) < 1e-9);
            if (!w_->chosen.season())
                continue;
            QVERIFY(comes([&] { return w_->plans.solved() != nullptr; }));
            const Plan& plan = w_->plans.solved()->plan;
            QCOMPARE(row.races.size(), plan.races.size());
            for (const PlannedRace& r : plan.races) {
                const auto found = std::find_if(row.races.begin(), row.races.end(), [&](const SquadRace& o) {
                    return o.name == r.name && o.date == r.date;
                });
                QVERIFY(found != row.races.end());
                QVERIFY2(std::abs(found->form - r.form) < 0.6, qPrintable(row.name));
            }
        }
    }

    void theAxisIsMovedAndRowsAreOpenedByKey() {
        open();
        QVERIFY(solved());
        SquadCanvas& canvas = page().canvas();
        QVERIFY(canvas.hasFocus());
        const qint64 first = canvas.chosen();
        QVERIFY(canvas.accessibleDescription().contains("fitness"));
        QTest::keyClick(&canvas, Qt::Key_Down);
        QVERIFY(canvas.chosen() != first);
        const QString second = canvas.accessibleDescription();
        for (const int key : {int(Qt::Key_Plus), int(Qt::Key_Right), int(Qt::Key_Right), int(Qt::Key_Left),
                              int(Qt::Key_Minus), int(Qt::Key_Minus), int(Qt::Key_0), int(Qt::Key_End),
                              int(Qt::Key_Home), int(Qt::Key_Up)}) {
            QTest::keyClick(&canvas, static_cast<Qt::Key>(key));
            QVERIFY(!canvas.grab().isNull());
        }
        QCOMPARE(canvas.chosen(), first);
        QVERIFY(canvas.accessibleDescription() != second);
        QTest::keyClick(&canvas, Qt::Key_Down);
        const qint64 opened = canvas.chosen();
        QTest::keyClick(&canvas, Qt::Key_Return);
        QCOMPARE(window_->place(), Place::Season);
        QCOMPARE(w_->chosen.id(), opened);
        // A hand that drags the axis, far and wild.
        open();
        for (int i = 0; i < 30; ++i) {
            QTest::mousePress(&canvas, Qt::LeftButton, {}, {600, 120});
            QTest::mouseMove(&canvas, {20 + 40 * i, 150});
            QTest::mouseRelease(&canvas, Qt::LeftButton, {}, {20 + 40 * i, 150});
        }
        QVERIFY(!canvas.grab().isNull());
    }

    void whatIsPutOnAllIsOneStepToUndo() {
        open();
        QVERIFY(solved());
        const Season nell = seasonOf("Nell"), pim = seasonOf("Pim");
        const SquadAddition race{
            SquadAddition::What::Race, "Tide & <b>Race</b>", today_ + 100, 1, Priority::C, {}};
        const qint64 looked = w_->chosen.id();
        page().putOnAll(race);
        QVERIFY(solved());
        QCOMPARE(w_->chosen.id(), looked); // a step for many leaves who was looked at
        QCOMPARE(seasonOf("Nell").races.size(), nell.races.size() + 1);
        QCOMPARE(seasonOf("Pim").races.size(), pim.races.size()); // ends before it
        auto* did = find<QLabel>("squadDid");
        QVERIFY(comes([&] { return did->text().contains("Nell"); }));
        QVERIFY2(did->text().contains("Tide &amp; &lt;b&gt;Race"), qPrintable(did->text().left(300)));
        QVERIFY(did->text().contains("Not put on: ") && did->text().contains("Pim"));
        w_->roster.steps().stack().undo();
        QCOMPARE(seasonOf("Nell").races.size(), nell.races.size());
        QVERIFY(!did->isVisible());
        QCOMPARE(w_->chosen.id(), looked);
        QVERIFY(solved());
        w_->roster.steps().stack().redo();
        QCOMPARE(seasonOf("Nell").races.size(), nell.races.size() + 1);
        // Again on the same day by the same name: nobody takes it, nothing is a step.
        const int steps = w_->roster.steps().stack().index();
        page().putOnAll(race);
        QCOMPARE(w_->roster.steps().stack().index(), steps);
    }

    QDialog* asked() {
        auto* dialog = window_->findChild<QDialog*>("squadDialog");
        if (!dialog)
            qFatal("no dialog");
        return dialog;
    }
    void say(QDialog* dialog, SquadAddition::What what) {
        auto* kind = dialog->findChild<QComboBox*>("squadKind");
        kind->setCurrentIndex(kind->findData(static_cast<int>(what)));
    }
    /// Once everybody has been reckoned.
    bool reckoned(QDialog* dialog) {
        return comes([&] { return dialog->findChild<QPushButton*>("squadPut")->isEnabled(); });
    }
    int rowOfRider(QTableWidget* table, const QString& part) {
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, 0)->text().contains(part))
                return r;
        return -1;
    }

    void theDialogAsksForWhatIsNeededAndShowsWhatItDoes() {
        open();
        QVERIFY(solved());
        page().askWhatToPut();
        QDialog* dialog = asked();
        auto* put = dialog->findChild<QPushButton*>("squadPut");
        auto* table = dialog->findChild<QTableWidget*>("squadTrials");
        QTest::qWait(400);
        QVERIFY(!put->isEnabled()); // a race needs a name
        say(dialog, SquadAddition::What::Camp);
        QVERIFY(!dialog->findChild<QComboBox*>("squadName")->isVisible());
        dialog->findChild<QSpinBox*>("squadDays")->setValue(7);
        QVERIFY(reckoned(dialog));
        QCOMPARE(table->rowCount(), 6);
        const int nell = rowOfRider(table, "Nell"), tamsin = rowOfRider(table, "Tamsin");
        QVERIFY2(table->item(nell, 2)->text().contains("Marrow Point Stage Race: fitness "),
                 qPrintable(table->item(nell, 2)->text()));
        // Who is unticked is left as they are.
        table->item(tamsin, 0)->setCheckState(Qt::Unchecked);
        const size_t before = seasonOf("Nell").away.size(), others = seasonOf("Tamsin").away.size();
        QTest::mouseClick(put, Qt::LeftButton);
        QCOMPARE(seasonOf("Nell").away.size(), before + 1);
        QCOMPARE(seasonOf("Tamsin").away.size(), others);
        QVERIFY(seasonOf("Nell").away.back().why == AwayWhy::Camp);
        w_->roster.steps().stack().undo();
        QCOMPARE(seasonOf("Nell").away.size(), before);
    }

    void aRaceSomebodyHasIsPutOnTheOthersAsTheyHaveIt() {
        open();
        QVERIFY(solved());
        // Tamsin's race has the course of Nell's.
        choose("Tamsin");
        Season own = *w_->chosen.season();
        own.races[0].course = seasonOf("Nell").races[0].course;
        w_->chosen.edits().setSeason(own, "A course");
        QVERIFY(solved());
        const std::string race = own.races[0].name;
        page().askWhatToPut();
        QDialog* dialog = asked();
        auto* name = dialog->findChild<QComboBox*>("squadName");
        const int at = name->findText(QString::fromStdString(race));
        QVERIFY(at >= 0);
        name->setCurrentIndex(at);
        emit name->activated(at);
        dialog->findChild<QComboBox*>("squadPriority")->setCurrentIndex(2);
        QVERIFY(reckoned(dialog));
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        QVERIFY(seasonOf("Tamsin").races == own.races); // who has it keeps it
        const Season nell = seasonOf("Nell");
        const Race& got = nell.races.back();
        QVERIFY(got.name == race && got.date == own.races[0].date && got.squad == got.date);
        QVERIFY(got.course == own.races[0].course && got.course.size() > 100);
        QVERIFY(got.demand == Demand::Long && got.stress == 230.0 && got.priority == Priority::C &&
                !got.gate);
    }

    void aRaceMovedMovesForAllAndADayOfOnesOwnIsKept() {
        open();
        QVERIFY(solved());
        const auto dayOfHill = [&](const QString& rider) {
            const Season s = seasonOf(rider);
            for (const Race& r : s.races)
                if (r.name == "Lighthouse Hill Climb")
                    return std::pair(r.date, r.squad.value());
            return std::pair(Date{}, Date{});
        };
        const Date day = dayOfHill("Nell").first;
        // Tamsin rides another edition, two days before.
        choose("Tamsin");
        Season own = *w_->chosen.season();
        for (Race& r : own.races)
            if (r.name == "Lighthouse Hill Climb")
                r.date = day - 2;
        w_->chosen.edits().setSeason(own, "Another day");
        QVERIFY(solved());
        const SquadRow* tamsin = nullptr;
        for (const SquadRow& row : w_->squads.rows())
            tamsin = row.name.contains("Tamsin") ? &row : tamsin;
        QVERIFY(page().canvas().tells(*tamsin).contains("on a day of their own"));
        SquadAddition move;
        move.what = SquadAddition::What::Move;
        move.name = "Lighthouse Hill Climb";
        move.from = day;
        move.to = day + 7;
        page().askWhatToPut(move);
        QDialog* dialog = asked();
        QVERIFY(reckoned(dialog));
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        QVERIFY(dayOfHill("Nell") == std::pair(day + 7, day + 7));
        QVERIFY(dayOfHill("Osric") == std::pair(day + 7, day + 7));
        QVERIFY(dayOfHill("Tamsin") == std::pair(day - 2, day + 7));
        w_->roster.steps().stack().undo();
        QVERIFY(dayOfHill("Nell") == std::pair(day, day) && dayOfHill("Tamsin") == std::pair(day - 2, day));
    }

    void aStakeOfTheSquadIsDraggedAndTheDialogAsks() {
        open();
        QVERIFY(solved());
        SquadCanvas& canvas = page().canvas();
        const SquadRow* nell = nullptr;
        for (const SquadRow& row : w_->squads.rows())
            nell = row.name.contains("Nell") ? &row : nell;
        std::optional<Date> day;
        for (const SquadRace& r : nell->races)
            if (r.squad)
                day = r.date;
        QVERIFY(day);
        const QRect row = canvas.rowRect(nell->rider);
        QPoint stake;
        for (int x = 200; x < canvas.width() && stake.isNull();
             ++x) { // where the cursor says it can be taken
            QTest::mouseMove(&canvas, {x, row.center().y()});
            if (canvas.cursor().shape() == Qt::SizeHorCursor)
                stake = {x + 4, row.center().y()};
        }
        QVERIFY(!stake.isNull());
        const auto drag = [&](bool escape) {
            QTest::mousePress(&canvas, Qt::LeftButton, {}, stake);
            QMouseEvent move(QEvent::MouseMove, QPointF(stake.x() - 60, stake.y()),
                             canvas.mapToGlobal(QPointF(stake.x() - 60, stake.y())), Qt::NoButton,
                             Qt::LeftButton, {});
            QCoreApplication::sendEvent(&canvas, &move);
            QVERIFY(!canvas.grab().isNull());
            if (escape)
                QTest::keyClick(&canvas, Qt::Key_Escape);
            QTest::mouseRelease(&canvas, Qt::LeftButton, {}, {stake.x() - 60, stake.y()});
        };
        drag(true);
        QVERIFY(!window_->findChild<QDialog*>("squadDialog"));
        drag(false);
        QDialog* dialog = asked();
        QVERIFY(fromCivil(1970, 1, 1) < *day);
        QVERIFY(dialog->findChild<QDateEdit*>("squadTo")->date() < QDate(1970, 1, 1).addDays(day->days));
        QVERIFY(reckoned(dialog));
        dialog->reject();
        QVERIFY(!w_->squads.trying());
    }

    void whatIsRiddenTogetherIsGivenToEachAsTheyCanRideIt() {
        open();
        QVERIFY(solved());
        page().askWhatToPut();
        QDialog* dialog = asked();
        say(dialog, SquadAddition::What::Team);
        dialog->findChild<QComboBox*>("squadName")->setEditText("Dune Wednesday");
        dialog->findChild<QComboBox*>("squadFamily")->setCurrentText("lead-outs");
        dialog->findChild<QSpinBox*>("squadMinutes")->setValue(90);
        dialog->findChild<QDateEdit*>("squadFrom")->setDate(QDate(2026, 12, 2)); // a Wednesday
        dialog->findChild<QSpinBox*>("squadTimes")->setValue(3);
        QVERIFY(reckoned(dialog));
        auto* table = dialog->findChild<QTableWidget*>("squadTrials");
        const int osric = rowOfRider(table, "Osric"), wenna = rowOfRider(table, "Wenna");
        QVERIFY2(table->item(osric, 2)->text().contains("no time on a Wednesday"),
                 qPrintable(table->item(osric, 2)->text()));
        QCOMPARE(table->item(osric, 0)->checkState(), Qt::Unchecked);
        QVERIFY2(table->item(wenna, 2)->text().contains("as asked"),
                 qPrintable(table->item(wenna, 2)->text()));
        // The coach knows better for one of them.
        auto* how = qobject_cast<QComboBox*>(table->cellWidget(osric, 1));
        how->setCurrentIndex(2);
        emit how->activated(2);
        table->item(osric, 0)->setCheckState(Qt::Checked);
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        const auto pins = [&](const QString& rider) {
            std::vector<SessionPin> all;
            for (const SessionPin& p : seasonOf(rider).sessions)
                if (p.team == "Dune Wednesday")
                    all.push_back(p);
            return all;
        };
        QCOMPARE(pins("Osric").size(), size_t(3));
        for (const SessionPin& p : pins("Osric"))
            QCOMPARE(p.family, std::string("endurance"));
        QVERIFY(!pins("Wenna").empty() && pins("Wenna")[0].family == "lead-outs");
        // It stands in the week, for everybody who rides it.
        page().open(SquadPage::Part::Week);
        w_->squads.look(1);
        QVERIFY(solved());
        auto* week = find<QTableWidget>("squadWeek");
        QVERIFY2(week->item(rowOfRider(week, "Wenna"), 3)->text().startsWith("Dune Wednesday\n"),
                 qPrintable(week->item(rowOfRider(week, "Wenna"), 3)->text()));
        w_->roster.steps().stack().undo();
        QVERIFY(pins("Osric").empty() && pins("Wenna").empty());
    }

    void rulesDeloadsAndSeasonsArePutOnToo() {
        open();
        QVERIFY(solved());
        const SquadRow* tamsin = nullptr;
        for (const SquadRow& row : w_->squads.rows())
            tamsin = row.name.contains("Tamsin") ? &row : tamsin;
        page().askWhatToPut();
        QDialog* dialog = asked();
        say(dialog, SquadAddition::What::Rule);
        auto* rule = dialog->findChild<QComboBox*>("squadRule");
        rule->setCurrentIndex(rule->findData(static_cast<int>(RuleName::Ramp)));
        auto* like = dialog->findChild<QComboBox*>("squadLike");
        like->setCurrentIndex(like->findData(tamsin->rider));
        QVERIFY(reckoned(dialog));
        const double ramp = seasonOf("Tamsin").rules.ramp, was = seasonOf("Wenna").rules.ramp;
        QVERIFY(ramp != was);
        QVERIFY(dialog->findChild<QLabel*>("squadTrialState")->text().startsWith("Ramp, at most: "));
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        QCOMPARE(seasonOf("Wenna").rules.ramp, ramp);
        w_->roster.steps().stack().undo();
        QCOMPARE(seasonOf("Wenna").rules.ramp, was);
        // Deloads in the same week: what it costs stands beside each.
        QVERIFY(solved());
        SquadAddition deloads;
        deloads.what = SquadAddition::What::Deloads;
        page().askWhatToPut(deloads);
        dialog = asked();
        dialog->findChild<QDateEdit*>("squadFrom")->setDate(QDate(2027, 1, 14));
        dialog->findChild<QSpinBox*>("squadTimes")->setValue(2);
        QVERIFY(reckoned(dialog));
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        const Season nell = seasonOf("Nell");
        int pinned = 0;
        for (const WeekPin& p : nell.weeks)
            pinned += p.kind == WeekKind::Deload ? 1 : 0;
        QCOMPARE(pinned, 2);
        w_->roster.steps().stack().undo();
        // A season like another's begins where there was none, and keeps what is the rider's own.
        QVERIFY(solved());
        SquadAddition season;
        season.what = SquadAddition::What::Season;
        page().askWhatToPut(season);
        dialog = asked();
        like = dialog->findChild<QComboBox*>("squadLike");
        like->setCurrentIndex(like->findText("Wenna Strake"));
        QVERIFY(reckoned(dialog));
        auto* table = dialog->findChild<QTableWidget*>("squadTrials");
        for (int r = 0; r < table->rowCount(); ++r)
            table->item(r, 0)->setCheckState(table->item(r, 0)->text().contains("Pim") ? Qt::Checked
                                                                                       : Qt::Unchecked);
        QTest::mouseClick(dialog->findChild<QPushButton*>("squadPut"), Qt::LeftButton);
        const Season pim = seasonOf("Pim"), wenna = seasonOf("Wenna");
        QVERIFY(pim.start == wenna.start && pim.end == wenna.end && pim.races.size() == wenna.races.size());
        QVERIFY(!pim.races[0].gate && pim.sessions.empty());
        w_->roster.steps().stack().undo();
        QVERIFY(seasonOf("Pim").races.size() == 1);
    }

    void theWeekIsShownCopiedAndSaved() {
        open();
        page().open(SquadPage::Part::Week);
        QVERIFY(solved());
        auto* table = find<QTableWidget>("squadWeek");
        QCOMPARE(table->rowCount(), 6);
        QTest::mouseClick(find<QPushButton>("squadAfter"), Qt::LeftButton);
        QVERIFY(solved());
        QCOMPARE(find<QLabel>("squadTitle")->text(), QString("Week of 30 November"));
        int filled = 0;
        for (int r = 0; r < 6; ++r)
            for (int c = 1; c <= 7; ++c)
                filled += table->item(r, c)->text().isEmpty() ? 0 : 1;
        QVERIFY(filled > 15);
        QTest::mouseClick(find<QPushButton>("squadCopy"), Qt::LeftButton);
        const QString text = QApplication::clipboard()->text();
        QVERIFY(text.startsWith("Week of 30 November") && text.contains("Nell Varrowby") &&
                text.contains("Mo  "));
        const QString csv = folder_.filePath("week.csv"), pdf = folder_.filePath("week.pdf");
        page().saveWeek(csv);
        page().saveWeek(pdf);
        QFile table_(csv), paper(pdf);
        QVERIFY(table_.open(QIODevice::ReadOnly) && paper.open(QIODevice::ReadOnly));
        QVERIFY(table_.readAll().startsWith("rider,date,role,family,title,minutes,stress"));
        QVERIFY(paper.readAll().startsWith("%PDF"));
        QVERIFY(!(QFile::permissions(csv) & (QFile::ReadOther | QFile::ReadGroup)));
    }

    void eachStandsBesideARacesCourseWithoutBeingRanked() {
        open();
        QVERIFY(solved());
        page().open(SquadPage::Part::Race);
        auto* which = find<QComboBox>("fitRace");
        QVERIFY(which->count() >= 1);
        QVERIFY(which->currentText().contains("Marrow Point Stage Race"));
        auto* table = find<QTableWidget>("squadFits");
        QCOMPARE(table->rowCount(), 6);
        const auto cell = [&](const QString& rider, int column) {
            for (int r = 0; r < table->rowCount(); ++r)
                if (table->item(r, 0)->text().contains(rider))
                    return table->item(r, column)->text();
            return QString("nobody");
        };
        QCOMPARE(cell("Nell", 1), QString("yes"));
        QCOMPARE(cell("Wenna", 1), QString("no"));
        QCOMPARE(cell("Pim", 3), QString("–")); // no threshold: nothing is guessed
        // What stands there is what the course asks of that rider.
        const SquadRow* nell = nullptr;
        for (const SquadRow& row : w_->squads.rows())
            nell = row.name.contains("Nell") ? &row : nell;
        const auto race = std::find_if(nell->races.begin(), nell->races.end(),
                                       [](const SquadRace& r) { return !r.course.empty(); });
        const RiderRecord* who = w_->roster.rider(nell->rider);
        const auto asked = rideCourse(race->course, movingOf(*who, race->date),
                                      who->values.on(Quantity::ThresholdPower, race->date).value(), {});
        QCOMPARE(cell("Nell", 3), QString::number(asked->power, 'f', 0));
        QCOMPARE(cell("Nell", 7), QString::fromStdString(signedText(race->form, 0)));
        for (int r = 1; r < table->rowCount(); ++r)
            QVERIFY(QString::localeAwareCompare(table->item(r - 1, 0)->text(), table->item(r, 0)->text()) <
                    0);
        QTest::mouseClick(find<QToolButton>("squadSeason"), Qt::LeftButton);
        QVERIFY(page().canvas().isVisible());
    }

    void riderAndRosterMayChangeAtAnyStep() {
        open();
        // While rows are solved: another group, another rider, an edit, another roster.
        page().showGroup("Road");
        QVERIFY(comes([&] { return !w_->squads.rows().empty(); }));
        for (const SquadRow& r : w_->squads.rows())
            QVERIFY(w_->roster.rider(r.rider)->groups.contains("Road"));
        choose("Wenna");
        RiderRecord wenna = *w_->chosen.rider();
        wenna.groups << "Road";
        w_->chosen.edits().setRider(wenna, "Into the group");
        QVERIFY(comes([&] { return w_->squads.total() == 4; }));
        w_->roster.steps().stack().undo();
        QVERIFY(comes([&] { return w_->squads.total() == 3; }));
        const QString other = folder_.filePath("empty.marram");
        QVERIFY(w_->roster.create(other));
        QVERIFY(w_->squads.rows().empty());
        QTest::qWait(50);
        QVERIFY(w_->squads.rows().empty() && !w_->squads.reading());
    }

    void manyRidersAreDrawnOnlyWhereTheyAreSeen() {
        std::vector<SquadRow> rows;
        for (int i = 0; i < 300; ++i) {
            SquadRow r = rowOf(i + 1, "A rider with a name that goes on and on, and then some",
                               {raceOn("x", today_ + 60, Priority::A, 4)});
            for (int d = -28; d < 200; ++d)
                r.forms.emplace_back(today_ + d, 10 * std::sin(d / 9.0));
            rows.push_back(std::move(r));
        }
        SquadCanvas canvas;
        canvas.resize(1200, 800);
        canvas.show(rows, today_);
        QVERIFY(canvas.height() > 300 * canvas.rowHeight());
        QVERIFY(!canvas.grab(QRect(0, 5000, 1200, 700)).isNull());
        canvas.show({}, today_);
        QVERIFY(!canvas.grab().isNull() && canvas.chosen() == 0);
        QTest::keyClick(&canvas, Qt::Key_Down);
        QTest::keyClick(&canvas, Qt::Key_Return);
    }
};

MARRAM_WINDOW_SUITE(SquadTest)
#include "tst_squad.moc"
