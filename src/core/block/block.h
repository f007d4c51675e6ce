// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include "core/session/family.h"
#include <map>
#include <memory>

namespace marram {

/// A rung reached before, 1 the first.
struct DoneRung {
    Date date;
    std::string family;
    int rung = 1;
    bool finished = true;
    bool operator==(const DoneRung&) const = default;
};

/// What a block rests on beside its season.
struct SessionBlock;
struct BlockBasis {
    std::vector<DoneRung> done; ///< in order of day
    const FamilyBook* book = &FamilyBook::standard();
    std::vector<std::string> injuries; ///< those that last, in the coach's words
    /// Nothing hard before this day, and why, as the end of a sentence: "the rider is marked ill".
    std::optional<Date> easyUntil;
    std::string easyWhy;
    std::vector<Date> setBacks;                  ///< first days after illness or a week off: two rungs down
    std::optional<double> criticalPower, wPrime; ///< W, J, where known
    /// An earlier answer to stay near: its weeks before `touched` stay as they are, the others change no more
    /// than they have to.
    std::shared_ptr<const SessionBlock> last;
    std::optional<Date> touched;
    /// `last` was promised to the rider: its weeks stay to the letter where the season still asks for the
    /// same.
    bool promised = false;
    /// Where there is no earlier answer: what the days were to have, to stay near all the same.
    std::map<Date, std::pair<std::string, int>> near; ///< family and rung, 1 the first
};

/// What one day is given: a session to ride, or work off the bicycle.
struct BlockSession {
    Date date;
    Role role = Role::Easy;
    std::string family, title, why, note;
    int rung = 0;    ///< 1 the first; 0 for a family without rungs
    Session session; ///< nothing in it off the bicycle
    int seconds = 0;
    SessionFigures figures;
    bool pinned = false;
    std::string replaced;            ///< what is not ridden here and why; empty for nothing
    std::vector<std::string> broken; ///< `replaced`, and rules of placing this day breaks: sentences
    bool ridden() const { return !session.items.empty(); }
};

/// Points, and seconds counted to the band they are for.
struct BlockSum {
    double stress = 0;
    Bands purpose;
};

struct BlockWeek {
    Date start; ///< Monday
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    BlockSum target, sum;
    int longTempo = 0; ///< s of tempo late in its long ride
    std::vector<BlockSession> sessions;
};

struct SessionBlock {
    std::vector<BlockWeek> weeks;
    std::vector<std::string> unmet; ///< a sentence each
};

/// Sessions for every day of some weeks of a season: family, rung and length for every slot, so that the
/// stress of every week is within 3 % of the season's, or five points, and, over three weeks or more, time by
/// purpose within 3 points of its split in each band; what can't be met is said. Hard days are those of the
/// season. A rung is ridden twice at most and then up, never skipped; at most four families of hard work,
/// each at most twice a week; nothing too long for its day; deload, taper and race weeks ride a reached rung
/// with fewer repetitions. `from` is a Monday; weeks outside the season are left out. A beam over the weeks,
/// the lengths and the endurance between them fitted to the week's stress on whole sessions. Rules and
/// figures: common practice.
///
/// What the season pins to a day (SessionPin) is ridden as pinned; nothing else is: a rider who is ill, in
/// return or has an injury the family is not for rides endurance instead, and it says so.
SessionBlock solveBlock(const Season& season, const Plan& plan, Date from, int weeks,
                        const BlockBasis& basis);
SessionBlock solveBlock(const Season& season, const Plan& plan, Date from, int weeks,
                        const std::vector<DoneRung>& done = {});

/// Weeks with something to ride, and those whose sessions come within 3 % of the season's points.
struct HeldWeeks {
    int held = 0, all = 0;
};
HeldWeeks heldWeeks(const SessionBlock& block);

} // namespace marram
