// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/caution.h"
#include "core/season/fields.h"
#include "records/records.h"

/// What a roster keeps, field by field.
namespace marram {

/// Beyond any number of points, hours or days in a season.
inline constexpr double farthest = 100000;

template <>
struct FieldsOf<CheckIn> {
    static constexpr auto list = described(
        field("date", &CheckIn::day).in("day"), field("feel", &CheckIn::feel).as(Stands::OrNull).within(1, 5),
        field("sleep", &CheckIn::sleep).as(Stands::OrNull).within(1, 5),
        field("soreness", &CheckIn::soreness).as(Stands::OrNull).within(1, 5),
        field("motivation", &CheckIn::motivation).as(Stands::OrNull).within(1, 5),
        field("rest_hr_bpm", &CheckIn::restHeartRate).as(Stands::OrNull).within(20, 250),
        field("weight_kg", &CheckIn::weightKg).as(Stands::OrNull).within(20, 300),
        field("ill", &CheckIn::ill), field("note", &CheckIn::note));
};

template <>
struct FieldsOf<TestResult> {
    static constexpr double far = 1e6;
    static constexpr auto list = described(
        field("date", &TestResult::day).in("day"), field("protocol", &TestResult::protocol),
        field("value", &TestResult::value).within(-far, far),
        field("second", &TestResult::second).within(-far, far),
        field("seconds", &TestResult::seconds).within(0, far),
        field("work_kj", &TestResult::workKj).within(0, far),
        field("altitude_m", &TestResult::altitudeM).as(Stands::OrNull).within(-500, 9000),
        field("acclimatised", &TestResult::acclimatised), field("place", &TestResult::place),
        field("note", &TestResult::note), field("verdict", &TestResult::verdict).upTo(Verdict::Declined));
};

template <>
struct FieldsOf<TestRecord> {
    static constexpr auto list =
        described(field(&TestRecord::id).notEdited(), field(&TestRecord::rider).notEdited(),
                  field(&TestRecord::result).in("*"), field("ride_sha256", &TestRecord::rideHash));
};

template <>
struct FieldsOf<SolvedDay> {
    static constexpr auto list =
        described(field("date", &SolvedDay::date).in("day"), field("role", &SolvedDay::role).upTo(Role::Race),
                  field("stress", &SolvedDay::stress).within(0, farthest),
                  field("hours", &SolvedDay::hours).within(0, 24),
                  field("fitness", &SolvedDay::fitness).within(-farthest, farthest),
                  field("fatigue", &SolvedDay::fatigue).within(-farthest, farthest),
                  field("form", &SolvedDay::form).within(-farthest, farthest),
                  field("week_kind", &SolvedDay::kind).as(Stands::WhereSet).upTo(WeekKind::Camp).in("kind"),
                  field("phase", &SolvedDay::phase).as(Stands::WhereSet).upTo(Phase::Break));
};

template <>
struct FieldsOf<SessionMark> {
    static constexpr auto list = described(
        field("power_w", &SessionMark::power).within(0, 5000),
        field("heart_bpm", &SessionMark::heartRate).as(Stands::OrNull).within(20, 260),
        field("fade", &SessionMark::fade).within(-1000, 100),
        field("found", &SessionMark::found).within(0, 1000), field("of", &SessionMark::of).within(0, 1000),
        field("temperature_c", &SessionMark::temperature).as(Stands::OrNull).within(-40, 60));
};

template <>
struct FieldsOf<MeantSession> {
    static constexpr auto list = described(
        field("date", &MeantSession::date).in("day"), field("family", &MeantSession::family),
        field("rung", &MeantSession::rung).within(0, 40), field("words", &MeantSession::words),
        field("note", &MeantSession::note),
        field("outcome", &MeantSession::outcome).as(Stands::WhereSet).upTo(RungVerdict::Ease),
        field("outcome_of", &MeantSession::outcomeOf).as(Stands::ByHand),
        field("told", &MeantSession::told).as(Stands::WhereSet), field(&MeantSession::mark).in("*"));
};

template <>
struct FieldsOf<Outlook> {
    static constexpr auto list =
        described(field("day", &Outlook::day), field("race", &Outlook::race),
                  field("form", &Outlook::form).within(-farthest, farthest),
                  field("fitness", &Outlook::fitness).within(-farthest, farthest),
                  field("expected_form", &Outlook::expectedForm).within(-farthest, farthest),
                  field("chance", &Outlook::chance).within(0, 1));
};

template <>
struct FieldsOf<Injury> {
    static constexpr auto list =
        described(field("from", &Injury::from), field("to", &Injury::to).as(Stands::OrNull),
                  field("what", &Injury::what));
};

template <>
struct FieldsOf<NotedCaution> {
    static constexpr auto list = described(
        field("caution", &NotedCaution::code), field("day", &NotedCaution::day),
        field("measure", &NotedCaution::measure).as(Stands::Written), field("reason", &NotedCaution::reason));
};

template <>
struct FieldsOf<RiderRecord> {
    static constexpr auto list = described(
        field(&RiderRecord::id).notEdited(), field("name", &RiderRecord::name),
        field("sex", &RiderRecord::sex).upTo(Sex::Male),
        field("born", &RiderRecord::born).as(Stands::OrNull).within(1900, 2199), field(&RiderRecord::values),
        field("hours", &RiderRecord::hours), field("note", &RiderRecord::note),
        field("training_years", &RiderRecord::trainingYears).as(Stands::OrNull).within(0, 100),
        field("usual_week_h", &RiderRecord::usualWeekHours).as(Stands::ByHand).within(0, 168),
        field("slow_recoverer", &RiderRecord::slowRecoverer),
        field("injuries", &RiderRecord::injuries).as(Stands::ByHand),
        field("strengths", &RiderRecord::strengths), field("weaknesses", &RiderRecord::weaknesses),
        field("cautions", &RiderRecord::cautions),
        field("care", &RiderRecord::care).as(Stands::ByHand).in("care, cleared"),
        field("groups", &RiderRecord::groups).in("groups_in"), field("archived", &RiderRecord::archived),
        field(&RiderRecord::scales).notEdited(), field(&RiderRecord::owesLearning).notEdited());
};

template <>
struct FieldsOf<RideRecord> {
    // What is derived lies in a table of its own.
    static constexpr auto list = described(
        field(&RideRecord::id).notEdited(), field(&RideRecord::rider).notEdited(),
        field("date", &RideRecord::day).in("day").notEdited(),
        field("utc_offset_s", &RideRecord::utcOffset).within(-86400, 86400).notEdited(),
        field("file_name", &RideRecord::fileName).notEdited(),
        field("content_sha256", &RideRecord::contentHash).as(Stands::ByHand).notEdited(),
        field("score", &RideRecord::score).as(Stands::ByHand).in("figures.figures").notEdited(),
        field("scoring_version", &RideRecord::scoringVersion)
            .within(0, 1000000)
            .in("figures.scoring_version")
            .notEdited(),
        field("threshold_power_w", &RideRecord::thresholdPower)
            .within(0, 10000)
            .in("figures.threshold_power_w")
            .notEdited(),
        field("best_s_w_start", &RideRecord::best).as(Stands::ByHand).in("figures.best").notEdited(),
        field("remarks", &RideRecord::remarks).notEdited(), field("excluded", &RideRecord::excluded),
        field("beside_sha256", &RideRecord::beside).as(Stands::ByHand).in("beside").nullWhereEmpty(),
        field("corrections", &RideRecord::corrections).as(Stands::ByHand),
        field("effort", &RideRecord::effort).as(Stands::OrNull).within(0, 10),
        field("note", &RideRecord::note),
        // Whether it is to be scored again comes of what else changed.
        field("stale", &RideRecord::stale).as(Stands::ByHand).in("figures.stale").notEdited());
};

template <>
struct FieldsOf<Family> {
    // Kept whole, by name.
    static constexpr auto list = described(
        field(&Family::name).notEdited(), field(&Family::purpose), field(&Family::grows),
        field(&Family::stop), field(&Family::caution), field(&Family::rungs), field(&Family::notWith),
        field(&Family::phases), field(&Family::work), field(&Family::own).notEdited(),
        field(&Family::test).notEdited(), field(&Family::together).notEdited());
};

} // namespace marram
