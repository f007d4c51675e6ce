// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/values.h"
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <string>
#include <vector>

/// Riders whose truth is known, and the recordings they leave.
namespace marram::test {

/// What is odd about a rider's record.
enum class Oddity {
    None,
    NoStrap,      ///< no heart rate at all
    DeadStrap,    ///< stands still at some figure in every third ride
    Spikes,       ///< single readings of power far over what is ridden
    MeterStep,    ///< the meter reads 6 % higher from the middle on
    YearOff,      ///< twelve weeks, a year without a ride, twelve more
    OnlyRaces,    ///< no tests, no efforts: races and easy rides
    OnlyCommutes, ///< forty minutes each way, nothing hard
    OnlyHills     ///< easy rides with a climb of twenty minutes at 80 to 88 % of threshold, nothing harder
};

/// Twenty-four weeks of a rider. Threshold power rises by 8 %; critical power is threshold / 0.96, W′ some
/// 60 to 100 s of it; a day varies by 1.5 %. Heart rate follows power in half a minute and drifts.
class RiddenRecord {
public:
    static constexpr Date firstDay{20458}; ///< a Monday
    double threshold = 0;                  ///< W, at the end
    double maxBeats = 0;
    std::vector<RideFacts> rides;

    RiddenRecord(unsigned seed, Oddity odd, bool easyOnly = false)
        : state_(seed), odd_(odd), easyOnly_(easyOnly || odd >= Oddity::OnlyCommutes) {
        first_ = between(180, 340);
        reserve_ = between(60, 100);
        maxBeats = std::round(between(170, 200));
        thresholdBeats_ = maxBeats * between(0.89, 0.93);
        rest_ = between(42, 60);
        threshold = truthOn(weeks * 7 - 1);
        for (int week = 0; week < weeks; ++week)
            for (int day = 0; day < 7; ++day)
                ride(week, day);
        if (odd == Oddity::YearOff)
            for (RideFacts& r : rides)
                if (r.day >= firstDay + 7 * weeks / 2)
                    r.day = r.day + 364;
    }
    /// The threshold at the end as the meter shows it.
    double shownThreshold() const { return threshold * (odd_ == Oddity::MeterStep ? 1.06 : 1); }
    double truthOn(int day) const { return first_ * (1 + 0.08 * day / (7.0 * weeks)); }

private:
    static constexpr int weeks = 24;

    std::uint64_t next() { // splitmix64 (Steele, Lea & Flood 2014)
        std::uint64_t z = state_ += 0x9e3779b97f4a7c15U;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9U;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebU;
        return z ^ (z >> 31);
    }
    double between(double low, double high) {
        return low + (high - low) * static_cast<double>(next() >> 11) / 9007199254740992.0;
    }
    /// About normal: four uniform numbers out of one.
    double vary(double sd) {
        const std::uint64_t r = next();
        double sum = -2;
        for (int i = 0; i < 4; ++i)
            sum += static_cast<double>(r >> (16 * i) & 0xffffU) / 65535.0;
        return sd * sum * 1.7320508;
    }

    /// W held for so many seconds by one who gives all, on this day.
    double most(int seconds) const {
        const double critical = now_ / 0.96;
        return form_ * (critical + reserve_ * critical / std::max(seconds, 60));
    }
    void hold(int seconds, double power, double uneven = 0.05) {
        double wander = 0;
        for (int i = 0; i < seconds; ++i) {
            wander = 0.97 * wander + vary(0.01);
            power_.push_back(static_cast<float>(std::max(0.0, power * (1 + wander + vary(uneven)))));
        }
    }
    void easy(int seconds) {
        while (seconds > 0) {
            const int part = std::min(seconds, static_cast<int>(between(60, 400)));
            hold(part, now_ * between(0.5, 0.72), 0.12);
            if (between(0, 1) < 0.3)
                hold(std::min(20, seconds), 0, 0);
            seconds -= part;
        }
    }
    void allOut(int seconds) { hold(seconds, most(seconds), 0.04); }

