// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/choose.h"
#include "core/block/compose.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <set>

namespace marram {
namespace {

constexpr size_t mostFamilies = 4, beamWidth = 24, blockWeeks = 4;
constexpr int farthestExtra = 60; ///< ways to add tempo looked at on either side of what is missing
constexpr int mostAWeek = 2, mostAtARung = 2, leftAlone = 3;
constexpr size_t familyCount = 64; ///< of the book and a coach's own

/// One rung as work to be ridden, counted once.
struct Work {
    Session session;
    int seconds = 0;
    Bands purpose;
    double target = 0; ///< mean of its work, for the order of the days
    double fourth = 0; ///< sum of the fourth powers of its seconds
};

Work counted(const Session& session, double lowThreshold) {
    const SessionFigures f = figuresOf(session, lowThreshold);
    double work = 0, fourth = 0;
    int seconds = 0;
    for (const UnfoldedStep& s : f.steps) {
        fourth += s.step.seconds * std::pow(meanTarget(s.step), 4);
        if (s.work) {
            work += meanTarget(s.step) * s.step.seconds;
            seconds += s.step.seconds;
        }
    }
    return {session, f.seconds, f.purpose, seconds > 0 ? work / seconds : 0, fourth};
}

/// Where a rider stands in a family.
struct Standing {
    int rung = -1, times = 0, last = -99;
    bool finished = true;
    /// Two rungs down, as after illness or a week off.
    void fall() {
        rung = rung < 0 ? rung : std::max(0, rung - 2);
        times = 0;
    }
};

struct Chosen {
    size_t day = 0;
    int family = -1, rung = 0;
    bool light = false;
};

struct State {
    std::array<Standing, familyCount> at{};
    std::array<bool, familyCount> used{};
    size_t usedCount = 0;
    double cost = 0, high = 0, middle = 0, time = 0; ///< seconds over what was wanted, and ridden, so far
    std::vector<std::vector<Chosen>> picks;
    std::vector<int> longTempo;
    int tempoReached = 0; ///< s of tempo late in the last long ride that had some
};

class Chooser {
public:
    Chooser(const Season& season, const std::vector<WeekProblem>& weeks, const BlockBasis& basis)
        : low_(season.lowThreshold), weeks_(weeks), basis_(basis), all_(basis.book->all()) {
        for (const Family& family : all_) {
            std::vector<Work> rungs;
            for (size_t r = 0; r < family.rungs.size(); ++r)
                rungs.push_back(counted(rungOf(family, r), low_));
            works_.push_back(std::move(rungs));
        }
        State first;
        for (const DoneRung& d : basis.done) {
            const int f = indexOf(d.family);
            if (f < 0 || works_[static_cast<size_t>(f)].empty())
                continue;
            Standing& s = first.at[static_cast<size_t>(f)];
            const int rung =
                std::clamp(d.rung - 1, 0, static_cast<int>(works_[static_cast<size_t>(f)].size()) - 1);
            s.times = s.rung == rung ? s.times + 1 : 1;
            s.rung = rung;
            s.finished = d.finished;
            s.last = weeks.empty() ? -1 : (d.date - weeks.front().start - 6) / 7;
            shown_ = std::max(shown_, works_[static_cast<size_t>(f)][static_cast<size_t>(rung)].seconds);
        }
        // Two rungs down after each illness or week off since a family was last ridden.
        for (const Date back : basis.setBacks) {
            std::vector<bool> since(familyCount);
            for (const DoneRung& d : basis.done)
                if (const int f = indexOf(d.family); f >= 0 && d.date >= back)
                    since[static_cast<size_t>(f)] = true;
            for (size_t f = 0; f < familyCount; ++f)
                if (!since[f])
                    first.at[f].fall();
        }
        // Tempo in the long ride goes on from the last one: where that was not finished, not beyond it.
        if (const int f = indexOf("long ride"); f >= 0 && first.at[static_cast<size_t>(f)].rung >= 0) {
            const Standing& s = first.at[static_cast<size_t>(f)];
            first.tempoReached =
                std::max(600, works_[static_cast<size_t>(f)][static_cast<size_t>(s.rung)].seconds -
                                  (s.finished ? 0 : 600));
        }
        anyDone_ = !basis.done.empty();
        remember();
        first_ = first;
        beam_.push_back(first);
    }

