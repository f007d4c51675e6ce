// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/response.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <random>

namespace marram {
namespace {

constexpr int fitnessGrid = 26, fatigueGrid = 20;
constexpr double driftDays = 45;
constexpr std::array noises{1.6, 2.1, 2.7, 3.4};
constexpr std::array drifts{0.0, 1.0, 2.0};
constexpr double usualFitness = 0.20, usualFatigue = 0.09;
constexpr int lookAhead = 28; ///< days a forecast looks ahead at least
constexpr int leastResults = 10;
constexpr int draws = 4000;

/// Mean and covariance of level, g_F, g_A and drift.
struct State {
    std::array<double, 4> mean{};
    std::array<std::array<double, 4>, 4> cov{};
};

State prior(double drift, bool gains) {
    State s;
    s.mean = {100, gains ? 0.20 : 0, gains ? 0.09 : 0, 0};
    s.cov[0][0] = 15 * 15;
    s.cov[1][1] = gains ? 0.10 * 0.10 : 0;
    s.cov[2][2] = gains ? 0.06 * 0.06 : 0;
    s.cov[3][3] = drift * drift;
    return s;
}

/// The drift forgets itself over some days.
void pass(State& s, double days, double drift) {
    const double keep = std::exp(-days / driftDays);
    s.mean[3] *= keep;
    for (size_t i = 0; i < 3; ++i)
        s.cov[i][3] = s.cov[3][i] = keep * s.cov[i][3];
    s.cov[3][3] = keep * keep * s.cov[3][3] + (1 - keep * keep) * drift * drift;
}

struct Seen {
    double fitness = 0, fatigue = 0;
};

/// Takes a result in; returns its log evidence.
double see(State& s, const Seen& x, double y, double noise, double fixed) {
    const std::array<double, 4> h{1, x.fitness, -x.fatigue, 1};
    std::array<double, 4> ph{};
    for (size_t i = 0; i < 4; ++i)
        for (size_t j = 0; j < 4; ++j)
            ph[i] += s.cov[i][j] * h[j];
    double variance = noise * noise, expected = fixed;
    for (size_t i = 0; i < 4; ++i) {
        variance += h[i] * ph[i];
        expected += h[i] * s.mean[i];
    }
    const double off = y - expected;
    for (size_t i = 0; i < 4; ++i)
        s.mean[i] += ph[i] * off / variance;
    for (size_t i = 0; i < 4; ++i)
        for (size_t j = 0; j < 4; ++j)
            s.cov[i][j] -= ph[i] * ph[j] / variance;
    return -0.5 * (std::log(variance) + off * off / variance);
}

double logNormal(double x, double median, double spread) {
    const double z = std::log(x / median) / spread;
    return -0.5 * z * z;
}

std::vector<double> logSpaced(double from, double to, int count) {
    std::vector<double> all;
    all.reserve(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i)
        all.push_back(from * std::pow(to / from, static_cast<double>(i) / (count - 1)));
    return all;
}

Banded bandOf(std::vector<double> values, double factor = 1) {
    std::sort(values.begin(), values.end());
    const auto at = [&](double share) {
        const double place = share * static_cast<double>(values.size() - 1);
        const auto below = static_cast<size_t>(place);
        const size_t above = std::min(below + 1, values.size() - 1);
        return values[below] + (place - static_cast<double>(below)) * (values[above] - values[below]);
    };
    double sum = 0;
    for (const double v : values)
        sum += v;
    return {factor * sum / static_cast<double>(values.size()), factor * at(0.1), factor * at(0.9)};
}

/// Everything that is asked of the record, on one scale: results in per cent of their mean.
class Learner {
public:
    Learner(const std::map<Date, double>& daily, const std::vector<TestPoint>& results,
            const std::vector<Date>& at)
        : results_(results), at_(at) {
        first_ = daily.begin()->first;
        for (Date d = first_; d <= daily.rbegin()->first; d = d + 1) {
            const auto found = daily.find(d);
            stress_.push_back(found == daily.end() ? 0 : found->second);
        }
        double early = 0;
        const size_t days = std::min<size_t>(42, stress_.size());
        for (size_t i = 0; i < days; ++i)
            early += stress_[i] / static_cast<double>(days);
        settled_ = early;
        for (const TestPoint& r : results)
            mean_ += r.value / static_cast<double>(results.size());
        for (const TestPoint& r : results)
            y_.push_back(100 * r.value / mean_);
        for (size_t i = 0; i < y_.size(); ++i) {
            size_t known = 0;
            while (known < y_.size() && results[known].day <= results[i].day - lookAhead)
                ++known;
            known_.push_back(known);
        }
    }

