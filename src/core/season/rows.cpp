// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/rows.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace marram {
namespace {

/// Bounds of an ordinary step inside a block where the hours are the same, so that blocks are not flat.
constexpr double leastRise = 1.012;
/// A week that holds only this much less, for a test in it, is not allowed to fall: the one before gives way.
constexpr double slightlyLess = 0.9;
/// A block may begin this share of its hours' load over a tenth more than the last: little for a rider near
/// full hours, much for one who comes from nothing.
constexpr double firstStep = 0.05;
/// Days away between two blocks after which nothing is asked of the later one.
constexpr int longAbsence = 10;
/// A build week uses over a quarter of its hours.
constexpr double leastOfHours = 0.27;
/// What a point a week off the promised level costs, and one under a week that was ridden, in race-day
/// fitness.
constexpr double keepsItsWord = 0.004, underRidden = 0.02;
/// Where hours open, a build week is still at most this much of what was carried lately (common practice).
constexpr double mostWithHours = 1.15;
constexpr double explainedFall = 0.75; ///< of the block before a break, a camp or a race

/// Writes the rows of one season.
class RowWriter {
public:
    RowWriter(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
              const RowChoices& choices)
        : season_(season), frame_(frame), patterns_(patterns), choices_(choices) {
        out_.loads = std::make_unique<LoadColumns>(season, frame, patterns, out_.programme);
        today_ = loads().fitnessAfter(frame.today - 1).constant;
    }

    SeasonProgramme write() {
        ramp();
        depth();
        for (size_t w = 0; w < frame_.weeks.size(); ++w)
            if (loads().planned(w))
                week(w);
        blocks();
        for (size_t n = 0; n < frame_.freshened.size(); ++n)
            fresh(n);
        for (size_t t = 0; t < frame_.tapers.size(); ++t)
            taper(t);
        writeGates(season_, frame_, choices_, out_);
        aims();
        return std::move(out_);
    }

private:
    LoadColumns& loads() const { return *out_.loads; }
    Date monday(size_t w) const { return frame_.weeks[w].start; }
    Programme::Column& at(int column) { return out_.programme.columns[static_cast<size_t>(column)]; }

    int row(Rule rule, Date day, double lower, const Linear& expression, double upper, int nth = 0) {
        return out_.programme.addRow(rule, day, nth, lower, expression, upper);
    }
    /// A column that says how far a rule is broken, at its price.
    int breach(Rule rule, Date day, double most = unbounded) {
        return out_.programme.addColumn(nameOf(Load::Breach, day, static_cast<int>(rule)), 0, most,
                                        -priceOf(rule).price);
    }
    /// A column at least as large as |expression|, at the price of a drawing.
    void near(Rule rule, Date day, const Linear& expression, double price) {
        const int c = out_.programme.addColumn(nameOf(Load::Distance, day, static_cast<int>(rule)), 0,
                                               unbounded, -price);
        row(rule, day, -unbounded, expression - Linear{}.add(c, 1), 0, 0);
        row(rule, day, 0, expression + Linear{}.add(c, 1), unbounded, 1);
    }

    double roomOf(size_t w, double other) {
        return other > 0 ? std::min(1.0, loads().capacity(w) / other) : 1;
    }

    /// A share of the week of reference that week `w` reaches even where that one is full: a row that holds a
    /// level up must never be kept by training less before it.
    double within(size_t w, double share) {
        const double its = loads().referenceReach(w);
        return its > 0 ? std::min(share, 0.95 * loads().reach(w) / its) : share;
    }

    /// The same for two weeks of a block, where the later one is held well under the earlier.
    double reaching(size_t later, size_t earlier, double share) {
        const double ratio = loads().reach(later) / std::max(1e-9, loads().reach(earlier));
        return ratio < slightlyLess ? std::min(share, ratio) : share;
    }

