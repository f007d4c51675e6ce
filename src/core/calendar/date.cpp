// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/calendar/date.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cstdio>
#include <cstdlib>
#include <vector>

namespace marram {

Date fromCivil(int year, int month, int day) {
    const int y = month <= 2 ? year - 1 : year;
    const int era = (y >= 0 ? y : y - 399) / 400;
    const int yearOfEra = y - era * 400;
    const int dayOfYear = (153 * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
    const int dayOfEra = yearOfEra * 365 + yearOfEra / 4 - yearOfEra / 100 + dayOfYear;
    return {era * 146097 + dayOfEra - 719468};
}

CivilDate toCivil(Date date) {
    const int z = date.days + 719468;
    const int era = (z >= 0 ? z : z - 146096) / 146097;
    const int dayOfEra = z - era * 146097;
    const int yearOfEra = (dayOfEra - dayOfEra / 1460 + dayOfEra / 36524 - dayOfEra / 146096) / 365;
    const int dayOfYear = dayOfEra - (365 * yearOfEra + yearOfEra / 4 - yearOfEra / 100);
    const int shifted = (5 * dayOfYear + 2) / 153;
    const int month = shifted + (shifted < 10 ? 3 : -9);
    return {yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, dayOfYear - (153 * shifted + 2) / 5 + 1};
}

std::optional<Date> parseDate(std::string_view text) {
    if (text.size() != 10 || text[4] != '-' || text[7] != '-')
        return std::nullopt;
    const auto number = [&](int from, int count) {
        int value = 0;
        for (int i = from; i < from + count; ++i) {
            if (text[i] < '0' || text[i] > '9')
                return -1;
            value = value * 10 + (text[i] - '0');
        }
        return value;
    };
    const int year = number(0, 4), month = number(5, 2), day = number(8, 2);
    if (year < 1900 || year > 2199 || month < 1 || month > 12 || day < 1)
        return std::nullopt;
    const Date date = fromCivil(year, month, day);
    const CivilDate back = toCivil(date);
    if (back.year != year || back.month != month || back.day != day)
        return std::nullopt;
    return date;
}

std::string isoText(Date date) {
    const CivilDate c = toCivil(date);
    char buffer[32];
    std::snprintf(buffer, sizeof buffer, "%04d-%02d-%02d", c.year, c.month, c.day);
    return buffer;
}

namespace {

constexpr std::array monthNames{marked("January"), marked("February"), marked("March"),
                                marked("April"),   marked("May"),      marked("June"),
                                marked("July"),    marked("August"),   marked("September"),
                                marked("October"), marked("November"), marked("December")};
constexpr std::array shortMonths{marked("Jan"), marked("Feb"), marked("Mar"), marked("Apr"),
                                 marked("May"), marked("Jun"), marked("Jul"), marked("Aug"),
                                 marked("Sep"), marked("Oct"), marked("Nov"), marked("Dec")};
constexpr std::array dayNames{marked("Monday"), marked("Tuesday"),  marked("Wednesday"), marked("Thursday"),
                              marked("Friday"), marked("Saturday"), marked("Sunday")};
constexpr std::array shortDays{marked("Mon"), marked("Tue"), marked("Wed"), marked("Thu"),
                               marked("Fri"), marked("Sat"), marked("Sun")};
constexpr std::array shortestDays{marked("Mo"), marked("Tu"), marked("We"), marked("Th"),
                                  marked("Fr"), marked("Sa"), marked("Su")};

std::string withYear(const std::string& text, Date date, Date now) {
    const int year = toCivil(date).year;
    return year == toCivil(now).year ? text : text + " " + std::to_string(year);
}

/// The words and numbers of a text, lower case, parted by anything else.
std::vector<std::string> wordsOf(std::string_view text) {
    std::vector<std::string> words;
    char kind = ' ';
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        const char now = std::isdigit(u)                ? '0'
                         : std::isalpha(u) || u >= 0x80 ? 'a'
                                                        : ' '; // "März" is one word
        if (now != ' ' && now != kind)
            words.emplace_back();
        if (now != ' ')
            words.back() += static_cast<char>(std::tolower(u));
        kind = now;
    }
    return words;
}

/// The month a name or its beginning stands for, from three letters on; 0 for none.
int monthNamed(const std::string& word) {
    if (word.size() < 3)
        return 0;
    for (size_t m = 0; m < monthNames.size(); ++m)
        for (std::string name : {std::string(monthNames[m]), translated(monthNames[m])}) {
            name[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(name[0])));
            if (name.compare(0, word.size(), word) == 0)
                return static_cast<int>(m) + 1;
        }
    return 0;
}

std::optional<Date> dayOf(int year, int month, int day) {
    char text[32];
    std::snprintf(text, sizeof text, "%04d-%02d-%02d", year, month, day);
    return parseDate(text);
}

} // namespace

