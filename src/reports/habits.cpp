// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/habits.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr int twelveWeeks = 84;
constexpr int leastDays = 20;

const char* nameOfDay(int day) {
    static constexpr std::array names{marked("Monday"),   marked("Tuesday"), marked("Wednesday"),
                                      marked("Thursday"), marked("Friday"),  marked("Saturday"),
                                      marked("Sunday")};
    return names.at(static_cast<size_t>(day - 1));
}

std::string kindOf(Role role) {
    switch (role) {
    case Role::Hard:
        return phrase("hard days");
    case Role::Long:
        return phrase("long rides");
    case Role::Test:
        return marked("tests");
    case Role::Openers:
        return marked("openers");
    default:
        return phrase("easy days");
    }
}

std::string percent(double v) {
    return fixedText(100 * v, 0) + " %";
}

/// Hours of a weekday in the last twelve weeks, weeks without a ride left out.
std::array<double, 7> riddenHours(const WholeRecord& r) {
    std::array<std::map<Date, double>, 7> by;
    std::set<Date> weeks;
    for (const RideRecord& ride : r.rides)
        if (const Date week = monday(ride.day);
            ride.day > r.today - twelveWeeks - 7 && week < monday(r.today)) {
            by.at(static_cast<size_t>(weekday(ride.day)))[week] += ride.score.duration / 3600.0;
            weeks.insert(week);
        }
    std::array<double, 7> hours{};
    if (weeks.empty())
        return hours;
    for (size_t d = 0; d < 7; ++d) {
        std::vector<double> each;
        each.reserve(weeks.size());
        for (const Date w : weeks)
            each.push_back(by.at(d).contains(w) ? by.at(d)[w] : 0);
        std::sort(each.begin(), each.end());
        const size_t half = each.size() / 2;
        hours.at(d) = each.size() % 2 == 1 ? each[half] : (each[half - 1] + each[half]) / 2;
    }
    return hours;
}

ReportTable ratesTable(const std::string& what, const std::vector<MissedRate>& rates, bool days) {
    ReportTable table{
        {what, phrase("Planned"), phrase("Missed"), phrase("Missed, share"), phrase("80 % band")}, 1, {}};
    constexpr int fewest = 5;
    for (const MissedRate& m : rates)
        if (m.planned >= fewest)
            table.rows.push_back({days ? translated(nameOfDay(std::stoi(m.of))) : m.of,
                                  std::to_string(m.planned), std::to_string(m.missed), percent(m.rate.value),
                                  phrase("%1 to %2", percent(m.rate.low), percent(m.rate.high))});
    return table;
}

bool training(const SolvedDay& day) {
    return day.role != Role::Race && day.role != Role::Rest && day.role != Role::Gym && day.stress >= 5;
}

/// The planned days of a year that could have been ridden.
std::vector<HabitDay> plannedDays(const WholeRecord& r) {
    std::set<Date> ill;
    for (const CheckIn& c : r.checkIns)
        if (c.ill)
            ill.insert(c.day);
    std::set<Date> away;
    for (const SeasonRecord& s : r.seasons)
        if (s.standing != SeasonStanding::Alternative)
            for (const Away& a : s.season.away)
                for (Date d = a.from; d <= a.to; d = d + 1)
                    away.insert(d);
    std::vector<HabitDay> days;
    for (auto it = r.planned.lower_bound(r.today - wholeYear); it != r.planned.end() && it->first < r.today;
         ++it) {
        const SolvedDay& p = it->second;
        if (!training(p) || ill.contains(it->first) || away.contains(it->first))
            continue;
        const auto done = r.counted.points.find(it->first);
        days.push_back(
            {it->first, p.stress, done == r.counted.points.end() ? 0 : done->second, kindOf(p.role)});
    }
    return days;
}

std::string differenceWords(const Habits::Difference& d) {
    const auto named = [](const std::string& of) {
        constexpr std::string_view prefix = "weekday ";
        return of.rfind(prefix, 0) == 0 ? translated(nameOfDay(std::stoi(of.substr(prefix.size())))) + "s"
                                        : of;
    };
    return phrase("%1 are missed more often than %2, by %3 to %4 (99 % band).",
                  upper(named(d.low > 0 ? d.a : d.b)), named(d.low > 0 ? d.b : d.a),
                  percent(std::min(std::abs(d.low), std::abs(d.high))),
                  percent(std::max(std::abs(d.low), std::abs(d.high))));
}

/// Hours really ridden beside those entered.
ReportPart hoursPart(const WholeRecord& r) {
    const auto ridden = riddenHours(r);
    ReportPart hours;
    hours.heading = phrase("Hours really ridden");
    ReportTable table{{phrase("Weekday"), phrase("Entered, h"), phrase("Ridden, h")}, 1, {}};
    double entered = 0, sum = 0;
    for (size_t d = 0; d < 7; ++d) {
        table.rows.push_back({translated(nameOfDay(static_cast<int>(d) + 1)),
                              fixedText(r.rider.hours.at(d), 1), fixedText(ridden.at(d), 1)});
        entered += r.rider.hours.at(d);
        sum += ridden.at(d);
    }
    table.rows.push_back({phrase("Week"), fixedText(entered, 1), fixedText(sum, 1)});
    hours.table = std::move(table);
    hours.asides.push_back(
        phrase("The middle value of each weekday over the last twelve weeks that were ridden. Where a "
               "week differs by a fifth, new hours are proposed under Rider, From the record."));
    return hours;
}

} // namespace

Report habitsReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::vector<HabitDay> days = plannedDays(r);
    Report out{phrase("What gets missed?"), {}, false};
    if (static_cast<int>(days.size()) < leastDays)
        out = cannotTell(phrase("What gets missed?"),
                         phrase("Cannot tell yet: %1 lie behind; twenty are the fewest to read a habit from.",
                                howMany(static_cast<int>(days.size()), "planned day", "planned days")),
                         phrase("Until then a plan expects 8 % of its days to be missed, in runs of two."));
    else {
        const Habits habits = learnHabits(days);
        int missed = 0;
        for (const MissedRate& m : habits.weekdays)
            missed += m.missed;
        ReportPart part;
        part.words.push_back(
            {phrase("%1 of %2 planned days were missed in the last year, illness and days away apart; in "
                    "runs of %3 days (80 %: %4 to %5).",
                    std::to_string(missed), std::to_string(days.size()), fixedText(habits.run.value, 1),
                    fixedText(habits.run.low, 1), fixedText(habits.run.high, 1)),
             0});
        for (const Habits::Difference& d : habits.differences)
            part.words.push_back({differenceWords(d), 0});
        if (habits.differences.empty())
            part.words.push_back(
                {phrase("No weekday and no kind of day is missed more often than another, as far as can "
                        "be told."),
                 0});
        part.table = ratesTable(phrase("Weekday"), habits.weekdays, true);
        out.parts.push_back(std::move(part));
        ReportPart kinds;
        kinds.table = ratesTable(phrase("Kind of day"), habits.kinds, false);
        kinds.asides.push_back(
            phrase("A day counts as missed where under a tenth of it was ridden. Shares lean on 2 of 25, "
                   "as most riders miss; they feed the chance of a race and where its plan aims. Two are "
                   "called different only where the 99 % band of their difference holds no none."));
        out.parts.push_back(std::move(kinds));
    }
    out.parts.push_back(hoursPart(r));
    return out;
}

} // namespace marram
