// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/scenario.h"
#include "core/block/block.h"
#include "core/learn/values.h"
#include "core/ride/recognise.h"
#include "core/season/plan.h"
#include "core/session/shorthand.h"
#include "demo/club.h"
#include "formats/fit/fit.h"
#include "formats/recording/recording.h"
#include "headunit/simulate.h"

#include <QFile>
#include <algorithm>
#include <cmath>
#include <deque>
#include <future>

namespace marram {
namespace {

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
    RoughSession session;
    SimulatedRider rider;
    SimulatedDay day;
    std::uint64_t seed = 0;
    Date date;
    bool saysEffort = false;
    std::optional<Protocol> test;
};

/// A test as the rider rides it.
RoughSession testSession(Protocol protocol) {
    RoughSession s;
    s.kind = SessionKind::Intervals;
    s.title = wordsFor(protocol).name;
    const auto step = [&](int minutes, double intensity, bool work = false) {
        s.steps.push_back({minutes * 60, intensity, work});
    };
    step(8, 0.6);
    step(7, 0.7);
    switch (protocol) {
    case Protocol::AerobicCheck:
        step(62, 0.74, true);
        break;
    case Protocol::Climb:
        step(14, 1.03, true);
        break;
    case Protocol::Power5min:
        step(10, 0.6);
        step(5, 1.22, true);
        break;
    case Protocol::DurabilityCheck:
        step(10, 1.0, true);
        step(190, 0.66);
        step(10, 1.01, true);
        break;
    default:
        step(5, 1.08, true);
        step(10, 0.5);
        step(20, 1.02, true);
    }
    step(10, 0.55);
    return s;
}

/// What was planned day by day: the season behind, and the one ahead from its start on; and the sessions of
/// the last nine weeks.
struct Planned {
    std::vector<PlannedDay> days;
    std::map<Date, std::pair<WeekKind, Phase>> weeks; ///< by Monday
    std::map<Date, BlockSession> sessions;
};
/// The sessions of these weeks up to a day; one ridden stands over one that was only meant.
void keepSessions(const SessionBlock& block, Date end, std::map<Date, BlockSession>& sessions) {
    for (const BlockWeek& week : block.weeks)
        for (const BlockSession& session : week.sessions)
            if (session.date < end && (session.ridden() || !sessions.contains(session.date)))
                sessions[session.date] = session;
}

Planned plannedFor(const DemoRider& d, Date today) {
    Planned planned;
    const Date first = monday(today - 63);
    const auto solve = [&](Season s, std::optional<Date> end) {
        s.hours = d.record.hours;
        s.thresholdPower = d.record.values.on(Quantity::ThresholdPower, today).value_or(s.thresholdPower);
        const Plan plan = solveSeason(s).plan;
        for (const PlannedDay& day : plan.days)
            if (!end || day.date < *end)
                planned.days.push_back(day);
        for (const PlannedWeek& week : plan.weeks)
            if (!end || week.start < *end)
                planned.weeks[week.start] = {week.kind, week.phase};
        const Date from = std::max(first, monday(s.start));
        const int weeks = (std::min(today, end.value_or(today)) - from) / 7 + 1;
        if (weeks < 1)
            return;
        keepSessions(solveBlock(s, plan, from, weeks), std::min(today, end.value_or(today)),
                     planned.sessions);
    };
    solve(*d.behind, d.ahead ? std::optional(d.ahead->start) : std::nullopt);
    if (d.ahead && !planned.days.empty()) {
        Season ahead = *d.ahead;
        ahead.before = {planned.days.back().fitness * 0.94,
                        planned.days.back().fatigue * 0.94}; // life takes its share
        solve(ahead, std::nullopt);
    }
    return planned;
}

SimulatedRider ridingAs(const RiderRecord& r, Date day) {
    const auto known = [&](Quantity q, double otherwise) { return r.values.on(q, day).value_or(otherwise); };
    SimulatedRider s;
    s.thresholdPower = known(Quantity::ThresholdPower, 205);
    s.thresholdHeartRate = known(Quantity::ThresholdHeartRate, 168);
    s.restHeartRate = known(Quantity::RestingHeartRate, 50);
    s.maxHeartRate = known(Quantity::MaximalHeartRate, 190);
    s.weightKg = known(Quantity::Weight, 70);
    return s;
}

/// What the block had for the day, unless fast company had other ideas.
const BlockSession* meantFor(const Planned& planned, const PlannedDay& day, const Lived& lived) {
    const auto session = planned.sessions.find(day.date);
    const bool stands = session != planned.sessions.end() && session->second.ridden() && lived.extra <= 1 &&
                        day.role != Role::Race;
    return stands ? &session->second : nullptr;
}

std::vector<Errand> errandsOf(const DemoRider& d, const Planned& planned, Date today) {
    std::vector<Errand> orders;
    Dice dice(d.seed);
    for (const PlannedDay& day : planned.days) {
        if (day.date >= today)
            break;
        const int ago = today - day.date;
        const Lived lived = d.live(ago, dice);
        const double race = day.role == Role::Race ? std::max(0.7, day.stress / 72) : 0;
        const double hours = (day.hours + race) * (lived.extra > 1 ? 1.12 : 1);
        const double hour = dice.between(6.5, 16), heat = dice.between(-3, 4);
        const std::uint64_t seed = dice.next();
        const auto test =
            std::find_if(d.tests.begin(), d.tests.end(), [&](const DemoTest& t) { return t.daysAgo == ago; });
        const bool tested = test != d.tests.end();
        if (!tested && (hours < 0.35 || lived.part <= 0))
            continue;
        Errand o;
        o.session = tested ? testSession(test->protocol)
                           : prescribe(kindOf(day.role), std::min(hours, 12.0), day.stress * lived.extra);
        if (const BlockSession* meant = tested ? nullptr : meantFor(planned, day, lived)) {
            o.session =
                asRidden(meant->session,
                         d.record.values.on(Quantity::LowThreshold, day.date).value_or(defaultLowThreshold));
            // The simulated rider rides three hundredths over what it is told.
            o.day.legs = 0.97;
        }
        if (tested)
            o.test = test->protocol;
        o.rider = ridingAs(d.record, day.date);
        o.rider.powerMeter = lived.power;
        o.rider.heartRateStrap = lived.strap;
        o.day.start =
            static_cast<std::int64_t>(day.date.days) * 86400 + static_cast<std::int64_t>(hour * 3600);
        // Summer is warm, winter is not: warmest late in July.
        const CivilDate civil = toCivil(day.date);
        o.day.temperature = 12 + 9 * std::cos((civil.month + civil.day / 31.0 - 7.8) / 12 * 6.2832) + heat;
        o.day.legs = tested ? 1 : o.day.legs * lived.legs;
        o.day.freshness = day.form;
        o.day.cutShortAfter = tested ? 1 : lived.part;
        o.day.stops = !tested;
        o.day.dropouts = !tested;
        o.seed = seed;
        o.date = day.date;
        o.saysEffort = lived.saysEffort;
        orders.push_back(o);
    }
    return orders;
}

struct Ridden {
    QByteArray packed;
    std::optional<Ride> grid; ///< where it was a test
    Result<RideRecord> record;
    std::vector<Recognised> tests;
    RideFacts facts; ///< by the digest of its bytes
};

/// How hard a rider says it was, from how hard it was: the CR-10 scale with a rider's own noise.
double effortSaid(const Errand& o) {
    const double hours = o.session.seconds() * o.day.cutShortAfter / 3600.0;
    const double intensity =
        std::sqrt(o.session.stress() / 100 / std::max(0.1, o.session.seconds() / 3600.0));
    Dice dice(o.seed ^ 0x5EED);
    return std::clamp(std::round(8.2 * intensity * intensity + 0.35 * (hours - 1) + 0.5 * dice.normal()), 1.0,
                      10.0);
}

Ridden rideOne(const Errand& o, const RiderRecord& rider) {
    const auto fit = writeFit(ride(o.session, o.rider, o.day, o.seed));
    QByteArray bytes(reinterpret_cast<const char*>(fit.data()), static_cast<qsizetype>(fit.size()));
    Ride grid;
    auto record = prepareRide(bytes, QString::fromStdString(isoText(o.date)) + ".fit", rider, nullptr, &grid);
    std::vector<Recognised> tests;
    if (record && o.saysEffort) {
        record->effort = effortSaid(o);
        ScoringBasis basis = basisOn(rider, o.date);
        basis.effort = record->effort;
        rescale(record->score, basis);
    }
    if (record && o.test)
        tests = recogniseTests(grid, o.date, {o.rider.thresholdPower}, {});
    RideFacts facts;
    if (record)
        facts = factsOf(record->contentHash.toHex().toStdString(), grid, o.date);
    return {Roster::packed(bytes), o.test ? std::optional(std::move(grid)) : std::nullopt, std::move(record),
            std::move(tests), std::move(facts)};
}

/// The result of a test the coach had on the calendar, as found in its ride; a climb is measured by its lap.
std::optional<TestRecord> resultOf(const Errand& o, const Ridden& ridden, qint64 rider) {
    TestRecord t;
    t.rider = rider;
    t.rideHash = ridden.record->contentHash;
    if (*o.test == Protocol::Climb) {
        const auto best = meanMax(*ridden.grid, std::array{14 * 60});
        t.result = {o.date, Protocol::Climb, best.front().power, 0, 14 * 60};
        t.result.place = "Lighthouse Hill";
    } else {
        const auto found = std::find_if(ridden.tests.begin(), ridden.tests.end(),
                                        [&](const Recognised& r) { return r.result.protocol == *o.test; });
        if (found == ridden.tests.end())
            return std::nullopt;
        t.result = found->result;
    }
    t.result.verdict = Verdict::Accepted;
    return t;
}

class Author {
public:
    Author(Roster& roster, Date today, const std::function<bool(int, int)>& progress,
           std::function<void()> came = {})
        : roster_(roster), today_(today), progress_(progress), came_(std::move(came)) {}

