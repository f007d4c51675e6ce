// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/checkin.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace marram {
namespace {

struct Mean {
    double sum = 0;
    int count = 0;
    void add(const std::optional<double>& v) {
        if (v) {
            sum += *v;
            ++count;
        }
    }
    double value() const { return sum / count; }
};

} // namespace

bool CheckIn::empty() const {
    return !feel && !sleep && !soreness && !motivation && !restHeartRate && !weightKg && !ill && note.empty();
}

std::optional<double> wellness(const CheckIn& c) {
    Mean m;
    for (const CheckInScale& s : checkInScales)
        if (c.*s.value)
            m.add(*(c.*s.value));
    return m.count ? std::optional(m.value()) : std::nullopt;
}

std::string whyImpossible(const CheckIn& c) {
    for (const CheckInScale& s : checkInScales)
        if (c.*s.value && (*(c.*s.value) < 1 || *(c.*s.value) > 5))
            return phrase("%1 should be 1 to 5", std::string(s.key));
    if (c.restHeartRate && !(*c.restHeartRate >= 25 && *c.restHeartRate <= 120))
        return phrase("rest_hr_bpm should be 25 to 120");
    if (c.weightKg && !(*c.weightKg >= 25 && *c.weightKg <= 250))
        return phrase("weight_kg should be 25 to 250");
    return {};
}

