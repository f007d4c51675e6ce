// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/ahead.h"
#include "core/load/monotony.h"
#include "core/season/chance.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <random>

namespace marram {
namespace {

/// The value below which a share of a sorted list lies, between neighbours.
double quantile(const std::vector<double>& sorted, double share) {
    const double at = share * static_cast<double>(sorted.size() - 1);
    const auto below = static_cast<size_t>(at);
    const size_t above = std::min(below + 1, sorted.size() - 1);
    return sorted[below] + (at - static_cast<double>(below)) * (sorted[above] - sorted[below]);
}

RaceChance::Spread spreadOf(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return {quantile(values, 0.05), quantile(values, 0.25), quantile(values, 0.5), quantile(values, 0.75),
            quantile(values, 0.95)};
}

/// A number from 0 up to but not including 1, the same on every machine.
double uniform(std::mt19937_64& dice) {
    return static_cast<double>(dice() >> 11) * 0x1.0p-53;
}

/// Races and camps are not missed, nor what has passed.
bool missable(const Season& season, const PlannedDay& day) {
    return !day.past && day.role != Role::Race && day.stress > 0 &&
           std::none_of(season.away.begin(), season.away.end(), [&](const Away& a) {
               return a.why == AwayWhy::Camp && a.from <= day.date && day.date <= a.to;
           });
}

class Chances {
public:
    Chances(const Season& season, const Plan& plan, const Misses& misses)
        : season_(season), plan_(plan), misses_(misses), keepFitness_(decay(season.tau.fitness)),
          keepFatigue_(decay(season.tau.fatigue)) {
        for (const PlannedDay& day : plan.days) {
            first_ = day.past ? static_cast<int>(day.date - season.start) + 1 : first_;
            missable_.push_back(missable(season, day));
        }
        for (const PlannedRace& race : plan.races)
            last_ = std::max(last_, race.date - season.start);
    }

    std::vector<RaceChance> run() {
        std::vector<RaceChance> all;
        for (const PlannedRace& race : plan_.races) {
            RaceChance chance;
            chance.name = race.name;
            chance.date = race.date;
            chance.gate = race.gate;
            closed(race.date - season_.start, chance);
            all.push_back(chance);
        }
        simulate(all);
        return all;
    }

private:
    void closed(int n, RaceChance& chance) const {
        ComingForm coming(season_.before, season_.tau, misses_.miss,
                          misses_.run.value_or(independentRun(misses_.miss)));
        for (size_t d = 0; d < static_cast<size_t>(n); ++d)
            coming.day(plan_.days[d].stress, missable_[d]);
        chance.closed = {coming.form(), coming.formDeviation(), coming.fitness(), coming.fitnessDeviation()};
    }

    static std::ptrdiff_t inside(const Gate& gate, const std::vector<double>& form) {
        return std::count_if(form.begin(), form.end(),
                             [&](double v) { return v >= gate.low && v <= gate.high; });
    }

    void simulate(std::vector<RaceChance>& all) const {
        std::vector<std::vector<double>> form(all.size()), fitness(all.size());
        std::vector<std::vector<size_t>> racesOn(static_cast<size_t>(last_) + 1);
        for (size_t r = 0; r < all.size(); ++r)
            racesOn[static_cast<size_t>(all[r].date - season_.start)].push_back(r);
        std::mt19937_64 dice(misses_.seed);
        const double falls = misses_.illPerYear / 365;
        const double q = misses_.miss,
                     run = std::max(misses_.run.value_or(independentRun(q)), independentRun(q));
        const double again = 1 - 1 / run, begins = q < 1 ? q / (run * (1 - q)) : 1;
        for (int n = 0; n < misses_.seasons; ++n) {
            double f = season_.before.fitness, a = season_.before.fatigue;
            int ill = 0;
            bool missed = uniform(dice) < q;
            for (int d = 0; d <= last_; ++d) {
                const auto i = static_cast<size_t>(d);
                for (const size_t r : racesOn[i]) {
                    form[r].push_back(f - a);
                    fitness[r].push_back(f);
                }
                double stress = plan_.days[i].stress;
                if (d >= first_) {
                    if (ill > 0)
                        --ill;
                    else if (falls > 0 && uniform(dice) < falls)
                        ill = misses_.illDays;
                    if (ill > 0 || (missable_[i] && missed))
                        stress = 0;
                    missed = uniform(dice) < (missed ? again : begins);
                }
                f = keepFitness_ * f + (1 - keepFitness_) * stress;
                a = keepFatigue_ * a + (1 - keepFatigue_) * stress;
            }
        }
        for (size_t r = 0; r < all.size(); ++r) {
            if (const auto& gate = all[r].gate)
                all[r].inGate = static_cast<double>(inside(*gate, form[r])) / misses_.seasons;
            all[r].form = spreadOf(std::move(form[r]));
            all[r].fitness = spreadOf(std::move(fitness[r]));
        }
    }

