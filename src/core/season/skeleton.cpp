// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>

namespace marram {
namespace {

/// What is left of a day's usual load.
constexpr double recovering = 0.5, easingBack = 0.85;

void setWeek(WeekFrame& week, WeekKind kind, std::string why) {
    week.set = kind;
    week.why = std::move(why);
}

std::vector<int> racesBy(const Season& season, Priority priority) {
    std::vector<int> found;
    for (size_t r = 0; r < season.races.size(); ++r)
        if (season.races[r].priority == priority)
            found.push_back(static_cast<int>(r));
    std::stable_sort(found.begin(), found.end(), [&](int a, int b) {
        return season.races[static_cast<size_t>(a)].date < season.races[static_cast<size_t>(b)].date;
    });
    return found;
}

/// Anchors whatever the coach and the races fix before any block is cut.
class Anchors {
public:
    Anchors(const Season& season, SeasonFrame& frame)
        : season_(season), frame_(frame), days_(season.dayCount()) {}

    void place() {
        if (frame_.layOff)
            layOff();
        peaks();
        secondary();
        away();
        edges();
        cycles();
        pins();
    }

private:
    DayFrame& day(int d) { return frame_.days[static_cast<size_t>(d)]; }
    WeekFrame& week(int w) { return frame_.weeks[static_cast<size_t>(w)]; }
    int weekCount() const { return static_cast<int>(frame_.weeks.size()); }
    std::string dated(int d) { return isoText(day(d).date); }
    void warn(std::string text) { frame_.warnings.push_back(std::move(text)); }

    bool anchored(int w) {
        const auto& set = week(w).set;
        return set && (*set == WeekKind::Race || *set == WeekKind::Taper);
    }

