// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/report.h"
#include "core/ride/grid.h"
#include "core/rider/units.h"
#include "core/season/plan.h"
#include "records/whole_record.h"
#include <array>
#include <functional>

namespace marram {

/// What a coach asks of a record, beside the week.
enum class Question { Changing, Worth, BestDays, Form, Kind, Split, Habits, Races, Body };

struct QuestionWords {
    Question question;
    const char* name;  ///< "Is it changing?"
    const char* words; ///< other words it is looked for by
    bool spans;        ///< answered over a span the coach chooses
};
inline constexpr std::array<QuestionWords, 9> questions{
    {{Question::Changing, "Is it changing?", "markers trend progress plateau improving", true},
     {Question::Worth, "What has it been worth?", "response gains forecast fitness prediction", false},
     {Question::BestDays, "What came before the best days?", "peak good days why", false},
     {Question::Form, "Which form suits them?", "gate taper freshness", false},
     {Question::Kind, "What kind of rider?", "profile strengths durability sprinter climber", false},
     {Question::Split, "Ridden as the school has it?", "intensity distribution easy days polarised", false},
     {Question::Habits, "What gets missed?", "compliance habits weekdays missed", false},
     {Question::Races, "How did the races go?", "debrief result pacing", false},
     {Question::Body, "Strength and body", "gym weight kilograms power to weight", false}}};

/// The best maximal efforts of the last year of another rider, as multiples of threshold power, by seconds.
using MaximalShares = std::map<int, double>;

/// What pages of review are made of.
struct ReportBasis {
    WholeRecord record;
    struct Ahead {
        Season whole; ///< the season in force with what its rider brings to it
        Plan plan;
    };
    std::optional<Ahead> ahead;
    std::vector<MaximalShares> others; ///< of the roster
    Units units;
    /// A ride's recording on its grid, corrected.
    std::function<Result<Ride>(const RideRecord&)> read;
    std::function<bool()> going = [] { return true; }; ///< false where nobody waits any more
};

/// Answers a question from the record; over so many days up to today where it spans.
Report answer(const ReportBasis& basis, Question question, int days = 140);

} // namespace marram
