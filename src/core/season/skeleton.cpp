// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace marram {
namespace {

/// Two A races closer than this cannot both be peaked for (common practice).
constexpr int peakDistance = 42;

WeekFrame& weekAt(SeasonFrame& frame, int day) {
    return frame.weeks[static_cast<size_t>(frame.weekOf(day))];
}

void setWeek(WeekFrame& week, WeekKind kind, std::string why) {
    week.set = kind;
    week.why = std::move(why);
}

/// The first day to unload for a taper window that opens on `window`: that day, or the Monday after it
/// where only the Sunday of a week would be left. Decided by the calendar alone, so that a change of hours
/// never moves the skeleton.
int firstTaperDay(const SeasonFrame& frame, int window) {
    if (window < 0)
        return 0;
    const WeekFrame& week = frame.weeks[static_cast<size_t>(frame.weekOf(window))];
    return window == week.last && week.length() > 1 ? week.last + 1 : window;
}

std::vector<int> racesBy(const Season& season, Priority priority) {
    std::vector<int> found;
    for (size_t r = 0; r < season.races.size(); ++r)
        if (season.races[r].priority == priority)
            found.push_back(static_cast<int>(r));
    std::sort(found.begin(), found.end(), [&](int a, int b) {
        return season.races[static_cast<size_t>(a)].date < season.races[static_cast<size_t>(b)].date;
    });
    return found;
}

void anchorPeaks(const Season& season, SeasonFrame& frame) {
    const std::vector<int> peaks = racesBy(season, Priority::A);
    if (peaks.size() > 2)
        frame.warnings.push_back("There are " + std::to_string(peaks.size()) +
                                 " A races; one or two a season can be peaked for.");
    int previousEnd = -1000;
    for (size_t i = 0; i < peaks.size(); ++i) {
        const Race& race = season.races[static_cast<size_t>(peaks[i])];
        TaperFrame taper;
        taper.race = peaks[i];
        taper.raceDay = race.date - season.start;
        taper.window = taper.raceDay - season.rules.taperDays;
        const int between = taper.raceDay - previousEnd - 1;
        if (i > 0 && between < peakDistance)
            frame.warnings.push_back("\"" + race.name + "\" comes " + std::to_string(between + 1) +
                                     " days after the A race before it; two A races closer than six weeks "
                                     "cannot both be peaked for.");
        if (between < 14)
            taper.window = std::max(taper.window, previousEnd + 1);
        else
            taper.window = std::max(taper.window, previousEnd + 8);
        // One that begins before the last is over shares its taper.
        taper.window = std::min(taper.window, taper.raceDay);
        if (taper.window < 0 && i == 0)
            frame.warnings.push_back("\"" + race.name + "\" is " + std::to_string(taper.raceDay) +
                                     " days from the start: the whole way there is taper.");
        taper.first = std::min(firstTaperDay(frame, taper.window), taper.raceDay);
        for (int w = frame.weekOf(taper.first); w < frame.weekOf(taper.raceDay); ++w)
            if (WeekFrame& week = frame.weeks[static_cast<size_t>(w)]; week.set != WeekKind::Race)
                setWeek(week, WeekKind::Taper,
                        "Taper: " + std::to_string(season.rules.taperDays) + " days of unloading before " +
                            race.name + ".");
        const int end = std::max(previousEnd, taper.raceDay + race.days - 1);
        for (int w = frame.weekOf(taper.raceDay); w <= frame.weekOf(end); ++w)
            setWeek(frame.weeks[static_cast<size_t>(w)], WeekKind::Race, "The week of " + race.name + ".");
        const size_t next = static_cast<size_t>(frame.weekOf(end)) + 1;
        if (weekday(race.date + (race.days - 1)) >= 3 && next < frame.weeks.size())
            setWeek(frame.weeks[next], WeekKind::Recovery, "Recovery after " + race.name + ".");
        frame.tapers.push_back(taper);
        previousEnd = end;
    }
}

void anchorSecondaryRaces(const Season& season, SeasonFrame& frame) {
    for (const int r : racesBy(season, Priority::B)) {
        const Race& race = season.races[static_cast<size_t>(r)];
        WeekFrame& week = weekAt(frame, race.date - season.start);
        if (!week.set)
            setWeek(week, WeekKind::Race, "Freshening for " + race.name + ".");
        else if (*week.set == WeekKind::Taper)
            frame.warnings.push_back("\"" + race.name + "\" lies inside the taper of an A race.");
    }
}

void anchorAway(SeasonFrame& frame) {
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        WeekFrame& week = frame.weeks[w];
        int camp = 0, away = 0;
        bool campEnds = false;
        for (int d = week.first; d <= week.last; ++d) {
            const auto i = static_cast<size_t>(d);
            camp += frame.days[i].camp ? 1 : 0;
            away += frame.days[i].away ? 1 : 0;
            campEnds =
                campEnds || (frame.days[i].camp && (i + 1 == frame.days.size() || !frame.days[i + 1].camp));
        }
        const bool anchored = week.set && (*week.set == WeekKind::Race || *week.set == WeekKind::Taper);
        if (anchored) {
            if (camp > 0)
                frame.warnings.push_back("A camp falls into the " + std::string(nameOf(*week.set)) +
                                         " week of " + isoText(week.start) +
                                         "; its stress is carried and the race will feel it.");
            continue;
        }
        if (away * 2 > week.length())
            setWeek(week, WeekKind::Break, "Away: " + std::to_string(away) + " days without training.");
        else if (camp >= 3)
            setWeek(week, WeekKind::Camp, "Camp.");
        if (!campEnds)
            continue;
        WeekFrame* after = camp >= 3 ? (w + 1 < frame.weeks.size() ? &frame.weeks[w + 1] : nullptr) : &week;
        if (after && (!after->set || *after->set == WeekKind::Transition))
            setWeek(*after, WeekKind::Recovery, "Recovery: the week after a camp is always one.");
        else if (after && (*after->set == WeekKind::Taper || *after->set == WeekKind::Race))
            frame.warnings.push_back("No recovery week fits after the camp that ends in the week of " +
                                     isoText(week.start) + "; without it a camp gains nothing.");
    }
}