    void lighten(int from, int to, double weight) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).weight = std::min(day(d).weight, weight);
    }
    void spare(int from, int to) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).noHard = true;
    }
    void lowOnly(int from, int to) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).lowOnly = day(d).noHard = true;
    }
    /// Weeks that hold the days become weeks of coming back, unless a race or a break has them.
    void returning(int from, int to, const std::string& why) {
        if (from >= days_)
            return;
        for (int w = frame_.weekOf(from); w <= frame_.weekOf(std::min(to, days_ - 1)); ++w)
            if (!week(w).set)
                setWeek(week(w), WeekKind::Recovery, why);
    }

    /// Common practice: nothing hard for two weeks after a lay-off, low band only.
    void layOff() {
        lowOnly(0, 13);
        for (int w = 0; w < weekCount() && week(w).first < 11; ++w)
            setWeek(week(w), WeekKind::Transition, "Getting used to it again: low band only.");
        warn("The rider comes from little or nothing: two weeks in the low band, the first at half of the "
             "hours at most, one hard day a week in the third and fourth.");
    }

    /// Days after an A race or a camp: light for five, and eased to the end of that week.
    void recover(int end, const std::string& why) {
        const int last = end + recoveryDays;
        lighten(end + 1, last, recovering);
        spare(end + 1, end + recoveryDays);
        if (last < days_) {
            const int sunday = last + 6 - weekday(day(last).date);
            lighten(last + 1, sunday, easingBack);
        }
        returning(end + 1, last, why);
    }

    /// The first day to unload for a window that opens on `window`: that day, or the Monday after it where
    /// only the Sunday of a week would be left. Decided by the calendar alone, so that a change of hours
    /// never moves the skeleton.
    int firstTaperDay(int window) {
        if (window < 0)
            return 0;
        const WeekFrame& w = week(frame_.weekOf(window));
        return window == w.last && w.length() > 1 ? w.last + 1 : window;
    }

    void follow(int r, int raceDay, int previousEnd, const std::string& name) {
        frame_.freshened.push_back(r);
        if (raceDay > previousEnd)
            lighten(previousEnd + 1, std::min(previousEnd + recoveryDays, raceDay - 1), recovering);
        spare(previousEnd + 1, std::min(previousEnd + 4, raceDay - 1));
        const int easy = std::min(previousEnd + recoveryDays, raceDay - 1);
        if (easy > previousEnd)
            returning(previousEnd + 1, easy, "One long peak: recovered for " + name + ".");
    }

    void peaks() {
        const std::vector<int> peaks = racesBy(season_, Priority::A);
        if (peaks.size() > 2)
            warn("There are " + std::to_string(peaks.size()) +
                 " A races; one or two a season can be peaked for. Making the others B races frees their "
                 "tapers for building.");
        int previousEnd = -1000, leader = -1000;
        for (size_t i = 0; i < peaks.size(); ++i) {
            const Race& race = season_.races[static_cast<size_t>(peaks[i])];
            const int raceDay = race.date - season_.start;
            const int gap = raceDay - previousEnd;
            const bool follows = i > 0 && gap < onePeakDays && raceDay - leader <= 35;
            if (i > 0 && gap < holdDays)
                warn("\"" + race.name + "\" comes " + std::to_string(gap) +
                     " days after the A race before it; two A races closer than six weeks cannot both be "
                     "peaked for" +
                     (follows ? ": they share one taper" : ": fitness is held between them, not built") +
                     ". From " + isoText(race.date + (holdDays - gap)) +
                     " on it could have a build-up of its own.");
            const int end = std::max(previousEnd, raceDay + race.days - 1);
            for (int w = frame_.weekOf(raceDay); w <= frame_.weekOf(end); ++w)
                setWeek(week(w), WeekKind::Race, "The week of " + race.name + ".");
            if (follows)
                follow(peaks[i], raceDay, previousEnd, race.name);
            else {
                taper(peaks[i], raceDay, i > 0 ? previousEnd : -1000);
                leader = raceDay;
            }
            spare(raceDay - 2, raceDay - 1);
            const bool last = i + 1 == peaks.size();
            const int next =
                last ? days_ + 1000 : season_.races[static_cast<size_t>(peaks[i + 1])].date - season_.start;
            if (last || next - end >= onePeakDays || next - leader > 35)
                recover(end, "Recovery after " + race.name + ".");
            previousEnd = end;
        }
    }

    void taper(int r, int raceDay, int previousEnd) {
        const Race& race = season_.races[static_cast<size_t>(r)];
        TaperFrame t;
        t.race = r;
        t.raceDay = raceDay;
        const int length = season_.rules.taperShape == TaperShape::OneWeek && !season_.rules.shapeBest
                               ? std::min(7, season_.rules.taperDays)
                               : season_.rules.taperDays;
        t.window = raceDay - length;
        t.window = std::min(raceDay, std::max(t.window, previousEnd + 8));
        if (t.window < 0 && previousEnd < 0)
            warn("\"" + race.name + "\" is " + std::to_string(raceDay) +
                 " days from the start: the whole way there is taper.");
        t.first = std::min(firstTaperDay(t.window), raceDay);
        for (int w = frame_.weekOf(t.first); w < frame_.weekOf(raceDay); ++w)
            if (!week(w).set || *week(w).set != WeekKind::Race)
                setWeek(week(w), WeekKind::Taper,
                        "Taper: " + std::to_string(raceDay - t.window) + " days of unloading before " +
                            race.name + ".");
        frame_.tapers.push_back(t);
    }

    void secondary() {
        for (const int r : racesBy(season_, Priority::B)) {
            const Race& race = season_.races[static_cast<size_t>(r)];
            const int raceDay = race.date - season_.start;
            WeekFrame& at = week(frame_.weekOf(raceDay));
            if (at.set && *at.set == WeekKind::Taper)
                warn("\"" + race.name + "\" lies inside the taper of an A race.");
            else if (!at.set || *at.set == WeekKind::Recovery) {
                setWeek(at, WeekKind::Race, "Freshening for " + race.name + ".");
                frame_.freshened.push_back(r);
                spare(raceDay - 2, at.first - 1);
                // A race on a Monday or Tuesday is freshened for in the week before.
                if (weekday(race.date) <= 1 && at.first > 0) {
                    WeekFrame& before = week(frame_.weekOf(at.first - 1));
                    if (!before.set)
                        setWeek(before, WeekKind::Race, "Freshening for " + race.name + ".");
                }
            }
        }
    }

    /// A run of days away, whatever the reasons.
    struct Run {
        int from = 0, to = 0, ill = 0;
        bool camp = false;
    };

    std::vector<Run> runs() {
        // From what the coach said, so that a race ridden all the same does not make two absences of one.
        std::vector<std::int8_t> mark(static_cast<size_t>(days_), 0); // 1 away, 2 ill, 3 camp
        for (const Away& a : season_.away)
            for (int d = std::max(0, a.from - season_.start); d <= std::min(a.to - season_.start, days_ - 1);
                 ++d) {
                auto& at = mark[static_cast<size_t>(d)];
                at = a.why == AwayWhy::Camp      ? (at == 0 ? 3 : at)
                     : a.why == AwayWhy::Illness ? 2
                     : at == 2                   ? 2
                                                 : 1;
            }
        std::vector<Run> found;
        for (int d = 0; d < days_; ++d) {
            const auto at = mark[static_cast<size_t>(d)];
            if (at == 0)
                continue;
            if (found.empty() || found.back().to != d - 1 || found.back().camp != (at == 3))
                found.push_back({d, d, 0, at == 3});
            found.back().to = d;
            found.back().ill += at == 2 ? 1 : 0;
        }
        return found;
    }

    void away() {
        const std::vector<Run> all = runs();
        for (int w = 0; w < weekCount(); ++w) {
            int gone = 0, camp = 0;
            for (int d = week(w).first; d <= week(w).last; ++d) {
                gone += day(d).away ? 1 : 0;
                camp += day(d).camp ? 1 : 0;
            }
            if (anchored(w)) {
                if (camp > 0)
                    warn("A camp falls into the " + std::string(nameOf(*week(w).set)) + " week of " +
                         isoText(week(w).start) + "; its stress is carried and the race will feel it.");
                continue;
            }
            if (gone >= 4 || gone * 2 > week(w).length())
                setWeek(week(w), WeekKind::Break,
                        "Away: " + std::to_string(gone) + " days without training.");
            else if (camp >= 3)
                setWeek(week(w), WeekKind::Camp, "Camp.");
        }
        for (const Run& run : all)
            comeBack(run);
    }

    void comeBack(const Run& run) {
        const int length = run.to - run.from + 1, next = run.to + 1;
        if (run.camp) {
            if (next < days_ && anchored(frame_.weekOf(next)))
                warn("No recovery week fits after the camp that ends on " + dated(run.to) +
                     "; without it a camp gains nothing.");
            recover(run.to, "Recovery: the week after a camp is always one.");
            return;
        }
        // The return is counted in days, whatever weekday it begins on.
        if (run.ill > 0)
            lowOnly(next, run.to + std::clamp((run.ill + 1) / 2, 3, 14));
        if (run.ill >= 5) {
            spare(next, run.to + 5);
            lighten(next, run.to + 7, 0.50);
            lighten(run.to + 8, run.to + 14, 0.70);
            lighten(run.to + 15, run.to + 21, 0.85);
            returning(next, run.to + 21,
                      "Back from illness: weeks of 50, 70 and 85 % of the last build week.");
        } else if (length >= 7) {
            lighten(next, run.to + 7, 0.70);
            lighten(run.to + 8, run.to + 14, 0.85);
            returning(next, run.to + 14,
                      "Back after " + std::to_string(length) +
                          " days away: weeks of 70 and 85 % of the last build week.");
        }
    }

    /// The last week anything is built for: the week of the last A or B race, or the season's end without.
    int lastGoalWeek() {
        int last = -1;
        for (const Race& race : season_.races)
            if (race.priority != Priority::C)
                last = std::max(last, frame_.weekOf(race.date + (race.days - 1) - season_.start));
        return last < 0 ? weekCount() : last;
    }

    void edges() {
        const int goal = lastGoalWeek();
        double usual = 0;
        for (const double h : season_.hours)
            usual += h;
        // What is left after the last goal: some light weeks, then the next base where there is time for one.
        const int rest = weekCount() - 1 - goal, light = rest >= 8 ? 4 : rest;
        for (int w = 0; w < weekCount(); ++w) {
            if (week(w).set)
                continue;
            if (w > goal && w <= goal + light)
                setWeek(week(w), WeekKind::Transition,
                        "Nothing left to build for: light riding, a short hard session now and then.");
            else if (!week(w).whole())
                setWeek(week(w), WeekKind::Transition, "Part of a week at the edge of the season.");
            else if (week(w).nominalHours <= 0 && usual > 0)
                setWeek(week(w), WeekKind::Break, "No hours this week.");
        }
    }

    /// The weeks one cycle of base, build and specialise can fill without one of them growing too long.
    int longestCycle() const {
        const int block = season_.rules.buildWeeks + season_.rules.deloadWeeks;
        const auto whole = [&](int most) { return std::max(1, most / block) * block; };
        return std::max(12, std::min({whole(8) + whole(12) + whole(16) - 2, 34}));
    }

    /// Divides a year that is too long for one cycle: round a break or a B race where there is one, else by a
    /// week of transition.
    void cycles() {
        int from = 0;
        for (const TaperFrame& t : frame_.tapers) {
            divide(from, frame_.weekOf(t.first));
            from = frame_.weekOf(t.raceDay) + 1;
        }
        divide(from, weekCount());
    }

    void divide(int from, int to) {
        const int longest = longestCycle(), shortest = 8;
        while (to - from > longest) {
            // The last cycle as long as may be, but never leaving a stump before it.
            const int latest = std::max(to - longest - 1, from + shortest);
            int best = latest;
            double least = std::numeric_limits<double>::infinity();
            for (int w = std::max(from + shortest, latest); w <= std::min(latest + 8, to - 12); ++w) {
                const auto set = week(w).set;
                const bool free = !set,
                           broken = set && (*set == WeekKind::Break || *set == WeekKind::Transition);
                const bool afterRace =
                    w > 0 && week(w - 1).set && *week(w - 1).set == WeekKind::Race && (free || broken);
                const double cost =
                    (w - latest) + (broken ? -6 : 0) + (afterRace ? -4 : 0) + (free || broken ? 0 : 20);
                if (cost < least) {
                    least = cost;
                    best = w;
                }
            }
            if (!week(best).set)
                setWeek(week(best), WeekKind::Transition,
                        "A light week between two cycles of the year, with some days off the bicycle.");
            week(best).newCycle = true;
            to = best;
        }
    }

    void pins() {
        for (const WeekPin& pin : season_.weeks) {
            const int w = (pin.start - frame_.weeks.front().start) / 7;
            if (!pin.kind || pin.start < frame_.weeks.front().start || w >= weekCount())
                continue;
            if (anchored(w) && *pin.kind != *week(w).set)
                warn("The week of " + isoText(week(w).start) + " is pinned as " + nameOf(*pin.kind) +
                     " although a race makes it a " + nameOf(*week(w).set) + " week.");
            week(w).set = *pin.kind;
            week(w).pinned = true;
            week(w).why = "Pinned by the coach as " + std::string(nameOf(*pin.kind)) + ".";
        }
    }

    const Season& season_;
    SeasonFrame& frame_;
    int days_;
};

