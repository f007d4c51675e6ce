// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/learn/values.h"

namespace marram {

/// Rides indoors, and the power that goes with a heart rate there against outdoors: log of power over heart
/// rate indoors less outdoors, in every eight weeks that hold three rides of each and more, all of them
/// weighed by how sure they are. Seasons fall out, heat and fans do not.
LearntValues::Indoors compareIndoors(const std::vector<RideFacts>& rides);

} // namespace marram