    std::vector<WeekChoice> run() {
        for (size_t w = 0; w < weeks_.size(); ++w)
            step(w);
        const State& best = *std::min_element(beam_.begin(), beam_.end(),
                                              [](const State& a, const State& b) { return a.cost < b.cost; });
        std::vector<WeekChoice> all;
        for (size_t w = 0; w < weeks_.size(); ++w)
            all.push_back(choiceOf(w, best));
        alongside(all);
        return all;
    }

private:
    int indexOf(std::string_view name) const {
        for (size_t i = 0; i < all_.size() && i < familyCount; ++i)
            if (name == all_[i].name)
                return static_cast<int>(i);
        return -1;
    }

    /// How long a day's ride may be for what is in it: what the day has, and not much over what it is planned
    /// to take.
    static int room(const DaySlot& day) { return std::min(day.available, static_cast<int>(day.hours) + 900); }

    static bool isLight(const WeekProblem& week) {
        return week.kind != WeekKind::Build && week.kind != WeekKind::Camp;
    }
    static Lighter lightness(const WeekProblem& week) {
        return week.kind == WeekKind::Taper || week.kind == WeekKind::Race ? Lighter::Half
                                                                           : Lighter::OneFewer;
    }

    /// Rungs a family may be ridden at now.
    std::vector<int> rungsFor(int family, const Standing& s, bool light) const {
        const int count = static_cast<int>(works_[static_cast<size_t>(family)].size());
        std::vector<int> all;
        if (s.rung < 0) {
            for (int r = 0; r < count; ++r)
                // New to the family: what the rides already show, else the first.
                if (!anyDone_ || r == 0 ||
                    works_[static_cast<size_t>(family)][static_cast<size_t>(r)].seconds <= shown_)
                    all.push_back(r);
            return all;
        }
        if (light || !s.finished)
            return {s.rung};
        if (s.times < mostAtARung || s.rung + 1 >= count)
            all.push_back(s.rung);
        if (s.rung + 1 < count)
            all.push_back(s.rung + 1);
        return all;
    }

    /// Where a rider stands in a family after one more session of it; a lighter one passes no rung.
    static Standing after(Standing s, const Chosen& c) {
        if (c.light)
            return s;
        s.times = s.rung == c.rung && s.finished ? s.times + 1 : 1;
        s.rung = c.rung;
        s.finished = true;
        return s;
    }

    /// Low and middle seconds of the warm-up of a ride of some length.
    double warmMiddle(double seconds) const {
        const Frame frame = frameFor(static_cast<int>(seconds));
        const double top = frame.warm >= 900 ? 0.90 : 0.85;
        return std::clamp((top - low_) / (top - 0.5), 0.0, 1.0) * frame.warm;
    }

    /// Points a ride round some work costs beyond endurance alone of its length, steps being long beside the
    /// thirty seconds of smoothing.
    static double added(const Work& work, const DaySlot& day, double endurance) {
        const double length = std::max(day.hours, 1.0 * shortestAround(work.seconds));
        const Frame frame = frameFor(static_cast<int>(length));
        const double rest = std::max(0.0, length - work.seconds - frame.warm - frame.cool);
        const double fourth =
            work.fourth + 0.30 * frame.warm + 0.0625 * frame.cool + rest * std::pow(endurance, 4);
        return 100.0 / 3600 * (std::sqrt(fourth * length) - day.hours * endurance * endurance);
    }

    /// One way to give a week its hard days.
    struct Way {
        std::vector<Chosen> picks;
        double high = 0, middle = 0, cost = 0;
        double least = 0, most = 0; ///< points its hard days add to endurance of their length, at either end
        std::array<Standing, familyCount> at{};
        std::array<bool, familyCount> used{};
        size_t usedCount = 0;
    };

    const Work& workOf(const Chosen& c, const WeekProblem& week) {
        const auto f = static_cast<size_t>(c.family), r = static_cast<size_t>(c.rung);
        if (!c.light)
            return works_[f][r];
        const auto key = std::tuple{c.family, c.rung, static_cast<int>(lightness(week))};
        const auto found = light_.find(key);
        if (found != light_.end())
            return found->second;
        return light_[key] = counted(lighter(rungOf(all_[f], r), lightness(week)), low_);
    }

