// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/calendar/problem.h"
#include <QJsonObject>

namespace marram {

/// A session with its figures, as `marram-cli session` prints it; work in kJ only where threshold power is
/// known.
QJsonObject writeSession(const Session& session, std::optional<double> thresholdPower, double lowThreshold);

/// The sessions of some weeks, as `marram-cli block` prints them.
QJsonObject writeBlock(const SessionBlock& block, std::optional<double> thresholdPower, double lowThreshold);

/// Rungs reached before: a list of {date, family, rung, finished}. Refuses by place what is missing, unknown
/// or out of range.
Result<std::vector<DoneRung>> readDone(const QByteArray& json);

} // namespace marram
