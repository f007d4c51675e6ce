// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/columns.h"
#include "support/seasons.h"

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
            v.push_back(dice() % 500);
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
        std::vector<double> stress;
        for (int d = 0; d < l.season.dayCount(); ++d)
            stress.push_back(l.loads->dailyStress(d, v));
        const auto days = runModel(stress, l.season.before, l.season.tau);
        for (int d = 0; d < l.season.dayCount(); d += 5) {
            const auto& day = days[static_cast<size_t>(d)];
            QVERIFY(std::abs(at(l.loads->fitnessAfter(d), v) - day.fitness) < 1e-6);
            QVERIFY(std::abs(at(l.loads->fatigueAfter(d), v) - day.fatigue) < 1e-6);
            QVERIFY(std::abs(at(l.loads->formOn(d), v) - day.form) < 1e-6);
        }
        QCOMPARE(at(l.loads->fitnessAfter(-1), v), l.season.before.fitness);
        for (size_t w = 0; w < l.frame.weeks.size(); ++w) {
            double sum = 0, hours = 0;
            for (int d = l.frame.weeks[w].first; d <= l.frame.weeks[w].last; ++d) {
                sum += stress[static_cast<size_t>(d)];
                hours += l.loads->dailyHours(d, v);
            }
            QVERIFY(std::abs(at(l.loads->weekStress(w), v) - sum) < 1e-6);
            QVERIFY(std::abs(at(l.loads->trainingHours(l.frame.weeks[w].first, l.frame.weeks[w].last), v) -
                             hours) < 1e-6);
        }
    }

    void everyTrainableDayHasAColumnAndNoOther_data() { someSeasons(); }
    void everyTrainableDayHasAColumnAndNoOther() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        const std::vector<double> ones(l.programme.columns.size(), 1), none(l.programme.columns.size(), 0);
        for (int d = 0; d < l.season.dayCount(); ++d) {
            const DayFrame& day = l.frame.days[static_cast<size_t>(d)];
            const double planned = l.loads->dailyStress(d, ones) - l.loads->dailyStress(d, none);
            QCOMPARE(planned > 0, day.hours > 0);
            QCOMPARE(l.loads->dailyStress(d, none), day.fixed);
        }
    }

    void aWeekAtItsCapacityUsesEveryHourAndNoMore_data() { someSeasons(); }
    void aWeekAtItsCapacityUsesEveryHourAndNoMore() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        for (size_t w = 0; w < l.frame.weeks.size(); ++w) {
            const int level = l.loads->levelOf(w);
            const WeekFrame& week = l.frame.weeks[w];
            if (level < 0 || week.kind == WeekKind::Race || week.kind == WeekKind::Taper)
                continue;
            std::vector<double> v(l.programme.columns.size(), 0);
            v[static_cast<size_t>(level)] = levelCapacity(l.frame, l.patterns[w], w);
            double used = 0, had = 0;
            for (int d = week.first; d <= week.last; ++d) {
                const double hours = l.loads->dailyHours(d, v),
                             most = l.frame.days[static_cast<size_t>(d)].hours;
                QVERIFY(hours <= most + 1e-9);
                used += hours;
                had += most;
            }
            // Days that freshen for a B race in the next week are left short on purpose.
            QVERIFY(used <= had + 1e-9 && used >= 0.6 * had - 1e-9);
        }
    }

    void theHardDaysAndTheOthersAddUpToTheWeeksSplit_data() { someSeasons(); }
    void theHardDaysAndTheOthersAddUpToTheWeeksSplit() {
        QFETCH(unsigned, seed);
        const Laid l(any(seed));
        // Points an hour over the week are those of its split, however the days share the bands.
        for (size_t w = 0; w < l.frame.weeks.size(); ++w)
            for (const DayShares* shares : {&l.patterns[w].whole, &l.patterns[w].spread}) {
                double points = 0, hours = 0;
                for (size_t i = 0; i < 7; ++i)
                    if (shares->share[i] > 0) {
                        points += shares->share[i];
                        hours += shares->share[i] / shares->pointsPerHour[i];
                        QVERIFY(shares->pointsPerHour[i] > 30 && shares->pointsPerHour[i] < 106);
                    }
                if (hours > 0)
                    QVERIFY(std::abs(points / hours - l.frame.weeks[w].pointsPerHour) < 1e-9);
            }
    }

    void aTaperFallsDayByDayWhateverIsChosen() {
        const Laid l(ordinary());
        std::mt19937 dice(3);
        for (int n = 0; n < 50; ++n) {
            std::vector<double> v(l.programme.columns.size(), 0);
            for (const auto& fall : l.loads->fallsOf(0))
                v[static_cast<size_t>(fall.column)] = dice() % 300;
            double before = 1e9;
            for (int d = l.loads->taperStart(0); d < l.frame.tapers[0].raceDay; ++d) {
                const double level = at(l.loads->taperLevel(0, d), v);
                QVERIFY(level < before || level == 0);
                before = level;
            }
        }
    }

    void theSpreadPatternHasNoLongDay() {
        const Laid l(ordinary());
        for (const WeekPattern& p : l.patterns) {
            const double whole = *std::max_element(p.whole.share.begin(), p.whole.share.end());
            const double spread = *std::max_element(p.spread.share.begin(), p.spread.share.end());
            QVERIFY(spread <= whole + 1e-12);
        }
    }
};

QTEST_APPLESS_MAIN(ColumnsTest)
#include "tst_columns.moc"
