// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include <QByteArray>
#include <algorithm>
#include <string>
#include <vector>

/// Whole seasons with all their sessions, to be read as a coach reads them.
namespace marram::test {

/// A season, its plan and every session of it.
struct Read {
    unsigned seed;
    Season season;
    Plan plan;
    SessionBlock block;

    QByteArray at(Date day) const {
        return "season " + QByteArray::number(seed) + ", " + QByteArray::fromStdString(isoText(day));
    }
    const PlannedDay* on(Date day) const { return dayOf(plan, day); }
    const BlockWeek& weekOf(Date day) const {
        return *std::find_if(block.weeks.begin(), block.weeks.end(),
                             [&](const BlockWeek& w) { return w.start == monday(day); });
    }
};

inline Read readSeason(unsigned seed, const Season& season) {
    Read r{seed, season, solveSeason(season).plan, {}};
    r.block = solveBlock(season, r.plan, monday(season.start), static_cast<int>(r.plan.weeks.size()));
    return r;
}

template <class Check>
void everySession(const std::vector<Read>& all, const Check& check) {
    for (const Read& r : all)
        for (const BlockWeek& week : r.block.weeks)
            for (const BlockSession& s : week.sessions)
                check(r, week, s);
}

/// Seconds of a session whose target is at a share of threshold or over.
inline double secondsFrom(const BlockSession& s, double share) {
    double sum = 0;
    for (const UnfoldedStep& u : s.figures.steps)
        sum += meanTarget(u.step) >= share - 1e-9 ? u.step.seconds : 0;
    return sum;
}

inline bool isHard(const BlockSession& s) {
    return s.role == Role::Hard || s.role == Role::Test;
}

/// What of all that was looked at is not so, and the first of it.
struct Wrong {
    int looked = 0, wrong = 0;
    QByteArray first;
    void look(bool right, const QByteArray& what) {
        ++looked;
        wrong += right ? 0 : 1;
        if (!right && first.isEmpty())
            first = what;
    }
    QByteArray text() const {
        return QByteArray::number(wrong) + " of " + QByteArray::number(looked) + ", first " + first;
    }
};

} // namespace marram::test