    Response run(std::uint64_t seed) {
        const auto fitness = logSpaced(15, 110, fitnessGrid), fatigue = logSpaced(2, 26, fatigueGrid);
        std::vector<std::vector<double>> ofFitness, ofFatigue;
        for (const double tau : fitness)
            ofFitness.push_back(morning(tau));
        for (const double tau : fatigue)
            ofFatigue.push_back(morning(tau));
        Mixture learnt(y_.size());
        for (size_t f = 0; f < fitness.size(); ++f)
            for (size_t a = 0; a < fatigue.size(); ++a) {
                if (fitness[f] < 1.5 * fatigue[a])
                    continue;
                const double weight = logNormal(fitness[f], 40, 0.4) + logNormal(fatigue[a], 9, 0.5);
                for (const double noise : noises)
                    for (const double drift : drifts)
                        learnt.add(filter(ofFitness[f], ofFatigue[a], noise, drift, true, 0, 0), weight,
                                   {f, a, noise, drift});
            }
        Response r;
        sample(learnt, ofFitness, ofFatigue, seed, r);
        judge(learnt, r);
        return r;
    }

private:
    struct Constants {
        size_t fitness = 0, fatigue = 0;
        double noise = 0, drift = 0;
    };
    /// One filter run: its end, its evidence, and what it forecast of every result.
    struct Run {
        State end;
        Date last;
        std::vector<double> evidence; ///< log, after so many results
        std::vector<double> forecast; ///< of each result, from what was known 28 days before
        std::vector<double> lean;     ///< what is left of the drift by then
        std::vector<double> variance; ///< of forecast and lean together, a result's noise in it
    };
    struct Mixture {
        explicit Mixture(size_t n) : count(n) {}
        void add(Run run, double weight, const Constants& c) {
            runs.push_back(std::move(run));
            priors.push_back(weight);
            constants.push_back(c);
        }
        /// Weights of the runs after so many results.
        std::vector<double> weights(size_t known) const {
            std::vector<double> w(runs.size());
            double most = -1e300, sum = 0;
            for (size_t i = 0; i < runs.size(); ++i)
                most = std::max(most, w[i] = priors[i] + runs[i].evidence[known]);
            for (double& each : w)
                sum += each = std::exp(each - most);
            for (double& each : w)
                each /= sum;
            return w;
        }
        size_t count;
        std::vector<Run> runs;
        std::vector<double> priors;
        std::vector<Constants> constants;
    };

    /// Weighted mean of the stress before each morning, from the settled start.
    std::vector<double> morning(double tau) const {
        const double keep = std::exp(-1 / tau);
        std::vector<double> all{settled_};
        for (const double s : stress_)
            all.push_back(keep * all.back() + (1 - keep) * s);
        return all;
    }
    size_t placeOf(Date day) const { return static_cast<size_t>(day - first_); }

    Run filter(const std::vector<double>& fitness, const std::vector<double>& fatigue, double noise,
               double drift, bool gains, double fixedFitness, double fixedFatigue) const {
        Run run;
        State s = prior(drift, gains);
        std::vector<State> after{s};
        run.evidence.push_back(0);
        Date last = results_.empty() ? first_ : results_.front().day;
        const auto seenOn = [&](Date day) {
            const size_t p = placeOf(day);
            return Seen{fitness[p], fatigue[p]};
        };
        const auto fixedOn = [&](const Seen& x) {
            return fixedFitness * x.fitness - fixedFatigue * x.fatigue;
        };
        for (size_t i = 0; i < y_.size(); ++i) {
            pass(s, results_[i].day - last, drift);
            last = results_[i].day;
            const Seen x = seenOn(last);
            run.evidence.push_back(run.evidence.back() + see(s, x, y_[i], noise, fixedOn(x)));
            after.push_back(s);
        }
        for (size_t i = 0; i < y_.size(); ++i) {
            const State& known = after[known_[i]];
            const Seen x = seenOn(results_[i].day);
            run.forecast.push_back(known.mean[0] + known.mean[1] * x.fitness - known.mean[2] * x.fatigue +
                                   fixedOn(x));
            // The drift of then has mostly been forgotten by the day of the result.
            const double keep =
                known_[i] > 0 ? std::exp(-(results_[i].day - results_[known_[i] - 1].day) / driftDays) : 0;
            const std::array<double, 4> h{1, x.fitness, -x.fatigue, keep};
            double variance = noise * noise + (1 - keep * keep) * drift * drift;
            for (size_t a = 0; a < 4; ++a)
                for (size_t b = 0; b < 4; ++b)
                    variance += h[a] * known.cov[a][b] * h[b];
            run.lean.push_back(keep * known.mean[3]);
            run.variance.push_back(variance);
        }
        run.end = s;
        run.last = last;
        return run;
    }

