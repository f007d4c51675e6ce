// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/keys.h"
#include "wording/wording.h"

namespace marram {

QString keysOf(Place place) {
    if (place == Place::Season)
        return wording(
            "<p>Arrows choose a day (up and down: a week), Page Up and Page Down a race. Shift with"
            " arrows moves what is chosen: a race or days away by a day or a week, a deload by a "
            "week. Alt with up and down makes the week carry more or less; Alt with left and right "
            "moves the edge its phase begins with, or the end of days away. [ and ] make the taper "
            "longer and shorter. Plus and minus or the wheel zoom, Home and End move along, 0 shows"
            " the whole season. Escape lets go of what is dragged, then of what is chosen. "
            "Double-click adds a race.</p>");
    if (place == Place::Block)
        return wording(
            "<p>Arrows choose a day, Page Up and Page Down move the weeks, Home is this week. Shift"
            " with arrows moves the session: the days change places. Plus climbs a rung, minus "
            "steps down; [ and ] shorten and lengthen by five minutes. Return writes the session in"
            " words, F replaces it by a family, N notes a word to the rider. Space pins the day, P "
            "the week, Backspace leaves the day to the block, Delete gives rest. Ctrl+C and Ctrl+V "
            "copy a day, T the week as text. Drag a session to another day; with Ctrl it is "
            "copied.</p>");
    if (place == Place::Rides)
        return wording("<p>Arrows choose a ride. On the trace, drag to move, turn the wheel to zoom, "
                       "double-click for the whole ride. Drop files anywhere here to bring them in.</p>");
    return {};
}

} // namespace marram
