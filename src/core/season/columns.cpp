// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/columns.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

/// Daily rates of the falls a taper is mixed from: nearly flat to steep.
constexpr std::array<double, 5> fallRates{0.012, 0.04, 0.08, 0.16, 0.35};

std::string dayName(const SeasonFrame& frame, size_t week) {
    std::string text = isoText(frame.weeks[week].start);
    std::replace(text.begin(), text.end(), '-', '_');
    return text;
}

} // namespace

double levelCapacity(const SeasonFrame& frame, const WeekPattern& pattern, size_t week) {
    return pattern.whole.nominalHours * frame.weeks[week].pointsPerHour;
}

double weekCapacity(const SeasonFrame& frame, const WeekPattern& pattern, size_t week) {
    double share = 0, fixed = 0;
    for (const double s : pattern.whole.share)
        share += s;
    for (int d = frame.weeks[week].first; d <= frame.weeks[week].last; ++d)
        fixed += frame.days[static_cast<size_t>(d)].fixed;
    return share * levelCapacity(frame, pattern, week) + fixed;
}

int LoadColumns::add(Programme& programme, const std::string& name, double upper,
                     const std::vector<DayLoad>& days) {
    const int column = programme.addColumn(name, 0, upper);
    profiles_.resize(static_cast<size_t>(column) + 1);
    Profile& p = profiles_.back();
    if (days.empty())
        return column;
    p.first = days.front().day;
    p.last = days.back().day;
    p.stress.assign(static_cast<size_t>(p.last - p.first) + 1, 0);
    p.hours = p.stress;
    for (const DayLoad& load : days) {
        p.stress[static_cast<size_t>(load.day - p.first)] += load.stress;
        p.hours[static_cast<size_t>(load.day - p.first)] += load.hours;
    }
    const double kf = decay(season_.tau.fitness), ka = decay(season_.tau.fatigue);
    for (const double s : p.stress) {
        p.fitness = kf * p.fitness + (1 - kf) * s;
        p.fatigue = ka * p.fatigue + (1 - ka) * s;
    }
    return column;
}

LoadColumns::LoadColumns(const Season& season, const SeasonFrame& frame,
                         const std::vector<WeekPattern>& patterns, Programme& programme)
    : season_(season), frame_(frame), level_(frame.weeks.size(), -1), spread_(frame.weeks.size(), -1),
      fresh_(frame.weeks.size(), -1), after_(frame.weeks.size(), -1), before_(frame.weeks.size(), -1),
      falls_(frame.tapers.size()), taperStart_(frame.tapers.size(), 0) {
    std::vector<double> fixed;
    for (const DayFrame& day : frame.days)
        fixed.push_back(day.fixed);
    base_ = runModel(fixed, season.before, season.tau);

    const auto loadOn = [&](int d, bool spread = false) {
        const WeekPattern& pattern = patterns[static_cast<size_t>(frame.weekOf(d))];
        const DayShares& shares = spread ? pattern.spread : pattern.whole;
        const auto i = static_cast<size_t>(weekday(frame.days[static_cast<size_t>(d)].date));
        return DayLoad{d, shares.share[i],
                       shares.share[i] > 0 ? shares.share[i] / shares.pointsPerHour[i] : 0};
    };
    // Each trainable day goes to exactly one family of columns.
    enum class Family { Level, Fresh, After, Before, Falls };
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        const WeekFrame& week = frame.weeks[w];
        std::array<std::vector<DayLoad>, 4> groups;
        for (int d = week.first; d <= week.last; ++d) {
            if (loadOn(d).stress <= 0)
                continue;
            Family family = Family::Level;
            if (week.kind == WeekKind::Race || week.kind == WeekKind::Taper) {
                bool after = false, fall = false, before = false;
                for (const TaperFrame& t : frame.tapers) {
                    fall = fall || (d >= t.first && d < t.raceDay);
                    before = before || (d < t.first &&
                                        frame.weekOf(std::min(t.first, t.raceDay)) == static_cast<int>(w));
                    after = after || (d > t.raceDay && frame.weekOf(t.raceDay) <= static_cast<int>(w));
                }
                bool fresh = false, raced = false;
                for (int e = week.first; e <= week.last; ++e) {
                    const int race = frame.days[static_cast<size_t>(e)].race;
                    const bool b =
                        race >= 0 && season.races[static_cast<size_t>(race)].priority == Priority::B;
                    fresh = fresh || (b && e > d && e - d <= 4);
                    raced = raced || (b && e < d);
                }
                if (fall)
                    family = Family::Falls;
                else if (after)
                    family = Family::After;
                else if (before && !fresh && !raced)
                    family = Family::Before;
                else if (fresh)
                    family = Family::Fresh;
            }
            if (family != Family::Falls)
                groups[static_cast<size_t>(family)].push_back(loadOn(d));
        }
        const double capacity = levelCapacity(frame, patterns[w], w);
        const auto column = [&](Family family, const char* name) {
            const auto& days = groups[static_cast<size_t>(family)];
            return days.empty() ? -1 : add(programme, name + dayName(frame, w), capacity, days);
        };
        level_[w] = column(Family::Level, "load_");
        const bool ordinary = week.kind == WeekKind::Build || week.kind == WeekKind::Deload;
        if (level_[w] >= 0 && ordinary &&
            patterns[w].spread.nominalHours < 0.9 * patterns[w].whole.nominalHours) {
            std::vector<DayLoad> days;
            for (const DayLoad& load : groups[static_cast<size_t>(Family::Level)])
                days.push_back(loadOn(load.day, true));
            spread_[w] = add(programme, "spread_" + dayName(frame, w), unbounded, days);
        }
        fresh_[w] = column(Family::Fresh, "fresh_");
        after_[w] = column(Family::After, "after_");
        before_[w] = column(Family::Before, "before_");
    }
    for (size_t t = 0; t < frame.tapers.size(); ++t) {
        const TaperFrame& taper = frame.tapers[t];
        taperStart_[t] = std::max(taper.first, frame.today);
        for (size_t k = 0; k < fallRates.size(); ++k) {
            std::vector<DayLoad> days;
            double most = 0;
            for (int d = taperStart_[t]; d < taper.raceDay; ++d) {
                const auto w = static_cast<size_t>(frame.weekOf(d));
                most = std::max(most, levelCapacity(frame, patterns[w], w));
                // Two tapers never share a day: the earlier race's day ends its own.
                const double left = std::exp(-fallRates[k] * (d - taperStart_[t]));
                if (const DayLoad load = loadOn(d); load.stress > 0)
                    days.push_back({d, load.stress * left, load.hours * left});
            }
            if (days.empty())
                break;
            const std::string name = "fall_" + std::to_string(t + 1) + "_" + std::to_string(k + 1);
            falls_[t].push_back({add(programme, name, most, days), fallRates[k]});
        }
    }
}