    void sample(const Mixture& learnt, const std::vector<std::vector<double>>& ofFitness,
                const std::vector<std::vector<double>>& ofFatigue, std::uint64_t seed, Response& r) const {
        const std::vector<double> w = learnt.weights(y_.size());
        std::mt19937_64 dice(seed);
        std::normal_distribution<double> normal;
        std::discrete_distribution<size_t> pick(w.begin(), w.end());
        std::vector<double> gf, ga;
        std::vector<std::vector<double>> able(at_.size()), shown(at_.size());
        for (int n = 0, tries = 0; n < draws && tries < 40 * draws; ++tries) {
            const size_t i = pick(dice);
            const State& s = learnt.runs[i].end;
            // Of level and gains alone, by Cholesky.
            std::array<std::array<double, 3>, 3> l{};
            for (size_t a = 0; a < 3; ++a)
                for (size_t b = 0; b <= a; ++b) {
                    double sum = s.cov[a][b];
                    for (size_t k = 0; k < b; ++k)
                        sum -= l[a][k] * l[b][k];
                    l[a][b] = a == b ? std::sqrt(std::max(1e-12, sum)) : sum / l[b][b];
                }
            std::array<double, 3> z{normal(dice), normal(dice), normal(dice)}, v{};
            for (size_t a = 0; a < 3; ++a) {
                v[a] = s.mean[a];
                for (size_t b = 0; b <= a; ++b)
                    v[a] += l[a][b] * z[b];
            }
            if (v[1] <= 0 || v[2] <= 0)
                continue; // both gains are positive
            ++n;
            gf.push_back(v[1]);
            ga.push_back(v[2]);
            const Constants& c = learnt.constants[i];
            for (size_t k = 0; k < at_.size(); ++k) {
                const size_t p = placeOf(at_[k]);
                const double can = v[0] + v[1] * ofFitness[c.fitness][p] - v[2] * ofFatigue[c.fatigue][p];
                able[k].push_back(can);
                shown[k].push_back(can + c.noise * normal(dice) + c.drift * normal(dice));
            }
        }
        if (gf.empty()) {
            gf = {usualFitness};
            ga = {usualFatigue};
        }
        r.gainFitness = bandOf(gf);
        r.gainFatigue = bandOf(ga);
        for (size_t k = 0; k < at_.size(); ++k)
            if (!able[k].empty())
                r.forecasts.push_back({at_[k], bandOf(able[k], mean_ / 100), bandOf(shown[k], mean_ / 100)});
    }

    /// Forecasts of one kind, mixed by what was known when each was made. What is left of the drift is in all
    /// kinds alike: without it a rider with the usual gains was told apart from them in 13 to 25 of 100.
    std::vector<double> forecastsOf(const Mixture& m) const {
        std::vector<double> all(y_.size(), 0);
        for (size_t i = 0; i < y_.size(); ++i) {
            const std::vector<double> w = i > 0 && known_[i] == known_[i - 1] ? last_ : m.weights(known_[i]);
            for (size_t run = 0; run < m.runs.size(); ++run)
                all[i] += w[run] * (m.runs[run].forecast[i] + m.runs[run].lean[i]);
            last_ = w;
        }
        return all;
    }

