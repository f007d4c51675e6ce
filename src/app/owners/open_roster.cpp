// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/open_roster.h"
#include "records/merge.h"
#include "store/exchange.h"
#include "wording/wording.h"

#include <algorithm>
#include <utility>

namespace marram {

OpenRoster::OpenRoster(Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), notices_(notices), clock_(clock),
      jobs_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    poll_.setInterval(1500);
    after_.setSingleShot(true);
    after_.setInterval(20000);
    connect(&after_, &QTimer::timeout, this, &OpenRoster::lookAfter);
    connect(&poll_, &QTimer::timeout, this, &OpenRoster::lookForOthers);
    steps_.writeWith([this] { return !roster_ || roster_->claim(); },
                     [this] {
                         if (roster_)
                             roster_->letGo();
                     });
    connect(&steps_, &Steps::held, this, [this] {
        emit notices_.said(
            jobs_.running(JobKind::Bring)
                ? wording("Riders are being brought in; what you change is kept as soon as that is done.")
                : wording("Another programme is writing to the roster; what you change is kept as "
                          "soon as it has done."));
    });
}

OpenRoster::~OpenRoster() {
    jobs_.endAll();
}

bool OpenRoster::readOnly() const {
    return roster_ && roster_->readOnly();
}

QString OpenRoster::path() const {
    return roster_ ? roster_->path() : QString();
}

bool OpenRoster::open(const QString& path) {
    return take(Roster::open(path));
}

bool OpenRoster::create(const QString& path) {
    return take(Roster::create(path));
}

bool OpenRoster::take(Result<std::unique_ptr<Roster>> roster) {
    if (!roster) {
        emit notices_.failed(QString::fromStdString(roster.error().sentence));
        return false;
    }
    close();
    roster_ = std::move(*roster);
    seen_ = roster_->newestChange().value_or(0);
    lost_ = false;
    poll_.start();
    if (!readOnly())
        after_.start();
    loadRiders();
    loadFamilies();
    emit opened();
    emit ridersChanged();
    if (readOnly())
        emit notices_.said(
            wording("The roster is read-only here: it can be looked at, and nothing is kept."));
    return true;
}

void OpenRoster::close() {
    if (!roster_)
        return;
    emit leaving(); // what is being typed is kept first
    steps_.takeWaiting();
    if (steps_.waiting()) {
        jobs_.endAll(); // what they write is what it waits for
        steps_.takeAll();
    }
    poll_.stop();
    after_.stop();
    lost_ = false;
    emit closing();
    jobs_.endAll();
    if (question_)
        emit questionWithdrawn();
    question_.reset();
    scoringLeft_ = scoringTotal_ = 0;
    steps_.clear();
    roster_.reset();
    riders_.clear();
    families_.clear();
    emit opened();
    emit ridersChanged();
    emit scoringProgress(0);
}

bool OpenRoster::loadRiders() {
    Damage damage;
    auto riders = roster_->riders(&damage);
    if (!riders)
        return notices_.passed(tl::unexpected(riders.error()));
    riders_ = std::move(*riders);
    if (!damage.empty())
        emit damageFound(damage);
    return true;
}

const RiderRecord* OpenRoster::rider(qint64 id) const {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == id; });
    return found == riders_.end() ? nullptr : &*found;
}

void OpenRoster::lookForOthers() {
    if (!roster_ || !ours())
        return;
    if (!jobs_.running(JobKind::Import))
        roster_->settle();
    const auto others = roster_->othersWrote(seen_);
    if (!others || !*others)
        return; // a file that is locked now is looked at again in a moment
    loadRiders();
    loadFamilies();
    emit ridersChanged();
    emit touched({0, {Part::All}, By::Others});
    emit notices_.said(wording("The roster was changed in another window; this is how it stands now."));
}

bool OpenRoster::write(const Work& work) {
    if (!roster_) {
        emit notices_.failed(wording("No roster is open. Open one, or make one, first."));
        return false;
    }
    if (!ours()) {
        steps_.lost();
        emit notices_.failed(
            wording("%1. What you change is kept until all of it is saved elsewhere, under File.", lostWhy_));
        return false;
    }
    // What another window wrote shows before the edit does, so that neither hides the other.
    lookForOthers();
    return notices_.edited(roster_->together(work));
}

void OpenRoster::tell(const Touched& what) {
    if (what.has(Part::Figures)) {
        loadRiders();
        emit ridersChanged();
    }
    emit touched(what);
}

