// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/columns.h"
#include "core/season/held.h"

#include <algorithm>
#include <limits>

namespace marram {
namespace {

constexpr double shortestHardDay = 0.5; ///< h
constexpr double shortestTest = 0.75;   ///< h
constexpr double barelyTest = 0.6;      ///< h, of a short maximal one with a way in and out
constexpr double shortestLong = 1.5;    ///< h
constexpr double notInLong = 2.5;       ///< h, of the day of a test in a build week where there is such a one
constexpr double nearlyAsLong = 0.5;    ///< h
constexpr double tooShort = 16;         ///< merit an hour is worth that a hard day lacks of 45 min
constexpr double withoutLong = 10;      ///< merit a week's long ride is worth
constexpr double lostHour = 12;     ///< merit an hour of high work is worth that the week's days do not hold
constexpr double ownHour = 36;      ///< the same of a split that the coach has written
constexpr double middleWorth = 0.6; ///< of it, an hour of the middle band
/// Common practice: test every 6–8 weeks. Outside deloads one stands best where a block begins: the rider is
/// rested, and the weeks after it grow from what it left of the week. The days without a test from which such
/// a week, and any week, is asked for one.
constexpr int testDue = 35, longestWait = 60, everTested = 70;
/// Days between two tests of whatever kind.
constexpr int betweenTests = 14;

const DayFrame& dayAt(const SeasonFrame& f, int d) {
    return f.days[static_cast<size_t>(d)];
}

/// Places hard days and tests week by week, knowing what the days before the week were.
class DayPlacer {
public:
    DayPlacer(const Season& season, const SeasonFrame& frame) : season_(season), frame_(frame) {
        hard_.assign(frame.days.size() + 1, false);
        for (size_t d = 0; d < frame.days.size(); ++d)
            hard_[d] = frame.days[d].race >= 0 || frame.days[d].camp;
    }

    WeekPattern place(const WeekFrame& week) {
        WeekPattern pattern;
        test_ = -1;
        if (const int from = std::max({week.first, week.last - 3, lastTest_ + betweenTests});
            week.kind == WeekKind::Deload && from <= week.last)
            placeTest(week, from);
        int budget = allowed(week);
        // A deload in the next weeks has its own.
        const size_t next = static_cast<size_t>(&week - frame_.weeks.data()) + 1;
        const int waited = week.first - lastTest_;
        bool soon = false;
        for (size_t w = next; w < std::min(next + 2, frame_.weeks.size()); ++w)
            soon = soon || frame_.weeks[w].kind == WeekKind::Deload;
        const size_t at = next - 1;
        const bool begins = week.kind != WeekKind::Build || at == 0 ||
                            frame_.weeks[at - 1].block != week.block ||
                            frame_.weeks[at - 1].kind != WeekKind::Build;
        // One that comes next week comes soon enough.
        const bool nextWeek = next < frame_.weeks.size() && frame_.weeks[next].kind == WeekKind::Deload &&
                              waited + 13 < everTested;
        // Weeks of rest after a season are no time for one, unless it cannot wait.
        const bool due = (waited >= longestWait && !nextWeek) ||
                         (begins && waited >= testDue && !soon && week.kind != WeekKind::Transition);
        const bool ordinary = week.kind == WeekKind::Build || week.kind == WeekKind::Transition ||
                              (week.kind == WeekKind::Race && week.phase != Phase::Race) ||
                              week.kind == WeekKind::Recovery;
        if (due && ordinary && test_ < 0) {
            placeTest(week, week.first + 2);
            if (test_ >= 0)
                budget = std::max(0, budget - 1);
        }
        // A test is a hard effort too: with one hard day a week there is no other beside it.
        if (test_ >= 0)
            budget = std::min(budget, std::max(0, season_.rules.hardDays - 1));
        std::vector<int> days = chooseHard(week, budget);
        lay(week, days, pattern);
        // A hard day more that holds no more high work, and takes tempo from the days beside it, is none to
        // have.
        while (week.kind == WeekKind::Build && days.size() > 1) {
            mark(days, false);
            std::vector<int> fewer = chooseHard(week, static_cast<int>(days.size()) - 1);
            WeekPattern other;
            lay(week, fewer, other);
            WeekPattern more = pattern, less = other;
            layWeek(season_, frame_, week, 1, 0, more);
            layWeek(season_, frame_, week, 1, 0, less);
            if (less.most < (less.highOver > more.highOver + 1e-9 ? 1.03 : 1.01) * more.most) {
                mark(fewer, false);
                mark(days, true);
                break;
            }
            days = std::move(fewer);
            pattern = other;
        }
        return pattern;
    }

private:
    void mark(const std::vector<int>& days, bool hard) {
        for (const int d : days)
            hard_[static_cast<size_t>(d)] = hard;
    }

