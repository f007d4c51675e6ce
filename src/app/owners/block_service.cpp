// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/block_service.h"
#include "core/session/shorthand.h"
#include "records/done_rung.h"
#include "records/merge.h"
#include "store/ahead.h"
#include "store/block_basis.h"
#include "store/ride_reading.h"
#include "store/whole_season.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace marram {
namespace {

constexpr int laidBack = 112; ///< days before today that are laid over their rides
constexpr int keptAhead = 27; ///< days after the first whose sessions are kept as meant
constexpr int mostWeeks = 12;

/// Mean power of each so many recorded seconds as fractions of threshold; stops are left out.
std::vector<float> traceOf(const Ride& ride, double threshold, int step) {
    std::vector<float> trace;
    double sum = 0;
    int seconds = 0;
    for (const Stretch& s : ride.stretches)
        for (int i = s.begin; i < s.end; ++i) {
            const float p = ride.power[static_cast<size_t>(i)];
            sum += std::isnan(p) ? 0 : p;
            if (++seconds == step) {
                trace.push_back(static_cast<float>(sum / step / threshold));
                sum = seconds = 0;
            }
        }
    if (seconds > 0)
        trace.push_back(static_cast<float>(sum / seconds / threshold));
    return trace;
}

/// How hard a ride was over all, from what it cost, by whatever it was scored.
std::optional<double> intensityOf(const Score& score) {
    if (score.relativeIntensity)
        return score.relativeIntensity;
    if (!score.stress || score.duration <= 0)
        return std::nullopt;
    return std::sqrt(*score.stress / 100 / (score.duration / 3600.0));
}

} // namespace

bool BlockService::Asked::same(const Asked& other) const {
    return pins == other.pins && done == other.done && resting == other.resting && first == other.first &&
           last == other.last && book == other.book && days.size() == other.days.size() &&
           std::equal(days.begin(), days.end(), other.days.begin(),
                      [](const PlannedDay& a, const PlannedDay& b) {
                          return a.date == b.date && a.role == b.role && a.past == b.past &&
                                 std::abs(a.stress - b.stress) < 0.05 &&
                                 std::abs(a.hours - b.hours) < 0.005 && a.availableHours == b.availableHours;
                      });
}

BlockService::BlockService(OpenRoster& roster, ChosenRider& rider, PlanService& plans, Notices& notices,
                           Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), plans_(plans), notices_(notices), clock_(clock),
      from_(monday(clock.today())), thisWeek_(from_),
      book_(std::make_shared<FamilyBook>(FamilyBook::standard())),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }),
      laying_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&roster_, &OpenRoster::closing, this, &BlockService::forget);
    connect(&roster_, &OpenRoster::familiesChanged, this, [this] {
        book_ = std::make_shared<FamilyBook>(FamilyBook::standard().with(roster_.ownFamilies()));
        solve();
    });
    connect(&rider_, &ChosenRider::seasonChanged, this, &BlockService::followSeason);
    connect(&rider_, &ChosenRider::riderChanged, this, [this] {
        if (!rider_.choosing())
            solve();
    });
    connect(&rider_, &ChosenRider::settled, this, [this] {
        if (std::exchange(riderId_, rider_.id()) != rider_.id())
            from_ = monday(clock_.today()); // another rider's weeks begin with this one
        layOverRides();                     // first: a first answer waits for what was ridden
        follow();
    });
    connect(&rider_, &ChosenRider::ridesChanged, this, [this] {
        if (!rider_.choosing())
            layOverRides();
    });
    connect(&rider_, &ChosenRider::checkInsChanged, this, [this] {
        if (!rider_.choosing())
            solve();
    });
    connect(&plans_, &PlanService::planChanged, this, &BlockService::follow);
    connect(&clock_, &Clock::dayChanged, this, [this] {
        if (const Date now = monday(clock_.today()); from_ == std::exchange(thisWeek_, now))
            look(now, weeks_);
    });
}

void BlockService::forget() {
    work_.forget();
    laying_.end();
    block_.reset();
    unheard_ = false;
    asked_.reset();
    solved_.reset();
    decided_.reset();
    subject_ = 0;
    meant_.clear();
    laid_.clear();
}

void BlockService::look(Date start, int weeks) {
    const Date first = monday(start);
    const int count = std::clamp(weeks, 1, mostWeeks);
    if (first == from_ && count == weeks_)
        return;
    from_ = first;
    weeks_ = count;
    solve();
    emit blockChanged();
}

const BlockWeek* BlockService::weekOf(Date start) const {
    if (const SessionBlock* shown = block())
        for (const BlockWeek& w : shown->weeks)
            if (w.start == start)
                return &w;
    return nullptr;
}

