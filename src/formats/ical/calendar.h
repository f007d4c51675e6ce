// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include <QByteArray>
#include <QString>
#include <map>

namespace marram {

/// What of a season goes into a calendar.
struct CalendarParts {
    bool races = true, days = true, weeks = true;
    std::map<Date, QString> sessions; ///< what is done on a day, in words
};

/// A rider's season as an iCalendar file (RFC 5545): races, planned days from `from` on with what to do, and
/// a note for every week. All of it lasts whole days and takes up no time. `key` tells riders apart, so that
/// a calendar that is read again replaces what it held; `stamp` is the day it was written.
QByteArray writeCalendar(const QString& rider, const QString& key, const Season& season, const Plan& plan,
                         Date from, Date stamp, const CalendarParts& parts = {});

/// The sessions of a block, each on its day with what to do in words.
QByteArray writeCalendar(const SessionBlock& block, Date stamp, const QString& rider = "Sessions",
                         const QString& key = {});
/// A session in words: family, what is ridden, what ends it and a word to the rider.
QString sessionInWords(const BlockSession& session);

/// What a planned day asks, in words: "Hard, 1.5 h, 95 points". Empty for a day of rest.
QString dayInWords(const PlannedDay& day);

} // namespace marram
