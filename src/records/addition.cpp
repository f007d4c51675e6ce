// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/addition.h"
#include "core/review/wording.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <algorithm>

namespace marram {

std::vector<Date> SquadAddition::dates() const {
    std::vector<Date> all;
    const Date first = what == What::Deloads ? monday(from) : from;
    all.reserve(static_cast<size_t>(std::max(1, times)));
    for (int i = 0; i < std::max(1, times); ++i)
        all.push_back(first + 7 * i * std::max(1, everyWeeks));
    return all;
}

namespace {

/// The work of what is ridden together; nothing in it for an easy ride.
Session workOf(const SquadAddition& team, const FamilyBook& book) {
    if (!team.words.empty())
        return readShorthand(team.words).value_or(Session{});
    const Family* family = book.named(team.family);
    if (!family || family->work.empty() || (team.family == "long ride" && !team.rung))
        return {};
    return rungOf(*family, static_cast<size_t>(team.rung.value_or(1) - 1));
}

bool allOut(const Session& session) {
    const auto steps = figuresOf(session).steps;
    return std::any_of(steps.begin(), steps.end(), [](const UnfoldedStep& s) {
        return s.step.kind == TargetKind::AllOut || (s.step.kind == TargetKind::Effort && s.step.effort >= 9);
    });
}

/// Whole five minutes.
int fives(double minutes) {
    return static_cast<int>(minutes / 5 + 1e-9) * 5;
}

constexpr int leastTogether = 30; ///< minutes; less is no ride with others

/// A race this day is too near before, or falls on; null for none.
const Race* raceNear(const Season& season, Date day) {
    for (const Race& r : season.races)
        if ((r.date <= day && day < r.date + r.days) || (r.priority != Priority::C && day == r.date - 1))
            return &r;
    return nullptr;
}

TeamAdvice adviceOn(Date day, const Season& season, const Plan& plan, const SquadAddition& team,
                    const Session& work, const TeamHealth& health, const FamilyBook& book, Date today) {
    const int asked =
        team.words.empty() ? team.minutes : std::max(5, figuresOf(work, season.lowThreshold).seconds / 60);
    TeamAdvice a{day, TeamPart::AsAsked, asked, {}};
    const auto is = [&](TeamPart part, const std::string& why) {
        if (part > a.part) {
            a.part = part;
            a.why = why;
        }
    };
    const auto atMost = [&](double minutes, const std::string& why) {
        if (fives(minutes) >= a.minutes)
            return;
        a.minutes = fives(minutes);
        is(a.minutes < leastTogether ? TeamPart::Not : TeamPart::Shorter, why);
    };
    const PlannedDay* planned = dayOf(plan, day);
    const PlannedWeek* week = weekOf(plan, day);
    if (day < today || !planned || !week)
        return {day, TeamPart::Not, 0, day < today ? phrase("lies behind") : phrase("has no season then")};
    for (const Away& away : season.away)
        if (away.from <= day && day <= away.to)
            return {day, TeamPart::Not, 0,
                    away.why == AwayWhy::Camp      ? phrase("is at a camp")
                    : away.why == AwayWhy::Illness ? phrase("is ill")
                                                   : phrase("is away")};
    if (const Race* race = raceNear(season, day))
        return {day, TeamPart::Not, 0,
                race->date <= day ? phrase("races %1", race->name)
                                  : phrase("races %1 the day after", race->name)};
    for (const SessionPin& pin : season.sessions)
        if (pin.date == day && pin.holds() && pin.team.empty())
            return {day, TeamPart::Not, 0, phrase("has a session of their own on that day")};
    if (health.ill && day <= today + 3)
        return {day, TeamPart::Not, 0, phrase("is marked ill")};
    const SessionFigures figures = figuresOf(work, season.lowThreshold);
    const bool hard = figures.purpose.middle + figures.purpose.high > 0;
    const bool rest = planned->availableHours <= 0;
    if (rest)
        return {day, TeamPart::Not, 0, phrase("has no time on a %1", weekdayText(day))};
    const CareRules care = careOf(season);
    if (hard) {
        const Family* family = team.words.empty() ? book.named(team.family) : nullptr;
        for (const std::string& injury : health.injuries)
            if (family && excludedBy(*family, injury))
                is(TeamPart::Easier, phrase("not with %1", injury));
        if (care.lowOnly)
            is(TeamPart::Easier, phrase("is under care and not cleared for more"));
        else if (care.noMaximal && allOut(work))
            is(TeamPart::Easier, phrase("nothing all out before a doctor has cleared it"));
        if (planned->easyOnly)
            is(TeamPart::Easier, phrase("is recovering or coming back"));
        for (const Race& r : season.races)
            if (r.priority != Priority::C && day < r.date && r.date - day <= 3)
                is(TeamPart::Easier, phrase("races %1 %2 days later", r.name, std::to_string(r.date - day)));
        if (week->kind == WeekKind::Deload && !(family && family->test)) // tests stand at their end
            is(TeamPart::Easier, phrase("has a deload week"));
    }
    const double hours = std::max(planned->availableHours, 0.0);
    atMost(60 * hours, phrase("has %1 that day", hoursText(fives(60 * hours) / 60.0)));
    if (week->kind == WeekKind::Deload)
        atMost(std::max(60 * planned->hours, 0.7 * asked), phrase("has a deload week"));
    if (week->kind == WeekKind::Taper || week->kind == WeekKind::Race)
        atMost(std::max(60 * planned->hours, 60.0), phrase("tapers"));
    if (planned->easyOnly)
        atMost(std::max(60 * planned->hours, 45.0), phrase("is recovering or coming back"));
    double longest = health.longest / 3600.0;
    for (const PlannedDay& d : plan.days)
        if (d.role != Role::Race && d.date < day && d.date >= day - 42)
            longest = std::max(longest, d.hours);
    if (longest > 0)
        atMost(std::max(60.0, 75 * longest),
               phrase("rode %1 at most lately", hoursText(fives(60 * longest) / 60.0)));
    // What is set in words, or would not hold its work, is ridden easily instead of shorter.
    const int least = hard ? figures.seconds / 60 + (team.words.empty() ? 25 : 0) : 0;
    if (a.part == TeamPart::Shorter && a.minutes < least)
        a.part = TeamPart::Easier;
    return a;
}

std::optional<Season> withRaces(const Season& season, const SquadAddition& a) {
    Season with = season;
    for (const Date day : a.dates()) {
        if (day < season.start || day + (a.days - 1) > season.end ||
            std::any_of(season.races.begin(), season.races.end(),
                        [&](const Race& r) { return r.name == a.name && r.date == day; }))
            continue;
        Race race;
        race.name = a.name;
        race.date = day;
        race.days = a.days;
        race.priority = a.priority;
        race.stress = a.stress;
        race.demand = a.demand;
        race.course = a.course;
        race.squad = day;
        with.races.push_back(std::move(race));
    }
    return with.races.size() > season.races.size() ? std::optional(with) : std::nullopt;
}

std::optional<Season> withTeam(const Season& season, const SquadAddition& a,
                               const std::vector<TeamAdvice>& advice) {
    Season with = season;
    bool any = false;
    for (const TeamAdvice& one : advice) {
        if (one.part == TeamPart::Not)
            continue;
        SessionPin pin;
        pin.date = one.date;
        pin.team = a.name;
        if (one.part == TeamPart::Easier) {
            pin.family = "endurance";
            pin.minutes = one.minutes;
            pin.note = phrase("With the others, at your own easy effort.");
        } else if (!a.words.empty()) {
            pin.family = a.family;
            pin.words = a.words;
        } else {
            pin.family = a.family;
            pin.rung = a.rung;
            pin.minutes = one.minutes;
        }
        const auto at = std::lower_bound(with.sessions.begin(), with.sessions.end(), one.date,
                                         [](const SessionPin& p, Date d) { return p.date < d; });
        if (at == with.sessions.end() || at->date != one.date) {
            with.sessions.insert(at, pin);
        } else if (!at->holds() || !at->team.empty()) {
            if (pin.note.empty())
                pin.note = at->team.empty() ? at->note : std::string();
            pin.verdict = at->verdict;
            *at = pin;
        } else {
            continue;
        }
        any = true;
    }
    return any ? std::optional(with) : std::nullopt;
}

std::optional<Season> withDeloads(const Season& season, const SquadAddition& a) {
    Season with = season;
    bool any = false;
    for (const Date week : a.dates()) {
        if (week < monday(season.start) || week + 6 > season.end)
            continue;
        with = withPin(std::move(with), week, [&](WeekPin& p) {
            any = any || p.kind != WeekKind::Deload;
            p.kind = WeekKind::Deload;
        });
    }
    return any ? std::optional(with) : std::nullopt;
}

std::optional<Season> withMove(const Season& season, const SquadAddition& a) {
    Season with = season;
    for (Race& r : with.races)
        if (r.name == a.name && r.squad == a.from) {
            if (r.date == *r.squad) // on a day of its own it stays there
                r.date = a.to;
            r.squad = a.to;
            return with;
        }
    return std::nullopt;
}

} // namespace

std::vector<TeamAdvice> teamAdvice(const Season& whole, const Plan& plan, const SquadAddition& team,
                                   const TeamHealth& health, const FamilyBook& book, Date today) {
    const Session work = workOf(team, book);
    std::vector<TeamAdvice> all;
    for (const Date day : team.dates())
        all.push_back(adviceOn(day, whole, plan, team, work, health, book, today));
    return all;
}

std::optional<Season> withAddition(const Season& season, const SquadAddition& a,
                                   const std::vector<TeamAdvice>& advice) {
    using What = SquadAddition::What;
    std::optional<Season> with;
    switch (a.what) {
    case What::Race:
        with = withRaces(season, a);
        break;
    case What::Camp:
    case What::Away: {
        const Date last = a.from + a.days - 1;
        if (a.from < season.start || last > season.end)
            return std::nullopt;
        const bool camp = a.what == What::Camp;
        with = season;
        with->away.push_back({a.from, last, camp ? AwayWhy::Camp : AwayWhy::Holiday,
                              camp ? a.stress : std::optional<double>()});
        break;
    }
    case What::Team:
        with = withTeam(season, a, advice);
        break;
    case What::Deloads:
        with = withDeloads(season, a);
        break;
    case What::Move:
        with = withMove(season, a);
        break;
    case What::Rule:
    case What::Rules:
        if (!a.of)
            return std::nullopt;
        with = season;
        if (a.what == What::Rule)
            with->rules = withRule(a.rule, season.rules, a.of->rules);
        else
            with->rules = a.of->rules;
        with->rules.miss = season.rules.miss; // what is missed is the rider's own
        with->rules.missRun = season.rules.missRun;
        if (with->rules == season.rules)
            return std::nullopt;
        break;
    case What::Season:
        if (!a.of)
            return std::nullopt;
        with = seasonLike(*a.of);
        break;
    }
    if (!with || !check(*with))
        return std::nullopt;
    return with;
}

std::optional<Goal> goalOf(const Plan& plan, Date today) {
    const PlannedRace* goal = nullptr;
    for (const Priority wanted : {Priority::A, Priority::B})
        for (const PlannedRace& r : plan.races)
            if (!goal && r.priority == wanted && r.date >= today)
                goal = &r;
    if (!goal)
        return std::nullopt;
    return Goal{goal->name, goal->date, goal->form, goal->fitness, goal->chance};
}

std::optional<Goal> sameGoal(const Goal& goal, const Plan& plan) {
    const PlannedRace* same = nullptr;
    for (const PlannedRace& r : plan.races)
        if (r.name == goal.race && (!same || std::abs(r.date - goal.date) < std::abs(same->date - goal.date)))
            same = &r;
    if (!same)
        return std::nullopt;
    return Goal{same->name, same->date, same->form, same->fitness, same->chance};
}

std::string whyNotWith(const Season& season, const SquadAddition& a, const std::vector<TeamAdvice>& advice) {
    using What = SquadAddition::What;
    const auto reaches = [&](Date first, Date last) { return first >= season.start && last <= season.end; };
    const std::string outside =
        phrase("the season runs from %1 to %2", dayText(season.start), dayText(season.end));
    switch (a.what) {
    case What::Team:
        return advice.empty() || advice.front().why.empty() ? phrase("has sessions of their own then")
                                                            : advice.front().why;
    case What::Move:
        return phrase("does not have it from the squad");
    case What::Rule:
    case What::Rules:
        return phrase("has it so already");
    case What::Deloads:
        return reaches(monday(a.from), monday(a.from) + 6) ? phrase("has it so already") : outside;
    case What::Race:
        return reaches(a.from, a.from + a.days - 1) ? phrase("has it already, or could not hold it")
                                                    : outside;
    case What::Camp:
    case What::Away:
    case What::Season:
        break;
    }
    return reaches(a.from, a.from + a.days - 1) ? phrase("the season could not hold it") : outside;
}

std::string labelOf(RuleName rule) {
    switch (rule) {
    case RuleName::Order:
        return phrase("order");
    case RuleName::School:
        return phrase("school");
    case RuleName::Rhythm:
        return phrase("rhythm");
    case RuleName::Ramp:
        return phrase("ramp, at most");
    case RuleName::Floor:
        return phrase("floor of form");
    case RuleName::Deload:
        return phrase("deload");
    case RuleName::Taper:
        return phrase("taper");
    case RuleName::Shape:
        return phrase("shape of the taper");
    case RuleName::Overreach:
        return phrase("overreaching");
    case RuleName::Volume:
        return phrase("hours used");
    case RuleName::HardDays:
        return phrase("hard days");
    case RuleName::Gym:
        return phrase("gym");
    case RuleName::GatePrice:
        break;
    }
    return phrase("insisting on gates");
}

QString wordsFor(const SquadAddition& a) {
    using What = SquadAddition::What;
    switch (a.what) {
    case What::Race:
    case What::Team:
        return QString::fromStdString(a.name);
    case What::Camp:
        return wording("a camp");
    case What::Away:
        return wording("days away");
    case What::Deloads:
        return countedWording(a.times, "a deload week", "deload weeks");
    case What::Move:
        return wording("another day for %1").arg(QString::fromStdString(a.name));
    case What::Rule:
        return wording("the rule \"%1\"").arg(QString::fromStdString(labelOf(a.rule)));
    case What::Rules:
        return wording("all rules");
    case What::Season:
        break;
    }
    return wording("a season");
}

Season seasonLike(const Season& other) {
    Season s;
    s.start = other.start;
    s.end = other.end;
    s.rules = other.rules;
    s.rules.miss = Rules{}.miss; // what is missed is the rider's own
    s.rules.missRun = Rules{}.missRun;
    for (const Race& r : other.races) {
        Race race = r;
        race.gate.reset();
        race.result.clear();
        race.note.clear();
        race.squad = r.date;
        s.races.push_back(std::move(race));
    }
    for (const Away& a : other.away)
        if (a.why == AwayWhy::Camp)
            s.away.push_back(a);
    for (const WeekPin& p : other.weeks)
        s = withPin(std::move(s), p.start, [&](WeekPin& own) {
            own.kind = p.kind;
            own.phase = p.phase;
        });
    return s;
}

} // namespace marram
