// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/board_painter.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QFontMetricsF>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

/// The rows under a week.
constexpr std::array footWords{marked("Points"), marked("Hours"), marked("Split")};

constexpr double highest = 1.35; ///< thresholds that are drawn
constexpr double gap = 16;       ///< between columns

QColor mixed(const QColor& a, const QColor& b, double part) {
    return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * part),
                            static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * part),
                            static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * part));
}

/// Intensity by depth of one hue.
QColor depth(double fraction, double lowThreshold, const Shore& c) {
    if (fraction <= lowThreshold)
        return mixed(c.paper, c.grass, 0.28);
    return fraction <= 1.0 ? mixed(c.paper, c.grass, 0.62) : c.deepGrass;
}

class Board {
public:
    Board(QPainter& p, const BoardScene& s, const BoardPicture& picture, const BoardMarks& marks,
          const Shore& c)
        : p_(p), s_(s), picture_(picture), marks_(marks), c_(c), small_(typeface(Type::Small)),
          strong_(typeface(Type::Small, true)) {}

    void paint() {
        gutter();
        for (int w = 0; w < s_.weeks && w < static_cast<int>(picture_.weeks.size()); ++w) {
            head(w);
            for (int d = 0; d < 7; ++d)
                day(w, d);
            foot(w);
        }
        drag();
    }

private:
    void text(const QRectF& box, int flags, const QString& words, const QColor& colour,
              bool strong = false) const {
        text(box, flags, words, colour, strong ? strong_ : small_);
    }
    void text(const QRectF& box, int flags, const QString& words, const QColor& colour,
              const QFont& font) const {
        p_.setFont(font);
        p_.setPen(colour);
        p_.drawText(box, flags | Qt::TextSingleLine, words);
    }
    static double width(const QString& words, const QFont& font) {
        return QFontMetricsF(font).horizontalAdvance(words);
    }
    void line(double x1, double y1, double x2, double y2, const QColor& colour, double w = 1,
              Qt::PenStyle style = Qt::SolidLine) const {
        p_.setPen(QPen(colour, w, style));
        p_.drawLine(QPointF(x1, y1), QPointF(x2, y2));
    }

    void gutter() const {
        for (int d = 0; d < 7; ++d) {
            const QRectF r = s_.cell(0, d);
            text({s_.whole.left() + 2, r.top() + 3, s_.gutter - 6, s_.lineHeight},
                 Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(shortWeekdayText(d)), c_.muted);
            line(s_.whole.left(), r.top(), s_.whole.right(), r.top(), c_.hairline);
        }
        line(s_.whole.left(), s_.grid.bottom(), s_.whole.right(), s_.grid.bottom(), c_.hairline, 1.4);
        const QRectF f = s_.foot(0);
        for (int i = 0; i < 3; ++i)
            text({s_.whole.left() + 2, f.top() + 5 + i * (s_.lineHeight + 3), s_.gutter - 6, s_.lineHeight},
                 Qt::AlignLeft | Qt::AlignVCenter, wording(footWords[static_cast<size_t>(i)]), c_.muted);
    }

    void head(int w) const {
        const BoardWeek& week = picture_.weeks[static_cast<size_t>(w)];
        const QRectF r = s_.head(w);
        const bool now = picture_.today >= week.start && picture_.today < week.start + 7;
        QString dates = spanWords(week.start, week.start + 6, picture_.today);
        if (width(dates, strong_) > r.width()) { // months in three letters
            const auto brief = [](Date d) {
                const CivilDate c = toCivil(d);
                return QString::fromStdString(phrase("%1 %2", c.day, shortMonthText(c.month)));
            };
            dates = wording("%1 to %2", brief(week.start), brief(week.start + 6));
        }
        text({r.left(), r.top() + 4, r.width(), s_.lineHeight + 2}, Qt::AlignLeft | Qt::AlignVCenter, dates,
             c_.ink, true);
        if (now)
            p_.fillRect(QRectF(r.left(), r.bottom() - 2, r.width(), 2), c_.ochre);
        QString kind = wording("outside the season");
        if (week.planned) {
            kind = capital(translated(nameOf(week.phase)));
            if (week.kind != WeekKind::Build &&
                translated(nameOf(week.kind)) != translated(nameOf(week.phase)))
                kind += QString(", ") + wording(nameOf(week.kind));
            if (now)
                kind += wording(", this week");
        }
        text({r.left(), r.top() + 5 + s_.lineHeight, r.width(), s_.lineHeight + 2},
             Qt::AlignLeft | Qt::AlignVCenter, kind, c_.muted);
    }

