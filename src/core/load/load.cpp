// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/load.h"

#include <cmath>

namespace marram {

double decay(double timeConstant) {
    return std::exp(-1.0 / timeConstant);
}

std::vector<LoadDay> runModel(std::span<const double> stress, LoadState before, TimeConstants tau) {
    const double keepFitness = decay(tau.fitness), keepFatigue = decay(tau.fatigue);
    std::vector<LoadDay> days;
    days.reserve(stress.size());
    for (const double s : stress) {
        LoadDay day{s, 0, 0, before.form()};
        before.fitness = keepFitness * before.fitness + (1 - keepFitness) * s;
        before.fatigue = keepFatigue * before.fatigue + (1 - keepFatigue) * s;
        day.fitness = before.fitness;
        day.fatigue = before.fatigue;
        days.push_back(day);
    }
    return days;
}

double Influence::at(double days) const {
    return k1 * std::exp(-days / tau1) - k2 * std::exp(-days / tau2);
}

double Influence::harmfulWithin() const {
    return tau1 * tau2 / (tau1 - tau2) * std::log(k2 / k1);
}

double Influence::mostHelpfulAt() const {
    return tau1 * tau2 / (tau1 - tau2) * std::log(k2 * tau1 / (k1 * tau2));
}

} // namespace marram
