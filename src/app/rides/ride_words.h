// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"

namespace marram {

/// The figures of a ride, each with how it came about. Rich text. Pure.
QString describeRide(const RideRecord& ride, std::optional<double> planned);

} // namespace marram
