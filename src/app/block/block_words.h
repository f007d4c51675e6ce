// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_picture.h"

namespace marram {

/// A session's figures in a line: length, points, time by purpose, work.
QString figuresWords(const Session& session, const BoardPicture& picture);
/// The family and rung (1 the first) whose work a session holds, where it holds that of one.
std::optional<std::pair<std::string, int>> rungIn(const Session& session, const FamilyBook& book);

/// A week as text for the rider to be sent: a line a day with what to do in words, targets in watts and as
/// effort and heart rate, what ends it early, and cautions once at the end.
QString weekText(const BoardPicture& picture, const BoardWeek& week, const QString& rider);
/// One session in words for a rider, a line a part.
QStringList sessionLines(const BoardPicture& picture, const Session& session);

/// What stands under everything that is handed to a rider.
extern const char* const riderCaution;

} // namespace marram
