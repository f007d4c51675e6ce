// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/board_canvas.h"
#include "app/shell/touch.h"
#include "app/theme/theme.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

namespace marram {

BoardCanvas::BoardCanvas(QWidget* parent)
    : QWidget(parent), book_(std::make_shared<FamilyBook>(FamilyBook::standard())) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setObjectName("board");
    offerParts();
    setAccessibleName(wording("Board of the weeks"));
    new TouchHand(this, {[](double, const QPointF&) {}, [](const QPointF&) {}});
}

void BoardCanvas::show(const BoardPicture& picture, std::shared_ptr<const FamilyBook> book) {
    picture_ = picture;
    book_ = std::move(book);
    if (hold_ && (hold_->subject != picture.subject || hold_->version != picture.version))
        letGo();
    if (marks_.chosen && !picture_.day(*marks_.chosen) && !picture_.weeks.empty())
        marks_.chosen = picture_.weeks.front().start + (*marks_.chosen - monday(*marks_.chosen));
    scene_.layOut(QRectF(rect()).adjusted(10, 0, 0, -2), static_cast<int>(picture_.weeks.size()),
                  QFontMetricsF(typeface(Type::Small)).height());
    tell();
    partsChanged(this);
    update();
}

void BoardCanvas::choose(Date day) {
    if (marks_.chosen == day)
        return;
    marks_.chosen = day;
    if (!picture_.day(day) && !picture_.weeks.empty()) {
        const int weeks = (monday(day) - picture_.weeks.front().start) / 7;
        const int count = static_cast<int>(picture_.weeks.size());
        emit wantsWeeks(weeks < 0 ? weeks : weeks - count + 1);
    }
    tell();
    update();
    emit chosenChanged();
}

void BoardCanvas::tell() {
    if (const BoardDay* d = marks_.chosen ? picture_.day(*marks_.chosen) : nullptr)
        setAccessibleDescription(told(*d));
}

QString BoardCanvas::told(const BoardDay& d) const {
    QString words = QString::fromStdString(namedDayText(d.date, picture_.today)) + ": " + dayWords(d);
    if (const BlockSession* s = d.ride()) {
        words += ", " + lengthText(s->seconds);
        if (s->rung > 0)
            words += wording(", rung %1").arg(s->rung);
        if (!d.pin.team.empty() && d.pin.holds())
            words += wording(", together: %1", QString::fromStdString(d.pin.team));
        for (const std::string& b : s->broken)
            words += ". " + QString::fromStdString(b);
    }
    if (d.ridden)
        words += wording(". Ridden: %1%2", lengthText(d.ridden->seconds),
                         wording(", %1 points").arg(qRound(d.ridden->stress)));
    if (!d.away.isEmpty())
        words += wording(". Away: %1", d.away);
    return words;
}

std::vector<SpokenPart> BoardCanvas::spokenParts() const {
    std::vector<SpokenPart> parts;
    for (size_t w = 0; w < picture_.weeks.size(); ++w) {
        const BoardWeek& week = picture_.weeks[w];
        const int column = static_cast<int>(w);
        parts.push_back({wording("%1: %2, %3 points of %4")
                             .arg(spanWords(week.start, week.start + 6, picture_.today),
                                  week.planned ? QString(wording(nameOf(week.kind))) : wording("no season"))
                             .arg(qRound(week.sum.stress))
                             .arg(qRound(week.target.stress)),
                         scene_.head(column).toRect()});
        for (int d = 0; d < 7; ++d)
            if (const BoardDay& day = week.days[static_cast<size_t>(d)]; day.inSeason)
                parts.push_back({told(day), scene_.cell(column, d).toRect()});
    }
    return parts;
}

std::optional<Date> BoardCanvas::dayAt(const QPointF& point) const {
    const auto at = scene_.at(point);
    if (!at || at->first >= static_cast<int>(picture_.weeks.size()))
        return std::nullopt;
    return picture_.weeks[static_cast<size_t>(at->first)].start + at->second;
}

void BoardCanvas::letGo() {
    hold_.reset();
    marks_.hand.reset();
    marks_.over.reset();
    unsetCursor();
    update();
}

void BoardCanvas::edit(const Season& after, const QString& what) {
    emit changed(picture_.subject, picture_.season, after, what);
}

