// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QRect>
#include <QString>
#include <vector>

class QWidget;

namespace marram {

/// A part of what is drawn by hand, as a screen reader tells it.
struct SpokenPart {
    QString name; ///< a sentence or two, plain text
    QRect at;     ///< where it is drawn, in the widget's own pixels
};

/// What is drawn by hand and can be read aloud: its parts in reading order. A widget that is one has them as
/// children in the accessibility tree.
class ReadAloud {
public:
    virtual ~ReadAloud() = default;
    virtual std::vector<SpokenPart> spokenParts() const = 0;
};

/// Has the desktop's screen reader find the parts of every such widget. Called once is enough.
void offerParts();

/// Tells a screen reader that the parts of a widget are others now.
void partsChanged(QWidget* widget);

} // namespace marram