void OpenRoster::addRider(const QString& name) {
    auto rider = std::make_shared<RiderRecord>();
    rider->name = name;
    rider->hours = guessedHours;
    steps_.take(
        wording("Add a rider"),
        [this, rider] {
            const bool again = rider->id != 0;
            if (!write([&]() -> Result<void> {
                    if (again)
                        return roster_->putRiderAside(rider->id, false);
                    const auto id = roster_->saveRider(*rider);
                    if (id)
                        rider->id = *id; // brought again it is the same rider, with what they had
                    return id ? Result<void>{} : tl::unexpected(id.error());
                }))
                return false;
            tell({rider->id, {Part::All}});
            return true;
        },
        [this, rider] {
            if (!write([&] { return roster_->putRiderAside(rider->id, true); }))
                return false;
            tell({rider->id, {Part::All}});
            return true;
        });
}

bool OpenRoster::applyRider(const RiderRecord& before, const RiderRecord& after) {
    bool rides = false;
    const bool done = write([&]() -> Result<void> {
        const auto now = roster_->rider(after.id);
        if (!now)
            return tl::unexpected(now.error());
        if (!*now)
            return refuse(phrase("The rider is no longer in the roster."));
        const RiderRecord next = merged(**now, before, after);
        if (const auto id = roster_->saveRider(next); !id)
            return tl::unexpected(id.error());
        if (scoredAlike(**now, next))
            return {};
        // Just the days on which something else holds now, those that follow each other at once.
        const auto days = roster_->rideDays(after.id);
        if (!days)
            return tl::unexpected(days.error());
        for (auto from = days->begin(); from != days->end();) {
            const bool stale = !scoredAlike(**now, next, *from);
            const auto to =
                std::find_if(from, days->end(), [&](Date d) { return scoredAlike(**now, next, d) == stale; });
            if (stale) {
                rides = true;
                if (auto marked = roster_->markStale(after.id, *from, *(to - 1)); !marked)
                    return tl::unexpected(marked.error());
            }
            from = to;
        }
        return {};
    });
    if (done)
        tell(rides ? Touched{after.id, {Part::Figures, Part::Rides}} : Touched{after.id, {Part::Figures}});
    else
        emit touched({after.id, {Part::Figures}}); // fields show what holds
    return done;
}

void OpenRoster::editRider(const RiderRecord& before, const RiderRecord& after, const QString& what) {
    if (before == after)
        return;
    steps_.take(
        what, [this, before, after] { return applyRider(before, after); },
        [this, before, after] { return applyRider(after, before); });
}

void OpenRoster::beginSeason(qint64 rider, const Season& season, const QString& what) {
    auto record = std::make_shared<SeasonRecord>();
    record->rider = rider;
    record->season = season;
    auto before = std::make_shared<std::optional<qint64>>();
    const Touched seasons{rider, {Part::Seasons}};
    steps_.take(
        what,
        [=, this] {
            const bool done = write([&]() -> Result<void> {
                const auto now = roster_->seasonInForce(rider);
                if (!now)
                    return tl::unexpected(now.error());
                *before = *now ? std::optional((*now)->id) : std::nullopt;
                const auto id = roster_->saveSeason(*record);
                if (id)
                    record->id = *id;
                return id ? Result<void>{} : tl::unexpected(id.error());
            });
            emit touched(seasons);
            return done;
        },
        [=, this] {
            const bool done = write([&]() -> Result<void> {
                const auto now = roster_->season(record->id);
                if (!now)
                    return tl::unexpected(now.error());
                if (!*now)
                    return refuse(phrase("The season is no longer in the roster."));
                record->season = (*now)->season; // as it is when it goes is how it comes back
                if (auto gone = roster_->removeSeason(record->id); !gone || !*before)
                    return gone;
                auto old = roster_->season(**before);
                if (!old)
                    return tl::unexpected(old.error());
                if (!*old)
                    return {};
                (*old)->standing = SeasonStanding::InForce;
                const auto back = roster_->saveSeason(**old);
                return back ? Result<void>{} : tl::unexpected(back.error());
            });
            emit touched(seasons);
            return done;
        });
}

