// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/learn/before.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr double bestShare = 1.0 / 7.5; ///< 8 of 60
constexpr int nearBestDays = 84, weeksBeside = 56;
constexpr double nearBest = 2; ///< %

/// What stands before a day, each thing by name.
class Before {
public:
    explicit Before(const WholeRecord& r) : r_(r) {
        for (const RideRecord& ride : r.rides) {
            hours_[ride.day] += ride.score.duration / 3600.0;
            if (ride.score.purposeSeconds)
                for (const auto& [to, s] : {std::pair{&high_, ride.score.purposeSeconds->high},
                                            {&all_, ride.score.purposeSeconds->sum()}})
                    (*to)[ride.day] += s;
        }
        for (const CheckIn& c : r.checkIns)
            checkIns_[c.day] = c;
    }

    struct Feature {
        std::string name;
        double (Before::*of)(Date) const;
        int decimals = 0;
        std::string unit = {};
    };
    static const std::array<Feature, 12>& features() {
        static const std::array<Feature, 12> all{
            {{phrase("fitness"), &Before::fitness},
             {phrase("form"), &Before::form},
             {phrase("ramp of three weeks"), &Before::rampShort, 1, phrase(" a week")},
             {phrase("ramp of six weeks"), &Before::rampLong, 1, phrase(" a week")},
             {phrase("share of high work in 28 days"), &Before::highShare, 1, " %"},
             {phrase("hours in 28 days"), &Before::hours},
             {phrase("days off the bicycle in 7"), &Before::restDays, 1},
             {phrase("days since the last hard one"), &Before::sinceHard, 1},
             {phrase("gym in 28 days"), &Before::gym, 1},
             {phrase("sleep of 7 days"), &Before::sleep, 1, phrase(" of 5")},
             {phrase("feel of 7 days"), &Before::feel, 1, phrase(" of 5")},
             {phrase("time of year, 1 in midsummer"), &Before::season, 1}}};
        return all;
    }
    std::vector<double> all(Date day) const {
        std::vector<double> values;
        for (const Feature& f : features())
            values.push_back((this->*f.of)(day));
        return values;
    }

    double points(Date from, Date to) const { return over(r_.counted.points, from, to); }
    double hoursOver(Date from, Date to) const { return over(hours_, from, to); }
    double hardDays(Date from, Date to) const {
        double n = 0;
        for (Date d = from; d < to; d = d + 1)
            n += isHard(d) ? 1 : 0;
        return n;
    }
    double daysOff(Date from, Date to) const {
        double n = 0;
        for (Date d = from; d < to; d = d + 1)
            n += hours_.contains(d) ? 0 : 1;
        return n;
    }
    double highOver(Date from, Date to) const {
        const double sum = over(all_, from, to);
        return sum > 0 ? 100 * over(high_, from, to) / sum : std::nan("");
    }
    double gymOver(Date from, Date to) const {
        double n = 0;
        for (auto it = r_.meant.lower_bound(from); it != r_.meant.end() && it->first < to; ++it)
            n += it->second.family == "strength" ? 1 : 0;
        return n;
    }
    double mean(std::optional<int> CheckIn::*scale, Date from, Date to) const {
        double sum = 0, n = 0;
        for (auto it = checkIns_.lower_bound(from); it != checkIns_.end() && it->first < to; ++it)
            if (const auto v = it->second.*scale) {
                sum += *v;
                ++n;
            }
        return n > 0 ? sum / n : std::nan("");
    }
    double fitness(Date d) const { return r_.history->before(d).fitness; }

private:
    static double over(const std::map<Date, double>& of, Date from, Date to) {
        double sum = 0;
        for (auto it = of.lower_bound(from); it != of.end() && it->first < to; ++it)
            sum += it->second;
        return sum;
    }
    bool isHard(Date d) const {
        const auto p = r_.planned.find(d);
        if (p != r_.planned.end() && (p->second.role == Role::Hard || p->second.role == Role::Race))
            return hours_.contains(d);
        constexpr double hardSeconds = 600;
        const auto h = high_.find(d);
        return h != high_.end() && h->second >= hardSeconds;
    }
    double form(Date d) const { return r_.history->form(d); }
    double rampShort(Date d) const { return (fitness(d) - fitness(d - 21)) / 3; }
    double rampLong(Date d) const { return (fitness(d) - fitness(d - 42)) / 6; }
    double highShare(Date d) const { return highOver(d - 28, d); }
    double hours(Date d) const { return hoursOver(d - 28, d); }
    double restDays(Date d) const { return daysOff(d - 7, d); }
    double sinceHard(Date d) const {
        constexpr int most = 14;
        for (int back = 1; back < most; ++back)
            if (isHard(d - back))
                return back;
        return most;
    }
    double gym(Date d) const { return gymOver(d - 28, d); }
    double sleep(Date d) const { return mean(&CheckIn::sleep, d - 7, d); }
    double feel(Date d) const { return mean(&CheckIn::feel, d - 7, d); }
    double season(Date d) const {
        const CivilDate c = toCivil(d);
        return std::cos((c.month + c.day / 31.0 - 6.7) / 12 * 2 * M_PI);
    }

