// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_painter.h"
#include "app/season/season_pen.h"
#include "wording/wording.h"

#include <QHash>
#include <QPaintEngine>
#include <QStaticText>
#include <QtMath>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString detailOf(const Race& race, const PlannedRace* consequence) {
    QString words = wording(nameOf(race.priority)) + " · " + QString::fromStdString(dayText(race.date));
    if (consequence)
        words += wording(" · fitness %1").arg(consequence->fitness, 0, 'f', 1);
    return words;
}

/// Words as they are set in small type: nearly all of them stand in the next frame too.
const QStaticText& typeset(const QString& words, bool strong) {
    struct Set {
        QFont font;
        QStaticText text;
    };
    static auto& kept = *new QHash<QString, Set>; // never taken down: what a font is made of goes before
    constexpr int most = 600;
    if (kept.size() > most)
        kept.clear();
    Set& set = kept[(strong ? "s" : "n") + words];
    const QFont font = typeface(Type::Small, strong);
    if (set.text.text().isEmpty() || set.font != font) {
        set = {font, QStaticText(words)};
        set.text.setTextFormat(Qt::PlainText);
        set.text.prepare({}, font);
    }
    return set.text;
}

QColor between(const QColor& under, const QColor& over, double share) {
    const auto mixed = [share](int a, int b) { return qRound(a + share * (b - a)); };
    return {mixed(under.red(), over.red()), mixed(under.green(), over.green()),
            mixed(under.blue(), over.blue())};
}

void ground(const SeasonPen& pen) {
    const double today = std::clamp(pen.s.xOf(pen.picture.today), pen.s.plot.left(), pen.s.plot.right());
    if (today > pen.s.plot.left()) {
        const QColor past = between(pen.c.paper, pen.c.sand, pen.c.dark ? 0.14 : 0.22);
        const Unsmoothed upright(pen.p);
        pen.p.fillRect(QRectF(pen.s.plot.left(), pen.s.phases.top(), today - pen.s.plot.left(),
                              pen.s.plot.bottom() - pen.s.phases.top()),
                       past);
    }
}

/// Further away only every third month is named, then only years.
int monthsBetweenNames(const SeasonPen& pen) {
    const double month = 30.4 * pen.s.dayWidth();
    return month > pen.width("Mmm") + 10 ? 1 : 3 * month > pen.width("Mmm 2000") + 10 ? 3 : 12;
}

void months(const SeasonPen& pen) {
    const int every = monthsBetweenNames(pen);
    for (Date d = pen.s.first; d <= pen.s.last; d = d + 1) {
        const CivilDate c = toCivil(d);
        if ((c.day != 1 || (c.month - 1) % every != 0) && d != pen.s.first)
            continue;
        const double x = pen.s.xOf(d);
        if (c.day == 1)
            pen.line(x, pen.s.months.top() + 3, x, pen.s.plot.bottom(), pen.c.hairline);
        // Half a month at the left edge has no room for its name.
        if (d == pen.s.first && c.day > 18)
            continue;
        QString name = QString::fromStdString(shortMonthText(c.month));
        const QString dated = name + " " + QString::number(c.year);
        if ((c.month == 1 || d == pen.s.first || every == 3) &&
            pen.width(dated) + 8 < 28 * every * pen.s.dayWidth())
            name = dated;
        const double toToday = pen.s.xOf(pen.picture.today) - x;
        if (toToday > 0 && toToday < pen.width(name) + pen.width(wording("today")) + 14)
            continue;
        pen.text(QRectF(x + 5, pen.s.months.top(), 200, pen.s.months.height()), Qt::AlignVCenter, name,
                 pen.c.muted);
    }
}

void selection(const SeasonPen& pen) {
    if (!pen.marks.day)
        return;
    const Date start = monday(*pen.marks.day);
    const QRectF week(pen.s.xOf(start), pen.s.phases.top(), 7 * pen.s.dayWidth(),
                      pen.s.plot.bottom() - pen.s.phases.top());
    QColor wash = pen.c.water;
    wash.setAlphaF(0.75F);
    const Unsmoothed upright(pen.p);
    pen.p.fillRect(week, wash);
    const double x = pen.s.xOf(*pen.marks.day) + pen.s.dayWidth() / 2;
    pen.line(x, pen.s.load.top(), x, pen.s.plot.bottom(), pen.c.tide, 1, Qt::DotLine);
}

