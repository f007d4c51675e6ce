// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/season.h"
#include "core/season/fields.h"
#include "core/words/phrase.h"

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
        return marked("steady");
    case Demand::Long:
        return marked("long");
    case Demand::Punchy:
        return marked("punchy");
    case Demand::Road:
        return marked("road");
    case Demand::Stage:
        return marked("stage");
    case Demand::Unstated:
        break;
    }
    return marked("unstated");
}

const char* nameOf(Phase p) {
    switch (p) {
    case Phase::Transition:
        return marked("transition");
    case Phase::Base:
        return marked("base");
    case Phase::Build:
        return marked("build");
    case Phase::Specialise:
        return marked("specialise");
    case Phase::Taper:
        return marked("taper");
    case Phase::Race:
        return marked("race");
    case Phase::Break:
        break;
    }
    return marked("break");
}

const char* nameOf(WeekKind k) {
    switch (k) {
    case WeekKind::Build:
        return marked("build");
    case WeekKind::Deload:
        return marked("deload");
    case WeekKind::Taper:
        return marked("taper");
    case WeekKind::Race:
        return marked("race");
    case WeekKind::Recovery:
        return marked("recovery");
    case WeekKind::Transition:
        return marked("transition");
    case WeekKind::Camp:
        return marked("camp");
    case WeekKind::Break:
        break;
    }
    return marked("break");
}

const char* nameOf(Role r) {
    switch (r) {
    case Role::Easy:
        return marked("easy");
    case Role::Long:
        return marked("long");
    case Role::Hard:
        return marked("hard");
    case Role::Gym:
        return marked("gym");
    case Role::Test:
        return marked("test");
    case Role::Openers:
        return marked("openers");
    case Role::Race:
        return marked("race");
    case Role::Rest:
        break;
    }
    return marked("rest");
}

const char* nameOf(School s) {
    switch (s) {
    case School::Polarised:
        return marked("polarised");
    case School::Pyramidal:
        return marked("pyramidal");
    case School::ThresholdLed:
        return marked("threshold-led");
    case School::Even:
        return marked("even");
    case School::Own:
        break;
    }
    return marked("own");
}

const char* nameOf(Order o) {
    switch (o) {
    case Order::BaseFirst:
        return marked("base-first");
    case Order::IntensityFirst:
        return marked("intensity-first");
    case Order::Mixed:
        break;
    }
    return marked("mixed");
}

const char* nameOf(AwayWhy w) {
    switch (w) {
    case AwayWhy::Holiday:
        return marked("holiday");
    case AwayWhy::Illness:
        return marked("illness");
    case AwayWhy::Camp:
        break;
    }
    return marked("camp");
}

const char* nameOf(RungVerdict v) {
    switch (v) {
    case RungVerdict::Repeat:
        return marked("repeat");
    case RungVerdict::Ease:
        return marked("ease");
    case RungVerdict::Passed:
        break;
    }
    return marked("passed");
}