    void hardDays(const WeekProblem& week, const std::vector<size_t>& days,
                  const std::vector<int>& candidates, size_t n, int weekNumber, Way way,
                  std::vector<Way>& out) {
        if (n == days.size()) {
            out.push_back(std::move(way));
            return;
        }
        const DaySlot& day = week.days[days[n]];
        const bool fixed = day.family != nullptr;
        const bool light = isLight(week) && !(fixed && day.rung);
        const std::vector<int> own =
            fixed ? std::vector{static_cast<int>(day.family - all_.data())} : std::vector<int>();
        const std::vector<int>& mine = fixed ? own : candidates;
        bool any = false;
        for (size_t rank = 0; rank < mine.size(); ++rank) {
            const int family = mine[rank];
            const auto f = static_cast<size_t>(family);
            const long before = std::count_if(way.picks.begin(), way.picks.end(),
                                              [&](const Chosen& c) { return c.family == family; });
            if (!fixed && (before >= mostAWeek || (!way.used[f] && way.usedCount >= mostFamilies)))
                continue;
            const std::vector<int> rungs =
                fixed && day.rung ? std::vector{*day.rung} : rungsFor(family, way.at[f], light);
            for (const int rung : rungs) {
                const Chosen chosen{days[n], family, rung, light};
                const Work& work = workOf(chosen, week);
                if (!fixed && shortestAround(work.seconds) > room(day))
                    continue;
                any = true;
                Way next = way;
                next.picks.push_back(chosen);
                next.high += work.purpose.high;
                next.middle +=
                    work.purpose.middle + warmMiddle(std::max(day.hours, 1.0 * shortestAround(work.seconds)));
                next.least += added(work, day, 0.62);
                next.most += added(work, day, 0.70);
                // Families asked for first come first, a family more costs a little, freshest legs for the
                // hardest.
                next.cost += 0.00004 * static_cast<double>(rank) + (way.used[f] ? 0 : 0.0004) +
                             (before > 0 ? 0.0004 : 0) + strange(day, family, rung);
                if (!way.picks.empty()) {
                    const Work& last = workOf(way.picks.back(), week);
                    if (work.target > last.target + 0.02)
                        next.cost += 0.0006;
                }
                if (!next.used[f]) {
                    next.used[f] = true;
                    ++next.usedCount;
                }
                if (!light) {
                    Standing& s = next.at[f];
                    if (s.rung == rung && s.finished) {
                        ++s.times;
                        next.cost += 0.0002;
                    } else {
                        s.times = 1;
                    }
                    s.rung = rung;
                    s.finished = true;
                }
                next.at[f].last = weekNumber;
                hardDays(week, days, candidates, n + 1, weekNumber, std::move(next), out);
            }
        }
        // A day that holds none of them is endurance.
        if (!any)
            hardDays(week, days, candidates, n + 1, weekNumber, std::move(way), out);
    }

    /// Tempo that may be added to a week: late in the long ride, and on easy days away from the hard ones.
    struct Extra {
        int longTempo = 0;
        std::vector<Chosen> picks;
        double middle = 0, cost = 0, least = 0, most = 0;
    };