    /// Of a full week, so that only races and camps break it.
    void ramp() {
        const double falls = 1 - std::exp(-7 / season_.tau.fitness);
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            const WeekFrame& week = frame_.weeks[w];
            if (!loads().planned(w) || loads().levelColumn(w) < 0 || week.kind == WeekKind::Deload)
                continue;
            const Linear before = loads().fitnessAfter(week.first - 1);
            const Linear& rise = loads().weeksRise(w);
            row(Rule::Ramp, monday(w), -unbounded, rise - falls * before, season_.rules.ramp);
            if (season_.rules.ramp > rampBase)
                row(Rule::RampOfFitness, monday(w), -unbounded, rise - (falls + rampOfFitness) * before,
                    rampBase);
        }
    }

    void depth() {
        for (const int d : choices_.floorDays) {
            const Date day = frame_.days[static_cast<size_t>(d)].date;
            row(Rule::Floor, day, season_.rules.formFloor,
                loads().formOn(d) + Linear{}.add(breach(Rule::Floor, day), 1), unbounded);
        }
        for (const int d : choices_.depthDays) {
            const Date day = frame_.days[static_cast<size_t>(d)].date;
            const auto eased = choices_.eased.find(d);
            row(Rule::Depth, day, eased != choices_.eased.end() ? -eased->second : 0,
                loads().formOn(d) - depthOfFitness * loads().fitnessAfter(d - 1) +
                    Linear{}.add(breach(Rule::Depth, day), 1),
                unbounded);
        }
    }

    /// A level between two shares of the last build week's.
    void between(Rule rule, size_t w, int column, double low, double high) {
        if (column < 0)
            return;
        const Linear level = column == loads().levelColumn(w) ? loads().level(w) : Linear{}.add(column, 1);
        const Linear& ref = loads().reference(w);
        const double room = roomOf(w, loads().referenceCapacity(w));
        // Where no build week lies before, the ramp alone says how much a week of coming back or of a race
        // may be.
        const bool free = ref.terms.empty() && (rule == Rule::Return || rule == Rule::RaceWeek);
        if (!free)
            row(rule, monday(w), -unbounded, level - high * ref, 0, 0);
        // Before the first build week, and after days away, nothing holds a level up: the ramp may not allow
        // it, and the weeks before must not give way to it.
        if (low > 0 && !ref.terms.empty() && !awayBefore(w))
            row(rule, monday(w), 0, level - within(w, low * room) * ref, unbounded, 1);
    }

    bool awayBefore(size_t w) const {
        const int last = frame_.weeks[w].last;
        for (int d = std::max(0, last - 42); d <= last; ++d)
            if (frame_.days[static_cast<size_t>(d)].away)
                return true;
        return false;
    }

    void week(size_t w) {
        const int level = loads().levelColumn(w);
        const WeekFrame& week = frame_.weeks[w];
        relief(w);
        switch (week.kind) {
        case WeekKind::Build:
            if (level >= 0)
                build(w);
            break;
        case WeekKind::Deload:
            if (level >= 0 && at(level).lower < at(level).upper)
                between(Rule::Light, w, level, 0, deloadShare(season_.rules));
            break;
        case WeekKind::Recovery:
            // After a race or a camp the rider keeps riding; after days away the ramp decides.
            between(Rule::Return, w, level, awayBefore(w) ? 0 : 0.5, 1);
            break;
        case WeekKind::Transition:
            if (frame_.layOff && week.first < 11) {
                // From nothing: at most half of the hours, then a little more.
                if (level >= 0)
                    at(level).upper =
                        std::min(loads().reach(w), (week.first < 4 ? 0.5 : 0.6) * week.nominalHours /
                                                       hoursPerPoint(patterns_[w]));
            } else if (!week.whole())
                between(Rule::Light, w, level, 0.5, 1.0);
            else
                between(Rule::Light, w, level, 0.4, 0.6);
            break;
        case WeekKind::Camp:
            between(Rule::Light, w, level, 0, 0.8);
            break;
        case WeekKind::Break:
            if (level >= 0 && week.pinned)
                at(level).upper = 0;
            else
                between(Rule::Light, w, level, 0, 1);
            break;
        case WeekKind::Taper:
            between(Rule::Light, w, level, 0, 0.8);
            break;
        case WeekKind::Race:
            between(Rule::RaceWeek, w, level, 0.6, largestRise);
            break;
        }
        between(Rule::Light, w, loads().afterColumn(w), 0, 1.0);
        between(Rule::Light, w, loads().beforeColumn(w), 0.8, 1.0);
    }

