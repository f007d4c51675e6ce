// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/rows.h"

namespace marram {
namespace {

std::vector<Block> blocksOf(const SeasonFrame& frame, bool ridden) {
    std::vector<Block> blocks;
    int current = -1, away = 0;
    bool explained = false;
    for (const WeekFrame& week : frame.weeks) {
        const bool peak = week.kind == WeekKind::Race && week.phase == Phase::Race;
        if (week.kind == WeekKind::Break || week.kind == WeekKind::Recovery || week.kind == WeekKind::Camp ||
            week.kind == WeekKind::Transition || week.kind == WeekKind::Taper || peak)
            explained = true;
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
