// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/frame.h"
#include "core/season/programme.h"

namespace marram {

/// The season's load as columns of a programme. Each column carries a profile of daily stress, so fitness,
/// fatigue and form on any day are linear expressions in a handful of columns a month.
class LoadColumns {
public:
    /// Adds the columns to `programme`:
    ///   one for the level of each ordinary week; one more for the days that freshen for a B race;
    ///   for a taper a mixture of exponential falls, so that it falls day by day whatever is chosen.
    LoadColumns(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                Programme& programme);

    Linear weekStress(size_t week) const;                  ///< races, camps and the past included
    Linear training(int firstDay, int lastDay) const;      ///< planned training over the days, both included
    Linear trainingHours(int firstDay, int lastDay) const; ///< hours of that training
    Linear fitnessAfter(int day) const; ///< end of the day; day −1 is the state at the start
    Linear fatigueAfter(int day) const;
    Linear formOn(int day) const; ///< on waking
    double dailyStress(int day, const std::vector<double>& values) const;
    double dailyHours(int day, const std::vector<double>& values) const; ///< of training

    size_t weekCount() const { return level_.size(); }
    double pointsPerHour(size_t week) const { return frame_.weeks[week].pointsPerHour; }
    /// Column of an ordinary week's level, or −1.
    int levelOf(size_t week) const { return level_[week]; }
    /// Column of the same week's load spread more evenly over its days, or −1.
    int spreadOf(size_t week) const { return spread_[week]; }
    int freshOf(size_t week) const { return fresh_[week]; }
    int afterRaceOf(size_t week) const { return after_[week]; }
    int beforeTaperOf(size_t week) const { return before_[week]; }
    /// Columns of a taper's mixture with their daily decay rates.
    struct Fall {
        int column = 0;
        double rate = 0; ///< a day
    };
    const std::vector<Fall>& fallsOf(size_t taper) const { return falls_[taper]; }
    /// Level of a taper on a day, in points of a full week.
    Linear taperLevel(size_t taper, int day) const;
    /// First day unloaded in a taper that lies in the plan.
    int taperStart(size_t taper) const { return taperStart_[taper]; }

private:
    struct Profile {
        int first = 0, last = -1;
        std::vector<double> stress, hours; ///< by day from first, for one unit of the column
        double fitness = 0, fatigue = 0;   ///< left at the end of `last`, for one unit
    };
    struct DayLoad {
        int day = 0;
        double stress = 0, hours = 0;
    };
    int add(Programme& programme, const std::string& name, double upper, const std::vector<DayLoad>& days);
    Linear sumOver(int firstDay, int lastDay, bool hours) const;
    Linear state(int day, double tau, bool fitness) const;

    const Season& season_;
    const SeasonFrame& frame_;
    std::vector<Profile> profiles_;
    std::vector<int> level_, spread_, fresh_, after_, before_;
    std::vector<std::vector<Fall>> falls_;
    std::vector<int> taperStart_;
    std::vector<LoadDay> base_; ///< the model run on what is fixed alone
};

/// Stress a week can hold within its hours: training at full use of them, and what it carries anyway.
double weekCapacity(const SeasonFrame& frame, const WeekPattern& pattern, size_t week);

/// Points of a week's nominal load at full use of its hours.
double levelCapacity(const SeasonFrame& frame, const WeekPattern& pattern, size_t week);

} // namespace marram