    static QString whatBecame(const BoardDay& d) {
        if (!d.meant)
            return d.ridden ? wording("not planned") : QString();
        if (!d.ridden)
            return d.meantSession.items.empty() ? QString() : wording("not ridden");
        QString words;
        if (d.against)
            words = QString::fromStdString(wordsFor(*d.against));
        if (d.verdict && d.ladder)
            words += (words.isEmpty() ? "" : "; ") +
                     wording("rung %1").arg(wording(*d.verdict == RungVerdict::Passed   ? marked("passed")
                                                    : *d.verdict == RungVerdict::Repeat ? marked("repeated")
                                                                                        : marked("eased")));
        return words;
    }

    /// The second line of a day: what is wrong, what became of it, or the work in few signs.
    std::pair<QString, QColor> under(const BoardDay& d) const {
        if (d.past)
            return {whatBecame(d), c_.muted};
        for (const BlockSession& s : d.sessions)
            if (!s.broken.empty())
                return {QString::fromStdString(s.broken.front()), c_.rust};
        if (const BlockSession* ride = d.ride()) {
            QString work = workText(ride->session, picture_.lowThreshold);
            if (!d.pin.team.empty() && d.pin.holds()) // with whom, before what
                work = QString::fromStdString(d.pin.team) + (work.isEmpty() ? "" : ", " + work);
            return {work, c_.muted};
        }
        return {d.pin.note.empty() ? "" : QString::fromStdString(d.pin.note), c_.muted};
    }

    void day(int w, int weekday) const {
        const BoardWeek& week = picture_.weeks[static_cast<size_t>(w)];
        const BoardDay& d = week.days[static_cast<size_t>(weekday)];
        const QRectF cell = s_.cell(w, weekday);
        const QRectF r = cell.adjusted(0, 1, -gap, 0);
        p_.save();
        p_.setClipRect(cell.adjusted(-8, 0, -gap + 6, 1));
        if (marks_.over == d.date)
            p_.fillRect(r.adjusted(-3, 0, 3, 0), d.open() ? c_.water : c_.hairline);
        if (d.today)
            p_.fillRect(QRectF(r.left() - 7, r.top(), 2.5, r.height()), c_.ochre);
        const double perSecond = r.width() / std::max(3600, picture_.longest);
        // Where there is little room the profile has it; a broken rule is said all the same.
        const bool tight = cell.height() < 2 * s_.lineHeight + 30;
        const double top = r.top() + (tight ? 1 : 2) * s_.lineHeight + 6, bottom = cell.bottom() - 3;
        const double perThreshold = std::max(6.0, (bottom - top) / highest);
        const QPointF foot(r.left(), bottom);
        if (d.past) {
            if (d.ridden && !d.ridden->trace.empty())
                paintTrace(p_, d.ridden->trace, d.ridden->traceStep, foot, perSecond, perThreshold, c_);
            else if (d.ridden) // without power: its length and how hard it was over all
                solid(foot, d.ridden->seconds * perSecond, perThreshold * evenly(*d.ridden));
            if (!d.meantSession.items.empty())
                paintProfile(p_, d.meantSession, foot, perSecond, perThreshold, picture_.lowThreshold, c_,
                             true);
        } else if (const BlockSession* ride = d.ride()) {
            paintProfile(p_, ride->session, foot, perSecond, perThreshold, picture_.lowThreshold, c_, false);
        }
        words(d, r, tight);
        p_.restore();
        if (marks_.chosen == d.date) {
            p_.setPen(QPen(marks_.focused ? c_.tide : c_.muted, marks_.focused ? 2 : 1));
            p_.setBrush(Qt::NoBrush);
            p_.drawRect(r.adjusted(-5, 1, 5, -1));
        }
    }

    static double evenly(const BoardDay::Ridden& r) {
        return r.seconds > 0 ? std::sqrt(r.stress / 100 / (r.seconds / 3600.0)) : 0;
    }
    void solid(const QPointF& foot, double w, double h) const {
        p_.fillRect(QRectF(foot.x(), foot.y() - h, w, h), mixed(c_.paper, c_.grass, 0.6));
    }

