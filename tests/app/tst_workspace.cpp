// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/workspace.h"
#include "support/rides.h"

#include <QDir>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <unistd.h>

using namespace marram;
using namespace marram::test;

/// The workspace without a window: edits, undo, imports, what is on disk when.
class WorkspaceTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    QString path_;
    const Date today_ = parseDate("2027-03-01").value();

    bool planned() {
        return QTest::qWaitFor(
            [&] {
                return w_->solved() &&
                       w_->solved()->frame.weeks.front().start == monday(w_->season()->start) &&
                       w_->solved()->plan.races.size() == w_->season()->races.size() &&
                       w_->solved()->plan.races[0].date == w_->season()->races[0].date;
            },
            6000);
    }
    void import(const QStringList& files) {
        QSignalSpy done(w_.get(), &Workspace::importFinished);
        w_->importFiles(files);
        QVERIFY(done.wait(20000));
    }
    QString fileOn(int day, double hours = 1) {
        return save(folder_.filePath(QString("%1-%2.fit").arg(QTest::currentTestFunction()).arg(day)),
                    fitOf(day, hours, static_cast<std::uint64_t>(day)));
    }
    /// What another process would see right now.
    std::optional<Season> onDisk() {
        auto roster = Roster::open(path_);
        return (*roster)->season(w_->rider()->id).value();
    }