bool isPeakUnload(WeekKind kind, bool peak) {
    return kind == WeekKind::Taper || (kind == WeekKind::Race && peak);
}

/// Chooses build or deload for every week not yet set, at the least total cost.
class BlockCutter {
public:
    BlockCutter(const Season& season, SeasonFrame& frame, std::vector<bool> peakWeeks, bool early)
        : rules_(season.rules), weeks_(frame.weeks), peak_(std::move(peakWeeks)), early_(early) {
        for (const double h : season.hours)
            usualHours_ += h;
        best_.assign((weeks_.size() + 1) * states, unknown);
        choice_.assign(best_.size(), WeekKind::Build);
    }

    double cut() {
        const double least = cost(0, 0, 0);
        int builds = 0, unloads = 0;
        for (size_t w = 0; w < weeks_.size(); ++w) {
            weeks_[w].kind = choice_[index(w, builds, unloads)];
            step(w, weeks_[w].kind, builds, unloads);
        }
        return least;
    }

private:
    static constexpr int mostBuilds = 15, mostUnloads = 4, states = (mostBuilds + 1) * mostUnloads;
    static constexpr double unknown = -1;

    static size_t index(size_t w, int builds, int unloads) {
        return w * states + static_cast<size_t>(builds * mostUnloads + unloads);
    }

