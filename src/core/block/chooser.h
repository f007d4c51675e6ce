// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/choosing.h"
#include "core/block/sprints_and_drills.h"

#include <algorithm>
#include <map>
#include <set>

namespace marram {

/// The beam over the weeks behind chooseSessions().
class Chooser {
public:
    Chooser(const Season& season, const std::vector<WeekProblem>& weeks, const BlockBasis& basis)
        : low_(season.lowThreshold), power_(season.thresholdPower), weeks_(weeks), basis_(basis),
          all_(basis.book->all()) {
        weighRungs(season);
        State first;
        standOn(season, first);
        // Tempo in the long ride goes on from the last one: where that was not finished, not beyond it.
        if (const int f = indexOf("long ride"); f >= 0 && first.at[static_cast<size_t>(f)].rung >= 0) {
            const LadderStanding& s = first.at[static_cast<size_t>(f)];
            first.tempoReached =
                std::max(600, rungs_[static_cast<size_t>(f)][static_cast<size_t>(s.rung)].seconds -
                                  (s.finished ? 0 : 600));
        }
        const double fitness = weeks.empty() ? season.before.fitness : weeks.front().fitness;
        const bool fromNothing = comesFromNothing(season);
        newest_ = fromNothing ? 0 : fitness < 40 ? 1 : 2;
        tempoUntil_ = season.start + (fromNothing ? oneHardDayUntil : 0);
        while (firstBuild_ < static_cast<int>(weeks.size()) &&
               isLight(weeks[static_cast<size_t>(firstBuild_)]))
            ++firstBuild_;
        anyDone_ = !basis.done.empty();
        remember();
        first_ = first;
        beam_.push_back(first);
    }

    std::vector<WeekChoice> run() {
        for (size_t w = 0; w < weeks_.size(); ++w)
            step(w);
        const State& best = *std::min_element(beam_.begin(), beam_.end(),
                                              [](const State& a, const State& b) { return a.cost < b.cost; });
        std::vector<WeekChoice> all;
        for (size_t w = 0; w < weeks_.size(); ++w)
            all.push_back(choiceOf(w, best));
        const auto before = [&](const char* family) {
            return first_.at[static_cast<size_t>(indexOf(family))];
        };
        placeSprintsAndDrills(all, weeks_, basis_, low_, before("sprints"), before("endurance with drills"),
                              [this](size_t w) { return stays(w); });
        return all;
    }

private:
    /// What each rung of each family is, as it is ridden.
    void weighRungs(const Season& season) {
        for (const Family& family : all_) {
            std::vector<Work> rungs;
            constexpr double mostHigh = 3600; // s
            for (size_t r = 0; r < family.rungs.size(); ++r) {
                const Session whole =
                    family.name == "race pace" ? racePace(season, weeks_, r) : overLow(rungOf(family, r));
                rungs.push_back(bent(whole));
                // With a repetition fewer where it has more high time than a day holds; the coach's own as it
                // is written.
                if (!family.own && rungs.back().purpose.high > mostHigh)
                    rungs.back() = bent(lighter(whole, Lighter::OneFewer));
            }
            rungs_.push_back(std::move(rungs));
        }
    }

    /// Where the rider stands on each ladder, from what was done.
    void standOn(const Season& season, State& first) {
        std::array<Date, familyCount> lastDay{};
        for (const DoneRung& d : basis_.done) {
            const int f = indexOf(d.family);
            if (f < 0 || rungs_[static_cast<size_t>(f)].empty())
                continue;
            LadderStanding& s = first.at[static_cast<size_t>(f)];
            const int rung =
                std::clamp(d.rung - 1, 0, static_cast<int>(rungs_[static_cast<size_t>(f)].size()) - 1);
            s.finished = true;
            // A rung ridden again below what was reached lately, on a short day or a light one, takes nothing
            // away.
            constexpr int lately = 28;
            const bool below = d.finished && rung < s.rung &&
                               d.date - lastDay[static_cast<size_t>(f)] <= lately &&
                               !wasOff(season, basis_, lastDay[static_cast<size_t>(f)], d.date);
            lastDay[static_cast<size_t>(f)] = d.date;
            s.ride(rung, 0, below, weeks_.empty() ? -1 : (d.date - weeks_.front().start - 6) / 7);
            s.finished = d.finished;
            shown_ = std::max(shown_, rungs_[static_cast<size_t>(f)][static_cast<size_t>(rung)].seconds);
        }
        // Two rungs down after each illness or week off since a family was last ridden.
        for (const Date back : basis_.setBacks) {
            std::vector<bool> since(familyCount);
            for (const DoneRung& d : basis_.done)
                if (const int f = indexOf(d.family); f >= 0 && d.date >= back)
                    since[static_cast<size_t>(f)] = true;
            for (size_t f = 0; f < familyCount; ++f)
                if (!since[f])
                    first.at[f].fall();
        }
    }

