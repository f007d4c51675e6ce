// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include <QtGlobal>
#include <memory>

namespace marram {

/// A season and the plan of just that: one value, made in one go. Nothing in it may change, and no part of it
/// is ever laid beside a part of another.
struct ShownSeason {
    qint64 id = 0;
    quint64 version = 0; ///< of the season in force
    bool trying = false; ///< what is in the hand
    Season season;       ///< as the coach set it
    Season whole;        ///< with what the rider brought to it
    std::shared_ptr<const Solved> solved;
    quint64 number = 0; ///< of the request it answers
};

} // namespace marram