    bool cancelled() const { return cancelled_; }

    Result<void> write(std::vector<DemoRider> club) {
        std::vector<Planned> planned;
        std::vector<std::vector<Errand>> errands;
        for (const DemoRider& d : club) {
            planned.push_back(plannedFor(d, today_));
            errands.push_back(errandsOf(d, planned.back(), today_));
            total_ += errands.back().size();
        }
        for (size_t i = 0; i < club.size(); ++i) {
            believeTests(club[i], errands[i]);
            std::vector<Ridden> ridden;
            if (auto ok = ride(club[i], errands[i], ridden); !ok)
                return ok;
            // Nobody waits for the roster while somebody rides.
            auto kept = roster_.together([&] { return keep(club[i], planned[i], errands[i], ridden); });
            if (!kept)
                return kept;
            if (came_)
                came_();
        }
        return {};
    }

private:
    /// The coach said yes to every threshold test, so each is the threshold from its day on.
    static void believeTests(DemoRider& d, const std::vector<Errand>& errands) {
        const RiderRecord believed = d.record;
        for (const Errand& o : errands)
            if (o.test && wordsFor(*o.test).thresholdPart > 0)
                if (const Ridden ridden = rideOne(o, believed); ridden.record)
                    if (const auto test = resultOf(o, ridden, 0))
                        d.record.values.set(Quantity::ThresholdPower, o.date,
                                            std::round(thresholdFrom(test->result).value_or(0)));
    }

