// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_picture.h"
#include <QByteArray>
#include <QDialog>
#include <QSizeF>

class QLabel;
class QPainter;
class QPrinter;

namespace marram {

/// What the page for the wall says beside the picture.
struct WallWords {
    QString rider;
    QString cautions; ///< the coach's, for this rider
};

/// The season on one landscape page, in the colours of paper whatever the theme: rider, races, phases, the
/// numbers of the weeks, load, form, and the cautions. `size` in the painter's units.
void paintWallPage(QPainter& painter, const QSizeF& size, const SeasonPicture& picture,
                   const WallWords& words);

QByteArray wallPdf(const SeasonPicture& picture, const WallWords& words);
QByteArray wallSvg(const SeasonPicture& picture, const WallWords& words);
QByteArray wallPng(const SeasonPicture& picture, const WallWords& words);

/// The page as it will be, and ways to take it along: PDF, SVG, PNG, the printer, a calendar, the plan as
/// CSV.
class WallPage : public QDialog {
    Q_OBJECT
public:
    WallPage(const SeasonPicture& picture, const Season& whole, const WallWords& words, const QString& key,
             QWidget* parent = nullptr);
    /// Saves by the ending of the name: pdf, svg, png, ics or csv. Empty where it worked, else what went
    /// wrong.
    QString save(const QString& path) const;

signals:
    void wantsPrint();
    void saved(const QString& sentence);
    void failed(const QString& sentence);

private:
    void ask(const QString& ending, const QString& what);

    SeasonPicture picture_;
    Season whole_;
    WallWords words_;
    QString key_;
};

} // namespace marram