    /// The longest days of a week may carry less than their share, in order.
    void relief(size_t w) {
        constexpr double longer = 1.1; // the long ride is than any other easy one (common practice)
        const WeekPattern& pattern = patterns_[w];
        const auto& columns = loads().reliefColumns(w);
        const auto on = [&](size_t k) { return static_cast<size_t>(pattern.byShare[k]); };
        const auto share = [&](size_t k) { return pattern.share[on(k)]; };
        const auto each = [&](size_t k) { return 1 / pattern.pointsPerHour[on(k)]; }; // h
        const auto over = [&](size_t k, size_t other) {
            const Role role = pattern.roles[on(other)];
            return pattern.roles[on(k)] == Role::Long && role == Role::Easy ? longer : 1;
        };
        for (size_t k = 0; k < columns.size() && columns[k] >= 0; ++k) {
            at(columns[k]).worth -= priceOf(Rule::Relief).price;
            // Down to the first day that is not relieved, whichever day is the longest: an hour more on one
            // of them then leaves every week possible that was possible before.
            const size_t next = columns.size();
            const double least = std::min(share(k), over(k, next) * share(next));
            row(Rule::LongDay, monday(w), -unbounded,
                Linear{}.add(columns[k], 1).add(loads().levelColumn(w), least - share(k)), 0,
                static_cast<int>(k));
        }
        // No more hours are taken off the long ride than off a hard day, but for those it has over it, and no
        // easy ride is left as long.
        for (size_t l = 0; l < columns.size() && columns[l] >= 0; ++l)
            for (size_t h = 0; pattern.roles[on(l)] == Role::Long && h < columns.size() && columns[h] >= 0;
                 ++h)
                if (const Role role = pattern.roles[on(h)]; role == Role::Hard || role == Role::Easy) {
                    const double by = over(l, h);
                    const double has = share(l) * each(l) - by * share(h) * each(h);
                    row(Rule::LongDay, monday(w), -unbounded,
                        Linear{}
                            .add(columns[l], each(l))
                            .add(columns[h], -by * each(h))
                            .add(loads().levelColumn(w), -std::max(0.0, has)),
                        0, static_cast<int>(columns.size() + h));
                }
    }

    /// A dearer gate does not make starving cheaper.
    int starved(size_t w) {
        const int c = breach(Rule::Starved, monday(w));
        at(c).worth *= std::max(1.0, season_.rules.gatePrice);
        return c;
    }

    void build(size_t w) {
        const WeekFrame& week = frame_.weeks[w];
        const double reach = loads().reach(w), each = hoursPerPoint(patterns_[w]);
        const double quarter = each > 0 ? leastOfHours * week.nominalHours / each : 0;
        // Bounded by what the rider came with and by the hours, never by another week.
        const double least =
            std::min(std::max(0.62 * 7 * std::min(today_, season_.before.fitness), quarter), 0.98 * reach);
        if (least > 0)
            row(Rule::Starved, monday(w), least, loads().level(w) + Linear{}.add(starved(w), 1), unbounded);
    }

    /// How many times the hours of another week a week has, at least 1.
    double more(size_t w, size_t other) const {
        const double its = frame_.weeks[other].nominalHours;
        return its > 0 ? std::max(1.0, frame_.weeks[w].nominalHours / its) : 1;
    }

