// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/session.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double edge = 1e-9; ///< an edge belongs to what lies below it, whatever the last binary digit says
constexpr int longestRestBetween = 600;

int bandOf(double target, double lowThreshold) {
    return target <= lowThreshold + edge ? 0 : target <= 1 + edge ? 1 : 2;
}

double& in(Bands& bands, int band) {
    return band == 0 ? bands.low : band == 1 ? bands.middle : bands.high;
}

bool isWork(const Step& step, double lowThreshold) {
    return meanTarget(step) > lowThreshold + edge;
}

/// Whether a lone step is a set by itself: it never falls to the low threshold.
bool whollyOver(const Step& step, double lowThreshold) {
    return std::min(targetAt(step, 0), targetAt(step, 1)) > lowThreshold + edge;
}

class Unfolder {
public:
    explicit Unfolder(double lowThreshold) : low_(lowThreshold) {}

    std::vector<UnfoldedStep> run(const Session& session) {
        lay(session.items);
        return std::move(out_);
    }

private:
    bool holdsWork(const std::vector<Item>& items) const {
        return std::any_of(items.begin(), items.end(), [&](const Item& i) {
            return i.count > 0 ? holdsWork(i.part) : isWork(i.step, low_);
        });
    }
    /// A repetition with a rest between lies in here, and holds work.
    bool setsInside(const std::vector<Item>& items) const {
        return std::any_of(items.begin(), items.end(), [&](const Item& i) {
            return i.count > 0 && ((!i.rest.empty() && holdsWork(i.part)) || setsInside(i.part));
        });
    }

    void push(const Step& step, int set) { out_.push_back({step, isWork(step, low_), set}); }

    /// Everything inside a set, all of it with its number.
    void plain(const std::vector<Item>& items, int set) {
        for (const Item& item : items) {
            if (item.count == 0) {
                push(item.step, set);
                continue;
            }
            for (int n = 0; n < item.count; ++n) {
                plain(item.part, set);
                if (n + 1 < item.count)
                    for (const Step& r : item.rest)
                        push(r, set);
            }
        }
    }

    void lay(const std::vector<Item>& items) {
        for (const Item& item : items) {
            if (item.count == 0) {
                push(item.step, whollyOver(item.step, low_) ? ++sets_ : 0);
            } else if (!holdsWork(item.part)) {
                plain({item}, 0);
            } else if (setsInside(item.part)) {
                for (int n = 0; n < item.count; ++n) {
                    lay(item.part);
                    if (n + 1 < item.count)
                        for (const Step& r : item.rest)
                            push(r, 0);
                }
            } else {
                set(item);
            }
        }
    }

    /// Whether the rest between repetitions is so long that each is a set of its own.
    static bool restsLong(const Item& item, const std::vector<UnfoldedStep>& part, size_t end) {
        int work = 0, rest = 0;
        for (size_t i = 0; i < part.size(); ++i) {
            if (part[i].work)
                work += part[i].step.seconds;
            else if (i >= end)
                rest += part[i].step.seconds;
        }
        for (const Step& r : item.rest)
            rest += r.seconds;
        return rest > 2 * work || rest > longestRestBetween;
    }

    void set(const Item& item) {
        std::vector<UnfoldedStep> before = std::move(out_);
        out_.clear();
        plain(item.part, 0);
        std::vector<UnfoldedStep> part = std::move(out_);
        out_ = std::move(before);
        // What trails the last work of the part is rest, and no part of the set after its last repetition.
        size_t end = part.size();
        while (end > 0 && !part[end - 1].work)
            --end;
        const bool apart = restsLong(item, part, end);
        int number = ++sets_;
        for (int n = 0; n < item.count; ++n) {
            const bool last = n + 1 == item.count;
            if (apart && n > 0)
                number = ++sets_;
            for (size_t i = 0; i < part.size(); ++i)
                push(part[i].step, i < end || (!apart && !last) ? number : 0);
            if (!last)
                for (const Step& r : item.rest)
                    push(r, apart ? 0 : number);
        }
    }

    double low_;
    int sets_ = 0;
    std::vector<UnfoldedStep> out_;
};

