// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"
#include <functional>

namespace marram {

/// Called with done and total rides; returning false cancels.
using Progress = std::function<bool(int, int)>;

/// Writes riders (all where `riders` is empty) as documented JSON into a folder: roster.json, a file for each
/// rider under riders/, and the original recordings under originals/ by the SHA-256 of their content. Files
/// are for their owner only; each is whole or not there. Reading it all into an empty roster and writing
/// again gives the same bytes.
Result<void> exportJson(const Roster& roster, const QString& folder, const std::vector<qint64>& riders = {},
                        const Progress& progress = {});

/// Writes the roster as CSV tables into a folder: riders, values, rides, tests, check_ins, races, days.
Result<void> exportCsv(const Roster& roster, const QString& folder);

/// Brings riders from a roster.json or the file of one rider, with their originals beside, into a roster as
/// new riders: all of it or nothing. Refuses files of other formats or newer versions, unknown keys, and
/// originals that are missing or are not what they should be, naming file and place. Returns the new ids.
Result<std::vector<qint64>> importJson(Roster& roster, const QString& file, const Progress& progress = {});

} // namespace marram
