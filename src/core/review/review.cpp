// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/review.h"

namespace marram {

Compliance compare(double planned, double ridden) {
    constexpr double something = 5; // points: less is neither a session nor a plan
    if (planned < something)
        return ridden < something ? Compliance::Rest : Compliance::Unplanned;
    if (ridden < something)
        return Compliance::Missed;
    const double part = ridden / planned;
    if (part >= 0.8 && part <= 1.2)
        return Compliance::Done;
    return part >= 0.5 && part <= 1.5 ? Compliance::Off : Compliance::FarOff;
}

const char* wordFor(Compliance c) {
    switch (c) {
    case Compliance::Rest:
        return "rest";
    case Compliance::Done:
        return "as planned";
    case Compliance::Off:
        return "off plan";
    case Compliance::FarOff:
        return "far off plan";
    case Compliance::Missed:
        return "missed";
    case Compliance::Unplanned:
        break;
    }
    return "unplanned";
}

} // namespace marram