private slots:
    void init() {
        path_ = folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()));
        w_ = std::make_unique<Workspace>();
        w_->setToday(today_);
        QVERIFY(w_->create(path_));
        w_->addRider("Ann Dunlin");
        RiderRecord ann = *w_->rider();
        ann.values.set(Quantity::ThresholdPower, today_ - 365, 220);
        w_->setRider(ann, "Threshold");
        w_->undoStack().clear();
        w_->setSeason(w_->freshSeason(), "Start");
        QVERIFY(planned());
    }
    void cleanup() { w_.reset(); }

    void anEditIsOnDiskWhenItShows() {
        Season s = *w_->season();
        s.races[0].name = "Point";
        w_->setSeason(s, "Rename");
        QCOMPARE(onDisk()->races[0].name, std::string("Point"));
        w_->undoStack().undo();
        QCOMPARE(onDisk()->races[0].name, std::string("A race"));
        w_->undoStack().undo();
        QVERIFY(!onDisk() && !w_->season());
        w_->undoStack().redo();
        QVERIFY(onDisk().has_value());
    }
    void tryingWritesNothing() {
        Season s = *w_->season();
        const Date before = s.races[0].date;
        s.races[0].date = before - 14;
        w_->trySeason(s);
        QVERIFY(planned());
        QCOMPARE(w_->season()->races[0].date, before - 14);
        QCOMPARE(onDisk()->races[0].date, before);
        QVERIFY(w_->limits().empty() || w_->undoStack().count() == 1);
        w_->stopTrying();
        QCOMPARE(w_->season()->races[0].date, before);
        QVERIFY(planned());
    }
    void theNewestOfManyTriesIsTheOneThatStays() {
        Season s = *w_->season();
        const Date before = s.races[0].date;
        for (int i = 1; i <= 40; ++i) {
            s.races[0].date = before - i;
            w_->trySeason(s);
        }
        QVERIFY(planned());
        QCOMPARE(w_->solved()->plan.races[0].date, before - 40);
    }
    void limitsFollowThePlan() {
        QSignalSpy limits(w_.get(), &Workspace::limitsChanged);
        Season s = *w_->season();
        s.races[0].date = s.races[0].date - 7;
        w_->setSeason(s, "Move");
        QVERIFY(limits.wait(6000));
        QVERIFY(!w_->limits().empty());
    }
    void aPlanThatWasMadeIsKeptForTheDaysItWasMadeFor() {
        const auto before = w_->plannedOn(today_ + 2);
        QVERIFY(before && before->stress > 0);
        w_->setToday(today_ + 5);
        QVERIFY(QTest::qWaitFor([&] { return w_->solved()->frame.today > 0; }));
        // Nothing was ridden, yet what had been planned is still known.
        QCOMPARE(w_->plannedOn(today_ + 2)->stress, before->stress);
        QCOMPARE(w_->solved()->plan.days[2].stress, 0.0);
    }
    void ridesMoveFitnessFatigueAndForm() {
        QCOMPARE(w_->stateBefore(today_).fitness, 0.0);
        QStringList files;
        for (int day = 10; day < 55; day += 2)
            files << fileOn(day, 1.5);
        import(files);
        QCOMPARE(w_->rides().size(), static_cast<size_t>(files.size()));
        const LoadState state = w_->stateBefore(today_);
        QVERIFY(state.fitness > 20 && state.fitness < 60);
        QVERIFY(std::abs(w_->standing(w_->rider()->id).state.fitness - state.fitness) < 1e-12);
        QVERIFY(QTest::qWaitFor(
            [&] { return w_->solved() && std::abs(w_->solved()->plan.days[0].form - state.form()) < 1e-6; }));
    }
    void importAndRemovalAreUndone() {
        import({fileOn(40), fileOn(41)});
        const auto before = w_->rides();
        QCOMPARE(before.size(), 2U);
        w_->removeRide(before[0].id);
        QCOMPARE(w_->rides().size(), 1U);
        w_->undoStack().undo();
        QCOMPARE(w_->rides().size(), 2U);
        QCOMPARE(w_->rides()[0].id, before[0].id);
        QCOMPARE(w_->rides()[0].contentHash, before[0].contentHash);
        QVERIFY(w_->loadRide(before[0].id));
        w_->undoStack().undo();
        QVERIFY(w_->rides().empty());
        QVERIFY(!w_->rideById(before[0].id));
        w_->undoStack().redo();
        QCOMPARE(w_->rides().size(), 2U);
    }
    void anImportIsCancelledAndKeepsWhatItHas() {
        QStringList files;
        for (int day = 0; day < 60; ++day)
            files << fileOn(100 + day, 0.5);
        QSignalSpy done(w_.get(), &Workspace::importFinished);
        connect(w_.get(), &Workspace::importProgress, w_.get(), [&](int n, int) {
            if (n >= 3)
                w_->cancelImport();
        });
        w_->importFiles(files);
        QVERIFY(w_->importing());
        w_->importFiles(files); // one at a time: this one is not begun
        QVERIFY(done.wait(20000));
        QVERIFY(done.front().front().value<ImportReport>().cancelled || w_->rides().size() < 60);
        QVERIFY(w_->rides().size() >= 1);
        QVERIFY(!w_->importing());
    }
    void closingInTheMiddleOfAnImportLeavesAWholeRoster() {
        QStringList files;
        for (int day = 0; day < 40; ++day)
            files << fileOn(200 + day, 0.5);
        const qint64 rider = w_->rider()->id;
        w_->importFiles(files);
        w_.reset();
        auto roster = Roster::open(path_);
        QVERIFY(roster);
        const auto rides = (*roster)->rides(rider).value();
        for (const RideRecord& r : rides)
            QVERIFY((*roster)->originalOf(r.id).has_value());
    }
    void ridersAreKeptApart() {
        import({fileOn(40)});
        const qint64 first = w_->rider()->id;
        w_->addRider("Bo Sanderling");
        QVERIFY(w_->rides().empty() && !w_->season());
        QCOMPARE(w_->riders().size(), 2U);
        QVERIFY(w_->standing(first).lastRide.has_value() && !w_->standing(w_->rider()->id).lastRide);
        w_->choose(first);
        QCOMPARE(w_->rides().size(), 1U);
        QVERIFY(planned());
        // Undoing the first rider's edit from the second rider's page goes to the first rider.
        w_->choose(w_->riders().back().id);
        RiderRecord b = *w_->rider();
        b.hours[2] = 2.5;
        w_->setRider(b, "Hours");
        w_->choose(first);
        w_->undoStack().undo();
        QCOMPARE(w_->rider()->name, QString("Bo Sanderling"));
        QCOMPARE(w_->rider()->hours[2], 1.0);
    }
    void hoursChangedUnderRiderChangeTheSeason() {
        const double before = w_->solved()->plan.weeks[5].availableHours;
        RiderRecord r = *w_->rider();
        r.hours[5] += 2;
        w_->setRider(r, "Hours");
        QVERIFY(QTest::qWaitFor(
            [&] { return std::abs(w_->solved()->plan.weeks[5].availableHours - before - 2) < 1e-9; }));
    }
    void aSeasonThatCannotBePlannedIsSaidAndKept() {
        QSignalSpy failed(w_.get(), &Workspace::failed);
        Season s = *w_->season();
        s.races.clear();
        w_->setSeason(s, "Remove the last race");
        QVERIFY(failed.count() == 1 && failed[0][0].toString().contains("at least one race"));
        QVERIFY(!w_->solved());
        w_->undoStack().undo();
        QVERIFY(planned());
    }
    void aReadOnlyRosterIsLookedAtAndNothingIsKept() {
        if (geteuid() == 0)
            QSKIP("root writes everywhere; run as an ordinary user");
        w_.reset();
        QFile::setPermissions(path_, QFile::ReadOwner);
        w_ = std::make_unique<Workspace>();
        w_->setToday(today_);
        QSignalSpy failed(w_.get(), &Workspace::failed);
        QVERIFY(w_->open(path_) && w_->readOnly());
        Season s = *w_->season();
        s.races[0].name = "never";
        w_->setSeason(s, "Rename");
        QCOMPARE(failed.count(), 1);
        QVERIFY(w_->season()->races[0].name != "never");
    }
    void theSimulatedBikeComputerNeedsAThreshold() {
        RiderRecord r = *w_->rider();
        r.values = {};
        w_->setRider(r, "Remove");
        QVERIFY(!w_->rideToday(folder_.filePath("device")));
        w_->undoStack().undo();
        const auto path = w_->rideToday(folder_.filePath("device"));
        QVERIFY(path && QFile::exists(*path));
        const Result<QString> nowhere = w_->rideToday("/proc/no/folder");
        QVERIFY(!nowhere && nowhere.error().sentence.find("/proc") == 0);
    }

    void scoringGoesOnWhereItWasLeft() {
        import({fileOn(10), fileOn(11), fileOn(12)});
        const double before = *w_->rides()[0].score.stress;
        // As after a kill in the middle: the change is on disk, its rides are still marked.
        const qint64 id = w_->rider()->id;
        {
            auto roster = std::move(*Roster::open(path_));
            RiderRecord r = roster->riders()->front();
            r.values.set(Quantity::ThresholdPower, today_ - 365, 110);
            QVERIFY(roster->saveRider(r));
            QCOMPARE(roster->markStale(id, today_ - 400, today_).value(), 3);
        }
        w_ = std::make_unique<Workspace>();
        w_->setToday(today_);
        QVERIFY(w_->open(path_));
        QVERIFY(w_->scoring());
        QVERIFY(QTest::qWaitFor([&] { return !w_->scoring(); }, 20000));
        QVERIFY(std::abs(*w_->rides()[0].score.stress - 4 * before) < 1e-6 * before);
        for (const RideRecord& r : w_->rides())
            QVERIFY(!r.stale);
    }
    void aChangeWhileScoringWins() {
        QStringList files;
        for (int day = 5; day < 25; ++day)
            files << fileOn(day, 0.5);
        import(files);
        const double before = *w_->rides()[0].score.stress;
        for (const double watts : {240.0, 260.0, 440.0}) {
            RiderRecord r = *w_->rider();
            r.values.set(Quantity::ThresholdPower, today_ - 365, watts);
            w_->setRider(r, "Change");
        }
        RideRecord noted = w_->rides()[3];
        noted.note = "written meanwhile";
        w_->setRide(noted, "Note");
        QVERIFY(QTest::qWaitFor([&] { return !w_->scoring(); }, 20000));
        for (const RideRecord& r : w_->rides())
            QCOMPARE(r.thresholdPower, 440.0);
        QVERIFY(std::abs(*w_->rides()[0].score.stress - before / 4) < 1e-6 * before);
        QCOMPARE(w_->rides()[3].note, QString("written meanwhile"));
    }
    void anAddedRiderIsTakenBackAndBroughtAgain() {
        w_->addRider("Bo");
        const qint64 bo = w_->rider()->id;
        w_->undoStack().undo();
        QCOMPARE(w_->riders().size(), 1U);
        QCOMPARE(w_->rider()->name, QString("Ann Dunlin"));
        w_->undoStack().redo();
        QCOMPARE(w_->riders().size(), 2U);
        QCOMPARE(w_->rider()->id, bo);
    }
    void whatWasImportedIsKnownWhenAnotherRiderIsLookedAt() {
        const qint64 ann = w_->rider()->id;
        QVERIFY(!w_->standing(ann).lastRide); // the sums of all riders are read here
        w_->addRider("Bo");
        w_->choose(ann);
        import({fileOn(50), fileOn(51)});
        w_->choose(w_->riders()[1].id);
        QVERIFY(w_->standing(ann).lastRide && w_->standing(ann).hasPower);
        // Taking the import back brings its rider up again.
        w_->undoStack().undo();
        QCOMPARE(w_->rider()->id, ann);
        QVERIFY(w_->rides().empty());
        w_->undoStack().redo();
        QCOMPARE(w_->rides().size(), 2U);
        RideRecord noted = w_->rides()[0];
        noted.note = "windy";
        w_->setRide(noted, "Note");
        w_->choose(w_->riders()[1].id);
        w_->undoStack().undo();
        QVERIFY(w_->rider()->id == ann && w_->rides()[0].note.isEmpty());
        w_->choose(w_->riders()[1].id);
        QCOMPARE(isoText(*w_->standing(ann).lastRide), isoText(parseDate("2027-02-21").value()));
    }
    void weightTouchesNoScore() {
        import({fileOn(10)});
        RiderRecord r = *w_->rider();
        r.values.set(Quantity::Weight, today_ - 300, 60);
        r.values.set(Quantity::ThresholdPower, today_ + 1, 300); // from tomorrow on
        w_->setRider(r, "Weight");
        QVERIFY(!w_->scoring());
    }
    void theStandingFollowsWhatHappens() {
        const qint64 id = w_->rider()->id;
        QVERIFY(!w_->standing(id).lastRide);
        QStringList files;
        for (int day = 30; day < 50; ++day)
            files << fileOn(day);
        import(files);
        QVERIFY(w_->standing(id).lastRide && w_->standing(id).hasPower);
        QVERIFY(std::abs(w_->standing(id).ramp) < 20);
        CheckIn c;
        c.day = today_;
        c.ill = true;
        w_->setCheckIn(id, c);
        QVERIFY(w_->standing(id).ill);
        w_->undoStack().undo();
        QVERIFY(!w_->standing(id).ill);
        Season s = *w_->season();
        s.away = {{today_ - 1, today_ + 3, AwayWhy::Holiday, std::nullopt}};
        w_->setSeason(s, "Away");
        QVERIFY(w_->standing(id).away);
        // Another rider's standing comes from the file alone.
        w_->addRider("Bo");
        QVERIFY(w_->standing(id).away && w_->standing(id).lastRide);
    }
    void anotherWindowsCheckInsAndTestsAreSeen() {
        {
            auto roster = std::move(*Roster::open(path_));
            CheckIn c;
            c.day = today_ - 1;
            c.feel = 5;
            TestRecord t;
            t.rider = w_->rider()->id;
            t.result.day = today_ - 3;
            t.result.value = 270;
            QVERIFY(roster->saveCheckIn(w_->rider()->id, c) && roster->saveTest(t));
        }
        QVERIFY(QTest::qWaitFor([&] { return w_->tests().size() == 1 && w_->checkIns().size() == 1; }, 6000));
    }
    void aHistoryTellsItsCriticalPower() {
        QVERIFY(!w_->criticalPower(today_));
        import({fileOn(50, 1.5)});
        const auto cp = w_->criticalPower(today_);
        // An endurance ride's bests hardly fall: there may be a fit, but never outside what was ridden.
        if (cp)
            QVERIFY(cp->power.value > 0 && cp->power.value < 400);
        else
            QVERIFY(!cp.error().sentence.empty());
        QVERIFY(!w_->criticalPower(today_ + 400)); // too long ago
    }
    void dueTestsWaitForADeloadWeek() {
        const auto due = w_->dueTests();
        QCOMPARE(due.size(), 2U);
        TestRecord t;
        t.result.day = today_ - 30;
        t.result.value = 240;
        t.result.verdict = Verdict::Accepted;
        w_->setTest(std::nullopt, t, "Test");
        QVERIFY(planned());
        const auto next = w_->dueTests();
        const auto climb = std::find_if(next.begin(), next.end(),
                                        [](const DueTest& d) { return d.protocol == Protocol::Climb; });
        QVERIFY(climb != next.end() && climb->from >= today_ + 12 && climb->from <= today_ + 26);
        w_->undoStack().undo();
        QVERIFY(w_->tests().empty());
        w_->undoStack().redo();
        QCOMPARE(w_->tests()[0].result.value, 240.0);
    }
};

QTEST_MAIN(WorkspaceTest)
#include "tst_workspace.moc"
