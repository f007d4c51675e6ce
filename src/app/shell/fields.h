// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/settings/settings.h"
#include "app/shell/dates.h"

#include <QCalendarWidget>
#include <QDateEdit>
#include <QDoubleSpinBox>

namespace marram {

/// A field for one number: right-aligned with its unit once, no buttons, taken when it is finished. `name` is
/// what tests call it, `spoken` what screen readers do, where no label beside it says so.
inline QDoubleSpinBox* numberField(double low, double high, double step, int decimals, const QString& unit,
                                   const QString& name, const QString& spoken = {}) {
    auto* box = new QDoubleSpinBox;
    box->setRange(low, high);
    box->setSingleStep(step);
    box->setDecimals(decimals);
    box->setSuffix(unit);
    box->setAlignment(Qt::AlignRight);
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setKeyboardTracking(false);
    box->setObjectName(name);
    box->setAccessibleName(spoken);
    return box;
}

/// Shows a field's date as the language writes one.
inline void showAsDate(QDateEdit* field, bool withWeekday = true) {
    field->setDisplayFormat(dateFormat(withWeekday));
}

/// Lets a date be chosen from a calendar whose weeks begin as it is set.
inline void openCalendar(QDateEdit* field) {
    field->setCalendarPopup(true);
    field->calendarWidget()->setFirstDayOfWeek(firstWeekday());
}

} // namespace marram
