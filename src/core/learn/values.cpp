// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/values.h"
#include "core/learn/indoors.h"
#include "core/ride/meanmax.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_statistics_double.h>
#include <map>
#include <numeric>
#include <set>

namespace marram {
namespace {

constexpr int windowDays = 56;
constexpr double thresholdOfCritical = 0.96, ofTwenty = 0.91, ofTwentyOpened = 0.95, boundOfTwenty = 0.9;
constexpr double bandOfTwenty = 0.035, leastBand = 0.02;
constexpr double highShare = 0.93, belowCurve = 0.97, belowOwn = 0.95;
/// A maximal effort stands so far over the rider's usual mean power: what a length holds over threshold, and
/// usual riding at 80 % of it at most. (15 % is asked of any; easy riding alone reaches that.)
double overUsual(int seconds) {
    return std::max(1.15, 1.24 * (1 + 75.0 / seconds) / (1 + 75.0 / 2400));
}
/// Efforts of one ride within this share of each other are repetitions; so many days within this share in
/// eight weeks before and after are a habit.
constexpr double repeated = 0.93, everyOtherDay = 0.92;
constexpr double maximalADay = 1 / 6.5;                ///< a little more than a race every week
constexpr double leastReserve = 25, mostReserve = 150; ///< s, W′ over CP
/// Where nothing of a quarter of an hour was maximal, a steep curve is more likely one through longer efforts
/// that were not.
constexpr double mostOfShort = 85;
constexpr int longEnough = 900; ///< s

double median(std::vector<double> v) {
    return v.empty() ? 0 : gsl_stats_median(v.data(), 1, v.size());
}

std::string whole(double v) {
    return std::to_string(std::lround(v));
}

std::string lengthText(int seconds) {
    return std::to_string(seconds / 60) + " min";
}

/// A maximal effort and where it was ridden.
struct Maximal {
    RideBest best;
    size_t ride = 0;
};

class Reader {
public:
    explicit Reader(std::vector<RideFacts> rides) : rides_(std::move(rides)) {
        std::stable_sort(rides_.begin(), rides_.end(),
                         [](const RideFacts& a, const RideFacts& b) { return a.day < b.day; });
        std::vector<double> means;
        for (const RideFacts& r : rides_)
            if (r.hasPower && r.hours > 0.3)
                means.push_back(r.meanPower);
        usualPower_ = median(means);
        std::vector<double> high;
        for (const RideFacts& r : rides_)
            if (r.highBeats.size() >= 3)
                high.push_back(r.highBeats[2]);
        std::sort(high.begin(), high.end(), std::greater<>());
        highestSeen_ = high.empty() ? 0 : high[std::min<size_t>(high.size() - 1, 2)];
    }

    LearntValues run() {
        for (RideFacts& r : rides_)
            for (RideBest& b : r.bests)
                b.maximal = alone(b, r.day);
        out_.rides = static_cast<int>(rides_.size());
        thresholds();
        maxima();
        heartRates();
        weeks();
        weights();
        out_.indoors = compareIndoors(rides_);
        meters();
        return std::move(out_);
    }

private:
    /// Whether an effort is what the rider does every other day: the climb home, not a maximum.
    bool ordinary(const RideBest& b, Date day) const {
        int days = 0;
        for (const RideFacts& r : rides_)
            if (r.day > day - windowDays && r.day < day + windowDays && r.day != day)
                for (const RideBest& o : r.bests)
                    days += o.seconds == b.seconds && o.power > everyOtherDay * b.power ? 1 : 0;
        const int span =
            std::min(day + windowDays, rides_.back().day) - std::max(day - windowDays, rides_.front().day);
        return days > std::max(6.0, maximalADay * span);
    }

    /// Whether an effort by itself can have been maximal.
    bool alone(const RideBest& b, Date day) const {
        if (b.rests || !b.falls || b.power < overUsual(b.seconds) * usualPower_)
            return false;
        if (b.second > repeated * b.power)
            return false; // ridden again in the same ride, it was a repetition
        if (b.endHeartRate > 0 && highestSeen_ > 0 && b.endHeartRate < highShare * highestSeen_)
            return false;
        return !ordinary(b, day);
    }