    /// Cost of making week w a `kind`, and the state after it: build weeks in a row, deload weeks in a row.
    double step(size_t w, WeekKind kind, int& builds, int& unloads) const {
        const double along = static_cast<double>(w) / static_cast<double>(weeks_.size());
        const double later = early_ ? 1 - along : along;
        const bool before = w > 0;
        const bool touching = before && unloads > 0;
        double price = 0;
        switch (kind) {
        case WeekKind::Build:
            if (unloads > 0 && unloads < rules_.deloadWeeks)
                price += 4;
            builds = std::min(builds + 1, mostBuilds);
            unloads = 0;
            return price;
        case WeekKind::Deload:
            if (builds > 0)
                price += blockCost(builds, rules_.buildWeeks, false, later);
            else if (unloads == 0 || unloads >= rules_.deloadWeeks)
                price += 8;
            builds = 0;
            unloads = std::min(unloads + 1, mostUnloads - 1);
            return price;
        case WeekKind::Taper:
        case WeekKind::Race:
            if (isPeakUnload(kind, peak_[w])) {
                if (builds > 0)
                    price += blockCost(builds, rules_.buildWeeks, true, later);
                if (touching)
                    price += 20;
            } else {
                if (builds > 0)
                    price += 0.5 * blockCost(builds, rules_.buildWeeks, false, later);
                if (touching)
                    price += 4;
            }
            break;
        case WeekKind::Camp:
            price += 0.3 * blockCost(builds + 1, rules_.buildWeeks, false, later) + (touching ? 1 : 0);
            break;
        case WeekKind::Recovery:
        case WeekKind::Transition:
        case WeekKind::Break:
            if (builds > 0)
                price += 0.3 * blockCost(builds, rules_.buildWeeks, false, later);
            if (touching)
                price += 3;
            break;
        }
        builds = 0;
        unloads = 0;
        return price;
    }

