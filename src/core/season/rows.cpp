// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/rows.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double highestMiss = 400; ///< points; no form is further from a gate
constexpr double highestSlack = 1e5;
/// What a point laid out evenly costs in the last aim: long days stay long unless something asks otherwise.
constexpr double spreadPrice = 0.05;
constexpr double leastReturn = 0.75; ///< of the block before a break, camp or race
constexpr double secondaryMargin =
    0.25; ///< what a point of margin at a B race is worth beside one at an A race

/// Writes the rows of one season.
class RowWriter {
public:
    RowWriter(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
              const RowChoices& choices)
        : season_(season), frame_(frame), patterns_(patterns), choices_(choices) {
        out_.loads = std::make_unique<LoadColumns>(season, frame, patterns, out_.programme);
        for (size_t w = 0; w < frame.weeks.size(); ++w)
            capacity_.push_back(weekCapacity(frame, patterns[w], w));
        for (const double h : season.hours)
            usualHours_ += h;
    }

    SeasonProgramme write() {
        ramp();
        floor();
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            hours(w);
            if (planned(w))
                week(w);
        }
        blocks();
        for (size_t t = 0; t < frame_.tapers.size(); ++t)
            taper(t);
        gates();
        aims();
        return std::move(out_);
    }

private:
    struct Reference {
        Linear load;         ///< stress of the week compared with
        double capacity = 0; ///< what that week could hold
    };

    double roomOf(size_t w) const { return levelCapacity(frame_, patterns_[w], w); }
    bool planned(size_t w) const { return frame_.weeks[w].first >= frame_.today; }
    LoadColumns& loads() { return *out_.loads; }
    std::string id(size_t w) const {
        std::string text = isoText(frame_.weeks[w].start);
        std::replace(text.begin(), text.end(), '-', '_');
        return text;
    }

    /// A row that gives way by a slack of its own where the season cannot be held otherwise.
    int row(const std::string& name, RowKind kind, double lower, Linear expression, double upper) {
        if (choices_.slack && kind != RowKind::Definition) {
            const auto slack = [&](const char* side, double sign) {
                const int c = out_.programme.addColumn(name + side, 0, highestSlack);
                expression.add(c, sign);
                out_.slack[kind].push_back(c);
                out_.atUpper.push_back(c);
            };
            if (std::isfinite(lower))
                slack("_up", 1);
            if (std::isfinite(upper))
                slack("_down", -1);
        }
        return out_.programme.addRow(name, kind, lower, expression, upper);
    }

    /// The week load of a rider whose load is steady at today's fitness.
    double steadyWeek() { return 7 * std::max(1.0, loads().fitnessAfter(frame_.today - 1).constant); }

    /// The last planned build week before w, or a steady week where there is none.
    Reference reference(size_t w) {
        for (size_t i = w; i-- > 0;)
            if (frame_.weeks[i].kind == WeekKind::Build && planned(i))
                return {loads().weekStress(i), capacity_[i]};
        return {Linear{steadyWeek(), {}}, steadyWeek()};
    }

    double part(size_t w) const {
        return usualHours_ > 0 && !frame_.weeks[w].whole()
                   ? std::min(1.0, frame_.weeks[w].nominalHours / usualHours_)
                   : 1;
    }

    void between(size_t w, int column, const char* name, double low, double high, RowKind kind) {
        if (column < 0)
            return;
        const Reference ref = reference(w);
        const double room = ref.capacity > 0 ? std::min(1.0, roomOf(w) / ref.capacity / part(w)) : 1;
        const Linear level = Linear{}.add(column, 1);
        row(std::string(name) + "_most_" + id(w), kind, -unbounded, level - high * part(w) * ref.load, 0);
        if (low > 0)
            row(std::string(name) + "_least_" + id(w), RowKind::Slump, 0,
                level - low * room * part(w) * ref.load, unbounded);
    }

    void ramp() {
        out_.largestRamp = out_.programme.addColumn("largest_ramp", 0, season_.rules.ramp);
        out_.atUpper.push_back(out_.largestRamp);
        for (size_t w = 0; w < frame_.weeks.size(); ++w) {
            const WeekFrame& week = frame_.weeks[w];
            if (week.past || !rampHolds(frame_, w))
                continue;
            Linear rise = loads().fitnessAfter(week.last) - loads().fitnessAfter(week.first - 1);
            bool race = false;
            for (int d = week.first; d <= week.last; ++d)
                race = race || frame_.days[static_cast<size_t>(d)].race >= 0;
            if (race) {
                row("ramp_" + id(w), RowKind::Ramp, -unbounded, rise, season_.rules.ramp);
            } else {
                rise.add(out_.largestRamp, -1);
                row("ramp_" + id(w), RowKind::Ramp, -unbounded, rise, 0);
            }
        }
    }

    void floor() {
        for (const int d : choices_.floorDays) {
            std::string text = isoText(frame_.days[static_cast<size_t>(d)].date);
            std::replace(text.begin(), text.end(), '-', '_');
            row("floor_" + text, RowKind::FormFloor, season_.rules.formFloor, loads().formOn(d), unbounded);
        }
    }

    /// A week laid out partly one way and partly the other uses its hours by both.
    void hours(size_t w) {
        const int spread = loads().spreadOf(w);
        if (spread < 0)
            return;
        const double whole = roomOf(w),
                     even = patterns_[w].spread.nominalHours * frame_.weeks[w].pointsPerHour;
        out_.programme.columns[static_cast<size_t>(loads().levelOf(w))].upper = unbounded;
        out_.programme.addRow("hours_" + id(w), RowKind::Definition, -unbounded,
                              Linear{}.add(loads().levelOf(w), 1).add(spread, whole / even), whole);
        spread_.add(spread, spreadPrice);
    }

    void week(size_t w) {
        const WeekFrame& week = frame_.weeks[w];
        const int level = loads().levelOf(w);
        switch (week.kind) {
        case WeekKind::Build:
            break;
        case WeekKind::Deload:
            deload(w);
            break;
        case WeekKind::Recovery:
            between(w, level, "recovery", 0.3, 0.6, RowKind::Deload);
            break;
        case WeekKind::Transition:
            if (w == 0 || !week.whole())
                between(w, level, "edge", 0.7, 1.0, RowKind::Deload);
            else
                between(w, level, "transition", 0.45, 0.55, RowKind::Deload);
            break;
        case WeekKind::Camp:
            between(w, level, "camp", 0, 0.8, RowKind::Deload);
            break;
        case WeekKind::Break:
            if (level >= 0 && week.pinned)
                out_.programme.columns[static_cast<size_t>(level)].upper = 0;
            else
                between(w, level, "break", 0, 0.5, RowKind::Deload);
            break;
        case WeekKind::Taper:
            between(w, level, "unload", 0.3, 0.6, RowKind::Deload);
            break;
        case WeekKind::Race:
            between(w, level, "raceweek", 0.4, 1.0, RowKind::Deload);
            break;
        }
        between(w, loads().freshOf(w), "fresh", 0.2, 0.8, RowKind::Deload);
        between(w, loads().afterRaceOf(w), "after", 0.2, 0.5, RowKind::Deload);
        between(w, loads().beforeTaperOf(w), "before", 0.8, 1.0, RowKind::Deload);
    }

    void deload(size_t w) {
        const Reference ref = reference(w);
        const auto [low, high] = deloadRange(season_.rules);
        const Linear load = loads().weekStress(w);
        const double room = ref.capacity > 0 ? std::min(1.0, capacity_[w] / (high * ref.capacity)) : 1;
        row("deload_most_" + id(w), RowKind::Deload, -unbounded, load - high * ref.load, 0);
        row("deload_least_" + id(w), RowKind::Deload, 0, load - (low * room) * ref.load, unbounded);
        even("deload_even_" + id(w), load - season_.rules.deload * ref.load);
    }

    /// A column at least as large as |expression|, for the last aim.
    void even(const std::string& name, const Linear& expression) {
        const int c = out_.programme.addColumn(name, 0, highestSlack);
        out_.programme.addRow(name + "_over", RowKind::Definition, -unbounded,
                              expression - Linear{}.add(c, 1), 0);
        out_.programme.addRow(name + "_under", RowKind::Definition, 0, expression + Linear{}.add(c, 1),
                              unbounded);
        out_.uneven.push_back(c);
        out_.atUpper.push_back(c);
    }

    /// True where a build week's own hours hold less than the week it is compared with.
    bool limited(size_t w, double otherCapacity) {
        const bool less = capacity_[w] < 0.995 * otherCapacity;
        if (less)
            out_.limitedWeeks.insert(w);
        return less && !choices_.fullShape.contains(w);
    }

    void shape(const std::vector<size_t>& weeks) {
        size_t standard = weeks.front(); // the last week not held down by its own hours
        for (size_t i = 1; i < weeks.size(); ++i) {
            const size_t w = weeks[i];
            const Linear load = loads().weekStress(w), before = loads().weekStress(standard);
            const bool less = limited(w, capacity_[standard]);
            const double room = less && capacity_[standard] > 0 ? capacity_[w] / capacity_[standard] : 1;
            row("rise_" + id(w), RowKind::Shape, -unbounded, load - largestRise * before, 0);
            row("keep_" + id(w), RowKind::Shape, 0, load - room * before, unbounded);
            if (!less && standard != weeks[i - 1])
                row("regain_" + id(w), RowKind::Shape, 0, load - loads().weekStress(weeks[i - 1]), unbounded);
            if (i >= 2 && !less && standard == weeks[i - 1])
                even("step_even_" + id(w), load - 2 * before + loads().weekStress(weeks[i - 2]));
            if (!less)
                standard = w;
        }
    }

    Linear meanOf(const std::vector<size_t>& weeks) {
        Linear mean;
        for (const size_t w : weeks)
            mean.add(loads().weekStress(w), 1.0 / static_cast<double>(weeks.size()));
        return mean;
    }

    double meanCapacity(const std::vector<size_t>& weeks) const {
        double sum = 0;
        for (const size_t w : weeks)
            sum += capacity_[w];
        return sum / static_cast<double>(weeks.size());
    }

    void blocks() {
        const std::vector<Block> all = plannedBlocks(frame_);
        for (size_t k = 0; k < all.size(); ++k) {
            const Block& block = all[k];
            shape(block.weeks);
            const std::string name = id(block.weeks.front());
            const Linear mean = meanOf(block.weeks);
            if (k == 0) {
                const double steady = std::min(steadyWeek(), capacity_[block.weeks.front()]);
                if (season_.before.form() > -20 || frame_.today > 0)
                    row("first_block_" + name, RowKind::Slump, 0.85 * steady,
                        loads().weekStress(block.weeks.front()), unbounded);
                continue;
            }
            const Block& previous = all[k - 1];
            if (block.explained) {
                // A break or a race excuses a smaller block, but not one that lets the season go.
                const double roomAfter =
                    std::min(1.0, meanCapacity(block.weeks) / std::max(1e-9, meanCapacity(previous.weeks)));
                row("return_" + name, RowKind::Slump, 0,
                    mean - leastReturn * roomAfter * meanOf(previous.weeks), unbounded);
                continue;
            }
            const size_t first = block.weeks.front(), last = block.weeks.back(),
                         lastBefore = previous.weeks.back();
            const double room =
                std::min(1.0, meanCapacity(block.weeks) / std::max(1e-9, meanCapacity(previous.weeks)));
            row("block_" + name, RowKind::Slump, 0, mean - room * meanOf(previous.weeks), unbounded);
            const double peak = std::min(1.0, capacity_[last] / std::max(1e-9, capacity_[lastBefore]));
            row("peak_" + name, RowKind::Slump, 0,
                loads().weekStress(last) - peak * loads().weekStress(lastBefore), unbounded);
            if (capacity_[first] <= 1.2 * capacity_[lastBefore])
                row("enter_" + name, RowKind::Shape, -unbounded,
                    loads().weekStress(first) - largestRise * loads().weekStress(lastBefore), 0);
            if (k >= 2 && !previous.explained)
                even("block_even_" + name, mean - 2 * meanOf(previous.weeks) + meanOf(all[k - 2].weeks));
        }
    }

    void taper(size_t t) {
        const TaperFrame& taper = frame_.tapers[t];
        const auto& falls = loads().fallsOf(t);
        if (falls.empty())
            return;
        const std::string name = std::to_string(t + 1);
        // Volume is hours; what it is cut from is the last build week.
        const WeekFrame& raceWeekFrame = frame_.weeks[static_cast<size_t>(frame_.weekOf(taper.raceDay))];
        Linear volumeBefore{steadyWeek() / raceWeekFrame.pointsPerHour, {}}, loadBefore{steadyWeek(), {}};
        if (taper.lastBuildWeek >= 0 && planned(static_cast<size_t>(taper.lastBuildWeek))) {
            const auto w = static_cast<size_t>(taper.lastBuildWeek);
            volumeBefore = loads().trainingHours(frame_.weeks[w].first, frame_.weeks[w].last);
            loadBefore = frame_.weeks[w].pointsPerHour * volumeBefore;
        }
        const int start = loads().taperStart(t);
        row("taper_enter_" + name, RowKind::Taper, -unbounded,
            loads().taperLevel(t, start) - 0.92 * loadBefore, 0);
        for (int w = frame_.weekOf(start); w <= frame_.weekOf(taper.raceDay); ++w) {
            const int first = std::max(start, frame_.weeks[static_cast<size_t>(w)].first);
            if (first < taper.raceDay)
                out_.programme.addRow("taper_hours_" + name + "_" + id(static_cast<size_t>(w)),
                                      RowKind::Definition, -unbounded, loads().taperLevel(t, first),
                                      roomOf(static_cast<size_t>(w)));
        }
        const int from = std::max({taper.window, 0, frame_.today});
        const double weeks = (taper.raceDay - from) / 7.0;
        if (weeks < 0.5)
            return;
        const auto volume = [&](const char* what, int first, double count, RowKind least) {
            const Linear hours = loads().trainingHours(first, taper.raceDay - 1);
            row(what + std::string("_most_") + name, RowKind::Taper, -unbounded,
                hours - (mostTaperVolume * count) * volumeBefore, 0);
            row(what + std::string("_least_") + name, least, 0,
                hours - (leastTaperVolume * count * trainable(first, taper.raceDay - 1)) * volumeBefore,
                unbounded);
        };
        volume("taper_days", from, weeks, RowKind::Taper);
        // The same by calendar weeks, where there are whole weeks of it.
        const int firstWeek = frame_.weekOf(start), raceWeek = frame_.weekOf(taper.raceDay);
        const int firstDay = frame_.weeks[static_cast<size_t>(firstWeek)].first;
        // A race early in its week leaves hardly any of that week to train in: it counts by its days.
        const bool late = weekday(frame_.days[static_cast<size_t>(taper.raceDay)].date) >= 4;
        const double count = late ? raceWeek - firstWeek + 1 : (taper.raceDay - firstDay) / 7.0;
        if (raceWeek > firstWeek && frame_.today <= firstDay && taper.window >= 0)
            volume("taper_weeks", firstDay, count, RowKind::Slump);
        fallByWeeks(taper, from);
    }

    /// The part of the usual hours of some days that absences leave.
    double trainable(int firstDay, int lastDay) const {
        double usual = 0, left = 0;
        for (int d = firstDay; d <= lastDay; ++d) {
            const DayFrame& day = frame_.days[static_cast<size_t>(d)];
            usual += season_.hours[static_cast<size_t>(weekday(day.date))];
            left += day.race >= 0 ? day.nominalHours : day.hours;
        }
        return usual > 0 ? std::min(1.0, left / usual) : 0;
    }

    bool home(int firstDay, int lastDay) const {
        return std::none_of(frame_.days.begin() + firstDay, frame_.days.begin() + lastDay + 1,
                            [](const DayFrame& d) { return d.away || d.camp || d.past; });
    }

    /// No seven days of a taper hold more training than the seven before them, whatever races lie among them.
    void fallByWeeks(const TaperFrame& taper, int from) {
        const std::string name = std::to_string(taper.race + 1);
        for (int k = 1; taper.raceDay - 7 * (k + 1) >= from; ++k) {
            const int middle = taper.raceDay - 7 * k;
            if (home(middle - 7, middle - 1))
                row("taper_fall_" + name + "_" + std::to_string(k), RowKind::Taper, -unbounded,
                    loads().trainingHours(middle, middle + 6) - loads().trainingHours(middle - 7, middle - 1),
                    0);
        }
    }

    void gates() {
        for (size_t r = 0; r < season_.races.size(); ++r) {
            const auto gate = raceGate(season_.races[r]);
            const int day = season_.races[r].date - season_.start;
            if (!gate || day < frame_.today || season_.races[r].priority == Priority::C)
                continue;
            const std::string name = std::to_string(r + 1);
            SeasonProgramme::GateColumns columns;
            columns.race = static_cast<int>(r);
            const auto column = [&](const char* what) {
                const int c = out_.programme.addColumn(what + name, 0, highestMiss);
                out_.atUpper.push_back(c);
                return c;
            };
            columns.missLow = column("below_gate_");
            columns.missHigh = column("above_gate_");
            columns.shortLow = column("near_lower_edge_");
            columns.shortHigh = column("near_upper_edge_");
            const Linear form = loads().formOn(day);
            const double margin = (gate->high - gate->low) / 4;
            auto& p = out_.programme;
            p.addRow("gate_low_" + name, RowKind::Definition, gate->low,
                     form + Linear{}.add(columns.missLow, 1), unbounded);
            p.addRow("gate_high_" + name, RowKind::Definition, -unbounded,
                     form - Linear{}.add(columns.missHigh, 1), gate->high);
            p.addRow("margin_low_" + name, RowKind::Definition, gate->low + margin,
                     form + Linear{}.add(columns.shortLow, 1), unbounded);
            p.addRow("margin_high_" + name, RowKind::Definition, -unbounded,
                     form - Linear{}.add(columns.shortHigh, 1), gate->high - margin);
            out_.gates.push_back(columns);
        }
    }

    SeasonProgramme::Aim aim(const char* name, Linear value) {
        SeasonProgramme::Aim a;
        a.value = std::move(value);
        if (!a.value.terms.empty())
            a.row = out_.programme.addRow(name, RowKind::Definition, -unbounded, a.value, unbounded);
        return a;
    }

    void aims() {
        Linear missA, missB, fitnessA, fitnessB, shortfall, unevenness;
        for (const auto& gate : out_.gates) {
            const Priority p = season_.races[static_cast<size_t>(gate.race)].priority;
            (p == Priority::A ? missA : missB).add(gate.missLow, 1).add(gate.missHigh, 1);
            const double weight = p == Priority::A ? 1 : secondaryMargin;
            shortfall.add(gate.shortLow, weight).add(gate.shortHigh, weight);
        }
        for (const Race& race : season_.races) {
            const int day = race.date - season_.start;
            if (day >= frame_.today && race.priority != Priority::C)
                (race.priority == Priority::A ? fitnessA : fitnessB).add(loads().fitnessAfter(day - 1));
        }
        if (fitnessA.terms.empty() && fitnessB.terms.empty())
            fitnessB = loads().fitnessAfter(season_.dayCount() - 1);
        for (const int c : out_.uneven)
            unevenness.add(c, 1);
        unevenness.add(spread_);
        out_.missA = aim("aim_miss_a", missA);
        out_.missB = aim("aim_miss_b", missB);
        out_.fitnessA = aim("aim_fitness_a", fitnessA);
        out_.fitnessB = aim("aim_fitness_b", fitnessB);
        out_.shortfall = aim("aim_margin", shortfall);
        out_.unevenness = aim("aim_even", unevenness);
        for (const auto& [kind, columns] : out_.slack) {
            Linear sum;
            for (const int c : columns)
                sum.add(c, 1);
            out_.give[kind] = aim(("give_" + std::to_string(static_cast<int>(kind))).c_str(), sum);
        }
    }

    const Season& season_;
    const SeasonFrame& frame_;
    const std::vector<WeekPattern>& patterns_;
    const RowChoices& choices_;
    SeasonProgramme out_;
    std::vector<double> capacity_;
    double usualHours_ = 0;
    Linear spread_;
};

} // namespace

