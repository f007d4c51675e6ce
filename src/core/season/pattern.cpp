// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"

#include <algorithm>

namespace marram {
namespace {

constexpr double shortestHardDay = 0.5; ///< h
/// Load left on a day that freshens for a B race but lies in the week before it.
constexpr double freshened = 0.6;
constexpr int freshDays = 3;

const DayFrame& dayAt(const SeasonFrame& f, int d) {
    return f.days[static_cast<size_t>(d)];
}

/// Places hard days week by week, knowing what the day before the week was.
class DayPlacer {
public:
    DayPlacer(const Season& season, const SeasonFrame& frame) : season_(season), frame_(frame) {
        hardDay_.assign(frame.days.size() + 1, false);
        for (size_t d = 0; d < frame.days.size(); ++d)
            hardDay_[d] = frame.days[d].race >= 0 || frame.days[d].camp;
    }

    WeekPattern place(const WeekFrame& week) {
        WeekPattern pattern;
        for (const int d : chooseHard(week))
            hardDay_[static_cast<size_t>(d)] = true;
        giveRoles(week, pattern);
        pattern.whole = shares(week, pattern.roles, 24);
        pattern.spread = shares(week, pattern.roles, spreadHours);
        return pattern;
    }

private:
    int budget(const WeekFrame& week) const {
        int races = 0;
        for (int d = week.first; d <= week.last; ++d)
            races += dayAt(frame_, d).race >= 0 ? 1 : 0;
        int allowed = season_.rules.hardDays;
        if (week.kind == WeekKind::Recovery || week.kind == WeekKind::Break)
            allowed = 0;
        if (week.kind == WeekKind::Transition || week.kind == WeekKind::Deload)
            allowed = std::min(allowed, 1);
        return std::max(0, allowed - races);
    }

    bool rested(int d) const { return d == 0 || dayAt(frame_, d - 1).hours <= 0; }

    bool openers(int d) const {
        if (d + 1 >= static_cast<int>(frame_.days.size()))
            return false;
        const int race = dayAt(frame_, d + 1).race;
        return race >= 0 && season_.races[static_cast<size_t>(race)].priority != Priority::C;
    }

    bool eligible(int d) const {
        const DayFrame& day = dayAt(frame_, d);
        const bool after = d > 0 && hardDay_[static_cast<size_t>(d - 1)];
        return day.hours >= shortestHardDay && !after && !hardDay_[static_cast<size_t>(d + 1)];
    }

    double merit(int d, int longest) const {
        const double hours = dayAt(frame_, d).hours;
        return 10 + (rested(d) ? 3 : 0) + 2 * std::min(hours, 2.0) - (d == longest ? 2 : 0);
    }

    std::vector<int> chooseHard(const WeekFrame& week) const {
        int longest = week.first;
        for (int d = week.first; d <= week.last; ++d)
            if (dayAt(frame_, d).hours > dayAt(frame_, longest).hours)
                longest = d;
        std::vector<int> days;
        for (int d = week.first; d <= week.last; ++d)
            if (eligible(d))
                days.push_back(d);
        const int most = budget(week);
        std::vector<int> best;
        double bestMerit = 0;
        for (unsigned set = 1; set < 1U << days.size(); ++set) {
            std::vector<int> chosen;
            double sum = 0;
            bool apart = true;
            for (size_t i = 0; i < days.size(); ++i)
                if (set >> i & 1U) {
                    apart = apart && (chosen.empty() || days[i] - chosen.back() > 1);
                    chosen.push_back(days[i]);
                    sum += merit(days[i], longest);
                }
            if (apart && static_cast<int>(chosen.size()) <= most && sum > bestMerit) {
                best = chosen;
                bestMerit = sum;
            }
        }
        return best;
    }

