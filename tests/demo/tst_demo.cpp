// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/load.h"
#include "demo/scenario.h"
#include "support/suite.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;

class DemoTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    const Date today_ = parseDate("2027-03-28").value(); // clocks change in much of the world around it

    /// A demo roster by that name, made once.
    std::unique_ptr<Roster> make(const char* name, Date today) {
        const QString path = folder_.filePath(name);
        if (!QFile::exists(path) && !writeDemo(path, today, {}))
            return nullptr;
        return std::move(*Roster::open(path));
    }
    RiderRecord rider(const Roster& roster, const char* name) {
        const auto all = roster.riders().value();
        for (const RiderRecord& r : all)
            if (r.name.startsWith(name))
                return r;
        return {};
    }

private slots:
    void theSameDayAlwaysGivesTheSameRoster() {
        // At once, or the first rider first and the others one by one, cancelled in between.
        const auto a = make("a.marram", today_);
        const QString path = folder_.filePath("b.marram");
        QVERIFY(a && writeDemo(path, today_, {}, 1));
        const auto b = std::move(*Roster::open(path));
        QCOMPARE(b->riders()->size(), 1U);
        size_t came = 1;
        QVERIFY(addToDemo(
            *b, today_, 1, [&](int, int) { return came < 3; }, [&] { ++came; }));
        QCOMPARE(b->riders()->size(), 3U);
        QVERIFY(addToDemo(*b, today_, 3, {}, [&] { ++came; }));
        const auto riders = a->riders().value(), others = b->riders().value();
        QCOMPARE(came, riders.size());
        QCOMPARE(others.size(), riders.size());
        for (size_t i = 0; i < riders.size(); ++i) {
            QCOMPARE(others[i].name, riders[i].name);
            QVERIFY(b->checkIns(others[i].id).value() == a->checkIns(riders[i].id).value());
            QCOMPARE(b->rides(others[i].id)->size(), a->rides(riders[i].id)->size());
        }
        const auto ra = a->rides(a->riders()->front().id), rb = b->rides(b->riders()->front().id);
        QCOMPARE(ra->size(), rb->size());
        for (size_t i = 0; i < ra->size(); ++i) {
            QCOMPARE((*ra)[i].contentHash, (*rb)[i].contentHash);
            QCOMPARE(*(*ra)[i].score.stress, *(*rb)[i].score.stress);
        }
    }
    void anotherDayShiftsIt() {
        const auto a = make("a.marram", today_), b = make("d.marram", today_ + 7);
        QCOMPARE(b->seasonInForce(b->riders()->front().id)->value().season.start -
                     a->seasonInForce(a->riders()->front().id)->value().season.start,
                 7);
    }
    void theStoryIsToldByTheRides() {
        const auto roster = make("a.marram", today_);
        const RiderRecord rider = roster->riders()->front();
        const auto rides = roster->rides(rider.id).value();
        std::map<Date, double> ridden;
        for (const RideRecord& r : rides) {
            QVERIFY(r.day < today_);
            QCOMPARE(r.score.method, StressMethod::Power);
            QVERIFY(r.remarks.isEmpty());
            ridden[r.day] += *r.score.stress;
        }
        const auto over = [&](int from, int to) {
            double sum = 0;
            for (int n = from; n >= to; --n)
                sum += ridden.contains(today_ - n) ? ridden[today_ - n] : 0;
            return sum;
        };
        QCOMPARE(over(52, 46), 0.0); // a cold
        QCOMPARE(over(10, 8), 0.0);  // a work trip
        const auto plan = roster->plannedDays(rider.id).value();
        double planned = 0;
        for (const SolvedDay& d : plan)
            planned += today_ - d.date <= 31 && today_ - d.date >= 25 ? d.stress : 0;
        QVERIFY(over(31, 25) > 1.15 * planned); // a week ridden too hard
        std::vector<double> stress;
        for (Date d = rides.front().day; d < today_; d = d + 1)
            stress.push_back(ridden.contains(d) ? ridden[d] : 0);
        const auto model = runModel(stress, {38, 36});
        QVERIFY(model.back().fitness > 35 && model.back().fitness < 90);
    }
    void itsSeasonCanBePlanned() {
        const auto roster = make("a.marram", today_);
        Season s = roster->seasonInForce(roster->riders()->front().id)->value().season;
        s.hours = roster->riders()->front().hours;
        QVERIFY(check(s).has_value());
        std::map<Priority, int> races;
        for (const Race& r : s.races)
            ++races[r.priority];
        QCOMPARE(races[Priority::A], 1);
        QCOMPARE(races[Priority::B], 1);
        QCOMPARE(races[Priority::C], 3);
    }
    void theClubIsSixRidersOfDifferentKinds() {
        const auto roster = make("a.marram", today_);
        QCOMPARE(roster->riders()->size(), 6U);
        const auto methods = [&](const char* name) {
            std::map<StressMethod, int> count;
            const auto rides = roster->rides(rider(*roster, name).id).value();
            for (const RideRecord& r : rides)
                ++count[r.score.method];
            return count;
        };
        // Short events without power: the strap scores, and a borrowed power meter has taught its scale.
        auto rook = methods("Rook");
        QVERIFY(rook[StressMethod::HeartRate] > 4 * rook[StressMethod::Power] &&
                rook[StressMethod::Power] >= ridesForScale);
        const auto scale = rider(*roster, "Rook").scales.heartRate;
        QVERIFY(scale && scale->all.deviation < 0.15);
        // Hardly any history, and no power at all.
        auto pim = methods("Pim");
        QVERIFY(pim[StressMethod::Power] == 0 &&
                pim[StressMethod::HeartRate] + pim[StressMethod::Effort] >= 6);
        QVERIFY(ageOn(rider(*roster, "Osric"), today_) >= 55 && rider(*roster, "Osric").slowRecoverer);
        const auto checkIns = roster->checkInsSince(today_ - 28).value();
        QVERIFY(!checkInConcerns(checkIns.at(rider(*roster, "Osric").id), today_).empty());
        QVERIFY(checkInConcerns(checkIns.at(rider(*roster, "Tamsin").id), today_).empty());
        double hours = 0;
        for (const double h : rider(*roster, "Tamsin").hours)
            hours += h;
        QCOMPARE(hours, 6.0);
        const auto tested = [&](const char* name, Protocol p) {
            int n = 0;
            const auto tests = roster->tests(rider(*roster, name).id).value();
            for (const TestRecord& t : tests)
                n += t.result.protocol == p ? 1 : 0;
            return n;
        };
        // Every threshold test the coach took is a threshold from its day on.
        const RiderRecord osric = rider(*roster, "Osric");
        const auto tests = roster->tests(osric.id).value();
        for (const TestRecord& t : tests)
            if (const auto threshold = thresholdFrom(t.result))
                QVERIFY(std::abs(*osric.values.on(Quantity::ThresholdPower, t.result.day) - *threshold) <=
                        0.5);
        QVERIFY(tested("Wenna", Protocol::DurabilityCheck) >= 2);
        QVERIFY(tested("Tamsin", Protocol::AerobicCheck) >= 4);
        QVERIFY(tested("Osric", Protocol::Climb) >= 1 && tested("Osric", Protocol::TwentyMinutes) >= 1);
    }
    void cancellingLeavesNothing() {
        const QString path = folder_.filePath("cancelled.marram");
        int heard = 0;
        const auto ok = writeDemo(path, today_, [&](int done, int total) {
            heard = done;
            return done < 5 && total > 5;
        });
        QVERIFY(!ok && heard == 5);
        QVERIFY(QDir(folder_.path()).entryList({"cancelled*"}).isEmpty());
    }
    void itDoesNotWriteOverAnything() {
        QVERIFY(make("a.marram", today_));
        QVERIFY(!writeDemo(folder_.filePath("a.marram"), today_, {}));
        QVERIFY(QFile::exists(folder_.filePath("a.marram")));
    }
};

MARRAM_SUITE(DemoTest)
#include "tst_demo.moc"