/// 100 × hours × the square of the fourth root of the mean fourth power of full 30 s windows; under 30 s of
/// the plain mean.
double stressOf(const std::vector<double>& trace) {
    constexpr size_t window = 30;
    if (trace.empty())
        return 0;
    const double hours = static_cast<double>(trace.size()) / 3600;
    double sum = 0;
    if (trace.size() < window) {
        for (const double p : trace)
            sum += p;
        const double mean = sum / static_cast<double>(trace.size());
        return 100 * hours * mean * mean;
    }
    double fourth = 0;
    for (size_t t = 0; t < trace.size(); ++t) {
        sum += trace[t] - (t >= window ? trace[t - window] : 0);
        if (t + 1 >= window) {
            const double mean = sum / window;
            fourth += mean * mean * mean * mean;
        }
    }
    return 100 * hours * std::sqrt(fourth / static_cast<double>(trace.size() - window + 1));
}

} // namespace

double targetAt(const Step& step, double part) {
    constexpr std::array efforts{0.45, 0.55, 0.65, 0.72, 0.80, 0.87, 0.94, 1.02, 1.12};
    if (step.kind == TargetKind::Power)
        return step.from + (step.to - step.from) * part;
    if (step.kind == TargetKind::Effort && step.effort >= 1 && step.effort <= 9)
        return efforts[static_cast<size_t>(step.effort - 1)];
    return std::min(1.7, 1 + 60.0 / step.seconds);
}

double meanTarget(const Step& step) {
    return targetAt(step, 0.5);
}

SessionFigures figuresOf(const Session& session, double lowThreshold) {
    SessionFigures f;
    f.steps = Unfolder(lowThreshold).run(session);
    int sets = 0;
    for (const UnfoldedStep& s : f.steps) {
        f.seconds += s.step.seconds;
        sets = std::max(sets, s.set);
    }
    // The mean work target of every set.
    std::vector<double> target(static_cast<size_t>(sets) + 1, 0), seconds(target);
    for (const UnfoldedStep& s : f.steps)
        if (s.set > 0 && s.work) {
            target[static_cast<size_t>(s.set)] += meanTarget(s.step) * s.step.seconds;
            seconds[static_cast<size_t>(s.set)] += s.step.seconds;
            f.workSeconds += s.step.seconds;
        }
    std::vector<double> trace;
    trace.reserve(static_cast<size_t>(f.seconds));
    for (const UnfoldedStep& s : f.steps) {
        const auto set = static_cast<size_t>(s.set);
        const int purpose = s.set > 0 ? bandOf(target[set] / seconds[set], lowThreshold) : -1;
        // What is ridden evenly is counted at once.
        const bool even = s.step.kind != TargetKind::Power || s.step.from == s.step.to;
        const int stretch = even ? s.step.seconds : 1;
        for (int i = 0; i < s.step.seconds; i += stretch) {
            const double p = targetAt(s.step, (i + 0.5) / s.step.seconds);
            trace.insert(trace.end(), static_cast<size_t>(stretch), p);
            f.mean += p * stretch;
            const int band = bandOf(p, lowThreshold);
            in(f.band, band) += stretch;
            in(f.purpose, purpose >= 0 ? purpose : band) += stretch;
            size_t zone = 0;
            while (zone < zoneEdges.size() && p > zoneEdges[zone] + edge)
                ++zone;
            f.zone[zone] += stretch;
        }
    }
    if (f.seconds > 0)
        f.mean /= f.seconds;
    f.stress = stressOf(trace);
    return f;
}

namespace {

void movePower(std::vector<Item>& items, double by, double over) {
    // Whole points, as they are written.
    const auto moved = [&](double target) {
        return std::round(100 * std::max(std::min(over, target), target + by)) / 100;
    };
    for (Item& item : items) {
        movePower(item.part, by, over);
        Step& s = item.step;
        if (item.count == 0 && s.kind == TargetKind::Power && meanTarget(s) > over) {
            s.from = moved(s.from);
            s.to = moved(s.to);
        }
    }
}

} // namespace

Session withPowerMoved(Session session, int points, double over) {
    movePower(session.items, points / 100.0, over);
    return session;
}

} // namespace marram
