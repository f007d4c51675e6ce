// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/season.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace marram {

const char* nameOf(Priority p) {
    return p == Priority::A ? "A" : p == Priority::B ? "B" : "C";
}

const char* nameOf(Demand d) {
    switch (d) {
    case Demand::Steady:
        return "steady";
    case Demand::Long:
        return "long";
    case Demand::Punchy:
        return "punchy";
    case Demand::Road:
        return "road";
    case Demand::Stage:
        return "stage";
    case Demand::Unstated:
        break;
    }
    return "unstated";
}

const char* nameOf(Phase p) {
    switch (p) {
    case Phase::Transition:
        return "transition";
    case Phase::Base:
        return "base";
    case Phase::Build:
        return "build";
    case Phase::Specialise:
        return "specialise";
    case Phase::Taper:
        return "taper";
    case Phase::Race:
        return "race";
    case Phase::Break:
        break;
    }
    return "break";
}

const char* nameOf(WeekKind k) {
    switch (k) {
    case WeekKind::Build:
        return "build";
    case WeekKind::Deload:
        return "deload";
    case WeekKind::Taper:
        return "taper";
    case WeekKind::Race:
        return "race";
    case WeekKind::Recovery:
        return "recovery";
    case WeekKind::Transition:
        return "transition";
    case WeekKind::Camp:
        return "camp";
    case WeekKind::Break:
        break;
    }
    return "break";
}

const char* nameOf(Role r) {
    switch (r) {
    case Role::Easy:
        return "easy";
    case Role::Long:
        return "long";
    case Role::Hard:
        return "hard";
    case Role::Gym:
        return "gym";
    case Role::Test:
        return "test";
    case Role::Openers:
        return "openers";
    case Role::Race:
        return "race";
    case Role::Rest:
        break;
    }
    return "rest";
}

const char* nameOf(School s) {
    switch (s) {
    case School::Polarised:
        return "polarised";
    case School::Pyramidal:
        return "pyramidal";
    case School::ThresholdLed:
        return "threshold-led";
    case School::Even:
        return "even";
    case School::Own:
        break;
    }
    return "own";
}

const char* nameOf(Order o) {
    switch (o) {
    case Order::BaseFirst:
        return "base-first";
    case Order::IntensityFirst:
        return "intensity-first";
    case Order::Mixed:
        break;
    }
    return "mixed";
}

const char* nameOf(AwayWhy w) {
    switch (w) {
    case AwayWhy::Holiday:
        return "holiday";
    case AwayWhy::Illness:
        return "illness";
    case AwayWhy::Camp:
        break;
    }
    return "camp";
}

const char* nameOf(RungVerdict v) {
    switch (v) {
    case RungVerdict::Repeat:
        return "repeat";
    case RungVerdict::Ease:
        return "ease";
    case RungVerdict::Passed:
        break;
    }
    return "passed";
}

const char* nameOf(TaperShape s) {
    switch (s) {
    case TaperShape::DeepThenModerate:
        return "deep-then-moderate";
    case TaperShape::OneWeek:
        return "one-week";
    case TaperShape::Falling:
        break;
    }
    return "falling";
}

double raceStress(const Race& race) {
    if (race.stress)
        return *race.stress;
    switch (race.demand) {
    case Demand::Steady:
        return 110.0 * race.days;
    case Demand::Long:
        return 280.0 * race.days;
    case Demand::Punchy:
        return 90.0 * race.days;
    case Demand::Stage:
        return 150.0 * race.days;
    case Demand::Road:
    case Demand::Unstated:
        break;
    }
    return 180.0 * race.days;
}

std::optional<Gate> raceGate(const Race& race) {
    if (race.gate)
        return race.gate;
    if (race.priority == Priority::A)
        return Gate{15, 25};
    if (race.priority == Priority::B)
        return Gate{0, 15};
    return std::nullopt;
}

