// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ride/recognise.h"
#include "core/ride/corrections.h"
#include "core/ride/meanmax.h"
#include "core/ride/score.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// Standard deviation of one-minute means over their mean: how even an effort was.
double unevenness(const Ride& ride, Stretch span) {
    std::vector<double> minutes;
    for (int t = span.begin; t + 60 <= span.end; t += 60)
        minutes.push_back(figuresOver(ride, {t, t + 60}).meanPower.value_or(0));
    if (minutes.size() < 2)
        return 1;
    double mean = 0, squares = 0;
    for (const double m : minutes)
        mean += m / static_cast<double>(minutes.size());
    for (const double m : minutes)
        squares += (m - mean) * (m - mean);
    return mean > 0 ? std::sqrt(squares / static_cast<double>(minutes.size())) / mean : 1;
}

std::optional<double> altitudeOf(const Ride& ride, Stretch span) {
    double sum = 0;
    int count = 0;
    for (int t = span.begin; t < span.end; ++t)
        if (const float a = ride.altitude[static_cast<size_t>(t)]; std::isfinite(a)) {
            sum += static_cast<double>(a);
            ++count;
        }
    const double mean = count ? sum / count : 0;
    return count && mean >= 300 && mean <= 5000 ? std::optional(std::round(mean)) : std::nullopt;
}

/// Part of the threshold in force that an even effort must reach to look like a test: less is training.
constexpr double tested = 1.03;

class Search {
public:
    Search(const Ride& ride, Date day, Watts threshold, std::span<const BestEffort> before)
        : ride_(ride), day_(day), threshold_(threshold.value), before_(before) {}

    std::vector<Recognised> go() {
        even(Protocol::Hour, 3600, tested);
        if (found_.empty())
            even(Protocol::TwentyMinutes, 1200, tested);
        ramp();
        for (const Protocol p :
             {Protocol::Sprint5s, Protocol::Sprint30s, Protocol::Power1min, Protocol::Power5min})
            allOut(p);
        steadyHour();
        durability();
        return std::move(found_);
    }

private:
    std::optional<BestEffort> best(int seconds) const {
        if (ride_.elapsed() < seconds)
            return std::nullopt;
        return meanMax(ride_, std::array{seconds}).front();
    }

    void add(Protocol p, Stretch span, double value, std::string why, double second = 0, double workKj = 0) {
        TestResult r;
        r.day = day_;
        r.protocol = p;
        r.value = value;
        r.second = second;
        r.workKj = workKj;
        r.seconds = span.length();
        if (wordsFor(p).aerobic)
            r.altitudeM = altitudeOf(ride_, span);
        found_.push_back({r, span, std::move(why)});
    }

    void even(Protocol p, int seconds, double part) {
        const auto b = best(seconds);
        if (!b || b->power < part * threshold_)
            return;
        const Stretch span{b->start, b->start + seconds};
        if (unevenness(ride_, span) < 0.07)
            add(p, span, b->power,
                phrase("An even %1 at %2 % of the threshold that held.",
                       (seconds == 3600 ? phrase("hour") : phrase("20 minutes")),
                       std::to_string(static_cast<int>(std::lround(100 * b->power / threshold_)))));
    }

    void ramp() {
        const auto b = best(60);
        if (!b || b->power < 1.1 * threshold_)
            return;
        const auto minute = [&](int begin) {
            return figuresOver(ride_, {begin, begin + 60}).meanPower.value_or(0);
        };
        // Backwards from the best minute, every minute must be a little less than the one after it.
        int steps = 0;
        for (int t = b->start; t >= 60; t -= 60, ++steps) {
            const double rise = (minute(t) - minute(t - 60)) / threshold_;
            if (rise < 0.02 || rise > 0.12)
                break;
        }
        const int after = b->start + 60;
        const bool broke = after + 30 > ride_.elapsed() || minute(after) < 0.7 * b->power;
        if (steps >= 7 && broke)
            add(Protocol::Ramp, {b->start, after}, b->power,
                phrase("%1 minutes each a step harder, then the legs gave out.", std::to_string(steps)));
    }

