// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/looking_back.h"
#include "core/load/monotony.h"
#include "core/review/review.h"
#include "core/season/plan.h"
#include "core/session/shorthand.h"
#include "records/again.h"
#include "store/ahead.h"
#include "store/ride_reading.h"
#include "store/whole_record.h"
#include "store/whole_season.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr int year = 365;
constexpr std::array bestSeconds{60, 300, 1200, 3600};

/// Everything a roster holds of a rider that a week is looked back on with.
class Reader {
public:
    Reader(const Roster& roster, const RiderRecord& rider, Date week, Date today)
        : roster_(roster), rider_(rider), week_(week), real_(today),
          today_(today < week + 14 ? today : week + 7) {
        f_.rider = rider.name.toStdString();
        f_.week = week;
        f_.today = today_;
    }

    Result<MondayFacts> read() {
        auto record = wholeRecordOf(roster_, rider_, today_);
        if (!record)
            return tl::unexpected(record.error());
        r_ = std::move(*record);
        season_ = r_.inForce();
        f_.unscored = r_.counted.byHours ? r_.counted.unscored : 0;
        ride();
        plan();
        if (auto ok = ahead(); !ok)
            return tl::unexpected(ok.error());
        verdicts();
        load_();
        bests();
        sameAgain();
        people();
        return std::move(f_);
    }

private:
    /// Rides of the days of the week and, where it has begun, of the one after.
    void ride() {
        for (int i = 0; i < 7; ++i) {
            f_.days[static_cast<size_t>(i)].day = week_ + i;
            f_.coming[static_cast<size_t>(i)].day = week_ + 7 + i;
        }
        for (const RideRecord& r : r_.rides) {
            if (r.day < week_ || r.day >= week_ + 14)
                continue;
            const int at = r.day - week_;
            MondayDay& d = at < 7 ? f_.days[static_cast<size_t>(at)] : f_.coming[static_cast<size_t>(at - 7)];
            d.hours += r.score.duration / 3600.0;
            if (r.score.stress)
                d.ridden = d.ridden.value_or(0) + *r.score.stress;
            const RideRecord* longest = r_.rideById(d.ride);
            if (!longest || r.score.duration > longest->score.duration)
                d.ride = r.id;
        }
    }

    void lay(MondayDay& to, const SolvedDay& d) {
        if (to.day == week_ + 7 && d.kind && d.phase) {
            f_.comingKind = nameOf(*d.kind);
            f_.comingPhase = nameOf(*d.phase);
        }
        to.role = d.role;
        to.planned = d.stress;
        to.plannedHours = d.hours;
        to.kept = true;
    }

    void plan() {
        for (auto* week : {&f_.days, &f_.coming})
            for (MondayDay& d : *week) {
                if (const auto p = r_.planned.find(d.day); p != r_.planned.end())
                    lay(d, p->second);
                if (const auto m = r_.meant.find(d.day); m != r_.meant.end())
                    d.meant = sessionName(m->second, r_.book);
            }
        const std::set<Date> ill = illDaysOf(r_.checkIns, r_.seasons, today_);
        for (MondayDay& d : f_.days)
            d.ill = ill.contains(d.day);
        std::vector<Date> days(ill.lower_bound(today_ - 84), ill.end());
        for (size_t i = 0; i < days.size(); ++i)
            f_.illSpells += i == 0 || days[i] - days[i - 1] > 3 ? 1 : 0;
    }

    /// The race to come and the week after, as they are solved now: a plan kept this morning may be another
    /// by now. As they were kept where the week has passed.
    Result<void> ahead() {
        const Season* season = season_ ? &season_->season : nullptr;
        f_.rampLimit = season ? season->rules.ramp : 6;
        if (!season)
            return {};
        const auto now = roster_.outlook(season_->id, today_, &r_.damage);
        if (!now)
            return tl::unexpected(now.error());
        const auto before = roster_.outlook(season_->id, today_ - 7, &r_.damage);
        if (!before)
            return tl::unexpected(before.error());
        std::vector<Outlook> outlook = *now;
        const bool past = real_ > today_;
        const bool reaches = season->end >= week_ + 7 && season->start <= week_ + 13;
        if (!past && reaches) {
            auto solved = solve();
            if (!solved)
                return tl::unexpected(solved.error());
            if (!solved->empty())
                outlook = std::move(*solved);
        }
        if (f_.comingKind.empty())
            kindOfComing(*season);
        race(*season, outlook, *before);
        return {};
    }

