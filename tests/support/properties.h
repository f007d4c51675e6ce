// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include <cmath>
#include <functional>

namespace marram::test {

/// S1–S8 and S11–S19 of a plan, judged from what a coach would see of it alone: the season as it was asked
/// for, and the weeks, days, races and sentences of the plan. Written apart from the code that makes plans.
class Properties {
public:
    struct Breach {
        int property;
        std::string what;
    };

    Properties(const Season& season, const Plan& plan) : s_(season), p_(plan) {}

    std::vector<Breach> run() {
        hours();        // S1
        rampAndDepth(); // S2
        shape();        // S3, S12, S16
        tapers();       // S4
        gates();        // S5
        intensity();    // S6, S17
        slumps();       // S7
        model();        // S8
        starving();     // S11
        illness();      // S13
        nothing();      // S14
        phases();       // S15
        sparedDays();   // S18
        tests();        // S19
        return std::move(found_);
    }

private:
    template <class... Parts>
    void breach(int property, const Parts&... parts) {
        std::string text;
        const auto add = [&](const auto& part) {
            if constexpr (std::is_arithmetic_v<std::decay_t<decltype(part)>>)
                text += fixedText(part, 2);
            else
                text += part;
            text += ' ';
        };
        (add(parts), ...);
        found_.push_back({property, text});
    }

    double given(Date day) const {
        for (const WeekPin& p : s_.weeks)
            if (p.start == monday(day) && p.hours)
                return (*p.hours)[static_cast<size_t>(weekday(day))];
        return s_.hours[static_cast<size_t>(weekday(day))];
    }
    double raceOn(Date day) const {
        double sum = 0;
        for (const Race& r : s_.races)
            if (r.date <= day && day < r.date + r.days)
                sum += raceStress(r) / r.days;
        return sum;
    }
    bool racing(Date day) const {
        return std::any_of(s_.races.begin(), s_.races.end(),
                           [&](const Race& r) { return r.date <= day && day < r.date + r.days; });
    }
    const Away* awayOn(Date day) const {
        const Away* found = nullptr;
        for (const Away& a : s_.away)
            if (a.from <= day && day <= a.to)
                found = &a;
        return found;
    }
    bool pinned(Date week) const {
        return std::any_of(s_.weeks.begin(), s_.weeks.end(),
                           [&](const WeekPin& p) { return p.start == week; });
    }
    const PlannedDay* on(Date day) const {
        const int d = day - s_.start;
        return d >= 0 && d < static_cast<int>(p_.days.size()) ? &p_.days[static_cast<size_t>(d)] : nullptr;
    }
    /// Seven days, no race, nobody away, nothing pinned.
    bool plain(const PlannedWeek& w) const {
        if (w.start < s_.start || w.start + 6 > s_.end || pinned(w.start))
            return false;
        for (int i = 0; i < 7; ++i)
            if (racing(w.start + i) || awayOn(w.start + i))
                return false;
        return true;
    }
    bool told(const std::string& part) const {
        return std::any_of(p_.relaxed.begin(), p_.relaxed.end(),
                           [&](const Relaxed& r) { return r.text.find(part) != std::string::npos; }) ||
               std::any_of(p_.warnings.begin(), p_.warnings.end(),
                           [&](const std::string& t) { return t.find(part) != std::string::npos; });
    }
    double before(size_t w) const { return w > 0 ? p_.weeks[w - 1].fitness : s_.before.fitness; }

    void hours() {
        for (const PlannedDay& d : p_.days) {
            const Away* away = awayOn(d.date);
            if (racing(d.date)) {
                if (std::abs(d.stress - raceOn(d.date)) > 1e-9 || d.role != Role::Race)
                    breach(1, isoText(d.date), "race day carries", d.stress);
            } else if (away) {
                if (away->why != AwayWhy::Camp && d.stress != 0)
                    breach(1, isoText(d.date), "away but carries", d.stress);
            } else if (d.hours > given(d.date) + 1e-9 || d.stress < 0 ||
                       (given(d.date) == 0 && d.stress > 1e-9)) {
                breach(1, isoText(d.date), "hours", d.hours, "of", given(d.date));
            }
        }
    }