    void lay(const WeekFrame& week, const std::vector<int>& days, WeekPattern& pattern) {
        mark(days, true);
        giveRoles(week, pattern);
        gym(week, pattern);
    }

    bool isHard(int d) const { return d >= 0 && hard_[static_cast<size_t>(d)]; }

    int allowed(const WeekFrame& week) const {
        int races = 0;
        for (int d = week.first; d <= week.last; ++d)
            races += dayAt(frame_, d).race >= 0 ? 1 : 0;
        const int left = std::max(0, week.hardDays - races);
        // The week of a race that matters: half the repetitions, on one day (common practice).
        return week.kind == WeekKind::Race && racesToCome(week) ? std::min(left, 1) : left;
    }

    /// True where the week has a race that is freshened or peaked for, and not on its first days.
    bool racesToCome(const WeekFrame& week) const {
        for (int d = week.first + 3; d <= week.last; ++d) {
            const int race = dayAt(frame_, d).race;
            if (race >= 0 && season_.races[static_cast<size_t>(race)].priority != Priority::C)
                return true;
        }
        return false;
    }

    bool openers(int d) const {
        if (d + 1 >= static_cast<int>(frame_.days.size()) || dayAt(frame_, d).lowOnly)
            return false;
        const int race = dayAt(frame_, d + 1).race;
        return race >= 0 && season_.races[static_cast<size_t>(race)].priority != Priority::C;
    }

    /// Days to the next race that is freshened for, at most `most`.
    int daysToRace(int d, int most) const {
        for (int n = 1; n <= most && d + n < static_cast<int>(frame_.days.size()); ++n) {
            const int race = dayAt(frame_, d + n).race;
            if (race >= 0 && season_.races[static_cast<size_t>(race)].priority != Priority::C)
                return n;
        }
        return most + 1;
    }

    bool eligible(int d, double hours) const {
        const DayFrame& day = dayAt(frame_, d);
        return day.hours >= hours && !day.noHard && !isHard(d) && !isHard(d - 1) && !isHard(d + 1);
    }

    /// Whether a test would be felt on a race morning, or the race is the better test: in the four days
    /// before one that is freshened for, in the two before any.
    bool tooNearARace(int d) const {
        for (int n = 1; n <= 2 && d + n < static_cast<int>(frame_.days.size()); ++n)
            if (dayAt(frame_, d + n).race >= 0)
                return true;
        return daysToRace(d, freshDays) <= freshDays;
    }

    /// The last but one day that has hours, then the last, then earlier ones; from the end, which is 1.
    static size_t testTry(size_t k) { return k == 0 ? 2 : k == 1 ? 1 : k + 1; }

    /// Near the end of the week, on fresh legs: two days after anything hard.
    void placeTest(const WeekFrame& week, int from) {
        std::vector<int> open;
        for (int d = week.first; d <= week.last; ++d)
            if (dayAt(frame_, d).hours >= shortestHardDay)
                open.push_back(d);
        // A build week's longest rides are for the long ride: they would carry a test of twenty minutes in a
        // ride of hours.
        constexpr double any = std::numeric_limits<double>::infinity();
        const double shorter = week.kind == WeekKind::Build ? notInLong : any;
        const bool overdue = week.last - lastTest_ > everTested - betweenTests;
        for (const TestWay& way :
             {TestWay{shortestTest, shorter, true, false}, TestWay{barelyTest, shorter, true, false},
              TestWay{shortestTest, shorter, false, false}, TestWay{shortestTest, any, true, false},
              TestWay{barelyTest, any, true, false}, TestWay{shortestTest, any, false, false},
              TestWay{barelyTest, any, false, false}, TestWay{shortestTest, any, false, true},
              TestWay{barelyTest, any, false, true}})
            for (size_t k = 0; k < open.size(); ++k) {
                const size_t back = testTry(k);
                if (back > open.size())
                    continue;
                const int d = open[open.size() - back];
                if (d < from || (way.near && !overdue) || !takesTest(week, d, way))
                    continue;
                test_ = d;
                lastTest_ = d;
                hard_[static_cast<size_t>(d)] = true;
                return;
            }
    }

