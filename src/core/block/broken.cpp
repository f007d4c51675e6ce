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

} // namespace

void findBroken(const Season& season, const Plan& plan, const BlockBasis& basis, SessionBlock& block) {
    std::map<Date, const PlannedDay*> days;
    for (const PlannedDay& d : plan.days)
        days[d.date] = &d;
    std::map<std::string, int> reached;
    for (const DoneRung& d : basis.done)
        reached[d.family] = std::max(reached[d.family], d.rung);
    const BlockSession* hardBefore = nullptr;
    for (BlockWeek& week : block.weeks) {
        std::map<std::string, int> count;
        for (BlockSession& s : week.sessions) {
            const auto say = [&](const std::string& sentence) {
                if (std::find(s.broken.begin(), s.broken.end(), sentence) == s.broken.end())
                    s.broken.push_back(sentence);
            };
            // A week that stays as it was brings the sentences of before.
            s.broken.clear();
            if (!s.replaced.empty())
                s.broken.push_back(s.replaced);
            const auto planned = days.find(s.date);
            if (asksAll(s)) {
                if (hardBefore && s.date - hardBefore->date == 1 && (s.pinned || hardBefore->pinned))
                    say(phrase("A hard day straight after another."));
                if (s.role == Role::Test && hardBefore && s.date - hardBefore->date < 2 && s.pinned)
                    say(phrase("A test wants two days after the last hard one."));
                for (const Race& race : season.races)
                    if (race.priority != Priority::C && race.date - s.date == 1 && s.pinned)
                        say(phrase("A hard day on the eve of %1.", race.name));
            }
            if (s.role == Role::Gym || s.family == "strength")
                for (const Race& race : season.races) {
                    const int before = race.date - s.date;
                    if ((race.priority == Priority::A && before > 0 && before <= 6) ||
                        (race.priority == Priority::B && before > 0 && before <= 2))
                        say(phrase("Gym %1 days before %2.", std::to_string(before), race.name));
                }
            if (s.pinned && planned != days.end() && s.ridden() &&
                s.seconds > 3600 * planned->second->availableHours + 60)
                say(phrase("Longer than the day: it has %1 min.",
                           std::to_string(std::lround(60 * planned->second->availableHours))));
            if (s.rung > 0 && asksAll(s) && s.role != Role::Test) {
                if (++count[s.family] > 2 && s.pinned)
                    say(phrase("A third time of one family in a week."));
                int& top = reached[s.family];
                if (s.pinned && top > 0 && s.rung > top + 1)
                    say(phrase("Skips from rung %1 to %2.", std::to_string(top), std::to_string(s.rung)));
                top = std::max(top, s.rung);
            }
            if (s.role == Role::Long && s.pinned && s.figures.purpose.middle > 600)
                for (const int side : {-1, 1}) {
                    const auto beside = days.find(s.date + side);
                    if (beside != days.end() && beside->second->role == Role::Hard)
                        say(phrase("Tempo in the long ride beside a hard day."));
                }
            if (s.ridden() && basis.wPrime && basis.criticalPower && s.figures.workSeconds > 0) {
                const double left =
                    leastReserve(s.session, season.thresholdPower, *basis.criticalPower, *basis.wPrime);
                if (left < leastLeft)
                    say(phrase("Leaves %1 % of W′; under a tenth is too little to finish on.",
                               std::to_string(std::max(0L, std::lround(100 * left)))));
            }
            if (asksAll(s))
                hardBefore = &s;
        }
    }
}

} // namespace marram
