// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/against.h"
#include "core/ride/efforts.h"
#include "core/ride/power.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace marram {
namespace {

constexpr double nineInTen = 1.645; ///< standard deviations

/// Stretches of work as they follow each other without a rest.
std::vector<Repetition> meantOf(const SessionFigures& figures, double threshold) {
    std::vector<Repetition> all;
    int at = 0;
    bool open = false;
    for (size_t i = 0; i < figures.steps.size(); ++i) {
        const UnfoldedStep& s = figures.steps[i];
        if (s.work && open && all.back().set == s.set) {
            Repetition& r = all.back();
            const double sum = r.target * r.seconds + threshold * meanTarget(s.step) * s.step.seconds;
            r.seconds += s.step.seconds;
            r.target = sum / r.seconds;
        } else if (s.work) {
            Repetition r;
            r.step = i;
            r.set = s.set;
            r.begins = at;
            r.seconds = s.step.seconds;
            r.target = threshold * meanTarget(s.step);
            r.allOut = s.step.kind == TargetKind::AllOut;
            all.push_back(r);
        }
        open = s.work;
        at += s.step.seconds;
    }
    return all;
}

struct Candidate {
    Stretch span;
    double power = 0;
    int riddenBefore = 0; ///< s recorded before it, stops left out
};

/// Seconds recorded before each second of a ride.
std::vector<int> riddenBefore(const Ride& ride) {
    std::vector<int> all(static_cast<size_t>(ride.elapsed()) + 1, 0);
    for (const Stretch& s : ride.stretches)
        for (int i = s.begin; i < s.end; ++i)
            all[static_cast<size_t>(i) + 1] = 1;
    for (size_t i = 1; i < all.size(); ++i)
        all[i] += all[i - 1];
    return all;
}

double meanPower(const Ride& ride, Stretch s) {
    double sum = 0;
    int seconds = 0;
    for (int i = std::max(0, s.begin); i < std::min(s.end, ride.elapsed()); ++i) {
        const float p = ride.power[static_cast<size_t>(i)];
        sum += std::isnan(p) ? 0 : p;
        ++seconds;
    }
    return seconds > 0 ? sum / seconds : 0;
}

/// Efforts, and neighbours with little between them as one.
std::vector<Candidate> candidatesOf(const Ride& ride, Watts threshold, const std::vector<int>& ridden) {
    constexpr int shortBreak = 20;
    constexpr size_t mostJoined = 12;
    const Efforts efforts = findEfforts(ride, threshold);
    std::vector<Candidate> all;
    for (size_t i = 0; i < efforts.all.size(); ++i) {
        Stretch span = efforts.all[i].span;
        for (size_t j = i; j < efforts.all.size() && j < i + mostJoined; ++j) {
            if (j > i && efforts.all[j].span.begin - span.end > shortBreak)
                break;
            span.end = efforts.all[j].span.end;
            all.push_back({span, meanPower(ride, span), ridden[static_cast<size_t>(span.begin)]});
        }
    }
    std::sort(all.begin(), all.end(), [](const Candidate& a, const Candidate& b) {
        return std::pair(a.span.end, a.span.begin) < std::pair(b.span.end, b.span.begin);
    });
    return all;
}

/// How well an effort is the repetition meant; nothing where it is another thing.
double likeness(const Repetition& r, const Candidate& c) {
    const double length = std::log(1.0 * c.span.length() / r.seconds);
    const double power = std::log(std::max(1.0, c.power) / std::max(1.0, r.target));
    const double off = r.allOut ? std::max(0.0, -power) : std::abs(power);
    // Of like ones the one at its time: a rider who sets out ten minutes late still rides the session.
    const double late = std::min(1.0, std::abs(c.riddenBefore - r.begins) / 600.0);
    return 1 - 0.7 * std::abs(length) - 2.5 * off - 0.2 * late;
}

/// The matching of most likeness that keeps the order: by dynamic programming over repetitions and efforts.
void match(std::vector<Repetition>& meant, const std::vector<Candidate>& found) {
    const size_t n = meant.size(), m = found.size();
    std::vector<size_t> before(m); // candidates that end before one begins
    for (size_t j = 0; j < m; ++j)
        before[j] = static_cast<size_t>(
            std::upper_bound(found.begin(), found.end(), found[j].span.begin,
                             [](int begin, const Candidate& c) { return begin < c.span.end; }) -
            found.begin());
    std::vector<std::vector<double>> best(n + 1, std::vector<double>(m + 1, 0));
    for (size_t i = 1; i <= n; ++i)
        for (size_t j = 1; j <= m; ++j) {
            best[i][j] = std::max(best[i - 1][j], best[i][j - 1]);
            if (const double like = likeness(meant[i - 1], found[j - 1]); like > 0)
                best[i][j] = std::max(best[i][j], like + best[i - 1][std::min(before[j - 1], j - 1)]);
        }
    for (size_t i = n, j = m; i > 0 && j > 0;) {
        if (best[i][j] == best[i][j - 1])
            --j;
        else if (best[i][j] == best[i - 1][j])
            --i;
        else {
            meant[i - 1].found = found[j - 1].span;
            meant[i - 1].power = found[j - 1].power;
            --i;
            j = std::min(before[j - 1], j - 1);
        }
    }
}

/// Mean over the seconds [from, to) of what `sums` adds up.
double meanOf(const std::vector<double>& sums, int from, int to) {
    return to > from ? (sums[static_cast<size_t>(to)] - sums[static_cast<size_t>(from)]) / (to - from) : 0;
}

/// The stretch of some length with most power that begins between `from` and `to`.
Candidate bestWindow(const std::vector<double>& sums, int length, int from, int to) {
    const int last = static_cast<int>(sums.size()) - 1 - length;
    Candidate best{{0, 0}, -1, 0};
    for (int b = std::max(0, from); b <= std::min(to, last); ++b) {
        const double mean = meanOf(sums, b, b + length);
        if (mean > best.power)
            best = {{b, b + length}, mean, 0};
    }
    return best;
}

/// Whether a stretch was ridden through: hardly any half minute of it far under the target.
bool through(const std::vector<double>& sums, Stretch span, double target) {
    constexpr int half = 30;
    int low = 0, all = 0;
    for (int t = span.begin; t + half <= span.end; t += 10, ++all)
        low += meanOf(sums, t, t + half) < 0.75 * target ? 1 : 0;
    return all == 0 || low <= 0.1 * all;
}

/// Where a repetition may lie between those found around it, and where it would by their times.
struct Between {
    int after = 0, before = 0;
    std::optional<int> expected;
};

Between betweenFound(const std::vector<Repetition>& all, size_t i, int elapsed) {
    Between b{0, elapsed, {}};
    for (size_t j = i; j-- > 0 && !b.expected;)
        if (all[j].found) {
            b.after = all[j].found->end;
            b.expected = all[j].found->begin + all[i].begins - all[j].begins;
        }
    for (size_t j = i + 1; j < all.size(); ++j)
        if (all[j].found) {
            b.before = all[j].found->begin;
            if (!b.expected)
                b.expected = b.before - (all[j].begins - all[i].begins);
            break;
        }
    return b;
}

/// A second lost at either edge weighs in a short one.
void shiftShort(const std::vector<double>& sums, const Between& b, Repetition& r) {
    const Candidate there = bestWindow(sums, r.seconds, std::max(b.after, r.found->begin - 3),
                                       std::min(r.found->end + 3 - r.seconds, b.before - r.seconds));
    if (there.power >= r.power) {
        r.found = there.span;
        r.power = there.power;
    }
}

/// What a dip cut short is taken at its full length where the rest of it was ridden alike.
void takeWhole(const std::vector<double>& sums, const Between& b, Repetition& r) {
    constexpr double alike = 0.97;
    const Candidate whole = bestWindow(sums, r.seconds, std::max(b.after, r.found->end - r.seconds),
                                       std::min(r.found->begin, b.before - r.seconds));
    if (whole.power >= alike * std::min(r.power, r.target) && through(sums, whole.span, r.target)) {
        r.found = whole.span;
        r.power = whole.power;
    }
}

/// What no effort stood out for is looked for where it should have been, between its neighbours.
void lookFor(const std::vector<double>& sums, const Between& b, Repetition& r) {
    constexpr double near = 0.90;
    const int around = std::max(60, r.seconds / 2), at = b.expected.value_or(r.begins);
    Candidate there = bestWindow(sums, r.seconds, std::max(b.after, at - around),
                                 std::min(at + around, b.before - r.seconds));
    if (there.power < near * r.target) // a stop between moves it on
        there = bestWindow(sums, r.seconds, b.after, std::min(at + 900, b.before - r.seconds));
    // Far under its target it still stands out from what lies round it.
    const int elapsed = static_cast<int>(sums.size()) - 1;
    const auto round = [&](int from, int to) {
        from = std::clamp(from, 0, elapsed);
        to = std::clamp(to, 0, elapsed);
        return to - from < 20 ? 0.0 : meanOf(sums, from, to);
    };
    const bool stands = there.power >= 0.72 * r.target &&
                        there.power >= 1.2 * std::max(round(there.span.begin - 60, there.span.begin),
                                                      round(there.span.end, there.span.end + 60));
    if ((there.power >= near * r.target || stands) &&
        through(sums, there.span, std::min(r.target, there.power))) {
        r.found = there.span;
        r.power = there.power;
    }
}

void complete(const Ride& ride, std::vector<Repetition>& all) {
    std::vector<double> sums(static_cast<size_t>(ride.elapsed()) + 1, 0);
    for (size_t i = 0; i + 1 < sums.size(); ++i)
        sums[i + 1] = sums[i] + (std::isnan(ride.power[i]) ? 0 : ride.power[i]);
    for (size_t i = 0; i < all.size(); ++i) {
        Repetition& r = all[i];
        const Between between = betweenFound(all, i, ride.elapsed());
        if (!r.found)
            lookFor(sums, between, r);
        else if (r.seconds <= 120 && r.found->length() >= r.seconds - 3)
            shiftShort(sums, between, r);
        else if (r.found->length() < r.seconds)
            takeWhole(sums, between, r);
    }
}

void describe(const Ride& ride, Repetition& r, double under) {
    const Stretch s = *r.found;
    const int begin = std::max(0, s.begin), end = std::min(s.end, ride.elapsed());
    double sum = 0;
    for (int i = begin; i < end; ++i) {
        const float p = ride.power[static_cast<size_t>(i)];
        sum += std::isnan(p) ? 0 : p;
        constexpr int smooth = 10;
        if (i - smooth >= begin) {
            const float out = ride.power[static_cast<size_t>(i - smooth)];
            sum -= std::isnan(out) ? 0 : out;
        }
        r.inTarget += sum / std::min(smooth, i - begin + 1) >= 0.97 * r.target ? 1 : 0;
    }
    const int middle = (begin + end) / 2;
    if (const double first = meanPower(ride, {begin, middle}); first > 0)
        r.fade = 100 * (1 - meanPower(ride, {middle, end}) / first);
    const SpanFigures f = figuresOver(ride, s);
    r.heartRate = f.meanHeartRate;
    r.cadence = f.cadence;
    // A second or two at the edges weigh more in a short one.
    const double least = (1 - under - (r.seconds < 60 ? 0.03 : 0)) * r.target;
    r.done = s.length() >= 0.9 * r.seconds && (r.allOut || r.power >= least);
}

/// Of families that end under a power of their own, W.
std::optional<double> stopFloor(const std::string& family, double threshold) {
    if (family == "aerobic ceiling long" || family == "hard starts")
        return 1.05 * threshold;
    if (family == "race starts")
        return 1.05 * threshold * 0.952;
    return {};
}

/// Whether by this repetition most of its set lie under their targets.
bool mostOfSetLow(const std::vector<Repetition>& all, size_t i) {
    int reps = 0, low = 0;
    for (size_t k = 0; k < all.size(); ++k)
        if (all[k].set == all[i].set) {
            ++reps;
            low += k <= i && all[k].found && all[k].power < 0.97 * all[k].target ? 1 : 0;
        }
    return 2 * low > reps;
}

const Repetition& firstFound(const std::vector<Repetition>& all) {
    return *std::find_if(all.begin(), all.end(), [](const Repetition& o) { return o.found; });
}

/// The repetition in which the family's rule should have ended the session.
std::optional<size_t> stopOf(const std::vector<Repetition>& all, const std::string& family,
                             double threshold) {
    const double under = stopsUnder(family);
    const std::optional<double> floor = stopFloor(family, threshold);
    const int allowed = family == "aerobic ceiling long" ? 2 : 1;
    int fell = 0;
    double best = 0;
    for (size_t i = 0; i < all.size(); ++i) {
        const Repetition& r = all[i];
        if (!r.found)
            continue;
        best = std::max(best, r.power);
        double least = (1 - under) * r.target;
        if (floor) {
            least = *floor;
        } else if (family == "aerobic ceiling short") {
            if (mostOfSetLow(all, i))
                return i;
            continue;
        } else if (family == "sprints" || family == "jumps and sprints") {
            least = (1 - under) * best;
        } else if (family == "above maximal aerobic") {
            least = (1 - under) * firstFound(all).power;
        }
        if (r.power < least && ++fell >= allowed)
            return i;
    }
    return std::nullopt;
}

std::string percent(double part) {
    return std::to_string(std::lround(100 * part)) + " %";
}

} // namespace

