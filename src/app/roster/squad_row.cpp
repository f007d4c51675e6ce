// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_canvas.h"
#include "app/theme/theme.h"
#include "core/review/wording.h"
#include "wording/wording.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace marram {
namespace {

constexpr double deepest = -35, highest = 30; // points of form a row is high

} // namespace

/// The rope: taut in build weeks, slack in deloads and recoveries, thin towards a race, knotted at it.
void SquadCanvas::paintRope(QPainter& p, const SquadRow& row, double y) const {
    const QColor rope = shore().driftwood;
    for (const auto& [week, kind] : row.weeks) {
        if (week.days + 7 < from_ || week.days > to_)
            continue;
        const double left = xOf(week.days), right = xOf(week.days + 7), middle = (left + right) / 2;
        switch (kind) {
        case WeekKind::Deload:
        case WeekKind::Recovery: {
            QPainterPath slack(QPointF(left, y));
            slack.quadTo(QPointF(middle, y + 5), QPointF(right, y));
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(rope, 1));
            p.drawPath(slack);
            break;
        }
        case WeekKind::Break:
        case WeekKind::Transition:
            for (int i = 0; left + 5 * i < right; ++i)
                p.fillRect(QRectF(left + 5 * i, y - 0.5, 2, 1), rope);
            break;
        case WeekKind::Race:
            p.fillRect(QRectF(left, y - 0.5, right - left, 1), rope);
            p.fillRect(QRectF(middle - 2, y - 2, 4, 4), rope);
            break;
        case WeekKind::Taper:
            p.fillRect(QRectF(left, y - 0.5, right - left, 1), rope);
            break;
        case WeekKind::Build:
        case WeekKind::Camp:
            p.fillRect(QRectF(left, y - 1, right - left, 2), rope);
            break;
        }
    }
}

double SquadCanvas::yOf(double form, const QRectF& plot) {
    return plot.bottom() -
           (std::clamp(form, deepest, highest) - deepest) / (highest - deepest) * plot.height();
}

void SquadCanvas::paintWho(QPainter& p, const SquadRow& row, const QRectF& area) const {
    const Shore& c = shore();
    p.setFont(typeface(Type::Body, true));
    QFontMetricsF m(p.font());
    p.setPen(c.ink);
    p.drawText(QPointF(8, area.top() + m.ascent() + 8),
               m.elidedText(row.name, Qt::ElideRight, nameWidth() - 16));
    p.setFont(typeface(Type::Small));
    const QFontMetricsF s(p.font());
    p.setPen(c.muted);
    p.drawText(QPointF(8, area.top() + m.height() + s.ascent() + 9),
               wording("fitness %1  form %2%3")
                   .arg(QString::fromStdString(fixedText(row.fitness, 0)),
                        QString::fromStdString(figure(row.form, 0)),
                        row.planned ? (row.fresh ? "" : "  …") : ""));
}

/// Deloads and days away.
void SquadCanvas::paintGround(QPainter& p, const SquadRow& row, const QRectF& plot) const {
    const Shore& c = shore();
    for (const Date week : row.deloads)
        if (week.days + 7 >= from_ && week.days <= to_)
            p.fillRect(
                QRectF(QPointF(xOf(week.days), plot.top()), QPointF(xOf(week.days + 7), plot.bottom())),
                QBrush(c.hairline, Qt::BDiagPattern));
    for (const Away& a : row.away)
        if (a.to.days >= from_ && a.from.days <= to_) {
            QColor sand = c.sand;
            sand.setAlphaF(0.7F);
            p.fillRect(
                QRectF(QPointF(xOf(a.from.days), plot.top()), QPointF(xOf(a.to.days + 1), plot.bottom())),
                sand);
        }
}

void SquadCanvas::paintForm(QPainter& p, const SquadRow& row, const QRectF& plot) const {
    const Shore& c = shore();
    const auto y = [&](double form) { return yOf(form, plot); };
    QPolygonF before, after;
    for (const auto& [day, form] : row.forms)
        if (day.days >= from_ - 1 && day.days <= to_ + 1)
            (day <= today_ ? before : after) << QPointF(xOf(day.days), y(form));
    if (!before.isEmpty() && !after.isEmpty())
        after.prepend(before.last());
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(c.tide, 1.8));
    p.drawPolyline(before);
    QColor planned = c.tide; // a line of one pixel, paler: what is only meant
    planned.setAlphaF(0.75F);
    p.setPen(QPen(planned, 1));
    p.drawPolyline(after);
}

