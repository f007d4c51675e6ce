// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"

namespace marram {

/// What a step feels like, for a rider without power and beside it for one with.
struct Feel {
    int effort = 1;                                ///< 1–10
    std::optional<int> heartRateFrom, heartRateTo; ///< bpm, whole; none where heart rate says nothing
    bool lags = false; ///< heart rate arrives after about two minutes: the first are ridden by feel
};

/// The effort whose fraction of threshold lies nearest, 10 for all out; and the heart rates that go with the
/// target, three percent of threshold either side, once they have settled. Heart rate takes about two minutes
/// to arrive (common practice): steps of under two minutes have none, longer ones over the low threshold say
/// so.
Feel feelOf(const Step& step, const std::optional<HeartRateRange>& range, double lowThreshold);

/// The same in words: "effort 7, 152 to 160 bpm, arrives after 2 minutes".
std::string feelWords(const Feel& feel);

/// A word on eating during a session of some length: nothing for under an hour, 30–60 g of carbohydrate an
/// hour up to two and a half hours, up to 90 g beyond, practised in training (joint position statement 2016).
std::string fuelWords(int seconds);
/// What its work means: kJ on the pedals are about as many kcal burnt, since a rider turns about a quarter of
/// what is burnt into work and a kcal is 4.2 kJ (common practice).
std::string workWords(const SessionFigures& figures, double thresholdPower);

} // namespace marram