    const Season& season_;
    const Plan& plan_;
    const Misses& misses_;
    double keepFitness_, keepFatigue_;
    std::vector<bool> missable_;
    int first_ = 0, last_ = 0;
};

/// The hours of the weeks to come times a share.
Season withHours(const Season& season, const std::function<double(Date)>& shareOf) {
    Season s = season;
    const auto scaled = [&](WeekHours hours, Date week) {
        for (double& h : hours)
            h = std::min(24.0, h * shareOf(week));
        return hours;
    };
    // What is behind was planned with the hours there were.
    const bool behind = season.past && season.past->today > season.start;
    const Date from = monday(behind ? season.past->today : season.start);
    for (WeekPin& week : s.weeks)
        if (week.hours && week.start >= from)
            week.hours = scaled(*week.hours, week.start);
    for (Date week = from; week <= season.end; week = week + 7)
        s = withPin(s, week, [&](WeekPin& pin) {
            if (!pin.hours)
                pin.hours = scaled(season.hours, week);
        });
    return s;
}

/// The points of a season up to the morning of the last race that is peaked for, else of all of it: what
/// comes after it makes nobody fitter for it. By stretches of four weeks, counted back from there.
class Stretches {
public:
    explicit Stretches(const Season& season) : end_(season.start) {
        for (const Race& race : season.races)
            if (race.priority == Priority::A)
                end_ = std::max(end_, race.date);
        if (end_ == season.start)
            end_ = season.end + 1;
        count_ = static_cast<size_t>(std::max(0, end_ - season.start)) / days + 1;
    }

