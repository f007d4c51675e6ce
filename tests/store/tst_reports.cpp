// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/debrief.h"
#include "reports/markers.h"
#include "reports/reports.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace marram;

namespace {

const Date lookedOn = *parseDate("2026-11-23");

/// A record of two years: rides on five days a week that carry points, and nothing else yet.
WholeRecord ridden(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> any(40, 110);
    WholeRecord r;
    r.today = lookedOn;
    r.rider.id = 1;
    r.rider.name = "A & B <b>x</b>";
    r.rider.hours = {0, 1.5, 1, 1.5, 0, 3, 2};
    r.rider.values.set(Quantity::ThresholdPower, lookedOn - 800, 250);
    r.rider.values.set(Quantity::Weight, lookedOn - 800, 70);
    r.book = FamilyBook::standard();
    for (int ago = 730; ago >= 0; --ago) {
        const Date day = lookedOn - ago;
        if (weekday(day) == 0 || weekday(day) == 4)
            continue;
        RideRecord ride;
        ride.id = 1000 - ago;
        ride.day = day;
        ride.contentHash = QByteArray::number(ago);
        ride.thresholdPower = 250;
        ride.score.duration = 5400;
        ride.score.stress = any(random);
        ride.score.method = StressMethod::Power;
        r.rides.push_back(ride);
    }
    r.counted = countRidden(daySumsOf(r.rides));
    LoadRecord load;
    load.ridden = r.counted.points;
    r.history.emplace(load, lookedOn);
    return r;
}

/// Five minutes all out every `apart` days, each from `power` on.
template <class Power>
void efforts(WholeRecord& r, int apart, Power power) {
    for (size_t i = 0; i < r.rides.size(); i += static_cast<size_t>(apart)) {
        const RideRecord& ride = r.rides[i];
        r.heard.maximal.push_back({ride.id, ride.day, 300, power(lookedOn - ride.day)});
    }
}

ReportBasis basisOf(WholeRecord record) {
    ReportBasis b;
    b.record = std::move(record);
    b.read = [](const RideRecord&) -> Result<Ride> { return refuse("no recordings here"); };
    return b;
}

bool says(const Report& report, const char* part) {
    return reportText(report).find(part) != std::string::npos;
}

/// An hour and a half at one power, then half an hour at another.
Ride raceRide() {
    Ride ride;
    ride.hasPower = ride.hasHeartRate = true;
    for (int t = 0; t < 9000; ++t) {
        ride.power.push_back(t < 3600 ? 260.0F : t < 7200 ? 234.0F : 200.0F);
        ride.heartRate.push_back(160);
        ride.distance.push_back(8.0F * static_cast<float>(t));
    }
    for (auto* series : {&ride.cadence, &ride.altitude, &ride.temperature, &ride.leftShare})
        series->assign(9000, missing);
    ride.stretches = {{0, 9000}};
    return ride;
}

} // namespace

/// Pages of review, from records whose truth is known.
class ReportsTest : public QObject {
    Q_OBJECT
private slots:
    void everyQuestionHasAnAnswerForARiderWithNothing() {
        WholeRecord empty;
        empty.today = lookedOn;
        empty.book = FamilyBook::standard();
        empty.history.emplace(LoadRecord{}, lookedOn);
        const ReportBasis basis = basisOf(std::move(empty));
        for (const QuestionWords& q : questions) {
            const Report r = answer(basis, q.question);
            QVERIFY(!r.parts.empty() && reportText(r).size() > 40);
            if (q.question != Question::Body)
                QVERIFY2(r.cannotTell, q.name);
        }
    }

    void ridersToWhomNothingHappenedGetNoNews() {
        int news = 0, changed = 0;
        constexpr unsigned riders = 60;
        for (unsigned rider = 0; rider < riders; ++rider) {
            std::mt19937 random(rider);
            std::normal_distribution<double> noise(0, 2);
            WholeRecord none = ridden(rider), some = ridden(rider);
            efforts(none, 7, [&](int) { return 300 * (1 + noise(random) / 100); });
            efforts(some, 7,
                    [&](int ago) { return 300 * (1 + (8 - 8 * ago / 140.0 + noise(random)) / 100); });
            const Report still = answer(basisOf(none), Question::Changing, 140),
                         better = answer(basisOf(some), Question::Changing, 140);
            news += still.cannotTell ? 0 : 1;
            changed += says(better, "5 min all out is up over the last 20 weeks") ? 1 : 0;
        }
        QVERIFY2(news <= 6, qPrintable(QString::number(news))); // 3 of 60 expected
        QVERIFY2(changed >= 57, qPrintable(QString::number(changed)));
    }

