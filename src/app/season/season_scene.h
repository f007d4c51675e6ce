// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_picture.h"
#include <QRectF>

namespace marram {

/// What a point of the cross-section is part of.
struct SeasonHit {
    enum class Part {
        Nothing,
        Day,
        Race,
        GateLow,
        GateHigh,
        PhaseEdge, ///< between two phases; `date` is the Monday it lies before
        TaperEdge, ///< where a taper begins
        Deload,    ///< a deload week in the strip of phases
        WeekTop,   ///< the top of a planned week's column
        Away,      ///< days away, and their ends
        AwayFrom,
        AwayTo
    } part = Part::Nothing;
    Date date;     ///< the day under the point
    int race = -1; ///< index into Season::races
    int away = -1; ///< index into Season::away
};

/// Days shown, both included.
struct Span {
    Date first, last;
    bool operator==(const Span&) const = default;
};

/// The geometry of the cross-section: one time axis, seven strata. Pure state, testable without a window.
class SeasonScene {
public:
    /// The shortest and longest span shown, in days: three weeks and four years.
    static constexpr int shortest = 21, longest = 1461;

    /// Lays the strata out in `area`. `lineHeight` is the height of small type in pixels; `labelWidths` how
    /// wide the label of each race would like to be; `shown` the days to show, the whole season where empty.
    void layOut(const SeasonPicture& picture, const QRectF& area, double lineHeight,
                const std::vector<double>& labelWidths, const std::optional<Span>& shown = {});

    double xOf(Date date) const; ///< left edge of the day
    double dayWidth() const { return dayWidth_; }
    Date dateAt(double x) const; ///< clamped to the days shown
    double yOfForm(double form) const;
    double formAt(double y) const;
    double yOfFitness(double fitness) const;
    double yOfLoad(double points) const; ///< of a week
    double loadAt(double y) const;
    /// What lies under a hand that takes hold of what is `grip` pixels off at most.
    SeasonHit hit(const SeasonPicture& picture, QPointF at, double grip = mouseGrip) const;
    static constexpr double mouseGrip = 6;
    /// Where a race's label stands: beside its stake, on whichever side and in whichever row it has room.
    /// Empty for a race not among the days shown.
    struct Label {
        QRectF box;
        bool left = false; ///< of its stake
    };
    int labelCount() const { return static_cast<int>(labels_.size()); }
    const Label& labelOf(int race) const { return labels_.at(static_cast<size_t>(race)); }
    /// Where the ribbon of days away lies.
    QRectF ribbonOf(const Away& away) const;
    /// The days shown after zooming by a factor around a day, or after moving by days; kept within bounds.
    Span zoomed(double factor, Date around) const;
    Span moved(int days) const;

    double namesWidth = 0; ///< of the strata's names, which stand in the gutter; set before laying out
    QRectF plot;           ///< all strata, without the gutters
    QRectF months, stakes, phases, load, dune, form, life;
    Date first, last; ///< days shown
    double mostLoad = 1, leastFitness = 0, mostFitness = 1, lowestForm = -30, highestForm = 30, mostHours = 1;

private:
    double dayWidth_ = 1;
    void scales(const SeasonPicture& picture);
    void weekScales(const SeasonPicture& picture);
    void placeLabels(const SeasonPicture& picture, double lineHeight, const std::vector<double>& widths);
    std::vector<Label> labels_;
    int labelRows_ = 1;
};

} // namespace marram
