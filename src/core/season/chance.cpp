// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/chance.h"

namespace marram {

ComingForm::ComingForm(const LoadState& before, const TimeConstants& tau, double miss, double run)
    : mean_(before), keepFitness_(decay(tau.fitness)), keepFatigue_(decay(tau.fatigue)), miss_(miss),
      rho_(runCorrelation(miss, run)) {}

void ComingForm::day(double stress, bool missable) {
    const double mean = missable ? (1 - miss_) * stress : stress;
    mean_.fitness = keepFitness_ * mean_.fitness + (1 - keepFitness_) * mean;
    mean_.fatigue = keepFatigue_ * mean_.fatigue + (1 - keepFatigue_) * mean;
    const double s = missable ? stress : 0, v = miss_ * (1 - miss_), f = (1 - keepFitness_) * s,
                 a = (1 - keepFatigue_) * s;
    ff_ = keepFitness_ * keepFitness_ * ff_ + 2 * keepFitness_ * f * fm_ + f * f * v;
    fa_ = keepFitness_ * keepFatigue_ * fa_ + keepFitness_ * a * fm_ + keepFatigue_ * f * am_ + f * a * v;
    aa_ = keepFatigue_ * keepFatigue_ * aa_ + 2 * keepFatigue_ * a * am_ + a * a * v;
    fm_ = rho_ * (keepFitness_ * fm_ + f * v);
    am_ = rho_ * (keepFatigue_ * am_ + a * v);
}

} // namespace marram
