// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/review.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace marram {
namespace {

constexpr double ninety = 1.644854; // nine of ten of a normal distribution lie within so many deviations
constexpr double something = 5, quarter = 0.25;

bool isSession(const DayWork& d) {
    return d.hours >= quarter || d.stress.value_or(0) >= something;
}

/// Logarithm of ridden over planned hours; nothing without both.
std::optional<double> volumeOff(const DayWork& planned, const DayWork& ridden) {
    if (planned.hours < quarter || ridden.hours <= 0)
        return std::nullopt;
    return std::log(ridden.hours / planned.hours);
}

/// The same of points an hour.
std::optional<double> contentOff(const DayWork& planned, const DayWork& ridden) {
    if (planned.hours < quarter || ridden.hours <= 0 || planned.stress.value_or(0) < something ||
        ridden.stress.value_or(0) <= 0)
        return std::nullopt;
    return std::log((*ridden.stress / ridden.hours) / (*planned.stress / planned.hours));
}

double robust(std::vector<double>& distances) {
    const auto middle = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2);
    std::nth_element(distances.begin(), middle, distances.end());
    constexpr double toDeviation = 1.4826; // of a normal distribution
    return std::max(leastSpread, toDeviation * *middle);
}

} // namespace

PlanSpread spreadFromPlan(std::span<const std::pair<DayWork, DayWork>> days) {
    constexpr size_t enough = 10;
    std::vector<double> volume, content;
    for (const auto& [planned, ridden] : days) {
        if (const auto off = volumeOff(planned, ridden))
            volume.push_back(std::abs(*off));
        if (const auto off = contentOff(planned, ridden))
            content.push_back(std::abs(*off));
    }
    PlanSpread spread = usualSpread;
    if (volume.size() >= enough) {
        spread.days = static_cast<int>(volume.size());
        spread.volume = robust(volume);
    }
    if (content.size() >= enough)
        spread.content = robust(content);
    return spread;
}

DayVerdict judgeDay(const DayWork& planned, const DayWork& ridden, const PlanSpread& spread) {
    using V = DayVerdict;
    V v;
    if (!isSession(planned) || !isSession(ridden)) {
        v.kind = isSession(ridden) ? V::Kind::Extra : isSession(planned) ? V::Kind::Missed : V::Kind::Rest;
        return v;
    }
    const auto volume = volumeOff(planned, ridden), content = contentOff(planned, ridden);
    const double v1 = volume.value_or(0) / (ninety * spread.volume);
    const double c1 = content.value_or(0) / (ninety * spread.content);
    v.volume = v1 < -1 ? V::Volume::Shorter : v1 > 1 ? V::Volume::Longer : V::Volume::AsMeant;
    v.content = !content  ? V::Content::Unknown
                : c1 < -1 ? V::Content::Easier
                : c1 > 1  ? V::Content::Harder
                          : V::Content::AsMeant;
    if (std::abs(v1) > 3 && std::abs(c1) > 3)
        v.kind = V::Kind::Another;
    return v;
}

std::string wordsFor(const DayVerdict& v) {
    using V = DayVerdict;
    switch (v.kind) {
    case V::Kind::Rest:
        return phrase("rest");
    case V::Kind::Missed:
        return phrase("missed");
    case V::Kind::Extra:
        return phrase("extra");
    case V::Kind::Another:
        return phrase("another session");
    case V::Kind::Ridden:
        break;
    }
    std::string words = v.volume == V::Volume::Shorter  ? phrase("shorter")
                        : v.volume == V::Volume::Longer ? phrase("longer")
                                                        : std::string();
    const std::string content = v.content == V::Content::Easier   ? phrase("easier")
                                : v.content == V::Content::Harder ? phrase("harder")
                                                                  : std::string();
    if (!content.empty())
        words += (words.empty() ? "" : ", ") + content;
    return words.empty() ? phrase("as meant") : words;
}

} // namespace marram
