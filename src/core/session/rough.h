// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/rider/rider.h"
#include <string>
#include <vector>

namespace marram {

/// What a session of the simulated bike computer is for.
enum class SessionKind { Endurance, Intervals, Openers, Race };

/// A stretch of a session at one intended power.
struct RoughStep {
    int seconds = 0;
    double intensity = 0; ///< fraction of threshold power
    bool work = false;    ///< counts as a repetition
};

struct RoughSession {
    SessionKind kind = SessionKind::Endurance;
    std::string title;
    std::vector<RoughStep> steps;
    int seconds() const;
    /// Expected stress, from 30 s means of the intended power.
    double stress() const;
};

/// A session of the given length whose stress comes as near the target as its kind allows. Intervals are
/// 15 minutes of warm-up, repetitions of eight minutes just above threshold with five minutes between, and
/// endurance around them (common practice; docs/model.md). `hours` 0.2–12, `stress` points.
RoughSession prescribe(SessionKind kind, double hours, double stress);

} // namespace marram
