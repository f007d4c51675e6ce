// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_canvas.h"
#include "app/shell/touch.h"
#include "app/theme/theme.h"
#include "records/merge.h"
#include "wording/wording.h"

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
    setAttribute(Qt::WA_OpaquePaintEvent);
    offerParts();
    setAccessibleName(wording("Season cross-section"));
    setAccessibleDescription(wording(
        "Arrow keys choose a day, Page Up and Page Down a race; Shift with arrows moves the chosen race."));
    new TouchHand(this, {[this](double factor, const QPointF& around) { pinch(factor, around.x()); },
                         [this](const QPointF& by) { slide(by.x()); }});
}

void SeasonCanvas::show(const SeasonPicture& picture) {
    const bool other = picture_.subject != picture.subject;
    picture_ = picture;
    // What the hand holds belongs to one version of one season: undone, changed elsewhere or another rider's,
    // it is let go.
    if (hold_ && (hold_->subject != picture.subject || hold_->version != picture.version))
        release();
    findRace();
    if (other)
        span_.reset();
    consequence();
    layOut();
    if (!hold_)
        partsChanged(this);
    update();
}

void SeasonCanvas::release() {
    const bool moved = hold_ && hold_->moved && hold_->what.part != Part::Nothing;
    hold_.reset();
    marks_.holding = false;
    if (moved)
        emit letGo();
    layOut();
    update();
}

/// Where in this picture the chosen race stands: by name and day, else by name, else by day.
void SeasonCanvas::findRace() {
    marks_.race = -1;
    if (!race_)
        return;
    int best = 0;
    for (size_t r = 0; r < picture_.season.races.size(); ++r) {
        const Race& race = picture_.season.races[r];
        const int alike = (race.name == race_->name ? 2 : 0) + (race.date == race_->date ? 1 : 0);
        if (alike > best) {
            best = alike;
            marks_.race = static_cast<int>(r);
        }
    }
    if (marks_.race >= 0) {
        const Race& race = picture_.season.races[static_cast<size_t>(marks_.race)];
        race_ = RaceKey{race.name, race.date};
    }
}

void SeasonCanvas::selectRace(const std::string& name, Date day) {
    race_ = RaceKey{name, day};
    marks_.day = day;
    findRace();
    race_ = RaceKey{name, day}; // it may come with the next picture
    select(day, marks_.race);
    race_ = RaceKey{name, day};
}

void SeasonCanvas::select(std::optional<Date> day, int race) {
    marks_.day = day;
    marks_.race = race >= 0 && static_cast<size_t>(race) < picture_.season.races.size() ? race : -1;
    race_.reset();
    if (marks_.race >= 0) {
        const Race& chosen = picture_.season.races[static_cast<size_t>(marks_.race)];
        race_ = RaceKey{chosen.name, chosen.date};
    }
    // What is chosen is shown.
    if (span_ && day && (*day < span_->first || *day > span_->last)) {
        pan((*day - span_->first) - (span_->last - span_->first) / 2);
        return;
    }
    tell();
    update();
}

void SeasonCanvas::tell() {
    if (!marks_.day)
        return;
    QString words = QString::fromStdString(namedDayText(*marks_.day));
    if (marks_.race >= 0 && static_cast<size_t>(marks_.race) < picture_.season.races.size())
        words += ", " + QString::fromStdString(picture_.season.races[static_cast<size_t>(marks_.race)].name);
    setAccessibleDescription(words);
}

