// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/efforts.h"
#include "core/ride/meanmax.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Sums of power up to each second of a part of a ride, so that the mean of any stretch in it is one
/// subtraction. Seconds count from the start of the ride.
class Sums {
public:
    Sums(const Ride& ride, Stretch part)
        : first_(part.begin), sums_(static_cast<size_t>(part.length()) + 1, 0) {
        for (int t = part.begin; t < part.end; ++t) {
            const float now = ride.power[static_cast<size_t>(t)];
            at(t + 1) = at(t) + (std::isnan(now) ? 0 : static_cast<double>(now));
        }
    }
    double mean(int begin, int end) const {
        begin = std::max(first_, begin);
        end = std::min(end, first_ + static_cast<int>(sums_.size()) - 1);
        return end > begin ? (sums_[index(end)] - sums_[index(begin)]) / (end - begin) : 0;
    }
    double mean(Stretch s) const { return mean(s.begin, s.end); }

private:
    size_t index(int t) const { return static_cast<size_t>(t - first_); }
    double& at(int t) { return sums_[index(t)]; }
    int first_;
    std::vector<double> sums_;
};

struct Levels {
    double open, hold; ///< W
};

/// Stretches of [in.begin, in.end) held over a level, dips bridged.
std::vector<Stretch> held(const Sums& power, Stretch in, Levels level) {
    const auto around = [&](int t) { return power.mean(std::max(in.begin, t - 2), std::min(in.end, t + 3)); };
    std::vector<Stretch> found;
    for (int t = in.begin; t < in.end; ++t) {
        if (around(t) < level.open)
            continue;
        int begin = t, last = t;
        while (begin > in.begin && around(begin - 1) >= level.hold)
            --begin;
        for (++t; t < in.end; ++t) {
            if (around(t) >= level.hold) {
                last = t;
                continue;
            }
            const int dip = std::min(15, 5 + (last - begin) / 10);
            if (t - last > dip)
                break;
        }
        Stretch s{begin, last + 1};
        // The five-second mean rounds the corners: single seconds find them again.
        while (s.length() > 3 && power.mean(s.begin, s.begin + 1) < level.hold)
            ++s.begin;
        while (s.length() > 3 && power.mean(s.end - 1, s.end) < level.hold)
            --s.end;
        found.push_back(s);
    }
    return found;
}

bool hardForItsLength(const Sums& power, Stretch s, double threshold) {
    const double part = power.mean(s) / threshold;
    const int n = s.length();
    return n >= 4 && part >= (n >= 240 ? 0.80 : n >= 60 ? 0.90 : n >= 30 ? 1.0 : n >= 10 ? 1.1 : 1.5);
}

/// A long effort made of clearly harder parts is those parts.
std::vector<Stretch> partsOf(const Sums& power, Stretch whole, double threshold) {
    std::vector<Stretch> parts;
    double hard = 0, easySum = 0;
    int hardSeconds = 0;
    for (const Stretch& s : held(power, whole, {1.0 * threshold, 0.9 * threshold}))
        if (hardForItsLength(power, s, threshold) && s.length() >= 10) {
            parts.push_back(s);
            hard += power.mean(s) * s.length();
            hardSeconds += s.length();
        }
    if (!hardForItsLength(power, whole, threshold))
        return parts;
    easySum = power.mean(whole) * whole.length() - hard;
    const int easySeconds = whole.length() - hardSeconds;
    if (parts.size() < 2 || easySeconds <= 0 || hardSeconds < 0.3 * whole.length() ||
        hard / hardSeconds < 1.12 * easySum / easySeconds)
        return {whole};
    return parts;
}

/// Where a lead-in that is clearly easier than what follows ends (a warm-up that runs into the first
/// repetition): the place where two levels fit the power best. Nothing where there is none.
std::optional<int> endOfLeadIn(const Sums& power, Stretch s, double threshold) {
    constexpr int shortest = 60;
    constexpr double clear = 0.12;
    std::optional<int> best;
    double most = 0;
    for (int t = s.begin + shortest; t + shortest <= s.end; ++t) {
        const double first = power.mean(s.begin, t), second = power.mean(t, s.end);
        const double n1 = t - s.begin, n2 = s.end - t;
        const double explained = n1 * n2 / (n1 + n2) * (second - first) * (second - first);
        if (second - first >= clear * threshold && explained > most) {
            most = explained;
            best = t;
        }
    }
    return best;
}

