// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/corrections.h"
#include "core/ride/scale.h"
#include "core/ride/score.h"
#include <QJsonObject>

namespace marram {

/// A score as JSON, keys in snake_case with the unit at the end, null for what the recording cannot give.
QJsonObject writeScore(const Score& score, bool dated = true);

/// The same read back; keys that are missing or null stay empty. Refuses what no score holds, by its key.
Result<Score> scoreFrom(const QJsonObject& json);

/// Learned scales as JSON, and read back; a scale that was not learned is left out. Refuses what can't be. An
/// error written before kinds of ride were told apart is that of all rides.
QJsonObject writeScales(const Scales& scales);
Result<Scales> scalesFrom(const QJsonObject& json);

/// Corrections as JSON, and read back; what was not corrected is left out. Refuses what can't be.
QJsonObject writeCorrections(const Corrections& corrections);
Result<Corrections> correctionsFrom(const QJsonObject& json);

} // namespace marram