    int indexOf(std::string_view name) const {
        for (size_t i = 0; i < all_.size() && i < familyCount; ++i)
            if (name == all_[i].name)
                return static_cast<int>(i);
        return -1;
    }

    /// Whether illness or a week off lay between two days.
    static bool wasOff(const Season& season, const BlockBasis& basis, Date from, Date to) {
        constexpr int weekOff = 7;
        return std::any_of(basis.setBacks.begin(), basis.setBacks.end(),
                           [&](Date back) { return back > from && back <= to; }) ||
               std::any_of(season.away.begin(), season.away.end(), [&](const Away& a) {
                   return a.why != AwayWhy::Camp && a.to - a.from + 1 >= weekOff && a.to >= from &&
                          a.from <= to;
               });
    }
    /// How long a day's ride may be for what is in it: what the day has, and not much over what it is planned
    /// to take.
    static int room(const DaySlot& day) { return std::min(day.available, static_cast<int>(day.hours) + 900); }

    static bool isLight(const WeekProblem& week) {
        return week.kind != WeekKind::Build && week.kind != WeekKind::Camp;
    }
    /// How a rung may be eased in a lighter week: half of it in the week of a race, before that and in a
    /// deload a repetition fewer or half, as the week's points ask (common practice).
    static std::vector<Lighter> waysToEase(const WeekProblem& week) {
        if (week.kind == WeekKind::Race)
            return {Lighter::Half};
        if (week.kind == WeekKind::Taper || week.kind == WeekKind::Deload)
            return {Lighter::OneFewer, Lighter::Half};
        return {Lighter::OneFewer};
    }

    /// Tempo of a rider whose low threshold is high lies over it still, up to 86 % of threshold.
    static int tempoOver(double low) {
        return std::clamp(static_cast<int>(std::ceil(100 * low + 1 - 1e-9)), 80, 86);
    }
    Session overLow(const Session& rung) const {
        constexpr double tempoFrom = 0.79;
        double target = 1;
        eachStep(rung.items, [&](const Step& step) {
            if (meanTarget(step) > defaultLowThreshold + 1e-9)
                target = std::min(target, meanTarget(step));
        });
        const double least = tempoOver(low_) / 100.0;
        return target < tempoFrom || target > least - 0.005
                   ? rung
                   : withPowerMoved(rung, static_cast<int>(std::lround(100 * (least - target))), 0.75);
    }

    /// A rung as this rider can hold it, where their critical power is known.
    Work bent(const Session& rung) const {
        if (!basis_.criticalPower || !basis_.wPrime || power_ <= 0)
            return counted(rung, low_);
        const Bent b = bendToReserve(rung, power_, *basis_.criticalPower, *basis_.wPrime);
        Work work = counted(b.session, low_);
        work.bent = b.points;
        return work;
    }

    /// How much a family is wanted: by its ladder, where one that has ended rests while its neighbours take
    /// its place; at its last rung all the same; with its last three in turn, where there is no neighbour;
    /// or, where a hard day would be left without work, with a repetition fewer, at any rung reached, and in
    /// a block of four others.
    enum class Wanted { ByItsLadder, AtItsEnd, InTurn, Shortened, Anyhow, OfAnother };

    /// What it costs not to go by the ladders: a repetition fewer, a rung once more, one lower, a fifth
    /// family.
    static double stopgap(Wanted wanted, bool lower) {
        return wanted == Wanted::ByItsLadder ? 0
               : wanted == Wanted::Shortened ? 0.002
               : wanted == Wanted::OfAnother ? 0.03
               : lower                       ? 0.02
                                             : 0.006;
    }

