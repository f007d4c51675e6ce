// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/paper/half_bold.h"

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

class QApplication;
class QWidget;

namespace marram {

/// The shore in autumn: every colour the interface uses, by what it is for.
struct Shore {
    QColor paper, sheet; ///< ground, and the ground of what is edited
    QColor ink, muted;   ///< text, and text that may wait
    QColor hairline;
    QColor grass, deepGrass; ///< what was done; intensity by depth
    QColor ochre, sand;      ///< fitness: edge and body of the dune
    QColor tide, water;      ///< form: line and the water below the line
    QColor driftwood;        ///< what is planned
    QColor rust;             ///< what needs a look
    bool dark = false;
};

/// The palette in force.
const Shore& shore();

/// The light palette on white, for paper.
const Shore& paperShore();

/// The three sizes of type.
enum class Type { Small, Body, Title };
QFont typeface(Type type, bool strong = false);
/// The type set as much smaller, in half points and not under `smallest`, as the text needs to fit the width.
QFont fitting(QFont font, const QString& text, double width, double smallest);

/// How the window looks: `scale` multiplies all type, 0.8–2; `strong` is for eyes that need contrast (text at
/// least 7:1, WCAG 2.1, 1.4.6); where it is `still` nothing moves by itself.
struct Look {
    bool dark = false;
    double scale = 1;
    bool strong = false, still = false;
    bool operator==(const Look&) const = default;
};
/// What is set, and where nothing is what the desktop asks for.
Look chosenLook();

/// How it is dressed now.
const Look& lookNow();

/// Loads fonts once and dresses the application.
void dress(QApplication& app, const Look& look);
double textScale();

/// Words that may wait, or say what needs a look, in the colours of whatever look is in force.
void sayIn(QWidget& label, bool trouble);
/// Dots an inch at which paper is drawn, so that type is as large on it as it was measured on the screen.
int paperResolution();

/// An icon of the set, drawn in the colour of the text.
QIcon icon(const QString& name);

} // namespace marram
