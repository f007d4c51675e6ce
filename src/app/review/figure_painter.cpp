// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/figure_painter.h"
#include "core/calendar/date.h"
#include "wording/wording.h"

#include <QPainterPath>
#include <array>
#include <cmath>

namespace marram {
namespace {

using Look = Figure::Line::Look;

struct Range {
    double low = 0, high = 1;
    void take(double v) {
        low = std::min(low, v);
        high = std::max(high, v);
    }
};

/// A step of 1, 2 or 5 times a power of ten that gives some `wanted` steps.
double niceStep(double span, int wanted) {
    const double rough = std::max(1e-9, span / wanted), power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0})
        if (m * power >= rough)
            return m * power;
    return 10 * power;
}

/// Whole steps within a range.
std::vector<double> steps(const Range& range, double step) {
    std::vector<double> all;
    const auto first = static_cast<int>(std::ceil(range.low / step)),
               last = static_cast<int>(std::floor(range.high / step));
    constexpr int most = 200;
    for (int i = first; i <= std::min(last, first + most); ++i)
        all.push_back(i * step);
    return all;
}

QString monthText(Date d) {
    const CivilDate c = toCivil(d);
    return c.month == 1 ? QString::number(c.year) : QString::fromStdString(shortMonthText(c.month));
}

class Drawing {
public:
    Drawing(QPainter& p, const QRectF& area, const Figure& f, const Shore& c) : p_(p), f_(f), c_(c) {
        p_.setRenderHint(QPainter::Antialiasing);
        p_.setFont(typeface(Type::Small));
        const QFontMetricsF m(p_.font());
        line_ = m.height();
        bool first = true;
        for (const Figure::Line& l : f.lines)
            for (const Figure::Point& point : l.points) {
                if (std::exchange(first, false)) {
                    x_ = {point.x, point.x};
                    y_ = {point.y, point.y};
                }
                x_.take(point.x);
                y_.take(point.y);
                if (point.low && point.high) {
                    y_.take(*point.low);
                    y_.take(*point.high);
                }
                if (l.look == Look::Area)
                    y_.take(0);
            }
        const bool filled = std::any_of(f.lines.begin(), f.lines.end(),
                                        [](const Figure::Line& l) { return l.look == Look::Area; });
        const double room = std::max({0.08 * (y_.high - y_.low), 1e-6 * std::abs(y_.high), 1e-9});
        y_ = {filled ? y_.low : y_.low - room, y_.high + room};
        const double aside = std::max(0.02 * (x_.high - x_.low), f.days ? 2.0 : 0.5);
        x_ = {x_.low - aside, x_.high + aside};
        step_ = niceStep(y_.high - y_.low, 4);
        decimals_ = std::clamp(static_cast<int>(std::ceil(-std::log10(step_) - 1e-9)), 0, 3);
        double widest = 0;
        if (!f.unit.empty())
            for (const double v : steps(y_, step_))
                widest = std::max(widest, m.horizontalAdvance(number(v)));
        const double top = line_ * 1.5, bottom = line_ * (f.across.empty() ? 1.3 : 2.3);
        plot_ = area.adjusted(widest + 8, top, -4, -bottom);
        area_ = area;
    }

    void draw() {
        head();
        grid();
        p_.save();
        p_.setClipRect(plot_.adjusted(-1, -1, 1, 1));
        for (const Figure::Line& l : f_.lines)
            line(l);
        p_.restore();
    }

private:
    QPointF at(double x, double y) const {
        return {plot_.left() + (x - x_.low) / (x_.high - x_.low) * plot_.width(),
                plot_.bottom() - (y - y_.low) / (y_.high - y_.low) * plot_.height()};
    }
    QString number(double v) const {
        QString text = decimal(v, decimals_);
        return text.replace('-', QChar(0x2212));
    }
    QColor veil() const {
        QColor c = c_.grass;
        c.setAlphaF(0.28F);
        return c;
    }

    void head() {
        p_.setFont(typeface(Type::Small, true));
        p_.setPen(c_.ink);
        const QString title = QString::fromStdString(f_.title) +
                              (f_.unit.empty() ? QString() : ", " + QString::fromStdString(f_.unit));
        const QFontMetricsF m(p_.font());
        p_.drawText(QPointF(area_.left(), area_.top() + m.ascent()),
                    m.elidedText(title, Qt::ElideRight, area_.width()));
        double x = area_.left() + m.horizontalAdvance(title) + 18;
        p_.setFont(typeface(Type::Small));
        const QFontMetricsF n(p_.font());
        for (const Figure::Line& l : f_.lines) {
            const QString name = QString::fromStdString(l.name);
            if (x + 22 + n.horizontalAdvance(name) > area_.right())
                break; // the sentence under it says it too
            const double y = area_.top() + n.ascent() - n.xHeight() / 2;
            sample(l.look, {x, y});
            p_.setPen(c_.muted);
            p_.drawText(QPointF(x + 20, area_.top() + n.ascent()), name);
            x += 36 + n.horizontalAdvance(name);
        }
    }

    void sample(Look look, const QPointF& from) {
        const QRectF box(from.x(), from.y() - 5, 15, 10);
        switch (look) {
        case Look::Dots:
            p_.setPen(Qt::NoPen);
            p_.setBrush(c_.deepGrass);
            p_.drawEllipse(box.center(), 3, 3);
            break;
        case Look::Band:
        case Look::Area:
            p_.fillRect(box, veil());
            break;
        case Look::Bars:
            p_.setPen(QPen(c_.driftwood, 2));
            p_.drawLine(QPointF(box.center().x(), box.top()), QPointF(box.center().x(), box.bottom()));
            break;
        case Look::Line:
        case Look::Dashes:
            p_.setPen(penOf(look));
            p_.drawLine(QPointF(box.left(), from.y()), QPointF(box.right(), from.y()));
        }
    }

