// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include "core/words/phrase.h"
#include <cmath>
#include <string>

/// How a page of review writes figures and sentences.
namespace marram {

/// With a minus that is one.
inline std::string figure(double v, int decimals) {
    return v < 0 ? signedText(v, decimals) : fixedText(v, decimals);
}

/// "45 min", "1 h 05".
inline std::string hoursText(double hours) {
    const int minutes = static_cast<int>(std::lround(hours * 60));
    if (minutes < 60)
        return std::to_string(minutes) + " min";
    return std::to_string(minutes / 60) + " h" +
           (minutes % 60 ? (minutes % 60 < 10 ? " 0" : " ") + std::to_string(minutes % 60) : "");
}

/// With a capital at its beginning.
inline std::string upper(std::string words) {
    if (!words.empty() && words[0] >= 'a' && words[0] <= 'z')
        words[0] = static_cast<char>(words[0] - 'a' + 'A');
    return words;
}

/// Two sentences, the second where there is one.
inline std::string joined(std::string first, const std::string& second) {
    if (!second.empty()) {
        first += ' ';
        first += second;
    }
    return first;
}

/// "1 day", "3 days".
inline std::string howMany(int n, const char* one, const char* many) {
    return std::to_string(n) + " " + countedForm(n, one, many);
}

} // namespace marram
