// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "support/seasons.h"

namespace marram::test {

/// Invented seasons of every kind, the same for the same seed: little and much time, riders from nothing and
/// fit ones, one to four A races at any distance, races every weekend, absences of every length, camps, own
/// splits, pins, short and long seasons.
class Generator {
public:
    explicit Generator(unsigned seed) : dice_(seed * 7919 + 17) {}

    Season season() {
        Season s;
        s.start = on("2026-01-05") + 7 * below(150) + (chance(10) ? below(7) : 0);
        const int weeks = chance(8) ? 70 + below(35) : chance(12) ? 6 + below(8) : 14 + below(40);
        s.end = s.start + 7 * weeks - 1 - (chance(10) ? below(6) : 0);
        days_ = s.dayCount();
        hours(s);
        s.thresholdPower = 150 + below(250);
        if (chance(20))
            s.lowThreshold = between(0.70, 0.82);
        s.before.fitness = chance(15) ? between(0, 12) : between(15, 90);
        s.before.fatigue = s.before.fitness * (chance(70) ? between(0.9, 1.1) : between(0.6, 1.4));
        if (chance(6))
            s.layOff = true;
        rules(s);
        races(s);
        absences(s);
        pins(s);
        s.rules.taperSet = chance(75);
        return s;
    }

private:
    int below(int n) { return static_cast<int>(dice_() % static_cast<unsigned>(n)); }
    bool chance(int percent) { return below(100) < percent; }
    double between(double a, double b) { return a + (b - a) * (dice_() % 10000) / 10000.0; }
    double quarter(double h) { return std::round(4 * h) / 4; }
    template <class T>
    T pick(std::initializer_list<T> all) {
        return *(all.begin() + below(static_cast<int>(all.size())));
    }

    void hours(Season& s) {
        switch (below(6)) {
        case 0: // an ordinary amateur
            s.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
            break;
        case 1: // little time
            s.hours = {0, 1, 0, 1, 0, 2, 1};
            break;
        case 2: // twenty hours
            s.hours = {0, 3, 4, 2, 3, 5, 4};
            break;
        case 3: // one long day
            s.hours = {0, 0.75, 0, 0.75, 0, 1, quarter(between(2, 7))};
            break;
        default:
            for (double& h : s.hours)
                h = chance(25) ? 0 : quarter(between(0.5, 2.5));
            s.hours[5] = quarter(between(1, 6));
            s.hours[6] = chance(85) ? quarter(between(1, 5)) : 0;
        }
    }

    void rules(Season& s) {
        s.rules.buildWeeks = chance(60) ? 3 : 2 + below(3);
        s.rules.ramp = chance(50) ? 6 : 3 + below(5);
        s.rules.formFloor = pick({-20.0, -25.0, -30.0, -30.0, -30.0, -40.0});
        s.rules.deload = pick({0.5, 0.55, 0.6, 0.6, 0.65, 0.7});
        const int days = pick({7, 10, 14, 14, 14, 14, 21});
        s.rules.taperDays = s.rules.taperSet ? days : 14; // where nobody set it the search begins at fourteen
        s.rules.hardDays = chance(70) ? 2 : 1 + below(3);
        s.rules.school = static_cast<School>(below(4));
        if (chance(12)) {
            s.rules.school = School::Own;
            s.rules.ownSplits = {{Phase::Base, {0.85, 0.12, 0.03}},
                                 {Phase::Build, {0.78, 0.12, 0.10}},
                                 {Phase::Specialise, {0.80, 0.06, 0.14}}};
        }
        s.rules.order = chance(60) ? Order::BaseFirst : static_cast<Order>(below(3));
        if (chance(10))
            s.rules.gatePrice = pick({0.25, 0.5, 2.0, 4.0});
    }

    void add(Season& s, Priority p, int day, double stress) {
        Race r;
        r.name = std::string(nameOf(p)) + " " + std::to_string(s.races.size() + 1);
        r.date = s.start + std::clamp(day, 0, days_ - 1);
        r.priority = p;
        r.stress = stress;
        r.demand = static_cast<Demand>(below(6));
        if (p == Priority::A && chance(50))
            r.gate = pick({Gate{0, 15}, Gate{5, 20}, Gate{10, 20}, Gate{15, 25}});
        s.races.push_back(r);
    }

    void races(Season& s) {
        const int last = chance(60) ? days_ - 1 - below(8) : days_ / 2 + below(days_ / 2);
        add(s, Priority::A, last, between(60, 350));
        const int more = chance(30) ? 1 + below(3) : 0;
        for (int i = 0; i < more; ++i)
            add(s, Priority::A, chance(40) ? last - below(45) : below(days_), between(60, 300));
        for (int i = chance(50) ? 1 + below(4) : 0; i > 0; --i)
            add(s, Priority::B, below(days_), between(60, 250));
        if (chance(8)) { // every weekend
            for (int d = 0; d < days_; d += 7)
                if (chance(80))
                    add(s, Priority::C, d + 5 + below(2), between(50, 220));
        } else {
            for (int i = chance(50) ? 1 + below(5) : 0; i > 0; --i)
                add(s, Priority::C, below(days_), between(40, 260));
        }
        if (chance(5)) {
            s.races.back().days = std::min(1 + below(6), s.end - s.races.back().date + 1);
            s.races.back().stress = 120.0 * s.races.back().days;
        }
    }

    void absences(Season& s) {
        for (int i = chance(55) ? 1 + below(3) : 0; i > 0; --i) {
            const int length = 2 + below(13), from = below(std::max(1, days_ - length));
            s.away.push_back({s.start + from, s.start + from + length - 1,
                              chance(50) ? AwayWhy::Holiday : AwayWhy::Illness, std::nullopt});
        }
        if (chance(12) && days_ > 120) {
            const int from = 30 + below(days_ - 70);
            s.away.push_back(
                {s.start + from, s.start + from + 4 + below(6), AwayWhy::Camp, between(400, 1000)});
        }
    }

    void pins(Season& s) {
        if (chance(15)) {
            WeekPin pin;
            pin.start = monday(s.start) + 7 * (1 + below(std::max(1, days_ / 7 - 1)));
            pin.hours = WeekHours{0, 1, 0, 1, 0, 2, 1};
            s.weeks.push_back(pin);
        }
        if (chance(8)) {
            WeekPin pin;
            pin.start = monday(s.start) + 7 * (1 + below(std::max(1, days_ / 7 - 1)));
            pin.kind = pick({WeekKind::Deload, WeekKind::Build, WeekKind::Break});
            if (s.weeks.empty() || s.weeks.back().start != pin.start)
                s.weeks.push_back(pin);
        }
    }

    std::mt19937 dice_;
    int days_ = 0;
};

} // namespace marram::test
