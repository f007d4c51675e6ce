// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_pen.h"
#include "wording/wording.h"

#include <QPaintEngine>
#include <QPainterPath>
#include <QPixmapCache>
#include <algorithm>
#include <cmath>
#include <limits>

namespace marram {
namespace {

/// The layers of a column, from the ground up.
enum class Layer { Low, Middle, High, Whole };

QColor faded(QColor colour, double alpha) {
    colour.setAlphaF(static_cast<float>(alpha));
    return colour;
}

QColor solidOf(const Shore& c, Layer layer) {
    switch (layer) {
    case Layer::Low:
        return faded(c.grass, 0.38);
    case Layer::Middle:
        return faded(c.grass, 0.85);
    case Layer::High:
        return c.deepGrass;
    case Layer::Whole:
        break;
    }
    return faded(c.driftwood, 0.75);
}

/// Hatching gets denser and darker with intensity; crossed where it is highest, dotted for what has no bands.
struct Hatch {
    double gap = 6, weight = 0.8;
    bool crossed = false;
};
Hatch hatchOf(Layer layer) {
    switch (layer) {
    case Layer::Low:
        return {6, 0.8, false};
    case Layer::Middle:
        return {3.5, 1.1, false};
    case Layer::High:
        return {3, 1.3, true};
    case Layer::Whole:
        break;
    }
    return {4, 0.8, false};
}

void hatchLines(QPainter& p, const QRectF& r, Layer layer, const QColor& colour) {
    const Hatch h = hatchOf(layer);
    p.save();
    p.setClipRect(r, Qt::IntersectClip);
    p.setPen(QPen(colour, h.weight));
    // Lines lie on one grid over the whole picture, so that columns look cut from one cloth.
    const double from = std::floor((r.left() - r.height() + r.bottom()) / h.gap) * h.gap - r.bottom();
    const int count = static_cast<int>(std::ceil((r.right() - from) / h.gap));
    for (int i = 0; i < count; ++i) {
        const double x = from + i * h.gap;
        p.drawLine(QPointF(x, r.bottom()), QPointF(x + r.height(), r.top()));
        if (h.crossed)
            p.drawLine(QPointF(x, r.top()), QPointF(x + r.height(), r.bottom()));
    }
    p.restore();
}

/// The hatch as a tile, drawn once for every colour and screen.
QPixmap tileOf(Layer layer, const QColor& colour, double ratio) {
    const QString key = QString("hatch/%1/%2/%3").arg(static_cast<int>(layer)).arg(colour.rgba()).arg(ratio);
    QPixmap tile;
    if (QPixmapCache::find(key, &tile))
        return tile;
    const Hatch h = hatchOf(layer);
    const double side = h.gap * 2;
    tile = QPixmap(qRound(side * ratio), qRound(side * ratio));
    tile.setDevicePixelRatio(ratio);
    tile.fill(Qt::transparent);
    QPainter p(&tile);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(colour, h.weight));
    for (int i = -2; i < 4; ++i) {
        const double x = i * h.gap;
        p.drawLine(QPointF(x, side), QPointF(x + side, 0));
        if (h.crossed)
            p.drawLine(QPointF(x, 0), QPointF(x + side, side));
    }
    QPixmapCache::insert(key, tile);
    return tile;
}

/// How tall a part is filled at once, at most: Qt shares out what is taller than 96 rows of pixels among
/// threads, and waking them takes longer than filling so little does.
int tallest(const QPainter& p) {
    const QPaintEngine* engine = p.paintEngine();
    if (!engine || engine->type() != QPaintEngine::Raster)
        return std::numeric_limits<int>::max() / 4; // on paper all at once
    return static_cast<int>(90 / p.device()->devicePixelRatioF());
}

/// Hatching as lines on paper, as a tile on a screen, which is many times faster.
void hatch(QPainter& p, const QRectF& r, Layer layer, const QColor& colour) {
    if (r.height() <= 0.2 || r.width() <= 0.2)
        return;
    const QPaintEngine* engine = p.paintEngine();
    if (!engine || engine->type() != QPaintEngine::Raster) {
        hatchLines(p, r, layer, colour);
        return;
    }
    p.setBrushOrigin(0, 0);
    const double ratio = p.device()->devicePixelRatioF();
    const QBrush tile(tileOf(layer, colour, ratio));
    const double step = tallest(p);
    for (double top = r.top(); top < r.bottom();) {
        const double next = std::min(r.bottom(), std::floor(top) + step);
        p.fillRect(QRectF(r.left(), top, r.width(), next - top), tile);
        top = next;
    }
}

/// Fills a shape whose edge is too faint to be seen, or covered: unsmoothed, and in strips no taller than
/// that.
void fillFaint(const SeasonPen& pen, const QPolygonF& shape, const QColor& colour) {
    const Unsmoothed faint(pen.p);
    pen.p.setPen(Qt::NoPen);
    pen.p.setBrush(colour);
    const QRect all = shape.boundingRect().toAlignedRect();
    const int step = tallest(pen.p);
    for (int top = all.top(); top <= all.bottom(); top += step) {
        pen.p.save();
        pen.p.setClipRect(QRect(all.left(), top, all.width(), step), Qt::IntersectClip);
        pen.p.drawPolygon(shape);
        pen.p.restore();
    }
    pen.p.setBrush(Qt::NoBrush);
}

/// Lays a week down in its layers.
void column(const SeasonPen& pen, const QRectF& foot, const Sediment& of, bool done, bool gone) {
    double top = pen.s.load.bottom();
    const auto lay = [&](Layer layer, double points) {
        if (points <= 0)
            return;
        const double y = top - points / pen.s.mostLoad * pen.s.load.height();
        const QRectF r(foot.left(), y, foot.width(), top - y);
        if (done) {
            pen.p.fillRect(r, solidOf(pen.c, layer));
        } else {
            const QColor colour = gone                    ? pen.c.driftwood
                                  : layer == Layer::Whole ? pen.c.driftwood
                                  : layer == Layer::Low   ? pen.c.grass
                                                          : pen.c.deepGrass;
            hatch(pen.p, r, layer, colour);
            // The surface of a layer, never its sides.
            pen.line(r.left(), y, r.right(), y, colour, layer == Layer::Low ? 0.8 : 1.2);
        }
        top = y;
    };
    lay(Layer::Low, of.band.low);
    lay(Layer::Middle, of.band.middle);
    lay(Layer::High, of.band.high);
    lay(Layer::Whole, of.whole);
}

QString signedNumber(double v, int decimals = 0) {
    return QString::fromStdString(signedText(v, decimals));
}

template <class Value>
QPolygonF lineOf(const SeasonPen& pen, const std::vector<PlannedDay>& days, double within, const Value& y) {
    QPolygonF line;
    for (const PlannedDay& d : days)
        if (pen.shown(d.date, d.date))
            line << QPointF(pen.s.xOf(d.date) + within * pen.s.dayWidth(), y(d));
    return line;
}

/// Days of the record before the plan begins.
QPolygonF recordLine(const SeasonPen& pen, const std::map<Date, double>& days, bool form) {
    QPolygonF line;
    for (auto it = days.lower_bound(pen.s.first); it != days.end() && it->first <= pen.s.last; ++it)
        line << QPointF(pen.s.xOf(it->first) + (form ? 0.5 : 1) * pen.s.dayWidth(),
                        form ? pen.s.yOfForm(it->second) : pen.s.yOfFitness(it->second));
    return line;
}

/// A dot on every seventh point of a line.
void dots(const SeasonPen& pen, const QPolygonF& line, const QColor& colour, int every = 7) {
    pen.p.setPen(Qt::NoPen);
    pen.p.setBrush(colour);
    for (int i = 0; i < line.size(); i += every)
        pen.p.drawEllipse(line[i], 1.3, 1.3);
    pen.p.setBrush(Qt::NoBrush);
}

/// The form of the morning inside its gate, and its figure.
void formAt(const SeasonPen& pen, const PlannedRace& race, bool chosen, double half, const QColor& colour) {
    const double x = pen.s.xOf(race.date) + pen.s.dayWidth() / 2;
    pen.p.setBrush(colour);
    pen.p.setPen(Qt::NoPen);
    pen.p.drawEllipse(QPointF(x, pen.s.yOfForm(race.form)), 3.6, 3.6);
    const QString words = signedNumber(race.form, pen.marks.holding && chosen ? 1 : 0);
    const bool left = x + 60 > pen.s.plot.right();
    const double wide = pen.width(words) + 6, tall = pen.lineHeight * 0.9;
    pen.p.fillRect(
        QRectF(left ? x - half - wide - 1 : x + half + 2, pen.s.yOfForm(race.form) - tall / 2, wide, tall),
        faded(pen.c.paper, 0.85)); // the tide does not run through the figure
    pen.text(QRectF(left ? x - half - 64 : x + half + 4, pen.s.yOfForm(race.form) - 10, 60, 20),
             (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, words, colour, true);
}

/// Posts with their crossbars, open to the sides the tide comes from and goes to.
void gate(const SeasonPen& pen, int index) {
    const Race& race = pen.picture.season.races[static_cast<size_t>(index)];
    const auto g = gateInForce(race, pen.picture.plan);
    if (!g || !pen.shown(race.date, race.date))
        return;
    const PlannedRace* r = pen.planned(index);
    const bool missed = r && r->gateMiss > 0.05;
    const QColor colour = missed ? pen.c.rust : pen.c.ink;
    const double x = pen.s.xOf(race.date) + pen.s.dayWidth() / 2, low = pen.s.yOfForm(g->low),
                 high = pen.s.yOfForm(g->high);
    const double half = race.priority == Priority::A ? 8 : 6, thick = pen.marks.race == index ? 3 : 2;
    pen.p.fillRect(QRectF(x - half, high, 2 * half, low - high), pen.c.sheet);
    for (const double y : {low, high})
        pen.line(x - half, y, x + half, y, colour, thick);
    pen.line(x, high, x, low, colour, 0.8, Qt::DotLine);
    if (r)
        formAt(pen, *r, pen.marks.race == index, half, missed ? pen.c.rust : pen.c.tide);
}
/// Where four seasons of five pass when days are missed as this rider misses them, as the mean of a week.
void chanceBand(const SeasonPen& pen) {
    constexpr double fourOfFive = 1.2816;
    const auto& days = pen.picture.chance;
    QPolygonF upper, lower;
    double mean = 0, deviation = 0;
    for (size_t i = 0; i < days.size(); ++i) {
        mean += days[i].formMean - (i >= 7 ? days[i - 7].formMean : 0);
        deviation += days[i].formDeviation - (i >= 7 ? days[i - 7].formDeviation : 0);
        if (i < 6 || i % 3 != 0 || days[i].date < pen.picture.today ||
            !pen.shown(days[i].date - 6, days[i].date))
            continue;
        const double x = pen.s.xOf(days[i].date) - 2.5 * pen.s.dayWidth();
        upper << QPointF(x, pen.s.yOfForm(mean / 7 + fourOfFive * deviation / 7));
        lower.prepend(QPointF(x, pen.s.yOfForm(mean / 7 - fourOfFive * deviation / 7)));
    }
    if (upper.size() < 2)
        return;
    fillFaint(pen, upper + lower, faded(pen.c.tide, pen.c.dark ? 0.28 : 0.20));
}

/// Every day's form as a fine line, its mean over a week as the tide; bold as far as it was ridden.
void tideLine(const SeasonPen& pen) {
    const auto& days = pen.picture.plan.days;
    QPolygonF before, after;
    double sum = 0;
    for (size_t i = 0; i < days.size(); ++i) {
        sum += days[i].form - (i >= 7 ? days[i - 7].form : 0);
        // The mean of a week is smooth: a point every other day draws it.
        const bool edge = days[i].date == pen.picture.today || i + 1 == days.size();
        if (i < 6 || (i % 2 != 0 && !edge) || !pen.shown(days[i].date - 6, days[i].date))
            continue;
        const QPointF mean(pen.s.xOf(days[i].date) - 2.5 * pen.s.dayWidth(), pen.s.yOfForm(sum / 7));
        if (days[i].date <= pen.picture.today)
            before << mean;
        if (days[i].date >= pen.picture.today)
            after << mean;
    }
    const QColor fine = faded(pen.c.tide, 0.5);
    pen.curve(recordLine(pen, pen.picture.recordForm, true), fine, 0.9);
    pen.curve(lineOf(pen, days, 0.5, [&](const PlannedDay& d) { return pen.s.yOfForm(d.form); }), fine, 0.9);
    pen.curve(before, pen.c.tide, 2.8);
    pen.curve(after, pen.c.tide, 1.9);
}

} // namespace

void paintLoad(const SeasonPen& pen) {
    pen.stratumName(pen.s.load, wording("Load"), wording("pts/week"));
    const int step = pen.s.mostLoad > 900 ? 400 : 200;
    for (int v = step; v < pen.s.mostLoad; v += step) {
        pen.scale(pen.s.load, v, pen.s.yOfLoad(v), pen.c.muted);
        pen.line(pen.s.plot.left(), pen.s.yOfLoad(v), pen.s.plot.right(), pen.s.yOfLoad(v), pen.c.hairline,
                 0.6);
    }
    pen.line(pen.s.plot.left(), pen.s.load.bottom(), pen.s.plot.right(), pen.s.load.bottom(), pen.c.muted);
    const Unsmoothed upright(pen.p);
    const double week = 7 * pen.s.dayWidth(), inset = std::clamp(week * 0.1, 0.5, 6.0);
    for (Date w = monday(pen.s.first); w <= pen.s.last; w = w + 7) {
        const auto ridden = pen.picture.ridden.find(w), planned = pen.picture.planned.find(w);
        const bool done = ridden != pen.picture.ridden.end() && ridden->second.sum() > 0,
                   meant = planned != pen.picture.planned.end() && planned->second.sum() > 0;
        QRectF foot(pen.s.xOf(w) + inset, 0, week - 2 * inset, 0);
        const double left = std::max(foot.left(), pen.s.plot.left()),
                     right = std::min(foot.right(), pen.s.plot.right());
        if (right <= left)
            continue;
        foot.setLeft(left);
        foot.setRight(right);
        const bool both = done && (meant || w + 6 < pen.picture.today);
        const double half = foot.width() / 2;
        if (meant)
            column(pen, both ? QRectF(foot.left(), 0, half, 0) : foot, planned->second, false,
                   w + 6 < pen.picture.today);
        if (done)
            column(pen, both ? QRectF(foot.left() + half, 0, half, 0) : foot, ridden->second, true, false);
    }
}

void paintDune(const SeasonPen& pen) {
    pen.stratumName(pen.s.dune, wording("Fitness"), wording("pts/day"));
    const auto& days = pen.picture.plan.days;
    QPolygonF crest = recordLine(pen, pen.picture.record, false);
    crest << lineOf(pen, days, 1, [&](const PlannedDay& d) { return pen.s.yOfFitness(d.fitness); });
    if (crest.size() > 1) {
        QPolygonF body = crest;
        body << QPointF(crest.back().x(), pen.s.dune.bottom())
             << QPointF(crest.front().x(), pen.s.dune.bottom());
        fillFaint(pen, body, faded(pen.c.sand, 0.75)); // the crest covers its edge
    }
    pen.p.setBrush(Qt::NoBrush);
    // A year before as a dot a week, another plan as a thin line: told apart in grey, and quicker than
    // dashes.
    dots(pen, recordLine(pen, pen.picture.lastYear, false), pen.c.driftwood);
    if (pen.picture.beside) {
        pen.p.setPen(QPen(pen.c.ink, 1));
        pen.p.drawPolyline(lineOf(pen, pen.picture.beside->days, 1,
                                  [&](const PlannedDay& d) { return pen.s.yOfFitness(d.fitness); }));
    }
    pen.curve(crest, pen.c.ochre, 1.8);
    pen.line(pen.s.plot.left(), pen.s.dune.bottom(), pen.s.plot.right(), pen.s.dune.bottom(), pen.c.hairline);
    const int step = pen.s.mostFitness - pen.s.leastFitness > 50 ? 20 : 10;
    for (int f = static_cast<int>(pen.s.leastFitness) + step; f < pen.s.mostFitness; f += step)
        pen.scale(pen.s.dune, f, pen.s.yOfFitness(f), pen.c.ochre);
    // What the ghosts are, beside them.
    double x = pen.s.plot.left() + 6;
    const double y = pen.s.dune.top() + pen.lineHeight * 0.4;
    const auto key = [&](const QString& words) {
        pen.text(QRectF(x + 22, y - 10, 240, 20), Qt::AlignLeft | Qt::AlignVCenter, words, pen.c.muted);
        x += 22 + pen.width(words) + 16;
    };
    if (!pen.picture.lastYear.empty()) {
        dots(pen, {{x + 2, y}, {x + 9, y}, {x + 16, y}}, pen.c.driftwood, 1);
        key(wording("a year before"));
    }
    if (pen.picture.beside) {
        pen.line(x, y, x + 18, y, pen.c.ink, 1);
        key(pen.picture.besideName);
    }
}

void paintForm(const SeasonPen& pen) {
    pen.stratumName(pen.s.form, wording("Form"), wording("pts/day"));
    const double zero = pen.s.yOfForm(0);
    {
        const Unsmoothed upright(pen.p);
        pen.p.fillRect(QRectF(pen.s.plot.left(), zero, pen.s.plot.width(), pen.s.form.bottom() - zero),
                       faded(pen.c.water, 0.6));
    }
    pen.line(pen.s.plot.left(), zero, pen.s.plot.right(), zero, pen.c.tide, 0.8);
    const int step = pen.s.highestForm - pen.s.lowestForm > 70 ? 20 : 10;
    for (int v = static_cast<int>(std::ceil(pen.s.lowestForm / step)) * step; v <= pen.s.highestForm;
         v += step)
        pen.scale(pen.s.form, v, pen.s.yOfForm(v), v == 0 ? pen.c.tide : pen.c.muted);
    const InsidePlot inside(pen);
    chanceBand(pen);
    if (pen.picture.beside) {
        pen.p.setBrush(Qt::NoBrush);
        pen.p.setPen(QPen(pen.c.ink, 1));
        QPolygonF mean;
        double sum = 0;
        const auto& days = pen.picture.beside->days;
        for (size_t i = 0; i < days.size(); ++i) {
            sum += days[i].form - (i >= 7 ? days[i - 7].form : 0);
            if (i >= 6 && pen.shown(days[i].date, days[i].date))
                mean << QPointF(pen.s.xOf(days[i].date) - 2.5 * pen.s.dayWidth(), pen.s.yOfForm(sum / 7));
        }
        pen.p.drawPolyline(mean);
    }
    tideLine(pen);
    for (size_t r = 0; r < pen.picture.season.races.size(); ++r)
        gate(pen, static_cast<int>(r));
}

void paintLife(const SeasonPen& pen) {
    pen.stratumName(pen.s.life, wording("Life"),
                    wording("to %1 h").arg(pen.s.mostHours, 0, 'f', 0)); // its fence has no other scale
    const double ribbon = std::min(pen.s.life.height() * 0.36, 15.0),
                 floor = pen.s.life.bottom() - ribbon - 3, room = std::max(6.0, floor - pen.s.life.top());
    const auto y = [&](double hours) { return floor - hours / pen.s.mostHours * room; };
    // The hours there are as a fence, the hours planned as a bead on it.
    QPolygonF fence;
    for (const PlannedWeek& w : pen.picture.plan.weeks) {
        const Date week = monday(w.start);
        if (!pen.shown(week, week + 6) || w.start + 6 < pen.picture.today)
            continue;
        const double left = pen.s.xOf(week), right = left + 7 * pen.s.dayWidth();
        fence << QPointF(left, y(w.availableHours)) << QPointF(right, y(w.availableHours));
    }
    pen.p.setBrush(Qt::NoBrush);
    pen.p.setPen(QPen(pen.c.muted, 1));
    pen.p.drawPolyline(fence);
    for (const PlannedWeek& w : pen.picture.plan.weeks) {
        const Date week = monday(w.start);
        if (w.hours <= 0 || !pen.shown(week, week + 6) || w.start + 6 < pen.picture.today)
            continue;
        const double x = pen.s.xOf(week) + 3.5 * pen.s.dayWidth();
        pen.line(x, floor, x, y(w.hours), pen.c.hairline, 0.8);
        pen.p.setPen(Qt::NoPen);
        pen.p.setBrush(pen.c.grass);
        pen.p.drawEllipse(QPointF(x, y(w.hours)), 2, 2);
    }
    std::vector<std::pair<double, double>> taken; // what stands on the ribbons' line
    for (const Away& a : pen.picture.season.away)
        if (const QRectF r = pen.s.ribbonOf(a); r.isValid())
            taken.emplace_back(r.left(), r.right());
    const auto free = [&](double from, double to) {
        return from > pen.s.plot.left() && to < pen.s.plot.right() &&
               std::none_of(taken.begin(), taken.end(),
                            [&](const auto& t) { return t.first < to && from < t.second; });
    };
    for (const Away& a : pen.picture.season.away) {
        const QRectF r = pen.s.ribbonOf(a);
        if (!r.isValid() || r.width() <= 0)
            continue;
        const bool camp = a.why == AwayWhy::Camp;
        pen.p.setPen(QPen(camp ? pen.c.deepGrass : pen.c.driftwood, 1.2));
        pen.p.setBrush(faded(camp ? pen.c.grass : pen.c.driftwood, a.why == AwayWhy::Illness ? 0.12 : 0.3));
        pen.p.drawRect(r);
        if (a.why == AwayWhy::Illness)
            hatch(pen.p, r, Layer::High, faded(pen.c.driftwood, 0.6));
        const QString name = wording(nameOf(a.why));
        const double after = pen.width(name) + 6;
        if (pen.width(name) + 8 < r.width()) {
            pen.text(r, Qt::AlignCenter, name, pen.c.ink);
            continue;
        }
        // Behind it, or before it, or by its colour alone.
        for (const double left : {r.right() + 4, r.left() - 4 - after})
            if (free(left, left + after)) {
                pen.text(QRectF(left, r.top(), after, r.height()), Qt::AlignLeft | Qt::AlignVCenter, name,
                         pen.c.muted);
                taken.emplace_back(left, left + after);
                break;
            }
    }
    for (auto it = pen.picture.checks.lower_bound(pen.s.first);
         it != pen.picture.checks.end() && it->first <= pen.s.last; ++it) {
        const double x = pen.s.xOf(it->first) + pen.s.dayWidth() / 2;
        if (it->second.ill)
            pen.text(QRectF(x - 8, floor - 14, 16, 14), Qt::AlignCenter, "×", pen.c.rust, true);
        else
            pen.line(x, floor, x, floor - (it->second.low ? 8 : 4), it->second.low ? pen.c.rust : pen.c.muted,
                     it->second.low ? 1.4 : 0.8);
    }
}

} // namespace marram