/// The last week anything is built for: the week of the last A or B race, or the season's end without one.
size_t lastGoalWeek(const Season& season, const SeasonFrame& frame) {
    size_t last = 0;
    bool any = false;
    for (const Race& race : season.races)
        if (race.priority != Priority::C) {
            last = std::max(last, static_cast<size_t>(frame.weekOf(race.date - season.start)));
            any = true;
        }
    return any ? last : frame.weeks.size();
}

void anchorEdges(const Season& season, SeasonFrame& frame) {
    const size_t goal = lastGoalWeek(season, frame);
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        WeekFrame& week = frame.weeks[w];
        if (week.set)
            continue;
        if (w > goal)
            setWeek(week, WeekKind::Transition,
                    "Nothing left to build for: light riding, one short hard session a week.");
        else if (!week.whole())
            setWeek(week, WeekKind::Transition, "Part of a week at the edge of the season.");
        else if (week.nominalHours <= 0) {
            double usual = 0;
            for (const double h : season.hours)
                usual += h;
            if (usual > 0)
                setWeek(week, WeekKind::Break, "No hours this week.");
        }
    }
}

void applyPins(const Season& season, SeasonFrame& frame) {
    for (const WeekPin& pin : season.weeks) {
        const int w = (pin.start - frame.weeks.front().start) / 7;
        if (!pin.kind || pin.start < frame.weeks.front().start || w >= static_cast<int>(frame.weeks.size()))
            continue;
        WeekFrame& week = frame.weeks[static_cast<size_t>(w)];
        const bool anchor = week.set && (*week.set == WeekKind::Race || *week.set == WeekKind::Taper);
        if (anchor && *pin.kind != *week.set)
            frame.warnings.push_back("The week of " + isoText(week.start) + " is pinned as " +
                                     nameOf(*pin.kind) + " although a race makes it a " + nameOf(*week.set) +
                                     " week.");
        week.set = *pin.kind;
        week.pinned = true;
        week.why = "Pinned by the coach as " + std::string(nameOf(*pin.kind)) + ".";
    }
}

bool isPeakUnload(WeekKind kind, bool peak) {
    return kind == WeekKind::Taper || (kind == WeekKind::Race && peak);
}

/// Chooses build or deload for every week not yet set, at the least total cost.
class BlockCutter {
public:
    BlockCutter(const Season& season, SeasonFrame& frame, std::vector<bool> peakWeeks)
        : rules_(season.rules), weeks_(frame.weeks), peak_(std::move(peakWeeks)) {
        for (const double h : season.hours)
            usualHours_ += h;
        best_.assign((weeks_.size() + 1) * states, unknown);
        choice_.assign(best_.size(), WeekKind::Build);
    }

    void cut() {
        cost(0, 0, 0);
        int builds = 0, unloads = 0;
        for (size_t w = 0; w < weeks_.size(); ++w) {
            weeks_[w].kind = choice_[index(w, builds, unloads)];
            step(w, weeks_[w].kind, builds, unloads);
        }
    }

private:
    static constexpr int mostBuilds = 15, mostUnloads = 4, states = (mostBuilds + 1) * mostUnloads;
    static constexpr double unknown = -1;

    static size_t index(size_t w, int builds, int unloads) {
        return w * states + static_cast<size_t>(builds * mostUnloads + unloads);
    }

