// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/trend.h"
#include "records/whole_record.h"

namespace marram {

/// How far back pages look, in days.
constexpr int halfYear = 182, wholeYear = 365;

/// A thing measured again and again, never mixed with another.
struct Marker {
    enum class Kind { Test, Check, Maximal, Session, Steady } kind = Kind::Test;
    std::string name, unit;
    MarkerNoise noise;
    int decimals = 0;
    int seconds = 0;               ///< length of a maximal effort; 0 otherwise
    bool better = true;            ///< more is better
    std::vector<TestPoint> points; ///< in order of day, one a day
};

/// Every marker a record holds with two results at least: tests by protocol and place, at sea level; aerobic
/// checks; maximal efforts by length; the same session's watts per beat; those of steady rides outdoors,
/// each as if at the usual power.
/// Noises: tests and efforts 2 %, checks 2 %, drift 1.5, sessions 2.7 % (2 % of power and 3 beats), steady
/// rides 3 % (ours).
std::vector<Marker> markersOf(const WholeRecord& record);

/// A day of maximal effort: by how much its results lay over what was usual within half a year either side,
/// the mean of all lengths.
struct MaximalDay {
    Date day;
    double percent = 0;
};
/// Of lengths and tests with three results at least within that year.
std::vector<MaximalDay> maximalDays(const std::vector<Marker>& markers);

} // namespace marram