SeasonProgramme writeRows(const Season& season, const SeasonFrame& frame,
                          const std::vector<WeekPattern>& patterns, const RowChoices& choices) {
    return RowWriter(season, frame, patterns, choices).write();
}

std::pair<double, double> deloadRange(const Rules& rules) {
    const double low = rules.deload - 0.03, high = rules.deload + 0.03;
    // The trade's 50–70 %, unless the coach asks for something else.
    if (rules.deload < 0.5 || rules.deload > 0.7)
        return {std::max(0.0, low), high};
    return {std::max(0.5, low), std::min(0.7, high)};
}

bool floorHolds(const Season& season, const SeasonFrame& frame, int day) {
    if (day <= frame.today || day - frame.today < 7)
        return false;
    for (int d = std::max(0, day - 8); d <= day; ++d) {
        const DayFrame& each = frame.days[static_cast<size_t>(d)];
        if (each.camp || (each.race >= 0 && season.races[static_cast<size_t>(each.race)].days > 1))
            return false;
    }
    return true;
}

bool rampHolds(const SeasonFrame& frame, size_t week) {
    for (int d = frame.weeks[week].first; d <= frame.weeks[week].last; ++d)
        if (frame.days[static_cast<size_t>(d)].camp)
            return false;
    return true;
}

std::vector<Block> plannedBlocks(const SeasonFrame& frame) {
    std::vector<Block> blocks;
    int current = -1;
    bool explained = false;
    for (size_t w = 0; w < frame.weeks.size(); ++w) {
        const WeekFrame& week = frame.weeks[w];
        const bool peak = week.kind == WeekKind::Race && week.phase == Phase::Race;
        if (week.kind == WeekKind::Break || week.kind == WeekKind::Recovery || week.kind == WeekKind::Camp ||
            week.kind == WeekKind::Transition || week.kind == WeekKind::Taper || peak)
            explained = true;
        if (week.kind != WeekKind::Build || week.first < frame.today)
            continue;
        if (week.block != current) {
            blocks.push_back({{}, explained});
            explained = false;
            current = week.block;
        }
        blocks.back().weeks.push_back(w);
    }
    return blocks;
}

} // namespace marram