/// The name of a race and what there is to say of it; it goes with its stake, also while that is in the hand
/// and nothing else shifts.
void label(const SeasonPen& pen, int index, double x) {
    const double h = QFontMetricsF(typeface(Type::Small)).height();
    const Race& race = pen.picture.season.races[static_cast<size_t>(index)];
    const bool chosen = pen.marks.race == index;
    const SeasonScene::Label& label = pen.s.labelOf(index);
    const QRectF at = label.box.translated(x - (label.left ? label.box.right() : label.box.left()), 0);
    const QRectF box = at.adjusted(label.left ? 0 : 0.9 * h, 0, label.left ? -0.45 * h : 0, 0);
    const int side = label.left ? Qt::AlignRight : Qt::AlignLeft;
    const QFontMetricsF metrics(typeface(Type::Small, race.priority == Priority::A));
    const QString name = metrics.elidedText(QString::fromStdString(race.name), Qt::ElideRight, box.width());
    pen.text(QRectF(box.left(), box.top(), box.width(), h), side, name, chosen ? pen.c.tide : pen.c.ink,
             race.priority == Priority::A);
    pen.text(QRectF(box.left(), box.top() + h * 0.95, box.width(), h), side,
             detailOf(race, pen.marks.holding && chosen ? pen.planned(index) : nullptr), pen.c.muted);
}

void stakes(const SeasonPen& pen) {
    for (size_t r = 0; r < pen.picture.season.races.size(); ++r) {
        const Race& race = pen.picture.season.races[r];
        if (!pen.shown(race.date, race.date))
            continue;
        const bool chosen = pen.marks.race == static_cast<int>(r);
        const double x = pen.s.xOf(race.date) + pen.s.dayWidth() / 2;
        const bool named = pen.s.labelOf(static_cast<int>(r)).box.isValid();
        const double y = named ? pen.s.labelOf(static_cast<int>(r)).box.top() + 4 : pen.s.stakes.bottom() - 8;
        pen.line(x, y, x, pen.s.form.bottom(), chosen ? pen.c.tide : pen.c.ink,
                 race.priority == Priority::A ? 1.6 : 0.8,
                 race.priority == Priority::C ? Qt::DotLine : Qt::SolidLine);
        const QPolygonF pennant({{x, y}, {x + 9, y + 4}, {x, y + 8}});
        pen.p.setPen(QPen(chosen ? pen.c.tide : pen.c.ink, 1.2));
        pen.p.setBrush(race.priority == Priority::A ? (chosen ? pen.c.tide : pen.c.ink) : Qt::transparent);
        if (race.priority == Priority::C)
            pen.p.drawEllipse(QPointF(x, y + 3), 2.5, 2.5);
        else
            pen.p.drawPolygon(pennant);
        if (named)
            label(pen, static_cast<int>(r), x);
    }
    if (!pen.picture.season.races.empty())
        pen.stratumName(pen.s.stakes, wording("Races"), "");
}

void todayLine(const SeasonPen& pen) {
    if (pen.picture.today < pen.s.first || pen.picture.today > pen.s.last)
        return;
    const double x = pen.s.xOf(pen.picture.today);
    pen.line(x, pen.s.months.top() + 4, x, pen.s.plot.bottom(), pen.c.rust, 1.2);
    const QString word = wording("today");
    const QRectF box(x - pen.width(word) - 6, pen.s.months.top() + 1, pen.width(word) + 4,
                     pen.s.months.height() - 2);
    pen.p.fillRect(box, pen.c.paper);
    pen.text(box, Qt::AlignVCenter | Qt::AlignLeft, word, pen.c.rust);
}

