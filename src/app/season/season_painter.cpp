// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_painter.h"
#include "app/theme/theme.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString signedNumber(double v, int decimals = 0) {
    return QString::fromStdString(signedText(v, decimals));
}

QString detailOf(const Race& race, const PlannedRace* consequence) {
    QString words =
        QString::fromLatin1(nameOf(race.priority)) + " · " + QString::fromStdString(dayText(race.date));
    if (consequence)
        words += QString(" · fitness %1").arg(consequence->fitness, 0, 'f', 1);
    return words;
}

class SeasonPainter {
public:
    SeasonPainter(QPainter& painter, const SeasonScene& scene, const SeasonPicture& picture,
                  const SeasonMarks& marks)
        : p_(painter), s_(scene), picture_(picture), marks_(marks), c_(shore()) {}

    void paint() {
        p_.setRenderHint(QPainter::Antialiasing);
        p_.setFont(typeface(Type::Small));
        ground();
        selection();
        months();
        dune();
        load();
        form();
        split();
        phases();
        stakes();
        todayLine();
    }

private:
    void ground() {
        const double today = std::clamp(s_.xOf(picture_.today), s_.plot.left(), s_.plot.right());
        if (today > s_.plot.left()) {
            QColor past = c_.sand;
            past.setAlphaF(c_.dark ? 0.14F : 0.22F);
            p_.fillRect(QRectF(s_.plot.left(), s_.phases.top(), today - s_.plot.left(),
                               s_.plot.bottom() - s_.phases.top()),
                        past);
        }
    }

    void line(double x1, double y1, double x2, double y2, const QColor& colour, double width = 1,
              Qt::PenStyle style = Qt::SolidLine) {
        p_.setPen(QPen(colour, width, style));
        p_.drawLine(QPointF(x1, y1), QPointF(x2, y2));
    }

    void text(const QRectF& box, int flags, const QString& words, const QColor& colour, bool strong = false) {
        p_.setFont(typeface(Type::Small, strong));
        p_.setPen(colour);
        p_.drawText(box, flags | Qt::TextDontClip, words);
    }

    double width(const QString& words, bool strong = false) const {
        return QFontMetricsF(typeface(Type::Small, strong)).horizontalAdvance(words);
    }