    /// The hours of a week beside those of the last build week, at most 1.
    double hoursBeside(size_t w, int build) const {
        const double its = build >= 0 ? frame_.weeks[static_cast<size_t>(build)].nominalHours : 0;
        return its > 0 ? std::min(1.0, frame_.weeks[w].nominalHours / its) : 1;
    }

    /// Of the level before, by what the hours of both hold.
    static double limitedKeep(double mine, double its) { return mine > slightlyLess * its ? 1 : mine / its; }

    /// `peak`: the last week of the block before, if any.
    void shape(const Block& block, bool beforeTaper, std::optional<size_t> peak) {
        const auto& weeks = block.weeks;
        // Where a block begins with a week of few hours, the next rises from where the block before was.
        const bool small = peak && mostWithHours * loads().capacity(weeks.front()) < loads().capacity(*peak);
        size_t standard = weeks.front(); // the last week not held down by its own hours
        for (size_t i = 1; i < weeks.size(); ++i) {
            const size_t w = weeks[i];
            const double mine = loads().capacity(w), its = loads().capacity(standard);
            const Linear &level = loads().level(w), &before = loads().level(standard);
            const bool limited = mine < 0.985 * its;
            if (!loads().planned(w)) { // ridden
                if (!limited)
                    standard = w;
                continue;
            }
            const bool ridden = !loads().planned(standard);
            const bool pushed = season_.rules.overreach && beforeTaper && i + 1 == weeks.size() && !limited;
            if (pushed && overreached(w)) {
                row(Rule::Overreach, monday(w), 0, level - 1.10 * before, unbounded, 0);
                row(Rule::Overreach, monday(w), -unbounded, level - 1.20 * before, 0, 1);
                continue;
            }
            const size_t from = small && standard == weeks.front() && mine > 0.985 * loads().capacity(*peak)
                                    ? *peak
                                    : standard;
            row(Rule::Rise, monday(w), -unbounded,
                level - std::min(mostWithHours, largestRise * more(w, from)) * risesFrom(from), 0);
            const double keep = reaching(w, standard, limited ? limitedKeep(mine, its) : leastRise);
            Linear kept = level - keep * before;
            if (ridden)
                kept.add(underRiddenBy(w, Rule::Keep), 1);
            row(Rule::Keep, monday(w), 0, kept, unbounded);
            if (!limited)
                standard = w;
        }
        growth(weeks.front(), weeks.back());
    }

    /// A block grows from its first week to its last, where hours let it.
    void growth(size_t first, size_t last) {
        if (first == last || !loads().planned(last) ||
            loads().capacity(last) < 0.985 * loads().capacity(first))
            return;
        Linear grown = loads().level(last) - reaching(last, first, blockGrowth) * loads().level(first);
        if (!loads().planned(first))
            grown.add(underRiddenBy(last, Rule::Growth), 1);
        row(Rule::Growth, monday(last), 0, grown, unbounded);
    }

    /// A rider who rode less than was promised may not be able to follow it: a column that pays for that.
    int underRiddenBy(size_t w, Rule rule) {
        return out_.programme.addColumn(nameOf(Load::Distance, monday(w), static_cast<int>(rule)), 0,
                                        unbounded, -underRidden);
    }

    /// Overreaching needs eight weeks of building behind it.
    bool overreached(size_t w) const {
        int builds = 0;
        for (size_t i = 0; i < w; ++i)
            builds += frame_.weeks[i].kind == WeekKind::Build ? 1 : 0;
        return builds >= 8;
    }

    Linear mean(const Block& block, double& capacity) {
        Linear sum;
        capacity = 0;
        const double each = 1.0 / static_cast<double>(block.weeks.size());
        for (const size_t w : block.weeks) {
            sum.add(loads().level(w), each);
            capacity += each * loads().capacity(w);
        }
        return sum;
    }

