// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/columns.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>

using namespace marram;
using namespace marram::test;

namespace {

struct Laid {
    Season season;
    SeasonFrame frame;
    std::vector<WeekPattern> patterns;
    Programme programme;
    std::unique_ptr<LoadColumns> loads;

    explicit Laid(Season s) : season(std::move(s)), frame(layOut(season)) {
        decideSkeleton(season, frame);
        patterns = placeDays(season, frame);
        loads = std::make_unique<LoadColumns>(season, frame, patterns, programme);
    }
    std::vector<double> values(unsigned seed) const {
        std::mt19937 dice(seed);
        std::vector<double> v;
        for (size_t c = 0; c < programme.columns.size(); ++c)
            // Relief takes from its day what the day has.
            v.push_back(programme.columns[c].name.kind == static_cast<std::uint8_t>(Load::Relief)
                            ? 0.5 * static_cast<double>(dice() % 10)
                            : 300.0 + static_cast<double>(dice() % 500));
        return v;
    }
};

double at(const Linear& e, const std::vector<double>& values) {
    double sum = e.constant;
    for (const auto& [column, coefficient] : e.terms)
        sum += coefficient * values[static_cast<size_t>(column)];
    return sum;
}

} // namespace

class ColumnsTest : public QObject {
    Q_OBJECT

    void someSeasons() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned i = 0; i < 40; ++i)
            QTest::newRow(("season " + QByteArray::number(i)).constData()) << i;
    }