const BlockSession* BlockService::sessionOn(Date day) const {
    // Where a day has gym and a ride, the ride is what is moved and changed.
    const BlockSession* found = nullptr;
    if (const BlockWeek* week = weekOf(monday(day)))
        for (const BlockSession& s : week->sessions)
            if (s.date == day && (!found || s.ridden()))
                found = &s;
    return found;
}

const MeantSession* BlockService::meantOn(Date day) const {
    const auto found = meant_.find(day);
    return found == meant_.end() ? nullptr : &found->second;
}

const LaidRide* BlockService::laidOn(Date day) const {
    const auto found = laid_.find(day);
    return found == laid_.end() ? nullptr : &found->second;
}

std::optional<RungVerdict> BlockService::verdictOn(Date day) const {
    return marram::verdictOn(rider_.season() ? &*rider_.season() : nullptr, day, meantOn(day));
}

std::optional<Again> BlockService::againOn(Date day) const {
    return sameAgain(day, meant_, *book_, [&](Date d) -> std::optional<AgainRide> {
        const MeantSession* meant = meantOn(d);
        const RideRecord* ride = rideOn(d);
        if (!meant || !ride || !meant->mark)
            return std::nullopt;
        const LoadState morning = rider_.history().before(d);
        return AgainRide{
            d, ride->id, meant->rung, *meant->mark, ride->effort, morning.fitness, morning.form()};
    });
}

void BlockService::followSeason() {
    loadMeant();
    const auto& now = plans_.decided();
    if (!now || !decided_)
        return;
    // What the coach pins changes no plan: the sessions need not wait for it. Anything else has another plan
    // first.
    Season pinned = *decided_;
    pinned.sessions = now->sessions;
    if (sameSeason(pinned, *now))
        follow();
}

void BlockService::follow() {
    if (!plans_.trying())
        solve();
}

std::optional<DoneRung> BlockService::rungDone(Date day, const MeantSession& m) const {
    const Family* family = book_->named(m.family);
    const auto verdict = verdictOn(day);
    if (!family || m.rung < 1 || static_cast<size_t>(m.rung) > family->work.size() || !verdict)
        return {};
    const Solved* solved = plans_.solved();
    const PlannedWeek* week = solved ? marram::weekOf(solved->plan, day) : nullptr;
    const Understood* words = understood(m.words, defaultLowThreshold);
    const Session& rung = family->work[static_cast<size_t>(m.rung) - 1];
    const Understood* whole = understood(writeShorthand(rung), defaultLowThreshold, &rung);
    if (!words || !whole)
        return {};
    return doneRung(m, *verdict, words->workSeconds, whole->workSeconds,
                    week ? std::optional(week->kind) : std::nullopt);
}

BlockBasis BlockService::basis() const {
    BlockBasis basis;
    const Date today = clock_.today();
    if (const RiderRecord* r = rider_.rider())
        basis =
            basisOf({*r, *book_, rider_.facts().illDays(), rider_.counted().points, rider_.tests()}, today);
    basis.book = book_.get();
    const RidesOfDays rides = ridesOfDays();
    for (const auto& [day, m] : meant_)
        if (day < today || rides.contains(day))
            if (const auto done = rungDone(day, m))
                basis.done.push_back(*done);
    return basis;
}

std::optional<Date> BlockService::touchedSince(const Asked& then, const Asked& now) {
    Asked before = then;
    if (now.days.size() < before.days.size())
        before.days = now.days;
    Asked alike = now;
    alike.days.resize(std::min(alike.days.size(), before.days.size()));
    alike.pins = before.pins;
    alike.last = before.last;
    if (!alike.same(before))
        return std::nullopt;
    Date touched = now.last > then.last ? then.last + 1 : now.last + 8;
    for (const auto* list : {&now.pins, &then.pins}) {
        const auto& other = list == &now.pins ? then.pins : now.pins;
        for (const SessionPin& p : *list)
            if (std::find(other.begin(), other.end(), p) == other.end())
                touched = std::min(touched, monday(p.date));
    }
    return touched;
}

