// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_canvas.h"
#include "app/shell/touch.h"
#include "app/theme/theme.h"
#include "core/review/wording.h"
#include "wording/wording.h"

#include <QAccessible>
#include <QEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <utility>

namespace marram {
namespace {

constexpr int weeksBack = 28, afterLast = 10, leastSpan = 28;

QString q(const std::string& s) {
    return QString::fromStdString(s);
}

} // namespace

QString chanceText(const SquadRace& r) {
    return r.chance ? QString("%1 %").arg(qRound(100 * *r.chance)) : QString();
}

bool ownDay(const SquadRace& r) {
    return r.squad && *r.squad != r.date;
}

SquadCanvas::SquadCanvas(QWidget* parent) : QWidget(parent) {
    setObjectName("squadCanvas");
    offerParts();
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(wording("Riders beside each other"));
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    new TouchHand(this, {[this](double factor, const QPointF& around) {
                             zoom(factor, std::clamp((around.x() - nameWidth()) / timeWidth(), 0.0, 1.0));
                         },
                         [this](const QPointF& by) {
                             pan(-by.x() / timeWidth());
                             if (const int down = qRound(by.y()); down != 0)
                                 emit slid(down);
                         }});
}

double SquadCanvas::timeWidth() const {
    return std::max(1.0, width() - nameWidth() - 8);
}

int SquadCanvas::rowHeight() const {
    return qRound(58 * textScale());
}

int SquadCanvas::headHeight() const {
    return qRound(44 * textScale());
}

double SquadCanvas::nameWidth() const {
    return 190 * textScale();
}

QSize SquadCanvas::sizeHint() const {
    return {600, headHeight() + static_cast<int>(rows_.size()) * rowHeight() + 8};
}

double SquadCanvas::xOf(double day) const {
    return nameWidth() + (day - from_) / (to_ - from_) * (width() - nameWidth() - 8);
}

void SquadCanvas::show(std::vector<SquadRow> rows, Date today) {
    rows_ = std::move(rows);
    shared_ = sharedRaces(rows_);
    camps_ = sharedCamps(rows_);
    today_ = today;
    if (whole_)
        showAll();
    if (std::none_of(rows_.begin(), rows_.end(), [&](const SquadRow& r) { return r.rider == chosen_; }))
        chosen_ = rows_.empty() ? 0 : rows_.front().rider;
    setFixedHeight(sizeHint().height());
    told();
    partsChanged(this);
    update();
}

void SquadCanvas::showAll() {
    whole_ = true;
    from_ = today_.days - weeksBack;
    to_ = today_.days + 84;
    for (const SquadRow& row : rows_)
        for (const SquadRace& r : row.races)
            to_ = std::max(to_, static_cast<double>(r.date.days + afterLast));
    to_ = std::min(to_, today_.days + 400.0);
    update();
}

void SquadCanvas::zoom(double factor, double at) {
    whole_ = false;
    const double middle = from_ + at * (to_ - from_);
    const double span = std::clamp((to_ - from_) / factor, static_cast<double>(leastSpan), 1100.0);
    from_ = middle - at * span;
    to_ = from_ + span;
    update();
}

void SquadCanvas::pan(double part) {
    whole_ = false;
    const double by = std::clamp(part * (to_ - from_), today_.days - 400 - from_, today_.days + 1100 - to_);
    from_ += by;
    to_ += by;
    update();
}

void SquadCanvas::choose(qint64 rider) {
    if (chosen_ == rider)
        return;
    chosen_ = rider;
    told();
    update();
    emit chose(rider);
}

QRect SquadCanvas::rowRect(qint64 rider) const {
    for (size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].rider == rider)
            return {0, headHeight() + static_cast<int>(i) * rowHeight(), width(), rowHeight()};
    return {};
}

const SquadRow* SquadCanvas::rowAt(const QPointF& at) const {
    const int row = static_cast<int>(std::floor((at.y() - headHeight()) / rowHeight()));
    return row >= 0 && row < static_cast<int>(rows_.size()) ? &rows_[static_cast<size_t>(row)] : nullptr;
}

QString SquadCanvas::tells(const SquadRow& row) const {
    QString words = wording("%1: fitness %2, form %3 this morning.")
                        .arg(row.name, q(fixedText(row.fitness, 0)), q(figure(row.form, 0)));
    if (!row.planned)
        return wording("%1 No season lies ahead.", words);
    for (const SquadRace& r : row.races)
        if (r.date >= today_)
            words += wording(" %1, %2 (%3): form %4, fitness %5%6.")
                         .arg(q(r.name), q(dayText(r.date, today_)), wording(nameOf(r.priority)),
                              q(figure(r.form, 0)), q(fixedText(r.fitness, 0)),
                              (r.chance ? wording(", inside the gate in %1 of seasons", chanceText(r))
                                        : QString()) +
                                  (ownDay(r) ? wording(", on a day of their own; the squad rides it on %1",
                                                       q(dayText(*r.squad, today_)))
                                             : QString()));
    for (const Away& a : row.away)
        if (a.to >= today_)
            words += wording(" Away from %1 to %2 (%3).")
                         .arg(q(dayText(a.from, today_)), q(dayText(a.to, today_)), wording(nameOf(a.why)));
    return words;
}