Linear LoadColumns::taperLevel(size_t taper, int day) const {
    Linear level;
    for (const Fall& fall : falls_[taper])
        level.add(fall.column, std::exp(-fall.rate * (day - taperStart_[taper])));
    return level;
}

Linear LoadColumns::sumOver(int firstDay, int lastDay, bool hours) const {
    Linear sum;
    for (size_t c = 0; c < profiles_.size(); ++c) {
        const Profile& p = profiles_[c];
        double inside = 0;
        for (int d = std::max(firstDay, p.first); d <= std::min(lastDay, p.last); ++d) {
            const auto i = static_cast<size_t>(d - p.first);
            inside += hours ? p.hours[i] : p.stress[i];
        }
        if (inside > 0)
            sum.add(static_cast<int>(c), inside);
    }
    return sum;
}

Linear LoadColumns::training(int firstDay, int lastDay) const {
    return sumOver(firstDay, lastDay, false);
}
Linear LoadColumns::trainingHours(int firstDay, int lastDay) const {
    return sumOver(firstDay, lastDay, true);
}

Linear LoadColumns::weekStress(size_t week) const {
    Linear sum = training(frame_.weeks[week].first, frame_.weeks[week].last);
    for (int d = frame_.weeks[week].first; d <= frame_.weeks[week].last; ++d)
        sum.constant += frame_.days[static_cast<size_t>(d)].fixed;
    return sum;
}

Linear LoadColumns::state(int day, double tau, bool fitness) const {
    Linear expression;
    if (day < 0) {
        expression.constant = fitness ? season_.before.fitness : season_.before.fatigue;
        return expression;
    }
    const LoadDay& base = base_[static_cast<size_t>(day)];
    expression.constant = fitness ? base.fitness : base.fatigue;
    const double keep = decay(tau);
    for (size_t c = 0; c < profiles_.size(); ++c) {
        const Profile& p = profiles_[c];
        if (p.first > day || p.stress.empty())
            continue;
        double left = fitness ? p.fitness : p.fatigue;
        if (p.last <= day) {
            left *= std::exp(-(day - p.last) / tau);
        } else {
            left = 0;
            for (int d = p.first; d <= day; ++d)
                left = keep * left + (1 - keep) * p.stress[static_cast<size_t>(d - p.first)];
        }
        expression.add(static_cast<int>(c), left);
    }
    return expression;
}

Linear LoadColumns::fitnessAfter(int day) const {
    return state(day, season_.tau.fitness, true);
}
Linear LoadColumns::fatigueAfter(int day) const {
    return state(day, season_.tau.fatigue, false);
}
Linear LoadColumns::formOn(int day) const {
    return fitnessAfter(day - 1) - fatigueAfter(day - 1);
}

double LoadColumns::dailyStress(int day, const std::vector<double>& values) const {
    double sum = frame_.days[static_cast<size_t>(day)].fixed;
    for (size_t c = 0; c < profiles_.size(); ++c) {
        const Profile& p = profiles_[c];
        if (day >= p.first && day <= p.last)
            sum += std::max(0.0, values[c]) * p.stress[static_cast<size_t>(day - p.first)];
    }
    return sum;
}

double LoadColumns::dailyHours(int day, const std::vector<double>& values) const {
    double sum = 0;
    for (size_t c = 0; c < profiles_.size(); ++c) {
        const Profile& p = profiles_[c];
        if (day >= p.first && day <= p.last)
            sum += std::max(0.0, values[c]) * p.hours[static_cast<size_t>(day - p.first)];
    }
    return sum;
}

} // namespace marram
