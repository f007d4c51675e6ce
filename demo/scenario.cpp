// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/scenario.h"
#include "core/season/plan.h"
#include "formats/fit/fit.h"
#include "headunit/simulate.h"

#include <QFile>
#include <algorithm>
#include <deque>
#include <future>

namespace marram {
namespace {

constexpr int historyDays = 427; // fourteen months

/// The season that lies behind: the rides of the demo follow its plan as well as life allowed.
Season lastYear(const RiderRecord& rider, Date today) {
    Season s;
    s.start = monday(today - historyDays);
    s.end = today + 13;
    s.thresholdPower = rider.thresholds.front().power.value;
    s.before = {38, 36};
    s.hours = rider.hours;
    for (double& h : s.hours)
        h *= 0.9; // she had less time last year
    s.rules.ramp = 5;
    s.rules.school = School::Pyramidal;
    const Date peak = monday(today - 140) + 6;
    s.races = {{"Saltmere Classic", peak, Priority::A, 210, 1, Gate{8, 20}, Demand::Road},
               {"Ebbtide Circuit", peak - 56, Priority::B, 140, 1, Gate{0, 12}, Demand::Punchy},
               {"Harbour Night Race", peak + 77, Priority::B, 95, 1, Gate{-10, 15}, Demand::Punchy}};
    s.away = {{peak + 8, peak + 14, AwayWhy::Holiday, std::nullopt}};
    return s;
}

/// What life did with a planned day.
struct Lived {
    double part = 1; ///< of the session that was ridden; 0 for not at all
    double legs = 1;
    double extra = 1; ///< factor on intended stress
};

Lived live(int daysAgo, Dice& dice) {
    Lived l;
    l.legs = 1 + 0.018 * dice.normal();
    if (dice.chance(0.06))
        l.part = 0;
    else if (dice.chance(0.05))
        l.part = dice.between(0.45, 0.8);
    const auto within = [&](int from, int to) { return daysAgo <= from && daysAgo >= to; };
    if (within(52, 46)) // a cold
        l.part = 0;
    if (within(45, 42))
        l.legs = 0.92;
    if (within(10, 8)) // a work trip: what could be done on a hotel bike
        l.part = 0;
    else if (within(7, 6))
        l.part = std::min(l.part, 0.5);
    if (within(31, 25)) // a week ridden far too hard with fast company
        l.extra = 1.35;
    if (within(24, 22))
        l.legs = 0.95;
    return l;
}

SessionKind kindOf(Role role) {
    switch (role) {
    case Role::Hard:
        return SessionKind::Intervals;
    case Role::Race:
        return SessionKind::Race;
    case Role::Openers:
        return SessionKind::Openers;
    default:
        return SessionKind::Endurance;
    }
}

/// One ride to be ridden by the simulated bike computer.
struct Errand {
    Session session;
    SimulatedRider rider;
    SimulatedDay day;
    std::uint64_t seed = 0;
    Date date;
};

/// What was planned day by day: last year's season, and this one's from its start on.
std::vector<PlannedDay> plannedDays(const RiderRecord& record, Season ahead, Date today) {
    const Solved before = solveSeason(lastYear(record, today));
    std::vector<PlannedDay> days;
    for (const PlannedDay& d : before.plan.days)
        if (d.date < ahead.start)
            days.push_back(d);
    ahead.hours = record.hours;
    ahead.thresholdPower = record.thresholds.back().power.value;
    ahead.before = {days.back().fitness * 0.94, days.back().fatigue * 0.94}; // life takes its share
    const Solved now = solveSeason(ahead);
    days.insert(days.end(), now.plan.days.begin(), now.plan.days.end());
    return days;
}

std::vector<Errand> errandsOf(const RiderRecord& record, const std::vector<PlannedDay>& days, Date today) {
    std::vector<Errand> orders;
    Dice dice(20270);
    for (const PlannedDay& day : days) {
        if (day.date >= today)
            break;
        const Lived lived = live(today - day.date, dice);
        const double race = day.role == Role::Race ? std::max(0.7, day.stress / 72) : 0;
        const double hours = (day.hours + race) * (lived.extra > 1 ? 1.12 : 1);
        const bool rode = hours >= 0.35 && lived.part > 0;
        const double hour = dice.between(6.5, 16), heat = dice.between(-3, 4);
        if (!rode)
            continue;
        const Threshold& t = *thresholdOn(record.thresholds, day.date);
        Errand o;
        o.session = prescribe(kindOf(day.role), hours, day.stress * lived.extra);
        o.rider = {t.power.value, t.heartRate->value, *record.restHeartRate, *record.maxHeartRate,
                   *t.weightKg};
        o.day.start =
            static_cast<std::int64_t>(day.date.days) * 86400 + static_cast<std::int64_t>(hour * 3600);
        // Summer is warm, winter is not: warmest late in July.
        const CivilDate civil = toCivil(day.date);
        o.day.temperature = 12 + 9 * std::cos((civil.month + civil.day / 31.0 - 7.8) / 12 * 6.2832) + heat;
        o.day.legs = lived.legs;
        o.day.freshness = day.form;
        o.day.cutShortAfter = lived.part;
        o.seed = dice.next();
        o.date = day.date;
        orders.push_back(o);
    }
    return orders;
}

RiderRecord demoRider(Date today) {
    RiderRecord r;
    r.name = "Nell Varrowby";
    r.sex = Sex::Female;
    r.born = toCivil(today).year - 31;
    r.restHeartRate = 47;
    r.maxHeartRate = 190;
    r.hours = {0, 1.5, 1.5, 1, 0, 4, 3};
    r.note = "Rides for the Dunmarrow Wheelers. Works shifts at the harbour; Mondays and Fridays are hers to "
             "rest.";
    const auto entry = [](Date from, double watts, double kg) {
        return Threshold{from, Watts{watts}, BeatsPerMinute{172}, defaultLowThreshold, kg};
    };
    r.thresholds = {entry(monday(today - historyDays), 232, 63.5), entry(today - 290, 240, 62.8),
                    entry(today - 175, 249, 61.9), entry(today - 45, 244, 62.6)};
    return r;
}

Season seasonAhead(Date today) {
    Season s;
    s.start = monday(today) - 56;
    s.rules.school = School::Pyramidal;
    const Date peak = monday(today) + 7 * 31 + 6;
    s.races = {{"Marrow Point Road Race", peak, Priority::A, 230, 1, Gate{10, 20}, Demand::Road},
               {"Ebbtide Circuit", peak - 63, Priority::B, 140, 1, Gate{0, 12}, Demand::Punchy},
               {"Lighthouse Hill Climb", peak - 98, Priority::C, 85, 1, std::nullopt, Demand::Steady},
               {"Sandhopper Reliability Ride", peak - 35, Priority::C, 190, 1, std::nullopt, Demand::Long}};
    s.end = peak + 21;
    // A family week away in spring.
    s.away = {{monday(peak - 119), monday(peak - 119) + 6, AwayWhy::Holiday, std::nullopt}};
    return s;
}

} // namespace

Result<void> writeDemo(const QString& path, Date today, const std::function<bool(int, int)>& progress) {
    auto roster = Roster::create(path);
    if (!roster)
        return tl::unexpected(roster.error());
    RiderRecord rider = demoRider(today);
    const auto abandon = [&](const std::string& sentence) {
        roster->reset();
        for (const char* suffix : {"", "-wal", "-shm"})
            QFile::remove(path + suffix);
        return refuse(sentence);
    };
    const auto id = (*roster)->saveRider(rider);
    if (!id)
        return abandon(id.error().sentence);
    rider.id = *id;
    const Season ahead = seasonAhead(today);
    const std::vector<PlannedDay> planned = plannedDays(rider, ahead, today);
    std::vector<SolvedDay> kept;
    for (const PlannedDay& d : planned)
        if (d.date >= ahead.start)
            kept.push_back({d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form});
    if (auto ok = (*roster)->saveSeason(rider.id, ahead); !ok)
        return abandon(ok.error().sentence);
    if (auto ok = (*roster)->saveSolvedDays(rider.id, kept); !ok)
        return abandon(ok.error().sentence);

    struct Ridden {
        QByteArray bytes;
        Result<RideRecord> record;
    };
    const std::vector<Errand> orders = errandsOf(rider, planned, today);
    const auto rideOne = [&rider](const Errand& o) -> Ridden {
        const auto fit = writeFit(ride(o.session, o.rider, o.day, o.seed));
        QByteArray bytes(reinterpret_cast<const char*>(fit.data()), static_cast<qsizetype>(fit.size()));
        auto record = prepareRide(bytes, QString::fromStdString(isoText(o.date)) + ".fit", rider);
        return {std::move(bytes), std::move(record)};
    };
    Importer importer(**roster, rider);
    ImportReport report;
    std::deque<std::future<Ridden>> underWay;
    size_t next = 0, done = 0;
    // The demo is made whole or not at all, so its rides share one transaction.
    bool cancelled = false;
    const auto stored = (*roster)->together([&]() -> Result<void> {
        while (done < orders.size()) {
            while (underWay.size() < 6 && next < orders.size())
                underWay.push_back(std::async(std::launch::async, rideOne, std::cref(orders[next++])));
            Ridden ridden = underWay.front().get();
            underWay.pop_front();
            if (!ridden.record)
                return tl::unexpected(ridden.record.error());
            importer.store(std::move(*ridden.record), ridden.bytes, report);
            if (report.stopped)
                return tl::unexpected(*report.stopped);
            ++done;
            if (progress && !progress(static_cast<int>(done), static_cast<int>(orders.size()))) {
                cancelled = true;
                return refuse("Making the demo was cancelled.");
            }
        }
        return {};
    });
    if (!stored)
        return abandon(cancelled ? "Making the demo was cancelled; nothing was kept."
                                 : stored.error().sentence);
    return {};
}

} // namespace marram