const char* wordOf(Volume v) {
    return v == Volume::AsMeant   ? marked("as meant")
           : v == Volume::Shorter ? marked("shorter")
                                  : marked("longer");
}

const char* wordOf(Content c) {
    switch (c) {
    case Content::Easier:
        return marked("easier");
    case Content::Harder:
        return marked("harder");
    case Content::Other:
        return marked("other");
    case Content::AsMeant:
        break;
    }
    return marked("as meant");
}

std::string wordsFor(const Against& a) {
    if (a.volume == Volume::AsMeant)
        return translated(wordOf(a.content));
    const std::string volume = translated(wordOf(a.volume));
    return a.content == Content::AsMeant ? volume : volume + ", " + translated(wordOf(a.content));
}

std::optional<SessionMark> markOf(const Against& against, const Ride& ride) {
    SessionMark mark;
    double seconds = 0, beats = 0, beatSeconds = 0, first = 0, last = 0;
    mark.of = static_cast<int>(against.repetitions.size());
    for (const Repetition& r : against.repetitions) {
        if (!r.found || r.power <= 0)
            continue;
        ++mark.found;
        mark.power += r.power * r.seconds;
        seconds += r.seconds;
        if (r.heartRate) {
            beats += *r.heartRate * r.seconds;
            beatSeconds += r.seconds;
        }
        first = first > 0 ? first : r.power;
        last = r.power;
    }
    if (mark.found == 0 || seconds <= 0)
        return std::nullopt;
    mark.power /= seconds;
    if (beatSeconds >= 0.8 * seconds)
        mark.heartRate = beats / beatSeconds;
    mark.fade = mark.found > 1 ? 100 * (first - last) / first : 0;
    double warmth = 0;
    int warm = 0;
    for (const float t : ride.temperature)
        if (t > -40 && t < 60) { // never where it is missing
            warmth += static_cast<double>(t);
            ++warm;
        }
    if (warm > 0)
        mark.temperature = warmth / warm;
    return mark;
}