    double cost(size_t w, int builds, int unloads) {
        if (w == weeks_.size())
            return builds > 0 ? 0.1 * blockCost(builds, rules_.buildWeeks, false, 1) : 0;
        double& best = best_[index(w, builds, unloads)];
        if (best != unknown)
            return best;
        best = std::numeric_limits<double>::infinity();
        for (const WeekKind kind : {WeekKind::Build, WeekKind::Deload}) {
            const WeekKind chosen = weeks_[w].set.value_or(kind);
            int b = builds, u = unloads;
            double price = step(w, chosen, b, u);
            // A week with little time is best spent as the deload that is due anyway.
            const bool thin = usualHours_ > 0 && weeks_[w].openHours < 0.6 * usualHours_;
            if (!weeks_[w].set && thin && chosen == WeekKind::Build)
                price += 1.5;
            price += cost(w + 1, b, u);
            if (price < best) {
                best = price;
                choice_[index(w, builds, unloads)] = chosen;
            }
            if (weeks_[w].set)
                break;
        }
        return best;
    }

    const Rules& rules_;
    std::vector<WeekFrame>& weeks_;
    std::vector<bool> peak_;
    bool early_ = false;
    double usualHours_ = 0;
    std::vector<double> best_;
    std::vector<WeekKind> choice_;
};

void numberBlocks(SeasonFrame& frame) {
    int block = -1;
    bool building = false;
    for (WeekFrame& week : frame.weeks) {
        if (week.kind == WeekKind::Build) {
            if (!building)
                ++block;
            week.block = block;
            building = true;
        } else {
            if (week.kind == WeekKind::Deload)
                week.block = block;
            building = false;
        }
    }
}

/// Gives every week a phase: within each cycle base, build and specialise in the order of the season, each
/// of a sensible length.
class Phases {
public:
    Phases(const Season& season, SeasonFrame& frame) : season_(season), frame_(frame) {}

    void give() {
        int from = 0;
        bool first = true;
        for (const TaperFrame& t : frame_.tapers) {
            const int end = season_.races[static_cast<size_t>(t.race)].days - 1 + t.raceDay;
            const int to = frame_.weekOf(std::min(end, season_.dayCount() - 1)) + 1;
            approach(from, to, season_.races[static_cast<size_t>(t.race)].demand, true, first);
            from = std::max(from, to);
            first = false;
        }
        Demand demand = Demand::Unstated;
        bool goal = false;
        for (const Race& race : season_.races)
            if (race.priority == Priority::B && frame_.weekOf(race.date - season_.start) >= from) {
                goal = true;
                demand = race.demand;
            }
        approach(from, static_cast<int>(frame_.weeks.size()), demand, goal, first);
        count();
        intensity();
    }

private:
    WeekFrame& week(int w) { return frame_.weeks[static_cast<size_t>(w)]; }

