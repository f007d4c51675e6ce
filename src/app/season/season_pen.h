// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_painter.h"
#include "app/theme/theme.h"

namespace marram {

/// What every part of the cross-section is drawn with.
struct SeasonPen {
    QPainter& p;
    const SeasonScene& s;
    const SeasonPicture& picture;
    const SeasonMarks& marks;
    const Shore& c;
    double lineHeight = 14; ///< of small type

    void line(double x1, double y1, double x2, double y2, const QColor& colour, double width = 1,
              Qt::PenStyle style = Qt::SolidLine) const;
    /// A line along many points that bends little from one to the next.
    void curve(const QPolygonF& points, const QColor& colour, double width) const;
    void text(const QRectF& box, int flags, const QString& words, const QColor& colour,
              bool strong = false) const;
    double width(const QString& words, bool strong = false) const;
    /// The name of a stratum and its unit, in the gutter.
    void stratumName(const QRectF& r, const QString& name, const QString& unit) const;
    /// A figure of the scale in the gutter.
    void scale(const QRectF& r, double value, double y, const QColor& colour) const;
    bool shown(Date from, Date to) const { return to >= s.first && from <= s.last; }
    const PlannedRace* planned(int race) const;
};

/// While it lives, nothing is drawn in the gutters.
class InsidePlot {
public:
    explicit InsidePlot(const SeasonPen& pen) : p_(pen.p) {
        p_.save();
        p_.setClipRect(pen.s.plot, Qt::IntersectClip);
    }
    ~InsidePlot() { p_.restore(); }
    InsidePlot(const InsidePlot&) = delete;
    InsidePlot& operator=(const InsidePlot&) = delete;

private:
    QPainter& p_;
};

/// While it lives nothing is smoothed: what stands along the pixels anyway, or is too faint for its edge to
/// be seen, is filled many times as fast so.
class Unsmoothed {
public:
    explicit Unsmoothed(QPainter& p) : p_(p), was_(p.testRenderHint(QPainter::Antialiasing)) {
        p_.setRenderHint(QPainter::Antialiasing, false);
    }
    ~Unsmoothed() { p_.setRenderHint(QPainter::Antialiasing, was_); }
    Unsmoothed(const Unsmoothed&) = delete;
    Unsmoothed& operator=(const Unsmoothed&) = delete;

private:
    QPainter& p_;
    bool was_;
};

/// Load as sediment, the dune of fitness, form with its gates, life's hours.
void paintLoad(const SeasonPen& pen);
void paintDune(const SeasonPen& pen);
void paintForm(const SeasonPen& pen);
void paintLife(const SeasonPen& pen);
/// Phases by name and weeks by kind.
void paintPhases(const SeasonPen& pen);

} // namespace marram
