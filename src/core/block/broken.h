// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"

namespace marram {

/// Says of each session of a block what was replaced in it and what it breaks of the rules of placing, a
/// sentence each: hard days running, a family more than twice a week, a rung skipped, a day too short, a test
/// within two days of a hard one, gym before a race, tempo in the long ride beside a hard day, and where the
/// rider's W′ is known what would leave under a tenth of it. Rules: common practice.
void findBroken(const Season& season, const Plan& plan, const BlockBasis& basis, SessionBlock& block);

} // namespace marram
