// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_canvas.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace marram {

using Part = SeasonHit::Part;

SeasonCanvas::SeasonCanvas(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName("Season cross-section");
    setAccessibleDescription(
        "Arrow keys choose a day, Page Up and Page Down a race; Shift with arrows moves the chosen race.");
}

void SeasonCanvas::show(const SeasonPicture& picture) {
    picture_ = picture;
    // What the hand holds belongs to one version of one season: undone, changed elsewhere or another rider's,
    // it is let go.
    if (hold_ && (hold_->subject != picture.subject || hold_->version != picture.version))
        release();
    if (marks_.race >= static_cast<int>(picture_.season.races.size()))
        marks_.race = -1;
    layOut();
    update();
}

void SeasonCanvas::release() {
    const bool moved = hold_ && hold_->moved;
    hold_.reset();
    marks_.holding = false;
    if (moved)
        emit letGo();
    update();
}

void SeasonCanvas::select(std::optional<Date> day, int race) {
    marks_.day = day;
    marks_.race = race;
    tell();
    update();
}

void SeasonCanvas::tell() {
    if (!marks_.day)
        return;
    QString words = QString::fromStdString(weekdayText(*marks_.day) + " " + dayText(*marks_.day));
    if (marks_.race >= 0 && static_cast<size_t>(marks_.race) < picture_.season.races.size())
        words += ", " + QString::fromStdString(picture_.season.races[static_cast<size_t>(marks_.race)].name);
    setAccessibleDescription(words);
}

void SeasonCanvas::layOut() {
    // Nothing shifts under the hand: while it holds something the frame stays as it was.
    if (hold_ && hold_->moved)
        return;
    scene_.layOut(picture_, QRectF(rect()), QFontMetricsF(typeface(Type::Small)).height(),
                  raceLabelWidths(picture_));
}

void SeasonCanvas::resizeEvent(QResizeEvent*) {
    layOut();
}

void SeasonCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), shore().paper);
    paintSeason(painter, scene_, picture_, marks_);
    // Where the keys go: a line under the view, no box around it.
    if (hasFocus())
        painter.fillRect(QRect(0, height() - 2, width(), 2), shore().tide);
}

void SeasonCanvas::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    setFocus(Qt::MouseFocusReason);
    const SeasonHit hit = scene_.hit(picture_, event->position());
    if (hit.part == Part::Nothing)
        return;
    const bool race = hit.race >= 0;
    marks_.day = race ? picture_.season.races[static_cast<size_t>(hit.race)].date : hit.date;
    marks_.race = hit.race;
    if (race)
        hold_ = Hold{picture_.subject, picture_.version,  hit,  picture_.season,
                     picture_.season,  event->position(), false};
    tell();
    update();
    emit selected(marks_.day, marks_.race);
}

void SeasonCanvas::drag(QPointF at) {
    Race& race = hold_->now.races[static_cast<size_t>(hold_->what.race)];
    const Race& from = hold_->before.races[static_cast<size_t>(hold_->what.race)];
    if (hold_->what.part == Part::Race) {
        const int days = static_cast<int>(std::lround((at.x() - hold_->from.x()) / scene_.dayWidth()));
        race.date = std::clamp(from.date + days, hold_->now.start, hold_->now.end - (race.days - 1));
        marks_.day = race.date;
    } else {
        Gate gate = gateInForce(from, picture_.plan).value_or(Gate{});
        const double form = std::round(scene_.formAt(at.y()));
        if (hold_->what.part == Part::GateLow)
            gate.low = std::clamp(form, -60.0, gate.high - 1);
        else
            gate.high = std::clamp(form, gate.low + 1, 60.0);
        race.gate = gate;
    }
}

void SeasonCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (!hold_) {
        const SeasonHit hit = scene_.hit(picture_, event->position());
        setCursor(hit.part == Part::Race                                    ? Qt::SizeHorCursor
                  : hit.part == Part::GateLow || hit.part == Part::GateHigh ? Qt::SizeVerCursor
                                                                            : Qt::ArrowCursor);
        return;
    }
    if (!hold_->moved && (event->position() - hold_->from).manhattanLength() < 3)
        return;
    hold_->moved = true;
    marks_.holding = true;
    const auto dateBefore = hold_->now.races[static_cast<size_t>(hold_->what.race)].date;
    const auto gateBefore = hold_->now.races[static_cast<size_t>(hold_->what.race)].gate;
    drag(event->position());
    const Race& race = hold_->now.races[static_cast<size_t>(hold_->what.race)];
    if (race.date != dateBefore || race.gate != gateBefore)
        emit tried(hold_->now);
    update();
}

