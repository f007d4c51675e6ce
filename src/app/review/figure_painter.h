// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"
#include "core/review/report.h"
#include <QPainter>

namespace marram {

/// Draws a figure of a report into a rectangle: its title over it, what its lines are beside that, axes with
/// hairlines. Days are named as months.
void paintFigure(QPainter& painter, const QRectF& area, const Figure& figure, const Shore& shore);

} // namespace marram