    std::vector<Extra> extrasOf(const WeekProblem& week, const State& from) {
        std::vector<Extra> all{{}};
        double hours = 0;
        for (const DaySlot& d : week.days)
            hours += d.hours / 3600;
        for (const DaySlot& d : week.days)
            if (d.role == Role::Long && !d.pinned && !d.besideHard && !isLight(week) && !tooEarly(d))
                for (const int minutes : {20, 30, 40, 50, 60})
                    if ((hours >= 6 || minutes <= 20) &&
                        (from.tempoReached == 0 || 60 * minutes <= from.tempoReached + 600) &&
                        d.hours >= minutes * 60 + 600 + 3600) {
                        // Tempo at 80 % in place of endurance.
                        const auto more = [&](double x) { return minutes / 60.0 * 100 * (0.64 - x * x); };
                        all.push_back({60 * minutes, {}, 60.0 * minutes, 0, more(0.62), more(0.70)});
                    }
        // After hours of work, where the race is long.
        const int late = indexOf("late efforts");
        if ((week.demand == Demand::Long || week.demand == Demand::Stage) && !isLight(week) &&
            (week.phase == Phase::Build || week.phase == Phase::Specialise) &&
            (from.used[static_cast<size_t>(late)] || from.usedCount < mostFamilies))
            for (size_t d = 0; d < week.days.size(); ++d)
                if (const DaySlot& day = week.days[d];
                    day.role == Role::Long && !day.pinned && !day.besideHard && !tooEarly(day))
                    for (const int rung : rungsFor(late, from.at[static_cast<size_t>(late)], false)) {
                        const Chosen c{d, late, rung, false};
                        const Work& work = workOf(c, week);
                        if (shortestWith(Lying::Late, work.seconds) <= day.hours)
                            all.push_back({0,
                                           {c},
                                           work.purpose.middle,
                                           -0.001,
                                           added(work, day, 0.62),
                                           added(work, day, 0.70)});
                    }
        std::vector<size_t> days;
        for (size_t d = 0; d < week.days.size(); ++d)
            if (week.days[d].role == Role::Easy && !week.days[d].pinned && week.days[d].hours >= 2700 &&
                !tooEarly(week.days[d]))
                days.push_back(d);
        std::sort(days.begin(), days.end(), [&](size_t a, size_t b) {
            // Away from the hard days first; where there is no other day, beside them.
            return std::pair(week.days[a].besideHard, -week.days[a].available) <
                   std::pair(week.days[b].besideHard, -week.days[b].available);
        });
        if (days.size() > 2)
            days.resize(2);
        const std::vector<Extra> plain = all;
        // What each of the days may be given, alone and together; of ways that come to the same the cheapest.
        std::map<std::pair<int, long>, Extra> together;
        const auto offer = [&](const std::vector<Chosen>& picks, double middle, double cost) {
            double least = 0, most = 0;
            for (const Chosen& c : picks) {
                least += added(workOf(c, week), week.days[c.day], 0.62);
                most += added(workOf(c, week), week.days[c.day], 0.70);
            }
            for (const Extra& e : plain) {
                Extra extra{e.longTempo,   e.picks,         e.middle + middle,
                            e.cost + cost, e.least + least, e.most + most};
                extra.picks.insert(extra.picks.end(), picks.begin(), picks.end());
                auto& best = together[{static_cast<int>(extra.picks.size()), std::lround(extra.middle / 60)}];
                if (best.picks.empty() || extra.cost < best.cost)
                    best = extra;
            }
        };
        std::vector<std::vector<Chosen>> options;
        for (const size_t d : days) {
            auto& mine = options.emplace_back();
            for (const char* name : {"tempo", "just under threshold", "low cadence"}) {
                const int family = indexOf(name);
                if ((!from.used[static_cast<size_t>(family)] && from.usedCount >= mostFamilies) ||
                    !allowed(all_[static_cast<size_t>(family)], basis_) ||
                    (name[0] == 'l' && week.phase == Phase::Specialise))
                    continue;
                for (const int rung : rungsFor(family, from.at[static_cast<size_t>(family)], isLight(week)))
                    if (const Chosen c{d, family, rung, isLight(week)};
                        shortestAround(workOf(c, week).seconds) <= room(week.days[d]))
                        mine.push_back(c);
            }
        }
        const auto middleOf = [&](const Chosen& c) {
            return workOf(c, week).purpose.middle + warmMiddle(week.days[c.day].hours);
        };
        const auto costOf = [&](const Chosen& c) { return week.days[c.day].besideHard ? 0.0015 : 0.0004; };
        for (const auto& mine : options)
            for (const Chosen& c : mine)
                offer({c}, middleOf(c), costOf(c));
        if (options.size() == 2)
            for (const Chosen& one : options[0])
                for (const Chosen& two : options[1]) {
                    // Two of a family follow each other as everywhere.
                    if (one.family == two.family) {
                        const bool inOrder = one.day < two.day;
                        const Chosen &first = inOrder ? one : two, &second = inOrder ? two : one;
                        const std::vector<int> then =
                            rungsFor(one.family, after(from.at[static_cast<size_t>(one.family)], first),
                                     isLight(week));
                        if (std::find(then.begin(), then.end(), second.rung) == then.end())
                            continue;
                    }
                    const size_t fresh =
                        (from.used[static_cast<size_t>(one.family)] ? 0U : 1U) +
                        (one.family != two.family && !from.used[static_cast<size_t>(two.family)] ? 1U : 0U);
                    if (from.usedCount + fresh <= mostFamilies)
                        offer(one.day < two.day ? std::vector{one, two} : std::vector{two, one},
                              middleOf(one) + middleOf(two), costOf(one) + costOf(two));
                }
        for (auto& [key, extra] : together)
            all.push_back(std::move(extra));
        std::sort(all.begin(), all.end(), [](const Extra& a, const Extra& b) { return a.middle < b.middle; });
        return all;
    }

