// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QByteArray>
#include <string>
#include <vector>

/// `marram-cli learn`: what a record says. CSV with a header in, JSON out.
namespace marram::cli {

Result<QByteArray> learnFromRides(const std::vector<std::string>& files);
Result<QByteArray> learnFromResults(const QString& daily, const QString& results,
                                    const std::vector<std::string>& at, std::uint64_t seed);
Result<QByteArray> learnFromForm(const QString& results);
Result<QByteArray> learnFromBestDays(const QString& days);
Result<QByteArray> learnFromEfforts(const QString& efforts, const std::string& split, std::uint64_t seed);
Result<QByteArray> learnFromHabits(const QString& days, std::uint64_t seed);

} // namespace marram::cli