void BlockService::solve() {
    const Solved* solved = plans_.solved();
    if (!rider_.rider() || !solved || !plans_.decided() || rider_.choosing()) {
        if (!rider_.rider() || !plans_.decided()) {
            work_.forget();
            if (std::exchange(block_, nullptr))
                emit blockChanged();
            asked_.reset();
            solved_.reset();
        }
        return;
    }
    const Season whole = rider_.facts().completed(*plans_.decided());
    const qint64 season = plans_.seasonId();
    if (unheard_ && subject_ != season)
        return; // asked again once they are heard
    const Date first = std::max(monday(clock_.today()), monday(whole.start));
    const Date last = std::max(from_ + 7 * weeks_ - 1, first + 27);
    BlockBasis on = basis();
    Asked now{whole.sessions, {}, on.done, {}, book_, first, last};
    for (const std::string& injury : on.injuries)
        now.resting += injury + "; ";
    for (const Date back : on.setBacks)
        now.resting += isoText(back) + "; ";
    now.resting += on.easyUntil ? isoText(*on.easyUntil) + on.easyWhy : "";
    for (const PlannedDay& d : solved->plan.days)
        if (d.date >= first && d.date <= last)
            now.days.push_back(d);
    const std::shared_ptr<const FamilyBook> book = book_;
    if (subject_ == season && block_ && solved_) {
        on.last = block_;
        on.touched = touchedSince(*solved_, now);
    }
    if (subject_ != season) // as it was when it was last looked at
        for (auto it = meant_.lower_bound(clock_.today()); it != meant_.end(); ++it)
            on.near[it->first] = {it->second.family, it->second.rung};
    if (asked_ && asked_->same(now) && askedFor_ == season && (work_.busy() || subject_ == season))
        return; // asked for already
    asked_ = now;
    decided_ = plans_.decided();
    askedFor_ = season;
    const Date planned = whole.past ? whole.past->today : whole.start;
    const int weeks = (last - first) / 7 + 1;
    const auto answer = std::make_shared<std::shared_ptr<const SessionBlock>>();
    work_.ask(
        [answer, whole, plan = solved->plan, first, weeks, on, book](Worker::Link&) {
            *answer = std::make_shared<const SessionBlock>(solveBlock(whole, plan, first, weeks, on));
        },
        [this, answer, season, now, planned] {
            if (!*answer || season != plans_.seasonId())
                return;
            subject_ = season;
            block_ = *answer;
            solved_ = now;
            keep(season, planned);
            emit blockChanged();
        });
}

void BlockService::keep(qint64 season, Date first) {
    if (plans_.alternative() != 0 || plans_.trying())
        return;
    std::vector<BlockSession> sessions;
    for (const BlockWeek& w : block_->weeks)
        for (const BlockSession& s : w.sessions)
            if (s.date >= first && s.date <= first + keptAhead)
                sessions.push_back(s);
    std::vector<MeantSession> now = promiseOf(sessions);
    std::vector<MeantSession> then;
    for (auto it = meant_.lower_bound(first); it != meant_.end(); ++it)
        then.push_back(it->second);
    if (now == then || !roster_.edits().keepMeant(season, first, now))
        return;
    meant_.erase(meant_.lower_bound(first), meant_.end());
    for (MeantSession& m : now)
        meant_[m.date] = std::move(m);
}

void BlockService::loadMeant() {
    meant_.clear();
    understood_.clear();
    if (rider_.id() != 0 && roster_.isOpen()) {
        Damage damage;
        if (auto all = roster_.file().meant(rider_.id(), &damage))
            for (MeantSession& m : *all)
                meant_[m.date] = std::move(m);
        else
            emit notices_.failed(QString::fromStdString(all.error().sentence));
        if (!damage.empty())
            emit notices_.failed(
                wording("Something of this roster is damaged: %1.", damage.sentences.join("; ")));
    }
    if (!rider_.choosing())
        layOverRides();
    emit laidChanged();
}

BlockService::RidesOfDays BlockService::ridesOfDays() const {
    RidesOfDays longest;
    for (const RideRecord& r : rider_.rides())
        if (!r.excluded)
            if (const RideRecord*& known = longest[r.day]; !known || r.score.duration > known->score.duration)
                known = &r;
    return longest;
}

const RideRecord* BlockService::rideOn(Date day) const {
    const RideRecord* longest = nullptr;
    for (const RideRecord& r : rider_.rides())
        if (r.day == day && !r.excluded && (!longest || r.score.duration > longest->score.duration))
            longest = &r;
    return longest;
}

const BlockService::Understood* BlockService::understood(const std::string& words, double lowThreshold,
                                                         const Session* known) const {
    const auto [place, fresh] = understood_.try_emplace({words, lowThreshold});
    if (fresh)
        if (auto session = known ? *known : readShorthand(words)) {
            const SessionFigures f = figuresOf(*session, lowThreshold);
            place->second = {std::move(*session), f.seconds, f.workSeconds, f.stress};
        }
    return place->second ? &*place->second : nullptr;
}

std::string BlockService::laidFrom(const RideRecord& ride, const MeantSession& meant) const {
    return ride.contentHash.toHex().left(16).toStdString() + "/" + std::to_string(ride.scoringVersion) + "/" +
           std::to_string(std::lround(ride.thresholdPower)) + "/" +
           std::to_string(ride.corrections.empty() ? 0 : std::lround(10 * ride.score.stress.value_or(0))) +
           "/" + std::to_string(std::hash<std::string>{}(meant.words) % 100000);
}

