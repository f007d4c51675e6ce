// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/generator.h"
#include "support/properties.h"
#include "support/suite.h"

#include <QTest>
#include <set>

using namespace marram;
using namespace marram::test;

namespace {

constexpr unsigned seasons = 520, pairs = 160;

double aimed(const Plan& plan) {
    double sum = 0;
    for (const PlannedRace& r : plan.races)
        if (r.priority == Priority::A)
            sum += r.fitness;
    return sum;
}

double aimed(const Season& season) {
    return aimed(solveSeason(season).plan);
}

int peaks(const Season& season) {
    return static_cast<int>(std::count_if(season.races.begin(), season.races.end(),
                                          [](const Race& r) { return r.priority == Priority::A; }));
}

} // namespace

/// S0–S20 on invented seasons of every kind, and on pairs of them that differ in one thing.
///
/// Most properties hold without exception. Some are kept in nearly every season only, because rules of the
/// trade meet in a few: the share allowed stands beside the property, and what is left is named in
/// docs/model.md. A change that makes any of them commoner fails here.
class PropertiesTest : public QObject {
    Q_OBJECT

    std::map<int, std::set<unsigned>> broken_; ///< seasons by property
    std::map<int, std::string> first_;

    /// Counts how often a pair falls by more than it may.
    struct Count {
        int cases = 0, over = 0;
        double worst = -1e9;
        void add(double value, double most) {
            ++cases;
            over += value > most ? 1 : 0;
            worst = std::max(worst, value);
        }
        QByteArray text() const {
            return QByteArray::number(over) + " of " + QByteArray::number(cases) + ", worst " +
                   QByteArray::number(worst);
        }
    };

private slots:
    void initTestCase() {
        for (unsigned seed = 0; seed < seasons; ++seed) {
            const Season season = Generator(seed).season();
            QVERIFY2(check(season).has_value(), qPrintable(QString::number(seed)));
            const Solved solved = solveSeason(season);
            // S0: every season has a plan
            QVERIFY2(
                solved.solution.rounds > 0 &&
                    std::none_of(solved.plan.warnings.begin(), solved.plan.warnings.end(),
                                 [](const std::string& w) { return w.find("No load") != std::string::npos; }),
                qPrintable(QString::number(seed)));
            for (const Properties::Breach& b : Properties(season, solved.plan).run()) {
                broken_[b.property].insert(seed);
                first_.try_emplace(b.property, "season " + std::to_string(seed) + ": " + b.what);
            }
        }
    }

    void propertiesHold_data() {
        QTest::addColumn<int>("property");
        QTest::addColumn<double>("allowed");
        for (const int exact : {1, 2, 5, 8, 12, 13, 14, 17, 18})
            QTest::addRow("S%d", exact) << exact << 0.0;
        // Weeks with full hours whose rungs hold less than the week before, and weeks after a heavy race.
        QTest::addRow("S3") << 3 << 0.02;
        // A 7-day taper whose window opens on the rider's long Sunday, two A races too close for two tapers.
        QTest::addRow("S4") << 4 << 0.02;
        // Phases of few weeks, full of races, camps and breaks, and weeks whose test takes a hard day.
        QTest::addRow("S6") << 6 << 0.02;
        // From nothing with much time: depth holds the load under a quarter of the hours for a week or two.
        QTest::addRow("S7") << 7 << 0.01;
        QTest::addRow("S11") << 11 << 0.015;
        // A base of two blocks that begins after a break: its tempo gives way to the first high work.
        QTest::addRow("S15") << 15 << 0.02;
        QTest::addRow("S16") << 16 << 0.01;
        QTest::addRow("S19") << 19 << 0.002;
    }
    void propertiesHold() {
        QFETCH(int, property);
        QFETCH(double, allowed);
        const double share = static_cast<double>(broken_[property].size()) / seasons;
        QVERIFY2(share <= allowed, (std::to_string(broken_[property].size()) + " of " +
                                    std::to_string(seasons) + " seasons; " + first_[property])
                                       .c_str());
    }

    void moreOfAnythingNeverLowersFitness() {
        // S9: one more hour, a looser ramp, a wider gate or one more hard day
        std::map<std::string, Count> counts;
        for (unsigned seed = 1000; seed < 1000 + pairs; ++seed) {
            const Season season = Generator(seed).season();
            const Plan plan = solveSeason(season).plan;
            const double before = aimed(plan);
            const double each = std::max(1, peaks(season));
            const auto compared = [&](const char* what, const Season& changed, double from) {
                counts[what].add((from - aimed(changed)) / each, 1);
            };
            Season more = season;
            double& hours = more.hours[seed % 7];
            hours = std::min(24.0, hours + 1);
            compared("hour", more, before);
            more = season;
            double& longest = *std::max_element(more.hours.begin(), more.hours.end());
            longest = std::min(24.0, longest + 1);
            compared("hour on the longest day", more, before);
            more = season;
            more.rules.ramp += 1;
            compared("ramp", more, before);
            more = season;
            more.rules.hardDays += 1;
            compared("hard day", more, before);
            Season fixed = season;
            for (size_t r = 0; r < fixed.races.size(); ++r)
                fixed.races[r].gate = plan.races[r].gate;
            more = fixed;
            for (Race& r : more.races)
                if (r.gate) {
                    r.gate->low -= 3;
                    r.gate->high += 3;
                }
            const double narrow = aimed(fixed), wide = aimed(more);
            counts["gate"].add((narrow - wide) / each, 1);
            // S20: a point of gate costs at most 1.25 fitness at the default dial
            if (season.rules.gatePrice <= 1)
                counts["price of a point of gate"].add((wide - narrow) / 3 / each, 1.25);
        }
        for (const auto& [what, count] : counts)
            QVERIFY2(count.over <= 0.02 * count.cases,
                     (QByteArray(what.c_str()) + ": " + count.text()).constData());
        QCOMPARE(counts["ramp"].over, 0);
        // Where an edge lies beyond reach the chance comes in at once with the wider gate.
        QVERIFY2(counts["price of a point of gate"].over <= 2,
                 counts["price of a point of gate"].text().constData());
    }

