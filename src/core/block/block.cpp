// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/block.h"
#include "core/block/broken.h"
#include "core/block/choose.h"
#include "core/block/compose.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr int easiest = 62, steadiest = 70; ///< % of threshold power, endurance
constexpr double withinStress = 0.03, withinShare = 0.03;
/// Points a week may miss by unsaid, however small it is: eight minutes of easy riding, which nobody plans
/// anew for.
constexpr double unfelt = 5;

int fives(double seconds) {
    return static_cast<int>(std::lround(seconds / fiveMinutes)) * fiveMinutes;
}

std::string lengthWords(int seconds) {
    Step s;
    s.seconds = seconds;
    const std::string text = writeShorthand(s);
    return text.substr(0, text.rfind(' '));
}

/// A day of the week while its lengths and the endurance in it are still open.
struct Slot {
    DaySlot day;
    const Pick* pick = nullptr; ///< work, for a hard day or one with tempo
    int seconds = 0;
    int percent = 65;
    int shortest = 0;
};

class WeekBuilder {
public:
    WeekBuilder(const Season& season, const WeekProblem& problem, const WeekChoice& choice,
                const FamilyBook& book)
        : season_(season), problem_(problem), choice_(choice), book_(book) {
        for (size_t d = 0; d < problem.days.size(); ++d) {
            const DaySlot& day = problem.days[d];
            if (!day.rides())
                continue;
            Slot s{day};
            if (choice.onDay[d])
                s.pick = &*choice.onDay[d];
            s.shortest =
                s.pick ? shortestWith(lyingOf(s.pick->family->name), s.pick->seconds, warmFor(s.pick->work))
                       : std::min(shortestRide, day.available);
            if (day.role == Role::Long && choice.longTempo > 0)
                s.shortest = choice.longTempo + 600 + 3600;
            if (day.role == Role::Openers)
                s.shortest = std::min(shortestOpeners, day.available);
            if (day.fixedLength) {
                s.seconds = s.shortest = static_cast<int>(std::lround(day.hours));
                slots_.push_back(s);
                continue;
            }
            s.seconds = std::clamp(fives(day.hours), std::min(s.shortest, day.available),
                                   std::max(day.available, s.shortest));
            if (day.role == Role::Openers)
                s.seconds = std::min(s.seconds, longestOpeners);
            slots_.push_back(s);
        }
    }

    void fit(double target) {
        // Days too short for a ride of their own leave their minutes to the others.
        double planned = 0;
        for (const DaySlot& d : problem_.days)
            planned += d.hours;
        for (int round = 0; round < 60; ++round) {
            const double most = stressAt(steadiest), least = stressAt(easiest);
            if (most < target * 0.995 && lengthen(planned))
                continue;
            if (least > target * 1.005 && shorten())
                continue;
            break;
        }
        // One percentage for all, then a percent more for as many as bring it nearest.
        int percent = easiest;
        while (percent < steadiest && stressAt(percent + 1) <= target)
            ++percent;
        set(percent);
        double nearest = std::abs(stress() - target);
        for (Slot& s : slots_) {
            if (s.percent >= steadiest)
                break;
            ++s.percent;
            const double now = std::abs(stress() - target);
            if (now >= nearest) {
                --s.percent;
                break;
            }
            nearest = now;
        }
    }

    std::vector<BlockSession> sessions() const {
        std::vector<BlockSession> all;
        for (const DaySlot& day : problem_.days)
            if (day.role == Role::Gym)
                all.push_back(gym(day));
        for (const Slot& s : slots_)
            all.push_back(made(s));
        std::stable_sort(all.begin(), all.end(),
                         [](const BlockSession& a, const BlockSession& b) { return a.date < b.date; });
        return all;
    }

private:
    void set(int percent) {
        for (Slot& s : slots_)
            s.percent = percent;
    }
    double stressAt(int percent) {
        set(percent);
        return stress();
    }
    double stress() const {
        double sum = 0;
        for (const Slot& s : slots_)
            sum += figuresOf(ride(s), season_.lowThreshold).stress;
        return sum;
    }
    double sumOfSlots() const {
        double sum = 0;
        for (const Slot& s : slots_)
            sum += s.day.hours;
        return sum;
    }
    double ridden() const {
        double sum = 0;
        for (const Slot& s : slots_)
            sum += s.seconds;
        return sum;
    }

