// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "core/session/session.h"
#include <QString>
#include <optional>

namespace marram {

class ChosenRider;

/// Has the simulated bike computer ride the chosen rider's session of today, or one like what is planned,
/// into a folder; the path of the file.
Result<QString> rideToday(const ChosenRider& chosen, Date today, const QString& deviceFolder,
                          const std::optional<Session>& session = {});

} // namespace marram
