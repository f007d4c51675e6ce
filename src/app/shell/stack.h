// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QStackedWidget>

namespace marram {

/// Pages of which one is seen. A page fills the room there is, so no page is asked how tall it would be at a
/// width: where all are, one label that comes or goes has every text of the window laid out anew.
class Stack : public QStackedWidget {
public:
    using QStackedWidget::QStackedWidget;
    bool hasHeightForWidth() const override { return false; }
};

} // namespace marram
