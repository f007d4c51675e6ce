// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/course/course.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <functional>

namespace marram {
namespace {

constexpr double step = 10;     ///< m between the points a course is laid out on
constexpr int smoothing = 3;    ///< steps on either side; satellites do not see every metre of height
constexpr double slowest = 0.5; ///< m/s
constexpr double leastGain = 20, leastGradient = 0.02;
constexpr double steepest = 0.45; ///< rise over run; beyond it the file is wrong

bool within(double v, double low, double high) {
    return std::isfinite(v) && v >= low && v <= high;
}

Result<void> check(const std::vector<CoursePoint>& course, const Moving& r, double threshold,
                   std::optional<double> intensity) {
    if (course.size() < 2)
        return refuse(phrase("holds fewer than two points; a course needs a way"));
    const double length = course.back().distance;
    if (!within(length, 100, 2e6))
        return refuse(
            phrase("is %1 m long; a course has 100 m to 2000 km", std::to_string(std::lround(length))));
    if (!within(threshold, 30, 700))
        return refuse(phrase("--threshold-power: must be 30 to 700 W"));
    if (!within(r.mass, 30, 250))
        return refuse(phrase("--mass: must be 30 to 250 kg, rider and bicycle"));
    if (!within(r.dragArea, 0.1, 1.5))
        return refuse(phrase("--cda: must be 0.1 to 1.5 m²"));
    if (!within(r.rolling, 0.001, 0.05))
        return refuse(phrase("--crr: must be 0.001 to 0.05"));
    if (!within(r.density, 0.5, 1.5))
        return refuse(phrase("--density: must be 0.5 to 1.5 kg/m³"));
    if (!within(r.efficiency, 0.8, 1))
        return refuse(phrase("--efficiency: must be 0.8 to 1"));
    if (intensity && !within(*intensity, 0.3, 1.5))
        return refuse(phrase("--intensity: must be 0.3 to 1.5 of threshold power"));
    return {};
}

/// Heights every `step` metres, smoothed; a straight slope stays exactly what it is, up to both its ends.
std::vector<double> profile(const std::vector<CoursePoint>& course) {
    const double length = course.back().distance;
    const auto count = std::max<size_t>(1, static_cast<size_t>(std::lround(length / step)));
    std::vector<double> raw;
    size_t k = 0;
    for (size_t i = 0; i <= count; ++i) {
        const double at = length * static_cast<double>(i) / static_cast<double>(count);
        while (k + 2 < course.size() && course[k + 1].distance < at)
            ++k;
        const CoursePoint &a = course[k], &b = course[k + 1];
        const double span = b.distance - a.distance;
        const double part = span > 0 ? std::clamp((at - a.distance) / span, 0.0, 1.0) : 1;
        raw.push_back(a.altitude + part * (b.altitude - a.altitude));
    }
    std::vector<double> out(raw.size());
    const auto n = static_cast<int>(raw.size());
    for (int i = 0; i < n; ++i) {
        const int reach = std::min({smoothing, i, n - 1 - i});
        double sum = 0;
        for (int j = i - reach; j <= i + reach; ++j)
            sum += raw[static_cast<size_t>(j)];
        out[static_cast<size_t>(i)] = sum / (2 * reach + 1);
    }
    return out;
}

/// Seconds for every piece of the profile.
std::vector<double> times(const std::vector<double>& heights, double piece, const Moving& rider,
                          double power) {
    std::vector<double> all;
    all.reserve(heights.size());
    for (size_t i = 0; i + 1 < heights.size(); ++i) {
        const double rise = std::clamp((heights[i + 1] - heights[i]) / piece, -steepest, steepest);
        const double way = piece * std::sqrt(1 + rise * rise);
        all.push_back(way / speedAt(rider, rise, power));
    }
    return all;
}

std::vector<Climb> climbsOf(const std::vector<double>& heights, double piece,
                            const std::vector<double>& seconds) {
    std::vector<Climb> found;
    size_t low = 0, top = 0;
    const auto close = [&] {
        Climb c;
        c.start = piece * static_cast<double>(low);
        c.length = piece * static_cast<double>(top - low);
        c.gain = heights[top] - heights[low];
        c.gradient = c.length > 0 ? c.gain / c.length : 0;
        for (size_t i = low; i < top; ++i)
            c.duration += seconds[i];
        if (c.gain >= leastGain && c.gradient >= leastGradient)
            found.push_back(c);
    };
    for (size_t i = 1; i < heights.size(); ++i) {
        const double gain = heights[top] - heights[low];
        if (heights[i] > heights[top]) {
            top = i;
        } else if (heights[top] - heights[i] > std::max(8.0, 0.15 * gain) ||
                   (gain <= 0 && heights[i] <= heights[low])) {
            close();
            low = top = i;
        } else if (heights[i] <= heights[low]) {
            low = top = i;
        }
        // A flat foot is no part of a climb: it begins where the road does.
        while (low < top && heights[low + 1] - heights[low] < 0.01 * piece)
            ++low;
    }
    close();
    return found;
}

const char* demandOf(const CourseDemand& c) {
    const double hours = c.duration / 3600;
    if (hours >= 5)
        return "long";
    double longest = 0;
    int brief = 0;
    for (const Climb& climb : c.climbs) {
        longest = std::max(longest, climb.duration);
        brief += climb.duration < 240 ? 1 : 0;
    }
    if (hours < 1.75 && brief >= 6 * hours && brief >= 4)
        return "punchy";
    if (longest >= 900 || (hours < 1.25 && c.climbs.size() <= 2))
        return "steady";
    return "road";
}

} // namespace

double powerAt(const Moving& r, double gradient, double speed, double wind) {
    const double angle = std::atan(gradient), air = speed + wind;
    const double force = r.mass * gravity * (std::sin(angle) + r.rolling * std::cos(angle)) +
                         0.5 * r.density * r.dragArea * air * std::abs(air);
    return force * speed / r.efficiency;
}

double speedAt(const Moving& r, double gradient, double power) {
    const double cosine = 1 / std::sqrt(1 + gradient * gradient), sine = gradient * cosine;
    const double road = r.mass * gravity * (sine + r.rolling * cosine), air = 0.5 * r.density * r.dragArea,
                 wheel = power * r.efficiency;
    double v = fastestSpeed;
    double over = (road + air * v * v) * v - wheel;
    if (over <= 0)
        return fastestSpeed;
    // What is needed bends upwards with speed: from above Newton's steps fall to the one crossing there is
    // above the speed at which the road alone carries the rider, and never pass it.
    for (int i = 0; i < 60 && over > 0; ++i) {
        const double less = over / (road + 3 * air * v * v);
        v -= less;
        over = (road + air * v * v) * v - wheel;
        if (less < 1e-12 * v)
            break;
    }
    return std::max(slowest, v);
}

double heldFor(double seconds) {
    // Common practice; between the points it goes with the logarithm of time.
    constexpr std::array<std::pair<double, double>, 10> points{{{300, 1.20},
                                                                {1200, 1.05},
                                                                {3600, 1.0},
                                                                {7200, 0.92},
                                                                {10800, 0.87},
                                                                {14400, 0.83},
                                                                {21600, 0.77},
                                                                {28800, 0.73},
                                                                {43200, 0.67},
                                                                {86400, 0.58}}};
    if (seconds <= points.front().first)
        return points.front().second;
    for (size_t i = 1; i < points.size(); ++i)
        if (seconds <= points[i].first) {
            const auto& [t0, x0] = points[i - 1];
            const auto& [t1, x1] = points[i];
            return x0 + (x1 - x0) * std::log(seconds / t0) / std::log(t1 / t0);
        }
    return points.back().second;
}

/// The intensity that is held for just as long as the course takes at it; duration in s by intensity.
static double intensityHeld(const std::function<double(double)>& duration) {
    // Harder is shorter, and shorter can be ridden harder: one point where both agree. Each try is cut
    // where the line through both ends crosses, the end that stays twice counting half (Illinois).
    double low = 0.5, high = 1.25;
    const auto spare = [&](double x) { return heldFor(duration(x)) - x; };
    double atLow = spare(low), atHigh = spare(high);
    int stayed = 0;
    for (int i = 0; i < 60 && high - low > 1e-12 && atLow > 0 && atHigh < 0; ++i) {
        const double x = low + (high - low) * atLow / (atLow - atHigh), at = spare(x);
        if (std::abs(at) < 1e-13) {
            low = high = x;
        } else if (at > 0) {
            low = x;
            atLow = at;
            if (stayed++ > 0)
                atHigh /= 2;
            stayed = std::max(stayed, 1);
        } else {
            high = x;
            atHigh = at;
            if (stayed-- < 0)
                atLow /= 2;
            stayed = std::min(stayed, -1);
        }
    }
    // Harder than anybody, or shorter than anything held: the nearest end stands.
    if (atLow <= 0)
        high = low;
    else if (atHigh >= 0)
        low = high;
    return (low + high) / 2;
}

Result<CourseDemand> rideCourse(const std::vector<CoursePoint>& course, const Moving& rider,
                                double thresholdPower, std::optional<double> intensity) {
    if (auto ok = check(course, rider, thresholdPower, intensity); !ok)
        return tl::unexpected(ok.error());
    const std::vector<double> heights = profile(course);
    CourseDemand out;
    out.distance = course.back().distance;
    const double piece = out.distance / static_cast<double>(heights.size() - 1);
    for (size_t i = 0; i + 1 < heights.size(); ++i)
        out.climb += std::max(0.0, heights[i + 1] - heights[i]);
    const auto duration = [&](double x) {
        double sum = 0;
        for (const double s : times(heights, piece, rider, x * thresholdPower))
            sum += s;
        return sum;
    };
    out.intensity = intensity ? *intensity : intensityHeld(duration);
    out.power = out.intensity * thresholdPower;
    const std::vector<double> seconds = times(heights, piece, rider, out.power);
    for (const double s : seconds)
        out.duration += s;
    out.work = out.power * out.duration / 1000;
    out.stress = 100 * out.duration / 3600 * out.intensity * out.intensity;
    out.climbs = climbsOf(heights, piece, seconds);
    out.demand = demandOf(out);
    return out;
}

std::vector<CoursePoint> thinned(const std::vector<CoursePoint>& course, size_t most) {
    if (course.size() <= most || most < 2)
        return course;
    std::vector<CoursePoint> out;
    const double step = (course.back().distance - course.front().distance) / static_cast<double>(most - 1);
    size_t i = 0;
    for (size_t n = 0; n < most; ++n) {
        const double at =
            n + 1 == most ? course.back().distance : course.front().distance + static_cast<double>(n) * step;
        while (i + 2 < course.size() && course[i + 1].distance < at)
            ++i;
        const CoursePoint &a = course[i], &b = course[i + 1];
        const double run = b.distance - a.distance;
        const double share = run > 0 ? std::clamp((at - a.distance) / run, 0.0, 1.0) : 1;
        out.push_back({at, a.altitude + share * (b.altitude - a.altitude)});
    }
    return out;
}

Lasting canLast(double raceHours, std::vector<double> rideHours) {
    Lasting l;
    l.wanted = 0.85 * raceHours;
    std::sort(rideHours.begin(), rideHours.end(), std::greater<>());
    if (rideHours.empty()) {
        l.words =
            phrase("Nothing ridden in the last sixteen weeks: whether the distance is there is not known.");
        return l;
    }
    l.longest = rideHours.front();
    const bool twice = rideHours.size() > 1 && rideHours[1] >= 0.75 * raceHours;
    const bool yes = l.longest >= l.wanted || twice;
    l.verdict = yes ? Lasting::Verdict::Yes : Lasting::Verdict::NotYet;
    l.words = phrase("The longest ride of the last sixteen weeks took %1 h, the race takes %2 h: %3",
                     fixedText(l.longest), fixedText(raceHours),
                     (yes ? phrase("the distance is there.")
                          : phrase("not there yet; a long ride of %1 h, or two of %2 h, would show it.",
                                   fixedText(l.wanted), fixedText(0.75 * raceHours))));
    return l;
}

} // namespace marram
