// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/session/session.h"

namespace marram {

/// Where a shorthand can't be read.
struct ShorthandMistake {
    int place = 0;        ///< character, counted from 1, letters and signs alike
    std::string sentence; ///< what is wrong and what would be right, without the place
};

/// Reads a session as a coach says it aloud:
///   3 × 8 min 110 with 5 min 50 between, 10 min 50
///   session = item {"," item}
///   item    = step | count ("×"|"x") (step | "(" item {"," item} ")") ["with" rest "between"]
///   rest    = step | "(" step {"," step} ")"
///   step    = length target ["at" whole ["to" whole] "rpm"] [note]
///   length  = number "h" [number "min"] [number "s"] | number "min" [number "s"] | number "s"
///   target  = number ["%"] ["to" number ["%"]] | "all" "out" | "effort" whole
/// Case and spaces are free. Targets are percent of threshold power, 20–300; efforts 1–10; cadence 20–200
/// rpm; counts 1–99; repetitions nest two deep; lengths are whole seconds; at most 24 h and 2000 steps.
tl::expected<Session, ShorthandMistake> readShorthand(const std::string& text);

/// Writes a session back: ×, no %, seconds under 120 s except "1 min". Reading it again gives the same
/// session.
std::string writeShorthand(const Session& session);
/// One step alone.
std::string writeShorthand(const Step& step);

/// Shorthand with its few words in the language in force, to be read by people: "3 × 8 min 106 mit 5 min 50
/// dazwischen". Files and rosters keep the English words. Notes in quotation marks stay as they are.
std::string spokenShorthand(const std::string& shorthand);
/// The way back, for what somebody typed; English words are taken in every language.
std::string writtenShorthand(const std::string& spoken);

} // namespace marram
