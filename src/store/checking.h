// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/exchange.h"

namespace marram {

/// Everything examine() looks at, and besides: rows that are not what was written (by their digests), and
/// figures of rides that are not what their recordings give by the rider's values. Scores every ride again.
Result<Damage> checkWhole(const Roster& roster, const Progress& progress = {});

} // namespace marram