    void rampAndDepth() {
        for (size_t w = 0; w < p_.weeks.size(); ++w) {
            const double rise = p_.weeks[w].fitness - before(w);
            const double most = std::min(s_.rules.ramp, 2.5 + 0.05 * before(w));
            if (rise <= most + 1e-3 || told(isoText(p_.weeks[w].start)))
                continue;
            breach(2, isoText(p_.weeks[w].start), "rises", rise, "of", most);
        }
        for (const PlannedDay& d : p_.days)
            if (d.form < s_.rules.formFloor - 0.05 && !told("Form falls"))
                breach(2, isoText(d.date), "form", d.form);
    }

    void shape() {
        std::map<int, std::vector<const PlannedWeek*>> blocks;
        for (size_t w = 0; w < p_.weeks.size(); ++w) {
            const PlannedWeek& week = p_.weeks[w];
            if (week.kind == WeekKind::Build)
                blocks[week.block].push_back(&week);
            if (w == 0)
                continue;
            const PlannedWeek& last = p_.weeks[w - 1];
            if (last.kind != WeekKind::Build || last.stress <= 0 || !plain(week) || !plain(last))
                continue;
            const double ratio = week.stress / last.stress;
            if (week.kind == WeekKind::Build && (ratio < 1 - 1e-3 || ratio > 1.1 + 1e-3))
                breach(3, isoText(week.start), "build over build", ratio);
            if (week.kind == WeekKind::Deload && (ratio < 0.5 - 1e-3 || ratio > 0.7 + 1e-3))
                breach(3, isoText(week.start), "deload over build", ratio);
            if (week.kind == WeekKind::Deload && ratio > 0.75)
                breach(12, isoText(week.start), "deload over build", ratio);
        }
        int grown = 0, all = 0;
        for (const auto& [number, weeks] : blocks) {
            if (weeks.size() < 2 || !plain(*weeks.front()) || !plain(*weeks.back()))
                continue;
            const bool full = weeks.front()->hours > 0.97 * weeks.front()->availableHours;
            ++all;
            grown += full || weeks.back()->stress >= 1.04 * weeks.front()->stress - 1e-6 ? 1 : 0;
        }
        if (grown * 10 < all * 7)
            breach(16, grown, "of", all, "blocks grow");
    }

    void tapers() {
        if (!s_.rules.taperSet)
            return; // its length is chosen by solving
        for (const Race& r : s_.races) {
            if (r.priority != Priority::A)
                continue;
            const Date from = r.date - s_.rules.taperDays;
            bool clear = s_.rules.taperDays >= 7 && from >= s_.start + 7;
            for (const Race& other : s_.races)
                if (&other != &r && other.date + other.days + 10 > from && other.date <= r.date)
                    clear = false;
            for (const Away& a : s_.away)
                if (a.to >= from - 28 && a.from <= r.date)
                    clear = false;
            for (const WeekPin& p : s_.weeks)
                if (p.start + 6 >= from - 14 && p.start <= r.date)
                    clear = false;
            if (!clear)
                continue;
            const PlannedWeek* last = nullptr;
            for (const PlannedWeek& w : p_.weeks)
                if (w.kind == WeekKind::Build && w.start + 6 < r.date - s_.rules.taperDays + 2)
                    last = &w;
            if (!last || !plain(*last))
                continue;
            double volume = 0, usual = 0, load = 0, usualLoad = 0;
            std::vector<double> weeks((static_cast<size_t>(s_.rules.taperDays) + 6) / 7, 0), usuals(weeks);
            for (int n = 1; n <= s_.rules.taperDays; ++n) {
                const PlannedDay *d = on(r.date - n), *u = on(last->start + weekday(r.date - n));
                volume += d->hours;
                usual += u->hours;
                load += d->stress;
                usualLoad += u->stress;
                weeks[static_cast<size_t>((n - 1) / 7)] += d->hours;
                usuals[static_cast<size_t>((n - 1) / 7)] += u->hours;
            }
            const double cut = 1 - volume / usual;
            if (cut < 0.40 - 5e-3 || cut > 0.60 + 5e-3)
                breach(4, r.name, "cut", cut, "by load", 1 - load / usualLoad);
            for (size_t k = 0; k + 1 < weeks.size(); ++k)
                if (usuals[k] > 0 && usuals[k + 1] > 0 &&
                    weeks[k] / usuals[k] > weeks[k + 1] / usuals[k + 1] + 1e-3)
                    breach(4, r.name, "rises towards the race");
            double high = 0, all = 0, wasHigh = 0, was = 0;
            for (const PlannedWeek& w : p_.weeks) {
                if (w.kind == WeekKind::Build && w.block == last->block) {
                    wasHigh += w.bandHours.high;
                    was += w.hours;
                }
                if (w.start > last->start && w.start + 5 <= r.date && w.phase == Phase::Taper) {
                    high += w.bandHours.high;
                    all += w.hours;
                }
            }
            if (all > 0 && high / all < wasHigh / was - 0.03 && s_.rules.hardDays > 1)
                breach(4, r.name, "high share falls from", wasHigh / was, "to", high / all);
        }
    }