const char* nameOf(TaperShape s) {
    switch (s) {
    case TaperShape::DeepThenModerate:
        return marked("deep-then-moderate");
    case TaperShape::OneWeek:
        return marked("one-week");
    case TaperShape::Falling:
        break;
    }
    return marked("falling");
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

/// What a record's numbers may be is in its list of fields; `where` names the one that is checked.
template <Described Record>
Result<void> inSpans(const Record& record, const std::string& where = {}) {
    const Span* outside = outsideItsSpan(record);
    return outside ? refuse(phrase(outside->words, where)) : Result<void>{};
}

Result<void> checkHours(const std::string& where, const WeekHours& hours) {
    for (size_t i = 0; i < 7; ++i)
        if (!within(hours[i], 0, 24))
            return refuse(phrase("%1: entry %2 must be 0 to 24 hours", where, std::to_string(i + 1)));
    return {};
}

Result<void> checkRules(const Rules& r) {
    if (auto ok = inSpans(r); !ok)
        return ok;
    for (const auto& [phase, share] : r.volume)
        if (!within(share, 0.3, 1))
            return refuse(phrase("rules.volume.%1: must be a fraction from 0.3 to 1", nameOf(phase)));
    for (const int n : r.gym.value_or(std::array<int, 3>{}))
        if (n < 0 || n > 4)
            return refuse(
                phrase("rules.gym: must be 0 to 4 sessions a week, in transition, base and season"));
    for (const auto& [phase, split] : r.ownSplits)
        if (!within(split.low, 0, 1) || !within(split.middle, 0, 1) || !within(split.high, 0, 1) ||
            std::abs(split.sum() - 1) > 0.011)
            return refuse(
                phrase("rules.school.%1: must be three percentages that sum to 100", nameOf(phase)));
    return {};
}

Result<void> checkCourse(const std::vector<CoursePoint>& course, const std::string& where) {
    if (course.size() > mostCoursePoints)
        return refuse(phrase("%1: course has %2 points, at most %3 are kept", where,
                             std::to_string(course.size()), std::to_string(mostCoursePoints)));
    for (size_t i = 0; i < course.size(); ++i)
        if (const CoursePoint& at = course[i];
            !within(at.distance, i > 0 ? course[i - 1].distance : 0, 2e6) || !within(at.altitude, -500, 9000))
            return refuse(phrase("%1: course must be pairs [metres from the start, metres above the sea], "
                                 "distances rising to at most 2000 km",
                                 where));
    return {};
}

Result<void> checkRace(const Race& race) {
    if (std::any_of(race.name.begin(), race.name.end(),
                    [](unsigned char c) { return c < 0x20 || c == 0x7F; }))
        return refuse(phrase("races: the name of the race on %1 holds a control character; take it out",
                             isoText(race.date)));
    if (race.name.size() > 200)
        return refuse(
            phrase("races: the name of the race on %1 is longer than 200 letters", isoText(race.date)));
    const std::string where = phrase("races: \"%1\"", race.name);
    if (auto ok = inSpans(race, where); !ok)
        return ok;
    if (auto ok = checkCourse(race.course, where); !ok)
        return ok;
    for (const std::string* words : {&race.result, &race.note})
        if (words->size() > 4000)
            return refuse(phrase("%1: its result or note is longer than 4000 letters", where));
    if (race.gate && (!within(race.gate->low, -100, 100) || !within(race.gate->high, -100, 100) ||
                      race.gate->low > race.gate->high))
        return refuse(phrase("%1: gate must be [low, high] between -100 and 100, low first", where));
    return {};
}

Result<void> checkRider(const Season& s) {
    if (auto ok = inSpans(s); !ok)
        return ok;
    if (auto ok = inSpans(s.before); !ok)
        return ok;
    if (auto ok = inSpans(s.tau); !ok)
        return ok;
    if (s.tau.fatigue >= s.tau.fitness)
        return refuse(phrase(FieldsOf<TimeConstants>::words));
    if (auto ok = checkHours("rider.hours", s.hours); !ok)
        return ok;
    return {};
}

Result<void> checkWeeks(const std::vector<WeekPin>& weeks) {
    std::set<Date> pinned;
    for (const WeekPin& week : weeks) {
        if (!pinned.insert(week.start).second)
            return refuse(
                phrase("weeks: the week of %1 comes twice; put its hours and its kind into one entry",
                       isoText(week.start)));
        if (weekday(week.start) != 0)
            return refuse(phrase("weeks: start %1 is a %2; a week starts on Monday", isoText(week.start),
                                 weekdayText(week.start)));
        if (week.phase && *week.phase > Phase::Specialise)
            return refuse(phrase("weeks: phase of %1 must be transition, base, build or specialise; a taper, "
                                 "a race or a break has its own",
                                 isoText(week.start)));
        if (week.hours)
            if (auto ok = checkHours(phrase("weeks: hours of %1", isoText(week.start)), *week.hours); !ok)
                return ok;
    }
    return {};
}

bool tooLong(const SessionPin& pin) {
    return pin.words.size() > longestWords || pin.note.size() > longestWords || pin.family.size() > 60 ||
           pin.team.size() > 60;
}

Result<void> checkSessions(const std::vector<SessionPin>& sessions) {
    std::optional<Date> before;
    for (const SessionPin& pin : sessions) {
        const std::string day = isoText(pin.date);
        if (before && pin.date <= *before)
            return refuse(
                phrase("sessions: %1 comes after %2; one entry a day, in order", day, isoText(*before)));
        before = pin.date;
        if (auto ok = inSpans(pin, day); !ok)
            return ok;
        if (pin.rung && pin.family.empty())
            return refuse(phrase("sessions: rung of %1 needs its family", day));
        if (tooLong(pin))
            return refuse(phrase("sessions: words of %1 are too long; at most %2 characters", day,
                                 std::to_string(longestWords)));
    }
    return {};
}

Result<void> checkAway(const Away& away) {
    if (away.to - away.from > 1100)
        return refuse(phrase("away: from %1 lasts longer than any season, 1100 days", isoText(away.from)));
    if (away.to < away.from)
        return refuse(phrase("away: to %1 lies before from %2", isoText(away.to), isoText(away.from)));
    if (auto ok = inSpans(away, isoText(away.from)); !ok)
        return ok;
    if (away.stress && away.why != AwayWhy::Camp && *away.stress > 0)
        return refuse(phrase("away: %1 from %2 carries no stress; only a camp does",
                             translated(nameOf(away.why)), isoText(away.from)));
    return {};
}

} // namespace