std::optional<Gate> raceGate(const Race& race, double fitness) {
    if (race.gate || race.priority != Priority::A)
        return raceGate(race);
    return Gate{std::floor(std::min(gateLowMost, gateLowOfFitness * fitness) + 0.5),
                std::floor(std::min(gateHighMost, gateHighOfFitness * fitness) + 0.5)};
}

std::optional<Gate> gateInForce(const Race& race, const Plan& plan) {
    if (!race.gate)
        for (const PlannedRace& planned : plan.races)
            if (planned.name == race.name && planned.priority == race.priority && planned.gate)
                return planned.gate;
    return raceGate(race);
}

namespace {

bool within(double v, double low, double high) {
    return std::isfinite(v) && v >= low && v <= high;
}

Result<void> checkHours(const std::string& where, const WeekHours& hours) {
    for (size_t i = 0; i < 7; ++i)
        if (!within(hours[i], 0, 24))
            return refuse(where + ": entry " + std::to_string(i + 1) + " must be 0 to 24 hours");
    return {};
}

Result<void> checkRules(const Rules& r) {
    if (r.buildWeeks < 1 || r.buildWeeks > 8 || r.deloadWeeks < 1 || r.deloadWeeks > 3)
        return refuse("rules.rhythm: must be 1 to 8 build weeks and 1 to 3 deload weeks, as [3, 1]");
    if (!within(r.ramp, 0, 30))
        return refuse("rules.ramp: must be 0 to 30 points a day per week");
    if (!within(r.formFloor, -200, 0))
        return refuse("rules.form_floor: must be -200 to 0 points a day");
    if (!within(r.deload, 0.2, 1))
        return refuse("rules.deload: must be a fraction from 0.2 to 1");
    if (r.taperDays < 0 || r.taperDays > 42)
        return refuse("rules.taper_d: must be 0 to 42 days");
    if (r.hardDays < 0 || r.hardDays > 7)
        return refuse("rules.hard_days: must be 0 to 7");
    for (const auto& [phase, share] : r.volume)
        if (!within(share, 0.3, 1))
            return refuse(std::string("rules.volume.") + nameOf(phase) +
                          ": must be a fraction from 0.3 to 1");
    for (const int n : r.gym.value_or(std::array<int, 3>{}))
        if (n < 0 || n > 4)
            return refuse("rules.gym: must be 0 to 4 sessions a week, in transition, base and season");
    if (!within(r.miss, 0, 0.9))
        return refuse("rules.miss: must be a probability from 0 to 0.9");
    if (!within(r.missRun, 1, 30))
        return refuse("rules.miss_run: must be 1 to 30 days");
    if (!within(r.gatePrice, 0.25, 4))
        return refuse("rules.gate_price: must be 0.25 to 4 points of fitness for a point of the gate");
    for (const auto& [phase, split] : r.ownSplits)
        if (!within(split.low, 0, 1) || !within(split.middle, 0, 1) || !within(split.high, 0, 1) ||
            std::abs(split.sum() - 1) > 0.011)
            return refuse(std::string("rules.school.") + nameOf(phase) +
                          ": must be three percentages that sum to 100");
    return {};
}

Result<void> checkRace(const Race& race) {
    if (std::any_of(race.name.begin(), race.name.end(),
                    [](unsigned char c) { return c < 0x20 || c == 0x7F; }))
        return refuse("races: the name of the race on " + isoText(race.date) +
                      " holds a control character; take it out");
    if (race.name.size() > 200)
        return refuse("races: the name of the race on " + isoText(race.date) + " is longer than 200 letters");
    const std::string where = "races: \"" + race.name + "\"";
    if (race.days < 1 || race.days > 30)
        return refuse(where + ": days must be 1 to 30");
    if (race.course.size() > mostCoursePoints)
        return refuse(where + ": course has " + std::to_string(race.course.size()) + " points, at most " +
                      std::to_string(mostCoursePoints) + " are kept");
    for (size_t i = 0; i < race.course.size(); ++i)
        if (const CoursePoint& at = race.course[i];
            !within(at.distance, i > 0 ? race.course[i - 1].distance : 0, 2e6) ||
            !within(at.altitude, -500, 9000))
            return refuse(where + ": course must be pairs [metres from the start, metres above the sea], "
                                  "distances rising to at most 2000 km");
    for (const std::string* words : {&race.result, &race.note})
        if (words->size() > 4000)
            return refuse(where + ": its result or note is longer than 4000 letters");
    if (race.stress && !within(*race.stress, 0, 5000))
        return refuse(where + ": stress must be 0 to 5000 points");
    if (race.gate && (!within(race.gate->low, -100, 100) || !within(race.gate->high, -100, 100) ||
                      race.gate->low > race.gate->high))
        return refuse(where + ": gate must be [low, high] between -100 and 100, low first");
    return {};
}

} // namespace

