// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <span>
#include <vector>

namespace marram {

/// Time constants of the load model, in days. Defaults: common practice.
struct TimeConstants {
    double fitness = 42;
    double fatigue = 7;
};

/// Where a rider stands at the end of a day, in points a day.
struct LoadState {
    double fitness = 0;
    double fatigue = 0;
    double form() const { return fitness - fatigue; }
};

/// One day of the load model.
struct LoadDay {
    double stress = 0;  ///< points, >= 0
    double fitness = 0; ///< points/day, at the end of the day
    double fatigue = 0; ///< points/day, at the end of the day
    double form = 0;    ///< points/day, as the rider woke up: the day before's fitness − fatigue
};

/// What is left of an exponentially weighted mean after a day: e^(−1/τ).
double decay(double timeConstant);

/// Runs the model over daily stress from the state at the end of the day before the first:
///   F_d = a·F_{d−1} + (1 − a)·s_d, a = e^(−1/τ), the same for fatigue; form_d = F_{d−1} − A_{d−1}.
std::vector<LoadDay> runModel(std::span<const double> stress, LoadState before, TimeConstants tau = {});

/// Impulse-response influence of a unit of training `days` before a race:
///   k1·e^(−n/τ1) − k2·e^(−n/τ2). Positive where the training helps the race.
/// Source: Fitz-Clarke, Morton & Banister 1991.
struct Influence {
    double tau1 = 45, tau2 = 15, k1 = 1, k2 = 2;
    double at(double days) const;
    /// Days before the race inside which training harms it: τ1τ2/(τ1−τ2)·ln(k2/k1).
    double harmfulWithin() const;
    /// Days before the race at which training helps it most: τ1τ2/(τ1−τ2)·ln(k2τ1/(k1τ2)).
    double mostHelpfulAt() const;
};

} // namespace marram