    Result<std::vector<Outlook>> solve() {
        const auto found = lookAhead(roster_, rider_, today_, r_.damage);
        if (!found)
            return tl::unexpected(found.error());
        std::vector<Outlook> outlook;
        if (!*found)
            return outlook;
        const RiderAhead& ahead = **found;
        for (MondayDay& to : f_.coming)
            if (const PlannedDay* d = dayOf(ahead.plan, to.day); d && !d->past)
                lay(to, {d->date, d->role, d->stress, d->hours, d->fitness, d->fatigue, d->form, {}, {}});
        if (const PlannedWeek* w = weekOf(ahead.plan, week_ + 7)) {
            f_.comingKind = nameOf(w->kind);
            f_.comingPhase = nameOf(w->phase);
        }
        // The same sessions as in the calendar and the workouts.
        for (MondayDay& d : f_.coming)
            if (d.day >= today_)
                d.meant.clear();
        for (const BlockSession& s : sessionsAhead(ahead, week_ + 7, 1, today_))
            if (s.ridden() && s.date >= today_)
                f_.coming[static_cast<size_t>(s.date - week_ - 7)].meant =
                    sessionName({s.date, s.family, s.rung, {}, {}, {}, {}, {}, {}}, r_.book);
        for (const PlannedRace& r : ahead.plan.races)
            if (r.date >= today_)
                outlook.push_back({today_, r.name, r.form, r.fitness, r.expectedForm, r.chance});
        return outlook;
    }

    /// Where the week after was kept, its kind is told by the days it has.
    void kindOfComing(const Season& season) {
        for (const WeekPin& pin : season.weeks)
            if (pin.start == week_ + 7 && pin.kind)
                f_.comingKind = nameOf(*pin.kind);
        if (!f_.comingKind.empty())
            return;
        double now = 0, then = 0;
        bool race = false;
        for (size_t i = 0; i < 7; ++i) {
            now += f_.coming[i].planned;
            then += f_.days[i].planned;
            race = race || f_.coming[i].role == Role::Race;
        }
        f_.comingKind = race ? nameOf(WeekKind::Race) : now < 0.75 * then ? "lighter" : "training";
    }

    void race(const Season& season, const std::vector<Outlook>& now, const std::vector<Outlook>& before) {
        const Race* next = nullptr;
        for (const Race& r : season.races)
            if (r.priority != Priority::C && r.date >= today_ && (!next || r.date < next->date))
                next = &r;
        const auto in = [&](const std::vector<Outlook>& all) {
            return std::find_if(all.begin(), all.end(),
                                [&](const Outlook& o) { return next && o.race == next->name; });
        };
        const auto of = in(now);
        if (!next || of == now.end())
            return;
        MondayFacts::RaceAhead r;
        r.name = next->name;
        r.date = next->date;
        r.form = of->form;
        r.fitness = of->fitness;
        r.expectedForm = of->expectedForm;
        r.chance = of->chance;
        r.gate = raceGate(*next, of->fitness);
        if (const auto then = in(before); then != before.end())
            r.formBefore = then->form;
        f_.race = r;
    }

    /// Each day against its plan, by the rider's own spread; what a session came to where it was laid.
    void verdicts() {
        const std::map<Date, DayWork> ridden = r_.work();
        std::vector<std::pair<DayWork, DayWork>> both;
        for (const auto& [day, work] : ridden)
            if (const auto p = r_.planned.find(day); p != r_.planned.end() && today_ - day <= 180)
                both.push_back({{p->second.hours, p->second.stress}, work});
        spread_ = spreadFromPlan(both);
        const auto judge = [&](MondayDay& d) {
            const auto work = ridden.find(d.day);
            if (work == ridden.end() && d.day >= today_)
                return;
            if (d.kept) {
                const DayVerdict v = judgeDay({d.plannedHours, d.planned},
                                              work == ridden.end() ? DayWork{} : work->second, spread_);
                d.verdict = wordsFor(v);
                d.lacks = v.volume == DayVerdict::Volume::Shorter ||
                          v.content == DayVerdict::Content::Easier || v.kind == DayVerdict::Kind::Another;
            } else if (d.hours > 0)
                d.verdict = "ridden";
        };
        for (auto* week : {&f_.days, &f_.coming})
            std::for_each(week->begin(), week->end(), judge);
        for (int back = 1; back <= 26; ++back)
            f_.weeksBefore.push_back(week(week_ - 7 * back, ridden));
    }

    /// Points meant and ridden in the seven days from this one.
    std::pair<double, double> week(Date from, const std::map<Date, DayWork>& ridden) const {
        double planned = 0, done = 0;
        for (Date day = from; day < from + 7; day = day + 1) {
            const auto p = r_.planned.find(day);
            const auto w = ridden.find(day);
            planned += p == r_.planned.end() ? 0 : p->second.stress;
            done += w == ridden.end() ? 0 : w->second.stress.value_or(0);
        }
        return {planned, done};
    }

    void load_() {
        f_.before = r_.history->before(week_);
        f_.after = r_.history->before(std::min(today_, week_ + 7));
        while (f_.deepDays < 60 && r_.history->form(today_ - f_.deepDays) < -30)
            ++f_.deepDays;
        for (int back = 0; back < 3; ++back) {
            std::array<double, 7> days{};
            for (int i = 0; i < 7; ++i) {
                const auto p = r_.counted.points.find(week_ - 7 * back + i);
                days[static_cast<size_t>(i)] = p == r_.counted.points.end() ? 0 : p->second;
            }
            if (const auto m = strainOf(days).monotony)
                f_.monotony.push_back(*m);
        }
    }

