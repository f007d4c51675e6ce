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
/// What writeBlock wrote, read back: days, families, rungs and what is ridden. Keys it does not need are not
/// looked at.
Result<SessionBlock> readBlock(const QByteArray& json, double lowThreshold);
Result<std::vector<DoneRung>> readDone(const QByteArray& json);

/// A family of sessions as an object, and back: name, purpose, grows, stop, caution, rungs (shorthand of the
/// work), phases it is placed in by itself (transition, base, build, specialise), not_with (words of
/// injuries).
QJsonObject writeFamily(const Family& family);
Result<Family> readFamily(const QJsonObject& object, const QString& where);
/// The families of a file, {"families": […]}; refuses names that come twice.
QByteArray writeFamilies(const std::vector<Family>& all);
Result<std::vector<Family>> readFamilies(const QByteArray& json);

} // namespace marram
