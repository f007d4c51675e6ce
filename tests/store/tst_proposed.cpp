// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/proposed.h"
#include "store/roster.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace marram;

namespace {

const Date today{20000};

ValueProposal watts(double value, Date from = today - 10) {
    ValueProposal p;
    p.quantity = Quantity::ThresholdPower;
    p.from = from;
    p.value = value;
    p.low = value - 8;
    p.high = value + 8;
    return p;
}

ValueProposal hours(double week) {
    ValueProposal p;
    p.kind = ValueProposal::Kind::Hours;
    p.value = week;
    return p;
}

} // namespace

/// What a record proposes is remembered, told of one value at most every three weeks, and marked where it is
/// a lower bound.
class ProposedTest : public QObject {
    Q_OBJECT
private slots:
    void theNewestOfAValueIsToldAndKeepsItsDay() {
        auto kept = remembered({}, {watts(250, today - 90), watts(262)}, today);
        QCOMPARE(kept.size(), size_t(1));
        QVERIFY(kept[0].value == 262 && kept[0].said == today && kept[0].answer == Answer::Open);
        kept = remembered(kept, {watts(263)}, today + 5); // within a per cent: the same
        QVERIFY(kept[0].said == today && kept[0].answer == Answer::Open);
    }

    void ofOneValueAtMostEveryThreeWeeks() {
        auto kept = remembered({}, {watts(262)}, today);
        // Taken: nothing is proposed any more.
        kept = remembered(kept, {}, today + 1);
        QCOMPARE(kept[0].answer, Answer::Settled);
        for (int later = 2; later < daysBetweenProposals; ++later) {
            kept = remembered(kept, {watts(271, today)}, today + later);
            QCOMPARE(kept[0].answer, Answer::Settled);
            QCOMPARE(kept[0].value, 262.0);
        }
        kept = remembered(kept, {watts(271, today)}, today + daysBetweenProposals);
        QVERIFY(kept[0].answer == Answer::Open && kept[0].value == 271 &&
                kept[0].said == today + daysBetweenProposals);
        // What nobody answered is told once, with its newest figure.
        kept = remembered(kept, {watts(280, today + 20)}, today + daysBetweenProposals + 3);
        QVERIFY(kept.size() == 1 && kept[0].value == 280 && kept[0].said == today + daysBetweenProposals);
        // Taken back, it is open again.
        kept = remembered(remembered(kept, {}, today + 30), {watts(280, today + 20)}, today + 31);
        QCOMPARE(kept[0].answer, Answer::Open);
    }

    void whatTheCoachWantsToHearNoMoreOfIsQuiet() {
        auto kept = setAside(remembered({}, {watts(262), hours(9)}, today), watts(262), today);
        QCOMPARE(kept.size(), size_t(2));
        kept = remembered(kept, {watts(262), hours(9.4)}, today + 60);
        for (const KeptProposal& k : kept)
            QCOMPARE(k.answer, k.quantity ? Answer::NotNow : Answer::Open);
        kept = remembered(kept, {watts(275, today + 50)}, today + 61); // another value is news
        QVERIFY(std::any_of(kept.begin(), kept.end(), [](const KeptProposal& k) {
            return k.quantity && k.value == 275 && k.answer == Answer::Open;
        }));
    }

    void whatIsEnteredByHandIsNotProposedAnyMore() {
        RiderRecord r;
        const auto kept = remembered({}, {watts(262)}, today);
        QVERIFY(stillOpen(kept[0], r));
        r.values.set(Quantity::ThresholdPower, today - 10, 261);
        QVERIFY(!stillOpen(kept[0], r));
        QCOMPARE(proposalSentence(kept[0], today),
                 QString("Threshold power: 262 W is proposed from %1, nothing is entered.")
                     .arg(QString::fromStdString(dayText(today - 10, today))));
    }