    void step(size_t w) {
        const WeekProblem& week = weeks_[w];
        if (stays(w))
            return stay(w);
        std::vector<size_t> hard;
        double fixedHigh = 0, fixedMiddle = 0, fixedStress = 0, time = 0;
        for (size_t d = 0; d < week.days.size(); ++d) {
            const DaySlot& day = week.days[d];
            time += day.rides() ? day.hours : 0;
            const bool longRide = day.role == Role::Long && (!day.family || day.family->name == "long ride");
            if (day.works() && !(day.family && day.family->work.empty()) && !longRide &&
                day.role != Role::Test && day.role != Role::Openers)
                hard.push_back(d);
            if (day.words) {
                const SessionFigures f = figuresOf(*day.words, low_);
                fixedStress += f.stress - 100 * day.hours / 3600 * 0.65 * 0.65;
                fixedHigh += f.purpose.high;
                fixedMiddle += f.purpose.middle;
            } else if (longRide && day.family && day.rung) {
                fixedMiddle += secondsOfRung(day);
                fixedStress += secondsOfRung(day) / 3600 * 100 * (0.64 - 0.65 * 0.65);
            }
            if (const auto test = testFor(week, day)) {
                fixedStress += added(counted(rungOf(*test, 0), low_), day, 0.65);
                fixedHigh += counted(rungOf(*test, 0), low_).purpose.high;
                fixedMiddle += counted(rungOf(*test, 0), low_).purpose.middle + warmMiddle(day.hours);
            }
            if (day.role == Role::Openers && day.hours >= 1800) {
                fixedHigh += counted(rungOf(*basis_.book->named("openers"), 0), low_).purpose.high;
                fixedMiddle += warmMiddle(day.hours);
            }
        }
        std::vector<int> candidates;
        for (const char* name : familiesOf(week.phase, week.demand, week.phase == Phase::Base && late(w)))
            if (allowed(*basis_.book->named(name), basis_))
                candidates.push_back(indexOf(name));
        for (size_t f = 0; f < all_.size() && f < familyCount; ++f)
            if (all_[f].own && !all_[f].work.empty() && allowed(all_[f], basis_) &&
                std::find(all_[f].phases.begin(), all_[f].phases.end(), phaseName(week.phase)) !=
                    all_[f].phases.end() &&
                std::find(candidates.begin(), candidates.end(), static_cast<int>(f)) == candidates.end())
                candidates.insert(candidates.begin(), static_cast<int>(f));
        // Days too short for anything else.
        for (const size_t d : hard)
            if (week.days[d].available < 3300 &&
                (candidates.empty() || candidates.back() != indexOf("short on time")))
                candidates.push_back(indexOf("short on time"));
        std::vector<State> next;
        bool fresh = false;
        for (const State& from : beam_) {
            Way begin;
            begin.at = from.at;
            begin.used = from.used;
            begin.usedCount = from.usedCount;
            // Four families are for one block; where more weeks are asked for, the next may take others.
            if (w >= lastFresh_ + blockWeeks &&
                (week.phase != weeks_[w - 1].phase ||
                 (week.kind == WeekKind::Build && weeks_[w - 1].kind != WeekKind::Build)))
                fresh = true;
            if (fresh) {
                begin.used.fill(false);
                begin.usedCount = 0;
            }
            if (time <= 0) // a week off: two rungs down
                for (Standing& s : begin.at)
                    s.fall();
            for (const DaySlot& day : week.days)
                if (day.words && day.family)
                    take(begin, day.family->name, day.rung.value_or(-1), static_cast<int>(w));
            std::vector<Way> ways;
            hardDays(week, hard, candidates, 0, static_cast<int>(w), begin, ways);
            State standing = from;
            standing.used = begin.used;
            standing.usedCount = begin.usedCount;
            const std::vector<Extra> extras = extrasOf(week, standing);
            struct Scored {
                double cost;
                size_t way, extra;
            };
            std::vector<Scored> scored;
            const double total = std::max(3600.0, from.time + time);
            for (size_t i = 0; i < ways.size(); ++i) {
                const Way& way = ways[i];
                const double high = from.high + fixedHigh + way.high - week.purpose.high;
                const double bare = from.middle + fixedMiddle + way.middle - week.purpose.middle;
                // The tempo that makes up what is missing in the middle, the nearest on either side that is
                // of other families than the hard days.
                std::array<int, familyCount> hardOnes{}, hardRung{};
                for (const Chosen& y : way.picks) {
                    const auto f = static_cast<size_t>(y.family);
                    hardRung[f] = hardOnes[f]++ == 0 || hardRung[f] == y.rung ? y.rung : -1;
                }
                const auto clashes = [&](const Extra& e) {
                    for (const Chosen& x : e.picks) {
                        const auto f = static_cast<size_t>(x.family);
                        if (!way.used[f] && way.usedCount + e.picks.size() > mostFamilies)
                            return true;
                        if (hardOnes[f] == 0)
                            continue;
                        // A family of the hard days may be ridden again at their rung, as often as a rung
                        // may.
                        const int extraOnes = static_cast<int>(
                            std::count_if(e.picks.begin(), e.picks.end(),
                                          [&](const Chosen& o) { return o.family == x.family; }));
                        if (hardRung[f] != x.rung || hardOnes[f] + extraOnes > mostAWeek ||
                            (!x.light && way.at[f].times + extraOnes > mostAtARung))
                            return true;
                    }
                    return false;
                };
                const auto middlePlace =
                    std::lower_bound(extras.begin(), extras.end(), -bare,
                                     [](const Extra& e, double v) { return e.middle < v; });
                for (int side = 0; side < 2; ++side) {
                    auto above = middlePlace;
                    if (side == 0) {
                        for (int n = 0; above != extras.end() && clashes(*above); ++above)
                            if (++n > farthestExtra) {
                                above = extras.end();
                                break;
                            }
                        if (above == extras.end())
                            continue;
                    } else {
                        bool found = false;
                        for (int n = 0; n < farthestExtra && above != extras.begin() && !found; ++n) {
                            --above;
                            found = !clashes(*above);
                        }
                        if (!found)
                            continue;
                    }
                    const double middle = bare + above->middle;
                    const double h = high / total, m = middle / total;
                    // Whether the week's points can be met between endurance at either end.
                    const double ride = 100 * time / 3600;
                    const double least = 0.95 * 0.3844 * ride + fixedStress + way.least + above->least,
                                 most = 1.03 * 0.49 * ride + fixedStress + way.most + above->most;
                    const double over = week.stress > 0
                                            ? std::max({0.0, least / week.stress - 1, 1 - most / week.stress})
                                            : 0;
                    double cost = from.cost + way.cost + h * h + m * m + 0.2 * std::abs(h) +
                                  0.1 * std::abs(m) + above->cost + 0.4 * over;
                    for (size_t f = 0; f < familyCount; ++f)
                        if (way.used[f] && way.at[f].last >= 0 &&
                            static_cast<int>(w) - way.at[f].last > leftAlone)
                            cost += 0.002;
                    scored.push_back({cost, i, static_cast<size_t>(above - extras.begin())});
                }
            }
            const size_t keep = std::min(scored.size(), beamWidth);
            std::partial_sort(scored.begin(), scored.begin() + static_cast<long>(keep), scored.end(),
                              [](const Scored& a, const Scored& b) { return a.cost < b.cost; });
            for (size_t k = 0; k < keep; ++k) {
                const Way& way = ways[scored[k].way];
                const Extra& extra = extras[scored[k].extra];
                State s = from;
                s.at = way.at;
                s.used = way.used;
                s.usedCount = way.usedCount;
                s.cost = scored[k].cost;
                s.high += fixedHigh + way.high - week.purpose.high;
                s.middle += fixedMiddle + way.middle + extra.middle - week.purpose.middle;
                s.time += time;
                std::vector<Chosen> picks = way.picks;
                for (const Chosen& c : extra.picks) {
                    const auto f = static_cast<size_t>(c.family);
                    picks.push_back(c);
                    if (!s.used[f]) {
                        s.used[f] = true;
                        ++s.usedCount;
                    }
                    s.at[f] = after(s.at[f], c);
                    s.at[f].last = static_cast<int>(w);
                }
                s.picks.push_back(std::move(picks));
                s.longTempo.push_back(extra.longTempo);
                if (extra.longTempo > 0)
                    s.tempoReached = extra.longTempo;
                next.push_back(std::move(s));
            }
        }
        if (fresh)
            lastFresh_ = w;
        const size_t keep = std::min(next.size(), beamWidth);
        std::partial_sort(next.begin(), next.begin() + static_cast<long>(keep), next.end(),
                          [](const State& a, const State& b) { return a.cost < b.cost; });
        next.resize(keep);
        beam_ = std::move(next);
    }

