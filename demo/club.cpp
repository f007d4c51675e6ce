// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/club.h"
#include "headunit/simulate.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

bool within(int daysAgo, int from, int to) {
    return daysAgo <= from && daysAgo >= to;
}

/// An ordinary life: now and then a session is missed or cut short.
Lived ordinary(Dice& dice, double missed = 0.06) {
    Lived l;
    l.legs = 1 + 0.018 * dice.normal();
    if (dice.chance(missed))
        l.part = 0;
    else if (dice.chance(0.05))
        l.part = dice.between(0.45, 0.8);
    return l;
}

/// How a rider says they are, around a usual level and pulled by form.
CheckIn feeling(double level, double form, Dice& dice, double restHeartRate) {
    CheckIn c;
    const auto scale = [&](double around) {
        return std::clamp(static_cast<int>(std::lround(around + 0.6 * dice.normal())), 1, 5);
    };
    c.feel = scale(level + form / 30);
    c.sleep = scale(level);
    c.soreness = scale(level + form / 20);
    c.motivation = scale(level + 0.3);
    c.restHeartRate = std::round(restHeartRate - form / 15 + 1.2 * dice.normal());
    return c;
}

Race raceOf(const char* name, Date day, Priority priority, std::optional<double> stress, Demand demand,
            std::optional<Gate> gate = std::nullopt, int days = 1) {
    Race r;
    r.name = name;
    r.date = day;
    r.priority = priority;
    r.stress = stress;
    r.demand = demand;
    r.gate = gate;
    r.days = days;
    return r;
}

void know(RiderRecord& r, Date from, std::initializer_list<std::pair<Quantity, double>> values) {
    for (const auto& [quantity, value] : values)
        r.values.set(quantity, from, value);
}

Season from(Date start, Date end, LoadState before, std::vector<Race> races) {
    Season s;
    s.start = start;
    s.end = end;
    s.before = before;
    s.races = std::move(races);
    return s;
}

/// The stage racer: a cold, a work trip, a week with fast company, and a stage race to come.
/// The first stage of an invented race: out over the marsh, two climbs of the headland, home along the dunes.
std::vector<CoursePoint> marrowPoint() {
    std::vector<CoursePoint> course;
    constexpr double step = 200, length = 118000;
    const auto hill = [](double at, double from, double top, double down, double height) {
        if (at < from || at > down)
            return 0.0;
        const double part = at < top ? (at - from) / (top - from) : (down - at) / (down - top);
        return height * (3 - 2 * part) * part * part;
    };
    for (int i = 0; i * step <= length; ++i) {
        const double at = i * step;
        course.push_back({at, 4 + 3 * std::sin(at / 2100) + hill(at, 31000, 38000, 44000, 412) +
                                  hill(at, 69500, 73000, 80000, 236) + hill(at, 98000, 99400, 101500, 88)});
    }
    return course;
}

/// A session the coach put on a day to come.
SessionPin put(Date day, const char* family, std::optional<int> rung, std::optional<int> minutes = {},
               const char* note = "") {
    SessionPin pin;
    pin.date = day;
    pin.family = family;
    pin.rung = rung;
    pin.minutes = minutes;
    pin.note = note;
    return pin;
}

/// The club's own race, which several ride: put on from the squad.
Race clubHillClimb(Date today) {
    const Date day = monday(today) + 7 * 31 + 3 - 95;
    Race race = raceOf("Lighthouse Hill Climb", day, Priority::C, 85, Demand::Steady);
    race.squad = day;
    return race;
}

/// The club's Saturdays before the turn of the year, a length for each, and its four days in spring.
void rideTogether(Season& season, Date today, int minutes, double campStress) {
    for (int week = 1; week <= 5; ++week) {
        SessionPin pin = put(monday(today) + 7 * week + 5, "long ride", {}, minutes);
        pin.team = "Harbour Saturday";
        const bool races = std::any_of(season.races.begin(), season.races.end(), [&](const Race& r) {
            return r.date - 1 <= pin.date && pin.date <= r.date;
        });
        const bool taken = std::any_of(season.sessions.begin(), season.sessions.end(),
                                       [&](const SessionPin& p) { return p.date == pin.date; });
        if (!races && !taken)
            season.sessions.push_back(std::move(pin));
    }
    std::sort(season.sessions.begin(), season.sessions.end(),
              [](const SessionPin& a, const SessionPin& b) { return a.date < b.date; });
    const Date camp = monday(today) + 7 * 16 + 3;
    season.away.push_back({camp, camp + 3, AwayWhy::Camp, campStress});
}