    void ride(int week, int day) {
        static constexpr int hours[] = {0, 1, 1, 1, 0, 2, 2};
        if (odd_ == Oddity::OnlyCommutes ? day > 4 : hours[day] == 0 || between(0, 1) < 0.08)
            return;
        const int at = 7 * week + day;
        now_ = truthOn(at);
        form_ = 1 + vary(0.015);
        power_.clear();
        const bool special = week % 4 == 3 && !easyOnly_;
        const bool races = odd_ == Oddity::OnlyRaces || (week / 4) % 2 == 1;
        if (odd_ == Oddity::OnlyCommutes) {
            easy(2400);
        } else if (special && day == 5 && races) {
            race();
        } else if (special && day == 2 && odd_ != Oddity::OnlyRaces && !races) {
            easy(1200);
            allOut(300);
            easy(900);
            allOut(720);
            easy(600);
        } else if (special && day == 5 && odd_ != Oddity::OnlyRaces) {
            // The test: twenty minutes, the hard five before them.
            easy(1200);
            hold(300, 1.06 * most(1200));
            easy(600);
            hold(1200, twentyAfterFive(), 0.03);
            easy(600);
        } else if (!easyOnly_ && day == 1 && odd_ != Oddity::OnlyRaces) {
            easy(900);
            for (int i = 0; i < 4; ++i) {
                hold(480, 1.0 * now_, 0.04);
                hold(240, 0.5 * now_);
            }
            easy(600);
        } else if (odd_ == Oddity::OnlyHills) {
            easy(1200);
            hold(1200, now_ * between(0.8, 0.88), 0.06);
            hold(400, 0.2 * now_);
            easy(3600 * hours[day] - 2600);
        } else {
            easy(3600 * hours[day]);
        }
        take(at);
    }
    /// Threshold is 0.95 of it.
    double twentyAfterFive() const { return form_ * now_ / 0.95; }

    void race() {
        easy(1200);
        for (int i = 0; i < 10; ++i) {
            hold(30, 1.4 * now_, 0.1);
            hold(270, now_ * between(0.6, 0.9), 0.25);
        }
        allOut(1200); // the climb
        easy(900);
        hold(600, 0.8 * now_, 0.3);
        allOut(180); // the finish
        easy(300);
    }

    void take(int at) {
        Ride r;
        r.start = 86400LL * (firstDay.days + at) + 43200;
        const size_t n = power_.size();
        double beats = rest_ + 30, drift = 0;
        const double day = vary(1.5);
        for (size_t i = 0; i < n; ++i) {
            const double share = power_[i] / now_;
            drift += 4.0 / 7200;
            const double aim =
                rest_ + (thresholdBeats_ - rest_) * (share < 1 ? 0.2 + 0.8 * share : 1 + 0.35 * (share - 1)) +
                drift + day;
            beats += (aim - beats) / 35;
            if (share > 0.97) // what is held to the end goes to the highest
                beats += (maxBeats - beats) / (share > 1.04 ? 120 : 1400);
            r.heartRate.push_back(static_cast<float>(std::round(std::min(beats, maxBeats) + vary(0.6))));
        }
        r.power = power_;
        r.cadence.assign(n, 88);
        r.altitude.assign(n, missing);
        r.temperature.assign(n, missing);
        r.leftShare.assign(n, missing);
        for (size_t i = 0; i < n; ++i)
            r.distance.push_back(static_cast<float>(8.5 * static_cast<double>(i)));
        r.stretches = {{0, static_cast<int>(n)}};
        r.hasPower = true;
        r.hasHeartRate = odd_ != Oddity::NoStrap;
        if (!r.hasHeartRate)
            r.heartRate.assign(n, missing);
        if (odd_ == Oddity::DeadStrap && rides.size() % 3 == 0)
            std::fill(r.heartRate.begin(), r.heartRate.end(), 131.0F);
        if (odd_ == Oddity::Spikes)
            for (int i = 0; i < 6; ++i)
                r.power[next() % n] = 1950;
        if (odd_ == Oddity::MeterStep && at >= 7 * weeks / 2)
            for (float& p : r.power)
                p *= 1.06F;
        rides.push_back(factsOf("ride " + std::to_string(at), r, firstDay + at));
    }

    std::uint64_t state_;
    Oddity odd_;
    bool easyOnly_;
    double first_ = 0, reserve_ = 0, thresholdBeats_ = 0, rest_ = 0, now_ = 0, form_ = 1;
    std::vector<float> power_;
};

} // namespace marram::test
