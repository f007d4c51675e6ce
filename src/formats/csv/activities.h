// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include <QByteArray>
#include <QByteArrayList>
#include <optional>
#include <vector>

namespace marram {

/// Which column of a list holds what, counted from 0; -1 for none.
struct ActivityColumns {
    int day = -1, file = -1, name = -1, effort = -1, note = -1;
    /// A list says when, and something about it.
    bool usable() const { return (day >= 0 || file >= 0) && (name >= 0 || effort >= 0 || note >= 0); }
    bool operator==(const ActivityColumns&) const = default;
};

/// One line of a list of activities.
struct Activity {
    int line = 0;
    std::optional<Date> day;
    std::optional<int> second;    ///< of the day, as the list has it: local or UTC
    QByteArray file;              ///< name of the recording without folders; empty for none
    QByteArray name, note;        ///< UTF-8
    std::optional<double> effort; ///< CR-10
};

/// What a CSV looks like that may be a list: its header and the first lines.
struct ActivityHead {
    QByteArrayList columns;
    std::vector<QByteArrayList> rows; ///< three at most
};
/// The head of a table of text; nothing for what is none, and for recordings (their header names times and
/// channels).
std::optional<ActivityHead> activityHead(const QByteArray& text);

/// Columns by their usual names (date, name, effort, note …); what is not recognised stays -1.
ActivityColumns recognisedColumns(const QByteArrayList& header);

/// Reads a list by its columns. A day reads like 2027-01-04, 4.1.2027, 4/1/2027 or "Jan 4, 2027", with or
/// without a time behind it; where every line of a list with slashes fits, a day over 12 in second place says
/// that months come first. Lines without a day or a file name are left out and counted. Refuses a list none
/// of whose lines has one, and text that is not UTF-8.
struct ActivityList {
    std::vector<Activity> activities;
    int unread = 0;
};
Result<ActivityList> readActivities(const QByteArray& text, const ActivityColumns& columns);

} // namespace marram
