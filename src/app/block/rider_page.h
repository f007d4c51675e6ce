// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_picture.h"
#include <QByteArray>

class QPainter;

namespace marram {

/// A week on a page for the rider: each day with its profile and what to do in words, targets in watts,
/// effort and heart rate, what ends it early, a word from the coach, and cautions. One page a week, A4
/// upright; what does not fit in one page goes on to the next.
QByteArray riderPdf(const BoardPicture& picture, const QString& rider, const QString& cautions);

} // namespace marram
