// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_pen.h"
#include "wording/wording.h"

#include <QPainterPath>
#include <algorithm>

namespace marram {

/// A rope along the season: taut where weeks build, slack where they unload, knotted where there is a race.
void paintPhases(const SeasonPen& pen) {
    pen.stratumName(pen.s.phases, wording("Phases"), "");
    const InsidePlot inside(pen);
    const double y = pen.s.phases.bottom() - 7;
    const double h = QFontMetricsF(typeface(Type::Small)).height();
    size_t i = 0;
    const auto& weeks = pen.picture.plan.weeks;
    while (i < weeks.size()) {
        size_t j = i;
        while (j + 1 < weeks.size() && weeks[j + 1].phase == weeks[i].phase)
            ++j;
        const double x1 = std::max(pen.s.plot.left(), pen.s.xOf(monday(weeks[i].start))),
                     x2 = pen.s.xOf(monday(weeks[j].start)) + 7 * pen.s.dayWidth();
        pen.line(x1, pen.s.phases.top() + 2, x1, pen.s.phases.bottom(), pen.c.hairline);
        // Weeks of coming back are not the off-season.
        const bool back =
            std::all_of(weeks.begin() + static_cast<long>(i), weeks.begin() + static_cast<long>(j) + 1,
                        [](const PlannedWeek& w) { return w.kind == WeekKind::Recovery; });
        const QString name = wording(back ? nameOf(WeekKind::Recovery) : nameOf(weeks[i].phase));
        if (pen.width(name) + 10 < x2 - x1)
            pen.text(QRectF(x1 + 5, pen.s.phases.top(), x2 - x1, h + 2), Qt::AlignVCenter, name, pen.c.ink);
        i = j + 1;
    }
    for (const PlannedWeek& w : weeks) {
        if (!pen.shown(monday(w.start), monday(w.start) + 6))
            continue;
        const double x1 = pen.s.xOf(monday(w.start)), x2 = x1 + 7 * pen.s.dayWidth(), mid = (x1 + x2) / 2;
        switch (w.kind) {
        case WeekKind::Build:
            pen.line(x1, y, x2, y, pen.c.deepGrass, 3);
            break;
        case WeekKind::Camp:
            pen.line(x1, y, x2, y, pen.c.deepGrass, 3);
            pen.line(x1, y - 3, x2, y - 3, pen.c.deepGrass, 1);
            break;
        case WeekKind::Deload:
        case WeekKind::Recovery: {
            QPainterPath sag(QPointF(x1, y));
            sag.quadTo(QPointF(mid, y + 8), QPointF(x2, y));
            pen.p.setPen(QPen(pen.c.grass, 1.4));
            pen.p.setBrush(Qt::NoBrush);
            pen.p.drawPath(sag);
            break;
        }
        case WeekKind::Taper: {
            const QPolygonF wedge({{x1, y - 2}, {x2, y - 0.6}, {x2, y + 0.6}, {x1, y + 2}});
            pen.p.setPen(Qt::NoPen);
            pen.p.setBrush(pen.c.deepGrass);
            pen.p.drawPolygon(wedge);
            break;
        }
        case WeekKind::Race:
            pen.line(x1, y, x2, y, pen.c.grass, 1);
            pen.p.setPen(Qt::NoPen);
            pen.p.setBrush(pen.c.ink);
            pen.p.drawEllipse(QPointF(mid, y), 2.6, 2.6);
            break;
        case WeekKind::Transition:
            pen.line(x1, y, x2, y, pen.c.grass, 1, Qt::DashLine);
            break;
        case WeekKind::Break:
            pen.line(x1 + 1, y, x2 - 1, y, pen.c.muted, 1, Qt::DotLine);
            break;
        }
        if (w.pinned) {
            pen.p.setPen(QPen(pen.c.ink, 1.2));
            pen.p.drawLine(QPointF(mid, y - 7), QPointF(mid, y - 2));
            pen.p.setBrush(pen.c.ink);
            pen.p.drawEllipse(QPointF(mid, y - 8), 1.8, 1.8);
        }
    }
}

} // namespace marram
