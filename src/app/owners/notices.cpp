// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/notices.h"

#include <QDate>

namespace marram {
namespace {

Date calendarToday() {
    const QDate now = QDate::currentDate();
    return fromCivil(now.year(), now.month(), now.day());
}

} // namespace

Clock::Clock(QObject* parent) : QObject(parent), today_(calendarToday()) {
    timer_.setInterval(60000);
    connect(&timer_, &QTimer::timeout, this, [this] { look(); });
    timer_.start();
}

void Clock::setToday(Date today) {
    set_ = true;
    if (today == today_)
        return;
    today_ = today;
    emit dayChanged();
}

void Clock::look(std::optional<Date> now) {
    if (set_ && !now)
        return;
    const Date day = now.value_or(calendarToday());
    if (day == today_)
        return;
    today_ = day;
    emit dayChanged();
}

} // namespace marram

#include "moc_notices.cpp"
