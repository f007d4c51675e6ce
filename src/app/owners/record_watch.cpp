// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/record_watch.h"

namespace marram {

RecordWatch::RecordWatch(OpenRoster& roster, ChosenRider& rider, Clock& clock, QObject* parent)
    : QObject(parent) {
    connect(&roster, &OpenRoster::closing, this, &RecordWatch::closing);
    connect(&roster, &OpenRoster::touched, this, [this, &rider](const Touched& what) {
        if (what.rider == 0 || what.rider == rider.id())
            emit changed();
    });
    connect(&roster, &OpenRoster::planKept, this, [this, &rider](qint64 season) {
        if (season == rider.seasonId())
            emit changed();
    });
    connect(&roster, &OpenRoster::heardKept, this, [this, &rider](qint64 whose) {
        if (whose == rider.id())
            emit changed();
    });
    connect(&rider, &ChosenRider::settled, this, &RecordWatch::changed);
    connect(&clock, &Clock::dayChanged, this, &RecordWatch::changed);
}

} // namespace marram

#include "moc_record_watch.cpp"