    /// What a day is called, how that is written, and the time its sessions take.
    struct Title {
        QString name;
        QColor colour;
        bool strong = true;
        int seconds = 0;
    };
    Title titleOfDay(const BoardDay& d) const {
        Title t{{}, c_.ink};
        if (!d.race.isEmpty()) {
            t.name = d.race;
            t.colour = c_.rust;
        } else if (!d.away.isEmpty()) {
            t.name = d.away;
            t.colour = c_.muted;
        } else if (d.past) {
            if (d.meant) {
                t.name = capital(titleOf(d.meant->family, d.meant->rung).toStdString());
            } else {
                t.name = d.ridden ? wording("Ride") : "";
                t.strong = d.ridden.has_value();
            }
            t.seconds = d.ridden ? d.ridden->seconds : 0;
            t.colour = d.ridden ? c_.ink : c_.muted;
        } else if (!d.sessions.empty()) {
            for (const BlockSession& s : d.sessions) {
                const QString title = titleOf(s.family, s.rung, wording("own words"));
                t.name += t.name.isEmpty() ? capital(title.toStdString()) : wording(" and %1", title);
                t.seconds += s.ridden() ? s.seconds : 0;
            }
        } else if (d.inSeason) {
            t.name = wording("Rest");
            t.strong = false;
            t.colour = c_.muted;
        }
        return t;
    }

    /// Work too long for its line is said in fewer signs; digits are never cut.
    void secondLine(const BoardDay& d, const QRectF& r, const QString& second, const QColor& tone) const {
        QString fits = second;
        if (const BlockSession* ride = d.ride(); width(fits, small_) > r.width() && ride && tone != c_.rust)
            fits = briefWork(ride->session, picture_.lowThreshold);
        if (width(fits, small_) > r.width())
            fits = QFontMetricsF(small_).elidedText(second, Qt::ElideRight, r.width());
        text({r.left(), r.top() + 3 + s_.lineHeight, r.width(), s_.lineHeight},
             Qt::AlignLeft | Qt::AlignVCenter, fits, tone);
    }

    /// A dot where the coach's own stands; the room it takes.
    double heldMark(const BoardDay& d, const QRectF& r) const {
        if (d.past || !d.pin.holds())
            return 0;
        p_.setPen(Qt::NoPen);
        p_.setBrush(c_.ink);
        p_.drawEllipse(QPointF(r.left() + 3, r.top() + 3 + s_.lineHeight / 2), 2.6, 2.6);
        return 9;
    }

    /// Name and length, and the line under them.
    void words(const BoardDay& d, const QRectF& r, bool tight) const {
        const Title t = titleOfDay(d);
        const QString length = t.seconds > 0 ? lengthText(t.seconds) : QString();
        const double lengthWidth = length.isEmpty() ? 0 : width(length, small_) + 8;
        const double dot = heldMark(d, r);
        const QRectF first(r.left() + dot, r.top() + 3, r.width() - dot, s_.lineHeight);
        QFont font = t.strong ? strong_ : small_;
        text(first, Qt::AlignRight | Qt::AlignVCenter, length, c_.muted);
        auto [second, tone] = under(d);
        // A name too long for its line goes on in the next, where nothing else stands there.
        const double room = first.width() - lengthWidth;
        if (tight) // with no second line
            font = fitting(font, t.name, room, 7.5);
        const QFontMetricsF metrics(font);
        QString begin = t.name;
        while (!tight && second.isEmpty() && metrics.horizontalAdvance(begin) > room && begin.contains(' '))
            begin = begin.section(' ', 0, -2);
        text({first.left(), first.top(), room, first.height()}, Qt::AlignLeft | Qt::AlignVCenter,
             metrics.elidedText(begin, Qt::ElideRight, room), t.colour, font);
        if (begin.size() < t.name.size())
            text({r.left(), r.top() + 3 + s_.lineHeight, r.width(), s_.lineHeight},
                 Qt::AlignLeft | Qt::AlignVCenter,
                 metrics.elidedText(t.name.mid(begin.size()).trimmed(), Qt::ElideRight, r.width()), t.colour,
                 t.strong);
        if (!second.isEmpty() && (!tight || tone == c_.rust))
            secondLine(d, r, second, tone);
        if (!d.pin.note.empty()) { // a corner turned down: there is a word to the rider
            QPainterPath corner;
            corner.moveTo(r.right() + 4, r.top());
            corner.lineTo(r.right() - 3, r.top());
            corner.lineTo(r.right() + 4, r.top() + 7);
            corner.closeSubpath();
            p_.fillPath(corner, c_.driftwood);
        }
    }