DemoRider nell(Date today) {
    DemoRider d;
    d.historyDays = 427; // fourteen months
    d.seed = 20270;
    RiderRecord& r = d.record;
    r.name = "Nell Varrowby";
    r.sex = Sex::Female;
    r.born = toCivil(today).year - 31;
    r.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    r.note = "Works shifts at the harbour; Mondays and Fridays are hers to rest.";
    r.trainingYears = 9;
    r.strengths = "Recovers overnight, rides well in wind";
    r.weaknesses = "Long climbs after the fourth hour";
    r.groups = QStringList{"Road"};
    const Date start = monday(today - d.historyDays);
    know(r, start,
         {{Quantity::ThresholdPower, 232},
          {Quantity::ThresholdHeartRate, 172},
          {Quantity::LowThreshold, 0.77},
          {Quantity::Weight, 63.5},
          {Quantity::RestingHeartRate, 47},
          {Quantity::MaximalHeartRate, 190}});
    know(r, today - 290, {{Quantity::ThresholdPower, 240}, {Quantity::Weight, 62.8}});
    know(r, today - 175, {{Quantity::ThresholdPower, 249}, {Quantity::Weight, 61.9}});
    know(r, today - 45, {{Quantity::ThresholdPower, 244}, {Quantity::Weight, 62.6}});
    const Date then = monday(today - 140) + 6;
    d.behind =
        from(start, today + 13, {38, 36},
             {raceOf("Saltmere Classic", then, Priority::A, 210, Demand::Road, Gate{8, 20}),
              raceOf("Ebbtide Circuit", then - 56, Priority::B, 140, Demand::Punchy, Gate{0, 12}),
              raceOf("Harbour Night Race", then + 77, Priority::B, 95, Demand::Punchy, Gate{-10, 15})});
    d.behind->rules.ramp = 5;
    d.behind->away = {{then + 8, then + 14, AwayWhy::Holiday, std::nullopt}};
    const Date peak = monday(today) + 7 * 31 + 3;
    d.ahead = from(monday(today) - 56, peak + 24, {},
                   {raceOf("Marrow Point Stage Race", peak, Priority::A, 480, Demand::Stage, Gate{10, 20}, 4),
                    raceOf("Ebbtide Circuit", peak - 60, Priority::B, 140, Demand::Punchy, Gate{0, 12}),
                    clubHillClimb(today),
                    raceOf("Sandhopper Reliability Ride", peak - 32, Priority::C, 190, Demand::Long),
                    raceOf("Groyne Road Race", monday(today) + 26, Priority::C, 120, Demand::Road)});
    // Before the road race she learns to answer changes of pace.
    d.ahead->sessions = {
        put(monday(today) + 8, "over-unders", {}, {}, "Stay seated over the top of each, and breathe."),
        put(monday(today) + 15, "over-unders", {}), put(monday(today) + 22, "over-unders", {})};
    d.ahead->races[0].course = marrowPoint();
    for (Race& race : d.behind->races)
        if (race.name == "Ebbtide Circuit") {
            race.result = "7th, in the bunch";
            race.note = "Too far back into the last bend. Legs were there.";
        }
    d.ahead->away = {{monday(peak - 119), monday(peak - 119) + 6, AwayWhy::Holiday, std::nullopt}};
    rideTogether(*d.ahead, today, 180, 520);
    d.tests = {{175, Protocol::TwentyMinutes}, {128, Protocol::AerobicCheck}, {94, Protocol::AerobicCheck},
               {66, Protocol::AerobicCheck},   {38, Protocol::AerobicCheck},  {12, Protocol::AerobicCheck},
               {19, Protocol::Power5min}};
    // Five minutes all out, every five or six weeks: what shows whether she improves.
    for (const int ago : {402, 361, 327, 291, 256, 221, 189, 117, 82})
        d.tests.push_back({ago, Protocol::Power5min});
    d.live = [](int ago, Dice& dice) {
        Lived l = ordinary(dice);
        if (within(ago, 52, 46)) // a cold
            l.part = 0;
        if (within(ago, 45, 42))
            l.legs = 0.92;
        if (within(ago, 10, 8)) // a work trip: what could be done on a hotel bike
            l.part = 0;
        else if (within(ago, 7, 6))
            l.part = std::min(l.part, 0.5);
        if (within(ago, 31, 25)) // a week ridden far too hard with fast company
            l.extra = 1.35;
        if (within(ago, 24, 22))
            l.legs = 0.95;
        return l;
    };
    d.checkInDays = 75;
    d.checkIn = [](int ago, double form, Dice& dice) {
        CheckIn c = feeling(4, form, dice, 47);
        if (within(ago, 52, 47)) {
            c = feeling(2.2, form, dice, 55);
            c.ill = true;
            c.note = ago == 52 ? "Sore throat, no fever" : "";
        }
        return c;
    };
    d.rideNotes = {{28, "With the harbour group; she could not let the wheel go."},
                   {41, "First easy hour after the cold."}};
    return d;
}