std::vector<SpokenPart> SeasonCanvas::spokenParts() const {
    const auto day = [&](Date d) { return QString::fromStdString(dayText(d, picture_.today)); };
    const auto form = [](double v) { return QString::fromStdString(signedText(v, 0)); };
    const auto shown = [&](Date from, Date to) { return to >= scene_.first && from <= scene_.last; };
    const auto column = [&](Date from, Date to) {
        const double left = scene_.xOf(std::max(from, scene_.first)),
                     right = scene_.xOf(std::min(to, scene_.last) + 1);
        return QRectF(left, scene_.plot.top(), right - left, scene_.plot.height()).toRect();
    };
    std::vector<SpokenPart> parts;
    for (size_t r = 0; r < picture_.season.races.size(); ++r) {
        const Race& race = picture_.season.races[r];
        if (!shown(race.date, race.date))
            continue;
        QString words =
            wording("%1, %2 race, %3")
                .arg(QString::fromStdString(race.name), wording(nameOf(race.priority)), day(race.date));
        for (const PlannedRace& p : picture_.plan.races)
            if (p.name == race.name && p.date == race.date) {
                words += wording(": form %1, fitness %2").arg(form(p.form)).arg(qRound(p.fitness));
                if (p.gate)
                    words += wording(", gate %1 to %2").arg(form(p.gate->low), form(p.gate->high));
                if (p.chance)
                    words += wording(", met in %1 of 100 seasons").arg(qRound(100 * *p.chance));
            }
        // While the hand holds something the frame is that of before.
        const int index = static_cast<int>(r);
        const QRectF label = index < scene_.labelCount() ? scene_.labelOf(index).box : QRectF();
        parts.push_back({words + ".", label.isValid() ? label.toRect() : column(race.date, race.date)});
    }
    for (const Away& a : picture_.season.away)
        if (shown(a.from, a.to))
            parts.push_back(
                {wording("Away from %1 to %2: %3.").arg(day(a.from), day(a.to), wording(nameOf(a.why))),
                 scene_.ribbonOf(a).toRect()});
    for (const PlannedWeek& w : picture_.plan.weeks) {
        const Date week = monday(w.start);
        if (!shown(week, week + 6))
            continue;
        parts.push_back({wording("Week of %1: %2, %3 points, %4 hours; fitness %5, form %6 as it ends.")
                             .arg(day(week), wording(nameOf(w.kind)))
                             .arg(qRound(w.stress))
                             .arg(w.hours, 0, 'f', 1)
                             .arg(qRound(w.fitness))
                             .arg(form(w.fitness - w.fatigue)),
                         column(week, week + 6)});
    }
    return parts;
}

void SeasonCanvas::layOut() {
    // Nothing shifts under the hand: while it holds something the frame stays as it was.
    if (hold_ && hold_->moved && hold_->what.part != Part::Nothing)
        return;
    scene_.namesWidth = strataNamesWidth();
    scene_.layOut(picture_, QRectF(rect()), QFontMetricsF(typeface(Type::Small)).height(),
                  raceLabelWidths(picture_), span_);
}

void SeasonCanvas::look(const std::optional<Span>& span) {
    span_ = span;
    if (span_) {
        // Something of the season or the record always stays in sight.
        const Date begin = picture_.record.empty() ? picture_.season.start : picture_.record.begin()->first;
        const int days =
            std::clamp(span_->last - span_->first + 1, SeasonScene::shortest, SeasonScene::longest);
        const Date from = std::clamp(span_->first, std::min(begin, picture_.season.start) - days * 4 / 5,
                                     picture_.season.end - days / 5);
        span_ = Span{from, from + days - 1};
    }
    layOut();
    update();
}

void SeasonCanvas::zoom(double factor) {
    const Date middle = scene_.first + (scene_.last - scene_.first) / 2;
    look(scene_.zoomed(factor, marks_.day ? std::clamp(*marks_.day, scene_.first, scene_.last) : middle));
}

void SeasonCanvas::pinch(double factor, double x) {
    // Fingers move by less than a day: what is left over is kept.
    pinched_ /= factor;
    const Span next = scene_.zoomed(pinched_, scene_.dateAt(x));
    if (next == Span{scene_.first, scene_.last})
        return;
    pinched_ = 1;
    look(next);
}

void SeasonCanvas::slide(double pixels) {
    slid_ += pixels;
    const int days = static_cast<int>(slid_ / scene_.dayWidth());
    if (days == 0)
        return;
    slid_ -= days * scene_.dayWidth();
    pan(-days);
}

void SeasonCanvas::pan(int days) {
    look(scene_.moved(days));
}

void SeasonCanvas::resizeEvent(QResizeEvent*) {
    layOut();
}

void SeasonCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    painter.fillRect(rect(), shore().paper);
    paintSeason(painter, scene_, picture_, marks_, shore());
    // Where the keys go: a line under the view, no box around it.
    if (hasFocus())
        painter.fillRect(QRect(0, height() - 2, width(), 2), shore().tide);
    emit painted();
}

