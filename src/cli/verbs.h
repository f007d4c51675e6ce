// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/course/course.h"
#include "core/load/load.h"
#include "core/rider/rider.h"
#include "core/season/ahead.h"
#include <QByteArray>
#include <QString>

/// What each verb of marram-cli prints (docs/formats.md), or the sentence that refuses.
namespace marram::cli {

/// Text on one line, ending in a full stop.
std::string oneLine(std::string text);

struct ScoreRequest {
    double thresholdPower = 0;                                             ///< W
    std::optional<double> thresholdHeartRate, restHeartRate, maxHeartRate; ///< bpm
    Sex sex = Sex::Unstated;
    double lowThreshold = defaultLowThreshold;
};
Result<QByteArray> score(const QString& file, const ScoreRequest& request);

Result<QByteArray> curve(const QString& file);

struct ModelRequest {
    TimeConstants tau;
    LoadState before;
};
Result<QByteArray> model(const QString& file, const ModelRequest& request);

/// Prints the plan; with a folder also writes plan.json, weeks.csv and days.csv there, with `lp` the last
/// programme solved. Nothing is written when the season is refused.
Result<QByteArray> plan(const QString& file, const QString& folder, const std::string& lp);

/// The season as it is and with each file of rules laid over it, a row of figures each, as CSV.
/// `equalStress` adds figures that schools can be compared by: each variant solved again with its volume
/// scaled until the season's stress is that of the first.
Result<QByteArray> compare(const QString& file, const std::vector<std::string>& rules, bool equalStress);

/// Race-day form and fitness when planned days are missed (core/season/ahead.h).
Result<QByteArray> chance(const QString& file, const Misses& misses);

struct CourseRequest {
    double thresholdPower = 0; ///< W
    Moving rider;
    std::optional<double> intensity;
};
/// What a course (.gpx) asks of a rider.
Result<QByteArray> course(const QString& file, const CourseRequest& request);

Result<QByteArray> demo(const QString& out);

Result<QByteArray> import(const QString& roster, const QString& rider, const std::vector<std::string>& files,
                          const std::string& overlap, bool takeStrangers);

/// Writes a roster as JSON with its originals, or as CSV tables, into a folder. Of a damaged roster what is
/// whole is written, what is not is named on standard error, and the answer refuses.
Result<QByteArray> exportRoster(const QString& roster, const QString& jsonFolder, const QString& csvFolder,
                                const QString& icsFolder);

struct SessionRequest {
    std::string shorthand;
    std::optional<double> thresholdPower; ///< W
    double lowThreshold = defaultLowThreshold;
    std::string fit; ///< a FIT workout file to write, or empty
};
/// A session as JSON. Refuses a mistake with the character it stands at.
Result<QByteArray> session(const SessionRequest& request);

struct BlockRequest {
    QString season, from, done, meant, fitFolder, calendar;
    int weeks = 4;
};
/// The sessions of some weeks as JSON; writes FIT workouts and a calendar where they are asked for.
Result<QByteArray> block(const BlockRequest& request);

/// What of a roster is damaged or does not agree with what it was made of, a line each; `whole` where nothing
/// is.
Result<QByteArray> check(const QString& roster, bool& whole);
/// Makes the copy of the day of a roster, lists its copies, or restores the one of a day as a new file.
Result<QByteArray> backup(const QString& roster, bool list, const QString& restore, const QString& to);

/// Brings exported riders (roster.json or one rider's file) into a roster, which is made where it is not
/// there.
Result<QByteArray> bring(const QString& roster, const QString& file);

} // namespace marram::cli