    Result<void> keep(DemoRider& d, const Planned& planned, const std::vector<Errand>& errands,
                      std::vector<Ridden>& ridden) {
        const auto id = roster_.saveRider(d.record);
        if (!id)
            return tl::unexpected(id.error());
        d.record.id = *id;
        if (auto ok = keepSeasons(d, planned); !ok)
            return ok;
        if (auto ok = keepRides(d, errands, ridden); !ok)
            return ok;
        if (auto ok = relearnScales(roster_, d.record.id); !ok)
            return tl::unexpected(ok.error());
        return sayHowItWas(d, planned.days);
    }

    /// The season in force, and the one before it, each with the days it planned.
    Result<void> keepSeasons(const DemoRider& d, const Planned& planned) {
        const qint64 rider = d.record.id;
        const Date farAhead = today_ + 4000;
        if (!d.ahead)
            return keep(rider, planned, *d.behind, SeasonStanding::InForce, d.behind->start, farAhead);
        if (d.behind)
            if (auto ok =
                    keep(rider, planned, *d.behind, SeasonStanding::History, d.behind->start, d.ahead->start);
                !ok)
                return ok;
        return keep(rider, planned, *d.ahead, SeasonStanding::InForce, d.ahead->start, farAhead);
    }

    Result<void> keep(qint64 rider, const Planned& planned, const Season& season, SeasonStanding standing,
                      Date from, Date to) {
        std::vector<SolvedDay> days;
        for (const PlannedDay& day : planned.days)
            if (day.date >= from && day.date < to) {
                const auto& [kind, phase] = planned.weeks.at(monday(day.date));
                days.push_back({day.date, day.role, day.stress, day.hours, day.fitness, day.fatigue, day.form,
                                kind, phase});
            }
        SeasonRecord record;
        record.rider = rider;
        record.standing = standing;
        record.season = season;
        const auto id = roster_.saveSeason(record);
        if (!id)
            return tl::unexpected(id.error());
        std::vector<MeantSession> meant;
        for (const auto& [day, s] : planned.sessions)
            if (day >= from && day < to)
                meant.push_back(
                    {day, s.family, s.rung, s.ridden() ? writeShorthand(s.session) : "", s.note, {}, {}, {}});
        if (auto ok = roster_.saveMeant(*id, from, meant); !ok)
            return ok;
        if (auto ok = roster_.savePlannedDays(*id, from, days); !ok || standing != SeasonStanding::InForce)
            return ok;
        return roster_.saveOutlook(*id, today_ - 8, outlookOf(season, days));
    }

