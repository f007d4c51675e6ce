// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/workspace.h"
#include "support/rides.h"
#include "support/seasons.h"
#include "support/suite.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

/// Where a rider stands, line by line, out of a real roster: what was planned and missed, which race comes,
/// what is not known.
class StandingsTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    const Date today_ = parseDate("2027-03-01").value(); // a Monday

    const Standing& standing() const { return w_->standings.of(w_->chosen.id()); }

    /// The season of the tests, its plan kept, as of a day.
    void plan(const Season& season) {
        w_->chosen.edits().setSeason(season, "A season");
        QVERIFY(comes([&] {
            return w_->plans.solved() && w_->plans.decided() &&
                   w_->plans.decided()->races.size() == season.races.size() && !kept().empty();
        }));
    }
    std::vector<SolvedDay> kept() const {
        const auto file = Roster::open(w_->roster.path());
        return (*file)->plannedDays(w_->chosen.id()).value();
    }
    void import(const QStringList& files) {
        QSignalSpy done(&w_->roster.jobs(), &RosterJobs::importFinished);
        w_->roster.jobs().importFiles(w_->chosen.id(), files);
        QVERIFY(done.wait(Patience));
    }
    QString fileOn(Date day) {
        const int number = day - parseDate("2027-01-01").value();
        return save(folder_.filePath(QString("%1-%2.fit").arg(QTest::currentTestFunction()).arg(number)),
                    fitOf(number, 1, static_cast<std::uint64_t>(number)));
    }
    static Season season() {
        Season s = ordinary();
        s.races.push_back(race("Reed Circuit", "2027-05-02", Priority::C, 80));
        s.races.push_back(race("Tide Race", "2027-05-30", Priority::B, 120));
        return s;
    }