    size_t of(Date day) const {
        return std::min(count_ - 1, static_cast<size_t>(std::max(0, end_ - 1 - day)) / days);
    }
    std::vector<double> stress(const Plan& plan) const {
        std::vector<double> sums(count_, 0.0);
        for (const PlannedDay& day : plan.days)
            if (day.date < end_)
                sums[of(day.date)] += day.stress;
        return sums;
    }
    /// How far a plan is off what is wanted: of race-day fitness what the points of each stretch leave of
    /// theirs, and the whole of them, in shares of the sum.
    static double off(const std::vector<double>& has, const std::vector<double>& wanted) {
        double sum = 0, whole = 0, parts = 0;
        for (size_t k = 0; k < has.size(); ++k) {
            sum += wanted[k];
            whole += has[k] - wanted[k];
            parts += std::abs(has[k] - wanted[k]) * std::exp(-static_cast<double>(k * days) / 42);
        }
        return sum > 0 ? (parts + std::abs(whole)) / sum : 0;
    }
    size_t count() const { return count_; }

private:
    static constexpr int days = 28;
    Date end_;
    size_t count_ = 0;
};

} // namespace

Plan planAtStress(const Season& season, const Plan& plan, const Plan& as) {
    constexpr int turns = 16, alike = 3;
    constexpr double near = 0.002, fewest = 0.4, most = 2.2;
    const Stretches stretches(season);
    const std::vector<double> wanted = stretches.stress(as);
    std::vector<double> has = stretches.stress(plan), shares(stretches.count(), 1.0);
    double off = Stretches::off(has, wanted);
    Plan best = plan;
    Solution chosen;
    for (int turn = 0; turn < turns && off > near; ++turn) {
        double whole = 0, sum = 0;
        for (size_t k = 0; k < shares.size(); ++k) {
            whole += has[k];
            sum += wanted[k];
        }
        // First all alike, then each by itself as far as the rules between weeks let it.
        const double step = turn < alike ? 1 : 1.5 / (1 + 0.12 * (turn - alike));
        for (size_t k = 0; k < shares.size(); ++k) {
            const double ratio = turn < alike ? sum / std::max(1.0, whole)
                                 : has[k] > 0 ? wanted[k] / has[k]
                                              : 1;
            shares[k] = std::clamp(shares[k] * std::pow(std::clamp(ratio, 0.7, 1.4), step), fewest, most);
        }
        const Season scaled = withHours(season, [&](Date week) { return shares[stretches.of(week)]; });
        Solved solved = turn <= alike ? solveSeason(scaled) : solveSeason(scaled, &chosen, {}, Choices::Keep);
        if (turn == alike) // from here on its tapers and blocks stay
            chosen = solved.solution;
        Plan now = std::move(solved.plan);
        has = stretches.stress(now);
        if (const double next = Stretches::off(has, wanted); next < off) {
            off = next;
            best = std::move(now);
        }
    }
    return best;
}

Summary summarise(const Season& season, const Plan& plan) {
    Summary s;
    double before = season.before.fitness;
    for (const PlannedWeek& week : plan.weeks) {
        s.hours += week.hours;
        s.stress += week.stress;
        s.bandHours.low += week.bandHours.low;
        s.bandHours.middle += week.bandHours.middle;
        s.bandHours.high += week.bandHours.high;
        s.largestRamp = std::max(s.largestRamp, week.fitness - before);
        before = week.fitness;
    }
    for (const PlannedDay& day : plan.days) {
        s.hardDays += day.role == Role::Hard || day.role == Role::Race ? 1 : 0;
        s.deepestForm = std::min(s.deepestForm, day.form);
    }
    s.races = plan.races;
    int weeks = 0;
    for (const PlannedWeek& week : plan.weeks) {
        if (week.kind != WeekKind::Build)
            continue;
        std::array<double, 7> days{};
        for (const PlannedDay& day : plan.days)
            if (day.date >= week.start && day.date < week.start + 7)
                days[static_cast<size_t>(day.date - week.start)] = day.stress;
        const WeekStrain strain = strainOf(days);
        ++weeks;
        s.highMinutesAWeek += 60 * week.bandHours.high;
        s.monotony += strain.monotony.value_or(0);
        s.strain += strain.strain.value_or(0);
    }
    for (double* each : {&s.highMinutesAWeek, &s.monotony, &s.strain})
        *each /= std::max(1, weeks);
    return s;
}

Result<std::vector<RaceChance>> chancesOf(const Season& season, const Plan& plan, const Misses& misses) {
    if (!(misses.miss >= 0 && misses.miss <= 1))
        return refuse(phrase("--miss: must be a probability from 0 to 1"));
    if (!(misses.illPerYear >= 0 && misses.illPerYear <= 52))
        return refuse(phrase("--ill-per-year: must be 0 to 52 spells a year"));
    if (misses.run && !(*misses.run >= independentRun(misses.miss) - 1e-9 && *misses.run <= 60))
        return refuse(phrase("--run: must be %1 (each day by itself) to 60 days",
                             fixedText(independentRun(misses.miss), 2)));
    if (misses.illDays < 1 || misses.illDays > 90)
        return refuse(phrase("--ill-days: must be 1 to 90 days"));
    if (misses.seasons < 1 || misses.seasons > 1'000'000)
        return refuse(phrase("--seasons: must be 1 to 1000000"));
    return Chances(season, plan, misses).run();
}

std::vector<ChanceOfDay> chanceByDay(const Season& season, const Plan& plan, double miss,
                                     std::optional<double> run) {
    ComingForm coming(season.before, season.tau, miss, run.value_or(independentRun(miss)));
    std::vector<ChanceOfDay> all;
    for (const PlannedDay& day : plan.days) {
        all.push_back(
            {day.date, coming.form(), coming.formDeviation(), coming.fitness(), coming.fitnessDeviation()});
        coming.day(day.stress, missable(season, day));
    }
    return all;
}

MissRate missRate(const std::vector<PlannedAndRidden>& days) {
    constexpr int enough = 20;
    constexpr double z = 1.645; // 90 %
    MissRate m;
    int runs = 0;
    bool running = false;
    for (const PlannedAndRidden& d : days)
        if (d.planned > 0) {
            const bool missed = d.ridden < 0.1 * d.planned;
            ++m.planned;
            m.missed += missed ? 1 : 0;
            runs += missed && !running ? 1 : 0;
            running = missed;
        }
    if (m.planned < enough)
        return m;
    const double n = m.planned, p = m.missed / n, centre = (p + z * z / (2 * n)) / (1 + z * z / n);
    const double half = z / (1 + z * z / n) * std::sqrt(p * (1 - p) / n + z * z / (4 * n * n));
    m.known = true;
    // The mean of Beta(2, 23) with what was seen: nobody misses nothing for ever.
    constexpr double priorMissed = 2, priorDays = 25;
    m.rate = (priorMissed + m.missed) / (priorDays + n);
    m.low = std::max(0.0, centre - half);
    m.high = std::min(1.0, centre + half);
    constexpr double runsSeen = 3, daysSeen = 6;
    m.run = (daysSeen + m.missed) / (runsSeen + runs);
    return m;
}

static void proposeSchool(const Questions& q, SeasonProposal& p) {
    if (q.hours > 0 && q.hours <= 6.5) {
        p.school = School::ThresholdLed;
        p.reasons.push_back(
            phrase("Threshold-led: with %1 hours a week a strict split leaves too little work "
                   "above the low threshold.",
                   fixedText(q.hours)));
    } else if (q.weakness == Questions::Weakness::Speed && q.hours >= 8) {
        p.school = School::Polarised;
        p.reasons.push_back(
            phrase("Polarised: speed is the weakness, and the hours hold two high sessions a week."));
    } else {
        p.reasons.push_back(phrase("Pyramidal: what most successful records look like."));
    }
}

SeasonProposal proposeSeason(const Questions& q) {
    SeasonProposal p;
    constexpr int usual = 150; // days, where nothing is known
    const int ahead = q.race && q.start ? *q.race - *q.start : usual;
    const bool late = ahead >= 200, early = ahead < 112;
    const bool experienced = q.years && *q.years >= 3;
    auto& why = p.reasons;
    if (q.longWinterRides == false && q.lastsDistance == true && experienced && !early) {
        p.order = Order::IntensityFirst;
        why.push_back(
            phrase("Intensity first: an experienced rider who lasts the distance already and does not want "
                   "long winter rides keeps the sharp work for the winter and adds hours towards %1",
                   std::string(late ? phrase("a late race.") : phrase("the race."))));
    } else if (early) {
        p.order = q.lastsDistance == true ? Order::Mixed : Order::BaseFirst;
        why.push_back(q.lastsDistance == true ? phrase("Mixed: the race is early, and the rider lasts its "
                                                       "distance already; there is no time for "
                                                       "a "
                                                       "long base before the sharp work.")
                                              : phrase("Base first: the race is early, and the distance is "
                                                       "not there yet; endurance comes before "
                                                       "anything else."));
    } else if (q.weakness == Questions::Weakness::Speed && q.lastsDistance == true) {
        p.order = Order::Mixed;
        why.push_back(phrase(
            "Mixed: speed is the weakness and the distance is there, so two hard days a week are kept from "
            "the second month on."));
    } else {
        why.push_back(q.lastsDistance == false
                          ? phrase("Base first: the rider does not last the distance yet.")
                          : phrase("Base first: the default, and the order with the most good "
                                   "responders (Sylta et al. 2016)."));
    }
    proposeSchool(q, p);
    return p;
}

double highMinutes(const Rules& rules, double hoursAWeek) {
    const Bands split = phaseSplit(rules, Phase::Build, Demand::Unstated);
    return 60 * std::min(split.high * hoursAWeek, highHoursPerHardDay * rules.hardDays);
}

} // namespace marram