    void gates() {
        for (const PlannedRace& r : p_.races) {
            const double form = on(r.date)->form;
            const double miss = r.gate ? std::max({0.0, r.gate->low - form, form - r.gate->high}) : 0;
            if (std::abs(miss - r.gateMiss) > 1e-9 || (r.gate && miss > 0.1 && !told(r.name)))
                breach(5, r.name, "misses by", miss, "said", r.gateMiss);
        }
    }

    Bands target(Phase phase) const {
        switch (s_.rules.school) {
        case School::Polarised:
            return {80, 4, 16};
        case School::ThresholdLed:
            return {54, 40, 6};
        case School::Even:
            return {34, 33, 33};
        case School::Pyramidal:
            return {79, 16, 5};
        case School::Own:
            break;
        }
        const auto& own = s_.rules.ownSplits.at(phase);
        return {100 * own.low, 100 * own.middle, 100 * own.high};
    }

    void intensity() {
        std::map<Phase, Bands> sums;
        std::map<Phase, double> held, middleHeld;
        double climbed = 0; ///< build weeks with two hard days so far
        for (const PlannedWeek& w : p_.weeks) {
            if (comesFromNothing(s_) && w.start < s_.start + oneHardDayUntil)
                continue; // tempo first, whatever the school (nothing())
            int hard = 0, races = 0, tempo = 0;
            for (int i = 0; i < 7; ++i)
                if (const PlannedDay* d = on(w.start + i)) {
                    hard += d->role == Role::Hard ? 1 : 0;
                    // What sessions hold by the rungs reached: sets of hard days, tempo on two easy days, the
                    // long ride.
                    const PlannedDay *before = on(d->date + -1), *after = on(d->date + 1);
                    const bool beside =
                        (before && before->role == Role::Hard) || (after && after->role == Role::Hard);
                    if (d->role == Role::Hard) {
                        // The ladders above threshold end on some 51 min of sets, in an hour on some 28;
                        // where the middle is wanted too it has a third of them.
                        const double part = target(Phase::Build).middle > 10 ? 0.65 * 0.85 : 1;
                        held[w.phase] += std::clamp(0.6 * (d->hours - 0.25), 0.0,
                                                    part * std::min(51.0, 22 + 2.4 * climbed) / 60);
                        middleHeld[w.phase] +=
                            std::clamp(0.7 * (d->hours - 0.25), 0.0, std::min(55.0, 30 + 2 * climbed) / 60);
                    } else if (w.kind == WeekKind::Build && d->role == Role::Long && d->hours > 1.75 &&
                               !beside)
                        middleHeld[w.phase] += w.hours >= 6 ? std::min(60.0, 22 + 4 * climbed) / 60 : 1.0 / 3;
                    else if (w.kind == WeekKind::Build && d->role == Role::Easy && d->hours > 0.75 &&
                             !beside && tempo++ < 2)
                        middleHeld[w.phase] += 18.0 / 60;
                    races += d->role == Role::Race ? 1 : 0;
                }
            climbed += w.kind == WeekKind::Build ? std::min(1.0, hard / 2.0) : 0;
            if (hard > 0 && hard + races > s_.rules.hardDays)
                breach(6, isoText(w.start), "hard days", hard, "races", races);
            if (w.bandHours.high > hard * 1.0 + 1e-6)
                breach(17, isoText(w.start), "high hours", w.bandHours.high, "on hard days", hard);
            if (std::abs(w.bandHours.sum() - w.hours) > 1e-6)
                breach(6, isoText(w.start), "bands do not sum to the hours");
            Bands& sum = sums[w.phase];
            sum.low += w.bandHours.low;
            sum.middle += w.bandHours.middle;
            sum.high += w.bandHours.high;
        }
        for (size_t d = 1; d < p_.days.size(); ++d)
            if (p_.days[d].role == Role::Hard &&
                (p_.days[d - 1].role == Role::Hard || p_.days[d - 1].role == Role::Race))
                breach(6, isoText(p_.days[d].date), "hard days run on");
        for (const Phase phase : {Phase::Build, Phase::Specialise}) {
            const Bands& b = sums[phase];
            if (b.sum() < 20)
                continue;
            const Bands t = target(phase);
            const double high = std::min(t.high, 100 * held[phase] / b.sum());
            if (std::abs(100 * b.high / b.sum() - high) > 3 && 100 * b.high / b.sum() < high)
                breach(6, nameOf(phase), "high share", 100 * b.high / b.sum(), "of", high);
            if (100 * b.high / b.sum() > t.high + 3)
                breach(6, nameOf(phase), "high share", 100 * b.high / b.sum(), "over", t.high);
            // What is over goes low.
            const double middle =
                std::min(t.middle, std::max(0.0, 100 * (middleHeld[phase] - b.high) / b.sum()));
            const double most = 100 - std::min(high, 100 * b.high / b.sum()) - middle;
            if (100 * b.low / b.sum() < t.low - 6 || 100 * b.low / b.sum() > std::max(t.low, most) + 6)
                breach(6, nameOf(phase), "low share", 100 * b.low / b.sum(), "of", t.low);
        }
    }