    QPen penOf(Look look) const {
        return look == Look::Dashes ? QPen(c_.driftwood, 1.4, Qt::DashLine) : QPen(c_.deepGrass, 1.6);
    }

    void grid() {
        p_.setFont(typeface(Type::Small));
        const QFontMetricsF m(p_.font());
        if (!f_.unit.empty())
            for (const double v : steps(y_, step_)) {
                const QPointF left = at(x_.low, v);
                p_.setPen(QPen(c_.hairline, 0.7));
                p_.drawLine(left, at(x_.high, v));
                p_.setPen(c_.muted);
                p_.drawText(
                    QPointF(plot_.left() - 8 - m.horizontalAdvance(number(v)), left.y() + m.ascent() / 2 - 1),
                    number(v));
            }
        p_.setPen(QPen(c_.hairline, 1));
        p_.drawLine(plot_.bottomLeft(), plot_.bottomRight());
        f_.days ? months(m) : numbers(m);
    }

    void months(const QFontMetricsF& m) {
        const Date first{static_cast<int>(std::ceil(x_.low))};
        CivilDate c = toCivil(first);
        const double all = (x_.high - x_.low) / 30.4;
        const double fit = std::max(1.0, plot_.width() / (m.horizontalAdvance("0000") * 2));
        int every = 1;
        for (const int each : {1, 2, 3, 6, 12})
            if (every = each; all / each <= fit)
                break;
        double free = -1e9;
        for (int i = 0; i < 600; ++i) {
            if (++c.month > 12) {
                c.month = 1;
                ++c.year;
            }
            const Date day = fromCivil(c.year, c.month, 1);
            if (day.days > x_.high)
                break;
            if ((c.month - 1) % every != 0)
                continue;
            tick(m, day.days, monthText(day), free);
        }
        // A span within one month has no first day of another.
        if (free < -1e8) {
            tick(m, x_.low + 0.1 * (x_.high - x_.low),
                 QString::fromStdString(dayText({static_cast<int>(x_.low + 0.1 * (x_.high - x_.low))})),
                 free);
            tick(m, x_.low + 0.85 * (x_.high - x_.low),
                 QString::fromStdString(dayText({static_cast<int>(x_.low + 0.85 * (x_.high - x_.low))})),
                 free);
        }
    }

    void numbers(const QFontMetricsF& m) {
        const double step = niceStep(x_.high - x_.low, 8);
        double free = -1e9;
        for (const double v : steps(x_, step))
            tick(m, v, decimal(v, step < 1 ? 1 : 0).replace('-', QChar(0x2212)), free);
        p_.setPen(c_.muted);
        p_.drawText(QPointF(plot_.left(), plot_.bottom() + 2 * line_ + 2), QString::fromStdString(f_.across));
    }

    void tick(const QFontMetricsF& m, double x, const QString& text, double& free) {
        const QPointF p = at(x, y_.low);
        const double from =
            std::min(p.x() - m.horizontalAdvance(text) / 2, area_.right() - m.horizontalAdvance(text));
        p_.setPen(QPen(c_.hairline, 1));
        p_.drawLine(p, p + QPointF(0, 4));
        if (from < free)
            return;
        p_.setPen(c_.muted);
        p_.drawText(QPointF(from, plot_.bottom() + 4 + m.ascent()), text);
        free = from + m.horizontalAdvance(text) + 8;
    }

    void line(const Figure::Line& l) {
        QPolygonF points;
        for (const Figure::Point& point : l.points)
            points << at(point.x, point.y);
        if (points.isEmpty())
            return;
        switch (l.look) {
        case Look::Dots:
            p_.setPen(QPen(c_.paper, 1));
            p_.setBrush(c_.deepGrass);
            for (const QPointF& point : points)
                p_.drawEllipse(point, 3.6, 3.6);
            break;
        case Look::Line:
        case Look::Dashes:
            p_.setBrush(Qt::NoBrush);
            p_.setPen(penOf(l.look));
            p_.drawPolyline(points);
            break;
        case Look::Band: {
            QPolygonF band;
            for (const Figure::Point& point : l.points)
                band << at(point.x, point.low.value_or(point.y));
            for (auto it = l.points.rbegin(); it != l.points.rend(); ++it)
                band << at(it->x, it->high.value_or(it->y));
            p_.setPen(Qt::NoPen);
            p_.setBrush(veil());
            p_.drawPolygon(band);
            break;
        }
        case Look::Bars:
            for (const Figure::Point& point : l.points) {
                p_.setPen(QPen(c_.driftwood, 2, Qt::SolidLine, Qt::FlatCap));
                p_.drawLine(at(point.x, point.low.value_or(point.y)),
                            at(point.x, point.high.value_or(point.y)));
                const QPointF middle = at(point.x, point.y);
                p_.drawLine(middle - QPointF(4, 0), middle + QPointF(4, 0));
            }
            break;
        case Look::Area: {
            QPolygonF filled = points;
            filled << at(l.points.back().x, 0) << at(l.points.front().x, 0);
            p_.setPen(Qt::NoPen);
            p_.setBrush(veil());
            p_.drawPolygon(filled);
            p_.setPen(penOf(Look::Line));
            p_.setBrush(Qt::NoBrush);
            p_.drawPolyline(points);
        }
        }
    }

    QPainter& p_;
    const Figure& f_;
    const Shore& c_;
    QRectF area_, plot_;
    Range x_, y_;
    double step_ = 1, line_ = 14;
    int decimals_ = 0;
};

} // namespace

void paintFigure(QPainter& painter, const QRectF& area, const Figure& figure, const Shore& shore) {
    Drawing(painter, area, figure, shore).draw();
}

} // namespace marram