    /// Five minutes more on the day with most room, up to a twentieth more than planned.
    bool lengthen(double planned) {
        Slot* most = nullptr;
        // The long ride first: it is what makes a rider last.
        const auto room = [](const Slot& s) {
            return s.day.available - s.seconds + (s.day.role == Role::Long ? 3600 : 0);
        };
        for (Slot& s : slots_)
            if (s.day.role != Role::Test && s.day.role != Role::Openers && !s.day.fixedLength &&
                s.seconds + fiveMinutes <= s.day.available && (!most || room(s) > room(*most)))
                most = &s;
        if (!most || ridden() + fiveMinutes > std::max(1.06 * planned, planned + leeway))
            return false;
        most->seconds += fiveMinutes;
        return true;
    }
    /// Five minutes less on the longest easy day, down to 95 % of what was planned.
    bool shorten() {
        Slot* most = nullptr;
        const auto spare = [](const Slot& s) {
            return s.seconds - s.shortest - (s.day.role == Role::Long ? 7200 : 0); // the long ride last
        };
        for (Slot& s : slots_)
            if (s.day.role != Role::Test && !s.day.fixedLength && s.seconds - fiveMinutes >= s.shortest &&
                (!most || spare(s) > spare(*most)))
                most = &s;
        if (!most || ridden() - fiveMinutes < std::min(0.95 * sumOfSlots(), sumOfSlots() - leeway))
            return false;
        most->seconds -= fiveMinutes;
        return true;
    }

    Session ride(const Slot& s) const {
        if (s.day.words)
            return *s.day.words;
        if (s.pick)
            return rideWith(lyingOf(s.pick->family->name), s.pick->work, s.seconds, s.percent);
        if (s.day.role == Role::Long)
            return longRide(s.seconds, s.percent, choice_.longTempo, choice_.longTarget);
        if (s.day.role == Role::Openers && s.seconds >= shortestOpeners)
            return rideAround(rungOf(*book_.named("openers"), 0), s.seconds, std::min(s.percent, 65));
        return rideAround({}, s.seconds, s.percent);
    }

    static std::string noteOf(const Family& family, Date day) {
        std::string note =
            family.stop.empty() ? std::string() : phrase("Stop when %1.", translated(family.stop));
        if (const std::string caution = cautionOn(family, day); !caution.empty())
            note += (note.empty() ? "" : " ") + caution;
        return note;
    }

    BlockSession gym(const DaySlot& day) const {
        BlockSession b;
        b.date = day.date;
        b.role = Role::Gym;
        b.pinned = day.pinned;
        b.family = "strength";
        b.title = phrase("Strength");
        b.seconds = 45 * 60;
        // A ladder of its own, a rung a fortnight: body weight, then weight, then fast (common practice).
        static const std::array<const char*, 6> ladder{
            marked("Body weight, three exercises in their easier form: 2 to 3 × 15."),
            marked("Body weight, the same three: 3 × 15 to 20 passes to the harder form."),
            marked("Body weight in its harder form: 3 × 15 to 20 of each."),
            marked("Weight you could lift 12 times: 3 × 8 to 10, fast up, slow down."),
            marked("A little more weight: 3 × 8 to 10, and stop before the speed falls."),
            marked("Less weight, moved as fast as it goes: 3 × 5 to 8.")};
        const CareRules care = careOf(season_);
        const int top = care.bodyWeight ? 2 : 5;
        const int rung = std::min(top, problem_.since / 2);
        b.title = phrase("Strength: %1", (rung < 3   ? phrase("body weight")
                                          : rung < 5 ? phrase("with weight")
                                                     : phrase("fast")));
        b.note = ladder[static_cast<size_t>(rung)];
        if (care.bodyWeight)
            b.note += phrase(" No weights until a licensed practitioner has cleared them.");
        b.why = phrase("The season has gym on this day.");
        return b;
    }

