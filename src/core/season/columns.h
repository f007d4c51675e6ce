// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/frame.h"
#include "core/season/programme.h"

namespace marram {

/// So many of a week's longest days can be relieved of load, never below the longest of the others.
inline constexpr size_t mostRelieved = 3;

/// The season's load as columns of a programme. Each column carries a profile of daily stress, so fitness,
/// fatigue and form on any day are linear expressions in a handful of columns a month.
class LoadColumns {
public:
    /// Adds the columns to `programme`: one for the level of each week, up to three more for the relief of a
    /// build week's longest days, one for half a week of taper, one for the days before a race that is
    /// freshened for. A deload has none of its own: it is the coach's share of the build week before it.
    LoadColumns(const Season& season, const SeasonFrame& frame, const std::vector<WeekPattern>& patterns,
                Programme& programme);

    /// What the whole week would carry without race or absence; for a past week what it carried.
    const Linear& level(size_t week) const { return levels_[week]; }
    /// True where the week has a level in the plan.
    bool planned(size_t week) const { return planned_[week]; }
    /// Full use of the hours its phase may fill.
    double capacity(size_t week) const { return capacity_[week]; }
    /// Most the level can be: the same, but before any day is over its own hours.
    double reach(size_t week) const;
    /// The last build week before `week`, or the week of a rider whose load is steady.
    const Linear& reference(size_t week) const { return references_[week]; }
    double referenceCapacity(size_t week) const { return referenceCapacity_[week]; }
    double referenceReach(size_t week) const { return referenceReach_[week]; } ///< most it can be

    Linear stress(int firstDay, int lastDay) const; ///< over the days, both included; races and all
    Linear fitnessAfter(int day) const;             ///< end of the day; day −1 is the state at the start
    Linear fatigueAfter(int day) const;
    Linear formOn(int day) const; ///< on waking
    /// Stress of every day of the season, for values of the columns.
    std::vector<double> dailyStress(const std::vector<double>& values) const;
    /// Σ over days of fitness at their end, as far as the plan reaches, divided by their number.
    Linear meanFitness(int firstDay, int lastDay) const;
    /// Rise of fitness over a whole week by its own training alone, its days as its level and relief have
    /// them.
    const Linear& weeksRise(size_t week) const { return rise_[week]; }

    /// Column of a week's level or relief, or −1.
    int levelColumn(size_t week) const { return level_[week]; }
    /// Columns of the relief of a week's longest days, the longest first; −1 where there is none.
    const std::array<int, mostRelieved>& reliefColumns(size_t week) const { return relief_[week]; }
    int beforeColumn(size_t week) const { return before_[week]; }
    int afterColumn(size_t week) const { return after_[week]; }
    /// Column of the days before a freshened race (index into SeasonFrame::freshened), or −1.
    int freshColumn(size_t nth) const { return fresh_[nth]; }

    /// Half a week of taper.
    struct Segment {
        int column = -1;
        double share = 0;  ///< part of a week's hours its days have
        double volume = 0; ///< hours its days take for one point of level, races and absences apart
    };
    struct TaperLoad {
        std::vector<Segment> segments;
        double untouched = 0; ///< part of a week's hours on days of the window that are not unloaded
    };
    const TaperLoad& taper(size_t nth) const { return tapers_[nth]; }

private:
    struct DayLoad {
        int day = 0;
        double stress = 0;
    };
    struct Profile {
        std::vector<DayLoad> days;       ///< in order
        double fitness = 0, fatigue = 0; ///< left at the end of the last day, for one unit
    };
    void lay(int column, int day, double stress);
    int column(Programme& programme, Load load, Date day, int nth, double upper);
    void placeFamilies();
    void takeRidden(size_t week);
    void layWeek(size_t week, Programme& programme);
    void layFresh(size_t week, int day, Programme& programme);
    void tellRise(size_t week, const std::array<int, 7>& reliefOn);
    void layDeload(size_t week, Programme& programme);
    void layTapers(Programme& programme);
    void refer(size_t week);
    void built(size_t week);
    Linear state(int day, bool fitness) const;
    double shareOn(int day) const;
    double careful(size_t week) const;
    double leftAfter(int days, bool fitness) const;

    /// Whose level a day's load is.
    enum Family : std::uint8_t { Own, Falling, After, Fresh, Before };

    const Season& season_;
    const SeasonFrame& frame_;
    const std::vector<WeekPattern>& patterns_;
    std::vector<Family> family_;
    std::vector<int> freshFor_; ///< index into SeasonFrame::freshened of a day before one of them, or −1
    std::vector<Profile> profiles_;
    std::vector<Linear> levels_, references_, rise_;
    std::vector<bool> planned_;
    std::vector<double> capacity_, referenceCapacity_, referenceReach_;
    std::vector<int> level_, before_, after_, fresh_;
    std::vector<std::array<int, mostRelieved>> relief_;
    std::vector<TaperLoad> tapers_;
    std::vector<LoadDay> base_; ///< the model run on what is fixed alone
    std::vector<double> keepFitness_, keepFatigue_;
    int lastBuild_ = -1; ///< the build week just before
    int standard_ = -1;  ///< the last that had its usual hours
};

/// Shares of a build week's load a deload may carry, for the coach's share.
double deloadShare(const Rules& rules);

} // namespace marram