private slots:
    void init() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        QVERIFY(w_->roster.create(folder_.filePath(QString("%1.marram").arg(QTest::currentTestFunction()))));
        w_->roster.edits().addRider("Ann Dunlin");
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::ThresholdPower, today_ - 365, 220);
        w_->chosen.edits().setRider(r, "Threshold");
    }
    void cleanup() { w_.reset(); }

    void ofNobodyNothingIsKnown() {
        const Standing& s = w_->standings.of(4711);
        QVERIFY(!s.lastRide && !s.nextRace && !s.thresholdFrom && s.missedKey.empty() && s.missedOther == 0);
        QVERIFY(s.today == today_ && s.hasPower && !s.testDue);
    }

    void aRiderWithAThresholdAloneIsSaidToBeNew() {
        const Standing& s = standing();
        QVERIFY(!s.lastRide && s.weeks.empty() && s.unscored == 0);
        QVERIFY(s.thresholdFrom && *s.thresholdFrom == today_ - 365 && !s.thresholdAtLeast);
        QVERIFY(!s.testDue); // nobody who has never ridden is asked for a test
    }

    void theNextRaceIsTheNextThatMatters() {
        plan(season());
        QCOMPARE(standing().nextRace.value_or(""), std::string("Tide Race")); // not the C race before it
        QCOMPARE(isoText(*standing().nextRaceDay), std::string("2027-05-30"));
        QVERIFY(standing().raceMiss < 1);
        w_->clock.setToday(parseDate("2027-05-31").value());
        QCOMPARE(standing().nextRace.value_or(""), std::string("Marrow Point"));
        w_->clock.setToday(parseDate("2027-09-20").value());
        QVERIFY(!standing().nextRace && !standing().nextRaceDay);
    }

    void onTheDayItselfTheRaceStillComes() {
        plan(season());
        w_->clock.setToday(parseDate("2027-05-30").value());
        QCOMPARE(standing().nextRace.value_or(""), std::string("Tide Race"));
    }

    void aGateThatCannotBeMetIsMissedByItsDistance() {
        Season s = season();
        s.races[2].gate = Gate{60, 80}; // nobody is as fresh as that in three days
        plan(s);
        QVERIFY(comes([&] { return standing().raceMiss > 20; }));
        s.races[2].gate = Gate{-40, 80};
        w_->chosen.edits().setSeason(s, "A gate");
        QVERIFY(comes([&] { return standing().raceMiss == 0; }));
    }

    void whatWasPlannedAndNotRiddenIsMissed() {
        Season s = season();
        s.start = today_;
        plan(s);
        // The first week with a hard day in it.
        const auto key = [](const SolvedDay& d) {
            return d.role == Role::Hard || d.role == Role::Test || d.role == Role::Race;
        };
        const std::vector<SolvedDay> days = kept();
        const auto first = std::find_if(days.begin(), days.end(),
                                        [&](const SolvedDay& d) { return d.stress >= 20 && key(d); });
        QVERIFY(first != days.end());
        const Date week = monday(first->date);
        size_t hard = 0, other = 0;
        std::vector<Date> hardDays;
        for (const SolvedDay& d : days)
            if (d.date >= week && d.date < week + 7 && d.stress >= 20) {
                if (key(d))
                    hardDays.push_back(d.date);
                ++(key(d) ? hard : other);
            }
        QVERIFY(hard > 0 && other > 0);
        QVERIFY(standing().missedKey.empty() && standing().missedOther == 0); // nothing has been yet
        w_->clock.setToday(week + 7);
        QVERIFY(standing().missedKey == hardDays);
        QCOMPARE(standing().missedOther, static_cast<int>(other));
        // Ridden after all: found in another machine's folder.
        import({fileOn(hardDays.front())});
        QCOMPARE(standing().missedKey.size(), hard - 1);
        QCOMPARE(isoText(*standing().lastRide), isoText(hardDays.front()));
        // A week later it is no news any more.
        w_->clock.setToday(hardDays.back() + 8);
        QVERIFY(std::none_of(standing().missedKey.begin(), standing().missedKey.end(),
                             [&](Date d) { return d <= hardDays.back(); }));
    }

    void aWeekIsAsItWasMeantAndAsItWasRidden() {
        plan(season());
        double meant = 0;
        for (const SolvedDay& d : kept())
            meant += d.date >= today_ && d.date < today_ + 7 ? d.stress : 0;
        import({fileOn(today_ + 1), fileOn(today_ + 3)});
        w_->clock.setToday(today_ + 7);
        const std::vector<WeekRidden> weeks = standing().weeks;
        QCOMPARE(weeks.size(), size_t(6));
        QVERIFY(weeks[4].start == today_ && weeks[4].planned);
        QVERIFY(std::abs(*weeks[4].planned - meant) < 1e-6);
        QVERIFY(weeks[4].ridden > 40 && weeks[5].ridden == 0);
        QVERIFY(!weeks[1].planned || weeks[1].start >= season().start);
    }

    void whoIsOnHolidayIsAwayAndAtACampIsNot() {
        Season s = season();
        for (const AwayWhy why : {AwayWhy::Holiday, AwayWhy::Illness, AwayWhy::Camp}) {
            s.away = {{today_ - 1, today_ + 3, why, std::nullopt}};
            w_->chosen.edits().setSeason(s, "Away");
            QCOMPARE(standing().away, why != AwayWhy::Camp);
        }
        s.away = {{today_ + 1, today_ + 3, AwayWhy::Holiday, std::nullopt}};
        w_->chosen.edits().setSeason(s, "Away");
        QVERIFY(!standing().away); // tomorrow
    }

    void theSeasonsRampIsTheLimit() {
        Season s = season();
        s.rules.ramp = 4.5;
        w_->chosen.edits().setSeason(s, "A ramp");
        QCOMPARE(standing().rampLimit, 4.5);
    }

    void aTestIsDueWhereTheRiderRidesAndNoneWasEverRidden() {
        QStringList files;
        for (int day = 20; day < 50; day += 3)
            files << fileOn(parseDate("2027-01-01").value() + day);
        import(files);
        QVERIFY(standing().lastRide && standing().hasPower);
        QVERIFY(standing().testDue && standing().testDue->find("is due") != std::string::npos);
    }

    void aThresholdThatIsALowerBoundIsSaidToBeOne() {
        RiderRecord r = *w_->chosen.rider();
        r.values.set(Quantity::ThresholdPower, {today_ - 20, 240, true});
        w_->chosen.edits().setRider(r, "Threshold");
        QVERIFY(standing().thresholdAtLeast && *standing().thresholdFrom == today_ - 20);
    }

    void ridesOfTomorrowDoNotMakeTheLastRideLie() {
        // A bike computer whose clock is wrong.
        import({fileOn(today_ + 2)});
        QVERIFY(standing().lastRide && *standing().lastRide == today_);
    }
};

MARRAM_SUITE(StandingsTest)
#include "tst_standings.moc"