/// In the late fifties: two weeks on, one off; and this week the check-ins fall.
DemoRider osric(Date today) {
    DemoRider d;
    d.historyDays = 265;
    d.seed = 5800;
    RiderRecord& r = d.record;
    r.name = "Osric Tallowfen";
    r.sex = Sex::Male;
    r.born = toCivil(today).year - 58;
    r.hours = {0, 1.25, 0, 1.5, 0, 2.5, 2};
    r.note = "Keeps the lighthouse garden. Likes to know why.";
    r.trainingYears = 22;
    r.slowRecoverer = true;
    r.injuries = {{today - 260, today - 228, "Left knee"}};
    r.strengths = "Steady climbing, never misses a start";
    r.weaknesses = "Sprint, short recoveries";
    r.cautions = "Blood pressure under treatment: maximal tests only after his yearly check.";
    r.groups = QStringList{"Masters", "Road"};
    know(r, monday(today - d.historyDays),
         {{Quantity::ThresholdPower, 214},
          {Quantity::ThresholdHeartRate, 151},
          {Quantity::LowThreshold, 0.79},
          {Quantity::Weight, 74.5},
          {Quantity::RestingHeartRate, 54},
          {Quantity::MaximalHeartRate, 166}});
    know(r, today - 120, {{Quantity::Weight, 73.2}});
    const Date peak = monday(today) + 7 * 24 + 6;
    d.behind = from(monday(today - d.historyDays), today + 20, {34, 32},
                    {raceOf("Dune Crest Hill Climb", monday(today - 90) + 6, Priority::A, 80, Demand::Steady),
                     raceOf("Club Ten", monday(today - 30) + 6, Priority::C, 60, Demand::Steady)});
    d.behind->rules.buildWeeks = 2;
    d.behind->rules.ramp = 3.5;
    d.ahead = from(monday(today) - 42, peak + 14, {},
                   {raceOf("Dune Crest Hill Climb", peak, Priority::A, 80, Demand::Steady, Gate{8, 20}),
                    raceOf("Spring Ten", peak - 42, Priority::B, 65, Demand::Steady), clubHillClimb(today)});
    d.ahead->rules.buildWeeks = 2;
    d.ahead->rules.ramp = 4;
    rideTogether(*d.ahead, today, 135, 300);
    d.tests = {{205, Protocol::TwentyMinutes}, {150, Protocol::Climb},       {101, Protocol::TwentyMinutes},
               {47, Protocol::Climb},          {60, Protocol::AerobicCheck}, {33, Protocol::AerobicCheck}};
    d.live = [](int ago, Dice& dice) {
        Lived l = ordinary(dice, 0.04);
        if (within(ago, 260, 232)) // the knee
            l.part = 0;
        if (within(ago, 3, 1))
            l.legs = 0.93;
        return l;
    };
    d.checkInDays = 70;
    d.checkIn = [](int ago, double form, Dice& dice) {
        CheckIn c = within(ago, 2, 0) ? feeling(2.2, 0, dice, 60) : feeling(4, form / 2, dice, 54);
        if (ago == 1)
            c.note = "Slept badly, legs like sand";
        return c;
    };
    return d;
}

/// Hardly any history: three weeks, a borrowed bike, no strap half of the time.
DemoRider pim(Date today) {
    DemoRider d;
    d.historyDays = 20;
    d.seed = 99;
    RiderRecord& r = d.record;
    r.name = "Pim Aldertide";
    r.born = toCivil(today).year - 24;
    r.hours = {0, 1, 0, 1, 0, 2, 1.5};
    r.note = "New to the club and to training.";
    r.trainingYears = 0;
    r.groups = QStringList{"Newcomers"};
    know(r, monday(today - d.historyDays),
         {{Quantity::ThresholdHeartRate, 174}, {Quantity::RestingHeartRate, 61}, {Quantity::Weight, 78}});
    d.behind = from(
        monday(today - d.historyDays), today + 62, {12, 10},
        {raceOf("Newcomers' Criterium", today + 48 - weekday(today) + 6, Priority::B, 70, Demand::Punchy)});
    d.behind->layOff = true; // from the couch
    d.live = [](int, Dice& dice) {
        Lived l = ordinary(dice, 0.15);
        l.power = false;
        l.strap = dice.chance(0.6);
        l.saysEffort = true;
        return l;
    };
    return d;
}