/// The median of the slopes between all pairs (Theil 1950, Sen 1968); of a long series between 200 values
/// spread evenly over it.
double medianSlope(const std::vector<double>& y) {
    constexpr size_t most = 200;
    const size_t n = std::min(most, y.size());
    const auto place = [&](size_t i) { return n < 2 ? 0 : i * (y.size() - 1) / (n - 1); };
    std::vector<double> slopes;
    slopes.reserve(n * (n - 1) / 2);
    for (size_t i = 0; i < n; ++i)
        for (size_t j = i + 1; j < n; ++j)
            slopes.push_back((y[place(j)] - y[place(i)]) / static_cast<double>(place(j) - place(i)));
    const auto middle = slopes.begin() + static_cast<std::ptrdiff_t>(slopes.size() / 2);
    std::nth_element(slopes.begin(), middle, slopes.end());
    return slopes.size() % 2 ? *middle : (*middle + *std::max_element(slopes.begin(), middle)) / 2;
}

double lowerEdge(int zone, Watts threshold) {
    return zone == 0 ? 0 : zoneEdges[static_cast<size_t>(zone) - 1] * threshold.value;
}

void formSets(Efforts& efforts, Watts threshold) {
    for (size_t i = 0; i < efforts.all.size();) {
        size_t end = i + 1;
        const int first = efforts.all[i].span.length();
        while (end < efforts.all.size() &&
               std::abs(efforts.all[end].span.length() - first) <= std::max(4, first / 5))
            ++end;
        if (end - i >= 2) {
            Repetitions set;
            std::vector<double> means;
            for (size_t k = i; k < end; ++k) {
                efforts.all[k].set = static_cast<int>(efforts.sets.size());
                set.efforts.push_back(k);
                means.push_back(*efforts.all[k].figures.meanPower);
                if (!set.leftZone && means.back() <= lowerEdge(efforts.all[i].zone, threshold))
                    set.leftZone = k - i;
            }
            set.fade = -100 * medianSlope(means) * static_cast<double>(means.size() - 1) / means.front();
            efforts.sets.push_back(set);
        }
        i = end;
    }
}

} // namespace

Effort describeEffort(const Ride& ride, Stretch span, Watts threshold) {
    Effort e{span, figuresOver(ride, span), 0, 0, std::nullopt, -1};
    if (!ride.hasPower || threshold.value <= 0 || span.length() < 2)
        return e;
    const Sums power(ride, span);
    e.zone = zoneOf({e.figures.meanPower.value_or(0)}, threshold);
    const int middle = span.begin + span.length() / 2;
    const double first = power.mean(span.begin, middle), second = power.mean(middle, span.end);
    e.fade = first > 0 ? 100 * (first - second) / first : 0;
    constexpr int window = 15;
    const double edge = lowerEdge(e.zone, threshold);
    int left = span.end;
    for (int t = span.end; t >= span.begin + window && power.mean(t - window, t) <= edge; --t)
        left = t - window;
    if (span.end - left >= 2 * window && left > span.begin)
        e.leftZoneAt = left - span.begin;
    return e;
}

Efforts findEfforts(const Ride& ride, Watts threshold) {
    Efforts found;
    if (!ride.hasPower || threshold.value <= 0)
        return found;
    const Sums power(ride, {0, ride.elapsed()});
    const double t = threshold.value;
    const auto keep = [&](Stretch s) {
        if (hardForItsLength(power, s, t))
            found.all.push_back(describeEffort(ride, s, threshold));
    };
    for (const Stretch& whole : held(power, {0, ride.elapsed()}, {0.80 * t, 0.72 * t}))
        for (const Stretch& s : partsOf(power, whole, t)) {
            if (const auto turn = endOfLeadIn(power, s, t)) {
                keep({s.begin, *turn});
                keep({*turn, s.end});
            } else {
                keep(s);
            }
        }
    formSets(found, threshold);
    return found;
}

Watts thresholdFromRide(const Ride& ride) {
    if (!ride.hasPower)
        return {};
    const int window = std::min(1200, std::max(1, ride.elapsed() / 3));
    return {0.95 * meanMax(ride, std::array{window}).front().power};
}

} // namespace marram
