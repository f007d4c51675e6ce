// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/columns.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Days of a taper are levelled in parts of three or four days, counted back from the race.
constexpr int segmentDays = 4, otherSegmentDays = 3;

} // namespace

double deloadShare(const Rules& rules) {
    return std::clamp(rules.deload, 0.5, 0.7);
}

int LoadColumns::column(Programme& programme, Load load, Date day, int nth, double upper) {
    const int c = programme.addColumn(nameOf(load, day, nth), 0, upper);
    profiles_.resize(static_cast<size_t>(c) + 1);
    return c;
}

double LoadColumns::leftAfter(int days, bool fitness) const {
    return (fitness ? keepFitness_ : keepFatigue_)[static_cast<size_t>(days)];
}

/// Days are laid in order.
void LoadColumns::lay(int column, int day, double stress) {
    if (stress == 0 || frame_.days[static_cast<size_t>(day)].hours <= 0)
        return;
    Profile& p = profiles_[static_cast<size_t>(column)];
    const int gap = p.days.empty() ? 0 : day - p.days.back().day;
    p.fitness = p.fitness * leftAfter(gap, true) + (1 - leftAfter(1, true)) * stress;
    p.fatigue = p.fatigue * leftAfter(gap, false) + (1 - leftAfter(1, false)) * stress;
    p.days.push_back({day, stress});
}

double LoadColumns::shareOn(int day) const {
    const DayFrame& d = frame_.days[static_cast<size_t>(day)];
    return d.weight *
           patterns_[static_cast<size_t>(frame_.weekOf(day))].share[static_cast<size_t>(weekday(d.date))];
}

double LoadColumns::reach(size_t week) const {
    return std::min(capacity_[week], patterns_[week].most);
}

/// The same, but in the first weeks after a lay-off at most half of the hours.
double LoadColumns::careful(size_t week) const {
    const WeekFrame& w = frame_.weeks[week];
    const bool first = frame_.layOff && w.first < 11;
    return first ? std::min(reach(week), 0.5 * w.nominalHours / hoursPerPoint(patterns_[week])) : reach(week);
}

void LoadColumns::refer(size_t week) {
    if (standard_ >= 0) {
        references_[week] = levels_[static_cast<size_t>(standard_)];
        referenceCapacity_[week] = capacity_[static_cast<size_t>(standard_)];
        referenceReach_[week] =
            std::max(reach(static_cast<size_t>(standard_)), levels_[static_cast<size_t>(standard_)].constant);
        return;
    }
    const double today =
        frame_.today > 0 ? base_[static_cast<size_t>(frame_.today - 1)].fitness : season_.before.fitness;
    const double steady = std::min(std::max(7 * today, 0.25 * capacity_[week]), capacity_[week]);
    references_[week] = Linear{steady, {}};
    referenceCapacity_[week] = referenceReach_[week] = steady;
}

void LoadColumns::built(size_t week) {
    lastBuild_ = static_cast<int>(week);
    if (!thinBeside(frame_, standard_, static_cast<int>(week)))
        standard_ = static_cast<int>(week);
}

LoadColumns::LoadColumns(const Season& season, const SeasonFrame& frame,
                         const std::vector<WeekPattern>& patterns, Programme& programme)
    : season_(season), frame_(frame), patterns_(patterns), levels_(frame.weeks.size()),
      references_(frame.weeks.size()), rise_(frame.weeks.size()), planned_(frame.weeks.size(), false),
      capacity_(frame.weeks.size(), 0), referenceCapacity_(frame.weeks.size(), 0),
      referenceReach_(frame.weeks.size(), 0), level_(frame.weeks.size(), -1), before_(frame.weeks.size(), -1),
      after_(frame.weeks.size(), -1), fresh_(frame.freshened.size(), -1), tapers_(frame.tapers.size()) {
    std::array<int, mostRelieved> none{};
    none.fill(-1);
    relief_.assign(frame.weeks.size(), none);
    const double kf = decay(season.tau.fitness), ka = decay(season.tau.fatigue);
    double f = 1, a = 1;
    for (size_t d = 0; d <= frame.days.size() + 7; ++d, f *= kf, a *= ka) {
        keepFitness_.push_back(f);
        keepFatigue_.push_back(a);
    }
    std::vector<double> fixed;
    for (const DayFrame& day : frame.days)
        fixed.push_back(day.fixed);
    base_ = runModel(fixed, season.before, season.tau);

    placeFamilies();
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        capacity_[w] = patterns[w].points * frame.weeks[w].volume;
        refer(w);
        if (frame.weeks[w].last < frame.today) {
            takeRidden(w);
            continue;
        }
        planned_[w] = true;
        if (frame.weeks[w].kind == WeekKind::Deload && lastBuild_ >= 0)
            layDeload(w, programme);
        else
            layWeek(w, programme);
    }
    layTapers(programme);
    profiles_.resize(programme.columns.size());
}

