// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/rider/units.h"

#include <QByteArray>
#include <QVariant>
#include <utility>
#include <vector>

namespace marram {

/// What a coach may set, each described once: its row on the page, its range, what it is until changed and
/// its place in the exported file follow from this table. Kept in the desktop's config folder; what is as
/// usual is not kept at all.
struct Setting {
    enum class Kind { Switch, Number, Choice, Folder };
    const char* key;
    const char* group;
    const char* name;
    const char* what; ///< a sentence
    const char* also; ///< other words it is looked for by
    Kind kind;
    QVariant usual;
    std::vector<std::pair<const char*, const char*>> choices; ///< as kept, and in words
    double low = 0, high = 0, step = 1;
    const char* unit = "";
};

/// Every setting, in the order of the page.
const std::vector<Setting>& settings();
/// The one of this key; the programme ends where there is none, a mistake of ours.
const Setting& settingOf(const char* key);

/// What is set: as usual where nothing is, or what is kept is out of its range.
QVariant setting(const char* key);
bool isUsual(const Setting& setting);
/// Sets it; the usual value is forgotten rather than kept.
void setSetting(const Setting& setting, const QVariant& value);
/// Why a value can't be set, in a sentence; empty where it can.
QString whyNot(const Setting& setting, const QVariant& value);

/// All that is not as usual, as a file for another desktop; and from such a file, all of it or, with the
/// reason, nothing. Returns how many were set.
QByteArray settingsAsFile();
Result<int> settingsFromFile(const QByteArray& file);

/// The units chosen; by the desktop's region until somebody chooses.
Units shownUnits();
/// The first day of calendars and of hours by weekday, chosen likewise; weeks of training stay Monday's.
Qt::DayOfWeek firstWeekday();

/// What the desktop asks of every window: a dark or a strong theme, nothing that moves by itself.
struct DesktopWish {
    bool dark = false, strong = false, still = false;
};
/// Asked once, of the desktop's portal over the session's bus; what it does not say, or has no bus, is false.
const DesktopWish& desktopWish();

} // namespace marram
