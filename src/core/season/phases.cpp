// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/skeleton.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <limits>

namespace marram {
namespace {

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

    /// The parts of a cycle of `n` weeks in their order, and how long each would be.
    struct Parts {
        std::array<Phase, 3> order{Phase::Base, Phase::Build, Phase::Specialise};
        std::array<double, 3> aim{};
    };
    static Parts intensityFirst(int n, bool peak) {
        const double last = peak ? std::min<double>(n, 3) : 0, begins = std::clamp(0.4 * n, 4.0, 12.0);
        Parts parts;
        parts.order = {Phase::Build, Phase::Base, Phase::Specialise};
        parts.aim = {std::min<double>(begins, n - last), std::max(0.0, n - last - begins), last};
        return parts;
    }

    Parts partsOf(int n, bool peak, bool first, bool afterwards) const {
        Parts parts;
        auto& [order, aim] = parts;
        const double sharpen = peak ? (n <= 4 ? n : std::clamp(0.28 * n, 3.0, 8.0)) : 0;
        const double build = std::clamp(0.36 * n, 0.0, 12.0);
        if (season_.races.empty()) {
            // Without a goal: base, then build, and the next cycle.
            aim = {0.55 * n, 0.45 * n, 0};
            if (season_.rules.order == Order::IntensityFirst) {
                order = {Phase::Build, Phase::Base, Phase::Specialise};
                aim = {0.45 * n, 0.55 * n, 0};
            }
        } else if (afterwards || // nothing but a base where no race is built for
                   (!peak && first && n < 12 && season_.rules.order != Order::IntensityFirst)) {
            aim = {static_cast<double>(n), 0, 0};
        } else if (season_.rules.order == Order::IntensityFirst) {
            parts = intensityFirst(n, peak);
        } else if (!first) {
            // Between two A races: under six weeks what is there is kept sharp.
            const double base = n >= 12 ? 0.3 * n : 0;
            aim = {base, n < 6 ? 0 : n - base - sharpen, n < 6 ? n : sharpen};
        } else {
            aim = {std::max(0.0, n - build - sharpen), build, sharpen};
        }
        return parts;
    }

    /// Of a taper that begins in these weeks; `to` where none does.
    int firstTaperWeek(int from, int to) const {
        int first = to;
        for (const TaperFrame& t : frame_.tapers)
            if (const int w = frame_.weekOf(t.first); w >= from && w < to)
                first = std::min(first, w);
        return first;
    }

    /// Where the three parts of a cycle meet, at the least distance from their usual lengths.
    void cycle(int from, int to, Demand demand, bool peak, bool first, bool afterwards) {
        const int end = peak ? firstTaperWeek(from, to) : to;
        const int n = std::max(0, end - from);
        const auto [order, aim] = partsOf(n, peak, first, afterwards);
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
        // What follows the second part, and the weeks of the taper themselves.
        const Phase behindThem = j < end || (aim[2] > 0 && i == j) ? order[2] : j > i ? order[1] : order[0];
        for (int w = from; w < to; ++w) {
            const Phase none = first ? Phase::Base : Phase::Specialise;
            week(w).phase = phaseOf(w, n == 0 ? none : w < i ? order[0] : w < j ? order[1] : behindThem);
            demands_[static_cast<size_t>(w)] = demand;
        }
    }

    /// What a week is called: by its kind, by the coach's pin, or by the cycle it lies in.
    Phase phaseOf(int w, Phase current) {
        for (const WeekPin& pin : season_.weeks)
            if (pin.phase && pin.start == week(w).start)
                current = *pin.phase;
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

    /// A taper keeps the intensity it follows, unless the coach has said otherwise.
    void taperSplit(WeekFrame& week, const Bands& last) {
        const Rules& rules = season_.rules;
        if (rules.school != School::Own || !rules.ownSplits.contains(week.phase))
            week.split = last;
        else if (week.split.high < last.high - 1e-9)
            frame_.warnings.push_back(phrase("The taper's high band is set below that of the last build "
                                             "block; intensity is better kept."));
    }

    void intensity() {
        const Rules& rules = season_.rules;
        Bands last = phaseSplit(rules, Phase::Build, Demand::Unstated);
        double practised = 0;
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            WeekFrame& week = frame_.weeks[w];
            week.practised = practised;
            week.newcomer = season_.before.fitness < 40;
            week.demand = demands_[w];
            week.volume = volume(week.phase, demands_[w]);
            week.hardDays = low_ ? 0 : phaseHardDays(rules, week.phase, week.phaseWeek);
            week.split = phaseSplit(rules, week.phase, demands_[w], week.phaseWeek);
            const bool own = rules.school == School::Own;
            if (week.phase == Phase::Base && rules.order == Order::BaseFirst && !own)
                holdHigh(week, week.phaseWeek < 8 ? 0 : 5.0 / 60);
            if (week.phase == Phase::Taper || week.phase == Phase::Race)
                taperSplit(week, last);
            byKind(week, own);
            if (week.kind == WeekKind::Build)
                last = week.split;
            if (frame_.layOff && week.first < oneHardDayUntil) {
                week.hardDays = std::min(week.hardDays, week.first < 14 ? 0 : 1);
                if (!own)
                    holdHigh(week, 0);
            }
            week.pointsPerHour = stressPerHour(week.split, season_.lowThreshold);
            practised += week.kind == WeekKind::Build ? std::min(1.0, week.hardDays / 2.0) : 0;
        }
        evenVolume();
    }

    /// What a kind of week keeps of its phase's intensity.
    static void byKind(WeekFrame& week, bool own) {
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
    }

    /// A block that runs over the edge of a phase fills what the smaller of them may, or it would fall.
    void evenVolume() {
        std::map<int, double> least;
        for (const WeekFrame& week : frame_.weeks)
            if (week.kind == WeekKind::Build)
                least[week.block] =
                    std::min(least.try_emplace(week.block, week.volume).first->second, week.volume);
        for (WeekFrame& week : frame_.weeks)
            if (week.kind == WeekKind::Build)
                week.volume = least[week.block];
    }

    /// Work above threshold at most so many hours a hard day; what the school had more of is ridden in the
    /// middle. A base that comes first has none for two months, then a little of it once a month; a rider who
    /// comes from nothing rides tempo first, whatever the order of the season (common practice).
    static void holdHigh(WeekFrame& week, double most) {
        week.highMost = most;
        const double share = week.nominalHours > 0 ? most * week.hardDays / week.nominalHours : 0;
        const double over = std::max(0.0, week.split.high - share);
        week.split.high -= over;
        week.split.middle += over;
    }

    static Bands softened(const Bands& split, double keep) {
        return {1 - keep * (split.middle + split.high), keep * split.middle, keep * split.high};
    }

    const Season& season_;
    SeasonFrame& frame_;
    std::vector<Demand> demands_;
    bool low_ = careOf(season_).lowOnly;
};

} // namespace

void givePhases(const Season& season, SeasonFrame& frame) {
    Phases(season, frame).give();
}

} // namespace marram
