// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/debrief.h"
#include "core/ride/span_figures.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr int hour = 3600;
constexpr double sameCourse = 0.05; // of its length

/// Seconds of the grid at which whole hours of recorded time are over; the last one is its end.
std::vector<int> hourEnds(const Ride& ride) {
    std::vector<int> ends;
    int recorded = 0;
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t)
            if (++recorded % hour == 0)
                ends.push_back(t + 1);
    if (ends.empty() || ends.back() < ride.elapsed())
        ends.push_back(ride.elapsed());
    return ends;
}

void readClimbs(const Ride& ride, const CourseDemand& course, RaceRidden& out) {
    double last = 0;
    for (const float d : ride.distance)
        if (std::isfinite(d))
            last = d;
    if (last <= 0 || std::abs(last - course.distance) > sameCourse * course.distance)
        return;
    const double scale = last / course.distance; // two devices never agree on a distance
    const auto at = [&](double metres) {
        for (size_t t = 0; t < ride.distance.size(); ++t)
            if (std::isfinite(ride.distance[t]) && ride.distance[t] >= metres * scale)
                return static_cast<int>(t);
        return ride.elapsed();
    };
    for (const Climb& c : course.climbs) {
        const Stretch span{at(c.start), at(c.start + c.length)};
        const SpanFigures f = figuresOver(ride, span);
        out.climbs.push_back(
            {c, course.power, static_cast<double>(span.length()), f.meanPower, f.meanHeartRate});
    }
}

} // namespace

/// What the last whole hour lacks of the first, %; nothing where there are not two.
static std::optional<double> fadeOver(const std::vector<HourRidden>& hours) {
    const HourRidden* first = nullptr;
    const HourRidden* last = nullptr;
    for (const HourRidden& h : hours)
        if (h.seconds >= hour && h.equivalentPower) {
            first = first ? first : &h;
            last = &h;
        }
    if (!first || first == last || *first->equivalentPower <= 0)
        return {};
    return 100 * (1 - *last->equivalentPower / *first->equivalentPower);
}

RaceRidden readRace(const Ride& ride, std::optional<Watts> threshold, const CourseDemand* course) {
    RaceRidden out;
    int begin = 0;
    for (const int end : hourEnds(ride)) {
        const SpanFigures f = figuresOver(ride, {begin, end});
        HourRidden h{f.seconds, f.equivalentPower, f.meanHeartRate, 0};
        if (threshold)
            for (int t = begin; t < end; ++t)
                if (const float p = ride.power.empty() ? missing : ride.power[static_cast<size_t>(t)];
                    std::isfinite(p) && p > threshold->value) {
                    ++h.overThreshold;
                    out.workOverThreshold += (p - threshold->value) / 1000;
                }
        out.overThreshold += h.overThreshold;
        if (f.seconds > 0)
            out.hours.push_back(h);
        begin = end;
    }
    out.fade = fadeOver(out.hours);
    if (course)
        readClimbs(ride, *course, out);
    return out;
}

} // namespace marram