/// What the hand does to race day, written beside it.
void hand(const SeasonPen& pen) {
    if (!pen.marks.holding || pen.marks.consequence.isEmpty())
        return;
    const QStringList lines = pen.marks.consequence.split('\n');
    double widest = 0;
    for (const QString& line : lines)
        widest = std::max(widest, pen.width(line, true));
    const double height = static_cast<double>(lines.size()) * pen.lineHeight * 1.15 + 10;
    QRectF box(pen.marks.hand.x() + 16, pen.marks.hand.y() - height - 10, widest + 18, height);
    if (box.right() > pen.s.plot.right())
        box.moveRight(pen.marks.hand.x() - 16);
    box.moveLeft(std::max(box.left(), pen.s.plot.left()));
    box.moveTop(std::max(box.top(), pen.s.stakes.top()));
    pen.p.setPen(QPen(pen.c.hairline, 1));
    pen.p.setBrush(pen.c.sheet);
    pen.p.drawRect(box);
    for (int i = 0; i < lines.size(); ++i)
        pen.text(QRectF(box.left() + 9, box.top() + 5 + i * pen.lineHeight * 1.15, widest + 4,
                        pen.lineHeight * 1.15),
                 Qt::AlignLeft | Qt::AlignVCenter, lines[i], i == 0 ? pen.c.ink : pen.c.tide, i == 0);
}

} // namespace

void SeasonPen::line(double x1, double y1, double x2, double y2, const QColor& colour, double width,
                     Qt::PenStyle style) const {
    const QPaintEngine* engine = p.paintEngine();
    const bool along = (x1 == x2 || y1 == y2) && engine && engine->type() == QPaintEngine::Raster;
    if (along && style == Qt::SolidLine) {
        // A line along the pixels of a screen, in whole pixels and a fainter one for what is left over:
        // sharp, and far cheaper than one smoothed.
        const Unsmoothed sharp(p);
        const bool upright = x1 == x2;
        const int whole = qFloor(width), length = qCeil(std::abs(upright ? y2 - y1 : x2 - x1));
        const QPoint from(qFloor(std::min(x1, x2)) - (upright ? whole / 2 : 0),
                          qFloor(std::min(y1, y2)) - (upright ? 0 : whole / 2));
        const auto fill = [&](int at, int wide, const QColor& with) {
            p.fillRect(upright ? QRect(from.x() + at, from.y(), wide, length)
                               : QRect(from.x(), from.y() + at, length, wide),
                       with);
        };
        if (whole > 0)
            fill(0, whole, colour);
        QColor faint = colour;
        faint.setAlphaF(colour.alphaF() * static_cast<float>(width - whole));
        if (width > whole)
            fill(whole, 1, faint);
        return;
    }
    p.setPen(QPen(colour, width, style));
    if (along && width <= 1) {
        const Unsmoothed sharp(p);
        p.drawLine(QPointF(x1, y1), QPointF(x2, y2));
        return;
    }
    p.drawLine(QPointF(x1, y1), QPointF(x2, y2));
}

void SeasonPen::curve(const QPolygonF& points, const QColor& colour, double width) const {
    const QPaintEngine* engine = p.paintEngine();
    const bool screen =
        engine && engine->type() == QPaintEngine::Raster && p.device()->devicePixelRatioF() <= 1;
    p.setBrush(Qt::NoBrush);
    if (!screen || width <= 1 || colour.alpha() < 255 || points.size() < 2) {
        p.setPen(QPen(colour, width, Qt::SolidLine, Qt::FlatCap, Qt::BevelJoin));
        p.drawPolyline(points);
        return;
    }
    // Qt smooths a line of one pixel ten times as fast as a wider one: laid side by side they are as wide.
    QPolygonF across(points.size()); // half a pixel's worth of normal at each point
    for (qsizetype i = 0; i < points.size(); ++i) {
        const QPointF along =
            points[std::min(i + 1, points.size() - 1)] - points[std::max<qsizetype>(i - 1, 0)];
        const double length = std::hypot(along.x(), along.y());
        across[i] = length > 0 ? QPointF(-along.y(), along.x()) / length : QPointF(0, 1);
    }
    const int strands = qCeil(width) + 1; // they lie over each other, so that no paper shows between them
    p.setPen(QPen(colour, 1));
    for (int k = 0; k < strands; ++k) {
        const double aside = (width - 1) * (static_cast<double>(k) / (strands - 1) - 0.5);
        QPolygonF strand(points.size());
        for (qsizetype i = 0; i < points.size(); ++i)
            strand[i] = points[i] + aside * across[i];
        p.drawPolyline(strand);
    }
}