    void giveRoles(const WeekFrame& week, WeekPattern& pattern) const {
        int longest = -1;
        for (int d = week.first; d <= week.last; ++d) {
            const DayFrame& day = dayAt(frame_, d);
            Role& role = pattern.roles[static_cast<size_t>(weekday(day.date))];
            if (day.race >= 0)
                role = Role::Race;
            else if (day.camp)
                role = Role::Long;
            else if (day.hours <= 0 || week.kind == WeekKind::Break)
                role = Role::Rest;
            else if (openers(d))
                role = Role::Openers;
            else if (hardDay_[static_cast<size_t>(d)])
                role = Role::Hard;
            else {
                role = Role::Easy;
                if (longest < 0 || day.hours > dayAt(frame_, longest).hours)
                    longest = d;
            }
        }
        if (longest >= 0 && dayAt(frame_, longest).hours >= 1.5 && week.kind != WeekKind::Recovery)
            pattern.roles[static_cast<size_t>(weekday(dayAt(frame_, longest).date))] = Role::Long;
    }

    /// How much of its usual time a day is worth in a week: less before a B race in the next week.
    double weight(const WeekFrame& week, int d) const {
        for (int n = 1; n <= freshDays; ++n) {
            const int later = d + n;
            if (later <= week.last || later >= static_cast<int>(frame_.days.size()))
                continue;
            const int race = dayAt(frame_, later).race;
            if (race >= 0 && season_.races[static_cast<size_t>(race)].priority == Priority::B)
                return freshened;
        }
        return 1;
    }

    DayShares shares(const WeekFrame& week, const std::array<Role, 7>& roles, double longest) const {
        DayShares out;
        double training = 0, hard = 0;
        bool even = week.kind == WeekKind::Taper || week.kind == WeekKind::Race;
        for (int d = week.first; d <= week.last; ++d) {
            const DayFrame& day = dayAt(frame_, d);
            if (day.past)
                continue;
            const double w = weight(week, d);
            even = even || w < 1;
            out.nominalHours += w * std::min(day.nominalHours, longest);
            training += w * std::min(day.hours, longest);
            if (roles[static_cast<size_t>(weekday(day.date))] == Role::Hard)
                hard += w * std::min(day.hours, longest);
        }
        if (training <= 0)
            return out;
        // All of the high band goes onto the hard days as far as they can hold it; they take middle time
        // next; what is left is spread over the other days.
        const Bands& p = week.split;
        const double part = hard / training;
        Bands onHard = p, onOthers = p;
        if (!even && part > 0 && part < 1) {
            onHard.high = std::min(p.high / part, 0.6);
            onHard.middle = std::min(p.middle / part, std::max(0.0, 0.7 - onHard.high));
            onHard.low = 1 - onHard.high - onHard.middle;
            onOthers.high = (p.high - part * onHard.high) / (1 - part);
            onOthers.middle = (p.middle - part * onHard.middle) / (1 - part);
            onOthers.low = 1 - onOthers.high - onOthers.middle;
            // The hard days cannot hold more low time than the week has.
            if (onOthers.low < 0 || onOthers.low > 1)
                onHard = onOthers = p;
        }
        for (int d = week.first; d <= week.last; ++d) {
            const DayFrame& day = dayAt(frame_, d);
            if (day.hours <= 0)
                continue;
            const auto i = static_cast<size_t>(weekday(day.date));
            out.pointsPerHour[i] =
                stressPerHour(roles[i] == Role::Hard ? onHard : onOthers, season_.lowThreshold);
            out.share[i] = weight(week, d) * std::min(day.hours, longest) / out.nominalHours *
                           out.pointsPerHour[i] / week.pointsPerHour;
        }
        return out;
    }

    const Season& season_;
    const SeasonFrame& frame_;
    std::vector<bool> hardDay_;
};

} // namespace

std::vector<WeekPattern> placeDays(const Season& season, const SeasonFrame& frame) {
    DayPlacer placer(season, frame);
    std::vector<WeekPattern> patterns;
    patterns.reserve(frame.weeks.size());
    for (const WeekFrame& week : frame.weeks)
        patterns.push_back(placer.place(week));
    return patterns;
}

} // namespace marram