std::vector<SpokenPart> SquadCanvas::spokenParts() const {
    std::vector<SpokenPart> parts;
    parts.reserve(rows_.size());
    for (const SquadRow& row : rows_)
        parts.push_back({tells(row), rowRect(row.rider)});
    return parts;
}

void SquadCanvas::told() {
    for (const SquadRow& row : rows_)
        if (row.rider == chosen_)
            setAccessibleDescription(tells(row));
    QAccessibleEvent event(this, QAccessible::DescriptionChanged);
    QAccessible::updateAccessibility(&event);
}

void SquadCanvas::paintEvent(QPaintEvent* e) {
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(e->rect(), shore().paper);
    const int first = std::max(0, (e->rect().top() - headHeight()) / rowHeight());
    const int last =
        std::min(static_cast<int>(rows_.size()) - 1, (e->rect().bottom() - headHeight()) / rowHeight());
    for (int i = first; i <= last; ++i)
        paintRow(p, rows_[static_cast<size_t>(i)],
                 QRectF(0, headHeight() + i * rowHeight(), width(), rowHeight()));
    paintHead(p);
    if (moved_ && moved_->to != moved_->from) { // where it would stand
        const double x = xOf(moved_->to.days + 0.5);
        p.setPen(QPen(shore().deepGrass, 2));
        p.drawLine(QPointF(x, headHeight()), QPointF(x, height()));
        p.setFont(typeface(Type::Small));
        const QString text = q(moved_->race + ", " + dayText(moved_->to, today_));
        const QRectF at = QFontMetricsF(p.font()).boundingRect(text).translated(
            std::min(x + 6, width() - 8.0 - QFontMetricsF(p.font()).horizontalAdvance(text)),
            headHeight() + QFontMetricsF(p.font()).ascent() + 4);
        p.fillRect(at.adjusted(-3, -1, 3, 1), shore().sheet);
        p.drawText(at.bottomLeft() - QPointF(0, QFontMetricsF(p.font()).descent()), text);
    }
}

/// Months, today, and what several ride: through all rows. Straight up, so without smoothing.
void SquadCanvas::paintUprights(QPainter& p, double top, double bottom) const {
    p.setRenderHint(QPainter::Antialiasing, false);
    const auto upright = [&](double day, const QColor& colour, int wide) {
        if (day >= from_ && day <= to_)
            p.fillRect(QRect(qRound(xOf(day)), qRound(top), wide, qRound(bottom - top)), colour);
    };
    CivilDate civil = toCivil(Date{static_cast<int>(std::ceil(from_))});
    for (int i = 0; i < 60; ++i) {
        if (++civil.month > 12) {
            civil.month = 1;
            ++civil.year;
        }
        const Date month = fromCivil(civil.year, civil.month, 1);
        if (month.days > to_)
            break;
        upright(month.days, shore().hairline, 1);
    }
    const auto dashed = [&](double day) { // by hand: a dashing pen is slow
        if (day >= from_ && day <= to_)
            for (int i = 0; top + 6 * i < bottom; ++i)
                p.fillRect(QRect(qRound(xOf(day)), qRound(top + 6 * i), 1, 3), shore().driftwood);
    };
    for (const auto& [day, name] : shared_)
        dashed(day.days + 0.5);
    for (const auto& [first, last] : camps_) {
        dashed(first.days);
        dashed(last.days + 1);
    }
    upright(today_.days, shore().ink, 1);
    p.setRenderHint(QPainter::Antialiasing);
}

void SquadCanvas::paintHead(QPainter& p) const {
    const Shore& c = shore();
    p.setFont(typeface(Type::Small));
    const QFontMetricsF m(p.font());
    // Months below, shared races above.
    CivilDate civil = toCivil(Date{static_cast<int>(std::ceil(from_))});
    double free = nameWidth();
    for (int i = 0; i < 60; ++i) {
        const Date day = fromCivil(civil.year, civil.month, 1);
        if (day.days > to_)
            break;
        if (day.days >= from_) {
            const QString text = civil.month == 1 ? QString::number(civil.year)
                                                  : QString::fromStdString(shortMonthText(civil.month));
            const double x = xOf(day.days);
            if (x >= free) {
                p.setPen(c.muted);
                p.drawText(QPointF(x + 3, headHeight() - 8), text);
                free = x + m.horizontalAdvance(text) + 10;
            }
        }
        if (++civil.month > 12) {
            civil.month = 1;
            ++civil.year;
        }
    }
    // Races say their names first; a camp where there is still room.
    std::vector<std::pair<double, QString>> heads; // the middle day of each, and what it is
    for (const auto& [day, name] : shared_)
        heads.emplace_back(day.days + 0.5, q(name));
    for (const auto& [first, last] : camps_)
        heads.emplace_back((first.days + last.days + 1) / 2.0, wording("camp"));
    std::vector<std::pair<double, double>> taken;
    for (const auto& [day, name] : heads) {
        const double wide = m.horizontalAdvance(name);
        const double at = std::max(nameWidth(), std::min(xOf(day) - wide / 2, width() - wide - 4));
        const bool room = std::none_of(taken.begin(), taken.end(), [&](const auto& t) {
            return at < t.second + 12 && at + wide + 12 > t.first;
        });
        if (day < from_ || day > to_ || !room)
            continue;
        p.setPen(c.ink);
        p.drawText(QPointF(at, m.ascent() + 2), name);
        taken.emplace_back(at, at + wide);
    }
    paintUprights(p, headHeight() - 6, headHeight());
}