    void blocks() {
        const std::vector<Block> all = allBlocks(frame_);
        for (size_t k = 0; k < all.size(); ++k) {
            if (!loads().planned(all[k].weeks.back()))
                continue; // ridden
            bool beforeTaper = false;
            for (const TaperFrame& t : frame_.tapers)
                beforeTaper = beforeTaper || t.lastBuildWeek == static_cast<int>(all[k].weeks.back());
            shape(all[k], beforeTaper, k > 0 ? std::optional(peakOf(all[k - 1])) : std::nullopt);
            const size_t first = all[k].weeks.front();
            if (k == 0) {
                // Coming from nothing the weeks of getting used to it lead up to the first block, not over
                // it.
                if (frame_.layOff && first > 0 && first < 4 &&
                    frame_.weeks[first - 1].kind == WeekKind::Transition &&
                    loads().levelColumn(first - 1) >= 0)
                    row(Rule::Keep, monday(first), 0, loads().level(first) - loads().level(first - 1),
                        unbounded);
                if (all[k].weeks.front() <= 1 && today_ > 0)
                    near(Rule::Start, monday(first), loads().level(first) - Linear{7 * today_, {}},
                         priceOf(Rule::Start).price);
                continue;
            }
            step(all[k - 1], all[k]);
        }
    }

    /// What a week may rise from: where little was ridden, what the rider's fitness bears.
    Linear risesFrom(size_t w) {
        const Linear& level = loads().level(w);
        if (loads().planned(w) || !level.terms.empty())
            return level;
        return Linear{std::max(level.constant, 0.95 * 7 * today_), {}};
    }

    /// The week a block is measured by: its last, but for weeks that held far less than those before them.
    size_t peakOf(const Block& block) const {
        constexpr size_t lately = 3;
        const auto& weeks = block.weeks;
        size_t peak = weeks.back();
        for (size_t i = weeks.size(); i-- > 0 && weeks.size() - i <= lately;)
            if (loads().capacity(peak) < slightlyLess * loads().capacity(weeks[i]))
                peak = weeks[i];
        return peak;
    }

    void step(const Block& before, const Block& block) {
        const size_t first = block.weeks.front(), peak = peakOf(before);
        const double its = loads().capacity(peak), mine = loads().capacity(first);
        // Where hours opened the most is the most.
        const double rise = largestRise * more(first, peak);
        if (its > 0)
            row(Rule::Step, monday(first), -unbounded,
                loads().level(first) - std::min(mostWithHours, rise) * risesFrom(peak),
                rise < mostWithHours ? firstStep * mine : 0);
        if (block.awayDays >= longAbsence)
            return;
        double held = 0, holds = 0;
        const Linear then = mean(before, held), now = mean(block, holds);
        const double fall = block.explained ? explainedFall : 1;
        if (held > 0)
            row(Rule::SlumpMean, monday(first), 0,
                now - (fall * std::min(1.0, holds / held)) * then +
                    Linear{}.add(breach(Rule::SlumpMean, monday(first)), 1),
                unbounded);
        const size_t last = block.weeks.back();
        if (its > 0)
            row(Rule::SlumpPeak, monday(first), 0,
                loads().level(last) -
                    (fall * std::min(1.0, loads().capacity(last) / its)) * loads().level(peak) +
                    Linear{}.add(breach(Rule::SlumpPeak, monday(first)), 1),
                unbounded);
    }

    void fresh(size_t n) {
        const int column = loads().freshColumn(n);
        if (column < 0)
            return;
        const Race& race = season_.races[static_cast<size_t>(frame_.freshened[n])];
        const auto w = static_cast<size_t>(frame_.weekOf(race.date - season_.start));
        const Linear level = Linear{}.add(column, 1);
        const Linear& ref = loads().reference(w);
        const double room = roomOf(w, loads().referenceCapacity(w));
        row(Rule::Fresh, race.date, -unbounded, level - 0.75 * ref, 0, 2 * static_cast<int>(n));
        if (!ref.terms.empty() && !awayBefore(w))
            row(Rule::Fresh, race.date, 0, level - within(w, 0.35 * room) * ref, unbounded,
                2 * static_cast<int>(n) + 1);
    }