void OpenRoster::editSeason(qint64 season, const Season& before, const Season& after, const QString& what) {
    if (sameSeason(before, after))
        return;
    const auto apply = [this, season](const Season& from, const Season& to) {
        qint64 rider = 0;
        const bool done = write([&]() -> Result<void> {
            auto now = roster_->season(season);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The season is no longer in the roster."));
            rider = (*now)->rider;
            (*now)->season = merged((*now)->season, from, to);
            const auto id = roster_->saveSeason(**now);
            return id ? Result<void>{} : tl::unexpected(id.error());
        });
        emit touched({rider, {Part::Seasons}});
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

void OpenRoster::editAlternative(const std::optional<SeasonRecord>& before,
                                 const std::optional<SeasonRecord>& after, const QString& what,
                                 std::function<void(qint64)> stored) {
    const auto was = before ? std::make_shared<SeasonRecord>(*before) : nullptr;
    const auto is = after ? std::make_shared<SeasonRecord>(*after) : nullptr;
    const qint64 rider = after ? after->rider : before ? before->rider : 0;
    const auto apply = [this, rider](const std::shared_ptr<SeasonRecord>& from,
                                     const std::shared_ptr<SeasonRecord>& to) {
        const bool done = write([&]() -> Result<void> {
            if (!to) {
                // As it is when it goes is how it comes back.
                const auto now = roster_->season(from->id);
                if (!now)
                    return tl::unexpected(now.error()); // what can't be read is not removed
                if (*now)
                    *from = **now;
                return roster_->removeSeason(from->id);
            }
            if (from) {
                auto now = roster_->season(from->id);
                if (!now)
                    return tl::unexpected(now.error());
                if (!*now)
                    return refuse(phrase("The alternative is no longer in the roster."));
                (*now)->name = to->name;
                const auto id = roster_->saveSeason(**now);
                return id ? Result<void>{} : tl::unexpected(id.error());
            }
            const auto id = roster_->saveSeason(*to);
            if (id)
                to->id = *id;
            return id ? Result<void>{} : tl::unexpected(id.error());
        });
        emit touched({rider, {Part::Seasons}});
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

void OpenRoster::keepAlternative(qint64 inForce, qint64 alternative, const QString& what) {
    struct Kept {
        SeasonRecord was, taken; ///< the season in force before, and the alternative
    };
    const auto kept = std::make_shared<Kept>();
    const auto both = [this, inForce](const std::function<Result<void>(SeasonRecord&)>& work) {
        qint64 rider = 0;
        const bool done = write([&]() -> Result<void> {
            auto now = roster_->season(inForce);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The season is no longer in the roster."));
            rider = (*now)->rider;
            return work(**now);
        });
        emit touched({rider, {Part::Seasons}});
        return done;
    };
    const auto save = [this](const SeasonRecord& record) -> Result<void> {
        const auto id = roster_->saveSeason(record);
        return id ? Result<void>{} : tl::unexpected(id.error());
    };
    steps_.take(
        what,
        [=, this] {
            return both([&](SeasonRecord& now) -> Result<void> {
                auto taken = roster_->season(alternative);
                if (!taken)
                    return tl::unexpected(taken.error());
                if (!*taken)
                    return refuse(phrase("The alternative is no longer in the roster."));
                *kept = {now, **taken};
                now.season = kept->taken.season;
                if (auto ok = save(now); !ok)
                    return ok;
                return roster_->removeSeason(alternative);
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

bool OpenRoster::keep(std::function<Result<void>()> write, std::function<void()> kept) {
    if (!roster_ || readOnly())
        return false;
    auto done = std::make_shared<bool>(true); // also while it waits for its turn
    steps_.inTurn([this, write = std::move(write), kept = std::move(kept), done] {
        *done = notices_.passed(roster_->together(write));
        if (*done && kept)
            kept();
    });
    return *done;
}

bool OpenRoster::keepPlan(qint64 season, Date from, const std::vector<SolvedDay>& days,
                          const std::vector<Outlook>& outlook) {
    return keep(
        [=, this, today = clock_.today()]() -> Result<void> {
            if (const auto there = roster_->season(season); !there || !*there)
                return there ? Result<void>{} : tl::unexpected(there.error()); // gone while this waited
            if (auto ok = roster_->savePlannedDays(season, from, days); !ok)
                return ok;
            return roster_->saveOutlook(season, today, outlook);
        },
        [=, this] { emit planKept(season); });
}

bool OpenRoster::keepMeant(qint64 season, Date from, const std::vector<MeantSession>& sessions) {
    return keep(
        [=, this]() -> Result<void> {
            if (const auto there = roster_->season(season); !there || !*there)
                return there ? Result<void>{} : tl::unexpected(there.error());
            return roster_->saveMeant(season, from, sessions);
        },
        [=, this] { emit planKept(season); });
}

bool OpenRoster::keepOutcomes(qint64 rider, const std::vector<MeantSession>& sessions) {
    return keep([=, this] { return roster_->saveOutcomes(rider, sessions); });
}

bool OpenRoster::keepHeard(qint64 rider, const KeptHearing& heard) {
    return keep([=, this] { return roster_->saveHeard(rider, heard); }, [=, this] { emit heardKept(rider); });
}

void OpenRoster::loadFamilies() {
    Damage damage;
    if (auto all = roster_->ownFamilies(&damage))
        families_ = std::move(*all);
    else
        emit notices_.failed(QString::fromStdString(all.error().sentence));
    if (!damage.empty())
        emit notices_.failed(
            wording("Something of this roster is damaged: %1.", damage.sentences.join("; ")));
    emit familiesChanged();
}

void OpenRoster::editFamilies(const std::vector<Family>& before, const std::vector<Family>& after,
                              const QString& what) {
    // Family by family, so that another window's stay.
    const auto apply = [this](const std::vector<Family>& from, const std::vector<Family>& to) {
        const auto named = [](const std::vector<Family>& all, const std::string& name) {
            return std::find_if(all.begin(), all.end(), [&](const Family& f) { return f.name == name; });
        };
        const bool done = write([&]() -> Result<void> {
            auto now = roster_->ownFamilies();
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
            return roster_->saveOwnFamilies(*now);
        });
        loadFamilies();
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

bool OpenRoster::applyTest(qint64 rider, const std::optional<TestRecord>& before,
                           std::shared_ptr<TestRecord> after) {
    const bool done = write([&]() -> Result<void> {
        if (!after)
            return before ? roster_->removeTest(before->id) : Result<void>{};
        after->rider = rider;
        if (before) {
            // What another window changed of it meanwhile stays.
            const auto all = roster_->tests(rider);
            if (!all)
                return tl::unexpected(all.error());
            const auto now = std::find_if(all->begin(), all->end(),
                                          [&](const TestRecord& t) { return t.id == before->id; });
            if (now == all->end())
                return refuse(phrase("The test is no longer in the roster."));
            const auto id = roster_->saveTest(merged(*now, *before, *after));
            return id ? Result<void>{} : tl::unexpected(id.error());
        }
        const auto id = roster_->saveTest(*after);
        if (id)
            after->id = *id; // undone and done again it is the same test
        return id ? Result<void>{} : tl::unexpected(id.error());
    });
    emit touched({rider, {Part::Tests}});
    return done;
}

void OpenRoster::editTest(qint64 rider, const std::optional<TestRecord>& before,
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

bool OpenRoster::applyCheckIns(const std::vector<CheckInEdit>& edits, bool forward) {
    const bool done = write([&]() -> Result<void> {
        for (const CheckInEdit& e : edits) {
            const CheckIn &from = forward ? e.before : e.after, &to = forward ? e.after : e.before;
            auto now = roster_->checkIn(e.rider, to.day);
            if (!now)
                return tl::unexpected(now.error());
            CheckIn none;
            none.day = to.day;
            if (auto ok = roster_->saveCheckIn(e.rider, merged(now->value_or(none), from, to)); !ok)
                return ok;
        }
        return {};
    });
    const bool one = edits.size() == 1;
    emit touched({one ? edits.front().rider : 0, {Part::CheckIns}});
    return done;
}

void OpenRoster::editCheckIns(const std::vector<CheckInEdit>& edits, const QString& what) {
    std::vector<CheckInEdit> changes = edits;
    std::erase_if(changes, [](const CheckInEdit& e) { return e.before == e.after; });
    if (changes.empty())
        return;
    steps_.take(
        what, [this, changes] { return applyCheckIns(changes, true); },
        [this, changes] { return applyCheckIns(changes, false); });
}

void OpenRoster::editLetter(qint64 rider, Date week, const QString& before, const QString& after) {
    if (before == after)
        return;
    const auto apply = [this, rider, week](const QString& words) {
        const bool done = write([&] { return roster_->saveLetter(rider, week, words); });
        emit touched({rider, {Part::Letters}});
        return done;
    };
    steps_.take(
        wording("Change the words of a letter"), [=] { return apply(after); }, [=] { return apply(before); });
}

void OpenRoster::editNoted(qint64 rider, const std::string& code, const std::optional<NotedCaution>& before,
                           const std::optional<NotedCaution>& after) {
    const auto apply = [this, rider, code](const std::optional<NotedCaution>& noted) {
        const bool done = write([&] { return roster_->saveNoted(rider, code, noted); });
        emit touched({rider, {Part::Noted}});
        return done;
    };
    steps_.take(
        after ? wording("Note a caution") : wording("Take a note back"), [=] { return apply(after); },
        [=] { return apply(before); });
}

std::optional<CheckIn> OpenRoster::checkInOn(qint64 rider, Date day) const {
    if (!roster_)
        return std::nullopt;
    const auto found = roster_->checkIn(rider, day);
    if (!found)
        emit notices_.failed(QString::fromStdString(found.error().sentence));
    return found ? *found : std::nullopt;
}

} // namespace marram

#include "moc_open_roster.cpp"