    Maximal mostOver(int length, Date day) const {
        Maximal most;
        for (size_t r = 0; r < rides_.size(); ++r)
            if (rides_[r].day <= day && rides_[r].day > day - windowDays)
                for (const RideBest& b : rides_[r].bests)
                    if (b.seconds == length && b.maximal && b.power > most.best.power)
                        most = {b, r};
        return most;
    }

    /// W, by the neighbours of an effort; 0 for the longest, which has none behind it.
    static double throughNeighbours(const std::vector<Maximal>& all, size_t i) {
        if (i + 1 >= all.size())
            return 0;
        if (i == 0)
            return all[1].best.power * 1.01; // the shortest stands over the next
        const double x = 1.0 / all[i].best.seconds;
        const double xa = 1.0 / all[i - 1].best.seconds, xb = 1.0 / all[i + 1].best.seconds;
        return all[i + 1].best.power + (x - xb) / (xa - xb) * (all[i - 1].best.power - all[i + 1].best.power);
    }

    /// Maximal efforts of the window that ends on a day, each length once, on their neighbours' curve.
    std::vector<Maximal> maximalUpTo(Date day) const {
        std::vector<Maximal> all;
        for (const int length : effortLengths)
            if (const Maximal most = mostOver(length, day); most.best.power > 0)
                all.push_back(most);
        // Not over 3 % below the curve through its neighbours, linear in 1/t, nor under a longer one.
        for (bool again = true; again;) {
            again = false;
            for (size_t i = 0; i < all.size() && !again; ++i) {
                const double p = all[i].best.power;
                if (p < belowCurve * throughNeighbours(all, i) ||
                    (i + 1 < all.size() && p < all[i + 1].best.power)) {
                    all.erase(all.begin() + static_cast<long>(i));
                    again = true;
                }
            }
        }
        return all;
    }

    /// The pieces of one even effort say no more than the whole of it.
    static std::vector<Maximal> apart(const std::vector<Maximal>& all) {
        std::vector<Maximal> kept;
        for (const Maximal& m : all) {
            const bool piece = std::any_of(all.begin(), all.end(), [&](const Maximal& o) {
                return o.ride == m.ride && o.best.seconds > m.best.seconds &&
                       o.best.power > 0.985 * m.best.power;
            });
            if (!piece)
                kept.push_back(m);
        }
        return kept;
    }

    /// What the rides of the window that ends on a day say the threshold is at least: 0.9 of the best twenty
    /// minutes, 0.95 of the best forty.
    double riddenAtLeast(Date day) const {
        double most = 0;
        for (const RideFacts& r : rides_)
            if (r.day <= day && r.day > day - windowDays)
                for (const RideBest& b : r.bests)
                    most = std::max(most, b.seconds == 1200   ? boundOfTwenty * b.power
                                          : b.seconds == 2400 ? 0.95 * b.power
                                                              : 0);
        return most;
    }

    /// Two to twenty minutes; twenty on tired legs are the protocol's, not the curve's.
    static std::vector<Maximal> onTheCurve(const std::vector<Maximal>& all) {
        std::vector<Maximal> fit;
        for (const Maximal& m : all)
            if (m.best.seconds >= 120 && m.best.seconds <= 1200 &&
                !(m.best.openedHard && m.best.seconds >= 900))
                fit.push_back(m);
        return fit;
    }

    /// Whether a line can be drawn through them: three, of two rides, the longest twice as long.
    static bool spreadOut(const std::vector<Maximal>& fit) {
        std::set<size_t> occasions;
        for (const Maximal& m : fit)
            occasions.insert(m.ride);
        return fit.size() >= 3 && occasions.size() >= 2 && fit.back().best.seconds >= 600 &&
               fit.back().best.seconds >= 2 * fit.front().best.seconds;
    }