private slots:
    void expressionsAreTheModelRunOnTheDays_data() { someSeasons(); }
    void expressionsAreTheModelRunOnTheDays() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        const auto v = l.values(seed);
        const std::vector<double> stress = l.loads->dailyStress(v);
        const auto days = runModel(stress, l.season.before, l.season.tau);
        for (int d = 0; d < l.season.dayCount(); d += 5) {
            const auto& day = days[static_cast<size_t>(d)];
            QVERIFY(std::abs(at(l.loads->fitnessAfter(d), v) - day.fitness) < 1e-6);
            QVERIFY(std::abs(at(l.loads->fatigueAfter(d), v) - day.fatigue) < 1e-6);
            QVERIFY(std::abs(at(l.loads->formOn(d), v) - day.form) < 1e-6);
        }
        QCOMPARE(at(l.loads->fitnessAfter(-1), v), l.season.before.fitness);
        for (size_t w = 0; w < l.frame.weeks.size(); ++w) {
            double sum = 0;
            for (int d = l.frame.weeks[w].first; d <= l.frame.weeks[w].last; ++d)
                sum += stress[static_cast<size_t>(d)];
            QVERIFY(std::abs(at(l.loads->stress(l.frame.weeks[w].first, l.frame.weeks[w].last), v) - sum) <
                    1e-6);
        }
        double mean = 0, nothing = 0;
        const auto bare =
            runModel(l.loads->dailyStress(std::vector<double>(v.size(), 0)), l.season.before, l.season.tau);
        for (size_t d = 0; d < days.size(); ++d) {
            mean += days[d].fitness / static_cast<double>(days.size());
            nothing += bare[d].fitness / static_cast<double>(days.size());
        }
        QVERIFY(std::abs(at(l.loads->meanFitness(0, l.season.dayCount() - 1), v) - (mean - nothing)) < 1e-6);
    }

    void everyTrainableDayHasAColumnAndNoOther_data() { someSeasons(); }
    void everyTrainableDayHasAColumnAndNoOther() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        std::vector<double> ones(l.programme.columns.size(), 1);
        for (size_t c = 0; c < ones.size(); ++c)
            if (l.programme.columns[c].name.kind == static_cast<std::uint8_t>(Load::Relief))
                ones[c] = 0;
        const std::vector<double> some = l.loads->dailyStress(ones),
                                  nothing = l.loads->dailyStress(std::vector<double>(ones.size(), 0));
        for (int d = 0; d < l.season.dayCount(); ++d) {
            const DayFrame& day = l.frame.days[static_cast<size_t>(d)];
            const auto i = static_cast<size_t>(d);
            QCOMPARE(some[i] > day.fixed, day.hours > 0);
            QCOMPARE(nothing[i], day.fixed);
        }
    }

    void aWeekAtItsCapacityUsesEveryHourAndNoMore_data() { someSeasons(); }
    void aWeekAtItsCapacityUsesEveryHourAndNoMore() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        for (size_t w = 0; w < l.frame.weeks.size(); ++w) {
            const int level = l.loads->levelColumn(w);
            const WeekFrame& week = l.frame.weeks[w];
            if (level < 0 || week.kind != WeekKind::Build || week.pinned)
                continue;
            std::vector<double> v(l.programme.columns.size(), 0);
            v[static_cast<size_t>(level)] = l.patterns[w].points;
            const std::vector<double> stress = l.loads->dailyStress(v);
            for (int d = week.first; d <= week.last; ++d) {
                const DayFrame& day = l.frame.days[static_cast<size_t>(d)];
                const auto i = static_cast<size_t>(weekday(day.date));
                if (day.hours > 0 && day.weight == 1 && l.patterns[w].share[i] > 0) {
                    const double rides = ridingHours(l.season, week, l.patterns[w], static_cast<int>(i));
                    QVERIFY(rides <= day.hours + 1e-9);
                    // The hours of the gym are not ridden.
                    QCOMPARE(rides < day.hours - 1e-9, l.patterns[w].roles[i] == Role::Gym &&
                                                           !l.season.rules.gymBeside && rides < day.hours);
                    QVERIFY(std::abs(stress[static_cast<size_t>(d)] / l.patterns[w].pointsPerHour[i] -
                                     rides) < 1e-9);
                }
            }
        }
    }

    void aDeloadIsTheCoachsShareOfTheBuildWeekBefore_data() { someSeasons(); }
    void aDeloadIsTheCoachsShareOfTheBuildWeekBefore() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        const auto v = l.values(seed);
        for (size_t w = 1; w < l.frame.weeks.size(); ++w)
            if (l.frame.weeks[w].kind == WeekKind::Deload && l.frame.weeks[w - 1].kind == WeekKind::Build &&
                l.frame.weeks[w].nominalHours >= l.frame.weeks[w - 1].nominalHours) {
                const double before = at(l.loads->level(w - 1), v), now = at(l.loads->level(w), v);
                QVERIFY(std::abs(now - deloadShare(l.season.rules) * before) < 1e-9 * std::max(1.0, before));
            }
    }

    void theHardDaysAndTheOthersAddUpToTheWeeksSplit_data() { someSeasons(); }
    void theHardDaysAndTheOthersAddUpToTheWeeksSplit() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        // Points an hour over the week are those of its split, however the days share the bands.
        for (size_t w = 0; w < l.frame.weeks.size(); ++w) {
            const WeekPattern& p = l.patterns[w];
            double points = 0, hours = 0, high = 0, middle = 0, warm = 0;
            bool low = false;
            for (size_t i = 0; i < 7; ++i) {
                const double h = p.lean[i] * ridingHours(l.season, l.frame.weeks[w], p, static_cast<int>(i));
                points += h * p.pointsPerHour[i];
                hours += h;
                high += h * p.bands[i].high;
                middle += h * p.bands[i].middle;
                low = low || p.bands[i].low == 1;
                QVERIFY(std::abs(p.bands[i].sum() - 1) < 1e-9);
                const bool maximal = p.roles[i] == Role::Test && p.maximalTest;
                QVERIFY(p.roles[i] == Role::Hard || maximal || p.bands[i].high == 0);
                warm += p.roles[i] == Role::Hard || maximal ? 5.0 / 60 : 0; // a warm-up's, wanted or not
            }
            const Bands& split = l.frame.weeks[w].split;
            // What its sessions can't hold is ridden low, and never more of a band than the split asks for,
            // but for a maximal test's twenty minutes.
            QVERIFY(high <= std::max(hours * split.high, p.maximalTest ? 20.5 / 60 / p.used : 0) + 1e-9);
            QVERIFY(middle <= std::max(hours * split.middle, warm / p.used) +
                                  (p.maximalTest ? 4.0 / 60 / p.used : 0) + 1e-6);
            // Where days are shut the others have the split of their own time, not of the whole week's.
            bool shut = false;
            for (int d = l.frame.weeks[w].first; d <= l.frame.weeks[w].last; ++d)
                shut = shut || l.frame.days[static_cast<size_t>(d)].shut();
            if (hours <= 0 || p.highLimited || low || p.maximalTest || shut)
                continue;
            QVERIFY(std::abs(high / hours - split.high) < 1e-9);
            if (p.middleOver < 1e-12 && middle < hours * split.middle + 1e-9 &&
                std::none_of(p.added.begin(), p.added.end(), [](double added) { return added > 0; }))
                QVERIFY(std::abs(points / hours - l.frame.weeks[w].pointsPerHour) < 1e-9);
        }
    }
};

MARRAM_SUITE(ColumnsTest)
#include "tst_columns.moc"
