// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <optional>
#include <string_view>

namespace marram {

/// A point in time as a file wrote it.
struct Moment {
    double seconds = 0;           ///< from the Unix epoch, UTC
    std::optional<int> utcOffset; ///< s that local time was ahead of UTC; nothing for Z or no zone
};

/// Reads ISO 8601 as recordings write it: date, T or a space, time with or without seconds and fractions,
/// then Z, an offset (+02, +0200, +02:00), or nothing for the local time of this machine. Years 1970–2105:
/// whatever lies beyond is no ride. Nothing for any other text.
std::optional<Moment> parseMoment(std::string_view text);

/// The number a text is, from its first character to its last, finite; nothing for any other text.
std::optional<double> parseNumber(std::string_view text);

/// True for text that holds no control characters but tab and line ends.
bool isPlainText(std::string_view text);

} // namespace marram