    /// 0.96 of the critical power of a line through maximal efforts of two to twenty minutes; nothing where
    /// it cannot be drawn or is none.
    void fitCurve(const std::vector<Maximal>& all, Date day, LearntValue& v, std::set<size_t>& used) const {
        const std::vector<Maximal> fit = onTheCurve(all);
        if (!spreadOut(fit))
            return;
        // Work = CP·t + W′, least squares on power over 1/t, so that no length outweighs the others.
        double sx = 0, sy = 0, sxx = 0, sxy = 0;
        const auto n = static_cast<double>(fit.size());
        for (const Maximal& m : fit) {
            const double x = 1.0 / m.best.seconds;
            sx += x;
            sy += m.best.power;
            sxx += x * x;
            sxy += x * m.best.power;
        }
        const double work = (n * sxy - sx * sy) / (n * sxx - sx * sx), critical = (sy - work * sx) / n;
        const double reserve = critical > 0 ? work / critical : 0;
        if (reserve >= leastReserve &&
            reserve <= (fit.back().best.seconds >= longEnough ? mostReserve : mostOfShort)) {
            v.value = thresholdOfCritical * critical;
        }
        // What was held for longer, maximal or not, lies under the threshold: a fit below it was drawn
        // through efforts that were none.
        if (v.value < riddenAtLeast(day))
            v.value = 0;
        if (v.value <= 0)
            return;
        double residual = 0;
        for (const Maximal& m : fit)
            residual += std::pow(m.best.power - critical - work / m.best.seconds, 2);
        const double spread = std::max(0.015 * critical, std::sqrt(residual / std::max(1.0, n - 2))) *
                              std::sqrt(1 / n + sx * sx / n / n / (sxx - sx * sx / n));
        const double half = std::max(leastBand * v.value, 1.28 * spread);
        v.low = v.value - half;
        v.high = v.value + half;
        std::string which;
        for (const Maximal& m : fit) {
            used.insert(m.ride);
            which += phrase("%1%2 W over %3", (which.empty() ? "" : ", "), whole(m.best.power),
                            lengthText(m.best.seconds));
        }
        v.why = phrase("0.96 of the critical power through maximal efforts: %1.", which);
    }

    /// From a maximal effort of twenty minutes, or a longer one; false without one.
    static bool fromLongest(const std::vector<Maximal>& all, LearntValue& v, std::set<size_t>& used) {
        const Maximal* best = nullptr;
        for (const Maximal& m : all)
            if (m.best.seconds >= 900 &&
                (!best || std::abs(m.best.seconds - 1200) < std::abs(best->best.seconds - 1200)))
                best = &m;
        if (!best)
            return false;
        // What a length holds over critical power, W′ being some 75 s of it; 0.91 at twenty minutes.
        const double share = best->best.openedHard && best->best.seconds == 1200
                                 ? ofTwentyOpened
                                 : ofTwenty * (1 + 75.0 / 1200) / (1 + 75.0 / best->best.seconds);
        v.value = share * best->best.power;
        v.low = v.value * (1 - bandOfTwenty);
        v.high = v.value * (1 + bandOfTwenty);
        v.why =
            phrase("From a maximal %1 at %2 W%3", lengthText(best->best.seconds), whole(best->best.power),
                   (best->best.openedHard ? phrase(", after the hard five minutes of the protocol.") : "."));
        used.insert(best->ride);
        return true;
    }

    std::optional<LearntValue> estimate(Date day) const {
        const std::vector<Maximal> all = apart(maximalUpTo(day));
        LearntValue v;
        std::set<size_t> used;
        fitCurve(all, day, v, used);
        if (v.value <= 0 && !fromLongest(all, v, used))
            return std::nullopt;
        for (const size_t r : used) {
            v.rides.push_back(rides_[r].file);
            v.from = std::max(v.from.days == 0 ? rides_[r].day : v.from, rides_[r].day);
        }
        return v;
    }