    void effortsThatLieNearEachOtherSayNothingOfTheSpan() {
        WholeRecord r = ridden(3);
        for (size_t i = r.rides.size() - 5; i < r.rides.size(); ++i)
            r.heard.maximal.push_back(
                {r.rides[i].id, r.rides[i].day, 300, 280.0 + 8 * static_cast<double>(i % 5)});
        const Report report = answer(basisOf(r), Question::Changing, 140);
        QVERIFY(report.cannotTell && !says(report, "5 min all out is"));
    }

    void steadyRidesAreHeldAgainstEachOtherAtTheSamePower() {
        // Harder rides have more watts a beat. A rider who rides a tenth harder by the month has not become
        // fitter.
        WholeRecord r = ridden(4);
        std::mt19937 random(4);
        std::normal_distribution<double> noise(0, 0.01);
        std::uniform_real_distribution<double> within(-0.05, 0.05);
        for (RideRecord& ride : r.rides) {
            const double harder = 0.10 * (1 - (lookedOn - ride.day) / 140.0);
            const double intensity = std::clamp(0.62 + harder * 0.62 + within(random), 0.5, 0.78);
            const double power = 250 * intensity, beats = 60 + 0.42 * power;
            ride.score.relativeIntensity = intensity;
            ride.score.equivalentPower = power;
            ride.score.efficiency = power / beats * (1 + noise(random));
        }
        QVERIFY(answer(basisOf(r), Question::Changing, 140).cannotTell);
        // … and one whose heart beats a twentieth less for it has.
        for (RideRecord& ride : r.rides)
            *ride.score.efficiency *= 1 + 0.05 * std::max(0.0, 1 - (lookedOn - ride.day) / 140.0);
        QVERIFY(says(answer(basisOf(r), Question::Changing, 140), "Steady rides, watts per beat is up"));
    }

    void aPlateauProposesAndNothingElseDoes() {
        WholeRecord r = ridden(5);
        for (int i = 0; i < 7; ++i) {
            TestRecord t;
            t.result = {lookedOn - 14 * i - 3, Protocol::AerobicCheck, 1.2 + (i % 2 ? 0.001 : -0.001), 3};
            r.tests.push_back(t);
        }
        std::reverse(r.tests.begin(), r.tests.end());
        const Report report = answer(basisOf(r), Question::Changing, 140);
        QVERIFY(says(report, "It stands still") && says(report, "Something should change"));
        r.tests[3].result.value = 1.26; // one that does not fit: no plateau is proven
        QVERIFY(!says(answer(basisOf(r), Question::Changing, 140), "It stands still"));
    }

    void theGateMovesHalfWayAtMostUntilItIsTheRiders() {
        WholeRecord r = ridden(6);
        std::mt19937 random(6);
        std::normal_distribution<double> noise(0, 2);
        int many = 0;
        efforts(r, 11, [&](int) {
            ++many;
            return 300 * (1 + noise(random) / 100);
        });
        const Report few = answer(basisOf(r), Question::Form);
        QVERIFY(many > 20 && says(few, "Best at a form of"));
        QCOMPARE(few.cannotTell, !says(few, "this is the rider's own"));
        r.heard.maximal.resize(2);
        QVERIFY(answer(basisOf(r), Question::Form).cannotTell);
    }

    void whatWasNeverTriedIsALowerBound() {
        WholeRecord r = ridden(7);
        for (RideRecord& ride : r.rides) {
            ride.score.meanPower = 150;
            ride.best = {{60, 300, 0}, {300, 250, 0}, {1200, 230, 0}};
        }
        const Report none = answer(basisOf(r), Question::Kind);
        QVERIFY(none.cannotTell && says(none, "at least: nothing says it was maximal"));
        const RideRecord& last = r.rides.back();
        for (RideRecord& ride : r.rides)
            if (ride.id == last.id)
                ride.best[1].power = 320;
        r.heard.maximal = {{last.id, last.day, 300, 320}};
        const Report some = answer(basisOf(r), Question::Kind);
        QVERIFY(!some.cannotTell && says(some, "5 min | maximal | 320 | 1.28"));
    }

    void illnessAndDaysAwayAreNoHabit() {
        WholeRecord r = ridden(8);
        std::set<Date> missed;
        for (int ago = 200; ago > 0; --ago) {
            const Date day = lookedOn - ago;
            if (weekday(day) == 0 || weekday(day) == 4)
                continue;
            r.planned[day] = {day, Role::Easy, 60, 1.5, 50, 50, 0, {}, {}};
            if (ago > 100 && ago <= 110) {
                missed.insert(day);
                CheckIn c;
                c.day = day;
                c.ill = true;
                r.checkIns.push_back(c);
            }
        }
        for (const Date day : missed)
            r.counted.points.erase(day);
        QVERIFY(says(answer(basisOf(r), Question::Habits), "0 of "));
        r.checkIns.clear();
        QVERIFY(says(answer(basisOf(r), Question::Habits), (std::to_string(missed.size()) + " of ").c_str()));
    }

