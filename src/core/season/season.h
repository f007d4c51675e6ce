// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "core/course/course.h"
#include "core/load/load.h"
#include "core/rider/care.h"
#include "core/rider/rider.h"
#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace marram {

enum class Priority { A, B, C };
/// What a race asks for; it leans the split of the last block before an A race.
enum class Demand { Unstated, Steady, Long, Punchy, Road, Stage };
enum class Phase { Transition, Base, Build, Specialise, Taper, Race, Break };
enum class WeekKind { Build, Deload, Taper, Race, Recovery, Transition, Break, Camp };
enum class Role { Rest, Easy, Long, Hard, Gym, Test, Openers, Race };
enum class School { Polarised, Pyramidal, ThresholdLed, Even, Own };
enum class Order { BaseFirst, IntensityFirst, Mixed };
enum class AwayWhy { Holiday, Illness, Camp };
/// How a taper falls: step by step; one week of deep rest and a moderate race week; or a single week.
enum class TaperShape { Falling, DeepThenModerate, OneWeek };

/// Names as the command line and the roster file spell them.
const char* nameOf(Priority);
const char* nameOf(Demand);
const char* nameOf(Phase);
const char* nameOf(WeekKind);
const char* nameOf(Role);
const char* nameOf(School);
const char* nameOf(Order);
const char* nameOf(AwayWhy);
const char* nameOf(TaperShape);

/// The value a name stands for; nothing for an unknown name.
template <class Enum>
std::optional<Enum> named(std::string_view name, std::initializer_list<Enum> all) {
    for (const Enum e : all)
        if (name == nameOf(e))
            return e;
    return std::nullopt;
}

/// Hours a rider has, Monday to Sunday, each 0–24.
using WeekHours = std::array<double, 7>;

/// The span of form a rider should wake up in on a race morning, points/day.
struct Gate {
    double low = 0, high = 0;
    auto operator<=>(const Gate&) const = default;
};

struct Race {
    std::string name;
    Date date; ///< first day
    Priority priority = Priority::C;
    std::optional<double> stress; ///< points over all its days; a default by demand where empty
    int days = 1;                 ///< 1–30
    std::optional<Gate> gate;     ///< the coach's; where empty see raceGate()
    Demand demand = Demand::Unstated;
    std::vector<CoursePoint> course; ///< its profile where the coach brought one, at most mostCoursePoints
    std::string result, note;        ///< afterwards, in the coach's words
    /// Where it was put on from the squad: the day the squad rides it. Another day of the rider's own is
    /// kept.
    std::optional<Date> squad;
    bool operator==(const Race&) const = default;
};

/// The most points of a course a season keeps; a longer recording is thinned.
inline constexpr std::size_t mostCoursePoints = 2000;

/// Stress of the whole race: the coach's figure, or the default for its demand (common practice).
double raceStress(const Race& race);
/// The gate in force where fitness that morning is not known yet: the coach's, or A +15…+25, B 0…+15, C none.
std::optional<Gate> raceGate(const Race& race);
/// An A gate without one of the coach's, as shares of the fitness expected that morning.
inline constexpr double gateLowOfFitness = 0.25, gateHighOfFitness = 0.42;
/// What riders report of their best days does not grow beyond (common practice).
inline constexpr double gateLowMost = 15, gateHighMost = 25;
/// The gate in force for the fitness expected that morning: the coach's; for an A race without one 0.25–0.42
/// of that fitness, at most 15–25, to whole points (what 14 days of taper can reach; 15–25 from a fitness of
/// 60).
std::optional<Gate> raceGate(const Race& race, double fitness);