    void thresholds() {
        std::vector<Date> days;
        for (const RideFacts& r : rides_)
            if (std::any_of(r.bests.begin(), r.bests.end(), [](const RideBest& b) { return b.maximal; }) &&
                (days.empty() || days.back() != r.day))
                days.push_back(r.day);
        for (const Date day : days) {
            auto now = estimate(day);
            if (!now)
                continue;
            now->from = day;
            auto& all = out_.thresholdPower;
            if (!all.empty()) {
                const double apart = std::abs(now->value - all.back().value);
                if (apart <= *now->high - now->value)
                    continue;
                // What an effort of the same day shows better replaces what it showed first.
                if (all.back().from == day)
                    all.pop_back();
            }
            all.push_back(std::move(*now));
        }
        if (out_.thresholdPower.empty())
            bounds();
    }

    /// Whether an effort stands where those of eight weeks either side say it should: not over 5 % under the
    /// best of its own length, never under a longer one, not over 3 % below the curve through the best of its
    /// neighbours, linear in 1/t.
    bool inCompany(const Maximal& m) const {
        const Date day = rides_[m.ride].day;
        std::map<int, double> best;
        for (const RideFacts& r : rides_)
            if (std::abs(r.day - day) < windowDays)
                for (const RideBest& b : r.bests)
                    if (b.maximal)
                        best[b.seconds] = std::max(best[b.seconds], b.power);
        const double p = m.best.power;
        const auto own = best.find(m.best.seconds);
        if (p < belowOwn * own->second)
            return false;
        const auto longer = std::next(own);
        if (longer == best.end())
            return true;
        for (auto it = longer; it != best.end(); ++it)
            if (it->second > p)
                return false;
        if (own == best.begin())
            return p >= belowCurve * 1.01 * longer->second;
        const auto shorter = std::prev(own);
        const double x = 1.0 / own->first, xa = 1.0 / shorter->first, xb = 1.0 / longer->first;
        const double curve =
            longer->second + (x - xb) / (xa - xb) * std::max(0.0, shorter->second - longer->second);
        return p >= belowCurve * curve;
    }

    /// Every effort that was maximal.
    void maxima() {
        for (size_t r = 0; r < rides_.size(); ++r) {
            std::vector<Maximal> of;
            for (const RideBest& b : rides_[r].bests)
                if (b.maximal && inCompany({b, r}))
                    of.push_back({b, r});
            for (const Maximal& m : apart(of))
                out_.maximal.push_back({rides_[r].file, rides_[r].day, m.best.seconds, m.best.power});
        }
    }

    /// Nothing maximal: what was ridden at least.
    void bounds() {
        double most = 0;
        for (const RideFacts& r : rides_)
            for (const RideBest& b : r.bests)
                if (b.seconds == 1200 && boundOfTwenty * b.power > most * 1.02) {
                    most = boundOfTwenty * b.power;
                    LearntValue v;
                    v.from = r.day;
                    v.value = v.low = most;
                    v.atLeast = true;
                    v.why = phrase("At least %1 W: nothing maximal was ridden; a threshold test would tell.",
                                   whole(most));
                    v.rides = {r.file};
                    out_.thresholdPower.push_back(v);
                }
    }

    void highestBeats() {
        // Nothing maximal, nothing highest.
        std::vector<std::pair<double, size_t>> tops;
        bool any = false;
        const Date last = rides_.empty() ? Date{} : rides_.back().day;
        for (size_t r = 0; r < rides_.size(); ++r) {
            const bool maximal =
                std::any_of(rides_[r].bests.begin(), rides_[r].bests.end(),
                            [](const RideBest& b) { return b.seconds <= 1200 && b.maximal; });
            any = any || (maximal && !rides_[r].highBeats.empty());
            if (rides_[r].day > last - 365)
                for (const double b : rides_[r].highBeats)
                    tops.emplace_back(b, r);
        }
        std::sort(tops.begin(), tops.end(), std::greater<>());
        if (any && tops.size() >= 3) {
            LearntValue v;
            v.value = v.low = tops[2].first;
            v.high = tops[0].first;
            v.from = rides_[tops[2].second].day;
            v.why = phrase("The third highest 10 seconds of the last year, on %1.", isoText(v.from));
            v.rides = {rides_[tops[2].second].file};
            out_.maxHeartRate = v;
        }
    }