    /// The spread of a mixture is that of its runs and that between them.
    void past(const Mixture& learnt, Response& r) const {
        constexpr double ninety = 1.2815515655446004; // standard normal, 80 % between
        std::vector<double> w;
        for (size_t i = 0; i < y_.size(); ++i) {
            if (known_[i] < 2)
                continue;
            if (w.empty() || known_[i] != known_[i - 1])
                w = learnt.weights(known_[i]);
            double mean = 0, square = 0;
            for (size_t run = 0; run < learnt.runs.size(); ++run) {
                const Run& one = learnt.runs[run];
                const double m = one.forecast[i] + one.lean[i];
                mean += w[run] * m;
                square += w[run] * (one.variance[i] + m * m);
            }
            const double half = ninety * std::sqrt(std::max(0.0, square - mean * mean)), unit = mean_ / 100;
            r.past.push_back({results_[i].day,
                              results_[i].value,
                              {unit * mean, unit * (mean - half), unit * (mean + half)}});
        }
    }

    void judge(const Mixture& learnt, Response& r) {
        Mixture none(y_.size()), usual(y_.size());
        const std::vector<double> f = morning(42), a = morning(7);
        for (const double noise : noises)
            for (const double drift : drifts) {
                none.add(filter(f, a, noise, drift, false, 0, 0), 0, {});
                usual.add(filter(f, a, noise, drift, false, usualFitness, usualFatigue), 0, {});
            }
        const auto byNone = forecastsOf(none), byUsual = forecastsOf(usual), byLearnt = forecastsOf(learnt);
        double n = 0, offNone = 0, offUsual = 0, offLearnt = 0, apart = 0;
        for (size_t i = 0; i < y_.size(); ++i) {
            if (known_[i] < 2)
                continue; // nothing lay before it
            ++n;
            offNone += std::pow(byNone[i] - y_[i], 2);
            offUsual += std::pow(byUsual[i] - y_[i], 2);
            offLearnt += std::pow(byLearnt[i] - y_[i], 2);
            apart += std::pow(byLearnt[i] - byUsual[i], 2);
        }
        past(learnt, r);
        r.score.results = static_cast<int>(n);
        if (n > 0) {
            r.score.noChange = std::sqrt(offNone / n);
            r.score.usualGains = std::sqrt(offUsual / n);
            r.score.learnt = std::sqrt(offLearnt / n);
        }
        r.enough = n >= leastResults && offUsual - offLearnt >= 0.1 * apart && apart > 0;
        const auto number = [](double v) { return fixedText(v, 2); };
        if (n < leastResults)
            r.why = phrase("Cannot tell yet: %1 results could be forecast from what lay %2 days before them; "
                           "ten would tell.",
                           std::to_string(r.score.results), std::to_string(lookAhead));
        else if (!r.enough)
            r.why =
                phrase("Cannot tell yet: over %1 results what was learnt missed by %2 %, the usual gains by "
                       "%3 %; more tests at very different fitness would tell.",
                       std::to_string(r.score.results), number(r.score.learnt), number(r.score.usualGains));
        else
            r.why = phrase("Over %1 results what was learnt missed by %2 %, the usual gains by %3 %, no "
                           "change at all by %4 %.",
                           std::to_string(r.score.results), number(r.score.learnt),
                           number(r.score.usualGains), number(r.score.noChange));
    }

    const std::vector<TestPoint>& results_;
    const std::vector<Date>& at_;
    Date first_;
    std::vector<double> stress_, y_;
    std::vector<size_t> known_; ///< results that lay far enough before each
    double settled_ = 0, mean_ = 0;
    mutable std::vector<double> last_;
};

} // namespace

Result<Response> learnResponse(const std::map<Date, double>& daily, std::vector<TestPoint> results,
                               const std::vector<Date>& at, std::uint64_t seed) {
    if (daily.empty())
        return refuse(phrase("holds no days"));
    if (results.size() < 3)
        return refuse(phrase("holds %1 results; at least 3 are needed", std::to_string(results.size())));
    std::stable_sort(results.begin(), results.end(),
                     [](const TestPoint& a, const TestPoint& b) { return a.day < b.day; });
    const Date first = daily.begin()->first, last = daily.rbegin()->first;
    for (const TestPoint& r : results) {
        if (r.day < first || r.day > last + 1)
            return refuse(phrase("a result of %1 lies outside the days, %2 to %3", isoText(r.day),
                                 isoText(first), isoText(last)));
        if (!(r.value > 0 && std::isfinite(r.value)))
            return refuse(phrase("the result of %1 must be over 0", isoText(r.day)));
    }
    for (const Date day : at)
        if (day < first || day > last + 1)
            return refuse(
                phrase("--at: nothing is planned up to %1; the days end on %2", isoText(day), isoText(last)));
    return Learner(daily, results, at).run(seed);
}

} // namespace marram
