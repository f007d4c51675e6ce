// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/merge.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace marram {
namespace {

template <class T>
void mergeField(T& now, const T& before, const T& after) {
    if (!(before == after))
        now = after;
}

template <class T, class Same>
void mergeList(std::vector<T>& now, const std::vector<T>& before, const std::vector<T>& after, Same same) {
    const auto find = [&](std::vector<T>& in, const T& what) {
        return std::find_if(in.begin(), in.end(), [&](const T& e) { return same(e, what); });
    };
    std::vector<T> went = before, came = after;
    for (auto e = went.begin(); e != went.end();) {
        const auto kept = find(came, *e);
        if (kept == came.end()) {
            ++e;
            continue;
        }
        came.erase(kept);
        e = went.erase(e);
    }
    // The n-th that went became the n-th that came.
    for (size_t i = 0; i < std::max(went.size(), came.size()); ++i) {
        const auto old = i < went.size() ? find(now, went[i]) : now.end();
        if (i < came.size() && old != now.end())
            *old = came[i];
        else if (i < came.size())
            now.push_back(came[i]);
        else if (old != now.end())
            now.erase(old);
    }
    // An edit that only puts the entries into another order.
    if (now.size() == after.size() && std::is_permutation(now.begin(), now.end(), after.begin(), same))
        now = after;
}

template <class T>
void mergeList(std::vector<T>& now, const std::vector<T>& before, const std::vector<T>& after) {
    mergeList(now, before, after, [](const T& a, const T& b) { return a == b; });
}

/// Calls `visit` with each field of a season that is one value.
template <class Visit>
void everyField(Season& now, const Season& before, const Season& after, Visit visit) {
    visit(now.start, before.start, after.start);
    visit(now.end, before.end, after.end);
    visit(now.before.fitness, before.before.fitness, after.before.fitness);
    visit(now.before.fatigue, before.before.fatigue, after.before.fatigue);
    visit(now.tau.fitness, before.tau.fitness, after.tau.fitness);
    visit(now.tau.fatigue, before.tau.fatigue, after.tau.fatigue);
    visit(now.layOff, before.layOff, after.layOff);
    Rules& r = now.rules;
    const Rules &b = before.rules, &a = after.rules;
    visit(r.buildWeeks, b.buildWeeks, a.buildWeeks);
    visit(r.deloadWeeks, b.deloadWeeks, a.deloadWeeks);
    visit(r.ramp, b.ramp, a.ramp);
    visit(r.formFloor, b.formFloor, a.formFloor);
    visit(r.deload, b.deload, a.deload);
    visit(r.taperDays, b.taperDays, a.taperDays);
    visit(r.taperSet, b.taperSet, a.taperSet);
    visit(r.taperBest, b.taperBest, a.taperBest);
    visit(r.taperShape, b.taperShape, a.taperShape);
    visit(r.shapeBest, b.shapeBest, a.shapeBest);
    visit(r.overreach, b.overreach, a.overreach);
    visit(r.volume, b.volume, a.volume);
    visit(r.gym, b.gym, a.gym);
    visit(r.gymBeside, b.gymBeside, a.gymBeside);
    visit(r.gatePrice, b.gatePrice, a.gatePrice);
    visit(r.miss, b.miss, a.miss);
    visit(r.missRun, b.missRun, a.missRun);
    visit(r.hardDays, b.hardDays, a.hardDays);
    visit(r.school, b.school, a.school);
    visit(r.ownSplits, b.ownSplits, a.ownSplits);
    visit(r.order, b.order, a.order);
}

} // namespace

RiderRecord merged(const RiderRecord& now, const RiderRecord& before, const RiderRecord& after) {
    RiderRecord r = now;
    mergeField(r.name, before.name, after.name);
    mergeField(r.sex, before.sex, after.sex);
    mergeField(r.born, before.born, after.born);
    for (size_t d = 0; d < r.hours.size(); ++d)
        mergeField(r.hours[d], before.hours[d], after.hours[d]);
    mergeField(r.note, before.note, after.note);
    mergeField(r.trainingYears, before.trainingYears, after.trainingYears);
    mergeField(r.usualWeekHours, before.usualWeekHours, after.usualWeekHours);
    mergeField(r.slowRecoverer, before.slowRecoverer, after.slowRecoverer);
    mergeList(r.injuries, before.injuries, after.injuries);
    mergeField(r.strengths, before.strengths, after.strengths);
    mergeField(r.weaknesses, before.weaknesses, after.weaknesses);
    mergeField(r.cautions, before.cautions, after.cautions);
    for (size_t c = 0; c < careNames.size(); ++c) {
        const auto one = static_cast<Care>(c);
        if (before.care.has(one) != after.care.has(one))
            r.care.set(one, after.care.has(one));
    }
    mergeField(r.care.cleared, before.care.cleared, after.care.cleared);
    mergeField(r.groups, before.groups, after.groups);
    mergeField(r.archived, before.archived, after.archived);
    for (size_t i = 0; i < quantityCount; ++i) {
        const auto q = static_cast<Quantity>(i);
        const auto byDay = [&](const RiderRecord& of) {
            std::map<Date, DatedValue> days;
            for (const DatedValue& v : of.values.of(q))
                days[v.from] = v;
            return days;
        };
        const auto was = byDay(before), is = byDay(after);
        for (const auto& [day, value] : was)
            if (!is.contains(day))
                r.values.remove(q, day);
        for (const auto& [day, entry] : is)
            if (!was.contains(day) || was.at(day) != entry)
                r.values.set(q, entry);
    }
    return r;
}