    /// Within four months: of the strongest maximal half hour or longer, with its ride, else the median of
    /// efforts near threshold power; 0 bpm where there is neither.
    std::pair<const RideFacts*, double> beatsAround(const LearntValue& threshold) const {
        const RideFacts* best = nullptr;
        double beats = 0, power = 0;
        std::vector<double> settled;
        for (const RideFacts& r : rides_) {
            if (std::abs(r.day - threshold.from) > 120)
                continue;
            double longest = 0; // the longest effort near threshold of each ride
            for (const RideBest& b : r.bests) {
                if (b.settledHeartRate <= 0)
                    continue;
                if (b.seconds >= 1800 && b.maximal && b.power > power) {
                    best = &r;
                    beats = b.settledHeartRate;
                    power = b.power;
                }
                if (nearThreshold(b, threshold.value))
                    longest = b.settledHeartRate;
            }
            if (longest > 0)
                settled.push_back(longest);
        }
        if (!best && settled.size() >= 2)
            beats = median(settled);
        return {best, beats};
    }

    static bool nearThreshold(const RideBest& b, double threshold) {
        return b.seconds >= 480 && !b.rests && !b.maximal && b.power >= 0.95 * threshold &&
               b.power <= 1.05 * threshold;
    }

    void heartRates() {
        highestBeats();
        // Threshold: of maximal half hours and hours, else of efforts close to threshold power.
        for (const LearntValue& t : out_.thresholdPower) {
            if (t.atLeast)
                continue;
            const auto [best, beats] = beatsAround(t);
            if (beats <= 0)
                continue;
            if (!out_.thresholdHeartRate.empty() &&
                std::abs(out_.thresholdHeartRate.back().value - beats) < 3)
                continue;
            LearntValue v;
            v.from = t.from;
            v.value = beats;
            // Late in a ride the beats have drifted up, so what was gathered from efforts leans high.
            v.low = beats - (best ? 5 : 8);
            v.high = beats + (best ? 5 : 4);
            v.why =
                best
                    ? phrase("The last 20 minutes of a maximal half hour or longer.")
                    : phrase("The settled part of efforts near threshold power; late in a ride it drifts up, "
                             "so it leans high.");
            if (best)
                v.rides = {best->file};
            out_.thresholdHeartRate.push_back(v);
        }
    }

    void weeks() {
        if (rides_.empty())
            return;
        std::map<Date, std::array<double, 7>> byWeek;
        for (const RideFacts& r : rides_) {
            out_.longestRide = std::max(out_.longestRide, r.hours);
            byWeek[monday(r.day)][static_cast<size_t>(weekday(r.day))] += r.hours;
        }
        std::vector<Date> days;
        for (const RideFacts& r : rides_)
            days.push_back(r.day);
        for (size_t i = 1; i < days.size(); ++i)
            if (days[i] - days[i - 1] > 28)
                out_.gaps.push_back({days[i - 1] + 1, days[i] - 1});
        // The last twelve weeks that were ridden in; the newest is left out where it has only begun.
        std::vector<std::array<double, 7>> last;
        for (auto it = byWeek.rbegin(); it != byWeek.rend() && last.size() < 12; ++it) {
            if (it == byWeek.rbegin() && byWeek.size() > 3 && weekday(days.back()) < 5)
                continue;
            last.push_back(it->second);
        }
        std::vector<double> sums;
        sums.reserve(last.size());
        for (size_t d = 0; d < 7; ++d) {
            std::vector<double> hours;
            hours.reserve(last.size());
            for (const auto& week : last)
                hours.push_back(week[d]);
            out_.hours[d] = std::round(4 * median(hours)) / 4;
            out_.meanHours[d] = std::accumulate(hours.begin(), hours.end(), 0.0) /
                                static_cast<double>(std::max<size_t>(1, hours.size()));
        }
        for (const auto& week : last)
            sums.push_back(std::accumulate(week.begin(), week.end(), 0.0));
        out_.usualWeek = median(sums);
    }

