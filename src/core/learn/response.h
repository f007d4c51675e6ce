// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace marram {

/// A value with its 80 % band.
struct Banded {
    double value = 0, low = 0, high = 0;
};

/// One result of one test, in its own unit.
struct TestPoint {
    Date day;
    double value = 0;
};

/// What load has been worth to a rider: gains, with the time constants integrated out. Constants themselves
/// can't be learnt from realistic records and are never adopted.
struct Response {
    Banded gainFitness, gainFatigue; ///< per cent of the mean result for a point of fitness, of fatigue
    struct Forecast {
        Date day;
        Banded able;   ///< what the rider could do, in the result's unit
        Banded result; ///< what a test of that day may show: drift and noise in it
    };
    std::vector<Forecast> forecasts;
    /// A result and what would have been forecast of it, from what lay 28 days and more before.
    struct Past {
        Date day;
        double came = 0; ///< in the result's unit
        Banded forecast; ///< of the result: drift and noise in it
        bool inside() const { return came >= forecast.low && came <= forecast.high; }
    };
    std::vector<Past> past; ///< in order of day
    /// Root mean square in per cent of results forecast from what lay 28 days and more before them, with what
    /// is left of the drift by then, all three alike.
    struct {
        double noChange = 0, usualGains = 0, learnt = 0;
        int results = 0;
    } score;
    bool enough = false; ///< what is learnt forecasts better than the usual gains, over ten results at least
    std::string why;
};

/// Impulse-response p = level + g_F·F − g_A·A + noise + slow drift, of the morning's fitness and fatigue
/// (Fitz-Clarke, Morton & Banister 1991), settled at the start at the mean of the first 42 days. A grid of 26
/// × 20 constants with lognormal priors (40 d, 0.4; 9 d, 0.5); level N(100, 15²), g_F N(0.20, 0.10²), g_A
/// N(0.09, 0.06²) per cent a point, both positive; white noise of 1.6, 2.1, 2.7 or 3.4 % and
/// Ornstein–Uhlenbeck drift of 45 days with 0, 1 or 2 %, equally likely, by a Kalman filter for each. `daily`
/// may run past today as it is planned. Refuses fewer than three results, results outside the days, and days
/// to forecast that nothing is planned up to.
Result<Response> learnResponse(const std::map<Date, double>& daily, std::vector<TestPoint> results,
                               const std::vector<Date>& at, std::uint64_t seed = 1);

} // namespace marram
