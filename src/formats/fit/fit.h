// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/ride/grid.h"
#include <cstdint>
#include <span>
#include <vector>

namespace marram {

/// Reads a FIT activity file, written from the published protocol: definition and data messages in both byte
/// orders, compressed timestamps, chained files; developer fields and unknown messages are skipped; invalid
/// values are missing. A file cut short gives every whole record and a remark on what was lost. A file whose
/// checksum is wrong, or that is no FIT file, is refused.
/// Never allocates more than a small multiple of the bytes given.
Result<Recording> readFit(std::span<const std::uint8_t> bytes);

/// Writes a recording as a FIT activity file: start, records, a timer stop and start around every pause
/// longer than ten seconds, laps, session and activity with the local time. Samples are in order of time.
std::vector<std::uint8_t> writeFit(const Recording& recording);

} // namespace marram