/// Which days leave their week's own level: taper, after an A race, before a race freshened for.
void LoadColumns::placeFamilies() {
    family_.assign(frame_.days.size(), Own);
    freshFor_.assign(frame_.days.size(), -1);
    const auto weekOf = [&](int d) -> const WeekFrame& {
        return frame_.weeks[static_cast<size_t>(frame_.weekOf(d))];
    };
    for (const TaperFrame& t : frame_.tapers) {
        for (int d = weekOf(t.first).first; d < t.first; ++d)
            if (t.first <= t.raceDay && weekOf(d).kind != WeekKind::Build)
                family_[static_cast<size_t>(d)] = Before;
        for (int d = t.raceDay; d <= weekOf(t.raceDay).last; ++d)
            family_[static_cast<size_t>(d)] = After;
    }
    for (const TaperFrame& t : frame_.tapers)
        for (int d = std::max(t.first, frame_.today); d < t.raceDay; ++d)
            family_[static_cast<size_t>(d)] = Falling;
    for (size_t n = 0; n < frame_.freshened.size(); ++n) {
        const int raceDay = season_.races[static_cast<size_t>(frame_.freshened[n])].date - season_.start;
        for (int d = std::max(0, raceDay - freshDays); d < raceDay; ++d) {
            // Days in the week before stay with it where it is a build or deload week of its own: they are
            // lighter there by their weight.
            const WeekKind kind = weekOf(d).kind;
            if (family_[static_cast<size_t>(d)] == Falling ||
                (kind != WeekKind::Race && kind != WeekKind::Recovery))
                continue;
            family_[static_cast<size_t>(d)] = Fresh;
            freshFor_[static_cast<size_t>(d)] = static_cast<int>(n);
        }
    }
}

void LoadColumns::takeRidden(size_t w) {
    const WeekFrame& week = frame_.weeks[w];
    levels_[w] = week.standing ? Linear{*week.standing, {}} : stress(week.first, week.last);
    if (week.kind == WeekKind::Build && week.whole() && levels_[w].constant > 0 && !week.broken) {
        capacity_[w] = std::max(capacity_[w], levels_[w].constant);
        built(w);
    }
}

/// The columns of a week that has levels of its own, its days on them.
void LoadColumns::layWeek(size_t w, Programme& programme) {
    const WeekFrame& week = frame_.weeks[w];
    const WeekPattern& pattern = patterns_[w];
    const auto has = [&](Family which) {
        for (int d = week.first; d <= week.last; ++d)
            if (family_[static_cast<size_t>(d)] == which && frame_.days[static_cast<size_t>(d)].hours > 0)
                return true;
        return false;
    };
    if (has(Own) || (week.kind == WeekKind::Build && capacity_[w] > 0))
        level_[w] = column(programme, Load::Level, week.start, 0, reach(w));
    if (has(Before))
        before_[w] = column(programme, Load::Before, week.start, 0, careful(w));
    if (has(After))
        after_[w] = column(programme, Load::After, week.start, 0, reach(w));
    std::array<int, 7> reliefOn{};
    reliefOn.fill(-1);
    const auto shareOf = [&](size_t k) { return pattern.share[static_cast<size_t>(pattern.byShare[k])]; };
    const bool relieved =
        week.kind == WeekKind::Build || week.kind == WeekKind::Transition || week.kind == WeekKind::Recovery;
    if (relieved && level_[w] >= 0)
        for (size_t k = 0; k < mostRelieved && shareOf(k) - shareOf(mostRelieved) > 0.03; ++k) {
            relief_[w][k] = column(programme, Load::Relief, week.start, static_cast<int>(k), unbounded);
            reliefOn[static_cast<size_t>(pattern.byShare[k])] = relief_[w][k];
        }
    for (int d = week.first; d <= week.last; ++d) {
        const Family which = family_[static_cast<size_t>(d)];
        const int c = which == Own      ? level_[w]
                      : which == Before ? before_[w]
                      : which == After  ? after_[w]
                                        : -1;
        if (c >= 0)
            lay(c, d, shareOn(d));
        const int relief = reliefOn[static_cast<size_t>(weekday(frame_.days[static_cast<size_t>(d)].date))];
        if (which == Own && relief >= 0)
            lay(relief, d, -frame_.days[static_cast<size_t>(d)].weight);
        if (which == Fresh)
            layFresh(w, d, programme);
    }
    if (level_[w] >= 0)
        levels_[w].add(level_[w], 1);
    for (const int relief : relief_[w])
        if (relief >= 0)
            levels_[w].add(relief, -1);
    tellRise(w, reliefOn);
    if (week.kind == WeekKind::Build && level_[w] >= 0)
        built(w);
}