    /// What it costs to change the phase on a Monday: nothing where a block begins or none is.
    double boundary(int w, int from, int end) {
        if (w <= from || w >= end)
            return 0;
        const WeekFrame &at = week(w), &last = week(w - 1);
        if (at.kind == WeekKind::Deload)
            return 400;
        return at.kind == WeekKind::Build && last.kind == WeekKind::Build && at.block == last.block ? 60 : 0;
    }

    static double beyond(double value, double most) { return value > most ? 1000 * (value - most) : 0; }

    void approach(int from, int to, Demand demand, bool peak, bool first) {
        std::vector<std::pair<int, int>> cycles;
        int begin = from;
        for (int w = from; w < to; ++w)
            if (week(w).newCycle) {
                cycles.emplace_back(begin, w + 1);
                begin = w + 1;
            }
        cycles.emplace_back(begin, to);
        for (size_t c = 0; c < cycles.size(); ++c)
            cycle(cycles[c].first, cycles[c].second, demand, peak && c + 1 == cycles.size(), first || c > 0,
                  !peak && !first && frame_.tapers.size() > 0);
    }

    /// Where the three parts of a cycle meet, at the least distance from their usual lengths.
    void cycle(int from, int to, Demand demand, bool peak, bool first, bool afterwards) {
        int end = to;
        if (peak)
            for (const TaperFrame& t : frame_.tapers)
                if (const int w = frame_.weekOf(t.first); w >= from && w < to)
                    end = std::min(end, w);
        const int n = std::max(0, end - from);
        std::array<Phase, 3> order{Phase::Base, Phase::Build, Phase::Specialise};
        std::array<double, 3> aim{};
        const double sharpen = peak ? (n <= 4 ? n : std::clamp(0.28 * n, 3.0, 8.0)) : 0;
        const double build = std::clamp(0.36 * n, 0.0, 12.0);
        // Nothing but a base where no race is built for, after the last one or in a short first cycle.
        if (afterwards || (!peak && first && n < 12 && season_.rules.order != Order::IntensityFirst)) {
            aim = {static_cast<double>(n), 0, 0};
        } else if (season_.rules.order == Order::IntensityFirst) {
            order = {Phase::Build, Phase::Base, Phase::Specialise};
            const double last = peak ? std::min<double>(n, 3) : 0, begins = std::clamp(0.4 * n, 4.0, 12.0);
            aim = {std::min<double>(begins, n - last), std::max(0.0, n - last - begins), last};
        } else if (!first) {
            // Between two A races: under six weeks what is there is kept sharp.
            const double base = n >= 12 ? 0.3 * n : 0;
            aim = {base, n < 6 ? 0 : n - base - sharpen, n < 6 ? n : sharpen};
        } else {
            aim = {std::max(0.0, n - build - sharpen), build, sharpen};
        }
        const std::array<double, 3> most{order[0] == Phase::Base ? 16.0 : 12.0,
                                         order[1] == Phase::Base ? 16.0 : 12.0, 8.0};
        int i = from, j = from;
        double least = std::numeric_limits<double>::infinity();
        for (int a = from; a <= end; ++a)
            for (int b = a; b <= end; ++b) {
                const std::array<double, 3> got{static_cast<double>(a - from), static_cast<double>(b - a),
                                                static_cast<double>(end - b)};
                double cost = boundary(a, from, end) + (b > a ? boundary(b, from, end) : 0);
                for (size_t k = 0; k < 3; ++k)
                    cost += (got[k] - aim[k]) * (got[k] - aim[k]) + beyond(got[k], most[k]);
                if (cost < least) {
                    least = cost;
                    i = a;
                    j = b;
                }
            }
        demands_.resize(frame_.weeks.size(), Demand::Unstated);
        for (int w = from; w < to; ++w) {
            const Phase current = n == 0  ? (first ? Phase::Base : Phase::Specialise)
                                  : w < i ? order[0]
                                  : w < j ? order[1]
                                  : j < end || (aim[2] > 0 && i == j) ? order[2]
                                  : j > i                             ? order[1]
                                                                      : order[0];
            week(w).phase = phaseOf(w, current);
            demands_[static_cast<size_t>(w)] = demand;
        }
    }