    /// Cost of making week w a `kind`, and the state after it: build weeks in a row, deload weeks in a row.
    double step(size_t w, WeekKind kind, int& builds, int& unloads) const {
        const double later = static_cast<double>(w) / static_cast<double>(weeks_.size());
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
            const bool thin = usualHours_ > 0 && weeks_[w].nominalHours < 0.6 * usualHours_;
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

/// The first week of the stretch that leads to each A race, and the race; the last entry has no race.
struct Approach {
    size_t from = 0, to = 0; ///< weeks, `to` excluded
    Demand demand = Demand::Unstated;
    bool first = true;
    bool peak = true;
};

std::vector<Approach> approaches(const Season& season, const SeasonFrame& frame) {
    std::vector<Approach> all;
    size_t from = 0;
    for (const TaperFrame& taper : frame.tapers) {
        const Race& race = season.races[static_cast<size_t>(taper.race)];
        const auto to = static_cast<size_t>(frame.weekOf(taper.raceDay)) + 1;
        all.push_back({from, to, race.demand, all.empty(), true});
        from = to;
    }
    all.push_back({from, frame.weeks.size(), Demand::Unstated, all.empty(), false});
    return all;
}

Phase phaseOfBlock(const Rules& rules, const Approach& approach, int nth, int count) {
    if (!approach.peak && !approach.first)
        return Phase::Build;
    const bool last = nth == count - 1;
    if (last && (count > 1 || !approach.first))
        return Phase::Specialise;
    if (!approach.first || count < 3)
        return rules.order == Order::BaseFirst && count == 1 && approach.first ? Phase::Base : Phase::Build;
    const double centre = (nth + 0.5) / count;
    switch (rules.order) {
    case Order::BaseFirst:
        return centre < 0.55 ? Phase::Base : Phase::Build;
    case Order::IntensityFirst:
        return centre < 0.45 ? Phase::Build : Phase::Base;
    case Order::Mixed:
        break;
    }
    return Phase::Build;
}

void givePhases(const Season& season, SeasonFrame& frame) {
    const auto plans = approaches(season, frame);
    for (const Approach& approach : plans) {
        int firstBlock = std::numeric_limits<int>::max(), lastBlock = -1;
        for (size_t w = approach.from; w < approach.to; ++w)
            if (frame.weeks[w].kind == WeekKind::Build) {
                firstBlock = std::min(firstBlock, frame.weeks[w].block);
                lastBlock = std::max(lastBlock, frame.weeks[w].block);
            }
        Phase current = approach.first ? Phase::Base : Phase::Build;
        Bands lastSplit = phaseSplit(season.rules, Phase::Specialise, approach.demand);
        for (size_t w = approach.from; w < approach.to; ++w) {
            WeekFrame& week = frame.weeks[w];
            switch (week.kind) {
            case WeekKind::Build:
                current =
                    phaseOfBlock(season.rules, approach, week.block - firstBlock, lastBlock - firstBlock + 1);
                [[fallthrough]];
            case WeekKind::Deload:
            case WeekKind::Camp:
                week.phase = current;
                break;
            case WeekKind::Taper:
                week.phase = Phase::Taper;
                break;
            case WeekKind::Race: {
                const int d = frame.weekOf(week.first);
                bool peak = false;
                for (const TaperFrame& t : frame.tapers)
                    peak = peak || frame.weekOf(t.raceDay) == d;
                week.phase = peak ? Phase::Race : current;
                break;
            }
            case WeekKind::Transition:
                week.phase = Phase::Transition;
                break;
            case WeekKind::Recovery:
                week.phase = w == approach.from && !approach.first ? Phase::Transition : current;
                break;
            case WeekKind::Break:
                week.phase = Phase::Break;
                break;
            }
            week.split = phaseSplit(season.rules, week.phase, approach.demand);
            if (week.kind == WeekKind::Build)
                lastSplit = week.split;
            // A taper keeps the intensity it follows, unless the coach has said otherwise.
            const bool own =
                season.rules.school == School::Own && season.rules.ownSplits.contains(week.phase);
            if ((week.phase == Phase::Taper || week.phase == Phase::Race) && !own)
                week.split = lastSplit;
            else if (week.phase == Phase::Taper && week.split.high < lastSplit.high - 1e-9)
                frame.warnings.push_back("The taper's high band is set below that of the last build block; "
                                         "intensity is better kept.");
            week.pointsPerHour = stressPerHour(week.split, season.lowThreshold);
        }
    }
}

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

void decideSkeleton(const Season& season, SeasonFrame& frame) {
    anchorPeaks(season, frame);
    anchorSecondaryRaces(season, frame);
    anchorAway(frame);
    anchorEdges(season, frame);
    applyPins(season, frame);
    std::vector<bool> peak(frame.weeks.size(), false);
    for (const TaperFrame& taper : frame.tapers)
        peak[static_cast<size_t>(frame.weekOf(taper.raceDay))] = true;
    BlockCutter(season, frame, peak).cut();
    numberBlocks(frame);
    givePhases(season, frame);
    explainBlocks(season, frame);
    remarkOnPins(season, frame);
    for (TaperFrame& taper : frame.tapers)
        for (int w = 0; w < frame.weekOf(taper.first); ++w)
            if (frame.weeks[static_cast<size_t>(w)].kind == WeekKind::Build)
                taper.lastBuildWeek = w;
}

} // namespace marram
