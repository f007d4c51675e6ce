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
/// again gives the same bytes. What is damaged is left out and named in the answer: a ride whose recording is
/// lost is written without it.
Result<Damage> exportJson(const Roster& roster, const QString& folder, const std::vector<qint64>& riders = {},
                          const Progress& progress = {});

/// Writes the roster as CSV tables into a folder: riders, values, rides, tests, check_ins, races, days. What
/// is damaged is left out and named in the answer.
Result<Damage> exportCsv(const Roster& roster, const QString& folder);

/// Writes a calendar (iCalendar, RFC 5545) for every rider with a season into a folder: races, what is
/// planned for each day from `today` on, and a note a week. What is damaged is left out and named in the
/// answer.
Result<Damage> exportCalendars(const Roster& roster, const QString& folder, Date today);

/// A name as part of a file name: letters and digits of ASCII, the rest as dashes; at most 40.
QString fileNameOf(const QString& name);

/// Looks at everything the roster holds, every recording included: what is damaged, each by name. Takes the
/// time of reading it all; `progress` cancels.
Result<Damage> examine(const Roster& roster, const Progress& progress = {});

/// Makes a new roster of everything that is whole; a ride whose recording is damaged keeps its figures and
/// says so. What was left behind, by name. Refuses a file that exists.
Result<Damage> saveWhole(const Roster& roster, const QString& path, const Progress& progress = {});

/// Brings riders from a roster.json or the file of one rider, with their originals beside, into a roster as
/// new riders: all of it or nothing. Refuses files of other formats or newer versions, unknown keys, and
/// originals that are missing or are not what they should be, naming file and place. Returns the new ids.
Result<std::vector<qint64>> importJson(Roster& roster, const QString& file, const Progress& progress = {});

} // namespace marram
