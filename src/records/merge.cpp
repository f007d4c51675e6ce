// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/merge.h"
#include "records/fields.h"

#include <algorithm>
#include <map>

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

/// What an edit changed of a value, on what it is now. Overloads say how of those that are not simply one or
/// the other.
template <class T>
void merge(T& now, const T& before, const T& after);

template <class T>
void merge(std::vector<T>& now, const std::vector<T>& before, const std::vector<T>& after) {
    mergeList(now, before, after);
}
// Lists whose order is what they say are taken whole.
void merge(std::vector<std::string>& now, const std::vector<std::string>& before,
           const std::vector<std::string>& after) {
    mergeField(now, before, after);
}
void merge(std::vector<Session>& now, const std::vector<Session>& before, const std::vector<Session>& after) {
    mergeField(now, before, after);
}
void merge(WeekHours& now, const WeekHours& before, const WeekHours& after) {
    for (size_t d = 0; d < now.size(); ++d)
        mergeField(now[d], before[d], after[d]);
}

void merge(RiderCare& now, const RiderCare& before, const RiderCare& after) {
    for (size_t c = 0; c < careNames.size(); ++c) {
        const auto one = static_cast<Care>(c);
        if (before.has(one) != after.has(one))
            now.set(one, after.has(one));
    }
    mergeField(now.cleared, before.cleared, after.cleared);
}

/// Entry by entry of each quantity, by day.
void merge(RiderValues& now, const RiderValues& before, const RiderValues& after) {
    for (size_t i = 0; i < quantityCount; ++i) {
        const auto q = static_cast<Quantity>(i);
        const auto byDay = [&](const RiderValues& of) {
            std::map<Date, DatedValue> days;
            for (const DatedValue& v : of.of(q))
                days[v.from] = v;
            return days;
        };
        const auto was = byDay(before), is = byDay(after);
        for (const auto& [day, value] : was)
            if (!is.contains(day))
                now.remove(q, day);
        for (const auto& [day, entry] : is)
            if (!was.contains(day) || was.at(day) != entry)
                now.set(q, entry);
    }
}

/// Of a week pinned on both sides the edit's pin holds.
void merge(std::vector<WeekPin>& now, const std::vector<WeekPin>& before, const std::vector<WeekPin>& after) {
    mergeList(now, before, after);
    for (auto p = now.begin(); p != now.end();) {
        const bool again =
            std::any_of(p + 1, now.end(), [&](const WeekPin& o) { return o.start == p->start; });
        p = again ? now.erase(p) : p + 1;
    }
    std::sort(now.begin(), now.end(), [](const WeekPin& a, const WeekPin& b) { return a.start < b.start; });
}

/// Day by day.
void merge(std::vector<SessionPin>& now, const std::vector<SessionPin>& before,
           const std::vector<SessionPin>& after) {
    const auto byDay = [](const std::vector<SessionPin>& pins) {
        std::map<Date, SessionPin> days;
        for (const SessionPin& p : pins)
            days[p.date] = p;
        return days;
    };
    auto days = byDay(now);
    const auto was = byDay(before), is = byDay(after);
    for (const auto& [day, pin] : was)
        if (!is.contains(day))
            days.erase(day);
    for (const auto& [day, pin] : is)
        if (!was.contains(day) || !(was.at(day) == pin))
            days[day] = pin;
    now.clear();
    for (const auto& [day, pin] : days)
        now.push_back(pin);
}

template <Described Record>
void mergeFields(Record& now, const Record& before, const Record& after) {
    eachField<Record>([&](const auto& f) {
        if constexpr (std::decay_t<decltype(f)>::edited)
            merge(now.*f.at, before.*f.at, after.*f.at);
    });
}

template <class T>
void merge(T& now, const T& before, const T& after) {
    if constexpr (Described<T>)
        mergeFields(now, before, after);
    else
        mergeField(now, before, after);
}

template <class Record>
Record mergedWhole(Record now, const Record& before, const Record& after) {
    mergeFields(now, before, after);
    return now;
}

} // namespace

RiderRecord merged(const RiderRecord& now, const RiderRecord& before, const RiderRecord& after) {
    return mergedWhole(now, before, after);
}

Season merged(const Season& now, const Season& before, const Season& after) {
    return mergedWhole(now, before, after);
}

RideRecord merged(const RideRecord& now, const RideRecord& before, const RideRecord& after) {
    RideRecord r = mergedWhole(now, before, after);
    r.stale = r.stale || !(r.corrections == now.corrections);
    return r;
}

TestRecord merged(const TestRecord& now, const TestRecord& before, const TestRecord& after) {
    return mergedWhole(now, before, after);
}

Family merged(const Family& now, const Family& before, const Family& after) {
    return mergedWhole(now, before, after);
}

CheckIn merged(const CheckIn& now, const CheckIn& before, const CheckIn& after) {
    CheckIn c = mergedWhole(now, before, after);
    c.day = after.day;
    return c;
}

bool sameSeason(const Season& a, const Season& b) {
    return sameEdited(a, b);
}

} // namespace marram
