// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/load/history.h"

#include <algorithm>

namespace marram {

LoadHistory::LoadHistory(const LoadRecord& record, Date today) : ridden_(record.ridden), tau_(record.tau) {
    ridden_.erase(ridden_.upper_bound(today), ridden_.end());
    begin_ = ridden_.empty() ? today : ridden_.begin()->first;
    recordDays_ = today - begin_;
    LoadState first;
    if (record.usualWeekHours) {
        const double points = *record.usualWeekHours * usualPointsPerHour / 7;
        first = {points, points};
        known_ = true;
    } else if (recordDays_ >= enoughRecord) {
        double points = 0;
        for (auto d = ridden_.begin(); d != ridden_.end() && d->first < begin_ + enoughRecord; ++d)
            points += d->second / enoughRecord;
        first = {points, points};
        known_ = true;
    } else if (record.atSeasonStart.fitness > 0 || record.atSeasonStart.fatigue > 0) {
        first = record.atSeasonStart;
        known_ = true;
    }
    if (record.seasonStart && *record.seasonStart < begin_)
        begin_ = *record.seasonStart;
    states_.push_back(first);
    std::vector<double> stress;
    for (Date d = begin_; d <= today; d = d + 1)
        stress.push_back(ridden(d));
    for (const LoadDay& day : runModel(stress, first, tau_))
        states_.push_back({day.fitness, day.fatigue});
}

LoadState LoadHistory::before(Date day) const {
    if (day <= begin_)
        return states_.front();
    const auto i = static_cast<size_t>(day - begin_);
    if (i < states_.size())
        return states_[i];
    const std::vector<double> nothing(i + 1 - states_.size(), 0.0);
    const LoadDay last = runModel(nothing, states_.back(), tau_).back();
    return {last.fitness, last.fatigue};
}

double LoadHistory::ridden(Date day) const {
    const auto found = ridden_.find(day);
    return found == ridden_.end() ? 0 : found->second;
}

} // namespace marram