namespace {

/// How answers of some days compare with those of others, each scale with itself.
struct Change {
    double now = 0, before = 0; ///< means over the scales both have
    int scales = 0;
    std::string names; ///< of those scales, where not all
    double drop() const { return before - now; }
};

/// Check-ins from `from` to `to` days ago, both included.
template <class Use>
void daysAgo(std::span<const CheckIn> checkIns, Date today, int from, int to, Use use) {
    for (const CheckIn& c : checkIns)
        if (const int ago = today - c.day; ago >= from && ago <= to)
            use(c);
}

Change compare(std::span<const CheckIn> checkIns, Date today, std::pair<int, int> now,
               std::pair<int, int> before, int enough) {
    Change change;
    for (const CheckInScale& s : checkInScales) {
        Mean a, b;
        daysAgo(checkIns, today, now.first, now.second, [&](const CheckIn& c) { a.add(c.*s.value); });
        daysAgo(checkIns, today, before.first, before.second, [&](const CheckIn& c) { b.add(c.*s.value); });
        if (a.count == 0 || b.count < enough)
            continue;
        change.now += a.value();
        change.before += b.value();
        ++change.scales;
        change.names += (change.names.empty() ? "" : ", ") + translated(s.name);
    }
    if (change.scales > 0) {
        change.now /= change.scales;
        change.before /= change.scales;
    }
    if (change.scales == static_cast<int>(checkInScales.size()))
        change.names.clear();
    return change;
}

std::optional<Concern> illness(std::span<const CheckIn> checkIns, Date today) {
    std::optional<Concern> found;
    daysAgo(checkIns, today, 0, 6, [&](const CheckIn& c) {
        if (c.ill && today - c.day < 3)
            found = {100,
                     phrase("Ill on %1: no hard work; with fever, chest pain or unusual breathlessness a "
                            "doctor decides.",
                            dayText(c.day)),
                     "illness", 2};
        else if (c.ill)
            found = {75,
                     phrase("Ill on %1: two days without fever first, then easy riding only for some days.",
                            dayText(c.day)),
                     "illness", 1};
    });
    return found;
}

std::optional<Concern> weightLoss(std::span<const CheckIn> checkIns, Date today) {
    const auto week = [&](int from, int to) {
        Mean m;
        daysAgo(checkIns, today, from, to, [&](const CheckIn& c) { m.add(c.weightKg); });
        return m;
    };
    const Mean now = week(0, 6), last = week(7, 13), first = week(14, 20), month = week(26, 34);
    const auto percent = [](const Mean& from, const Mean& to) {
        return 100 * (1 - to.value() / from.value());
    };
    std::string what;
    constexpr int enough = 4; // weighings, so that 2 % is no chance of the scales
    const bool sure = now.count >= enough && month.count >= enough;
    if (now.count > 0 && month.count > 0 && percent(month, now) >= (sure ? 2 : 5))
        what = phrase("%1 % in a month", fixedText(percent(month, now)));
    else if (now.count > 0 && last.count > 0 && first.count > 0 && percent(first, last) > 1 &&
             percent(last, now) > 1)
        what = phrase("over 1 % a week for two weeks");
    if (what.empty())
        return std::nullopt;
    return Concern{95,
                   phrase("Weight fell by %1. Too little to eat for the work harms health: ask, and have a "
                          "doctor look. Marram does not diagnose.",
                          what),
                   "weight", month.count > 0 ? percent(month, now) : percent(first, now)};
}

std::optional<Concern> twoLowWeeks(std::span<const CheckIn> checkIns, Date today) {
    Mean all;
    daysAgo(checkIns, today, 0, 13, [&](const CheckIn& c) { all.add(wellness(c)); });
    if (all.count < 7)
        return std::nullopt;
    const Change change = compare(checkIns, today, {0, 13}, {14, 41}, 7);
    const bool fell = change.scales > 0 && change.drop() >= 0.75;
    if (all.value() > 2.5 && !fell)
        return std::nullopt;
    return Concern{92,
                   phrase("Check-ins have been low for two weeks (%1 of 5%2): rest first; fatigue that does "
                          "not lift belongs to a doctor.",
                          fixedText(all.value()),
                          (fell ? phrase(", %1 before", fixedText(change.before)) : "")),
                   "low weeks", 5 - all.value()};
}

std::optional<Concern> threeLowDays(std::span<const CheckIn> checkIns, Date today) {
    std::vector<double> last;
    daysAgo(checkIns, today, 0, 4, [&](const CheckIn& c) {
        if (const auto w = wellness(c))
            last.push_back(*w);
    });
    if (last.size() < 3 || std::any_of(last.end() - 3, last.end(), [](double w) { return w > 2; }))
        return std::nullopt;
    return Concern{84,
                   phrase("The last three check-ins are at %1 of 5: talk before anything hard.",
                          fixedText((last.end()[-1] + last.end()[-2] + last.end()[-3]) / 3)),
                   "low days", 5 - (last.end()[-1] + last.end()[-2] + last.end()[-3]) / 3};
}

std::optional<Concern> fall(std::span<const CheckIn> checkIns, Date today) {
    const Change change = compare(checkIns, today, {0, 2}, {3, 23}, 3);
    if (change.scales == 0 || change.drop() < 1)
        return std::nullopt;
    return Concern{80,
                   phrase("%1 fell from %2 to %3 of 5 in three days: ask before anything hard.",
                          (change.names.empty() ? phrase("Check-ins") : change.names),
                          fixedText(change.before), fixedText(change.now)),
                   "fall", change.drop()};
}

std::optional<Concern> heartRate(std::span<const CheckIn> checkIns, Date today) {
    Mean now, usual;
    double squares = 0;
    daysAgo(checkIns, today, 0, 2, [&](const CheckIn& c) { now.add(c.restHeartRate); });
    daysAgo(checkIns, today, 3, 41, [&](const CheckIn& c) {
        usual.add(c.restHeartRate);
        squares += c.restHeartRate ? *c.restHeartRate * *c.restHeartRate : 0;
    });
    if (now.count < 2 || usual.count < 3)
        return std::nullopt;
    const double variance = (squares - usual.sum * usual.sum / usual.count) / (usual.count - 1);
    const double limit = usual.count < 7 ? 7 : std::max(2.0, 2 * std::sqrt(std::max(0.0, variance)));
    const double over = now.value() - usual.value();
    if (over < limit)
        return std::nullopt;
    return Concern{78,
                   phrase("Resting heart rate is %1 beats over its usual %2, more than it varies (%3): ask "
                          "before anything hard.",
                          fixedText(over), fixedText(usual.value()), fixedText(limit)),
                   "resting heart rate", over};
}

} // namespace

std::vector<Concern> checkInConcerns(std::span<const CheckIn> checkIns, Date today) {
    std::vector<Concern> all;
    for (const auto look : {illness, weightLoss, twoLowWeeks, threeLowDays, fall, heartRate})
        if (auto found = look(checkIns, today))
            all.push_back(std::move(*found));
    // Three low days are the fall, said once.
    if (std::any_of(all.begin(), all.end(), [](const Concern& c) { return c.urgency == 84; }))
        std::erase_if(all, [](const Concern& c) { return c.urgency == 80; });
    std::stable_sort(all.begin(), all.end(),
                     [](const Concern& a, const Concern& b) { return a.urgency > b.urgency; });
    return all;
}

} // namespace marram
