// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/checkin_file.h"
#include "app/rides/ride_words.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "support/rides.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QApplication>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>

using namespace marram;
using namespace marram::test;

/// Knowing the rider, driven in the real window: roster, check-ins, tests, one whole ride, and looking back.
class KnowingTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    int rosters_ = 0;
    const Date today_ = parseDate("2027-03-01").value();

    template <class T>
    T* find(const char* name) {
        T* found = window_->findChild<T*>(name);
        if (!found)
            qFatal("no %s", name);
        return found;
    }
    void click(const char* name) { QTest::mouseClick(find<QPushButton>(name), Qt::LeftButton); }
    void import(const QStringList& files) {
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
    }
    /// A file with intervals of eight minutes, ridden `day` days into 2027.
    QString intervalsOn(int day, bool power = true, std::uint64_t seed = 3) {
        SimulatedRider rider;
        rider.thresholdPower = 220;
        rider.powerMeter = power;
        SimulatedDay when;
        when.start = 1798761600 + 86400LL * day + 9 * 3600;
        when.stops = when.dropouts = false;
        const auto bytes = writeFit(ride(prescribe(SessionKind::Intervals, 1.5, 95), rider, when, seed));
        return save(
            folder_.filePath(QString("%1-%2-%3.fit").arg(QTest::currentTestFunction()).arg(day).arg(power)),
            {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
    }
    void setValue(Quantity q, double v) {
        RiderRecord r = *w_->chosen.rider();
        r.values.set(q, today_ - 400, v);
        w_->chosen.edits().setRider(r, "Set");
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
    }
    const RideRecord& only() { return w_->chosen.rides().front(); }

private slots:
    void initTestCase() {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
    }
    void init() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        QVERIFY(w_->roster.create(folder_.filePath(QString("%1.marram").arg(++rosters_))));
        w_->roster.edits().addRider("Ann Dunlin");
        setValue(Quantity::ThresholdPower, 220);
        w_->roster.steps().stack().clear();
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
    }
    void cleanup() {
        window_.reset();
        w_.reset();
    }

    void theRosterIsSearchedGroupedAndArchived() {
        w_->roster.edits().addRider("Bo Tarn");
        RiderRecord bo = *w_->chosen.rider();
        bo.groups = QStringList{"Track"};
        w_->chosen.edits().setRider(bo, "Group");
        window_->go(Place::Roster);
        auto* table = find<QTableWidget>("roster");
        QCOMPARE(table->rowCount(), 2);
        QTest::keyClicks(find<QLineEdit>("searchRiders"), "tra");
        QCOMPARE(table->rowCount(), 1);
        QCOMPARE(table->item(0, 0)->text(), QString("Bo Tarn"));
        find<QLineEdit>("searchRiders")->clear();
        auto* group = find<QComboBox>("groupChoice");
        QCOMPARE(group->count(), 2);
        group->setCurrentIndex(1);
        emit group->activated(1);
        QCOMPARE(table->rowCount(), 1);
        group->setCurrentIndex(0);
        emit group->activated(0);
        click("archiveRider");
        QVERIFY(w_->chosen.rider()->archived);
        QCOMPARE(table->rowCount(), 1);
        QTest::mouseClick(find<QCheckBox>("showArchived"), Qt::LeftButton, {}, QPoint(8, 8));
        QCOMPARE(table->item(0, 0)->text(), QString("Bo Tarn"));
        w_->roster.steps().stack().undo();
        QVERIFY(!w_->chosen.rider()->archived);
        QCOMPARE(table->rowCount(), 0);
    }
    void checkInsAreEnteredByKeyboardForTheWholeRoster() {
        w_->roster.edits().addRider("Bo Tarn");
        window_->go(Place::Roster);
        window_->rosterView().openCheckIns();
        auto* table = find<QTableWidget>("checkIns");
        QCOMPARE(table->rowCount(), 2);
        table->setFocus();
        table->setCurrentCell(0, 1);
        for (const auto key : {Qt::Key_4, Qt::Key_3, Qt::Key_5, Qt::Key_2, Qt::Key_1, Qt::Key_2, Qt::Key_9})
            QTest::keyClick(table, key);
        const qint64 ann = w_->roster.riders()[0].id, bo = w_->roster.riders()[1].id;
        const CheckIn a = w_->roster.checkInOn(ann, today_).value();
        QVERIFY(a.feel == 4 && a.sleep == 3 && a.soreness == 5 && a.motivation == 2);
        QVERIFY(w_->roster.checkInOn(bo, today_)->feel == 1 && w_->roster.checkInOn(bo, today_)->sleep == 2);
        QVERIFY(!w_->roster.checkInOn(bo, today_)->soreness); // nine is no answer
        table->setCurrentCell(0, 7);
        QTest::keyClick(table, Qt::Key_Y);
        QVERIFY(w_->roster.checkInOn(ann, today_)->ill);
        // Y marks illness wherever in the row a hand is, and leaves what stands there.
        QTest::keyClick(table, Qt::Key_N);
        QVERIFY(!w_->roster.checkInOn(ann, today_)->ill);
        table->setCurrentCell(0, 2);
        QTest::keyClick(table, Qt::Key_Y);
        QVERIFY(w_->roster.checkInOn(ann, today_)->ill && w_->roster.checkInOn(ann, today_)->sleep == 3);
        QCOMPARE(table->currentColumn(), 2);
        QVERIFY(reasonsToLook(w_->standings.of(ann)).front().urgency == 100);
        table->item(0, 5)->setText("51");
        QCOMPARE(*w_->roster.checkInOn(ann, today_)->restHeartRate, 51.0);
        QSignalSpy failed(&w_->notices, &Notices::failed);
        table->item(0, 5)->setText("500");
        QCOMPARE(failed.count(), 1);
        QCOMPARE(*w_->roster.checkInOn(ann, today_)->restHeartRate, 51.0);
        QTest::keyClick(table, Qt::Key_PageUp);
        QVERIFY(find<QLabel>("checkInDay")->text().contains("28 February"));
        QCOMPARE(table->item(0, 1)->text(), QString("·"));
        for (int i = 0; i < 10; ++i)
            w_->roster.steps().stack().undo();
        QVERIFY(!w_->roster.checkInOn(ann, today_) && !w_->roster.checkInOn(bo, today_));
        // Opened from elsewhere it begins with who is chosen there.
        for (const qint64 rider : {bo, ann}) {
            window_->go(Place::Rider);
            w_->chosen.choose(rider);
            window_->go(Place::Roster);
            window_->rosterView().openCheckIns();
            QCOMPARE(table->item(table->currentRow(), 0)->data(Qt::UserRole).toLongLong(), rider);
        }
    }
    void checkInsGoThroughCsvAsOneStep() {
        CheckIn c;
        c.day = today_ - 1;
        c.feel = 3;
        c.note = "sore, \"a bit\"";
        checkIn(*w_, w_->chosen.rider()->id, c);
        const QString file = folder_.filePath("check-ins.csv");
        QVERIFY(writeCheckInsTo(w_->roster, file));
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.checkIns().empty());
        QCOMPARE(readCheckInsFrom(w_->roster, file).value(), 1);
        QVERIFY(w_->chosen.checkIns().front() == c);
        w_->roster.steps().stack().undo();
        QVERIFY(w_->chosen.checkIns().empty());
        const auto nobody = readCheckInsFrom(
            w_->roster, save(file, "rider,date,feel\nAnn Dunlin,2027-02-27,3\nZoe,2027-02-28,2\n"));
        QVERIFY(!nobody && nobody.error().sentence.find("Zoe") != std::string::npos);
        QVERIFY(w_->chosen.checkIns().empty());
    }

    void aTestIsWrittenDownAndTheCoachSaysYes() {
        import({intervalsOn(50)});
        const double before = *only().score.stress;
        window_->go(Place::Rider);
        window_->riderView().openTests();
        QVERIFY(find<QLabel>("testCaution")->text().contains("screening"));
        find<QDateEdit>("testDay")->setDate(QDate(2027, 2, 10));
        find<QDoubleSpinBox>("testValue")->setValue(260);
        click("enterTest");
        QCOMPARE(w_->chosen.tests().size(), 1U);
        QVERIFY(w_->chosen.tests()[0].result.verdict == Verdict::Open);
        QVERIFY(find<QLabel>("resultWords")->text().contains("247 W where 220 W holds now"));
        QCOMPARE(*w_->chosen.rider()->values.on(Quantity::ThresholdPower, today_),
                 220.0); // not before the coach's yes
        click("acceptTest");
        QCOMPARE(*w_->chosen.rider()->values.on(Quantity::ThresholdPower, today_), 247.0);
        QCOMPARE(*w_->chosen.rider()->values.on(Quantity::ThresholdPower, parseDate("2027-02-09").value()),
                 220.0);
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QVERIFY(std::abs(*only().score.stress - before * 220 * 220 / 247 / 247) < 1e-6 * before);
        w_->roster.steps().stack().undo();
        QCOMPARE(*w_->chosen.rider()->values.on(Quantity::ThresholdPower, today_), 220.0);
        QVERIFY(w_->chosen.tests()[0].result.verdict == Verdict::Open);
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QVERIFY(std::abs(*only().score.stress - before) < 1e-9);
        click("declineTest");
        QVERIFY(w_->chosen.tests()[0].result.verdict == Verdict::Declined);
        click("removeTest");
        QVERIFY(w_->chosen.tests().empty());
        QSignalSpy failed(&w_->notices, &Notices::failed);
        find<QDoubleSpinBox>("testValue")->setValue(5);
        click("enterTest");
        QVERIFY(failed.count() == 1 && w_->chosen.tests().empty());
        find<QComboBox>("protocol")->setCurrentIndex(static_cast<int>(Protocol::AerobicCheck));
        QVERIFY(!find<QLabel>("testCaution")->isVisible() && find<QDoubleSpinBox>("testSecond")->isVisible());
    }
    void theProposalIsUsedInTheSeason() {
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        window_->go(Place::Rider);
        window_->riderView().openPage(1);
        // Without a record nothing is proposed; the rider's word is asked for.
        QVERIFY(find<QLabel>("proposal")->text().contains("usual week lately"));
        QVERIFY(!find<QPushButton>("useProposal")->isEnabled());
        auto* usual = find<QDoubleSpinBox>("usualWeek");
        usual->setFocus();
        usual->selectAll();
        QTest::keyClicks(usual, "7");
        QTest::keyClick(usual, Qt::Key_Return);
        QCOMPARE(w_->chosen.rider()->usualWeekHours, std::optional(7.0));
        QVERIFY(std::abs(w_->chosen.history().before(today_).fitness - 50) < 1e-9);
        QVERIFY(find<QLabel>("proposal")->text().startsWith("3:1"));
        QTest::mouseClick(find<QCheckBox>("slowRecoverer"), Qt::LeftButton, {}, QPoint(8, 8));
        QVERIFY(w_->chosen.rider()->slowRecoverer);
        QVERIFY(find<QLabel>("proposal")->text().contains("Recovers slowly"));
        click("useProposal");
        QCOMPARE(w_->chosen.season()->rules.buildWeeks, 2);
        QCOMPARE(w_->chosen.season()->rules.ramp, 4.0);
        QVERIFY(!find<QPushButton>("useProposal")->isEnabled());
        w_->roster.steps().stack().undo();
        QCOMPARE(w_->chosen.season()->rules.buildWeeks, 3);
    }
    void careIsSaidOnceAndHoldsTheSeason() {
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        QVERIFY(comes([&] { return w_->plans.solved() != nullptr; }));
        const auto hardDays = [&] {
            int n = 0;
            for (const PlannedDay& d : w_->plans.solved()->plan.days)
                n += d.role == Role::Hard || d.role == Role::Test ? 1 : 0;
            return n;
        };
        QVERIFY(hardDays() > 0);
        window_->go(Place::Rider);
        window_->riderView().openPage(1);
        auto* says = find<QLabel>("careSays");
        QVERIFY(!says->isVisible());
        const auto tick = [&](const char* name) {
            QTest::mouseClick(find<QCheckBox>(name), Qt::LeftButton, {}, QPoint(8, 8));
        };
        // S29: under care and not cleared there is no hard day and no test, whatever the rules say
        tick("care-heart");
        QVERIFY(w_->chosen.rider()->care.has(Care::Heart) && !w_->chosen.rider()->care.cleared);
        QVERIFY(says->isVisible());
        QVERIFY2(says->text().contains("cleared hard training"), qPrintable(says->text()));
        QVERIFY(comes([&] { return w_->plans.solved() && hardDays() == 0; }));
        tick("cleared");
        QVERIFY(comes([&] { return w_->plans.solved() && hardDays() > 0; }));
        w_->roster.steps().stack().undo();
        w_->roster.steps().stack().undo();
        QVERIFY(!w_->chosen.rider()->care.any());
        QVERIFY(!find<QCheckBox>("care-heart")->isChecked() && !says->isVisible());
    }
    void weeksInjuriesAndGroupsAreEdited() {
        w_->chosen.edits().setSeason(w_->chosen.facts().freshSeason(), "Start");
        window_->go(Place::Rider);
        window_->riderView().openPage(1);
        click("addWeek");
        click("addWeek");
        auto* weeks = find<QTableWidget>("otherWeeks");
        QCOMPARE(weeks->rowCount(), 2);
        weeks->item(0, 7)->setText("5,5");
        QCOMPARE((*w_->chosen.season()->weeks[0].hours)[6], 5.5);
        QSignalSpy failed(&w_->notices, &Notices::failed);
        weeks->item(0, 7)->setText("50");
        weeks->item(0, 0)->setText(weeks->item(1, 0)->text());
        QCOMPARE(failed.count(), 2);
        weeks->setCurrentCell(0, 1);
        click("removeWeek");
        QCOMPARE(w_->chosen.season()->weeks.size(), 1U);
        click("addInjury");
        auto* injuries = find<QTableWidget>("injuries");
        injuries->item(0, 2)->setText("Left knee");
        injuries->item(0, 1)->setText("2027-02-01");
        QCOMPARE(failed.count(), 3); // it can't end before it begins
        injuries->item(0, 0)->setText("2027-01-10");
        injuries->item(0, 1)->setText("2027-02-01");
        QVERIFY(w_->chosen.rider()->injuries[0] ==
                (Injury{parseDate("2027-01-10").value(), parseDate("2027-02-01").value(), "Left knee"}));
        auto* groups = find<QLineEdit>("riderGroups");
        groups->setFocus();
        QTest::keyClicks(groups, "Road, , Road, Masters");
        QTest::keyClick(groups, Qt::Key_Return);
        QCOMPARE(w_->chosen.rider()->groups, (QStringList{"Road", "Masters"}));
    }

    void oneRideOpensWhole() {
        import({intervalsOn(50)});
        window_->go(Place::Rides);
        RidePanel& panel = window_->ridesView().panel();
        auto* words = find<QTextBrowser>("rideWords");
        QVERIFY(words->toPlainText().contains("by power"));
        auto* derivation = find<QTextBrowser>("derivation");
        for (const char* name :
             {"duration", "stress", "equivalent", "mean_power", "heart_rate", "bands", "distance"}) {
            QVERIFY2(words->toHtml().contains(QString("how:%1").arg(name)), name);
            panel.derive(name);
            QVERIFY2(derivation->toPlainText().size() > 40, name);
        }
        panel.derive("stress");
        QVERIFY(derivation->toPlainText().contains("220 W, which holds from"));
        // Efforts: the session's repetitions, found in the power.
        panel.openPage(1);
        auto* efforts = find<QTableWidget>("efforts");
        QVERIFY(efforts->rowCount() >= 2);
        QVERIFY2(find<QLabel>("setWords")->text().contains(" × "),
                 qPrintable(find<QLabel>("setWords")->text()));
        efforts->selectRow(0);
        const Stretch chosen = panel.trace().selection();
        QVERIFY(chosen.length() > 100);
        QVERIFY(find<QLabel>("spanFigures")->text().startsWith("Brushed"));
        find<QComboBox>("effortSource")->setCurrentIndex(1);
        QVERIFY(efforts->rowCount() >= 2);
    }
    void theTraceIsBrushedZoomedAndMoved() {
        import({intervalsOn(50)});
        window_->go(Place::Rides);
        RideTrace& trace = window_->ridesView().panel().trace();
        auto* plot = trace.findChild<QWidget*>("rideTrace");
        QTest::qWait(50);
        QTest::mousePress(plot, Qt::LeftButton, {}, trace.placeOf(1000));
        QTest::mouseMove(plot, trace.placeOf(1300));
        QTest::mouseMove(plot, trace.placeOf(1600));
        QTest::mouseRelease(plot, Qt::LeftButton, {}, trace.placeOf(1600));
        const Stretch s = trace.selection();
        QVERIFY2(std::abs(s.begin - 1000) < 30 && std::abs(s.end - 1600) < 30,
                 qPrintable(QString("%1 %2").arg(s.begin).arg(s.end)));
        const auto whole = trace.shownSeconds();
        trace.lookAt(s);
        QVERIFY(trace.shownSeconds().second - trace.shownSeconds().first < (whole.second - whole.first) / 2);
        trace.setFocus();
        QTest::keyClick(&trace, Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(trace.selection().begin == s.begin && trace.selection().end > s.end);
        QTest::keyClick(&trace, Qt::Key_Escape);
        QCOMPARE(trace.selection().length(), 0);
        QTest::mouseDClick(plot, Qt::LeftButton, {}, trace.placeOf(1500));
        QVERIFY(trace.shownSeconds() == whole);
    }
    void correctionsAndNotesAreUndone() {
        import({intervalsOn(50)});
        window_->go(Place::Rides);
        RidePanel& panel = window_->ridesView().panel();
        panel.openPage(2);
        const double stress = *only().score.stress;
        const int duration = only().score.duration;
        const QByteArray bytes =
            w_->chosen.facts().loadRecording(only().id)->samples.size() ? only().contentHash : QByteArray();
        panel.trace().select({0, 1200});
        click("trimToSelection");
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(only().score.duration, 1200);
        panel.trace().select({300, 600});
        click("cutSelection");
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(only().score.faults.powerMissing, 300);
        QVERIFY(find<QLabel>("corrections")->text().contains("power cut in 1 place"));
        click("restoreRide");
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(*only().score.stress, stress);
        QCOMPARE(only().score.duration, duration);
        w_->roster.steps().stack().undo();
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(only().score.duration, 1200);
        for (int i = 0; i < 2; ++i)
            w_->roster.steps().stack().undo();
        QVERIFY(comes([&] { return !w_->roster.jobs().scoring(); }));
        QCOMPARE(*only().score.stress, stress);
        QCOMPARE(only().contentHash, bytes); // the recording never changed
        auto* note = find<QPlainTextEdit>("rideNote");
        note->setFocus();
        QTest::keyClicks(note, "windy");
        find<QDoubleSpinBox>("sessionEffort")->setFocus();
        QCOMPARE(only().note, QString("windy"));
        QTest::mouseClick(find<QCheckBox>("excludeRide"), Qt::LeftButton, {}, QPoint(8, 8));
        QVERIFY(only().excluded && w_->chosen.counted().points.empty());
        w_->roster.steps().stack().undo();
        QVERIFY(!only().excluded && only().note == "windy" && !w_->chosen.counted().points.empty());
    }
    void aRideWithoutPowerIsScoredByTheStrapThenByEffort() {
        import({intervalsOn(50, false)});
        QCOMPARE(only().score.method, StressMethod::None);
        QVERIFY(describeRide(only(), std::nullopt).contains("nothing to score") ||
                describeRide(only(), std::nullopt).contains("None"));
        window_->go(Place::Rides);
        window_->ridesView().panel().openPage(2);
        find<QDoubleSpinBox>("sessionEffort")->setValue(6);
        QCOMPARE(only().score.method, StressMethod::Effort);
        const double minutes = only().score.duration / 60.0;
        QVERIFY(std::abs(*only().score.stress - 6 * minutes * defaultEffortScale) < 1e-9);
        setValue(Quantity::RestingHeartRate, 48);
        setValue(Quantity::ThresholdHeartRate, 168);
        setValue(Quantity::MaximalHeartRate, 188);
        QCOMPARE(only().score.method, StressMethod::HeartRate);
        QCOMPARE(methodWords(only().score).left(5), QString("heart"));
        const QString how = deriveFigure("stress", only(), *w_->chosen.rider(), std::nullopt);
        QVERIFY(how.contains("Banister") && how.contains("not learned yet"));
    }
    void theScaleIsLearnedAndAppliedWhenRidesComeIn() {
        for (const auto& [q, v] : {std::pair{Quantity::RestingHeartRate, 48.0},
                                   {Quantity::ThresholdHeartRate, 168.0},
                                   {Quantity::MaximalHeartRate, 188.0}})
            setValue(q, v);
        import({intervalsOn(40, false)});
        const double plain = *only().score.stress;
        QStringList files;
        for (int day = 0; day < ridesForScale; ++day)
            files << save(folder_.filePath(QString("scale%1.fit").arg(day)),
                          fitOf(day, 1, static_cast<std::uint64_t>(day + 1)));
        import(files);
        const auto& scale = w_->chosen.rider()->scales.heartRate;
        QVERIFY(scale && scale->rides == ridesForScale);
        const RideRecord& strap = w_->chosen.rides().back();
        QCOMPARE(strap.score.method, StressMethod::HeartRate);
        QVERIFY(std::abs(*strap.score.stress - plain * scale->factor) < 1e-9 * plain);
        w_->roster.steps()
            .stack()
            .undo(); // the rides that taught it are gone, and what they taught with them
        QVERIFY(!w_->chosen.rider()->scales.heartRate);
        QCOMPARE(*only().score.stress, plain);
    }
    void aTestIsRecognisedInARide() {
        RoughSession s;
        s.kind = SessionKind::Intervals;
        s.steps = {{900, 0.6, false}, {1200, 1.04, true}, {600, 0.5, false}};
        SimulatedRider rider;
        rider.thresholdPower = 220;
        SimulatedDay when;
        when.start = 1798761600 + 86400LL * 45 + 9 * 3600;
        when.stops = when.dropouts = false;
        const auto bytes = writeFit(ride(s, rider, when, 5));
        import({save(folder_.filePath("test.fit"),
                     {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())})});
        window_->go(Place::Rides);
        window_->ridesView().panel().openPage(1);
        QVERIFY2(find<QLabel>("recognised")->text().contains("Threshold, 20 minutes"),
                 qPrintable(find<QLabel>("recognised")->text()));
        click("writeTest");
        QCOMPARE(w_->chosen.tests().size(), 1U);
        QCOMPARE(w_->chosen.tests()[0].rideHash, only().contentHash);
        QVERIFY(!find<QLabel>("recognised")->isVisibleTo(window_.get()) ||
                !find<QLabel>("recognised")->text().contains("Threshold, 20 minutes"));
    }
    void aRideIsSavedInEveryFormatItFits() {
        import({intervalsOn(50)});
        window_->go(Place::Rides);
        const RidePanel& panel = window_->ridesView().panel();
        for (const char* ending : {"fit", "csv"}) {
            const QString path = folder_.filePath(QString("saved.") + ending);
            QVERIFY(panel.saveTo(path));
            QFile f(path);
            QVERIFY(f.open(QIODevice::ReadOnly));
            const auto again = prepareRide(f.readAll(), "x", *w_->chosen.rider());
            QVERIFY2(again.has_value(), again ? "" : again.error().sentence.c_str());
            QVERIFY(std::abs(*again->score.stress - *only().score.stress) < 1e-6);
        }
        const auto gpx = panel.saveTo(folder_.filePath("saved.gpx"));
        QVERIFY(gpx || gpx.error().sentence.find("no places") != std::string::npos);
        QVERIFY(!panel.saveTo(folder_.filePath("saved.doc")));
    }

    void reviewLaysTwoSpansOverEachOther() {
        QStringList files;
        for (const int day : {2, 20, 48, 55})
            files << intervalsOn(day, true, static_cast<std::uint64_t>(day));
        import(files);
        window_->go(Place::Review);
        CurvePage& page = window_->reviewView().curves();
        QVERIFY(page.curve(0).size() > 20 && page.curve(1).empty());
        page.read(300);
        QVERIFY(page.reading().contains("over 5 min"));
        for (size_t i = 1; i < page.curve(0).size(); ++i)
            QVERIFY(page.curve(0)[i].power <= page.curve(0)[i - 1].power + 1e-9);
        QSignalSpy wants(&window_->reviewView(), &ReviewView::wantsRide);
        page.setFocus();
        QTest::keyClick(&page, Qt::Key_Right);
        QVERIFY(page.reading().contains("over 6 min"));
        QTest::keyClick(&page, Qt::Key_Return);
        QCOMPARE(wants.count(), 1);
        QCOMPARE(window_->place(), Place::Rides);
        QVERIFY(window_->ridesView().panel().rideShown() != 0);
        window_->go(Place::Review);
        window_->reviewView().openPage(2);
        setValue(Quantity::Weight, 66); // without one there are no watts per kilogram
        QTest::mouseClick(find<QCheckBox>("perKilo"), Qt::LeftButton, {}, QPoint(8, 8));
        QVERIFY(page.reading().contains("W/kg"));
        window_->reviewView().openPage(4);
        auto* weeks = find<QTableWidget>("weeks");
        QVERIFY(weeks->rowCount() == 26 && !weeks->item(1, 1)->text().isEmpty());
        const auto lines = weekLines(w_->chosen.counted().points, w_->chosen.checkIns(), today_, 4);
        QCOMPARE(lines[0].start, today_ - 7);
    }
    void aRiderGoesToAnotherRosterAndBack() {
        import({intervalsOn(50)});
        const QString out = folder_.filePath("export");
        int heard = 0;
        connect(&w_->roster.jobs(), &RosterJobs::jobProgress, window_.get(),
                [&](JobKind kind, int, int) { heard += kind == JobKind::Export ? 1 : 0; });
        QSignalSpy exported(&w_->roster.jobs(), &RosterJobs::exportFinished),
            brought(&w_->roster.jobs(), &RosterJobs::bringFinished);
        w_->roster.jobs().exportRiders(out, {w_->chosen.rider()->id});
        QVERIFY(exported.wait(Patience));
        QCOMPARE(heard, 1);
        QVERIFY(exported[0][1].value<Damage>().empty());
        QVERIFY(w_->roster.create(folder_.filePath("other.marram")));
        QVERIFY(w_->roster.riders().empty());
        w_->roster.jobs().bringRiders(ridersIn(out + "/roster.json"));
        QVERIFY(brought.wait(Patience));
        QCOMPARE(w_->chosen.rider()->name, QString("Ann Dunlin"));
        QVERIFY(w_->chosen.rides().size() == 1 && w_->chosen.facts().loadRide(only().id));
        QSignalSpy failed(&w_->notices, &Notices::failed);
        w_->roster.jobs().bringRiders(ridersIn(out + "/nothing.json"));
        QVERIFY(brought.wait(Patience));
        QVERIFY(failed.size() == 1 && failed[0][0].toString().contains("nothing.json"));
        QCOMPARE(w_->roster.riders().size(), 1U);
    }
    void aRiderWithNothingShowsWhatToDoNext() {
        w_->roster.edits().addRider("");
        for (const Place place : {Place::Roster, Place::Rider, Place::Rides, Place::Review}) {
            window_->go(place);
            QTest::qWait(1);
        }
        window_->go(Place::Rider);
        window_->riderView().openTests();
        QVERIFY(find<QLabel>("resultWords")->text().contains("No test yet"));
        QVERIFY(find<QLabel>("powerModel")->text().contains("three maximal efforts"));
    }
};

MARRAM_WINDOW_SUITE(KnowingTest)
#include "tst_knowing.moc"
