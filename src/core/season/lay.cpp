// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"
#include "core/season/held.h"

#include <algorithm>
#include <limits>
#include <vector>

/// How a week's time, and what is in it, lies on days whose roles are placed (pattern.cpp).
namespace marram {
namespace {

constexpr double mostAboveLow = 0.9; ///< of a hard day's time
/// What a hard day keeps in a small week, in hours: its sets and the way in and out (common practice).
constexpr double hardKeeps = 1.1, lightHardKeeps = 0.75, testKeeps = 1.0, openersKeep = 0.6;
constexpr double othersKeep = 0.5; ///< of their part: no day is emptied for another
/// What the day before a race takes at most, and a test outside build weeks, in hours, whatever their day
/// holds (common practice).
constexpr double testTakes = 2, openersTake = 1;

/// The longest ride does not shrink towards the race, but for short events (common practice).
bool keepsLong(const WeekFrame& week) {
    return (week.phase == Phase::Build || week.phase == Phase::Specialise) && week.demand != Demand::Punchy;
}
constexpr double longKeeps = 0.97; ///< of its day

/// The long ride is no shorter than a hard one where its day holds as much: they share what both have. The
/// most of its hours any day uses then.
double longFirst(const std::array<Role, 7>& roles, const std::array<double, 7>& hours,
                 std::array<double, 7>& used) {
    const auto longest = std::find(roles.begin(), roles.end(), Role::Long) - roles.begin();
    const auto l = static_cast<size_t>(longest);
    double most = 0;
    for (size_t i = 0; i < 7; ++i) {
        if (l < 7 && roles[i] == Role::Hard && hours[l] > 0) {
            const double both = used[l] * hours[l] + used[i] * hours[i];
            const double mine = std::min({hours[l], both / 2, both - hardKeeps});
            if (mine > used[l] * hours[l]) {
                used[i] = (both - mine) / hours[i];
                used[l] = mine / hours[l];
            }
        }
    }
    for (size_t i = 0; i < 7; ++i)
        most = std::max(most, hours[i] > 0 ? used[i] : 0);
    return most;
}

/// A short ride, in hours, and the ride of another day that may give some of its time for one (common
/// practice).
constexpr double shortRide = 0.5, givesOver = 1;

/// 1 outside the season.
double weightOn(const SeasonFrame& frame, int d) {
    return d < 0 || d >= static_cast<int>(frame.days.size()) ? 1 : frame.days[static_cast<size_t>(d)].weight;
}

/// Few hours are ridden on several days: where days would be rest, or a ride of minutes, beside one of hours,
/// the long ones give. Nobody rides once a week who has time on four days.
void spread(const SeasonFrame& frame, const WeekFrame& week, const std::array<Role, 7>& roles,
            const std::array<double, 7>& hours, std::array<double, 7>& used) {
    double spare = 0, taken = 0;
    std::vector<size_t> small;
    const auto gives = [&](size_t i) {
        const bool easy = roles[i] == Role::Easy || roles[i] == Role::Long;
        const double over = used[i] * hours[i] - (easy ? givesOver : openersKeep);
        return easy || roles[i] == Role::Openers ? std::max(0.0, over) : 0;
    };
    for (size_t i = 0; i < 7; ++i) {
        spare += gives(i);
        if ((roles[i] == Role::Easy || roles[i] == Role::Hard) && hours[i] >= shortRide &&
            used[i] * hours[i] < shortRide - 1e-9)
            small.push_back(i);
    }
    std::stable_sort(small.begin(), small.end(), [&](size_t a, size_t b) { return hours[a] > hours[b]; });
    const double all = spare;
    for (const size_t i : small) {
        // What a day is relieved of, as after illness, is on top.
        const int d = week.start + static_cast<int>(i) - frame.days.front().date;
        const double weight = weightOn(frame, d);
        const double rides = std::min(hours[i], shortRide / std::max(weight, shortRide));
        const double needs = rides - used[i] * hours[i];
        if (needs > spare - taken)
            break;
        taken += needs;
        used[i] = rides / hours[i];
    }
    for (size_t i = 0; i < 7 && taken > 0; ++i)
        if (hours[i] > 0)
            used[i] -= taken / all * gives(i) / hours[i];
}

/// What a day keeps of its hours for itself, in hours or as a part of them; 0 where it has what is left over.
double keepsOf(const Season& season, const WeekFrame& week, Role role, double hours) {
    const bool build = week.kind == WeekKind::Build;
    return role == Role::Test                                                        ? testKeeps
           : role == Role::Openers                                                   ? openersKeep
           : role == Role::Long && build && !season.races.empty() && keepsLong(week) ? longKeeps * hours
           : role != Role::Hard                                                      ? 0
           : build                                                                   ? hardKeeps
                                                                                     : lightHardKeeps;
}

/// The part of their hours that days of `others` hours in all use of what is `left`. A ride of a few minutes
/// is none: the smallest days rest first, and what they had goes to the others.
struct ShareOut {
    double each = 0;
    std::array<bool, 7> dropped{};
};
ShareOut shareOut(const WeekFrame& week, const std::array<Role, 7>& roles, const std::array<double, 7>& hours,
                  double left, double use, double others) {
    ShareOut out{use, {}};
    auto& [each, dropped] = out;
    // (Not in a taper: frequency is kept there.)
    const bool dropping = week.kind != WeekKind::Taper && week.phase != Phase::Race;
    for (int turn = 0; turn < 7 && others > 0; ++turn) {
        each = std::max(0.0, left / others);
        size_t smallest = 7;
        for (size_t i = 0; i < 7; ++i)
            if (roles[i] == Role::Easy && hours[i] > 0 && !dropped[i] && hours[i] < others - 1e-9 &&
                each * hours[i] < std::min(leastRideHours, 0.6 * hours[i]) &&
                (smallest == 7 || hours[i] < hours[smallest]))
                smallest = i;
        if (smallest == 7 || !dropping)
            break;
        dropped[smallest] = true;
        others -= hours[smallest];
    }
    return out;
}

/// How much of each day is used beside the one that is used most; in a build week the long ride's comes
/// first.
void setLean(bool build, const std::array<double, 7>& hours, std::array<double, 7>& used,
             WeekPattern& pattern) {
    double most = 0;
    for (size_t i = 0; i < 7; ++i)
        most = std::max(most, hours[i] > 0 ? used[i] : 0);
    if (build)
        most = longFirst(pattern.roles, hours, used);
    for (size_t i = 0; i < 7; ++i)
        pattern.lean[i] = most > 0 && hours[i] > 0 ? used[i] / most : 1;
}

/// layWeek() where a day that keeps its time may still grow by `room`.
void layFor(const Season& season, const SeasonFrame& frame, const WeekFrame& week, double use, double room,
            WeekPattern& pattern) {
    const bool build = week.kind == WeekKind::Build;
    std::array<double, 7> hours{}, kept{}, takes{};
    double all = 0, held = 0, others = 0;
    for (size_t i = 0; i < 7; ++i) {
        hours[i] = ridingHours(season, week, pattern, static_cast<int>(i));
        all += hours[i];
        const Role role = pattern.roles[i];
        const double keeps = keepsOf(season, week, role, hours[i]);
        if (keeps > 0)
            kept[i] = std::max(use * hours[i], std::min(keeps, hours[i] / room));
        takes[i] = role == Role::Openers ? openersTake : role == Role::Test && !build ? testTakes : hours[i];
        held += kept[i];
        others += keeps > 0 ? 0 : hours[i];
    }
    // What the others must keep is left to them, whatever the hard days would like.
    const double least = othersKeep * use * others, own = use * (all - others);
    const double part = held > own ? std::clamp((use * all - least - own) / (held - own), 0.0, 1.0) : 0;
    std::array<double, 7> used{};
    double given = 0;
    for (size_t i = 0; i < 7; ++i)
        if (kept[i] > 0) {
            kept[i] = std::min(takes[i], use * hours[i] + part * (kept[i] - use * hours[i]));
            used[i] = kept[i] / hours[i];
            given += kept[i];
        }
    const auto [each, dropped] = shareOut(week, pattern.roles, hours, use * all - given, use, others);
    for (size_t i = 0; i < 7; ++i) {
        if (kept[i] <= 0)
            used[i] = dropped[i] ? 0 : each;
    }
    spread(frame, week, pattern.roles, hours, used);
    setLean(build, hours, used, pattern);
    pattern.used = use;
    // Days that are shut hold nothing of the split: the others are asked for what they hold themselves.
    for (int d = week.first; d <= week.last; ++d)
        if (const DayFrame& day = frame.days[static_cast<size_t>(d)]; day.shut())
            used[static_cast<size_t>(weekday(day.date))] = 0;
    layBands(season, frame, week, used, pattern);
}

/// What a maximal test holds over the low band, in hours: its twenty minutes, and its way in.
constexpr double testHigh = 20.0 / 60, testMiddle = 4.0 / 60;
/// Points an hour of each band as sessions hold them where no hour is left over, with ways in and rests: low
/// at 62 to 70 %, middle mostly tempo, high counted with its short rests (docs/model.md).
constexpr Bands asRidden{45, 68, 90};
constexpr double mostHighADay = 0.95; ///< h of high time for each hard day of the week, whoever holds it

/// What a week is asked beside a test is its load, not the tempo, in hours, that another week has there.
void leaveOut(double tempo, const std::array<double, 7>& rides, WeekPattern& pattern) {
    const auto holds = [&](size_t i) {
        return pattern.roles[i] != Role::Hard && pattern.roles[i] != Role::Test;
    };
    double all = 0;
    for (size_t i = 0; i < 7; ++i)
        all += holds(i) ? rides[i] * pattern.bands[i].middle : 0;
    for (size_t i = 0; i < 7 && all > 0 && tempo > 0; ++i)
        if (holds(i)) {
            const double left = pattern.bands[i].middle * std::min(1.0, tempo / all);
            pattern.bands[i].middle -= left;
            pattern.bands[i].low += left;
        }
}

/// Shares of days as parts of the week's points, and the days in their order.
void sortByShare(double points, WeekPattern& pattern) {
    for (size_t i = 0; i < 7; ++i) {
        pattern.share[i] = points > 0 ? pattern.share[i] / points : 0;
        pattern.byShare[i] = static_cast<int>(i);
    }
    std::stable_sort(pattern.byShare.begin(), pattern.byShare.end(), [&](int a, int b) {
        return pattern.share[static_cast<size_t>(a)] > pattern.share[static_cast<size_t>(b)];
    });
}

} // namespace

double ridingHours(const Season& season, const WeekFrame& week, const WeekPattern& pattern, int weekday) {
    constexpr double leastRide = 0.5;
    const double hours = hoursOn(season, week.start + weekday);
    if (pattern.roles[static_cast<size_t>(weekday)] != Role::Gym || season.rules.gymBeside)
        return hours;
    return hours - gymHours >= leastRide ? hours - gymHours : 0;
}

/// What hard days hold and what the others hold, of the middle and high time got. Only hard days carry high
/// time, and middle time goes where sessions hold it: what is over is ridden low.
static std::pair<Bands, Bands> hardAndOthers(const Bands& split, const Bands& got, double hard,
                                             double total) {
    const double part = total > 0 ? hard / total : 0, middle = total > 0 ? got.middle / total : 0;
    Bands onHard = split, onOthers{split.low, split.middle, 0};
    if (part > 0) {
        onHard.high = got.high / hard;
        onHard.middle = std::min(middle / part, std::max(0.0, mostAboveLow - onHard.high));
        onHard.low = 1 - onHard.high - onHard.middle;
    }
    onOthers.middle = part < 1 ? (middle - part * (part > 0 ? onHard.middle : 0)) / (1 - part) : 0;
    onOthers.middle = std::clamp(onOthers.middle, 0.0, 1.0);
    onOthers.low = 1 - onOthers.middle;
    return {onHard, onOthers};
}

void layBands(const Season& season, const SeasonFrame& frame, const WeekFrame& week,
              const std::array<double, 7>& used, WeekPattern& pattern) {
    std::array<double, 7> hours{}, rides{};
    double total = 0, hard = 0;
    int hardDays = 0;
    for (size_t i = 0; i < 7; ++i) {
        hours[i] = ridingHours(season, week, pattern, static_cast<int>(i));
        rides[i] = hours[i] * used[i];
        total += rides[i];
        hard += pattern.roles[i] == Role::Hard ? rides[i] : 0;
        hardDays += pattern.roles[i] == Role::Hard ? 1 : 0;
    }
    const Room room = roomOf(season, frame, week, pattern.roles, rides);
    const Bands& p = week.split;
    // A maximal test is high work too: the hard day beside it has the rest of what the week is to have.
    const bool tested = pattern.maximalTest && hard > 0;
    const double test = tested ? testHigh : 0;
    const double wanted = std::max(0.0, p.high * total - test);
    const Bands got = room.of(std::clamp(mostHighADay * hardDays - test, 0.0, wanted), p.middle * total);
    const double lost = total > 0 ? (wanted - got.high) / total : 0;
    pattern.highLimited = lost > 1e-12;
    pattern.middleOver = p.middle * total - got.middle;
    pattern.highOver = wanted - got.high;
    const auto [onHard, onOthers] = hardAndOthers(p, got, hard, total);
    double points = 0, held = 0;
    for (size_t i = 0; i < 7; ++i) {
        const bool low = frame.staysLow(week.start + static_cast<int>(i) - season.start, pattern.roles[i]);
        pattern.bands[i] = low ? Bands{1, 0, 0} : pattern.roles[i] == Role::Hard ? onHard : onOthers;
        pattern.pointsPerHour[i] = stressPerHour(pattern.bands[i], season.lowThreshold);
        const double length = std::max(0.6, rides[i]);
        if (!low)
            pattern.pointsPerHour[i] += pattern.added[i] / length;
        if (pattern.maximalTest && !low && pattern.roles[i] == Role::Test)
            pattern.bands[i] = {1 - (testHigh + testMiddle) / length, testMiddle / length, testHigh / length};
        pattern.share[i] = hours[i] * pattern.lean[i] * pattern.pointsPerHour[i];
        points += pattern.share[i];
        const Bands& b = pattern.bands[i];
        held += hours[i] * pattern.lean[i] *
                (b.low * asRidden.low + b.middle * asRidden.middle + b.high * asRidden.high);
    }
    leaveOut(room.besideTest, rides, pattern);
    pattern.most = week.kind == WeekKind::Build ? std::min(points, held) : points;
    sortByShare(points, pattern);
}

void layWeek(const Season& season, const SeasonFrame& frame, const WeekFrame& week, double use, double reach,
             WeekPattern& pattern) {
    double room = 1;
    for (int turn = 0; turn < 23; ++turn, room *= 1.05) {
        layFor(season, frame, week, use, room, pattern);
        if (pattern.most >= reach)
            return;
    }
}

double hoursPerPoint(const WeekPattern& pattern) {
    double hours = 0;
    for (size_t i = 0; i < 7; ++i)
        hours += pattern.pointsPerHour[i] > 0 ? pattern.share[i] / pattern.pointsPerHour[i] : 0;
    return hours > 0 ? hours : std::numeric_limits<double>::infinity();
}

} // namespace marram
