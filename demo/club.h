// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"

#include <functional>

namespace marram {

class Dice;

/// What life did with a planned day.
struct Lived {
    double part = 1; ///< of the session that was ridden; 0 for not at all
    double legs = 1;
    double extra = 1;        ///< factor on intended stress
    bool power = true;       ///< the power meter was on the bike
    bool strap = true;       ///< the heart-rate strap was worn
    bool saysEffort = false; ///< the rider gave a session effort
};

/// A test ridden on a day, in the rider's own time.
struct DemoTest {
    int daysAgo = 0;
    Protocol protocol = Protocol::TwentyMinutes;
};

/// One rider of the club with their story: what is known, what was planned, what life made of it.
struct DemoRider {
    RiderRecord record; ///< thresholds are those the coach believed; tests add to them
    int historyDays = 0;
    std::optional<Season> behind, ahead;
    std::vector<DemoTest> tests;
    std::function<Lived(int daysAgo, Dice&)> live;
    std::function<CheckIn(int daysAgo, double form, Dice&)> checkIn; ///< none where not set
    int checkInDays = 0;
    std::map<int, QString> rideNotes; ///< by days ago
    std::uint64_t seed = 0;
};

/// The Dunmarrow Wheelers: six riders of an invented club on an invented sandy coast, as of `today`.
std::vector<DemoRider> demoClub(Date today);

} // namespace marram
