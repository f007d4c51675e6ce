// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/ahead.h"
#include <QByteArray>
#include <QJsonArray>
#include <QJsonObject>

namespace marram {

/// Reads a season as docs/formats.md describes it. Refuses by name whatever is unknown, missing or out of
/// range.
Result<Season> readSeason(const QByteArray& json);

/// The same from an object already parsed, not checked for whether a season can be made from it.
Result<Season> seasonFrom(const QJsonObject& json);
/// A season as readSeason reads it.
QJsonObject writeSeason(const Season& season);
/// A course as pairs [metres from the start, metres above the sea].
QJsonArray writeCourse(const std::vector<CoursePoint>& course);

/// The rules of a season alone, as the roster file keeps them: read and written without loss.
Result<Rules> readRules(const QJsonObject& json, const QString& where);
QJsonObject writeRules(const Rules& rules);

/// A season's object with another laid over it: any of the rules' keys replaces the season's, `weeks` and
/// `away` are added, `races` too, and one of the same name replaces the season's. Refuses any other key by
/// name.
Result<QJsonObject> laidOver(const QJsonObject& season, const QJsonObject& rules);

/// Chances of a season's races as JSON text.
QByteArray writeChances(const std::vector<RaceChance>& chances);

/// A plan as JSON text, full precision, keys in snake_case with the unit at the end.
QByteArray writePlan(const Plan& plan);

} // namespace marram