void SeasonCanvas::mouseReleaseEvent(QMouseEvent* event) {
    if (!hold_ || event->button() != Qt::LeftButton)
        return;
    const Hold held = *hold_;
    hold_.reset();
    marks_.holding = false;
    const Race& race = held.now.races[static_cast<size_t>(held.what.race)];
    const Race& from = held.before.races[static_cast<size_t>(held.what.race)];
    const QString name = QString::fromStdString(race.name);
    if (race.date != from.date)
        emit changed(held.subject, held.before, held.now, "Move " + name);
    else if (race.gate != from.gate)
        emit changed(held.subject, held.before, held.now, "Change the gate of " + name);
    else if (held.moved)
        emit letGo();
    layOut();
    update();
}

void SeasonCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    const SeasonHit hit = scene_.hit(picture_, event->position());
    if (hit.part == Part::Day)
        emit wantsRace(hit.date);
}

void SeasonCanvas::moveRace(int days) {
    Season season = picture_.season;
    Race& race = season.races[static_cast<size_t>(marks_.race)];
    const Date to = std::clamp(race.date + days, season.start, season.end - (race.days - 1));
    if (to == race.date)
        return;
    race.date = to;
    marks_.day = to;
    emit changed(picture_.subject, picture_.season, season, "Move " + QString::fromStdString(race.name));
    emit selected(marks_.day, marks_.race);
}

void SeasonCanvas::keyPressEvent(QKeyEvent* event) {
    const bool shift = event->modifiers() & Qt::ShiftModifier;
    const int step = event->key() == Qt::Key_Left    ? -1
                     : event->key() == Qt::Key_Right ? 1
                     : event->key() == Qt::Key_Up    ? -7
                     : event->key() == Qt::Key_Down  ? 7
                                                     : 0;
    if (event->key() == Qt::Key_Escape && hold_) {
        release();
    } else if (step != 0 && shift && marks_.race >= 0) {
        moveRace(step);
    } else if (step != 0) {
        const Date from = marks_.day.value_or(picture_.today);
        marks_.day = std::clamp(from + step, scene_.first, scene_.last);
        marks_.race = -1;
        for (size_t r = 0; r < picture_.season.races.size(); ++r)
            if (picture_.season.races[r].date == *marks_.day)
                marks_.race = static_cast<int>(r);
        tell();
        update();
        emit selected(marks_.day, marks_.race);
    } else if ((event->key() == Qt::Key_PageDown || event->key() == Qt::Key_PageUp) &&
               !picture_.season.races.empty()) {
        // The next race in time, or the one before.
        const bool forward = event->key() == Qt::Key_PageDown;
        const Date from = marks_.day.value_or(picture_.today);
        int best = -1;
        for (size_t r = 0; r < picture_.season.races.size(); ++r) {
            const Date d = picture_.season.races[r].date;
            if (forward ? d <= from : d >= from)
                continue;
            const Date b = best >= 0 ? picture_.season.races[static_cast<size_t>(best)].date : Date{};
            if (best < 0 || (forward ? d < b : d > b))
                best = static_cast<int>(r);
        }
        if (best >= 0) {
            select(picture_.season.races[static_cast<size_t>(best)].date, best);
            emit selected(marks_.day, marks_.race);
        }
    } else {
        QWidget::keyPressEvent(event);
    }
}

void SeasonCanvas::contextMenuEvent(QContextMenuEvent* event) {
    const QPointF at = event->reason() == QContextMenuEvent::Keyboard && marks_.day
                           ? QPointF(scene_.xOf(*marks_.day) + 1, scene_.load.center().y())
                           : QPointF(event->pos());
    const SeasonHit hit = scene_.hit(picture_, at);
    if (hit.part == Part::Nothing)
        return;
    select(hit.race >= 0 ? picture_.season.races[static_cast<size_t>(hit.race)].date : hit.date, hit.race);
    emit selected(marks_.day, marks_.race);
    emit wantsMenu(*marks_.day, marks_.race, mapToGlobal(at.toPoint()));
}

QString SeasonCanvas::hint(const SeasonHit& hit) const {
    if (hit.race >= 0)
        return QString::fromStdString(picture_.season.races[static_cast<size_t>(hit.race)].name) +
               "\nDrag to another day; drag the edges of its gate up or down.";
    for (const PlannedDay& d : picture_.plan.days)
        if (d.date == hit.date)
            return QString("%1 %2\n%3 points %4, fitness %5, form %6")
                .arg(QString::fromStdString(weekdayText(d.date)), QString::fromStdString(dayText(d.date)))
                .arg(d.stress, 0, 'f', 0)
                .arg(d.past ? "ridden" : "planned")
                .arg(d.fitness, 0, 'f', 0)
                .arg(QString::fromStdString(signedText(d.form, 0)));
    return {};
}

bool SeasonCanvas::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const SeasonHit hit = scene_.hit(picture_, help->pos());
        QToolTip::showText(help->globalPos(), hit.part == Part::Nothing ? QString() : hint(hit), this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace marram