std::vector<BlockService::Pair> BlockService::pairsToLay(const RiderRecord& who) {
    const Date today = clock_.today();
    std::vector<std::pair<DayWork, DayWork>> works;
    std::vector<Pair> items;
    std::set<Date> there;
    const RidesOfDays rides = ridesOfDays();
    for (auto it = meant_.lower_bound(today - laidBack); it != meant_.end() && it->first <= today; ++it) {
        const auto ridden = rides.find(it->first);
        if (it->second.words.empty() || ridden == rides.end())
            continue;
        const RideRecord* ride = ridden->second;
        const double low = who.values.on(Quantity::LowThreshold, it->first).value_or(defaultLowThreshold);
        const Understood* session = understood(it->second.words, low);
        if (!session)
            continue;
        works.push_back({{session->seconds / 3600.0, session->stress},
                         {ride->score.duration / 3600.0, ride->score.stress}});
        there.insert(it->first);
        const std::string key = laidFrom(*ride, it->second);
        if (const auto have = laid_.find(it->first);
            have != laid_.end() && have->second.key == key && have->second.ride == ride->id)
            continue;
        items.push_back({it->first, *ride, it->second, session->session, low, key});
    }
    spread_ = spreadFromPlan(works);
    std::erase_if(laid_, [&](const auto& each) { return !there.contains(each.first); });
    std::sort(items.begin(), items.end(), [](const Pair& a, const Pair& b) { return a.day > b.day; });
    return items;
}

LaidRide BlockService::laidOver(const Pair& item, const Result<Ride>& ride, const PlanSpread& spread) {
    LaidRide laid;
    laid.ride = item.ride.id;
    laid.key = item.key;
    if (!ride) {
        laid.unread = ride.error().sentence;
        return laid;
    }
    laid.against = layOver(*ride, item.session, item.meant.family, {item.ride.thresholdPower},
                           item.lowThreshold, spread, intensityOf(item.ride.score));
    laid.mark = markOf(laid.against, *ride);
    if (ride->hasPower && item.ride.thresholdPower > 0)
        laid.trace = traceOf(*ride, item.ride.thresholdPower, laid.traceStep);
    return laid;
}

void BlockService::layOverRides() {
    const RiderRecord* who = rider_.rider();
    if (!who || !roster_.isOpen()) {
        laid_.clear();
        return;
    }
    const auto items = std::make_shared<const std::vector<Pair>>(pairsToLay(*who));
    const bool waited =
        std::exchange(unheard_, std::any_of(items->begin(), items->end(), [](const Pair& item) {
                          return item.meant.outcomeOf != item.key;
                      }));
    if (items->empty()) {
        laying_.forget();
        if (waited)
            follow();
        return;
    }
    const auto done = std::make_shared<std::map<Date, LaidRide>>();
    const auto work = [items, done, spread = spread_, path = roster_.path(),
                       writer = roster_.file().writer()](Worker::Link& link) {
        const auto file = Roster::open(path, writer);
        for (const Pair& item : *items) {
            if (link.cancelled())
                return;
            const auto ride = file ? rideOf(**file, item.ride) : tl::unexpected(file.error());
            (*done)[item.day] = laidOver(item, ride, spread);
        }
    };
    // What was being laid is overtaken, and not waited for.
    laying_.ask(work, [this, done, rider = rider_.id()] {
        if (rider == rider_.id())
            take(*done);
    });
}

void BlockService::take(std::map<Date, LaidRide>& done) {
    const bool first = std::exchange(unheard_, false);
    std::vector<MeantSession> told;
    for (auto& [day, laid] : done) {
        const auto meant = meant_.find(day);
        const RideRecord* ride = rideOn(day);
        // Rides and sessions may have changed meanwhile.
        if (meant == meant_.end() || !ride || laidFrom(*ride, meant->second) != laid.key)
            continue;
        if (!laid.unread && meant->second.outcomeOf != laid.key) {
            meant->second.outcome = laid.against.verdict;
            meant->second.outcomeOf = laid.key;
            meant->second.mark = laid.mark;
            meant->second.told.clear();
            // Where there is no ladder there is no rung to speak of.
            const Family* family = book_->named(meant->second.family);
            if (!family || family->work.size() < 2 || meant->second.rung < 1)
                laid.against.sentences.pop_back();
            for (const std::string& s : laid.against.sentences)
                meant->second.told += (meant->second.told.empty() ? "" : "\n") + s;
            told.push_back(meant->second);
        }
        laid_[day] = std::move(laid);
    }
    if (!told.empty())
        roster_.edits().keepOutcomes(rider_.id(), told);
    if (!told.empty() || first)
        follow();
    emit laidChanged();
}

} // namespace marram

#include "moc_block_service.cpp"
