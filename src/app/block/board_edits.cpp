// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/board_edits.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <algorithm>

namespace marram {

DayContent contentOf(const BoardDay& day) {
    DayContent c;
    if (const BlockSession* s = day.ride()) {
        c.family = s->family;
        c.minutes = s->seconds / 60;
        // What the coach wrote, and what half-weeks leave of a rung, lies elsewhere as it is written.
        if (!day.pin.words.empty() || s->family.empty())
            c.words = writeShorthand(s->session);
        if (s->rung > 0)
            c.rung = s->rung;
        c.note = day.pin.note;
    } else if (!day.sessions.empty()) {
        c.family = day.sessions.front().family;
    }
    return c;
}

Season withSession(Season season, Date day, const std::function<void(SessionPin&)>& change) {
    auto at = std::lower_bound(season.sessions.begin(), season.sessions.end(), day,
                               [](const SessionPin& p, Date d) { return p.date < d; });
    if (at == season.sessions.end() || at->date != day) {
        SessionPin fresh;
        fresh.date = day;
        at = season.sessions.insert(at, fresh);
    }
    change(*at);
    if (at->empty())
        season.sessions.erase(at);
    return season;
}

namespace {

void hold(SessionPin& pin, const DayContent& c) {
    pin.family = c.family;
    pin.words = c.words;
    pin.rung = c.family.empty() ? std::nullopt : c.rung;
    pin.minutes = c.family == "rest" || !c.words.empty() ? std::nullopt : c.minutes;
    if (pin.minutes)
        pin.minutes = std::clamp(*pin.minutes, 5, 1440);
    if (!c.note.empty())
        pin.note = c.note;
}

Season holding(const Season& season, Date day, const DayContent& c) {
    return withSession(season, day, [&](SessionPin& p) { hold(p, c); });
}

} // namespace

Season swapped(const BoardPicture& picture, Date a, Date b) {
    const BoardDay *one = picture.day(a), *two = picture.day(b);
    if (a == b || !one || !two || !one->open() || !two->open())
        return picture.season;
    const auto note = [&](Season s, Date day, const std::string& words) {
        return withSession(std::move(s), day, [&](SessionPin& p) {
            p.note = words;
            p.team.clear(); // the others ride on the day they agreed on
        });
    };
    Season s = holding(holding(picture.season, a, contentOf(*two)), b, contentOf(*one));
    return note(note(std::move(s), a, two->pin.note), b, one->pin.note);
}

Season copied(const BoardPicture& picture, Date from, Date to) {
    const BoardDay *one = picture.day(from), *two = picture.day(to);
    if (from == to || !one || !two || !two->open())
        return picture.season;
    return holding(picture.season, to, contentOf(*one));
}

Season withContent(const BoardPicture& picture, Date day, const DayContent& content) {
    const BoardDay* d = picture.day(day);
    return d && d->open() ? holding(picture.season, day, content) : picture.season;
}

Season climbed(const BoardPicture& picture, const FamilyBook& book, Date day, int rungs) {
    const BoardDay* d = picture.day(day);
    const BlockSession* s = d && d->open() ? d->ride() : nullptr;
    const Family* family = s ? book.named(s->family) : nullptr;
    if (!family || family->work.empty())
        return picture.season;
    const int top = static_cast<int>(family->work.size());
    const int rung = std::clamp(s->rung + rungs, 1, top);
    if (rung == s->rung)
        return picture.season;
    return withSession(picture.season, day, [&](SessionPin& p) {
        p.family = s->family;
        p.rung = rung;
        p.words.clear();
    });
}

Season lengthened(const BoardPicture& picture, Date day, int minutes) {
    const BoardDay* d = picture.day(day);
    const BlockSession* s = d && d->open() ? d->ride() : nullptr;
    if (!s || !d->pin.words.empty())
        return picture.season;
    DayContent c = contentOf(*d);
    c.minutes = std::clamp((s->seconds / 60 + minutes + (minutes > 0 ? 0 : 4)) / 5 * 5, 15, 720);
    return holding(picture.season, day, c);
}

Season freed(const BoardPicture& picture, Date day) {
    return withSession(picture.season, day, [](SessionPin& p) { p.release(); });
}

Season weekPinned(const BoardPicture& picture, Date start) {
    Season s = picture.season;
    bool all = true;
    for (int i = 0; i < 7; ++i)
        if (const BoardDay* d = picture.day(start + i); d && d->open())
            all = all && d->pin.holds();
    for (int i = 0; i < 7; ++i)
        if (const BoardDay* d = picture.day(start + i); d && d->open()) {
            if (all) {
                s = withSession(s, d->date, [](SessionPin& p) { p.release(); });
            } else {
                DayContent c = contentOf(*d);
                if (const BlockSession* ride = d->ride()) // to the letter, as it was given out
                    c.words = writeShorthand(ride->session);
                s = holding(s, d->date, c);
            }
        }
    return s;
}

static std::optional<Date> firstRace(const BoardPicture& picture, Date start) {
    for (int i = 0; i < 7; ++i)
        if (const BoardDay* d = picture.day(start + i); d && !d->race.isEmpty())
            return d->date;
    return {};
}

Season raceWeek(const BoardPicture& picture, Date start, bool matters) {
    Season s = picture.season;
    const std::optional<Date> race = firstRace(picture, start);
    if (!race)
        return s;
    const auto put = [&](Date day, const char* family, std::optional<int> rung, int minutes,
                         const char* words = "") {
        if (const BoardDay* d = picture.day(day); d && d->open() && day < *race)
            s = holding(s, day, {family, words, "", rung, minutes});
    };
    put(start, "rest", {}, 0);
    if (matters) {
        put(start + 1, "endurance", {}, 60);
        put(start + 2, "threshold", {}, 60,
            "15 min 50 to 90, 2 × 5 min 95 with 5 min 50 between, 20 min 62, 10 min 50");
        put(start + 3, "endurance", {}, 45);
        put(start + 4, *race - start == 5 ? "openers" : "rest", {}, *race - start == 5 ? 45 : 0);
        if (*race - start == 6)
            put(start + 5, "openers", {}, 45);
    } else {
        put(start + 1, "threshold", 2, 75);
        put(start + 2, "endurance", {}, 60);
        put(start + 3, "endurance", {}, 45);
        put(start + 4, *race - start == 5 ? "endurance" : "rest", {}, *race - start == 5 ? 45 : 0);
        if (*race - start == 6)
            put(start + 5, "endurance", {}, 45);
    }
    return s;
}

Season layOffWeeks(const BoardPicture& picture, Date start) {
    Season s = picture.season;
    for (int week = 0; week < 4; ++week) {
        int ride = 0;
        for (int i = 0; i < 7; ++i) {
            const BoardDay* d = picture.day(start + 7 * week + i);
            if (!d || !d->open() || d->availableHours < 0.5)
                continue;
            ++ride;
            DayContent c;
            c.family = "endurance";
            const int most = static_cast<int>(60 * d->availableHours) / 5 * 5;
            c.minutes = std::min(most, 45 + 15 * week + (i >= 5 ? 30 : 0));
            // The second ride of the third week has drills, that of the fourth a first tempo.
            if (week == 2 && ride == 2 && most >= 60)
                c = {"endurance with drills", "", "", 1, std::max(60, *c.minutes)};
            if (week == 3 && ride == 2 && most >= 55)
                c = {"tempo",
                     "15 min 50 to 75, 2 × 8 min 80 with 2 min 50 between, 14 min 60, 8 min 50",
                     "",
                     {},
                     {}};
            s = holding(s, d->date, c);
        }
    }
    return s;
}

} // namespace marram
