// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"
#include <string_view>

namespace marram {

/// Rides are laid in steps of five minutes, in seconds.
inline constexpr int fiveMinutes = 300;

/// How a hard ride begins and ends, by its length.
struct Frame {
    int warm = 900, cool = 600; ///< s
};
Frame frameFor(int seconds, int warm = 0);
/// The warm-up some work asks for whatever the ride's length: fifteen minutes before 105 % and over, twenty
/// before all out, else 0 (common practice).
int warmFor(const Session& work);
/// A ride shorter than this is none.
inline constexpr int shortestRide = 1200;

/// A ride of so many seconds round its work: warm-up, work, endurance at `percent` for what is left,
/// cool-down. Endurance of under five minutes goes into the cool-down. Without work it is endurance alone.
Session rideAround(const Session& work, int seconds, int percent);
/// The shortest ride that holds some work with a warm-up of at least `warm`, in seconds, to whole five
/// minutes.
int shortestAround(int workSeconds, int warm = 0);
/// How a day's work lies in its ride: between warm-up and cool-down; after hours of endurance; inside an easy
/// ride.
enum class Lying { Around, Late, Within };
/// How a family's work lies.
Lying lyingOf(std::string_view family);
/// A ride of so many seconds with its work as it lies; the shortest such ride that holds it.
Session rideWith(Lying lying, const Session& work, int seconds, int percent);
int shortestWith(Lying lying, int workSeconds, int warm = 0);

/// A long ride: endurance, then `tempo` seconds at `target` percent, then ten minutes easy.
Session longRide(int seconds, int percent, int tempo, int target);

/// A step of so many seconds at a percentage of threshold power.
Item stepAt(int seconds, int percent);

} // namespace marram
