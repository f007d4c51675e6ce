// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"
#include "core/words/fields.h"
#include "core/words/phrase.h"

/// A season and what it is made of, field by field. A row of a season holds what it is; races, weeks,
/// sessions and days away have rows of their own.
namespace marram {

template <>
struct FieldsOf<LoadState> {
    static constexpr auto list =
        described(field("fitness", &LoadState::fitness)
                      .within(0, 400, marked("rider.fitness: must be 0 to 400 points a day")),
                  field("fatigue", &LoadState::fatigue)
                      .within(0, 800, marked("rider.fatigue: must be 0 to 800 points a day")));
};

template <>
struct FieldsOf<TimeConstants> {
    static constexpr const char* words =
        marked("rider.tau_fitness_d: time constants must be 0.5 to 200 days, fatigue shorter than fitness");
    static constexpr auto list = described(
        field("tau_fitness_d", &TimeConstants::fitness).as(Stands::Written).within(1, 200, words),
        field("tau_fatigue_d", &TimeConstants::fatigue).as(Stands::Written).within(0.5, 100, words));
};

template <>
struct FieldsOf<Race> {
    static constexpr auto list = described(
        field("name", &Race::name), field("date", &Race::date).in("day"),
        field("priority", &Race::priority).upTo(Priority::C),
        field("stress", &Race::stress)
            .as(Stands::WhereSet)
            .within(0, 5000, marked("%1: stress must be 0 to 5000 points")),
        field("days", &Race::days).as(Stands::Written).within(1, 30, marked("%1: days must be 1 to 30")),
        field("gate", &Race::gate).as(Stands::WhereSet).within(-100, 100).in("gate_low, gate_high"),
        field("demand", &Race::demand).as(Stands::WhereSet).upTo(Demand::Stage),
        field("course", &Race::course).as(Stands::WhereSet),
        field("result", &Race::result).as(Stands::WhereSet), field("note", &Race::note).as(Stands::WhereSet),
        field("squad", &Race::squad).as(Stands::WhereSet).in("squad_day"));
};

template <>
struct FieldsOf<Rules> {
    static constexpr const char* rhythm =
        marked("rules.rhythm: must be 1 to 8 build weeks and 1 to 3 deload weeks, as [3, 1]");
    // One key stands for the two members of a rhythm, for the three of a taper's length, for both of its
    // shape and for both of a school.
    static constexpr auto list = described(
        field(&Rules::buildWeeks).within(1, 8, rhythm), field(&Rules::deloadWeeks).within(1, 3, rhythm),
        field("ramp", &Rules::ramp)
            .as(Stands::Written)
            .within(0, 30, marked("rules.ramp: must be 0 to 30 points a day per week")),
        field("form_floor", &Rules::formFloor)
            .as(Stands::Written)
            .within(-200, 0, marked("rules.form_floor: must be -200 to 0 points a day")),
        field("deload", &Rules::deload)
            .as(Stands::Written)
            .within(0.2, 1, marked("rules.deload: must be a fraction from 0.2 to 1")),
        field(&Rules::taperDays).within(0, 42, marked("rules.taper_d: must be 0 to 42 days")),
        field(&Rules::taperSet), field(&Rules::taperBest), field(&Rules::taperShape),
        field(&Rules::shapeBest), field("overreach", &Rules::overreach).as(Stands::WhereSet),
        field("volume", &Rules::volume).as(Stands::WhereSet), field("gym", &Rules::gym).as(Stands::WhereSet),
        field("gym_beside", &Rules::gymBeside).as(Stands::WhereSet),
        field("miss", &Rules::miss)
            .as(Stands::WhereSet)
            .within(0, 0.9, marked("rules.miss: must be a probability from 0 to 0.9")),
        field("miss_run", &Rules::missRun)
            .as(Stands::WhereSet)
            .within(1, 30, marked("rules.miss_run: must be 1 to 30 days")),
        field("gate_price", &Rules::gatePrice)
            .as(Stands::WhereSet)
            .within(0.25, 4,
                    marked("rules.gate_price: must be 0.25 to 4 points of fitness for a point of the gate")),
        field("hard_days", &Rules::hardDays)
            .as(Stands::Written)
            .within(0, 7, marked("rules.hard_days: must be 0 to 7")),
        field(&Rules::school), field(&Rules::ownSplits),
        field("order", &Rules::order).as(Stands::Written).upTo(Order::Mixed));
};

template <>
struct FieldsOf<WeekPin> {
    static constexpr auto list = described(
        field("start", &WeekPin::start).in("start_day"), field("hours", &WeekPin::hours).as(Stands::WhereSet),
        field("kind", &WeekPin::kind).as(Stands::WhereSet).upTo(WeekKind::Camp),
        field("phase", &WeekPin::phase).as(Stands::WhereSet).upTo(Phase::Specialise));
};

template <>
struct FieldsOf<SessionPin> {
    static constexpr auto list = described(
        field("date", &SessionPin::date).in("day"), field("family", &SessionPin::family).as(Stands::WhereSet),
        field("rung", &SessionPin::rung)
            .as(Stands::WhereSet)
            .within(1, 40, marked("sessions: rung of %1 must be 1 to 40")),
        field("minutes", &SessionPin::minutes)
            .as(Stands::WhereSet)
            .within(5, 1440, marked("sessions: minutes of %1 must be 5 to 1440")),
        field("words", &SessionPin::words).as(Stands::WhereSet),
        field("note", &SessionPin::note).as(Stands::WhereSet),
        field("team", &SessionPin::team).as(Stands::WhereSet),
        field("verdict", &SessionPin::verdict).as(Stands::WhereSet).upTo(RungVerdict::Ease));
};

template <>
struct FieldsOf<Away> {
    static constexpr auto list =
        described(field("from", &Away::from).in("from_day"), field("to", &Away::to).in("to_day"),
                  field("why", &Away::why).as(Stands::Written).upTo(AwayWhy::Camp),
                  field("stress", &Away::stress)
                      .as(Stands::WhereSet)
                      .within(0, 10000, marked("away: stress of %1 must be 0 to 10000 points")));
};

template <>
struct FieldsOf<Season> {
    // What is the rider's own, and what was ridden, is filled in from the rider whenever the season is read.
    static constexpr auto list = described(
        field("start", &Season::start).in("start_day"), field("end", &Season::end).in("end_day"),
        field(&Season::thresholdPower)
            .within(30, 700, marked("rider.threshold_power_w: must be 30 to 700 W"))
            .notEdited(),
        field(&Season::before).in("*"), field(&Season::layOff).in("lay_off"), field(&Season::tau).in("*"),
        field(&Season::born)
            .within(1900, 2199, marked("rider.born: must be a year from 1900 to 2199"))
            .notEdited(),
        field(&Season::care).notEdited(), field(&Season::hours).notEdited(),
        field(&Season::lowThreshold)
            .within(0.5, 0.95,
                    marked("rider.low_threshold: must be a fraction of threshold power from 0.5 "
                           "to 0.95"))
            .notEdited(),
        field(&Season::rules).in("rules"), field(&Season::races), field(&Season::weeks),
        field(&Season::sessions), field(&Season::away), field(&Season::past).notEdited());
};

} // namespace marram