void BoardCanvas::resizeEvent(QResizeEvent*) {
    scene_.layOut(QRectF(rect()).adjusted(10, 0, 0, -2), static_cast<int>(picture_.weeks.size()),
                  QFontMetricsF(typeface(Type::Small)).height());
}

void BoardCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    painter.fillRect(rect(), shore().paper);
    marks_.focused = hasFocus();
    paintBoard(painter, scene_, picture_, marks_, shore());
}

void BoardCanvas::mousePressEvent(QMouseEvent* event) {
    const auto day = dayAt(event->position());
    if (!day)
        return;
    choose(*day);
    const BoardDay* d = picture_.day(*day);
    if (event->button() == Qt::LeftButton && d && d->open() && !d->sessions.empty())
        hold_ = Hold{*day, event->position(), picture_.subject, picture_.version, false};
}

void BoardCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (!hold_)
        return;
    if (!hold_->moved &&
        (event->position() - hold_->pressed).manhattanLength() < QApplication::startDragDistance())
        return;
    hold_->moved = true;
    marks_.hand = event->position();
    marks_.over = dayAt(event->position());
    marks_.copying = event->modifiers() & Qt::ControlModifier;
    setCursor(Qt::ClosedHandCursor);
    update();
}

void BoardCanvas::mouseReleaseEvent(QMouseEvent* event) {
    if (!hold_)
        return;
    const Hold held = *hold_;
    const auto to = dayAt(event->position());
    letGo();
    if (!held.moved || !to || *to == held.day)
        return;
    const BoardDay* target = picture_.day(*to);
    if (!target || !target->open())
        return;
    const bool copying = event->modifiers() & Qt::ControlModifier;
    marks_.chosen = *to;
    edit(copying ? copied(picture_, held.day, *to) : swapped(picture_, held.day, *to),
         copying ? wording("Copy a session") : wording("Move a session"));
    emit chosenChanged();
}

void BoardCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    if (dayAt(event->position()))
        emit wantsWords();
}

void BoardCanvas::contextMenuEvent(QContextMenuEvent* event) {
    if (event->reason() == QContextMenuEvent::Mouse)
        if (const auto day = dayAt(event->pos()))
            choose(*day);
    if (marks_.chosen)
        emit wantsMenu(event->globalPos());
}

void BoardCanvas::wheelEvent(QWheelEvent* event) {
    constexpr int notch = 120;
    turned_ += event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x();
    if (const int weeks = turned_ / notch; weeks != 0) {
        turned_ -= weeks * notch;
        if (event->modifiers() & Qt::ControlModifier)
            emit wantsMoreWeeks(-weeks);
        else
            emit wantsWeeks(-weeks);
    }
    event->accept();
}

void BoardCanvas::step(int days) {
    choose(marks_.chosen.value_or(picture_.today) + days);
}

void BoardCanvas::move(int days) {
    if (!marks_.chosen)
        return;
    const Date from = *marks_.chosen, to = from + days;
    const BoardDay *one = picture_.day(from), *two = picture_.day(to);
    if (!one || !two || !one->open() || !two->open())
        return;
    const Season after = swapped(picture_, from, to);
    choose(to);
    edit(after, wording("Move a session"));
}

void BoardCanvas::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && hold_)
        letGo();
    else if (!moveByKey(event) && !editByKey(event) && !askByKey(event))
        QWidget::keyPressEvent(event);
}

/// Another day is chosen, or with Shift what stands there goes with it.
bool BoardCanvas::moveByKey(const QKeyEvent* event) {
    const bool shift = event->modifiers() & Qt::ShiftModifier,
               control = event->modifiers() & Qt::ControlModifier;
    const auto arrow = [&](int days) { shift ? move(days) : step(days); };
    switch (event->key()) {
    case Qt::Key_Up:
        arrow(-1);
        return true;
    case Qt::Key_Down:
        arrow(1);
        return true;
    case Qt::Key_Left:
        arrow(-7);
        return true;
    case Qt::Key_Right:
        arrow(7);
        return true;
    case Qt::Key_PageUp:
        emit wantsWeeks(control ? -4 : -1);
        return true;
    case Qt::Key_PageDown:
        emit wantsWeeks(control ? 4 : 1);
        return true;
    case Qt::Key_Home:
        choose(picture_.today);
        return true;
    default:
        return false;
    }
}

