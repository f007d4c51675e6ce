// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"

namespace marram::test {

/// A recording of some seconds at a steady power and heart rate, one sample every `every` seconds.
inline Recording steady(int seconds, float watts, float beats = missing, int every = 1) {
    Recording r;
    for (int t = 0; t < seconds; t += every) {
        Sample s;
        s.time = 1.8e9 + t;
        s.power = watts;
        s.heartRate = beats;
        r.samples.push_back(s);
    }
    return r;
}

} // namespace marram::test
