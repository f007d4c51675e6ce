// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include "core/rider/rider.h"

namespace marram {

/// Weight of a minute at a fraction x of the heart-rate reserve: x·0.64·e^(1.92x) for men,
/// x·0.86·e^(1.67x) for women. Below rest counts as rest.
/// Source: Morton, Fitz-Clarke & Banister 1990 (coefficients: values from memory).
double impulsePerMinute(double reserveFraction, Sex sex);

/// Training impulse of a ride, summed per recorded second; seconds without heart rate add nothing.
double trainingImpulse(const Ride& ride, const HeartRateRange& range);

/// Recorded seconds in each of the zones heart rate can tell apart (rider.h); seconds without heart rate are
/// in none.
std::array<double, 5> timeInHeartRateZones(const Ride& ride, const HeartRateRange& range);

/// Stress from a training impulse, scaled so that one hour at threshold heart rate is 100 points.
double stressFromImpulse(double impulse, const HeartRateRange& range);

} // namespace marram
