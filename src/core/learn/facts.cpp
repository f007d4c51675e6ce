// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/values.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// A stretch of two minutes under this share of an effort is a rest, whatever it is ridden at.
constexpr double restShare = 0.7, easyQuarter = 0.88, mostEasy = 0.08, wellAbove = 1.1;
constexpr int restSeconds = 120, smoothing = 30;
constexpr int settles = 240; ///< s a heart takes to follow

/// Single readings far over what lies around them are a sensor's.
std::vector<float> withoutSpikes(const std::vector<float>& power) {
    std::vector<float> clean = power;
    for (size_t i = 0; i < power.size(); ++i) {
        if (!(power[i] > 900))
            continue;
        double around = 0;
        int n = 0;
        for (int d = -8; d <= 8; ++d) {
            const auto j = static_cast<long>(i) + d;
            if (std::abs(d) >= 3 && j >= 0 && j < static_cast<long>(power.size()) &&
                !std::isnan(power[static_cast<size_t>(j)])) {
                around += power[static_cast<size_t>(j)];
                ++n;
            }
        }
        if (n > 0 && power[i] > 3 * around / n + 400)
            clean[i] = static_cast<float>(around / n);
    }
    return clean;
}

struct Sums {
    explicit Sums(const std::vector<float>& values) : sum(values.size() + 1, 0), count(values.size() + 1, 0) {
        for (size_t i = 0; i < values.size(); ++i) {
            const bool there = !std::isnan(values[i]);
            sum[i + 1] = sum[i] + (there ? values[i] : 0);
            count[i + 1] = count[i] + (there ? 1 : 0);
        }
    }
    double total(int from, int to) const {
        return sum[static_cast<size_t>(to)] - sum[static_cast<size_t>(from)];
    }
    int seen(int from, int to) const {
        return count[static_cast<size_t>(to)] - count[static_cast<size_t>(from)];
    }
    double mean(int from, int to) const {
        const int n = seen(from, to);
        return n > 0 ? total(from, to) / n : 0;
    }
    std::vector<double> sum;
    std::vector<int> count;
};

/// A strap that stands still for ten minutes.
void leaveOutStill(std::vector<float>& beats) {
    int still = 0;
    for (size_t at = 1; at < beats.size(); ++at) {
        still = !std::isnan(beats[at]) && beats[at] == beats[at - 1] ? still + 1 : 0;
        if (still == 600)
            std::fill(beats.begin() + static_cast<std::ptrdiff_t>(at - 600),
                      beats.begin() + static_cast<std::ptrdiff_t>(at + 1), missing);
        else if (still > 600)
            beats[at] = missing;
    }
}

/// Readings that follow the cadence for two minutes.
void leaveOutLocked(const Ride& ride, std::vector<float>& beats) {
    int locked = 0;
    for (size_t at = 0; at < beats.size(); ++at) {
        const bool same = at < ride.cadence.size() && ride.cadence[at] > 70 &&
                          std::abs(ride.cadence[at] - ride.heartRate[at]) <= 1;
        locked = same ? locked + 1 : 0;
        if (locked >= 120)
            for (size_t k = at - (locked == 120 ? 119 : 0); k <= at; ++k)
                beats[k] = missing;
    }
}

/// A step of over 12 beats in two seconds, until it comes back.
void leaveOutJumps(std::vector<float>& beats) {
    float last = missing;
    for (float& b : beats) {
        if (std::isnan(b))
            continue;
        if (!std::isnan(last) && b > last + 12) {
            b = missing;
            continue;
        }
        last = b;
    }
}

/// Heart rate without what no heart does.
std::vector<float> believed(const Ride& ride) {
    std::vector<float> beats = ride.heartRate;
    leaveOutStill(beats);
    leaveOutLocked(ride, beats);
    leaveOutJumps(beats);
    return beats;
}

/// Whether an effort was broken by rests, W its mean.
bool restsWithin(const Sums& power, int at, int length, double mean) {
    int resting = 0, easy = 0;
    for (int i = at; i + smoothing <= at + length; ++i) {
        const bool rest = power.total(i, i + smoothing) < restShare * mean * smoothing;
        resting = rest ? resting + 1 : 0;
        easy += rest ? 1 : 0;
        if (resting + smoothing > restSeconds)
            return true;
    }
    if (easy > mostEasy * length) // repetitions and their short rests
        return true;
    // Nor is it one effort where a quarter of it was ridden easily.
    for (int quarter = 0; quarter < 4; ++quarter) {
        const int from = at + quarter * length / 4, to = at + (quarter + 1) * length / 4;
        if (power.total(from, to) / (to - from) < easyQuarter * mean)
            return true;
    }
    return false;
}