Result<void> possible(const Season& s) {
    if (s.end < s.start)
        return refuse(phrase("end: %1 lies before start %2", isoText(s.end), isoText(s.start)));
    if (s.dayCount() > 1100)
        return refuse(
            phrase("end: a season of %1 days is too long; at most 1100", std::to_string(s.dayCount())));
    if (auto ok = checkRider(s); !ok)
        return ok;
    if (auto ok = checkRules(s.rules); !ok)
        return ok;
    if (s.races.size() > mostRaces)
        return refuse(phrase("races: names %1 races; a season holds at most %2",
                             std::to_string(s.races.size()), std::to_string(mostRaces)));
    if (s.away.size() > mostRaces)
        return refuse(phrase("away: names %1 absences; a season holds at most %2",
                             std::to_string(s.away.size()), std::to_string(mostRaces)));
    for (const Race& race : s.races)
        if (auto ok = checkRace(race); !ok)
            return ok;
    if (auto ok = checkWeeks(s.weeks); !ok)
        return ok;
    if (auto ok = checkSessions(s.sessions); !ok)
        return ok;
    for (const Away& away : s.away)
        if (auto ok = checkAway(away); !ok)
            return ok;
    return {};
}

Result<void> check(const Season& s) {
    if (auto ok = possible(s); !ok)
        return ok;
    for (const Race& race : s.races) {
        const std::string where = phrase("races: \"%1\"", race.name);
        if (race.date < s.start || race.date > s.end)
            return refuse(phrase("%1 on %2 lies outside the season, %3 to %4", where, isoText(race.date),
                                 isoText(s.start), isoText(s.end)));
        if (race.date + (race.days - 1) > s.end)
            return refuse(phrase("%1: its last day lies after the season's end %2", where, isoText(s.end)));
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
            phrase("The rider is %1: no maximal test, no overreaching, body weight instead of weights, "
                   "fitness rises by at most 4 a week and a camp is at most 1.3 of a usual week%2",
                   std::to_string(*age),
                   (*age < 16 ? phrase(", cleared or not.")
                              : phrase(", until a doctor who knows young athletes clears more."))));
    }
    if (season.care.any() && !cleared) {
        std::string what;
        for (size_t i = 0; i < careNames.size(); ++i)
            if (season.care.has(static_cast<Care>(i)))
                what += (what.empty() ? "" : ", ") + std::string(careNames[i]);
        c.lowOnly = c.noMaximal = c.bodyWeight = true;
        c.said.push_back(phrase(
            "Care is noted (%1) and nobody has cleared hard training: everything stays in the low band, "
            "without tests and weights, until a doctor or midwife who knows the rider says otherwise.",
            what));
    } else if (season.care.has(Care::Postpartum)) {
        c.fromNothing = true;
        c.said.push_back(
            phrase("After a birth and cleared: built up as from nothing, and stopped for pain, leaking "
                   "or heaviness; "
                   "then back to whoever cleared it."));
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
