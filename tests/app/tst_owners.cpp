// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/checkin_file.h"
#include "app/owners/mailbox.h"
#include "app/owners/workspace.h"
#include "app/shell/binding.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QThread>

using namespace marram;
using namespace marram::test;

/// Whose is it? Answers that come late, other windows, other riders, edits in the middle of work.
class OwnersTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    QString path_;
    const Date today_ = parseDate("2027-03-01").value();

    QString fileOn(int day, double hours = 0.5) {
        return save(folder_.filePath(QString("%1-%2.fit").arg(QTest::currentTestFunction()).arg(day)),
                    fitOf(day, hours, static_cast<std::uint64_t>(day)));
    }
    bool planned() {
        return comes([&] { return w_->plans.solved() != nullptr; });
    }
    void import(const QStringList& files) {
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
    }
    void giveThreshold(double watts) {
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::ThresholdPower, today_ - 365, watts);
        w_->chosen.edits().setRider(r, "Threshold");
    }
    static std::unique_ptr<Roster> other(const QString& path) { return std::move(*Roster::open(path)); }

private slots:
    void init() {
        path_ = folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()));
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QVERIFY(w_->roster.create(path_));
        w_->roster.edits().addRider("Ann Dunlin");
        giveThreshold(220);
        w_->roster.steps().stack().clear();
    }
    void cleanup() { w_.reset(); }

    void aPlanIsKeptForTheSeasonItWasMadeFor() {
        const qint64 ann = w_->chosen.id();
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        w_->roster.edits().addRider("Bo");
        const qint64 bo = w_->chosen.id();
        // Bo's season can't be planned, so no answer of its own ever overtakes Ann's.
        Season none = w_->chosen.facts().freshSeason();
        none.rules.ramp = -1; // no rider rises so
        w_->chosen.edits().setSeason(none, "Start");
        for (int round = 0; round < 20; ++round) {
            w_->chosen.choose(ann);
            QTest::qWait(round); // Ann's plan is under way in every stage
            w_->chosen.choose(bo);
            QTest::qWait(30);
            QVERIFY(!w_->plans.solved());
            QVERIFY(w_->roster.file().plannedDays(bo)->empty());
        }
        w_->chosen.choose(ann);
        QVERIFY(planned());
        QVERIFY(w_->roster.file().plannedDays(ann)->size() > 150);
    }
    void anImportEndsWithItsRoster() {
        QStringList files;
        for (int day = 0; day < 30; ++day)
            files << fileOn(day);
        const QString second = folder_.filePath("second.marram");
        {
            Workspace b;
            QVERIFY(b.roster.create(second));
            b.roster.edits().addRider("Bo");
        }
        QSignalSpy finished(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QTest::qWait(60);
        QVERIFY(w_->roster.open(second)); // in the middle
        QVERIFY(!w_->roster.jobs().importing());
        QTest::qWait(300);
        QCOMPARE(finished.count(), 0);
        QCOMPARE(w_->roster.steps().stack().count(), 0); // nothing of A's on B's stack
        QVERIFY(w_->chosen.rides().empty());
        const auto a = other(path_); // what had come in is whole
        const auto rides = a->rides(a->riders()->front().id).value();
        for (const RideRecord& r : rides)
            QVERIFY(a->originalOf(r.id));
    }
    void anotherWindowsWordIsNeverLost() {
        const qint64 ann = w_->chosen.id();
        for (int round = 0; round < 3; ++round) {
            // Another window writes a caution, and before it has been seen hours are changed here.
            {
                auto elsewhere = other(path_);
                RiderRecord r = *elsewhere->rider(ann).value();
                r.cautions = QString("asks a doctor, %1").arg(round);
                QVERIFY(elsewhere->saveRider(r));
            }
            RiderRecord mine = *w_->chosen.rider();
            mine.hours[2] = 1.25 + 0.25 * round;
            w_->chosen.edits().setRider(mine, "Hours");
            const RiderRecord now = *w_->roster.file().rider(ann).value();
            QCOMPARE(now.cautions, QString("asks a doctor, %1").arg(round));
            QCOMPARE(now.hours[2], 1.25 + 0.25 * round);
            QCOMPARE(w_->chosen.rider()->cautions, now.cautions);
        }
        // Undo takes back the hours alone.
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rider()->hours[2], 1.5);
        QCOMPARE(w_->chosen.rider()->cautions, QString("asks a doctor, 2"));
    }
    void anotherWindowsRaceSurvivesAMoveHere() {
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        {
            auto elsewhere = other(path_);
            SeasonRecord r = *elsewhere->seasonInForce(w_->chosen.id()).value();
            r.season.races.push_back(
                {"Added elsewhere", r.season.start + 60, Priority::C, 80.0, 1, {}, Demand::Road});
            r.season.rules.ramp = 4.5;
            QVERIFY(elsewhere->saveSeason(r));
        }
        Season moved = *w_->chosen.season();
        moved.races[0].date = moved.races[0].date - 14;
        const Date to = moved.races[0].date;
        w_->chosen.edits().setSeason(moved, "Move");
        const Season now = *seasonOf(w_->roster.file(), w_->chosen.id());
        QCOMPARE(now.races.size(), 2U);
        QVERIFY(now.races[0].date == to && now.races[1].name == "Added elsewhere" && now.rules.ramp == 4.5);
        w_->roster.steps().stack().undo();
        const Season back = *w_->chosen.season();
        QVERIFY(back.races.size() == 2 && back.races[0].date == to + 14 && back.rules.ramp == 4.5);
    }
    void aThresholdChangedDuringAnImportScoresThoseRides() {
        QStringList files;
        for (int day = 0; day < 40; ++day)
            files << fileOn(day);
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        bool changed = false;
        connect(&w_->roster.jobs(), &RosterJobs::jobProgress, &w_->notices, [&](JobKind kind, int n, int) {
            if (kind == JobKind::Import && n >= 5 && !changed) {
                changed = true;
                giveThreshold(110);
            }
        });
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QVERIFY(changed);
        QCOMPARE(w_->chosen.rides().size(), 40U);
        for (const RideRecord& r : w_->chosen.rides())
            QVERIFY(r.thresholdPower == 110 && !r.stale);
    }
    void whatThreadsPostIsDoneByTheOwnerInOrder() {
        // The thread sanitizer follows what the letters carry (./dev threads).
        std::vector<std::vector<std::string>> got(3);
        int left = 3 * 500;
        Mailbox mail;
        std::vector<std::thread> threads;
        for (size_t from = 0; from < got.size(); ++from)
            threads.emplace_back([&, from] {
                for (int n = 0; n < 500; ++n)
                    mail.post(
                        [&, from, text = "letter " + std::to_string(n), mine = QThread::currentThread()] {
                            got[from].push_back(QThread::currentThread() == mine ? "" : text);
                            --left;
                        });
            });
        QVERIFY(comes([&] { return left == 0; }));
        for (std::thread& t : threads)
            t.join();
        for (const auto& letters : got)
            for (size_t n = 0; n < 500; ++n)
                QCOMPARE(letters[n], "letter " + std::to_string(n));
    }
    void whatIsPostedToAMailboxThatGoesIsDropped() {
        const auto carried = std::make_shared<int>(1);
        bool done = false;
        {
            Mailbox mail;
            mail.post([carried, &done] { done = true; });
        }
        QTest::qWait(1);
        QVERIFY(!done);
        QCOMPARE(carried.use_count(), 1L);
    }
    void withoutARosterNothingHappensButWords() {
        w_->roster.close();
        QSignalSpy failed(&w_->notices, &Notices::failed);
        w_->roster.edits().addRider("Nobody");
        w_->roster.jobs().bringRiders(ridersIn("/nowhere.json"));
        w_->roster.jobs().exportRiders("/nowhere", {});
        w_->roster.jobs().examine();
        w_->roster.jobs().saveWhole("/nowhere");
        w_->roster.jobs().importFiles(1, {"/nowhere.fit"});
        w_->chosen.edits().setSeason(Season{}, "Start");
        QVERIFY(!w_->roster.checkInOn(1, today_));
        QVERIFY(failed.count() >= 2 && failed[0][0].toString().contains("No roster is open"));
        QCOMPARE(w_->roster.steps().stack().count(), 0);
        QVERIFY(!w_->chosen.rider());
    }
    void closingWhileAnImportEndsIsQuiet() {
        for (int wait = 0; wait < 12; ++wait) {
            Workspace w;
            w.clock.setToday(today_);
            QVERIFY(w.roster.create(folder_.filePath(QString("closing%1.marram").arg(wait))));
            w.roster.edits().addRider("Ann");
            w.roster.jobs().importFiles(w.chosen.id(), {fileOn(wait, 0.2)});
            QTest::qWait(8 * wait);
        }
    }
    void anOverlapQuestionEndsWithItsRoster() {
        import({fileOn(10, 1)});
        QSignalSpy asked(&w_->roster.jobs(), &RosterJobs::overlapAsked),
            withdrawn(&w_->roster.jobs(), &RosterJobs::questionWithdrawn);
        const QString file = save(folder_.filePath("overlapping.fit"), fitOf(10, 0.7, 99));
        w_->roster.jobs().importFiles(w_->chosen.id(), {file});
        QVERIFY(asked.wait(Patience));
        w_->roster.close(); // nobody answers, and nothing waits for it
        QCOMPARE(withdrawn.count(), 1);
        w_->roster.jobs().answerOverlap(asked[0][0].value<quint64>(),
                                        {OverlapChoice::KeepBoth, false}); // too late to be heard
        QVERIFY(w_->roster.open(path_));
        QCOMPARE(w_->chosen.rides().size(), 1U);
    }
    void undoneTooFarAndDoneAgainTheRidesAreThere() {
        w_->roster.edits().addRider("Bo");
        import({fileOn(20), fileOn(21)});
        const qint64 bo = w_->chosen.id();
        QUndoStack& undo = w_->roster.steps().stack();
        undo.undo(); // the import
        QVERIFY(w_->chosen.rides().empty());
        undo.undo(); // the rider
        QCOMPARE(w_->roster.riders().size(), 1U);
        undo.redo();
        undo.redo();
        QCOMPARE(w_->chosen.id(), bo);
        QCOMPARE(w_->chosen.rides().size(), 2U);
        QVERIFY(undo.undoText().contains("2 rides"));
        QVERIFY(w_->chosen.facts().loadRide(w_->chosen.rides()[0].id));
    }
    void checkInsFromAFileAreOneStepAndOneTransaction() {
        QByteArray csv = "rider,date,feel\n";
        for (int i = 0; i < 1500; ++i)
            csv += "Ann Dunlin," + QByteArray::fromStdString(isoText(today_ - 1500 + i)) + "," +
                   QByteArray::number(1 + i % 5) + "\n";
        QSignalSpy changes(&w_->chosen, &ChosenRider::checkInsChanged);
        QCOMPARE(readCheckInsFrom(w_->roster, save(folder_.filePath("all.csv"), csv)).value(), 1500);
        QCOMPARE(w_->chosen.checkIns().size(), 1500U);
        QCOMPARE(changes.count(), 1); // loaded once
        QCOMPARE(w_->roster.steps().stack().count(), 1);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.checkIns().empty());
        // Of a file that is refused nothing stays.
        const QString bad = save(folder_.filePath("bad.csv"), csv + "Somebody Else,2027-01-01,3\n");
        QVERIFY(!readCheckInsFrom(w_->roster, bad));
        QVERIFY(w_->chosen.checkIns().empty());
        const QString odd = save(folder_.filePath("odd.csv"), csv + "Ann Dunlin,2027-01-01,9\n");
        QVERIFY(!readCheckInsFrom(w_->roster, odd));
        QVERIFY(w_->chosen.checkIns().empty());
    }
    void scoringEndsInSight() {
        QStringList files;
        for (int day = 0; day < 30; ++day)
            files << fileOn(day);
        import(files);
        w_->roster.edits().addRider("Bo");
        const qint64 bo = w_->chosen.id();
        w_->chosen.choose(w_->roster.riders().front().id);
        QSignalSpy progress(&w_->roster.jobs(), &RosterJobs::scoringProgress);
        giveThreshold(300);
        QVERIFY(w_->roster.jobs().scoring());
        w_->chosen.choose(bo); // Bo has nothing to score: the bar goes
        QVERIFY(!w_->roster.jobs().scoring());
        QCOMPARE(progress.last()[0].toInt(), 0);
        // Back again it goes on, and can be stopped; what is left is said.
        w_->chosen.choose(w_->roster.riders().front().id);
        QVERIFY(w_->roster.jobs().scoring());
        QSignalSpy said(&w_->notices, &Notices::said);
        w_->roster.jobs().cancel(JobKind::Scoring);
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(progress.last()[0].toInt(), 0);
    }
    void scoringThatCannotReadTheFileSaysSo() {
        import({fileOn(3), fileOn(4)});
        std::vector<RideRecord> rides = w_->chosen.rides();
        for (RideRecord& r : rides)
            r.stale = true;
        QSignalSpy failed(&w_->notices, &Notices::failed),
            progress(&w_->roster.jobs(), &RosterJobs::scoringProgress);
        QVERIFY(QFile::rename(path_, path_ + ".moved"));
        w_->roster.jobs().scoreStale(w_->chosen.id(), rides);
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QVERIFY(QFile::rename(path_ + ".moved", path_));
        QCOMPARE(progress.last()[0].toInt(), 0);
        QVERIFY(failed.count() >= 1 && failed[0][0].toString().contains("could not be scored"));
    }
    void theDayGoesOnOvernight() {
        Clock clock;
        QSignalSpy days(&clock, &Clock::dayChanged);
        const Date before = clock.today();
        clock.look(before);
        QCOMPARE(days.count(), 0);
        clock.look(before + 1);
        QCOMPARE(days.count(), 1);
        QCOMPARE(clock.today(), before + 1);
        // The plan follows the day.
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        QVERIFY(planned());
        w_->clock.look(today_ + 3);
        QVERIFY(comes([&] { return w_->plans.solved() && w_->plans.solved()->frame.today == 3; }));
    }
    void whatIsOwedIsLearnedByTheNextImport() {
        // A killed import: rides are in, the scales were not learned.
        QStringList files;
        for (int day = 0; day < 12; ++day)
            files << fileOn(day, 0.6);
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::RestingHeartRate, today_ - 365, 50);
        r.values.set(Quantity::ThresholdHeartRate, today_ - 365, 168);
        r.values.set(Quantity::MaximalHeartRate, today_ - 365, 188);
        w_->chosen.edits().setRider(r, "Heart rates");
        import(files);
        const auto learned = w_->chosen.rider()->scales;
        QVERIFY(learned.heartRate.has_value());
        const qint64 ann = w_->chosen.id();
        w_->roster.close();
        {
            auto file = other(path_);
            QVERIFY(file->saveScales(ann, Scales{}) && file->oweLearning(ann));
        }
        {
            auto file = other(path_);
            Importer importer(*file, *file->rider(ann).value());
            QCOMPARE(importer.importFiles({files[0]}).duplicates.size(), 1); // nothing new
            QVERIFY(file->rider(ann).value()->scales == learned && !file->rider(ann).value()->owesLearning);
        }
    }
    void twoImportsOfTheSameFilesMeetInPeace() {
        QStringList files;
        for (int day = 0; day < 25; ++day)
            files << fileOn(day, 0.3);
        const RiderRecord ann = *w_->chosen.rider();
        ImportReport a, b;
        std::thread one([&] { a = Importer(*other(path_), ann).importFiles(files); });
        std::thread two([&] { b = Importer(*other(path_), ann).importFiles(files); });
        one.join();
        two.join();
        QVERIFY2(!a.stopped && !b.stopped, a.stopped   ? a.stopped->sentence.c_str()
                                           : b.stopped ? b.stopped->sentence.c_str()
                                                       : "");
        QCOMPARE(a.added.size() + b.added.size(), 25U);
        QCOMPARE(a.duplicates.size() + b.duplicates.size(), 25);
    }

    void whatIsBeingTypedIsNotTaken() {
        QLineEdit line;
        QStringList taken;
        auto* text = Binding::text(
            &line, [&](qint64 of, const QVariant& v) { taken << QString::number(of) + ":" + v.toString(); });
        line.show();
        text->show(1, "before");
        line.setFocus();
        QTest::keyClicks(&line, " and more");
        text->show(1, "from elsewhere"); // another window, scoring that ends
        QCOMPARE(line.text(), QString("before and more"));
        text->show(2, "another rider"); // what was typed goes to the first one
        QCOMPARE(taken, QStringList{"1:before and more"});
        QCOMPARE(line.text(), QString("another rider"));
        emit line.editingFinished(); // nobody changed it
        QCOMPARE(taken.size(), 1);
    }
    void aFieldRoundsNothingItDidNotChange() {
        QDoubleSpinBox box;
        box.setDecimals(0);
        box.setRange(0, 1000);
        box.setKeyboardTracking(false);
        std::vector<double> taken;
        auto* number =
            Binding::number(&box, [&](qint64, const QVariant& v) { taken.push_back(v.toDouble()); });
        number->show(1, 182.5);
        box.show();
        box.setFocus();
        QTest::keyClick(&box, Qt::Key_Return);
        box.clearFocus();
        QVERIFY(taken.empty());
        QTest::keyClick(&box, Qt::Key_Up);
        QCOMPARE(taken.size(), 1U);
    }
    void renamingARaceLeavesItsStress() {
        Season s = w_->chosen.facts().freshSeason();
        s.races[0].stress = 182.5;
        w_->chosen.edits().setSeason(s, "Start");
        Season renamed = *w_->chosen.season();
        renamed.races[0].name = "Point";
        w_->chosen.edits().setSeason(renamed, "Rename");
        QCOMPARE(*w_->chosen.season()->races[0].stress, 182.5);
    }
    void theSameMorningIsTheSameEverywhere() {
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        QStringList files;
        for (int day = 5; day < 55; day += 2)
            files << fileOn(day, 1);
        import(files);
        QVERIFY(planned());
        const LoadState mine = w_->chosen.history().before(today_);
        const Standing& roster = w_->standings.of(w_->chosen.id());
        QVERIFY(std::abs(mine.fitness - roster.state.fitness) < 1e-9 &&
                std::abs(mine.form() - roster.state.form()) < 1e-9);
        QVERIFY(comes([&] {
            return w_->plans.solved() && std::abs(w_->plans.solved()->plan.days[0].form - mine.form()) < 1e-9;
        }));
    }
};

MARRAM_WINDOW_SUITE(OwnersTest)
#include "tst_owners.moc"