    Phase phaseOf(int w, Phase current) {
        switch (week(w).kind) {
        case WeekKind::Taper:
            return Phase::Taper;
        case WeekKind::Race:
            for (const TaperFrame& t : frame_.tapers) {
                const Race& race = season_.races[static_cast<size_t>(t.race)];
                const int end = std::min(t.raceDay + race.days - 1, season_.dayCount() - 1);
                if (frame_.weekOf(t.raceDay) <= w && w <= frame_.weekOf(end))
                    return Phase::Race;
            }
            for (const int r : frame_.freshened)
                if (const Race& race = season_.races[static_cast<size_t>(r)];
                    race.priority == Priority::A && frame_.weekOf(race.date - season_.start) == w)
                    return Phase::Race;
            return current;
        case WeekKind::Transition:
        case WeekKind::Recovery:
            return Phase::Transition;
        case WeekKind::Break:
            return Phase::Break;
        case WeekKind::Build:
        case WeekKind::Deload:
        case WeekKind::Camp:
            break;
        }
        return current;
    }

    /// A phase that is only interrupted by a break or a recovery goes on where it was.
    void count() {
        int run = 0, aside = 0;
        Phase running = Phase::Break;
        for (WeekFrame& week : frame_.weeks) {
            if (week.phase == Phase::Transition || week.phase == Phase::Break) {
                week.phaseWeek = aside++;
                if (week.newCycle || aside > 4)
                    running = Phase::Break;
                continue;
            }
            aside = 0;
            run = week.phase == running ? run + 1 : 0;
            running = week.phase;
            week.phaseWeek = run;
        }
    }

    /// Intensity-first begins with few hours and adds them later (common practice), where the hours are more
    /// than the rider's fitness takes anyway.
    bool fewHoursFirst() const {
        double hours = 0;
        for (const double h : season_.hours)
            hours += h;
        const double holds = 0.85 * hours * stressPerHour(Bands{0.8, 0.15, 0.05}, season_.lowThreshold) / 7;
        return season_.rules.order == Order::IntensityFirst && holds > 1.1 * season_.before.fitness;
    }

    double volume(Phase phase, Demand demand) const {
        const auto& said = season_.rules.volume;
        if (const auto found = said.find(phase); found != said.end())
            return found->second;
        if (phase == Phase::Build)
            return fewHoursFirst() ? 0.85 : 0.97;
        if (phase == Phase::Specialise)
            return demand == Demand::Long || demand == Demand::Stage ? 1.0
                   : demand == Demand::Punchy                        ? 0.85
                                                                     : 0.95;
        return 1;
    }

    void intensity() {
        const Rules& rules = season_.rules;
        Bands last = phaseSplit(rules, Phase::Build, Demand::Unstated);
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            WeekFrame& week = frame_.weeks[w];
            week.volume = volume(week.phase, demands_[w]);
            week.hardDays = phaseHardDays(rules, week.phase, week.phaseWeek);
            week.split = phaseSplit(rules, week.phase, demands_[w], week.phaseWeek);
            const bool own = rules.school == School::Own;
            // A taper keeps the intensity it follows, unless the coach has said otherwise.
            if ((week.phase == Phase::Taper || week.phase == Phase::Race)) {
                if (!own || !rules.ownSplits.contains(week.phase))
                    week.split = last;
                else if (week.split.high < last.high - 1e-9)
                    frame_.warnings.push_back("The taper's high band is set below that of the last build "
                                              "block; intensity is better kept.");
            }
            switch (week.kind) {
            case WeekKind::Deload:
                // Intensity is backed off; the coach's own split is kept.
                week.hardDays = std::min(week.hardDays, 1);
                if (!own)
                    week.split = softened(week.split, 0.85);
                break;
            case WeekKind::Recovery:
                week.hardDays = std::min(week.hardDays, 1);
                if (!own)
                    week.split = softened(week.split, 0.5);
                break;
            case WeekKind::Camp:
            case WeekKind::Break:
                week.hardDays = 0;
                break;
            case WeekKind::Build:
                // A little more than its share, so that the phase has it with its deloads and tests.
                if (!own && (week.phase == Phase::Build || week.phase == Phase::Specialise))
                    week.split = softened(week.split, 1.06);
                break;
            default:
                break;
            }
            if (week.kind == WeekKind::Build)
                last = week.split;
            if (frame_.layOff && week.first < 28)
                week.hardDays = std::min(week.hardDays, week.first < 14 ? 0 : 1);
            week.pointsPerHour = stressPerHour(week.split, season_.lowThreshold);
        }
    }

    static Bands softened(const Bands& split, double keep) {
        return {1 - keep * (split.middle + split.high), keep * split.middle, keep * split.high};
    }

    const Season& season_;
    SeasonFrame& frame_;
    std::vector<Demand> demands_;
};