double stopsUnder(const std::string& family) {
    if (family == "just above threshold")
        return 0.06;
    if (family == "late efforts" || family == "sprints" || family == "jumps and sprints")
        return 0.08;
    if (family == "above maximal aerobic")
        return 0.10;
    return 0.05;
}

namespace {

/// Lays the repetitions that were meant on what was ridden and judges the content by them; how many were
/// done.
size_t layRepetitions(const Ride& ride, const std::string& family, Watts threshold, double usual,
                      Against& a) {
    match(a.repetitions, candidatesOf(ride, threshold, riddenBefore(ride)));
    complete(ride, a.repetitions);
    size_t found = 0, done = 0;
    double asked = 0, got = 0;
    for (Repetition& r : a.repetitions) {
        if (r.found) {
            describe(ride, r, stopsUnder(family));
            ++found;
            got += std::min(1.0 * r.found->length(), 1.1 * r.seconds) *
                   (r.allOut ? 1 : std::min(1.3, r.power / r.target));
        }
        done += r.done ? 1 : 0;
        asked += r.seconds;
    }
    const double whole = a.contentRatio;
    a.contentRatio = asked > 0 ? got / asked : 1;
    // Another ride than the one meant: there was time for the work, it was about as hard over all or harder,
    // and the work is not in it.
    const Repetition& middle = a.repetitions[a.repetitions.size() / 2];
    if (2 * found < a.repetitions.size() && ride.recorded() > middle.begins + middle.seconds &&
        std::log(std::max(0.01, whole)) > -nineInTen * usual)
        a.content = Content::Other;
    a.stopAt = stopOf(a.repetitions, family, threshold.value);
    return done;
}

/// Over, under or within nine in ten of what a rider's rides vary by.
int judged(double ratio, double deviation) {
    const double off = std::log(std::max(0.01, ratio));
    return off > nineInTen * deviation ? 1 : off < -nineInTen * deviation ? -1 : 0;
}

void sayAgainst(const PlanSpread& spread, double usual, bool judgeable, size_t done, Against& a) {
    const std::string by = spread.days > 0 ? phrase("this rider's rides usually vary by ")
                                           : phrase("few rides of this rider tell; taken as usual is ");
    a.sentences.push_back(phrase("Volume %1: %2 of the time (%3%4).", translated(wordOf(a.volume)),
                                 percent(a.volumeRatio), by, percent(spread.volume)));
    a.sentences.push_back(
        !judgeable
            ? phrase(
                  "Content can't be told: there is nothing to go by. The rung is taken by its length alone.")
            : phrase("Content %1: %2 (%3%4).", translated(wordOf(a.content)),
                     (a.repetitions.empty()
                          ? phrase("%1 of the intensity", percent(a.contentRatio))
                          : phrase("%1 of %2 done as meant, %3 of the work",
                                   counted(static_cast<long>(done), "%1 repetition", "%1 repetitions",
                                           static_cast<int>(done)),
                                   std::to_string(a.repetitions.size()), percent(a.contentRatio))),
                     by, percent(usual)));
    if (a.stopAt)
        a.sentences.push_back(phrase("By its stop rule the session should have ended in repetition %1.",
                                     std::to_string(*a.stopAt + 1)));
}

/// Ridden at nearly its length and its target.
bool halfDone(const Repetition& r) {
    return r.found && !r.done && r.found->length() >= 0.8 * r.seconds && r.power >= 0.85 * r.target;
}

RungVerdict verdictOn(const Against& a, size_t done, bool judgeable) {
    if (a.repetitions.empty())
        return a.volume == Volume::Shorter || (judgeable && a.content == Content::Easier)
                   ? RungVerdict::Repeat
                   : RungVerdict::Passed;
    double credit = static_cast<double>(done);
    for (const Repetition& r : a.repetitions)
        credit += halfDone(r) ? 0.5 : 0;
    const double part = credit / static_cast<double>(a.repetitions.size());
    const bool allButOne = a.repetitions.size() >= 6 && done + 1 >= a.repetitions.size();
    if (part >= 0.85 || allButOne)
        return RungVerdict::Passed;
    // A ride cut short, or another one, says nothing of what its rung asks.
    return part >= 0.5 || a.volume == Volume::Shorter || a.content == Content::Other ? RungVerdict::Repeat
                                                                                     : RungVerdict::Ease;
}

} // namespace