    /// What each part of a taper can reach beside the others: no row may ask for more, or it would be kept by
    /// training less before the taper.
    std::vector<double> taperReach(const LoadColumns::TaperLoad& load, double full, bool deep) {
        const size_t count = load.segments.size();
        std::vector<double> reached(count);
        for (size_t k = count; k-- > 0;)
            reached[k] = std::min(at(load.segments[k].column).upper,
                                  k + 1 < count && !deep ? reached[k + 1] / 0.6 : unbounded);
        for (size_t k = 0; k < count && !deep; ++k)
            reached[k] = std::min(reached[k], k == 0 ? 0.85 * full : 0.97 * reached[k - 1]);
        return reached;
    }

    /// The hours of the taper's own weeks may be fewer than the build week's.
    double taperRoom(const TaperFrame& taper) {
        double room = 1;
        for (int d = std::max(taper.first, frame_.today); d < taper.raceDay; ++d)
            room = std::min(room, hoursBeside(static_cast<size_t>(frame_.weekOf(d)), taper.lastBuildWeek));
        return room;
    }

    /// Of the reference: a deep week and a moderate one, or levels that fall to a quarter.
    static double lowestLevel(bool deep, size_t k, size_t count) {
        if (deep)
            return k < count / 2 ? 0.3 : 0.45;
        return 0.25 * std::pow(0.97, static_cast<double>(k + 1) - static_cast<double>(count));
    }

    void taper(size_t t) {
        const TaperFrame& taper = frame_.tapers[t];
        const LoadColumns::TaperLoad& load = loads().taper(t);
        if (load.segments.empty())
            return;
        const Date race = season_.races[static_cast<size_t>(taper.race)].date;
        const auto w = static_cast<size_t>(frame_.weekOf(std::max(taper.first, frame_.today)));
        const double room = taperRoom(taper);
        const Linear ref = room * loads().reference(w);
        const auto level = [&](size_t k) { return Linear{}.add(load.segments[k].column, 1); };
        const size_t count = load.segments.size();
        const bool deep = season_.rules.taperShape == TaperShape::DeepThenModerate && count >= 3;
        // Volume is hours: those of a point in the last build week, whose mix may be another.
        const size_t build = taper.lastBuildWeek >= 0 ? static_cast<size_t>(taper.lastBuildWeek) : w;
        const double per = hoursPerPoint(patterns_[build]), each = std::isfinite(per) ? per : 0;
        const double full = std::max(1e-9, room * loads().referenceReach(w));
        const std::vector<double> reached = taperReach(load, full, deep);
        double all = load.untouched, volumeReached = 0, ends = 1e-9; // the last: hours at the lowest levels
        for (size_t k = 0; k < count; ++k) {
            all += load.segments[k].share;
            volumeReached += reached[k] * load.segments[k].volume;
            ends += load.segments[k].volume * lowestLevel(deep, k, count);
        }
        // Where a long day of the window is not unloaded the rest can only do its own part.
        const double most =
            std::max((taper.raceDay - taper.window <= 10 ? mostShortTaper : mostTaperVolume) * all,
                     load.untouched + 0.34 * (all - load.untouched));
        // The lowest levels leave room under the most hours.
        const double fits = std::min(1.0, 0.8 * (most - load.untouched) * each / ends);
        const auto least = [&](size_t k, double share) {
            return std::min(fits * share, 0.8 * reached[k] / full);
        };
        Linear volume = (load.untouched * each) * loads().reference(w);
        for (size_t k = 0; k < count; ++k) {
            const int nth = static_cast<int>(count - k);
            volume.add(level(k), load.segments[k].volume);
            if (deep) {
                row(Rule::TaperFall, race, -unbounded, level(k) - (k < count / 2 ? 0.45 : 0.7) * ref, 0, nth);
                row(Rule::TaperSlow, race, 0, level(k) - least(k, lowestLevel(deep, k, count)) * ref,
                    unbounded, nth);
            } else if (k == 0) {
                row(Rule::TaperStart, race, -unbounded, level(0) - 0.85 * ref, 0, nth);
            } else {
                row(Rule::TaperFall, race, -unbounded, level(k) - 0.97 * level(k - 1), 0, nth);
                row(Rule::TaperSlow, race, 0, level(k) - 0.6 * level(k - 1), unbounded, nth);
            }
        }
        const bool whole = taper.window >= frame_.today && taper.lastBuildWeek >= 0;
        row(Rule::TaperLast, race, 0, level(count - 1) - least(count - 1, 0.25) * ref, unbounded);
        // What was missed of a taper is not caught up in its last days.
        const bool begun = taper.first < frame_.today;
        if (count > 1 || deep || begun)
            row(Rule::TaperVolume, race, -unbounded, volume - (most * each) * loads().reference(w), 0, 0);
        if (whole && room > 0.99)
            row(Rule::TaperVolume, race, 0,
                volume - std::min(leastTaperVolume * all * each, 0.8 * volumeReached / full) * ref, unbounded,
                1);
    }

