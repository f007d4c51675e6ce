// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/course_profile.h"
#include "app/settings/settings.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace marram {

CourseProfile::CourseProfile(QWidget* parent) : QWidget(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    offerParts();
    setAccessibleName(wording("Profile of the course"));
}

void CourseProfile::show(const std::vector<CoursePoint>& course, const std::vector<Climb>& climbs) {
    course_ = course;
    climbs_ = climbs;
    setVisible(course.size() > 1);
    setAccessibleDescription(wording("%1 climbs").arg(climbs.size()));
    partsChanged(this);
    update();
}

QRectF CourseProfile::plotArea() const {
    const QFontMetricsF metrics(typeface(Type::Small));
    const double line = metrics.height(), gutter = metrics.horizontalAdvance("2000 m") + 8;
    return {gutter, line * 2.2, width() - gutter - 6, height() - line * 3.6};
}

double CourseProfile::xOf(double metres) const {
    const double from = course_.front().distance, length = course_.back().distance - from;
    return plotArea().left() + (metres - from) / length * plotArea().width();
}

std::vector<SpokenPart> CourseProfile::spokenParts() const {
    std::vector<SpokenPart> all;
    const Units units = shownUnits();
    for (const Climb& climb : climbs_)
        if (course_.size() > 1)
            all.push_back(
                {wording("Climb at %1 %2: %3 %2, %4 m at %5 %")
                     .arg(units.distance(climb.start), 0, 'f', 1)
                     .arg(units.distanceUnit())
                     .arg(units.distance(climb.length), 0, 'f', 1)
                     .arg(climb.gain, 0, 'f', 0)
                     .arg(100 * climb.gradient, 0, 'f', 1),
                 QRectF(xOf(climb.start), 0, xOf(climb.start + climb.length) - xOf(climb.start), height())
                     .toAlignedRect()});
    return all;
}

void CourseProfile::paintEvent(QPaintEvent*) {
    if (course_.size() < 2)
        return;
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    p.setRenderHint(QPainter::Antialiasing);
    const Shore& c = shore();
    p.setFont(typeface(Type::Small));
    const QFontMetricsF metrics(p.font());
    const QRectF plot = plotArea();
    const double line = metrics.height(), gutter = plot.left();
    double low = course_.front().altitude, high = low;
    for (const CoursePoint& at : course_) {
        low = std::min(low, at.altitude);
        high = std::max(high, at.altitude);
    }
    // A flat course stays flat: less than sixty metres is not stretched over the picture.
    high = std::max(high, low + 60);
    const double length = course_.back().distance - course_.front().distance;
    const auto x = [&](double m) { return xOf(m); };
    const auto y = [&](double m) { return plot.bottom() - (m - low) / (high - low) * plot.height(); };
    QPolygonF crest;
    for (const CoursePoint& at : course_)
        crest << QPointF(x(at.distance), y(at.altitude));
    QPolygonF body = crest;
    body << QPointF(plot.right(), plot.bottom()) << plot.bottomLeft();
    p.setPen(Qt::NoPen);
    p.setBrush(c.sand);
    p.drawPolygon(body);
    // Climbs are darker ground, the steeper the darker.
    for (const Climb& climb : climbs_) {
        const QRectF over(x(climb.start), plot.top(), x(climb.start + climb.length) - x(climb.start),
                          plot.height());
        QColor shade = c.ochre;
        shade.setAlphaF(static_cast<float>(std::clamp(climb.gradient * 6, 0.15, 0.7)));
        p.save();
        p.setClipRect(over);
        p.setBrush(shade);
        p.drawPolygon(body);
        p.restore();
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(c.ochre, 1.6));
    p.drawPolyline(crest);
    p.setPen(c.muted);
    for (const double m : {low, high})
        p.drawText(QRectF(0, y(m) - line / 2, gutter - 6, line), Qt::AlignRight | Qt::AlignVCenter,
                   QString("%1 m").arg(m, 0, 'f', 0));
    const Units units = shownUnits();
    const double whole = units.distance(length);
    const int step = whole > 120 ? 40 : whole > 60 ? 20 : whole > 25 ? 10 : whole > 10 ? 5 : 1;
    for (int at = 0; at <= whole; at += step)
        p.drawText(QRectF(x(course_.front().distance + units.metres(at)) - 30, plot.bottom() + 2, 60, line),
                   Qt::AlignCenter,
                   at + step > whole ? QString("%1 %2").arg(at).arg(units.distanceUnit())
                                     : QString::number(at));
    // The longest climbs are named first; a name with no room is left to the table.
    std::vector<Climb> order = climbs_;
    std::sort(order.begin(), order.end(), [](const Climb& a, const Climb& b) { return a.gain > b.gain; });
    std::vector<QRectF> taken;
    for (const Climb& climb : order) {
        const QString words = wording("%1 %3 at %2 %")
                                  .arg(units.distance(climb.length), 0, 'f', 1)
                                  .arg(100 * climb.gradient, 0, 'f', 1)
                                  .arg(units.distanceUnit());
        const double middle = x(climb.start + climb.length / 2), wide = metrics.horizontalAdvance(words) + 6;
        QRectF box(std::clamp(middle - wide / 2, plot.left(), std::max(plot.left(), plot.right() - wide)), 2,
                   wide, line);
        const auto hits = [&](const QRectF& r) {
            return std::any_of(taken.begin(), taken.end(), [&](const QRectF& t) { return t.intersects(r); });
        };
        if (hits(box))
            box.translate(0, line);
        if (hits(box))
            continue;
        taken.push_back(box);
        p.setPen(c.ink);
        p.drawText(box, Qt::AlignCenter, words);
    }
}

} // namespace marram
