// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_picture.h"
#include <functional>

/// What a coach does on the board, as changes of a season: each returns the season as it would be, and leaves
/// it as it was where the day is not open to it.
namespace marram {

/// What lies on a day, so that it lies the same elsewhere: the ride by family, rung and length, or in words.
struct DayContent {
    std::string family = "rest", words, note;
    std::optional<int> rung, minutes;
};
DayContent contentOf(const BoardDay& day);

/// The pin of a day changed; one that says nothing is taken out.
Season withSession(Season season, Date day, const std::function<void(SessionPin&)>& change);
/// What is on two days changes places.
Season swapped(const BoardPicture& picture, Date a, Date b);
/// What is on one day also lies on another.
Season copied(const BoardPicture& picture, Date from, Date to);
/// The day holds this, whatever was there.
Season withContent(const BoardPicture& picture, Date day, const DayContent& content);
/// A rung up or down; 0 where the day has no ladder.
Season climbed(const BoardPicture& picture, const FamilyBook& book, Date day, int rungs);
/// Longer or shorter by minutes, 15 min to 12 h.
Season lengthened(const BoardPicture& picture, Date day, int minutes);
/// Nothing is said of the day any more; its note and verdict stay.
Season freed(const BoardPicture& picture, Date day);
/// Every day of a week stays as it is shown, or none is pinned where all are.
Season weekPinned(const BoardPicture& picture, Date monday);
/// The week after a race or before one as the trade has it, or the first weeks after a lay-off.
/// Race week that matters: rest on Monday, easy on Tuesday and Thursday, half the repetitions on Wednesday,
/// rest on Friday where there is a day between, openers the day before. Train-through: rest on Monday, hard
/// on Tuesday, endurance short till the race (common practice).
Season raceWeek(const BoardPicture& picture, Date monday, bool matters);
/// Four weeks after a lay-off: two of endurance alone, then drills, then one tempo a week (common practice).
Season layOffWeeks(const BoardPicture& picture, Date monday);

} // namespace marram
