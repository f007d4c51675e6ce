// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace marram {

/// Maximal heart rate to expect at an age in years, 208 − 0.7 × age, in bpm. Only where nothing was measured.
/// Source: Tanaka, Monahan & Seals 2001 (value from memory).
double expectedMaxHeartRate(double age);

/// Oxygen uptake of cycling at a power per body mass in W/kg: 10.8 × W/kg + 7, in ml/kg/min. With the best
/// power over five minutes, about a rider's maximal uptake.
/// Source: American College of Sports Medicine guidelines (value from memory).
double oxygenUptake(double wattsPerKg);

/// How far the equation misses a rider, as a part of its value: efficiency differs from rider to rider by
/// about as much (common practice, value from memory). The uptake is said as a span this wide to either side.
inline constexpr double oxygenUptakeError = 0.07;

/// Part of aerobic power that is left at an altitude in km, 0…1: −1.12x² − 1.90x + 99.9 % acclimatised,
/// 0.178x³ − 1.43x² − 4.07x + 100 % not. Taken for 0 to 4 km; outside, the nearer end holds.
/// Source: Bassett et al. 1999 (coefficients: values from memory).
double aerobicPowerLeft(double km, bool acclimatised);

} // namespace marram