struct Rules {
    int buildWeeks = 3, deloadWeeks = 1; ///< rhythm
    double ramp = 6;                     ///< points/day per week, at most
    double formFloor = -30;              ///< points/day
    double deload = 0.6;                 ///< load of a deload week over the build week before
    int taperDays = 14;
    /// The coach said how long the taper is. Where not, it is 14 days, and shorter or longer where that gives
    /// more fitness or meets the gate better.
    bool taperSet = false;
    bool taperBest = false; ///< length and shape of the taper are chosen by solving
    TaperShape taperShape = TaperShape::Falling;
    bool shapeBest = false; ///< the shape alone is chosen by solving
    bool overreach = false; ///< a last build week over what the rider is used to, before the taper
    /// Shares of the hours base, build and specialise may fill, each 0.3–1; by default 1, 0.97 and 0.95,
    /// where specialise has 1 for long and stage races and 0.85 for punchy ones.
    std::map<Phase, double> volume;
    /// Gym sessions a week in transition, base and season, each 0–4; by the rider's hours where not said
    /// (gymOf).
    std::optional<std::array<int, 3>> gym;
    bool gymBeside = false; ///< gym comes on top of the day's hours, not out of them
    double miss = 0.08;     ///< probability that a training day is missed
    double missRun = 2;     ///< mean length of a run of missed days, at least 1/(1 − miss)
    double gatePrice = 1;   ///< race-day fitness given for a point of an A gate, 0.25–4
    int hardDays = 2;       ///< a week, races included
    School school = School::Pyramidal;
    std::map<Phase, Bands>
        ownSplits; ///< fractions as the coach wrote them, summing to 0.99–1.01; for School::Own
    Order order = Order::BaseFirst;
    bool operator==(const Rules&) const = default;
};

/// What the coach says of one week.
struct WeekPin {
    Date start; ///< a Monday
    std::optional<WeekHours> hours;
    std::optional<WeekKind> kind;
    std::optional<Phase> phase; ///< base, build, specialise or transition
    bool empty() const { return !hours && !kind && !phase; }
    bool operator==(const WeekPin&) const = default;
};

/// What a coach thinks of a session that was ridden, where it is not what Marram thinks.
enum class RungVerdict { Passed, Repeat, Ease };
const char* nameOf(RungVerdict);

/// What the coach says of one day's session. The plan of the season does not look at it; its block does.
struct SessionPin {
    Date date;
    /// A family by name; "rest" for nothing; empty where only `words` or none of the day is pinned.
    std::string family;
    std::optional<int> rung;    ///< 1 the first
    std::optional<int> minutes; ///< of the whole ride, 5–1440
    std::string words;          ///< the whole ride in shorthand; empty where it is made from the rung
    std::string note;           ///< for the rider
    std::string team;           ///< what is ridden with others, by name; empty for a day of one's own
    std::optional<RungVerdict> verdict;
    /// Whether anything of what is ridden is pinned.
    bool holds() const { return !family.empty() || !words.empty() || minutes; }
    bool empty() const { return !holds() && note.empty() && !verdict; }
    /// Pins nothing of what is ridden any more.
    void release() {
        family.clear();
        words.clear();
        team.clear();
        rung.reset();
        minutes.reset();
    }
    bool operator==(const SessionPin&) const = default;
};
/// The most characters of a session in words, or of its note.
inline constexpr std::size_t longestWords = 4000;

/// Days not at home: nothing is trained, or a camp's stress is carried.
struct Away {
    Date from, to; ///< both included
    AwayWhy why = AwayWhy::Holiday;
    std::optional<double> stress; ///< points over the whole camp; default 1000 a week
    bool operator==(const Away&) const = default;
};

/// What was ridden so far, where part of the season lies behind.
struct Past {
    Date today;                 ///< first day that is planned
    std::vector<double> stress; ///< points of each day from the season's start up to yesterday
};

/// What care a rider's training is held to, whatever the rules say.
struct CareRules {
    bool lowOnly = false;   ///< care without clearance: low band, no test, no weights
    bool noMaximal = false; ///< under 18 without clearance, under 16 always: no maximal test, no overreaching
    bool fromNothing = false;      ///< postpartum and cleared
    bool bodyWeight = false;       ///< gym without weights
    std::optional<double> ramp;    ///< at most
    std::optional<double> camp;    ///< of a usual week, at most
    std::vector<std::string> said; ///< a sentence each
};

/// Everything a season is solved from.
struct Season {
    Date start, end;             ///< both included
    double thresholdPower = 250; ///< W
    LoadState before;            ///< at the end of the day before `start`
    std::optional<bool> layOff;  ///< nothing ridden for four weeks; judged from fitness where not said
    TimeConstants tau;
    std::optional<int> born; ///< year
    RiderCare care;          ///< what asks for licensed care
    WeekHours hours{};
    double lowThreshold = defaultLowThreshold;
    Rules rules;
    std::vector<Race> races;
    std::vector<WeekPin> weeks;
    std::vector<SessionPin> sessions; ///< in order of day, one a day
    std::vector<Away> away;
    std::optional<Past> past;