    void aCRaceOfTheDaysUsualStressMovesLittle() {
        Count count;
        for (unsigned seed = 2000; seed < 2000 + pairs; ++seed) {
            const Season season = Generator(seed).season();
            const Plan plan = solveSeason(season).plan;
            const auto d = static_cast<size_t>(seed * 37 % static_cast<unsigned>(season.dayCount()));
            const Date day = season.start + static_cast<int>(d);
            const bool clear = std::all_of(season.races.begin(), season.races.end(),
                                           [&](const Race& r) { return std::abs(r.date - day) > 9; }) &&
                               std::none_of(season.away.begin(), season.away.end(),
                                            [&](const Away& a) { return a.from <= day && day <= a.to; });
            if (!clear)
                continue;
            Season with = season;
            with.races.push_back(
                race("small", isoText(day).c_str(), Priority::C, std::max(1.0, plan.days[d].stress)));
            count.add(std::abs(aimed(with) - aimed(plan)) / std::max(1, peaks(season)), 2);
        }
        QVERIFY(count.cases > 60);
        QVERIFY2(count.over <= 0.02 * count.cases, count.text().constData());
    }

    void daysAwayCostWhatTheyCarried() {
        // S11: days away ending within ten days of the race cost what they carried and at most 4 more;
        // earlier ones that, what the return withholds, and the ramp of every week away or returning
        Count near, early;
        for (unsigned seed = 3000; seed < 3000 + pairs; ++seed) {
            const Season season = Generator(seed).season();
            const int length = 4 + static_cast<int>(seed % 7);
            // Half of the absences end shortly before an A race.
            const auto peak = std::find_if(season.races.begin(), season.races.end(),
                                           [](const Race& r) { return r.priority == Priority::A; });
            const int end = seed % 2 == 0
                                ? peak->date - season.start - 1 - static_cast<int>(seed / 2 % 9)
                                : static_cast<int>(seed * 53 % static_cast<unsigned>(season.dayCount()));
            const int from = end - length + 1;
            const Date first = season.start + from, last = season.start + end;
            const bool clash =
                from < 0 ||
                std::any_of(season.races.begin(), season.races.end(),
                            [&](const Race& r) { return r.date + r.days > first && r.date <= last; }) ||
                std::any_of(season.away.begin(), season.away.end(),
                            [&](const Away& a) { return a.to + 25 >= first && a.from <= last + 25; });
            if (clash)
                continue;
            const Plan whole = solveSeason(season).plan;
            Season away = season;
            away.away.push_back({first, last, AwayWhy::Holiday, std::nullopt});
            const Plan broken = solveSeason(away).plan;
            for (size_t r = 0; r < season.races.size(); ++r) {
                if (season.races[r].priority != Priority::A || season.races[r].date <= last)
                    continue;
                const int n = season.races[r].date - season.start, back = n - 1 - end;
                const double keep = std::exp(-1 / season.tau.fitness);
                double cost = 0;
                for (int d = from; d < n; ++d) {
                    const bool gone = d <= end, first7 = d <= end + 7, first14 = d <= end + 14;
                    const double part = gone ? 1 : length < 7 ? 0 : first7 ? 0.30 : first14 ? 0.15 : 0;
                    cost += part * whole.days[static_cast<size_t>(d)].stress * (1 - keep) *
                            std::pow(keep, n - 1 - d);
                }
                const double lost = whole.races[r].fitness - broken.races[r].fitness;
                const double weeks = (length + 6) / 7 + (length >= 7 ? 2 : 0);
                if (back < 10)
                    near.add(lost - cost, 4);
                else
                    early.add(lost - cost - weeks * season.rules.ramp, 4);
            }
        }
        QVERIFY(near.cases > 30 && early.cases > 40);
        QVERIFY2(near.over == 0, near.text().constData());
        QVERIFY2(early.over == 0, early.text().constData());
    }

    void whatKeepsARuleAndIsAbsurdIsCaught() {
        // An empty season keeps ramp, floor, deload and shape: starving must be seen. So must a season whose
        // deloads do not unload, and one that is hard every day.
        const Season season = ordinary();
        Plan plan = solveSeason(season).plan;
        QVERIFY(Properties(season, plan).run().empty());
        const auto found = [&](int property) {
            const auto all = Properties(season, plan).run();
            return std::any_of(all.begin(), all.end(), [&](const auto& b) { return b.property == property; });
        };
        const Plan good = plan;
        for (PlannedWeek& w : plan.weeks) {
            w.stress *= 0.1;
            w.hours *= 0.1;
        }
        QVERIFY(found(11));
        plan = good;
        for (PlannedWeek& w : plan.weeks)
            if (w.kind == WeekKind::Deload)
                w.stress *= 1.6;
        QVERIFY(found(12));
        plan = good;
        for (PlannedDay& d : plan.days)
            if (d.role == Role::Easy)
                d.role = Role::Hard;
        QVERIFY(found(6));
        plan = good;
        for (PlannedDay& d : plan.days)
            if (d.role == Role::Test)
                d.role = Role::Easy;
        QVERIFY(found(19));
        plan = good;
        plan.days[100].fitness += 0.1;
        QVERIFY(found(8));
    }
};

MARRAM_SUITE(PropertiesTest)
#include "tst_properties.moc"
