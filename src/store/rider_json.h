// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/review/caution.h"
#include "records/records.h"
#include <QJsonObject>

namespace marram {

/// Names of what a rider needs care for, as files have them.
QJsonArray careArray(const RiderCare& care);

/// Everything the roster keeps of one rider, without the bytes of the recordings.
struct RiderFile {
    RiderRecord rider;
    struct PlannedSeason {
        SeasonRecord record; ///< ids count from 1 in the order of the file
        std::vector<SolvedDay> days;
        std::vector<MeantSession> meant;
    };
    std::vector<PlannedSeason> seasons;
    std::vector<TestRecord> tests;
    std::vector<CheckIn> checkIns;
    std::map<Date, QString> letters; ///< the coach's words, by the Monday of their week
    std::vector<NotedCaution> noted;
    std::vector<RideRecord> rides;
    QStringList originals; ///< of each ride, relative to the folder of the export; empty for one that is lost
};

/// A rider as JSON (docs/formats.md), and read back; a refusal names the place. Version 1, of one season, is
/// read too.
QJsonObject writeRider(const RiderFile& file);
Result<RiderFile> readRider(const QJsonObject& json);

} // namespace marram
