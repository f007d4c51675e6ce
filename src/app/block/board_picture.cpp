// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/board_picture.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <cmath>

namespace marram {

const BlockSession* BoardDay::ride() const {
    for (const BlockSession& s : sessions)
        if (s.ridden())
            return &s;
    return nullptr;
}

const BoardDay* BoardPicture::day(Date date) const {
    for (const BoardWeek& w : weeks)
        if (date >= w.start && date < w.start + 7)
            return &w.days[static_cast<size_t>(date - w.start)];
    return nullptr;
}

QString capital(const std::string& words) {
    QString s = QString::fromStdString(words);
    if (!s.isEmpty())
        s[0] = s[0].toUpper();
    return s;
}

QString titleOf(const std::string& family, int rung, const QString& unnamed) {
    const Family* of = familyNamed(family);
    const bool single = of && of->rungs.size() == 1;
    const QString name = family.empty() ? QString(unnamed) : wording(QString::fromStdString(family));
    return rung > 0 && !single ? name + QString(" %1").arg(rung) : name;
}

QString lengthText(int seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / 60.0));
    if (minutes < 60)
        return QString("%1 min").arg(minutes);
    return minutes % 60 == 0 ? QString("%1 h").arg(minutes / 60)
                             : QString("%1 h %2").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

namespace {

/// Without what is between repetitions.
std::vector<Item> bare(std::vector<Item> items) {
    for (Item& item : items) {
        item.rest.clear();
        item.part = bare(std::move(item.part));
        // A last rest inside a bracket of one piece of work goes too.
        if (item.part.size() == 2 && item.part[0].count == 0 && item.part[1].count == 0 &&
            meanTarget(item.part[1].step) < 0.6 && item.part[1].step.kind == TargetKind::Power) {
            item.part.pop_back();
            item.bracket = false;
        }
    }
    return items;
}

bool isWork(const Item& item, double lowThreshold) {
    if (item.count == 0)
        return meanTarget(item.step) > lowThreshold;
    for (const Item& part : item.part)
        if (isWork(part, lowThreshold))
            return true;
    return false;
}

} // namespace

QString workText(const Session& session, double lowThreshold) {
    Session work;
    for (const Item& item : session.items)
        if (isWork(item, lowThreshold))
            work.items.push_back(item);
    work.items = bare(std::move(work.items));
    return QString::fromStdString(writeShorthand(work));
}

QString briefWork(const Session& session, double lowThreshold) {
    QStringList parts;
    for (const Item& item : session.items) {
        if (!isWork(item, lowThreshold))
            continue;
        Session one;
        if (item.count == 0)
            one.items.push_back(item);
        else
            one.items = item.part;
        const QString length = lengthText(figuresOf(one, lowThreshold).seconds);
        parts << (item.count > 1 ? QString("%1 × %2").arg(item.count).arg(length) : length);
    }
    return parts.join(", ");
}

QString spanWords(Date from, Date to, Date today) {
    const CivilDate a = toCivil(from), b = toCivil(to);
    const QString last = QString::fromStdString(dayText(to, today));
    return wording("%1 to %2",
                   (a.month == b.month && a.year == b.year ? wording("%1", a.day)
                                                           : QString::fromStdString(dayText(from, today))),
                   last);
}

QString dayWords(const BoardDay& day) {
    const QString name = QString::fromStdString(weekdayText(day.date));
    const BlockSession* ride = day.ride();
    const QString what = !day.race.isEmpty()    ? day.race
                         : ride                 ? titleOf(ride->family, 0)
                         : day.sessions.empty() ? wording("rest")
                                                : titleOf(day.sessions.front().family, 0);
    return wording("%1's %2", name, what);
}

} // namespace marram
