// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/course/course.h"
#include "core/ride/grid.h"
#include <QByteArray>

namespace marram {

/// Reads the track points of a GPX 1.1 file, with heart rate, cadence and power from extensions by local
/// name. Points without a time are refused, as are document types, nesting deeper than 64, floods of
/// attributes and namespaces, encodings other than UTF-8 and ISO 8859-1, and broken XML, with the line.
Result<Recording> readGpx(const QByteArray& bytes);

/// Reads the way of a GPX 1.1 file, its track points or else its route points, as a course: no times are
/// needed, heights are. A point without a height takes it from its neighbours. Refuses what readGpx()
/// refuses, and a file without heights.
Result<std::vector<CoursePoint>> readGpxCourse(const QByteArray& bytes);

/// Writes a recording as GPX 1.1: a track with a segment for every stretch between stops, heart rate,
/// cadence, power and temperature as extensions. Refuses a recording without places, which GPX can't hold;
/// samples without one are left out.
Result<QByteArray> writeGpx(const Recording& recording, const QByteArray& name);

} // namespace marram
