// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/sprints_and_drills.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <set>

namespace marram {

void placeSprintsAndDrills(std::vector<WeekChoice>& all, const std::vector<WeekProblem>& weeks,
                           const BlockBasis& basis, double lowThreshold, LadderStanding sprints,
                           LadderStanding drills, const std::function<bool(size_t)>& stays) {
    const bool oneBlock = all.size() <= blockWeeks; // wherever in the season's own it begins
    size_t begin = 0;
    for (size_t w = 0; w < all.size(); ++w) {
        const WeekProblem& week = weeks[w];
        const bool first = week.kind == WeekKind::Build && (w == 0 || weeks[w - 1].kind != WeekKind::Build ||
                                                            weeks[w - 1].phase != week.phase);
        begin = first && !oneBlock ? w : begin;
        std::set<std::string> used;
        for (size_t v = begin; v < all.size() && v < begin + blockWeeks; ++v)
            for (const auto& pick : all[v].onDay)
                if (pick)
                    used.insert(pick->family->name);
        const bool fast = week.demand == Demand::Punchy || week.demand == Demand::Road;
        const char* name = week.phase == Phase::Base && week.kind == WeekKind::Build ? "endurance with drills"
                           : first && fast && (week.phase == Phase::Build || week.phase == Phase::Specialise)
                               ? "sprints"
                               : nullptr;
        if (!name || (used.size() >= mostFamilies && !used.contains(name)) || stays(w))
            continue;
        const Family& family = *basis.book->named(name);
        const bool sprinting = std::string_view(name) == "sprints";
        const int last = static_cast<int>(family.work.size()) - 1;
        if (last < 0 || !allowed(family, basis))
            continue;
        for (size_t d = 0; d < week.days.size(); ++d) {
            const DaySlot& day = week.days[d];
            LadderStanding& stands = sprinting ? sprints : drills;
            // Sprints grow from block to block, drills when a rung was ridden twice.
            const int up = sprinting || stands.rung < 0 || stands.times >= mostAtARung ? 1 : 0;
            const int rungNow = std::min(last, stands.rung + up);
            if (stands.often(rungNow, static_cast<int>(w)))
                break;
            const auto rung = static_cast<size_t>(rungNow);
            const SessionFigures f = figuresOf(family.work[rung], lowThreshold);
            if (day.role != Role::Easy || day.pinned || day.easyOnly || all[w].onDay[d] ||
                (basis.easyUntil && day.date < *basis.easyUntil) ||
                shortestWith(Lying::Within, f.seconds) > day.hours)
                continue;
            stands.ride(rungNow, 0, false, static_cast<int>(w));
            all[w].onDay[d] = Pick{
                &family, static_cast<int>(rung), family.work[rung], f.seconds,
                sprinting
                    ? phrase("The first easy day of a block: short sprints on fresh legs, with little to "
                             "recover from.")
                    : phrase("Skill and cadence inside an easy ride; it costs no recovery.")};
            break;
        }
    }
}

} // namespace marram