    int dayCount() const { return end - start + 1; }
};

/// What the coach says of a week, changed by `edit`; a pin that says nothing any more goes.
template <class Edit>
Season withPin(Season season, Date week, const Edit& edit) {
    WeekPin pin;
    pin.start = week;
    for (const WeekPin& p : season.weeks)
        if (p.start == week)
            pin = p;
    std::erase_if(season.weeks, [&](const WeekPin& p) { return p.start == week; });
    edit(pin);
    if (!pin.empty())
        season.weeks.push_back(pin);
    return season;
}

/// The care a season's rider needs as it starts (common practice; refers to licensed care).
CareRules careOf(const Season& season);
/// Gym sessions a week in transition, base and season: the coach's, else by the hours a usual week has: 2, 1
/// and 1 from eight, 1, 1 and 0 from five, none under (common practice).
std::array<int, 3> gymOf(const Season& season);
/// What gym takes of a day's hours.
inline constexpr double gymHours = 0.75;

/// The most races, and the most absences, of a season: one every week for its longest, three years.
inline constexpr std::size_t mostRaces = 160;

/// Refuses values no season has, naming the field and what would be right. A season that is still being made
/// passes: one without races, or with races outside its days.
Result<void> possible(const Season& season);
/// Refuses what no season can be planned from: what is not possible(), or has a race outside its days.
Result<void> check(const Season& season);

/// One planned week.
struct PlannedWeek {
    Date start; ///< Monday
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    int block = -1;                  ///< number of the block, or -1 outside blocks
    double stress = 0;               ///< points, races and camps included
    double hours = 0;                ///< training only
    Bands bandHours;                 ///< training only
    double fitness = 0, fatigue = 0; ///< end of the week
    double availableHours = 0;       ///< what the rider's life leaves for training
    bool pinned = false;
    std::string why; ///< why the week is what it is, one sentence
};

/// One planned day.
struct PlannedDay {
    Date date;
    Role role = Role::Rest;
    double stress = 0, hours = 0;
    double fitness = 0, fatigue = 0; ///< end of the day
    double form = 0;                 ///< on waking
    double availableHours = 0;
    bool past = false;
    bool easyOnly = false; ///< nothing over the low band: a recovery, a return, care
};

struct PlannedRace {
    std::string name;
    Date date;
    Priority priority = Priority::C;
    double form = 0, fitness = 0; ///< on the first morning, with nothing missed
    std::optional<Gate> gate;
    double gateMiss = 0; ///< points outside the gate, 0 inside
    double stress = 0;
    /// On the morning that comes: with the rider's own misses, in runs.
    double expectedForm = 0, expectedFitness = 0, formDeviation = 0;
    std::optional<double> chance; ///< share of seasons inside the gate; empty without one
};

/// What one unit more of a limit is worth, confirmed by solving again.
struct Limit {
    std::string text;
    std::string unit;
    double fitnessPerUnit = 0;
    Date from, to;       ///< where it binds
    bool weekly = false; ///< it is one week's, from its Monday
    std::string takes;   ///< what else the change moves; empty where nothing does
};

/// A rule that could not be kept, and by how much.
struct Relaxed {
    std::string text;
    double amount = 0;
};

/// A choice made by solving, and what came second.
struct Choice {
    std::string text;  ///< one sentence
    double gained = 0; ///< objective over the runner-up, in race-day fitness
};

struct Plan {
    std::vector<PlannedWeek> weeks;
    std::vector<PlannedDay> days;
    std::vector<PlannedRace> races;
    std::vector<Limit> limits;
    std::vector<Relaxed> relaxed;
    std::vector<std::string> warnings;
    std::vector<Choice> choices; ///< also among the warnings, as sentences
    double objective = 0;        ///< of the last programme solved
};

/// The week that holds a day, and the day, of a plan; null where it has none.
const PlannedWeek* weekOf(const Plan& plan, Date day);
const PlannedDay* dayOf(const Plan& plan, Date day);

/// The gate a race of a season has: the coach's; where there is none, the one its plan was made for.
std::optional<Gate> gateInForce(const Race& race, const Plan& plan);

} // namespace marram
