// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/text/moment.h"
#include "core/calendar/date.h"

#include <QDateTime>
#include <algorithm>
#include <charconv>
#include <cmath>

namespace marram {
namespace {

/// Reads `count` digits; −1 where there are other characters.
int digits(std::string_view& text, size_t count) {
    if (text.size() < count)
        return -1;
    int value = 0;
    for (size_t i = 0; i < count; ++i) {
        if (text[i] < '0' || text[i] > '9')
            return -1;
        value = value * 10 + (text[i] - '0');
    }
    text.remove_prefix(count);
    return value;
}

bool skip(std::string_view& text, char c) {
    if (text.empty() || text.front() != c)
        return false;
    text.remove_prefix(1);
    return true;
}

} // namespace

std::optional<Moment> parseMoment(std::string_view text) {
    if (text.size() < 16)
        return std::nullopt;
    const auto day = parseDate(text.substr(0, 10));
    if (!day || toCivil(*day).year < 1970)
        return std::nullopt;
    text.remove_prefix(10);
    if (!skip(text, 'T') && !skip(text, 't') && !skip(text, ' '))
        return std::nullopt;
    const int hour = digits(text, 2);
    if (!skip(text, ':'))
        return std::nullopt;
    const int minute = digits(text, 2);
    int second = 0;
    double fraction = 0;
    if (skip(text, ':')) {
        second = digits(text, 2);
        if (skip(text, '.') || skip(text, ',')) {
            double unit = 0.1;
            bool any = false;
            for (; !text.empty() && text.front() >= '0' && text.front() <= '9'; unit /= 10, any = true) {
                fraction += unit * (text.front() - '0');
                text.remove_prefix(1);
            }
            if (!any)
                return std::nullopt;
        }
    }
    // 24:00 ends a day; second 60 is a leap second.
    if (hour < 0 || minute < 0 || second < 0 || hour > 24 || minute > 59 || second > 60 ||
        (hour == 24 && (minute > 0 || second > 0)))
        return std::nullopt;
    const double local = day->days * 86400.0 + hour * 3600.0 + minute * 60.0 + second;
    fraction = std::round(fraction * 1e6) / 1e6;
    if (text == "Z" || text == "z")
        return Moment{local + fraction, std::nullopt};
    if (text.empty()) {
        const CivilDate c = toCivil(*day);
        const QDateTime here(QDate(c.year, c.month, c.day),
                             QTime(std::min(hour, 23), minute, std::min(second, 59)));
        const double more = (hour == 24 ? 3600 : 0) + (second == 60 ? 1 : 0);
        return Moment{static_cast<double>(here.toSecsSinceEpoch()) + more + fraction, std::nullopt};
    }
    const bool west = text.front() == '-';
    if (!west && text.front() != '+')
        return std::nullopt;
    text.remove_prefix(1);
    const int hours = digits(text, 2);
    skip(text, ':');
    const int minutes = text.empty() ? 0 : digits(text, 2);
    if (hours < 0 || hours > 15 || minutes < 0 || minutes > 59 || !text.empty())
        return std::nullopt;
    const int offset = (west ? -1 : 1) * (hours * 3600 + minutes * 60);
    return Moment{local + fraction - offset, offset};
}

std::optional<double> parseNumber(std::string_view text) {
    if (!text.empty() && text.front() == '+')
        text.remove_prefix(1);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (text.empty() || error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

bool isPlainText(std::string_view text) {
    return std::none_of(text.begin(), text.end(), [](char c) {
        const auto u = static_cast<unsigned char>(c);
        return (u < 0x20 && c != '\t' && c != '\n' && c != '\r') || u == 0x7F;
    });
}

} // namespace marram