    /// A plan that was promised is left only for what is worth it.
    void keepNear() {
        constexpr int weeks = 6;
        int left = weeks;
        for (size_t w = 0; w < std::min(choices_.promised.size(), frame_.weeks.size()) && left > 0; ++w) {
            if (!loads().planned(w) || loads().levelColumn(w) < 0)
                continue;
            --left;
            if (frame_.weeks[w].kind == WeekKind::Build && choices_.promised[w] > 0)
                near(Rule::Jump, monday(w), loads().level(w) - Linear{choices_.promised[w], {}},
                     keepsItsWord);
        }
    }

    void aims() {
        int secondary = 0, last = -1;
        for (const Race& race : season_.races) {
            secondary += race.priority == Priority::B ? 1 : 0;
            if (race.priority != Priority::C)
                last = std::max(last, race.date - season_.start);
        }
        // Many B races together never outweigh the A race.
        const double each = std::min(secondaryWeight, 2 * secondaryWeight / std::max(1, secondary));
        for (const Race& race : season_.races) {
            const int d = race.date - season_.start;
            if (race.priority == Priority::C || d < frame_.today)
                continue;
            const Linear fitness = loads().fitnessAfter(d - 1);
            if (race.priority == Priority::A)
                out_.fitnessA.add(fitness);
            out_.programme.reward(fitness, race.priority == Priority::A ? 1 : each);
        }
        const int end = static_cast<int>(frame_.days.size()) - 1;
        if (last < frame_.today)
            out_.programme.reward(loads().fitnessAfter(end), 1);
        else if (last < end)
            out_.programme.reward(loads().fitnessAfter(end), carriedFitness);
        // By the whole way, not by what is left of it: a day is worth the same on every Monday.
        const int until = last < frame_.today ? end : last;
        out_.programme.reward(loads().meanFitness(frame_.today, until),
                              carriedFitness * (until - frame_.today + 1) / (until + 1));
        keepNear();
    }

    const Season& season_;
    const SeasonFrame& frame_;
    const std::vector<WeekPattern>& patterns_;
    const RowChoices& choices_;
    SeasonProgramme out_;
    double today_ = 0; ///< fitness on the first planned morning
};

} // namespace

SeasonProgramme writeRows(const Season& season, const SeasonFrame& frame,
                          const std::vector<WeekPattern>& patterns, const RowChoices& choices) {
    return RowWriter(season, frame, patterns, choices).write();
}

bool floorHolds(const SeasonFrame& frame, int day) {
    if (day < frame.today + 7)
        return false;
    for (int d = std::max(0, day - 8); d <= day; ++d) {
        const DayFrame& at = frame.days[static_cast<size_t>(d)];
        if (at.camp || (at.race >= 0 && day - d <= 4))
            return false;
    }
    return true;
}

} // namespace marram