void SeasonPen::text(const QRectF& box, int flags, const QString& words, const QColor& colour,
                     bool strong) const {
    p.setFont(typeface(Type::Small, strong));
    p.setPen(colour);
    if (const QPaintEngine* engine = p.paintEngine(); !engine || engine->type() != QPaintEngine::Raster) {
        p.drawText(box, flags | Qt::TextDontClip, words); // on paper words stay words
        return;
    }
    const QStaticText& set = typeset(words, strong);
    const QSizeF size = set.size();
    const double x = flags & Qt::AlignRight     ? box.right() - size.width()
                     : flags & Qt::AlignHCenter ? box.center().x() - size.width() / 2
                                                : box.left(),
                 y = flags & Qt::AlignVCenter ? box.center().y() - size.height() / 2 : box.top();
    p.drawStaticText(QPointF(x, y), set);
}

double SeasonPen::width(const QString& words, bool strong) const {
    return QFontMetricsF(typeface(Type::Small, strong)).horizontalAdvance(words);
}

void SeasonPen::stratumName(const QRectF& r, const QString& name, const QString& unit) const {
    const QRectF gutter(2, r.top() - lineHeight * 0.3, s.plot.left() - 10, lineHeight);
    text(gutter, Qt::AlignLeft, name, c.ink, true);
    text(gutter.translated(0, lineHeight), Qt::AlignLeft, unit, c.muted);
}

void SeasonPen::scale(const QRectF& r, double value, double y, const QColor& colour) const {
    // The name of the stratum stands at its top.
    if (y < r.top() + 1.9 * lineHeight)
        return;
    const QString words = decimal(value, 0).replace('-', QChar(0x2212));
    text(QRectF(0, y - 10, s.plot.left() - 6, 20), Qt::AlignRight | Qt::AlignVCenter, words, colour);
}

const PlannedRace* SeasonPen::planned(int index) const {
    const Race& race = picture.season.races[static_cast<size_t>(index)];
    // While a race is in the hand the plan may still be that of the day before.
    if (static_cast<size_t>(index) < picture.plan.races.size() &&
        picture.plan.races[static_cast<size_t>(index)].name == race.name)
        return &picture.plan.races[static_cast<size_t>(index)];
    return nullptr;
}

double strataNamesWidth() {
    const QFontMetricsF name(typeface(Type::Small, true)), unit(typeface(Type::Small));
    double widest = 0;
    for (const char* of : {marked("Races"), marked("Phases"), marked("Load"), marked("Fitness"),
                           marked("Form"), marked("Life")})
        widest = std::max(widest, name.horizontalAdvance(wording(of)));
    for (const char* of : {marked("pts/week"), marked("pts/day")})
        widest = std::max(widest, unit.horizontalAdvance(wording(of)));
    return widest;
}

std::vector<double> raceLabelWidths(const SeasonPicture& picture) {
    std::vector<double> widths;
    for (const Race& race : picture.season.races) {
        const QFontMetricsF name(typeface(Type::Small, race.priority == Priority::A)),
            detail(typeface(Type::Small));
        widths.push_back(std::max(name.horizontalAdvance(QString::fromStdString(race.name)),
                                  detail.horizontalAdvance(detailOf(race, nullptr))) +
                         6);
    }
    return widths;
}

void paintSeason(QPainter& painter, const SeasonScene& scene, const SeasonPicture& picture,
                 const SeasonMarks& marks, const Shore& colours) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(typeface(Type::Small));
    const SeasonPen pen{painter, scene,   picture,
                        marks,   colours, QFontMetricsF(typeface(Type::Small)).height()};
    ground(pen);
    selection(pen);
    months(pen);
    painter.save();
    painter.setClipRect(
        QRectF(0, scene.phases.top() - pen.lineHeight, scene.plot.right() + 1, scene.plot.bottom() + 4),
        Qt::IntersectClip);
    paintLoad(pen);
    paintDune(pen);
    paintForm(pen);
    paintLife(pen);
    paintPhases(pen);
    painter.restore();
    stakes(pen);
    todayLine(pen);
    hand(pen);
}

} // namespace marram