double SquadCanvas::dayAt(double x) const {
    return from_ + (x - nameWidth()) / (width() - nameWidth() - 8) * (to_ - from_);
}

std::optional<SquadCanvas::Moved> SquadCanvas::stakeAt(const QPointF& at, double reach) const {
    const SquadRow* row = rowAt(at);
    if (!row || at.x() < nameWidth())
        return std::nullopt;
    for (const SquadRace& r : row->races)
        if (r.squad && r.date >= today_ && std::abs(xOf(r.date.days + 0.5) - at.x()) <= reach)
            return Moved{r.name, *r.squad, *r.squad};
    return std::nullopt;
}

void SquadCanvas::mousePressEvent(QMouseEvent* e) {
    setFocus();
    moved_.reset();
    if (const SquadRow* row = rowAt(e->position()))
        choose(row->rider);
    held_.reset();
    if (e->button() == Qt::LeftButton && e->position().x() > nameWidth()) {
        held_ = dayAt(e->position().x());
        moved_ = stakeAt(e->position(), reachOf(*e, mouseReach * textScale()));
    }
}

void SquadCanvas::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton) || !held_) {
        setCursor(stakeAt(e->position(), mouseReach * textScale()) ? Qt::SizeHorCursor : Qt::ArrowCursor);
        return;
    }
    const double under = dayAt(e->position().x());
    if (moved_) {
        moved_->to = std::max(today_, Date{static_cast<int>(std::floor(under))});
        update();
        return;
    }
    pan((*held_ - under) / (to_ - from_));
}

void SquadCanvas::mouseReleaseEvent(QMouseEvent*) {
    held_.reset();
    const auto moved = std::exchange(moved_, std::nullopt);
    update();
    if (moved && moved->to != moved->from)
        emit moveAsked(moved->race, moved->from, moved->to);
}

void SquadCanvas::mouseDoubleClickEvent(QMouseEvent* e) {
    if (const SquadRow* row = rowAt(e->position()))
        emit opened(row->rider);
}

void SquadCanvas::wheelEvent(QWheelEvent* e) {
    const double at = std::clamp((e->position().x() - nameWidth()) / timeWidth(), 0.0, 1.0);
    if (e->modifiers() & Qt::ControlModifier)
        zoom(std::pow(1.2, e->angleDelta().y() / 120.0), at);
    else if (e->angleDelta().x() != 0 || e->modifiers() & Qt::ShiftModifier)
        pan(-(e->angleDelta().x() + (e->modifiers() & Qt::ShiftModifier ? e->angleDelta().y() : 0)) / 1200.0);
    else {
        e->ignore(); // the list scrolls
        return;
    }
    e->accept();
}

void SquadCanvas::keyPressEvent(QKeyEvent* e) {
    size_t at = 0;
    while (at < rows_.size() && rows_[at].rider != chosen_)
        ++at;
    switch (e->key()) {
    case Qt::Key_Down:
        if (at + 1 < rows_.size())
            choose(rows_[at + 1].rider);
        return;
    case Qt::Key_Up:
        if (at > 0 && at < rows_.size())
            choose(rows_[at - 1].rider);
        return;
    case Qt::Key_Home:
        if (!rows_.empty())
            choose(rows_.front().rider);
        return;
    case Qt::Key_End:
        if (!rows_.empty())
            choose(rows_.back().rider);
        return;
    case Qt::Key_Left:
        return pan(-0.1);
    case Qt::Key_Right:
        return pan(0.1);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoom(1.25);
    case Qt::Key_Minus:
        return zoom(0.8);
    case Qt::Key_0:
        return showAll();
    case Qt::Key_Escape:
        if (!moved_)
            break;
        moved_.reset(); // the stake stays where it was
        update();
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (chosen_ != 0)
            emit opened(chosen_);
        return;
    default:
        break;
    }
    QWidget::keyPressEvent(e);
}

bool SquadCanvas::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        if (const SquadRow* row = rowAt(help->pos()))
            QToolTip::showText(help->globalPos(), tells(*row).toHtmlEscaped(), this);
        return true;
    }
    return QWidget::event(e);
}

void SquadCanvas::changeEvent(QEvent* e) {
    if (e->type() == QEvent::PaletteChange || e->type() == QEvent::FontChange) {
        setFixedHeight(sizeHint().height());
        update();
    }
    QWidget::changeEvent(e);
}

} // namespace marram

#include "moc_squad_canvas.cpp"