    void months() {
        static const char* names[] = {"Jan", "Feb", "Mar", "Apr", "May", "Jun",
                                      "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
        for (Date d = s_.first; d <= s_.last; d = d + 1) {
            const CivilDate c = toCivil(d);
            if (c.day != 1 && d != s_.first)
                continue;
            const double x = s_.xOf(d);
            if (c.day == 1)
                line(x, s_.months.top() + 3, x, s_.plot.bottom(), c_.hairline);
            // Half a month at the left edge has no room for its name.
            if (d == s_.first && c.day > 18)
                continue;
            QString name = names[c.month - 1];
            const QString dated = name + " " + QString::number(c.year);
            if ((c.month == 1 || d == s_.first) && width(dated) + 8 < 28 * s_.dayWidth())
                name = dated;
            const double toToday = s_.xOf(picture_.today) - x;
            if (toToday > 0 && toToday < width(name) + width("today") + 14)
                continue;
            text(QRectF(x + 5, s_.months.top(), 200, s_.months.height()), Qt::AlignVCenter, name, c_.muted);
        }
    }

    void selection() {
        if (!marks_.day)
            return;
        const Date start = monday(*marks_.day);
        const QRectF week(s_.xOf(start), s_.phases.top(), 7 * s_.dayWidth(),
                          s_.plot.bottom() - s_.phases.top());
        QColor wash = c_.water;
        wash.setAlphaF(0.75F);
        p_.fillRect(week, wash);
        const double x = s_.xOf(*marks_.day) + s_.dayWidth() / 2;
        line(x, s_.load.top(), x, s_.plot.bottom(), c_.tide, 1, Qt::DotLine);
    }

    void stratumName(const QRectF& r, const QString& name, const QString& unit) {
        const double h = QFontMetricsF(typeface(Type::Small)).height();
        const QRectF gutter(2, r.top() - h * 0.3, s_.plot.left() - 10, h);
        text(gutter, Qt::AlignLeft, name, c_.ink, true);
        text(gutter.translated(0, h), Qt::AlignLeft, unit, c_.muted);
    }

    void scale(const QRectF& r, double value, double y, bool left, const QColor& colour) {
        // The name of the stratum stands at its top.
        if (left && y < r.top() + 1.9 * QFontMetricsF(typeface(Type::Small)).height())
            return;
        const QString words = QString::number(value, 'f', 0).replace('-', QChar(0x2212));
        const QRectF box =
            left ? QRectF(0, y - 10, s_.plot.left() - 6, 20) : QRectF(s_.plot.right() + 5, y - 10, 60, 20);
        text(box, (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, words, colour);
    }

    void dune() {
        stratumName(s_.load, "Load", "pts/week");
        const auto& days = picture_.plan.days;
        if (days.empty())
            return;
        QPainterPath crest;
        for (size_t i = 0; i < days.size(); ++i) {
            const QPointF at(s_.xOf(days[i].date) + s_.dayWidth(), s_.yOfFitness(days[i].fitness));
            if (i == 0)
                crest.moveTo(at);
            else
                crest.lineTo(at);
        }
        QPainterPath body = crest;
        body.lineTo(crest.currentPosition().x(), s_.load.bottom());
        body.lineTo(s_.xOf(days.front().date) + s_.dayWidth(), s_.load.bottom());
        body.closeSubpath();
        QLinearGradient sand(0, s_.load.top(), 0, s_.load.bottom());
        QColor top = c_.sand, low = c_.sand;
        top.setAlphaF(0.95F);
        low.setAlphaF(0.25F);
        sand.setColorAt(0, top);
        sand.setColorAt(1, low);
        p_.setPen(Qt::NoPen);
        p_.setBrush(sand);
        p_.drawPath(body);
        p_.setBrush(Qt::NoBrush);
        p_.setPen(QPen(c_.ochre, 1.8));
        p_.drawPath(crest);
        for (double f = 20; f<s_.mostFitness; f += s_.mostFitness> 70 ? 20 : 10)
            scale(s_.load, f, s_.yOfFitness(f), false, c_.ochre);
        const QString words = "fitness";
        p_.save();
        p_.translate(s_.plot.right() + QFontMetricsF(typeface(Type::Small)).height() * 2.2,
                     s_.load.center().y());
        p_.rotate(90);
        text(QRectF(-60, -10, 120, 20), Qt::AlignCenter, words, c_.ochre);
        p_.restore();
    }

    static double valueOf(const std::map<Date, double>& weeks, Date week) {
        const auto found = weeks.find(week);
        return found == weeks.end() ? 0 : found->second;
    }

    void load() {
        const double step = s_.mostLoad > 900 ? 400 : 200;
        for (double v = step; v < s_.mostLoad; v += step)
            scale(s_.load, v, s_.yOfLoad(v), true, c_.muted);
        line(s_.plot.left(), s_.load.bottom(), s_.plot.right(), s_.load.bottom(), c_.muted);
        const double inset = std::min(2.5, s_.dayWidth());
        for (Date w = s_.first; w <= s_.last; w = w + 7) {
            const QRectF column(s_.xOf(w) + inset, 0, 7 * s_.dayWidth() - 2 * inset, 0);
            const double ridden = valueOf(picture_.riddenWeek, w), planned = valueOf(picture_.plannedWeek, w);
            if (ridden > 0) {
                QColor fill = c_.grass;
                fill.setAlphaF(0.82F);
                const double y = s_.yOfLoad(ridden);
                p_.fillRect(QRectF(column.left() + 1, y, column.width() - 2, s_.load.bottom() - y), fill);
            }
            if (planned > 0) {
                const double y = s_.yOfLoad(planned);
                p_.setPen(QPen(w + 6 < picture_.today ? c_.driftwood : c_.deepGrass, 1.4));
                p_.drawPolyline(QPolygonF({{column.left(), s_.load.bottom()},
                                           {column.left(), y},
                                           {column.right(), y},
                                           {column.right(), s_.load.bottom()}}));
            }
        }
    }

    void form() {
        stratumName(s_.form, "Form", "pts/day");
        const double zero = s_.yOfForm(0);
        QLinearGradient sea(0, zero, 0, s_.form.bottom());
        QColor surface = c_.water, deep = c_.water;
        surface.setAlphaF(0.35F);
        deep.setAlphaF(0.9F);
        sea.setColorAt(0, surface);
        sea.setColorAt(1, deep);
        p_.fillRect(QRectF(s_.plot.left(), zero, s_.plot.width(), s_.form.bottom() - zero), sea);
        line(s_.plot.left(), zero, s_.plot.right(), zero, c_.tide, 0.8);
        const double step = s_.highestForm - s_.lowestForm > 70 ? 20 : 10;
        for (double v = std::ceil(s_.lowestForm / step) * step; v <= s_.highestForm; v += step)
            scale(s_.form, v, s_.yOfForm(v), true, v == 0 ? c_.tide : c_.muted);
        for (size_t r = 0; r < picture_.season.races.size(); ++r)
            gate(static_cast<int>(r));
        tideLine();
    }

    /// Every day's form as a fine line, its mean over a week as the tide; bold as far as it was ridden.
    void tideLine() {
        const auto& days = picture_.plan.days;
        QPolygonF daily, before, after;
        double sum = 0;
        for (size_t i = 0; i < days.size(); ++i) {
            const double x = s_.xOf(days[i].date) + s_.dayWidth() / 2;
            daily << QPointF(x, s_.yOfForm(days[i].form));
            sum += days[i].form - (i >= 7 ? days[i - 7].form : 0);
            const QPointF mean(x - 3 * s_.dayWidth(),
                               s_.yOfForm(sum / static_cast<double>(std::min<size_t>(7, i + 1))));
            if (i >= 6 && days[i].date <= picture_.today)
                before << mean;
            if (i >= 6 && days[i].date >= picture_.today)
                after << mean;
        }
        p_.setBrush(Qt::NoBrush);
        QColor fine = c_.tide;
        fine.setAlphaF(0.55F);
        p_.setPen(QPen(fine, 0.9, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p_.drawPolyline(daily);
        p_.setPen(QPen(c_.tide, 2.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p_.drawPolyline(before);
        p_.setPen(QPen(c_.tide, 1.9, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p_.drawPolyline(after);
    }

    /// Two posts with their crossbars, open to the sides the tide comes from and goes to.
    void gate(int index) {
        const Race& race = picture_.season.races[static_cast<size_t>(index)];
        const auto g = gateInForce(race, picture_.plan);
        if (!g)
            return;
        const bool missed = planned(index) && planned(index)->gateMiss > 0.05;
        const QColor colour = missed ? c_.rust : c_.ink;
        const double x = s_.xOf(race.date) + s_.dayWidth() / 2, low = s_.yOfForm(g->low),
                     high = s_.yOfForm(g->high);
        const double half = race.priority == Priority::A ? 8 : 6, thick = marks_.race == index ? 3 : 2;
        p_.fillRect(QRectF(x - half, high, 2 * half, low - high), c_.sheet);
        for (const double y : {low, high})
            line(x - half, y, x + half, y, colour, thick);
        line(x, high, x, low, colour, 0.8, Qt::DotLine);
        if (const PlannedRace* r = planned(index)) {
            p_.setBrush(missed ? c_.rust : c_.tide);
            p_.setPen(Qt::NoPen);
            p_.drawEllipse(QPointF(x, s_.yOfForm(r->form)), 3.6, 3.6);
            const QString words = signedNumber(r->form, marks_.holding && marks_.race == index ? 1 : 0);
            const bool left = x + 60 > s_.plot.right();
            text(QRectF(left ? x - half - 64 : x + half + 4, s_.yOfForm(r->form) - 10, 60, 20),
                 (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, words,
                 missed ? c_.rust : c_.tide, true);
        }
    }

    const PlannedRace* planned(int index) const {
        const Race& race = picture_.season.races[static_cast<size_t>(index)];
        // While a race is in the hand the plan may still be that of the day before.
        if (static_cast<size_t>(index) < picture_.plan.races.size() &&
            picture_.plan.races[static_cast<size_t>(index)].name == race.name)
            return &picture_.plan.races[static_cast<size_t>(index)];
        return nullptr;
    }

    void split() {
        stratumName(s_.split, "Split", "of time");
        const double inset = std::min(2.5, s_.dayWidth());
        for (const PlannedWeek& w : picture_.plan.weeks) {
            const Date week = monday(w.start);
            const auto ridden = picture_.riddenBands.find(week);
            const bool done = ridden != picture_.riddenBands.end() && week + 6 < picture_.today;
            const Bands b = done ? ridden->second : w.bandHours;
            if (b.sum() <= 0)
                continue;
            const QRectF all(s_.xOf(week) + inset, s_.split.top(), 7 * s_.dayWidth() - 2 * inset,
                             s_.split.height());
            const double high = all.height() * b.high / b.sum(), middle = all.height() * b.middle / b.sum();
            QColor low = c_.grass;
            low.setAlphaF(0.22F);
            p_.fillRect(all, low);
            QColor mid = c_.grass;
            mid.setAlphaF(0.65F);
            p_.fillRect(QRectF(all.left(), all.top() + high, all.width(), middle), mid);
            p_.fillRect(QRectF(all.left(), all.top(), all.width(), high), c_.deepGrass);
            if (!done) {
                p_.setPen(QPen(c_.muted, 0.6));
                p_.setBrush(Qt::NoBrush);
                p_.drawRect(all);
            }
        }
        const double x = s_.plot.right() + 5, h = QFontMetricsF(typeface(Type::Small)).height();
        text(QRectF(x, s_.split.top() - h * 0.35, 60, h), Qt::AlignLeft, "high", c_.muted);
        text(QRectF(x, s_.split.bottom() - h * 0.8, 60, h), Qt::AlignLeft, "low", c_.muted);
    }

    /// A rope along the season: taut where weeks build, slack where they unload, knotted where there is a
    /// race.
    void phases() {
        const double y = s_.phases.bottom() - 7;
        const double h = QFontMetricsF(typeface(Type::Small)).height();
        size_t i = 0;
        const auto& weeks = picture_.plan.weeks;
        while (i < weeks.size()) {
            size_t j = i;
            while (j + 1 < weeks.size() && weeks[j + 1].phase == weeks[i].phase)
                ++j;
            const double x1 = s_.xOf(monday(weeks[i].start)),
                         x2 = s_.xOf(monday(weeks[j].start)) + 7 * s_.dayWidth();
            line(x1, s_.phases.top() + 2, x1, s_.phases.bottom(), c_.hairline);
            const QString name = nameOf(weeks[i].phase);
            if (width(name) + 10 < x2 - x1)
                text(QRectF(x1 + 5, s_.phases.top(), x2 - x1, h + 2), Qt::AlignVCenter, name, c_.ink);
            i = j + 1;
        }
        for (const PlannedWeek& w : weeks) {
            const double x1 = s_.xOf(monday(w.start)), x2 = x1 + 7 * s_.dayWidth(), mid = (x1 + x2) / 2;
            switch (w.kind) {
            case WeekKind::Build:
                line(x1, y, x2, y, c_.deepGrass, 3);
                break;
            case WeekKind::Camp:
                line(x1, y, x2, y, c_.deepGrass, 3);
                line(x1, y - 3, x2, y - 3, c_.deepGrass, 1);
                break;
            case WeekKind::Deload:
            case WeekKind::Recovery: {
                QPainterPath sag(QPointF(x1, y));
                sag.quadTo(QPointF(mid, y + 8), QPointF(x2, y));
                p_.setPen(QPen(c_.grass, 1.4));
                p_.setBrush(Qt::NoBrush);
                p_.drawPath(sag);
                break;
            }
            case WeekKind::Taper: {
                const QPolygonF wedge({{x1, y - 2}, {x2, y - 0.6}, {x2, y + 0.6}, {x1, y + 2}});
                p_.setPen(Qt::NoPen);
                p_.setBrush(c_.deepGrass);
                p_.drawPolygon(wedge);
                break;
            }
            case WeekKind::Race:
                line(x1, y, x2, y, c_.grass, 1);
                p_.setPen(Qt::NoPen);
                p_.setBrush(c_.ink);
                p_.drawEllipse(QPointF(mid, y), 2.6, 2.6);
                break;
            case WeekKind::Transition:
                line(x1, y, x2, y, c_.grass, 1, Qt::DashLine);
                break;
            case WeekKind::Break:
                line(x1 + 1, y, x2 - 1, y, c_.muted, 1, Qt::DotLine);
                break;
            }
            if (w.pinned) {
                p_.setPen(QPen(c_.ink, 1.2));
                p_.drawLine(QPointF(mid, y - 7), QPointF(mid, y - 2));
                p_.setBrush(c_.ink);
                p_.drawEllipse(QPointF(mid, y - 8), 1.8, 1.8);
            }
        }
        stratumName(s_.phases, "Phases", "");
    }

    void stakes() {
        const double h = QFontMetricsF(typeface(Type::Small)).height();
        for (size_t r = 0; r < picture_.season.races.size(); ++r) {
            const Race& race = picture_.season.races[r];
            const bool chosen = marks_.race == static_cast<int>(r);
            const double x = s_.xOf(race.date) + s_.dayWidth() / 2;
            const double y = s_.labelOf(static_cast<int>(r)).box.top() + 4;
            line(x, y, x, s_.form.bottom(), chosen ? c_.tide : c_.ink,
                 race.priority == Priority::A ? 1.6 : 0.8,
                 race.priority == Priority::C ? Qt::DotLine : Qt::SolidLine);
            const QPolygonF pennant({{x, y}, {x + 9, y + 4}, {x, y + 8}});
            p_.setPen(QPen(chosen ? c_.tide : c_.ink, 1.2));
            p_.setBrush(race.priority == Priority::A ? (chosen ? c_.tide : c_.ink) : Qt::transparent);
            if (race.priority == Priority::C)
                p_.drawEllipse(QPointF(x, y + 3), 2.5, 2.5);
            else
                p_.drawPolygon(pennant);
            const SeasonScene::Label& label = s_.labelOf(static_cast<int>(r));
            const QRectF box = label.box.adjusted(label.left ? 0 : 0.9 * h, 0, label.left ? -0.45 * h : 0, 0);
            const int side = label.left ? Qt::AlignRight : Qt::AlignLeft;
            const QFontMetricsF metrics(typeface(Type::Small, race.priority == Priority::A));
            const QString name =
                metrics.elidedText(QString::fromStdString(race.name), Qt::ElideRight, box.width());
            text(QRectF(box.left(), box.top(), box.width(), h), side, name, chosen ? c_.tide : c_.ink,
                 race.priority == Priority::A);
            text(QRectF(box.left(), box.top() + h * 0.95, box.width(), h), side,
                 detailOf(race, marks_.holding && chosen ? planned(static_cast<int>(r)) : nullptr), c_.muted);
        }
        if (!picture_.season.races.empty())
            stratumName(s_.stakes, "Races", "");
    }

    void todayLine() {
        if (picture_.today < s_.first || picture_.today > s_.last)
            return;
        const double x = s_.xOf(picture_.today);
        line(x, s_.months.top() + 4, x, s_.plot.bottom(), c_.rust, 1.2);
        const QString word = "today";
        const QRectF box(x - width(word) - 6, s_.months.top() + 1, width(word) + 4, s_.months.height() - 2);
        p_.fillRect(box, c_.paper);
        text(box, Qt::AlignVCenter | Qt::AlignLeft, word, c_.rust);
    }

    QPainter& p_;
    const SeasonScene& s_;
    const SeasonPicture& picture_;
    const SeasonMarks& marks_;
    const Shore& c_;
};

} // namespace

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
                 const SeasonMarks& marks) {
    SeasonPainter(painter, scene, picture, marks).paint();
}

} // namespace marram