    /// What was expected of its races as the plan stood eight days ago.
    std::vector<Outlook> outlookOf(const Season& season, const std::vector<SolvedDay>& days) const {
        std::vector<Outlook> outlook;
        for (const Race& race : season.races)
            for (size_t i = 1; i < days.size(); ++i)
                if (days[i].date == race.date && race.date >= today_)
                    outlook.push_back({today_ - 8, race.name, days[i].form, days[i - 1].fitness});
        return outlook;
    }

    Result<void> ride(const DemoRider& d, const std::vector<Errand>& errands, std::vector<Ridden>& all) {
        std::deque<std::future<Ridden>> underWay;
        for (size_t next = 0; all.size() < errands.size();) {
            while (underWay.size() < 6 && next < errands.size())
                underWay.push_back(
                    std::async(std::launch::async, rideOne, std::cref(errands[next++]), std::cref(d.record)));
            all.push_back(underWay.front().get());
            underWay.pop_front();
            if (!all.back().record)
                return tl::unexpected(all.back().record.error());
            ++done_;
            if (progress_ && !progress_(static_cast<int>(done_), static_cast<int>(total_))) {
                cancelled_ = true;
                return refuse("Making the demo was cancelled.");
            }
        }
        return {};
    }

    Result<void> keepRides(const DemoRider& d, const std::vector<Errand>& errands,
                           std::vector<Ridden>& ridden) {
        Importer importer(roster_, d.record);
        ImportReport report;
        std::vector<RideFacts> facts;
        for (size_t i = 0; i < errands.size(); ++i) {
            const Errand& o = errands[i];
            RideRecord& record = *ridden[i].record;
            record.rider = d.record.id;
            if (const auto note = d.rideNotes.find(today_ - o.date); note != d.rideNotes.end())
                record.note = note->second;
            if (o.test)
                if (const auto test = resultOf(o, ridden[i], d.record.id))
                    if (auto ok = roster_.saveTest(*test); !ok)
                        return tl::unexpected(ok.error());
            facts.push_back(std::move(ridden[i].facts));
            importer.store(std::move(record), ridden[i].packed, report);
            if (report.stopped)
                return tl::unexpected(*report.stopped);
        }
        return keepMaximal(d.record.id, std::move(facts));
    }