    /// Rungs a family may be ridden at now; none a fourth time in six weeks.
    std::vector<int> rungsFor(int family, const LadderStanding& s, bool light, int week,
                              Wanted wanted = Wanted::ByItsLadder) const {
        const auto& rungs = rungs_[static_cast<size_t>(family)];
        const int count = static_cast<int>(rungs.size());
        std::vector<int> all;
        if (s.rung < 0) {
            // A lighter week rides what was reached; of a rider nothing is known of, the first rung was.
            if (light)
                return anyDone_ || week >= firstBuild_ || count == 0 ? all : std::vector{0};
            // New to the family: on the third rung at most, above threshold on the second.
            const bool above = count > 0 && rungs.front().target > 1;
            const int most = above ? std::min(newest_, 1) : newest_;
            // Where nothing was said of before, what the weeks before have shown by the plan.
            for (int r = 0; r < count; ++r)
                if (r <= most || (!anyDone_ && rungs[static_cast<size_t>(r)].seconds <= weeks_.front().shown))
                    all.push_back(r);
            return all;
        }
        const auto give = [&](int rung) {
            if (rung >= 0 && !s.often(rung, week))
                all.push_back(rung);
        };
        if (light || !s.finished) {
            // In a lighter week a lower one may be what its points hold.
            for (int r = s.rung; r >= std::max(0, s.rung - 2) && (light || all.empty()); --r)
                give(r);
            return all;
        }
        // When a ladder ends its family rests, a neighbour takes its place, and it comes back.
        const bool ended = s.rung + 1 >= count, again = s.times >= mostAtARung;
        if (!again || wanted == Wanted::Anyhow ||
            (ended && (wanted == Wanted::AtItsEnd || wanted == Wanted::InTurn ||
                       wanted == Wanted::Shortened || week - s.last >= restsAtTheEnd)))
            give(s.rung);
        if (!ended)
            give(s.rung + 1);
        if (wanted == Wanted::Anyhow || (again && ended && wanted == Wanted::InTurn))
            give(s.rung - 1);
        if (again && ended && wanted == Wanted::InTurn && all.size() < 2)
            give(s.rung - 2);
        return all;
    }

    /// Whether a family's ladder has ended so lately that it is to rest.
    bool resting(size_t family, const LadderStanding& s, int week) const {
        return s.rung + 1 >= static_cast<int>(rungs_[family].size()) && s.times >= mostAtARung &&
               week - s.last < restsAtTheEnd;
    }
    /// A family that comes back after its end begins to count anew.
    static void comeBack(LadderStanding& s, int count, int week) {
        if (s.rung + 1 >= count && s.times >= mostAtARung && week - s.last >= restsAtTheEnd) {
            s.times = 0;
            ++s.above;
        }
    }

    /// Work at the race's own power.
    static Session racePace(const Season& season, const std::vector<WeekProblem>& weeks, size_t rung);

    static LadderStanding after(LadderStanding s, const Chosen& c, int week) {
        s.ride(c.rung, s.above, c.lighter.has_value() || c.rung < s.rung, week);
        return s;
    }

    /// Low and middle seconds of the warm-up of a ride of some length.
    double warmMiddle(double seconds, int warm = 0) const {
        const Frame frame = frameFor(static_cast<int>(seconds), warm);
        const double top = frame.warm >= 900 ? 0.90 : 0.85;
        return std::clamp((top - low_) / (top - 0.5), 0.0, 1.0) * frame.warm;
    }

    /// Points a ride round some work costs beyond endurance alone of its length, steps being long beside the
    /// thirty seconds of smoothing.
    static double added(const Work& work, const DaySlot& day, double endurance) {
        const double length = std::max(day.hours, 1.0 * shortestAround(work.seconds, work.warm));
        const Frame frame = frameFor(static_cast<int>(length), work.warm);
        const double rest = std::max(0.0, length - work.seconds - frame.warm - frame.cool);
        const double fourth =
            work.fourth + 0.30 * frame.warm + 0.0625 * frame.cool + rest * std::pow(endurance, 4);
        return 100.0 / 3600 * (std::sqrt(fourth * length) - day.hours * endurance * endurance);
    }

