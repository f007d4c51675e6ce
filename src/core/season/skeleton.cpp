// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/skeleton.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <limits>

namespace marram {
namespace {

bool isPeakUnload(WeekKind kind, bool peak) {
    return kind == WeekKind::Taper || (kind == WeekKind::Race && peak);
}

/// Chooses build or deload for every week not yet set, at the least total cost.
class BlockCutter {
public:
    BlockCutter(const Season& season, SeasonFrame& frame, std::vector<bool> peakWeeks, const CutWay& way)
        : rules_(season.rules), weeks_(frame.weeks), peak_(std::move(peakWeeks)), early_(way.early),
          rhythm_(std::max(1, season.rules.buildWeeks + way.lean)) {
        for (const double h : season.hours)
            usualHours_ += h;
        best_.assign((weeks_.size() + 1) * states, unknown);
        choice_.assign(best_.size(), WeekKind::Build);
    }

    /// Gives every week its kind; returns what that costs under the coach's own rhythm.
    double cut() {
        cost(0, 0, 0);
        std::vector<WeekKind> kinds;
        int builds = 0, unloads = 0;
        for (size_t w = 0; w < weeks_.size(); ++w) {
            kinds.push_back(choice_[index(w, builds, unloads)]);
            step(w, kinds.back(), builds, unloads);
        }
        rhythm_ = rules_.buildWeeks;
        early_ = false;
        builds = unloads = 0;
        double sum = 0;
        for (size_t w = 0; w < weeks_.size(); ++w) {
            weeks_[w].kind = kinds[w];
            sum += price(w, kinds[w], builds, unloads);
        }
        return sum + last(builds);
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
        if (kind == WeekKind::Build) {
            const double price = unloads > 0 && unloads < rules_.deloadWeeks ? 4 : 0;
            builds = std::min(builds + 1, mostBuilds);
            unloads = 0;
            return price;
        }
        if (kind == WeekKind::Deload) {
            double price = 0;
            if (builds > 0)
                price = blockCost(builds, rhythm_, false, later);
            else if (unloads == 0 || unloads >= rules_.deloadWeeks)
                price = 8;
            builds = 0;
            unloads = std::min(unloads + 1, mostUnloads - 1);
            return price;
        }
        const double price = endedBy(w, kind, builds, unloads, later);
        builds = 0;
        unloads = 0;
        return price;
    }

    /// Cost of a block that a race, a camp or a break ends.
    double endedBy(size_t w, WeekKind kind, int builds, int unloads, double later) const {
        const bool touching = w > 0 && unloads > 0;
        if (kind == WeekKind::Camp)
            return 0.3 * blockCost(builds + 1, rhythm_, false, later) + (touching ? 1 : 0);
        double part = 0.3, touches = 3;
        const bool peak = isPeakUnload(kind, peak_[w]);
        if (peak || kind == WeekKind::Race) {
            part = peak ? 1 : 0.5;
            touches = peak ? 20 : 4;
        }
        return (builds > 0 ? part * blockCost(builds, rhythm_, peak, later) : 0) + (touching ? touches : 0);
    }

    double price(size_t w, WeekKind kind, int& builds, int& unloads) const {
        // A week with little time is best spent as the deload that is due anyway.
        const bool thin = usualHours_ > 0 && weeks_[w].openHours < 0.6 * usualHours_;
        return step(w, kind, builds, unloads) + (!weeks_[w].set && thin && kind == WeekKind::Build ? 1.5 : 0);
    }

    double last(int builds) const { return builds > 0 ? 0.1 * blockCost(builds, rhythm_, false, 1) : 0; }

    double cost(size_t w, int builds, int unloads) {
        if (w == weeks_.size())
            return last(builds);
        double& best = best_[index(w, builds, unloads)];
        if (best != unknown)
            return best;
        best = std::numeric_limits<double>::infinity();
        for (const WeekKind kind : {WeekKind::Build, WeekKind::Deload}) {
            const WeekKind chosen = weeks_[w].set.value_or(kind);
            int b = builds, u = unloads;
            const double whole = price(w, chosen, b, u) + cost(w + 1, b, u);
            if (whole < best) {
                best = whole;
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
    int rhythm_;
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
            week.why = phrase("Build week %1 of %2 in block %3, %4 phase.",
                              std::to_string(++seen[week.block]), std::to_string(builds[week.block]),
                              std::to_string(week.block + 1), nameOf(week.phase));
        else if (week.kind == WeekKind::Deload)
            week.why =
                phrase("Deload after %1 build weeks (rhythm %2:%3).", std::to_string(builds[week.block]),
                       std::to_string(season.rules.buildWeeks), std::to_string(season.rules.deloadWeeks));
    }
}

void remarkOnPins(const Season& season, SeasonFrame& frame) {
    const auto unloaded = [](WeekKind k) { return k != WeekKind::Build && k != WeekKind::Camp; };
    int builds = 0;
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        builds = frame.weeks[w].kind == WeekKind::Build ? builds + 1 : 0;
        if (builds == season.rules.buildWeeks + 3)
            frame.warnings.push_back(phrase("The build weeks up to %1 run longer than the rhythm allows.",
                                            isoText(frame.weeks[w].start)));
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
                phrase("With the pinned deload the rider is unloaded three weeks in four up to %1.",
                       isoText(frame.weeks[w].start)));
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

double decideSkeleton(const Season& season, SeasonFrame& frame, const CutWay& way,
                      const std::vector<std::optional<WeekKind>>& promised) {
    placeAnchors(season, frame);
    restStumps(frame);
    // What was promised, and what was ridden, stays what it was.
    for (size_t w = 0; w < std::min(promised.size(), frame.weeks.size()); ++w)
        if (!frame.weeks[w].set && promised[w])
            frame.weeks[w].set = *promised[w];
    std::vector<bool> peak(frame.weeks.size(), false);
    for (const TaperFrame& taper : frame.tapers)
        peak[static_cast<size_t>(frame.weekOf(taper.raceDay))] = true;
    const double cost = BlockCutter(season, frame, peak, way).cut();
    numberBlocks(frame);
    givePhases(season, frame);
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