void SeasonCanvas::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    setFocus(Qt::MouseFocusReason);
    SeasonHit hit = scene_.hit(picture_, event->position(), reachOf(*event, SeasonScene::mouseGrip));
    if (hit.part == Part::Nothing)
        return;
    const bool race = hit.race >= 0;
    marks_.day = race ? picture_.season.races[static_cast<size_t>(hit.race)].date : hit.date;
    marks_.race = hit.race;
    race_.reset();
    if (race)
        race_ = RaceKey{picture_.season.races[static_cast<size_t>(hit.race)].name, *marks_.day};
    if (hit.part == Part::Day)
        hit.part = Part::Nothing; // the ground itself
    hold_ = Hold{picture_.subject,
                 picture_.version,
                 hit,
                 picture_.season,
                 picture_.plan,
                 {picture_.season, {}},
                 event->position(),
                 {scene_.first, scene_.last},
                 false};
    tell();
    update();
    emit selected(marks_.day, marks_.race);
}

SeasonEdit SeasonCanvas::drag(QPointF at) const {
    const Hold& h = *hold_;
    const int days = static_cast<int>(std::lround((at.x() - h.from.x()) / scene_.dayWidth()));
    switch (h.what.part) {
    case Part::Race:
        return moveRace(h.before, h.what.race, h.before.races[static_cast<size_t>(h.what.race)].date + days);
    case Part::GateLow:
    case Part::GateHigh:
        return moveGate(h.before, h.plan, h.what.race, h.what.part == Part::GateLow, scene_.formAt(at.y()));
    case Part::PhaseEdge:
        return movePhaseEdge(h.before, h.plan, h.what.date, h.what.date + days);
    case Part::TaperEdge:
        return moveTaper(h.before, h.plan, h.what.date, h.what.date + days);
    case Part::Deload:
        return moveDeload(h.before, monday(h.what.date), scene_.dateAt(at.x()));
    case Part::WeekTop:
        return setWeekHeight(h.before, h.plan, h.what.date, scene_.loadAt(at.y()));
    case Part::Away:
        return moveAway(h.before, h.what.away, days);
    case Part::AwayFrom:
    case Part::AwayTo: {
        const Away& a = h.before.away[static_cast<size_t>(h.what.away)];
        const bool from = h.what.part == Part::AwayFrom;
        return stretchAway(h.before, h.what.away, from, (from ? a.from : a.to) + days);
    }
    case Part::Day:
    case Part::Nothing:
        break;
    }
    return {h.before, {}};
}

void SeasonCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (!hold_) {
        switch (scene_.hit(picture_, event->position()).part) {
        case Part::Race:
        case Part::PhaseEdge:
        case Part::TaperEdge:
        case Part::Deload:
        case Part::Away:
        case Part::AwayFrom:
        case Part::AwayTo:
            setCursor(Qt::SizeHorCursor);
            return;
        case Part::GateLow:
        case Part::GateHigh:
        case Part::WeekTop:
            setCursor(Qt::SizeVerCursor);
            return;
        case Part::Day:
        case Part::Nothing:
            setCursor(Qt::ArrowCursor);
            return;
        }
    }
    const QPointF way = event->position() - hold_->from;
    if (!hold_->moved && way.manhattanLength() < (hold_->what.part == Part::Nothing ? 8 : 3))
        return;
    hold_->moved = true;
    if (hold_->what.part == Part::Nothing) {
        const int days = static_cast<int>(std::lround(-way.x() / scene_.dayWidth()));
        look(Span{hold_->span.first + days, hold_->span.last + days});
        return;
    }
    marks_.holding = true;
    marks_.hand = event->position();
    SeasonEdit edit = drag(event->position());
    const bool other = !sameSeason(edit.season, hold_->now.season);
    hold_->now = std::move(edit);
    if (hold_->what.part == Part::Race)
        marks_.day = hold_->now.season.races[static_cast<size_t>(hold_->what.race)].date;
    if (hold_->what.part == Part::Race && race_)
        race_->date = *marks_.day;
    if (other)
        emit tried(hold_->now.season);
    consequence();
    update();
}