    void slumps() {
        // No sag: between two build weeks a fortnight apart, nothing between, the later is not a third less.
        const PlannedWeek* last = nullptr;
        for (size_t w = 0; w < p_.weeks.size(); ++w) {
            const PlannedWeek& week = p_.weeks[w];
            if (week.kind == WeekKind::Deload)
                continue;
            if (week.kind != WeekKind::Build || !plain(week)) {
                last = nullptr;
                continue;
            }
            if (last && week.stress < 0.8 * last->stress)
                breach(7, isoText(week.start), "falls to", week.stress, "from", last->stress);
            last = &week;
        }
    }

    void model() {
        double f = s_.before.fitness, a = s_.before.fatigue;
        for (const PlannedDay& d : p_.days) {
            if (std::abs(d.form - (f - a)) > 1e-6)
                breach(8, isoText(d.date), "form");
            f = f * std::exp(-1 / s_.tau.fitness) + d.stress * (1 - std::exp(-1 / s_.tau.fitness));
            a = a * std::exp(-1 / s_.tau.fatigue) + d.stress * (1 - std::exp(-1 / s_.tau.fatigue));
            if (std::abs(d.fitness - f) > 1e-6 || std::abs(d.fatigue - a) > 1e-6)
                breach(8, isoText(d.date), "fitness or fatigue");
        }
    }

    void starving() {
        for (size_t w = 0; w < p_.weeks.size(); ++w) {
            const PlannedWeek& week = p_.weeks[w];
            if (week.kind != WeekKind::Build || !plain(week))
                continue;
            const double keeps = 7 * std::min(before(w), s_.before.fitness);
            const bool full = week.hours > 0.78 * week.availableHours; // volume 0.85 where a race is punchy
            if (week.stress < 0.6 * keeps && !full)
                breach(11, isoText(week.start), "carries", week.stress, "of", keeps);
            const double rise = week.fitness - before(w);
            const bool ramped = rise > std::min(s_.rules.ramp, 2.5 + 0.05 * before(w)) - 0.3;
            if (week.hours < 0.25 * week.availableHours && !ramped)
                breach(11, isoText(week.start), "uses", week.hours, "h of", week.availableHours);
        }
    }

    void illness() {
        for (const Away& a : s_.away) {
            if (a.why != AwayWhy::Illness || a.to - a.from < 4)
                continue;
            const PlannedWeek* last = nullptr;
            for (const PlannedWeek& w : p_.weeks)
                if (w.kind == WeekKind::Build && w.start + 6 < a.from && plain(w))
                    last = &w;
            double sum = 0;
            for (int i = 1; i <= 7; ++i)
                if (const PlannedDay* d = on(a.to + i)) {
                    sum += racing(d->date) || awayOn(d->date) ? 0 : d->stress;
                    if (i <= 5 && d->role == Role::Hard)
                        breach(13, isoText(d->date), "hard after illness");
                }
            if (last && sum > 0.65 * last->stress + 1e-6)
                breach(13, isoText(a.to), "back at", sum, "of", last->stress);
        }
    }

