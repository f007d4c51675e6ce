// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/response.h"
#include <span>

namespace marram {

/// How a marker changed over a span: a straight line through its results with an 80 % band.
struct Trend {
    int count = 0;
    double first = 0, last = 0; ///< the line at the first and the last day of the span
    Banded change;        ///< from the first to the last day of the span: per cent, or the marker's unit
    Banded own;           ///< the same by its own scatter alone, five results at least
    double noise = 0;     ///< of one result that the band rests on: per cent, or the marker's unit
    bool told = false;    ///< a band that only one of twenty riders without a change would be outside of,
                          ///< over all markers looked at together, holds no "none"
    bool plateau = false; ///< its own scatter says so: the 80 % band lies within ±1 % of none, over eight
                          ///< weeks and five results at least
};

/// How the results of a marker vary.
struct MarkerNoise {
    double usual = 2;     ///< of one result where nothing changed: per cent, or the marker's unit
    bool relative = true; ///< in per cent, on the logarithm; else in the marker's unit
};

/// Least squares through the results from `from` to `to`, both included; one result varies by its usual noise
/// or by as much as they scatter, whichever is more. `looks` is how many markers are looked at together.
/// Nothing for under three results or where all lie on one day.
std::optional<Trend> trendOf(std::span<const TestPoint> points, Date from, Date to, const MarkerNoise& noise,
                             int looks = 1);

/// Half the 80 % band a change over `days` would have with results on these days before its end.
double halfBand(std::span<const int> daysBefore, int days, double noise);

} // namespace marram