    /// The second half of a base, by the split it is given: work over the low threshold is a fair part of it.
    bool late(size_t w) const {
        const Bands& p = weeks_[w].purpose;
        return p.sum() > 0 && (p.middle + p.high) / p.sum() > 0.12;
    }

    /// The test a day is given: kinds alternate, a threshold test only where the day holds it.
    const Family* testFor(const WeekProblem& week, const DaySlot& day) const {
        if (day.role != Role::Test || !day.rides() || day.words)
            return nullptr;
        if (day.family && !day.family->work.empty())
            return day.family;
        const Family* threshold = basis_.book->named("threshold test");
        const Family* check = basis_.book->named("aerobic check");
        if (week.tests % 2 == 1 && room(day) >= shortestAround(1200))
            return threshold;
        return room(day) >= shortestAround(2400)   ? check
               : room(day) >= shortestAround(1200) ? threshold
                                                   : nullptr;
    }

    WeekChoice choiceOf(size_t w, const State& state) {
        const WeekProblem& week = weeks_[w];
        WeekChoice choice;
        choice.onDay.resize(week.days.size());
        choice.longTempo = state.longTempo[w];
        for (size_t d = 0; d < week.days.size(); ++d)
            if (const Family* test = testFor(week, week.days[d])) {
                const Work work = counted(rungOf(*test, 0), low_);
                choice.onDay[d] = Pick{test, 0, work.session, work.seconds,
                                       "A test at the end of a lighter week; kinds alternate."};
            }
        for (const Chosen& c : state.picks[w]) {
            const Work& work = workOf(c, week);
            const Family& family = all_[static_cast<size_t>(c.family)];
            std::string why = "Rung " + std::to_string(c.rung + 1) + " of " +
                              std::to_string(family.rungs.size()) + ", for " + family.purpose;
            if (c.light)
                why += lightness(week) == Lighter::Half ? ", with half of its repetitions: the race is near"
                                                        : ", with a repetition fewer: a lighter week";
            else if (w > 0 || anyDone_)
                why += std::string("; it grows by ") + family.grows;
            if (week.days[c.day].role == Role::Easy)
                why += "; tempo beside the hard days makes up the middle of the split";
            if (week.days[c.day].pinned)
                why += "; the coach put it here";
            choice.onDay[c.day] = Pick{&family, c.rung, work.session, work.seconds, why + "."};
        }
        for (const DaySlot& day : week.days)
            if (day.role == Role::Long && day.family && day.family->name == "long ride" && day.rung &&
                !day.words) {
                const SessionFigures f = figuresOf(day.family->work[static_cast<size_t>(*day.rung)], low_);
                choice.longTempo = f.seconds;
                choice.longTarget = static_cast<int>(std::lround(100 * f.mean));
            }
        return choice;
    }