    const WholeRecord& r_;
    std::map<Date, double> hours_, high_, all_;
    std::map<Date, CheckIn> checkIns_;
};

/// The last eight weeks beside those that led to bests.
ReportPart besideBests(const WholeRecord& r, const Before& before, const std::vector<Date>& best) {
    ReportPart part;
    part.heading = phrase("The last eight weeks beside the eight that led to bests");
    part.words.push_back(
        {phrase("No effort of the last twelve weeks came near the best. What differs stands here; no "
                "cause is claimed."),
         0});
    ReportTable table{
        {phrase("A week"), phrase("Led to bests"), phrase("The last eight weeks"), phrase("Difference")},
        1,
        {}};
    const double weeks = weeksBeside / 7.0;
    const auto row = [&](const std::string& what, int decimals, auto of) {
        double sum = 0, n = 0;
        for (const Date d : best)
            if (const double v = of(d - weeksBeside, d); std::isfinite(v)) {
                sum += v;
                ++n;
            }
        const double now = of(r.today - weeksBeside, r.today);
        if (n < 1 || !std::isfinite(now))
            return;
        table.rows.push_back({what, fixedText(sum / n, decimals), fixedText(now, decimals),
                              signedText(now - sum / n, decimals)});
    };
    row(phrase("hours"), 1, [&](Date a, Date b) { return before.hoursOver(a, b) / weeks; });
    row(phrase("points"), 0, [&](Date a, Date b) { return before.points(a, b) / weeks; });
    row(phrase("share of high work, %"), 1, [&](Date a, Date b) { return before.highOver(a, b); });
    row(phrase("hard days"), 1, [&](Date a, Date b) { return before.hardDays(a, b) / weeks; });
    row(phrase("days off the bicycle"), 1, [&](Date a, Date b) { return before.daysOff(a, b) / weeks; });
    row(phrase("gym"), 1, [&](Date a, Date b) { return before.gymOver(a, b) / weeks; });
    row(phrase("sleep, of 5"), 1, [&](Date a, Date b) { return before.mean(&CheckIn::sleep, a, b); });
    row(phrase("feel, of 5"), 1, [&](Date a, Date b) { return before.mean(&CheckIn::feel, a, b); });
    row(phrase("fitness at its end"), 0, [&](Date, Date b) { return before.fitness(b); });
    part.table = std::move(table);
    return part;
}

constexpr size_t leastBest = 3;

/// What a day must have come to, % of usual, to be one of the best.
double barOf(const std::vector<MaximalDay>& days) {
    std::vector<double> percents;
    percents.reserve(days.size());
    for (const MaximalDay& d : days)
        percents.push_back(d.percent);
    std::sort(percents.begin(), percents.end(), std::greater<>());
    const auto count = std::max<size_t>(
        leastBest, static_cast<size_t>(std::lround(bestShare * static_cast<double>(days.size()))));
    return percents[std::min(count, percents.size()) - 1];
}

