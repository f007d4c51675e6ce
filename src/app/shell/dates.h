// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include <QDate>

namespace marram {

/// A day as Qt's date fields have it, and back.
inline QDate toQt(Date d) {
    return QDate(1970, 1, 1).addDays(d.days);
}
inline Date fromQt(QDate d) {
    return fromCivil(d.year(), d.month(), d.day());
}

} // namespace marram
