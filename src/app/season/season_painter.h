// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_scene.h"
#include <QPainter>

namespace marram {

struct Shore;

/// What is marked on the cross-section beside the season itself.
struct SeasonMarks {
    std::optional<Date> day; ///< selected day; its week is framed
    int race = -1;           ///< selected race
    bool holding = false;    ///< something is in the hand: its consequence is written beside it
    QPointF hand;            ///< where the hand is
    QString consequence;     ///< what it does to race day, a line each; the first names what is held
};

/// The width of the widest name or unit of a stratum, in pixels.
double strataNamesWidth();
/// How wide the label of each race would like to be, in the type of the painter.
std::vector<double> raceLabelWidths(const SeasonPicture& picture);

/// Paints the cross-section of a season: stakes and gates, phases, load as sediment in three layers, fitness
/// as a dune, form on its waterline, life's hours. The same on screen, in pictures and on paper.
void paintSeason(QPainter& painter, const SeasonScene& scene, const SeasonPicture& picture,
                 const SeasonMarks& marks, const Shore& colours);

} // namespace marram
