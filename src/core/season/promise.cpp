// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/season/skeleton.h"

#include <algorithm>
#include <cmath>

namespace marram {

void layPromise(const Season& season, const Solution& promised, const CutWay& cut, Solved& s) {
    std::vector<std::optional<WeekKind>> kinds;
    int newlyBroken = -1;
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        WeekFrame& week = s.frame.weeks[w];
        const WeekFrame& then = promised.promise->weeks[w];
        kinds.push_back(then.kind);
        week.broken = then.broken;
        if (!week.past || w >= promised.levels.size())
            continue;
        double planned = 0, ridden = 0;
        for (int d = week.first; d <= week.last; ++d) {
            planned += promised.stress[static_cast<size_t>(d)];
            ridden += s.frame.days[static_cast<size_t>(d)].fixed;
        }
        week.standing = then.past && then.standing ? *then.standing : promised.levels[w];
        if (then.kind == WeekKind::Build && !then.past && planned > 0 && ridden < brokenWeek * planned) {
            week.broken = true;
            week.standing = promised.levels[w] * ridden / planned;
            newlyBroken = static_cast<int>(w);
        }
        // A rider who does more than was promised stands for more.
        if (!then.past && planned > 0 && ridden > 1.1 * planned)
            week.standing = promised.levels[w] * std::min(1.25, ridden / planned);
        if (week.broken)
            kinds.back() = WeekKind::Deload; // it counts as unloaded
    }
    // The rhythm goes on from a broken week; without one every week keeps its kind.
    if (newlyBroken >= 0)
        for (size_t w = static_cast<size_t>(newlyBroken) + 1; w < kinds.size(); ++w)
            if (!s.frame.weeks[w].past)
                kinds[w].reset();
    s.skeletonCost = decideSkeleton(season, s.frame, cut, kinds);
    // Days ridden keep the roles they were planned with: what was hard and when the last test was.
    SeasonFrame whole = s.frame;
    for (DayFrame& day : whole.days)
        day.hours = day.race >= 0 || day.camp || day.away ? 0 : day.nominalHours;
    restStumps(whole);
    s.patterns = newlyBroken >= 0 ? placeDays(season, whole) : promised.promise->patterns;
    // Weeks whose anchors or hours moved are laid anew.
    if (newlyBroken < 0) {
        const std::vector<WeekPattern> fresh = placeDays(season, whole);
        for (size_t w = 0; w < s.patterns.size(); ++w) {
            const WeekFrame &now = s.frame.weeks[w], &then = promised.promise->weeks[w];
            if ((now.kind != then.kind && !now.broken) ||
                (!now.past &&
                 (!promised.held || now.nominalHours != then.nominalHours || now.volume != then.volume)))
                s.patterns[w] = fresh[w];
        }
    }
}

void layPast(const Season& season, Solved& s) {
    const SeasonFrame now = layOut(season, s.frame.fitness);
    s.frame.today = now.today;
    for (size_t d = 0; d < s.frame.days.size(); ++d) {
        DayFrame& day = s.frame.days[d];
        day.past = now.days[d].past;
        day.fixed = now.days[d].fixed;
        day.hours = now.days[d].hours;
        if (day.past)
            s.solution.stress[d] = day.fixed;
    }
    restStumps(s.frame);
    for (size_t w = 0; w < s.frame.weeks.size(); ++w) {
        WeekFrame& week = s.frame.weeks[w];
        if (now.weeks[w].past && !week.past && w < s.solution.levels.size())
            week.standing = s.solution.levels[w];
        week.past = now.weeks[w].past;
    }
    s.solution.promise = std::make_shared<const Solution::Promise>(
        Solution::Promise{s.frame.weeks, s.patterns, s.frame.fitness});
    const auto choices = std::move(s.plan.choices);
    fillPlan(asChosen(season, s.solution), s);
    s.plan.choices = choices;
}

namespace {

/// The season as it was known on a morning inside it: what was ridden by then, and no illness that came
/// later.
Season asKnownOn(const Season& season, Date morning) {
    Season then = season;
    std::erase_if(then.away, [&](const Away& a) {
        return a.why == AwayWhy::Illness && a.from >= morning && a.from < season.past->today;
    });
    if (morning <= season.start) {
        then.past.reset();
        return then;
    }
    then.past->today = morning;
    then.past->stress.resize(static_cast<size_t>(morning - season.start));
    return then;
}

/// Whether days from `from` up to before `to` were ridden as planned.
bool riddenAsPlanned(const Season& season, const Solved& plan, Date from, Date to) {
    constexpr double points = 3, share = 0.05, week = 0.03;
    double planned = 0, ridden = 0;
    for (Date d = from; d < to; d = d + 1) {
        const auto i = static_cast<size_t>(d - season.start);
        const double p = plan.solution.stress[i], r = season.past->stress[i];
        if (std::abs(p - r) > std::max(points, share * p))
            return false;
        planned += p;
        ridden += r;
    }
    return std::abs(planned - ridden) <= std::max(points, week * planned);
}

} // namespace

Solved planOn(const Season& season, const std::function<Solved(const Season&)>& fresh,
              const std::function<Solved(const Season&, const Solved&, bool)>& again) {
    const Date today = season.past->today;
    // Ridden to the letter of a plan that knew of everything, it is that plan.
    {
        Season whole = season;
        whole.past.reset();
        Solved known = fresh(whole);
        bool all = true;
        for (Date from = season.start; from < today && all; from = std::min(monday(from) + 7, today))
            all = riddenAsPlanned(season, known, from, std::min(monday(from) + 7, today));
        if (all) {
            layPast(season, known);
            return known;
        }
    }
    Solved plan = fresh(asKnownOn(season, season.start));
    size_t ills = 0;
    const auto illsBy = [&](Date day) {
        return static_cast<size_t>(std::count_if(season.away.begin(), season.away.end(), [&](const Away& a) {
            return a.why == AwayWhy::Illness && a.from >= season.start && a.from < day;
        }));
    };
    for (Date from = season.start; from < today;) {
        const Date to = std::min(monday(from) + 7, today);
        const bool ill = illsBy(to) != ills;
        ills = illsBy(to);
        if (ill || !riddenAsPlanned(season, plan, from, to))
            plan = again(asKnownOn(season, to), plan, ill);
        from = to;
    }
    layPast(season, plan);
    return plan;
}

} // namespace marram