    /// One way to give a week its hard days.
    struct Way {
        std::vector<Chosen> picks;
        double high = 0, middle = 0, cost = 0;
        double least = 0, most = 0; ///< points its hard days add to endurance of their length, at either end
        LadderStandings at;
        std::array<bool, familyCount> used{};
        size_t usedCount = 0;
        explicit Way(const State& from) : at(from.at), used(from.used), usedCount(from.usedCount) {}
    };

    const Work& workOf(const Chosen& c) {
        const auto f = static_cast<size_t>(c.family), r = static_cast<size_t>(c.rung);
        const Work& usual = rungs_[f][r];
        if (!c.asWritten && !c.lighter && c.fewer == 0 && c.above == 0)
            return usual;
        const int eased = c.fewer > 0 ? 10 + c.fewer : c.lighter ? 1 + static_cast<int>(*c.lighter) : 0;
        const auto [at, isNew] = others_.try_emplace({c.family, c.rung, c.asWritten, eased, c.above});
        if (!isNew)
            return at->second;
        if (c.fewer > 0 && !c.asWritten) {
            Session less = usual.session;
            for (int n = 0; n < c.fewer; ++n)
                less = lighter(less, Lighter::OneFewer);
            return at->second = counted(less, low_);
        }
        constexpr double work = 0.79; // of threshold: what is ridden between stays
        return at->second = c.asWritten ? counted(rungOf(all_[f], r), low_)
                            : c.lighter ? counted(lighter(usual.session, *c.lighter), low_)
                                        : bent(withPowerMoved(usual.session, c.above, work));
    }

    /// Whether aerobic ceiling was ridden in the last so many weeks.
    bool ceilingWithin(const State& from, int number, int weeks) const {
        for (size_t f = 0; f < all_.size() && f < familyCount; ++f)
            if (all_[f].name.starts_with("aerobic ceiling") && number - from.at[f].last < weeks)
                return true;
        return false;
    }
    struct Candidate {
        int family = -1;
        double wish = 0; ///< cost of taking it
    };
    /// What the n-th hard day of a week is asked to be given.
    struct HardAsk {
        const WeekProblem& week;
        const std::vector<size_t>& days;
        const std::vector<Candidate>& candidates;
        size_t n;
        int number; ///< of the week
        Wanted wanted;
        bool tested = false; ///< a maximal test is all a deload has of high work

        const DaySlot& day() const { return week.days[days[n]]; }
        bool fixed() const { return day().family != nullptr; }
        bool light() const { return isLight(week) && !(fixed() && day().rung); }
    };
    /// A rung as a hard day may ride it.
    struct HardRide {
        int rung;
        std::optional<Lighter> ease;
        int fewer; ///< repetitions
    };
    /// The rungs of a family a day may ride, with fewer repetitions where all of them are too long for it.
    std::vector<HardRide> hardRides(const HardAsk& ask, int family, const Way& way, bool& shortDay);
    /// What a choice costs beside others; `before`: how often its family is ridden in the week already.
    double hardCost(const HardAsk& ask, const Chosen& chosen, const LadderStanding& stands, const Way& way,
                    long before);
    Way withHard(const HardAsk& ask, const Chosen& chosen, const LadderStanding& stands, const Way& way);
    /// Every way to give the day one family wanted so, or any, and the days after it theirs; whether there
    /// was one.
    /// Of families nobody has set: one too many in a block, or one for shorter days.
    bool notForDay(const HardAsk& ask, size_t family, const Way& way) const;
    bool hardDayBy(const HardAsk& ask, const Candidate& candidate, const Way& way, std::vector<Way>& out);
    bool hardDayBy(const HardAsk& ask, const Way& way, std::vector<Way>& out);
    void hardDays(const WeekProblem& week, const std::vector<size_t>& days,
                  const std::vector<Candidate>& candidates, size_t n, int weekNumber, Way way,
                  std::vector<Way>& out);

    /// Tempo that may be added to a week: late in the long ride, and on easy days away from the hard ones.
    struct TempoChoice {
        int longTempo = 0;
        std::vector<Chosen> picks;
        double middle = 0, cost = 0, least = 0, most = 0;
    };