Season merged(const Season& now, const Season& before, const Season& after) {
    Season s = now;
    everyField(s, before, after, [](auto& n, const auto& b, const auto& a) { mergeField(n, b, a); });
    mergeList(s.races, before.races, after.races);
    mergeList(s.away, before.away, after.away);
    mergeList(s.weeks, before.weeks, after.weeks);
    // Of a week pinned on both sides the edit's pin holds.
    for (auto p = s.weeks.begin(); p != s.weeks.end();) {
        const bool again =
            std::any_of(p + 1, s.weeks.end(), [&](const WeekPin& o) { return o.start == p->start; });
        p = again ? s.weeks.erase(p) : p + 1;
    }
    std::sort(s.weeks.begin(), s.weeks.end(),
              [](const WeekPin& a, const WeekPin& b) { return a.start < b.start; });
    // Sessions are merged day by day.
    std::map<Date, SessionPin> was, is, days;
    for (const SessionPin& p : before.sessions)
        was[p.date] = p;
    for (const SessionPin& p : after.sessions)
        is[p.date] = p;
    for (const SessionPin& p : now.sessions)
        days[p.date] = p;
    for (const auto& [day, pin] : was)
        if (!is.contains(day))
            days.erase(day);
    for (const auto& [day, pin] : is)
        if (!was.contains(day) || !(was.at(day) == pin))
            days[day] = pin;
    s.sessions.clear();
    for (const auto& [day, pin] : days)
        s.sessions.push_back(pin);
    return s;
}

RideRecord merged(const RideRecord& now, const RideRecord& before, const RideRecord& after) {
    RideRecord r = now;
    mergeField(r.note, before.note, after.note);
    mergeField(r.effort, before.effort, after.effort);
    mergeField(r.excluded, before.excluded, after.excluded);
    mergeField(r.beside, before.beside, after.beside);
    mergeField(r.corrections, before.corrections, after.corrections);
    r.stale = r.stale || !(r.corrections == now.corrections);
    return r;
}

TestRecord merged(const TestRecord& now, const TestRecord& before, const TestRecord& after) {
    TestRecord t = now;
    TestResult& r = t.result;
    const TestResult &b = before.result, &a = after.result;
    mergeField(r.day, b.day, a.day);
    mergeField(r.protocol, b.protocol, a.protocol);
    mergeField(r.value, b.value, a.value);
    mergeField(r.second, b.second, a.second);
    mergeField(r.seconds, b.seconds, a.seconds);
    mergeField(r.workKj, b.workKj, a.workKj);
    mergeField(r.altitudeM, b.altitudeM, a.altitudeM);
    mergeField(r.acclimatised, b.acclimatised, a.acclimatised);
    mergeField(r.place, b.place, a.place);
    mergeField(r.note, b.note, a.note);
    mergeField(r.verdict, b.verdict, a.verdict);
    mergeField(t.rideHash, before.rideHash, after.rideHash);
    return t;
}

Family merged(const Family& now, const Family& before, const Family& after) {
    Family f = now;
    mergeField(f.purpose, before.purpose, after.purpose);
    mergeField(f.grows, before.grows, after.grows);
    mergeField(f.stop, before.stop, after.stop);
    mergeField(f.caution, before.caution, after.caution);
    mergeField(f.rungs, before.rungs, after.rungs);
    mergeField(f.work, before.work, after.work);
    mergeField(f.notWith, before.notWith, after.notWith);
    mergeField(f.phases, before.phases, after.phases);
    return f;
}

CheckIn merged(const CheckIn& now, const CheckIn& before, const CheckIn& after) {
    CheckIn c = now;
    c.day = after.day;
    for (const CheckInScale& s : checkInScales)
        mergeField(c.*s.value, before.*s.value, after.*s.value);
    mergeField(c.restHeartRate, before.restHeartRate, after.restHeartRate);
    mergeField(c.weightKg, before.weightKg, after.weightKg);
    mergeField(c.ill, before.ill, after.ill);
    mergeField(c.note, before.note, after.note);
    return c;
}

bool sameSeason(const Season& a, const Season& b) {
    bool same = true;
    Season copy = a;
    everyField(copy, a, b, [&](auto&, const auto& x, const auto& y) { same = same && x == y; });
    return same && a.races == b.races && a.weeks == b.weeks && a.sessions == b.sessions && a.away == b.away;
}

} // namespace marram