void explainBlocks(const Season& season, SeasonFrame& frame) {
    std::map<int, int> builds;
    for (const WeekFrame& week : frame.weeks)
        if (week.kind == WeekKind::Build)
            ++builds[week.block];
    std::map<int, int> seen;
    for (WeekFrame& week : frame.weeks) {
        if (!week.why.empty())
            continue;
        if (week.kind == WeekKind::Build)
            week.why = "Build week " + std::to_string(++seen[week.block]) + " of " +
                       std::to_string(builds[week.block]) + " in block " + std::to_string(week.block + 1) +
                       ", " + nameOf(week.phase) + " phase.";
        else if (week.kind == WeekKind::Deload)
            week.why = "Deload after " + std::to_string(builds[week.block]) + " build weeks (rhythm " +
                       std::to_string(season.rules.buildWeeks) + ":" +
                       std::to_string(season.rules.deloadWeeks) + ").";
    }
}

void remarkOnPins(const Season& season, SeasonFrame& frame) {
    const auto unloaded = [](WeekKind k) { return k != WeekKind::Build && k != WeekKind::Camp; };
    int builds = 0;
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        builds = frame.weeks[w].kind == WeekKind::Build ? builds + 1 : 0;
        if (builds == season.rules.buildWeeks + 3)
            frame.warnings.push_back("The build weeks up to " + isoText(frame.weeks[w].start) +
                                     " run longer than the rhythm allows.");
        if (w < 3)
            continue;
        int light = 0;
        bool pinned = false;
        for (size_t i = w - 3; i <= w; ++i) {
            light += unloaded(frame.weeks[i].kind) ? 1 : 0;
            pinned = pinned || (frame.weeks[i].pinned && frame.weeks[i].kind == WeekKind::Deload);
        }
        if (light == 3 && pinned)
            frame.warnings.push_back(
                "With the pinned deload the rider is unloaded three weeks in four up to " +
                isoText(frame.weeks[w].start) + ".");
    }
}

} // namespace

double blockCost(int builds, int rhythm, bool intoTaper, double later) {
    const int off = builds - rhythm;
    if (off == 0)
        return 0;
    if (off == 1)
        return intoTaper ? 0.5 : 1.0 + 0.3 * (1 - later);
    if (off > 1)
        return (intoTaper ? 8.0 : 9.0) + 6.0 * (off - 2);
    if (intoTaper && builds == 1)
        return 20; // deload, one ordinary week and taper: unloaded three weeks in four
    if (off == -1)
        return intoTaper ? 1.0 : 1.2;
    return -3.0 * off;
}

double decideSkeleton(const Season& season, SeasonFrame& frame, bool longBlocksEarly) {
    Anchors(season, frame).place();
    std::vector<bool> peak(frame.weeks.size(), false);
    for (const TaperFrame& taper : frame.tapers)
        peak[static_cast<size_t>(frame.weekOf(taper.raceDay))] = true;
    const double cost = BlockCutter(season, frame, peak, longBlocksEarly).cut();
    numberBlocks(frame);
    Phases(season, frame).give();
    explainBlocks(season, frame);
    remarkOnPins(season, frame);
    for (TaperFrame& taper : frame.tapers)
        for (int w = 0; w < frame.weekOf(taper.first); ++w)
            if (frame.weeks[static_cast<size_t>(w)].kind == WeekKind::Build &&
                !thinBeside(frame, taper.lastBuildWeek, w))
                taper.lastBuildWeek = w;
    return cost;
}

bool thinBeside(const SeasonFrame& frame, int standard, int week) {
    return standard >= 0 && week - standard <= 6 &&
           frame.weeks[static_cast<size_t>(week)].nominalHours <
               0.8 * frame.weeks[static_cast<size_t>(standard)].nominalHours;
}

} // namespace marram
