// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "wording/wording.h"
#include <QDate>
#include <QRegularExpression>

namespace marram {

/// A day as Qt's date fields have it, and back.
inline QDate toQt(Date d) {
    return QDate(1970, 1, 1).addDays(d.days);
}
inline Date fromQt(QDate d) {
    return fromCivil(d.year(), d.month(), d.day());
}

/// How dates stand in fields and under plots, as the language writes them, in Qt's letters.
inline QString dateFormat(bool withWeekday) {
    const QString format = withWeekday ? wording("ddd d MMM yyyy") : wording("d MMM yyyy");
    // A language that is no language, to see what clips, has other letters.
    return format.contains("MMM yyyy") ? format : QString(withWeekday ? "ddd d MMM yyyy" : "d MMM yyyy");
}

/// A sentence with its days written as people write them: files and sentences made for them have 2027-03-22.
inline QString withPeoplesDates(QString sentence, Date today) {
    static const QRegularExpression iso("\\b(\\d{4}-\\d{2}-\\d{2})\\b(?![\\w.-]*\\.(fit|gpx|csv|json))");
    for (auto m = iso.match(sentence); m.hasMatch(); m = iso.match(sentence, m.capturedStart() + 1))
        if (const auto day = parseDate(m.captured(1).toStdString()))
            sentence.replace(m.capturedStart(), m.capturedLength(),
                             QString::fromStdString(dayText(*day, today)));
    return sentence;
}

} // namespace marram
