// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/calendar/date.h"

#include <array>
#include <cstdio>

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

std::string dayText(Date date) {
    static constexpr std::array names{"January", "February", "March",     "April",   "May",      "June",
                                      "July",    "August",   "September", "October", "November", "December"};
    const CivilDate c = toCivil(date);
    return std::to_string(c.day) + " " + names[static_cast<size_t>(c.month - 1)];
}

std::string weekdayText(Date date) {
    static constexpr std::array names{"Monday", "Tuesday",  "Wednesday", "Thursday",
                                      "Friday", "Saturday", "Sunday"};
    return names[static_cast<size_t>(weekday(date))];
}

int weekday(Date date) {
    // 1970-01-01 was a Thursday.
    return ((date.days + 3) % 7 + 7) % 7;
}

Date monday(Date date) {
    return date - weekday(date);
}

} // namespace marram
