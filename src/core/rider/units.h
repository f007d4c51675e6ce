// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace marram {

/// The units distances and weights are shown and typed in; everything is kept in metres and kilograms. Power
/// for weight stays W/kg and work before an effort kJ/kg everywhere, as riders say it.
struct Units {
    bool miles = false, pounds = false;

    static constexpr double metresInMile = 1609.344, kilogramsInPound = 0.45359237; // exact, by definition

    /// Kilometres or miles of some metres; also an hour, of metres an hour.
    double distance(double metres) const { return metres / (miles ? metresInMile : 1000); }
    double metres(double shown) const { return shown * (miles ? metresInMile : 1000); }
    const char* distanceUnit() const { return miles ? "mi" : "km"; }
    const char* speedUnit() const { return miles ? "mph" : "km/h"; }
    double weight(double kilograms) const { return kilograms / (pounds ? kilogramsInPound : 1); }
    double kilograms(double shown) const { return shown * (pounds ? kilogramsInPound : 1); }
    const char* weightUnit() const { return pounds ? "lb" : "kg"; }
    bool operator==(const Units&) const = default;
};

} // namespace marram