    void beLong(const Slot& s, BlockSession& b) const {
        b.family = "long ride";
        b.title = phrase("Long ride, %1", lengthWords(s.seconds));
        if (choice_.longTempo > 0) {
            const auto& rungs = book_.named("long ride")->rungs;
            const std::string tempo =
                std::to_string(choice_.longTempo / 60) + " min " + std::to_string(choice_.longTarget);
            const auto found = std::find(rungs.begin(), rungs.end(), tempo);
            b.rung = found == rungs.end() ? 0 : static_cast<int>(found - rungs.begin()) + 1;
        }
        if (choice_.longTempo > 0)
            b.title += phrase(" with %1 of tempo late", lengthWords(choice_.longTempo));
        int longest = 0;
        for (const DaySlot& d : problem_.days)
            longest = std::max(longest, d.available);
        b.why = std::string(s.day.available >= longest ? phrase("The long ride lies where the hours are")
                                                       : phrase("The longest ride of the week; the day with "
                                                                "more hours is given to harder work")) +
                (choice_.longTempo > 0 ? phrase("; tempo late makes up the middle of the split.") : ".");
    }

    BlockSession made(const Slot& s) const {
        BlockSession b;
        b.date = s.day.date;
        b.role = s.day.role;
        b.session = ride(s);
        b.figures = figuresOf(b.session, season_.lowThreshold);
        b.seconds = b.figures.seconds;
        b.pinned = s.day.pinned;
        b.replaced = s.day.replaced;
        if (s.day.words) {
            b.family = s.day.family ? s.day.family->name : std::string();
            b.rung = s.day.rung ? *s.day.rung + 1 : 0;
            b.title = writeShorthand(b.session);
            if (s.day.family)
                b.note = noteOf(*s.day.family, s.day.date);
            b.why = phrase("The coach wrote it.");
        } else if (s.pick) {
            const Family& family = *s.pick->family;
            b.family = family.name;
            b.rung = s.pick->rung + 1;
            b.title = writeShorthand(s.pick->work);
            b.note = noteOf(family, s.day.date);
            b.why = s.pick->why;
        } else if (s.day.role == Role::Long &&
                   (problem_.kind == WeekKind::Build || s.seconds >= shortestCalledLong)) {
            beLong(s, b);
        } else if (s.day.role == Role::Openers && s.seconds >= shortestOpeners) {
            b.family = "openers";
            b.title = phrase("Openers");
            b.why = phrase("The day before a race that matters.");
        } else {
            b.family = "endurance";
            b.title = phrase("Endurance, %1", lengthWords(s.seconds));
            b.why = s.day.role == Role::Test ? phrase("Too little time for a test.")
                    : s.day.role == Role::Hard
                        ? phrase("Left easy: the day or its week holds no more hard work.")
                    : s.day.role == Role::Openers ? phrase("The day before a race that matters.")
                                                  : phrase("Low, between the days that ask something.");
        }
        return b;
    }

    /// In a week that is no build week a shorter ride than this is endurance like any other, in seconds.
    static constexpr int shortestCalledLong = 75 * 60;
    /// How far a week of an hour or two may be longer or shorter than planned, in seconds: its sessions can't
    /// be cut to size by the minute.
    static constexpr double leeway = 600;
    /// Under this, the day before a race has no openers in it, in seconds; over that, it is no day before
    /// one.
    static constexpr int shortestOpeners = 1800, longestOpeners = 4500;
    const Season& season_;
    const WeekProblem& problem_;
    const WeekChoice& choice_;
    const FamilyBook& book_;
    std::vector<Slot> slots_;
};

Bands& add(Bands& to, const Bands& of) {
    to.low += of.low;
    to.middle += of.middle;
    to.high += of.high;
    return to;
}

std::string shareText(double share) {
    return fixedText(100 * share, 0) + " %";
}