    void bests() {
        constexpr double easyLow = 0.5, easyHigh = 0.78;
        constexpr int longEnough = 2700;
        for (const RideRecord& r : r_.rides) {
            const Score& s = r.score;
            if (r.day >= week_ + 7)
                continue;
            if (r.day >= week_ - 56 && s.efficiency && s.relativeIntensity && s.duration >= longEnough &&
                *s.relativeIntensity >= easyLow && *s.relativeIntensity <= easyHigh)
                f_.steady.push_back({r.day, *s.efficiency, s.indoors});
            double& longest = r.day >= week_ ? f_.longest : f_.longestBefore;
            if (r.day >= week_ - year)
                longest = std::max(longest, s.duration / 3600.0);
        }
        for (const int seconds : bestSeconds)
            if (const WeekBest best = bestOver(seconds); best.power > 0)
                f_.bests.push_back(best);
    }

    WeekBest bestOver(int seconds) const {
        WeekBest best;
        best.seconds = seconds;
        for (const RideRecord& r : r_.rides) {
            const auto found = std::find_if(r.best.begin(), r.best.end(),
                                            [&](const BestEffort& b) { return b.seconds == seconds; });
            if (found == r.best.end() || r.day < week_ - year || r.day >= week_ + 7)
                continue;
            if (r.day < week_) {
                best.before = std::max(best.before, found->power);
                ++best.efforts;
            } else if (found->power > best.power) {
                best.power = found->power;
                best.day = r.day;
                best.ride = r.id;
            }
        }
        return best;
    }

    /// What a session's repetitions came to: as it was kept, else laid over its ride now.
    std::optional<SessionMark> markOn(Date day) const {
        const auto m = r_.meant.find(day);
        const RideRecord* ride = r_.longestOn(day);
        if (m == r_.meant.end() || !ride || m->second.words.empty())
            return std::nullopt;
        if (m->second.outcome)
            return m->second.mark;
        const auto session = readShorthand(m->second.words);
        const auto right = session ? rideOf(roster_, *ride) : Result<Ride>(tl::unexpected(Problem{}));
        if (!right)
            return std::nullopt;
        const double low = rider_.values.on(Quantity::LowThreshold, day).value_or(defaultLowThreshold);
        return markOf(layOver(*right, *session, m->second.family, {ride->thresholdPower}, low, spread_,
                              ride->score.relativeIntensity),
                      *right);
    }

    AgainRide againOn(Date day, const SessionMark& mark) const {
        AgainRide a;
        a.day = day;
        a.rung = r_.meant.at(day).rung;
        a.mark = mark;
        if (const RideRecord* r = r_.longestOn(day)) {
            a.ride = r->id;
            a.effort = r->effort;
        }
        const LoadState morning = r_.history->before(day);
        a.fitness = morning.fitness;
        a.form = morning.form();
        return a;
    }

    void sameAgain() {
        const auto ridden = [&](Date day) -> std::optional<AgainRide> {
            const auto mark = markOn(day);
            return mark ? std::optional(againOn(day, *mark)) : std::nullopt;
        };
        for (const MondayDay& d : f_.days)
            if (d.hours > 0)
                if (auto again = marram::sameAgain(d.day, r_.meant, r_.book, ridden))
                    f_.again.push_back(std::move(*again));
        std::vector<TestResult> all;
        all.reserve(r_.tests.size());
        for (const TestRecord& t : r_.tests)
            all.push_back(t.result);
        for (const TestRecord& t : r_.tests) {
            if (t.result.day < week_ || t.result.day >= week_ + 7)
                continue;
            f_.tests.push_back(testAgain(
                t.result, all, [&](Date day) { return r_.history->before(day); }, today_));
        }
    }

    void people() {
        for (const CheckIn& c : r_.checkIns)
            if (c.day >= week_ - 70 && c.day < std::min(week_ + 7, real_ + 1))
                f_.checkIns.push_back(c);
        f_.bound = boundSentence(rider_, today_).toStdString();
        f_.age = ageOn(rider_, today_);
        f_.noted = r_.noted;
        f_.needsCare = rider_.care.any();
        f_.cleared = rider_.care.cleared;
        if (real_ - today_ > 7)
            return; // the record speaks of now
        for (const KeptProposal& p : r_.heard.proposed)
            if (stillOpen(p, rider_))
                f_.proposed.push_back(proposalSentence(p, today_).toStdString());
    }

    const Roster& roster_;
    const RiderRecord& rider_;
    const Date week_, real_, today_;
    MondayFacts f_;
    WholeRecord r_;
    const SeasonRecord* season_ = nullptr;
    PlanSpread spread_ = usualSpread;
};

} // namespace

Result<MondayFacts> lookBack(const Roster& roster, const RiderRecord& rider, Date week, Date today) {
    return Reader(roster, rider, week, today).read();
}

} // namespace marram
