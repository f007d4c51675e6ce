// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/frame.h"

/// The steps of decideSkeleton() that have a file of their own.
namespace marram {

/// Anchors whatever the coach and the races fix before any block is cut: tapers, recovery, returns, breaks,
/// camps, the cycles of a long year, pins.
void placeAnchors(const Season& season, SeasonFrame& frame);

/// Gives every week its phase, its split, its hard days and the share of its hours it may fill. Asks for
/// kinds and numbered blocks.
void givePhases(const Season& season, SeasonFrame& frame);

} // namespace marram