    /// Sprints on the first easy day of a block, fresh, where the race asks for them, and drills in an easy
    /// ride of base: beside the hard days, where the block has fewer than four families.
    void alongside(std::vector<WeekChoice>& all) {
        const int drilled =
            std::max(0, first_.at[static_cast<size_t>(indexOf("endurance with drills"))].rung);
        int sprints = first_.at[static_cast<size_t>(indexOf("sprints"))].rung, drills = 0;
        for (size_t w = 0; w < all.size(); ++w) {
            const WeekProblem& week = weeks_[w];
            const bool first =
                week.kind == WeekKind::Build &&
                (w == 0 || weeks_[w - 1].kind != WeekKind::Build || weeks_[w - 1].phase != week.phase);
            // Four families over any four weeks, whichever are looked at together.
            std::set<std::string> used;
            for (size_t v = w < 3 ? 0 : w - 3; v < all.size() && v < w + blockWeeks; ++v)
                for (const auto& pick : all[v].onDay)
                    if (pick)
                        used.insert(pick->family->name);
            const bool fast = week.demand == Demand::Punchy || week.demand == Demand::Road;
            const char* name =
                week.phase == Phase::Base && week.kind == WeekKind::Build ? "endurance with drills"
                : first && fast && (week.phase == Phase::Build || week.phase == Phase::Specialise) ? "sprints"
                                                                                                   : nullptr;
            if (!name || (used.size() >= mostFamilies && !used.contains(name)) || stays(w))
                continue;
            const Family& family = *basis_.book->named(name);
            const bool sprinting = std::string_view(name) == "sprints";
            const int last = static_cast<int>(family.work.size()) - 1;
            if (last < 0 || !allowed(family, basis_))
                continue;
            for (size_t d = 0; d < week.days.size(); ++d) {
                const DaySlot& day = week.days[d];
                const int rung = std::min(last, sprinting ? sprints + 1 : drilled + drills / 2);
                const SessionFigures f = figuresOf(family.work[static_cast<size_t>(rung)], low_);
                if (day.role != Role::Easy || day.pinned || all[w].onDay[d] || tooEarly(day) ||
                    shortestWith(Lying::Within, f.seconds) > day.hours)
                    continue;
                ++(sprinting ? sprints : drills);
                all[w].onDay[d] = Pick{
                    &family, rung, family.work[static_cast<size_t>(rung)], f.seconds,
                    sprinting ? "The first easy day of a block: short sprints on fresh legs, with little "
                                "to recover from."
                              : "Skill and cadence inside an easy ride; it costs no recovery."};
                break;
            }
        }
    }