/// Short events without a power meter; a borrowed one for six weeks taught what the strap is worth. Back from
/// a week of fever these days.
DemoRider rook(Date today) {
    DemoRider d;
    d.historyDays = 250;
    d.seed = 4020;
    RiderRecord& r = d.record;
    r.name = "Rook Sandling";
    r.sex = Sex::Male;
    r.born = toCivil(today).year - 27;
    r.hours = {0, 1.25, 1, 1.25, 0, 2.5, 1.5};
    r.note = "Circuit and cyclo-cross. Rode a borrowed power meter for six weeks; since then the strap.";
    r.trainingYears = 6;
    r.strengths = "Corners, starts";
    r.weaknesses = "Everything over twenty minutes";
    r.groups = QStringList{"Cross"};
    know(r, monday(today - d.historyDays),
         {{Quantity::ThresholdPower, 268},
          {Quantity::ThresholdHeartRate, 169},
          {Quantity::Weight, 71},
          {Quantity::RestingHeartRate, 51},
          {Quantity::MaximalHeartRate, 192}});
    const Date peak = monday(today) + 7 * 7 + 6;
    d.behind = from(monday(today - d.historyDays), today + 21, {30, 28},
                    {raceOf("Pier Criterium", monday(today - 84) + 6, Priority::A, 75, Demand::Punchy),
                     raceOf("Sandpit Cross 1", monday(today - 35) + 6, Priority::C, 70, Demand::Punchy),
                     raceOf("Sandpit Cross 2", monday(today - 14) + 6, Priority::C, 70, Demand::Punchy)});
    d.behind->rules.school = School::Polarised;
    d.ahead = from(monday(today) - 35, peak + 21, {},
                   {raceOf("Coast Cross Championship", peak, Priority::A, 75, Demand::Punchy, Gate{5, 20}),
                    raceOf("Sandpit Cross 3", peak - 21, Priority::B, 70, Demand::Punchy)});
    d.ahead->rules.school = School::Polarised;
    // A circuit is half minutes on and off.
    d.ahead->sessions = {
        put(monday(today) + 8, "aerobic ceiling short", {}, {}, "By feel: eight of ten, every one."),
        put(monday(today) + 15, "aerobic ceiling short", {})};
    d.live = [](int ago, Dice& dice) {
        Lived l = ordinary(dice);
        l.power = within(ago, 250, 208);
        l.strap = !dice.chance(0.1);
        l.saysEffort = dice.chance(0.7);
        if (within(ago, 8, 5)) // fever
            l.part = 0;
        else if (within(ago, 4, 1)) // what an easy return takes
            l.part = std::min(l.part, 0.6);
        return l;
    };
    d.checkInDays = 40;
    d.checkIn = [](int ago, double form, Dice& dice) {
        CheckIn c = feeling(within(ago, 8, 5) ? 2.0 : 4.2, form, dice, within(ago, 8, 5) ? 60 : 51);
        c.ill = within(ago, 8, 5);
        if (ago == 8)
            c.note = "Fever since the night";
        return c;
    };
    return d;
}