void BoardCanvas::change(const std::function<Season(Date)>& make, const QString& what) {
    if (marks_.chosen)
        edit(make(*marks_.chosen), what);
}

/// The chosen day's session is made another.
bool BoardCanvas::editByKey(const QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        change([&](Date d) { return climbed(picture_, *book_, d, 1); }, wording("Climb a rung"));
        return true;
    case Qt::Key_Minus:
        change([&](Date d) { return climbed(picture_, *book_, d, -1); }, wording("Step down a rung"));
        return true;
    case Qt::Key_BracketRight:
        change([&](Date d) { return lengthened(picture_, d, 5); }, wording("Lengthen a session"));
        return true;
    case Qt::Key_BracketLeft:
        change([&](Date d) { return lengthened(picture_, d, -5); }, wording("Shorten a session"));
        return true;
    case Qt::Key_Delete:
        change([&](Date d) { return withContent(picture_, d, {}); }, wording("Give a day's rest"));
        return true;
    case Qt::Key_Backspace:
        change([&](Date d) { return freed(picture_, d); }, wording("Leave a day to the block"));
        return true;
    case Qt::Key_Space:
        if (const BoardDay* d = marks_.chosen ? picture_.day(*marks_.chosen) : nullptr; d && d->open())
            edit(d->pin.holds() ? freed(picture_, d->date) : withContent(picture_, d->date, contentOf(*d)),
                 d->pin.holds() ? wording("Unpin a day") : wording("Pin a day"));
        return true;
    case Qt::Key_C:
        if (!(event->modifiers() & Qt::ControlModifier))
            return false;
        if (const BoardDay* d = marks_.chosen ? picture_.day(*marks_.chosen) : nullptr)
            taken_ = std::pair{contentOf(*d), dayWords(*d)};
        return true;
    case Qt::Key_V:
        if (!(event->modifiers() & Qt::ControlModifier))
            return false;
        if (taken_)
            change([&](Date d) { return withContent(picture_, d, taken_->first); },
                   wording("Copy a session"));
        return true;
    case Qt::Key_P:
        if (event->modifiers() & Qt::ControlModifier || !marks_.chosen)
            return false;
        edit(weekPinned(picture_, monday(*marks_.chosen)), wording("Pin a week's sessions"));
        return true;
    default:
        return false;
    }
}

/// Something beside the board is asked for.
bool BoardCanvas::askByKey(const QKeyEvent* event) {
    const bool control = event->modifiers() & Qt::ControlModifier;
    switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_F2:
        emit wantsWords();
        return true;
    case Qt::Key_N:
        if (!control)
            emit wantsNote();
        return !control;
    case Qt::Key_F:
        if (!control)
            emit wantsFamilies();
        return !control;
    case Qt::Key_T:
        if (!control)
            emit wantsWeekText();
        return !control;
    case Qt::Key_Menu:
        if (marks_.chosen) {
            const Date week = monday(*marks_.chosen);
            emit wantsMenu(
                mapToGlobal(scene_.cell((week - picture_.weeks.front().start) / 7, *marks_.chosen - week)
                                .center()
                                .toPoint()));
        }
        return marks_.chosen.has_value();
    default:
        return false;
    }
}

void BoardCanvas::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void BoardCanvas::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    letGo();
}

bool BoardCanvas::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const auto day = dayAt(help->pos());
        const BoardDay* d = day ? picture_.day(*day) : nullptr;
        QStringList lines;
        if (d)
            for (const BlockSession& s : d->sessions) {
                lines << QString::fromStdString(spokenShorthand(s.title));
                if (s.ridden())
                    lines << wording("%1, %2 points")
                                 .arg(lengthText(s.seconds))
                                 .arg(s.figures.stress, 0, 'f', 0);
                lines << QString::fromStdString(s.why);
                for (const std::string& b : s.broken)
                    lines << QString::fromStdString(b);
            }
        if (d && d->meant && !d->meant->told.empty())
            lines << QString::fromStdString(d->meant->told);
        if (lines.isEmpty())
            QToolTip::hideText();
        else
            QToolTip::showText(help->globalPos(), lines.join('\n'), this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace marram

#include "moc_board_canvas.cpp"