    static double secondsOfRung(const DaySlot& day) {
        return figuresOf(day.family->work[static_cast<size_t>(*day.rung)]).seconds;
    }
    static const char* phaseName(Phase phase) {
        return nameOf(phase == Phase::Taper || phase == Phase::Race ? Phase::Specialise : phase);
    }
    /// Whether a rider who is ill or in return rides only easily on that day.
    bool tooEarly(const DaySlot& day) const { return basis_.easyUntil && day.date < *basis_.easyUntil; }

    /// The family and rung of each day of the last answer.
    void remember() {
        if (basis_.last)
            for (const BlockWeek& week : basis_.last->weeks)
                for (const BlockSession& s : week.sessions)
                    if (s.rung > 0)
                        before_[s.date] = {indexOf(s.family), s.rung - 1};
    }
    /// What it costs to differ from the last answer.
    double strange(const DaySlot& day, int family, int rung) const {
        const auto was = before_.find(day.date);
        return was == before_.end() || was->second == std::pair{family, rung} ? 0 : 0.004;
    }
    const BlockWeek* weekBefore(size_t w) const {
        if (basis_.last)
            for (const BlockWeek& week : basis_.last->weeks)
                if (week.start == weeks_[w].start)
                    return &week;
        return nullptr;
    }
    /// A week before the edit stays as it is.
    bool stays(size_t w) const {
        return basis_.touched && weekBefore(w) && weeks_[w].start + 7 <= *basis_.touched;
    }
    template <class Where>
    void take(Where& to, const std::string& family, int rung, int week) {
        const int f = indexOf(family);
        if (f < 0)
            return;
        const auto at = static_cast<size_t>(f);
        if (!to.used[at]) {
            to.used[at] = true;
            ++to.usedCount;
        }
        if (rung >= 0)
            to.at[at] = after(to.at[at], {0, f, rung, false});
        to.at[at].last = week;
    }
    void stay(size_t w) {
        const BlockWeek& was = *weekBefore(w);
        for (State& s : beam_) {
            for (const BlockSession& b : was.sessions)
                if (b.rung > 0 && b.role != Role::Long)
                    take(s, b.family, isLight(weeks_[w]) ? -1 : b.rung - 1, static_cast<int>(w));
            s.high += was.sum.purpose.high - weeks_[w].purpose.high;
            s.middle += was.sum.purpose.middle - weeks_[w].purpose.middle;
            s.time += was.sum.purpose.sum();
            s.picks.emplace_back();
            s.longTempo.push_back(was.longTempo);
            if (was.longTempo > 0)
                s.tempoReached = was.longTempo;
        }
        beam_.resize(1);
    }

    double low_;
    const std::vector<WeekProblem>& weeks_;
    const BlockBasis& basis_;
    const std::vector<Family>& all_;
    std::map<Date, std::pair<int, int>> before_;
    std::vector<std::vector<Work>> works_;
    std::map<std::tuple<int, int, int>, Work> light_;
    std::vector<State> beam_;
    State first_;          ///< before the first week
    size_t lastFresh_ = 0; ///< the week whose block began with no family taken
    bool anyDone_ = false;
    int shown_ = 0; ///< the most work done, s
};

} // namespace

std::vector<WeekChoice> chooseSessions(const Season& season, const std::vector<WeekProblem>& weeks,
                                       const BlockBasis& basis) {
    return Chooser(season, weeks, basis).run();
}

} // namespace marram