/// A week as it is chosen, or as it was where nothing touched it or it was promised.
BlockWeek weekOf(const Season& season, const WeekProblem& p, const WeekChoice& choice,
                 const BlockBasis& basis) {
    BlockWeek week;
    week.start = p.start;
    week.kind = p.kind;
    week.phase = p.phase;
    week.target = {p.stress, p.purpose};
    week.longTempo = choice.longTempo;
    const BlockWeek* before = nullptr;
    if (basis.last)
        for (const BlockWeek& old : basis.last->weeks)
            if (old.start == p.start && ((basis.touched && p.start + 7 <= *basis.touched) ||
                                         (basis.promised && keepsPromise(old, p))))
                before = &old;
    if (before) {
        week.sessions = before->sessions;
    } else {
        WeekBuilder builder(season, p, choice, *basis.book);
        builder.fit(p.stress);
        week.sessions = builder.sessions();
    }
    for (const BlockSession& s : week.sessions) {
        week.sum.stress += s.figures.stress;
        add(week.sum.purpose, s.figures.purpose);
    }
    return week;
}

/// Says where a band has another part of the block's time than was asked for.
void judgeBands(const Bands& all, const Bands& wanted, SessionBlock& block) {
    const double sum = all.sum(), target = wanted.sum();
    if (sum <= 0 || target <= 0)
        return;
    const auto judge = [&](const char* band, double is, double meant) {
        if (std::abs(is / sum - meant / target) > withinShare)
            block.unmet.push_back(
                phrase("The %1 band has %2 of the time in place of %3: %4", band, shareText(is / sum),
                       shareText(meant / target),
                       (is / sum < meant / target
                            ? phrase("the rungs within reach and the days' lengths hold no more.")
                            : phrase("the sessions the phase asks for hold no less."))));
    };
    judge(marked("middle"), all.middle, wanted.middle);
    judge(marked("high"), all.high, wanted.high);
    judge(marked("low"), all.low, wanted.low);
}

/// What the coach wrote to a day, and whose ride it is together, before the session's own words.
void putNotes(const Season& season, SessionBlock& block) {
    for (const SessionPin& pin : season.sessions) {
        std::string said;
        if (!pin.team.empty() && pin.holds())
            said.append(phrase("Together: ")).append(pin.team).append(".");
        if (!pin.note.empty())
            said.append(said.empty() ? "" : " ").append(pin.note);
        if (!said.empty())
            for (BlockWeek& week : block.weeks)
                for (BlockSession& b : week.sessions)
                    if (b.date == pin.date && b.note.find(said) == std::string::npos)
                        b.note = said + (b.note.empty() ? "" : " ") + b.note;
    }
}

} // namespace

SessionBlock solveBlock(const Season& season, const Plan& plan, Date from, int weeks,
                        const BlockBasis& basis) {
    const std::vector<WeekProblem> problems = weekProblems(season, plan, from, weeks, basis);
    const std::vector<WeekChoice> choices = chooseSessions(season, problems, basis);
    SessionBlock block;
    BlockSum all, wanted;
    for (size_t w = 0; w < problems.size(); ++w) {
        const WeekProblem& p = problems[w];
        BlockWeek week = weekOf(season, p, choices[w], basis);
        if (p.stress > 0 && std::abs(week.sum.stress - p.stress) > std::max(withinStress * p.stress, unfelt))
            block.unmet.push_back(phrase("The week of %1 comes to %2 of %3 points: its days hold no %4 with "
                                         "these sessions and endurance at 62 to 70 %.",
                                         isoText(p.start), fixedText(week.sum.stress, 0),
                                         fixedText(p.stress, 0),
                                         (week.sum.stress < p.stress ? marked("more") : marked("less"))));
        add(all.purpose, week.sum.purpose);
        add(wanted.purpose, p.purpose);
        block.weeks.push_back(std::move(week));
    }
    if (problems.size() >= 3)
        judgeBands(all.purpose, wanted.purpose, block);
    putNotes(season, block);
    findBroken(season, plan, basis, block);
    return block;
}

SessionBlock solveBlock(const Season& season, const Plan& plan, Date from, int weeks,
                        const std::vector<DoneRung>& done) {
    BlockBasis basis;
    basis.done = done;
    return solveBlock(season, plan, from, weeks, basis);
}

HeldWeeks heldWeeks(const SessionBlock& block) {
    constexpr double within = 0.03;
    HeldWeeks weeks;
    for (const BlockWeek& w : block.weeks)
        if (w.target.stress > 0) {
            ++weeks.all;
            weeks.held += std::abs(w.sum.stress / w.target.stress - 1) <= within ? 1 : 0;
        }
    return weeks;
}

} // namespace marram