    void bar(const QRectF& r, const Bands& b, bool filled) const {
        const double sum = b.sum();
        if (sum <= 0)
            return;
        double x = r.left();
        const double parts[3] = {b.low / sum, b.middle / sum, b.high / sum};
        const double at[3] = {0.6, 0.9, 1.1};
        for (int i = 0; i < 3; ++i) {
            const QRectF part(x, r.top(), parts[i] * r.width(), r.height());
            const QColor colour = depth(at[i], picture_.lowThreshold, c_);
            if (filled) {
                p_.fillRect(part, colour);
            } else {
                p_.setPen(QPen(i == 0 ? c_.driftwood : c_.ink, 1));
                p_.setBrush(Qt::NoBrush);
                if (part.width() > 1)
                    p_.drawRect(part.adjusted(0.5, 0.5, -0.5, -0.5));
            }
            x += part.width();
        }
    }

    void foot(int w) const {
        const BoardWeek& week = picture_.weeks[static_cast<size_t>(w)];
        const QRectF f = s_.foot(w).adjusted(0, 5, -gap, 0);
        if (!week.planned)
            return;
        const double step = s_.lineHeight + 3;
        const auto row = [&](int i) {
            return QRectF(f.left(), f.top() + i * step, f.width(), s_.lineHeight);
        };
        if (!week.summed) {
            text(row(0), Qt::AlignLeft | Qt::AlignVCenter,
                 week.ridden > 0 && week.meant > 0
                     ? wording("%1 ridden of %2").arg(week.ridden, 0, 'f', 0).arg(week.meant, 0, 'f', 0)
                 : week.ridden > 0 ? wording("%1 ridden").arg(week.ridden, 0, 'f', 0)
                                   : QString(),
                 c_.ink);
            return;
        }
        const double off = week.target.stress > 0 ? week.sum.stress / week.target.stress - 1 : 0;
        text(row(0), Qt::AlignLeft | Qt::AlignVCenter,
             wording("%1 of %2").arg(week.sum.stress, 0, 'f', 0).arg(week.target.stress, 0, 'f', 0),
             std::abs(off) > 0.03 ? c_.rust : c_.ink);
        if (week.ridden > 0)
            text(row(0), Qt::AlignRight | Qt::AlignVCenter, wording("%1 ridden").arg(week.ridden, 0, 'f', 0),
                 c_.muted);
        text(row(1), Qt::AlignLeft | Qt::AlignVCenter,
             wording("%1 of %2")
                 .arg(lengthText(static_cast<int>(week.sum.purpose.sum())),
                      lengthText(static_cast<int>(week.target.purpose.sum()))),
             c_.ink);
        // What is meant as an outline, what the sessions come to as a body in it.
        const QRectF split = row(2).adjusted(0, 3, -96 * textScale(), -3);
        bar(split.adjusted(0, 0, 0, 0), week.sum.purpose, true);
        bar(split.adjusted(0, -2, 0, 2), week.target.purpose, false);
        const auto shares = [](const Bands& b) {
            const double sum = std::max(1.0, b.sum());
            return QString("%1 / %2 / %3")
                .arg(100 * b.low / sum, 0, 'f', 0)
                .arg(100 * b.middle / sum, 0, 'f', 0)
                .arg(100 * b.high / sum, 0, 'f', 0);
        };
        text(row(2), Qt::AlignRight | Qt::AlignVCenter, shares(week.sum.purpose), c_.ink);
    }

    void drag() const {
        if (!marks_.hand || !marks_.chosen)
            return;
        const BoardDay *from = picture_.day(*marks_.chosen),
                       *to = marks_.over ? picture_.day(*marks_.over) : nullptr;
        if (!from)
            return;
        QString words = dayWords(*from);
        if (to && to != from)
            words += !to->open()      ? wording(": not here")
                     : marks_.copying ? wording(", also here")
                                      : wording(" for %1", dayWords(*to));
        const double w = width(words, small_) + 16;
        QRectF box(marks_.hand->x() + 12, marks_.hand->y() + 8, w, s_.lineHeight + 8);
        if (box.right() > s_.whole.right())
            box.moveRight(marks_.hand->x() - 8);
        if (box.bottom() > s_.whole.bottom())
            box.moveBottom(marks_.hand->y() - 6);
        p_.setPen(QPen(c_.hairline, 1));
        p_.setBrush(c_.sheet);
        p_.drawRect(box);
        text(box, Qt::AlignCenter, words, c_.ink);
    }

    QPainter& p_;
    const BoardScene& s_;
    const BoardPicture& picture_;
    const BoardMarks& marks_;
    const Shore& c_;
    QFont small_, strong_;
};

} // namespace

void BoardScene::layOut(const QRectF& area, int weekCount, double lineH) {
    whole = area;
    weeks = weekCount;
    lineHeight = lineH;
    headHeight = 2 * lineH + 12;
    footHeight = 3 * (lineH + 3) + 10;
    gutter = 52 * textScale();
    for (const char* row : footWords)
        gutter = std::max(gutter, QFontMetricsF(typeface(Type::Small)).horizontalAdvance(wording(row)) + 10);
    grid = QRectF(area.left() + gutter, area.top() + headHeight, area.width() - gutter,
                  std::max(140.0, area.height() - headHeight - footHeight));
}

