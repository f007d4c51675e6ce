// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include <QByteArray>

namespace marram {

/// Reads the track points of a GPX 1.1 file, with heart rate, cadence and power from extensions by local
/// name. Points without a time are refused, as are entity declarations, nesting deeper than 64 and broken
/// XML, with the line.
Result<Recording> readGpx(const QByteArray& bytes);

} // namespace marram