/// By the sign of what was judged.
template <typename T>
static T oneOf(int judged, T under, T as, T over) {
    return judged > 0 ? over : judged < 0 ? under : as;
}

static std::string verdictSentence(RungVerdict verdict) {
    if (verdict == RungVerdict::Passed)
        return phrase("The rung is passed: the next one may follow.");
    return verdict == RungVerdict::Repeat
               ? phrase("The rung is repeated: not enough of it was done to go on.")
               : phrase("The rung is eased: less than half of it was done as meant.");
}

Against layOver(const Ride& ride, const Session& session, const std::string& family, Watts threshold,
                double lowThreshold, const PlanSpread& spread, std::optional<double> relativeIntensity) {
    const SessionFigures figures = figuresOf(session, lowThreshold);
    Against a;
    const bool power = ride.hasPower && threshold.value > 0;
    // What heart rate or effort say of a ride is less certain than power.
    const double usual = power ? spread.content : std::max(usualSpread.content, spread.content);
    a.volumeRatio = figures.seconds > 0 ? 1.0 * ride.recorded() / figures.seconds : 1;
    const double meant =
        figures.seconds > 0 ? std::sqrt(figures.stress / 100 / (figures.seconds / 3600.0)) : 0;
    if (power && !relativeIntensity)
        if (const double equivalent = equivalentPower(ride.power, ride.stretches); equivalent > 0)
            relativeIntensity = equivalent / threshold.value;
    if (meant > 0 && relativeIntensity && *relativeIntensity > 0)
        a.contentRatio = *relativeIntensity / meant;
    if (power)
        a.repetitions = meantOf(figures, threshold.value);
    const size_t done = a.repetitions.empty() ? 0 : layRepetitions(ride, family, threshold, usual, a);
    const int v = judged(a.volumeRatio, spread.volume), c = judged(a.contentRatio, usual);
    a.volume = oneOf(v, Volume::Shorter, Volume::AsMeant, Volume::Longer);
    if (a.content != Content::Other)
        a.content = oneOf(c, Content::Easier, Content::AsMeant, Content::Harder);
    const bool judgeable = power || relativeIntensity;
    sayAgainst(spread, usual, judgeable, done, a);
    // The rung.
    a.verdict = verdictOn(a, done, judgeable);
    a.sentences.emplace_back(verdictSentence(a.verdict));
    return a;
}

} // namespace marram