    void nothing() {
        double all = 0;
        for (const double h : s_.hours)
            all += h;
        const bool none =
            s_.layOff ? *s_.layOff : s_.before.fitness < 20 && 7 * s_.before.fitness < all * 48 / 3 - 10;
        if (!none || p_.weeks.empty())
            return;
        for (const PlannedDay& d : p_.days)
            if (d.date < s_.start + 14 && d.role == Role::Hard)
                breach(14, isoText(d.date), "hard after a lay-off");
        if (p_.weeks[0].hours > 0.5 * p_.weeks[0].availableHours + 1e-6 && plain(p_.weeks[0]))
            breach(14, "first week", p_.weeks[0].hours, "of", p_.weeks[0].availableHours);
    }

    void phases() {
        const Bands build = target(Phase::Build);
        if (build.high < 3 || s_.rules.hardDays == 0)
            return;
        std::vector<const PlannedWeek*> run;
        const auto end = [&] {
            if (run.empty())
                return;
            const Phase phase = run.front()->phase;
            const size_t most = phase == Phase::Base ? 16 : phase == Phase::Build ? 12 : 8;
            if ((phase == Phase::Base || phase == Phase::Build || phase == Phase::Specialise) &&
                run.size() > most)
                breach(15, nameOf(phase), "lasts", run.size(), "weeks from", isoText(run.front()->start));
            if (phase == Phase::Base && s_.rules.order == Order::BaseFirst && run.size() >= 8 &&
                s_.rules.school != School::Own) {
                Bands early, late;
                for (size_t i = 0; i < run.size(); ++i) {
                    const Bands& b = run[i]->bandHours;
                    if (run[i]->kind != WeekKind::Build)
                        continue; // a half with one deload more is not for that less intense
                    Bands& half = i < run.size() / 2 ? early : late;
                    half.low += b.low;
                    half.middle += b.middle;
                    half.high += b.high;
                }
                if (early.sum() > 5 && late.sum() > 5 &&
                    late.low / late.sum() > early.low / early.sum() + 1e-6)
                    breach(15, "base does not grow in intensity from", isoText(run.front()->start));
            }
            run.clear();
        };
        Bands base, built;
        for (const PlannedWeek& w : p_.weeks) {
            if (!run.empty() && run.front()->phase != w.phase)
                end();
            run.push_back(&w);
            Bands& sum = w.phase == Phase::Base ? base : built;
            if (w.phase == Phase::Base || w.phase == Phase::Build) {
                sum.low += w.bandHours.low;
                sum.high += w.bandHours.high;
                sum.middle += w.bandHours.middle;
            }
        }
        end();
        if (s_.rules.order == Order::BaseFirst && s_.rules.school != School::Own && base.sum() > 20 &&
            built.sum() > 20 && base.high / base.sum() > built.high / built.sum() + 1e-3)
            breach(15, "base is harder than build", base.high / base.sum(), built.high / built.sum());
    }

    void sparedDays() {
        const auto hard = [&](Date day) {
            const PlannedDay* d = on(day);
            return d && d->role == Role::Hard;
        };
        for (const Race& r : s_.races) {
            if (r.priority != Priority::A)
                continue;
            for (int n = 1; n <= 2; ++n)
                if (hard(r.date - n))
                    breach(18, r.name, "hard", n, "days before");
            for (int n = 0; n < 4; ++n)
                if (hard(r.date + r.days + n))
                    breach(18, r.name, "hard after");
        }
        for (const Away& a : s_.away)
            if (a.why == AwayWhy::Camp)
                for (int n = 1; n <= 4; ++n)
                    if (hard(a.to + n))
                        breach(18, "camp", isoText(a.to), "hard after");
    }

    void tests() {
        // Ten weeks of training in a row without one; weeks away, of recovery and of race do not count.
        int weeks = 0;
        for (const PlannedWeek& w : p_.weeks) {
            bool test = false;
            for (int i = 0; i < 7; ++i)
                if (const PlannedDay* d = on(w.start + i))
                    test = test || d->role == Role::Test;
            const bool training = w.kind == WeekKind::Build || w.kind == WeekKind::Deload;
            weeks = test ? 0 : weeks + (training ? 1 : 0);
            if (weeks == 10) {
                breach(19, "no test in ten weeks up to", isoText(w.start));
                weeks = 0;
            }
        }
    }

    const Season& s_;
    const Plan& p_;
    std::vector<Breach> found_;
};

} // namespace marram::test