/// The best a ride of `n` seconds holds over a length, and what tells whether it was one effort.
RideBest bestOver(int length, int n, const Sums& power, const Sums& heart) {
    RideBest b;
    b.seconds = length;
    int at = 0;
    for (int i = 0; i + length <= n; ++i)
        if (const double p = power.total(i, i + length) / length; p > b.power) {
            b.power = p;
            at = i;
        }
    const int end = at + length;
    for (int i = 0; i + length <= n; i += 5)
        if (i + length <= at || i >= end)
            b.second = std::max(b.second, power.total(i, i + length) / length);
    b.endHeartRate =
        heart.seen(std::max(at, end - 30), end) >= 15 ? heart.mean(std::max(at, end - 30), end) : 0;
    if (const int from = std::max(at + settles, end - 1200);
        from < end && heart.seen(from, end) > (end - from) / 2)
        b.settledHeartRate = heart.mean(from, end);
    b.falls =
        end + 45 >= n || power.total(end, std::min(n, end + 120)) / std::min(120, n - end) < 0.8 * b.power;
    b.rests = restsWithin(power, at, length, b.power);
    // A hard five minutes up to twenty-five minutes before.
    for (int i = std::max(0, at - 1500); i + 240 <= at; i += 10)
        if (power.total(i, i + 240) / 240 > 1.03 * b.power)
            b.openedHard = true;
    return b;
}

/// Where power and heart rate are both there and the rider rides steadily.
void readSteady(int n, const Sums& power, const Sums& heart, RideFacts& f) {
    double p = 0, h = 0;
    int seconds = 0;
    for (int i = 600; i + 30 <= n; i += 30)
        if (heart.seen(i, i + 30) >= 20 && power.total(i, i + 30) / 30 > 0.6 * f.meanPower &&
            power.total(i, i + 30) / 30 < 1.4 * f.meanPower) {
            p += power.total(i, i + 30);
            h += 30 * heart.mean(i, i + 30);
            seconds += 30;
        }
    if (seconds >= 1200 && h > 0) {
        f.steadyPower = p / seconds;
        f.steadyBeats = h / seconds;
    }
}

} // namespace

RideFacts factsOf(const std::string& file, const Ride& ride, Date localDay) {
    RideFacts f;
    f.file = file;
    f.day = localDay;
    f.hours = ride.recorded() / 3600.0;
    f.hasPower = ride.hasPower;
    f.indoors = ride.indoors;
    f.weight = ride.weight;
    const int n = ride.elapsed();
    const std::vector<float> beats =
        ride.hasHeartRate ? believed(ride) : std::vector<float>(static_cast<size_t>(n), missing);
    const Sums heart(beats);
    for (int i = 0; i + 10 <= n; i += 5)
        if (heart.seen(i, i + 10) >= 8)
            f.highBeats.push_back(heart.mean(i, i + 10));
    std::sort(f.highBeats.begin(), f.highBeats.end(), std::greater<>());
    if (f.highBeats.size() > 12)
        f.highBeats.resize(12);
    if (!ride.hasPower)
        return f;
    const std::vector<float> clean = withoutSpikes(ride.power);
    std::vector<float> filled = clean;
    for (float& p : filled)
        p = std::isnan(p) ? 0 : p;
    const Sums power(filled);
    f.meanPower = power.total(0, n) / std::max(1, ride.recorded());
    for (const int length : effortLengths) {
        if (length > n)
            break;
        RideBest b = bestOver(length, n, power, heart);
        // Nor where a third of it was ridden well above it twice: those were the efforts.
        for (const RideBest& shorter : f.bests)
            b.rests = b.rests || (3 * shorter.seconds <= length && shorter.power > wellAbove * b.power &&
                                  shorter.second > wellAbove * b.power);
        f.bests.push_back(b);
    }
    readSteady(n, power, heart, f);
    return f;
}

} // namespace marram
