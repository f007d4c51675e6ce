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

/// What advice on a day of a rider goes by.
struct AskedOfRider {
    Date day;
    const Season& season;
    const Plan& plan;
    const SquadAddition& team;
    const TeamHealth& health;
    const PlannedDay& planned;
    const PlannedWeek& week;
};

/// Why a rider cannot come at all that day; empty where they can.
std::string cannotCome(const AskedOfRider& of, Date today) {
    const Date day = of.day;
    for (const Away& away : of.season.away)
        if (away.from <= day && day <= away.to)
            return away.why == AwayWhy::Camp      ? phrase("is at a camp")
                   : away.why == AwayWhy::Illness ? phrase("is ill")
                                                  : phrase("is away");
    if (const Race* race = raceNear(of.season, day))
        return race->date <= day ? phrase("races %1", race->name)
                                 : phrase("races %1 the day after", race->name);
    for (const SessionPin& pin : of.season.sessions)
        if (pin.date == day && pin.holds() && pin.team.empty())
            return phrase("has a session of their own on that day");
    if (of.health.ill && day <= today + 3)
        return phrase("is marked ill");
    if (of.planned.availableHours <= 0)
        return phrase("has no time on a %1", weekdayText(day));
    return {};
}

/// Advice as reason comes to reason: the first of the strongest stands.
class Advising {
public:
    Advising(const AskedOfRider& of, int asked)
        : of_(of), asked_(asked), advice_{of.day, TeamPart::AsAsked, asked, {}} {}

    bool soonRaced(const Race& r) const {
        return r.priority != Priority::C && of_.day < r.date && r.date - of_.day <= 3;
    }

    /// What is hard is ridden easily.
    void easier(const Session& work, const FamilyBook& book) {
        const Family* family = of_.team.words.empty() ? book.named(of_.team.family) : nullptr;
        for (const std::string& injury : of_.health.injuries)
            if (family && excludedBy(*family, injury))
                is(TeamPart::Easier, phrase("not with %1", injury));
        const CareRules care = careOf(of_.season);
        if (care.lowOnly)
            is(TeamPart::Easier, phrase("is under care and not cleared for more"));
        else if (care.noMaximal && allOut(work))
            is(TeamPart::Easier, phrase("nothing all out before a doctor has cleared it"));
        if (of_.planned.easyOnly)
            is(TeamPart::Easier, phrase("is recovering or coming back"));
        for (const Race& r : of_.season.races)
            if (soonRaced(r))
                is(TeamPart::Easier,
                   phrase("races %1 %2 days later", r.name, std::to_string(r.date - of_.day)));
        if (of_.week.kind == WeekKind::Deload && !(family && family->test)) // tests stand at their end
            is(TeamPart::Easier, phrase("has a deload week"));
    }

    void shorter() {
        const double own = 60 * of_.planned.hours, hours = of_.planned.availableHours;
        atMost(60 * hours, phrase("has %1 that day", hoursText(fives(60 * hours) / 60.0)));
        if (of_.week.kind == WeekKind::Deload)
            atMost(std::max(own, 0.7 * asked_), phrase("has a deload week"));
        if (of_.week.kind == WeekKind::Taper || of_.week.kind == WeekKind::Race)
            atMost(std::max(own, 60.0), phrase("tapers"));
        if (of_.planned.easyOnly)
            atMost(std::max(own, 45.0), phrase("is recovering or coming back"));
        double longest = of_.health.longest / 3600.0;
        for (const PlannedDay& d : of_.plan.days)
            if (d.role != Role::Race && d.date < of_.day && d.date >= of_.day - 42)
                longest = std::max(longest, d.hours);
        if (longest > 0)
            atMost(std::max(60.0, 75 * longest),
                   phrase("rode %1 at most lately", hoursText(fives(60 * longest) / 60.0)));
    }

    /// `least`: minutes its work takes. What would not hold it is ridden easily instead of shorter.
    TeamAdvice advice(int least) {
        if (advice_.part == TeamPart::Shorter && advice_.minutes < least)
            advice_.part = TeamPart::Easier;
        return advice_;
    }

private:
    void is(TeamPart part, const std::string& why) {
        if (part > advice_.part) {
            advice_.part = part;
            advice_.why = why;
        }
    }
    void atMost(double minutes, const std::string& why) {
        if (fives(minutes) >= advice_.minutes)
            return;
        advice_.minutes = fives(minutes);
        is(advice_.minutes < leastTogether ? TeamPart::Not : TeamPart::Shorter, why);
    }

    const AskedOfRider& of_;
    int asked_;
    TeamAdvice advice_;
};

TeamAdvice adviceOn(Date day, const Season& season, const Plan& plan, const SquadAddition& team,
                    const Session& work, const TeamHealth& health, const FamilyBook& book, Date today) {
    const PlannedDay* planned = dayOf(plan, day);
    const PlannedWeek* week = weekOf(plan, day);
    if (day < today || !planned || !week)
        return {day, TeamPart::Not, 0, day < today ? phrase("lies behind") : phrase("has no season then")};
    const AskedOfRider of{day, season, plan, team, health, *planned, *week};
    if (const std::string why = cannotCome(of, today); !why.empty())
        return {day, TeamPart::Not, 0, why};
    const SessionFigures figures = figuresOf(work, season.lowThreshold);
    const bool hard = figures.purpose.middle + figures.purpose.high > 0;
    Advising advising(of, team.words.empty() ? team.minutes : std::max(5, figures.seconds / 60));
    if (hard)
        advising.easier(work, book);
    advising.shorter();
    // What is set in words holds its own ways in and out.
    return advising.advice(hard ? figures.seconds / 60 + (team.words.empty() ? 25 : 0) : 0);
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