static void paintStake(QPainter& p, Priority priority, double x, const QRectF& plot, const QColor& colour) {
    p.setPen(QPen(colour, priority == Priority::A ? 2 : 1));
    const double top = priority == Priority::C ? plot.top() + plot.height() * 0.6 : plot.top();
    p.drawLine(QPointF(x, top), QPointF(x, plot.bottom()));
}

static QString nameText(const SquadRace& r) {
    return QString::fromStdString(r.name) + (ownDay(r) ? wording(", own day") : QString());
}

static QString formText(const SquadRace& r) {
    return QString::fromStdString(figure(r.form, 0)) + (r.chance ? "  " + chanceText(r) : QString());
}

void SquadCanvas::paintRaces(QPainter& p, const SquadRow& row, const QRectF& plot) const {
    const Shore& c = shore();
    const QFontMetricsF s(typeface(Type::Small));
    const auto y = [&](double form) { return yOf(form, plot); };
    double free = -1e9, footFree = -1e9;
    const QColor ground = row.rider == chosen_ ? c.sheet : c.paper;
    const auto write = [&](const QPointF& at, const QString& text, const QColor& colour) {
        p.fillRect(s.boundingRect(text).translated(at).adjusted(-2, 2, 2, -1), ground);
        p.setPen(colour);
        p.drawText(at, text);
    };
    for (const SquadRace& r : row.races) {
        if (r.date.days < from_ || r.date.days > to_)
            continue;
        const double x = xOf(r.date.days + 0.5);
        const bool past = r.date < today_;
        if (r.gate && !past) { // the gate as a slot beside the stake
            p.setPen(Qt::NoPen);
            QColor gate = c.grass;
            gate.setAlphaF(0.55F);
            p.fillRect(QRectF(QPointF(x - 2.5, y(r.gate->high)), QPointF(x + 2.5, y(r.gate->low))), gate);
        }
        paintStake(p, r.priority, x, plot, past ? c.muted : c.ink);
        if (r.priority == Priority::C || past)
            continue;
        const QString text = formText(r);
        const double wide = s.horizontalAdvance(text);
        const double at = x + 5 + wide > plot.right() ? x - 5 - wide : x + 5;
        if (at < free)
            continue;
        write(QPointF(at, plot.top() + s.ascent()), text, c.ink);
        free = at + wide + 8;
        // Its name at the foot, where nothing else stands and the head does not say it.
        const QString name = nameText(r);
        const bool shared =
            std::find(shared_.begin(), shared_.end(), std::pair(r.date, r.name)) != shared_.end();
        const double end = x - 5, begin = end - s.horizontalAdvance(name);
        if (!shared && begin > std::max(footFree, plot.left() + 4)) {
            write(QPointF(begin, plot.bottom() - 2), name, c.muted);
            footFree = x;
        }
    }
}

void SquadCanvas::paintRow(QPainter& p, const SquadRow& row, const QRectF& area) const {
    const Shore& c = shore();
    if (row.rider == chosen_) {
        p.fillRect(area.adjusted(0, 0, 0, -1), c.sheet);
        if (hasFocus()) {
            p.setPen(QPen(c.deepGrass, 1.5));
            p.setBrush(Qt::NoBrush);
            p.drawRect(area.adjusted(1, 1, -2, -2));
        }
    }
    p.setPen(QPen(c.hairline, 1));
    p.drawLine(area.bottomLeft(), area.bottomRight());
    paintWho(p, row, area);
    const QRectF plot(nameWidth(), area.top() + 5, width() - nameWidth() - 8, area.height() - 10);
    p.save();
    p.setClipRect(plot);
    paintGround(p, row, plot);
    p.setPen(QPen(c.hairline, 1));
    p.drawLine(QPointF(plot.left(), yOf(0, plot)), QPointF(plot.right(), yOf(0, plot)));
    paintRope(p, row, plot.top() + 3);
    p.restore();
    p.save();
    paintUprights(p, area.top(), area.bottom());
    p.setClipRect(plot);
    paintForm(p, row, plot);
    paintRaces(p, row, plot);
    p.restore();
    if (!row.planned) {
        p.setPen(c.muted);
        p.drawText(
            QPointF(xOf(std::max(from_, static_cast<double>(today_.days))) + 10, area.center().y() + 4),
            wording("no season lies ahead"));
    }
}

} // namespace marram