    void allOut(Protocol p) {
        const int seconds = wordsFor(p).seconds;
        const auto b = best(seconds);
        if (!b)
            return;
        const double least = (seconds <= 5 ? 2.2 : seconds <= 30 ? 1.8 : seconds <= 60 ? 1.5 : 1.12);
        const auto earlier = std::find_if(before_.begin(), before_.end(),
                                          [&](const BestEffort& e) { return e.seconds == seconds; });
        if (b->power < least * threshold_ || (earlier != before_.end() && b->power < 0.97 * earlier->power))
            return;
        add(p, {b->start, b->start + seconds}, b->power,
            earlier != before_.end() && b->power >= earlier->power
                ? phrase("The best so far over this time.")
                : phrase("All out, within 3 % of the best so far."));
    }

    void steadyHour() {
        const auto part = [&](const SpanFigures& f) { return f.equivalentPower.value_or(0) / threshold_; };
        constexpr int hour = 3600, latest = 2400; // on legs no harder work has tired
        if (!ride_.hasHeartRate || ride_.elapsed() < hour)
            return;
        // Of the hours near 75 % the one ridden most evenly, if any was even enough.
        double evenest = 10;
        Stretch chosen;
        std::optional<Ride> only;
        for (int t = 0; t + hour <= ride_.elapsed() && t <= latest; t += 300) {
            const SpanFigures f = figuresOver(ride_, {t, t + hour});
            const double variation = f.equivalentPower.value_or(0) / std::max(1.0, f.meanPower.value_or(1));
            if (std::abs(part(f) - 0.75) > 0.05 || variation >= evenest)
                continue;
            Corrections cut;
            cut.trimStart = t;
            cut.trimEnd = ride_.elapsed() - t - hour;
            auto candidate = corrected(ride_, cut);
            if (!candidate || !judgeSteadiness(*candidate).steady)
                continue;
            evenest = variation;
            chosen = {t, t + hour};
            only = std::move(candidate);
        }
        if (!only)
            return;
        const auto drift = driftPercent(*only);
        const SpanFigures f = figuresOver(*only, {0, only->elapsed()});
        if (drift && f.meanHeartRate)
            add(Protocol::AerobicCheck, chosen, *f.equivalentPower / *f.meanHeartRate,
                phrase("A steady hour at %1 % of threshold.",
                       std::to_string(static_cast<int>(std::lround(100 * part(f))))),
                *drift);
    }

    void durability() {
        const Efforts efforts = findEfforts(ride_, {threshold_});
        for (size_t i = 0; i < efforts.all.size(); ++i)
            for (size_t j = efforts.all.size(); j-- > i + 1;) {
                const Effort &a = efforts.all[i], &b = efforts.all[j];
                const int length = a.span.length();
                if (length < 450 || length > 1260 || std::abs(b.span.length() - length) > 0.15 * length)
                    continue;
                const double work = figuresOver(ride_, {a.span.end, b.span.begin}).work.value_or(0);
                if (work < 1000 || *a.figures.meanPower < 0.95 * threshold_ ||
                    *b.figures.meanPower < 0.75 * threshold_)
                    continue;
                add(Protocol::DurabilityCheck, a.span, *a.figures.meanPower,
                    phrase("Two efforts of %1 min with %2 kJ between.", std::to_string(length / 60),
                           std::to_string(static_cast<int>(work))),
                    *b.figures.meanPower, work);
                return;
            }
    }

    const Ride& ride_;
    Date day_;
    double threshold_;
    std::span<const BestEffort> before_;
    std::vector<Recognised> found_;
};

} // namespace

std::vector<Recognised> recogniseTests(const Ride& ride, Date day, Watts threshold,
                                       std::span<const BestEffort> bestBefore) {
    if (!ride.hasPower || threshold.value <= 0)
        return {};
    return Search(ride, day, threshold, bestBefore).go();
}

} // namespace marram