/// Six hours a week and a job at sea: this week two key sessions were missed; easy riding has stopped paying.
DemoRider tamsin(Date today) {
    DemoRider d;
    d.historyDays = 330;
    d.seed = 606;
    RiderRecord& r = d.record;
    r.name = "Tamsin Dunlin";
    r.sex = Sex::Female;
    r.born = toCivil(today).year - 42;
    r.hours = {0, 1, 0, 1.25, 0, 2.25, 1.5};
    r.note = "On the ferry every second week; the trainer is on board.";
    r.trainingYears = 5;
    r.strengths = "Does what is written";
    r.weaknesses = "Too little high work for six hours";
    r.groups = QStringList{"Road"};
    know(r, monday(today - d.historyDays),
         {{Quantity::ThresholdPower, 186},
          {Quantity::ThresholdHeartRate, 166},
          {Quantity::LowThreshold, 0.76},
          {Quantity::Weight, 58.4},
          {Quantity::RestingHeartRate, 52},
          {Quantity::MaximalHeartRate, 184}});
    const Date peak = monday(today) + 7 * 20 + 6;
    d.behind =
        from(monday(today - d.historyDays), today + 13, {26, 25},
             {raceOf("Two Estuaries Sportive", monday(today - 120) + 6, Priority::A, 230, Demand::Long)});
    d.behind->rules.ramp = 3;
    d.ahead = from(monday(today) - 49, peak + 14, {},
                   {raceOf("Two Estuaries Sportive", peak, Priority::A, 230, Demand::Long, Gate{5, 15}),
                    raceOf("Cockle Bay Road Race", peak - 49, Priority::B, 120, Demand::Road),
                    clubHillClimb(today)});
    // Weeks at sea have half an hour between watches.
    d.ahead->sessions = {put(monday(today) + 8, "short on time", 1, 40, "On the ferry's trainer, fan on."),
                         put(monday(today) + 10, "short on time", 1, 40),
                         put(monday(today) + 22, "short on time", 2, 40)};
    d.ahead->rules.ramp = 4;
    rideTogether(*d.ahead, today, 135, 280);
    d.tests = {{190, Protocol::AerobicCheck}, {160, Protocol::AerobicCheck}, {132, Protocol::AerobicCheck},
               {104, Protocol::AerobicCheck}, {76, Protocol::AerobicCheck},  {48, Protocol::AerobicCheck},
               {20, Protocol::AerobicCheck},  {97, Protocol::TwentyMinutes}, {41, Protocol::TwentyMinutes}};
    d.live = [](int ago, Dice& dice) {
        Lived l = ordinary(dice, 0.08);
        if (within(ago, 6, 1)) // the ferry's trainer broke
            l.part = 0;
        return l;
    };
    d.checkInDays = 60;
    d.checkIn = [](int, double form, Dice& dice) { return feeling(3.8, form, dice, 52); };
    return d;
}

/// Long distances: durability is what is trained, and what the last two checks show.
DemoRider wenna(Date today) {
    DemoRider d;
    d.historyDays = 215;
    d.seed = 300;
    RiderRecord& r = d.record;
    r.name = "Wenna Strake";
    r.sex = Sex::Female;
    r.born = toCivil(today).year - 36;
    r.hours = {0, 1.5, 1.5, 1, 0, 4.5, 3.5};
    r.note = "Gravel and through the night. Eats well when reminded.";
    r.trainingYears = 11;
    r.strengths = "Patience, navigation, sleep anywhere";
    r.weaknesses = "Forgets to drink in the cold";
    r.groups = QStringList{"Long distance"};
    know(r, monday(today - d.historyDays),
         {{Quantity::ThresholdPower, 221},
          {Quantity::ThresholdHeartRate, 164},
          {Quantity::LowThreshold, 0.79},
          {Quantity::Weight, 66.3},
          {Quantity::RestingHeartRate, 45},
          {Quantity::MaximalHeartRate, 183}});
    const Date peak = monday(today) + 7 * 22 + 5;
    d.behind = from(monday(today - d.historyDays), today + 13, {48, 46},
                    {raceOf("Saltmarsh 200", monday(today - 77) + 5, Priority::A, 420, Demand::Long)});
    d.ahead = from(monday(today) - 49, peak + 15, {},
                   {raceOf("Long Shore 400", peak, Priority::A, 600, Demand::Long, Gate{10, 35}),
                    raceOf("Reed Beds 150", peak - 56, Priority::B, 300, Demand::Long)});
    // What decides her races comes after the third hour.
    d.ahead->sessions = {
        put(monday(today) + 12, "late efforts", 1, 270, "Drink before the first one, thirsty or not."),
        put(monday(today) + 26, "late efforts", 2, 270)};
    d.tests = {{170, Protocol::DurabilityCheck}, {99, Protocol::DurabilityCheck},
               {29, Protocol::DurabilityCheck},  {141, Protocol::TwentyMinutes},
               {113, Protocol::AerobicCheck},    {57, Protocol::AerobicCheck}};
    d.live = [](int, Dice& dice) { return ordinary(dice, 0.05); };
    d.checkInDays = 50;
    d.checkIn = [](int ago, double form, Dice& dice) {
        CheckIn c = feeling(4, form, dice, 45);
        if (ago % 6 == 0) // on the scales now and then
            c.weightKg = 66 + 0.1 * ((ago * 7) % 9 - 4);
        return c;
    };
    return d;
}

} // namespace

std::vector<DemoRider> demoClub(Date today) {
    return {nell(today), osric(today), pim(today), rook(today), tamsin(today), wenna(today)};
}

} // namespace marram
