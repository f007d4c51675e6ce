// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// What the rider weighed: by check-ins, else as it was entered.
std::vector<TestPoint> weights(const WholeRecord& r) {
    std::vector<TestPoint> all;
    for (const CheckIn& c : r.checkIns)
        if (c.weightKg && c.day <= r.today)
            all.push_back({c.day, *c.weightKg});
    if (all.size() < 2)
        for (const DatedValue& v : r.rider.values.of(Quantity::Weight))
            if (v.from <= r.today)
                all.push_back({v.from, v.value});
    std::stable_sort(all.begin(), all.end(),
                     [](const TestPoint& a, const TestPoint& b) { return a.day < b.day; });
    return all;
}

ReportPart bodyPart(const WholeRecord& r, const Units& units) {
    ReportPart part;
    part.heading = phrase("Weight, and power a kilogram");
    const auto all = weights(r);
    auto shown = all;
    for (TestPoint& p : shown)
        p.value = units.weight(p.value);
    if (all.empty()) {
        part.words.push_back(
            {phrase("No weight is in the record. It is asked for nowhere but here, and only power a "
                    "kilogram needs it."),
             0});
        return part;
    }
    const Date from = r.today - halfYear;
    constexpr double fromMorningToMorning = 0.7; // kg, common practice
    const double scales = units.weight(fromMorningToMorning);
    const char* unit = units.weightUnit();
    if (const auto t = trendOf(shown, from, r.today, {scales, false}))
        part.words.push_back(
            {phrase("Weight over the last half year: %1 %2 now by its line, %3 %4 (%5), from %6.",
                    fixedText(t->last, 1), unit, signedText(t->change.value, 1), unit,
                    bandText(t->change, 1, unit), howMany(t->count, "weighing", "weighings")),
             0});
    else
        part.words.push_back(
            {phrase("Last: %1 %2 on %3; three weighings make a line.", fixedText(shown.back().value, 1), unit,
                    dayText(all.back().day, r.today)),
             0});
    Figure f;
    f.title = phrase("Threshold power a kilogram");
    f.unit = "W/kg";
    Figure::Line line{Figure::Line::Look::Dots, phrase("each threshold with the weight of its day"), {}};
    for (const DatedValue& v : r.rider.values.of(Quantity::ThresholdPower)) {
        if (v.from > r.today)
            continue;
        const TestPoint* near = nullptr;
        for (const TestPoint& w : all)
            if (!near || std::abs(w.day - v.from) < std::abs(near->day - v.from))
                near = &w;
        if (std::abs(near->day - v.from) <= halfYear)
            line.points.push_back({static_cast<double>(v.from.days), v.value / near->value, {}, {}});
    }
    if (line.points.size() >= 2) {
        f.tells = phrase("From %1 to %2 W/kg over %3 thresholds.", fixedText(line.points.front().y, 2),
                         fixedText(line.points.back().y, 2), std::to_string(line.points.size()));
        f.lines = {line};
        part.figures.push_back(std::move(f));
    }
    part.asides.push_back(
        phrase("Power a kilogram moves with both of its parts and says nothing of health. Marram never "
               "advises to lose weight; eating for the work comes first, and weight that falls in season "
               "belongs to a doctor or a dietitian."));
    return part;
}

/// What the coach said of that day's session.
std::string saidOf(const WholeRecord& r, Date day) {
    std::string said = "–";
    for (const SeasonRecord& s : r.seasons)
        for (const SessionPin& p : s.season.sessions)
            if (p.date == day && p.verdict)
                said = translated(nameOf(*p.verdict));
    return said;
}

ReportPart strengthPart(const WholeRecord& r) {
    ReportPart part;
    part.heading = phrase("Strength");
    int meant = 0;
    std::map<Date, int> weeks;
    for (const auto& [day, m] : r.meant)
        if (m.family == "strength" && day <= r.today && day > r.today - halfYear) {
            ++meant;
            ++weeks[monday(day)];
        }
    if (meant == 0) {
        part.words.push_back({phrase("No strength session was meant in the last half year."), 0});
        return part;
    }
    part.words.push_back({phrase("%1 meant in the last half year, in %2.",
                                 howMany(meant, "strength session was", "strength sessions were"),
                                 howMany(static_cast<int>(weeks.size()), "week", "weeks")),
                          0});
    ReportTable table{{phrase("Day"), phrase("Session"), phrase("You said")}, 2, {}};
    constexpr size_t most = 8;
    for (auto it = r.meant.rbegin(); it != r.meant.rend() && table.rows.size() < most; ++it) {
        if (it->second.family != "strength" || it->first > r.today)
            continue;
        std::string what = it->second.note;
        if (const auto end = what.find('\n'); end != std::string::npos)
            what.resize(end);
        table.rows.push_back(
            {dayText(it->first, r.today), what.empty() ? phrase("strength") : what, saidOf(r, it->first)});
    }
    part.table = std::move(table);
    part.asides.push_back(
        phrase("Nothing of gym is recorded by a bicycle: what was done stands here only as you say it on "
               "the session, under Block."));
    return part;
}

} // namespace

Report bodyReport(const ReportBasis& basis) {
    return {phrase("Strength and body"),
            {strengthPart(basis.record), bodyPart(basis.record, basis.units)},
            false};
}

} // namespace marram
