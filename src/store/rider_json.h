// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"
#include <QJsonObject>

namespace marram {

/// Everything the roster keeps of one rider, without the bytes of the recordings.
struct RiderFile {
    RiderRecord rider;
    std::optional<Season> season;
    std::vector<SolvedDay> planned;
    std::vector<TestRecord> tests;
    std::vector<CheckIn> checkIns;
    std::vector<RideRecord> rides;
    QStringList originals; ///< of each ride, relative to the folder of the export
};

/// A rider as JSON (docs/formats.md), and read back; a refusal names the place.
QJsonObject writeRider(const RiderFile& file);
Result<RiderFile> readRider(const QJsonObject& json);

} // namespace marram