std::string dayText(Date date) {
    const CivilDate c = toCivil(date);
    return phrase("%1 %2", c.day, monthText(c.month));
}

std::string dayText(Date date, Date now) {
    return withYear(dayText(date), date, now);
}

std::string namedDayText(Date date) {
    return phrase("%1, %2", weekdayText(date), dayText(date));
}

std::string namedDayText(Date date, Date now) {
    return phrase("%1, %2", weekdayText(date), dayText(date, now));
}

std::string shortDayText(Date date, Date now) {
    const CivilDate c = toCivil(date);
    return withYear(phrase("%1 %2 %3", shortWeekdayText(weekday(date)), c.day, shortMonthText(c.month)), date,
                    now);
}

static std::string_view trimmed(std::string_view text) {
    while (!text.empty() && text.front() == ' ')
        text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ')
        text.remove_suffix(1);
    return text;
}

/// Of at most four digits; 0 where the word is none.
static int number(const std::string& word) {
    const bool digits =
        std::all_of(word.begin(), word.end(), [](unsigned char c) { return std::isdigit(c); });
    return digits && word.size() <= 4 ? std::stoi(word) : 0;
}

/// 29 February comes seldom.
static std::optional<Date> nearestTo(Date now, int month, int day) {
    std::optional<Date> nearest;
    for (int year = toCivil(now).year - 4; year <= toCivil(now).year + 4; ++year)
        if (const auto d = dayOf(year, month, day);
            d && (!nearest || std::abs(*d - now) < std::abs(*nearest - now)))
            nearest = d;
    return nearest;
}

std::optional<Date> parseDayText(std::string_view text, Date now) {
    text = trimmed(text);
    if (const auto iso = parseDate(text))
        return iso;
    std::vector<std::string> words = wordsOf(text);
    if (!words.empty() && std::isalpha(static_cast<unsigned char>(words[0][0])))
        words.erase(words.begin()); // a weekday
    if (words.size() < 2 || words.size() > 3)
        return std::nullopt;
    const int day = number(words[0]);
    const int month = number(words[1]) > 0 ? number(words[1]) : monthNamed(words[1]);
    if (day < 1 || day > 31 || month < 1 || month > 12)
        return std::nullopt;
    if (words.size() == 3)
        return number(words[2]) < 100 ? dayOf(2000 + number(words[2]), month, day)
                                      : dayOf(number(words[2]), month, day);
    return nearestTo(now, month, day);
}

std::string weekdayText(Date date) {
    return translated(dayNames[static_cast<size_t>(weekday(date))]);
}

std::string monthText(int month) {
    return translated(monthNames.at(static_cast<size_t>(month - 1)));
}
std::string shortMonthText(int month) {
    return translated(shortMonths.at(static_cast<size_t>(month - 1)));
}
std::string shortWeekdayText(int day) {
    return translated(shortDays.at(static_cast<size_t>(day)));
}
std::string shortestWeekdayText(int day) {
    return translated(shortestDays.at(static_cast<size_t>(day)));
}

int weekday(Date date) {
    // 1970-01-01 was a Thursday.
    return ((date.days + 3) % 7 + 7) % 7;
}

Date monday(Date date) {
    return date - weekday(date);
}

} // namespace marram