    struct TestWay {
        double hours, longest; ///< of its day, h
        bool fresh;            ///< not on the day after hours of riding
        bool near;             ///< to a race
    };

    bool takesTest(const WeekFrame& week, int d, const TestWay& way) const {
        const DayFrame& day = dayAt(frame_, d);
        return eligible(d, way.hours) && day.hours <= way.longest && !isHard(d - 2) && !day.noTest &&
               (way.near || !tooNearARace(d)) && !(way.fresh && afterHours(week, d));
    }

    /// Whether the day before is ridden for as long as legs feel the day after (common practice).
    bool afterHours(const WeekFrame& week, int d) const {
        constexpr double felt = 2.5, unloading = 0.65; // h; of its hours that a week of unloading rides
        if (d == 0)
            return false;
        const DayFrame& before = dayAt(frame_, d - 1);
        return before.hours * before.weight * (week.kind == WeekKind::Deload ? unloading : 1) >= felt;
    }

    /// Whether a day is long, and no day of the six before it longer.
    bool longestOfSeven(int d) const {
        const double hours = dayAt(frame_, d).hours;
        for (int e = std::max(0, d - 6); e < d; ++e)
            if (dayAt(frame_, e).hours > hours)
                return false;
        return hours >= shortestLong;
    }

    /// What the long ride loses to a hard one where the longest day has so many hours more than the next.
    static double shorterLong(const WeekFrame& week, double hours) {
        return week.kind == WeekKind::Build ? 10 * std::max(0.0, hours - nearlyAsLong / 2)
                                            : 5 * std::max(0.0, hours - nearlyAsLong);
    }

    /// What a hard day loses on the day after a long ride of so many hours.
    static double tired(double hours) { return 2.5 + 3 * std::max(0.0, hours - 2.5); }

    /// What a hard day that many days before a race is worth beside others.
    static double beforeRace(int days) { return days == 4 ? 5 : days == 5 || days == 3 ? 1 : 0; }

    double merit(const WeekFrame& week, int d, int longest) const {
        const double hours = dayAt(frame_, d).hours;
        const bool rested = d == 0 || dayAt(frame_, d - 1).hours <= 0;
        const bool afterLong =
            d > week.first ? d - 1 == longest : d > 0 && !isHard(d - 1) && longestOfSeven(d - 1);
        // The long ride lies where the hours are, unless another day has nearly as many.
        double second = 0;
        for (int e = week.first; e <= week.last && d == longest; ++e)
            second = e == d ? second : std::max(second, dayAt(frame_, e).hours);
        const double noLong = d != longest            ? 0
                              : second < shortestLong ? withoutLong
                                                      : 2 + shorterLong(week, hours - second);
        const double stub = tooShort * std::max(0.0, 0.75 - hours);
        return 10 - stub + (rested ? 3 : 0) + 4 * std::min(hours, 1.25) + std::min(hours, 2.0) - noLong -
               (afterLong ? tired(dayAt(frame_, d - 1).hours) : 0) + beforeRace(daysToRace(d, 6)) -
               (d > 1 && dayAt(frame_, d - 2).race >= 0 ? 4 : 0); // a second race weekend running: Wednesday
    }

    /// Hours of the split that a week does not hold with its hard days on these, the longest other day long.
    double lost(const WeekFrame& week, const std::array<int, 7>& hard, int n) const {
        std::array<Role, 7> roles{};
        std::array<double, 7> rides{};
        double total = 0;
        size_t longest = 7;
        for (int d = week.first; d <= week.last; ++d) {
            const DayFrame& day = dayAt(frame_, d);
            const auto i = static_cast<size_t>(weekday(day.date));
            total += rides[i] = day.hours;
            roles[i] =
                std::find(hard.begin(), hard.begin() + n, d) != hard.begin() + n ? Role::Hard : Role::Easy;
            if (roles[i] == Role::Easy && (longest == 7 || rides[i] >= rides[longest]))
                longest = i;
        }
        if (longest < 7 && rides[longest] >= shortestLong)
            roles[longest] = Role::Long;
        const Room room = roomOf(season_, frame_, week, roles, rides);
        const Bands got = room.of(week.split.high * total, week.split.middle * total);
        return week.split.high * total - got.high + middleWorth * (week.split.middle * total - got.middle);
    }

