// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_painter.h"

namespace marram {

/// What the inspector says of the selected race, week and day: the numbers, where each comes from, and what
/// limits race day. Rich text. Pure.
QString inspectRace(const SeasonPicture& picture, int race, const std::vector<Limit>& limits,
                    bool limitsReady);
QString inspectDay(const SeasonPicture& picture, Date day);
/// What a race's chances are, in words: how often form is inside the gate, where it and fitness lie. Empty
/// until it is simulated.
QString chanceWords(const SeasonPicture& picture, int race);
/// What changed since last week and why, in three lines; empty without a week to speak of.
QString sinceLastWeek(const SeasonPicture& picture);
/// What an alternative changes, in a table; empty where nothing stands beside the plan.
QString differences(const SeasonPicture& picture);
/// What could not be kept and what the coach should know, for the whole season.
QString inspectSeason(const SeasonPicture& picture);

} // namespace marram
