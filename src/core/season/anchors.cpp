// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/skeleton.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cstdint>
#include <limits>

namespace marram {
namespace {

/// What is left of a day's usual load.
constexpr double recoveringShare = 0.5, easingBack = 0.85;
constexpr int mostOfAWeek = 5;     ///< days
constexpr double longestEased = 3; ///< h, of a ride in a week that recovers

void setWeek(WeekFrame& week, WeekKind kind, std::string why) {
    week.set = kind;
    week.why = std::move(why);
}

std::vector<int> racesBy(const Season& season, Priority priority) {
    std::vector<int> found;
    for (size_t r = 0; r < season.races.size(); ++r)
        if (season.races[r].priority == priority)
            found.push_back(static_cast<int>(r));
    std::stable_sort(found.begin(), found.end(), [&](int a, int b) {
        return season.races[static_cast<size_t>(a)].date < season.races[static_cast<size_t>(b)].date;
    });
    return found;
}

/// Anchors whatever the coach and the races fix before any block is cut.
class Anchors {
public:
    Anchors(const Season& season, SeasonFrame& frame)
        : season_(season), frame_(frame), days_(season.dayCount()) {}

    void place() {
        if (frame_.layOff)
            layOff();
        peaks();
        secondary();
        away();
        costs();
        care();
        edges();
        cycles();
        pins();
    }

private:
    DayFrame& day(int d) { return frame_.days[static_cast<size_t>(d)]; }
    WeekFrame& week(int w) { return frame_.weeks[static_cast<size_t>(w)]; }
    const WeekFrame& week(int w) const { return frame_.weeks[static_cast<size_t>(w)]; }
    int weekCount() const { return static_cast<int>(frame_.weeks.size()); }
    std::string dated(int d) { return isoText(day(d).date); }
    void warn(std::string text) { frame_.warnings.push_back(std::move(text)); }

    bool anchored(int w) {
        const auto& set = week(w).set;
        return set && (*set == WeekKind::Race || *set == WeekKind::Taper);
    }