    std::vector<TempoChoice> tempoChoices(const WeekProblem& week, const State& from);
    int numberOf(const WeekProblem& week) const { return static_cast<int>(&week - weeks_.data()); }
    bool holdsTempoLate(const WeekProblem& week, const DaySlot& day) const {
        return day.role == Role::Long && !day.pinned && !day.besideHard && !isLight(week) && !tooEarly(day) &&
               !day.easyOnly;
    }
    /// Adds what its long ride may hold of tempo, and the cost of having none.
    void tempoInLongRides(const WeekProblem& week, const State& from, std::vector<TempoChoice>& all) const;
    void lateEfforts(const WeekProblem& week, const State& from, std::vector<TempoChoice>& all);
    /// The two easy days that have most time for it.
    std::vector<size_t> tempoDays(const WeekProblem& week) const;
    std::vector<Chosen> tempoOn(const WeekProblem& week, size_t day, const State& from);
    /// Whether a week may have both.
    bool goTogether(const WeekProblem& week, const Chosen& one, const Chosen& two, const State& from) const;
    /// Whether a week's hard days leave no room for some tempo: too many families, or a rung too often.
    static bool clash(const Way& way, const TempoChoice& extra);
    /// Of ways to add tempo, in order of their middle, the few nearest to what is missing that go with a
    /// week's hard days: those with at least as much, or those with less.
    static std::vector<size_t> goingWith(const Way& way, const std::vector<TempoChoice>& tempos,
                                         double missing, bool over);

    /// The families of a week's hard days in order of preference, then those next to them in purpose, which
    /// take the place of one whose ladder has ended; work above threshold in base once a month where little
    /// is asked for.
    std::vector<Candidate> withNeighbours(const WeekProblem& week, const std::vector<int>& families,
                                          const State& from, int number) const;
    /// What of a week no choice changes: its days for hard work, seconds by purpose and points of what is
    /// written, tested or primed, and the seconds it rides.
    struct Fixed {
        std::vector<size_t> hard;
        double high = 0, middle = 0, stress = 0, time = 0;
    };
    Fixed fixedOf(const WeekProblem& week) const;
    /// Families the hard days of a week may have, in order of preference.
    bool ownOfPhase(const Family& f, Phase phase) const;
    std::vector<int> familiesFor(size_t w, const std::vector<size_t>& hard) const;
    /// How far a week so chosen is from its split and its points, over all weeks up to it.
    static double costOf(const WeekProblem& week, const State& from, const Fixed& fixed, const Way& way,
                         const TempoChoice& extra);
    /// A way to give the hard days their work, tempo that goes with it, and what both cost from the first
    /// week on.
    struct Scored {
        double cost;
        size_t way, extra;
    };
    /// The best of them.
    std::vector<Scored> scored(size_t w, const State& from, const Fixed& fixed, const std::vector<Way>& ways,
                               const std::vector<TempoChoice>& tempos) const;
    State afterWeek(size_t w, const State& from, const Fixed& fixed, const Way& way, const TempoChoice& extra,
                    double cost);
    bool beginsABlock(size_t w) const;
    void step(size_t w);

    /// The second half of a base, by the split it is given: work over the low threshold is a fair part of it.
    bool late(size_t w) const {
        const Bands& p = weeks_[w].purpose;
        return p.sum() > 0 && (p.middle + p.high) / p.sum() > 0.12;
    }

    /// The test a day is given: kinds alternate, a threshold test only where the day holds it.
    const Family* testFor(const WeekProblem& week, const DaySlot& day) const {
        if (day.role != Role::Test || !day.rides() || day.words)
            return nullptr;
        if (day.family && !day.family->work.empty())
            return day.family;
        const Family* threshold = basis_.book->named("threshold test");
        const Family* check = basis_.book->named("aerobic check");
        if (week.noMaximal) // what the day has, whatever the week is planned to take of it
            return day.available >= shortestAround(2400) ? check : nullptr;
        if (week.tests % 2 == 1 && room(day) >= shortestAround(1200))
            return threshold;
        return room(day) >= shortestAround(2400)   ? check
               : room(day) >= shortestAround(1200) ? threshold
                                                   : nullptr;
    }