    void theRosterKeepsThemAndMarksBounds() {
        const QTemporaryDir folder;
        const auto roster = Roster::create(folder.filePath("r.marram")).value();
        RiderRecord r;
        r.name = "Ann Dunlin";
        ValueProposal bound = watts(231);
        bound.atLeast = true;
        bound.high.reset();
        takeProposal(r, bound);
        r.id = roster->saveRider(r).value();
        KeptHearing heard{QByteArray(32, 'x'), remembered({}, {watts(262), hours(9)}, today)};
        heard.proposed[0].entered = 250;
        QVERIFY(roster->saveHeard(r.id, heard));
        QCOMPARE(roster->heard(r.id).value().of, heard.of);
        QCOMPARE(roster->proposed().value()[r.id].size(), size_t(2));
        heard = roster->heard(r.id).value();
        QVERIFY(roster->saveHeard(r.id, heard) && roster->heard(r.id).value() == heard);
        const RiderRecord back = *roster->rider(r.id).value();
        QVERIFY(back.values == r.values && back.values.of(Quantity::ThresholdPower)[0].atLeast);
        QVERIFY(boundSentence(back, today).contains("at least 231 W"));
        // A bound that is measured stops being one; merged it is another entry.
        RiderRecord measured = back;
        measured.values.set(Quantity::ThresholdPower, today - 10, 231);
        QVERIFY(!(measured.values == back.values));
        QVERIFY(boundSentence(measured, today).isEmpty());
        QVERIFY(roster->checkSeals().empty());
    }

    void whoRidesOnNoFixedDaysIsGivenTheMeans() {
        LearntValues said;
        said.rides = 40;
        said.usualWeek = 6;
        said.hours = {0, 0, 0, 0, 0, 1, 0};
        said.meanHours = {1, 0.5, 1, 0.5, 1, 1.5, 0.5};
        const RiderRecord r;
        const auto all = proposalsFrom(said, r);
        QCOMPARE(all.size(), size_t(1));
        double week = 0;
        for (const double h : all[0].hours)
            week += h;
        QVERIFY(std::abs(week - 6) <= 0.75 && all[0].why.find("no fixed days") != std::string::npos);
    }

    void indoorsIsComparedInTheSameWeeks() {
        // Two riders whose power at a heart rate is 6 % lower indoors, and the same; both fitter every week.
        for (const double truth : {-6.0, 0.0}) {
            std::vector<RideFacts> rides;
            unsigned state = 7;
            const auto noise = [&] {
                state = state * 1664525 + 1013904223;
                return (static_cast<double>(state >> 8) / (1 << 24) - 0.5) * 0.06;
            };
            for (int day = 0; day < 224; day += 2) {
                RideFacts f;
                f.day = Date{20000 + day};
                f.hours = 1.5;
                f.hasPower = true;
                f.indoors = day % 6 == 0;
                f.steadyBeats = 140;
                f.steadyPower = 180 * (1 + 0.001 * day) * (1 + noise()) * (f.indoors ? 1 + truth / 100 : 1);
                rides.push_back(f);
            }
            const auto in = learnValues(rides).indoors;
            QVERIFY(in.rides > 30 && in.weeks >= 3 && in.percent);
            QVERIFY2(in.low <= truth + 0.5 && in.high >= truth - 0.5 && std::abs(*in.percent - truth) < 1.5,
                     qPrintable(
                         QString("%1: %2 (%3 to %4)").arg(truth).arg(*in.percent).arg(in.low).arg(in.high)));
        }
        QVERIFY(!learnValues({}).indoors.percent);
    }

    void devicesToldWeightIsProposedWhereItChanges() {
        std::vector<RideFacts> rides;
        for (int day = 0; day < 40; ++day) {
            RideFacts f;
            f.day = Date{20000 + day};
            f.hours = 1;
            f.weight = day < 20 ? 74 : day == 30 ? 51 : 72; // once the partner's device
            rides.push_back(f);
        }
        const auto said = learnValues(rides).weight;
        QCOMPARE(said.size(), size_t(2));
        QVERIFY(said[0].value == 74 && said[1].value == 72 && said[1].from == Date{20020});
    }
};

MARRAM_SUITE(ProposedTest)
#include "tst_proposed.moc"