    /// Deload: nothing hard in the first half, and two days before the test. Where a week builds nothing hard
    /// work is not put into a ride of hours, in the week of a race not for want of another day either.
    std::vector<int> openToHard(const WeekFrame& week) const {
        std::vector<int> days, ofHours;
        for (int d = week.first; d <= week.last; ++d) {
            const bool late = week.kind != WeekKind::Deload || weekday(dayAt(frame_, d).date) >= 3;
            const bool clear = test_ < 0 || d <= test_ - 2 || d > test_ + 1;
            if (late && clear && eligible(d, shortestHardDay))
                (week.kind == WeekKind::Build || dayAt(frame_, d).hours <= mostHours(week.kind) ? days
                                                                                                : ofHours)
                    .push_back(d);
        }
        return days.empty() && week.kind != WeekKind::Race ? ofHours : days;
    }

    /// Of the day of hard work, h; a week that unloads rides some six tenths of them.
    static double mostHours(WeekKind kind) { return kind == WeekKind::Race ? 3 : 4; }

    std::vector<int> chooseHard(const WeekFrame& week, int most) const {
        int longest = week.first;
        for (int d = week.first; d <= week.last; ++d)
            if (dayAt(frame_, d).hours >=
                dayAt(frame_, longest).hours) // of equals the later, mostly the weekend
                longest = d;
        const std::vector<int> days = openToHard(week);
        std::vector<int> best;
        double bestMerit = -std::numeric_limits<double>::infinity();
        for (unsigned set = 1; set < 1U << days.size(); ++set) {
            std::array<int, 7> chosen{};
            int n = 0, heavy = 0;
            double sum = 0;
            bool apart = true;
            for (size_t i = 0; i < days.size() && apart; ++i)
                if (set >> i & 1U) {
                    apart = n < most && (n == 0 || days[i] - chosen[static_cast<size_t>(n - 1)] > 1);
                    chosen[static_cast<size_t>(n++)] = days[i];
                    sum += merit(week, days[i], longest);
                    heavy += days[i] == longest || days[i] == longest + 1 ? 1 : 0;
                }
            if (apart)
                sum -= (season_.rules.school == School::Own ? ownHour : lostHour) * lost(week, chosen, n);
            // Three hard days are for weeks that have room for them away from the long ride.
            apart = apart && (n < 3 || heavy == 0);
            if (apart && sum > bestMerit) {
                best.assign(chosen.begin(), chosen.begin() + n);
                bestMerit = sum;
            }
        }
        return best;
    }

    Role roleOf(const WeekFrame& week, int d) const {
        const DayFrame& day = dayAt(frame_, d);
        if (day.race >= 0)
            return Role::Race;
        if (day.camp)
            return Role::Long;
        if (day.hours <= 0 || (week.kind == WeekKind::Break && week.pinned))
            return Role::Rest;
        if (openers(d))
            return Role::Openers;
        if (d == test_)
            return Role::Test;
        return hard_[static_cast<size_t>(d)] ? Role::Hard : Role::Easy;
    }

    void giveRoles(const WeekFrame& week, WeekPattern& pattern) const {
        int longest = -1;
        for (int d = week.first; d <= week.last; ++d) {
            const DayFrame& day = dayAt(frame_, d);
            const Role role = roleOf(week, d);
            pattern.roles[static_cast<size_t>(weekday(day.date))] = role;
            if (role == Role::Easy && daysToRace(d, 1) > 1 &&
                (longest < 0 || day.hours >= dayAt(frame_, longest).hours))
                longest = d;
        }
        if (longest >= 0 && dayAt(frame_, longest).hours >= shortestLong &&
            dayAt(frame_, longest).weight > 0.6)
            pattern.roles[static_cast<size_t>(weekday(dayAt(frame_, longest).date))] = Role::Long;
    }

    bool takesGym(const WeekFrame& week, const WeekPattern& pattern, int d) const {
        const auto role = [&](int e) {
            return pattern.roles[static_cast<size_t>(weekday(dayAt(frame_, e).date))];
        };
        const bool beside = (d > week.first && role(d - 1) == Role::Gym) ||
                            (d < week.last && (role(d + 1) == Role::Gym || isHard(d + 1)));
        return role(d) == Role::Easy && !beside && dayAt(frame_, d).weight >= 1 && daysToRace(d, 6) > 6 &&
               (season_.rules.gymBeside || dayAt(frame_, d).hours >= gymHours - 1e-9);
    }

