// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/held.h"

#include <algorithm>
#include <numeric>

namespace marram {
namespace {

/// Hours of middle time: sets of a hard day, high ones counted; tempo on an easy day; late in the long ride,
/// in weeks under six hours (common practice).
constexpr double mostSets = 55.0 / 60, easyTempo = 40.0 / 60, longTempo = 1, shortLongTempo = 20.0 / 60;
/// Riding in and out of the sets of a hard day, in hours, and the parts of what is left that rungs of high
/// work and of any work fill on the mean of the weeks in which their ladders are climbed (docs/model.md).
constexpr double around = 0.22, highPart = 0.64, setsPart = 0.75;
/// Hours of a warm-up that lie over the low threshold, and of the shortest ride with one.
constexpr double warmTempo = 290.0 / 3600, shortestWarmed = 0.5;
/// The part of the sets that high work may take from the middle where both are wanted.
constexpr double mostSetsByHigh = 0.65;
/// Before a race a rung is ridden with a repetition fewer, and a hard day is of one kind or the other: the
/// part of the sets that is left, and what an hour of high work takes of it (docs/model.md).
constexpr double easedSets = 0.65, easedTaken = 1.4;

/// Hours over the low band that sessions hold in a week by the rungs reached until then: high and all sets of
/// a hard day, tempo of an easy day, tempo late in a long ride.
struct Held {
    double high = 0, middle = 0, easy = 0, longRide = 0;
};

Held heldBy(const WeekFrame& week) {
    // From the rung a rider begins on, a rung every other session; minutes of sets with their rests
    // (docs/model.md).
    const double climbed = week.practised, lower = week.newcomer ? 6 : 0;
    return {std::min(week.highMost, std::min(highHoursPerHardDay, (30 + 2.4 * climbed) / 60) - lower / 60),
            std::min(mostSets, (38 - lower + 2.2 * climbed) / 60),
            std::min(easyTempo, (26 - lower + 1.8 * climbed) / 60),
            std::min(longTempo, (30 - lower + 5 * climbed) / 60)};
}

} // namespace

Bands Room::of(double wantedHigh, double wantedMiddle) const {
    const double taken =
        eased ? easedTaken : setsPart / highPart; // of the sets' room by an hour of high work
    const double rest = std::max(0.0, wantedMiddle - tempo);
    const double byHigh = eased ? 1.2 * sets / taken : std::max(sets - rest, mostSetsByHigh * sets) / taken;
    Bands got{0, 0, std::min({wantedHigh, high, byHigh})};
    got.middle = std::max(warmUp, std::min(wantedMiddle, tempo + std::max(0.0, sets - got.high * taken)));
    return got;
}

/// Middle time that is no hard day's: tempo on two easy days, and late in a long ride that lies beside no
/// hard one and no race.
static bool takesTempo(const SeasonFrame& frame, int d, Role role) {
    return d >= 0 && d < static_cast<int>(frame.days.size()) && !frame.staysLow(d, role) &&
           frame.days[static_cast<size_t>(d)].hours > 0;
}

/// What the hard days of a week hold.
static void addHard(const Held& held, const std::array<Role, 7>& roles, const std::array<double, 7>& rides,
                    Room& room) {
    for (size_t i = 0; i < 7; ++i) {
        if (roles[i] != Role::Hard)
            continue;
        room.high += std::clamp(highPart * (rides[i] - around), 0.0, held.high);
        room.sets +=
            std::clamp(setsPart * (rides[i] - around), 0.0, (room.eased ? easedSets : 1) * held.middle);
        room.warmUp += rides[i] >= shortestWarmed ? warmTempo : 0;
    }
}

Room roomOf(const Season& season, const SeasonFrame& frame, const WeekFrame& week,
            const std::array<Role, 7>& roles, const std::array<double, 7>& rides) {
    Room room;
    room.eased = week.kind == WeekKind::Taper || week.kind == WeekKind::Race;
    const Held held = heldBy(week);
    const double total = std::accumulate(rides.begin(), rides.end(), 0.0);
    addHard(held, roles, rides, room);
    room.tempo = room.warmUp;
    if (week.kind != WeekKind::Build)
        return room; // never in a lighter week
    int days = 0;
    for (size_t i = 0; i < 7; ++i) {
        if (!takesTempo(frame, week.start + static_cast<int>(i) - season.start, roles[i]))
            continue;
        // Of weeks that follow each other Sunday lies beside Monday.
        const auto is = [&](Role role) { return roles[(i + 6) % 7] == role || roles[(i + 1) % 7] == role; };
        const bool beside = is(Role::Hard) || is(Role::Race);
        const double before = room.tempo;
        if (roles[i] == Role::Long && !beside && rides[i] >= 1.75)
            room.tempo += total >= 6 ? held.longRide : shortLongTempo;
        else if (roles[i] == Role::Easy && !beside && rides[i] >= 0.75 && days++ < 2)
            room.tempo += std::min(held.easy, rides[i] - 0.4);
        room.besideTest += is(Role::Test) ? room.tempo - before : 0;
    }
    return room;
}

} // namespace marram