    /// Why that work stands there, in words without their full stop; and why that rung of it.
    std::string whyOf(size_t w, const Chosen& c);
    std::string whyThatRung(size_t w, const Chosen& c) const;
    WeekChoice choiceOf(size_t w, const State& state);

    static double secondsOfRung(const DaySlot& day) {
        return figuresOf(day.family->work[static_cast<size_t>(*day.rung)]).seconds;
    }
    static const char* phaseName(Phase phase) {
        return nameOf(phase == Phase::Taper || phase == Phase::Race ? Phase::Specialise : phase);
    }
    /// Whether a rider who is ill or in return rides only easily on that day.
    bool tooEarly(const DaySlot& day) const { return basis_.easyUntil && day.date < *basis_.easyUntil; }

    /// The family and rung of each day of the last answer.
    void remember() {
        for (const auto& [day, had] : basis_.near)
            if (had.second > 0)
                before_[day] = {indexOf(had.first), had.second - 1};
        if (basis_.last)
            for (const BlockWeek& week : basis_.last->weeks)
                for (const BlockSession& s : week.sessions)
                    if (s.rung > 0)
                        before_[s.date] = {indexOf(s.family), s.rung - 1};
    }
    /// What it costs to differ from the last answer.
    double strange(const DaySlot& day, int family, int rung) const {
        const auto was = before_.find(day.date);
        return was == before_.end() || was->second == std::pair{family, rung} ? 0 : 0.004;
    }
    const BlockWeek* weekBefore(size_t w) const {
        if (basis_.last)
            for (const BlockWeek& week : basis_.last->weeks)
                if (week.start == weeks_[w].start)
                    return &week;
        return nullptr;
    }
    /// A week before the edit stays as it is.
    bool stays(size_t w) const {
        return weekBefore(w) && ((basis_.touched && weeks_[w].start + 7 <= *basis_.touched) ||
                                 (basis_.promised && keepsPromise(*weekBefore(w), weeks_[w])));
    }
    template <class Where>
    void take(Where& to, const std::string& family, int rung, int week) {
        const int f = indexOf(family);
        if (f < 0)
            return;
        const auto at = static_cast<size_t>(f);
        if (!to.used[at]) {
            to.used[at] = true;
            ++to.usedCount;
        }
        if (rung >= 0)
            to.at[at].ride(rung, to.at[at].above, false, week);
        to.at[at].last = week;
    }
    void stay(size_t w) {
        const BlockWeek& was = *weekBefore(w);
        for (State& s : beam_) {
            for (const BlockSession& b : was.sessions)
                if (b.rung > 0 && b.role != Role::Long)
                    take(s, b.family, isLight(weeks_[w]) ? -1 : b.rung - 1, static_cast<int>(w));
            s.high += was.sum.purpose.high - weeks_[w].purpose.high;
            s.middle += was.sum.purpose.middle - weeks_[w].purpose.middle;
            s.time += was.sum.purpose.sum();
            s.picks.emplace_back();
            s.longTempo.push_back(was.longTempo);
            if (was.longTempo > 0)
                s.tempoReached = was.longTempo;
        }
        beam_.resize(1);
    }

    double low_;   ///< low threshold
    double power_; ///< W at threshold
    const std::vector<WeekProblem>& weeks_;
    const BlockBasis& basis_;
    const std::vector<Family>& all_;
    std::map<Date, std::pair<int, int>> before_;
    std::vector<std::vector<Work>> rungs_;
    /// Rungs ridden otherwise: family, rung, as it is written, how eased, points above.
    std::map<std::tuple<int, int, bool, int, int>, Work> others_;
    std::vector<State> beam_;
    State first_;          ///< before the first week
    size_t lastFresh_ = 0; ///< the week whose block began with no family taken
    int firstBuild_ = 0;   ///< the first week that is not a lighter one
    bool anyDone_ = false;
    Date tempoUntil_; ///< its hard days are tempo in weeks that begin before this day
    int newest_ = 2;  ///< the highest rung a family that is new begins on, 0 the first
    int shown_ = 0;   ///< the most work done, s
};

} // namespace marram
