// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/rows.h"

namespace marram {
namespace {

/// A week after which less, or other work, needs no further reason.
bool explainsItself(const WeekFrame& week) {
    switch (week.kind) {
    case WeekKind::Break:
    case WeekKind::Recovery:
    case WeekKind::Camp:
    case WeekKind::Transition:
    case WeekKind::Taper:
        return true;
    case WeekKind::Race:
        return week.phase == Phase::Race;
    case WeekKind::Build:
    case WeekKind::Deload:
        break;
    }
    return false;
}

std::vector<Block> blocksOf(const SeasonFrame& frame, bool ridden) {
    std::vector<Block> blocks;
    int current = -1, away = 0;
    bool explained = false;
    for (const WeekFrame& week : frame.weeks) {
        explained = explained || explainsItself(week);
        for (int d = week.first; d <= week.last; ++d)
            away += frame.days[static_cast<size_t>(d)].away ? 1 : 0;
        const bool counts =
            week.past ? ridden && week.standing && !week.broken : ridden || week.first >= frame.today;
        if (week.kind != WeekKind::Build || !counts)
            continue;
        if (week.block != current) {
            blocks.push_back({{}, explained, away});
            explained = false;
            away = 0;
            current = week.block;
        }
        blocks.back().weeks.push_back(static_cast<size_t>(&week - frame.weeks.data()));
    }
    return blocks;
}

} // namespace

std::vector<Block> plannedBlocks(const SeasonFrame& frame) {
    return blocksOf(frame, false);
}

std::vector<Block> allBlocks(const SeasonFrame& frame) {
    return blocksOf(frame, true);
}

} // namespace marram
