// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"
#include <QJsonObject>

namespace marram {

/// A session with its figures, as `marram-cli session` prints it; work in kJ only where threshold power is
/// known.
QJsonObject writeSession(const Session& session, std::optional<double> thresholdPower, double lowThreshold);

} // namespace marram