    /// What devices were told of the rider's weight: where it changes by a kilogram and stays for two rides.
    void weights() {
        std::vector<const RideFacts*> told;
        for (const RideFacts& r : rides_)
            if (r.weight)
                told.push_back(&r);
        for (size_t i = 0; i + 1 < told.size(); ++i) {
            const double now = *told[i]->weight;
            if (std::abs(*told[i + 1]->weight - now) >= 1 ||
                (!out_.weight.empty() && std::abs(out_.weight.back().value - now) < 1))
                continue;
            LearntValue v;
            v.from = told[i]->day;
            v.value = now;
            v.low = now - 2;
            v.high = now + 2;
            v.why = phrase("As the bike computer was told, not weighed: ask.");
            v.rides = {told[i]->file};
            out_.weight.push_back(v);
        }
    }

    /// The line of power over heart rate that the rides on both sides of the `i`th share: its slope, W a
    /// beat, and the heart rate in their middle.
    static std::pair<double, double> sharedLine(const std::vector<const RideFacts*>& ridden, size_t i,
                                                size_t side) {
        constexpr double steepest = 6;
        const auto meanOf = [&](size_t from, double RideFacts::*what) {
            double sum = 0;
            for (size_t k = from; k < from + side; ++k)
                sum += ridden[k]->*what;
            return sum / side;
        };
        double across = 0, along = 0, beats = 0;
        for (const size_t from : {i - side, i}) {
            const double p = meanOf(from, &RideFacts::steadyPower), h = meanOf(from, &RideFacts::steadyBeats);
            beats += h / 2;
            for (size_t k = from; k < from + side; ++k) {
                across += (ridden[k]->steadyBeats - h) * (ridden[k]->steadyPower - p);
                along += std::pow(ridden[k]->steadyBeats - h, 2);
            }
        }
        const double slope = along > 0 ? std::clamp(across / along, 0.0, steepest) : 0;
        return {slope, beats};
    }

    /// Power at a given heart rate that steps by over 4 % in one day and stays: rides on either side, brought
    /// to one heart rate along the line both sides share.
    void meters() {
        constexpr size_t side = 10;
        std::vector<const RideFacts*> ridden;
        const auto gather = [&](bool indoorsToo) {
            ridden.clear();
            for (const RideFacts& r : rides_)
                if (r.steadyPower > 0 && (indoorsToo || !r.indoors))
                    ridden.push_back(&r);
        };
        // Winter on a trainer is no change of the meter outdoors.
        gather(false);
        if (ridden.size() < 2 * side)
            gather(true);
        for (size_t i = side; i + side <= ridden.size();) {
            const auto shared = sharedLine(ridden, i, side);
            const double slope = shared.first, beats = shared.second;
            const auto at = [&](size_t k) {
                return ridden[k]->steadyPower - slope * (ridden[k]->steadyBeats - beats);
            };
            std::vector<double> before, after;
            before.reserve(side);
            after.reserve(side);
            for (size_t k = 0; k < side; ++k) {
                before.push_back(at(i - 1 - k));
                after.push_back(at(i + k));
            }
            const double a = median(before), b = median(after), step = 100 * (b / a - 1);
            std::vector<double> offBefore, offAfter;
            offBefore.reserve(side);
            offAfter.reserve(side);
            for (const double v : before)
                offBefore.push_back(std::abs(v - a));
            for (const double v : after)
                offAfter.push_back(std::abs(v - b));
            const double noise = 1.48 * std::max(median(offBefore), median(offAfter));
            // Both sides near the step stand where their side does, so it came in one day.
            const double near = (at(i) + at(i + 1)) / 2, far = (at(i - 1) + at(i - 2)) / 2;
            const bool sudden =
                std::abs(near - b) < std::abs(near - a) && std::abs(far - a) < std::abs(far - b);
            if (std::abs(step) > 4 && std::abs(b - a) > 2.5 * noise && sudden) {
                out_.meterChanges.push_back({ridden[i]->day, std::round(10 * step) / 10});
                i += side;
            } else {
                ++i;
            }
        }
    }

    std::vector<RideFacts> rides_;
    double usualPower_ = 0, highestSeen_ = 0;
    LearntValues out_;
};

} // namespace

LearntValues learnValues(std::vector<RideFacts> rides) {
    return Reader(std::move(rides)).run();
}

} // namespace marram