    /// What was maximal, so that it stands before the record is heard in the window.
    Result<void> keepMaximal(qint64 rider, std::vector<RideFacts> facts) {
        const auto rides = roster_.rides(rider);
        if (!rides)
            return tl::unexpected(rides.error());
        std::map<std::string, qint64> ids;
        for (const RideRecord& r : *rides)
            ids[r.contentHash.toHex().toStdString()] = r.id;
        KeptHearing heard;
        heard.of = "";
        for (const LearntValues::Maximal& m : learnValues(std::move(facts)).maximal)
            if (const auto ride = ids.find(m.file); ride != ids.end())
                heard.maximal.push_back({ride->second, m.day, m.seconds, m.power});
        return roster_.saveHeard(rider, heard);
    }

    Result<void> sayHowItWas(const DemoRider& d, const std::vector<PlannedDay>& planned) {
        Dice dice(d.seed + 1);
        for (int ago = d.checkInDays; d.checkIn && ago >= 0; --ago) {
            const Date day = today_ - ago;
            const auto plan = std::find_if(planned.begin(), planned.end(),
                                           [&](const PlannedDay& p) { return p.date == day; });
            CheckIn c = d.checkIn(ago, plan == planned.end() ? 0 : plan->form, dice);
            c.day = day;
            // Nobody answers every day, and this morning's are still to come for most.
            if ((ago > 2 && dice.chance(0.15)) || (ago == 0 && dice.chance(0.5)))
                continue;
            if (auto ok = roster_.saveCheckIn(d.record.id, c); !ok)
                return ok;
        }
        return {};
    }

    Roster& roster_;
    Date today_;
    const std::function<bool(int, int)>& progress_;
    std::function<void()> came_;
    size_t done_ = 0, total_ = 0;
    bool cancelled_ = false;
};

} // namespace

Result<void> writeDemo(const QString& path, Date today, const std::function<bool(int, int)>& progress,
                       std::optional<size_t> riders) {
    std::vector<DemoRider> club = demoClub(today);
    if (riders)
        club.erase(club.begin() + static_cast<long>(std::min(*riders, club.size())), club.end());
    return makeAside(path, [&](const QString& aside) -> Result<void> {
        auto roster = Roster::create(aside);
        if (!roster)
            return tl::unexpected(roster.error());
        Author author(**roster, today, progress);
        // One transaction: it is far quicker than one for every ride.
        auto made = (*roster)->together([&] { return author.write(std::move(club)); });
        if (!made && author.cancelled())
            return refuse("Making the demo was cancelled; nothing was kept.");
        return made;
    });
}

Result<void> addToDemo(Roster& roster, Date today, size_t from, const std::function<bool(int, int)>& progress,
                       const std::function<void()>& came) {
    std::vector<DemoRider> club = demoClub(today);
    club.erase(club.begin(), club.begin() + static_cast<long>(std::min(from, club.size())));
    Author author(roster, today, progress, came);
    auto made = author.write(std::move(club));
    return author.cancelled() ? Result<void>{} : made;
}

} // namespace marram
