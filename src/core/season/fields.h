// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"
#include "core/words/fields.h"

/// A season and what it is made of, field by field. A row of a season holds what it is; races, weeks,
/// sessions and days away have rows of their own.
namespace marram {

template <>
struct FieldsOf<LoadState> {
    static constexpr auto list = described(field("fitness", &LoadState::fitness).within(0, 400),
                                           field("fatigue", &LoadState::fatigue).within(0, 800));
};

template <>
struct FieldsOf<TimeConstants> {
    static constexpr auto list =
        described(field("tau_fitness_d", &TimeConstants::fitness).as(Stands::Written).within(1, 200),
                  field("tau_fatigue_d", &TimeConstants::fatigue).as(Stands::Written).within(0.5, 100));
};

template <>
struct FieldsOf<Race> {
    static constexpr auto list = described(
        field("name", &Race::name), field("date", &Race::date).in("day"),
        field("priority", &Race::priority).upTo(Priority::C),
        field("stress", &Race::stress).as(Stands::WhereSet).within(0, 5000),
        field("days", &Race::days).as(Stands::Written).within(1, 30),
        field("gate", &Race::gate).as(Stands::WhereSet).within(-100, 100).in("gate_low, gate_high"),
        field("demand", &Race::demand).as(Stands::WhereSet).upTo(Demand::Stage),
        field("course", &Race::course).as(Stands::WhereSet),
        field("result", &Race::result).as(Stands::WhereSet), field("note", &Race::note).as(Stands::WhereSet),
        field("squad", &Race::squad).as(Stands::WhereSet).in("squad_day"));
};

template <>
struct FieldsOf<Rules> {
    // One key stands for the two members of a rhythm, for the three of a taper's length, for both of its
    // shape and for both of a school.
    static constexpr auto list = described(
        field(&Rules::buildWeeks), field(&Rules::deloadWeeks),
        field("ramp", &Rules::ramp).as(Stands::Written),
        field("form_floor", &Rules::formFloor).as(Stands::Written),
        field("deload", &Rules::deload).as(Stands::Written), field(&Rules::taperDays),
        field(&Rules::taperSet), field(&Rules::taperBest), field(&Rules::taperShape),
        field(&Rules::shapeBest), field("overreach", &Rules::overreach).as(Stands::WhereSet),
        field("volume", &Rules::volume).as(Stands::WhereSet), field("gym", &Rules::gym).as(Stands::WhereSet),
        field("gym_beside", &Rules::gymBeside).as(Stands::WhereSet),
        field("miss", &Rules::miss).as(Stands::WhereSet),
        field("miss_run", &Rules::missRun).as(Stands::WhereSet),
        field("gate_price", &Rules::gatePrice).as(Stands::WhereSet),
        field("hard_days", &Rules::hardDays).as(Stands::Written), field(&Rules::school),
        field(&Rules::ownSplits), field("order", &Rules::order).as(Stands::Written).upTo(Order::Mixed));
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
        field("rung", &SessionPin::rung).as(Stands::WhereSet).within(1, 40),
        field("minutes", &SessionPin::minutes).as(Stands::WhereSet).within(5, 1440),
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
                  field("stress", &Away::stress).as(Stands::WhereSet).within(0, 10000));
};

template <>
struct FieldsOf<Season> {
    // What is the rider's own, and what was ridden, is filled in from the rider whenever the season is read.
    static constexpr auto list =
        described(field("start", &Season::start).in("start_day"), field("end", &Season::end).in("end_day"),
                  field(&Season::thresholdPower).notEdited(), field(&Season::before).in("*"),
                  field(&Season::layOff).in("lay_off"), field(&Season::tau).in("*"),
                  field(&Season::born).notEdited(), field(&Season::care).notEdited(),
                  field(&Season::hours).notEdited(), field(&Season::lowThreshold).notEdited(),
                  field(&Season::rules).in("rules"), field(&Season::races), field(&Season::weeks),
                  field(&Season::sessions), field(&Season::away), field(&Season::past).notEdited());
};

} // namespace marram
