// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/chosen_rider.h"

namespace marram {

/// Tells when anything of the chosen rider's record may have become another, for whoever reads it from the
/// file beside the interface; what is told of is on disk. `closing` comes while the file is still there.
class RecordWatch : public QObject {
    Q_OBJECT
public:
    RecordWatch(OpenRoster& roster, ChosenRider& rider, Clock& clock, QObject* parent = nullptr);

signals:
    void changed();
    void closing();
};

} // namespace marram