/// A day before a race that is freshened for: one level for all of them.
void LoadColumns::layFresh(size_t w, int day, Programme& programme) {
    const int nth = freshFor_[static_cast<size_t>(day)];
    int& fresh = fresh_[static_cast<size_t>(nth)];
    if (fresh < 0) {
        const int race = frame_.freshened[static_cast<size_t>(nth)];
        fresh = column(programme, Load::Fresh, season_.races[static_cast<size_t>(race)].date, nth, reach(w));
    }
    double& upper = programme.columns[static_cast<size_t>(fresh)].upper;
    upper = std::min(upper, reach(w));
    lay(fresh, day, shareOn(day));
}

/// How much fitness the whole week's own training brings by its last evening.
void LoadColumns::tellRise(size_t w, const std::array<int, 7>& reliefOn) {
    const WeekFrame& week = frame_.weeks[w];
    const auto days = static_cast<int>(frame_.days.size());
    const double gain = 1 - decay(season_.tau.fitness);
    double rise = 0;
    for (int i = 0; i < 7; ++i) {
        const int d = week.start + i - season_.start;
        const double weight = d >= 0 && d < days ? frame_.days[static_cast<size_t>(d)].weight : 1;
        const double told = gain * keepFitness_[static_cast<size_t>(6 - i)] * weight;
        rise += told * patterns_[w].share[static_cast<size_t>(i)];
        if (reliefOn[static_cast<size_t>(i)] >= 0)
            rise_[w].add(reliefOn[static_cast<size_t>(i)], -told);
    }
    if (level_[w] >= 0)
        rise_[w].add(level_[w], rise);
}

/// A deload is the coach's share of the build week before, as far as its own hours hold it: its days are days
/// of that week's columns. So it unloads whatever that week is, and no row is needed.
void LoadColumns::layDeload(size_t w, Programme& programme) {
    const WeekFrame& week = frame_.weeks[w];
    const Linear& build = levels_[static_cast<size_t>(lastBuild_)];
    const double before = build.terms.empty() ? build.constant : reach(static_cast<size_t>(lastBuild_));
    const double share = before > 0 ? std::min(deloadShare(season_.rules), reach(w) / before) : 0;
    levels_[w] = share * build;
    if (build.terms.empty()) {
        // Measured against what was ridden.
        const double level = std::min(levels_[w].constant, reach(w));
        level_[w] = column(programme, Load::Level, week.start, 0, level);
        programme.columns[static_cast<size_t>(level_[w])].lower = level;
        for (int d = week.first; d <= week.last; ++d)
            lay(level_[w], d, shareOn(d));
        levels_[w] = Linear{}.add(level_[w], 1);
        return;
    }
    for (const auto& [c, coefficient] : build.terms)
        for (int d = week.first; d <= week.last; ++d)
            lay(c, d, share * coefficient * shareOn(d));
}

