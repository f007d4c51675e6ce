// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <tuple>

namespace marram {
namespace {

constexpr size_t leastResults = 3, mostMarkers = 2;

/// Every day of the record, and those of the plan up to its end.
std::map<Date, double> dailyOf(const WholeRecord& r) {
    std::map<Date, double> days;
    if (r.rides.empty())
        return days;
    for (Date d = r.rides.front().day; d <= r.today; d = d + 1)
        days[d] = 0;
    for (const auto& [day, points] : r.counted.points)
        if (day <= r.today)
            days[day] = points;
    for (auto it = r.planned.upper_bound(r.today); it != r.planned.end(); ++it)
        days[it->first] = it->second.stress;
    return days;
}

struct Ahead {
    Date day;
    std::string what;
};

/// The next tests and races a plan reaches.
std::vector<Ahead> aheadOf(const WholeRecord& r) {
    std::vector<Ahead> all;
    if (const auto* season = r.inForce())
        for (const Race& race : season->season.races)
            if (race.date > r.today && race.priority != Priority::C)
                all.push_back({race.date, race.name});
    for (auto it = r.planned.upper_bound(r.today); it != r.planned.end(); ++it)
        if (it->second.role == Role::Test) {
            all.push_back({it->first, phrase("the next test")});
            break;
        }
    std::stable_sort(all.begin(), all.end(), [](const Ahead& a, const Ahead& b) { return a.day < b.day; });
    if (r.planned.empty())
        all.clear();
    std::erase_if(all, [&](const Ahead& a) { return a.day > r.planned.rbegin()->first; });
    constexpr size_t most = 4;
    if (all.size() > most)
        all.resize(most);
    return all;
}

std::string span(const Banded& b, int decimals) {
    return fixedText(b.low, decimals) + "–" + fixedText(b.high, decimals);
}

/// Results, and where each was expected before it came.
Figure figureOf(const Marker& m, const Response& found) {
    Figure f;
    f.title = m.name;
    f.unit = m.unit;
    Figure::Line dots{Figure::Line::Look::Dots, phrase("results"), {}},
        band{Figure::Line::Look::Bars, phrase("where a result was, and is, expected: 80 %"), {}};
    const size_t from = m.points.size() > 30 ? m.points.size() - 30 : 0;
    for (size_t i = from; i < m.points.size(); ++i)
        dots.points.push_back({static_cast<double>(m.points[i].day.days), m.points[i].value, {}, {}});
    const auto expect = [&](Date day, const Banded& b) {
        if (day >= m.points[from].day)
            band.points.push_back({static_cast<double>(day.days), b.value, b.low, b.high});
    };
    for (const Response::Past& p : found.past)
        expect(p.day, p.forecast);
    for (const Response::Forecast& each : found.forecasts)
        expect(each.day, each.result);
    std::stable_sort(band.points.begin(), band.points.end(),
                     [](const auto& a, const auto& b) { return a.x < b.x; });
    f.lines = {band, dots};
    const auto inside =
        std::count_if(found.past.begin(), found.past.end(), [](const auto& p) { return p.inside(); });
    f.tells = found.past.empty() ? phrase("No result could be forecast yet.")
                                 : phrase("%1 of %2 results came inside the 80 % band forecast from what lay "
                                          "28 days and more before.",
                                          std::to_string(inside), std::to_string(found.past.size()));
    return f;
}

ReportPart partOf(const Marker& m, const Response& found, const std::vector<Ahead>& ahead, Date today) {
    ReportPart part;
    part.heading = m.name;
    const auto worth = [&](const Banded& gain, const char* what, double by) {
        return phrase("+10 %1 has been worth %2 % (80 %: %3 to %4) on %5.", what,
                      signedText(10 * by * gain.value, 1),
                      signedText(10 * (by > 0 ? gain.low : -gain.high), 1),
                      signedText(10 * (by > 0 ? gain.high : -gain.low), 1), m.name);
    };
    part.words.push_back({found.why, 0});
    if (found.enough) {
        part.words.push_back({worth(found.gainFitness, marked("fitness"), 1), 0});
        part.words.push_back({worth(found.gainFatigue, marked("fatigue"), -1), 0});
    }
    part.figures.push_back(figureOf(m, found));
    ReportTable table{{phrase("Day"), phrase("What"), phrase("Forecast, %1", m.unit),
                       phrase("80 % of results"), phrase("Came")},
                      2,
                      {}};
    constexpr size_t mostPast = 8;
    for (const Response::Forecast& each : found.forecasts) {
        const auto what =
            std::find_if(ahead.begin(), ahead.end(), [&](const Ahead& a) { return a.day == each.day; });
        table.rows.push_back(
            {dayText(each.day, today), what == ahead.end() ? "" : what->what,
             fixedText(each.able.value, m.decimals) + " (" + span(each.able, m.decimals) + ")",
             span(each.result, m.decimals), phrase("to come")});
    }
    for (size_t i = found.past.size(); i-- > 0 && found.past.size() - i <= mostPast;) {
        const Response::Past& p = found.past[i];
        table.rows.push_back({dayText(p.day, today), phrase("ridden"),
                              fixedText(p.forecast.value, m.decimals), span(p.forecast, m.decimals),
                              fixedText(p.came, m.decimals) + (p.inside() ? "" : phrase(", outside"))});
    }
    if (!table.rows.empty())
        part.table = std::move(table);
    return part;
}

} // namespace

/// Tests, then maximal efforts, that were ridden often enough; what was ridden oftenest first.
static std::vector<Marker> performances(const WholeRecord& r) {
    std::vector<Marker> markers = markersOf(r);
    std::erase_if(markers, [](const Marker& m) {
        return (m.kind != Marker::Kind::Test && m.kind != Marker::Kind::Maximal) ||
               m.points.size() < leastResults;
    });
    std::stable_sort(markers.begin(), markers.end(), [](const Marker& a, const Marker& b) {
        return std::tuple(a.kind == Marker::Kind::Maximal, b.points.size()) <
               std::tuple(b.kind == Marker::Kind::Maximal, a.points.size());
    });
    return markers;
}

Report worthReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::string title = phrase("What has it been worth?");
    if (r.counted.byHours)
        return cannotTell(
            title, phrase("Cannot tell: the rides carry no points, so there is no load to hold against."),
            phrase("A threshold is missing; what the record proposes stands under Rider."));
    const std::vector<Marker> markers = performances(r);
    if (markers.empty())
        return cannotTell(
            title, phrase("Cannot tell yet: no test or maximal effort was ridden three times."),
            phrase("Three results of one test give a first forecast; ten, each 28 days after the one "
                   "before, tell whether the rider's own gains forecast better than the usual ones."));
    const auto daily = dailyOf(r);
    const auto ahead = aheadOf(r);
    std::vector<Date> at;
    for (const Ahead& a : ahead)
        if (at.empty() || at.back() != a.day)
            at.push_back(a.day);
    Report out{title, {}, true};
    for (const Marker& m : markers) {
        if (out.parts.size() == mostMarkers || !basis.going())
            break;
        std::vector<TestPoint> points;
        for (const TestPoint& p : m.points)
            if (p.day >= daily.begin()->first)
                points.push_back(p);
        const auto found = learnResponse(daily, points, at);
        if (!found)
            continue;
        out.cannotTell = out.cannotTell && !found->enough;
        out.parts.push_back(partOf(m, *found, ahead, r.today));
    }
    if (out.parts.empty())
        return cannotTell(
            title, phrase("Cannot tell yet: the results lie before the first ride of the record."), {});
    out.parts.back().asides.push_back(phrase(
        "Load works on performance by a gain on fitness and one on fatigue; how long each lasts cannot be "
        "learnt "
        "from such a record, so all lengths count by how likely they are. Where the rider's own gains are "
        "not "
        "known to forecast better, the forecast leans on the usual ones: 2 % for ten points of fitness."));
    return out;
}

} // namespace marram
