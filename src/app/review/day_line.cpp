// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/day_line.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QAccessible>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

namespace marram {
namespace {

constexpr int days = 14;

QString words(const std::string& text) {
    return QString::fromStdString(text);
}

QString hoursOf(double hours) {
    const int minutes = static_cast<int>(std::lround(60 * hours));
    return QString("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

/// The session's family, without its rung: what fits under a day.
QString shortName(const MondayDay& d) {
    const QString name =
        d.meant.empty() ? QString(wording(nameOf(d.role))) : words(d.meant).section(',', 0, 0);
    return d.role == Role::Rest ? QString() : name;
}

} // namespace

DayLine::DayLine(QWidget* parent) : QWidget(parent) {
    setObjectName("dayLine");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    offerParts();
    setAccessibleName(wording("The week, day by day"));
}

std::vector<SpokenPart> DayLine::spokenParts() const {
    std::vector<SpokenPart> all;
    for (int i = 0; any_ && i < days; ++i)
        all.push_back({spoken(at(i), at(i).day < monday_.today), column(i).toAlignedRect()});
    return all;
}

QSize DayLine::sizeHint() const {
    return {600, qRound(72 + 86 * textScale())}; // bars as high as they are, five lines of type
}

const MondayDay& DayLine::at(int i) const {
    return i < 7 ? monday_.days[static_cast<size_t>(i)] : monday_.coming[static_cast<size_t>(i - 7)];
}

QString DayLine::spoken(const MondayDay& d, bool gone) {
    QString s = words(weekdayText(d.day)) + ": ";
    if (d.planned < 1 && d.hours <= 0)
        return s + (d.kept ? wording("rest") : wording("nothing meant"));
    if (d.planned >= 1)
        s += wording("%1, %2 points meant")
                 .arg(d.meant.empty() ? QString(wording(nameOf(d.role))) : words(d.meant))
                 .arg(d.planned, 0, 'f', 0);
    if (d.hours > 0)
        s += wording("%1%2 h ridden%3")
                 .arg(d.planned >= 1 ? ", " : "", hoursOf(d.hours),
                      d.ridden ? wording(", %1 points").arg(*d.ridden, 0, 'f', 0) : QString());
    if (gone && !d.verdict.empty())
        s += ", " + words(d.verdict);
    return s;
}

void DayLine::show(const Monday& monday) {
    monday_ = monday;
    any_ = true;
    QStringList all;
    for (int i = 0; i < days; ++i)
        all << spoken(at(i), at(i).day < monday.today);
    setAccessibleDescription(all.join(". ") + ".");
    partsChanged(this);
    update();
}

QRectF DayLine::column(int i) const {
    constexpr double gap = 22; // between the week gone and the one to come
    const double width = (this->width() - gap) / days;
    return {i * width + (i >= 7 ? gap : 0), 0, width, static_cast<double>(height())};
}

int DayLine::dayAt(const QPointF& point) const {
    for (int i = 0; i < days; ++i)
        if (column(i).contains(point))
            return i;
    return -1;
}

void DayLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    p.setRenderHint(QPainter::Antialiasing);
    if (!any_)
        return;
    double most = 60;
    for (int i = 0; i < days; ++i)
        most = std::max({most, at(i).planned, at(i).ridden.value_or(0)});
    const QFontMetricsF small(typeface(Type::Small));
    const double bars = height() - 5.2 * small.lineSpacing() - 6;
    const Shore& c = shore();
    for (int i = 0; i < days; ++i)
        paintDay(p, i, most, bars);
    p.setPen(QPen(c.muted, 1));
    const double base = small.lineSpacing() + 4 + bars;
    p.drawLine(QPointF(column(0).left(), base), QPointF(column(6).right(), base));
    p.drawLine(QPointF(column(7).left(), base), QPointF(column(13).right(), base));
}

/// What was meant beside what was ridden; `foot` between them, `scale` in pixels a point.
static void paintColumns(QPainter& p, const MondayDay& d, const QPointF& foot, double width, double scale) {
    const Shore& c = shore();
    if (d.planned >= 1) {
        p.setPen(QPen(c.driftwood, 1.2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(foot.x() - width - 1, foot.y() - scale * d.planned, width, scale * d.planned));
    }
    if (d.hours > 0) {
        const double points = d.ridden.value_or(50 * d.hours); // what carries no points counts by its hours
        p.setPen(Qt::NoPen);
        p.setBrush(QBrush(c.grass, d.ridden ? Qt::SolidPattern : Qt::Dense4Pattern));
        p.drawRect(QRectF(foot.x() + 1, foot.y() - scale * points, width, scale * points));
    }
}

void DayLine::paintDay(QPainter& p, int i, double most, double bars) const {
    const Shore& c = shore();
    const MondayDay& d = at(i);
    const QRectF box = column(i);
    const QFontMetricsF small(typeface(Type::Small));
    const double line = small.lineSpacing(), base = line + 4 + bars;
    const bool gone = d.day < monday_.today;
    if (hasFocus() && i == chosen_) {
        p.setPen(QPen(c.tide, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box.adjusted(1, 0.5, -1, -0.5));
    }
    p.setFont(typeface(Type::Small, d.day == monday_.today));
    p.setPen(d.day == monday_.today ? c.ink : c.muted);
    p.drawText(QRectF(box.left(), 0, box.width(), line), Qt::AlignHCenter,
               words(shortWeekdayText(weekday(d.day))) + " " + words(dayText(d.day)).section(' ', 0, 0));
    const double half = std::min(26.0, box.width() * 0.3), middle = box.center().x();
    paintColumns(p, d, {middle, base}, half, bars / most);
    p.setFont(typeface(Type::Small));
    const bool missed = gone && d.planned >= 5 && d.hours <= 0;
    p.setPen(c.ink);
    const double shown = d.hours > 0 ? d.hours : d.plannedHours;
    const QString figures = shown > 0 ? hoursOf(shown) : "–";
    p.setPen(d.hours > 0 ? c.ink : c.muted);
    p.drawText(QRectF(box.left(), base + 2, box.width(), line), Qt::AlignHCenter, figures);
    p.setPen(c.ink);
    const QRectF name(box.left() + 2, base + 2 + line, box.width() - 4, 2 * line);
    p.setFont(fittingNames());
    p.drawText(name, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, shortName(d));
    p.setFont(typeface(Type::Small));
    QString verdict = words(d.verdict);
    if (d.ill)
        verdict = wording("ill");
    if (gone && !verdict.isEmpty() && verdict != wording("rest") && verdict != wording("as meant")) {
        p.setPen(missed || d.ill ? c.rust : c.muted);
        const QRectF under(box.left() - 2, base + 2 + 3 * line, box.width() + 4, 1.2 * line);
        p.setFont(fitting(p.font(), verdict, under.width(), 6));
        p.drawText(under, Qt::AlignHCenter, verdict);
    }
}

/// Large type is set as much smaller as the sessions' names need, all alike, never cut.
QFont DayLine::fittingNames() const {
    QFont font = typeface(Type::Small);
    const QRectF room(0, 0, column(0).width() - 4, 2 * QFontMetricsF(font).lineSpacing());
    const auto fits = [&](const QString& name) {
        const QFontMetricsF metrics(font);
        for (const QString& word : name.split(' '))
            if (metrics.horizontalAdvance(word) > room.width())
                return false;
        return metrics.boundingRect(QRectF(0, 0, room.width(), 1000), Qt::TextWordWrap, name).height() <=
               room.height() + 1;
    };
    for (int i = 0; i < days; ++i)
        while (font.pointSizeF() > 6 && !fits(shortName(at(i))))
            font.setPointSizeF(font.pointSizeF() - 0.5);
    return font;
}

void DayLine::choose(int day) {
    chosen_ = std::clamp(day, 0, days - 1);
    update();
    const QString now = spoken(at(chosen_), at(chosen_).day < monday_.today);
    setAccessibleName(wording("The week, day by day. %1", now));
    QAccessibleEvent event(this, QAccessible::NameChanged);
    QAccessible::updateAccessibility(&event);
}

void DayLine::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (step != 0 && any_)
        choose(chosen_ + step);
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && any_ &&
             at(chosen_).ride != 0)
        emit wantsRide(at(chosen_).ride);
    else
        QWidget::keyPressEvent(event);
}

void DayLine::mouseReleaseEvent(QMouseEvent* event) {
    if (const int day = dayAt(event->position()); any_ && day >= 0) {
        choose(day);
        if (at(day).ride != 0)
            emit wantsRide(at(day).ride);
    }
}

void DayLine::mouseMoveEvent(QMouseEvent* event) {
    const int day = dayAt(event->position());
    setCursor(any_ && day >= 0 && at(day).ride != 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    setToolTip(any_ && day >= 0 ? spoken(at(day), at(day).day < monday_.today).toHtmlEscaped() : QString());
}

} // namespace marram

#include "moc_day_line.cpp"
