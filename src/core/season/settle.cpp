// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/settle.h"
#include "core/season/columns.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace marram {
namespace {

/// How far a week that was laid on its days again can still grow.
constexpr double mayGrow = 1.15;
/// A week used within this share of its hours of what it was laid for stays as it is.
constexpr double nearEnough = 0.1;

/// What the whole week would carry as its days are loaded now, and as they are on the mean; whether it has a
/// day that keeps its time, and whether it has rides of minutes beside one of hours.
struct Use {
    double level = 0, mean = 0;
    bool kept = false, lopsided = false;
};

Use useOf(const Solved& s, size_t w) {
    const WeekFrame& week = s.frame.weeks[w];
    const WeekPattern& pattern = s.patterns[w];
    Use use;
    double mean = 0, part = 0, longest = 0, shortest = 24;
    for (int d = week.first; d <= week.last; ++d) {
        const DayFrame& day = s.frame.days[static_cast<size_t>(d)];
        const auto i = static_cast<size_t>(weekday(day.date));
        if (day.hours <= 0 || pattern.share[i] <= 0)
            continue;
        const double its = s.solution.stress[static_cast<size_t>(d)] / day.weight;
        use.level = std::max(use.level, its / pattern.share[i]); // of the days that are not relieved
        mean += its;
        part += pattern.share[i];
        const Role role = pattern.roles[i];
        use.kept = use.kept || role == Role::Hard || role == Role::Test || role == Role::Openers;
        const double hours = pattern.pointsPerHour[i] > 0 ? its / pattern.pointsPerHour[i] : 0;
        longest = std::max(longest, hours);
        shortest = std::min(shortest, hours);
    }
    use.lopsided = shortest < leastRideHours && longest > 1;
    use.mean = part > 0 ? mean / part : 0;
    // The days of a taper and before a race have levels of their own.
    if ((week.kind == WeekKind::Taper || week.kind == WeekKind::Race) && part > 0)
        use.level = use.mean;
    return use;
}

} // namespace

bool layUnderusedWeeks(const Season& season, Solved& s) {
    if (s.solution.stress.empty())
        return false;
    bool any = false;
    int build = -1;
    std::map<int, double> ofBlock, meanOfBlock; // the biggest level of its build weeks
    std::set<int> laid;                         // blocks of which a build week was laid again
    std::set<int> lopsided;                     // blocks to be spread
    for (size_t w = 0; w < s.frame.weeks.size(); ++w)
        if (const WeekFrame& week = s.frame.weeks[w]; week.kind == WeekKind::Build && !week.past) {
            const Use use = useOf(s, w);
            ofBlock[week.block] = std::max(ofBlock[week.block], use.level);
            meanOfBlock[week.block] = std::max(meanOfBlock[week.block], use.mean);
            if (use.lopsided)
                lopsided.insert(week.block);
        }
    for (const int block : lopsided)
        ofBlock[block] = meanOfBlock[block];
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        const WeekFrame& week = s.frame.weeks[w];
        WeekPattern& pattern = s.patterns[w];
        Use use = week.past ? Use{} : useOf(s, w);
        if (week.kind == WeekKind::Build) {
            use.level = ofBlock[week.block];
            use.lopsided = lopsided.contains(week.block);
        } else if (use.lopsided) {
            use.level = use.mean;
        }
        if ((use.kept || use.lopsided) && use.level > 0) {
            // A deload follows the week before it, wherever that goes.
            const bool follows = week.kind == WeekKind::Deload && build >= 0;
            const double reach = follows
                                     ? deloadShare(season.rules) * s.patterns[static_cast<size_t>(build)].most
                                     : mayGrow * use.level;
            const double level = follows ? reach : use.level;
            const double used = std::clamp(level / pattern.points, 0.05, 1.0);
            if (std::abs(used - pattern.used) >= nearEnough || (follows && pattern.most < level)) {
                layWeek(season, s.frame, week, used, reach, pattern);
                any = true;
                if (week.kind == WeekKind::Build)
                    laid.insert(week.block);
            }
        }
        if (week.kind == WeekKind::Build && !week.past)
            build = static_cast<int>(w);
    }
    // The weeks of a block reach alike, or one of them would have to give way to another's hard day.
    for (size_t w = 0; w < s.frame.weeks.size(); ++w)
        if (const WeekFrame& week = s.frame.weeks[w];
            week.kind == WeekKind::Build && !week.past && laid.contains(week.block))
            s.patterns[w].most = std::min(s.patterns[w].most, mayGrow * ofBlock[week.block]);
    return any;
}

void settleBands(const Season& season, Solved& s) {
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        const WeekFrame& week = s.frame.weeks[w];
        WeekPattern& pattern = s.patterns[w];
        if (std::none_of(pattern.roles.begin(), pattern.roles.end(),
                         [](Role r) { return r == Role::Hard || r == Role::Test; }))
            continue;
        for (int turn = 0; turn < 4; ++turn) {
            std::array<double, 7> used{};
            double sum = 0;
            for (int d = week.first; d <= week.last; ++d) {
                const DayFrame& day = s.frame.days[static_cast<size_t>(d)];
                const auto i = static_cast<size_t>(weekday(day.date));
                const double hours = ridingHours(season, week, pattern, static_cast<int>(i));
                if (day.hours > 0 && hours > 0 && pattern.pointsPerHour[i] > 0)
                    used[i] = std::clamp(s.solution.stress[static_cast<size_t>(d)] /
                                             pattern.pointsPerHour[i] / hours,
                                         0.0, 1.0);
                sum += used[i];
            }
            if (sum <= 0)
                break;
            layBands(season, s.frame, week, used, pattern);
        }
    }
}

} // namespace marram