Result<void> possible(const Season& s) {
    if (s.end < s.start)
        return refuse("end: " + isoText(s.end) + " lies before start " + isoText(s.start));
    if (s.dayCount() > 1100)
        return refuse("end: a season of " + std::to_string(s.dayCount()) + " days is too long; at most 1100");
    if (!within(s.thresholdPower, 30, 700))
        return refuse("rider.threshold_power_w: must be 30 to 700 W");
    if (!within(s.before.fitness, 0, 400))
        return refuse("rider.fitness: must be 0 to 400 points a day");
    if (!within(s.before.fatigue, 0, 800))
        return refuse("rider.fatigue: must be 0 to 800 points a day");
    if (!within(s.lowThreshold, 0.5, 0.95))
        return refuse("rider.low_threshold: must be a fraction of threshold power from 0.5 to 0.95");
    if (!within(s.tau.fitness, 1, 200) || !within(s.tau.fatigue, 0.5, 100) || s.tau.fatigue >= s.tau.fitness)
        return refuse(
            "rider.tau_fitness_d: time constants must be 0.5 to 200 days, fatigue shorter than fitness");
    if (s.born && (*s.born < 1900 || *s.born > 2199))
        return refuse("rider.born: must be a year from 1900 to 2199");
    if (auto ok = checkHours("rider.hours", s.hours); !ok)
        return ok;
    if (auto ok = checkRules(s.rules); !ok)
        return ok;
    if (s.races.size() > mostRaces)
        return refuse("races: names " + std::to_string(s.races.size()) + " races; a season holds at most " +
                      std::to_string(mostRaces));
    if (s.away.size() > mostRaces)
        return refuse("away: names " + std::to_string(s.away.size()) + " absences; a season holds at most " +
                      std::to_string(mostRaces));
    for (const Race& race : s.races)
        if (auto ok = checkRace(race); !ok)
            return ok;
    std::set<Date> pinned;
    for (const WeekPin& week : s.weeks) {
        if (!pinned.insert(week.start).second)
            return refuse("weeks: the week of " + isoText(week.start) +
                          " comes twice; put its hours and its kind into one entry");
        if (weekday(week.start) != 0)
            return refuse("weeks: start " + isoText(week.start) + " is a " + weekdayText(week.start) +
                          "; a week starts on Monday");
        if (week.phase && *week.phase > Phase::Specialise)
            return refuse(
                "weeks: phase of " + isoText(week.start) +
                " must be transition, base, build or specialise; a taper, a race or a break has its "
                "own");
        if (week.hours)
            if (auto ok = checkHours("weeks: hours of " + isoText(week.start), *week.hours); !ok)
                return ok;
    }
    std::optional<Date> before;
    for (const SessionPin& pin : s.sessions) {
        const std::string day = isoText(pin.date);
        if (before && pin.date <= *before)
            return refuse("sessions: " + day + " comes after " + isoText(*before) +
                          "; one entry a day, in order");
        before = pin.date;
        if (pin.minutes && (*pin.minutes < 5 || *pin.minutes > 1440))
            return refuse("sessions: minutes of " + day + " must be 5 to 1440");
        if (pin.rung && (*pin.rung < 1 || *pin.rung > 40))
            return refuse("sessions: rung of " + day + " must be 1 to 40");
        if (pin.rung && pin.family.empty())
            return refuse("sessions: rung of " + day + " needs its family");
        if (pin.words.size() > longestWords || pin.note.size() > longestWords || pin.family.size() > 60 ||
            pin.team.size() > 60)
            return refuse("sessions: words of " + day + " are too long; at most " +
                          std::to_string(longestWords) + " characters");
    }
    for (const Away& away : s.away) {
        if (away.to - away.from > 1100)
            return refuse("away: from " + isoText(away.from) + " lasts longer than any season, 1100 days");
        if (away.to < away.from)
            return refuse("away: to " + isoText(away.to) + " lies before from " + isoText(away.from));
        if (away.stress && !within(*away.stress, 0, 10000))
            return refuse("away: stress of " + isoText(away.from) + " must be 0 to 10000 points");
        if (away.stress && away.why != AwayWhy::Camp && *away.stress > 0)
            return refuse("away: " + std::string(nameOf(away.why)) + " from " + isoText(away.from) +
                          " carries no stress; only a camp does");
    }
    return {};
}