void LoadColumns::layTapers(Programme& programme) {
    for (size_t t = 0; t < frame_.tapers.size(); ++t) {
        const TaperFrame& taper = frame_.tapers[t];
        const int start = std::max(taper.first, frame_.today);
        const auto volumeOn = [&](int d) {
            const WeekFrame& week = frame_.weeks[static_cast<size_t>(frame_.weekOf(d))];
            return week.nominalHours > 0
                       ? frame_.days[static_cast<size_t>(d)].nominalHours / week.nominalHours
                       : 0;
        };
        for (int d = std::max(taper.window, 0); d < start && d >= frame_.today; ++d)
            tapers_[t].untouched += volumeOn(d);
        std::vector<int> ends; // first day of each segment, from the race backwards
        for (int d = taper.raceDay, n = 0; d > start; ++n) {
            d = std::max(start, d - (n % 2 == 0 ? otherSegmentDays : segmentDays));
            ends.push_back(d);
        }
        std::reverse(ends.begin(), ends.end());
        for (size_t k = 0; k < ends.size(); ++k) {
            const int to = k + 1 < ends.size() ? ends[k + 1] : taper.raceDay;
            double most = 0;
            Segment segment;
            for (int d = ends[k]; d < to; ++d) {
                const auto w = static_cast<size_t>(frame_.weekOf(d));
                most = std::max(most, careful(w));
                segment.share += volumeOn(d);
                const WeekPattern& pattern = patterns_[static_cast<size_t>(frame_.weekOf(d))];
                const auto i = static_cast<size_t>(weekday(frame_.days[static_cast<size_t>(d)].date));
                if (pattern.pointsPerHour[i] > 0)
                    segment.volume += pattern.share[i] / pattern.pointsPerHour[i];
            }
            // Named by its distance from the race, so that a moved race finds its taper again.
            segment.column =
                column(programme, Load::Taper, season_.races[static_cast<size_t>(taper.race)].date,
                       static_cast<int>(ends.size() - k), most);
            for (int d = ends[k]; d < to; ++d)
                lay(segment.column, d, shareOn(d));
            tapers_[t].segments.push_back(segment);
        }
    }
}

Linear LoadColumns::stress(int firstDay, int lastDay) const {
    Linear sum;
    for (int d = firstDay; d <= lastDay; ++d)
        sum.constant += frame_.days[static_cast<size_t>(d)].fixed;
    for (size_t c = 0; c < profiles_.size(); ++c) {
        double inside = 0;
        for (const DayLoad& load : profiles_[c].days)
            if (load.day >= firstDay && load.day <= lastDay)
                inside += load.stress;
        if (inside != 0)
            sum.add(static_cast<int>(c), inside);
    }
    return sum;
}

Linear LoadColumns::state(int day, bool fitness) const {
    Linear expression;
    if (day < 0) {
        expression.constant = fitness ? season_.before.fitness : season_.before.fatigue;
        return expression;
    }
    const LoadDay& base = base_[static_cast<size_t>(day)];
    expression.constant = fitness ? base.fitness : base.fatigue;
    const double gain = 1 - leftAfter(1, fitness);
    expression.terms.reserve(2 * profiles_.size()); // form is two of these
    for (size_t c = 0; c < profiles_.size(); ++c) {
        const Profile& p = profiles_[c];
        if (p.days.empty() || p.days.front().day > day)
            continue;
        double left = 0;
        if (p.days.back().day <= day)
            left = (fitness ? p.fitness : p.fatigue) * leftAfter(day - p.days.back().day, fitness);
        else
            for (const DayLoad& load : p.days)
                if (load.day <= day)
                    left += gain * leftAfter(day - load.day, fitness) * load.stress;
        expression.add(static_cast<int>(c), left);
    }
    return expression;
}

Linear LoadColumns::fitnessAfter(int day) const {
    return state(day, true);
}
Linear LoadColumns::fatigueAfter(int day) const {
    return state(day, false);
}
Linear LoadColumns::formOn(int day) const {
    return fitnessAfter(day - 1) - fatigueAfter(day - 1);
}

Linear LoadColumns::meanFitness(int firstDay, int lastDay) const {
    Linear mean;
    if (lastDay < firstDay)
        return mean;
    const double each = 1.0 / (lastDay - firstDay + 1), keep = leftAfter(1, true);
    for (size_t c = 0; c < profiles_.size(); ++c) {
        double sum = 0;
        // A point on a day is worth (1 − a) (1 + a + a² …) up to the last day.
        for (const DayLoad& load : profiles_[c].days)
            if (load.day <= lastDay)
                sum += load.stress * (1 - std::pow(keep, lastDay - load.day + 1));
        if (sum != 0)
            mean.add(static_cast<int>(c), each * sum);
    }
    return mean;
}

std::vector<double> LoadColumns::dailyStress(const std::vector<double>& values) const {
    std::vector<double> stress;
    stress.reserve(frame_.days.size());
    for (const DayFrame& day : frame_.days)
        stress.push_back(day.fixed);
    for (size_t c = 0; c < profiles_.size(); ++c)
        for (const DayLoad& load : profiles_[c].days)
            stress[static_cast<size_t>(load.day)] += values[c] * load.stress;
    for (double& s : stress)
        s = std::max(0.0, s);
    return stress;
}

} // namespace marram