/// What the hand does to the races to come, against what stood when it took hold.
void SeasonCanvas::consequence() {
    if (!hold_ || !marks_.holding)
        return;
    QStringList lines{hold_->now.what.isEmpty() ? wording("As it was") : hold_->now.what};
    if (hold_->what.part == Part::Race)
        lines[0] = QString::fromStdString(
            dayText(hold_->now.season.races[static_cast<size_t>(hold_->what.race)].date));
    for (size_t r = 0; r < picture_.plan.races.size() && lines.size() < 5; ++r) {
        const PlannedRace& race = picture_.plan.races[r];
        if (race.priority == Priority::C || race.date < picture_.today || r >= hold_->plan.races.size())
            continue;
        const PlannedRace& before = hold_->plan.races[r];
        lines << wording("%1: form %2, fitness %3 (%4)")
                     .arg(QString::fromStdString(race.name), QString::fromStdString(signedText(race.form)))
                     .arg(race.fitness, 0, 'f', 1)
                     .arg(QString::fromStdString(signedText(race.fitness - before.fitness)));
        if (race.gateMiss > 0.05)
            lines << wording("   outside its gate by %1").arg(race.gateMiss, 0, 'f', 1);
    }
    marks_.consequence = lines.join('\n');
}

void SeasonCanvas::mouseReleaseEvent(QMouseEvent* event) {
    if (!hold_ || event->button() != Qt::LeftButton)
        return;
    const Hold held = *hold_;
    hold_.reset();
    marks_.holding = false;
    if (held.what.part != Part::Nothing && held.moved) {
        if (!sameSeason(held.now.season, held.before))
            emit changed(held.subject, held.before, held.now.season, held.now.what);
        else
            emit letGo();
    }
    layOut();
    update();
}

void SeasonCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    const SeasonHit hit = scene_.hit(picture_, event->position());
    if (hit.part == Part::Day)
        emit wantsRace(hit.date);
}

void SeasonCanvas::wheelEvent(QWheelEvent* event) {
    const QPoint turn = event->angleDelta();
    if (hold_ || turn.isNull())
        return;
    const bool along = std::abs(turn.x()) > std::abs(turn.y()) || event->modifiers() & Qt::ShiftModifier;
    const double notches = (along && turn.x() != 0 ? turn.x() : turn.y()) / 120.0;
    const int days = scene_.last - scene_.first + 1;
    if (along)
        pan(-static_cast<int>(std::lround(notches * std::max(3, days / 12))));
    else
        look(scene_.zoomed(std::pow(0.8, notches), scene_.dateAt(event->position().x())));
    event->accept();
}

void SeasonCanvas::commit(const SeasonEdit& edit) {
    if (edit.what.isEmpty() || sameSeason(edit.season, picture_.season))
        return;
    emit changed(picture_.subject, picture_.season, edit.season, edit.what);
    emit selected(marks_.day, marks_.race);
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
    if (!marks_.day)
        return;
    emit wantsMenu(*marks_.day, marks_.race, mapToGlobal(at.toPoint()));
}

QString SeasonCanvas::hint(const SeasonHit& hit) const {
    if (hit.race >= 0)
        return wording("%1\nDrag to another day; drag the edges of its gate up or down.",
                       QString::fromStdString(picture_.season.races[static_cast<size_t>(hit.race)].name));
    switch (hit.part) {
    case Part::PhaseEdge:
        return wording("Drag: the phase begins in another week.");
    case Part::TaperEdge:
        return wording("Drag: the taper is longer or shorter.");
    case Part::Deload:
        return wording("Drag: another week is the deload.");
    case Part::WeekTop:
        return wording("Drag: the week carries more or less; its hours follow.");
    case Part::Away:
        return wording("Drag to other days; drag its ends to make it longer or shorter.");
    case Part::AwayFrom:
    case Part::AwayTo:
        return wording("Drag: longer or shorter.");
    default:
        break;
    }
    for (const PlannedDay& d : picture_.plan.days)
        if (d.date == hit.date)
            return wording("%1 %2\n%3 points %4, fitness %5, form %6")
                .arg(QString::fromStdString(weekdayText(d.date)), QString::fromStdString(dayText(d.date)))
                .arg(d.stress, 0, 'f', 0)
                .arg(d.past ? wording("ridden") : wording("planned"))
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

#include "moc_season_canvas.cpp"
