// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo_window.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>

using namespace marram;
using namespace marram::test;

/// The record speaks first: values read out of rides, proposed on a page, taken and taken back.
class RecordTest : public DemoWindow {
    Q_OBJECT
    void openPage() {
        window_->go(Place::Rider);
        window_->riderView().openRecord();
    }
    bool heard() {
        return comes([&] { return !w_->listening.reading() && w_->listening.heard(); });
    }
    void waitScored() {
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
    }
    /// A rider as they come with nothing but their files.
    void forget() {
        choose("Wenna");
        RiderRecord r = *w_->chosen.rider();
        r.values = {};
        r.hours = guessedHours;
        r.usualWeekHours.reset();
        w_->chosen.edits().setRider(r, "Forget");
        waitScored();
        w_->roster.steps().stack().clear();
    }

private slots:
    void initTestCase() { dressed(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }

    void whatIsHeardIsWhatTheRidersWere() {
        // The club's riders rode by the thresholds that are entered for them.
        int bands = 0;
        for (const RiderRecord& r : std::vector<RiderRecord>(w_->roster.riders())) {
            w_->chosen.choose(r.id);
            w_->listening.listen();
            QVERIFY(heard());
            const LearntValues& v = w_->listening.heard()->values;
            QCOMPARE(v.rides, static_cast<int>(w_->chosen.rides().size()));
            QCOMPARE(w_->listening.heard()->unread, 0);
            for (const LearntValue& t : v.thresholdPower) {
                const double truth = r.values.on(Quantity::ThresholdPower, t.from).value_or(0);
                const QByteArray what = r.name.toUtf8() + " " + QByteArray::number(truth) + ": " +
                                        QByteArray::fromStdString(t.why);
                if (t.atLeast)
                    QVERIFY2(t.value <= truth, what);
                else
                    QVERIFY2(++bands > 0 && std::abs(t.value / truth - 1) < 0.06, what);
                for (const std::string& ride : t.rides)
                    QVERIFY(w_->chosen.rideById(std::stoll(ride)));
            }
        }
        QVERIFY(bands >= 4);
    }

    void unscoredIsNotUnridden() {
        forget();
        QVERIFY(w_->chosen.counted().byHours);
        QCOMPARE(w_->chosen.counted().unscored, static_cast<int>(w_->chosen.rides().size()));
        // Fitness by hours, no season from nothing; the same in the roster.
        QVERIFY(w_->chosen.history().before(today_).fitness > 25);
        QCOMPARE(w_->standings.of(w_->chosen.id()).state.fitness,
                 w_->chosen.history().before(today_).fitness);
        const auto reasons = reasonsToLook(w_->standings.of(w_->chosen.id()));
        QVERIFY(std::any_of(reasons.begin(), reasons.end(), [](const Reason& r) {
            return r.sentence.find("rides carry no points") != std::string::npos;
        }));
        QVERIFY(std::none_of(reasons.begin(), reasons.end(), [](const Reason& r) {
            return r.sentence.find("Fitness rose") != std::string::npos;
        }));
        QVERIFY(comes([&] { return w_->plans.solved(); }));
        for (const std::string& said : w_->plans.solved()->plan.warnings)
            QVERIFY2(said.find("little or nothing") == std::string::npos, said.c_str());
        // It is read by itself, and what it proposes is said where the rider is asked for.
        QVERIFY(heard());
        window_->go(Place::Rider);
        const QString needs = find<QLabel>("riderNeeds")->text();
        QVERIFY2(needs.contains("carry no points") && needs.contains("W is proposed from"),
                 qPrintable(needs));
    }

    void whatIsProposedIsTakenInOneStepAndTakenBack() {
        forget();
        openPage();
        QVERIFY(heard());
        auto* table = find<QTableWidget>("recordProposals");
        const int rows = table->rowCount();
        QVERIFY(rows >= 3);
        QVERIFY(find<QLabel>("recordWords")->text().contains("A usual week has"));
        QVERIFY(find<QLabel>("recordRides")->text().contains("ride:"));
        const RiderRecord before = *w_->chosen.rider();
        // One row is left, another changed first.
        int beats = -1, power = -1;
        for (int row = 0; row < rows; ++row) {
            if (table->item(row, 1)->text() == "Threshold heart rate")
                beats = row;
            else if (table->item(row, 1)->text() == "Threshold power")
                power = row;
        }
        QVERIFY(beats >= 0 && power >= 0);
        table->item(beats, 0)->setCheckState(Qt::Unchecked);
        table->item(power, 3)->setText("9999 W"); // refused, in a sentence
        QVERIFY(table->item(power, 3)->text() != "9999 W");
        table->item(power, 3)->setText("251 W");
        QTest::mouseClick(find<QPushButton>("takeTicked"), Qt::LeftButton);
        waitScored();
        const RiderRecord after = *w_->chosen.rider();
        QCOMPARE(w_->roster.steps().stack().index(), 1);
        const auto& entered = after.values.of(Quantity::ThresholdPower);
        QVERIFY(!entered.empty() && std::any_of(entered.begin(), entered.end(),
                                                [](const DatedValue& v) { return v.value == 251; }));
        QVERIFY(after.hours != guessedHours);
        QCOMPARE(after.values.of(Quantity::ThresholdHeartRate).size() + 1,
                 w_->listening.heard()->values.thresholdHeartRate.size());
        // Everything follows: rides carry points, and the season starts where the rider is.
        QVERIFY(!w_->chosen.counted().byHours);
        QVERIFY(w_->chosen.history().before(today_).fitness > 25);
        QCOMPARE(table->rowCount(), 1); // what was left is still proposed
        w_->roster.steps().stack().undo();
        waitScored();
        QVERIFY(w_->chosen.rider()->values == before.values && w_->chosen.rider()->hours == before.hours);
        QVERIFY(w_->chosen.counted().byHours);
    }

    void aBoundIsProposedAsOne() {
        // Only easy rides.
        w_->roster.edits().addRider("Ferrin Otterby");
        QStringList files;
        for (int day = 0; day < 40; day += 2)
            files << save(folder_.filePath(QString("easy-%1.fit").arg(day)),
                          fitOf(day - 80, 1.5, static_cast<std::uint64_t>(day + 1)));
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
        openPage();
        QVERIFY(heard());
        auto* table = find<QTableWidget>("recordProposals");
        QVERIFY(table->rowCount() >= 1);
        QVERIFY2(table->item(0, 3)->text().startsWith("at least "), qPrintable(table->item(0, 3)->text()));
        QCOMPARE(table->item(0, 4)->text(), QString("this or more"));
        QVERIFY(table->item(0, 6)->text().contains("a threshold test would tell"));
        // Another rider, and back: nothing is read twice, and the rows are theirs.
        const qint64 ferrin = w_->chosen.id();
        choose("Nell");
        QVERIFY(!w_->listening.heard() || w_->listening.heard()->rider == w_->chosen.id());
        w_->chosen.choose(ferrin);
        QVERIFY(heard());
        QVERIFY(table->item(0, 3)->text().startsWith("at least "));
    }

    void aBoundIsMarkedWhereFiguresRestOnIt() {
        forget();
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::ThresholdPower, {today_ - 60, 231, true});
        w_->chosen.edits().setRider(r, "Take a bound");
        waitScored();
        QVERIFY(comes([&] { return w_->plans.solved(); }));
        const auto reasons = reasonsToLook(w_->standings.of(w_->chosen.id()));
        QVERIFY(std::any_of(reasons.begin(), reasons.end(), [](const Reason& reason) {
            return reason.sentence.find("lower bound") != std::string::npos;
        }));
        window_->go(Place::Rider);
        auto* values = find<QTableWidget>("values");
        QCOMPARE(values->item(0, 1)->text(), QString("≥ 231"));
        // Another figure typed is the coach's, no bound any more.
        values->item(0, 1)->setText("240");
        QVERIFY(!w_->chosen.rider()->values.of(Quantity::ThresholdPower)[0].atLeast);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.rider()->values.of(Quantity::ThresholdPower)[0].atLeast);
    }

    void theRosterTellsWhatTheRecordProposesAndKeepsQuietWhenAsked() {
        forget();
        openPage();
        QVERIFY(heard());
        const auto told = [&] {
            const auto& proposed = w_->standings.of(w_->chosen.id()).proposed;
            return std::any_of(proposed.begin(), proposed.end(),
                               [](const std::string& s) { return s.find("Threshold power: ") == 0; });
        };
        QVERIFY(told());
        // Another window on the file, where nobody has read a recording, tells it too.
        {
            Workspace other;
            other.clock.setToday(today_);
            QVERIFY(other.roster.open(w_->roster.path()));
            QVERIFY(!other.standings.of(w_->chosen.id()).proposed.empty());
        }
        auto* table = find<QTableWidget>("recordProposals");
        for (int row = table->rowCount() - 1; row >= 0; --row)
            if (table->item(row, 1)->text() == "Threshold power") { // the newest
                table->setCurrentCell(row, 1);
                break;
            }
        QTest::mouseClick(find<QPushButton>("notNow"), Qt::LeftButton);
        QVERIFY(!told());
        QCOMPARE(table->item(table->currentRow(), 0)->checkState(), Qt::Unchecked);
    }

    void whatWasHeardIsNotReadAgain() {
        choose("Nell");
        const qint64 nell = w_->chosen.id();
        QVERIFY(comes([&] { return w_->listening.reading(); })); // by itself, once
        QVERIFY(heard());
        Workspace again;
        again.clock.setToday(today_);
        QVERIFY(again.roster.open(w_->roster.path()));
        again.chosen.choose(nell);
        QTest::qWait(6000); // longer than a hand rests
        QVERIFY(!again.listening.reading() && !again.listening.heard());
        // A ride less is another record: one of the two windows reads it, and both know.
        const QByteArray before = again.roster.file().heard(nell).value().of;
        again.chosen.edits().removeRide(again.chosen.rides().back().id);
        QTRY_VERIFY_WITH_TIMEOUT(again.roster.file().heard(nell).value().of != before, Patience);
    }

    void twoDevicesAreAskedAboutOnceAndUndoneInOneStep() {
        w_->roster.edits().addRider("Ferrin Otterby");
        QStringList computer, watch;
        for (int day = 0; day < 3; ++day) {
            Recording r = readFit({reinterpret_cast<const std::uint8_t*>(fitOf(day - 60).constData()),
                                   static_cast<size_t>(fitOf(day - 60).size())})
                              .value();
            computer << save(folder_.filePath(QString("computer-%1.fit").arg(day)), fitOf(day - 60));
            for (Sample& s : r.samples)
                s.power = missing;
            const auto bytes = writeFit(r);
            watch << save(
                folder_.filePath(QString("watch-%1.fit").arg(day)),
                {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
        }
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), computer + watch);
        QVERIFY(comes([&] { return window_->findChild<QMessageBox*>("overlap"); }));
        auto* box = find<QMessageBox>("overlap");
        QVERIFY(box->windowTitle() == "One ride, two devices");
        find<QCheckBox>("overlapAll")->setChecked(true);
        QTest::keyClick(box, Qt::Key_Return); // one ride is the default
        QVERIFY(done.count() == 1 || done.wait(Patience));
        QVERIFY(!window_->findChild<QMessageBox*>("overlap") ||
                !window_->findChild<QMessageBox*>("overlap")->isVisible());
        QCOMPARE(w_->chosen.rides().size(), 6U);
        QCOMPARE(std::count_if(w_->chosen.rides().begin(), w_->chosen.rides().end(),
                               [](const RideRecord& r) { return !r.beside.isEmpty() && r.excluded; }),
                 3);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.rides().empty());
        w_->roster.steps().stack().redo();
        waitScored();
        QCOMPARE(w_->chosen.rides().size(), 6U);
    }

    void aListWithUnknownColumnsIsAskedAboutOnceForItsKind() {
        w_->roster.edits().addRider("Ferrin Otterby");
        const QString ride = save(folder_.filePath("listed.fit"), fitOf(-60));
        const Date day = parseDate("2026-11-02").value();
        const QByteArray table =
            "wann,was,wie\n" + QByteArray::fromStdString(isoText(day)) + ",Dune loop,5\n";
        const QString list = save(folder_.filePath("listed.csv"), table);
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), {ride, list});
        QVERIFY(comes([&] { return window_->findChild<QDialog*>("listColumns"); }));
        QVERIFY(!find<QPushButton>("takeList")->isEnabled());
        find<QComboBox>("listKind0")->setCurrentText("Day");
        find<QComboBox>("listKind1")->setCurrentText("Name");
        find<QComboBox>("listKind2")->setCurrentText("Effort, 1–10");
        QTest::mouseClick(find<QPushButton>("takeList"), Qt::LeftButton);
        QVERIFY(done.count() == 1 || done.wait(Patience));
        QCOMPARE(w_->chosen.rides().size(), 1U);
        QCOMPARE(w_->chosen.rides()[0].note, QString("Dune loop"));
        QCOMPARE(w_->chosen.rides()[0].effort, std::optional(5.0));
        // The same kind of table again is not asked about.
        done.clear();
        w_->roster.jobs().importFiles(w_->chosen.id(), {save(folder_.filePath("again.csv"), table)});
        QVERIFY(done.count() == 1 || done.wait(Patience));
        // One step back takes the ride, and what was said of it.
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.rides().empty());
        w_->roster.steps().stack().redo();
        QCOMPARE(w_->chosen.rides()[0].note, QString("Dune loop"));
    }

    void anotherRiderChosenWhileOneIsReadIsNotTakenForThem() {
        choose("Osric");
        const qint64 osric = w_->chosen.id();
        w_->listening.listen();
        QVERIFY(w_->listening.reading());
        choose("Nell");
        QVERIFY(!w_->listening.heard()); // hers is read now, by itself
        openPage();
        QVERIFY(heard());
        QCOMPARE(w_->listening.heard()->rider, w_->chosen.id());
        QCOMPARE(w_->listening.heard()->values.rides, static_cast<int>(w_->chosen.rides().size()));
        w_->chosen.choose(osric);
        QVERIFY(heard());
        QCOMPARE(w_->listening.heard()->rider, osric);
    }

    void aRosterClosedWhileItIsReadIsLeftInPeace() {
        forget();
        w_->listening.listen();
        QVERIFY(w_->roster.create(folder_.filePath("other.marram")));
        QVERIFY(!w_->listening.reading() && !w_->listening.heard());
        openPage();
        w_->roster.edits().addRider("Nobody Yet");
        QVERIFY(find<QLabel>("recordWords")->text().contains("no rides yet"));
    }
};

MARRAM_WINDOW_SUITE(RecordTest)
#include "tst_record.moc"