    void lighten(int from, int to, double weight) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).weight = std::min(day(d).weight, weight);
    }
    /// Days that hold no longer ride than so many hours.
    void shorten(int from, int to, double longest) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            if (day(d).nominalHours > longest)
                day(d).weight = std::min(day(d).weight, longest / day(d).nominalHours);
    }
    /// The same of rides that are only somewhat shorter than usual: of the hours a day has the rider uses
    /// about as many as held the fitness of day `usual` and built some more, so that hours nobody rides
    /// shorten nothing.
    void ease(int from, int to, double longest, int usual) {
        double hours = 0;
        for (const double h : season_.hours)
            hours += h;
        if (hours <= 0)
            return;
        const double holds = hours * stressPerHour(Bands{0.85, 0.11, 0.04}, season_.lowThreshold) / 7;
        const double used = std::clamp(1.3 * fitnessBefore(std::max(0, usual)) / holds, 0.4, 1.0);
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            if (used * day(d).nominalHours > longest)
                day(d).weight = std::min(day(d).weight, longest / (used * day(d).nominalHours));
    }
    void spare(int from, int to) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).noHard = true;
    }
    void lowOnly(int from, int to) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).lowOnly = day(d).noHard = true;
    }
    /// Weeks that hold the days become weeks of coming back, unless a race or a break has them.
    void returning(int from, int to, const std::string& why) {
        if (from >= days_ || to < 0)
            return;
        for (int w = frame_.weekOf(std::max(0, from)); w <= frame_.weekOf(std::min(to, days_ - 1)); ++w)
            if (!week(w).set)
                setWeek(week(w), WeekKind::Recovery, why);
    }

    /// Common practice: nothing hard for two weeks after a lay-off, low band only.
    void layOff() {
        lowOnly(0, 13);
        // Nobody begins with the long ride of before, whatever the weekday holds (common practice).
        shorten(0, 6, 3); // at half of the hours
        shorten(7, 13, 2.5);
        for (int w = 0; w < weekCount() && week(w).first < 11; ++w)
            setWeek(week(w), WeekKind::Transition, phrase("Getting used to it again: low band only."));
        warn(phrase(
            "The rider comes from little or nothing: two weeks in the low band, the first at half of the "
            "hours at most, one hard day a week in the third and fourth."));
    }

    double fitnessBefore(int d) const {
        return d > 0 ? frame_.fitness[static_cast<size_t>(std::min(d, days_) - 1)] : season_.before.fitness;
    }

    /// What an event cost is recovered from, whatever its letter: nothing over the low band, no test, and in
    /// the first half nothing over two hours.
    void recovering(int end, int count) {
        constexpr double longest = 2; // h
        lowOnly(end + 1, end + count);
        noTest(end + 1, end + count);
        shorten(end + 1, end + (count + 1) / 2, longest);
    }

    /// A week that recovers on `least` of its days or more builds nothing and is not called a build week;
    /// it holds no ride very long, and what is left of it is eased (common practice).
    void unloading(int end, int count, int least, const std::string& why) {
        for (int w = 0; w < weekCount(); ++w) {
            const int from = std::max(week(w).first, end + 1), to = std::min(week(w).last, end + count);
            if (to - from + 1 < least || week(w).set)
                continue;
            setWeek(week(w), WeekKind::Recovery, why);
            lighten(to + 1, week(w).last, easingBack);
            shorten(from, week(w).last, longestEased);
        }
    }

    /// Nothing hard on the two days before a race that matters, whatever week they lie in, and no long ride
    /// on the first of them: about two hours as ridden, of which a week of unloading leaves two thirds. (The
    /// day before has openers.)
    void onTheEveOf(const Race& race, int first) {
        constexpr double longest = 2, unloaded = 3; // h
        spare(first - 2, first - 1);
        const bool weekBefore = weekday(race.date) < 2;
        shorten(first - 2, first - 2, weekBefore ? longest : unloaded);
    }

    void costs() {
        frame_.recoveries.clear();
        for (const Race& race : season_.races) {
            const int first = race.date - season_.start, end = first + race.days - 1;
            const int count =
                recoveryOf(raceStress(race), fitnessBefore(first), race.priority == Priority::A);
            frame_.recoveries.push_back(count);
            recovering(end, count);
            // The season is not cut round a C race unless it cost most of a week.
            unloading(end, count, race.priority == Priority::C ? mostOfAWeek : 3,
                      phrase("Recovery after %1.", race.name));
            if (race.priority == Priority::A)
                noTest(end + 1, end + noTestAfterPeak);
            // Nobody rides for hours on the day before, whatever the race is for (common practice).
            constexpr double longestBefore = 2.5; // h
            if (race.priority == Priority::C && weekday(race.date) > 0)
                shorten(first - 1, first - 1, longestBefore);
            if (race.priority != Priority::C)
                onTheEveOf(race, first);
        }
        for (const Away& camp : season_.away) {
            frame_.recoveries.push_back(0);
            if (camp.why != AwayWhy::Camp)
                continue;
            const int first = camp.from - season_.start, end = camp.to - season_.start;
            if (end < 0 || first >= days_)
                continue;
            double stress = 0;
            for (int d = std::max(0, first); d <= std::min(end, days_ - 1); ++d)
                stress += day(d).camp ? day(d).fixed : 0;
            const int count =
                std::max(recoveryDays, recoveryOf(stress, fitnessBefore(std::max(0, first)), false));
            frame_.recoveries.back() = count;
            recovering(end, count);
        }
    }

    void care() {
        const CareRules care = careOf(season_);
        if (care.lowOnly)
            lowOnly(0, days_ - 1);
        if (care.noMaximal)
            noTest(0, days_ - 1);
        for (const std::string& sentence : care.said)
            warn(sentence);
    }

    void noTest(int from, int to) {
        for (int d = std::max(0, from); d <= std::min(to, days_ - 1); ++d)
            day(d).noTest = true;
    }

    /// Days after an A race or a camp: light for five, and eased to the end of that week, in which nothing is
    /// hard and no ride very long (common practice).
    void recover(int end, const std::string& why) {
        const int last = end + recoveryDays;
        lighten(end + 1, last, recoveringShare);
        spare(end + 1, last);
        shorten(end + 1, last, longestEased);
        if (last < days_) {
            const int sunday = last + 6 - weekday(day(last).date);
            lighten(last + 1, sunday, easingBack);
            spare(last + 1, sunday);
            shorten(last + 1, sunday, longestEased);
        }
        returning(end + 1, last, why);
    }

    /// The first day to unload for a window that opens on `window`: that day, or the Monday after it where
    /// only the Sunday of a week would be left. Decided by the calendar alone, so that a change of hours
    /// never moves the skeleton.
    int firstTaperDay(int window) {
        if (window < 0)
            return 0;
        const WeekFrame& w = week(frame_.weekOf(window));
        return window == w.last && w.length() > 1 ? w.last + 1 : window;
    }

    /// A race on a Monday or Tuesday is freshened for in the week before.
    void freshenBefore(const Race& race) {
        const int first = week(frame_.weekOf(race.date - season_.start)).first;
        if (weekday(race.date) > 1 || first <= 0)
            return;
        if (WeekFrame& before = week(frame_.weekOf(first - 1)); !before.set)
            setWeek(before, WeekKind::Race, phrase("Freshening for %1.", race.name));
    }

    void follow(int r, int raceDay, int previousEnd, const std::string& name) {
        frame_.freshened.push_back(r);
        if (raceDay > previousEnd)
            lighten(previousEnd + 1, std::min(previousEnd + recoveryDays, raceDay - 1), recoveringShare);
        spare(previousEnd + 1, std::min(previousEnd + 4, raceDay - 1));
        const int easy = std::min(previousEnd + recoveryDays, raceDay - 1);
        if (easy > previousEnd)
            returning(previousEnd + 1, easy, phrase("One long peak: recovered for %1.", name));
        freshenBefore(season_.races[static_cast<size_t>(r)]);
    }

    void peaks() {
        const std::vector<int> peaks = racesBy(season_, Priority::A);
        if (peaks.size() > 2)
            warn(phrase("There are %1 A races; one or two a season can be peaked for. Making the others B "
                        "races frees their tapers for building.",
                        std::to_string(peaks.size())));
        int previousEnd = -1000, leader = -1000;
        for (size_t i = 0; i < peaks.size(); ++i) {
            const Race& race = season_.races[static_cast<size_t>(peaks[i])];
            const int raceDay = race.date - season_.start;
            const int gap = raceDay - previousEnd;
            const bool follows = i > 0 && gap < onePeakDays && raceDay - leader <= 35;
            if (i > 0 && gap < holdDays)
                warn(phrase(
                    "\"%1\" comes %2 days after the A race before it; two A races closer than six weeks "
                    "cannot both be peaked for%3. From %4 on it could have a build-up of its own.",
                    race.name, std::to_string(gap),
                    (follows ? phrase(": they share one taper")
                             : phrase(": fitness is held between them at best, not built")),
                    isoText(race.date + (holdDays - gap))));
            const int end = std::max(previousEnd, raceDay + race.days - 1);
            for (int w = frame_.weekOf(raceDay); w <= frame_.weekOf(end); ++w)
                setWeek(week(w), WeekKind::Race, phrase("The week of %1.", race.name));
            if (follows)
                follow(peaks[i], raceDay, previousEnd, race.name);
            else {
                taper(peaks[i], raceDay, i > 0 ? previousEnd : -1000);
                leader = raceDay;
            }
            const bool last = i + 1 == peaks.size();
            const int next =
                last ? days_ + 1000 : season_.races[static_cast<size_t>(peaks[i + 1])].date - season_.start;
            if (last || next - end >= onePeakDays || next - leader > 35)
                recover(end, phrase("Recovery after %1.", race.name));
            previousEnd = end;
        }
    }

    void taper(int r, int raceDay, int previousEnd) {
        const Race& race = season_.races[static_cast<size_t>(r)];
        TaperFrame t;
        t.race = r;
        t.raceDay = raceDay;
        const int length = season_.rules.taperShape == TaperShape::OneWeek && !season_.rules.shapeBest
                               ? std::min(7, season_.rules.taperDays)
                               : season_.rules.taperDays;
        t.window = raceDay - length;
        t.window = std::min(raceDay, std::max(t.window, previousEnd + 8));
        if (t.window < 0 && previousEnd < 0)
            warn(phrase("\"%1\" is %2 days from the start: the whole way there is taper.", race.name,
                        std::to_string(raceDay)));
        t.first = std::min(firstTaperDay(t.window), raceDay);
        for (int w = frame_.weekOf(t.first); w < frame_.weekOf(raceDay); ++w)
            if (!week(w).set || *week(w).set != WeekKind::Race)
                setWeek(week(w), WeekKind::Taper,
                        phrase("Taper: %1 days of unloading before %2.", std::to_string(raceDay - t.window),
                               race.name));
        frame_.tapers.push_back(t);
    }

    void secondary() {
        for (const int r : racesBy(season_, Priority::B)) {
            const Race& race = season_.races[static_cast<size_t>(r)];
            const int raceDay = race.date - season_.start;
            WeekFrame& at = week(frame_.weekOf(raceDay));
            if (at.set && *at.set == WeekKind::Taper) {
                warn(phrase("\"%1\" lies inside the taper of an A race.", race.name));
            } else if (!at.set || *at.set == WeekKind::Recovery) {
                setWeek(at, WeekKind::Race, phrase("Freshening for %1.", race.name));
                frame_.freshened.push_back(r);
            } else {
                continue;
            }
            freshenBefore(race);
        }
    }

    /// A run of days away, whatever the reasons.
    struct Run {
        int from = 0, to = 0, ill = 0;
        bool camp = false;
    };

    std::vector<Run> runs() {
        // From what the coach said, so that a race ridden all the same does not make two absences of one.
        // What ended shortly before the start counts as well.
        std::vector<std::int8_t> mark(static_cast<size_t>(days_) + looksBack, 0); // 1 away, 2 ill, 3 camp
        const auto marked = [&](int d) -> std::int8_t& { return mark[static_cast<size_t>(d) + looksBack]; };
        for (const Away& a : season_.away)
            for (int d = std::max(-looksBack, a.from - season_.start);
                 d <= std::min(a.to - season_.start, days_ - 1); ++d) {
                auto& at = marked(d);
                at = a.why == AwayWhy::Camp      ? (at == 0 ? 3 : at)
                     : a.why == AwayWhy::Illness ? 2
                     : at == 2                   ? 2
                                                 : 1;
            }
        std::vector<Run> found;
        for (int d = -looksBack; d < days_; ++d) {
            const auto at = marked(d);
            if (at == 0)
                continue;
            if (found.empty() || found.back().to != d - 1 || found.back().camp != (at == 3))
                found.push_back({d, d, 0, at == 3});
            found.back().to = d;
            found.back().ill += at == 2 ? 1 : 0;
        }
        return found;
    }

    void away() {
        const std::vector<Run> all = runs();
        for (int w = 0; w < weekCount(); ++w) {
            int gone = 0, camp = 0;
            for (int d = week(w).first; d <= week(w).last; ++d) {
                gone += day(d).away ? 1 : 0;
                camp += day(d).camp ? 1 : 0;
            }
            if (anchored(w)) {
                if (camp > 0)
                    warn(phrase("A camp falls into the %1 week of %2; its stress is carried and the race "
                                "will feel it.",
                                translated(nameOf(*week(w).set)), isoText(week(w).start)));
                continue;
            }
            if (gone >= 4 || gone * 2 > week(w).length())
                setWeek(week(w), WeekKind::Break,
                        phrase("Away: %1 days without training.", std::to_string(gone)));
            else if (camp >= 3)
                setWeek(week(w), WeekKind::Camp, phrase("Camp."));
        }
        for (const Run& run : all)
            comeBack(run);
    }

    void comeBack(const Run& run) {
        const int length = run.to - run.from + 1, next = run.to + 1;
        if (run.camp && run.to < 0)
            return;
        if (run.camp) {
            if (next < days_ && anchored(frame_.weekOf(next)))
                warn(phrase(
                    "No recovery week fits after the camp that ends on %1; without it a camp gains nothing.",
                    dated(run.to)));
            recover(run.to, phrase("Recovery: the week after a camp is always one."));
            return;
        }
        // The return is counted in days, whatever weekday it begins on.
        const int easyDays = std::clamp((run.ill + 1) / 2, 3, 14);
        if (run.ill > 0)
            lowOnly(next, run.to + easyDays);
        // Nor is anything measured until the return is over, or in the first week after others away (common
        // practice).
        if (run.ill > 0 || length >= 7)
            noTest(next, run.to + (run.ill >= 5 ? 21 : 7));
        if (run.ill > 0 && run.ill < 5) {
            // A short illness has a short first ride too (common practice).
            shorten(next, run.to + 1, run.ill >= 3 ? 1 : 1.5);
            shorten(run.to + 2, run.to + 2, 2);
        }
        if (run.ill >= 5) {
            // Short rides first, whatever the weekday holds (common practice).
            shorten(next, run.to + 1, 1);
            shorten(run.to + 2, run.to + 3, 1.5);
            shorten(run.to + 4, run.to + std::max(easyDays, 7), 2);
            ease(run.to + 8, run.to + 14, 3, run.from);
            ease(run.to + 15, run.to + 21, 4, run.from);
            spare(next, run.to + 7);
            lighten(next, run.to + 7, 0.50);
            lighten(run.to + 8, run.to + 14, 0.70);
            lighten(run.to + 15, run.to + 21, 0.85);
            returning(next, run.to + 21,
                      phrase("Back from illness: weeks of 50, 70 and 85 % of the last build week."));
        } else if (length >= 7) {
            lighten(next, run.to + 7, 0.70);
            lighten(run.to + 8, run.to + 14, 0.85);
            returning(next, run.to + 14,
                      phrase("Back after %1 days away: weeks of 70 and 85 % of the last build week.",
                             std::to_string(length)));
        }
    }

    /// The last week anything is built for: the week of the last A or B race, or the season's end without.
    int lastGoalWeek() {
        int last = -1;
        for (const Race& race : season_.races)
            if (race.priority != Priority::C)
                last = std::max(last, frame_.weekOf(race.date + (race.days - 1) - season_.start));
        return last < 0 ? weekCount() : last;
    }

    void edges() {
        const int goal = lastGoalWeek();
        double usual = 0;
        for (const double h : season_.hours)
            usual += h;
        // What is left after the last goal: some light weeks, then the next base where there is time for one.
        const int rest = weekCount() - 1 - goal, light = rest >= 6 ? std::min(4, rest / 2) : rest;
        for (int w = 0; w < weekCount(); ++w) {
            if (week(w).set)
                continue;
            if (w > goal && w <= goal + light)
                setWeek(
                    week(w), WeekKind::Transition,
                    phrase("Nothing left to build for: light riding, a short hard session now and then."));
            else if (!week(w).whole())
                setWeek(week(w), WeekKind::Transition, phrase("Part of a week at the edge of the season."));
            else if (week(w).nominalHours <= 0 && usual > 0)
                setWeek(week(w), WeekKind::Break, phrase("No hours this week."));
        }
    }

    /// The weeks one cycle of base, build and specialise can fill without one of them growing too long.
    int longestCycle() const {
        const int block = season_.rules.buildWeeks + season_.rules.deloadWeeks;
        const auto whole = [&](int most) { return std::max(1, most / block) * block; };
        return std::max(12, std::min({whole(8) + whole(12) + whole(16) - 2, 34}));
    }

    /// Divides a year that is too long for one cycle: round a break or a B race where there is one, else by a
    /// week of transition.
    void cycles() {
        if (season_.races.empty()) {
            // Cycles of base and build of eight to twelve weeks, a test at the end of each.
            const int count = std::max(1, (weekCount() + 11) / 12);
            for (int c = 1; c < count; ++c)
                week(c * weekCount() / count - 1).newCycle = true;
            return;
        }
        int from = 0;
        for (const TaperFrame& t : frame_.tapers) {
            divide(from, frame_.weekOf(t.first));
            from = frame_.weekOf(t.raceDay) + 1;
        }
        divide(from, weekCount());
    }

    /// Whether a week rests already, for whatever reason.
    bool rests(int w) const {
        const auto set = week(w).set;
        return set && (*set == WeekKind::Break || *set == WeekKind::Transition || *set == WeekKind::Recovery);
    }

    /// Of a cycle that begins with this week, the one before it with `from`.
    double costOfBeginning(int w, int from) const {
        const bool free = !week(w).set, resting = rests(w);
        const bool afterRace =
            w > 0 && week(w - 1).set && *week(w - 1).set == WeekKind::Race && (free || resting);
        // Not a week or two after the rider has rested.
        const bool again = free && ((w > from && rests(w - 1)) || (w > from + 1 && rests(w - 2)));
        return (resting ? -6 : 0) + (afterRace ? -4 : 0) + (again ? 5 : 0) + (free || resting ? 0 : 20);
    }

    void divide(int from, int to) {
        const int longest = longestCycle(), shortest = 8;
        while (to - from > longest) {
            // The last cycle as long as may be, but never leaving a stump before it: fewer weeks to build in
            // than a cycle wants, unless there are none.
            const int latest = std::max(to - longest - 1, from + shortest);
            int best = latest;
            double least = std::numeric_limits<double>::infinity();
            int open = 0;
            for (int w = from; w <= std::min(latest + 8, to - 12); ++w) {
                const bool stump = open > 0 && w < from + shortest;
                open += week(w).set ? 0 : 1;
                // Weeks of rest that are there are worth a cycle two weeks longer.
                if (w < to - longest - (rests(w) ? 3 : 1) || stump || (w < from + shortest && !rests(w)))
                    continue;
                const double cost = std::abs(w - latest) + costOfBeginning(w, from);
                if (cost < least) {
                    least = cost;
                    best = w;
                }
            }
            if (!week(best).set)
                setWeek(
                    week(best), WeekKind::Transition,
                    phrase("A light week between two cycles of the year, with some days off the bicycle."));
            week(best).newCycle = true;
            to = best;
        }
    }

    void pins() {
        for (const WeekPin& pin : season_.weeks) {
            const int w = (pin.start - frame_.weeks.front().start) / 7;
            if (!pin.kind || pin.start < frame_.weeks.front().start || w >= weekCount())
                continue;
            if (anchored(w) && *pin.kind != *week(w).set)
                warn(phrase("The week of %1 is pinned as %2 although a race makes it a %3 week.",
                            isoText(week(w).start), nameOf(*pin.kind), nameOf(*week(w).set)));
            week(w).set = *pin.kind;
            week(w).pinned = true;
            week(w).why = phrase("Pinned by the coach as %1.", translated(nameOf(*pin.kind)));
        }
    }

    const Season& season_;
    SeasonFrame& frame_;
    int days_;
};

} // namespace

void placeAnchors(const Season& season, SeasonFrame& frame) {
    Anchors(season, frame).place();
}

} // namespace marram
