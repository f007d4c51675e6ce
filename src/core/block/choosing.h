// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/choose.h"
#include "core/block/compose.h"
#include "core/session/reserve.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

/// What the choosing of sessions keeps while it goes through the weeks.
namespace marram {

inline constexpr size_t mostFamilies = 4, beamWidth = 24, blockWeeks = 4;
inline constexpr int farthestExtra = 60; ///< ways to add tempo looked at on either side of what is missing
inline constexpr int mostAWeek = 2, mostAtARung = 2, leftAlone = 3;
inline constexpr int mostInSixWeeks = 3; ///< rides of one rung
inline constexpr int restsAtTheEnd = 3;  ///< weeks a family rests when its ladder has ended
/// So many repetitions of a rung may be left out where a day is too short for it, one always stays.
inline int mostFewer(const Session& work) {
    int most = 0;
    for (const Item& item : work.items)
        most = std::max(most, std::min(item.count - 1, 2));
    return most;
}
/// What a day that is not hard holds at most, in seconds (common practice): at 88 % and over, at 105 % and
/// over, tempo.
inline constexpr int easyAt88 = 1800, easyAt105 = 600, mostEasyTempo = 2400;
inline constexpr size_t familyCount = 64; ///< of the book and a coach's own

/// One rung as work to be ridden, counted once.
struct Work {
    Session session;
    int seconds = 0;
    Bands purpose;
    double target = 0;           ///< mean of its work, for the order of the days
    double fourth = 0;           ///< sum of the fourth powers of its seconds
    int bent = 0;                ///< points of threshold it is under its rung, for the rider's reserve
    int warm = 0;                ///< s of warm-up it asks for
    int hard88 = 0, hard105 = 0; ///< s at 88 % and over, at 105 % and over
    int atWork = 0;              ///< s of its work alone
};

inline Work counted(const Session& session, double lowThreshold) {
    const SessionFigures f = figuresOf(session, lowThreshold);
    double work = 0, fourth = 0;
    int seconds = 0, hard88 = 0, hard105 = 0;
    for (const UnfoldedStep& s : f.steps) {
        fourth += s.step.seconds * std::pow(meanTarget(s.step), 4);
        hard88 += meanTarget(s.step) >= 0.88 - 1e-9 ? s.step.seconds : 0;
        hard105 += meanTarget(s.step) >= 1.05 - 1e-9 ? s.step.seconds : 0;
        if (s.work) {
            work += meanTarget(s.step) * s.step.seconds;
            seconds += s.step.seconds;
        }
    }
    return {session, f.seconds, f.purpose,    seconds > 0 ? work / seconds : 0, fourth, 0, warmFor(session),
            hard88,  hard105,   f.workSeconds};
}

/// Where a rider stands in a family.
struct LadderStanding {
    int rung = -1, times = 0, last = -99;
    bool finished = true;
    int above = 0; ///< points of power over the ladder's last rung, for a family that came back after its end
    /// Rungs of its last rides and their weeks, the oldest first.
    std::array<std::pair<signed char, short>, 12> rides = nothingRidden();
    /// A ride at some rung and power: a lighter one passes none.
    void ride(int at, int over, bool light, int week) {
        std::rotate(rides.begin(), rides.begin() + 1, rides.end());
        rides.back() = {static_cast<signed char>(at), static_cast<short>(week)};
        last = week;
        if (light) {
            rung = rung < 0 ? at : rung; // where nothing was known, it goes on from here
            return;
        }
        times = rung == at && above == over && finished ? times + 1 : 1;
        rung = at;
        finished = true;
    }
    /// Whether one ride more of a rung in a week would be one too many in any six weeks.
    bool often(int at, int week) const {
        return std::count_if(rides.begin(), rides.end(), [&](const auto& r) {
                   return r.first == at && week - r.second <= sixWeeks;
               }) >= mostInSixWeeks;
    }
    /// Two rungs down, as after illness or a week off.
    void fall() {
        rung = rung < 0 ? rung : std::max(0, rung - 2);
        times = 0;
    }

private:
    static constexpr int sixWeeks = 6;
    static constexpr std::array<std::pair<signed char, short>, 12> nothingRidden() {
        std::array<std::pair<signed char, short>, 12> none{};
        none.fill({static_cast<signed char>(-1), static_cast<short>(-99)});
        return none;
    }
};

/// LadderStandings in all families before a week, and in the few that its hard days change: cheap to copy.
class LadderStandings {
public:
    explicit LadderStandings(const std::array<LadderStanding, familyCount>& before) : before_(&before) {}
    const LadderStanding& operator[](size_t family) const {
        for (size_t i = 0; i < count_; ++i)
            if (changed_[i].first == family)
                return changed_[i].second;
        return (*before_)[family];
    }
    void set(size_t family, const LadderStanding& now) {
        for (size_t i = 0; i < count_; ++i)
            if (changed_[i].first == family) {
                changed_[i].second = now;
                return;
            }
        changed_[count_++] = {family, now};
    }
    std::array<LadderStanding, familyCount> all() const {
        std::array<LadderStanding, familyCount> out = *before_;
        for (size_t i = 0; i < count_; ++i)
            out[changed_[i].first] = changed_[i].second;
        return out;
    }

private:
    const std::array<LadderStanding, familyCount>* before_;
    std::array<std::pair<size_t, LadderStanding>, 7> changed_; ///< a week has no more hard days
    size_t count_ = 0;
};

struct Chosen {
    size_t day = 0;
    int family = -1, rung = 0;
    std::optional<Lighter> lighter; ///< how it is eased in a lighter week; such a ride passes no rung
    int fewer = 0;                  ///< repetitions left out where the day holds no more; the ladder goes on
    bool asWritten = false;         ///< pinned at its rung: as the coach wrote it
    int above = 0;                  ///< points of power over its rung, of a ladder that ended and came back
    bool again = false;             ///< of a ladder that ended: its last rungs in turn, for want of another
};

struct State {
    std::array<LadderStanding, familyCount> at{};
    std::array<bool, familyCount> used{};
    size_t usedCount = 0;
    double cost = 0, high = 0, middle = 0, time = 0; ///< seconds over what was wanted, and ridden, so far
    std::vector<std::vector<Chosen>> picks;
    std::vector<int> longTempo;
    int tempoReached = 0; ///< s of tempo late in the last long ride that had some
};

} // namespace marram