Result<void> check(const Season& s) {
    if (auto ok = possible(s); !ok)
        return ok;
    for (const Race& race : s.races) {
        const std::string where = "races: \"" + race.name + "\"";
        if (race.date < s.start || race.date > s.end)
            return refuse(where + " on " + isoText(race.date) + " lies outside the season, " +
                          isoText(s.start) + " to " + isoText(s.end));
        if (race.date + (race.days - 1) > s.end)
            return refuse(where + ": its last day lies after the season's end " + isoText(s.end));
    }
    return {};
}

CareRules careOf(const Season& season) {
    CareRules c;
    const std::optional<int> age =
        season.born ? std::optional(toCivil(season.start).year - *season.born) : std::nullopt;
    const bool cleared = season.care.cleared;
    if (age && *age < 18 && (*age < 16 || !cleared)) {
        c.noMaximal = c.bodyWeight = true;
        c.ramp = 4;
        c.camp = 1.3;
        c.said.push_back(
            "The rider is " + std::to_string(*age) +
            ": no maximal test, no overreaching, body weight instead of weights, fitness rises by at most 4 "
            "a week and a camp is at most 1.3 of a usual week" +
            (*age < 16 ? std::string(", cleared or not.")
                       : std::string(", until a doctor who knows young athletes clears more.")));
    }
    if (season.care.any() && !cleared) {
        std::string what;
        for (size_t i = 0; i < careNames.size(); ++i)
            if (season.care.has(static_cast<Care>(i)))
                what += (what.empty() ? "" : ", ") + std::string(careNames[i]);
        c.lowOnly = c.noMaximal = c.bodyWeight = true;
        c.said.push_back(
            "Care is noted (" + what +
            ") and nobody has cleared hard training: everything stays in the low band, without tests and "
            "weights, until a doctor or midwife who knows the rider says otherwise.");
    } else if (season.care.has(Care::Postpartum)) {
        c.fromNothing = true;
        c.said.push_back("After a birth and cleared: built up as from nothing, and stopped for pain, leaking "
                         "or heaviness; "
                         "then back to whoever cleared it.");
    }
    return c;
}

std::array<int, 3> gymOf(const Season& season) {
    if (season.rules.gym)
        return *season.rules.gym;
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    return hours >= 8 ? std::array{2, 1, 1} : hours >= 5 ? std::array{1, 1, 0} : std::array{0, 0, 0};
}

const PlannedWeek* weekOf(const Plan& plan, Date day) {
    const auto found = std::find_if(plan.weeks.begin(), plan.weeks.end(),
                                    [&](const PlannedWeek& w) { return monday(w.start) == monday(day); });
    return found == plan.weeks.end() ? nullptr : &*found;
}

const PlannedDay* dayOf(const Plan& plan, Date day) {
    const auto found =
        std::find_if(plan.days.begin(), plan.days.end(), [&](const PlannedDay& d) { return d.date == day; });
    return found == plan.days.end() ? nullptr : &*found;
}

} // namespace marram
