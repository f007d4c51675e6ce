// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <compare>
#include <optional>
#include <string>
#include <string_view>

namespace marram {

/// A day of the proleptic Gregorian calendar, counted in days from 1970-01-01 (which is 0).
/// A plain value: no time zone, no clock. Differences are whole days.
struct Date {
    int days = 0;

    auto operator<=>(const Date&) const = default;
    friend Date operator+(Date d, int n) { return {d.days + n}; }
    friend Date operator-(Date d, int n) { return {d.days - n}; }
    friend int operator-(Date a, Date b) { return a.days - b.days; }
};

/// Year, month 1..12 and day 1..31 of a date.
struct CivilDate {
    int year = 1970, month = 1, day = 1;
};

/// The date of a civil day. The caller guarantees that the day exists (see parseDate for checking).
/// Source: days-from-civil algorithm, H. Hinnant 2013 (value from memory, checked by tests against QDate).
Date fromCivil(int year, int month, int day);
CivilDate toCivil(Date date);

/// Reads exactly "YYYY-MM-DD", years 1900..2199; nothing for any other text or a day that does not exist.
std::optional<Date> parseDate(std::string_view text);

/// "YYYY-MM-DD".
std::string isoText(Date date);

/// "12 July", "1 March": how a coach writes a day inside a sentence.
std::string dayText(Date date);
/// The same, with the year where it is not that of `now`: "22 March 2028".
std::string dayText(Date date, Date now);
/// "Sunday, 22 November": how a day stands over what is said of it.
std::string namedDayText(Date date);
std::string namedDayText(Date date, Date now);
/// How a day stands in a list: "Sun 22 Nov", with the year where it is not that of `now`.
std::string shortDayText(Date date, Date now);

/// "January" … "December" and "Jan" … "Dec", of 1 … 12; "Mon" … "Sun" and "Mo" … "Su", of 0 for Monday … 6.
std::string monthText(int month);
std::string shortMonthText(int month);
std::string shortWeekdayText(int day);
std::string shortestWeekdayText(int day);

/// Reads a day as people write it: "22 March", "22 Mar 2027", "22.3.", "22.3.2027", "22/3/2027" or
/// 2027-03-22, months in the language in force or in English, in any case and with a weekday before it.
/// Without a year the one nearest to `now`. Nothing for any other text.
std::optional<Date> parseDayText(std::string_view text, Date now);

/// "Monday" … "Sunday".
std::string weekdayText(Date date);

/// 0 for Monday … 6 for Sunday.
int weekday(Date date);

/// The Monday of the week the date lies in; weeks run Monday to Sunday.
Date monday(Date date);

} // namespace marram
