// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include <random>

namespace marram::test {

inline Date on(const char* text) {
    return parseDate(text).value();
}

inline Race race(const char* name, const char* date, Priority priority, double stress) {
    Race r;
    r.name = name;
    r.date = on(date);
    r.priority = priority;
    r.stress = stress;
    return r;
}

/// A season of ordinary size: one A race on a Sunday in September, eleven hours a week.
inline Season ordinary() {
    Season s;
    s.start = on("2027-01-04");
    s.end = on("2027-09-26");
    s.thresholdPower = 250;
    s.before = {45, 45};
    s.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    s.races = {race("Marrow Point", "2027-09-19", Priority::A, 260)};
    return s;
}

/// A season of so many weeks to a Sunday A race in its last week.
inline Season weeksToRace(int weeks) {
    Season s = ordinary();
    s.end = s.start + 7 * weeks - 1;
    s.races = {race("Marrow Point", isoText(s.end).c_str(), Priority::A, 200)};
    return s;
}

/// Seasons of every kind, the same for the same seed.
inline Season any(unsigned seed) {
    std::mt19937 dice(seed);
    const auto below = [&](int n) { return static_cast<int>(dice() % static_cast<unsigned>(n)); };
    const auto chance = [&](int percent) { return below(100) < percent; };
    const auto between = [&](double a, double b) { return a + (b - a) * (dice() % 10000) / 10000.0; };
    Season s;
    s.start = on("2027-01-04") + 7 * below(52) + (chance(15) ? below(7) : 0);
    const int days = 7 * (10 + below(44));
    s.end = s.start + days - 1;
    for (size_t i = 0; i < 5; ++i)
        s.hours[i] = std::array{0.0, 0.75, 1.0, 1.5, 2.0}[static_cast<size_t>(below(5))];
    s.hours[5] = 2 + below(4);
    s.hours[6] = below(5);
    s.before.fitness = between(15, 90);
    s.before.fatigue = s.before.fitness * between(0.6, 1.4);
    s.rules.buildWeeks = 2 + below(3);
    s.rules.ramp = 3 + below(5);
    s.rules.formFloor = -20 - 5 * below(4);
    s.rules.school = static_cast<School>(below(4));
    s.rules.order = static_cast<Order>(below(3));
    s.rules.taperDays = std::array{7, 10, 14, 14, 14, 21}[static_cast<size_t>(below(6))];
    s.rules.hardDays = 1 + below(3);
    const auto add = [&](Priority p, int earliest, double stress) {
        Race r;
        r.name = std::string("race ") + std::to_string(s.races.size());
        r.date = s.start + earliest + below(days - earliest - 2);
        r.priority = p;
        r.stress = stress;
        s.races.push_back(r);
    };
    add(Priority::A, 42, between(80, 300));
    if (chance(25))
        add(Priority::A, 10, 200);
    for (int i = below(3); i > 0; --i)
        add(Priority::B, 5, between(80, 220));
    for (int i = below(4); i > 0; --i)
        add(Priority::C, 0, between(60, 200));
    if (chance(30)) {
        const Date from = s.start + below(days - 12);
        s.away.push_back(
            {from, from + 2 + below(9), chance(50) ? AwayWhy::Holiday : AwayWhy::Illness, std::nullopt});
    }
    if (chance(20) && days > 150) {
        const Date from = s.start + 40 + below(days - 100);
        s.away.push_back({from, from + 6, AwayWhy::Camp, 900.0});
    }
    if (chance(30)) {
        WeekPin pin;
        pin.start = monday(s.start) + 7 * (1 + below(days / 7 - 1));
        if (chance(50))
            pin.hours = WeekHours{0, 1, 0, 1, 0, 2, 1};
        else
            pin.kind =
                std::array{WeekKind::Deload, WeekKind::Build, WeekKind::Break}[static_cast<size_t>(below(3))];
        s.weeks.push_back(pin);
    }
    return s;
}

inline std::string kinds(const Plan& plan) {
    std::string out;
    for (const PlannedWeek& w : plan.weeks)
        out += nameOf(w.kind)[0] == 't' && w.kind == WeekKind::Transition ? 'x'
               : w.kind == WeekKind::Race                                 ? 'R'
               : w.kind == WeekKind::Recovery                             ? 'r'
               : w.kind == WeekKind::Break                                ? '-'
                                           : static_cast<char>(std::toupper(nameOf(w.kind)[0]));
    return out;
}

} // namespace marram::test
