// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/checkin.h"

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

std::string one(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.1f", v);
    return text;
}

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
            return std::string(s.key) + " should be 1 to 5";
    if (c.restHeartRate && !(*c.restHeartRate >= 25 && *c.restHeartRate <= 120))
        return "rest_hr_bpm should be 25 to 120";
    if (c.weightKg && !(*c.weightKg >= 25 && *c.weightKg <= 250))
        return "weight_kg should be 25 to 250";
    return {};
}

std::optional<std::string> checkInConcern(std::span<const CheckIn> checkIns, Date today) {
    constexpr int recent = 3, baseline = 21, enough = 3;
    Mean now, before, heartNow, heartBefore;
    for (const CheckIn& c : checkIns) {
        const int ago = today - c.day;
        if (ago < 0 || ago >= recent + baseline)
            continue;
        if (ago < recent && c.ill)
            return "Ill on " + dayText(c.day) +
                   ": no hard work; with fever, chest pain or unusual breathlessness a doctor decides.";
        (ago < recent ? now : before).add(wellness(c));
        (ago < recent ? heartNow : heartBefore).add(c.restHeartRate);
    }
    if (now.count > 0 && before.count >= enough && now.value() <= before.value() - 1)
        return "Check-ins fell from " + one(before.value()) + " to " + one(now.value()) +
               " of 5 in three days: ask before anything hard.";
    if (heartNow.count > 0 && heartBefore.count >= enough && heartNow.value() >= heartBefore.value() + 7)
        return "Resting heart rate is " + one(heartNow.value() - heartBefore.value()) +
               " beats over its usual: ask before anything hard.";
    return std::nullopt;
}

} // namespace marram
