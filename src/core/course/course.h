// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <optional>
#include <string>
#include <vector>

namespace marram {

/// A point of a course: metres from its start, never falling, and metres above the sea.
struct CoursePoint {
    double distance = 0, altitude = 0;
    bool operator==(const CoursePoint&) const = default;
};

/// A rider on a bicycle as the road sees them.
struct Moving {
    double mass = 80;          ///< kg, rider and bicycle, 30–250
    double dragArea = 0.35;    ///< m², 0.1–1.5
    double rolling = 0.005;    ///< coefficient of rolling resistance, 0.001–0.05
    double density = 1.225;    ///< of the air, kg/m³, 0.5–1.5
    double efficiency = 0.976; ///< of the drive, 0.8–1
};
inline constexpr double gravity = 9.81;    ///< m/s²
inline constexpr double fastestSpeed = 18; ///< m/s; above it the rider brakes

/// Power at the pedals to ride at a steady speed: [m·g·(sin θ + c_rr·cos θ) + ½·ρ·CdA·(v + wind)²]·v / η.
/// `gradient` is rise over run. Negative where the road pushes harder than the air.
/// Source: Martin et al. 1998.
double powerAt(const Moving& rider, double gradient, double speed, double wind = 0);
/// Steady speed for a power of more than 0 W, in m/s; at most fastestSpeed, and no slower than a walk, 0.5.
double speedAt(const Moving& rider, double gradient, double power);

/// Relative intensity that can be held for so many seconds (common practice: an hour at threshold, two at 92
/// %, four at 83 %, eight at 73 %).
double heldFor(double seconds);

struct Climb {
    double start = 0, length = 0, gain = 0; ///< m
    double gradient = 0;                    ///< mean, rise over run
    double duration = 0;                    ///< s
};

/// What a course asks of a rider at constant power.
struct CourseDemand {
    double distance = 0, climb = 0; ///< m
    double duration = 0;            ///< s
    double power = 0;               ///< W
    double intensity = 0;           ///< of threshold power
    double work = 0;                ///< kJ
    double stress = 0;              ///< points
    const char* demand = "road";    ///< as races name it
    std::vector<Climb> climbs;      ///< in order; 20 m and 2 % at least
};

/// Rides the course at a constant share of threshold power; without one at what can be held for as long as it
/// takes. Refuses a course of under 100 m or over 2000 km, fewer than two points, figures outside their
/// ranges, an intensity outside 0.3–1.5.
Result<CourseDemand> rideCourse(const std::vector<CoursePoint>& course, const Moving& rider,
                                double thresholdPower, std::optional<double> intensity);

/// A course with at most `most` points: where it has more, altitudes at equal distances, between neighbours.
std::vector<CoursePoint> thinned(const std::vector<CoursePoint>& course, size_t most);

/// Can the rider last a race of so many hours, by the longest rides of the last sixteen weeks (hours, in any
/// order)? Common practice: a long ride of 85 % of the race's length, or two of 75 %.
struct Lasting {
    enum class Verdict { Yes, NotYet, Unknown } verdict = Verdict::Unknown;
    double longest = 0; ///< h
    double wanted = 0;  ///< h that the long ride should reach
    std::string words;
};
Lasting canLast(double raceHours, std::vector<double> rideHours);

} // namespace marram
