// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/plan.h"
#include <QRectF>
#include <QString>
#include <map>

namespace marram {

/// What the season view shows, as plain values: no widget, no roster, no solver.
struct SeasonPicture {
    qint64 subject = 0;  ///< id of the season
    quint64 version = 0; ///< of the season in force; what is held in the hand was taken from one version
    Season season;
    Plan plan;
    bool hasPlan = false;
    Date today;
    std::map<Date, double> plannedWeek; ///< by Monday: points planned, also for weeks gone by
    std::map<Date, double> riddenWeek;  ///< by Monday: points ridden
    std::map<Date, Bands> riddenBands;  ///< by Monday: seconds in each band
};

/// What a point of the cross-section is part of.
struct SeasonHit {
    enum class Part { Nothing, Day, Race, GateLow, GateHigh } part = Part::Nothing;
    Date date;     ///< the day under the point
    int race = -1; ///< index into Season::races
};

/// The geometry of the cross-section: one time axis, five strata. Pure state, testable without a window.
class SeasonScene {
public:
    /// Lays the strata out in `area`. `lineHeight` is the height of small type in pixels; `labelWidths` how
    /// wide the label of each race would like to be.
    void layOut(const SeasonPicture& picture, const QRectF& area, double lineHeight,
                const std::vector<double>& labelWidths);

    double xOf(Date date) const; ///< left edge of the day
    double dayWidth() const { return dayWidth_; }
    Date dateAt(double x) const; ///< clamped to the season
    double yOfForm(double form) const;
    double formAt(double y) const;
    double yOfFitness(double fitness) const;
    double yOfLoad(double points) const; ///< of a week
    SeasonHit hit(const SeasonPicture& picture, QPointF at) const;
    /// Where a race's label stands: beside its stake, on whichever side and in whichever row it has room.
    struct Label {
        QRectF box;
        bool left = false; ///< of its stake
    };
    const Label& labelOf(int race) const { return labels_.at(static_cast<size_t>(race)); }

    QRectF plot; ///< all strata, without the gutters
    QRectF months, stakes, phases, load, form, split;
    Date first, last; ///< shown days, whole weeks
    double mostLoad = 1, mostFitness = 1, lowestForm = -30, highestForm = 30;

private:
    double dayWidth_ = 1;
    void placeLabels(const SeasonPicture& picture, double lineHeight, const std::vector<double>& widths);
    std::vector<Label> labels_;
    int labelRows_ = 1;
};

} // namespace marram
