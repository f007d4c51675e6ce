// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_picture.h"
#include <QRectF>

class QPainter;

namespace marram {
struct Shore;

/// Where everything of the board lies.
struct BoardScene {
    QRectF whole, grid;
    double headHeight = 0, footHeight = 0, gutter = 0, lineHeight = 14;
    int weeks = 0;

    void layOut(const QRectF& area, int weekCount, double line);
    double columnWidth() const { return weeks > 0 ? grid.width() / weeks : 0; }
    QRectF head(int week) const;
    QRectF foot(int week) const;
    /// A day's part, from its hairline to the next.
    QRectF cell(int week, int weekday) const;
    /// The day at a point: week and weekday; nothing outside the grid.
    std::optional<std::pair<int, int>> at(const QPointF& point) const;
};

/// What is marked on the board.
struct BoardMarks {
    std::optional<Date> chosen, over; ///< the day chosen; the one what is dragged hangs over
    std::optional<QPointF> hand;      ///< where the hand is while it drags
    bool copying = false, focused = false;
};

/// A session as its profile: `perSecond` units of width a second, `perThreshold` of height for threshold
/// power; anything over one and a half thresholds is cut. Planned: filled by depth of the intensity with its
/// line above; `outline`: the line alone.
void paintProfile(QPainter& painter, const Session& session, const QPointF& foot, double perSecond,
                  double perThreshold, double lowThreshold, const Shore& colours, bool outline);
/// What was ridden as a solid body: fractions of threshold, one for so many seconds.
void paintTrace(QPainter& painter, const std::vector<float>& trace, int step, const QPointF& foot,
                double perSecond, double perThreshold, const Shore& colours);

void paintBoard(QPainter& painter, const BoardScene& scene, const BoardPicture& picture,
                const BoardMarks& marks, const Shore& colours);

} // namespace marram
