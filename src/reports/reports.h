// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/report.h"
#include "core/ride/grid.h"
#include "core/rider/units.h"
#include "core/season/plan.h"
#include "core/words/phrase.h"
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
    {{Question::Changing, marked("Is it changing?"), marked("markers trend progress plateau improving"),
      true},
     {Question::Worth, marked("What has it been worth?"),
      marked("response gains forecast fitness prediction"), false},
     {Question::BestDays, marked("What came before the best days?"), marked("peak good days why"), false},
     {Question::Form, marked("Which form suits them?"), marked("gate taper freshness"), false},
     {Question::Kind, marked("What kind of rider?"), marked("profile strengths durability sprinter climber"),
      false},
     {Question::Split, marked("Ridden as the school has it?"),
      marked("intensity distribution easy days polarised"), false},
     {Question::Habits, marked("What gets missed?"), marked("compliance habits weekdays missed"), false},
     {Question::Races, marked("How did the races go?"), marked("debrief result pacing"), false},
     {Question::Body, marked("Strength and body"), marked("gym weight kilograms power to weight"), false}}};

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