    void easyDaysThatWereNotAreNamed() {
        WholeRecord r = ridden(9);
        for (RideRecord& ride : r.rides) {
            r.planned[ride.day] = {ride.day, Role::Easy, 60, 1.5, 50, 50, 0, {}, Phase::Base};
            ride.score.bandSeconds = ride.score.purposeSeconds = Bands{5100, 300, 0};
        }
        QVERIFY(says(answer(basisOf(r), Question::Split), "easy rides of the last three months were easy"));
        r.rides.back().score.bandSeconds = Bands{3600, 1500, 300};
        const Report report = answer(basisOf(r), Question::Split);
        QVERIFY(says(report, "1 of ") &&
                says(report, "30 min above the low threshold, 5 of them above threshold"));
        bool linked = false;
        for (const ReportPart& p : report.parts)
            for (const ReportLine& l : p.words)
                linked = linked || l.ride == r.rides.back().id;
        QVERIFY(linked);
    }

    void aRaceIsReadByHourAndByClimb() {
        CourseDemand course;
        course.distance = 72200; // the recording has 71 992 m
        course.power = 225;
        course.climbs = {{8000, 8000, 400, 0.05, 1200}};
        const RaceRidden read = readRace(raceRide(), Watts{250}, &course);
        QCOMPARE(read.hours.size(), size_t(3));
        QVERIFY(std::abs(*read.hours[0].equivalentPower - 260) < 0.5 && read.hours[2].seconds == 1800);
        QVERIFY(std::abs(*read.fade - 10) < 0.5); // 234 of 260
        QCOMPARE(read.overThreshold, 3600.0);
        QVERIFY(std::abs(read.workOverThreshold - 36) < 1e-6);
        QCOMPARE(read.climbs.size(), size_t(1));
        QVERIFY(std::abs(read.climbs[0].seconds - 997) < 5 && std::abs(*read.climbs[0].power - 260) < 1e-6);
        course.distance = 80000; // another course: nothing is laid over it
        QVERIFY(readRace(raceRide(), Watts{250}, &course).climbs.empty());
        QVERIFY(readRace(raceRide(), std::nullopt, nullptr).overThreshold == 0);
    }

    void aRaceIsKeptWithItsMorningAndTheYearBefore() {
        WholeRecord r = ridden(10);
        SeasonRecord season;
        season.id = 1;
        Race race;
        race.name = "Dune Crest";
        race.priority = Priority::A;
        race.date = lookedOn - 12; // a Wednesday
        race.result = "3rd";
        season.season.races = {race};
        race.date = lookedOn - 376;
        race.result = "9th";
        season.season.races.push_back(race);
        r.seasons = {season};
        ReportBasis basis = basisOf(r);
        basis.read = [](const RideRecord&) -> Result<Ride> { return raceRide(); };
        const Report report = answer(basis, Question::Races);
        for (const char* part : {"Result: 3rd", "On the morning: form", "its gate was",
                                 "The two weeks before", "The time before", "9th", "fell by 10 %"})
            QVERIFY2(says(report, part), part);
        // A recording that cannot be read takes nothing of the rest.
        QVERIFY(says(answer(basisOf(r), Question::Races), "could not be read"));
    }

    void nobodyIsToldToLoseWeight() {
        WholeRecord r = ridden(11);
        for (int i = 0; i < 12; ++i) {
            CheckIn c;
            c.day = lookedOn - 140 + 10 * i;
            c.weightKg = 72 - 0.1 * i;
            r.checkIns.push_back(c);
        }
        const Report report = answer(basisOf(r), Question::Body);
        QVERIFY(says(report, "kg now by its line") && says(report, "never advises to lose weight"));
    }

    void bestDaysOfARecordWithoutACauseHaveNone() {
        int found = 0;
        constexpr unsigned riders = 30;
        for (unsigned rider = 0; rider < riders; ++rider) {
            std::mt19937 random(100 + rider);
            std::normal_distribution<double> noise(0, 2);
            WholeRecord r = ridden(100 + rider);
            efforts(r, 8, [&](int) { return 300 * (1 + noise(random) / 100); });
            const Report report = answer(basisOf(r), Question::BestDays);
            QVERIFY(says(report, "The best "));
            found += report.cannotTell ? 0 : 1;
        }
        QVERIFY2(found <= 6, qPrintable(QString::number(found))); // one in ten, over all features together
    }
};

MARRAM_SUITE(ReportsTest)
#include "tst_reports.moc"