/// What came before the best days beside what came before the others.
ReportTable tableOf(const std::vector<std::string>& names, const std::vector<FeatureDay>& featured) {
    ReportTable table{{phrase("On the morning, or before it"), phrase("Best days"),
                       phrase("Other maximal days"), phrase("Difference")},
                      1,
                      {}};
    for (size_t i = 0; i < names.size(); ++i) {
        double sum[2]{}, n[2]{};
        for (const FeatureDay& d : featured)
            if (std::isfinite(d.features[i])) {
                sum[d.best ? 0 : 1] += d.features[i];
                ++n[d.best ? 0 : 1];
            }
        if (n[0] < 1 || n[1] < 1)
            continue;
        const auto& f = Before::features()[i];
        const double a = sum[0] / n[0], b = sum[1] / n[1];
        table.rows.push_back({names[i], figure(a, f.decimals) + f.unit, figure(b, f.decimals) + f.unit,
                              signedText(a - b, f.decimals)});
    }
    return table;
}

} // namespace

Report bestDaysReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::string title = phrase("What came before the best days?");
    const Date from = formKnownFrom(r);
    std::vector<MaximalDay> days = maximalDays(markersOf(r));
    std::erase_if(days, [&](const MaximalDay& d) { return d.day < from; });
    const Before before(r);
    if (days.size() < 2 * leastBest)
        return cannotTell(
            title,
            phrase("Cannot tell: the record holds %1 of maximal effort with others of the same length to "
                   "hold them against.",
                   howMany(static_cast<int>(days.size()), "day", "days")),
            phrase("Only days of maximal effort are compared with each other; twelve are the fewest. "
                   "Tests, races and hard group rides count."));
    const double bar = barOf(days);
    std::vector<FeatureDay> featured;
    std::vector<Date> best;
    for (const MaximalDay& d : days) {
        const bool isBest = d.percent >= bar;
        featured.push_back({d.day, true, isBest, before.all(d.day)});
        if (isBest)
            best.push_back(d.day);
    }
    std::vector<std::string> names;
    for (const auto& f : Before::features())
        names.push_back(f.name);
    const BestDays found = learnBefore(featured, names);
    Report out{title, {}, found.cannotTell};
    ReportPart part;
    std::string dates;
    for (const Date d : best)
        dates += (dates.empty() ? "" : ", ") + dayText(d, r.today);
    part.words.push_back({phrase("The best %1 of %2 days of maximal effort: %3.", std::to_string(best.size()),
                                 std::to_string(days.size()), dates),
                          0});
    for (const BestDays::Finding& f : found.findings)
        part.words.push_back({phrase("%1 was %2 before the best days (p %3 over all %4 things looked at).",
                                     upper(f.feature), (f.direction > 0 ? marked("higher") : marked("lower")),
                                     fixedText(f.p, 2), std::to_string(names.size())),
                              0});
    part.words.push_back({found.why, 0});
    part.table = tableOf(names, featured);
    part.asides.push_back(found.cannotTell
                              ? phrase("Even a difference of three quarters of its own spread is found "
                                       "in only half of such records, so "
                                       "silence is no proof that nothing matters.")
                              : phrase("To test it: plan two tests, one with it and one without, some "
                                       "weeks apart, and look whether it "
                                       "comes again."));
    out.parts.push_back(std::move(part));
    const bool near = std::any_of(days.begin(), days.end(), [&](const MaximalDay& d) {
        return d.day > r.today - nearBestDays && d.percent >= bar - nearBest;
    });
    if (!near && !best.empty() && best.back() <= r.today - nearBestDays)
        out.parts.push_back(besideBests(r, before, best));
    return out;
}

} // namespace marram
