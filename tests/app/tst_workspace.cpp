// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/ride_today.h"
#include "app/owners/workspace.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QDir>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <sys/stat.h>
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
        return comes([&] {
            return w_->plans.solved() &&
                   w_->plans.solved()->frame.weeks.front().start == monday(w_->chosen.season()->start) &&
                   w_->plans.solved()->plan.races.size() == w_->plans.season()->races.size() &&
                   w_->plans.solved()->plan.races[0].date == w_->plans.season()->races[0].date;
        });
    }
    void import(const QStringList& files) {
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
    }
    QString fileOn(int day, double hours = 1) {
        return save(folder_.filePath(QString("%1-%2.fit").arg(QTest::currentTestFunction()).arg(day)),
                    fitOf(day, hours, static_cast<std::uint64_t>(day)));
    }
    /// What another process would see right now.
    std::optional<Season> onDisk() {
        auto roster = Roster::open(path_);
        return seasonOf(**roster, w_->chosen.rider()->id);
    }

private slots:
    void init() {
        path_ = folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()));
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QVERIFY(w_->roster.create(path_));
        w_->roster.edits().addRider("Ann Dunlin");
        RiderRecord ann = *w_->chosen.rider();
        ann.values.set(Quantity::ThresholdPower, today_ - 365, 220);
        w_->chosen.edits().setRider(ann, "Threshold");
        w_->roster.steps().stack().clear();
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        QVERIFY(planned());
    }
    void cleanup() { w_.reset(); }

    void anEditIsOnDiskWhenItShows() {
        Season s = *w_->chosen.season();
        s.races[0].name = "Point";
        w_->chosen.edits().setSeason(s, "Rename");
        QCOMPARE(onDisk()->races[0].name, std::string("Point"));
        w_->roster.steps().stack().undo();
        QCOMPARE(onDisk()->races[0].name, std::string("A race"));
        w_->roster.steps().stack().undo();
        QVERIFY(!onDisk() && !w_->chosen.season());
        w_->roster.steps().stack().redo();
        QVERIFY(onDisk().has_value());
    }
    void tryingWritesNothing() {
        Season s = *w_->chosen.season();
        const Date before = s.races[0].date;
        s.races[0].date = before - 14;
        w_->plans.trySeason(s);
        QVERIFY(planned());
        QCOMPARE(w_->plans.season()->races[0].date, before - 14);
        QCOMPARE(onDisk()->races[0].date, before);
        QVERIFY(w_->plans.limits().empty() || w_->roster.steps().stack().count() == 1);
        w_->plans.stopTrying();
        QCOMPARE(w_->chosen.season()->races[0].date, before);
        QVERIFY(planned());
    }
    void theNewestOfManyTriesIsTheOneThatStays() {
        Season s = *w_->chosen.season();
        const Date before = s.races[0].date;
        for (int i = 1; i <= 40; ++i) {
            s.races[0].date = before - i;
            w_->plans.trySeason(s);
        }
        QVERIFY(planned());
        QCOMPARE(w_->plans.solved()->plan.races[0].date, before - 40);
    }
    void limitsFollowThePlan() {
        QSignalSpy limits(&w_->plans, &PlanService::limitsChanged);
        Season s = *w_->chosen.season();
        s.races[0].date = s.races[0].date - 7;
        w_->chosen.edits().setSeason(s, "Move");
        QVERIFY(limits.wait(Patience));
        QVERIFY(!w_->plans.limits().empty());
    }
    void aPlanThatWasMadeIsKeptForTheDaysItWasMadeFor() {
        const auto before = w_->chosen.facts().plannedOn(today_ + 2);
        QVERIFY(before && before->stress > 0);
        w_->clock.setToday(today_ + 5);
        QVERIFY(comes([&] { return w_->plans.solved()->frame.today > 0; }));
        // Nothing was ridden, yet what had been planned is still known.
        QCOMPARE(w_->chosen.facts().plannedOn(today_ + 2)->stress, before->stress);
        QCOMPARE(w_->plans.solved()->plan.days[2].stress, 0.0);
    }
    void ridesMoveFitnessFatigueAndForm() {
        QCOMPARE(w_->chosen.history().before(today_).fitness, 0.0);
        QStringList files;
        for (int day = 10; day < 55; day += 2)
            files << fileOn(day, 1.5);
        import(files);
        QCOMPARE(w_->chosen.rides().size(), static_cast<size_t>(files.size()));
        const LoadState state = w_->chosen.history().before(today_);
        QVERIFY(state.fitness > 20 && state.fitness < 60);
        QVERIFY(std::abs(w_->standings.of(w_->chosen.rider()->id).state.fitness - state.fitness) < 1e-12);
        QVERIFY(comes([&] {
            return w_->plans.solved() &&
                   std::abs(w_->plans.solved()->plan.days[0].form - state.form()) < 1e-6;
        }));
    }
    void importAndRemovalAreUndone() {
        import({fileOn(40), fileOn(41)});
        const auto before = w_->chosen.rides();
        QCOMPARE(before.size(), 2U);
        w_->chosen.edits().removeRide(before[0].id);
        QCOMPARE(w_->chosen.rides().size(), 1U);
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rides().size(), 2U);
        QCOMPARE(w_->chosen.rides()[0].id, before[0].id);
        QCOMPARE(w_->chosen.rides()[0].contentHash, before[0].contentHash);
        QVERIFY(w_->chosen.facts().loadRide(before[0].id));
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.rides().empty());
        QVERIFY(!w_->chosen.rideById(before[0].id));
        w_->roster.steps().stack().redo();
        QCOMPARE(w_->chosen.rides().size(), 2U);
    }
    void anImportIsCancelledAndKeepsWhatItHas() {
        QStringList files;
        for (int day = 0; day < 60; ++day)
            files << fileOn(100 + day, 0.5);
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        connect(&w_->roster.jobs(), &RosterJobs::jobProgress, &w_->notices, [&](JobKind, int n, int) {
            if (n >= 3)
                w_->roster.jobs().cancel(JobKind::Import);
        });
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(w_->roster.jobs().importing());
        w_->roster.jobs().importFiles(w_->chosen.id(), files); // one at a time: this one is not begun
        QVERIFY(done.wait(Patience));
        QVERIFY(done.front()[1].value<ImportReport>().cancelled || w_->chosen.rides().size() < 60);
        QVERIFY(w_->chosen.rides().size() >= 1);
        QVERIFY(!w_->roster.jobs().importing());
    }
    void closingInTheMiddleOfAnImportLeavesAWholeRoster() {
        QStringList files;
        for (int day = 0; day < 40; ++day)
            files << fileOn(200 + day, 0.5);
        const qint64 rider = w_->chosen.rider()->id;
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        w_.reset();
        auto roster = Roster::open(path_);
        QVERIFY(roster);
        const auto rides = (*roster)->rides(rider).value();
        for (const RideRecord& r : rides)
            QVERIFY((*roster)->originalOf(r.id).has_value());
    }
    void ridersAreKeptApart() {
        import({fileOn(40)});
        const qint64 first = w_->chosen.rider()->id;
        w_->roster.edits().addRider("Bo Sanderling"); // what still writes goes first
        QVERIFY(comes([&] { return w_->roster.riders().size() == 2 && w_->chosen.id() != first; }));
        QVERIFY(w_->chosen.rides().empty() && !w_->chosen.season());
        QVERIFY(w_->standings.of(first).lastRide.has_value() &&
                !w_->standings.of(w_->chosen.rider()->id).lastRide);
        w_->chosen.choose(first);
        QCOMPARE(w_->chosen.rides().size(), 1U);
        QVERIFY(planned());
        // Undoing the first rider's edit from the second rider's page goes to the first rider.
        w_->chosen.choose(w_->roster.riders().back().id);
        RiderRecord b = *w_->chosen.rider();
        b.hours[2] = 2.5;
        w_->chosen.edits().setRider(b, "Hours");
        w_->chosen.choose(first);
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rider()->name, QString("Bo Sanderling"));
        QCOMPARE(w_->chosen.rider()->hours[2], 1.0);
    }
    void hoursChangedUnderRiderChangeTheSeason() {
        const double before = w_->plans.solved()->plan.weeks[5].availableHours;
        RiderRecord r = *w_->chosen.rider();
        r.hours[5] += 2;
        w_->chosen.edits().setRider(r, "Hours");
        QVERIFY(comes([&] {
            return w_->plans.solved() &&
                   std::abs(w_->plans.solved()->plan.weeks[5].availableHours - before - 2) < 1e-9;
        }));
    }
    void aSeasonThatCannotBePlannedIsSaidAndKept() {
        QSignalSpy failed(&w_->notices, &Notices::failed);
        Season s = *w_->chosen.season();
        s.rules.ramp = -1;
        w_->chosen.edits().setSeason(s, "Never rise");
        QVERIFY(failed.count() == 1 && failed[0][0].toString().contains("ramp"));
        QVERIFY(!w_->plans.solved());
        w_->roster.steps().stack().undo();
        QVERIFY(planned());
    }
    void aReadOnlyRosterIsLookedAtAndNothingIsKept() {
        w_.reset();
        QVERIFY(chmod(qPrintable(QFileInfo(path_).path()), 0555) == 0 && chmod(qPrintable(path_), 0444) == 0);
        // Root writes everywhere, so as root this looks on as nobody, and is root again however the test
        // ends.
        struct AsNobody {
            bool root = geteuid() == 0;
            bool done = !root || setresuid(65534, 65534, 0) == 0;
            ~AsNobody() {
                if (root && done && setresuid(0, 0, 0) != 0)
                    qFatal("cannot be root again");
            }
        } nobody;
        QVERIFY(nobody.done);
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QSignalSpy failed(&w_->notices, &Notices::failed);
        QVERIFY(w_->roster.open(path_) && w_->roster.readOnly());
        Season s = *w_->chosen.season();
        s.races[0].name = "never";
        w_->chosen.edits().setSeason(s, "Rename");
        QCOMPARE(failed.count(), 1);
        QVERIFY(w_->chosen.season()->races[0].name != "never");
        w_.reset();
        chmod(qPrintable(QFileInfo(path_).path()), 0700);
    }
    void theSimulatedBikeComputerNeedsAThreshold() {
        RiderRecord r = *w_->chosen.rider();
        r.values = {};
        w_->chosen.edits().setRider(r, "Remove");
        QVERIFY(!rideToday(w_->chosen, w_->today(), folder_.filePath("device")));
        w_->roster.steps().stack().undo();
        const auto path = rideToday(w_->chosen, w_->today(), folder_.filePath("device"));
        QVERIFY(path && QFile::exists(*path));
        const Result<QString> nowhere = rideToday(w_->chosen, w_->today(), "/proc/no/folder");
        QVERIFY(!nowhere && nowhere.error().sentence.find("/proc") == 0);
    }

    void scoringGoesOnWhereItWasLeft() {
        import({fileOn(10), fileOn(11), fileOn(12)});
        const double before = *w_->chosen.rides()[0].score.stress;
        // As after a kill in the middle: the change is on disk, its rides are still marked.
        const qint64 id = w_->chosen.rider()->id;
        {
            auto roster = std::move(*Roster::open(path_));
            RiderRecord r = roster->riders()->front();
            r.values.set(Quantity::ThresholdPower, today_ - 365, 110);
            QVERIFY(roster->saveRider(r));
            QCOMPARE(roster->markStale(id, today_ - 400, today_).value(), 3);
        }
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QVERIFY(w_->roster.open(path_));
        QVERIFY(w_->roster.jobs().scoring());
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QVERIFY(std::abs(*w_->chosen.rides()[0].score.stress - 4 * before) < 1e-6 * before);
        for (const RideRecord& r : w_->chosen.rides())
            QVERIFY(!r.stale);
    }
    void aChangeWhileScoringWins() {
        QStringList files;
        for (int day = 5; day < 25; ++day)
            files << fileOn(day, 0.5);
        import(files);
        const double before = *w_->chosen.rides()[0].score.stress;
        for (const double watts : {240.0, 260.0, 440.0}) {
            RiderRecord r = *w_->chosen.rider();
            r.values.set(Quantity::ThresholdPower, today_ - 365, watts);
            w_->chosen.edits().setRider(r, "Change");
        }
        RideRecord noted = w_->chosen.rides()[3];
        noted.note = "written meanwhile";
        w_->chosen.edits().setRide(noted, "Note");
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        for (const RideRecord& r : w_->chosen.rides())
            QCOMPARE(r.thresholdPower, 440.0);
        QVERIFY(std::abs(*w_->chosen.rides()[0].score.stress - before / 4) < 1e-6 * before);
        QCOMPARE(w_->chosen.rides()[3].note, QString("written meanwhile"));
    }
    void anAddedRiderIsTakenBackAndBroughtAgain() {
        w_->roster.edits().addRider("Bo");
        const qint64 bo = w_->chosen.rider()->id;
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->roster.riders().size(), 1U);
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Dunlin"));
        w_->roster.steps().stack().redo();
        QCOMPARE(w_->roster.riders().size(), 2U);
        QCOMPARE(w_->chosen.rider()->id, bo);
    }
    void whatWasImportedIsKnownWhenAnotherRiderIsLookedAt() {
        const qint64 ann = w_->chosen.rider()->id;
        QVERIFY(!w_->standings.of(ann).lastRide); // the sums of all riders are read here
        w_->roster.edits().addRider("Bo");
        w_->chosen.choose(ann);
        import({fileOn(50), fileOn(51)});
        w_->chosen.choose(w_->roster.riders()[1].id);
        QVERIFY(w_->standings.of(ann).lastRide && w_->standings.of(ann).hasPower);
        // Taking the import back brings its rider up again.
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.rider()->id, ann);
        QVERIFY(w_->chosen.rides().empty());
        w_->roster.steps().stack().redo();
        QCOMPARE(w_->chosen.rides().size(), 2U);
        RideRecord noted = w_->chosen.rides()[0];
        noted.note = "windy";
        w_->chosen.edits().setRide(noted, "Note");
        w_->chosen.choose(w_->roster.riders()[1].id);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.rider()->id == ann && w_->chosen.rides()[0].note.isEmpty());
        w_->chosen.choose(w_->roster.riders()[1].id);
        QCOMPARE(isoText(*w_->standings.of(ann).lastRide), isoText(parseDate("2027-02-21").value()));
    }
    void weightTouchesNoScore() {
        import({fileOn(10)});
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::Weight, today_ - 300, 60);
        r.values.set(Quantity::ThresholdPower, today_ + 1, 300); // from tomorrow on
        w_->chosen.edits().setRider(r, "Weight");
        QVERIFY(!w_->roster.jobs().scoring());
    }
    void theStandingFollowsWhatHappens() {
        const qint64 id = w_->chosen.rider()->id;
        QVERIFY(!w_->standings.of(id).lastRide);
        QStringList files;
        for (int day = 30; day < 50; ++day)
            files << fileOn(day);
        import(files);
        QVERIFY(w_->standings.of(id).lastRide && w_->standings.of(id).hasPower);
        QVERIFY(std::abs(w_->standings.of(id).ramp) < 20);
        // Six weeks, this one last, of what the rides themselves carry.
        const std::vector<WeekRidden> weeks = w_->standings.of(id).weeks;
        QVERIFY(weeks.size() == 6 && weeks.back().start == monday(today_));
        for (const WeekRidden& week : weeks) {
            double points = 0;
            for (const RideRecord& ride : w_->chosen.rides())
                if (ride.day >= week.start && ride.day < week.start + 7)
                    points += ride.score.stress.value_or(0);
            QVERIFY(std::abs(week.ridden - points) < 1e-6);
        }
        QVERIFY(std::any_of(weeks.begin(), weeks.end(), [](const WeekRidden& w) { return w.ridden > 100; }));
        CheckIn c;
        c.day = today_;
        c.ill = true;
        checkIn(*w_, id, c);
        QCOMPARE(w_->standings.of(id).checkIns.front().urgency, 100);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->standings.of(id).checkIns.empty());
        Season s = *w_->chosen.season();
        s.away = {{today_ - 1, today_ + 3, AwayWhy::Holiday, std::nullopt}};
        w_->chosen.edits().setSeason(s, "Away");
        QVERIFY(w_->standings.of(id).away);
        // Another rider's standing comes from the file alone.
        w_->roster.edits().addRider("Bo");
        QVERIFY(w_->standings.of(id).away && w_->standings.of(id).lastRide);
    }
    void anotherWindowsCheckInsAndTestsAreSeen() {
        {
            auto roster = std::move(*Roster::open(path_));
            CheckIn c;
            c.day = today_ - 1;
            c.feel = 5;
            TestRecord t;
            t.rider = w_->chosen.rider()->id;
            t.result.day = today_ - 3;
            t.result.value = 270;
            QVERIFY(roster->saveCheckIn(w_->chosen.rider()->id, c) && roster->saveTest(t));
        }
        QVERIFY(comes([&] { return w_->chosen.tests().size() == 1 && w_->chosen.checkIns().size() == 1; }));
    }
    void aHistoryTellsItsCriticalPower() {
        QVERIFY(!w_->chosen.facts().criticalPower(today_));
        import({fileOn(50, 1.5)});
        const auto cp = w_->chosen.facts().criticalPower(today_);
        // An endurance ride's bests hardly fall: there may be a fit, but never outside what was ridden.
        if (cp)
            QVERIFY(cp->power.value > 0 && cp->power.value < 400);
        else
            QVERIFY(!cp.error().sentence.empty());
        QVERIFY(!w_->chosen.facts().criticalPower(today_ + 400)); // too long ago
    }
    void dueTestsWaitForADeloadWeek() {
        const auto due = w_->chosen.facts().dueTests(w_->plans.deloadEnds());
        QCOMPARE(due.size(), 2U);
        TestRecord t;
        t.result.day = today_ - 30;
        t.result.value = 240;
        t.result.verdict = Verdict::Accepted;
        w_->chosen.edits().setTest(std::nullopt, t, "Test");
        QVERIFY(planned());
        const auto next = w_->chosen.facts().dueTests(w_->plans.deloadEnds());
        const auto climb = std::find_if(next.begin(), next.end(),
                                        [](const DueTest& d) { return d.protocol == Protocol::Climb; });
        QVERIFY(climb != next.end() && climb->from >= today_ + 12 && climb->from <= today_ + 26);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.tests().empty());
        w_->roster.steps().stack().redo();
        QCOMPARE(w_->chosen.tests()[0].result.value, 240.0);
    }
};

MARRAM_WINDOW_SUITE(WorkspaceTest)
#include "tst_workspace.moc"
