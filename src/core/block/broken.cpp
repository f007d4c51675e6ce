// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/broken.h"
#include "core/session/reserve.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace marram {
namespace {

constexpr double leastLeft = 0.1; ///< of W′

bool asksAll(const BlockSession& s) {
    return s.role == Role::Hard || s.role == Role::Test;
}

/// What a pin, a race or the record contradicts, session by session in their order.
class Breaks {
public:
    Breaks(const Season& season, const Plan& plan, const BlockBasis& basis) : season_(season), basis_(basis) {
        for (const PlannedDay& d : plan.days)
            days_[d.date] = &d;
        for (const DoneRung& d : basis.done)
            reached_[d.family] = std::max(reached_[d.family], d.rung);
    }

    void nextWeek() { count_.clear(); }

    void look(BlockSession& s) {
        // A week that stays as it was brings the sentences of before.
        s.broken.clear();
        if (!s.replaced.empty())
            s.broken.push_back(s.replaced);
        if (asksAll(s))
            besideHard(s);
        gym(s);
        length(s);
        if (s.rung > 0 && asksAll(s) && s.role != Role::Test)
            ladder(s);
        reserve(s);
        if (asksAll(s))
            hardBefore_ = &s;
    }

private:
    static void say(BlockSession& s, const std::string& sentence) {
        if (std::find(s.broken.begin(), s.broken.end(), sentence) == s.broken.end())
            s.broken.push_back(sentence);
    }

    void besideHard(BlockSession& s) const {
        if (hardBefore_ && s.date - hardBefore_->date == 1 && (s.pinned || hardBefore_->pinned))
            say(s, phrase("A hard day straight after another."));
        if (s.role == Role::Test && hardBefore_ && s.date - hardBefore_->date < 2 && s.pinned)
            say(s, phrase("A test wants two days after the last hard one."));
        for (const Race& race : season_.races)
            if (race.priority != Priority::C && race.date - s.date == 1 && s.pinned)
                say(s, phrase("A hard day on the eve of %1.", race.name));
    }

    void gym(BlockSession& s) const {
        if (s.role == Role::Gym || s.family == "strength")
            for (const Race& race : season_.races) {
                const int before = race.date - s.date;
                if ((race.priority == Priority::A && before > 0 && before <= 6) ||
                    (race.priority == Priority::B && before > 0 && before <= 2))
                    say(s, phrase("Gym %1 days before %2.", std::to_string(before), race.name));
            }
    }

    void length(BlockSession& s) const {
        const auto planned = days_.find(s.date);
        if (s.pinned && planned != days_.end() && s.ridden() &&
            s.seconds > 3600 * planned->second->availableHours + 60)
            say(s, phrase("Longer than the day: it has %1 min.",
                          std::to_string(std::lround(60 * planned->second->availableHours))));
        if (s.role == Role::Long && s.pinned && s.figures.purpose.middle > 600)
            for (const int side : {-1, 1}) {
                const auto beside = days_.find(s.date + side);
                if (beside != days_.end() && beside->second->role == Role::Hard)
                    say(s, phrase("Tempo in the long ride beside a hard day."));
            }
    }

    void ladder(BlockSession& s) {
        if (++count_[s.family] > 2 && s.pinned)
            say(s, phrase("A third time of one family in a week."));
        int& top = reached_[s.family];
        if (s.pinned && top > 0 && s.rung > top + 1)
            say(s, phrase("Skips from rung %1 to %2.", std::to_string(top), std::to_string(s.rung)));
        top = std::max(top, s.rung);
    }

    void reserve(BlockSession& s) const {
        if (s.ridden() && basis_.wPrime && basis_.criticalPower && s.figures.workSeconds > 0) {
            const double left =
                leastReserve(s.session, season_.thresholdPower, *basis_.criticalPower, *basis_.wPrime);
            if (left < leastLeft)
                say(s, phrase("Leaves %1 % of W′; under a tenth is too little to finish on.",
                              std::to_string(std::max(0L, std::lround(100 * left)))));
        }
    }

    const Season& season_;
    const BlockBasis& basis_;
    std::map<Date, const PlannedDay*> days_;
    std::map<std::string, int> reached_, count_; ///< highest rung, times this week
    const BlockSession* hardBefore_ = nullptr;
};

} // namespace

void findBroken(const Season& season, const Plan& plan, const BlockBasis& basis, SessionBlock& block) {
    Breaks breaks(season, plan, basis);
    for (BlockWeek& week : block.weeks) {
        breaks.nextWeek();
        for (BlockSession& s : week.sessions)
            breaks.look(s);
    }
}

} // namespace marram
