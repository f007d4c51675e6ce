// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_canvas.h"
#include "records/merge.h"
#include "wording/wording.h"

#include <QKeyEvent>
#include <algorithm>
#include <cmath>

namespace marram {

/// What is chosen, moved by keys. True where the key was one of those.
bool SeasonCanvas::editByKey(QKeyEvent* event) {
    const bool shift = event->modifiers() & Qt::ShiftModifier, alt = event->modifiers() & Qt::AltModifier;
    const int key = event->key();
    const int along = key == Qt::Key_Left ? -1 : key == Qt::Key_Right ? 1 : 0;
    const int step = along != 0 ? along : key == Qt::Key_Up ? -7 : key == Qt::Key_Down ? 7 : 0;
    if (!marks_.day || hold_)
        return false;
    const Date day = *marks_.day, week = monday(day);
    const PlannedWeek* planned = nullptr;
    for (const PlannedWeek& w : picture_.plan.weeks)
        if (monday(w.start) == week)
            planned = &w;
    int away = -1;
    for (size_t i = 0; i < picture_.season.away.size(); ++i)
        if (picture_.season.away[i].from <= day && day <= picture_.season.away[i].to)
            away = static_cast<int>(i);
    if (shift && step != 0 && marks_.race >= 0) {
        const SeasonEdit edit = moveRace(picture_.season, marks_.race, day + step);
        marks_.day = edit.season.races[static_cast<size_t>(marks_.race)].date;
        if (race_)
            race_->date = *marks_.day;
        commit(edit);
        return true;
    }
    if (shift && step != 0 && away >= 0) {
        const SeasonEdit edit = moveAway(picture_.season, away, step);
        marks_.day = day + (edit.season.away[static_cast<size_t>(away)].from -
                            picture_.season.away[static_cast<size_t>(away)].from);
        commit(edit);
        return true;
    }
    if (shift && along != 0 && planned && planned->kind == WeekKind::Deload) {
        marks_.day = day + 7 * along;
        commit(moveDeload(picture_.season, week, week + 7 * along));
        return true;
    }
    if (alt && step != 0 && along == 0 && planned) {
        commit(setWeekHeight(picture_.season, picture_.plan, week,
                             planned->stress * (key == Qt::Key_Up ? 1.05 : 0.95)));
        return true;
    }
    if (alt && along != 0 && away >= 0) {
        commit(stretchAway(picture_.season, away, false,
                           picture_.season.away[static_cast<size_t>(away)].to + along));
        return true;
    }
    if (alt && along != 0) {
        // The edge its phase begins with.
        for (size_t w = picture_.plan.weeks.size(); w-- > 1;) {
            const PlannedWeek &at = picture_.plan.weeks[w], &last = picture_.plan.weeks[w - 1];
            if (monday(at.start) > week || at.phase == last.phase)
                continue;
            const Date edge = monday(at.start);
            commit(at.phase == Phase::Taper
                       ? moveTaper(picture_.season, picture_.plan, edge, edge + along)
                       : movePhaseEdge(picture_.season, picture_.plan, edge, edge + 7 * along));
            break;
        }
        return true;
    }
    if (key == Qt::Key_BracketLeft || key == Qt::Key_BracketRight) {
        SeasonEdit edit{picture_.season, {}};
        edit.season.rules.taperDays =
            std::clamp(picture_.season.rules.taperDays + (key == Qt::Key_BracketLeft ? 1 : -1), 4, 28);
        edit.season.rules.taperBest = false;
        edit.season.rules.taperSet = true;
        edit.what = wording("A taper of %1 days").arg(edit.season.rules.taperDays);
        commit(edit);
        return true;
    }
    return false;
}

void SeasonCanvas::stepDay(int days) {
    const Date from = marks_.day.value_or(picture_.today);
    const Date to = std::clamp(from + days, std::min(scene_.first, picture_.season.start),
                               std::max(scene_.last, picture_.season.end));
    int race = -1;
    for (size_t r = 0; r < picture_.season.races.size(); ++r)
        if (picture_.season.races[r].date == to)
            race = static_cast<int>(r);
    select(to, race);
    emit selected(marks_.day, marks_.race);
}

/// The next race in time, or the one before.
void SeasonCanvas::stepRace(bool forward) {
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
    if (best < 0)
        return;
    select(picture_.season.races[static_cast<size_t>(best)].date, best);
    emit selected(marks_.day, marks_.race);
}

void SeasonCanvas::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && hold_) {
        release();
        return;
    }
    if (editByKey(event))
        return;
    const int days = scene_.last - scene_.first + 1;
    switch (event->key()) {
    case Qt::Key_Escape:
        if (!marks_.day)
            break;
        select(std::nullopt, -1);
        emit selected(marks_.day, marks_.race);
        return;
    case Qt::Key_Left:
        return stepDay(-1);
    case Qt::Key_Right:
        return stepDay(1);
    case Qt::Key_Up:
        return stepDay(-7);
    case Qt::Key_Down:
        return stepDay(7);
    case Qt::Key_PageDown:
        return stepRace(true);
    case Qt::Key_PageUp:
        return stepRace(false);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoom(0.8);
    case Qt::Key_Minus:
        return zoom(1.25);
    case Qt::Key_0:
        return look(std::nullopt);
    case Qt::Key_Home:
        return pan(-days / 4);
    case Qt::Key_End:
        return pan(days / 4);
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

} // namespace marram
