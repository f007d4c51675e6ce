// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/edits.h"
#include "app/owners/open_roster.h"
#include "records/merge.h"
#include "store/exchange.h"
#include "wording/wording.h"

#include <algorithm>
#include <utility>

namespace marram {

Edits::Edits(OpenRoster& of) : of_(of), steps_(of.steps_), notices_(of.notices_), clock_(of.clock_) {}

Roster& Edits::file() const {
    return *of_.roster_;
}

void Edits::addRider(const QString& name) {
    auto rider = std::make_shared<RiderRecord>();
    rider->name = name;
    rider->hours = guessedHours;
    steps_.take(
        wording("Add a rider"),
        [this, rider] {
            const bool again = rider->id != 0;
            if (!of_.write([&]() -> Result<void> {
                    if (again)
                        return file().putRiderAside(rider->id, false);
                    const auto id = file().saveRider(*rider);
                    if (id)
                        rider->id = *id; // brought again it is the same rider, with what they had
                    return whether(id);
                }))
                return false;
            of_.tell({rider->id, {Part::All}});
            return true;
        },
        [this, rider] {
            if (!of_.write([&] { return file().putRiderAside(rider->id, true); }))
                return false;
            of_.tell({rider->id, {Part::All}});
            return true;
        });
}

bool Edits::applyRider(const RiderRecord& before, const RiderRecord& after) {
    bool rides = false;
    const bool done = of_.write([&]() -> Result<void> {
        const auto now = file().rider(after.id);
        if (!now)
            return tl::unexpected(now.error());
        if (!*now)
            return refuse(phrase("The rider is no longer in the roster."));
        const RiderRecord next = merged(**now, before, after);
        if (const auto id = file().saveRider(next); !id)
            return tl::unexpected(id.error());
        if (scoredAlike(**now, next))
            return {};
        // Just the days on which something else holds now, those that follow each other at once.
        const auto days = file().rideDays(after.id);
        if (!days)
            return tl::unexpected(days.error());
        for (auto from = days->begin(); from != days->end();) {
            const bool stale = !scoredAlike(**now, next, *from);
            const auto to =
                std::find_if(from, days->end(), [&](Date d) { return scoredAlike(**now, next, d) == stale; });
            if (stale) {
                rides = true;
                if (auto marked = file().markStale(after.id, *from, *(to - 1)); !marked)
                    return tl::unexpected(marked.error());
            }
            from = to;
        }
        return {};
    });
    if (done)
        of_.tell(rides ? Touched{after.id, {Part::Figures, Part::Stale}}
                       : Touched{after.id, {Part::Figures}});
    else
        emit of_.touched({after.id, {Part::Figures}}); // fields show what holds
    return done;
}

void Edits::editRider(const RiderRecord& before, const RiderRecord& after, const QString& what) {
    if (before == after)
        return;
    steps_.take(
        what, [this, before, after] { return applyRider(before, after); },
        [this, before, after] { return applyRider(after, before); });
}

void Edits::beginSeason(qint64 rider, const Season& season, const QString& what) {
    auto record = std::make_shared<SeasonRecord>();
    record->rider = rider;
    record->season = season;
    auto before = std::make_shared<std::optional<qint64>>();
    const Touched seasons{rider, {Part::Seasons}};
    steps_.take(
        what,
        [=, this] {
            const bool done = of_.write([&]() -> Result<void> {
                const auto now = file().seasonInForce(rider);
                if (!now)
                    return tl::unexpected(now.error());
                *before = *now ? std::optional((*now)->id) : std::nullopt;
                const auto id = file().saveSeason(*record);
                if (id)
                    record->id = *id;
                return whether(id);
            });
            emit of_.touched(seasons);
            return done;
        },
        [=, this] {
            const bool done = of_.write([&]() -> Result<void> {
                const auto now = file().season(record->id);
                if (!now)
                    return tl::unexpected(now.error());
                if (!*now)
                    return refuse(phrase("The season is no longer in the roster."));
                record->season = (*now)->season; // as it is when it goes is how it comes back
                if (auto gone = file().removeSeason(record->id); !gone || !*before)
                    return gone;
                auto old = file().season(**before);
                if (!old)
                    return tl::unexpected(old.error());
                if (!*old)
                    return {};
                (*old)->standing = SeasonStanding::InForce;
                const auto back = file().saveSeason(**old);
                return whether(back);
            });
            emit of_.touched(seasons);
            return done;
        });
}

void Edits::editSeason(qint64 season, const Season& before, const Season& after, const QString& what) {
    if (sameSeason(before, after))
        return;
    const auto apply = [this, season](const Season& from, const Season& to) {
        qint64 rider = 0;
        const bool done = of_.write([&]() -> Result<void> {
            auto now = file().season(season);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The season is no longer in the roster."));
            rider = (*now)->rider;
            (*now)->season = merged((*now)->season, from, to);
            const auto id = file().saveSeason(**now);
            return whether(id);
        });
        emit of_.touched({rider, {Part::Seasons}});
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

/// As it is when it goes is how it comes back.
static Result<void> takeAway(Roster& roster, SeasonRecord& season) {
    const auto now = roster.season(season.id);
    if (!now)
        return tl::unexpected(now.error()); // what can't be read is not removed
    if (*now)
        season = **now;
    return roster.removeSeason(season.id);
}

static Result<void> rename(Roster& roster, qint64 season, const QString& name) {
    auto now = roster.season(season);
    if (!now)
        return tl::unexpected(now.error());
    if (!*now)
        return refuse(phrase("The alternative is no longer in the roster."));
    (*now)->name = name;
    const auto id = roster.saveSeason(**now);
    return whether(id);
}

static Result<void> addSeason(Roster& roster, SeasonRecord& season) {
    const auto id = roster.saveSeason(season);
    if (id)
        season.id = *id;
    return whether(id);
}

void Edits::editAlternative(const std::optional<SeasonRecord>& before,
                            const std::optional<SeasonRecord>& after, const QString& what,
                            std::function<void(qint64)> stored) {
    const auto was = before ? std::make_shared<SeasonRecord>(*before) : nullptr;
    const auto is = after ? std::make_shared<SeasonRecord>(*after) : nullptr;
    const qint64 rider = after ? after->rider : before ? before->rider : 0;
    const auto apply = [this, rider](const std::shared_ptr<SeasonRecord>& from,
                                     const std::shared_ptr<SeasonRecord>& to) {
        const bool done = of_.write([&]() -> Result<void> {
            if (!to)
                return takeAway(file(), *from);
            return from ? rename(file(), from->id, to->name) : addSeason(file(), *to);
        });
        emit of_.touched({rider, {Part::Seasons}});
        return done;
    };
    steps_.take(
        what,
        [=, stored = std::move(stored)]() mutable {
            const bool done = apply(was, is);
            if (const auto tell = std::exchange(stored, nullptr); done && tell && is)
                tell(is->id); // the first time only
            return done;
        },
        [=] { return apply(is, was); });
}

void Edits::keepAlternative(qint64 inForce, qint64 alternative, const QString& what) {
    struct Kept {
        SeasonRecord was, taken; ///< the season in force before, and the alternative
    };
    const auto kept = std::make_shared<Kept>();
    const auto both = [this, inForce](const std::function<Result<void>(SeasonRecord&)>& work) {
        qint64 rider = 0;
        const bool done = of_.write([&]() -> Result<void> {
            auto now = file().season(inForce);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The season is no longer in the roster."));
            rider = (*now)->rider;
            return work(**now);
        });
        emit of_.touched({rider, {Part::Seasons}});
        return done;
    };
    const auto save = [this](const SeasonRecord& record) -> Result<void> {
        const auto id = file().saveSeason(record);
        return whether(id);
    };
    steps_.take(
        what,
        [=, this] {
            return both([&](SeasonRecord& now) -> Result<void> {
                auto taken = file().season(alternative);
                if (!taken)
                    return tl::unexpected(taken.error());
                if (!*taken)
                    return refuse(phrase("The alternative is no longer in the roster."));
                *kept = {now, **taken};
                now.season = kept->taken.season;
                if (auto ok = save(now); !ok)
                    return ok;
                return file().removeSeason(alternative);
            });
        },
        [=, this] {
            return both([&](SeasonRecord& now) -> Result<void> {
                now.season = merged(now.season, kept->taken.season, kept->was.season);
                if (auto ok = save(now); !ok)
                    return ok;
                return save(kept->taken);
            });
        });
}

bool Edits::keep(std::function<Result<void>()> write, std::function<void()> kept) {
    if (!of_.isOpen() || of_.readOnly())
        return false;
    auto done = std::make_shared<bool>(true); // also while it waits for its turn
    steps_.inTurn([this, write = std::move(write), kept = std::move(kept), done] {
        *done = notices_.passed(file().together(write));
        if (*done && kept)
            kept();
    });
    return *done;
}

bool Edits::keepPlan(qint64 season, Date from, const std::vector<SolvedDay>& days,
                     const std::vector<Outlook>& outlook) {
    return keep(
        [=, this, today = clock_.today()]() -> Result<void> {
            if (const auto there = file().season(season); !there || !*there)
                return whether(there); // gone while this waited
            if (auto ok = file().savePlannedDays(season, from, days); !ok)
                return ok;
            return file().saveOutlook(season, today, outlook);
        },
        [=, this] { emit of_.planKept(season); });
}

bool Edits::keepMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions) {
    return keep(
        [=, this]() -> Result<void> {
            if (const auto there = file().season(season); !there || !*there)
                return whether(there);
            return file().saveMeant(season, from, sessions);
        },
        [=, this] { emit of_.planKept(season); });
}

bool Edits::keepOutcomes(qint64 rider, const std::vector<MeantSession>& sessions) {
    return keep([=, this] { return file().saveOutcomes(rider, sessions); });
}

bool Edits::keepHeard(qint64 rider, const KeptHearing& heard) {
    return keep([=, this] { return file().saveHeard(rider, heard); },
                [=, this] { emit of_.heardKept(rider); });
}

void Edits::editFamilies(const std::vector<Family>& before, const std::vector<Family>& after,
                         const QString& what) {
    // Family by family, so that another window's stay.
    const auto apply = [this](const std::vector<Family>& from, const std::vector<Family>& to) {
        const auto named = [](const std::vector<Family>& all, const std::string& name) {
            return std::find_if(all.begin(), all.end(), [&](const Family& f) { return f.name == name; });
        };
        const bool done = of_.write([&]() -> Result<void> {
            auto now = file().ownFamilies();
            if (!now)
                return tl::unexpected(now.error());
            for (const Family& f : from)
                if (named(to, f.name) == to.end())
                    std::erase_if(*now, [&](const Family& n) { return n.name == f.name; });
            for (const Family& f : to) {
                const auto was = named(from, f.name);
                if (was != from.end() && *was == f)
                    continue;
                const auto there =
                    std::find_if(now->begin(), now->end(), [&](const Family& n) { return n.name == f.name; });
                if (there == now->end())
                    now->push_back(f);
                else
                    *there = was != from.end() ? merged(*there, *was, f) : f;
            }
            if (now->size() > mostOwnFamilies)
                return refuse(phrase("A roster holds at most %1 families of a coach's own.",
                                     std::to_string(mostOwnFamilies)));
            return file().saveOwnFamilies(*now);
        });
        of_.loadFamilies();
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

bool Edits::applyTest(qint64 rider, const std::optional<TestRecord>& before,
                      std::shared_ptr<TestRecord> after) {
    const bool done = of_.write([&]() -> Result<void> {
        if (!after)
            return before ? file().removeTest(before->id) : Result<void>{};
        after->rider = rider;
        if (before) {
            // What another window changed of it meanwhile stays.
            const auto all = file().tests(rider);
            if (!all)
                return tl::unexpected(all.error());
            const auto now = std::find_if(all->begin(), all->end(),
                                          [&](const TestRecord& t) { return t.id == before->id; });
            if (now == all->end())
                return refuse(phrase("The test is no longer in the roster."));
            const auto id = file().saveTest(merged(*now, *before, *after));
            return whether(id);
        }
        const auto id = file().saveTest(*after);
        if (id)
            after->id = *id; // undone and done again it is the same test
        return whether(id);
    });
    emit of_.touched({rider, {Part::Tests}});
    return done;
}

void Edits::editTest(qint64 rider, const std::optional<TestRecord>& before,
                     const std::optional<TestRecord>& after, const QString& what) {
    if (rider == 0 || before == after)
        return;
    const auto was = before ? std::make_shared<TestRecord>(*before) : nullptr;
    const auto is = after ? std::make_shared<TestRecord>(*after) : nullptr;
    const auto valueOf = [](const std::shared_ptr<TestRecord>& t) {
        return t ? std::optional(*t) : std::nullopt;
    };
    steps_.take(
        what, [=, this] { return applyTest(rider, valueOf(was), is); },
        [=, this] { return applyTest(rider, valueOf(is), was); });
}

bool Edits::applyCheckIns(const std::vector<CheckInEdit>& edits, bool forward) {
    const bool done = of_.write([&]() -> Result<void> {
        for (const CheckInEdit& e : edits) {
            const CheckIn &from = forward ? e.before : e.after, &to = forward ? e.after : e.before;
            auto now = file().checkIn(e.rider, to.day);
            if (!now)
                return tl::unexpected(now.error());
            CheckIn none;
            none.day = to.day;
            if (auto ok = file().saveCheckIn(e.rider, merged(now->value_or(none), from, to)); !ok)
                return ok;
        }
        return {};
    });
    const bool one = edits.size() == 1;
    emit of_.touched({one ? edits.front().rider : 0, {Part::CheckIns}});
    return done;
}

void Edits::editCheckIns(const std::vector<CheckInEdit>& edits, const QString& what) {
    std::vector<CheckInEdit> changes = edits;
    std::erase_if(changes, [](const CheckInEdit& e) { return e.before == e.after; });
    if (changes.empty())
        return;
    steps_.take(
        what, [this, changes] { return applyCheckIns(changes, true); },
        [this, changes] { return applyCheckIns(changes, false); });
}

void Edits::editLetter(qint64 rider, Date week, const QString& before, const QString& after) {
    if (before == after)
        return;
    const auto apply = [this, rider, week](const QString& words) {
        const bool done = of_.write([&] { return file().saveLetter(rider, week, words); });
        emit of_.touched({rider, {Part::Letters}});
        return done;
    };
    steps_.take(
        wording("Change the words of a letter"), [=] { return apply(after); }, [=] { return apply(before); });
}

void Edits::editNoted(qint64 rider, const std::string& code, const std::optional<NotedCaution>& before,
                      const std::optional<NotedCaution>& after) {
    const auto apply = [this, rider, code](const std::optional<NotedCaution>& noted) {
        const bool done = of_.write([&] { return file().saveNoted(rider, code, noted); });
        emit of_.touched({rider, {Part::Noted}});
        return done;
    };
    steps_.take(
        after ? wording("Note a caution") : wording("Take a note back"), [=] { return apply(after); },
        [=] { return apply(before); });
}

} // namespace marram
