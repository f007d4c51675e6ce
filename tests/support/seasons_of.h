// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/records.h"

namespace marram::test {

/// A season in force of a rider, not stored yet.
inline SeasonRecord inForce(qint64 rider, const Season& season) {
    SeasonRecord r;
    r.rider = rider;
    r.season = season;
    return r;
}

} // namespace marram::test