    /// Days of their own in transition, then after the bicycle on short easy days; in season after a hard
    /// ride, which keeps its role.
    void gym(const WeekFrame& week, WeekPattern& pattern) const {
        int wanted = week.kind == WeekKind::Transition                           ? gymOf(season_)[0]
                     : week.phase == Phase::Base && week.kind == WeekKind::Build ? gymOf(season_)[1]
                                                                                 : 0;
        while (wanted-- > 0) {
            int best = -1;
            for (int d = week.first; d <= week.last; ++d) {
                if (!takesGym(week, pattern, d))
                    continue;
                // The shortest day that holds gym and a ride; else the shortest that holds gym.
                const auto holdsBoth = [&](int e) {
                    return season_.rules.gymBeside || dayAt(frame_, e).hours >= gymHours + 0.5 - 1e-9;
                };
                if (best < 0 || std::pair(!holdsBoth(d), dayAt(frame_, d).hours) <
                                    std::pair(!holdsBoth(best), dayAt(frame_, best).hours))
                    best = d;
            }
            // Nobody asked for gym that would take a whole day of riding.
            if (best < 0 || (!season_.rules.gym && !season_.rules.gymBeside &&
                             dayAt(frame_, best).hours < gymHours + 0.5 - 1e-9))
                return;
            pattern.roles[static_cast<size_t>(weekday(dayAt(frame_, best).date))] = Role::Gym;
        }
    }

    const Season& season_;
    const SeasonFrame& frame_;
    std::vector<bool> hard_; ///< hard days, tests, races and camps
    int test_ = -1;          ///< of this week
    int lastTest_ = 0;       ///< the first morning counts as one
};

/// Share of its hours a week of a kind is likely to use; layBands() is asked again once it is known.
double likelyUse(const Season& season, WeekKind kind) {
    switch (kind) {
    case WeekKind::Deload:
        return deloadShare(season.rules);
    case WeekKind::Transition:
        return 0.6;
    case WeekKind::Recovery:
    case WeekKind::Taper:
    case WeekKind::Race:
        return 0.85;
    case WeekKind::Build:
    case WeekKind::Break:
    case WeekKind::Camp:
        break;
    }
    return 1;
}

} // namespace

/// What a threshold test, an aerobic check and openers add to endurance of their length, in points, and the
/// hours a check takes.
constexpr double thresholdTestPoints = 27, checkPoints = 6, openersPoints = 4, leastForCheck = 0.95;
constexpr double ofTestInBuild = 0.4; ///< the part of a test's points that counts in a build week

std::vector<WeekPattern> placeDays(const Season& season, const SeasonFrame& frame) {
    DayPlacer placer(season, frame);
    std::vector<WeekPattern> patterns;
    patterns.reserve(frame.weeks.size());
    double build = 0; // what the last build week can carry
    int tests = 0;
    for (const WeekFrame& week : frame.weeks) {
        patterns.push_back(placer.place(week));
        WeekPattern& pattern = patterns.back();
        if (const auto test = std::find(pattern.roles.begin(), pattern.roles.end(), Role::Test);
            test != pattern.roles.end()) {
            // Kinds alternate, a check first; where a check has no room it is the short maximal one.
            const double hours =
                ridingHours(season, week, pattern, static_cast<int>(test - pattern.roles.begin()));
            pattern.maximalTest =
                (tests++ % 2 == 1 || hours < leastForCheck) && !noMaximalIn(season, week.start);
            // A full build week rides the rest a little easier for it, so that the weeks of a block still
            // grow.
            pattern.added[static_cast<size_t>(test - pattern.roles.begin())] =
                (week.kind == WeekKind::Build ? ofTestInBuild : 1) *
                (pattern.maximalTest ? thresholdTestPoints : checkPoints);
        }
        for (size_t i = 0; i < 7; ++i)
            pattern.added[i] += pattern.roles[i] == Role::Openers ? openersPoints : 0;
        const double use = likelyUse(season, week.kind);
        layWeek(season, frame, week, use, 0, pattern);
        for (size_t i = 0; i < 7; ++i)
            pattern.points +=
                ridingHours(season, week, pattern, static_cast<int>(i)) * pattern.pointsPerHour[i];
        if (week.kind == WeekKind::Deload)
            layWeek(season, frame, week, use, std::min(pattern.points, deloadShare(season.rules) * build),
                    pattern);
        if (week.kind == WeekKind::Build)
            build = std::min(pattern.most, week.volume * pattern.points);
    }
    return patterns;
}

} // namespace marram