QRectF BoardScene::head(int week) const {
    return {grid.left() + week * columnWidth(), whole.top(), columnWidth() - gap, headHeight};
}

QRectF BoardScene::foot(int week) const {
    return {grid.left() + week * columnWidth(), grid.bottom(), columnWidth(), footHeight};
}

QRectF BoardScene::cell(int week, int weekday) const {
    const double h = grid.height() / 7;
    return {grid.left() + week * columnWidth(), grid.top() + weekday * h, columnWidth(), h};
}

std::optional<std::pair<int, int>> BoardScene::at(const QPointF& point) const {
    if (weeks < 1 || !grid.contains(point))
        return std::nullopt;
    return std::pair{std::clamp(static_cast<int>((point.x() - grid.left()) / columnWidth()), 0, weeks - 1),
                     std::clamp(static_cast<int>((point.y() - grid.top()) / (grid.height() / 7)), 0, 6)};
}

void paintProfile(QPainter& p, const Session& session, const QPointF& foot, double perSecond,
                  double perThreshold, double lowThreshold, const Shore& c, bool outline) {
    const SessionFigures figures = figuresOf(session, lowThreshold);
    QPainterPath ridge;
    double x = foot.x();
    ridge.moveTo(foot);
    const auto y = [&](double fraction) { return foot.y() - perThreshold * std::min(highest, fraction); };
    for (const UnfoldedStep& s : figures.steps) {
        const double w = s.step.seconds * perSecond;
        const double from = targetAt(s.step, 0), to = targetAt(s.step, 1);
        if (!outline) {
            // A ramp changes its depth where it crosses a band.
            std::vector<double> cuts{0, 1};
            for (const double edge : {lowThreshold, 1.0})
                if ((edge - from) * (edge - to) < 0)
                    cuts.push_back((edge - from) / (to - from));
            std::sort(cuts.begin(), cuts.end());
            for (size_t i = 0; i + 1 < cuts.size(); ++i) {
                const double a = targetAt(s.step, cuts[i]), b = targetAt(s.step, cuts[i + 1]);
                QPainterPath part;
                part.moveTo(x + w * cuts[i], foot.y());
                part.lineTo(x + w * cuts[i], y(a));
                part.lineTo(x + w * cuts[i + 1] + 0.4, y(b)); // into the next, so that no seam shows
                part.lineTo(x + w * cuts[i + 1] + 0.4, foot.y());
                part.closeSubpath();
                p.fillPath(part, depth((a + b) / 2, lowThreshold, c));
            }
        }
        ridge.lineTo(x, y(from));
        x += w;
        ridge.lineTo(x, y(to));
    }
    ridge.lineTo(x, foot.y());
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(outline ? c.driftwood : mixed(c.paper, c.deepGrass, 0.75), outline ? 1.3 : 0.8));
    p.drawPath(ridge);
}

void paintTrace(QPainter& p, const std::vector<float>& trace, int step, const QPointF& foot, double perSecond,
                double perThreshold, const Shore& c) {
    // Narrow strips are drawn by the pixel: the mean of what falls into it. One body, so that no seam shows.
    const double w = step * perSecond;
    const size_t many = static_cast<size_t>(std::max(1.0, std::ceil(1.0 / std::max(0.01, w))));
    QPainterPath body;
    body.moveTo(foot);
    for (size_t i = 0; i < trace.size(); i += many) {
        double sum = 0;
        const size_t end = std::min(trace.size(), i + many);
        for (size_t k = i; k < end; ++k)
            sum += trace[k];
        const double y = foot.y() - perThreshold * std::min(highest, sum / static_cast<double>(end - i));
        body.lineTo(foot.x() + static_cast<double>(i) * w, y);
        body.lineTo(foot.x() + static_cast<double>(end) * w, y);
    }
    body.lineTo(foot.x() + static_cast<double>(trace.size()) * w, foot.y());
    body.closeSubpath();
    p.fillPath(body, mixed(c.paper, c.grass, 0.6));
}

void paintBoard(QPainter& painter, const BoardScene& scene, const BoardPicture& picture,
                const BoardMarks& marks, const Shore& colours) {
    painter.setRenderHint(QPainter::Antialiasing);
    Board(painter, scene, picture, marks, colours).paint();
}

} // namespace marram
